#pragma once
// From a skin's own space to the world, in the pose the skin was bound in.
//
// Where the file's nodes stand in the bind pose it is node world · inverse bind, the same for every joint.
// Where some were left posed by the exporter, most joints still agree; where they do not, what holds the
// joints (the nodes above them, the mesh's node) or nothing at all is tried, and the nearest to how the
// joints stand is taken.
#include "core/geometry.h"

namespace hobble {

/// `nodes` and `inverseBind` have one transform per joint of the skin, at least one; `top` is the joint
/// nearest the root; `still` are placements by what does not move with a pose, the likeliest first.
Transform bindPlacement(const std::vector<Transform>& nodes, const std::vector<Transform>& inverseBind,
                        std::size_t top, const std::vector<Transform>& still);

} // namespace hobble
