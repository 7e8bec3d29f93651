#pragma once
// From patches to findings: patches that overlap in neighbouring steps, and in other motions of the same
// joint, are one finding, with the angle it starts at, the angle of its peak and the motion that shows it
// worst.
#include "core/judge/causes/cause.h"
#include "core/judge/patches.h"
#include "core/pose/motion.h"

#include <map>
#include <string>

namespace hobble {

struct MotionResult;

struct PartMarks {
    int part = -1;
    std::vector<std::uint32_t> vertices; // in the part's own file order, ascending
};

struct Finding {
    int joint = -1;
    Side side = Side::Middle;
    Role role = Role::Unknown;
    Kind kind = Kind::Stretch;
    int severity = 0;
    int motion = -1;                      // of the plan: the one that shows it worst
    std::vector<int> motions;             // all that show it
    double onset = 0, peak = 0;           // in the unit of the motion
    double peakValue = 1, limit = 1;      // limit: the first one it passes
    std::string region;                   // where at the joint, in plain words: "front", "inner side"
    Vec3 place = Vec3::Zero();            // middle of the marked skin, neutral, world
    std::vector<PartMarks> marks;         // the skin marked at the peak; the part with most of it first
    std::vector<std::uint32_t> triangles; // of the surface, at the peak
    std::vector<Cause> causes;            // likeliest first
    int fault = -1; // findings of one fault share a number, from 0: several kinds at one place, or both sides
    bool leads = true; // the one of them to be told first
    /// The first cause, where enough speaks for it to be told to a person; null otherwise.
    const Cause* headline() const { return causes.empty() || causes[0].weight < 0.25 ? nullptr : &causes[0]; }
};

/// Fills marks, place and region from the finding's joint and triangles.
void markSkin(const Subject& subject, Finding& finding);

/// Merges as motions come in, so that what it keeps grows with the faults and not with the poses. The same
/// motions in the same order give the same findings.
class FindingMerger {
public:
    FindingMerger(const Subject& subject, const Plan& plan, const Limits& limits);
    ~FindingMerger();

    /// `patches` has one list per step of the motion. A motion may come again with patches of other kinds.
    void add(int motion, const MotionResult& result, const std::vector<PosePatches>& patches);

    /// Worst first. Their causes are still to be asked for.
    std::vector<Finding> findings() const;

private:
    struct Growing; // a finding to be
    const Subject& s_;
    const Plan& plan_;
    const Limits& limits_;
    std::map<std::pair<int, Kind>, std::vector<Growing>> growing_; // by joint and kind
};

} // namespace hobble
