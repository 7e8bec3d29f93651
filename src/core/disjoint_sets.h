#pragma once
// Disjoint sets over numbers from 0 (Tarjan and van Leeuwen 1984, "Worst-case Analysis of Set Union
// Algorithms": paths are halved on the way).
#include <cstdint>
#include <numeric>
#include <vector>

namespace hobble {

class DisjointSets {
public:
    explicit DisjointSets(std::size_t count) : above_(count) { std::iota(above_.begin(), above_.end(), 0u); }
    std::uint32_t find(std::uint32_t i) {
        while (above_[i] != i)
            i = above_[i] = above_[above_[i]];
        return i;
    }
    /// Whether they were two; the second's becomes the set's name.
    bool join(std::uint32_t a, std::uint32_t b) {
        a = find(a);
        b = find(b);
        above_[a] = b;
        return a != b;
    }

private:
    std::vector<std::uint32_t> above_;
};

} // namespace hobble
