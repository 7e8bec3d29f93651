#include "io/plan_json.h"

#include "core/words/say.h"
#include "io/file_read.h"

#include <nlohmann/json.hpp>

#include <algorithm>
#include <cmath>

namespace hobble {

using nlohmann::json;

namespace {

/// Why something of a plan cannot be used.
struct Unusable {
    std::string why;
};

json numbers(const Vec3d& v) { return {v.x(), v.y(), v.z()}; }

const char* nameOfSpan(Span span) {
    return span == Span::Degrees ? "degrees" : span == Span::Percent ? "percent" : "frames";
}

json targetJson(const Character& c, int part, int target) {
    const Part& p = c.parts[static_cast<std::size_t>(part)];
    return {{"part", p.name}, {"target", p.targets[static_cast<std::size_t>(target)].name}};
}

json keyJson(const Character& c, const MotionKey& key) {
    json out{{"at", key.at}, {"joints", json::array()}};
    for (std::size_t j = 0; j < key.pose.turn.size(); ++j) {
        const Quat& q = key.pose.turn[j];
        const bool moved = !key.pose.shift.empty() && key.pose.shift[j].norm() > 1e-9;
        if (!moved && q.angularDistance(Quat::Identity()) < 1e-9)
            continue;
        json joint{{"joint", c.skeleton.name[j]}, {"turn", {q.x(), q.y(), q.z(), q.w()}}};
        if (moved)
            joint["shift"] = numbers(key.pose.shift[j]);
        out["joints"].push_back(std::move(joint));
    }
    for (const TargetWeight& t : key.pose.targets) {
        json target = targetJson(c, t.part, t.target);
        target["weight"] = t.weight;
        out["targets"].push_back(std::move(target));
    }
    return out;
}

json motionJson(const Character& c, const Motion& m) {
    json turns = json::array();
    for (const JointTurn& t : m.turns)
        turns.push_back({{"joint", c.skeleton.name[static_cast<std::size_t>(t.joint)]},
                         {"axis", numbers(t.axis)},
                         {"share", t.share}});
    json out{{"id", m.id},
             {"name", m.name},
             {"limb", nameOf(m.limb)},
             {"side", nameOf(m.side)},
             {"role", nameOf(m.role)},
             {"roll", m.roll},
             {"turns", turns},
             {"degrees", m.steps}};
    if (m.span != Span::Degrees)
        out["span"] = nameOfSpan(m.span);
    if (!m.on)
        out["on"] = false;
    if (!m.source.empty())
        out["source"] = m.source;
    if (!m.beyond.empty())
        out["beyond"] = m.beyond;
    for (const JointShift& s : m.shifts)
        out["shifts"].push_back(
            {{"joint", c.skeleton.name[static_cast<std::size_t>(s.joint)]}, {"perUnit", numbers(s.perUnit)}});
    for (const TargetShare& t : m.targets) {
        json target = targetJson(c, t.part, t.target);
        target["perUnit"] = t.perUnit;
        out["targets"].push_back(std::move(target));
    }
    if (m.keys)
        for (const MotionKey& k : *m.keys)
            out["keys"].push_back(keyJson(c, k));
    if (!m.frames.empty())
        out["frames"] = m.frames;
    return out;
}

double finite(const json& j) {
    const double x = j.get<double>();
    if (!std::isfinite(x) || std::abs(x) > 1e6)
        throw Unusable{"has a number beyond all bounds"};
    return x;
}

Vec3d vectorFrom(const json& j) {
    if (!j.is_array() || j.size() != 3)
        throw Unusable{"has a direction that is not three numbers"};
    return Vec3d(finite(j[0]), finite(j[1]), finite(j[2]));
}

int jointFrom(const json& j, const Character& c, const char* verb) {
    const auto name = j.at("joint").get<std::string>();
    const int joint = c.skeleton.find(name);
    if (joint < 0)
        throw Unusable{std::string(verb) + " joint '" + name + "', which this character does not have"};
    return joint;
}

std::pair<int, int> targetFrom(const json& j, const Character& c) {
    const auto part = j.at("part").get<std::string>(), target = j.at("target").get<std::string>();
    for (std::size_t p = 0; p < c.parts.size(); ++p)
        for (std::size_t t = 0; t < c.parts[p].targets.size(); ++t)
            if (c.parts[p].name == part && c.parts[p].targets[t].name == target)
                return {static_cast<int>(p), static_cast<int>(t)};
    throw Unusable{"fades in the shape '" + target + "' of '" + part +
                   "', which this character does not have"};
}

MotionKey keyFrom(const json& j, const Character& c) {
    MotionKey key{finite(j.at("at")), Pose::neutral(c.skeleton)};
    for (const json& x : j.at("joints")) {
        const auto joint = static_cast<std::size_t>(jointFrom(x, c, "turns"));
        const json& q = x.at("turn");
        if (!q.is_array() || q.size() != 4)
            throw Unusable{"has a turn that is not four numbers"};
        const Quat turn(finite(q[3]), finite(q[0]), finite(q[1]), finite(q[2]));
        if (turn.norm() < 1e-6)
            throw Unusable{"has a turn of no length"};
        key.pose.turn[joint] = turn.normalized();
        if (x.contains("shift")) {
            key.pose.shift.resize(key.pose.turn.size(), Vec3d::Zero());
            key.pose.shift[joint] = vectorFrom(x["shift"]);
        }
    }
    if (j.contains("targets"))
        for (const json& x : j["targets"]) {
            const auto [part, target] = targetFrom(x, c);
            key.pose.targets.push_back({part, target, finite(x.at("weight"))});
        }
    return key;
}

Motion motionFrom(const json& m, const Character& c) {
    Motion motion;
    motion.id = presentId(m.at("id").get<std::string>());
    motion.name = m.value("name", motion.id);
    motion.limb = limbNamed(m.value("limb", "Other")).value_or(Limb::Other);
    motion.roll = m.value("roll", false);
    motion.on = m.value("on", true);
    motion.source = m.value("source", "");
    motion.beyond = m.value("beyond", "");
    const std::string span = m.value("span", "degrees");
    motion.span = span == "percent" ? Span::Percent : span == "frames" ? Span::Frames : Span::Degrees;
    motion.side = sideCalled(m.value("side", "middle")).value_or(Side::Middle);
    motion.role = roleCalled(m.value("role", "unknown")).value_or(Role::Unknown);
    for (const json& t : m.at("turns")) {
        JointTurn turn;
        turn.joint = jointFrom(t, c, "turns");
        turn.axis = vectorFrom(t.at("axis"));
        turn.share = t.contains("share") ? finite(t["share"]) : 1.0;
        if (!(turn.axis.norm() > 1e-9))
            throw Unusable{"has an axis of zero length"};
        turn.axis.normalize();
        motion.turns.push_back(turn);
    }
    if (m.contains("shifts"))
        for (const json& s : m["shifts"])
            motion.shifts.push_back({jointFrom(s, c, "moves"), vectorFrom(s.at("perUnit"))});
    if (m.contains("targets"))
        for (const json& t : m["targets"]) {
            const auto [part, target] = targetFrom(t, c);
            motion.targets.push_back({part, target, finite(t.at("perUnit"))});
        }
    if (m.contains("keys")) {
        std::vector<MotionKey> keys;
        for (const json& k : m["keys"]) {
            keys.push_back(keyFrom(k, c));
            if (keys.size() > 1 && keys.back().at <= keys[keys.size() - 2].at)
                throw Unusable{"has poses out of order"};
        }
        if (!keys.empty())
            motion.keys = std::make_shared<const std::vector<MotionKey>>(std::move(keys));
    }
    if (m.contains("frames"))
        motion.frames = m["frames"].get<std::vector<std::size_t>>();
    motion.steps = m.at("degrees").get<std::vector<double>>();
    const double most = motion.span == Span::Frames ? 1e6 : 3600;
    for (double d : motion.steps)
        if (!std::isfinite(d) || std::abs(d) > most)
            throw Unusable{"has an angle beyond all bounds"};
    if (motion.turns.empty() || motion.steps.empty())
        throw Unusable{"has no joint or no step"};
    return motion;
}

} // namespace

std::string planToJson(const Plan& plan, const Character& c) {
    json out{{"format", "hobble-plan"}, {"version", 2}, {"name", plan.name}, {"motions", json::array()}};
    if (plan.refineTo > 0)
        out["refineTo"] = plan.refineTo;
    for (const Motion& m : plan.motions)
        out["motions"].push_back(motionJson(c, m));
    return out.dump(1) + "\n";
}

Result<Plan> planFromJson(const std::string& text, const Character& c, std::vector<std::string>* left) {
    const json in = json::parse(text, nullptr, false);
    if (in.is_discarded() || !in.is_object())
        return Error{say("it is not valid JSON")};
    try {
        if (in.value("format", "") != "hobble-plan")
            return Error{say("it is not a Hobble plan (its \"format\" should be \"hobble-plan\")")};
        if (const int version = in.at("version").get<int>(); version != 1 && version != 2)
            return Error{say("it is a plan of another version; this Hobble reads versions 1 and 2")};
        Plan plan;
        plan.name = in.value("name", "plan");
        plan.refineTo = in.contains("refineTo") ? std::clamp(in["refineTo"].get<double>(), 0.0, 90.0) : 0.0;
        for (const json& m : in.at("motions")) {
            const std::string id =
                m.is_object() && m.contains("id") && m["id"].is_string() ? m["id"].get<std::string>() : "?";
            try {
                Motion motion = motionFrom(m, c);
                if (plan.find(motion.id) >= 0)
                    throw Unusable{"is there twice"};
                plan.motions.push_back(std::move(motion));
            } catch (const Unusable& u) {
                if (!left)
                    return Error{say("motion '%s' %s", id, u.why)};
                left->push_back(say("Motion '%s' %s; it is left out.", id, u.why));
            }
        }
        return plan;
    } catch (const json::exception& e) {
        return Error{say("something is missing or of the wrong type: %s", e.what())};
    }
}

Result<Plan> readPlan(const std::string& path, const Character& c, std::vector<std::string>* left) {
    const auto text = readFile(path);
    if (!text)
        return Error{text.error()};
    auto plan = planFromJson(*text, c, left);
    if (!plan)
        return Error{say("Cannot use %s: %s.", path, plan.error())};
    if (left && plan->motions.empty() && !left->empty())
        return Error{say(
            "Cannot use %s: it is a plan for another character, none of whose motions this one has.", path)};
    return plan;
}

} // namespace hobble
