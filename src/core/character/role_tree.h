#pragma once
// The best labelling of a whole skeleton under what speaks for each joint and what may follow what: found
// exactly, from the leaves up (dynamic programming on a tree; Pearl 1982, "Reverend Bayes on Inference
// Engines", with maxima for sums). How much worse the best labelling with another role at a joint is says how
// sure that joint is.
#include "core/character/role_labels.h"

namespace hobble {

struct Labelled {
    Label label = 0;
    float margin = 0; // to the best labelling in which this joint has another label
};

/// `evidence` per joint. Time grows with joints × labels².
std::vector<Labelled> labelTree(const Skeleton& skeleton, const std::vector<LabelScores>& evidence);

} // namespace hobble
