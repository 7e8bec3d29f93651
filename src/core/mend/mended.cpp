#include "core/mend/mended.h"

#include "core/measure/reweight.h"

#include <algorithm>
#include <cmath>
#include <map>
#include <set>

namespace hobble {

std::shared_ptr<const Subject> mendedSubject(const Subject& build, std::shared_ptr<const Character> mended,
                                             bool skeleton, const Progress& progress) {
    return std::make_shared<const Subject>(skeleton ? prepareSubject(std::move(mended), progress)
                                                    : reweighted(build, std::move(mended), progress));
}

Plan turnedAlike(Plan plan, const Character& before, const Character& after) {
    std::vector<std::pair<std::size_t, Quat>> turned; // from the axes of before to those of after
    for (std::size_t j = 0; j < before.skeleton.neutralWorld.size(); ++j) {
        const Transform &was = before.skeleton.neutralWorld[j], &is = after.skeleton.neutralWorld[j];
        if (was.linear() != is.linear())
            turned.emplace_back(j, rotationOf(is).inverse() * rotationOf(was));
    }
    if (turned.empty())
        return plan;
    for (Motion& m : plan.motions)
        for (const auto& [joint, by] : turned) {
            for (JointTurn& t : m.turns)
                if (t.joint == static_cast<int>(joint))
                    t.axis = by * t.axis;
            for (JointShift& t : m.shifts)
                if (t.joint == static_cast<int>(joint))
                    t.perUnit = by * t.perUnit;
            if (!m.keys)
                continue;
            auto keys = std::make_shared<std::vector<MotionKey>>(*m.keys);
            for (MotionKey& k : *keys)
                if (joint < k.pose.turn.size())
                    k.pose.turn[joint] = by * k.pose.turn[joint] * by.inverse();
            m.keys = std::move(keys);
        }
    return plan;
}

WeightChange weightChange(const SkinWeights& was, const SkinWeights& is) {
    WeightChange out;
    std::set<std::uint16_t> joints;
    for (std::uint32_t v : changedVertices(was, is)) {
        std::map<std::uint16_t, double> by;
        for (std::uint32_t i = was.first[v]; i < was.first[v + 1]; ++i)
            by[was.joint[i]] -= static_cast<double>(was.weight[i]);
        for (std::uint32_t i = is.first[v]; i < is.first[v + 1]; ++i)
            by[is.joint[i]] += static_cast<double>(is.weight[i]);
        double moved = 0;
        for (const auto& [joint, change] : by) {
            out.most = std::max(out.most, std::abs(change));
            moved += std::abs(change) / 2;
            if (std::abs(change) > 1e-6)
                joints.insert(joint);
        }
        out.vertices += moved > 1e-6;
        out.moved += moved;
    }
    out.joints = joints.size();
    return out;
}

} // namespace hobble
