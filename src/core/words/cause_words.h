#pragma once
// A cause in words: one plain sentence with its numbers.
#include "core/judge/causes/cause.h"

namespace hobble {

struct Character;

std::string sentenceOf(const Character& character, const Cause& cause);

} // namespace hobble
