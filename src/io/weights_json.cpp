#include "io/weights_json.h"
#include "core/plain_number.h"
#include "core/words/say.h"
#include "io/csv.h"

#include <nlohmann/json.hpp>

#include <algorithm>
#include <cmath>
#include <cstdio>

namespace hobble {

using nlohmann::json;

namespace {} // namespace

std::string weightsToJson(const Character& c) {
    json out{{"format", "hobble-weights"}, {"version", 1},          {"character", c.name}, {"build", c.hash},
             {"joints", c.skeleton.name},  {"parts", json::array()}};
    for (const Part& part : c.parts) {
        if (!part.skinned)
            continue;
        json vertices = json::array();
        for (std::uint32_t v = part.firstVertex; v < part.firstVertex + part.vertexCount; ++v) {
            json row = json::array();
            for (std::uint32_t i = c.weights.first[v]; i < c.weights.first[v + 1]; ++i)
                row.push_back({c.weights.joint[i], c.weights.weight[i]});
            vertices.push_back(std::move(row));
        }
        out["parts"].push_back({{"name", part.name}, {"vertices", std::move(vertices)}});
    }
    return out.dump(-1, ' ', false, json::error_handler_t::replace) + "\n";
}

std::string weightsToCsv(const Character& c) {
    std::string out = "part,vertex,joint,weight\n";
    for (const Part& part : c.parts)
        for (std::uint32_t v = 0; part.skinned && v < part.vertexCount; ++v)
            for (std::uint32_t i = c.weights.first[part.firstVertex + v];
                 i < c.weights.first[part.firstVertex + v + 1]; ++i) {
                out += csvCell(part.name) + ',' + std::to_string(v) + ',' +
                       csvCell(c.skeleton.name[c.weights.joint[i]]) + ',' +
                       plainNumber(static_cast<double>(c.weights.weight[i]), 9) + '\n';
            }
    return out;
}

Result<SkinWeights> weightsFromJson(const std::string& text, const Character& c) {
    const json in = json::parse(text, nullptr, false);
    if (in.is_discarded() || !in.is_object() || in.value("format", json()) != "hobble-weights")
        return Error{say("it is no file of weights (its \"format\" should be \"hobble-weights\")")};
    try {
        if (in.at("version").get<int>() != 1)
            return Error{say("it is of another version; this Hobble reads version 1")};
        std::vector<int> joints;
        for (const json& name : in.at("joints"))
            joints.push_back(c.skeleton.find(name.get<std::string>()));
        std::vector<std::vector<std::pair<std::uint16_t, float>>> told(c.vertexCount());
        std::vector<char> given(c.vertexCount(), 0);
        for (const json& p : in.at("parts")) {
            const std::string name = p.at("name").get<std::string>();
            const auto part = std::find_if(c.parts.begin(), c.parts.end(),
                                           [&](const Part& x) { return x.name == name && x.skinned; });
            if (part == c.parts.end())
                return Error{say("there is no skinned part called %s", name)};
            const json& vertices = p.at("vertices");
            if (vertices.size() != part->vertexCount)
                return Error{say("%s has %s vertices, and %s are told", name,
                                 std::to_string(part->vertexCount), std::to_string(vertices.size()))};
            for (std::uint32_t v = 0; v < part->vertexCount; ++v) {
                auto& row = told[part->firstVertex + v];
                given[part->firstVertex + v] = 1;
                double sum = 0;
                for (const json& influence : vertices[v]) {
                    const auto number = influence.at(0).get<std::int64_t>();
                    if (number < 0 || number >= static_cast<std::int64_t>(joints.size()))
                        return Error{say("a vertex of %s names joint %s, which is not in the list", name,
                                         std::to_string(number))};
                    const int joint = joints[static_cast<std::size_t>(number)];
                    if (joint < 0)
                        return Error{
                            say("there is no joint called %s",
                                in.at("joints")[static_cast<std::size_t>(number)].get<std::string>())};
                    if (!influence.at(1).is_number())
                        return Error{say("a weight of %s is no number", name)};
                    const double weight = influence.at(1).get<double>();
                    if (!std::isfinite(weight) || weight < 0 || weight > 1e6)
                        return Error{say("a weight of %s is %s", name, influence.at(1).dump())};
                    sum += weight;
                    if (weight > 0)
                        row.emplace_back(static_cast<std::uint16_t>(joint), static_cast<float>(weight));
                }
                if (!(sum > 1e-9))
                    return Error{say("vertex %s of %s is moved by nothing", std::to_string(v), name)};
                for (auto& [joint, weight] : row)
                    weight = static_cast<float>(weight / sum);
                std::stable_sort(row.begin(), row.end(),
                                 [](const auto& a, const auto& b) { return a.second > b.second; });
            }
        }
        std::vector<std::uint32_t> first{0};
        std::vector<std::uint16_t> joint;
        std::vector<float> weight;
        for (std::uint32_t v = 0; v < c.vertexCount(); ++v) {
            if (given[v]) {
                for (const auto& [j, w] : told[v]) {
                    joint.push_back(j);
                    weight.push_back(w);
                }
            } else {
                for (std::uint32_t i = c.weights.first[v]; i < c.weights.first[v + 1]; ++i) {
                    joint.push_back(c.weights.joint[i]);
                    weight.push_back(c.weights.weight[i]);
                }
            }
            first.push_back(static_cast<std::uint32_t>(joint.size()));
        }
        return SkinWeights{std::move(first), std::move(joint), std::move(weight), c.weights.fileSum};
    } catch (const json::exception& e) {
        return Error{say("something is missing or of the wrong type: %s", e.what())};
    }
}

} // namespace hobble
