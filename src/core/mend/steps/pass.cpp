// Skin passes from what stays to what follows a joint, smoothly, over so many limb radii along the limb. What
// either side of it is held by stays as it stands to each other; where one side has nobody yet, it is the
// joint itself, or its parent. Our own: where a blend is too hard, or the joint above holds skin of the limb
// below, there is nothing to soften and nothing to make wider.
#include "core/mend/step.h"
#include "core/words/say.h"

#include <algorithm>

namespace hobble {

double passedAt(double limbRadii, double width, double middle) {
    const double t = std::clamp((limbRadii - middle) / width + 0.5, 0.0, 1.0);
    return t * t * (3 - 2 * t);
}

Result<Done> pass(const Step& step, const StepContext& c, Shares& shares) {
    if (!(step.amount > 0))
        return Error{say("it passes over more than nothing")};
    const Skeleton& skeleton = c.subject.character->skeleton;
    const auto joint = static_cast<std::size_t>(c.joint);
    const JointZone& zone = c.subject.zones[joint];
    const int parent = holderAbove(skeleton, c.subject.held, c.joint);
    if (zone.empty() || zone.limbRadius <= 0)
        return Error{say("no skin blends at %s", step.joint)};
    if (parent < 0)
        return Error{say("%s hangs from nothing the skin could pass from", step.joint)};
    const std::vector<char> below = c.skeleton->subtree(c.joint); // skin may be held by what was added, too
    const Vec3d at = skeleton.neutralWorld[joint].translation();
    for (const Amount& a : c.where) {
        const ShareRow row = shares.at(a.vertex);
        ShareRow follows, stays;
        for (const Share& s : row)
            (below[s.joint] ? follows : stays).push_back(s);
        if (follows.empty())
            follows.push_back({static_cast<std::uint16_t>(c.joint), 1});
        if (stays.empty())
            stays.push_back({static_cast<std::uint16_t>(parent), 1});
        const double along = (c.subject.neutral[a.vertex].cast<double>() - at).dot(zone.axis);
        follows = tidied(std::move(follows));
        stays = tidied(std::move(stays));
        const ShareRow wanted =
            mixed(stays, follows, passedAt(along / zone.limbRadius, step.amount, step.middle));
        shares.want(a.vertex, mixed(row, wanted, a.by));
    }
    return Done{};
}

} // namespace hobble
