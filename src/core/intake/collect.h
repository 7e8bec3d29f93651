#pragma once
// Gathers file vertices by part for a check's place.
#include "core/intake/check.h"
#include "core/words/say.h"

#include <algorithm>
#include <map>

namespace hobble {

class Places {
public:
    explicit Places(const Character& c) : c_(c) {}
    void add(std::uint32_t vertex) {
        const int part = c_.partOfVertex(vertex);
        byPart_[part].push_back(vertex - c_.parts[part].firstVertex);
        ++count_;
    }
    std::size_t count() const { return count_; }
    std::vector<std::pair<int, std::vector<std::uint32_t>>> take() {
        std::vector<std::pair<int, std::vector<std::uint32_t>>> out;
        for (auto& [part, list] : byPart_) {
            std::sort(list.begin(), list.end());
            list.erase(std::unique(list.begin(), list.end()), list.end());
            out.push_back({part, std::move(list)});
        }
        return out;
    }

private:
    const Character& c_;
    std::map<int, std::vector<std::uint32_t>> byPart_;
    std::size_t count_ = 0;
};

} // namespace hobble
