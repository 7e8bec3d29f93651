#include "core/pose/closing_motion.h"

#include "core/character/joint_words.h"

#include <algorithm>
#include <array>
#include <cmath>

namespace hobble {

namespace {

using Words = std::vector<std::string>;

bool has(const Words& words, std::initializer_list<const char*> any) {
    return std::any_of(words.begin(), words.end(), [&](const std::string& w) {
        return std::any_of(any.begin(), any.end(), [&](const char* a) { return w == a; });
    });
}

constexpr float kHolds = 0.5f; // of a vertex: it is the lid's

float shareOf(const SkinWeights& w, std::uint32_t v, int joint) {
    float own = 0, all = 0;
    for (std::uint32_t i = w.first[v]; i < w.first[v + 1]; ++i) {
        all += w.weight[i];
        if (w.joint[i] == joint)
            own += w.weight[i];
    }
    return all > 0 ? own / all : 0.f;
}

Side sideIn(const Words& words) {
    const bool left = has(words, {"left", "l"}), right = has(words, {"right", "r"});
    return left == right ? Side::Middle : left ? Side::Left : Side::Right;
}

} // namespace

Closing closingOf(const Motion& motion) {
    if (motion.span != Span::Percent || motion.keys)
        return {};
    const Words words = wordsOf(motion.name);
    const Side side = motion.side != Side::Middle ? motion.side : sideIn(words);
    const bool half = has(words, {"half", "squint", "narrow"});
    const bool shut = has(words, {"close", "closed", "closing", "shut"});
    if (!half && (has(words, {"blink", "blinks", "blinking", "wink"}) ||
                  (shut && has(words, {"eye", "eyes", "lid", "lids"}))))
        return {Closes::Eyes, side};
    if (!half &&
        ((shut && has(words, {"mouth", "lip", "lips", "jaw"})) ||
         (has(words, {"lip", "lips", "mouth"}) && has(words, {"together", "meet", "press", "pressed"}))))
        return {Closes::Mouth, Side::Middle};
    return {};
}

Vec3d lidAxis(const Character& c, int lid, const Vec3d& across) {
    const Vec3d pivot = c.skeleton.place(lid);
    std::vector<Vec3d> at;
    Vec3d middle = Vec3d::Zero();
    for (std::uint32_t v = 0; v < c.vertexCount(); ++v)
        if (shareOf(c.weights, v, lid) >= kHolds) {
            at.push_back(c.neutral[v].cast<double>() - pivot);
            middle += at.back();
        }
    if (at.size() < 6)
        return across;
    middle /= static_cast<double>(at.size());
    Eigen::Matrix3d spread = Eigen::Matrix3d::Zero();
    for (const Vec3d& p : at)
        spread += (p - middle) * (p - middle).transpose();
    Vec3d axis = singularValues(spread).u.col(0);
    axis -= axis.dot(unitOrZero(middle)) * unitOrZero(middle);
    axis = unitOrZero(axis);
    const double along = axis.dot(across);
    constexpr double cos50 = 0.64;
    return std::abs(along) < cos50 ? across : along < 0 ? Vec3d(-axis) : axis;
}

double degreesToClose(const Character& c, const JointTurn& turn) {
    constexpr float holdsNot = 0.25f;                     // of a vertex: it is not the lid's
    constexpr double nearRadius = 0.35, nearMiddle = 0.5; // of the lid's radius
    constexpr double leastShare = 0.8; // of a rim: what lags more is a fault, and not turned for
    constexpr int stations = 5;        // along the lid
    const auto joint = static_cast<std::size_t>(turn.joint);
    const Transform& world = c.skeleton.neutralWorld[joint];
    const Vec3d pivot = world.translation();
    const Vec3d axis = (rotationOf(world) * turn.axis).normalized();
    const auto acrossOf = [&](std::uint32_t v) -> Vec3d {
        const Vec3d at = c.neutral[v].cast<double>() - pivot;
        return at - at.dot(axis) * axis;
    };
    // The lid's own skin: where it lies, and how far out.
    Vec3d middle = Vec3d::Zero();
    double along = 0, radius = 0;
    std::vector<std::uint32_t> own;
    std::vector<char> partly(c.parts.size(), 0); // parts that it holds skin of
    for (std::size_t p = 0; p < c.parts.size(); ++p)
        for (std::uint32_t v = c.parts[p].firstVertex; v < c.parts[p].firstVertex + c.parts[p].vertexCount;
             ++v)
            if (shareOf(c.weights, v, turn.joint) >= kHolds) {
                own.push_back(v);
                partly[p] = 1;
                middle += acrossOf(v);
                along += (c.neutral[v].cast<double>() - pivot).dot(axis);
                radius = std::max(radius, acrossOf(v).norm());
            }
    if (own.size() < 3 || middle.norm() < 1e-9)
        return 0;
    along /= static_cast<double>(own.size());
    const Vec3d from = middle.normalized(), to = axis.cross(from);
    const auto angleOf = [&](const Vec3d& at) { return std::atan2(at.dot(to), at.dot(from)); };
    const auto opposite = [&](std::uint32_t v) { // a place in front of the lid's middle, as far out as it
        return std::abs(acrossOf(v).norm() - radius) < nearRadius * radius &&
               std::abs((c.neutral[v].cast<double>() - pivot).dot(axis) - along) < nearMiddle * radius;
    };
    const auto stationOf = [&](std::uint32_t v) {
        const double off = (c.neutral[v].cast<double>() - pivot).dot(axis) - along; // ± nearMiddle · radius
        return std::clamp(static_cast<int>((off / (nearMiddle * radius) + 1) / 2 * stations), 0,
                          stations - 1);
    };
    std::array<double, stations> rim{}, met{}, share{};
    rim.fill(-INFINITY);
    met.fill(INFINITY);
    for (std::uint32_t v : own)
        if (opposite(v)) {
            double& at = rim[static_cast<std::size_t>(stationOf(v))];
            if (const double angle = angleOf(acrossOf(v)); angle > at) {
                at = angle;
                share[static_cast<std::size_t>(stationOf(v))] =
                    static_cast<double>(shareOf(c.weights, v, turn.joint));
            }
        }
    for (std::size_t p = 0; p < c.parts.size(); ++p)
        if (partly[p])
            for (std::uint32_t v = c.parts[p].firstVertex;
                 v < c.parts[p].firstVertex + c.parts[p].vertexCount; ++v)
                if (opposite(v) && shareOf(c.weights, v, turn.joint) <= holdsNot) {
                    const auto k = static_cast<std::size_t>(stationOf(v));
                    if (const double angle = angleOf(acrossOf(v)); angle > rim[k])
                        met[k] = std::min(met[k], angle);
                }
    double most = 0;
    for (std::size_t k = 0; k < stations; ++k)
        if (std::isfinite(rim[k]) && std::isfinite(met[k]))
            most = std::max(most, degrees(met[k] - rim[k]) / std::max(share[k], leastShare));
    return most;
}

} // namespace hobble
