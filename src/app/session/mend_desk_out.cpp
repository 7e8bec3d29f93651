// What leaves the trial: a new build, its weights, the steps, a recipe for the rigger, a proposal in the log.
#include "app/session/mend_desk.h"
#include "io/file_write.h"
#include "io/gltf_edit.h"
#include "io/trial_json.h"
#include "io/weights_json.h"
#include "log/proposal.h"
#include "story/proposal_of.h"
#include "story/recipe_page.h"

#include <QFileInfo>

namespace hobble {

void MendDesk::saveBuild(const QString& path, std::size_t influences) {
    if (!ready())
        return;
    jobs().start(tr("Writing the mended build"),
                 [this, on = on_, trial = trial_, path, influences](JobControl&) -> std::function<void()> {
                     TriedSteps tried(on->build());
                     tried.take(trial);
                     const auto notes = writeMended(*on->build()->character, *tried.character(influences),
                                                    path.toStdString(), influences);
                     return [this, path, notes] {
                         if (!notes)
                             return fail(notes.error());
                         QString words = tr("Written: %1.").arg(path);
                         for (const std::string& note : *notes)
                             words += QLatin1Char(' ') + QString::fromStdString(note);
                         savedBuild_ = path;
                         emit savedChanged(QPrivateSignal());
                         tell(words);
                     };
                 });
}

void MendDesk::saveWeights(const QString& path) {
    if (!ready())
        return;
    jobs().start(tr("Writing the weights"),
                 [this, on = on_, trial = trial_, path](JobControl&) -> std::function<void()> {
                     TriedSteps tried(on->build());
                     tried.take(trial);
                     const auto mended = tried.character();
                     const bool csv = path.endsWith(QStringLiteral(".csv"), Qt::CaseInsensitive);
                     const auto written =
                         writeFile(path.toStdString(), csv ? weightsToCsv(*mended) : weightsToJson(*mended));
                     return [this, path, written] {
                         if (!written)
                             return fail(written.error());
                         tell(tr("Written: %1.").arg(path));
                     };
                 });
}

void MendDesk::saveTrial(const QString& path) {
    if (!ready())
        return;
    if (const auto written = writeFile(path.toStdString(), trialToJson(trial_, on_->build()->surface));
        !written)
        return fail(written.error());
    tell(tr("Written: %1.").arg(path));
}

void MendDesk::takeTrial(const QString& path) {
    if (!ready())
        return;
    auto trial = readTrial(path.toStdString(), on_->build()->surface);
    if (!trial)
        return fail(trial.error());
    const Character& c = *on_->build()->character;
    if (!trial->build.empty() && trial->build != c.hash && trial->build != c.formerHash)
        return fail(
            tr("The trial of %1 was made on another build. “hobble-cli mend --made-on” finds its places "
               "again on this one.")
                .arg(QFileInfo(path).fileName()));
    trial->build = c.hash;
    path_.clear(); // one of its own
    trial_ = {};
    change(*trial, tr("take a trial from a file"));
    findAim();
    ask(trial_, true);
}

void MendDesk::saveRecipe(const QString& path) {
    if (!ready())
        return;
    if (!measured_ || measuring_)
        return fail(
            tr("The recipe tells the numbers of the trial: it can be written once they are measured."));
    RecipeStory story;
    story.title = aimWords();
    story.notes = aimNotes();
    story.build = build_.title();
    if (build_.number() > 0)
        story.build += tr(", build %1").arg(build_.number());
    story.trial = trial_;
    story.effects = effects_;
    story.shares = shares_;
    story.before = {on_->build(), on_->run()};
    story.after = measured_->now;
    story.effect = measured_->effect;
    story.limits = run_.limits();
    jobs().start(tr("Writing the recipe"),
                 [this, story = std::move(story), path](JobControl&) -> std::function<void()> {
                     const auto written = writeFile(path.toStdString(), recipePage(story).toStdString());
                     return [this, path, written] {
                         if (!written)
                             return fail(written.error());
                         tell(tr("Written: %1.").arg(path));
                     };
                 });
}

bool MendDesk::canPropose() const {
    return on_ && measured_ && !measuring_ && shownCure_ < 0 && log_.takesChanges() &&
           (trial_.aim.defect > 0 || told()) &&
           std::any_of(trial_.steps.begin(), trial_.steps.end(), [](const Step& s) { return s.on; });
}

void MendDesk::propose(const QByteArray& camera, const QByteArray& picture) {
    if (!canPropose() || !log_.canLog())
        return;
    qint64 defect = trial_.aim.defect;
    if (defect == 0) { // logged first
        run_.logDefect(goal_.signs.front(), camera, picture);
        defect = run_.defectOf(goal_.signs.front());
        if (defect == 0)
            return; // said why
    }
    const Defect* d = log_.find(defect);
    if (!d)
        return fail(tr("The log has no defect %1.").arg(defect));
    Trial kept = trial_;
    kept.aim.defect = defect;
    const Proposal p = proposalOf(kept, effects_, measured_->effect, *on_->build(), build_.number());
    if (!log_.judge({LogDesk::Checked{proposalEvent(*d, p), std::nullopt, {}}}))
        return;
    if (trial_.aim.defect != defect)
        set(kept);
    emit aimChanged(QPrivateSignal());
    tell(tr("Proposed for defect %1.").arg(defect));
}

} // namespace hobble
