#pragma once
// Builds that were read to be pictured, the last few of them kept, for defects of one build come in a row.
// Used from one thread at a time.
#include "core/measure/subject.h"
#include "log/production_log.h"

#include <list>

namespace hobble {

class BuildShelf {
public:
    explicit BuildShelf(std::size_t most = 3) : most_(most) {}
    /// Reads and prepares it where it is not here. Fails plainly when the file has gone or is another's by
    /// now.
    Result<std::shared_ptr<const Subject>> take(const Build& build);

    /// One that is at hand already.
    void put(const QString& hash, std::shared_ptr<const Subject> subject);

private:
    std::size_t most_;
    std::list<std::pair<QString, std::shared_ptr<const Subject>>> kept_; // by content, newest first
};

} // namespace hobble
