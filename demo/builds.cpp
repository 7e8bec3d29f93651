#include "builds.h"

#include "plant/faults.h"

#include <algorithm>
#include <numeric>
#include <random>

namespace hobble::demo {

Character shuffled(const Character& character, std::uint32_t seed) {
    Character c = character;
    std::mt19937 random(seed);
    std::vector<std::uint32_t> order(c.vertexCount());
    std::iota(order.begin(), order.end(), 0u);
    for (const Part& part : c.parts) {
        std::shuffle(order.begin() + part.firstVertex, order.begin() + part.firstVertex + part.vertexCount,
                     random);
        std::shuffle(c.triangles.begin() + part.firstTriangle,
                     c.triangles.begin() + part.firstTriangle + part.triangleCount, random);
    }
    Patient p(c, seed);
    reorder(c, p.weights, order);
    p.close();
    return c;
}

Result<Character> storyBuild(const Character& clean, const Recipe& recipe) {
    Character c = clean;
    if (auto truth = plant(c, recipe); !truth)
        return Error{truth.error()};
    return recipe.name == "build-3" ? shuffled(c, recipe.seed) : c;
}

} // namespace hobble::demo
