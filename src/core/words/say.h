#pragma once
// Sentences are made from facts here, in src/core/words, and nowhere else in the core. Their patterns go
// through one translator, which the window sets; without one they are English.
#include <cstdio>
#include <string>

namespace hobble {

/// Another language's pattern for an English one, with the same places to fill; or the same. `n`: how many it
/// tells of, by which a language chooses among its plurals, and what stands for its %n; −1: of no number.
using Translator = std::string (*)(const char* pattern, int n);
void setTranslator(Translator translator);
std::string translated(const char* pattern, int n = -1);

/// From here on numbers in sentences are written as the system's settings have them ("3,68"); they have a
/// point otherwise, whatever the process has set. What is read by programs is written by `plainNumber`.
void sayNumbersAsTheSystemDoes();

/// While it lives, printf writes numbers as sentences have them.
class NumbersAsSaid {
public:
    NumbersAsSaid();
    ~NumbersAsSaid();
    NumbersAsSaid(const NumbersAsSaid&) = delete;
    NumbersAsSaid& operator=(const NumbersAsSaid&) = delete;

private:
    void* before_;
};

inline const char* asPrinted(const std::string& words) { return words.c_str(); }
template <class A> A asPrinted(A fill) { return fill; }

template <class... A> std::string filled(const std::string& pattern, const A&... fill) {
    const NumbersAsSaid numbers;
    const int length = std::snprintf(nullptr, 0, pattern.c_str(), asPrinted(fill)...);
    std::string out(static_cast<std::size_t>(length > 0 ? length : 0) + 1, '\0');
    std::snprintf(out.data(), out.size(), pattern.c_str(), asPrinted(fill)...);
    out.pop_back();
    return out;
}

/// printf's places, in the translated pattern; %s takes a std::string too.
template <class... A> std::string say(const char* pattern, const A&... fill) {
    return filled(translated(pattern), fill...);
}
inline std::string say(const char* pattern) { return translated(pattern); }

/// Marks a pattern that tells of as many as its %n says.
constexpr const char* manyOf(const char* english) { return english; }
/// As `say`, of several.
template <class... A> std::string sayMany(std::size_t n, const char* many, const A&... fill) {
    return filled(translated(many, static_cast<int>(n)), fill...);
}
inline std::string sayMany(std::size_t n, const char* many) { return translated(many, static_cast<int>(n)); }

/// Marks a word that stands in a table: it is translated where it is shown.
constexpr const char* tableWord(const char* english) { return english; }

/// "one vertex", "%n vertices": marked as a word of a table and as many.
std::string counted(std::size_t n, const char* one, const char* many);

} // namespace hobble
