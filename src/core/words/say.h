#pragma once
// Sentences are made from facts here, in src/core/words, and nowhere else in the core. Their patterns go
// through one translator, which the window sets; without one they are English.
#include <cstdio>
#include <string>

namespace hobble {

/// Another language's pattern for an English one, with the same places to fill; or the same.
using Translator = std::string (*)(const char* pattern);
void setTranslator(Translator translator);
std::string translated(const char* pattern);

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

/// printf's places, in the translated pattern; %s takes a std::string too.
template <class... A> std::string say(const char* pattern, const A&... fill) {
    const std::string own = translated(pattern);
    const NumbersAsSaid numbers;
    const int length = std::snprintf(nullptr, 0, own.c_str(), asPrinted(fill)...);
    std::string out(static_cast<std::size_t>(length > 0 ? length : 0) + 1, '\0');
    std::snprintf(out.data(), out.size(), own.c_str(), asPrinted(fill)...);
    out.pop_back();
    return out;
}
inline std::string say(const char* pattern) { return translated(pattern); }

/// Marks a word that stands in a table: it is translated where it is shown.
constexpr const char* tableWord(const char* english) { return english; }

/// "one vertex", "12 vertices"
std::string counted(std::size_t n, const char* one, const char* many);

} // namespace hobble
