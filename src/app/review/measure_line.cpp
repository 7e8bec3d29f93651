#include "app/review/measure_line.h"

#include <array>
#include <cmath>

namespace hobble {

namespace {

const char* const kNames[] = {QT_TRANSLATE_NOOP("measure", "stretch"), QT_TRANSLATE_NOOP("measure", "squash"),
                              QT_TRANSLATE_NOOP("measure", "volume"),  QT_TRANSLATE_NOOP("measure", "pinch"),
                              QT_TRANSLATE_NOOP("measure", "area"),    QT_TRANSLATE_NOOP("measure", "shear")};
constexpr std::array kOfRun{Kind::Contact,     Kind::Roughness, Kind::Leak,     Kind::PokeThrough,
                            Kind::Gap,         Kind::Flip,      Kind::Pop,      Kind::SoftRigidPart,
                            Kind::UnboundPart, Kind::OneSided,  Kind::WrongBend};

Kind ofRun(int m) { return kOfRun[static_cast<std::size_t>(m - FirstOfRun)]; }

static_assert(kMeasureCount == FirstOfRun + static_cast<int>(kOfRun.size()));

double troubleOfMeasure(int m, double value, const Limits& limits, Role role) {
    if (m == Area) // without limits: drawn at a scale of their own
        return std::abs(value - 1) / 0.5;
    if (m == Shear)
        return (value - 1) / 2;
    const auto kind = kindOfMeasure(m, value);
    return kind ? troubleOf(*kind, value, limits.of(*kind, role)) : 0;
}

MeasureLine lineOf(const Session& session, const MotionResult* result, int joint, int measure) {
    MeasureLine line;
    if (!result)
        return line;
    const auto& steps = result->steps;
    for (std::size_t i = 0; i + 1 < steps.size(); ++i) // the last step is neutral again
        for (const JointStep& j : steps[i].joints)
            if (j.joint == joint || joint < 0)
                if (const auto v = valueOfMeasure(measure, j.measures)) {
                    line.degrees.push_back(steps[i].degrees);
                    line.value.push_back(*v);
                    line.trouble.push_back(
                        troubleOfMeasure(measure, *v, session.limits(),
                                         session.subject()->roles[static_cast<std::size_t>(j.joint)].role));
                    break;
                }
    return line;
}

} // namespace

QString nameOfMeasure(int m) {
    return m < FirstOfRun ? QLatin1String(kNames[m]) : QLatin1String(nameOf(ofRun(m)));
}

std::optional<double> valueOfMeasure(int m, const ZoneMeasures& z) {
    switch (m) {
    case Stretch:
        return z.stretch;
    case Squash:
        return z.squash;
    case Volume:
        return z.volume;
    case Pinch:
        return z.pinch;
    case Area:
        return z.area;
    case Shear:
        return z.shear;
    default:
        return valueOf(ofRun(m), z);
    }
}

std::optional<Kind> kindOfMeasure(int m, double value) {
    switch (m) {
    case Stretch:
        return Kind::Stretch;
    case Squash:
        return Kind::Squash;
    case Volume:
        return value > 1 ? Kind::Bulge : Kind::VolumeLoss;
    case Pinch:
        return Kind::Pinch;
    case Area:
    case Shear:
        return std::nullopt;
    default:
        return ofRun(m);
    }
}

std::pair<double, QString> measureUnit(const Subject& s, int joint, int m) {
    if (m < FirstOfRun)
        return {1, {}};
    switch (ofRun(m)) {
    case Kind::Contact:
        return {1000 * s.zones[static_cast<std::size_t>(joint)].limbRadius, QStringLiteral(" mm")};
    case Kind::Leak:
    case Kind::PokeThrough:
    case Kind::Gap:
    case Kind::Pop:
    case Kind::UnboundPart:
        return {1000 * s.body.height, QStringLiteral(" mm")};
    case Kind::Flip:
    case Kind::SoftRigidPart:
        return {100, QStringLiteral(" %")};
    case Kind::WrongBend:
        return {1, QStringLiteral("°")};
    default:
        return {1, {}};
    }
}

QString measureWords(const Subject& s, int joint, int m, double value) {
    const auto [factor, unit] = measureUnit(s, joint, m);
    const bool small = m >= FirstOfRun && ofRun(m) != Kind::Contact && std::abs(value * factor) < 10;
    const int decimals = unit.isEmpty() ? 2 : unit == QLatin1String(" mm") && small ? 1 : 0;
    return QString::number(value * factor, 'f', decimals) + unit;
}

int otherSideOf(const Plan& plan, int motion) {
    const Motion& m = plan.motions[static_cast<std::size_t>(motion)];
    if (m.side != Side::Middle)
        for (int k = 0; k < static_cast<int>(plan.motions.size()); ++k) {
            const Motion& other = plan.motions[static_cast<std::size_t>(k)];
            if (k != motion && other.name == m.name && other.limb == m.limb)
                return k;
        }
    return -1;
}

MeasureLines measureLines(const Session& session, int motion, int joint, int measure) {
    MeasureLines out;
    if (motion < 0 || !session.subject())
        return out;
    const int own = measure < FirstOfRun ? joint : -1;
    const int mirror = joint >= 0 ? session.subject()->roles[static_cast<std::size_t>(joint)].mirror : -1;
    out.here = lineOf(session, session.resultOf(motion), own, measure);
    if (const int other = otherSideOf(session.plan(), motion); other >= 0)
        out.otherSide =
            lineOf(session, session.resultOf(other), own < 0 || mirror < 0 ? own : mirror, measure);
    if (session.earlier())
        out.earlier =
            lineOf(session, session.earlier()->of(session.plan().motions[static_cast<std::size_t>(motion)]),
                   own, measure);
    return out;
}

} // namespace hobble
