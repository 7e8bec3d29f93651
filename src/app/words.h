#pragma once
// Words for what the core names by enums, translatable.
#include "core/pose/limb.h"

#include <QString>

namespace hobble {

QString wordsFor(Limb limb); // "Arms"

/// A word of the core's or the log's tables ("volume loss", "left", "being fixed") in the language at hand;
/// what is no such word stays.
QString inWords(const char* word);
QString inWords(const QString& word);

} // namespace hobble
