#include "faults.h"

#include "core/character/body.h"
#include "core/character/surface.h"

#include <algorithm>
#include <cmath>
#include <queue>

namespace hobble::demo {

Patient::Patient(Character& character, std::uint32_t seed)
    : c(character), roles(guessRoles(character)), random(seed) {
    for (std::size_t v = 0; v < c.vertexCount(); ++v) {
        Weights w;
        for (std::uint32_t i = c.weights.first[v]; i < c.weights.first[v + 1]; ++i)
            w.push_back({c.weights.joint[i], c.weights.weight[i]});
        weights.push_back(std::move(w));
    }
}

void Patient::keepFour(const Truth& t) {
    for (const auto& [partName, vertices] : t.vertices) {
        const Part& p = c.parts[part(partName)];
        for (std::uint32_t own : vertices) {
            Weights& w = weights[p.firstVertex + own];
            std::map<int, double> sum;
            double total = 0, kept = 0;
            for (const auto& [j, share] : w) {
                sum[j] += share;
                total += share;
            }
            w.assign(sum.begin(), sum.end());
            std::stable_sort(w.begin(), w.end(),
                             [](const auto& a, const auto& b) { return a.second > b.second; });
            w.resize(std::min<std::size_t>(w.size(), 4));
            for (const auto& [j, share] : w)
                kept += share;
            for (auto& [j, share] : w)
                share *= kept > 0 ? total / kept : 1;
        }
    }
}

void Patient::close() {
    c.weights = SkinWeights{};
    for (const Weights& raw : weights) {
        std::map<int, double> sum;
        for (const auto& [joint, share] : raw)
            sum[joint] += share;
        Weights list(sum.begin(), sum.end());
        std::erase_if(list, [](const auto& w) { return w.second <= 1e-7; });
        std::stable_sort(list.begin(), list.end(),
                         [](const auto& a, const auto& b) { return a.second > b.second; });
        double total = 0;
        for (const auto& [joint, share] : list) {
            c.weights.joint.push_back(static_cast<std::uint16_t>(joint));
            c.weights.weight.push_back(static_cast<float>(share));
            total += share;
        }
        c.weights.first.push_back(static_cast<std::uint32_t>(c.weights.joint.size()));
        c.weights.fileSum.push_back(static_cast<float>(total));
    }
}

int Patient::pick(const std::vector<int>& from) {
    if (from.empty())
        throw Unsuited{"there is nothing it suits"};
    return from[std::uniform_int_distribution<std::size_t>(0, from.size() - 1)(random)];
}

int Patient::joint(const std::string& wanted) const {
    const int j = c.skeleton.find(wanted);
    if (j < 0)
        throw Unsuited{"there is no joint '" + wanted + "'"};
    return j;
}

int Patient::part(const std::string& wanted) const {
    for (std::size_t p = 0; p < c.parts.size(); ++p)
        if (c.parts[p].name == wanted)
            return static_cast<int>(p);
    throw Unsuited{"there is no part '" + wanted + "'"};
}

bool Patient::skinned(int p) const {
    std::set<int> joints;
    const Part& part = c.parts[p];
    for (std::uint32_t v = part.firstVertex; v < part.firstVertex + part.vertexCount; ++v)
        for (const auto& [j, share] : weights[v])
            joints.insert(j);
    return joints.size() > 1;
}

int Patient::body() const {
    int best = 0;
    for (std::size_t p = 0; p < c.parts.size(); ++p)
        if (c.parts[p].vertexCount > c.parts[best].vertexCount)
            best = static_cast<int>(p);
    return best;
}

std::vector<int> Patient::garments() const {
    std::vector<int> out;
    for (std::size_t p = 0; p < c.parts.size(); ++p)
        if (static_cast<int>(p) != body() && skinned(static_cast<int>(p)) && c.parts[p].vertexCount > 1500)
            out.push_back(static_cast<int>(p));
    return out;
}

std::vector<int> Patient::rigidParts() const {
    std::vector<int> out;
    for (std::size_t p = 0; p < c.parts.size(); ++p)
        if (!skinned(static_cast<int>(p)) && c.parts[p].skin >= 0)
            out.push_back(static_cast<int>(p));
    return out;
}

std::vector<int> Patient::movers(std::initializer_list<Role> only) const {
    static const std::set<Role> moved{Role::Shoulder, Role::Elbow, Role::Wrist, Role::Hip,
                                      Role::Knee,     Role::Ankle, Role::Head,  Role::Fetlock,
                                      Role::Neck,     Role::Jaw,   Role::Lid};
    std::vector<double> held(c.skeleton.name.size(), 0.0);
    const Part& part = c.parts[body()];
    for (std::uint32_t v = part.firstVertex; v < part.firstVertex + part.vertexCount; ++v)
        for (const auto& [j, share] : weights[v])
            held[j] += share;
    std::vector<int> out;
    for (int j = 0; j < c.skeleton.size(); ++j) {
        const Role r = roles[j].role;
        const bool wanted =
            only.size() ? std::find(only.begin(), only.end(), r) != only.end() : moved.count(r) > 0;
        if (wanted && held[j] > 40 && c.skeleton.parent[j] >= 0)
            out.push_back(j);
    }
    return out;
}

double Patient::shareBelow(std::uint32_t v, const std::vector<char>& in) const {
    double sum = 0;
    for (const auto& [j, share] : weights[v])
        sum += in[j] ? share : 0;
    return sum;
}

int Patient::above(int j) const {
    int up = c.skeleton.parent[j];
    while (up >= 0 && roles[up].oneWith >= 0)
        up = c.skeleton.parent[up];
    return up;
}

Vec3d Patient::boneEnd(int j) const {
    const Vec3d way = boneDirection(c, roles, j);
    double longest = 0;
    for (int k = j + 1; k < c.skeleton.size(); ++k)
        if (above(k) == j)
            longest = std::max(longest, (place(k) - place(j)).dot(way));
    return place(j) + std::max(longest, 0.02 * bodyHeight()) * way;
}

double Patient::bodyHeight() const { return c.extent(); }

double Patient::radius(int j) const {
    const Part& part = c.parts[body()];
    std::vector<double> away;
    const Bone bone{j, place(j), boneEnd(j)};
    for (std::uint32_t v = part.firstVertex; v < part.firstVertex + part.vertexCount; ++v)
        if (share(v, j) > 0.5)
            away.push_back(nearestBone({bone}, c.neutral[v].cast<double>()).distance);
    if (away.empty())
        return 0.03 * bodyHeight();
    std::nth_element(away.begin(), away.begin() + static_cast<std::ptrdiff_t>(away.size() / 2), away.end());
    return away[away.size() / 2];
}

std::vector<std::pair<std::uint32_t, double>> Patient::patch(std::uint32_t middle, double reach) const {
    const Part& part = c.parts[partOf(middle)];
    std::vector<std::vector<std::uint32_t>> around(part.vertexCount);
    for (std::uint32_t t = part.firstTriangle; t < part.firstTriangle + part.triangleCount; ++t)
        for (int k = 0; k < 3; ++k)
            for (int o = 0; o < 3; ++o)
                if (o != k)
                    around[c.triangles[t][k] - part.firstVertex].push_back(c.triangles[t][o]);
    std::map<std::uint32_t, double> far;
    using Item = std::pair<double, std::uint32_t>;
    std::priority_queue<Item, std::vector<Item>, std::greater<>> queue;
    queue.push({0.0, middle});
    while (!queue.empty()) {
        const auto [d, v] = queue.top();
        queue.pop();
        if (!far.emplace(v, d).second)
            continue;
        for (std::uint32_t n : around[v - part.firstVertex])
            if (const double next = d + (c.neutral[n] - c.neutral[v]).norm(); next <= reach && !far.count(n))
                queue.push({next, n});
    }
    std::vector<std::pair<std::uint32_t, double>> out;
    for (const auto& [v, d] : far)
        out.push_back({v, d / reach});
    return out;
}

std::uint32_t Patient::vertexHeldBy(int j) {
    const Part& part = c.parts[body()];
    const Vec3d a = place(j), b = boneEnd(j), way = (b - a).normalized();
    std::vector<int> held;
    for (double least : {0.9, 0.7, 0.4, 0.15}) {
        for (std::uint32_t v = part.firstVertex; v < part.firstVertex + part.vertexCount; ++v) {
            const double t = (c.neutral[v].cast<double>() - a).dot(way) / std::max((b - a).norm(), 1e-9);
            if (share(v, j) > least && t > 0.2 && t < 0.9)
                held.push_back(static_cast<int>(v));
        }
        if (held.size() > 8)
            break;
    }
    return static_cast<std::uint32_t>(pick(held));
}

double Patient::following(std::uint32_t v, int j) const {
    const auto below = c.skeleton.subtree(j);
    double sum = shareBelow(v, below);
    for (const Driver& d : c.drivers)
        if (d.source == j && d.output == Driver::Output::Turn && !below[d.joint] &&
            roles[d.joint].role == Role::Helper)
            sum += driverSlope(d) * share(v, d.joint);
    return sum;
}

void Patient::setFollowing(std::uint32_t v, int j, double to) {
    const auto below = c.skeleton.subtree(j);
    std::set<int> helpers;
    for (const Driver& d : c.drivers)
        if (d.source == j && d.output == Driver::Output::Turn && !below[d.joint] &&
            roles[d.joint].role == Role::Helper)
            helpers.insert(d.joint);
    std::erase_if(weights[v], [&](const auto& w) { return helpers.count(w.first) > 0; });
    double in = 0, out = 0;
    for (const auto& [k, share] : weights[v])
        (below[k] ? in : out) += share;
    if (in < 1e-9)
        weights[v].push_back({j, in = 1e-9});
    if (out < 1e-9)
        weights[v].push_back({above(j), out = 1e-9});
    for (auto& [k, share] : weights[v])
        share *= below[k] ? to / in : (1 - to) / out;
}

Truth Patient::truth(const Fault& fault, int j) const {
    Truth t;
    t.fault = fault.fault;
    if (j >= 0) {
        t.joint = name(j);
        t.side = roles[j].side;
    }
    return t;
}

void Patient::touch(Truth& t, std::uint32_t v) const {
    const Part& part = c.parts[partOf(v)];
    t.vertices[part.name].push_back(v - part.firstVertex);
}

} // namespace hobble::demo
