#include "core/character/character.h"

#include <algorithm>

namespace hobble {

int Skeleton::find(const std::string& jointName) const {
    auto it = std::find(name.begin(), name.end(), jointName);
    return it == name.end() ? -1 : static_cast<int>(it - name.begin());
}

std::vector<std::vector<int>> Skeleton::children() const {
    std::vector<std::vector<int>> out(name.size());
    for (int j = 0; j < size(); ++j)
        if (parent[j] >= 0)
            out[parent[j]].push_back(j);
    return out;
}

std::vector<char> Skeleton::subtree(int joint) const {
    std::vector<char> in(name.size(), 0);
    in[joint] = 1;
    for (int j = joint + 1; j < size(); ++j) // parents come first
        if (parent[j] >= 0 && in[parent[j]])
            in[j] = 1;
    return in;
}

int Skeleton::boneDistance(int a, int b) const {
    // An empty group lies on the joint below it: no bone between the two.
    const auto isBone = [&](int j) {
        constexpr double least = 1e-5; // metres
        return parent[j] >= 0 && (place(j) - place(parent[j])).norm() > least;
    };
    std::vector<int> stepsFromA(name.size(), -1);
    int steps = 0;
    for (int j = a; j >= 0; j = parent[j]) {
        stepsFromA[j] = steps;
        steps += isBone(j);
    }
    steps = 0;
    for (int j = b; j >= 0; j = parent[j]) {
        if (stepsFromA[j] >= 0)
            return stepsFromA[j] + steps;
        steps += isBone(j);
    }
    return -1;
}

double weightShared(const SkinWeights& w, std::uint32_t a, std::uint32_t b) {
    if (w.first[a] == w.first[a + 1] && w.first[b] == w.first[b + 1])
        return 1;
    double sum = 0;
    for (std::uint32_t i = w.first[a]; i < w.first[a + 1]; ++i)
        for (std::uint32_t k = w.first[b]; k < w.first[b + 1]; ++k)
            if (w.joint[i] == w.joint[k])
                sum += std::min(w.weight[i], w.weight[k]);
    return sum;
}

int Character::partOfVertex(std::uint32_t vertex) const {
    auto it = std::upper_bound(parts.begin(), parts.end(), vertex,
                               [](std::uint32_t v, const Part& p) { return v < p.firstVertex; });
    return static_cast<int>(it - parts.begin()) - 1;
}

double Character::extent() const {
    if (neutral.empty())
        return 0;
    Eigen::AlignedBox3f box;
    for (const Vec3& p : neutral)
        box.extend(p);
    return box.sizes().maxCoeff();
}

} // namespace hobble
