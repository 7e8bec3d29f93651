#include "core/character/variant.h"

#include "core/deform/deformer.h"

#include <algorithm>

namespace hobble {

namespace {

bool has(const std::vector<std::string>& list, const std::string& name) {
    return std::find(list.begin(), list.end(), name) != list.end();
}

} // namespace

Character varied(const Character& original, const Variant& v) {
    Character c = original;
    if (v.changesNothing())
        return c;
    std::string key;
    if (!v.partsOff.empty()) {
        std::vector<Triangle> kept;
        for (Part& p : c.parts) {
            const auto first = static_cast<std::uint32_t>(kept.size());
            const bool off = has(v.partsOff, p.name);
            if (off)
                key += "-part " + p.name + "\n";
            else
                kept.insert(kept.end(), c.triangles.begin() + p.firstTriangle,
                            c.triangles.begin() + p.firstTriangle + p.triangleCount);
            p.firstTriangle = first;
            p.triangleCount = static_cast<std::uint32_t>(kept.size()) - first;
        }
        c.triangles = std::move(kept);
        for (const std::string& name : v.partsOff)
            if (std::none_of(c.parts.begin(), c.parts.end(), [&](const Part& p) { return p.name == name; }))
                c.notes.push_back("The variant leaves out the part '" + name + "', which is not there.");
    }
    bool shaped = false;
    for (const Variant::Shape& s : v.shapes) {
        bool found = false;
        for (Part& p : c.parts)
            for (const ShapeTarget& t : p.targets)
                if (p.name == s.part && t.name == s.target) {
                    for (std::size_t i = 0; i < t.vertex.size(); ++i)
                        c.bindPosition[p.firstVertex + t.vertex[i]] +=
                            static_cast<float>(s.weight) * t.delta[i];
                    found = shaped = true;
                    key += "shape " + s.part + "/" + s.target + " " + std::to_string(s.weight) + "\n";
                }
        if (!found)
            c.notes.push_back("The variant sets the shape '" + s.target + "' of '" + s.part +
                              "', which is not there.");
    }
    if (shaped)
        c.neutral = neutralPositions(c);
    const auto left = [&](const Driver& d) { return !v.drivers || has(v.driversOff, d.name); };
    for (const Driver& d : c.drivers)
        if (left(d))
            key += "-driver " + d.name + "\n";
    c.drivers.erase(std::remove_if(c.drivers.begin(), c.drivers.end(), left), c.drivers.end());
    if (!key.empty()) {
        std::uint64_t sum =
            14695981039346656037u; // Fowler, Noll, Vo: enough to tell variants of one build apart
        for (const char ch : key)
            sum = (sum ^ static_cast<unsigned char>(ch)) * 1099511628211u;
        char word[24];
        std::snprintf(word, sizeof word, "-%016llx", static_cast<unsigned long long>(sum));
        c.hash += word;
    }
    return c;
}

} // namespace hobble
