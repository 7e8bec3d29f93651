#include "cli/log_place.h"

#include <QFileInfo>

namespace hobble::cli {

Result<std::unique_ptr<ProductionLog>> logThatIsThere(const std::string& place) {
    const auto address = LogAddress::parse(QString::fromStdString(place));
    if (!address)
        return Error{address.error()};
    if (!address->postgres && !QFileInfo::exists(address->path))
        return Error{"there is no log at " + place};
    return ProductionLog::open(QString::fromStdString(place));
}

Result<Build> buildIn(ProductionLog& log, const Character& c) {
    return log.build(QString::fromStdString(c.name), QString::fromStdString(c.hash),
                     QString::fromStdString(c.source), QString::fromStdString(c.formerHash));
}

QString authorOf(const std::string& named) {
    return named.empty() ? qEnvironmentVariable("USER", QStringLiteral("script"))
                         : QString::fromStdString(named);
}

} // namespace hobble::cli
