#include "core/pose/shape_motions.h"

#include <algorithm>

namespace hobble {

namespace {

bool driven(const Character& c, int part, int target) {
    return std::any_of(c.drivers.begin(), c.drivers.end(), [&](const Driver& d) {
        return d.output == Driver::Output::Target && d.part == part && d.target == target;
    });
}

// Per joint, its weight on what a target moves.
std::vector<double> heldByJoints(const Character& c, int part, int target) {
    const Part& p = c.parts[static_cast<std::size_t>(part)];
    std::vector<double> held(c.skeleton.name.size(), 0);
    for (std::uint32_t v : p.targets[static_cast<std::size_t>(target)].vertex)
        for (std::uint32_t i = c.weights.first[p.firstVertex + v]; i < c.weights.first[p.firstVertex + v + 1];
             ++i)
            held[c.weights.joint[i]] += static_cast<double>(c.weights.weight[i]);
    return held;
}

bool shapesTheTrunk(const Character& c, const std::vector<JointRole>& roles, int part, int target) {
    const std::vector<double> held = heldByJoints(c, part, target);
    double all = 0;
    for (double x : held)
        all += x;
    int joints = 0;
    for (std::size_t j = 0; j < held.size(); ++j) {
        const Role r = roles[j].role;
        const bool trunk = r == Role::Spine || r == Role::Pelvis || r == Role::Hip || r == Role::Shoulder ||
                           r == Role::Collarbone || r == Role::Scapula;
        joints += trunk && held[j] > 0.04 * all;
    }
    return joints >= 3;
}

} // namespace

int jointOfTarget(const Character& c, int part, int target) {
    const std::vector<double> held = heldByJoints(c, part, target);
    return static_cast<int>(std::max_element(held.begin(), held.end()) - held.begin());
}

std::vector<TargetWeight> targetsCalled(const Character& c, const std::string& word) {
    std::vector<TargetWeight> out;
    for (std::size_t p = 0; p < c.parts.size(); ++p)
        for (std::size_t t = 0; t < c.parts[p].targets.size(); ++t) {
            const auto words = wordsOf(c.parts[p].targets[t].name);
            if (std::find(words.begin(), words.end(), word) != words.end())
                out.push_back({static_cast<int>(p), static_cast<int>(t), 1});
        }
    return out;
}

std::vector<Motion> shapeMotions(const Character& c, const std::vector<JointRole>& roles) {
    std::vector<Motion> out;
    if (c.skeleton.size() == 0)
        return out;
    // Targets of one name on several parts (skin, teeth, tongue) are one control.
    for (std::size_t p = 0; p < c.parts.size(); ++p)
        for (std::size_t t = 0; t < c.parts[p].targets.size(); ++t) {
            const int part = static_cast<int>(p), target = static_cast<int>(t);
            const ShapeTarget& shape = c.parts[p].targets[t];
            if (shape.vertex.empty() || driven(c, part, target))
                continue;
            std::string id = "shape-" + shape.name;
            std::replace(id.begin(), id.end(), ' ', '-');
            auto known = std::find_if(out.begin(), out.end(), [&](const Motion& m) { return m.id == id; });
            if (known == out.end()) {
                Motion m;
                m.name = shape.name;
                m.id = id;
                m.limb = Limb::Shapes;
                m.span = Span::Percent;
                m.source = "the build";
                m.steps = {0, 25, 50, 75, 100, 0};
                known = out.insert(out.end(), std::move(m));
            }
            const int joint = jointOfTarget(c, part, target);
            if (std::none_of(known->turns.begin(), known->turns.end(),
                             [&](const JointTurn& x) { return x.joint == joint; }))
                known->turns.push_back({joint, Vec3d::UnitX(), 0});
            known->targets.push_back({part, target, 0.01});
            if (shapesTheTrunk(c, roles, part, target)) {
                known->on = false;
                known->source = "a body preset";
            }
        }
    return out;
}

} // namespace hobble
