#include "io/pose_json.h"

#include "core/words/say.h"
#include "io/file_read.h"

#include <nlohmann/json.hpp>

#include <cmath>

namespace hobble {

using nlohmann::json;

std::string poseToJson(const RolePose& pose) {
    json out{{"format", "hobble-pose"}, {"version", 1}, {"name", pose.name}, {"joints", json::array()}};
    for (std::size_t i = 0; i < pose.joints.size(); ++i) {
        const PlacedJoint& p = pose.joints[i];
        const Quat& q = pose.turned[i];
        json joint{{"role", nameOf(p.place.role)},
                   {"side", nameOf(p.place.side)},
                   {"name", p.name},
                   {"parent", p.parent},
                   {"segment", p.place.segment},
                   {"turn", {q.x(), q.y(), q.z(), q.w()}},
                   {"bone", {p.bone.x(), p.bone.y(), p.bone.z()}}};
        if (p.place.digit >= 0)
            joint["digit"] = p.place.digit;
        if (p.place.fore)
            joint["fore"] = true;
        out["joints"].push_back(std::move(joint));
    }
    if (pose.hips >= 0) {
        out["hips"] = pose.hips;
        out["hipsMoved"] = {pose.hipsMoved.x(), pose.hipsMoved.y(), pose.hipsMoved.z()};
    }
    for (const auto& [name, weight] : pose.shapes)
        out["shapes"].push_back({{"name", name}, {"weight", weight}});
    if (!pose.picture.empty())
        out["picture"] = pose.picture;
    return out.dump(1) + "\n";
}

Result<RolePose> poseFromJson(const std::string& text) {
    const json in = json::parse(text, nullptr, false);
    if (in.is_discarded() || !in.is_object())
        return Error{say("it is not valid JSON")};
    try {
        if (in.value("format", "") != "hobble-pose")
            return Error{say("it is not a Hobble pose (its \"format\" should be \"hobble-pose\")")};
        if (in.at("version").get<int>() != 1)
            return Error{say("it is a pose of another version; this Hobble reads version 1")};
        RolePose pose;
        pose.name = in.value("name", "pose");
        for (const json& j : in.at("joints")) {
            PlacedJoint p;
            const auto role = roleCalled(j.at("role").get<std::string>());
            const auto side = sideCalled(j.value("side", "middle"));
            const std::string at = "joint " + std::to_string(pose.joints.size() + 1);
            if (!role || !side)
                return Error{say("%s has a role or a side that does not exist", at)};
            p.place = {*role, *side, j.value("fore", false), j.value("digit", -1), j.value("segment", 0)};
            p.name = j.value("name", std::string(nameOf(*role)));
            p.parent = j.value("parent", -1);
            const auto turn = j.at("turn").get<std::array<double, 4>>();
            const auto bone = j.at("bone").get<std::array<double, 3>>();
            const Quat q(turn[3], turn[0], turn[1], turn[2]);
            p.bone = Vec3d(bone[0], bone[1], bone[2]);
            if (!q.coeffs().allFinite() || q.norm() < 1e-6 || !p.bone.allFinite())
                return Error{say("%s is turned by what is no rotation", at)};
            if (p.parent >= static_cast<int>(pose.joints.size()) || p.parent < -1)
                return Error{say("%s hangs on a joint that does not come before it", at)};
            p.bone = p.bone.norm() > 1e-6 ? Vec3d(p.bone.normalized()) : Vec3d::Zero();
            pose.joints.push_back(std::move(p));
            pose.turned.push_back(q.normalized());
        }
        pose.hips = in.value("hips", -1);
        if (pose.hips >= static_cast<int>(pose.joints.size()))
            return Error{say("its hips are a joint it does not have")};
        if (in.contains("hipsMoved")) {
            const auto moved = in["hipsMoved"].get<std::array<double, 3>>();
            pose.hipsMoved = Vec3d(moved[0], moved[1], moved[2]);
            if (!pose.hipsMoved.allFinite() || pose.hipsMoved.norm() > 100)
                return Error{say("its hips are moved beyond all bounds")};
        }
        if (in.contains("shapes"))
            for (const json& s : in["shapes"]) {
                pose.shapes.push_back({s.at("name").get<std::string>(), s.at("weight").get<double>()});
                if (!std::isfinite(pose.shapes.back().second))
                    return Error{say("a shape of it has a weight that is no number")};
            }
        pose.picture = in.value("picture", "");
        return pose;
    } catch (const json::exception& e) {
        return Error{say("something is missing or of the wrong type: %s", e.what())};
    }
}

Result<RolePose> readPose(const std::string& path) {
    const auto text = readFile(path);
    if (!text)
        return Error{text.error()};
    auto pose = poseFromJson(*text);
    if (!pose)
        return Error{say("Cannot use %s: %s.", path, pose.error())};
    return pose;
}

} // namespace hobble
