#pragma once
// The words of a joint's name, in English: what the rules of roles.cpp are about.
#include <string>
#include <vector>

namespace hobble {

/// Split at case changes, digits and separators, lower case, namespaces dropped; compounds taken apart, words
/// of other languages translated.
std::vector<std::string> wordsOf(const std::string& jointName, bool translate = true);

/// Those of its words that are another language's and not English as well, as they are written.
std::vector<std::string> foreignWordsOf(const std::string& jointName);

} // namespace hobble
