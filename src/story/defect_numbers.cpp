#include "story/defect_numbers.h"

#include "core/words/measure_words.h"
#include "io/run_curves.h"

#include <algorithm>
#include <cmath>

namespace hobble {

std::vector<BuildNumber> numbersOf(const DefectFacts& facts, const QVector<KeptRun>& runs,
                                   const Limits& limits) {
    std::vector<BuildNumber> out;
    const auto kind = std::find_if(kKinds.begin(), kKinds.end(),
                                   [&](Kind k) { return facts.kind == QLatin1String(nameOf(k)); });
    if (kind == kKinds.end())
        return out;
    const Role role = roleCalled(facts.role.toStdString()).value_or(Role::Unknown);
    // Only this joint of the curves is read.
    Skeleton one;
    one.name = {facts.joint.toStdString()};
    one.parent = {-1};
    one.neutralLocal.assign(1, Transform::Identity());
    one.neutralWorld.assign(1, Transform::Identity());
    for (const KeptRun& run : runs) {
        const auto curves = curvesFromJson(run.curves.toStdString(), one);
        if (!curves)
            continue;
        const auto motion = curves->find(facts.motion.toStdString());
        if (motion == curves->end())
            continue;
        BuildNumber n;
        n.build = run.build;
        n.at = run.at;
        double nearest = 1e300, trouble = -1;
        for (const StepResult& step : motion->second.steps)
            for (const JointStep& j : step.joints) {
                const auto value = j.joint == 0 ? valueOf(*kind, j.measures) : std::nullopt;
                if (!value)
                    continue;
                n.curve.emplace_back(step.at, *value);
                if (const double off = std::abs(step.at - facts.degrees); off < nearest) {
                    nearest = off;
                    n.here = *value;
                }
                if (const double t = troubleOf(*kind, *value, limits.of(*kind, role)); t > trouble) {
                    trouble = t;
                    n.worst = *value;
                }
            }
        if (n.curve.empty())
            continue;
        if (n.curve.size() > 1 && n.curve.back().first < n.curve[n.curve.size() - 2].first)
            n.curve.pop_back(); // back in neutral
        std::sort(n.curve.begin(), n.curve.end());
        n.severity = severityOf(*kind, n.worst, limits.of(*kind, role));
        out.push_back(std::move(n));
    }
    return out;
}

QString numberWords(const DefectFacts& facts, double value) {
    const QStringList unit = facts.unit.split(QLatin1Char('|'));
    if (unit.size() != 3)
        return QString::fromStdString(wordsFor(MeasureUnit{}, value));
    return QString::fromStdString(
        wordsFor(MeasureUnit{unit[0].toDouble(), unit[1].toInt(), unit[2].toStdString()}, value));
}

} // namespace hobble
