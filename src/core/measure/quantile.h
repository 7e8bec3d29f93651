#pragma once
#include <utility>
#include <vector>

namespace hobble {

/// The least value such that it and those below carry `share` (0 … 1) of the total weight. Values and weights
/// pair up; NaN if empty. Linear in their number.
double weightedQuantile(std::vector<std::pair<float, float>> valueAndWeight, double share);

} // namespace hobble
