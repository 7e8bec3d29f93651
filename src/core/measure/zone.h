#pragma once
// The zone of a joint: the skin that has to give when the joint turns, grown until it ends in rigid flesh;
// with the cuts and closing fans prepared on the neutral surface, so that a pose only costs sums.
//
// C(v) is the sum of v's weights on the joint and all its descendants, driven joints counted by their share,
// B = 4·C·(1 − C). The blend is where B ≥ 0.1, and both ends of an edge that passes through it
// though neither end is in it: skin bound without a blend gives there. The zone is the blend grown over the
// neutral surface by one local limb radius. Islands of blend far from the joint are no part of it: they are
// stray influence, and what they do is leak.
#include "core/measure/girth.h"
#include "core/measure/strain.h"
#include "core/measure/volume.h"

#include <memory>
#include <optional>
#include <string>

namespace hobble {

struct Subject;

struct JointZone {
    int joint = -1;
    Vec3d axis = Vec3d::UnitY();               // along the limb at the joint, neutral, towards the tip
    double limbRadius = 0;                     // metres
    double area = 0;                           // m², neutral
    std::vector<std::uint32_t> triangles;      // of the surface, ascending: every shell, every part
    std::vector<std::uint32_t> blendVertices;  // welded vertices with B ≥ 0.1
    std::int64_t shell = -1;                   // the shell that encloses the joint; -1 when there is none
    std::vector<std::uint32_t> shellTriangles; // the zone's triangles on that shell
    std::optional<ClosedVolume> volume;
    std::string volumeUndefined; // why, when there is no volume
    std::optional<LimbSections> girth;
    std::string girthUndefined;

    std::vector<std::uint32_t> vertices; // welded, ascending: the blend and what it was grown by

    bool operator==(const JointZone&) const = default;
    bool empty() const { return triangles.empty(); }
};

/// Whether skin that makes this share C of a joint's turn is of its blend.
inline bool inBlend(float follow) { return 4 * follow * (1 - follow) >= 0.1; }

/// Whether an edge goes from skin that stays to skin that follows, without any between that blends.
bool straddles(const SkinWeights& weights, const std::pair<std::uint32_t, std::uint32_t>& edge,
               const std::vector<float>& shares);

/// Of a subject whose surface, neutral pose, tree and held skin stand ready.
JointZone jointZone(const Subject& subject, int joint);

/// The zones of all joints. A copy shares those that are not set anew.
class JointZones {
public:
    std::size_t size() const { return zones_.size(); }
    /// So many, all empty.
    void assign(std::size_t joints) { zones_.assign(joints, std::make_shared<const JointZone>()); }
    const JointZone& operator[](std::size_t joint) const { return *zones_[joint]; }
    void set(std::size_t joint, JointZone zone) {
        zones_[joint] = std::make_shared<const JointZone>(std::move(zone));
    }
    bool shared(const JointZones& other, std::size_t joint) const {
        return zones_[joint] == other.zones_[joint];
    }

private:
    std::vector<std::shared_ptr<const JointZone>> zones_;
};

/// What a pose does to a zone. Ratios are posed / neutral.
struct ZoneMeasures {
    double stretch = 1; // area-weighted 99th percentile of σ1
    double squash = 1;  // area-weighted 1st percentile of σ2
    double area = 1;    // whole area
    double shear = 1;   // area-weighted 99th percentile of σ1/σ2
    std::optional<double> volume, volumeCm3;
    std::vector<std::optional<double>> girth; // at each station, from the root side to the tip side
    std::optional<double> pinch;              // the least of them
    // Of the whole pose, told at the joint that leads the motion; not defined elsewhere.
    std::optional<double> roughness; // area-weighted 99th percentile over the skin the motion moves
    std::optional<double> leak;      // / body height, the farthest
    std::optional<double> lag;       // share of the turn that skin beyond the joint misses
    std::optional<double> contact;   // depth / limb radius
    std::optional<double> poke, gap; // / body height
    std::optional<double> flip;      // share of the zone's area
    std::optional<double> softness;  // farthest singular value from 1 on a rigid part
    std::optional<double> drift;     // / body height, of a part bound to nothing
    std::optional<double> pop;       // / body height
    std::optional<double> side;      // trouble here less trouble at the mirrored joint
    std::optional<double> bend;      // degrees off
    std::optional<double> bare;      // of a face's opening, when it is closed: share left bare
    std::optional<double> through;   // / radius of what comes through a lid or a lip
};

/// `posed` has one position per welded vertex; `strain` is that of the zone's triangles, in their order.
ZoneMeasures measureZone(const Surface& surface, const JointZone& zone, const std::vector<Vec3>& posed,
                         const std::vector<Strain>& strain);

/// The same, where the strains are not at hand.
ZoneMeasures measureZone(const Surface& surface, const std::vector<RestTriangle>& rest, const JointZone& zone,
                         const std::vector<Vec3>& posed);

} // namespace hobble
