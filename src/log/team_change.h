#pragma once
// One change of what the team agreed on: who defects can be given to, filters for everybody, the reference.
#include "log/production_log.h"

namespace hobble {

struct TeamChange {
    enum class What { AddPerson, RenamePerson, PersonMail, PersonActive, Filter, Reference };
    What what = What::AddPerson;
    qint64 id = 0; // of the person, or of the build that is the reference
    QString name;  // of a person to be added; a person's before the change; a filter's
    QString value; // a new name, an address, a filter's JSON; "yes" or nothing: on the roster, the reference
    bool operator==(const TeamChange&) const = default;
};

/// What is so already is no error, and is not done twice. A person who was renamed by somebody else meanwhile
/// keeps that name, and the error says so; whoever is added and was on the roster once, is again.
Result<Done> makeTeamChange(ProductionLog& log, const TeamChange& change, const QString& author);

} // namespace hobble
