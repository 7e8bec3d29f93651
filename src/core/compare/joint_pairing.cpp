#include "core/compare/joint_pairing.h"

#include <algorithm>
#include <map>
#include <tuple>

namespace hobble {

namespace {

std::string ownName(const std::string& name) {
    const auto at = name.find_last_of(":|");
    return at == std::string::npos ? name : name.substr(at + 1);
}

// What a joint is of a body; nothing where that names no single joint.
using BodyPlace = std::tuple<Role, Side, bool, int, int>;
std::optional<BodyPlace> placeInBody(const JointRole& r) {
    switch (r.role) {
    case Role::Unknown:
    case Role::Twist:
    case Role::Helper:
    case Role::Control:
    case Role::End:
    case Role::Dangle:
    case Role::Feather:
        return std::nullopt;
    default:
        return BodyPlace{r.role, r.side, r.fore, r.digit, r.segment};
    }
}

bool contradict(const JointRole& a, const JointRole& b) {
    const auto one = placeInBody(a), other = placeInBody(b);
    return one && other && (a.role != b.role || a.side != b.side);
}

// Those that are the only one of their kind. `legs`: a fore limb is one like any other, for an arm stands for
// it.
std::map<BodyPlace, int> onlyOnesOf(const Subject& s, bool legs) {
    std::map<BodyPlace, int> out;
    for (std::size_t j = 0; j < s.roles.size(); ++j)
        if (auto place = placeInBody(s.roles[j])) {
            if (legs)
                std::get<2>(*place) = false;
            const auto [at, first] = out.emplace(*place, static_cast<int>(j));
            if (!first)
                at->second = -1;
        }
    return out;
}

// The motion that takes one's joints to the other's (Umeyama 1991), and whether it takes nearly all of them
// there.
void findSameBody(const Subject& one, const Subject& other, JointPairing& p) {
    std::vector<std::pair<Vec3d, Vec3d>> places;
    for (std::size_t j = 0; j < p.other.size(); ++j)
        if (p.other[j] >= 0)
            places.emplace_back(one.character->skeleton.place(static_cast<int>(j)),
                                other.character->skeleton.place(p.other[j]));
    if (places.empty())
        return;
    const double height = std::max(one.body.height, 1e-9);
    const auto farther = [&](const Transform& t, double than) {
        std::size_t count = 0;
        for (const auto& [a, b] : places)
            count += (t * a - b).norm() > than;
        return count;
    };
    if (farther(Transform::Identity(), 0.002 * height) * 5 <= places.size()) {
        p.sameBody = true; // a joint that was moved on purpose moves nothing else
        return;
    }
    if (places.size() < 3)
        return;
    // Twice: the second time without what lies off, so that an arm posed otherwise does not tilt the body.
    for (int round = 0; round < 2; ++round) {
        const Transform m = bestSimilarity(places);
        if (!m.matrix().allFinite())
            return;
        p.toOther = m;
        p.scale = std::cbrt(std::abs(m.linear().determinant()));
        if (round == 0) {
            std::vector<double> off;
            for (const auto& [x, y] : places)
                off.push_back((p.toOther * x - y).norm());
            std::nth_element(off.begin(), off.begin() + off.size() / 2, off.end());
            const double middle = std::max(off[off.size() / 2], 1e-4 * height * p.scale);
            std::erase_if(
                places, [&](const auto& x) { return (p.toOther * x.first - x.second).norm() > 3 * middle; });
            if (places.size() < 3)
                return;
        }
    }
    std::size_t off = 0, all = 0;
    for (std::size_t j = 0; j < p.other.size(); ++j)
        if (p.other[j] >= 0) {
            ++all;
            off += (p.toOther * one.character->skeleton.place(static_cast<int>(j)) -
                    other.character->skeleton.place(p.other[j]))
                       .norm() > 0.02 * height * p.scale;
        }
    p.sameBody = off * 4 <= all;
    if (!p.sameBody) {
        p.toOther = Transform::Identity();
        p.scale = other.body.height / height;
    }
}

void countMoving(const Subject& one, JointPairing& p) {
    for (std::size_t j = 0; j < p.other.size(); ++j)
        if (one.roles[j].movesSkin) {
            ++p.moving;
            p.movingPaired += p.other[j] >= 0;
        }
}

} // namespace

JointPairing pairJoints(const Subject& one, const Subject& other) {
    const Skeleton &a = one.character->skeleton, &b = other.character->skeleton;
    JointPairing out;
    out.other.assign(static_cast<std::size_t>(a.size()), -1);
    std::vector<char> taken(static_cast<std::size_t>(b.size()), 0);
    const auto pair = [&](std::size_t j, int k, int& count) {
        out.other[j] = k;
        taken[static_cast<std::size_t>(k)] = 1;
        ++count;
    };
    // By the whole name, then by what remains without a namespace: exporters put one before it or take it
    // away.
    for (const bool whole : {true, false}) {
        std::map<std::string, int> names;
        for (int k = 0; k < b.size(); ++k)
            if (!taken[static_cast<std::size_t>(k)]) {
                const auto& name = b.name[static_cast<std::size_t>(k)];
                const auto [at, first] = names.emplace(whole ? name : ownName(name), k);
                if (!first)
                    at->second = -1;
            }
        for (std::size_t j = 0; j < out.other.size(); ++j) {
            if (out.other[j] >= 0)
                continue;
            const auto at = names.find(whole ? a.name[j] : ownName(a.name[j]));
            if (at == names.end() || at->second < 0 || taken[static_cast<std::size_t>(at->second)] ||
                contradict(one.roles[j], other.roles[static_cast<std::size_t>(at->second)]))
                continue;
            pair(j, at->second, out.byName);
        }
    }
    for (const bool legs : {false, true}) {
        const auto mine = onlyOnesOf(one, legs), theirs = onlyOnesOf(other, legs);
        for (const auto& [place, j] : mine) {
            const auto at = theirs.find(place);
            if (j < 0 || at == theirs.end() || at->second < 0 ||
                out.other[static_cast<std::size_t>(j)] >= 0 || taken[static_cast<std::size_t>(at->second)])
                continue;
            pair(static_cast<std::size_t>(j), at->second, out.byRole);
        }
    }
    countMoving(one, out);
    for (const JointRole& r : other.roles)
        out.otherMoving += r.movesSkin;
    findSameBody(one, other, out);
    return out;
}

JointPairing mirrorJoints(const Subject& s) {
    JointPairing out;
    for (std::size_t j = 0; j < s.roles.size(); ++j)
        out.other.push_back(s.roles[j].mirror >= 0            ? s.roles[j].mirror
                            : s.roles[j].side == Side::Middle ? static_cast<int>(j)
                                                              : -1);
    out.byRole = static_cast<int>(out.other.size());
    countMoving(s, out);
    out.otherMoving = out.moving;
    return out;
}

} // namespace hobble
