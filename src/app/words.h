#pragma once
// Words for what the core names by enums, translatable.
#include "core/pose/limb.h"

#include <QString>

namespace hobble {

QString wordsFor(Limb limb); // "Arms"

} // namespace hobble
