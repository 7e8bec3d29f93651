#include "core/mend/touched.h"

#include "core/deform/detail_smoothing.h"
#include "core/measure/region.h"
#include "core/measure/reweight.h"

#include <algorithm>
#include <cmath>

namespace hobble {

namespace {

bool sameShape(const Character& a, int part, int target, const Character& b) {
    const auto p = static_cast<std::size_t>(part), t = static_cast<std::size_t>(target);
    if (a.parts.sharesWith(b.parts))
        return true;
    if (p >= b.parts.size() || t >= b.parts[p].targets.size())
        return false;
    const ShapeTarget &x = a.parts[p].targets[t], &y = b.parts[p].targets[t];
    return x.vertex == y.vertex && x.delta == y.delta;
}

bool alike(const Character& a, const Driver& x, const Character& b, const Driver& y) {
    const auto sameKey = [](const DriverKey& m, const DriverKey& n) {
        return m.degrees == n.degrees && m.out == n.out;
    };
    const auto samePose = [](const DriverPose& m, const DriverPose& n) {
        return m.turn.coeffs() == n.turn.coeffs() && m.out == n.out;
    };
    return x.source == y.source && x.output == y.output && x.joint == y.joint && x.part == y.part &&
           x.target == y.target && x.about == y.about && x.along == y.along &&
           std::equal(x.keys.begin(), x.keys.end(), y.keys.begin(), y.keys.end(), sameKey) &&
           std::equal(x.poses.begin(), x.poses.end(), y.poses.begin(), y.poses.end(), samePose) &&
           (x.output != Driver::Output::Target || sameShape(a, x.part, x.target, b));
}

// Per joint, whether some skin goes with it, and with all below it, by another share than before.
std::vector<char> touchedJoints(const Subject& before, const Subject& after) {
    const Skeleton& skeleton = after.character->skeleton; // joints that were added stand behind the others
    const auto count = static_cast<std::size_t>(skeleton.size());
    const auto known = static_cast<std::size_t>(before.character->skeleton.size());
    const SkinWeights &was = before.surface.weights, &is = after.surface.weights;
    std::vector<char> out(count, 0);
    std::vector<double> by(count, 0);
    std::vector<std::size_t> on;
    constexpr double same = 1e-6; // what rounding leaves of a share
    for (std::uint32_t v : changedVertices(was, is)) {
        on.clear();
        const auto add = [&](const SkinWeights& w, double sign) {
            for (std::uint32_t i = w.first[v]; i < w.first[v + 1]; ++i)
                for (int j = w.joint[i]; j >= 0; j = skeleton.parent[static_cast<std::size_t>(j)]) {
                    by[static_cast<std::size_t>(j)] += sign * static_cast<double>(w.weight[i]);
                    on.push_back(static_cast<std::size_t>(j));
                }
        };
        add(was, -1);
        add(is, 1);
        for (std::size_t j : on) {
            out[j] |= std::abs(by[j]) > same;
            by[j] = 0;
        }
    }
    // a joint that stands or turns otherwise, and those that a limb is measured between with it
    for (std::size_t j = 0; j < known; ++j)
        if (before.character->skeleton.neutralWorld[j].matrix() !=
            after.character->skeleton.neutralWorld[j].matrix())
            for (std::size_t k = 0; k < count; ++k)
                if (k == j || skeleton.parent[k] == static_cast<int>(j) ||
                    skeleton.parent[j] == static_cast<int>(k))
                    out[k] = 1;
    // what drives otherwise, or drives another shape
    for (const auto& [one, other] :
         {std::pair(&*before.character, &*after.character), std::pair(&*after.character, &*before.character)})
        for (const Driver& d : one->drivers)
            if (d.source >= 0 &&
                std::none_of(other->drivers.begin(), other->drivers.end(),
                             [&, a = one, b = other](const Driver& o) { return alike(*a, d, *b, o); }))
                out[static_cast<std::size_t>(d.source)] = 1;
    return out;
}

// Per welded vertex of `after`, whether it is smoothed otherwise or goes by another method; empty where none
// is.
std::vector<char> deformedOtherwise(const Subject& before, const Subject& after) {
    const DeformExtras &was = before.character->extras, &is = after.character->extras;
    std::vector<char> out;
    const auto mark = [&](std::uint32_t vertex) {
        out.resize(after.surface.vertexCount(), 0);
        out[after.surface.weldOf[vertex]] = 1;
    };
    if (!(was.dualShare == is.dualShare))
        for (std::uint32_t v = 0; v < after.character->vertexCount(); ++v) {
            const auto at = [v](const auto& shares) { return v < shares.size() ? shares[v] : DualShare{}; };
            if (!(at(was.dualShare) == at(is.dualShare)))
                mark(v);
        }
    for (std::size_t i = 0; i < std::max(was.smoothing.size(), is.smoothing.size()); ++i) {
        const auto at = [i](const auto& list) { return i < list.size() ? list[i] : nullptr; };
        const auto a = at(was.smoothing), b = at(is.smoothing);
        if (a && b && (a == b || a->wish() == b->wish()))
            continue;
        for (const auto& smoothing : {a, b})
            if (smoothing)
                for (std::uint32_t v : smoothing->moved())
                    mark(v);
    }
    return out;
}

// Joints a motion may move, those that follow by drivers among them.
std::vector<char> movedBy(const Motion& motion, const Character& character) {
    std::vector<char> out(character.skeleton.name.size(), 0);
    for (const JointTurn& t : motion.turns)
        out[static_cast<std::size_t>(t.joint)] = 1;
    for (const JointShift& t : motion.shifts)
        out[static_cast<std::size_t>(t.joint)] = 1;
    if (motion.keys)
        for (const MotionKey& k : *motion.keys)
            for (std::size_t j = 0; j < k.pose.turn.size(); ++j)
                out[j] |= k.pose.turn[j].vec().norm() > 1e-9 ||
                          (j < k.pose.shift.size() && k.pose.shift[j].norm() > 1e-12);
    for (const Driver& d : character.drivers) // in order: a joint is driven before it drives
        if (d.output != Driver::Output::Target && d.joint >= 0 && d.source >= 0 &&
            out[static_cast<std::size_t>(d.source)])
            out[static_cast<std::size_t>(d.joint)] = 1;
    return out;
}

// What is measured hangs on more than the shares: then nothing of before is taken.
bool sameBody(const Subject& a, const Subject& b) {
    return a.body.height == b.body.height &&
           a.roles.size() <= b.roles.size() && // joints that were added stand behind the others
           std::equal(a.roles.begin(), a.roles.end(), b.roles.begin(),
                      [](const JointRole& x, const JointRole& y) {
                          return x.role == y.role && x.side == y.side && x.mirror == y.mirror;
                      });
}

bool sameRigid(const Subject& a, const Subject& b) {
    return a.rigid.size() == b.rigid.size() && a.onRigidPart.size() == b.onRigidPart.size() &&
           std::equal(a.onRigidPart.begin(), a.onRigidPart.end(), b.onRigidPart.begin());
}

} // namespace

std::vector<char> touchedMotions(const Subject& before, const Subject& after, const Plan& plan) {
    const std::vector<char> joints = touchedJoints(before, after);
    const std::vector<char> otherwise = deformedOtherwise(before, after);
    const auto deforms = [&](const Subject& s, const Motion& m) {
        const MotionRegion region = motionRegion(s, m);
        return std::any_of(region.vertices.begin(), region.vertices.end(),
                           [&](std::uint32_t v) { return v < otherwise.size() && otherwise[v]; });
    };
    std::vector<char> out;
    for (const Motion& m : plan.motions) {
        const std::vector<char> moved = movedBy(m, *after.character);
        bool touched = false;
        for (std::size_t j = 0; j < joints.size() && !touched; ++j)
            touched = joints[j] && moved[j];
        if (!touched && !otherwise.empty())
            touched = deforms(before, m) || deforms(after, m);
        out.push_back(touched);
    }
    return out;
}

TouchedStore::TouchedStore(std::shared_ptr<const Subject> before, const Subject& after, const Plan& plan,
                           MeasuredStore& known, MeasuredStore* into)
    : before_(std::move(before)), known_(known), into_(into),
      all_(!sameRigid(*before_, after) || !sameBody(*before_, after)) {
    const std::vector<char> touched = touchedMotions(*before_, after, plan);
    for (std::size_t m = 0; m < touched.size(); ++m)
        if (all_ || touched[m])
            touched_.insert(plan.motions[m].id);
}

std::shared_ptr<const MeasuredMotion> TouchedStore::find(const Character& character, Skinning method,
                                                         const Motion& motion, const Floors& floors) {
    if (into_) // measured already
        if (auto out = into_->find(character, method, motion, floors))
            return out;
    if (touched_.count(motion.id))
        return nullptr;
    auto out = known_.find(*before_->character, method, motion, floors);
    if (out && into_)
        into_->keep(character, method, motion, floors, out);
    return out;
}

void TouchedStore::keep(const Character& character, Skinning method, const Motion& motion,
                        const Floors& floors, std::shared_ptr<const MeasuredMotion> measured) {
    if (into_)
        into_->keep(character, method, motion, floors, measured);
    if (!touched_.count(motion.id)) // its refinement: as good for what it was before
        known_.keep(*before_->character, method, motion, floors, std::move(measured));
}

} // namespace hobble
