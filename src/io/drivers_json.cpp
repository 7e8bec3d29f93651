#include "io/drivers_json.h"
#include "core/words/say.h"

#include <nlohmann/json.hpp>

#include <algorithm>
#include <cmath>

namespace hobble {

namespace {

using nlohmann::json;

json vectorJson(const Vec3d& v) { return {v.x(), v.y(), v.z()}; }

/// A unit vector; zero when it is none.
Vec3d axisFrom(const json& j, const char* key) {
    const auto it = j.find(key);
    if (it == j.end() || !it->is_array() || it->size() != 3)
        return Vec3d::Zero();
    Vec3d v = Vec3d::Zero();
    for (int i = 0; i < 3; ++i)
        if ((*it)[i].is_number())
            v[i] = (*it)[i].get<double>();
    return v.allFinite() && v.norm() > 1e-6 ? Vec3d(v.normalized()) : Vec3d::Zero();
}

/// Why the poses cannot be used; empty when they can.
std::string readPoses(const json& j, Driver& d) {
    const json& list = j["poses"];
    if (!list.is_array() || list.empty())
        return "has no poses";
    for (const json& p : list) {
        double x[5] = {0, 0, 0, 0, 0}; // the turn, x y z w, and what it gives
        bool good = p.is_object() && p.contains("turn") && p["turn"].is_array() && p["turn"].size() == 4 &&
                    p.contains("out") && p["out"].is_number();
        for (std::size_t i = 0; good && i < 4; ++i)
            if ((good = p["turn"][i].is_number()))
                x[i] = p["turn"][i].get<double>();
        if (good)
            x[4] = p["out"].get<double>();
        const Quat turn(x[3], x[0], x[1], x[2]);
        if (!good || !turn.coeffs().allFinite() || turn.norm() < 1e-6 || !std::isfinite(x[4]))
            return "has a pose that is not a rotation (x, y, z, w) and a number";
        d.poses.push_back({turn.normalized(), x[4]});
    }
    if (const auto width = j.find("width"); width != j.end()) {
        d.width = width->is_number() ? width->get<double>() : -1;
        if (!(d.width > 0) || !std::isfinite(d.width))
            return "has a width that is not a number of degrees above 0";
    }
    return preparePoses(d) ? "" : "gives two answers in the same pose";
}

std::string textFrom(const json& j, const char* key) {
    const auto it = j.find(key);
    return it != j.end() && it->is_string() ? it->get<std::string>() : std::string();
}

/// Why the driver cannot be used; empty when it can.
std::string readDriver(const json& j, const Character& c, Driver& d) {
    if (!j.is_object())
        return "is not an object";
    d.name = textFrom(j, "name");
    d.source = c.skeleton.find(textFrom(j, "source"));
    d.about = axisFrom(j, "about");
    if (d.source < 0)
        return "watches the joint '" + textFrom(j, "source") + "', which is not there";
    const bool byPoses = j.contains("poses");
    if (!byPoses && d.about.norm() == 0)
        return "has no axis to watch about";
    if (byPoses) {
        if (const std::string why = readPoses(j, d); !why.empty())
            return why;
        d.about = Vec3d::UnitX();
    }
    const auto keys = j.find("keys");
    if (byPoses) {
        // several poses speak in place of one angle
    } else if (keys == j.end() || !keys->is_array() || keys->empty())
        return "has no keys";
    for (const json& k : byPoses ? json::array() : *keys) {
        if (!k.is_array() || k.size() != 2 || !k[0].is_number() || !k[1].is_number())
            return "has a key that is not a pair of numbers";
        d.keys.push_back({k[0].get<double>(), k[1].get<double>()});
        if (!std::isfinite(d.keys.back().degrees) || !std::isfinite(d.keys.back().out))
            return "has a key that is not a number";
        if (d.keys.size() > 1 && d.keys.back().degrees < d.keys[d.keys.size() - 2].degrees)
            return "has keys out of order";
    }
    const std::string output = textFrom(j, "output");
    if (output == "target") {
        d.output = Driver::Output::Target;
        const std::string part = textFrom(j, "part"), target = textFrom(j, "target");
        for (std::size_t p = 0; p < c.parts.size(); ++p)
            for (std::size_t t = 0; t < c.parts[p].targets.size(); ++t)
                if (c.parts[p].name == part && c.parts[p].targets[t].name == target) {
                    d.part = static_cast<int>(p);
                    d.target = static_cast<int>(t);
                }
        return d.part < 0 ? "fades in the shape '" + target + "' of '" + part + "', which is not there" : "";
    }
    if (output != "turn" && output != "shift")
        return "has the output '" + output + "', which is none of turn, shift and target";
    d.output = output == "turn" ? Driver::Output::Turn : Driver::Output::Shift;
    d.joint = c.skeleton.find(textFrom(j, "joint"));
    d.along = axisFrom(j, "along");
    if (d.joint < 0)
        return "moves the joint '" + textFrom(j, "joint") + "', which is not there";
    return d.along.norm() == 0 ? "has no axis to move along" : "";
}

} // namespace

json driversToJson(const Character& c) {
    json out = json::array();
    for (const Driver& d : c.drivers) {
        json j{{"name", d.name}, {"source", c.skeleton.name[d.source]}};
        if (d.poses.empty())
            j["about"] = vectorJson(d.about);
        else
            j["width"] = d.width;
        for (const DriverKey& k : d.keys)
            j["keys"].push_back({k.degrees, k.out});
        for (const DriverPose& p : d.poses)
            j["poses"].push_back(
                {{"turn", {p.turn.x(), p.turn.y(), p.turn.z(), p.turn.w()}}, {"out", p.out}});
        if (d.output == Driver::Output::Target) {
            j["output"] = "target";
            j["part"] = c.parts[d.part].name;
            j["target"] = c.parts[d.part].targets[d.target].name;
        } else {
            j["output"] = d.output == Driver::Output::Turn ? "turn" : "shift";
            j["joint"] = c.skeleton.name[d.joint];
            j["along"] = vectorJson(d.along);
        }
        out.push_back(std::move(j));
    }
    return out;
}

std::vector<Driver> driversFromJson(const json& list, const Character& c, std::vector<std::string>& notes) {
    std::vector<Driver> out;
    if (!list.is_array()) {
        notes.push_back(say("The drivers of the file are not a list and are left out."));
        return out;
    }
    for (std::size_t i = 0; i < list.size(); ++i) {
        Driver d;
        const std::string why = readDriver(list[i], c, d);
        const std::string called = d.name.empty() ? std::to_string(i + 1) : "'" + d.name + "'";
        if (why.empty())
            out.push_back(std::move(d));
        else
            notes.push_back(say("Driver %s %s; it is left out.", called, why));
    }
    for (const std::string& name : orderDrivers(out))
        notes.push_back(say("Driver '%s' waits for itself in a circle; it is left out.", name));
    return out;
}

} // namespace hobble
