#include "io/intake_limits_json.h"

#include "core/words/say.h"
#include "io/file_read.h"

#include <nlohmann/json.hpp>

#include <cmath>

namespace hobble {

using nlohmann::json;

std::string intakeLimitsToJson(const IntakeLimits& limits) {
    json out{{"format", "hobble-intake-limits"}, {"version", 1}, {"loops", json::object()}};
    for (const IntakeLimitField& f : intakeLimitFields())
        out[f.key] = limits.*f.value;
    for (const auto& [role, loops] : limits.loops)
        out["loops"][nameOf(role)] = loops;
    return out.dump(1) + "\n";
}

Result<IntakeLimits> intakeLimitsFromJson(const std::string& text) {
    const json in = json::parse(text, nullptr, false);
    if (in.is_discarded() || !in.is_object())
        return Error{say("it is not valid JSON")};
    try {
        if (in.value("format", "") != "hobble-intake-limits")
            return Error{
                say("it does not hold Intake limits (its \"format\" should be \"hobble-intake-limits\")")};
        if (in.at("version").get<int>() != 1)
            return Error{say("it holds limits of another version; this Hobble reads version 1")};
        IntakeLimits out;
        for (const IntakeLimitField& f : intakeLimitFields()) {
            if (!in.contains(f.key))
                continue;
            const double x = in.at(f.key).get<double>();
            if (!std::isfinite(x) || x < f.least || x > f.most)
                return Error{say("%s is out of its range", std::string(f.key))};
            out.*f.value = x;
        }
        if (out.leastHeight >= out.mostHeight)
            return Error{say("leastHeight is not below mostHeight")};
        if (in.contains("loops")) {
            out.loops.clear();
            for (const auto& item : in.at("loops").items()) {
                const auto role = roleCalled(item.key());
                const double x = item.value().get<double>();
                if (!role || !std::isfinite(x) || x < 0 || x > 100)
                    return Error{
                        say("loops names '%s', which is no role, or a number out of range", item.key())};
                out.loops[*role] = x;
            }
        }
        return out;
    } catch (const json::exception&) {
        return Error{say("a limit is missing or is no number")};
    }
}

Result<IntakeLimits> readIntakeLimits(const std::string& path) {
    const auto text = readFile(path);
    if (!text)
        return Error{text.error()};
    auto out = intakeLimitsFromJson(*text);
    if (!out)
        return Error{say("Cannot open %s: %s.", path, out.error())};
    return out;
}

} // namespace hobble
