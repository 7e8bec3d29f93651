#include "io/limits_json.h"

#include "core/words/say.h"
#include "io/file_read.h"

#include <nlohmann/json.hpp>

#include <algorithm>
#include <cmath>

namespace hobble {

using nlohmann::json;

namespace {

std::optional<Kind> kindCalled(const std::string& name) {
    const auto it = std::find_if(kKinds.begin(), kKinds.end(), [&](Kind k) { return name == nameOf(k); });
    return it == kKinds.end() ? std::nullopt : std::optional(*it);
}

// Reads "kind": [four numbers] pairs.
template <class Put> Result<Done> readSteps(const json& in, const std::string& where, const Put& put) {
    for (const auto& item : in.items()) {
        const std::string& name = item.key();
        const json& value = item.value();
        const auto kind = kindCalled(name);
        if (!kind)
            return Error{say("%s names '%s', which is no kind of finding", where, name)};
        const auto steps = value.get<LimitSteps>();
        if (const std::string wrong = whyNotLimits(*kind, steps); !wrong.empty())
            return Error{say("%s, %s: %s", where, name, wrong)};
        put(*kind, steps);
    }
    return Done{};
}

} // namespace

std::string limitsToJson(const Limits& limits) {
    json out{{"format", "hobble-limits"},
             {"version", 1},
             {"leastPatch", limits.leastPatch},
             {"general", json::object()},
             {"byRole", json::object()}};
    for (const auto& [kind, steps] : limits.general)
        out["general"][nameOf(kind)] = steps;
    for (const auto& [key, steps] : limits.byRole)
        out["byRole"][nameOf(key.first)][nameOf(key.second)] = steps;
    return out.dump(1) + "\n";
}

Result<Limits> limitsFromJson(const std::string& text) {
    const json in = json::parse(text, nullptr, false);
    if (in.is_discarded() || !in.is_object())
        return Error{say("it is not valid JSON")};
    try {
        if (in.value("format", "") != "hobble-limits")
            return Error{say("it does not hold Hobble limits (its \"format\" should be \"hobble-limits\")")};
        if (in.at("version").get<int>() != 1)
            return Error{say("it holds limits of another version; this Hobble reads version 1")};
        Limits out = Limits::standard();
        out.leastPatch = in.value("leastPatch", out.leastPatch);
        if (!(out.leastPatch >= 0 && out.leastPatch < 1))
            return Error{say("leastPatch is a share of the zone, from 0 to below 1")};
        const json none = json::object();
        if (auto read = readSteps(in.contains("general") ? in["general"] : none, "general",
                                  [&](Kind kind, const LimitSteps& steps) { out.general[kind] = steps; });
            !read)
            return Error{read.error()};
        if (in.contains("byRole")) { // given at all, it replaces the standard's
            out.byRole.clear();
            for (const auto& [name, kinds] : in["byRole"].items()) {
                const auto role = roleCalled(name);
                if (!role)
                    return Error{say("byRole names '%s', which is no role", name)};
                if (auto read = readSteps(kinds, "byRole " + name,
                                          [&](Kind kind, const LimitSteps& steps) {
                                              out.byRole[{*role, kind}] = steps;
                                          });
                    !read)
                    return Error{read.error()};
            }
        }
        return out;
    } catch (const json::exception& e) {
        return Error{say("something is missing or of the wrong type: %s", e.what())};
    }
}

Result<Limits> readLimits(const std::string& path) {
    auto text = readFile(path);
    if (!text)
        return Error{text.error()};
    auto limits = limitsFromJson(*text);
    if (!limits)
        return Error{say("Cannot use %s: %s.", path, limits.error())};
    return limits;
}

} // namespace hobble
