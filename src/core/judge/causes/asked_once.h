#pragma once
// What the causes of many findings need alike, worked out when it is first asked for: the skin in a pose,
// skinned in one way, and the edge rings round a joint. Findings of one motion mostly have one peak; most
// joints' rings are never asked for.
#include "core/deform/skinning.h"
#include "core/measure/edge_flow.h"
#include "core/pose/motion.h"

#include <map>
#include <memory>
#include <mutex>
#include <tuple>

namespace hobble {

/// From any thread.
class AskedOnce {
public:
    explicit AskedOnce(const Subject& subject) : s_(subject), flow_(subject) {}

    using Points = std::shared_ptr<const std::vector<Vec3>>;
    /// Positions of the welded vertices in a motion at one of its steps, skinned by a method, with drivers
    /// left out (flags, by driver; null: none). `motion` lives as long as this does.
    Points posed(const Motion& motion, double at, Skinning how, const std::vector<char>* off);

    const std::vector<EdgeRing>& ringsAt(int joint);

private:
    const Subject& s_;
    std::mutex mutex_, ringsMutex_;
    std::map<std::tuple<const Motion*, double, Skinning, std::vector<char>>, Points> posed_;
    std::size_t bytes_ = 0;
    EdgeFlow flow_;
    std::map<int, std::vector<EdgeRing>> rings_;
};

} // namespace hobble
