#pragma once
// How bad is too bad: for each kind of fault four limits, from minor to blocking, by role where a joint's
// flesh is known to behave otherwise. docs/limits.md says why each is what it is.
#include "core/character/roles.h"
#include "core/judge/kind_facts.h"
#include "core/measure/zone.h"

#include <map>
#include <optional>
#include <string>

namespace hobble {

inline const char* nameOf(Kind kind) { return factsOf(kind).word; }       // "volume loss"
inline const char* measureOf(Kind kind) { return factsOf(kind).measure; } // "volume": the measure it judges

struct Limits {
    std::map<Kind, LimitSteps> general;
    std::map<std::pair<Role, Kind>, LimitSteps> byRole;
    double leastPatch = 0.01; // share of the zone's area a patch must cover to count

    bool operator==(const Limits&) const = default;

    static Limits standard();
    const LimitSteps& of(Kind kind, Role role) const;
};

/// Why the four cannot be limits of a kind, as the end of a sentence; empty when they can: each has to lie
/// farther from unchanged than the one before.
std::string whyNotLimits(Kind kind, const LimitSteps& steps);

inline bool faultIsAbove(Kind kind) { return factsOf(kind).worseAbove; }
inline double unchangedOf(Kind kind) { return factsOf(kind).unchanged; }

/// 0 within limits, 1 minor … 4 blocking.
int severityOf(Kind kind, double value, const LimitSteps& steps);

/// How far from unchanged, as a share of what is allowed: 0 unchanged, 1 at the first limit.
double troubleOf(Kind kind, double value, const LimitSteps& steps);

/// The measure a kind judges, where it is defined.
std::optional<double> valueOf(Kind kind, const ZoneMeasures& measures);

/// The worst of all kinds, as trouble; `worst` receives which.
double worstTrouble(const ZoneMeasures& measures, const Limits& limits, Role role, Kind* worst = nullptr);

} // namespace hobble
