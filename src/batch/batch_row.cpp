#include "batch/batch_row.h"

#include "batch/row_json.h"
#include "core/words/say.h"

#include <algorithm>
#include <set>

namespace hobble {

using nlohmann::json;

namespace {

constexpr const char* kStates[] = {"tested",        "unreadable", "crashed",    "too long",
                                   "out of memory", "stopped",    "not entered"};

} // namespace

const char* nameOf(BatchRow::State state) { return kStates[static_cast<std::size_t>(state)]; }

int BatchRow::worst() const {
    int out = 0;
    for (const BatchFault& f : faults)
        out = std::max(out, f.severity);
    return out;
}

bool BatchRow::failsAt(int severity) const {
    return severity > 0 && (worst() >= severity || worstNotCured >= severity);
}

Result<Done> takeRun(BatchRow& row, const std::string& text) {
    const json j = json::parse(text, nullptr, false);
    try {
        if (!j.is_object() || j.at("format") != "hobble-run" || j.at("cancelled").get<bool>())
            return Error{say("the run was not written whole")};
        row.name = j.at("character").at("name").get<std::string>();
        row.hash = j.at("character").at("hash").get<std::string>();
        row.coverage = j.at("coverage").at("share").get<double>();
        row.findings = static_cast<int>(j.at("findings").size());
        row.motions = 0;
        for (const json& m : j.at("motions"))
            row.motions += m.value("on", true);
        std::set<std::string> moved;
        for (const json& m : j.at("measurements"))
            moved.insert(m.at("joint").get<std::string>());
        row.joints.assign(moved.begin(), moved.end());
        row.faults.clear();
        for (const json& f : j.at("faults"))
            row.faults.push_back({f.at("severity").get<int>(), f.at("joint").get<std::string>(),
                                  f.value("kind", std::string()), f.at("sentence").get<std::string>()});
    } catch (const json::exception&) {
        return Error{say("the run was not written whole")};
    }
    return Done{};
}

Result<Done> takeCheck(BatchRow& row, const std::string& text) {
    const json j = json::parse(text, nullptr, false);
    try {
        if (!j.is_object() || j.at("format") != "hobble-check")
            return Error{say("the check was not written whole")};
        row.checked = row.notCured = row.worstNotCured = 0;
        for (const json& d : j.at("defects")) {
            ++row.checked;
            if (d.at("verdict") == "cured")
                continue;
            ++row.notCured;
            row.worstNotCured = std::max(row.worstNotCured, d.at("severity").get<int>());
        }
    } catch (const json::exception&) {
        return Error{say("the check was not written whole")};
    }
    return Done{};
}

json toJson(const BatchRow& row) {
    json faults = json::array();
    for (const BatchFault& f : row.faults)
        faults.push_back(
            {{"severity", f.severity}, {"joint", f.joint}, {"kind", f.kind}, {"sentence", f.sentence}});
    return {{"file", row.character.file},
            {"name", row.name},
            {"build", row.hash},
            {"key", row.key},
            {"state", nameOf(row.state)},
            {"why", row.why},
            {"coverage", row.coverage},
            {"motions", row.motions},
            {"findings", row.findings},
            {"joints", row.joints},
            {"faults", faults},
            {"worst", row.worst()},
            {"failAt", row.character.failAt},
            {"checked", row.checked},
            {"notCured", row.notCured},
            {"worstNotCured", row.worstNotCured},
            {"report", row.report}};
}

std::string rowToJson(const BatchRow& row) { return toJson(row).dump(1) + "\n"; }

Result<BatchRow> rowFromJson(const std::string& text) {
    const json j = json::parse(text, nullptr, false);
    BatchRow row;
    try {
        row.character.file = j.at("file").get<std::string>();
        row.character.failAt = j.at("failAt").get<int>();
        row.name = j.at("name").get<std::string>();
        row.hash = j.at("build").get<std::string>();
        row.key = j.at("key").get<std::string>();
        const auto state =
            std::find(std::begin(kStates), std::end(kStates), j.at("state").get<std::string>());
        if (state == std::end(kStates))
            return Error{say("no state")};
        row.state = static_cast<BatchRow::State>(state - std::begin(kStates));
        row.why = j.at("why").get<std::string>();
        row.coverage = j.at("coverage").get<double>();
        row.motions = j.at("motions").get<int>();
        row.findings = j.at("findings").get<int>();
        row.joints = j.at("joints").get<std::vector<std::string>>();
        for (const json& f : j.at("faults"))
            row.faults.push_back({f.at("severity").get<int>(), f.at("joint").get<std::string>(),
                                  f.at("kind").get<std::string>(), f.at("sentence").get<std::string>()});
        row.checked = j.at("checked").get<int>();
        row.notCured = j.at("notCured").get<int>();
        row.worstNotCured = j.at("worstNotCured").get<int>();
        row.report = j.at("report").get<std::string>();
    } catch (const json::exception&) {
        return Error{say("no row of a batch")};
    }
    return row;
}

} // namespace hobble
