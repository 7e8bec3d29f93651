#include "core/run/undone_run.h"

#include "core/judge/causes/trial.h"
#include "core/measure/reweight.h"

#include <tbb/parallel_for.h>

#include <algorithm>
#include <map>
#include <set>

namespace hobble {

namespace {

constexpr double kSure = 0.85; // what speaks for a cause that is undone; signs with such a one are let be
constexpr double kHelps = 0.5; // of the trouble at the fault itself has to go, else the undoing says nothing
constexpr double kRefuted = 0.2; // less than that goes: it was not the cause
constexpr double kGoes = 0.7;    // of what a sign has over its limit
constexpr int kNeighbours = 4;   // bones from the joint whose weights are changed

bool surely(const Fault& f) { return f.headline() && f.headline()->weight >= kSure; }

// Kinds that a single pose shows.
bool inOnePose(Kind kind) {
    return kind != Kind::Pop && kind != Kind::SoftRigidPart && kind != Kind::UnboundPart;
}

// What is seen around a fault, with it and without.
class Neighbourhood {
public:
    Neighbourhood(const Subject& s, const CauseContext& context, const Plan& plan, const RunOptions& options,
                  const std::vector<Finding>& findings, const std::vector<Fault>& faults)
        : s_(s), context_(context), plan_(plan), options_(options), findings_(findings), faults_(faults) {}

    struct Gone {
        std::optional<double> own; // of the fault's own trouble; nothing where it cannot be undone
        std::vector<double> of;    // per finding, of what it has over its limit; 0: not asked
    };

    Gone goneWith(const Fault& fault) const {
        Gone out{{}, std::vector<double>(findings_.size(), 0)};
        const std::vector<int> near = neighbours(fault);
        if (near.empty())
            return out;
        const Case c(s_, context_, plan_, options_.method,
                     findings_[static_cast<std::size_t>(fault.signs.front())]);
        const auto edited = undone(c, *fault.headline());
        if (!edited)
            return out;
        std::vector<int> asked = near;
        asked.insert(asked.end(), fault.signs.begin(), fault.signs.end());
        const auto character = std::make_shared<const Character>(*edited);
        const Subject other = movesJoints(*edited) ? prepareSubject(character) : reweighted(s_, character);
        const Plan part = poses(asked);
        RunOptions options;
        options.method = options_.method;
        options.limits = options_.limits;
        options.threads = options_.threads;
        options.contact = options_.contact;
        options.causes = false;
        options.cancel = options_.cancel;
        const RunResult run = runPlan(other, part, options);
        if (run.cancelled)
            return out;
        double was = 0, is = 0; // the fault's own trouble
        for (int i : fault.signs)
            if (inOnePose(findings_[static_cast<std::size_t>(i)].kind)) {
                was += over(findings_[static_cast<std::size_t>(i)]);
                is += left(run, findings_[static_cast<std::size_t>(i)]);
            }
        if (was <= 0)
            return out;
        out.own = 1 - is / was;
        if (*out.own < kHelps)
            return out;
        for (int i : near) {
            const Finding& f = findings_[static_cast<std::size_t>(i)];
            if (const double trouble = over(f); trouble > 0)
                out.of[static_cast<std::size_t>(i)] = 1 - left(run, f) / trouble;
        }
        return out;
    }

private:
    const Subject& s_;
    const CauseContext& context_;
    const Plan& plan_;
    const RunOptions& options_;
    const std::vector<Finding>& findings_;
    const std::vector<Fault>& faults_;

    bool movesJoints(const Character& edited) const {
        for (std::size_t j = 0; j < edited.skeleton.neutralWorld.size(); ++j)
            if (!edited.skeleton.neutralWorld[j].matrix().isApprox(
                    s_.character->skeleton.neutralWorld[j].matrix(), 0))
                return true;
        return false;
    }

    // Signs of others near the joint whose weights would be changed, or near its mirror: a difference of the
    // sides may be told at either.
    std::vector<int> neighbours(const Fault& fault) const {
        const Cause& cause = *fault.headline();
        const int joint =
            cause.joint >= 0 ? cause.joint : findings_[static_cast<std::size_t>(fault.signs.front())].joint;
        const int mirror = s_.roles[static_cast<std::size_t>(joint)].mirror;
        const auto isNear = [&](const Finding& f) {
            return s_.character->skeleton.boneDistance(joint, f.joint) <= kNeighbours ||
                   (f.kind == Kind::OneSided && mirror >= 0 &&
                    s_.character->skeleton.boneDistance(mirror, f.joint) <= kNeighbours);
        };
        std::vector<int> out;
        for (const Fault& other : faults_)
            if (&other != &fault)
                for (int i : other.signs)
                    if (const Finding& f = findings_[static_cast<std::size_t>(i)];
                        inOnePose(f.kind) && isNear(f))
                        out.push_back(i);
        return out;
    }

    // The poses that show those signs worst, and the same of the other side.
    Plan poses(const std::vector<int>& signs) const {
        std::map<int, std::set<double>> at;
        for (int i : signs) {
            const Finding& f = findings_[static_cast<std::size_t>(i)];
            at[f.motion].insert(f.peak);
            if (f.kind == Kind::OneSided)
                if (const int other = otherSideOf(plan_, f.motion); other >= 0)
                    at[other].insert(f.peak);
        }
        Plan out;
        for (const auto& [m, where] : at) {
            Motion motion = plan_.motions[static_cast<std::size_t>(m)];
            motion.on = true;
            motion.steps = {0};
            motion.steps.insert(motion.steps.end(), where.begin(), where.end());
            motion.steps.push_back(0);
            out.motions.push_back(std::move(motion));
        }
        return out;
    }

    // What a value has over its limit, in limits.
    double over(Kind kind, Role role, double value) const {
        return std::max(0.0, troubleOf(kind, value, options_.limits.of(kind, role)) - 1);
    }
    double over(const Finding& f) const { return over(f.kind, f.role, f.peakValue); }

    // Of a sign, what is left in a run.
    double left(const RunResult& run, const Finding& f) const {
        double out = 0;
        for (const Finding& g : run.findings) {
            if (g.joint != f.joint || g.kind != f.kind)
                continue;
            std::vector<std::uint32_t> both;
            std::set_intersection(f.triangles.begin(), f.triangles.end(), g.triangles.begin(),
                                  g.triangles.end(), std::back_inserter(both));
            if (!both.empty() || (f.place - g.place).norm() < 0.08 * static_cast<float>(s_.body.height))
                out = std::max(out, over(g));
        }
        return out;
    }
};

} // namespace

void gatherWhatGoes(const Subject& s, const CauseContext& context, const Plan& plan,
                    const RunOptions& options, const std::vector<Finding>& findings,
                    std::vector<Fault>& faults) {
    const Neighbourhood around(s, context, plan, options, findings, faults);
    std::vector<Neighbourhood::Gone> gone(faults.size());
    tbb::parallel_for(std::size_t(0), faults.size(), [&](std::size_t k) {
        if (surely(faults[k]) && !(options.cancel && *options.cancel))
            gone[k] = around.goneWith(faults[k]);
    });
    if (options.cancel && *options.cancel)
        return;
    // What its cause explains stays with it; where undoing that changes nothing, it explains nothing.
    std::vector<char> kept(findings.size(), 0);
    for (std::size_t k = 0; k < faults.size(); ++k)
        if (surely(faults[k]) && (!gone[k].own || *gone[k].own >= kRefuted))
            for (int i : faults[k].signs)
                kept[static_cast<std::size_t>(i)] = 1;
    std::vector<int> owner(findings.size(), -1); // the fault whose undoing takes most of it away
    for (std::size_t i = 0; i < findings.size(); ++i)
        for (std::size_t k = 0; k < faults.size(); ++k)
            if (!kept[i] && !gone[k].of.empty() && gone[k].of[i] >= kGoes &&
                (owner[i] < 0 || gone[k].of[i] > gone[static_cast<std::size_t>(owner[i])].of[i]))
                owner[i] = static_cast<int>(k);
    for (std::size_t k = 0; k < faults.size(); ++k)
        std::erase_if(faults[k].signs, [&](int i) {
            const int to = owner[static_cast<std::size_t>(i)];
            return to >= 0 && to != static_cast<int>(k);
        });
    for (std::size_t i = 0; i < findings.size(); ++i)
        if (owner[i] >= 0) {
            Fault& f = faults[static_cast<std::size_t>(owner[i])];
            f.signs.push_back(static_cast<int>(i));
            std::sort(f.signs.begin(), f.signs.end());
        }
    std::erase_if(faults, [](const Fault& f) { return f.signs.empty(); });
    for (Fault& f : faults) { // of the signs it has now
        std::set<std::uint32_t> skin;
        f.severity = 0;
        f.area = 0;
        for (int i : f.signs) {
            const Finding& g = findings[static_cast<std::size_t>(i)];
            f.severity = std::max(f.severity, g.severity);
            skin.insert(g.triangles.begin(), g.triangles.end());
        }
        for (std::uint32_t t : skin)
            f.area += s.surface.area[t];
    }
}

} // namespace hobble
