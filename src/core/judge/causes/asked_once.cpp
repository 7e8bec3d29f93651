#include "core/judge/causes/asked_once.h"

#include "core/deform/deformer.h"

namespace hobble {

namespace {

constexpr std::size_t kMostBytes = std::size_t(256) << 20; // of poses kept; then all are forgotten

} // namespace

AskedOnce::Points AskedOnce::posed(const Motion& motion, double at, Skinning how,
                                   const std::vector<char>* off) {
    const auto key = std::make_tuple(&motion, at, how, off ? *off : std::vector<char>());
    {
        const std::lock_guard lock(mutex_);
        if (const auto known = posed_.find(key); known != posed_.end())
            return known->second;
    }
    const Character& c = *s_.character;
    std::vector<Vec3> points;
    deform(c, drive(c, poseAt(c.skeleton, motion, at), off), how, points, &s_.lanes);
    auto out = std::make_shared<const std::vector<Vec3>>(weldedPositions(s_.surface, points));
    const std::lock_guard lock(mutex_); // two threads may have worked out the same: the first is kept
    if (bytes_ > kMostBytes) {
        posed_.clear();
        bytes_ = 0;
    }
    const auto [kept, fresh] = posed_.emplace(key, out);
    bytes_ += fresh ? out->size() * sizeof(Vec3) : 0;
    return kept->second;
}

const std::vector<EdgeRing>& AskedOnce::ringsAt(int joint) {
    const std::lock_guard lock(ringsMutex_);
    const auto known = rings_.find(joint);
    return known != rings_.end() ? known->second : rings_.emplace(joint, flow_.ringsAt(joint)).first->second;
}

} // namespace hobble
