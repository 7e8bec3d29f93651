#pragma once
// Letters of names in files, whatever the locale of the process: <cctype> follows it, and under Turkish
// settings "SPINE" in lower case is not "spine" (its I has no dot there). Bytes beyond ASCII stay as they
// are.
#include <string>

namespace hobble {

constexpr bool asciiUpper(char c) { return c >= 'A' && c <= 'Z'; }
constexpr bool asciiLower(char c) { return c >= 'a' && c <= 'z'; }
constexpr bool asciiDigit(char c) { return c >= '0' && c <= '9'; }
constexpr bool asciiLetterOrDigit(char c) { return asciiUpper(c) || asciiLower(c) || asciiDigit(c); }
constexpr char toAsciiLower(char c) { return asciiUpper(c) ? static_cast<char>(c - 'A' + 'a') : c; }
constexpr char toAsciiUpper(char c) { return asciiLower(c) ? static_cast<char>(c - 'a' + 'A') : c; }

inline std::string lowered(std::string text) {
    for (char& c : text)
        c = toAsciiLower(c);
    return text;
}

} // namespace hobble
