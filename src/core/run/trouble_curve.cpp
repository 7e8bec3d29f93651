#include "core/run/trouble_curve.h"

#include <algorithm>
#include <cmath>

namespace hobble {

TroubleCurve troubleCurve(const std::vector<JointRole>& roles, const MotionResult& result,
                          const Limits& limits, std::optional<Kind> only) {
    TroubleCurve c;
    for (std::size_t i = 0; i + 1 < result.steps.size(); ++i) { // the last step is neutral again
        double most = 0;
        for (const JointStep& j : result.steps[i].joints) {
            const Role role = roles[static_cast<std::size_t>(j.joint)].role;
            for (Kind k : kKinds)
                if (const auto v = valueOf(k, j.measures); v && (!only || k == *only)) {
                    most = std::max(most, troubleOf(k, *v, limits.of(k, role)));
                    c.severity = std::max(c.severity, severityOf(k, *v, limits.of(k, role)));
                }
        }
        const double at = result.steps[i].at;
        if (c.onset < 0 && most > 1) {
            const double before = i ? c.trouble.back() : 0, from = i ? c.at.back() : 0;
            c.onset = from + (at - from) * (1 - before) / std::max(most - before, 1e-9);
        }
        if (most > c.worst) {
            c.worst = most;
            if (most > 1)
                c.peak = at;
        }
        c.at.push_back(at);
        c.trouble.push_back(most);
    }
    return c;
}

double troubleAt(const TroubleCurve& c, double at) {
    for (std::size_t i = 1; i < c.at.size(); ++i)
        if (at <= c.at[i]) {
            const double t = (at - c.at[i - 1]) / std::max(c.at[i] - c.at[i - 1], 1e-9);
            return c.trouble[i - 1] + t * (c.trouble[i] - c.trouble[i - 1]);
        }
    return c.trouble.empty() ? 0 : c.trouble.back();
}

double changeSince(const TroubleCurve& before, const TroubleCurve& now, double* where) {
    double most = 0;
    for (std::size_t i = 0; i < now.at.size() && !before.at.empty(); ++i) {
        if (now.at[i] > before.at.back() + 1e-6)
            break;
        const double was = troubleAt(before, now.at[i]), change = now.trouble[i] - was;
        if (std::abs(change) >= kLeastChange && std::max(was, now.trouble[i]) >= kNearLimit &&
            std::abs(change) > std::abs(most)) {
            most = change;
            if (where)
                *where = now.at[i];
        }
    }
    return most;
}

void SharedCurve::add(int motion, double limit, const TroubleCurve& member) {
    constexpr int steps = 20;
    if (curve.at.empty())
        for (int k = 0; k <= steps; ++k) {
            curve.at.push_back(k * 100.0 / steps);
            curve.trouble.push_back(0);
        }
    for (int k = 0; k <= steps; ++k) {
        double& here = curve.trouble[static_cast<std::size_t>(k)];
        here = std::max(here, troubleAt(member, limit * k / steps));
    }
    curve.severity = std::max(curve.severity, member.severity);
    if (member.worst >= curve.worst || worst < 0) {
        curve.worst = member.worst;
        worst = motion;
        curve.peak = member.peak < 0 ? -1 : 100 * member.peak / limit;
    }
}

MeasureLine measureLine(const MotionResult& result, int joint,
                        const std::function<std::optional<double>(const ZoneMeasures&)>& value,
                        const std::function<double(double, int)>& trouble) {
    MeasureLine line;
    for (std::size_t i = 0; i + 1 < result.steps.size(); ++i) // the last step is neutral again
        for (const JointStep& j : result.steps[i].joints)
            if (j.joint == joint || joint < 0)
                if (const auto v = value(j.measures)) {
                    line.at.push_back(result.steps[i].at);
                    line.value.push_back(*v);
                    line.trouble.push_back(trouble(*v, j.joint));
                    break;
                }
    return line;
}

std::optional<double> valueAlong(const MotionResult& result, double at,
                                 const std::function<std::optional<double>(const StepResult&)>& value) {
    std::optional<double> before;
    double from = 0;
    for (std::size_t i = 0; i + 1 < result.steps.size(); ++i) {
        const auto here = value(result.steps[i]);
        const double place = result.steps[i].at;
        if (place >= at || i + 2 == result.steps.size()) {
            const double t =
                before && here && place > from ? std::clamp((at - from) / (place - from), 0.0, 1.0) : 1;
            return here && before ? std::optional(*before + t * (*here - *before)) : here;
        }
        before = here;
        from = place;
    }
    return std::nullopt;
}

std::optional<double> valueOn(const MeasureLine& line, double at) {
    if (line.at.empty() || at > line.at.back() + 1e-6)
        return std::nullopt;
    for (std::size_t i = 0; i < line.at.size(); ++i)
        if (at <= line.at[i]) {
            if (i == 0)
                return line.value[0];
            const double t = (at - line.at[i - 1]) / std::max(line.at[i] - line.at[i - 1], 1e-9);
            return line.value[i - 1] + t * (line.value[i] - line.value[i - 1]);
        }
    return line.value.back();
}

} // namespace hobble
