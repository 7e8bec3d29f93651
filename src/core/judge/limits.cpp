#include "core/judge/limits.h"

#include <algorithm>
#include <cmath>

namespace hobble {

Limits Limits::standard() {
    Limits l;
    for (Kind kind : kKinds)
        l.general[kind] = factsOf(kind).limits;
    // Deep creases: the inner side of a hinge folds into itself on every body.
    for (Role hinge :
         {Role::Elbow, Role::Knee, Role::Finger, Role::Thumb, Role::Ankle, Role::Fetlock, Role::Wrist}) {
        l.byRole[{hinge, Kind::Squash}] = {0.30, 0.15, 0.05, 0.01};
        l.byRole[{hinge, Kind::Flip}] = {0.08, 0.14, 0.22, 0.35};
        l.byRole[{hinge, Kind::Roughness}] = {1.0, 1.4, 2.0, 3.5};
        l.byRole[{hinge, Kind::Contact}] = {0.35, 0.55, 0.85, 1.10};
    }
    // A finger closes on itself: a quarter of the little flesh at its joint is in the crease.
    for (Role digit : {Role::Finger, Role::Thumb, Role::Toe})
        l.byRole[{digit, Kind::VolumeLoss}] = {0.85, 0.70, 0.55, 0.40};
    for (Role ball : {Role::Shoulder, Role::Hip, Role::Collarbone, Role::Scapula}) {
        l.byRole[{ball, Kind::Squash}] = {0.45, 0.30, 0.15, 0.05};
        l.byRole[{ball, Kind::Stretch}] = {1.6, 1.9, 2.4, 3.5};
        l.byRole[{ball, Kind::Contact}] = {0.25, 0.45, 0.85, 1.40};
    }
    // A hip's own section is the pelvis, two and more thighs wide: a twelfth of it is a fifth of the thigh
    // that goes into the belly.
    l.byRole[{Role::Hip, Kind::Contact}] = {0.08, 0.22, 0.45, 0.90};
    for (Role chain :
         {Role::Spine, Role::Neck, Role::Head, Role::Tail, Role::Ear, Role::Jaw, Role::Tongue, Role::Lid,
          Role::Toe, Role::Wing, Role::Trunk, Role::Fin, Role::Feather, Role::Dangle}) {
        l.byRole[{chain, Kind::Squash}] = {0.45, 0.30, 0.15, 0.05};
        l.byRole[{chain, Kind::Stretch}] = {1.6, 1.9, 2.4, 3.5};
    }
    // A face's thin skin: lids unroll, and what they enclose is no limb.
    for (Role thin : {Role::Lid, Role::Lip, Role::Brow, Role::Tongue, Role::Ear}) {
        l.byRole[{thin, Kind::VolumeLoss}] = {0.7, 0.5, 0.3, 0.1};
        l.byRole[{thin, Kind::Bulge}] = {1.8, 2.5, 3.5, 5.0};
        l.byRole[{thin, Kind::Pinch}] = {0.6, 0.4, 0.25, 0.1};
        l.byRole[{thin, Kind::Stretch}] = {2.2, 2.8, 3.6, 5.0};
        l.byRole[{thin, Kind::Contact}] = {0.8, 1.2, 1.8, 2.5};
    }
    return l;
}

const LimitSteps& Limits::of(Kind kind, Role role) const {
    const auto it = byRole.find({role, kind});
    return it != byRole.end() ? it->second : general.at(kind);
}

std::string whyNotLimits(Kind kind, const LimitSteps& steps) {
    double before = unchangedOf(kind);
    for (double step : steps) {
        if (!std::isfinite(step) || step < 0)
            return "limits are numbers from 0 up";
        if (faultIsAbove(kind) ? step <= before : step >= before)
            return faultIsAbove(kind)
                       ? "each limit has to lie above the one before, the first above 'unchanged'"
                       : "each limit has to lie below the one before, the first below 'unchanged'";
        before = step;
    }
    return {};
}

int severityOf(Kind kind, double value, const LimitSteps& steps) {
    int severity = 0;
    for (double limit : steps)
        severity += faultIsAbove(kind) ? value > limit : value < limit;
    // The other side alone is no witness for sending a build back.
    return kind == Kind::OneSided ? std::min(severity, 3) : severity;
}

double troubleOf(Kind kind, double value, const LimitSteps& steps) {
    const double unchanged = unchangedOf(kind);
    const double away = faultIsAbove(kind) ? value - unchanged : unchanged - value;
    const double allowed = faultIsAbove(kind) ? steps[0] - unchanged : unchanged - steps[0];
    return allowed > 0 ? std::max(0.0, away / allowed) : 0;
}

std::optional<double> valueOf(Kind kind, const ZoneMeasures& m) {
    switch (kind) {
    case Kind::Stretch:
        return m.stretch;
    case Kind::Squash:
        return m.squash;
    case Kind::VolumeLoss:
    case Kind::Bulge:
        return m.volume;
    case Kind::Pinch:
        return m.pinch;
    case Kind::Contact:
        return m.contact;
    case Kind::PokeThrough:
        return m.poke;
    case Kind::Gap:
        return m.gap;
    case Kind::Roughness:
        return m.roughness;
    case Kind::Spike:
        return std::nullopt; // a few vertices: shown by the finding, not by the zone
    case Kind::Leak:
        return m.leak;
    case Kind::Lag:
        return m.lag;
    case Kind::SoftRigidPart:
        return m.softness;
    case Kind::UnboundPart:
        return m.drift;
    case Kind::Flip:
        return m.flip;
    case Kind::Pop:
        return m.pop;
    case Kind::OneSided:
        return m.side;
    case Kind::WrongBend:
        return m.bend;
    case Kind::NotClosed:
        return m.bare;
    case Kind::ThroughLid:
        return m.through;
    }
    return std::nullopt;
}

double worstTrouble(const ZoneMeasures& measures, const Limits& limits, Role role, Kind* worst) {
    double most = 0;
    for (Kind kind : kKinds)
        if (const auto value = valueOf(kind, measures))
            if (const double t = troubleOf(kind, *value, limits.of(kind, role)); t > most) {
                most = t;
                if (worst)
                    *worst = kind;
            }
    return most;
}

} // namespace hobble
