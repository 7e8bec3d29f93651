// What the team agreed on: who defects can be given to, the reference, filters.
#include "app/session/log_desk.h"

namespace hobble {

bool LogDesk::roster(const Result<Done>& result) {
    if (!result)
        fail(result.error());
    refresh();
    return result.ok();
}

void LogDesk::setPersonActive(qint64 id, bool active, const QString& text) {
    const auto set = [this, id](bool on) {
        return roster(link_.ask([id, on](ProductionLog& log) { return log.setPersonActive(id, on); }));
    };
    if (set(active))
        undoable(
            text, [=] { return set(active); }, [=] { return set(!active); });
}

void LogDesk::addPerson(const QString& name) {
    if (!link_.canRead())
        return;
    for (const Person& p : people_)
        if (!p.active && p.name == name.simplified()) // welcome back
            return setPersonActive(p.id, true, tr("add %1").arg(p.name));
    auto added = link_.ask([name](ProductionLog& log) { return log.addPerson(name); });
    if (!added)
        return fail(added.error());
    refresh();
    const auto set = [this, id = *added](bool on) {
        return roster(link_.ask([id, on](ProductionLog& log) { return log.setPersonActive(id, on); }));
    };
    undoable(
        tr("add %1").arg(name.simplified()), [set] { return set(true); }, [set] { return set(false); });
}

void LogDesk::renamePerson(qint64 id, const QString& name) {
    const auto call = [this, id](const QString& as) {
        return roster(
            link_.ask([id, as, by = author()](ProductionLog& log) { return log.renamePerson(id, as, by); }));
    };
    for (const Person& p : people_)
        if (p.id == id && p.name != name.simplified()) {
            const QString before = p.name; // the list is read anew by a change
            if (call(name))
                undoable(
                    tr("rename %1").arg(before), [=] { return call(name); }, [=] { return call(before); });
            return;
        }
}

void LogDesk::setPersonMail(qint64 id, const QString& mail) {
    const auto set = [this, id](const QString& to) {
        return roster(link_.ask([id, to](ProductionLog& log) { return log.setPersonMail(id, to); }));
    };
    for (const Person& p : people_)
        if (p.id == id && p.mail != mail.simplified()) {
            const QString before = p.mail;
            if (set(mail))
                undoable(
                    tr("address of %1").arg(p.name), [=] { return set(mail); }, [=] { return set(before); });
            return;
        }
}

void LogDesk::removePerson(qint64 id) { setPersonActive(id, false, tr("take a person off the roster")); }

void LogDesk::setReference(qint64 build) {
    const qint64 before = reference_ ? reference_->build.id : 0;
    if (build == before || !canLog())
        return;
    const auto take = [this](qint64 is, qint64 was) {
        return roster(link_.ask([is, was, by = author()](ProductionLog& log) {
            return log.setReference(is ? is : was, is != 0, by);
        }));
    };
    if (take(build, before))
        undoable(
            build ? tr("take a build as the reference") : tr("have no reference"),
            [=] { return take(build, before); }, [=] { return take(before, build); });
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
    const auto keep = [this, known](const QByteArray& as) {
        return roster(link_.ask(
            [known, as, by = author()](ProductionLog& log) { return log.keepTeamFilter(known, as, by); }));
    };
    if (keep(filter))
        undoable(
            filter.isEmpty() ? tr("drop the filter %1").arg(known) : tr("keep the filter %1").arg(known),
            [=] { return keep(filter); }, [=] { return keep(before); });
}

} // namespace hobble
