// A roll that one joint takes whole shared out along its limb: joints in even steps, each making the roll's
// share of where it stands, and the skin of the bone between them by where it lies. Of a wrist or an ankle
// that is the bone above it, of a limb's first joint its own, which then is held back. Our own.
#include "core/character/added_joint.h"
#include "core/character/body.h"
#include "core/mend/step.h"
#include "core/words/say.h"

#include <algorithm>
#include <cmath>

namespace hobble {

namespace {

Driver following(const Character& c, int source, int joint, const Vec3d& axis, double share) {
    Driver d;
    d.name = c.skeleton.name[static_cast<std::size_t>(joint)];
    d.source = source;
    d.joint = joint;
    d.about =
        (rotationOf(c.skeleton.neutralWorld[static_cast<std::size_t>(source)]).inverse() * axis).normalized();
    d.along =
        (rotationOf(c.skeleton.neutralWorld[static_cast<std::size_t>(joint)]).inverse() * axis).normalized();
    d.keys = {{-180, -180 * share}, {180, 180 * share}};
    return d;
}

} // namespace

Result<Done> shareTwist(const Step& step, const BuildContext& context, Character& c, Shares& shares) {
    const int count = step.count;
    if (count < 1 || count > 8)
        return Error{say("a roll is shared by one joint to eight")};
    const auto joint = static_cast<std::size_t>(context.joint);
    if (joint >= context.subject.roles.size())
        return Error{say("%s was added by this trial", step.joint)};
    const Role role = context.subject.roles[joint].role;
    const bool ownBone = role == Role::Shoulder || role == Role::Hip;
    const int held = // whose bone, and whose skin
        ownBone ? context.joint : holderAbove(c.skeleton, context.subject.held, context.joint);
    if (held < 0)
        return Error{say("%s hangs from nothing that could share its roll", step.joint)};
    Vec3d from = c.skeleton.place(held), to = c.skeleton.place(context.joint);
    if (ownBone) {
        double far = 0;
        const auto children = c.skeleton.children();
        to = from;
        for (int child : children[joint])
            if (const double d = (c.skeleton.place(child) - from).norm();
                d > far && static_cast<std::size_t>(child) < context.subject.roles.size() &&
                context.subject.roles[static_cast<std::size_t>(child)].role != Role::Helper) {
                far = d;
                to = c.skeleton.place(child);
            }
    }
    const double length = (to - from).norm();
    if (length < 1e-6)
        return Error{say("there is no bone along which the roll of %s could be shared", step.joint)};
    const Vec3d axis = (to - from) / length;
    for (const Driver& d : c.drivers) {
        if (d.output != Driver::Output::Turn || d.source != context.joint)
            continue;
        const auto j = static_cast<std::size_t>(d.joint);
        if (c.skeleton.parent[j] == held &&
            std::abs((rotationOf(c.skeleton.neutralWorld[j]) * d.along).dot(axis)) > 0.9)
            return Error{say("joints that twist with %s are there already", step.joint)};
    }
    // Joints by where they stand along the bone, 0 … 1. Of the bone above, what stays begins it; of its own,
    // what turns with it ends it.
    std::vector<std::pair<double, int>> stand;
    if (!ownBone)
        stand.emplace_back(0, held);
    for (int k = 0; k < count; ++k) {
        const double at = ownBone ? static_cast<double>(k) / count : static_cast<double>(k + 1) / (count + 1);
        Transform world = c.skeleton.neutralWorld[static_cast<std::size_t>(held)];
        world.linear() = rotationOf(world).toRotationMatrix();
        world.translation() = from + at * (to - from);
        const std::string name = nameBeside(c.skeleton, c.skeleton.name[static_cast<std::size_t>(held)],
                                            "twist " + std::to_string(k + 1));
        const int twist = addJoint(c, name, held, world);
        c.drivers.push_back(following(c, context.joint, twist, axis, ownBone ? at - 1 : at));
        stand.emplace_back(at, twist);
    }
    if (ownBone)
        stand.emplace_back(1, held);
    const Shares before = shares;
    bool any = false;
    for (std::uint32_t v = 0; v < shares.size(); ++v) {
        ShareRow row = before.at(v);
        const double share = shareOf(row, held);
        if (share <= 0)
            continue;
        const double at =
            std::clamp((context.subject.neutral[v].cast<double>() - from).dot(axis) / length, 0.0, 1.0);
        auto next = std::find_if(stand.begin(), stand.end(), [&](const auto& s) { return s.first >= at; });
        std::vector<std::pair<int, double>> takes;
        if (next == stand.end()) {
            takes = {{stand.back().second, 1.0}};
        } else if (next == stand.begin()) {
            takes = {{next->second, 1.0}};
        } else {
            const auto& [before0, first] = *(next - 1);
            const double t = (at - before0) / std::max(next->first - before0, 1e-9);
            takes = {{first, 1 - t}, {next->second, t}};
        }
        std::erase_if(row, [&](const Share& s) { return s.joint == held; });
        for (const auto& [j, by] : takes)
            if (by > 0)
                row.push_back({static_cast<std::uint16_t>(j), share * by});
        row = tidied(std::move(row));
        any |= !(row == before.at(v));
        shares.want(v, mixed(before.at(v), row, step.strength));
    }
    return any ? Result<Done>(Done{})
               : Result<Done>(Error{say("no skin along the bone above %s goes with it", step.joint)});
}

} // namespace hobble
