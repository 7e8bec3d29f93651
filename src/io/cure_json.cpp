#include "io/cure_json.h"

#include "io/trial_json.h"

#include <nlohmann/json.hpp>

namespace hobble {

namespace {

using nlohmann::json;

const std::string& jointOf(const Subject& s, int joint) {
    return s.character->skeleton.name[static_cast<std::size_t>(joint)];
}

json stepsOf(const std::vector<Step>& steps, const Surface& surface) {
    Trial trial;
    trial.steps = steps;
    return json::parse(trialToJson(trial, surface)).at("steps");
}

json cureJson(const Cure& c, const Subject& s, const RunResult& run) {
    json words = json::array(), worse = json::array();
    for (const Step& step : c.steps)
        words.push_back(sentence(step));
    for (const MeasureChange& m : c.worse)
        worse.push_back({{"joint", jointOf(s, m.joint[1])},
                         {"kind", factsOf(m.kind).word},
                         {"motion", run.plan.motions[static_cast<std::size_t>(m.motion[0])].id},
                         {"was", m.peak[0]},
                         {"is", m.peak[1]}});
    return {{"name", c.name},
            {"sentence", sentence(c, s)},
            {"words", std::move(words)},
            {"steps", stepsOf(c.steps, s.surface)},
            {"otherSide", c.otherSide},
            {"joint", jointOf(s, c.joint)},
            {"kind", factsOf(c.kind).word},
            {"motion", run.plan.motions[static_cast<std::size_t>(c.motion)].id},
            {"was", c.was},
            {"is", c.is},
            {"limit", c.limit},
            {"troubleWas", c.troubleWas},
            {"troubleIs", c.troubleIs},
            {"allWas", c.allWas},
            {"allIs", c.allIs},
            {"worse", std::move(worse)},
            {"newFindings", c.newFindings},
            {"vertices", c.changed.vertices},
            {"joints", c.changed.joints},
            {"largestChange", c.changed.most}};
}

json head(const Subject& s) {
    return {{"format", "hobble-cures"}, {"version", 1}, {"build", s.character->hash}};
}

} // namespace

std::string curesToJson(const Cures& cures, const CureGoal& goal, const Subject& s, const RunResult& run) {
    json out = head(s);
    const Finding& first = run.findings[static_cast<std::size_t>(goal.signs.front())];
    out["for"] = {{"joint", jointOf(s, goal.joint)},
                  {"kind", factsOf(first.kind).word},
                  {"motion", run.plan.motions[static_cast<std::size_t>(first.motion)].id}};
    out["tried"] = cures.tried;
    out["stopped"] = cures.stopped;
    out["nothing"] = cures.nothing;
    out["cures"] = json::array();
    for (const Cure& c : cures.cures)
        out["cures"].push_back(cureJson(c, s, run));
    return out.dump(1, ' ', false, json::error_handler_t::replace) + "\n";
}

std::string curedAllToJson(const CuredAll& all, const Subject& build) {
    json out = head(build);
    out["stopped"] = all.stopped;
    out["findings"] = all.run->findings.size();
    out["cures"] = json::array();
    for (const auto& [fault, cure] : all.taken)
        out["cures"].push_back(cureJson(cure, build, *all.run));
    return out.dump(1, ' ', false, json::error_handler_t::replace) + "\n";
}

} // namespace hobble
