#pragma once
// A character whose weights have changed, ready to be measured again: only what the change touches is made
// anew. Our own: a blend, an island, a rigid piece is decided by the weights of the skin at hand, so what no
// changed vertex belongs to, before or after, stays as it is.
#include "core/measure/subject.h"

namespace hobble {

/// `character` is that of `before` but for its weights; where its neutral skin or its triangles are others
/// too, all is prepared. To the bit what prepareSubject would give, with any number of threads. Where the
/// progress is stopped, what comes back is unfinished and of no use.
Subject reweighted(const Subject& before, std::shared_ptr<const Character> character,
                   const Progress& progress = {},
                   const std::map<std::string, RoleCorrection>& corrections = {});

/// Vertices, ascending, whose influences are not the same to the bit.
std::vector<std::uint32_t> changedVertices(const SkinWeights& before, const SkinWeights& after);

} // namespace hobble
