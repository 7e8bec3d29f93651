// Findings and the log: which of them it knows already, and logging them.
#include "app/session/run_desk.h"
#include "app/words.h"

#include "core/judge/by_eye.h"
#include "core/words/finding_words.h"
#include "log/finding_defect.h"

#include <algorithm>

namespace hobble {

void RunDesk::matchDefects() {
    defectOf_.clear();
    if (!build_.subject() || !run_)
        return;
    const Subject& subject = *build_.subject();
    std::vector<FindingMark> now, logged;
    for (const Finding& f : run_->findings)
        now.push_back(markOf(subject, f));
    std::vector<qint64> ids;
    const auto add = [&](const Defect* d, const std::optional<FindingMark>& mark) {
        if (!d || !mark || d->build.character != log_.character() || d->state == DefectState::Withdrawn)
            return;
        logged.push_back(*mark);
        ids.push_back(d->state == DefectState::Duplicate && d->duplicateOf ? d->duplicateOf : d->id);
    };
    for (auto m = log_.marks().begin(); m != log_.marks().end(); ++m)
        if (const Defect* d = log_.find(m.key())) {
            DefectFacts facts = d->facts;
            facts.marks = m.value();
            add(d, markOf(facts));
        }
    for (const auto& [id, json] : log_.merged())
        add(log_.find(id), mergedFromJson(json));
    for (int match : matchFindings(now, logged))
        defectOf_.push_back(match < 0 ? 0 : ids[static_cast<std::size_t>(match)]);
    emit defectsMatched(QPrivateSignal());
}

// Logged by any of its signs, a fault is logged.
qint64 RunDesk::defectOf(int finding) const {
    if (finding < 0 || finding >= static_cast<int>(defectOf_.size()))
        return 0;
    if (const qint64 own = defectOf_[static_cast<std::size_t>(finding)])
        return own;
    if (const Fault* fault = faultOf(finding))
        for (int sign : fault->signs)
            if (const qint64 other = defectOf_[static_cast<std::size_t>(sign)])
                return other;
    return 0;
}

DefectFacts RunDesk::factsToLog(int index) const {
    const Finding& f = *findingAt(index);
    const Fault* fault = faultOf(index);
    return fault && f.leads ? factsOf(*build_.subject(), plan_.plan(), run_->findings, *fault)
                            : factsOf(*build_.subject(), plan_.plan(), f);
}

DefectFacts RunDesk::pictured(DefectFacts facts, const QByteArray& camera, const QByteArray& picture) const {
    facts.buildId = log_.build().id;
    facts.camera = camera;
    facts.picture = picture;
    return facts;
}

void RunDesk::logDefect(int index, const QByteArray& camera, const QByteArray& picture) {
    const Finding* f = findingAt(index);
    if (!log_.canLog() || !f)
        return;
    if (const qint64 known = defectOf(index))
        return log_.pointTo(known);
    log_.logDefect(pictured(factsToLog(index), camera, picture),
                   proposes_ ? proposes_(index, f->severity) : f->severity);
}

void RunDesk::settle(int index, DefectState state, const QString& reason, const QByteArray& camera,
                     const QByteArray& picture) {
    const Finding* f = findingAt(index);
    if (log_.canLog() && f)
        log_.settle(defectOf(index), pictured(factsToLog(index), camera, picture), f->severity, state,
                    reason);
}

QVector<Defect> RunDesk::mergeable(int index) const {
    QVector<Defect> out;
    const Finding* f = findingAt(index);
    if (!f)
        return out;
    for (const Defect& d : log_.defects())
        if (d.build.character == log_.character() && isOpen(d.state))
            out << d;
    const QString joint = QString::fromStdString(
        build_.subject()->character->skeleton.name[static_cast<std::size_t>(f->joint)]);
    const QString limb =
        QLatin1String(nameOf(plan_.plan().motions[static_cast<std::size_t>(f->motion)].limb));
    const QString side = QLatin1String(nameOf(f->side));
    const auto unlike = [&](const Defect& d) {
        return (d.facts.joint != joint) * 4 + (d.facts.limb != limb) * 2 + (d.facts.side != side);
    };
    std::stable_sort(out.begin(), out.end(),
                     [&](const Defect& a, const Defect& b) { return unlike(a) < unlike(b); });
    return out;
}

void RunDesk::merge(int index, qint64 defect) {
    const Finding* f = findingAt(index);
    if (log_.canLog() && f && !defectOf(index))
        log_.mergeFinding(mergedToJson(markOf(*build_.subject(), *f),
                                       QString::fromStdString(sentence(*build_.subject(), plan_.plan(), *f))),
                          defect);
}

std::optional<Kind> RunDesk::kindAt(const std::vector<std::uint32_t>& triangles) const {
    const auto d = view_.detail();
    const Motion* m = motionShown();
    if (!d || !m || triangles.empty())
        return std::nullopt;
    return worstKindAt(*build_.subject(), *m, d->measured, limits_, triangles);
}

void RunDesk::logByEye(std::vector<std::uint32_t> triangles, Kind kind, int severity, const QString& note,
                       const QByteArray& camera, const QByteArray& picture) {
    if (!log_.canLog())
        return;
    const auto d = view_.detail();
    const Motion* m = motionShown();
    if (!d || !m || triangles.empty())
        return fail(tr("What is marked has not been measured yet; log it once the pose stands still."));
    const Finding f = findingByEye(*build_.subject(), plan_.plan(), motion_, d->measured, poseAt_, kind,
                                   limits_, std::move(triangles));
    DefectFacts facts = pictured(factsOf(*build_.subject(), plan_.plan(), f), camera, picture);
    QString words = QString::fromStdString(jointWords(*build_.subject(), f.joint));
    words[0] = words[0].toUpper();
    facts.what = tr("%1, seen by eye: %2, in %3 at %4.")
                     .arg(words, note.isEmpty() ? inWords(nameOf(kind)) : note, facts.motionName,
                          QString::fromStdString(wordsFor(*m, poseAt_)));
    log_.logDefect(facts, severity > 0 ? severity : f.severity);
}

} // namespace hobble
