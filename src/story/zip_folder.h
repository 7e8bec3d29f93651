#pragma once
#include "core/result.h"

#include <QString>

namespace hobble {

/// All files of a folder, with the folder's own name before theirs, in one .zip.
Result<Done> zipFolder(const QString& folder, const QString& zip);

} // namespace hobble
