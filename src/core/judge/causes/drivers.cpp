// What follows the turn, or fades in with it: other than its mirror, missing, or the fault's own doing.
#include "core/judge/causes/case.h"

#include <algorithm>
#include <cmath>

namespace hobble {

namespace {

constexpr double kUnlikeMirror = 0.98, kIdle = 0.85;
constexpr double kHeld = 0.05;     // of the marked skin a helper has to hold to count
constexpr double kLeastGone = 0.5; // of the finding without the drivers
constexpr double kTriedLeast = 0.55, kTriedMore = 0.35;

// By how much two drivers may differ for the same turn, in what they put out: degrees, a share of the body's
// height, weight of a shape.
double mayDiffer(const Case& c, Driver::Output output) {
    switch (output) {
    case Driver::Output::Turn:
        return 8;
    case Driver::Output::Shift:
        return 0.01 * c.subject.body.height;
    case Driver::Output::Target:
        return 0.1;
    }
    return 8;
}

const Driver* twinOf(const Case& c, const Driver& d) {
    const int source = c.subject.roles[static_cast<std::size_t>(d.source)].mirror;
    if (source < 0 || d.output == Driver::Output::Target)
        return nullptr;
    for (const Driver& o : c.subject.character->drivers)
        if (o.output == d.output && o.source == source &&
            o.joint == c.subject.roles[static_cast<std::size_t>(d.joint)].mirror)
            return &o;
    return nullptr;
}

bool driven(const Case& c, int joint) {
    const auto& drivers = c.subject.character->drivers;
    return std::any_of(drivers.begin(), drivers.end(), [&](const Driver& d) {
        return d.output != Driver::Output::Target && d.joint == joint;
    });
}

bool holdsMarked(const Case& c, int joint) {
    std::vector<char> in(c.skeleton().name.size(), 0);
    in[static_cast<std::size_t>(joint)] = 1;
    double sum = 0;
    for (std::uint32_t v : c.marked)
        sum += c.subject.surface.weightOn(v, in);
    return sum > kHeld * static_cast<double>(c.marked.size());
}

// The same driver missing on the other side, or with other keys. Which of the two is wrong is not known; that
// they differ is.
void againstMirror(const Case& c, Causes& found) {
    constexpr double farthest = 120, step = 20; // degrees of the source at which they are compared
    for (const Driver& d : c.subject.character->drivers) {
        const bool ours = c.watches(d);
        const Driver* twin = twinOf(c, d);
        if (ours && twin) {
            double apart = 0;
            for (double x = -farthest; x <= farthest; x += step)
                apart = std::max(apart, std::abs(std::abs(driverOut(d, x)) - std::abs(driverOut(*twin, x))));
            if (apart > mayDiffer(c, d.output))
                found.push_back({CauseKind::DriverOrCorrective, kUnlikeMirror,
                                 fact::DriversDiffer{d.name, twin->name, apart, d.output}});
        }
        if (!ours && !twin && c.subject.roles[static_cast<std::size_t>(d.source)].mirror == c.joint() &&
            d.output == Driver::Output::Turn && c.roleOf(d.joint) == Role::Helper) {
            const int idle = c.subject.roles[static_cast<std::size_t>(d.joint)].mirror;
            if (idle >= 0 && holdsMarked(c, idle))
                found.push_back({CauseKind::DriverOrCorrective, kUnlikeMirror,
                                 fact::FollowsNothing{idle, d.joint, d.source}});
        }
    }
}

// Tried: everything that fades in or follows, one kind at a time, switched off.
void without(const Case& c, Causes& found) {
    const auto& drivers = c.subject.character->drivers;
    for (const auto output : {Driver::Output::Target, Driver::Output::Turn}) {
        std::vector<char> off(drivers.size(), 0);
        bool any = false;
        for (std::size_t i = 0; i < drivers.size(); ++i) {
            off[i] = drivers[i].output == output && c.watches(drivers[i]);
            any = any || off[i];
        }
        if (!any)
            continue;
        if (const double share = std::min(c.gone(c.method, &off), 1.0); share > kLeastGone)
            found.push_back({CauseKind::DriverOrCorrective, kTriedLeast + kTriedMore * share,
                             fact::GoesWithoutDrivers{output == Driver::Output::Target, c.joint(), share}});
    }
}

} // namespace

void askDrivers(const Case& c, Causes& found) {
    againstMirror(c, found);
    // A helper that nothing drives on either side.
    for (int j = 0; j < c.skeleton().size(); ++j)
        if (c.roleOf(j) == Role::Helper && !driven(c, j) && holdsMarked(c, j) &&
            !among(found, {CauseKind::DriverOrCorrective}))
            found.push_back({CauseKind::DriverOrCorrective, kIdle, fact::FollowsNothing{j, -1, -1}});
    if (c.ofTheShape())
        without(c, found);
}

} // namespace hobble
