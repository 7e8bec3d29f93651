#include "app/review/measure_line.h"
#include "app/words.h"

#include "core/judge/measure_unit.h"
#include "core/words/measure_words.h"

#include <array>
#include <cmath>

namespace hobble {

namespace {

const char* const kNames[] = {QT_TRANSLATE_NOOP("core", "stretch"), QT_TRANSLATE_NOOP("core", "squash"),
                              QT_TRANSLATE_NOOP("core", "volume"),  QT_TRANSLATE_NOOP("core", "pinch"),
                              QT_TRANSLATE_NOOP("core", "area"),    QT_TRANSLATE_NOOP("core", "shear")};
constexpr std::array kOfRun{Kind::Contact,       Kind::Roughness,   Kind::Leak,     Kind::Lag,
                            Kind::PokeThrough,   Kind::Gap,         Kind::Flip,     Kind::Pop,
                            Kind::SoftRigidPart, Kind::UnboundPart, Kind::OneSided, Kind::WrongBend,
                            Kind::NotClosed,     Kind::ThroughLid};

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

MeasureLine lineOf(const RunDesk& run, const std::vector<JointRole>& roles, const MotionResult* result,
                   int joint, int measure) {
    if (!result)
        return {};
    return measureLine(
        *result, joint, [measure](const ZoneMeasures& z) { return valueOfMeasure(measure, z); },
        [&](double value, int at) {
            return troubleOfMeasure(measure, value, run.limits(), roles[static_cast<std::size_t>(at)].role);
        });
}

} // namespace

QString nameOfMeasure(int m) { return inWords(m < FirstOfRun ? kNames[m] : nameOf(ofRun(m))); }

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
    const MeasureUnit unit = unitOf(ofRun(m), s, joint);
    return {unit.factor, QString::fromStdString(unit.suffix)};
}

QString measureWords(const Subject& s, int joint, int m, double value) {
    const auto [factor, unit] = measureUnit(s, joint, m);
    const bool small = m >= FirstOfRun && ofRun(m) != Kind::Contact && std::abs(value * factor) < 10;
    const int decimals = unit.isEmpty() ? 2 : unit == QLatin1String(" mm") && small ? 1 : 0;
    return QString::fromStdString(wordsFor(MeasureUnit{factor, decimals, unit.toStdString()}, value));
}

MeasureLines measureLines(const BuildDesk& build, const PlanDesk& plan, const RunDesk& run, int motion,
                          int joint, int measure) {
    MeasureLines out;
    const auto& subject = build.subject();
    const Motion* m = plan.motion(motion);
    if (!m || !subject)
        return out;
    const auto& roles = subject->roles;
    const int own = measure < FirstOfRun ? joint : -1;
    const int mirror = joint >= 0 ? roles[static_cast<std::size_t>(joint)].mirror : -1;
    out.here = lineOf(run, roles, run.resultOf(motion), own, measure);
    if (const int other = otherSideOf(plan.plan(), motion); other >= 0)
        out.otherSide =
            lineOf(run, roles, run.resultOf(other), own < 0 || mirror < 0 ? own : mirror, measure);
    if (run.earlier())
        out.earlier = lineOf(run, roles, run.earlier()->of(*m), own, measure);
    return out;
}

} // namespace hobble
