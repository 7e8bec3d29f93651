// What one wants of a region, as a step with numbers to start from.
#include "app/session/mend_desk.h"
#include "core/measure/edge_flow.h"

#include <algorithm>

namespace hobble {

namespace {

// The nearest joint above that has a share of the joint's own blend; −1 where there is none.
int givingParent(const Subject& s, int joint) {
    const std::vector<Share> here = meanShares(s, s.zones[static_cast<std::size_t>(joint)].blendVertices);
    for (int j = s.character->skeleton.parent[static_cast<std::size_t>(joint)]; j >= 0;
         j = s.character->skeleton.parent[static_cast<std::size_t>(j)])
        if (std::any_of(here.begin(), here.end(), [&](const Share& share) { return share.joint == j; }))
            return j;
    return -1;
}

std::vector<std::uint32_t> cornersOf(const Subject& s, const std::vector<std::uint32_t>& triangles) {
    std::vector<std::uint32_t> out;
    for (std::uint32_t t : triangles)
        out.insert(out.end(), s.surface.triangles[t].begin(), s.surface.triangles[t].end());
    std::sort(out.begin(), out.end());
    out.erase(std::unique(out.begin(), out.end()), out.end());
    return out;
}

} // namespace

std::optional<MendDesk::AngleHere> MendDesk::angleHere() const {
    const Motion* m = motionShown();
    if (!m || !on_ || m->keys || m->turns.empty() || poseAt_ == 0)
        return std::nullopt;
    auto turn =
        std::find_if(m->turns.begin(), m->turns.end(), [&](const JointTurn& t) { return t.joint == joint_; });
    if (turn == m->turns.end())
        turn = m->turns.begin();
    const double degrees = turn->share * poseAt_;
    if (std::abs(degrees) < 1)
        return std::nullopt;
    const Skeleton& sk = on_->build()->character->skeleton;
    const Vec3d axis = rotationOf(sk.neutralWorld[static_cast<std::size_t>(turn->joint)]) * turn->axis;
    return AngleHere{turn->joint, degrees < 0 ? Vec3d(-axis.normalized()) : Vec3d(axis.normalized()),
                     std::round(std::abs(degrees))};
}

std::optional<Vec3d> MendDesk::bendAxis(int joint) const {
    if (!on_)
        return std::nullopt;
    if (const Motion* shown = motionShown())
        if (const auto axis = hobble::bendAxis(*on_->build(), *shown, joint))
            return axis;
    for (const Motion& m : on_->run()->plan.motions)
        if (m.turns.size() == 1 && m.turns.front().joint == joint)
            if (const auto axis = hobble::bendAxis(*on_->build(), m, joint))
                return axis;
    return std::nullopt;
}

void MendDesk::sayNoAngle() {
    fail(tr("Go to an angle of one joint first: a shape or a helper is for an angle."));
}

void MendDesk::apply(MendVerb verb, const std::vector<std::uint32_t>& marked) {
    if (!ready())
        return;
    const Subject& s = *on_->build();
    // One that the trial added is in what was made of the build, and has no blend there.
    const Subject& made = state_ ? *state_->subject : s;
    const auto nameOf = [&](int joint) {
        return (joint < s.character->skeleton.size() ? s : made)
            .character->skeleton.name[static_cast<std::size_t>(joint)];
    };
    const auto zoneOf = [&](int joint) -> const JointZone& {
        return (joint < s.character->skeleton.size() ? s : made).zones[static_cast<std::size_t>(joint)];
    };
    const bool ofTheAngle = verb >= MendVerb::ShapeHere && verb <= MendVerb::FillOut;
    if (joint_ < 0 && verb != MendVerb::DropSmall && verb != MendVerb::Cap && !ofTheAngle)
        return fail(tr("Take a joint in hand first: press its name under “Joints here”, or its skin."));
    const std::vector<std::uint32_t> blend =
        joint_ < 0 ? std::vector<std::uint32_t>() : zoneOf(joint_).blendVertices;
    // What the fault marks, where there is one; else what blends.
    std::vector<std::uint32_t> faulty;
    if (const Finding* f = told())
        faulty = cornersOf(s, f->triangles);
    const auto over = [&](const std::vector<std::uint32_t>& otherwise) {
        MendPlace place;
        place.what = MendPlace::What::Marked;
        place.vertices = marked.empty() ? otherwise : marked;
        return place;
    };
    Step step;
    step.place = over(blend);
    const auto angle = angleHere();
    if (ofTheAngle) {
        if (!angle)
            return sayNoAngle();
        const JointZone& zone = s.zones[static_cast<std::size_t>(angle->joint)];
        std::vector<std::uint32_t> gives = zone.vertices;
        gives.insert(gives.end(), faulty.begin(), faulty.end());
        std::sort(gives.begin(), gives.end());
        gives.erase(std::unique(gives.begin(), gives.end()), gives.end());
        step.place = over(
            verb == MendVerb::ShapeHere || verb == MendVerb::OutOfFlesh || faulty.empty() ? gives : faulty);
        step.kind = verb >= MendVerb::HalfTurn ? StepKind::Helper : StepKind::Correct;
        step.axis = angle->axis;
        step.degrees = angle->degrees;
    }
    const double limb = angle ? s.zones[static_cast<std::size_t>(angle->joint)].limbRadius : 0;
    if (joint_ >= 0)
        step.joint = nameOf(joint_);
    if (ofTheAngle)
        step.joint = nameOf(angle->joint);
    // Where a joint stands: in the middle of what is marked, else where the other one does.
    const auto stand = [&] {
        step.at = s.character->skeleton.place(angle->joint);
        Vec3d sum = Vec3d::Zero();
        for (std::uint32_t v : marked)
            sum += s.neutral[v].cast<double>();
        if (!marked.empty()) {
            step.at = sum / static_cast<double>(marked.size());
            return;
        }
        step.place = {};
        step.place.what = MendPlace::What::Stroke;
        step.place.path = {step.at.cast<float>()};
        step.place.radius = 1.6 * std::max(limb, 1e-3);
        step.place.along = false;
    };
    QString words;
    switch (verb) {
    case MendVerb::Softer:
        step.kind = StepKind::Soften;
        step.joint.clear(); // all of them
        step.count = 3;
        words = tr("softer");
        break;
    case MendVerb::Narrower:
    case MendVerb::Wider:
    case MendVerb::FromParent: {
        const int parent = givingParent(made, joint_);
        if (parent < 0)
            return fail(
                tr("No joint above %1 has any of the skin there.").arg(QString::fromStdString(step.joint)));
        step.to = step.joint;
        step.joint = nameOf(parent);
        step.kind = verb == MendVerb::FromParent ? StepKind::HandOver : StepKind::Narrow;
        step.amount = verb == MendVerb::FromParent ? 0.3 : verb == MendVerb::Narrower ? 1.5 : 0.67;
        words = verb == MendVerb::FromParent ? tr("from parent to child")
                : verb == MendVerb::Narrower ? tr("narrower")
                                             : tr("wider");
        break;
    }
    case MendVerb::Pass:
        step.kind = StepKind::Pass;
        step.amount = 1.5;
        step.place = over(zoneOf(joint_).vertices);
        words = tr("an even passage");
        break;
    case MendVerb::OtherSide:
        step.kind = StepKind::Mirror;
        step.joint.clear();
        step.place = over(zoneOf(joint_).vertices);
        words = tr("as the other side");
        break;
    case MendVerb::KeepOut:
        step.kind = StepKind::KeepOut;
        step.place = over(faulty);
        words = tr("keep out");
        break;
    case MendVerb::FromNeighbours:
        step.kind = StepKind::FromNeighbours;
        step.joint.clear();
        step.place = over(faulty);
        words = tr("from the neighbours");
        break;
    case MendVerb::Fill:
        step.kind = StepKind::Fill;
        step.amount = 1;
        step.place = over(faulty);
        words = tr("fill out");
        break;
    case MendVerb::Stiff:
        step.kind = StepKind::Rigid;
        step.place = over(faulty);
        words = tr("stiff");
        break;
    case MendVerb::AsBelow:
        step.kind = StepKind::CarryOver;
        step.joint.clear();
        step.place = over(faulty);
        words = tr("as the skin below");
        break;
    case MendVerb::BindAnew:
        step.kind = StepKind::Bind;
        step.joint.clear();
        step.place = over(zoneOf(joint_).vertices);
        words = tr("bind anew");
        break;
    case MendVerb::DropSmall:
    case MendVerb::Cap:
        step.joint.clear();
        step.kind = verb == MendVerb::Cap ? StepKind::Cap : StepKind::DropSmall;
        step.count = 4;
        step.amount = verb == MendVerb::Cap ? 0 : 0.01;
        step.place = over({});
        if (marked.empty())
            step.place.what = MendPlace::What::Everywhere;
        words = verb == MendVerb::Cap ? tr("at most so many influences") : tr("drop small influences");
        break;
    case MendVerb::Centre: {
        step.kind = StepKind::Pivot;
        step.place = {};
        Vec3d sum = Vec3d::Zero();
        for (std::uint32_t v : blend)
            sum += s.neutral[v].cast<double>();
        if (!blend.empty())
            step.at = sum / static_cast<double>(blend.size());
        words = tr("the joint to the middle");
        break;
    }
    case MendVerb::Axes: // by nothing yet: the handle turns them, or what is typed
        step.kind = StepKind::TurnAxes;
        step.place = {};
        step.at = zoneOf(joint_).axis;
        words = tr("turn the axes of a joint");
        break;
    case MendVerb::ShapeHere:
        words = tr("shape the skin at an angle");
        break;
    case MendVerb::BringOut:
    case MendVerb::BringIn:
        step.correctBy = CorrectBy::Inflate;
        step.amount = (verb == MendVerb::BringOut ? 0.05 : -0.05) * std::max(limb, 1e-3);
        words = verb == MendVerb::BringOut ? tr("bring the skin out") : tr("bring the skin in");
        break;
    case MendVerb::EvenHere:
        step.correctBy = CorrectBy::Soften;
        step.count = 5;
        words = tr("even the skin out");
        break;
    case MendVerb::FlatHere:
        step.correctBy = CorrectBy::Flatten;
        step.strength = 0.5;
        words = tr("lay the skin flat");
        break;
    case MendVerb::OutOfFlesh:
        step.correctBy = CorrectBy::OutOfContact;
        words = tr("out of the flesh");
        break;
    case MendVerb::HalfTurn:
        stand();
        step.amount = 0.5;
        words = tr("a joint for half of the turn");
        break;
    case MendVerb::FillOut: { // out of the limb, on the side that stretches
        stand();
        step.helpBy = HelpBy::Shift;
        step.amount = 0.25 * std::max(limb, 1e-3);
        const JointZone& zone = s.zones[static_cast<std::size_t>(angle->joint)];
        step.move = unitOrZero(zone.axis.cross(angle->axis));
        if (step.move.norm() < 0.5)
            return fail(tr("A joint that fills out is for a bend, and this is a roll."));
        step.at += 0.6 * limb * step.move;
        if (marked.empty()) {
            step.place.path = {step.at.cast<float>()};
            step.place.radius = 1.1 * std::max(limb, 1e-3);
        }
        words = tr("a joint that fills out");
        break;
    }
    case MendVerb::ShareRoll:
        step.kind = StepKind::ShareTwist;
        step.place = {};
        step.count = 2;
        words = tr("share the roll out");
        break;
    case MendVerb::FollowOther:
        step.kind = StepKind::Drive;
        step.driveBy = DriveBy::AsOtherSide;
        step.place = {};
        words = tr("follow as the other side");
        break;
    case MendVerb::SmoothAfter:
        step.kind = StepKind::SmoothAfter;
        step.joint.clear();
        step.count = 10;
        step.amount = 0.5;
        step.place = over(zoneOf(joint_).vertices);
        words = tr("smooth the posed skin");
        break;
    case MendVerb::ByDual:
        step.kind = StepKind::Method;
        step.joint.clear();
        step.amount = 1;
        step.place = over(zoneOf(joint_).vertices);
        words = tr("skin by dual quaternions");
        break;
    }
    if (step.place.what == MendPlace::What::Marked && step.place.vertices.empty())
        return fail(verb == MendVerb::KeepOut || verb == MendVerb::FromNeighbours || verb == MendVerb::Fill ||
                            verb == MendVerb::Stiff || verb == MendVerb::AsBelow
                        ? tr("Mark the skin it is about first.")
                        : tr("No skin blends at that joint: mark the skin it is about first."));
    if (verb == MendVerb::Centre && blend.empty())
        return fail(tr("No skin blends at that joint."));
    add({step}, words);
}

} // namespace hobble
