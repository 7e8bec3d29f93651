#include "core/words/say.h"

namespace hobble {

namespace {

Translator g_translator = nullptr;

} // namespace

void setTranslator(Translator translator) { g_translator = translator; }

std::string translated(const char* pattern) { return g_translator ? g_translator(pattern) : pattern; }

std::string counted(std::size_t n, const char* one, const char* many) {
    return n == 1 ? say("one ") + translated(one) : std::to_string(n) + " " + translated(many);
}

} // namespace hobble
