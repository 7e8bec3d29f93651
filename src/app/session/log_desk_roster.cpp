// What the team agreed on: who defects can be given to, the reference, filters. Where the log does not answer
// it is kept, and offered once it does.
#include "app/session/log_desk.h"

namespace hobble {

using What = TeamChange::What;

LogDesk::Came LogDesk::make(const TeamChange& change, const QString& words) {
    const auto made =
        link_.ask([change, by = author()](ProductionLog& log) { return makeTeamChange(log, change, by); });
    if (!made && notAnswered()) {
        KeptEdit edit;
        edit.words = words;
        edit.team = change;
        if (!keep(std::move(edit)))
            return Came::Failed;
        tell(tr("The log does not answer. What you changed is kept, and will be offered once it does."));
        return Came::Kept;
    }
    if (!made)
        fail(made.error());
    refresh();
    return made ? Came::Written : Came::Failed;
}

void LogDesk::makeUndoable(const QString& words, const TeamChange& change, const TeamChange& back) {
    const auto go = [this, words](const TeamChange& way) { return make(way, words) != Came::Failed; };
    if (make(change, words) == Came::Written) // what is only kept is taken back by dropping it
        undoable(
            words, [=] { return go(change); }, [=] { return go(back); });
}

void LogDesk::addPerson(const QString& name) {
    const QString known = name.simplified(), words = tr("add %1").arg(known);
    if (!canLog())
        return;
    for (const Person& p : people_)
        if (p.active && p.name == known)
            return fail(tr("%1 is on the roster already.").arg(known));
    if (make({What::AddPerson, 0, known, {}}, words) != Came::Written)
        return;
    for (const Person& p : people_)
        if (p.name == known) {
            const auto set = [this, id = p.id, known, words](const char* on) {
                return make({What::PersonActive, id, known, QLatin1String(on)}, words) != Came::Failed;
            };
            undoable(
                words, [set] { return set("yes"); }, [set] { return set(""); });
        }
}

void LogDesk::renamePerson(qint64 id, const QString& name) {
    for (const Person& p : people_)
        if (p.id == id && p.name != name.simplified()) {
            const QString before = p.name, now = name.simplified(); // the list is read anew by a change
            return makeUndoable(tr("rename %1").arg(before), {What::RenamePerson, id, before, now},
                                {What::RenamePerson, id, now, before});
        }
}

void LogDesk::setPersonMail(qint64 id, const QString& mail) {
    for (const Person& p : people_)
        if (p.id == id && p.mail != mail.simplified()) {
            const QString before = p.mail, name = p.name;
            return makeUndoable(tr("address of %1").arg(name),
                                {What::PersonMail, id, name, mail.simplified()},
                                {What::PersonMail, id, name, before});
        }
}

void LogDesk::removePerson(qint64 id) {
    for (const Person& p : people_)
        if (p.id == id) {
            const QString name = p.name;
            return makeUndoable(tr("take %1 off the roster").arg(name), {What::PersonActive, id, name, {}},
                                {What::PersonActive, id, name, QStringLiteral("yes")});
        }
}

void LogDesk::setReference(qint64 build) {
    const qint64 before = reference_ ? reference_->build.id : 0;
    if (build == before || !canLog())
        return;
    const QString yes = QStringLiteral("yes");
    const TeamChange take{What::Reference, build, {}, yes}, leave{What::Reference, before, {}, {}};
    makeUndoable(build ? tr("take a build as the reference") : tr("have no reference"), build ? take : leave,
                 before ? TeamChange{What::Reference, before, {}, yes}
                        : TeamChange{What::Reference, build, {}, {}});
}

void LogDesk::keepTeamFilter(const QString& name, const QByteArray& filter) {
    if (!canLog())
        return;
    const QString known = name.simplified();
    QByteArray before;
    for (const TeamFilter& f : teamFilters_)
        if (f.name == known)
            before = f.filter;
    if (before == filter)
        return;
    makeUndoable(filter.isEmpty() ? tr("drop the filter %1").arg(known) : tr("keep the filter %1").arg(known),
                 {What::Filter, 0, known, QString::fromUtf8(filter)},
                 {What::Filter, 0, known, QString::fromUtf8(before)});
}

} // namespace hobble
