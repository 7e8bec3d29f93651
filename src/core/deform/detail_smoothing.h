#pragma once
// Smoothing of the skinned mesh that keeps its detail: what smoothing takes away of the neutral skin is kept
// in a frame at each vertex, and put back after the posed skin was smoothed alike (Mancewicz, Derksen,
// Rijpkema and Wilson 2014, "Delta Mush: Smoothing Deformations While Preserving Detail"). Our own: the
// frame's tangent is the rest shape's as it is found again in all edges around the vertex, not in one; and
// how much is smoothed may fade out towards skin that is left as it is.
#include "core/character/surface.h"

#include <utility>

namespace hobble {

struct SmoothingWish {
    int passes = 10;       // 1 … 200
    double strength = 0.5; // 0 … 1: how far a vertex goes to the middle of its neighbours in one pass
    bool holdBorders = true;
    /// Welded vertices, ascending, and how much of the strength each has, 0 … 1. What is not named is left to
    /// the bit as it is.
    std::vector<std::pair<std::uint32_t, float>> where;
    bool operator==(const SmoothingWish&) const = default;
};

/// Made ready on one neutral mesh; good for every pose and all weights of it. Immutable, from any thread.
class DetailSmoothing {
public:
    /// `neutral`: one position per welded vertex, metres.
    DetailSmoothing(const Surface& surface, const std::vector<Vec3>& neutral, SmoothingWish wish);

    const SmoothingWish& wish() const { return wish_; }
    /// Over positions of the file's vertices. The same bits whatever the number of threads.
    void smooth(std::vector<Vec3>& posed) const;
    /// Vertices of the file that it moves, in no order.
    const std::vector<std::uint32_t>& moved() const { return member_; }
    /// The same, ascending, with how much of the strength each has.
    std::vector<std::pair<std::uint32_t, float>> amounts() const;

private:
    using Point = Eigen::Vector4f; // x, y, z, 0: one register

    SmoothingWish wish_;
    // Vertices are numbered: those that are smoothed first, all with as many neighbours together, so that the
    // passes need not ask how many there are; then those that are only looked at.
    std::uint32_t active_ = 0;
    struct Alike {
        std::uint32_t from, to, neighbours; // numbers; neighbours: how many each has
    };
    std::vector<Alike> alike_;
    std::vector<std::uint32_t> fileVertexOf_; // per number: where it is read
    std::vector<std::uint32_t> member_;       // file vertices of the active ones …
    std::vector<std::uint32_t> firstMember_{0};
    std::vector<std::uint32_t> first_{0}, near_; // numbers of neighbours
    std::vector<float> amount_,
        step_; // per active vertex: of the strength; how far in a pass, over its neighbours
    std::vector<std::array<float, 2>> tangent_; // per entry of near_: its part in the two tangents …
    std::vector<std::array<float, 2>> centre_;  // … and the vertex's own
    std::vector<Vec3> detail_;                  // per active vertex, in its frame
    std::vector<char> framed_;

    template <class Work> void forAlike(std::size_t from, std::size_t to, const Work& work) const;
    std::vector<Point> passed(std::vector<Point> points) const;
    template <std::uint32_t Neighbours>
    bool frameAt(const std::vector<Point>& points, std::uint32_t i, Eigen::Matrix3f& frame) const;
};

} // namespace hobble
