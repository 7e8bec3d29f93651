#include "core/character/drivers.h"

#include <Eigen/Dense>

#include <algorithm>
#include <cmath>

namespace hobble {

namespace {

double degreesBetween(const Quat& a, const Quat& b) { return degrees(a.angularDistance(b)); }

double fade(double apart, double width) { return std::exp(-(apart * apart) / (width * width)); }

} // namespace

bool preparePoses(Driver& d) {
    if (d.poses.empty())
        return true;
    constexpr double kSame = 0.5; // degrees
    if (std::none_of(d.poses.begin(), d.poses.end(),
                     [](const DriverPose& p) { return degreesBetween(p.turn, Quat::Identity()) < kSame; }))
        d.poses.insert(d.poses.begin(), DriverPose{});
    const auto n = static_cast<Eigen::Index>(d.poses.size());
    const auto pose = [&](Eigen::Index i) -> const DriverPose& {
        return d.poses[static_cast<std::size_t>(i)];
    };
    double sum = 0;
    for (Eigen::Index i = 0; i < n; ++i) {
        double nearest = 180;
        for (Eigen::Index k = 0; k < n; ++k)
            if (k != i)
                nearest = std::min(nearest, degreesBetween(pose(i).turn, pose(k).turn));
        if (nearest < kSame)
            return false;
        sum += nearest;
    }
    if (!(d.width > 0))
        d.width = sum / static_cast<double>(n);
    Eigen::MatrixXd near(n, n);
    Eigen::VectorXd out(n);
    for (Eigen::Index i = 0; i < n; ++i) {
        out[i] = pose(i).out;
        for (Eigen::Index k = 0; k < n; ++k)
            near(i, k) = fade(degreesBetween(pose(i).turn, pose(k).turn), d.width);
    }
    const Eigen::VectorXd pull = near.fullPivLu().solve(out);
    if (!pull.allFinite() || !(near * pull).isApprox(out, 1e-6))
        return out.isZero();
    d.pull.assign(pull.data(), pull.data() + n);
    return true;
}

double posesOut(const Driver& d, const Quat& turn) {
    double out = 0;
    for (std::size_t i = 0; i < d.pull.size(); ++i)
        out += d.pull[i] * fade(degreesBetween(turn, d.poses[i].turn), d.width);
    return out;
}

double driverOut(const Driver& d, double degrees) {
    if (d.keys.empty())
        return 0;
    const auto after = std::upper_bound(d.keys.begin(), d.keys.end(), degrees,
                                        [](double x, const DriverKey& k) { return x < k.degrees; });
    if (after == d.keys.begin())
        return d.keys.front().out;
    if (after == d.keys.end())
        return d.keys.back().out;
    const DriverKey& a = *(after - 1);
    const double span = after->degrees - a.degrees;
    return span > 0 ? a.out + (after->out - a.out) * (degrees - a.degrees) / span : after->out;
}

double driverSlope(const Driver& d) {
    if (d.keys.size() < 2 || d.keys.back().degrees <= d.keys.front().degrees)
        return 0;
    return (d.keys.back().out - d.keys.front().out) / (d.keys.back().degrees - d.keys.front().degrees);
}

namespace {

// Whether what a driver moves leads, through others, back to what it watches.
bool waitsForItself(const std::vector<Driver>& all, const Driver& d) {
    if (d.output == Driver::Output::Target)
        return false;
    std::vector<int> reached{d.joint};
    for (std::size_t i = 0; i < reached.size(); ++i) {
        if (reached[i] == d.source)
            return true;
        for (const Driver& o : all)
            if (o.output != Driver::Output::Target && o.source == reached[i] &&
                std::find(reached.begin(), reached.end(), o.joint) == reached.end())
                reached.push_back(o.joint);
    }
    return false;
}

} // namespace

std::vector<std::string> orderDrivers(std::vector<Driver>& drivers) {
    std::vector<Driver> rest = std::move(drivers), ordered;
    std::vector<std::string> circular;
    while (!rest.empty()) {
        std::vector<Driver> waiting;
        for (Driver& d : rest) {
            const bool waits = std::any_of(rest.begin(), rest.end(), [&](const Driver& o) {
                return o.output != Driver::Output::Target && o.joint == d.source;
            });
            (waits ? waiting : ordered).push_back(d);
        }
        if (waiting.size() ==
            rest.size()) { // each waits for another: those that wait for themselves are taken out
            std::vector<Driver> others;
            for (const Driver& d : waiting)
                if (waitsForItself(waiting, d))
                    circular.push_back(d.name);
                else
                    others.push_back(d);
            waiting = std::move(others);
        }
        rest = std::move(waiting);
    }
    drivers = std::move(ordered);
    return circular;
}

} // namespace hobble
