// A joint that helps another: it makes a share of its turn (half of an elbow's keeps the girth that a linear
// blend loses), or goes out of the limb as the joint bends, and takes the skin around it. Named as its
// neighbours are.
#include "core/character/added_joint.h"
#include "core/mend/step.h"
#include "core/words/say.h"

#include <algorithm>
#include <cmath>

namespace hobble {

Result<Done> addHelper(const Step& step, const BuildContext& context, Character& c, Shares& shares) {
    const auto watched = static_cast<std::size_t>(context.joint);
    const int parent = context.to >= 0 ? context.to : c.skeleton.parent[watched];
    if (!step.at.allFinite())
        return Error{say("the joint stands nowhere")};
    if (!(step.axis.norm() > 0.5))
        return Error{say("it is not said what %s turns about", step.joint)};
    if (step.helpBy == HelpBy::Shift && (step.move.norm() < 0.5 || std::abs(step.degrees) < 1))
        return Error{say("it is not said which way the joint goes, and by which angle")};
    if (context.where.empty())
        return Error{say("there is no skin at this place")};
    if (!step.name.empty() && c.skeleton.find(step.name) >= 0)
        return Error{say("there is a joint called %s already", step.name)};
    const std::string name = step.name.empty() ? nameBeside(c.skeleton, step.joint, "helper") : step.name;
    Transform world = c.skeleton.neutralWorld[watched];
    world.linear() = rotationOf(world).toRotationMatrix();
    world.translation() = step.at;
    const int helper = addJoint(c, name, parent, world);
    const Eigen::Matrix3d own = world.linear().transpose();
    Driver d;
    d.name = name;
    d.source = context.joint;
    d.about = (rotationOf(c.skeleton.neutralWorld[watched]).inverse() * step.axis).normalized();
    d.joint = helper;
    if (step.helpBy == HelpBy::Turn) {
        d.output = Driver::Output::Turn;
        d.along = (own * step.axis).normalized();
        d.keys = {{-180, -180 * step.amount}, {180, 180 * step.amount}};
    } else {
        d.output = Driver::Output::Shift;
        d.along = (own * step.move).normalized();
        d.keys = {{step.from, 0}, {step.degrees, step.amount}};
        std::sort(d.keys.begin(), d.keys.end(),
                  [](const DriverKey& a, const DriverKey& b) { return a.degrees < b.degrees; });
    }
    c.drivers.push_back(std::move(d));
    const Shares before = shares;
    const ShareRow all{{static_cast<std::uint16_t>(helper), 1}};
    for (const Amount& a : context.where)
        shares.want(a.vertex, mixed(before.at(a.vertex), all, std::min(a.by, 1.0)));
    return Done{};
}

} // namespace hobble
