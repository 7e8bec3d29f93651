#include "io/trial_json.h"

#include "core/words/say.h"
#include "io/file_read.h"

#include <nlohmann/json.hpp>

#include <algorithm>
#include <cmath>

namespace hobble {

using nlohmann::json;

namespace {

constexpr const char* kFillBy[] = {"set", "add", "scale"};
constexpr const char* kBindBy[] = {"heat", "distance"};
constexpr const char* kCorrectBy[] = {"solve", "move", "inflate", "soften", "flatten", "out of contact"};
constexpr const char* kHelpBy[] = {"turn", "shift"};
constexpr const char* kDriveBy[] = {"ease", "scale", "as the other side"};

json vectorOf(const Vec3d& v) { return {v.x(), v.y(), v.z()}; }

Vec3d vectorAt(const json& j, const char* key) {
    if (!j.contains(key))
        return Vec3d::Zero();
    const auto at = j.at(key).get<std::array<double, 3>>();
    return {at[0], at[1], at[2]};
}

// How a step does what it does, by its word; nothing where there is no such word.
template <class By, std::size_t N>
std::optional<By> wordOf(const json& j, const char* const (&words)[N], By usual) {
    const std::string by = j.value("by", words[static_cast<std::size_t>(usual)]);
    for (std::size_t i = 0; i < N; ++i)
        if (by == words[i])
            return static_cast<By>(i);
    return std::nullopt;
}

json placeToJson(const MendPlace& place, const Surface& surface) {
    switch (place.what) {
    case MendPlace::What::Everywhere:
        break;
    case MendPlace::What::Reach:
        return {{"reach", place.joint}};
    case MendPlace::What::Marked: {
        json vertices = json::array();
        for (std::uint32_t v : place.vertices)
            vertices.push_back(surface.representative(v));
        return {{"vertices", std::move(vertices)}};
    }
    case MendPlace::What::Stroke: {
        json path = json::array();
        for (const Vec3& p : place.path)
            path.push_back({p.x(), p.y(), p.z()});
        json out{{"path", std::move(path)}, {"radius", place.radius}, {"along", place.along}};
        if (!place.pressure.empty())
            out["pressure"] = place.pressure;
        return out;
    }
    }
    return {{"everywhere", true}};
}

Result<MendPlace> placeFromJson(const json& in, const Surface& surface) {
    MendPlace out;
    if (in.contains("reach")) {
        out.what = MendPlace::What::Reach;
        out.joint = in.at("reach").get<std::string>();
    } else if (in.contains("vertices")) {
        out.what = MendPlace::What::Marked;
        for (const json& v : in.at("vertices")) {
            const auto vertex = v.get<std::int64_t>();
            if (vertex < 0 || vertex >= static_cast<std::int64_t>(surface.weldOf.size()))
                return Error{say("vertex %s is not in this build's mesh", std::to_string(vertex))};
            out.vertices.push_back(surface.weldOf[static_cast<std::size_t>(vertex)]);
        }
        std::sort(out.vertices.begin(), out.vertices.end());
        out.vertices.erase(std::unique(out.vertices.begin(), out.vertices.end()), out.vertices.end());
    } else if (in.contains("path")) {
        out.what = MendPlace::What::Stroke;
        for (const json& p : in.at("path")) {
            const auto at = p.get<std::array<float, 3>>();
            if (!(std::isfinite(at[0]) && std::isfinite(at[1]) && std::isfinite(at[2])))
                return Error{say("a stroke leaves all bounds")};
            out.path.emplace_back(at[0], at[1], at[2]);
        }
        out.radius = in.at("radius").get<double>();
        out.along = in.value("along", true);
        if (out.path.empty() || !(out.radius > 0) || !std::isfinite(out.radius))
            return Error{say("a stroke has a path and a radius above 0")};
        if (in.contains("pressure"))
            out.pressure = in.at("pressure").get<std::vector<float>>();
        if (!out.pressure.empty() && (out.pressure.size() != out.path.size() ||
                                      !std::all_of(out.pressure.begin(), out.pressure.end(),
                                                   [](float p) { return p >= 0 && p <= 1; })))
            return Error{
                say("a stroke says of each of its points how hard it was pressed, 0 to 1, or of none")};
    }
    return out;
}

} // namespace

std::string trialToJson(const Trial& trial, const Surface& surface) {
    json out{{"format", "hobble-trial"}, {"version", 1},           {"name", trial.name},
             {"build", trial.build},     {"locked", trial.locked}, {"steps", json::array()}};
    if (const TrialAim& aim = trial.aim; aim != TrialAim{}) {
        json to = json::object();
        for (const auto& [key, word] :
             {std::pair("joint", &aim.joint), {"motion", &aim.motion}, {"measure", &aim.kind}})
            if (!word->empty())
                to[key] = *word;
        if (aim.defect > 0)
            to["defect"] = aim.defect;
        out["for"] = std::move(to);
    }
    for (const Step& s : trial.steps) {
        json one{{"step", nameOf(s.kind)}, {"place", placeToJson(s.place, surface)},
                 {"amount", s.amount},     {"count", s.count},
                 {"strength", s.strength}, {"on", s.on}};
        if (!s.joint.empty())
            one["joint"] = s.joint;
        if (!s.to.empty())
            one["to"] = s.to;
        if (s.kind == StepKind::Fill)
            one["by"] = kFillBy[static_cast<std::size_t>(s.fillBy)];
        if (!s.part.empty())
            one["part"] = s.part;
        if (s.kind == StepKind::Bind)
            one["by"] = kBindBy[static_cast<std::size_t>(s.bindBy)];
        if (ofTheSkeleton(s.kind) || s.kind == StepKind::Copy || s.kind == StepKind::Helper)
            one["at"] = vectorOf(s.at);
        if (s.kind == StepKind::Correct || s.kind == StepKind::Helper) {
            one["by"] = s.kind == StepKind::Correct ? kCorrectBy[static_cast<std::size_t>(s.correctBy)]
                                                    : kHelpBy[static_cast<std::size_t>(s.helpBy)];
            one["axis"] = vectorOf(s.axis);
            one["move"] = vectorOf(s.move);
            one["degrees"] = s.degrees;
            one["from"] = s.from;
        }
        if (s.kind == StepKind::Drive)
            one["by"] = kDriveBy[static_cast<std::size_t>(s.driveBy)];
        if (!s.name.empty())
            one["name"] = s.name;
        if (s.kind == StepKind::Pass)
            one["middle"] = s.middle;
        out["steps"].push_back(std::move(one));
    }
    return out.dump(1, ' ', false, json::error_handler_t::replace) + "\n";
}

Result<Trial> trialFromJson(const std::string& text, const Surface& surface) {
    const json in = json::parse(text, nullptr, false);
    if (in.is_discarded() || !in.is_object() || in.value("format", json()) != "hobble-trial")
        return Error{say("it is not a Hobble trial (its \"format\" should be \"hobble-trial\")")};
    try {
        if (in.at("version").get<int>() != 1)
            return Error{say("it is of another version; this Hobble reads version 1")};
        Trial out;
        out.name = in.value("name", "");
        out.build = in.value("build", "");
        if (in.contains("for")) {
            const json& to = in.at("for");
            out.aim = {to.value("joint", ""), to.value("motion", ""), to.value("measure", ""),
                       to.value("defect", 0LL)};
        }
        out.locked = in.value("locked", std::vector<std::string>{});
        for (const json& j : in.at("steps")) {
            Step s;
            const std::string called = j.at("step").get<std::string>();
            const auto kind = stepKindCalled(called);
            if (!kind)
                return Error{say("there is no step called %s", called)};
            s.kind = *kind;
            auto place = placeFromJson(j.at("place"), surface);
            if (!place)
                return Error{place.error()};
            s.place = std::move(*place);
            s.joint = j.value("joint", "");
            s.to = j.value("to", "");
            s.amount = j.value("amount", 0.0);
            s.at = vectorAt(j, "at");
            s.axis = vectorAt(j, "axis");
            s.move = vectorAt(j, "move");
            s.degrees = j.value("degrees", 0.0);
            s.from = j.value("from", 0.0);
            s.name = j.value("name", "");
            s.middle = j.value("middle", 0.0);
            s.count = j.value("count", 1);
            s.strength = j.value("strength", 1.0);
            s.on = j.value("on", true);
            s.part = j.value("part", "");
            const auto read = [&](auto& into, const auto& words) {
                const auto by = wordOf(j, words, into);
                if (by)
                    into = *by;
                return by.has_value();
            };
            const bool known = s.kind == StepKind::Bind      ? read(s.bindBy, kBindBy)
                               : s.kind == StepKind::Correct ? read(s.correctBy, kCorrectBy)
                               : s.kind == StepKind::Helper  ? read(s.helpBy, kHelpBy)
                               : s.kind == StepKind::Drive   ? read(s.driveBy, kDriveBy)
                                                             : read(s.fillBy, kFillBy);
            if (!known)
                return Error{say("%s, not %s",
                                 (s.kind == StepKind::Fill   ? "a share is set, added to or scaled"
                                  : s.kind == StepKind::Bind ? "skin is bound by heat or distance"
                                                             : "the step " + called + " is done another way"),
                                 j.value("by", ""))};
            if (!std::isfinite(s.amount) || !std::isfinite(s.middle) || !s.at.allFinite() ||
                !s.axis.allFinite() || !s.move.allFinite() || !std::isfinite(s.degrees) ||
                !std::isfinite(s.from) || !(s.strength >= 0 && s.strength <= 1))
                return Error{say("the numbers of the step %s are out of range", called)};
            out.steps.push_back(std::move(s));
        }
        return out;
    } catch (const json::exception& e) {
        return Error{say("something is missing or of the wrong type: %s", e.what())};
    }
}

Result<Trial> readTrial(const std::string& path, const Surface& surface) {
    const auto text = readFile(path);
    if (!text)
        return Error{text.error()};
    auto trial = trialFromJson(*text, surface);
    if (!trial)
        return Error{say("Cannot use %s: %s.", path, trial.error())};
    return trial;
}

} // namespace hobble
