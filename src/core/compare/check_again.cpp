#include "core/compare/check_again.h"

#include "core/judge/by_eye.h"
#include "core/judge/patches.h"
#include "core/judge/skin_values.h"
#include "core/measure/pose_meter.h"

#include <algorithm>
#include <cmath>

namespace hobble {

namespace {

constexpr std::array<std::pair<Verdict, const char*>, 6> kVerdicts{{{Verdict::Cured, "cured"},
                                                                    {Verdict::Better, "better"},
                                                                    {Verdict::Same, "same"},
                                                                    {Verdict::Worse, "worse"},
                                                                    {Verdict::Moved, "moved"},
                                                                    {Verdict::CannotTell, "cannot be told"}}};

// Measures of a zone or of the whole pose, not of single triangles or vertices.
bool ofTheZone(Kind kind) {
    switch (kind) {
    case Kind::VolumeLoss:
    case Kind::Bulge:
    case Kind::Pinch:
    case Kind::OneSided:
    case Kind::WrongBend:
    case Kind::NotClosed:
    case Kind::SoftRigidPart:
    case Kind::UnboundPart:
        return true;
    default:
        return false;
    }
}

Vec3d worldPlace(const Subject& s, int joint, const FindingMark& mark) {
    const Vec3d d = mark.place * s.body.height;
    return s.character->skeleton.place(joint) + d.x() * s.body.left + d.y() * s.body.up +
           d.z() * s.body.forward;
}

// Of the skin a finding marks, or of as much as lies within the reach, what share does. Skin round a limb
// lies about its middle.
double shareWithin(const Subject& s, const Finding& f, const Vec3d& at, double reach) {
    double within = 0, all = 0;
    for (std::uint32_t t : f.triangles) {
        const Triangle& c = s.surface.triangles[t];
        const Vec3d middle = (s.neutral[c[0]] + s.neutral[c[1]] + s.neutral[c[2]]).cast<double>() / 3;
        all += s.surface.area[t];
        within += (middle - at).norm() <= reach ? s.surface.area[t] : 0;
    }
    return within > 0 ? within / std::min(all, kPi * reach * reach) : 0;
}

// Whether a finding is another sight of what was seen: of its kind, at its joint or one next door, and a good
// part of the skin it marks lies where the other was.
bool samePlace(const Subject& s, const SeenDefect& seen, int joint, const Finding& f) {
    if (f.kind != seen.mark.kind)
        return false;
    if (f.joint == joint) {
        FindingMark mark = markOf(s, f);
        mark.joint = seen.mark.joint;
        if (apartness(mark, seen.mark) <= 1)
            return true;
    } else if (const int bones = s.character->skeleton.boneDistance(f.joint, joint); bones < 0 || bones > 2) {
        return false;
    }
    return shareWithin(s, f, worldPlace(s, joint, seen.mark), 1.15 * seen.mark.reach * s.body.height) >= 0.25;
}

// Whether a finding may be what is left of it, its middle having gone elsewhere: nothing is called cured
// while there is one.
bool besideIt(const Subject& s, const SeenDefect& seen, int joint, const Finding& f) {
    if (f.kind != seen.mark.kind)
        return false;
    if (const int bones = s.character->skeleton.boneDistance(f.joint, joint); bones < 0 || bones > 2)
        return false;
    return shareWithin(s, f, worldPlace(s, joint, seen.mark), 2 * seen.mark.reach * s.body.height) >= 0.05;
}

// Of skin that goes round a limb the middle lies within it: then as far as the nearest of it, and a little
// farther.
std::vector<std::uint32_t> trianglesNear(const Subject& s, const Vec3d& at, double reach) {
    std::vector<std::uint32_t> out;
    double nearest = INFINITY;
    for (const Vec3& v : s.neutral)
        nearest = std::min(nearest, (v.cast<double>() - at).norm());
    reach = std::max(reach, std::min(1.3 * nearest, 0.15 * s.body.height));
    for (std::uint32_t t = 0; t < s.surface.triangles.size(); ++t) {
        const Triangle& c = s.surface.triangles[t];
        const Vec3d middle = (s.neutral[c[0]] + s.neutral[c[1]] + s.neutral[c[2]]).cast<double>() / 3;
        if ((middle - at).norm() <= reach)
            out.push_back(t);
    }
    return out;
}

struct There {
    std::optional<double> value;
    bool shown = false; // a patch at the place passes the limit
    WhyNot why = WhyNot::None;
};

// Its measure at its own angle and place: what a patch there is told with, or where there is none, what a
// hundredth of the skin there reaches.
There measuredThere(const SeenDefect& seen, int joint, const CheckContext& c) {
    const Subject& s = c.subject;
    const Limits& limits = c.run.limits;
    const Kind kind = seen.mark.kind;
    There out;
    Motion motion = seen.motion;
    double before = 0; // the step before it: kicks show between two
    for (double step : motion.steps)
        if (step < seen.at - 1e-6)
            before = std::max(before, step);
    motion.steps = {before, seen.at, 0};
    MeterOptions options;
    options.method = c.run.method;
    options.floors = noFloors();
    options.contact = kind == Kind::Contact;
    const auto measured = PoseMeter(s, options).measure(motion, [] {});
    if (!measured)
        return out;
    const bool above = faultIsAbove(kind);
    const auto take = [&](double value) {
        if (!out.value || (above ? value > *out.value : value < *out.value))
            out.value = value;
    };
    for (const PosePatch& p : findPatches(s, motion, *measured, 1, limits)) {
        if (p.patch.kind != kind || p.patch.triangles.empty())
            continue;
        Finding f;
        f.joint = p.joint;
        f.kind = kind;
        f.triangles = p.patch.triangles;
        markSkin(s, f);
        if (samePlace(s, seen, joint, f)) {
            take(p.patch.value);
            out.shown = true;
        }
    }
    if (out.shown)
        return out;
    if (ofTheZone(kind)) {
        for (std::size_t k = 0; k < motion.turns.size(); ++k)
            if (motion.turns[k].joint == joint)
                out.value = valueOf(kind, measured->poses[1].zones[k]);
        if (const int m = c.run.plan.find(motion.id); !out.value && m >= 0)
            // what only a whole run tells
            out.value = valueAlong(c.run.motions[static_cast<std::size_t>(m)], seen.at,
                                   [&](const StepResult& step) -> std::optional<double> {
                                       for (const JointStep& j : step.joints)
                                           if (j.joint == joint)
                                               return valueOf(kind, j.measures);
                                       return std::nullopt;
                                   });
        if (!out.value)
            out.why = WhyNot::MeasureUndefined;
        return out;
    }
    const double least = 0.01 * s.body.height;
    const auto there = trianglesNear(s, worldPlace(s, joint, seen.mark),
                                     std::max(0.5 * seen.mark.reach * s.body.height, least));
    if (there.empty())
        out.why = WhyNot::PlaceNotFound;
    else
        out.value = valueOn(s, skinValues(s, motion, *measured, 1, kind), kind, there);
    return out;
}

// A like fault at a joint beside it: new with this build, and at least half as bad.
int likeOneBeside(const SeenDefect& seen, int joint, const CheckContext& c) {
    if (!c.since)
        return -1;
    int best = -1;
    double most = 0;
    const double was = troubleOf(seen.mark.kind, seen.value, c.run.limits.of(seen.mark.kind, seen.role));
    for (const Finding& f : c.run.findings) {
        const int bones = c.subject.character->skeleton.boneDistance(f.joint, joint);
        if (f.kind != seen.mark.kind || f.joint == joint || bones < 1 || bones > 2)
            continue;
        for (const JointChange& j : c.since->joints)
            if (j.joint[1] == f.joint)
                for (std::size_t m : j.measures)
                    if (const MeasureChange& change = c.since->measures[m];
                        change.kind == f.kind && change.verdict == Change::Worse && change.trouble[0] <= 1 &&
                        change.trouble[1] >= 0.5 * was && change.change > most) {
                        most = change.change;
                        best = f.joint;
                    }
    }
    return best;
}

} // namespace

const char* nameOf(Verdict verdict) {
    return std::find_if(kVerdicts.begin(), kVerdicts.end(), [&](const auto& v) { return v.first == verdict; })
        ->second;
}

std::optional<Verdict> verdictCalled(const std::string& name) {
    for (const auto& [verdict, word] : kVerdicts)
        if (name == word)
            return verdict;
    return std::nullopt;
}

int jointSeen(const SeenDefect& seen, const Subject& s) {
    if (const int joint = s.character->skeleton.find(seen.mark.joint); joint >= 0)
        return joint;
    int found = -1;
    for (std::size_t j = 0; j < s.roles.size(); ++j)
        if (seen.role != Role::Unknown && s.roles[j].role == seen.role && s.roles[j].side == seen.side) {
            if (found >= 0)
                return -1; // several could be meant
            found = static_cast<int>(j);
        }
    return found;
}

SeenDefect seenOf(const Subject& then, const RunResult& ran, const Finding& f, const Plan& now) {
    SeenDefect out;
    out.mark = markOf(then, f);
    out.role = f.role;
    out.side = f.side;
    if (const int m = now.find(ran.plan.motions[static_cast<std::size_t>(f.motion)].id); m >= 0)
        out.motion = now.motions[static_cast<std::size_t>(m)];
    out.at = f.peak;
    out.value = f.peakValue;
    return out;
}

CheckedAgain checkAgain(const SeenDefect& seen, const CheckContext& c) {
    const Subject& s = c.subject;
    const Kind kind = seen.mark.kind;
    CheckedAgain out;
    out.before = seen.value;
    out.joint = jointSeen(seen, s);
    if (out.joint < 0) {
        out.why = WhyNot::JointGone;
        return out;
    }
    const Role role = s.roles[static_cast<std::size_t>(out.joint)].role;
    const LimitSteps& limits = c.run.limits.of(kind, role);
    out.limit = limits[0];
    if (seen.motion.turns.empty() || seen.motion.steps.empty()) {
        out.why = WhyNot::MotionGone;
        return out;
    }
    const There there = measuredThere(seen, out.joint, c);
    out.now = there.value;

    double worst = -1;
    const bool beside = std::any_of(c.run.findings.begin(), c.run.findings.end(),
                                    [&](const Finding& f) { return besideIt(s, seen, out.joint, f); });
    for (std::size_t i = 0; i < c.run.findings.size(); ++i)
        if (const Finding& f = c.run.findings[i]; samePlace(s, seen, out.joint, f)) {
            const double trouble = troubleOf(kind, f.peakValue, c.run.limits.of(kind, f.role));
            if (trouble > worst) {
                worst = trouble;
                out.finding = static_cast<int>(i);
                out.onset = f.onset;
            }
        }
    const double was = troubleOf(kind, seen.value, limits),
                 is = there.value ? troubleOf(kind, *there.value, limits) : 0;
    const bool shownHere = there.shown || is > 1;
    if (c.since)
        for (const JointChange& j : c.since->joints)
            if (j.joint[1] == out.joint)
                for (std::size_t m : j.measures)
                    if (c.since->measures[m].verdict == Change::Worse)
                        out.broke.push_back(m);
    if (seen.byEye) {
        out.why = WhyNot::SeenByEye;
        return out;
    }
    if (!there.value && out.finding < 0) {
        out.why = there.why == WhyNot::None ? WhyNot::PlaceNotFound : there.why;
        return out;
    }
    if (!shownHere && out.finding < 0)
        out.movedTo = likeOneBeside(seen, out.joint, c);
    if (!shownHere && out.finding < 0 && (out.movedTo >= 0 || !beside)) {
        out.verdict = out.movedTo >= 0 ? Verdict::Moved : Verdict::Cured;
    } else {
        out.elsewhereOnly = !shownHere;
        // Where it is shown in other poses alone, the worst of them is what is left of it.
        const double left = shownHere ? is : std::max(is, worst);
        const double band = bandOf(kind, std::max(was, left));
        out.verdict = left < was - band   ? Verdict::Better
                      : left > was + band ? Verdict::Worse
                                          : Verdict::Same;
    }
    if (const int mirror = s.roles[static_cast<std::size_t>(out.joint)].mirror;
        mirror >= 0 && (out.verdict == Verdict::Cured || out.verdict == Verdict::Better)) {
        // The mark's place is told in directions of the body: its mirror has left and right exchanged.
        SeenDefect across = seen;
        across.mark.joint = s.character->skeleton.name[static_cast<std::size_t>(mirror)];
        across.mark.place.x() = -across.mark.place.x();
        for (const Finding& f : c.run.findings)
            out.otherSideLeft |= f.joint == mirror && samePlace(s, across, mirror, f);
    }
    return out;
}

} // namespace hobble
