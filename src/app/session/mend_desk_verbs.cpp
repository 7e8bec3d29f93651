// What one wants of a region, as a step with numbers to start from.
#include "app/session/mend_desk.h"

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

void MendDesk::apply(MendVerb verb, const std::vector<std::uint32_t>& marked) {
    if (!ready())
        return;
    const Subject& s = *on_->build();
    const auto nameOf = [&](int joint) {
        return s.character->skeleton.name[static_cast<std::size_t>(joint)];
    };
    if (joint_ < 0 && verb != MendVerb::DropSmall && verb != MendVerb::Cap)
        return fail(tr("Take a joint in hand first: press its name under “Joints here”, or its skin."));
    const std::vector<std::uint32_t> blend =
        joint_ < 0 ? std::vector<std::uint32_t>() : s.zones[static_cast<std::size_t>(joint_)].blendVertices;
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
    if (joint_ >= 0)
        step.joint = nameOf(joint_);
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
        const int parent = givingParent(s, joint_);
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
        step.place = over(s.zones[static_cast<std::size_t>(joint_)].vertices);
        words = tr("an even passage");
        break;
    case MendVerb::OtherSide:
        step.kind = StepKind::Mirror;
        step.joint.clear();
        step.place = over(s.zones[static_cast<std::size_t>(joint_)].vertices);
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
        step.place = over(s.zones[static_cast<std::size_t>(joint_)].vertices);
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
