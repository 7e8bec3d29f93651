#include "plant.h"

#include "faults.h"

#include <nlohmann/json.hpp>

#include <algorithm>
#include <fstream>
#include <functional>
#include <sstream>

namespace hobble::demo {

namespace {

using nlohmann::json;
using Planter = std::function<Truth(Patient&, const Fault&)>;

const std::vector<std::pair<std::string, Planter>>& planters() {
    static const std::vector<std::pair<std::string, Planter>> all{
        {"stray influence", plantStray},
        {"influence across the body", plantStray},
        {"flying vertex", plantFlyingVertex},
        {"blend too hard", plantBlend},
        {"blend too wide", plantBlend},
        {"held by the parent", plantHeldByParent},
        {"patch left on the root", plantLeftBehind},
        {"neighbour finger bleeds in", plantNeighbourFinger},
        {"twist not shared", plantDriver},
        {"helper driver off", plantDriver},
        {"helper driver at wrong range", plantDriver},
        {"weights off 1", plantSums},
        {"negligible weights", plantNegligible},
        {"influences beyond four", plantManyInfluences},
        {"weight on an end joint", plantEndJoint},
        {"joint with no weight", plantNoWeight},
        {"rigid part bound softly", plantSoftPart},
        {"part bound to nothing", plantUnboundPart},
        {"garment weights unlike the body's", plantGarment},
        {"poke-through at one border", plantGarment},
        {"too few edge loops", plantFewLoops},
        {"edge loops askew of the bend", plantLoopsAskew},
        {"unmerged seam", plantSeam},
        {"one side not fixed",
         [](Patient& p, const Fault& f) {
             // Both sides had it; the other has been mended since.
             Fault wide = f;
             wide.fault = "blend too wide";
             wide.bothSides = false;
             Truth t = plantBlend(p, wide);
             t.fault = f.fault;
             t.kinds.insert(t.kinds.begin(), "one-sided");
             return t;
         }},
        {"pivot outside the flesh", plantPivot},
        {"bend axis turned", plantBendAxis},
        {"root scale not applied", plantRootScale},
        {"corrective at once", plantDriver},
        {"named for the other side", plantSwappedNames},
        {"name without a partner", plantUnpaired},
        {"limb made straight", plantStraightLimb},
        {"vertices without weight", plantLooseVertices},
        {"hole in the skin", plantHole},
        {"triangles without area", plantFlatTriangles},
        {"axes not mirrored", plantMirroredAxes},
        {"lid held back", plantLidHeldBack},
        {"lid pivot off the eye", plantLidPivot},
        {"blink that falls short", plantShortBlink},
        {"shape through the teeth", plantThroughTeeth},
    };
    return all;
}

json verticesJson(const Truth& t) {
    json out = json::object();
    for (const auto& [part, list] : t.vertices)
        out[part] = list;
    return out;
}

Result<json> parsed(const std::string& path) {
    std::ifstream in(path, std::ios::binary);
    if (!in)
        return Error{"Cannot open " + path + "."};
    std::stringstream text;
    text << in.rdbuf();
    json j = json::parse(text.str(), nullptr, false);
    if (j.is_discarded())
        return Error{path + " is not valid JSON."};
    return j;
}

} // namespace

const std::vector<std::string>& faultNames() {
    static const std::vector<std::string> names = [] {
        std::vector<std::string> out;
        for (const auto& [name, planter] : planters())
            out.push_back(name);
        return out;
    }();
    return names;
}

void reorder(Character& c, std::vector<Weights>& weights, const std::vector<std::uint32_t>& order) {
    std::vector<std::vector<std::uint32_t>> now(c.vertexCount()); // old vertex → new ones
    for (std::uint32_t v = 0; v < order.size(); ++v)
        now[order[v]].push_back(v);
    auto take = [&](auto& list) {
        auto old = std::move(list);
        list.clear();
        for (std::uint32_t v : order)
            list.push_back(old[v]);
    };
    take(c.neutral);
    take(c.bindPosition);
    take(c.colour);
    take(weights);
    for (Triangle& t : c.triangles)
        for (auto& v : t)
            v = now[v].front();
    std::uint32_t first = 0;
    for (std::size_t k = 0; k < c.parts.size(); ++k) {
        Part& part = c.parts[k];
        std::uint32_t count = 0;
        for (std::uint32_t v = part.firstVertex; v < part.firstVertex + part.vertexCount; ++v)
            count += static_cast<std::uint32_t>(now[v].size());
        for (ShapeTarget& t : part.targets) {
            std::map<std::uint32_t, Vec3> moved;
            for (std::size_t i = 0; i < t.vertex.size(); ++i)
                for (std::uint32_t v : now[part.firstVertex + t.vertex[i]])
                    moved[v - first] = t.delta[i];
            t.vertex.clear();
            t.delta.clear();
            for (const auto& [v, d] : moved) {
                t.vertex.push_back(v);
                t.delta.push_back(d);
            }
        }
        part.firstVertex = first;
        part.vertexCount = count;
        first += count;
    }
}

Result<std::vector<Truth>> plant(Character& c, const Recipe& recipe) {
    std::vector<Truth> out;
    std::uint32_t seed = recipe.seed;
    // What takes vertices away goes first, so that the others' truth keeps its numbers.
    std::vector<Fault> faults = recipe.faults;
    std::stable_partition(faults.begin(), faults.end(),
                          [](const Fault& f) { return f.fault == "too few edge loops"; });
    for (const Fault& f : faults) {
        const auto it = std::find_if(planters().begin(), planters().end(),
                                     [&](const auto& p) { return p.first == f.fault; });
        if (it == planters().end())
            return Error{"There is no fault called '" + f.fault + "'."};
        Patient patient(c, seed++);
        try {
            out.push_back(it->second(patient, f));
        } catch (const Unsuited& u) {
            return Error{"'" + f.fault + "' cannot be planted in " + c.name + ": " + u.why + "."};
        }
        if (f.fault != "influences beyond four" && f.fault != "negligible weights")
            patient.keepFour(out.back());
        patient.close();
        for (auto& [part, vertices] : out.back().vertices)
            std::sort(vertices.begin(), vertices.end());
    }
    return out;
}

Result<std::vector<Recipe>> readRecipes(const std::string& path) {
    const auto file = parsed(path);
    if (!file)
        return Error{file.error()};
    const json list = file->contains("recipes") ? (*file)["recipes"] : json::array({*file});
    std::vector<Recipe> out;
    for (const json& j : list) {
        if (!j.is_object() || !j.contains("faults") || !j["faults"].is_array())
            return Error{path + " holds a recipe without faults."};
        Recipe r;
        r.name = j.value("name", "recipe " + std::to_string(out.size() + 1));
        r.character = j.value("character", std::string());
        r.seed = j.value("seed", 1u);
        for (const json& f : j["faults"]) {
            Fault fault;
            fault.fault = f.value("fault", std::string());
            fault.joint = f.value("joint", std::string());
            fault.from = f.value("from", std::string());
            fault.part = f.value("part", std::string());
            fault.strength = std::clamp(f.value("strength", 0.5), 0.0, 1.0);
            fault.bothSides = f.value("bothSides", false);
            r.faults.push_back(fault);
        }
        out.push_back(std::move(r));
    }
    return out;
}

std::string truthToJson(const Character& c, const Recipe& recipe, const std::vector<Truth>& truth) {
    json out{{"format", "hobble-truth"}, {"version", 1},        {"character", c.name},
             {"recipe", recipe.name},    {"seed", recipe.seed}, {"faults", json::array()}};
    for (const Truth& t : truth)
        out["faults"].push_back({{"fault", t.fault},
                                 {"detector", t.detector},
                                 {"joint", t.joint},
                                 {"joints", t.joints},
                                 {"side", nameOf(t.side)},
                                 {"kinds", t.kinds},
                                 {"cause", t.cause},
                                 {"part", t.part},
                                 {"vertices", verticesJson(t)},
                                 {"size", t.size},
                                 {"unit", t.unit}});
    return out.dump(1) + "\n";
}

Result<std::vector<Truth>> readTruth(const std::string& path) {
    const auto file = parsed(path);
    if (!file)
        return Error{file.error()};
    if (file->value("format", "") != "hobble-truth")
        return Error{path + " is not a truth file."};
    std::vector<Truth> out;
    for (const json& j : file->at("faults")) {
        Truth t;
        t.fault = j.value("fault", "");
        t.detector = j.value("detector", "run");
        t.joint = j.value("joint", "");
        t.joints = j.value("joints", std::vector<std::string>{});
        t.kinds = j.value("kinds", std::vector<std::string>{});
        t.cause = j.value("cause", "");
        t.part = j.value("part", "");
        t.size = j.value("size", 0.0);
        t.unit = j.value("unit", "");
        const std::string side = j.value("side", "middle");
        t.side = side == "left" ? Side::Left : side == "right" ? Side::Right : Side::Middle;
        if (j.contains("vertices"))
            for (const auto& [part, list] : j["vertices"].items())
                t.vertices[part] = list.get<std::vector<std::uint32_t>>();
        out.push_back(std::move(t));
    }
    return out;
}

} // namespace hobble::demo
