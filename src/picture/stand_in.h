#pragma once
// A coarser mesh over the same vertices, for a picture of a character too heavy to be drawn anew while it
// moves: edges are collapsed where that changes the form least (meshoptimizer; Garland and Heckbert 1997,
// "Surface Simplification Using Quadric Error Metrics").
#include "core/measure/subject.h"

#include <vector>

namespace hobble {

/// About `most` triangles of the whole character, each part with its share; they refer to the file's own
/// vertices, so that every pose and every colour is theirs too. Looked at in neutral. Takes seconds for
/// millions: not on the window's thread.
std::vector<Triangle> standIn(const Character& character, std::size_t most);

/// That mesh as a character of its own, to be posed while a hand moves: the same joints, parts, drivers and
/// shapes on only the vertices that the coarser mesh has. What deforms by neighbours is left out.
struct StandIn {
    std::vector<Triangle> triangles;        // on the file's own vertices
    std::shared_ptr<const Subject> subject; // the same, in that order, on its own; with what a frame without
                                            // zones needs, and nothing that is measured or pointed at
    std::vector<std::uint32_t> fileVertex;  // per vertex of it, rising
};
StandIn standInOf(const Subject& whole, std::size_t most);

} // namespace hobble
