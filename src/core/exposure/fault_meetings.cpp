#include "core/exposure/fault_meetings.h"

#include <algorithm>
#include <cmath>
#include <tuple>
#include <utility>

namespace hobble {

MeetingFinder::MeetingFinder(const MotionExtents& extents, const Plan& plan, const RunResult& run)
    : extents_(extents) {
    for (std::size_t f = 0; f < run.faults.size(); ++f)
        for (int sign : run.faults[f].signs) {
            const Finding& finding = run.findings[static_cast<std::size_t>(sign)];
            if (finding.motion < 0)
                continue;
            const int motion = plan.find(run.plan.motions[static_cast<std::size_t>(finding.motion)].id);
            if (motion >= 0 && extents.defined(static_cast<std::size_t>(motion)))
                places_.push_back({static_cast<int>(f), static_cast<std::size_t>(motion),
                                   static_cast<float>(std::max(1.0, std::round(std::abs(finding.onset))))});
        }
}

bool MeetingFinder::mayMeet(const ClipUse& use) const {
    int one = -1;
    for (const Place& p : places_) {
        const MotionUse& motion = use.motions[p.motion];
        if (!motion.told || static_cast<float>(motion.frames.size()) < p.onset)
            continue;
        if (one >= 0 && one != p.fault)
            return true;
        one = p.fault;
    }
    return false;
}

void MeetingFinder::begin(const ClipUse& use) {
    file_ = use.file;
    clip_ = use.clip;
    asked_.clear();
    for (const Place& p : places_)
        if (use.motions[p.motion].told)
            asked_.push_back(p);
    found_.clear();
    frame_ = 0;
    open_ = false;
}

void MeetingFinder::add(const Pose& pose) {
    extents_.of(pose, extent_);
    Meeting here;
    for (std::size_t i = 0; i < asked_.size();) {
        const int fault = asked_[i].fault;
        float depth = 0; // of the sign that is gone past furthest
        for (; i < asked_.size() && asked_[i].fault == fault; ++i)
            if (const float units = std::round(extent_[asked_[i].motion]); units >= asked_[i].onset)
                depth = std::max(depth, units / asked_[i].onset);
        if (depth > 0) {
            here.faults.push_back(fault);
            here.depth += depth;
        }
    }
    const std::uint32_t frame = frame_++;
    if (here.faults.size() < 2) {
        open_ = false;
        return;
    }
    if (!open_) {
        found_.push_back({file_, clip_, frame, frame, frame, {}, 0});
    }
    open_ = true;
    Meeting& now = found_.back();
    now.last = frame;
    if (here.faults.size() > now.faults.size() ||
        (here.faults.size() == now.faults.size() && here.depth > now.depth)) {
        now.at = frame;
        now.faults = std::move(here.faults);
        now.depth = here.depth;
    }
}

std::vector<Meeting> MeetingFinder::finish() { return std::exchange(found_, {}); }

std::vector<Meeting> worstMeetings(std::vector<Meeting> all, std::size_t most) {
    std::stable_sort(all.begin(), all.end(), [](const Meeting& a, const Meeting& b) {
        return std::tuple(b.faults.size(), b.depth) < std::tuple(a.faults.size(), a.depth);
    });
    all.resize(std::min(all.size(), most));
    return all;
}

} // namespace hobble
