#pragma once
// The words of a joint's name, in English: what the rules of roles.cpp are about.
#include <string>
#include <vector>

namespace hobble {

/// Split at case changes, digits and separators, lower case, namespaces dropped; compounds taken apart, words
/// of other languages translated.
std::vector<std::string> wordsOf(const std::string& jointName);

} // namespace hobble
