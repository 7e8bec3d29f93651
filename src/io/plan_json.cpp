#include "io/plan_json.h"

#include "io/file_read.h"

#include <nlohmann/json.hpp>

#include <cmath>

namespace hobble {

using nlohmann::json;

std::string planToJson(const Plan& plan, const Skeleton& skeleton) {
    json out{{"format", "hobble-plan"}, {"version", 1}, {"name", plan.name}, {"motions", json::array()}};
    for (const Motion& m : plan.motions) {
        json turns = json::array();
        for (const JointTurn& t : m.turns)
            turns.push_back({{"joint", skeleton.name[t.joint]},
                             {"axis", {t.axis.x(), t.axis.y(), t.axis.z()}},
                             {"share", t.share}});
        out["motions"].push_back({{"id", m.id},
                                  {"name", m.name},
                                  {"limb", m.limb},
                                  {"side", nameOf(m.side)},
                                  {"role", nameOf(m.role)},
                                  {"roll", m.roll},
                                  {"turns", turns},
                                  {"degrees", m.degrees}});
    }
    return out.dump(1) + "\n";
}

Result<Plan> planFromJson(const std::string& text, const Skeleton& skeleton) {
    const json in = json::parse(text, nullptr, false);
    if (in.is_discarded() || !in.is_object())
        return Error{"it is not valid JSON"};
    try {
        if (in.value("format", "") != "hobble-plan")
            return Error{"it is not a Hobble plan (its \"format\" should be \"hobble-plan\")"};
        if (in.at("version").get<int>() != 1)
            return Error{"it is a plan of another version; this Hobble reads version 1"};
        Plan plan;
        plan.name = in.value("name", "plan");
        for (const json& m : in.at("motions")) {
            Motion motion;
            motion.id = m.at("id").get<std::string>();
            motion.name = m.value("name", motion.id);
            motion.limb = m.value("limb", "Other");
            motion.roll = m.value("roll", false);
            const std::string side = m.value("side", "middle"), role = m.value("role", "unknown");
            motion.side = side == "left" ? Side::Left : side == "right" ? Side::Right : Side::Middle;
            motion.role = roleCalled(role).value_or(Role::Unknown);
            for (const json& t : m.at("turns")) {
                JointTurn turn;
                const auto name = t.at("joint").get<std::string>();
                turn.joint = skeleton.find(name);
                if (turn.joint < 0)
                    return Error{"motion '" + motion.id + "' turns joint '" + name +
                                 "', which this character does not have"};
                const auto axis = t.at("axis").get<std::array<double, 3>>();
                turn.axis = Vec3d(axis[0], axis[1], axis[2]);
                turn.share = t.value("share", 1.0);
                if (!(turn.axis.norm() > 1e-9) || !turn.axis.allFinite() || !std::isfinite(turn.share))
                    return Error{"motion '" + motion.id + "' has an axis of zero length"};
                turn.axis.normalize();
                motion.turns.push_back(turn);
            }
            motion.degrees = m.at("degrees").get<std::vector<double>>();
            for (double d : motion.degrees)
                if (!std::isfinite(d) || std::abs(d) > 3600)
                    return Error{"motion '" + motion.id + "' has an angle beyond all bounds"};
            if (motion.turns.empty() || motion.degrees.empty())
                return Error{"motion '" + motion.id + "' has no joint or no step"};
            plan.motions.push_back(std::move(motion));
        }
        return plan;
    } catch (const json::exception& e) {
        return Error{std::string("something is missing or of the wrong type: ") + e.what()};
    }
}

Result<Plan> readPlan(const std::string& path, const Skeleton& skeleton) {
    const auto text = readFile(path);
    if (!text)
        return Error{text.error()};
    auto plan = planFromJson(*text, skeleton);
    if (!plan)
        return Error{"Cannot use " + path + ": " + plan.error() + "."};
    return plan;
}

} // namespace hobble
