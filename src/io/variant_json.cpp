#include "io/variant_json.h"

#include "core/words/say.h"
#include "io/file_read.h"

#include <nlohmann/json.hpp>

#include <cmath>

namespace hobble {

using nlohmann::json;

std::string variantsToJson(const std::vector<Variant>& variants) {
    json out{{"format", "hobble-variants"}, {"version", 1}, {"variants", json::array()}};
    for (const Variant& v : variants) {
        json one{{"name", v.name},
                 {"partsOff", v.partsOff},
                 {"drivers", v.drivers},
                 {"driversOff", v.driversOff},
                 {"shapes", json::array()}};
        for (const Variant::Shape& s : v.shapes)
            one["shapes"].push_back({{"part", s.part}, {"target", s.target}, {"weight", s.weight}});
        out["variants"].push_back(std::move(one));
    }
    return out.dump(1) + "\n";
}

Result<std::vector<Variant>> variantsFromJson(const std::string& text) {
    const json in = json::parse(text, nullptr, false);
    if (in.is_discarded() || !in.is_object() || in.value("format", "") != "hobble-variants")
        return Error{
            say("it is not a list of Hobble variants (its \"format\" should be \"hobble-variants\")")};
    try {
        if (in.at("version").get<int>() != 1)
            return Error{say("it is of another version; this Hobble reads version 1")};
        std::vector<Variant> out;
        for (const json& j : in.at("variants")) {
            Variant v;
            v.name = j.at("name").get<std::string>();
            v.partsOff = j.value("partsOff", std::vector<std::string>{});
            v.drivers = j.value("drivers", true);
            v.driversOff = j.value("driversOff", std::vector<std::string>{});
            for (const json& s : j.value("shapes", json::array())) {
                v.shapes.push_back({s.at("part").get<std::string>(), s.at("target").get<std::string>(),
                                    s.at("weight").get<double>()});
                if (!std::isfinite(v.shapes.back().weight) || std::abs(v.shapes.back().weight) > 100)
                    return Error{say("the variant '%s' has a weight beyond all bounds", v.name)};
            }
            out.push_back(std::move(v));
        }
        return out;
    } catch (const json::exception& e) {
        return Error{say("something is missing or of the wrong type: %s", e.what())};
    }
}

Result<std::vector<Variant>> readVariants(const std::string& path) {
    const auto text = readFile(path);
    if (!text)
        return Error{text.error()};
    auto variants = variantsFromJson(*text);
    if (!variants)
        return Error{say("Cannot use %s: %s.", path, variants.error())};
    return variants;
}

} // namespace hobble
