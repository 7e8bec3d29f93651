#include "core/judge/measure_unit.h"

#include "core/measure/subject.h"

namespace hobble {

MeasureUnit unitOf(Kind kind, const Subject& s, int joint) {
    switch (kind) {
    case Kind::Contact: // in limb radii
        if (joint >= 0 && s.zones[static_cast<std::size_t>(joint)].limbRadius > 0)
            return {1000 * s.zones[static_cast<std::size_t>(joint)].limbRadius, 0, " mm"};
        return {};
    case Kind::PokeThrough: // in body heights
    case Kind::Gap:
    case Kind::Leak:
    case Kind::Pop:
    case Kind::UnboundPart:
        return {1000 * s.body.height, 0, " mm"};
    case Kind::Flip:
    case Kind::SoftRigidPart:
        return {100, 0, " %"};
    case Kind::WrongBend:
        return {1, 0, "°"};
    default:
        return {};
    }
}

} // namespace hobble
