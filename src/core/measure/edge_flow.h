#pragma once
// How the edge loops of a mesh run at a joint: with the bend, or askew. From each vertex an edge is followed
// straight on, vertex after vertex; what comes back to where it began, once round the limb, is a ring.
// Diagonals of triangulated quads wind away along the limb and are none. A ring follows a bend when the
// bend's axis lies in its plane. Our own.
#include "core/measure/subject.h"
#include "core/pose/motion.h"

namespace hobble {

struct EdgeRing {
    Vec3d normal;  // of its plane, unit
    double length; // metres
};

/// Where edges go on, asked once for each: joints that lie near each other ask for the same. Not from several
/// threads.
class EdgeFlow {
public:
    explicit EdgeFlow(const Subject& subject);

    /// The rings within one limb radius of a joint, neutral; empty where no limb closes about the joint, or
    /// fewer than half of its vertices lie on a ring: a mesh without loops.
    std::vector<EdgeRing> ringsAt(int joint);

    static constexpr std::uint32_t kNone = ~0u;
    /// The edge at `b` that goes on straightest from the one that comes from `a`, in the skin's plane; kNone
    /// where there is none within 35°.
    std::uint32_t straightest(std::uint32_t a, std::uint32_t b);
    /// The edge at `b` with as many to its left as to its right; where there is none, the straightest.
    std::uint32_t opposite(std::uint32_t a, std::uint32_t b);

private:
    template <class Work>
    std::uint32_t once(std::vector<std::uint32_t>& known, std::uint32_t a, std::uint32_t b, Work work);
    std::uint32_t findStraightest(std::uint32_t a, std::uint32_t b) const;
    std::uint32_t findOpposite(std::uint32_t a, std::uint32_t b);

    const Subject& s_;
    std::vector<std::uint32_t> straightest_, opposite_; // per entry of the surface's lists of neighbours
};

/// Degrees between the planes of rings and an axis, world, unit: the mean by their length. 0 without rings.
double degreesAskew(const std::vector<EdgeRing>& rings, const Vec3d& axis);

/// The axis a motion bends a joint about, world, unit; nothing where it does not, or rolls it.
std::optional<Vec3d> bendAxis(const Subject& subject, const Motion& motion, int joint);

/// Beyond which loops are told to run askew, degrees.
inline constexpr double kEdgesAskew = 15;

} // namespace hobble
