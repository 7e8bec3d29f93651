#include "io/deform_json.h"

#include "core/deform/detail_smoothing.h"
#include "core/words/say.h"

#include <nlohmann/json.hpp>

#include <algorithm>
#include <cmath>
#include <functional>
#include <map>

namespace hobble {

namespace {

using nlohmann::json;

// Values of some of the file's vertices, ascending, as lists by part.
json byPart(const Character& c, const std::vector<std::uint32_t>& vertices,
            const std::vector<std::pair<const char*, std::function<float(std::size_t)>>>& values) {
    json out = json::array();
    int part = -1;
    for (std::size_t i = 0; i < vertices.size(); ++i) {
        if (const int p = c.partOfVertex(vertices[i]); p != part) {
            part = p;
            out.push_back({{"part", c.parts[static_cast<std::size_t>(p)].name},
                           {"number", p},
                           {"vertices", json::array()}});
            for (const auto& [name, value] : values)
                out.back()[name] = json::array();
        }
        out.back()["vertices"].push_back(vertices[i] - c.parts[static_cast<std::size_t>(part)].firstVertex);
        for (const auto& [name, value] : values)
            out.back()[name].push_back(value(i));
    }
    return out;
}

struct Unusable {
    std::string why;
};

// Calls `take` with each vertex and its values, 0 … 1.
void readByPart(const json& list, const Character& c, const std::vector<const char*>& names,
                const std::function<void(std::uint32_t, const std::vector<float>&)>& take) {
    for (const json& one : list) {
        const std::string name = one.at("part").get<std::string>();
        // of several parts of one name, that of the number
        const auto called = [&](const Part& p) { return p.name == name; };
        auto part =
            c.parts.cbegin() + std::clamp<std::ptrdiff_t>(one.value("number", -1), 0,
                                                          static_cast<std::ptrdiff_t>(c.parts.size()));
        if (part == c.parts.cend() || !called(*part))
            part = std::find_if(c.parts.cbegin(), c.parts.cend(), called);
        if (part == c.parts.cend())
            throw Unusable{"names the part " + name + ", which is not there"};
        const auto vertices = one.at("vertices").get<std::vector<std::uint32_t>>();
        std::vector<std::vector<float>> values;
        for (const char* key : names) {
            values.push_back(one.at(key).get<std::vector<float>>());
            if (values.back().size() != vertices.size() ||
                !std::all_of(values.back().begin(), values.back().end(),
                             [](float x) { return x >= 0 && x <= 1; }))
                throw Unusable{"has shares that are not one for each vertex, from 0 to 1"};
        }
        std::vector<float> row(values.size());
        for (std::size_t i = 0; i < vertices.size(); ++i) {
            if (vertices[i] >= part->vertexCount)
                throw Unusable{"names vertices that " + name + " does not have"};
            for (std::size_t k = 0; k < values.size(); ++k)
                row[k] = values[k][i];
            take(part->firstVertex + vertices[i], row);
        }
    }
}

} // namespace

json deformToJson(const Character& c) {
    json out = json::object();
    for (const auto& smoothing : c.extras.smoothing) {
        const SmoothingWish& wish = smoothing->wish();
        const auto amounts = smoothing->amounts();
        std::vector<std::uint32_t> vertices;
        for (const auto& [v, by] : amounts)
            vertices.push_back(v);
        out["smoothing"].push_back(
            {{"passes", wish.passes},
             {"strength", wish.strength},
             {"holdBorders", wish.holdBorders},
             {"where",
              byPart(c, vertices, {{"amounts", [&](std::size_t i) { return amounts[i].second; }}})}});
    }
    std::vector<std::uint32_t> vertices;
    const auto& shares = c.extras.dualShare;
    for (std::uint32_t v = 0; v < shares.size(); ++v)
        if (!(shares[v] == DualShare{}))
            vertices.push_back(v);
    if (!vertices.empty())
        out["dualQuaternions"] =
            byPart(c, vertices,
                   {{"ofLinear", [&](std::size_t i) { return shares[vertices[i]].ofLinear; }},
                    {"ofDual", [&](std::size_t i) { return shares[vertices[i]].ofDual; }}});
    return out.empty() ? json() : out;
}

DeformExtras deformFromJson(const json& from, const Character& c, std::vector<std::string>& notes) {
    DeformExtras out;
    const auto reading = [&](const char* what, const auto& read) {
        try {
            read();
        } catch (const Unusable& u) {
            notes.push_back(say("%s in the file %s; it is left out.", std::string(what), u.why));
        } catch (const json::exception&) {
            notes.push_back(say("%s in the file cannot be read; it is left out.", std::string(what)));
        }
    };
    if (!from.is_object())
        return out;
    if (from.contains("smoothing") && !from["smoothing"].empty()) {
        const Surface surface = buildSurface(c);
        std::vector<Vec3> neutral = weldedPositions(surface, c.neutral);
        for (const json& one : from["smoothing"])
            reading("A smoothing after skinning", [&] {
                SmoothingWish wish;
                wish.passes = one.at("passes").get<int>();
                wish.strength = one.at("strength").get<double>();
                wish.holdBorders = one.value("holdBorders", true);
                if (wish.passes < 1 || wish.passes > 200 || !(wish.strength >= 0 && wish.strength <= 1))
                    throw Unusable{"has passes or a strength out of range"};
                std::map<std::uint32_t, float> where;
                readByPart(
                    one.at("where"), c, {"amounts"},
                    [&](std::uint32_t v, const std::vector<float>& by) { where[surface.weldOf[v]] = by[0]; });
                wish.where.assign(where.begin(), where.end());
                out.smoothing.push_back(
                    std::make_shared<const DetailSmoothing>(surface, neutral, std::move(wish)));
            });
    }
    if (from.contains("dualQuaternions"))
        reading("Skin by dual quaternions", [&] {
            std::vector<DualShare> shares(c.vertexCount());
            readByPart(from["dualQuaternions"], c, {"ofLinear", "ofDual"},
                       [&](std::uint32_t v, const std::vector<float>& by) {
                           shares[v] = {by[0], by[1]};
                       });
            out.dualShare = std::move(shares);
        });
    return out;
}

} // namespace hobble
