#pragma once
// Where the tree does not go the way the skin does: a hand whose skin goes on from the forearm and that hangs
// below a control; a skeleton that lies flat, every joint a child of the root though the places form chains.
// Told from which joints hold skin side by side. Our own.
#include "core/character/surface.h"

namespace hobble {

struct TornLimb {
    int joint = -1;     // the first that does not follow
    int continues = -1; // the joint whose skin its own goes on from
    int hangsFrom = -1; // its parent; -1 at a root
    double share = 0;   // of its rim that lies on what it continues and on what follows that
    bool operator==(const TornLimb&) const = default;
};

struct TreeAndSkin {
    std::vector<TornLimb> torn; // by joint; where the tree lies flat, all of its joints
    /// The joint that nearly all others hang from though they form chains; -1 where the tree is a tree.
    int flatUnder = -1;
    /// Where it lies flat: per joint the one it goes on from, as skin and places say; -1 at the root of that.
    std::vector<int> parentByPlace;
};

TreeAndSkin treeAndSkin(const Skeleton& skeleton, const Surface& surface);

} // namespace hobble
