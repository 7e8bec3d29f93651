#include "core/mend/effect.h"

#include "core/judge/limits.h"
#include "core/judge/measure_unit.h"
#include "core/words/measure_words.h"
#include "core/words/say.h"

#include <algorithm>
#include <cmath>
#include <cstdio>
#include <numeric>

namespace hobble {

namespace {

// What a run shows of a finding's measure along its motion; what it is when nothing happens, where that is
// not defined any more.
double worstOf(const RunResult& run, const Finding& f, const std::string& motion) {
    double out = factsOf(f.kind).unchanged, most = 0;
    const int m = run.plan.find(motion);
    if (m < 0)
        return out;
    const LimitSteps& limits = run.limits.of(f.kind, f.role);
    for (const StepResult& step : run.motions[static_cast<std::size_t>(m)].steps)
        for (const JointStep& j : step.joints)
            if (const auto value = valueOf(f.kind, j.measures);
                value && j.joint == f.joint && troubleOf(f.kind, *value, limits) > most) {
                most = troubleOf(f.kind, *value, limits);
                out = *value;
            }
    return out;
}

} // namespace

bool toldOnceAMotion(Kind kind) {
    return kind == Kind::OneSided || kind == Kind::WrongBend || kind == Kind::NotClosed;
}

JointPairing sameJoints(const Subject& s) {
    JointPairing out;
    out.other.resize(s.character->skeleton.name.size());
    std::iota(out.other.begin(), out.other.end(), 0);
    out.moving = out.movingPaired = out.otherMoving = static_cast<int>(out.other.size());
    out.sameBody = true;
    return out;
}

double toldOnce(const RunResult& told, const RunResult& run, const CureGoal& goal) {
    double sum = 0;
    for (int i : goal.signs)
        if (const Finding& f = told.findings[static_cast<std::size_t>(i)]; toldOnceAMotion(f.kind)) {
            double most = 0;
            for (const Finding& g : run.findings)
                if (g.kind == f.kind && g.joint == f.joint)
                    most = std::max(most, troubleOf(g.kind, g.peakValue, run.limits.of(g.kind, g.role)) - 1);
            sum += most;
        }
    return sum;
}

MendEffect effectOf(const ComparedSide& before, const ComparedSide& after, const CureGoal& goal,
                    const Limits& limits) {
    MendEffect out;
    const Subject& subject = *before.subject;
    const RunResult &run = *before.run, &now = *after.run;
    const Differences d = compareRuns({before, after}, sameJoints(subject), {limits});
    // What the other side shows as much of is how the character is, and no harm.
    const auto mirrorOf = [&](int joint) { return subject.roles[static_cast<std::size_t>(joint)].mirror; };
    const auto otherSideHas = [&](const MeasureChange& m) {
        const int mirror = mirrorOf(m.joint[1]), motion = otherSideOf(run.plan, m.motion[0]);
        return mirror >= 0 && motion >= 0 &&
               std::any_of(d.measures.begin(), d.measures.end(), [&](const MeasureChange& o) {
                   return o.joint[0] == mirror && o.motion[0] == motion && o.kind == m.kind &&
                          o.over[0] >= 0.9 * m.over[1];
               });
    };
    if (!goal.signs.empty()) {
        const Finding& first = run.findings[static_cast<std::size_t>(goal.signs.front())];
        const std::string& id = run.plan.motions[static_cast<std::size_t>(first.motion)].id;
        out.kind = first.kind;
        out.joint = first.joint;
        out.motion = first.motion;
        out.was = first.peakValue;
        out.is = worstOf(now, first, id);
        out.limit = first.limit;
        out.before = lineOf(before, first.motion, first.joint, first.kind, limits);
        if (const int m = now.plan.find(id); m >= 0)
            out.after = lineOf(after, m, first.joint, first.kind, limits);
    }
    for (const MeasureChange& m : d.measures) {
        out.allWas += m.over[0];
        out.allIs += m.over[1];
        const bool ofGoal = std::any_of(goal.signs.begin(), goal.signs.end(), [&](int i) {
            const Finding& f = run.findings[static_cast<std::size_t>(i)];
            return f.kind == m.kind && f.joint == m.joint[0] &&
                   std::find(f.motions.begin(), f.motions.end(), m.motion[0]) != f.motions.end();
        });
        if (ofGoal) {
            out.troubleWas += m.over[0];
            out.troubleIs += m.over[1];
        }
        if (m.verdict == Change::Worse && m.trouble[1] > 1 && m.over[1] > m.over[0] && !otherSideHas(m))
            out.worse.push_back(m);
        if (m.verdict != Change::Same && !ofGoal)
            out.elsewhere.push_back(m);
    }
    if (goal.signs.empty()) {
        out.troubleWas = out.allWas;
        out.troubleIs = out.allIs;
    }
    if (out.troubleWas <= 0) {
        out.troubleWas = toldOnce(run, run, goal);
        out.troubleIs = toldOnce(run, now, goal);
    }
    std::stable_sort(out.worse.begin(), out.worse.end(),
                     [](const MeasureChange& a, const MeasureChange& b) { return a.change > b.change; });
    std::stable_sort(out.elsewhere.begin(), out.elsewhere.end(),
                     [](const MeasureChange& a, const MeasureChange& b) {
                         return std::abs(a.change) > std::abs(b.change);
                     });
    for (const Finding& f : now.findings)
        out.newFindings +=
            f.severity >= 2 && std::none_of(run.findings.begin(), run.findings.end(), [&](const Finding& g) {
                return g.kind == f.kind &&
                       (g.joint == f.joint || (g.joint == mirrorOf(f.joint) && g.severity >= f.severity));
            });
    return out;
}

std::string sentence(const MendEffect& effect, const Subject& subject) {
    std::string out;
    if (effect.joint >= 0) {
        const MeasureUnit unit = unitOf(effect.kind, subject, effect.joint);
        out = say("%s at %s %s → %s (limit %s), ", translated(factsOf(effect.kind).word).c_str(),
                  subject.character->skeleton.name[static_cast<std::size_t>(effect.joint)].c_str(),
                  wordsFor(unit, effect.was), wordsFor(unit, effect.is), wordsFor(unit, effect.limit));
    }
    const double gone = effect.gone();
    out += gone < 0 ? say("%.0f %% of the trouble is added", 100 * -gone)
                    : say("%.0f %% of the trouble goes", 100 * gone);
    if (effect.harms())
        out += say(", and something else is worse");
    return out;
}

} // namespace hobble
