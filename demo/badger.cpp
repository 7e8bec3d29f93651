#include "badger.h"

#include "badger_body.h"
#include "corrective.h"
#include "face.h"
#include "garment.h"
#include "skinning.h"

#include <algorithm>
#include <cmath>

namespace hobble::demo {

namespace {

// The hollow behind the lips, for its colour.
const std::vector<Solid>& mouthAir() {
    static const std::vector<Solid> air = [] {
        Solid s;
        s.a = Vec3d(0, 0.896, 0.085);
        s.b = Vec3d(0, 0.884, 0.185);
        s.ra = 0.018;
        s.rb = 0.016;
        return std::vector<Solid>{s};
    }();
    return air;
}

// A badger's mask: white face, a black stripe from the nose over each eye to the ear; dark limbs, pale belly,
// grizzled back.
Vec3 furColour(const Vec3d& p) {
    const Vec3d grey(0.20, 0.20, 0.21), dark(0.035, 0.033, 0.035), white(0.86, 0.84, 0.78),
        pale(0.46, 0.43, 0.38);
    const double x = std::abs(p.x()), y = p.y(), z = p.z();
    Vec3d c = grey;
    auto over = [&](const Vec3d& with, double share) { c += (with - c) * share; };
    over(pale, soft(-0.02, 0.06, z) * soft(0.12, -0.04, x) * soft(0.80, -0.05, y));
    const double arm = soft(0.185, 0.03, x) * soft(0.36, 0.02, y) * soft(0.84, -0.02, y);
    over(dark, std::max(arm, soft(0.31, -0.05, y) * soft(-0.09, 0.02, z)));
    if (y > 0.83) {
        const double middle = 0.018 + 0.30 * std::max(0.0, 0.20 - z) * soft(0.24, -0.10, z);
        const double stripe =
            std::exp(-std::pow((x - std::min(middle, 0.062 + 0.12 * std::max(0.0, 0.06 - z))) / 0.023, 4.0));
        over(white, soft(0.845, 0.03, y) * soft(-0.06, 0.05, z));
        over(dark, stripe * soft(0.918, 0.014, y) * soft(0.225, -0.02, z) * soft(-0.085, 0.03, z));
        over(white, soft(1.072, 0.010, y) * soft(0.085, 0.02, x)); // ear tips
        const bool mouth =
            x < 0.043 && z < 0.205 && z > 0.06 && y > 0.872 && y < 0.915 && field(mouthAir(), p) < 0.003;
        if (mouth)
            c = Vec3d(0.20, 0.035, 0.035);
    }
    return c.cast<float>();
}

// Which bones a limb's skin may belong to.
std::vector<Bone> bonesOfLabel(const Rig& r, int label, const std::string& side) {
    static const char* digits[] = {"thumb", "index", "middle", "ring"};
    switch (label) {
    case NeckLabel:
        return bonesOf(r, {{"chest", "neck"}, {"neck", "head"}, {"head", "lid_upper.L"}});
    case HeadLabel:
    case MouthLabel:
    case LidLabel:
    case EarLabel: {
        auto out = bonesOf(r, {{"neck", "head"}});
        out.push_back(
            {r.index.at("head"), r.at("head") + Vec3d(0, 0.06, 0), r.at("head") + Vec3d(0, 0.11, 0.03)});
        return out;
    }
    case TailLabel:
        return bonesOf(r, {{"tail_1", "tail_2"}, {"tail_2", "tail_3"}, {"tail_3", "tail_end"}});
    case ArmLabel:
        return bonesOf(r, {{"upper_arm" + side, "forearm" + side}, {"forearm" + side, "hand" + side}});
    case HandLabel:
        return bonesOf(r, {{"forearm" + side, "hand" + side}, {"hand" + side, "middle_1" + side}});
    case LegLabel:
    case FootLabel:
        return bonesOf(r, {{"thigh" + side, "shin" + side},
                           {"shin" + side, "foot" + side},
                           {"foot" + side, "toes" + side},
                           {"toes" + side, "toes_end" + side}});
    case TorsoLabel: {
        auto out = bonesOf(r, {{"spine_1", "spine_2"},
                               {"spine_2", "chest"},
                               {"chest", "neck"},
                               {"collarbone" + side, "upper_arm" + side}});
        out.push_back({r.index.at("pelvis"), r.at("pelvis") - Vec3d(0, 0.05, 0), r.at("spine_1")});
        return out;
    }
    default: {
        const std::string d = digits[label - FingerLabel];
        return bonesOf(r, {{d + "_1" + side, d + "_2" + side}, {d + "_2" + side, d + "_end" + side}});
    }
    }
}

std::vector<Weights> bodyWeights(const Rig& r, const QuadMesh& cage, const Mesh& mesh) {
    std::vector<Home> home;
    const std::vector<int> label = labels(cage);
    for (std::size_t v = 0; v < mesh.position.size(); ++v) {
        const Vec3d p = mesh.position[v].cast<double>();
        home.push_back(nearestBone(bonesOfLabel(r, label[v], p.x() < 0 ? ".R" : ".L"), p));
        // Below the line from the hinge to the lips, the face is the jaw's.
        const double line = 0.908 - 0.12 * (p.z() - 0.045);
        if ((label[v] == HeadLabel || label[v] == MouthLabel) && p.z() > 0.03) {
            if (p.y() < line)
                home.back() = {r.index.at("jaw"), 0.025};
            else // the snout lies far from any bone, and is the skull's all the same
                home.back().distance = std::min(home.back().distance, 0.025);
        }
    }
    std::vector<Weights> w = heatWeights(mesh, home, 0.5);
    const auto id = [&](const std::string& name) { return r.index.at(name); };
    shareLids(w, mesh, label, badgerHead(), r);
    shareEars(w, mesh, label, r, 0.05);
    for (const char* side : {".L", ".R"}) {
        const std::string s = side;
        shareHelper(w, r.skeleton, id("forearm" + s), id("elbow_helper" + s));
        shareHelper(w, r.skeleton, id("shin" + s), id("knee_helper" + s));
        shareTwist(w, mesh, {id("upper_arm" + s), r.at("upper_arm" + s), r.at("forearm" + s)},
                   {{0.0, id("upper_arm_twist_1" + s)},
                    {0.4, id("upper_arm_twist_2" + s)},
                    {0.8, id("upper_arm" + s)}});
        shareTwist(
            w, mesh, {id("forearm" + s), r.at("forearm" + s), r.at("hand" + s)},
            {{0.05, id("forearm" + s)}, {0.4, id("forearm_twist_1" + s)}, {0.75, id("forearm_twist_2" + s)}});
    }
    return w;
}

constexpr double kCoatOff = 0.009; // metres off the skin

Garment coatOf(const QuadMesh& fine, const QuadMesh& coarse, const Rig& r) {
    const Vec3d elbow = r.at("forearm.L"), wrist = r.at("hand.L");
    Garment coat = cutFrom(fine, coarse, kCoatOff, [&](const Vec3d& p, int label) {
        if (label == TorsoLabel || label == NeckLabel)
            return p.y() > 0.436 && p.y() < 0.805;
        const Vec3d left(std::abs(p.x()), p.y(), p.z());
        return label == ArmLabel &&
               (left - elbow).dot((wrist - elbow).normalized()) < 0.78 * (wrist - elbow).norm();
    });
    for (Ring border : borders(coat.mesh)) {
        const Vec3d middle = coat.mesh.centre(border);
        if (std::abs(middle.x()) > 0.1) { // cuffs, turned back
            const Vec3d way = (elbow - wrist).normalized();
            const Vec3d back(std::copysign(way.x(), -middle.x()), way.y(), way.z());
            border = hem(coat, border,
                         [&](const Vec3d& p) { return Vec3d(p + 0.006 * (p - middle).normalized()); });
            hem(coat, border, [&](const Vec3d& p) { return Vec3d(p + 0.016 * back); });
        } else if (middle.y() > 0.7) { // a standing collar
            for (int k = 1; k <= 3; ++k)
                border = hem(coat, border, [&](const Vec3d& p) {
                    const Vec3d out = Vec3d(p.x(), 0, p.z()).normalized();
                    return Vec3d(p + 0.0045 * out + Vec3d(0, 0.006 + 0.003 * (p.z() < 0), 0));
                });
        } else { // below the belt the coat flares, and is slit at the back for the tail
            for (int k = 1; k <= 9; ++k)
                border = hem(
                    coat, border,
                    [&](const Vec3d& p) {
                        const Vec3d out = Vec3d(p.x(), 0, p.z() + 0.005).normalized();
                        return Vec3d(p + (0.0022 + 0.0006 * k) * out - Vec3d(0, 0.0145, 0));
                    },
                    [](const Vec3d& a, const Vec3d& b) {
                        return !(a.z() < 0 && std::abs(a.x() + b.x()) / 2 < 0.052 && a.y() < 0.445);
                    });
        }
    }
    return coat;
}

Vec3 coatColour(const Vec3d& p) {
    Vec3d c(0.60, 0.36, 0.035);
    const double x = std::abs(p.x());
    if (p.z() > 0 && p.y() < 0.80 && x < 0.006) // where it closes
        c *= 0.55;
    if (p.y() > 0.436 && p.y() < 0.462 && x < 0.22)
        c = Vec3d(0.10, 0.055, 0.03); // the belt
    return c.cast<float>();
}

// Each button keeps its shape and goes with the coat below it.
void addButtons(Assembly& a, const std::vector<Solid>& flesh, const Mesh& coat,
                const std::vector<Weights>& coatSkin) {
    Mesh all;
    std::vector<Weights> weights;
    for (double y : {0.50, 0.575, 0.65, 0.725}) {
        Vec3d p(0.022, y, 0.4);
        while (field(flesh, p) > kCoatOff + 0.002)
            p.z() -= 0.0005;
        const Mesh one = polygonize({ellipsoid(p, {0.010, 0.010, 0.005})}, 0.0035);
        const auto first = static_cast<std::uint32_t>(all.position.size());
        all.position.insert(all.position.end(), one.position.begin(), one.position.end());
        for (const Triangle& t : one.triangles)
            all.triangles.push_back({t[0] + first, t[1] + first, t[2] + first});
        const std::vector<Weights> skin = carriedWeights({{p.cast<float>()}, {}}, coat.position, coatSkin, 0);
        weights.insert(weights.end(), one.position.size(), skin[0]);
    }
    a.part("buttons", all, weights, std::vector<Vec3>(all.position.size(), Vec3(0.03f, 0.028f, 0.03f)));
}

void addMouthParts(Assembly& a, const Rig& r) {
    const Vec3 ivory(0.78f, 0.74f, 0.62f);
    a.rigid("teeth_upper", r.index.at("head"), teethAlong({0, 0.8865, 0.206}, 0.031, 0.055, 0.004, 0.0038),
            0.0022, ivory);
    a.rigid("teeth_lower", r.index.at("jaw"), teethAlong({0, 0.8765, 0.188}, 0.027, 0.055, 0.010, 0.0034),
            0.0022, ivory);
    addTongue(a, r, 0.011, 1.45, Vec3(0.42f, 0.10f, 0.10f));
}

void addAccessories(Assembly& a, const Rig& r) {
    const int head = r.index.at("head");
    std::vector<Vec3> eyeColours;
    const Mesh eyes = eyeballs(
        badgerHead(), 25, 46,
        {Vec3(0.75f, 0.72f, 0.66f), Vec3(0.17f, 0.07f, 0.02f), Vec3(0.004f, 0.004f, 0.004f)}, eyeColours);
    a.part("eyes", eyes, std::vector<Weights>(eyes.position.size(), Weights{{head, 1.0}}), eyeColours);
    a.rigid("nose", head, {ellipsoid({0, 0.926, 0.222}, {0.023, 0.017, 0.016}, 0.2)}, 0.005,
            Vec3(0.02f, 0.016f, 0.018f));
    a.rigid("cap", head,
            {ellipsoid({0, 1.090, -0.006}, {0.116, 0.040, 0.108}, 0.10),
             ellipsoid({0, 1.058, 0.004}, {0.098, 0.030, 0.096}, 0.10, 0.03),
             ellipsoid({0, 1.052, 0.100}, {0.080, 0.013, 0.062}, 0.34)},
            0.0072, Vec3(0.045f, 0.075f, 0.16f));
    Solid bag;
    bag.shape = Solid::Shape::Box;
    bag.a = Vec3d(0.228, 0.392, -0.018);
    bag.size = Vec3d(0.036, 0.066, 0.076);
    bag.ra = 0.016;
    bag.turn = Eigen::AngleAxisd(0.14, Vec3d::UnitZ()).toRotationMatrix();
    a.rigid("satchel", r.index.at("pelvis"), {bag}, 0.009, Vec3(0.24f, 0.13f, 0.055f));
}

// Twist joints share the roll of hand and upper arm; elbows and knees have a helper that turns half.
std::vector<Driver> badgerDrivers(const Character& c, const Rig& r) {
    std::vector<Driver> out;
    auto add = [&](const std::string& name, const std::string& source, const std::string& joint,
                   const Vec3d& about, std::vector<DriverKey> keys) {
        out.push_back(follow(c, r, name, source, joint, about, std::move(keys)));
    };
    const Plan plan = defaultPlan(c, guessRoles(c));
    for (const char* side : {".L", ".R"}) {
        const std::string s = side;
        const Vec3d bone = Vec3d::UnitY();
        add("forearm twist 1" + s, "hand" + s, "forearm_twist_1" + s, bone, {{-180, -60}, {180, 60}});
        add("forearm twist 2" + s, "hand" + s, "forearm_twist_2" + s, bone, {{-180, -120}, {180, 120}});
        add("upper arm twist 1" + s, "upper_arm" + s, "upper_arm_twist_1" + s, bone,
            {{-180, 120}, {180, -120}});
        add("upper arm twist 2" + s, "upper_arm" + s, "upper_arm_twist_2" + s, bone,
            {{-180, 60}, {180, -60}});
        for (const auto& [joint, helper] :
             {std::pair<std::string, std::string>{"forearm", "elbow_helper"}, {"shin", "knee_helper"}})
            for (const Motion& m : plan.motions)
                if (m.turns.size() == 1 && m.turns[0].joint == r.index.at(joint + s) &&
                    m.name.ends_with("flex"))
                    add(helper + s, joint + s, helper + s, m.turns[0].axis, {{-180, -90}, {180, 90}});
    }
    return out;
}

// A body preset: the same badger after a good winter. What he wears moves out with him.
void addWellFed(Character& c) {
    const Vec3d middle(0, 0.47, 0.02);
    for (Part& part : c.parts) {
        if (part.name != "body" && part.name != "coat" && part.name != "buttons" && part.name != "strap")
            continue;
        ShapeTarget target{"well fed", {}, {}};
        for (std::uint32_t v = 0; v < part.vertexCount; ++v) {
            const Vec3d p = c.bindPosition[part.firstVertex + v].cast<double>();
            const Vec3d from(p.x() - middle.x(), 0, p.z() - middle.z());
            const double up = (p.y() - middle.y()) / (p.y() > middle.y() ? 0.19 : 0.13);
            const double front = std::clamp(0.5 + from.z() / 0.16, 0.0, 1.0);
            const double arm = std::clamp((0.31 - from.norm()) / 0.07, 0.0, 1.0); // those hang beside it
            const double near = std::exp(-up * up) * (0.25 + 0.75 * front) * arm * arm * (3 - 2 * arm);
            if (near < 0.01 || from.norm() < 1e-6)
                continue;
            const Vec3d out = near * (0.14 * from.normalized() - 0.11 * front * Vec3d::UnitY());
            target.vertex.push_back(v);
            target.delta.push_back(out.cast<float>());
        }
        part.targets.push_back(std::move(target));
        part.targetWeights.push_back(0);
    }
}

} // namespace

Character badgerPostmaster() {
    const Rig rig = badgerRig();
    const std::vector<Solid> flesh = badgerFlesh(rig);
    const QuadMesh coarse = badgerCage(rig, flesh);
    QuadMesh fine = subdivided(coarse);
    settle(fine, flesh, 8);
    Mesh body = triangulated(fine);
    mirrorPairs(body.position, true);
    for (std::size_t v = 0; v < fine.at.size(); ++v)
        fine.at[v] = body.position[v].cast<double>();
    Assembly a(rig, "badger-postmaster");
    const std::vector<Weights> bodySkin = bodyWeights(rig, fine, body);
    a.part("body", body, bodySkin, painted(body, furColour));

    Garment coat = coatOf(fine, coarse, rig);
    const Mesh coatMesh = triangulated(kept(coat.mesh));
    const std::vector<Weights> coatSkin = carriedWeights(coatMesh, body.position, bodySkin, 2);
    a.part("coat", coatMesh, coatSkin, painted(coatMesh, coatColour));
    addButtons(a, flesh, coatMesh, coatSkin);
    const Vec3d hip(0.185, 0.445, -0.01), shoulder(-0.085, 0.82, 0.0);
    const Mesh strap = strapAround(flesh, 0.5 * (hip + shoulder), (shoulder - hip).normalized(),
                                   Vec3d::UnitZ(), 0.024, 0.007, kCoatOff + 0.004);
    a.part("strap", strap, carriedWeights(strap, body.position, bodySkin, 2),
           std::vector<Vec3>(strap.position.size(), Vec3(0.20f, 0.105f, 0.045f)));
    addMouthParts(a, rig);
    addAccessories(a, rig);
    Character c = a.finish();
    c.drivers = badgerDrivers(c, rig);
    addWellFed(c);
    addCorrectives(c, 0,
                   {{Role::Shoulder, Role::Elbow, Role::Hip, Role::Knee, Role::Wrist, Role::Ankle,
                     Role::Collarbone, Role::Finger, Role::Thumb, Role::Toe},
                    {{"coat", 1.0}, {"strap", 1.0}}});
    return c;
}

} // namespace hobble::demo
