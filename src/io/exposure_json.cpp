#include "io/exposure_json.h"

#include "core/exposure/fault_use.h"
#include "core/plain_number.h"
#include "io/csv.h"

#include <nlohmann/json.hpp>

#include <cmath>

namespace hobble {

using nlohmann::json;

namespace {

constexpr std::size_t kBins = 20;

const char* unitOf(const Motion& m) { return m.span == Span::Degrees ? "degrees" : "percent"; }

json orNull(const std::optional<double>& v) { return v ? json(*v) : json(nullptr); }

} // namespace

json usePastJson(const Exposure& e, const UsePast& past) {
    if (!past.known())
        return nullptr;
    json first = nullptr;
    if (past.firstClip >= 0) {
        const ClipUse& clip = e.clips[static_cast<std::size_t>(past.firstClip)];
        first = {{"file", clip.file}, {"clip", clip.clip}, {"frame", past.firstFrame}};
    }
    return {{"frames", past.frames},
            {"ofFrames", past.ofFrames},
            {"clips", past.clips},
            {"ofClips", past.ofClips},
            {"first", first}};
}

std::string exposureToJson(const Character& c, const Plan& plan, const Exposure& e) {
    json out{{"format", "hobble-exposure"},
             {"version", 1},
             {"character", {{"name", c.name}, {"file", c.source}, {"hash", c.hash}}},
             {"plan", plan.name},
             {"frames", e.frameCount()},
             {"clips", json::array()},
             {"unread", json::array()},
             {"motions", json::array()}};
    for (const ClipUse& clip : e.clips)
        out["clips"].push_back({{"file", clip.file},
                                {"clip", clip.clip},
                                {"frames", clip.frames},
                                {"framesPerSecond", clip.framesPerSecond},
                                {"carriedOver", !clip.asItIs},
                                {"notes", clip.notes}});
    for (const ClipTrouble& t : e.troubles)
        out["unread"].push_back({{"file", t.file}, {"why", t.words}});
    for (const Motion& m : plan.motions) {
        if (m.span == Span::Frames)
            continue;
        const int at = e.motionOf(m.id);
        out["motions"].push_back({{"id", m.id},
                                  {"unit", unitOf(m)},
                                  {"limit", m.limit()},
                                  {"furthest", orNull(furthest(e, at))},
                                  {"used", usePastJson(e, usePast(e, at, 1))},
                                  {"pastPlan", usePastJson(e, usePastPlan(e, m))},
                                  {"density", useDensity(e, at, m.limit(), kBins)}});
    }
    return out.dump(1, ' ', false, json::error_handler_t::replace) + "\n";
}

std::string exposureToCsv(const Plan& plan, const Exposure& e) {
    std::string out = "motion,unit,limit,furthest,frames,of_frames,frames_past_plan,clips_past_plan,"
                      "first_past_plan_clip,first_past_plan_frame\n";
    for (const Motion& m : plan.motions) {
        if (m.span == Span::Frames)
            continue;
        const int at = e.motionOf(m.id);
        const UsePast used = usePast(e, at, 1), past = usePastPlan(e, m);
        out += csvCell(m.id) + "," + unitOf(m) + "," + plainNumber(m.limit(), 6) + ",";
        if (!used.known()) {
            out += ",,,,,,\n";
            continue;
        }
        out += std::to_string(std::lround(*furthest(e, at))) + "," + std::to_string(used.frames) + "," +
               std::to_string(used.ofFrames) + "," + std::to_string(past.frames) + "," +
               std::to_string(past.clips) + ",";
        if (past.firstClip >= 0)
            out += csvCell(e.clips[static_cast<std::size_t>(past.firstClip)].clip) + "," +
                   std::to_string(past.firstFrame);
        else
            out += ",";
        out += "\n";
    }
    return out;
}

} // namespace hobble
