// Logging defects and changing them: each wish undoable, none over another lead's.
#include "app/session/log_desk.h"
#include "app/words.h"

#include <QJsonDocument>
#include <QJsonObject>

#include <algorithm>

namespace hobble {

// Whether a defect can be entered; says why not.
bool LogDesk::canLog() {
    if (takesChanges())
        return true;
    fail(link_.state() == LogState::ReadOnly ? tr("The log is read-only; nothing can be written to it.")
                                             : tr("There is no log open to write the defect to."));
    return false;
}

qint64 LogDesk::logDefect(const DefectFacts& facts, int severity) {
    const qint64 id = enter(facts, severity);
    if (id)
        entered(id);
    return id;
}

void LogDesk::pointTo(qint64 id) { emit defectLogged(id, QPrivateSignal()); }

// The new defect's id, or 0 when it could not be entered.
qint64 LogDesk::enter(const DefectFacts& facts, int severity) {
    if (!authorKnown() && !std::exchange(askedAuthor_, true))
        emit authorWanted(QPrivateSignal());
    auto id = link_.ask(
        [facts, severity, by = author()](ProductionLog& log) { return log.addDefect(facts, severity, by); });
    if (id) {
        refresh();
        return *id;
    }
    if (notAnswered() && kept_) {
        KeptEdit edit;
        edit.words = tr("log: %1").arg(facts.what);
        edit.logs = facts;
        edit.severity = severity;
        if (keep(std::move(edit)))
            tell(tr("The log does not answer. The defect is kept, and will be offered once it does."));
        return 0;
    }
    fail(id.error());
    return 0;
}

void LogDesk::entered(qint64 id) {
    const Defect* d = find(id);
    auto version = std::make_shared<qint64>(d ? d->version : 0);
    const auto to = [this, id, version](DefectState state) {
        QVector<qint64> versions;
        const bool done = write(
            {{id, QStringLiteral("state"), nameOf(state), *version, tr("taken back"), true}}, &versions);
        if (done && !versions.isEmpty())
            *version = versions.front();
        return done;
    };
    undoable(
        tr("log defect %1").arg(id), [to] { return to(DefectState::Logged); },
        [to] { return to(DefectState::Withdrawn); });
    emit defectLogged(id, QPrivateSignal());
}

struct LogDesk::Step {
    DefectChange change;
    QString before;     // the value it goes back to
    qint64 version = 0; // of the event that was written last
};

void LogDesk::mergeFinding(const QByteArray& finding, qint64 id) {
    const QString json = QString::fromUtf8(finding);
    const auto say = [=, this](const char* field) {
        return write({{id, QLatin1String(field), json, 0, {}, false}});
    };
    if (!say("same fault"))
        return;
    undoable(
        tr("merge a finding with defect %1").arg(id), [=] { return say("same fault"); },
        [=] { return say("not the same fault"); });
    tell(tr("Merged with defect %1.").arg(id));
}

void LogDesk::settle(qint64 known, const DefectFacts& facts, int severity, DefectState state,
                     const QString& reason) {
    const qint64 id = known ? known : enter(facts, severity);
    const Defect* d = find(id);
    if (!id || !d)
        return;
    writeUndoable(tr("defect %1 %2").arg(id).arg(inWords(nameOf(state))),
                  {{{id, QStringLiteral("state"), nameOf(state), d->version, reason, false},
                    nameOf(known ? d->state : DefectState::Withdrawn),
                    0}});
    if (const Defect* now = find(id); now && now->state == state)
        tell(tr("Defect %1 is %2: %3").arg(id).arg(inWords(nameOf(state)), reason));
}

// What could not be written because the log is gone. Whether it is safe.
bool LogDesk::keep(KeptEdit edit) {
    edit.at = QDateTime::currentDateTimeUtc();
    edit.author = author();
    const auto held =
        kept_ ? kept_->add(edit) : Result<Done>(Error{tr("There is no log open.").toStdString()});
    if (!held)
        fail(held.error());
    emit stateChanged(QPrivateSignal());
    return held.ok();
}

bool LogDesk::keep(const QVector<DefectChange>& changes) {
    if (!kept_)
        return false;
    for (const DefectChange& c : changes) {
        const QString words = c.field == QLatin1String("comment")
                                  ? tr("defect %1: “%2”").arg(c.defect).arg(c.value)
                                  : tr("defect %1: %2 %3")
                                        .arg(c.defect)
                                        .arg(c.field, c.value.isEmpty() ? tr("nobody") : c.value);
        KeptEdit edit;
        edit.words = words;
        edit.change = c;
        if (!keep(std::move(edit)))
            return false;
    }
    tell(tr("The log does not answer. What you changed is kept, and will be offered once it does."));
    emit stateChanged(QPrivateSignal());
    return true;
}

bool LogDesk::write(const QVector<DefectChange>& changes, QVector<qint64>* versions) {
    if (!authorKnown() && !std::exchange(askedAuthor_, true))
        emit authorWanted(QPrivateSignal());
    auto written = link_.ask([changes, by = author(), build = build_.id](ProductionLog& log) {
        return log.change(changes, by, build);
    });
    if (!written) {
        if (notAnswered())
            keep(changes);
        else
            fail(written.error());
        return false;
    }
    refresh();
    if (!written->clashes.isEmpty()) {
        const QString first = written->clashes.front().words();
        fail(written->clashes.size() == 1
                 ? first
                 : tr("%1 (and %2 more like it)").arg(first).arg(written->clashes.size() - 1));
    }
    if (versions)
        *versions = written->versions;
    return written->clashes.size() < changes.size();
}

void LogDesk::writeUndoable(const QString& text, QVector<Step> wanted) {
    auto steps = std::make_shared<QVector<Step>>(std::move(wanted));
    const auto go = [this, steps](bool forth, bool first) {
        QVector<DefectChange> changes;
        for (const Step& s : *steps) {
            DefectChange c = s.change;
            if (!first) {
                c.basedOn = s.version;
                c.takesBack = true;
            }
            if (!forth) {
                c.value = s.before;
                c.reason = tr("taken back");
            }
            changes << c;
        }
        if (!forth) // what was done last is taken back first
            std::reverse(changes.begin(), changes.end());
        QVector<qint64> versions;
        if (!write(changes, &versions))
            return false;
        if (!forth)
            std::reverse(versions.begin(), versions.end());
        QVector<Step> done; // what clashed is no longer ours to take back
        for (int i = 0; i < steps->size() && i < versions.size(); ++i)
            if (versions[i]) {
                done << (*steps)[i];
                done.back().version = versions[i];
            }
        *steps = done;
        return true;
    };
    if (go(true, true))
        undoable(
            text, [go] { return go(true, false); }, [go] { return go(false, false); });
}

void LogDesk::change(const QVector<qint64>& ids, const QString& field, const QString& value,
                     const QString& reason) {
    if (!canLog())
        return;
    QVector<Step> steps;
    for (qint64 id : ids) {
        const Defect* d = find(id);
        if (!d)
            continue;
        const QString before = field == QLatin1String("state")      ? nameOf(d->state)
                               : field == QLatin1String("severity") ? QString::number(d->severity)
                               : field == QLatin1String("assignee") ? d->assignee
                                                                    : d->due;
        if (before != value)
            steps.push_back({{id, field, value, d->version, reason, false}, before, 0});
    }
    if (steps.isEmpty())
        return;
    writeUndoable(steps.size() == 1 ? tr("change %1 of defect %2").arg(field).arg(steps.front().change.defect)
                                    : tr("change %1 of %n defects", nullptr, int(steps.size())).arg(field),
                  steps);
}

void LogDesk::comment(const QVector<qint64>& ids, const QString& words) {
    if (words.trimmed().isEmpty() || !canLog())
        return;
    QVector<DefectChange> changes;
    for (qint64 id : ids)
        changes.push_back({id, QStringLiteral("comment"), words.trimmed(), newestEvent_, {}, false});
    write(changes);
}

bool LogDesk::judge(const QVector<Checked>& checked) {
    if (!canLog())
        return false;
    QVector<DefectChange> events;
    QVector<Step> steps;
    for (const Checked& c : checked) {
        events << c.verdict;
        const Defect* d = find(c.verdict.defect);
        if (!c.to || !d || d->state == *c.to)
            continue;
        const QVector<DefectState> way = wayTo(d->state, *c.to);
        if (!way.isEmpty()) // through the states between; taking it back leads straight to where it was
            steps.push_back({{d->id, QStringLiteral("state"), nameOf(*c.to), d->version, c.reason, false},
                             nameOf(d->state),
                             0});
    }
    if (!write(events))
        return false;
    for (Step& step : steps) {
        const QVector<DefectState> way = wayTo(*stateCalled(step.before), *stateCalled(step.change.value));
        for (DefectState between : way) {
            const Defect* d = find(step.change.defect);
            step.change.basedOn = d ? d->version : 0;
            if (between != way.back())
                write({{step.change.defect, QStringLiteral("state"), nameOf(between), step.change.basedOn,
                        step.change.reason, false}});
        }
    }
    if (steps.isEmpty())
        return true;
    for (Step& step : steps)
        if (const Defect* d = find(step.change.defect))
            step.change.basedOn = d->version;
    writeUndoable(steps.size() == 1
                      ? tr("defect %1 %2").arg(steps[0].change.defect).arg(steps[0].change.value)
                      : tr("%n defects %1", nullptr, int(steps.size())).arg(steps[0].change.value),
                  steps);
    return true;
}

void LogDesk::merge(qint64 keepId, const QVector<qint64>& others, const QString& reason) {
    const Defect* kept = find(keepId);
    if (!kept || !canLog())
        return;
    QVector<Step> steps;
    for (qint64 id : others) {
        const Defect* d = find(id);
        if (!d || id == keepId || d->duplicateOf == keepId)
            continue;
        steps.push_back({{id, QStringLiteral("duplicate of"), QString::number(keepId), d->version, {}, false},
                         QString::number(d->duplicateOf),
                         0});
        steps.push_back(
            {{id, QStringLiteral("state"), nameOf(DefectState::Duplicate), d->version, reason, false},
             nameOf(d->state),
             0});
    }
    if (!steps.isEmpty())
        writeUndoable(tr("merge into defect %1").arg(keepId), steps);
}

QVector<SplitPart> LogDesk::partsOf(qint64 id) {
    QVector<SplitPart> out;
    for (const Defect& d : defects())
        if (d.duplicateOf == id && d.state == DefectState::Duplicate)
            out.push_back({tr("%1. %2").arg(d.id).arg(d.facts.what), d.id, {}, {}});
    for (const auto& [of, json] : merged_)
        if (of == id)
            out.push_back({QJsonDocument::fromJson(json).object().value(QStringLiteral("what")).toString(),
                           0,
                           json,
                           {}});
    if (const auto defect = whole(id)) {
        const QJsonObject parts =
            QJsonDocument::fromJson(defect->facts.marks).object().value(QStringLiteral("parts")).toObject();
        if (parts.size() > 1)
            for (const QString& part : parts.keys())
                out.push_back({tr("what is marked on %1").arg(part), 0, {}, part});
    }
    return out;
}

void LogDesk::split(qint64 id, const SplitPart& part) {
    if (!canLog())
        return;
    if (part.duplicate) {
        if (const Defect* d = find(part.duplicate))
            writeUndoable(
                tr("take defect %1 out of %2").arg(d->id).arg(id),
                {{{d->id, QStringLiteral("duplicate of"), QStringLiteral("0"), d->version, {}, false},
                  QString::number(id),
                  0},
                 {{d->id, QStringLiteral("state"),
                   nameOf(d->assignee.isEmpty() ? DefectState::Logged : DefectState::Assigned), d->version,
                   tr("a fault of its own, not that of %1").arg(id), false},
                  nameOf(DefectState::Duplicate),
                  0}});
        return;
    }
    const auto made = link_.ask([id, part, by = author(), build = build_.id](ProductionLog& log) {
        return splitOff(log, id, part, by, build);
    });
    if (!made && notAnswered()) {
        KeptEdit edit;
        edit.words = tr("split defect %1: %2").arg(id).arg(part.words);
        edit.splits = part;
        edit.change.defect = id;
        if (keep(std::move(edit)))
            tell(tr("The log does not answer. What you changed is kept, and will be offered once it does."));
        return;
    }
    if (!made)
        return fail(made.error());
    refresh();
    entered(*made);
}

} // namespace hobble
