#include "core/words/measure_words.h"

#include "core/words/say.h"

namespace hobble {

std::string wordsFor(const MeasureUnit& unit, double value) {
    return say("%.*f%s", unit.decimals, unit.factor * value, unit.suffix);
}

} // namespace hobble
