#include "core/measure/rigid_parts.h"

#include "core/measure/region.h"

#include "core/measure/strain.h"

#include <algorithm>
#include <map>
#include <set>

namespace hobble {

namespace {

bool namedRigid(const std::string& name) {
    static const std::set<std::string> words{
        "cap",     "hat",    "helmet",  "satchel", "bag",     "pack",  "pannier", "panniers", "buckle",
        "badge",   "horn",   "horns",   "tooth",   "teeth",   "eye",   "eyes",    "eyeball",  "glasses",
        "goggles", "button", "buttons", "nose",    "claw",    "claws", "hoof",    "hooves",   "nail",
        "nails",   "beak",   "shell",   "armour",  "armor",   "beard", "bell",    "lamp",     "lantern",
        "sword",   "shield", "mask",    "crown",   "earring", "box",   "bottle",  "pouch"};
    for (const std::string& w : wordsOf(name))
        if (words.count(w))
            return true;
    return false;
}

// The nearest vertices of other parts, that some joint moves, for a few of the part's own.
void anchor(const Subject& s, RigidPart& r) {
    const Character& c = *s.character;
    const Part& part = c.parts[r.part];
    // What it sits on is looked for on the largest part: the body.
    const Part* on = nullptr;
    for (const Part& o : c.parts)
        if (&o != &part && (!on || o.vertexCount > on->vertexCount))
            on = &o;
    if (!on)
        return;
    std::vector<std::pair<float, std::pair<std::uint32_t, std::uint32_t>>> found;
    const std::uint32_t step = std::max(1u, part.vertexCount / 64);
    for (std::uint32_t v = part.firstVertex; v < part.firstVertex + part.vertexCount; v += step) {
        float least = INFINITY;
        std::uint32_t best = 0;
        for (std::uint32_t o = 0; o < c.vertexCount(); ++o) {
            if (o < on->firstVertex || o >= on->firstVertex + on->vertexCount)
                continue;
            const float d = (c.neutral[o] - c.neutral[v]).squaredNorm();
            if (d < least && c.weights.first[o] != c.weights.first[o + 1]) {
                least = d;
                best = o;
            }
        }
        if (least < INFINITY)
            found.push_back({least, {s.surface.weldOf[v], s.surface.weldOf[best]}});
    }
    std::sort(found.begin(), found.end());
    // Where it touches, a dozen places spread over that.
    const float touch = found.empty() ? 0 : 2.25f * found.front().first + 1e-12f;
    std::erase_if(found, [&](const auto& f) { return f.first > touch; });
    const std::size_t stride = std::max<std::size_t>(1, found.size() / 12);
    for (std::size_t i = 0; i * stride < found.size(); ++i)
        found[i] = found[i * stride];
    found.resize((found.size() + stride - 1) / stride);
    std::map<int, double> held;
    for (const auto& [d, pair] : found) {
        r.anchors.push_back(pair);
        const SkinWeights& w = s.surface.weights;
        for (std::uint32_t i = w.first[pair.second]; i < w.first[pair.second + 1]; ++i)
            held[w.joint[i]] += w.weight[i];
    }
    double most = 0;
    for (const auto& [j, sum] : held)
        if (sum > most) {
            most = sum;
            r.joint = j;
        }
}

} // namespace

std::optional<RigidPart> rigidPart(const Subject& s, std::size_t p) {
    const Character& c = *s.character;
    const Part& part = c.parts[p];
    RigidPart r;
    r.part = static_cast<int>(p);
    r.byName = namedRigid(part.name);
    std::vector<double> held(c.skeleton.name.size(), 0);
    double total = 0;
    for (std::uint32_t i = c.weights.first[part.firstVertex];
         i < c.weights.first[part.firstVertex + part.vertexCount]; ++i) {
        held[c.weights.joint[i]] += c.weights.weight[i];
        total += c.weights.weight[i];
    }
    double most = 0;
    for (std::size_t j = 0; j < held.size(); ++j)
        if (held[j] > most) {
            most = held[j];
            r.joint = static_cast<int>(j);
        }
    r.bound = total > 0.01 * part.vertexCount;
    if (r.bound && !r.byName && most < 0.97 * total)
        return std::nullopt;
    if (r.bound && c.skeleton.size() > 0 && part.vertexCount == c.vertexCount())
        return std::nullopt; // the whole character on one joint is no accessory
    const std::vector<std::uint32_t>& file = s.surface.fileTriangle;
    const auto begin = std::lower_bound(file.begin(), file.end(), part.firstTriangle),
               end = std::lower_bound(begin, file.end(), part.firstTriangle + part.triangleCount);
    for (auto t = begin; t != end; ++t)
        r.triangles.push_back(static_cast<std::uint32_t>(t - file.begin()));
    if (!r.bound && c.skeleton.size() > 0)
        anchor(s, r);
    if (!r.bound && r.anchors.empty())
        return std::nullopt;
    return r;
}

std::vector<RigidPart> rigidParts(const Subject& s) {
    std::vector<RigidPart> out;
    for (std::size_t p = 0; p < s.character->parts.size(); ++p)
        if (auto part = rigidPart(s, p))
            out.push_back(std::move(*part));
    return out;
}

double softness(const Subject& s, const RigidPart& part, const std::vector<Vec3>& posed) {
    std::vector<std::pair<float, float>> items;
    for (std::uint32_t t : part.triangles) {
        const auto& [a, b, c] = s.surface.triangles[t];
        const Strain x = strainOf(s.rest[t], posed[a], posed[b], posed[c]);
        items.emplace_back(-std::max(std::abs(x.stretch - 1), std::abs(1 - x.squash)), s.surface.area[t]);
    }
    return items.empty() ? 0 : -weightedQuantile(std::move(items), 0.05);
}

double drift(const Subject& s, const RigidPart& part, const std::vector<Vec3>& posed) {
    std::vector<double> away;
    for (const auto& [own, other] : part.anchors)
        away.push_back(((posed[own] - posed[other]) - (s.neutral[own] - s.neutral[other])).norm());
    if (away.empty())
        return 0;
    std::nth_element(away.begin(), away.begin() + static_cast<std::ptrdiff_t>(away.size() * 3 / 4),
                     away.end());
    return away[away.size() * 3 / 4];
}

} // namespace hobble
