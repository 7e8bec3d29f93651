// Lids and lips: a lid whose rim stays with the head, that turns beside the eye's middle, a shape that falls
// short or that goes straight where it should go round.
#include "core/judge/causes/case.h"

#include <algorithm>

namespace hobble {

namespace {

const FaceOpening* openingOf(const Case& c) {
    const FaceOpening* best = nullptr;
    for (const FaceOpening& o : *c.subject.openings)
        if (o.joint == c.finding.joint && std::any_of(o.vertices.begin(), o.vertices.end(),
                                                      [&](std::uint32_t v) { return c.marked.count(v) > 0; }))
            best = &o;
    return best;
}

// Joints that turn the lids of an eye.
std::vector<int> lidsOf(const Case& c, const FaceOpening& o) {
    std::vector<int> out;
    for (int j = 0; j < c.skeleton().size(); ++j) {
        const JointRole& r = c.subject.roles[static_cast<std::size_t>(j)];
        const bool here = o.side == Side::Middle || r.side == Side::Middle || r.side == o.side;
        if (r.role == Role::Lid && r.movesSkin && here &&
            (c.skeleton().place(j) - o.middle.cast<double>()).norm() < 3 * o.radius)
            out.push_back(j);
    }
    return out;
}

// How far a lid's axis passes the middle of the eye, radii.
double offEye(const Case& c, const FaceOpening& o, int lid) {
    Vec3d off = c.skeleton().place(lid) - o.middle.cast<double>();
    for (const JointTurn& t : c.motion.turns)
        if (t.joint == lid && t.share != 0) {
            const Vec3d axis = rotationOf(c.skeleton().neutralWorld[static_cast<std::size_t>(lid)]) * t.axis;
            off -= off.dot(axis) * axis;
            break;
        }
    return off.norm() / o.radius;
}

struct HeldBack {
    double share = 0; // of its rim, that is not the lid's
    int holder = -1;
};

// The rim: what of the skin that a lid moves turns farthest. Against the mirror's where there is one.
HeldBack heldBack(const Case& c, const FaceOpening& o, int lid) {
    constexpr float theLids = 0.15f;
    constexpr double near = 1.5; // radii: the lid, and not the brow
    const SkinWeights& w = c.subject.surface.weights;
    const int mirror = c.subject.roles[static_cast<std::size_t>(lid)].mirror;
    const auto shareOf = [&](std::uint32_t v, int joint) {
        for (std::uint32_t i = w.first[v]; i < w.first[v + 1]; ++i)
            if (w.joint[i] == joint)
                return w.weight[i];
        return 0.f;
    };
    std::vector<std::uint32_t> own;
    float most = 0;
    for (std::uint32_t v : o.around)
        if (const float share = shareOf(v, lid); share > theLids && (c.subject.neutral[v] - o.middle).norm() <
                                                                        near * static_cast<float>(o.radius)) {
            own.push_back(v);
            most = std::max(most, share);
        }
    HeldBack out;
    if (own.size() < 3)
        return out;
    const auto& twin = c.context.twins.twin;
    double missing = 0, count = 0;
    std::map<int, double> holders;
    for (std::uint32_t v : own) {
        const float share = shareOf(v, lid);
        double lacks = 0;
        if (mirror >= 0 && mirror != lid && !twin.empty() && twin[v] != MirrorTwins::kNone)
            lacks = std::max(0.f, shareOf(twin[v], mirror) - share);
        else if (share >= 0.8f * most) // its rim, by its own standard
            lacks = 1 - share;
        else
            continue;
        missing += lacks;
        ++count;
        for (std::uint32_t i = w.first[v]; i < w.first[v + 1]; ++i)
            if (w.joint[i] != lid)
                holders[w.joint[i]] += lacks * static_cast<double>(w.weight[i]);
    }
    if (count == 0 || holders.empty())
        return out;
    out.share = missing / count;
    out.holder = std::max_element(holders.begin(), holders.end(), [](const auto& a, const auto& b) {
                     return a.second < b.second;
                 })->first;
    return out;
}

} // namespace

void askFace(const Case& c, Causes& found) {
    constexpr double offMiddle = 0.25, held = 0.12; // radii; share of the rim
    const Kind kind = c.finding.kind;
    if (kind != Kind::NotClosed && kind != Kind::ThroughLid)
        return;
    const FaceOpening* o = openingOf(c);
    if (!o)
        return;
    const bool byShape = !c.motion.targets.empty();
    if (o->closedBy == Closes::Eyes && !byShape) {
        for (int lid : lidsOf(c, *o)) {
            if (const double off = offEye(c, *o, lid); off > offMiddle)
                found.push_back({CauseKind::PivotOrAxis, 0.97, fact::TurnsBesideEye{lid, off}});
            if (const HeldBack h = heldBack(c, *o, lid); h.share > held)
                found.push_back({CauseKind::LidHeldBack, std::min(0.98, 0.9 + h.share / 4),
                                 fact::RimHeldBack{lid, h.holder, h.share}});
        }
        return;
    }
    if (!byShape)
        return;
    // Of a shape that ends well and goes wrong on its way there: it goes straight.
    const bool onTheWay = c.finding.peak < c.motion.limit();
    found.push_back({CauseKind::ShapeWrong, kind == Kind::NotClosed ? 0.95 : 0.9,
                     fact::ShapeGoes{c.part(), kind == Kind::NotClosed, onTheWay, c.finding.peakValue}});
}

} // namespace hobble
