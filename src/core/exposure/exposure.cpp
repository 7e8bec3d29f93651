#include "core/exposure/exposure.h"

#include <algorithm>
#include <cmath>
#include <numeric>

namespace hobble {

namespace {

// Further than a joint can turn, or a shape be faded in by any sense: a slip of the file.
constexpr float kMostUnits = 720;

std::size_t unitsOf(double at) {
    return static_cast<std::size_t>(std::max(1L, std::lround(std::min(at, double(kMostUnits)))));
}

} // namespace

ClipUseCounter::ClipUseCounter(const MotionExtents& extents) : extents_(extents) {
    use_.motions.resize(extents.motionCount());
}

void ClipUseCounter::add(const Pose& pose) {
    extents_.of(pose, extent_);
    for (std::size_t m = 0; m < extent_.size(); ++m) {
        if (!(extent_[m] >= 0.5f))
            continue;
        const std::size_t units = unitsOf(static_cast<double>(extent_[m]));
        MotionUse& use = use_.motions[m];
        if (use.frames.size() < units) {
            use.frames.resize(units, 0);
            use.first.resize(units, use_.frames);
        }
        ++use.frames[units - 1]; // exactly so far; added up at the end
    }
    ++use_.frames;
}

ClipUse ClipUseCounter::finish(const std::vector<char>& turned, bool targets) {
    for (std::size_t m = 0; m < use_.motions.size(); ++m) {
        MotionUse& use = use_.motions[m];
        use.told = extents_.told(m, turned, targets);
        if (!use.told) {
            use.frames.clear();
            use.first.clear();
        }
        std::partial_sum(use.frames.rbegin(), use.frames.rend(), use.frames.rbegin());
    }
    return std::move(use_);
}

std::size_t Exposure::frameCount() const {
    std::size_t out = 0;
    for (const ClipUse& clip : clips)
        out += clip.frames;
    return out;
}

int Exposure::motionOf(const std::string& id) const {
    const auto at = std::find(motionIds.begin(), motionIds.end(), id);
    return at == motionIds.end() ? -1 : static_cast<int>(at - motionIds.begin());
}

UsePast usePast(const Exposure& e, int motion, double at) {
    UsePast out;
    if (motion < 0)
        return out;
    const std::size_t units = unitsOf(std::abs(at));
    for (std::size_t c = 0; c < e.clips.size(); ++c) {
        const MotionUse& use = e.clips[c].motions[static_cast<std::size_t>(motion)];
        if (!use.told)
            continue;
        ++out.ofClips;
        out.ofFrames += e.clips[c].frames;
        if (use.frames.size() < units)
            continue;
        ++out.clips;
        out.frames += use.frames[units - 1];
        if (out.firstClip < 0) {
            out.firstClip = static_cast<int>(c);
            out.firstFrame = use.first[units - 1];
        }
    }
    return out;
}

std::optional<double> furthest(const Exposure& e, int motion) {
    std::optional<double> out;
    if (motion < 0)
        return out;
    for (const ClipUse& clip : e.clips)
        if (const MotionUse& use = clip.motions[static_cast<std::size_t>(motion)]; use.told)
            out = std::max(out.value_or(0), static_cast<double>(use.frames.size()));
    return out;
}

std::vector<double> useDensity(const Exposure& e, int motion, double limit, std::size_t bins) {
    std::vector<double> out(bins, 0);
    if (motion < 0 || !(limit > 0) || bins == 0)
        return out;
    std::vector<double> exactly(1, 0); // frames that go 0, 1, 2 … units, of all clips together
    double all = 0;
    for (const ClipUse& clip : e.clips) {
        const MotionUse& use = clip.motions[static_cast<std::size_t>(motion)];
        if (!use.told)
            continue;
        all += clip.frames;
        exactly.resize(std::max(exactly.size(), use.frames.size() + 1), 0);
        exactly[0] += clip.frames - (use.frames.empty() ? 0 : use.frames[0]);
        for (std::size_t u = 0; u < use.frames.size(); ++u)
            exactly[u + 1] += use.frames[u] - (u + 1 < use.frames.size() ? use.frames[u + 1] : 0);
    }
    // They lie evenly within half a unit of it.
    const double width = limit / static_cast<double>(bins);
    for (std::size_t u = 0; u < exactly.size(); ++u) {
        const double from = std::max(0.0, static_cast<double>(u) - 0.5), to = static_cast<double>(u) + 0.5;
        for (auto b = static_cast<std::size_t>(from / width); b < bins; ++b) {
            const double low = std::max(from, static_cast<double>(b) * width),
                         high = std::min(to, static_cast<double>(b + 1) * width);
            if (low >= to)
                break;
            out[b] += exactly[u] * std::max(0.0, high - low) / (to - from);
        }
    }
    if (all > 0)
        for (double& share : out)
            share /= all;
    return out;
}

} // namespace hobble
