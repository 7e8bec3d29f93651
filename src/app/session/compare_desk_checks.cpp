// The log's defects on the open build, what a person says of their verdicts, and signing off.
#include "app/session/compare_desk.h"
#include "story/defect_pose.h"
#include "story/sign_off_paper.h"

namespace hobble {

void CompareDesk::checkAgain() {
    const auto run = run_.run();
    if (!run || run->cancelled || !build_.wearsNothing() || !log_.link().canRead() || !log_.build().id)
        return;
    QVector<qint64> ids;
    for (const Defect& d : log_.defects()) // those of this very build were seen on it
        if (d.build.character == log_.build().character && d.build.id != log_.build().id && isChecked(d))
            ids << d.id;
    if (ids.isEmpty())
        return;
    checkedRun_ = run;
    struct Asked {
        QVector<Defect> defects;
        QVector<KeptRun> runs;
        QHash<qint64, Proposal> proposals;
    };
    log_.link().tell(
        [ids, character = log_.build().character](ProductionLog& log) -> Result<Asked> {
            Asked out;
            for (qint64 id : ids) {
                auto d = log.defect(id);
                if (!d)
                    return Error{d.error()};
                out.defects.push_back(std::move(*d));
            }
            auto runs = log.newestRuns(character);
            if (!runs)
                return Error{runs.error()};
            out.runs = std::move(*runs);
            auto proposals = newestProposals(log, ids);
            if (!proposals)
                return Error{proposals.error()};
            out.proposals = std::move(*proposals);
            return out;
        },
        [this, run](const Result<Asked>& asked) {
            if (!asked)
                return fail(asked.error());
            if (run != run_.run())
                return;
            jobs().start(
                tr("Checking %1 defects again").arg(asked->defects.size()),
                [this, run, asked = *asked, subject = build_.subject(), checks = build_.checks(),
                 number = build_.number()](JobControl& control) -> std::function<void()> {
                    CheckInput in;
                    in.subject = subject;
                    in.run = run;
                    in.checks = checks;
                    in.build = number;
                    in.defects = asked.defects;
                    in.runs = asked.runs;
                    in.proposals = asked.proposals;
                    BuildShelf shelf;
                    in.shelf = &shelf;
                    auto told = checkDefects(in, progressOf(control));
                    return [this, run, told = std::move(told), stopped = control.cancelled.load()] {
                        if (run != run_.run())
                            return;
                        if (stopped)
                            return tell(
                                tr("Checking was stopped. “Check the open defects again” begins anew."));
                        const bool first = !checks_;
                        checks_ = told;
                        if (first && !told.checks.isEmpty())
                            tell(told.sentence());
                        emit checksChanged(QPrivateSignal());
                    };
                });
        });
}

const DefectCheck* CompareDesk::check(qint64 defect) const {
    if (checks_)
        for (const DefectCheck& c : checks_->checks)
            if (c.defect.id == defect)
                return &c;
    return nullptr;
}

int CompareDesk::left() const {
    int n = 0;
    if (checks_)
        for (const DefectCheck& c : checks_->checks)
            n += !said_.contains(c.defect.id);
    return n;
}

QVector<qint64> CompareDesk::curedOnes() const {
    QVector<qint64> out;
    if (checks_)
        for (const DefectCheck& c : checks_->checks)
            if (const Defect* now = log_.find(c.defect.id); c.cured() && now && isOpen(now->state))
                out << c.defect.id;
    return out;
}

void CompareDesk::layBesideThen(qint64 defect) {
    const DefectCheck* c = check(defect);
    if (!c || !c->defect.build.id)
        return;
    againstBuild(c->defect.build.id);
    shownWhenCome_ = defect;
}

void CompareDesk::showCheck(qint64 defect) {
    const DefectCheck* c = check(defect);
    if (!c)
        return;
    if (comparison_) {
        const ComparedSide& side = comparison_->sides[1];
        const int motion = side.run->plan.find(presentId(c->defect.facts.motion.toStdString()));
        if (motion >= 0) {
            joint_ = c->told.joint;
            setPose(motion, c->defect.facts.degrees);
            lookAtJoint(c->told.joint);
        } else {
            const std::array<PoseView*, 2> views{&before_, &now_};
            for (std::size_t s = 0; s < 2; ++s) {
                AskedPose asked;
                asked.pose = poseOf(c->defect.facts, *comparison_->sides[s].subject->character);
                asked.at = c->defect.facts.degrees;
                views[s]->setJoint(c->told.joint);
                views[s]->show(std::move(asked));
            }
        }
    }
    shownCheck_ = defect;
    emit poseChanged(QPrivateSignal());
}

void CompareDesk::say(const QVector<qint64>& defects, std::optional<DefectState> to, const QString& words) {
    QVector<LogDesk::Checked> checked;
    for (qint64 id : defects)
        if (const DefectCheck* c = check(id))
            checked.push_back({verdictEvent(*c), to, words.isEmpty() ? c->sentence : words});
    if (checked.isEmpty() || !log_.judge(checked))
        return;
    for (const auto& c : checked)
        said_.insert(c.verdict.defect);
    emit checksChanged(QPrivateSignal());
}

void CompareDesk::close(const QVector<qint64>& defects) { say(defects, DefectState::Closed, {}); }
void CompareDesk::keep(const QVector<qint64>& defects) { say(defects, std::nullopt, {}); }
void CompareDesk::giveBack(qint64 defect, const QString& words) {
    say({defect}, DefectState::BeingFixed, words);
}

void CompareDesk::readSignOffs() {
    if (!log_.link().canRead() || log_.build().character.isEmpty()) {
        signOffs_.clear();
        return emit signOffsChanged(QPrivateSignal());
    }
    log_.link().tell(
        [character = log_.build().character](ProductionLog& log) { return hobble::signOffs(log, character); },
        [this](const Result<QVector<SignOff>>& all) {
            if (!all)
                return fail(all.error());
            signOffs_ = *all;
            emit signOffsChanged(QPrivateSignal());
        });
}

void CompareDesk::signOff(const QString& use, int limit) {
    const auto run = run_.run();
    if (!run || run->cancelled || !build_.wearsNothing())
        return fail(tr("Only the build itself is signed off, and only after its plan was run to the end."));
    if (log_.state() != LogState::Ready || !log_.build().id)
        return fail(tr("There is no log open that takes it."));
    auto signed_ = log_.link().ask([=, subject = build_.buildSubject(), build = log_.build(),
                                    by = log_.author()](ProductionLog& log) -> Result<SignOff> {
        const auto state = stateToSign(log, *subject, *run, build.character, use, limit);
        if (!state)
            return Error{state.error()};
        if (!state->inTheWay.isEmpty()) {
            const InTheWay& worst = state->inTheWay.front();
            const QString what = worst.defect ? QStringLiteral("%1. %2").arg(worst.defect).arg(worst.what)
                                              : tr("not logged: %1").arg(worst.what);
            return Error{
                (state->inTheWay.size() == 1
                     ? tr("Not signed off: one thing at or over severity %1 is open: %2").arg(limit).arg(what)
                     : tr("Not signed off: %n at or over severity %1 are open, the worst: %2", nullptr,
                          int(state->inTheWay.size()))
                           .arg(limit)
                           .arg(what))
                    .toStdString()};
        }
        return hobble::signOff(log, build, state->state, by);
    });
    if (!signed_)
        return fail(signed_.error());
    tell(tr("Build %1 is signed off %2.").arg(signed_->build.number).arg(signed_->state.use));
    readSignOffs();
}

void CompareDesk::takeBack(qint64 event, const QString& reason) {
    const auto back = log_.link().ask(
        [=, by = log_.author()](ProductionLog& log) { return takeBackSignOff(log, event, reason, by); });
    if (!back)
        return fail(back.error());
    tell(tr("The sign-off is taken back."));
    readSignOffs();
}

void CompareDesk::printSignOff(const SignOff& signOff, const QString& path) {
    const auto run = run_.run();
    if (!run || !build_.buildSubject())
        return;
    log_.work(tr("Printing the sign-off"),
              [=, subject = build_.buildSubject(), place = log_.place()](JobControl&) -> Result<QString> {
                  auto log = ProductionLog::open(place);
                  if (!log)
                      return Error{log.error()};
                  if (const auto written = writeSignOffPdf(**log, signOff, *subject, *run, path); !written)
                      return Error{written.error()};
                  return tr("Printed to %1.").arg(path);
              });
}

} // namespace hobble
