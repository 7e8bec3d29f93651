#include "app/log/triage.h"

#include "app/widgets/severity_chip.h"
#include "app/words.h"
#include "log/workload.h"

namespace hobble {

Triage::Triage(LogDesk* log, QWidget* anchor) : QObject(anchor), log_(log), anchor_(anchor) {}

void Triage::setChosen(const QVector<qint64>& ids, qint64 current) {
    ids_ = ids;
    current_ = current;
}

QString Triage::aboutChosen() const {
    return ids_.size() == 1 ? tr("defect %1").arg(ids_.front()) : tr("%n defects", nullptr, int(ids_.size()));
}

ChoicePopup* Triage::open(const QString& title, const QVector<Choice>& choices, bool free) {
    auto* popup = new ChoicePopup(title, choices, free, anchor_);
    popup->openBelow(anchor_);
    return popup;
}

void Triage::assign() {
    const Defect* d = log_->list().find(current_);
    if (ids_.isEmpty() || !d)
        return;
    QVector<Choice> choices;
    for (const Suggestion& s : suggestAssignees(*d, log_->defects(), log_->people()))
        choices.push_back({s.person, s.person, s.why, {}});
    choices.push_back({QString(), tr("nobody"), tr("give it back"), {}});
    connect(open(tr("Give %1 to").arg(aboutChosen()), choices), &ChoicePopup::chosen, this,
            [this, ids = ids_](const QString& name) { log_->change(ids, QStringLiteral("assignee"), name); });
}

void Triage::setSeverity(int severity) {
    if (!ids_.isEmpty())
        log_->change(ids_, QStringLiteral("severity"), QString::number(severity));
}

void Triage::askSeverity() {
    if (ids_.isEmpty())
        return;
    QVector<Choice> choices;
    for (int s = 4; s >= 1; --s)
        choices.push_back({QString::number(s), tr("%1  %2").arg(s).arg(severityWord(s)), {}, {}});
    connect(open(tr("How bad is %1?").arg(aboutChosen()), choices), &ChoicePopup::chosen, this,
            [this, ids = ids_](const QString& s) { log_->change(ids, QStringLiteral("severity"), s); });
}

// The moves that all the chosen ones may make.
QVector<Choice> Triage::moves(bool onlyWaysOut) const {
    QVector<Choice> out;
    for (DefectState to : kDefectStates) {
        bool all = true, reason = false;
        for (qint64 id : ids_)
            if (const Defect* d = log_->list().find(id)) {
                all = all && mayMove(d->state, to);
                reason = reason || needsReason(d->state, to);
            }
        // a duplicate is one of something: that is what merging asks for
        if (!all || to == DefectState::Duplicate || (onlyWaysOut && !isWayOut(to)))
            continue;
        static const QString notes[] = {tr("nobody has it"),
                                        tr("somebody has it"),
                                        {},
                                        tr("in the next build"),
                                        tr("looked at, and cured"),
                                        tr("meant to look like that"),
                                        tr("the clip's, the plan's or another's"),
                                        tr("known, and good enough"),
                                        {},
                                        {}};
        out.push_back({nameOf(to), inWords(nameOf(to)), notes[static_cast<int>(to)],
                       reason ? tr("Why %1? Then Enter").arg(inWords(nameOf(to))) : QString()});
    }
    return out;
}

void Triage::askState() {
    if (ids_.isEmpty())
        return;
    const auto choices = moves(false);
    if (choices.isEmpty())
        return void(
            emit failed(tr("The chosen defects can make no move together; choose those of one state.")));
    connect(open(tr("%1 becomes").arg(ids_.size() == 1 ? tr("Defect %1").arg(ids_.front()) : aboutChosen()),
                 choices),
            &ChoicePopup::chosen, this, [this, ids = ids_](const QString& state, const QString& reason) {
                log_->change(ids, QStringLiteral("state"), state, reason);
            });
}

void Triage::askWayOut() {
    if (ids_.isEmpty())
        return;
    const auto choices = moves(true);
    if (choices.isEmpty())
        return void(emit failed(tr("What is closed or out already has to be taken up again first (S).")));
    connect(open(tr("%1 is no fault to fix:")
                     .arg(ids_.size() == 1 ? tr("Defect %1").arg(ids_.front()) : aboutChosen()),
                 choices),
            &ChoicePopup::chosen, this, [this, ids = ids_](const QString& state, const QString& reason) {
                log_->change(ids, QStringLiteral("state"), state, reason);
            });
}

void Triage::askDue() {
    const Defect* d = log_->list().find(current_);
    if (ids_.isEmpty() || !d)
        return;
    int newest = d->build.number;
    for (const Defect& other : log_->defects())
        if (other.build.character == d->build.character)
            newest = std::max(newest, other.build.number);
    QVector<Choice> choices;
    for (int b = newest + 1; b <= newest + 3; ++b)
        choices.push_back(
            {tr("build %1").arg(b), tr("build %1").arg(b), b == newest + 1 ? tr("the next") : QString(), {}});
    choices.push_back({QString(), tr("no date"), {}, {}});
    connect(open(tr("%1 is due in").arg(ids_.size() == 1 ? tr("Defect %1").arg(ids_.front()) : aboutChosen()),
                 choices, true),
            &ChoicePopup::chosen, this,
            [this, ids = ids_](const QString& due) { log_->change(ids, QStringLiteral("due"), due); });
}

void Triage::askComment() {
    if (ids_.isEmpty())
        return;
    connect(open(tr("Comment on %1").arg(aboutChosen()), {}, true), &ChoicePopup::chosen, this,
            [this, ids = ids_](const QString& words) { log_->comment(ids, words); });
}

void Triage::merge() {
    const Defect* d = log_->list().find(current_);
    if (ids_.isEmpty() || !d)
        return;
    const QString asks = tr("How one sees that it is the same. Then Enter");
    QVector<Choice> choices;
    if (ids_.size() > 1) {
        for (qint64 id : ids_)
            if (const Defect* one = log_->list().find(id))
                choices.push_back(
                    {QString::number(id), tr("%1  %2").arg(id).arg(whatWords(one->facts)), {}, asks});
        std::stable_sort(choices.begin(), choices.end(), [this](const Choice& a, const Choice& b) {
            return (a.value.toLongLong() == current_) > (b.value.toLongLong() == current_);
        });
    } else {
        for (const Defect& one : log_->defects())
            if (one.id != d->id && one.build.character == d->build.character && isOpen(one.state))
                choices.push_back(
                    {QString::number(one.id), tr("%1  %2").arg(one.id).arg(whatWords(one.facts)), {}, asks});
        const auto unlike = [&](const Choice& c) {
            const Defect* one = log_->list().find(c.value.toLongLong());
            return !one ? 9
                        : (one->facts.joint != d->facts.joint) * 4 + (one->facts.limb != d->facts.limb) * 2 +
                              (one->facts.kind != d->facts.kind);
        };
        std::stable_sort(choices.begin(), choices.end(),
                         [&](const Choice& a, const Choice& b) { return unlike(a) < unlike(b); });
    }
    if (choices.isEmpty())
        return void(emit failed(tr("There is no other open defect of this character to merge it with.")));
    connect(open(ids_.size() > 1 ? tr("Which of the %1 is kept?").arg(ids_.size())
                                 : tr("Defect %1 is the same as").arg(d->id),
                 choices),
            &ChoicePopup::chosen, this, [this, ids = ids_](const QString& keep, const QString& reason) {
                log_->merge(keep.toLongLong(), ids, reason);
            });
}

void Triage::split() {
    if (!current_)
        return;
    const auto parts = log_->partsOf(current_);
    if (parts.isEmpty())
        return void(
            emit failed(tr("Nothing was merged into defect %1, and it is marked on one part only: there is "
                           "nothing to take out of it.")
                            .arg(current_)));
    QVector<Choice> choices;
    for (int p = 0; p < parts.size(); ++p)
        choices.push_back({QString::number(p), parts[p].words, {}, {}});
    connect(open(tr("Take out of defect %1").arg(current_), choices), &ChoicePopup::chosen, this,
            [this, parts, id = current_](const QString& p) { log_->split(id, parts[p.toInt()]); });
}

} // namespace hobble
