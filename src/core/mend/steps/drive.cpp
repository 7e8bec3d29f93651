// What follows by itself changed: a kick spread over an angle, what follows a joint scaled, a joint made to
// follow as its mirror does (mirrored: a turn goes about the mirrored axis the other way round, a shift along
// it).
#include "core/mend/step.h"
#include "core/words/say.h"

#include <algorithm>
#include <cmath>

namespace hobble {

namespace {

bool ofJoint(const Step& step, const Driver& d, int joint) {
    return step.name.empty() ? d.source == joint || (d.output != Driver::Output::Target && d.joint == joint)
                             : d.name == step.name;
}

// The steepest way between two keys is made as long as asked for; the others go where there is room.
bool ease(Driver& d, double degrees) {
    if (d.keys.size() < 2)
        return false;
    std::size_t steepest = 0;
    double most = 0;
    for (std::size_t i = 0; i + 1 < d.keys.size(); ++i) {
        const double slope = std::abs(d.keys[i + 1].out - d.keys[i].out) /
                             std::max(d.keys[i + 1].degrees - d.keys[i].degrees, 1e-6);
        if (slope > most) {
            most = slope;
            steepest = i;
        }
    }
    const double was = d.keys[steepest + 1].degrees - d.keys[steepest].degrees;
    if (most == 0 || was >= degrees)
        return false;
    // It ends where it did; what was passed at once begins earlier, though never before neutral.
    const double end = d.keys[steepest + 1].degrees;
    double begin = end > 0 ? std::max(end - degrees, 0.0) : end - degrees;
    if (steepest > 0)
        begin = std::max(begin, d.keys[steepest - 1].degrees + 1e-3);
    d.keys[steepest].degrees = std::min(begin, d.keys[steepest].degrees);
    double least = d.keys[steepest].degrees + degrees;
    for (std::size_t i = steepest + 1; i < d.keys.size(); ++i) {
        d.keys[i].degrees = std::max(d.keys[i].degrees, least);
        least = d.keys[i].degrees + 1e-3;
    }
    return true;
}

Result<Done> asOtherSide(const Step& step, const BuildContext& context, Character& c) {
    const Subject& s = context.subject;
    const auto joint = static_cast<std::size_t>(context.joint);
    if (!s.mirror.found || joint >= s.roles.size() || s.roles[joint].mirror < 0)
        return Error{say("%s has no other side", step.joint)};
    const int other = s.roles[joint].mirror;
    const auto mirrorOf = [&](int j) {
        return j >= 0 && static_cast<std::size_t>(j) < s.roles.size() &&
                       s.roles[static_cast<std::size_t>(j)].mirror >= 0
                   ? s.roles[static_cast<std::size_t>(j)].mirror
                   : j;
    };
    const auto turned = [&](const Vec3d& own, int from, int to, bool asAxis) -> Vec3d {
        const Vec3d world = rotationOf(c.skeleton.neutralWorld[static_cast<std::size_t>(from)]) * own;
        Vec3d there = s.mirror.mirrored(world) - s.mirror.mirrored(Vec3d::Zero());
        if (asAxis)
            there = -there;
        return rotationOf(c.skeleton.neutralWorld[static_cast<std::size_t>(to)]).inverse() * there;
    };
    std::vector<Driver> fresh;
    for (const Driver& d : c.drivers) {
        if (d.output == Driver::Output::Target || (d.joint != other && d.source != other))
            continue;
        if (!d.poses.empty())
            return Error{say("what follows several poses is not mirrored")};
        Driver m = d;
        m.source = mirrorOf(d.source);
        m.joint = mirrorOf(d.joint);
        m.about = turned(d.about, d.source, m.source, true);
        m.along = turned(d.along, d.joint, m.joint, d.output == Driver::Output::Turn);
        m.name = c.skeleton.name[static_cast<std::size_t>(m.joint)] + " as its other side";
        if (m.joint != d.joint)
            fresh.push_back(std::move(m));
    }
    if (fresh.empty())
        return Error{say("nothing follows on the other side either")};
    for (Driver& m : fresh) {
        const auto same = std::find_if(c.drivers.begin(), c.drivers.end(), [&](const Driver& d) {
            return d.output == m.output && d.joint == m.joint;
        });
        if (same != c.drivers.end()) {
            m.name = same->name;
            *same = std::move(m);
        } else {
            c.drivers.push_back(std::move(m));
        }
    }
    if (const auto circle = orderDrivers(c.drivers); !circle.empty())
        return Error{say("\"%s\" would wait for itself in a circle", circle.front())};
    return Done{};
}

} // namespace

Result<Done> driveOtherwise(const Step& step, const BuildContext& context, Character& c) {
    if (step.driveBy == DriveBy::AsOtherSide)
        return asOtherSide(step, context, c);
    bool there = false, changed = false;
    for (Driver& d : c.drivers) {
        if (!ofJoint(step, d, context.joint))
            continue;
        there = true;
        if (step.driveBy == DriveBy::Ease) {
            changed |= ease(d, step.amount);
        } else {
            for (DriverKey& k : d.keys)
                k.out *= step.amount;
            for (DriverPose& p : d.poses)
                p.out *= step.amount;
            if (!d.poses.empty())
                preparePoses(d);
            changed |= step.amount != 1;
        }
    }
    if (!there)
        return Error{step.name.empty() ? say("nothing follows %s", step.joint)
                                       : say("nothing is called \"%s\" among what follows", step.name)};
    return changed ? Result<Done>(Done{}) : Result<Done>(Error{say("it goes over as much already")});
}

} // namespace hobble
