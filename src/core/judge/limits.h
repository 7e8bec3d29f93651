#pragma once
// How bad is too bad: for each kind of fault four limits, from minor to blocking, by role where a joint's
// flesh is known to behave otherwise. docs/limits.md says why each is what it is.
#include "core/character/roles.h"
#include "core/measure/zone.h"

#include <array>
#include <map>
#include <optional>
#include <string>

namespace hobble {

enum class Kind {
    Stretch,
    Squash,
    VolumeLoss,
    Bulge,
    Pinch,
    Contact,
    PokeThrough,
    Gap,
    Roughness,
    Spike,
    Leak,
    SoftRigidPart,
    UnboundPart,
    Flip,
    Pop,
    OneSided,
    WrongBend
};
inline constexpr std::array kKinds{
    Kind::Stretch,     Kind::Squash, Kind::VolumeLoss, Kind::Bulge,    Kind::Pinch,    Kind::Contact,
    Kind::PokeThrough, Kind::Gap,    Kind::Roughness,  Kind::Spike,    Kind::Leak,     Kind::SoftRigidPart,
    Kind::UnboundPart, Kind::Flip,   Kind::Pop,        Kind::OneSided, Kind::WrongBend};

const char* nameOf(Kind kind);    // "volume loss"
const char* measureOf(Kind kind); // "volume": the measure it judges

using LimitSteps = std::array<double, 4>; // minor, notable, serious, blocking

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

/// Ratios below their limit are faults for squash, volume loss and pinch; all others above.
bool faultIsAbove(Kind kind);

/// What the measure is when nothing happens: 1 for ratios, 0 for the others.
double unchangedOf(Kind kind);

/// 0 within limits, 1 minor … 4 blocking.
int severityOf(Kind kind, double value, const LimitSteps& steps);

/// How far from unchanged, as a share of what is allowed: 0 unchanged, 1 at the first limit.
double troubleOf(Kind kind, double value, const LimitSteps& steps);

/// The measure a kind judges, where it is defined.
std::optional<double> valueOf(Kind kind, const ZoneMeasures& measures);

/// The worst of all kinds, as trouble; `worst` receives which.
double worstTrouble(const ZoneMeasures& measures, const Limits& limits, Role role, Kind* worst = nullptr);

} // namespace hobble
