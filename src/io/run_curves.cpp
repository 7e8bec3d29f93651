#include "io/run_curves.h"

#include "core/character/role_labels.h"
#include "core/plain_number.h"
#include "core/words/say.h"

#include <nlohmann/json.hpp>

#include <cmath>
#include <cstdio>
#include <cstdlib>

namespace hobble {

using nlohmann::json;

namespace {

struct Always {
    const char* name;
    double ZoneMeasures::*value;
};
constexpr Always kAlways[] = {{"stretch", &ZoneMeasures::stretch},
                              {"squash", &ZoneMeasures::squash},
                              {"area", &ZoneMeasures::area},
                              {"shear", &ZoneMeasures::shear}};

struct Sometimes {
    const char* name;
    std::optional<double> ZoneMeasures::*value;
};
constexpr Sometimes kSometimes[] = {{"volume", &ZoneMeasures::volume},
                                    {"pinch", &ZoneMeasures::pinch},
                                    {"roughness", &ZoneMeasures::roughness},
                                    {"leak", &ZoneMeasures::leak},
                                    {"lag", &ZoneMeasures::lag},
                                    {"contact", &ZoneMeasures::contact},
                                    {"poke-through", &ZoneMeasures::poke},
                                    {"gap", &ZoneMeasures::gap},
                                    {"flip", &ZoneMeasures::flip},
                                    {"rigidity", &ZoneMeasures::softness},
                                    {"drift", &ZoneMeasures::drift},
                                    {"pop", &ZoneMeasures::pop},
                                    {"side difference", &ZoneMeasures::side},
                                    {"tip travel", &ZoneMeasures::bend}};

// Five figures: what a curve can show.
double rounded(double v) { return numberAt(plainNumber(v, 5)); }

json jointCurves(const std::vector<StepResult>& steps, std::size_t turn) {
    json out = json::object();
    for (const Always& m : kAlways)
        for (const StepResult& s : steps)
            out[m.name].push_back(rounded(s.joints[turn].measures.*m.value));
    for (const Sometimes& m : kSometimes) {
        json values = json::array();
        bool any = false;
        for (const StepResult& s : steps) {
            const auto& v = s.joints[turn].measures.*m.value;
            values.push_back(v ? json(rounded(*v)) : json(nullptr));
            any |= v.has_value();
        }
        if (any)
            out[m.name] = std::move(values);
    }
    return out;
}

} // namespace

std::string curvesToJson(const Subject& s, const RunResult& run) {
    json motions = json::array();
    for (std::size_t m = 0; m < run.motions.size(); ++m) {
        const auto& steps = run.motions[m].steps;
        if (steps.empty())
            continue;
        json row{{"id", run.plan.motions[m].id}, {"degrees", json::array()}, {"joints", json::array()}};
        for (const StepResult& step : steps)
            row["degrees"].push_back(rounded(step.at));
        for (std::size_t k = 0; k < steps.front().joints.size(); ++k) {
            json joint = jointCurves(steps, k);
            const auto j = static_cast<std::size_t>(steps.front().joints[k].joint);
            joint["joint"] = s.character->skeleton.name[j];
            joint["role"] = nameOf(s.roles[j].role);
            row["joints"].push_back(std::move(joint));
        }
        motions.push_back(std::move(row));
    }
    return json{{"format", "hobble-curves"}, {"version", 1}, {"motions", std::move(motions)}}.dump(
        -1, ' ', false, json::error_handler_t::replace);
}

namespace {

// `jointOf` tells the joint of an entry; −1 leaves it out.
template <class JointOf>
Result<std::map<std::string, MotionResult>> motionsFrom(const std::string& text, JointOf&& jointOf) {
    const json in = json::parse(text, nullptr, false);
    if (in.is_discarded() || !in.is_object())
        return Error{say("the kept curves are not valid JSON")};
    std::map<std::string, MotionResult> out;
    try {
        if (in.value("format", "") != "hobble-curves" || in.at("version").get<int>() != 1)
            return Error{say("the kept curves are of a kind this Hobble does not read")};
        for (const json& row : in.at("motions")) {
            MotionResult motion;
            for (double degrees : row.at("degrees").get<std::vector<double>>())
                motion.steps.push_back({degrees, {}});
            for (const json& curves : row.at("joints")) {
                const int joint = jointOf(curves);
                if (joint < 0)
                    continue;
                for (std::size_t i = 0; i < motion.steps.size(); ++i) {
                    JointStep step{joint, {}};
                    for (const Always& m : kAlways)
                        step.measures.*m.value = curves.at(m.name).at(i).get<double>();
                    for (const Sometimes& m : kSometimes)
                        if (const auto it = curves.find(m.name); it != curves.end() && !it->at(i).is_null())
                            step.measures.*m.value = it->at(i).get<double>();
                    motion.steps[i].joints.push_back(std::move(step));
                }
            }
            out[row.at("id").get<std::string>()] = std::move(motion);
        }
    } catch (const json::exception& e) {
        return Error{say("the kept curves cannot be read: %s", e.what())};
    }
    return out;
}

} // namespace

Result<std::map<std::string, MotionResult>> curvesFromJson(const std::string& text,
                                                           const Skeleton& skeleton) {
    return motionsFrom(
        text, [&](const json& curves) { return skeleton.find(curves.at("joint").get<std::string>()); });
}

Result<KeptCurves> curvesFromJson(const std::string& text) {
    KeptCurves out;
    std::map<std::string, int> known;
    auto motions = motionsFrom(text, [&](const json& curves) {
        const auto [at, first] =
            known.emplace(curves.at("joint").get<std::string>(), static_cast<int>(out.roles.size()));
        if (first) {
            out.roles.emplace_back();
            const std::string role = curves.value("role", "");
            for (int r = 0; r < kRoles; ++r)
                if (role == nameOf(static_cast<Role>(r)))
                    out.roles.back().role = static_cast<Role>(r);
        }
        return at->second;
    });
    if (!motions)
        return Error{motions.error()};
    out.motions = std::move(*motions);
    return out;
}

} // namespace hobble
