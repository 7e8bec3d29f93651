#include "io/naming_json.h"

#include "core/words/say.h"
#include "io/file_read.h"

#include <nlohmann/json.hpp>

namespace hobble {

using nlohmann::json;

std::string withoutNamespace(const std::string& name) {
    const auto at = name.find_last_of(":|");
    return at != std::string::npos && at + 1 < name.size() ? name.substr(at + 1) : name;
}

double fit(const NamingProfile& profile, const Skeleton& skeleton) {
    if (skeleton.size() == 0)
        return 0;
    std::size_t known = 0, corrected = 0;
    for (const std::string& n : skeleton.name) {
        const std::string own = withoutNamespace(n);
        known += profile.known.count(own);
        corrected += profile.corrections.count(own);
    }
    return corrected ? static_cast<double>(known) / static_cast<double>(skeleton.size()) : 0;
}

std::map<std::string, RoleCorrection> correctionsFor(const NamingProfile& profile, const Skeleton& skeleton) {
    std::map<std::string, RoleCorrection> out;
    for (const std::string& n : skeleton.name)
        if (const auto it = profile.corrections.find(withoutNamespace(n)); it != profile.corrections.end())
            out[n] = it->second;
    return out;
}

std::string namingToJson(const NamingProfile& profile) {
    json out{{"format", "hobble-naming"},
             {"version", 1},
             {"name", profile.name},
             {"known", profile.known},
             {"joints", json::object()}};
    for (const auto& [joint, c] : profile.corrections)
        out["joints"][joint] = {{"role", nameOf(c.role)}, {"side", nameOf(c.side)}};
    return out.dump(1, ' ', false, json::error_handler_t::replace) + "\n";
}

Result<NamingProfile> namingFromJson(const std::string& text) {
    const json in = json::parse(text, nullptr, false);
    if (in.is_discarded() || !in.is_object())
        return Error{say("it is not valid JSON")};
    try {
        if (in.value("format", "") != "hobble-naming")
            return Error{say("it is no naming profile (its \"format\" should be \"hobble-naming\")")};
        if (in.at("version").get<int>() != 1)
            return Error{say("it is a naming profile of another version; this Hobble reads version 1")};
        NamingProfile out;
        out.name = in.value("name", "");
        out.known = in.value("known", std::set<std::string>{});
        for (const auto& item : in.at("joints").items()) {
            const auto role = roleCalled(item.value().at("role").get<std::string>());
            const auto side = sideCalled(item.value().value("side", "middle"));
            if (!role || !side)
                return Error{say("joint '%s' has a role or side that Hobble does not know", item.key())};
            out.corrections[item.key()] = {*role, *side};
        }
        return out;
    } catch (const json::exception&) {
        return Error{say("it lacks a \"version\", or a joint's role is not a word")};
    }
}

Result<NamingProfile> readNaming(const std::string& path) {
    const auto text = readFile(path);
    if (!text)
        return Error{text.error()};
    auto out = namingFromJson(*text);
    if (!out)
        return Error{say("Cannot open %s: %s.", path, out.error())};
    return out;
}

} // namespace hobble
