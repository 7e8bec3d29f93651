#include "io/compare_json.h"
#include "io/csv.h"

#include "core/plain_number.h"
#include "core/words/finding_words.h"

#include <nlohmann/json.hpp>

#include <algorithm>

namespace hobble {

namespace {

using nlohmann::ordered_json;

const char* wordOf(Change c) {
    return c == Change::Better ? "better" : c == Change::Worse ? "worse" : "same";
}

const char* wordOf(Versus v) {
    switch (v) {
    case Versus::Build:
        return "build";
    case Versus::Itself:
        return "itself";
    case Versus::Variant:
        return "variant";
    case Versus::Method:
        return "method";
    case Versus::LeftAndRight:
        return "left and right";
    case Versus::Character:
        return "character";
    }
    return "";
}

ordered_json sideJson(const ComparedSide& side) {
    const Character& c = *side.subject->character;
    return {{"character", c.name},
            {"file", c.source},
            {"hash", c.hash},
            {"method", nameOf(side.run->method)},
            {"plan", side.run->plan.name},
            {"poses", side.run->plan.stepCount()}};
}

ordered_json onsetJson(double onset) { return onset < 0 ? ordered_json() : ordered_json(onset); }

const std::string& jointName(const ComparedSide& side, int joint) {
    return side.subject->character->skeleton.name[static_cast<std::size_t>(joint)];
}

const std::string& motionId(const ComparedSide& side, int motion) {
    return side.run->plan.motions[static_cast<std::size_t>(motion)].id;
}

ordered_json measureJson(const Comparison& c, const MeasureChange& m) {
    return {{"joint", jointName(c.sides[1], m.joint[1])},
            {"motion", motionId(c.sides[1], m.motion[1])},
            {"kind", nameOf(m.kind)},
            {"measure", measureOf(m.kind)},
            {"verdict", wordOf(m.verdict)},
            {"before", m.peak[0]},
            {"now", m.peak[1]},
            {"troubleBefore", m.trouble[0]},
            {"troubleNow", m.trouble[1]},
            {"onsetBefore", onsetJson(m.onset[0])},
            {"onsetNow", onsetJson(m.onset[1])},
            {"overBefore", m.over[0]},
            {"overNow", m.over[1]},
            {"change", m.change},
            {"at", m.at}};
}

} // namespace

std::string comparisonToJson(const Comparison& c) {
    const Differences& d = c.differences;
    ordered_json joints = ordered_json::array(), motions = ordered_json::array(),
                 measures = ordered_json::array(), notes = ordered_json::array();
    for (const JointChange& j : d.joints)
        joints.push_back({{"joint", jointName(c.sides[1], j.joint[1])},
                          {"before", jointName(c.sides[0], j.joint[0])},
                          {"words", jointWords(*c.sides[1].subject, j.joint[1])},
                          {"verdict", wordOf(j.verdict)},
                          {"mixed", j.mixed},
                          {"change", j.change}});
    for (const MotionChange& m : d.motions)
        motions.push_back({{"motion", motionId(c.sides[1], m.motion[1])},
                           {"before", motionId(c.sides[0], m.motion[0])},
                           {"verdict", wordOf(m.verdict)},
                           {"mixed", m.mixed},
                           {"change", m.change}});
    for (const MeasureChange& m : d.measures)
        if (m.verdict != Change::Same)
            measures.push_back(measureJson(c, m));
    for (const std::string& note : notesOn(c))
        notes.push_back(note);
    ordered_json parts = ordered_json::array();
    for (int p : c.neutral.partsWithout)
        parts.push_back(c.sides[1].subject->character->parts[static_cast<std::size_t>(p)].name);
    const ordered_json out{{"format", "hobble-compare"},
                           {"version", 1},
                           {"versus", wordOf(c.versus)},
                           {"before", sideJson(c.sides[0])},
                           {"now", sideJson(c.sides[1])},
                           {"sentence", sentence(c)},
                           {"notes", notes},
                           {"better", d.count(Change::Better)},
                           {"worse", d.count(Change::Worse)},
                           {"both", d.countMixed()},
                           {"same", d.count(Change::Same)},
                           {"joints", joints},
                           {"motions", motions},
                           {"measures", measures},
                           {"skin",
                            {{"found", c.onBefore.found},
                             {"sameMesh", c.onBefore.sameMesh},
                             {"moved", c.neutral.moved},
                             {"farthest", c.neutral.farthest},
                             {"reweighted", c.neutral.reweighted},
                             {"without", c.neutral.without},
                             {"partsWithout", parts},
                             {"words", skinSentence(c)}}}};
    return out.dump(1, ' ', false, nlohmann::json::error_handler_t::replace) + "\n";
}

std::string comparisonToCsv(const Comparison& c) {
    std::string out =
        "joint,motion,kind,measure,verdict,before,now,trouble before,trouble now,onset before,onset now,"
        "change,at\n";
    const auto onset = [](double o) { return o < 0 ? std::string() : plainNumber(o, 6); };
    for (const MeasureChange& m : c.differences.measures) {
        out += csvCell(jointName(c.sides[1], m.joint[1])) + ',' + csvCell(motionId(c.sides[1], m.motion[1])) +
               ',' + nameOf(m.kind) + ',' + measureOf(m.kind) + ',' + wordOf(m.verdict);
        for (double x : {m.peak[0], m.peak[1], m.trouble[0], m.trouble[1]})
            out += ',' + plainNumber(x, 6);
        out += ',' + onset(m.onset[0]) + ',' + onset(m.onset[1]) + ',' + plainNumber(m.change, 6) + ',' +
               plainNumber(m.at, 6) + '\n';
    }
    return out;
}

} // namespace hobble
