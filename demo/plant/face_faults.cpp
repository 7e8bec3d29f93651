// Faults of a face: a lid that stays with the head, one that turns beside the eye, a blink that falls short,
// a mouth's shape that goes through the teeth.
#include "core/measure/face_openings.h"
#include "core/measure/subject.h"
#include "faults.h"

#include <algorithm>

namespace hobble::demo {

namespace {

int lidOf(Patient& p, const Fault& f) {
    if (!f.joint.empty())
        return p.joint(f.joint);
    std::vector<int> upper;
    for (std::size_t j = 0; j < p.roles.size(); ++j)
        if (p.roles[j].role == Role::Lid && p.roles[j].movesSkin &&
            p.name(static_cast<int>(j)).find("lower") == std::string::npos)
            upper.push_back(static_cast<int>(j));
    if (upper.empty())
        throw Unsuited{"it has no lids that turn"};
    return p.pick(upper);
}

// What lies in the openings of the face as it is built.
FaceOpening openingBy(Patient& p, Closes what, int joint) {
    const Subject s = prepareSubject(std::make_shared<const Character>(p.c));
    const FaceOpening* best = nullptr;
    for (const FaceOpening& o : *s.openings)
        if (o.closedBy == what && (joint < 0 || p.roles[joint].side == o.side))
            best = &o;
    if (!best)
        throw Unsuited{what == Closes::Eyes ? "it has no eyes between lids" : "it has no teeth behind lips"};
    return *best;
}

void alsoAtTheEye(Patient& p, Truth& t, int lid) {
    for (std::size_t j = 0; j < p.roles.size(); ++j)
        if (static_cast<int>(j) != lid && p.roles[j].side == p.roles[lid].side &&
            (p.roles[j].role == Role::Lid || p.roles[j].role == Role::Eye))
            t.joints.push_back(p.name(static_cast<int>(j)));
}

// Shapes by name, over all parts, that a rule takes.
template <class Suits> std::vector<std::string> shapesWhere(const Patient& p, const Suits& suits) {
    std::vector<std::string> out;
    for (const Part& part : p.c.parts)
        for (const ShapeTarget& t : part.targets)
            if (suits(part, t) && std::find(out.begin(), out.end(), t.name) == out.end())
                out.push_back(t.name);
    return out;
}

} // namespace

Truth plantLidHeldBack(Patient& p, const Fault& f) {
    const int lid = lidOf(p, f), head = p.c.skeleton.parent[lid];
    const double keeps = 0.75 - 0.4 * f.strength;
    Truth t = p.truth(f, lid);
    t.kinds = {"not closed", "through lid or lip", "one-sided", "lag"};
    t.cause = "lid held back";
    t.unit = "weight";
    alsoAtTheEye(p, t, lid);
    for (std::uint32_t v = 0; v < p.weights.size(); ++v)
        if (const double share = p.share(v, lid); share > 0.05) {
            bool heads = false;
            for (auto& [joint, weight] : p.weights[v]) {
                if (joint == lid)
                    weight *= keeps;
                if (joint == head)
                    weight += share * (1 - keeps);
                heads |= joint == head;
            }
            if (!heads)
                p.weights[v].emplace_back(head, share * (1 - keeps));
            t.size = std::max(t.size, share * (1 - keeps));
            p.touch(t, v);
        }
    return t;
}

Truth plantLidPivot(Patient& p, const Fault& f) {
    const int lid = lidOf(p, f);
    const FaceOpening eye = openingBy(p, Closes::Eyes, lid);
    const double far = (0.45 + 0.5 * f.strength) * eye.radius;
    Truth t = p.truth(f, lid);
    t.kinds = {"not closed", "through lid or lip", "one-sided", "contact", "stretch"};
    t.cause = "pivot or axis wrong";
    t.unit = "metres";
    t.size = far;
    alsoAtTheEye(p, t, lid);
    Vec3d out = Vec3d::Zero(); // from the eye towards its lid: there and back
    for (std::uint32_t v = 0; v < p.weights.size(); ++v)
        if (p.share(v, lid) > 0.5)
            out += p.c.neutral[v].cast<double>() - p.place(lid);
    p.c.skeleton.neutralWorld[lid].translation() += (p.chance() < 0.5 ? -far : far) * out.normalized();
    rebind(p.c);
    for (std::uint32_t v = 0; v < p.weights.size(); ++v)
        if (p.share(v, lid) > 0.3)
            p.touch(t, v);
    return t;
}

Truth plantShortBlink(Patient& p, const Fault& f) {
    const auto names = shapesWhere(p, [](const Part&, const ShapeTarget& t) {
        Motion m;
        m.span = Span::Percent;
        m.name = t.name;
        return closingOf(m).what == Closes::Eyes;
    });
    if (names.empty())
        throw Unsuited{"it has no shape that closes the eyes"};
    const FaceOpening eye = openingBy(p, Closes::Eyes, -1);
    Truth t = p.truth(f, eye.joint);
    t.kinds = {"not closed", "one-sided"};
    t.cause = "shape wrong";
    t.unit = "metres";
    alsoAtTheEye(p, t, eye.joint);
    const double keeps = 0.85 - 0.5 * f.strength;
    const double side = eye.side == Side::Right ? -1 : 1;
    for (Part& part : p.c.parts)
        for (ShapeTarget& shape : part.targets)
            if (shape.name == names.front())
                for (std::size_t i = 0; i < shape.vertex.size(); ++i) {
                    const std::uint32_t v = part.firstVertex + shape.vertex[i];
                    if (side * static_cast<double>(p.c.neutral[v].x()) <= 0)
                        continue;
                    t.size = std::max(t.size, (1 - keeps) * static_cast<double>(shape.delta[i].norm()));
                    shape.delta[i] *= static_cast<float>(keeps);
                    p.touch(t, v);
                }
    return t;
}

Truth plantThroughTeeth(Patient& p, const Fault& f) {
    const FaceOpening teeth = openingBy(p, Closes::Mouth, -1);
    std::vector<char> lips(p.roles.size(), 0);
    for (std::size_t j = 0; j < p.roles.size(); ++j)
        lips[j] = p.roles[j].role == Role::Lip && p.roles[j].movesSkin;
    const auto ofLips = [&](std::uint32_t v) { return p.shareBelow(v, lips) > 0.2; };
    const auto names = shapesWhere(p, [&](const Part& part, const ShapeTarget& t) {
        return std::count_if(t.vertex.begin(), t.vertex.end(),
                             [&](std::uint32_t v) { return ofLips(part.firstVertex + v); }) > 20;
    });
    if (names.empty())
        throw Unsuited{"it has no shape of the mouth"};
    const std::string name = names[static_cast<std::size_t>(p.chance() * static_cast<double>(names.size()))];
    Truth t = p.truth(f, teeth.joint);
    t.kinds = {"through lid or lip", "contact", "squash", "stretch", "roughness", "flip"};
    t.cause = "shape wrong";
    t.unit = "metres";
    for (std::size_t j = 0; j < lips.size(); ++j)
        if (lips[j] || p.roles[j].role == Role::Jaw || p.roles[j].role == Role::Head)
            t.joints.push_back(p.name(static_cast<int>(j)));
    const double deep = (0.25 + 0.35 * f.strength) * teeth.radius;
    for (Part& part : p.c.parts)
        for (ShapeTarget& shape : part.targets) {
            if (shape.name != name)
                continue;
            for (std::size_t i = 0; i < shape.vertex.size(); ++i) {
                const std::uint32_t v = part.firstVertex + shape.vertex[i];
                const double share = p.shareBelow(v, lips);
                if (share < 0.05)
                    continue;
                const Vec3 in = (teeth.middle - p.c.neutral[v]).normalized();
                const double by = deep * std::min(1.0, 1.3 * share);
                shape.delta[i] += static_cast<float>(by) * in;
                t.size = std::max(t.size, by);
                p.touch(t, v);
            }
        }
    return t;
}

} // namespace hobble::demo
