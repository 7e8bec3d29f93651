#include "core/compare/differences.h"

#include <algorithm>
#include <cmath>

namespace hobble {

namespace {

double alongLine(const std::vector<double>& at, const std::vector<double>& y, double x) {
    if (x <= at.front())
        return y.front();
    for (std::size_t i = 1; i < at.size(); ++i)
        if (x <= at[i]) {
            const double t = (x - at[i - 1]) / std::max(at[i] - at[i - 1], 1e-9);
            return y[i - 1] + t * (y[i] - y[i - 1]);
        }
    return y.back();
}

// Per kind a line, of one joint in one motion.
struct Lines {
    std::array<MeasureLine, kKinds.size()> of;
};

// The joints of a motion's results, each with its lines.
std::map<int, Lines> linesOf(const ComparedSide& side, int motion, const Limits& limits) {
    std::map<int, Lines> out;
    const MotionResult& result = side.run->motions[static_cast<std::size_t>(motion)];
    for (std::size_t i = 0; i + 1 < result.steps.size(); ++i) // the last step is neutral again
        for (const JointStep& j : result.steps[i].joints) {
            const Role role = side.subject->roles[static_cast<std::size_t>(j.joint)].role;
            Lines& lines = out[j.joint];
            for (std::size_t k = 0; k < kKinds.size(); ++k)
                if (const auto value = valueOf(kKinds[k], j.measures)) {
                    // a turn may name a joint twice: the first tells
                    if (!lines.of[k].at.empty() && lines.of[k].at.back() >= result.steps[i].at)
                        continue;
                    lines.of[k].at.push_back(result.steps[i].at);
                    lines.of[k].value.push_back(*value);
                    lines.of[k].trouble.push_back(troubleOf(kKinds[k], *value, limits.of(kKinds[k], role)));
                }
        }
    return out;
}

// Over what both sides went through.
MeasureChange changeOf(Kind kind, const MeasureLine& before, const MeasureLine& now) {
    MeasureChange out;
    out.kind = kind;
    const double end = std::min(before.at.back(), now.at.back()),
                 begin = std::max(before.at.front(), now.at.front());
    const std::array<const MeasureLine*, 2> lines{&before, &now};
    for (std::size_t s = 0; s < 2; ++s) {
        const MeasureLine& line = *lines[s];
        for (std::size_t i = 0; i < line.at.size(); ++i) {
            if (line.at[i] > end + 1e-9 && line.at.size() > 1)
                break;
            if (line.trouble[i] > out.trouble[s] || i == 0) {
                out.trouble[s] = line.trouble[i];
                out.peak[s] = line.value[i];
            }
            if (out.onset[s] < 0 && line.trouble[i] > 1) {
                const double was = i ? line.trouble[i - 1] : 0, from = i ? line.at[i - 1] : line.at[0];
                out.onset[s] = from + (line.at[i] - from) * (1 - was) / std::max(line.trouble[i] - was, 1e-9);
            }
        }
    }
    std::vector<double> at;
    for (const MeasureLine* line : lines)
        for (double a : line->at)
            if (a >= begin - 1e-9 && a <= end + 1e-9)
                at.push_back(a);
    if (before.at.size() == 1 && now.at.size() == 1)
        at = {now.at[0]}; // told once for the whole motion, wherever
    std::sort(at.begin(), at.end());
    at.erase(std::unique(at.begin(), at.end(), [](double a, double b) { return b - a < 1e-9; }), at.end());
    double beyond = 0; // how far past its band the change goes that is told
    std::array<double, 2> last{};
    for (std::size_t i = 0; i < at.size(); ++i) {
        const double was = alongLine(before.at, before.trouble, at[i]),
                     is = alongLine(now.at, now.trouble, at[i]);
        const double change = is - was, most = std::max(was, is);
        const double past = std::abs(change) / bandOf(kind, most);
        const bool counts = most >= kNearLimit && past >= 1 && past > beyond;
        if (counts || (beyond <= 0 && std::abs(change) > std::abs(out.change))) {
            out.change = change;
            out.at = at[i];
        }
        if (counts) {
            beyond = past;
            out.verdict = change > 0 ? Change::Worse : Change::Better;
        }
        const std::array<double, 2> here{std::max(0.0, was - 1), std::max(0.0, is - 1)};
        if (i > 0 && end > begin)
            for (std::size_t s = 0; s < 2; ++s)
                out.over[s] += (here[s] + last[s]) / 2 * (at[i] - at[i - 1]) / (end - begin);
        last = here;
    }
    if (at.size() == 1)
        out.over = last;
    return out;
}

// Of several changes: the largest that counts gives the verdict.
template <class Told> void tell(Told& told, const MeasureChange& m) {
    if (m.verdict == Change::Same)
        return;
    if (told.verdict != Change::Same && told.verdict != m.verdict)
        told.mixed = true;
    if (told.verdict == Change::Same || std::abs(m.change) > std::abs(told.change)) {
        told.verdict = m.verdict;
        told.change = m.change;
    }
}

bool hasResults(const RunResult& run, std::size_t motion) {
    return motion < run.motions.size() && run.motions[motion].steps.size() > 1;
}

} // namespace

double bandOf(Kind kind, double trouble) {
    // docs/compare.md: what is left between two meshes of one build, for 99 of 100 measures. A zone's volume
    // and girth hang on where its cuts meet the mesh.
    const bool ofCuts = kind == Kind::VolumeLoss || kind == Kind::Bulge || kind == Kind::Pinch;
    return (ofCuts ? 0.45 : 0.25) + 0.15 * trouble;
}

double beyondBand(const TroubleCurve& curve, const TroubleCurve& other, std::optional<Kind> kind) {
    double most = 0;
    for (std::size_t i = 0; i < curve.at.size() && !other.at.empty(); ++i) {
        if (curve.at[i] > other.at.back() + 1e-6)
            break;
        const double theirs = troubleAt(other, curve.at[i]);
        if (curve.trouble[i] >= kNearLimit)
            most = std::max(most, curve.trouble[i] - theirs - bandOf(kind, theirs));
    }
    return most;
}

int Differences::count(Change verdict) const {
    return static_cast<int>(std::count_if(joints.begin(), joints.end(), [&](const JointChange& j) {
        return j.verdict == verdict && !j.mixed;
    }));
}

int Differences::countMixed() const {
    return static_cast<int>(
        std::count_if(joints.begin(), joints.end(), [](const JointChange& j) { return j.mixed; }));
}

MeasureLine lineOf(const ComparedSide& side, int motion, int joint, Kind kind, const Limits& limits) {
    if (!hasResults(*side.run, static_cast<std::size_t>(motion)))
        return {};
    const Role role = side.subject->roles[static_cast<std::size_t>(joint)].role;
    return measureLine(
        side.run->motions[static_cast<std::size_t>(motion)], joint,
        [&](const ZoneMeasures& m) { return valueOf(kind, m); },
        [&](double value, int) { return troubleOf(kind, value, limits.of(kind, role)); });
}

Differences compareRuns(const ComparedSides& sides, const JointPairing& joints,
                        const CompareOptions& options) {
    Differences out;
    const Plan &before = sides[0].run->plan, &now = sides[1].run->plan;
    std::vector<char> answered(before.motions.size(), 0);
    std::map<int, std::size_t> jointAt; // in out.joints, by the second's joint
    for (std::size_t m = 0; m < now.motions.size(); ++m) {
        if (!hasResults(*sides[1].run, m))
            continue;
        const Motion& motion = now.motions[m];
        if (options.mirrored && motion.side != Side::Right)
            continue;
        const int was = options.mirrored ? otherSideOf(now, static_cast<int>(m)) : before.find(motion.id);
        if (was < 0 || !hasResults(*sides[0].run, static_cast<std::size_t>(was))) {
            out.onlyNow.push_back(static_cast<int>(m));
            continue;
        }
        answered[static_cast<std::size_t>(was)] = 1;
        MotionChange told;
        told.motion = {was, static_cast<int>(m)};
        const auto linesBefore = linesOf(sides[0], was, options.limits),
                   linesNow = linesOf(sides[1], static_cast<int>(m), options.limits);
        for (const auto& [joint, lines] : linesNow) {
            const int other = joints.other[static_cast<std::size_t>(joint)];
            const auto theirs = linesBefore.find(other);
            if (other < 0 || theirs == linesBefore.end())
                continue;
            const auto [at, first] = jointAt.emplace(joint, out.joints.size());
            if (first) {
                out.joints.push_back({});
                out.joints.back().joint = {other, joint};
            }
            JointChange& told_ = out.joints[at->second];
            for (std::size_t k = 0; k < kKinds.size(); ++k) {
                const MeasureLine &a = theirs->second.of[k], &b = lines.of[k];
                if (a.at.empty() || b.at.empty()) {
                    out.undefined += a.at.empty() != b.at.empty();
                    continue;
                }
                MeasureChange c = changeOf(kKinds[k], a, b);
                c.motion = told.motion;
                c.joint = {other, joint};
                tell(told, c);
                tell(told_, c);
                if (c.verdict != Change::Same)
                    told_.measures.push_back(out.measures.size());
                out.measures.push_back(c);
            }
        }
        out.motions.push_back(told);
    }
    for (std::size_t m = 0; m < before.motions.size(); ++m)
        if (!answered[m] && hasResults(*sides[0].run, m) && !options.mirrored)
            out.onlyBefore.push_back(static_cast<int>(m));
    for (JointChange& j : out.joints)
        std::stable_sort(j.measures.begin(), j.measures.end(), [&](std::size_t a, std::size_t b) {
            return std::abs(out.measures[a].change) > std::abs(out.measures[b].change);
        });
    std::stable_sort(out.joints.begin(), out.joints.end(),
                     [](const JointChange& a, const JointChange& b) { return a.joint[1] < b.joint[1]; });
    return out;
}

std::array<double, 2> valuesWhereItDiffers(const ComparedSides& sides, const MeasureChange& change,
                                           const Limits& limits) {
    std::array<double, 2> out = change.peak;
    for (std::size_t k = 0; k < 2; ++k)
        if (const auto value =
                valueOn(lineOf(sides[k], change.motion[k], change.joint[k], change.kind, limits), change.at))
            out[k] = *value;
    return out;
}

} // namespace hobble
