#include "core/words/say.h"

#include <locale.h> // newlocale and uselocale are POSIX's

namespace hobble {

namespace {

Translator g_translator = nullptr;

locale_t named(const char* name) { return newlocale(LC_NUMERIC_MASK, name, locale_t{}); }

locale_t& numbers() {
    static locale_t as = named("C");
    return as;
}

} // namespace

void setTranslator(Translator translator) { g_translator = translator; }

void sayNumbersAsTheSystemDoes() {
    if (const locale_t as = named("")) // none where the settings name a locale that is not installed
        numbers() = as;
}

NumbersAsSaid::NumbersAsSaid() : before_(uselocale(numbers())) {}
NumbersAsSaid::~NumbersAsSaid() { uselocale(static_cast<locale_t>(before_)); }

std::string translated(const char* pattern, int n) {
    if (g_translator)
        return g_translator(pattern, n);
    std::string out = pattern;
    if (n >= 0)
        for (std::size_t at = 0; (at = out.find("%n", at)) != std::string::npos;)
            out.replace(at, 2, std::to_string(n));
    return out;
}

std::string counted(std::size_t n, const char* one, const char* many) {
    return n == 1 ? say(one) : sayMany(n, many);
}

} // namespace hobble
