#include "core/judge/limits.h"

#include <algorithm>

namespace hobble {

const char* nameOf(Kind kind) {
    static const char* names[] = {"stretch", "squash", "volume loss", "bulge", "pinch"};
    return names[static_cast<int>(kind)];
}

const char* measureOf(Kind kind) {
    static const char* names[] = {"stretch", "squash", "volume", "volume", "pinch"};
    return names[static_cast<int>(kind)];
}

Limits Limits::standard() {
    Limits l;
    l.general[Kind::Stretch] = {1.35, 1.6, 2.0, 3.0};
    l.general[Kind::Squash] = {0.65, 0.50, 0.35, 0.20};
    l.general[Kind::VolumeLoss] = {0.92, 0.85, 0.75, 0.60};
    l.general[Kind::Bulge] = {1.08, 1.15, 1.30, 1.50};
    l.general[Kind::Pinch] = {0.85, 0.70, 0.50, 0.30};
    return l;
}

const LimitSteps& Limits::of(Kind kind, Role role) const {
    const auto it = byRole.find({role, kind});
    return it != byRole.end() ? it->second : general.at(kind);
}

bool faultIsAbove(Kind kind) { return kind == Kind::Stretch || kind == Kind::Bulge; }

int severityOf(Kind kind, double value, const LimitSteps& steps) {
    int severity = 0;
    for (double limit : steps)
        severity += faultIsAbove(kind) ? value > limit : value < limit;
    return severity;
}

double troubleOf(Kind kind, double value, const LimitSteps& steps) {
    const double away = faultIsAbove(kind) ? value - 1 : 1 - value;
    const double allowed = faultIsAbove(kind) ? steps[0] - 1 : 1 - steps[0];
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
