#pragma once
// The same character otherwise dressed or shaped: garment parts taken off, shape targets set as a body
// preset, drivers switched off for comparison. A variant is a character of its own that is tested with the
// same plan; its vertices keep their numbers.
#include "core/character/character.h"

namespace hobble {

struct Variant {
    struct Shape {
        std::string part, target;
        double weight = 0;
        bool operator==(const Shape&) const = default;
    };
    std::string name;                    // "without coat"
    std::vector<std::string> partsOff;   // by name
    std::vector<Shape> shapes;           // on top of the file's default state
    bool drivers = true;                 // false: nothing follows by itself
    std::vector<std::string> driversOff; // single ones, by name

    bool changesNothing() const {
        return partsOff.empty() && shapes.empty() && drivers && driversOff.empty();
    }
    bool operator==(const Variant&) const = default;
};

/// Parts that are off keep their vertices and lose their triangles. The hash tells the variant apart from the
/// build. What the character does not have is passed over, with a note.
Character varied(const Character& character, const Variant& variant);

} // namespace hobble
