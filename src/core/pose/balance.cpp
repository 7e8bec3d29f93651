#include "core/pose/balance.h"
#include "core/words/say.h"

#include <algorithm>
#include <cmath>

namespace hobble {

namespace {

Vec3d centreOfVolume(const Character& c, const std::vector<Vec3>& at) {
    Vec3d middle = Vec3d::Zero(); // about which parts that are open count least
    for (const Vec3& p : at)
        middle += p.cast<double>();
    middle /= std::max<double>(1, static_cast<double>(at.size()));
    double volume = 0;
    Vec3d sum = Vec3d::Zero();
    for (const Triangle& t : c.triangles) {
        const Vec3d p = at[t[0]].cast<double>() - middle, q = at[t[1]].cast<double>() - middle,
                    r = at[t[2]].cast<double>() - middle;
        const double six = p.dot(q.cross(r));
        volume += six;
        sum += six * (p + q + r) / 4;
    }
    return std::abs(volume) > 1e-12 ? Vec3d(middle + sum / volume) : middle;
}

double turn(const Eigen::Vector2d& a, const Eigen::Vector2d& b, const Eigen::Vector2d& c) {
    return (b - a).x() * (c - a).y() - (b - a).y() * (c - a).x();
}

// Counter-clockwise (Andrew 1979, "Another Efficient Algorithm for Convex Hulls in Two Dimensions").
std::vector<Eigen::Vector2d> hullOf(std::vector<Eigen::Vector2d> points) {
    std::sort(points.begin(), points.end(), [](const Eigen::Vector2d& a, const Eigen::Vector2d& b) {
        return a.x() < b.x() || (a.x() == b.x() && a.y() < b.y());
    });
    std::vector<Eigen::Vector2d> hull;
    for (int pass = 0; pass < 2; ++pass) {
        const std::size_t start = hull.size();
        for (const Eigen::Vector2d& p : points) {
            while (hull.size() >= start + 2 && turn(hull[hull.size() - 2], hull.back(), p) <= 0)
                hull.pop_back();
            hull.push_back(p);
        }
        hull.pop_back();
        std::reverse(points.begin(), points.end());
    }
    return hull;
}

} // namespace

Balance balanceOf(const Character& c, const std::vector<JointRole>& roles, const BodyFrame& body,
                  const std::vector<Vec3>& posed) {
    Balance out;
    std::vector<char> foot(roles.size(), 0);
    for (std::size_t j = 0; j < roles.size(); ++j) {
        const Role r = roles[j].role;
        const int p = c.skeleton.parent[j];
        foot[j] = r == Role::Ankle || r == Role::Toe || r == Role::Fetlock ||
                  (roles[j].fore && r == Role::Wrist) || (p >= 0 && foot[static_cast<std::size_t>(p)]);
    }
    std::vector<std::uint32_t> soles;
    double floor = INFINITY;
    for (std::uint32_t v = 0; v < posed.size(); ++v) {
        double held = 0;
        for (std::uint32_t i = c.weights.first[v]; i < c.weights.first[v + 1]; ++i)
            held += foot[c.weights.joint[i]] ? static_cast<double>(c.weights.weight[i]) : 0;
        if (held < 0.5)
            continue;
        soles.push_back(v);
        floor = std::min(floor, posed[v].cast<double>().dot(body.up));
    }
    std::vector<Eigen::Vector2d> points;
    for (std::uint32_t v : soles) {
        const Vec3d p = posed[v].cast<double>();
        if (p.dot(body.up) < floor + 0.03 * body.height)
            points.push_back({p.dot(body.left), p.dot(body.forward)});
    }
    if (points.size() < 3)
        return out;
    const std::vector<Eigen::Vector2d> hull = hullOf(std::move(points));
    if (hull.size() < 3)
        return out;
    const auto onGround = [&](const Eigen::Vector2d& p) {
        return Vec3d(p.x() * body.left + p.y() * body.forward + floor * body.up);
    };
    const Vec3d centre = centreOfVolume(c, posed);
    const Eigen::Vector2d at(centre.dot(body.left), centre.dot(body.forward));
    out.known = true;
    out.centre = onGround(at);
    bool inside = true;
    double nearest = INFINITY;
    Eigen::Vector2d way = Eigen::Vector2d::Zero();
    for (std::size_t i = 0; i < hull.size(); ++i) {
        const Eigen::Vector2d &a = hull[i], &b = hull[(i + 1) % hull.size()];
        out.support.push_back(onGround(a));
        inside &= turn(a, b, at) >= 0;
        const double t = std::clamp((at - a).dot(b - a) / std::max((b - a).squaredNorm(), 1e-18), 0.0, 1.0);
        const Eigen::Vector2d off = at - (a + t * (b - a));
        if (off.norm() < nearest) {
            nearest = off.norm();
            way = off;
        }
    }
    if (!inside && nearest > 1e-9) {
        out.out = nearest;
        out.towards = (way.x() * body.left + way.y() * body.forward).normalized();
    }
    return out;
}

std::string wordsFor(const Balance& b, const BodyFrame& body) {
    if (!b.known)
        return say("no feet on the ground");
    if (b.out <= 0)
        return say("stands");
    const double front = b.towards.dot(body.forward), left = b.towards.dot(body.left),
                 cm = std::max(100 * b.out, 1.0);
    if (std::abs(front) >= std::abs(left))
        return front > 0 ? say("would tip forward by %.0f cm", cm) : say("would tip backward by %.0f cm", cm);
    return left > 0 ? say("would tip to its left by %.0f cm", cm)
                    : say("would tip to its right by %.0f cm", cm);
}

} // namespace hobble
