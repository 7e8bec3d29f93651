#include "core/mend/cure.h"

#include "core/judge/limits.h"
#include "core/mend/touched.h"
#include "core/run/measured_memory.h"

#include <algorithm>
#include <cmath>
#include <cstdio>
#include <functional>
#include <optional>
#include <set>
#include <span>
#include <tbb/enumerable_thread_specific.h>
#include <tbb/parallel_for.h>
#include <tbb/task_arena.h>

namespace hobble {

namespace {

constexpr double kLeastGone = 0.1;  // of the trouble, to be offered at all
constexpr double kCured = 0.95;     // as good as all of it: then the smaller change is the better one
constexpr double kPeakAlike = 0.05; // of what the peak has past its limit
// Where more joints besides the fault's come off worse than these, nobody wants the cure: it is not proved
// while another is left.
constexpr std::size_t kMostHarmed = 3;

// The share of what the sign that tells the fault has past its limit, at its worst, that goes.
double peakGone(const MendEffect& e) {
    const double past = e.was - e.limit;
    return e.joint < 0 || past == 0 ? 1 : std::min((e.was - e.is) / past, 1.0);
}

bool movesJoints(const std::vector<Step>& steps) {
    return std::any_of(steps.begin(), steps.end(), [](const Step& s) { return changesSkeleton(s.kind); });
}
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
        if (toldOnceAMotion(f.kind))
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

// Every motion's end of range alone: a glance at the whole plan.
Plan endsOf(const Plan& plan) {
    Plan out;
    out.name = plan.name;
    for (Motion motion : plan.motions)
        if (motion.on && motion.span != Span::Frames) {
            motion.steps = {0, motion.limit(), 0};
            out.motions.push_back(std::move(motion));
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
    double gain = INFINITY;                 // of all trouble in the poses that show it; below 0 is better
    std::optional<std::size_t> harmed = {}; // joints besides the fault's that a glance sees worse off
};

CureSearch::CureSearch(std::shared_ptr<const Subject> subject, Plan plan,
                       std::shared_ptr<const RunResult> run, MeasuredStore& known)
    : CureSearch(subject, {}, subject, std::move(plan), std::move(run), known) {}

CureSearch::CureSearch(std::shared_ptr<const Subject> build, std::vector<Step> done,
                       std::shared_ptr<const Subject> subject, Plan plan,
                       std::shared_ptr<const RunResult> run, MeasuredStore& known)
    : build_(std::move(build)), done_(std::move(done)), subject_(std::move(subject)), plan_(std::move(plan)),
      run_(std::move(run)), known_(known) {}

Trial CureSearch::trialOf(const std::vector<Step>& steps) const {
    Trial out;
    out.build = build_->character->hash;
    out.steps = done_;
    out.steps.insert(out.steps.end(), steps.begin(), steps.end());
    return out;
}

std::shared_ptr<const Subject> CureSearch::with(const std::vector<Step>& steps,
                                                const TriedSteps& worked) const {
    return mendedSubject(*subject_, worked.character(), movesJoints(steps));
}

Cures CureSearch::search(const CureGoal& goal, const CureOptions& options) const {
    Cures out;
    const std::vector<CureFamily> families = cureFamilies(*subject_, *run_, goal);
    const Plan poses = posesOf(plan_, *run_, goal);
    RunOptions quick;
    quick.method = run_->method;
    quick.limits = options.limits;
    quick.threads = 1; // settings are tried beside each other
    quick.cancel = options.progress.cancel;
    quick.causes = false;
    // the dearest measure, where it is what the fault is about; what is proved has it always
    quick.contact =
        !goal.signs.empty() && ofContact(run_->findings[static_cast<std::size_t>(goal.signs.front())].kind);
    const ComparedSide before{subject_, std::make_shared<const RunResult>(runPlan(*subject_, poses, quick))};
    const double toldBefore = toldOnce(*run_, *before.run, goal);
    const auto stopped = [&] { return options.progress.stopped(); };
    tbb::task_arena arena(options.threads > 0 ? options.threads : tbb::task_arena::automatic);
    tbb::enumerable_thread_specific<TriedSteps> tries([&] { return TriedSteps(build_); });
    const auto gainOf = [&](const std::vector<Step>& steps) {
        TriedSteps& worked = tries.local();
        worked.take(trialOf(steps));
        bool changes = false;
        for (std::size_t i = done_.size(); i < worked.effects().size(); ++i) {
            if (!worked.effects()[i].applies)
                return double(INFINITY);
            changes |= worked.effects()[i].any();
        }
        if (!changes)
            return double(INFINITY);
        const auto after = with(steps, worked);
        const auto now = std::make_shared<const RunResult>(
            runPlan(*after, turnedAlike(poses, *subject_->character, *after->character), quick));
        double gain = toldOnce(*run_, *now, goal) - toldBefore;
        for (const MeasureChange& m :
             compareRuns({before, ComparedSide{after, now}}, sameJoints(*subject_), {options.limits})
                 .measures)
            gain += m.over[1] - m.over[0];
        return gain;
    };
    const auto eachOf = [&](std::size_t count, const std::function<void(std::size_t)>& work) {
        arena.execute([&] {
            tbb::parallel_for(
                std::size_t(0), count,
                [&](std::size_t i) {
                    if (!stopped()) // a thread that waits within one setting does not begin with another
                        tbb::this_task_arena::isolate([&] { work(i); });
                },
                tbb::simple_partitioner());
        });
    };
    const auto tryAll = [&](std::vector<Tried>& settings) {
        out.tried += settings.size();
        eachOf(settings.size(), [&](std::size_t i) { settings[i].gain = gainOf(settings[i].steps); });
    };
    RunOptions glance = quick;
    glance.contact = false;
    const Plan ends = endsOf(plan_);
    std::optional<ComparedSide> endsBefore;
    const auto lookElsewhere = [&](std::span<Tried* const> which) {
        if (!endsBefore) {
            RunOptions all = glance;
            all.threads = options.threads;
            endsBefore = {subject_, std::make_shared<const RunResult>(runPlan(*subject_, ends, all))};
        }
        eachOf(which.size(), [&](std::size_t i) {
            TriedSteps& worked = tries.local();
            worked.take(trialOf(which[i]->steps));
            const auto after = with(which[i]->steps, worked);
            const std::vector<char> touched = touchedMotions(*subject_, *after, ends);
            Plan seen = turnedAlike(ends, *subject_->character, *after->character);
            std::size_t kept = 0;
            for (std::size_t m = 0; m < touched.size(); ++m)
                if (touched[m])
                    seen.motions[kept++] = seen.motions[m];
            seen.motions.resize(kept);
            const auto now = std::make_shared<const RunResult>(runPlan(*after, seen, glance));
            std::set<int> harmed;
            for (const MeasureChange& m :
                 compareRuns({*endsBefore, ComparedSide{after, now}}, sameJoints(*subject_), {options.limits})
                     .measures)
                if (m.joint[0] != goal.joint && m.verdict == Change::Worse && m.trouble[1] > 1 &&
                    m.over[1] > m.over[0])
                    harmed.insert(m.joint[0]);
            which[i]->harmed = harmed.size();
        });
    };
    const auto isLocal = [](const Tried& t) { return t.harmed && *t.harmed <= kMostHarmed; };

    // First what has no number to be found, then the rest on a grid.
    std::vector<Tried> tried;
    std::vector<Cure> proved;
    // What helps, proved; null where it does not, or where that was not found out.
    const auto proofOf = [&](const Tried& t) -> const Cure* {
        const auto known =
            std::find_if(proved.begin(), proved.end(), [&](const Cure& c) { return c.steps == t.steps; });
        if (known != proved.end())
            return &*known;
        Cure c = prove(t.steps, goal, options);
        if (stopped())
            return nullptr;
        c.name = t.family->name;
        c.otherSide = t.family->otherSide;
        c.undoes = t.family->undoes;
        if (c.gone() < kLeastGone || c.allIs >= c.allWas)
            return nullptr;
        if (options.found)
            options.found(c);
        proved.push_back(std::move(c));
        return &proved.back();
    };
    // as many families at once as keep every core busy
    const auto atOnce = static_cast<std::size_t>(2 * arena.max_concurrency());
    for (std::size_t next = 0; next < families.size() && !stopped();) {
        const std::size_t from = next;
        std::vector<Tried> settings;
        for (; next < families.size() && (next == from || settings.size() < atOnce); ++next) {
            const CureFamily& f = families[next];
            for (double value : f.free == FreeNumber::None ? std::vector<double>{0} : f.values)
                settings.push_back({&f, value, stepsOf(f, value)});
        }
        tryAll(settings);
        for (std::size_t f = from; f < next; ++f) {
            Tried best;
            for (const Tried& t : settings)
                if (t.family == &families[f] && t.gain < best.gain)
                    best = t;
            if (!(best.gain < 0))
                continue;
            if (options.found && proved.empty() && !stopped()) { // somebody is waiting
                Tried* const one[] = {&best};
                lookElsewhere(one);
                if (isLocal(best))
                    proofOf(best);
            }
            tried.push_back(std::move(best));
        }
        options.progress.at(0.5 * static_cast<double>(next) / static_cast<double>(families.size()));
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
            std::vector<Tried> settings;
            for (double value : more)
                settings.push_back({t.family, value, stepsOf(*t.family, value)});
            tryAll(settings);
            for (Tried& other : settings) {
                known.push_back(other.value);
                if (other.gain < t.gain)
                    t = std::move(other);
            }
            std::sort(known.begin(), known.end());
        }
    }
    std::stable_sort(tried.begin(), tried.end(), byGain);
    // as many are looked at as it takes to find those that are proved
    for (std::size_t next = 0, local = 0; next < tried.size() && local < options.proved && !stopped();) {
        std::vector<Tried*> unseen;
        const std::size_t from = next;
        for (; next < tried.size() && next - from < options.proved - local; ++next)
            if (!tried[next].harmed)
                unseen.push_back(&tried[next]);
        lookElsewhere(unseen);
        local += static_cast<std::size_t>(std::count_if(tried.begin() + static_cast<std::ptrdiff_t>(from),
                                                        tried.begin() + static_cast<std::ptrdiff_t>(next),
                                                        isLocal));
    }
    const auto ofOtherSide = [](const Tried& t) { return t.family->otherSide; };
    if (const auto other = std::find_if(tried.begin(), tried.end(), ofOtherSide);
        other != tried.end() && !other->harmed) {
        Tried* const one[] = {&*other};
        lookElsewhere(one);
    }
    // What does harm all over comes last, and is proved only where nothing else helps.
    std::stable_partition(tried.begin(), tried.end(), isLocal);
    const auto local = static_cast<std::size_t>(std::count_if(tried.begin(), tried.end(), isLocal));
    // "As the other side" is always among those that are proved.
    if (const auto other = std::find_if(tried.begin(), tried.end(), ofOtherSide);
        options.proved > 0 && other - tried.begin() >= static_cast<std::ptrdiff_t>(options.proved) &&
        other - tried.begin() < static_cast<std::ptrdiff_t>(local))
        std::iter_swap(other, tried.begin() + static_cast<std::ptrdiff_t>(options.proved) - 1);
    tried.resize(std::min(options.proved, tried.size()));
    for (std::size_t i = 0; i < tried.size() && !stopped(); ++i) {
        if (i >= local && !out.cures.empty())
            break;
        if (const Cure* c = proofOf(tried[i]))
            out.cures.push_back(*c);
        options.progress.at(0.5 + 0.5 * static_cast<double>(i + 1) / static_cast<double>(tried.size()));
    }
    out.stopped = stopped();
    if (out.stopped)
        out.cures = proved; // what somebody has seen already stays
    // Next to nothing is left along the motion, and at its worst not clearly more than another leaves.
    double mostGone = -INFINITY;
    for (const Cure& c : out.cures)
        if (!c.harms() && c.gone() >= kCured)
            mostGone = std::max(mostGone, peakGone(c));
    const auto isCured = [&](const Cure& c) {
        return c.gone() >= kCured && peakGone(c) >= mostGone - kPeakAlike;
    };
    std::stable_sort(out.cures.begin(), out.cures.end(), [&](const Cure& a, const Cure& b) {
        const bool cureA = isCured(a), cureB = isCured(b);
        if (a.harms() != b.harms())
            return b.harms();
        if (cureA != cureB)
            return cureA;
        if (cureA && a.adds != b.adds)
            return b.adds; // what the build has first
        if (cureA)
            return a.changed.moved < b.changed.moved; // the smallest change that cures
        // of those that do not, what takes most away; what undoes the cause is worth half as much again, for
        // it leaves a character as it was meant, and what covers another cause up half
        const auto worth = [](const Cure& x) {
            return (x.allWas - x.allIs) * (x.undoes ? 1.5 : x.adds ? 0.5 : 1);
        };
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
    const auto after = with(steps, worked);
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
    static_cast<MendEffect&>(out) = effectOf({subject_, run_}, {after, now}, goal, options.limits);
    out.adds = std::any_of(steps.begin(), steps.end(), [](const Step& s) {
        return s.kind == StepKind::Correct || s.kind == StepKind::Helper || s.kind == StepKind::ShareTwist ||
               s.kind == StepKind::Method || s.kind == StepKind::SmoothAfter;
    });
    out.changed = weightChange(subject_->surface.weights, after->surface.weights);
    return out;
}

std::string sentence(const Cure& cure, const Subject& subject) {
    return sentence(static_cast<const MendEffect&>(cure), subject) + "; over " +
           std::to_string(cure.changed.vertices) + (cure.changed.vertices == 1 ? " vertex" : " vertices");
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
            const auto after = mendedSubject(*out.subject, worked.character(), movesJoints(cure.steps));
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
