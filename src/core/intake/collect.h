#pragma once
// Gathers file vertices by part for a check's place.
#include "core/intake/check.h"

#include <algorithm>
#include <cstdio>
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

inline std::string counted(std::size_t n, const char* one, const char* many) {
    return n == 1 ? std::string("one ") + one : std::to_string(n) + " " + many;
}

template <class... A> std::string words(const char* format, A... args) {
    std::string out(static_cast<std::size_t>(std::max(0, std::snprintf(nullptr, 0, format, args...))) + 1,
                    '\0');
    std::snprintf(out.data(), out.size(), format, args...); // names are as long as they like
    out.pop_back();
    return out;
}

} // namespace hobble
