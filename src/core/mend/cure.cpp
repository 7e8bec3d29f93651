#include "core/mend/cure.h"

#include "core/judge/limits.h"
#include "core/measure/reweight.h"
#include "core/mend/touched.h"
#include "core/run/measured_memory.h"

#include <algorithm>
#include <cmath>
#include <cstdio>
#include <numeric>

namespace hobble {

namespace {

constexpr double kLeastGone = 0.1; // of the trouble, to be offered at all
constexpr double kCured = 0.95;    // as good as all of it: then the smaller change is the better one

JointPairing itself(const Subject& s) {
    JointPairing out;
    out.other.resize(s.character->skeleton.name.size());
    std::iota(out.other.begin(), out.other.end(), 0);
    out.moving = out.movingPaired = out.otherMoving = static_cast<int>(out.other.size());
    out.sameBody = true;
    return out;
}

bool ofTheDifference(Kind kind) { return kind == Kind::OneSided || kind == Kind::WrongBend; }
bool ofContact(Kind kind) { return kind == Kind::Contact || kind == Kind::PokeThrough || kind == Kind::Gap; }

// The poses that show the signs: half way, at the worst, at the end of the range.
Plan posesOf(const Plan& plan, const RunResult& run, const CureGoal& goal) {
    constexpr std::size_t mostMotions = 4;
    std::map<int, std::set<double>> steps; // by motion of the plan asked for
    const auto show = [&](const std::string& id, double peak) {
        const int m = plan.find(id);
        if (m < 0 || (steps.size() >= mostMotions && !steps.count(m)))
            return;
        const Motion& motion = plan.motions[static_cast<std::size_t>(m)];
        steps[m].insert(peak);
        if (motion.span != Span::Frames) {
            steps[m].insert(peak / 2);
            steps[m].insert(motion.limit());
        }
    };
    for (int i : goal.signs) {
        const Finding& f = run.findings[static_cast<std::size_t>(i)];
        show(run.plan.motions[static_cast<std::size_t>(f.motion)].id, f.peak);
        if (ofTheDifference(f.kind))
            if (const int other = otherSideOf(run.plan, f.motion); other >= 0)
                show(run.plan.motions[static_cast<std::size_t>(other)].id, f.peak);
    }
    Plan out;
    out.name = plan.name;
    for (const auto& [m, at] : steps) {
        Motion motion = plan.motions[static_cast<std::size_t>(m)];
        motion.on = true;
        motion.steps = {0};
        for (double a : at)
            if (std::abs(a) > 1e-9)
                motion.steps.push_back(a);
        motion.steps.push_back(0);
        out.motions.push_back(std::move(motion));
    }
    return out;
}

// Of the goal's signs that are told once for a whole motion, by how much those still found pass their limit.
double toldOnce(const RunResult& told, const RunResult& run, const CureGoal& goal) {
    double sum = 0;
    for (int i : goal.signs)
        if (const Finding& f = told.findings[static_cast<std::size_t>(i)]; ofTheDifference(f.kind)) {
            double most = 0;
            for (const Finding& g : run.findings)
                if (g.kind == f.kind && g.joint == f.joint)
                    most = std::max(most, troubleOf(g.kind, g.peakValue, run.limits.of(g.kind, g.role)) - 1);
            sum += most;
        }
    return sum;
}

// The same turns in space for a character some of whose joints have other axes of their own.
Plan turnedAlike(Plan plan, const Character& before, const Character& after) {
    std::vector<std::pair<std::size_t, Quat>> turned; // from the axes of before to those of after
    for (std::size_t j = 0; j < before.skeleton.neutralWorld.size(); ++j) {
        const Transform &was = before.skeleton.neutralWorld[j], &is = after.skeleton.neutralWorld[j];
        if (was.linear() != is.linear())
            turned.emplace_back(j, rotationOf(is).inverse() * rotationOf(was));
    }
    if (turned.empty())
        return plan;
    for (Motion& m : plan.motions)
        for (const auto& [joint, by] : turned) {
            for (JointTurn& t : m.turns)
                if (t.joint == static_cast<int>(joint))
                    t.axis = by * t.axis;
            for (JointShift& t : m.shifts)
                if (t.joint == static_cast<int>(joint))
                    t.perUnit = by * t.perUnit;
            if (!m.keys)
                continue;
            auto keys = std::make_shared<std::vector<MotionKey>>(*m.keys);
            for (MotionKey& k : *keys)
                if (joint < k.pose.turn.size())
                    k.pose.turn[joint] = by * k.pose.turn[joint] * by.inverse();
            m.keys = std::move(keys);
        }
    return plan;
}

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

std::vector<double> between(FreeNumber free, double a, double b) {
    if (free == FreeNumber::Count) {
        const double middle = std::round(std::sqrt(a * b));
        return middle > a && middle < b ? std::vector{middle} : std::vector<double>{};
    }
    const double middle = a * b > 0 ? std::copysign(std::sqrt(a * b), a) : (a + b) / 2;
    return {std::round(100 * middle) / 100};
}

std::vector<Step> stepsOf(const CureFamily& family, double value) {
    std::vector<Step> out = family.steps;
    if (family.free == FreeNumber::Amount)
        out.back().amount = value;
    if (family.free == FreeNumber::Count)
        out.back().count = static_cast<int>(value);
    return out;
}

} // namespace

struct CureSearch::Tried {
    const CureFamily* family = nullptr;
    double value = 0;
    std::vector<Step> steps;
    double gain = INFINITY; // of all trouble in the poses that show it; below 0 is better
};

CureSearch::CureSearch(std::shared_ptr<const Subject> subject, Plan plan,
                       std::shared_ptr<const RunResult> run, MeasuredStore& known)
    : CureSearch(subject, {}, subject, std::move(plan), std::move(run), known) {}

CureSearch::CureSearch(std::shared_ptr<const Subject> build, std::vector<Step> done,
                       std::shared_ptr<const Subject> subject, Plan plan,
                       std::shared_ptr<const RunResult> run, MeasuredStore& known)
    : build_(std::move(build)), done_(std::move(done)), subject_(std::move(subject)), plan_(std::move(plan)),
      run_(std::move(run)), known_(known), itself_(itself(*subject_)) {}

Trial CureSearch::trialOf(const std::vector<Step>& steps) const {
    Trial out;
    out.build = build_->character->hash;
    out.steps = done_;
    out.steps.insert(out.steps.end(), steps.begin(), steps.end());
    return out;
}

std::shared_ptr<const Subject> CureSearch::with(const std::vector<Step>& steps,
                                                std::shared_ptr<const Character> character) const {
    const bool skeleton =
        std::any_of(steps.begin(), steps.end(), [](const Step& s) { return ofTheSkeleton(s.kind); });
    return std::make_shared<const Subject>(skeleton ? prepareSubject(std::move(character))
                                                    : reweighted(*subject_, std::move(character)));
}

Cures CureSearch::search(const CureGoal& goal, const CureOptions& options) const {
    Cures out;
    const std::vector<CureFamily> families = cureFamilies(*subject_, *run_, goal);
    const Plan poses = posesOf(plan_, *run_, goal);
    RunOptions quick;
    quick.method = run_->method;
    quick.limits = options.limits;
    quick.threads = options.threads;
    quick.cancel = options.progress.cancel;
    quick.causes = false;
    quick.contact = std::any_of(goal.signs.begin(), goal.signs.end(), [&](int i) {
        return ofContact(run_->findings[static_cast<std::size_t>(i)].kind);
    });
    const ComparedSide before{subject_, std::make_shared<const RunResult>(runPlan(*subject_, poses, quick))};
    const double toldBefore = toldOnce(*run_, *before.run, goal);
    TriedSteps worked(build_);
    const auto gainOf = [&](const std::vector<Step>& steps) {
        ++out.tried;
        worked.take(trialOf(steps));
        bool changes = false;
        for (std::size_t i = done_.size(); i < worked.effects().size(); ++i) {
            if (!worked.effects()[i].applies)
                return double(INFINITY);
            changes |= !worked.effects()[i].changed.empty() || worked.effects()[i].skeleton;
        }
        if (!changes)
            return double(INFINITY);
        const auto after = with(steps, worked.character());
        const auto now = std::make_shared<const RunResult>(
            runPlan(*after, turnedAlike(poses, *subject_->character, *after->character), quick));
        double gain = toldOnce(*run_, *now, goal) - toldBefore;
        for (const MeasureChange& m :
             compareRuns({before, ComparedSide{after, now}}, itself_, {options.limits}).measures)
            gain += m.over[1] - m.over[0];
        return gain;
    };
    // First what has no number to be found, then the rest on a grid.
    std::vector<Tried> tried;
    const auto stopped = [&] { return options.progress.stopped(); };
    for (const CureFamily& f : families) {
        Tried best;
        best.family = &f;
        for (double value : f.free == FreeNumber::None ? std::vector<double>{0} : f.values) {
            if (stopped())
                break;
            std::vector<Step> steps = stepsOf(f, value);
            if (const double gain = gainOf(steps); gain < best.gain) {
                best.gain = gain;
                best.value = value;
                best.steps = std::move(steps);
            }
        }
        if (best.gain < 0)
            tried.push_back(std::move(best));
        options.progress.at(0.5 * static_cast<double>(&f - families.data() + 1) /
                            static_cast<double>(families.size()));
    }
    const auto byGain = [](const Tried& a, const Tried& b) { return a.gain < b.gain; };
    std::stable_sort(tried.begin(), tried.end(), byGain);
    // The line search goes on between its neighbours for those that are ahead.
    constexpr std::size_t ahead = 3;
    for (std::size_t i = 0; i < std::min(ahead, tried.size()); ++i) {
        Tried& t = tried[i];
        std::vector<double> known = t.family->values;
        for (int round = 0; round < 2 && t.family->free != FreeNumber::None; ++round) {
            const auto at = std::find(known.begin(), known.end(), t.value);
            std::vector<double> more;
            if (at != known.begin())
                for (double v : between(t.family->free, *(at - 1), *at))
                    more.push_back(v);
            if (at + 1 != known.end())
                for (double v : between(t.family->free, *at, *(at + 1)))
                    more.push_back(v);
            for (double value : more) {
                if (stopped())
                    break;
                std::vector<Step> steps = stepsOf(*t.family, value);
                if (const double gain = gainOf(steps); gain < t.gain) {
                    t.gain = gain;
                    t.value = value;
                    t.steps = std::move(steps);
                }
                known.push_back(value);
            }
            std::sort(known.begin(), known.end());
        }
    }
    std::stable_sort(tried.begin(), tried.end(), byGain);
    // "As the other side" is always among those that are proved.
    if (const auto other =
            std::find_if(tried.begin(), tried.end(), [](const Tried& t) { return t.family->otherSide; });
        options.proved > 0 && other - tried.begin() >= static_cast<std::ptrdiff_t>(options.proved) &&
        other != tried.end())
        std::iter_swap(other, tried.begin() + static_cast<std::ptrdiff_t>(options.proved) - 1);
    tried.resize(std::min(options.proved, tried.size()));
    for (std::size_t i = 0; i < tried.size() && !stopped(); ++i) {
        Cure c = prove(tried[i].steps, goal, options);
        if (stopped())
            break;
        c.name = tried[i].family->name;
        c.otherSide = tried[i].family->otherSide;
        c.undoes = tried[i].family->undoes;
        options.progress.at(0.5 + 0.5 * static_cast<double>(i + 1) / static_cast<double>(tried.size()));
        if (c.gone() < kLeastGone || c.allIs >= c.allWas)
            continue;
        if (options.found)
            options.found(c);
        out.cures.push_back(std::move(c));
    }
    out.stopped = stopped();
    std::stable_sort(out.cures.begin(), out.cures.end(), [](const Cure& a, const Cure& b) {
        const bool cureA = a.gone() >= kCured, cureB = b.gone() >= kCured;
        if (a.harms() != b.harms())
            return b.harms();
        if (cureA != cureB)
            return cureA;
        if (cureA)
            return a.moved < b.moved; // the smallest change that cures
        // of those that do not, what takes most away; what undoes the cause is worth half as much again, for
        // it leaves a character as it was meant
        const auto worth = [](const Cure& x) { return (x.allWas - x.allIs) * (x.undoes ? 1.5 : 1); };
        return worth(a) > worth(b);
    });
    if (out.cures.empty() && !out.stopped) {
        for (const Cause& c : goal.causes)
            if (out.nothing.empty())
                out.nothing = beyondWeights(c.kind);
        if (out.nothing.empty())
            out.nothing = families.empty() ? "no skin blends there that weights could change"
                                           : "of " + std::to_string(out.tried) +
                                                 " settings tried none takes a tenth of it away";
    }
    return out;
}

Cure CureSearch::prove(const std::vector<Step>& steps, const CureGoal& goal,
                       const CureOptions& options) const {
    Cure out;
    out.steps = steps;
    TriedSteps worked(build_);
    worked.take(trialOf(steps));
    const auto after = with(steps, worked.character());
    const Plan plan = turnedAlike(plan_, *subject_->character, *after->character);
    TouchedStore store(subject_, *after, plan, known_);
    RunOptions how;
    how.method = run_->method;
    how.limits = options.limits;
    how.threads = options.threads;
    how.cancel = options.progress.cancel;
    how.causes = false;
    how.store = &store;
    const auto now = std::make_shared<const RunResult>(runPlan(*after, plan, how));
    const Differences d =
        compareRuns({ComparedSide{subject_, run_}, ComparedSide{after, now}}, itself_, {options.limits});
    // What the other side shows as much of is how the character is, and no harm.
    const auto mirrorOf = [&](int joint) { return subject_->roles[static_cast<std::size_t>(joint)].mirror; };
    const auto otherSideHas = [&](const MeasureChange& m) {
        const int mirror = mirrorOf(m.joint[1]), motion = otherSideOf(run_->plan, m.motion[0]);
        return mirror >= 0 && motion >= 0 &&
               std::any_of(d.measures.begin(), d.measures.end(), [&](const MeasureChange& o) {
                   return o.joint[0] == mirror && o.motion[0] == motion && o.kind == m.kind &&
                          o.over[0] >= 0.9 * m.over[1];
               });
    };
    const Finding& first = run_->findings[static_cast<std::size_t>(goal.signs.front())];
    out.kind = first.kind;
    out.joint = first.joint;
    out.motion = first.motion;
    out.was = first.peakValue;
    out.is = worstOf(*now, first, run_->plan.motions[static_cast<std::size_t>(first.motion)].id);
    out.limit = first.limit;
    for (const MeasureChange& m : d.measures) {
        out.allWas += m.over[0];
        out.allIs += m.over[1];
        const bool ofGoal = std::any_of(goal.signs.begin(), goal.signs.end(), [&](int i) {
            const Finding& f = run_->findings[static_cast<std::size_t>(i)];
            return f.kind == m.kind && f.joint == m.joint[0] &&
                   std::find(f.motions.begin(), f.motions.end(), m.motion[0]) != f.motions.end();
        });
        if (ofGoal) {
            out.troubleWas += m.over[0];
            out.troubleIs += m.over[1];
        }
        if (m.verdict == Change::Worse && m.trouble[1] > 1 && m.over[1] > m.over[0] && !otherSideHas(m))
            out.worse.push_back(m);
    }
    if (out.troubleWas <= 0) {
        out.troubleWas = toldOnce(*run_, *run_, goal);
        out.troubleIs = toldOnce(*run_, *now, goal);
    }
    std::stable_sort(out.worse.begin(), out.worse.end(),
                     [](const MeasureChange& a, const MeasureChange& b) { return a.change > b.change; });
    for (const Finding& f : now->findings)
        out.newFindings +=
            f.severity >= 2 &&
            std::none_of(run_->findings.begin(), run_->findings.end(), [&](const Finding& g) {
                return g.kind == f.kind &&
                       (g.joint == f.joint || (g.joint == mirrorOf(f.joint) && g.severity >= f.severity));
            });
    const SkinWeights &was = subject_->surface.weights, &is = after->surface.weights;
    std::set<std::uint16_t> joints;
    for (std::uint32_t v : changedVertices(was, is)) {
        std::map<std::uint16_t, double> by;
        for (std::uint32_t i = was.first[v]; i < was.first[v + 1]; ++i)
            by[was.joint[i]] -= static_cast<double>(was.weight[i]);
        for (std::uint32_t i = is.first[v]; i < is.first[v + 1]; ++i)
            by[is.joint[i]] += static_cast<double>(is.weight[i]);
        double moved = 0;
        for (const auto& [joint, change] : by) {
            out.most = std::max(out.most, std::abs(change));
            moved += std::abs(change) / 2;
            if (std::abs(change) > 1e-6)
                joints.insert(joint);
        }
        out.vertices += moved > 1e-6;
        out.moved += moved;
    }
    out.joints = joints.size();
    return out;
}

std::string sentence(const Cure& cure, const Subject& subject) {
    char text[320];
    std::snprintf(
        text, sizeof text, "%s at %s %.2f → %.2f (limit %.2f), %.0f %% of the trouble goes%s; over %zu %s",
        factsOf(cure.kind).word,
        subject.character->skeleton.name[static_cast<std::size_t>(cure.joint)].c_str(), cure.was, cure.is,
        cure.limit, 100 * std::max(cure.gone(), 0.0), cure.harms() ? ", and something else is worse" : "",
        cure.vertices, cure.vertices == 1 ? "vertex" : "vertices");
    return text;
}

CuredAll cureAll(std::shared_ptr<const Subject> subject, Plan plan, std::shared_ptr<const RunResult> run,
                 MeasuredStore& known, const CureOptions& options, int most) {
    CuredAll out;
    out.trial.build = subject->character->hash;
    out.subject = subject;
    out.run = run;
    std::set<std::pair<int, Kind>> asked; // joint and kind of the sign that tells a fault
    MeasuredMemory own;
    MeasuredStore* of = &known; // where what was measured of out.subject is
    for (bool more = true; more && static_cast<int>(out.taken.size()) < most;) {
        more = false;
        for (const Fault& fault : out.run->faults) {
            const CureGoal goal = goalOf(*out.run, fault);
            const Finding& tells = out.run->findings[static_cast<std::size_t>(goal.signs.front())];
            if (!asked.insert({tells.joint, tells.kind}).second)
                continue;
            if (options.progress.stopped())
                break;
            const CureSearch search(subject, out.trial.steps, out.subject, plan, out.run, *of);
            const Cures found = search.search(goal, options);
            if (found.cures.empty() || found.cures.front().harms())
                continue;
            const Cure& cure = found.cures.front();
            Trial trial = out.trial;
            trial.steps.insert(trial.steps.end(), cure.steps.begin(), cure.steps.end());
            TriedSteps worked(subject);
            worked.take(trial);
            const auto after = search.with(cure.steps, worked.character());
            Plan next = turnedAlike(plan, *out.subject->character, *after->character);
            TouchedStore store(out.subject, *after, next, *of, &own);
            RunOptions how;
            how.method = run->method;
            how.limits = options.limits;
            how.threads = options.threads;
            how.cancel = options.progress.cancel;
            how.store = &store;
            const auto now = std::make_shared<const RunResult>(runPlan(*after, next, how));
            if (now->cancelled)
                break;
            plan = std::move(next);
            out.trial = std::move(trial);
            out.taken.emplace_back(static_cast<int>(&fault - out.run->faults.data()), cure);
            own.forget(out.subject->character->hash);
            out.subject = after;
            out.run = now; // `fault` is gone with the run before
            of = &own;
            more = true;
            break;
        }
        out.stopped = options.progress.stopped();
        more = more && !out.stopped;
    }
    return out;
}

} // namespace hobble
