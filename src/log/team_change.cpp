#include "log/team_change.h"

#include "log/log_words.h"

namespace hobble {

namespace {

Result<Done> changePerson(ProductionLog& log, const TeamChange& c, const QString& author) {
    const auto people = log.people();
    if (!people)
        return Error{people.error()};
    if (c.what == TeamChange::What::AddPerson) {
        for (const Person& p : *people)
            if (p.name == c.name.simplified())
                return p.active ? Result<Done>(Done{}) : log.setPersonActive(p.id, true);
        const auto added = log.addPerson(c.name);
        return added ? Result<Done>(Done{}) : Error{added.error()};
    }
    for (const Person& p : *people) {
        if (p.id != c.id)
            continue;
        if (c.what == TeamChange::What::PersonMail)
            return p.mail == c.value.simplified() ? Result<Done>(Done{}) : log.setPersonMail(p.id, c.value);
        if (c.what == TeamChange::What::PersonActive)
            return p.active == !c.value.isEmpty() ? Result<Done>(Done{})
                                                  : log.setPersonActive(p.id, !c.value.isEmpty());
        if (p.name == c.value.simplified())
            return Done{};
        if (p.name != c.name)
            return Error{tr("%1 has been renamed %2 meanwhile.").arg(c.name, p.name).toStdString()};
        return log.renamePerson(p.id, c.value, author);
    }
    return Error{tr("%1 is not on the roster.").arg(c.name).toStdString()};
}

} // namespace

Result<Done> makeTeamChange(ProductionLog& log, const TeamChange& c, const QString& author) {
    if (c.what == TeamChange::What::Filter) {
        const auto filters = log.teamFilters();
        if (!filters)
            return Error{filters.error()};
        QByteArray is;
        for (const TeamFilter& f : *filters)
            if (f.name == c.name.simplified())
                is = f.filter;
        return is == c.value.toUtf8() ? Result<Done>(Done{})
                                      : log.keepTeamFilter(c.name, c.value.toUtf8(), author);
    }
    if (c.what == TeamChange::What::Reference) {
        const auto is = log.reference();
        if (!is)
            return Error{is.error()};
        const bool taken = *is && (*is)->build.id == c.id;
        return taken == !c.value.isEmpty() ? Result<Done>(Done{})
                                           : log.setReference(c.id, !c.value.isEmpty(), author);
    }
    return changePerson(log, c, author);
}

} // namespace hobble
