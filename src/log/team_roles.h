#pragma once
// What a server lets whom do with its log: readers look; riggers log defects, say something and move on what
// they have, but close nothing, take nothing out of the way and sign nothing; leads do everything. It is the
// database that keeps them to it (grants, and triggers for what a grant cannot tell apart), whatever program
// they come with.
#include "log/production_log.h"

class QSqlQuery;

namespace hobble {

/// Makes the roles hobble_reader, hobble_rigger and hobble_lead, for the whole server, where they are not
/// there, and lets them do with this log what they may. Again after an update of the log. An error for a log
/// in a file, and for whoever is not the log's owner or may make no roles. People are given one by the
/// server's keeper: GRANT hobble_rigger TO petra.
Result<Done> makeTeamRoles(ProductionLog& log);

/// For the opening of a log that has just been brought up to date, inside its transaction: where it has those
/// roles, they may do with new tables what they may. False: `q` knows why not.
bool grantWhatIsNew(QSqlQuery& q);

} // namespace hobble
