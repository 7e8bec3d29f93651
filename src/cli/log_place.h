#pragma once
// A production log named on the command line, and who writes into it.
#include "core/character/character.h"
#include "log/production_log.h"

#include <memory>
#include <string>

namespace hobble::cli {

/// The log at a path or an address; an error where there is none, instead of a new one.
Result<std::unique_ptr<ProductionLog>> logThatIsThere(const std::string& place);

/// The character's build in a log, entered where it is new.
Result<Build> buildIn(ProductionLog& log, const Character& character);

/// Who says so: as named, or the user.
QString authorOf(const std::string& named);

} // namespace hobble::cli
