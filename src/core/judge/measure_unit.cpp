#include "core/judge/measure_unit.h"

#include "core/measure/subject.h"

namespace hobble {

MeasureUnit unitOf(Kind kind, const Subject& s, int joint) {
    switch (factsOf(kind).in) {
    case MeasuredIn::LimbRadius:
        if (joint >= 0 && s.zones[static_cast<std::size_t>(joint)].limbRadius > 0)
            return {1000 * s.zones[static_cast<std::size_t>(joint)].limbRadius, 0, " mm"};
        return {};
    case MeasuredIn::BodyHeight:
        return {1000 * s.body.height, 0, " mm"};
    case MeasuredIn::Share:
        return {100, 0, " %"};
    case MeasuredIn::Degrees:
        return {1, 0, "°"};
    case MeasuredIn::Ratio:
    case MeasuredIn::Number:
        break;
    }
    return {};
}

} // namespace hobble
