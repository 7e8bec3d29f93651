#include "goat.h"

#include "corrective.h"
#include "face.h"
#include "garment.h"
#include "rig.h"

#include <algorithm>
#include <cmath>

namespace hobble::demo {

namespace {

HeadPlan goatHead() {
    HeadPlan p;
    p.place = Eigen::Translation3d(0, 1.000, 0.500) * Eigen::AngleAxisd(radians(24), Vec3d::UnitX());
    auto ring = [&](double z, double y, double rx, double ry) { p.rings.push_back({{0, y, z}, rx, ry}); };
    ring(-0.074, 0.004, 0.10, 0.10);
    ring(-0.046, 0.002, 0.12, 0.12);
    ring(-0.018, 0.000, 0.12, 0.12);
    ring(0.010, -0.003, 0.12, 0.12);
    ring(0.038, -0.006, 0.12, 0.12);
    ring(0.066, -0.010, 0.12, 0.12);
    ring(0.092, -0.015, 0.11, 0.11);
    ring(0.118, -0.021, 0.10, 0.10);
    ring(0.144, -0.027, 0.09, 0.10);
    ring(0.168, -0.033, 0.08, 0.09);
    ring(0.190, -0.038, 0.08, 0.09);
    ring(0.210, -0.042, 0.07, 0.08);
    p.corner = Vec3d(0.036, -0.052, 0.160);
    p.upper = Vec3d(0, -0.056, 0.243);
    p.lower = Vec3d(0, -0.066, 0.228);
    p.pout = 0.42;
    p.throat = Vec3d(0, -0.045, 0.105);
    p.throatWidth = 0.016;
    p.throatHeight = 0.008;
    p.eye.centre = Vec3d(0.054, 0.020, 0.052);
    p.eye.radius = 0.021;
    p.eye.gaze = Vec3d(0.85, 0.08, 0.62).normalized();
    p.ear = {{{0.072, 0.048, -0.012}, 0.030, 0.020}, {{0.092, 0.052, -0.014}, 0.028, 0.017},
             {{0.116, 0.051, -0.018}, 0.029, 0.013}, {{0.142, 0.045, -0.022}, 0.027, 0.010},
             {{0.166, 0.035, -0.026}, 0.021, 0.008}, {{0.184, 0.025, -0.029}, 0.011, 0.006}};
    p.earUp = Vec3d(0, 0.35, 1);
    return p;
}

Rig goatRig() {
    const HeadPlan plan = goatHead();
    auto inHead = [&](double x, double y, double z) -> Vec3d { return plan.place * Vec3d(x, y, z); };
    Rig r;
    r.joint("root", "", Vec3d(0, 0, 0));
    r.joint("pelvis", "root", Vec3d(0, 0.645, -0.270));
    r.joint("spine_1", "pelvis", Vec3d(0, 0.655, -0.160));
    r.joint("spine_2", "spine_1", Vec3d(0, 0.650, -0.030));
    r.joint("chest", "spine_2", Vec3d(0, 0.650, 0.110));
    r.joint("neck_1", "chest", Vec3d(0, 0.700, 0.265));
    r.joint("neck_2", "neck_1", Vec3d(0, 0.800, 0.350));
    r.joint("head", "neck_2", Vec3d(0, 0.930, 0.445));
    r.joint("jaw", "head", inHead(0, -0.020, 0.045), true);
    r.joint("jaw_end", "jaw", inHead(0, -0.088, 0.210));
    r.joint("tongue_1", "jaw", inHead(0, -0.058, 0.135), true);
    r.joint("tongue_2", "tongue_1", inHead(0, -0.062, 0.175));
    r.joint("tongue_end", "tongue_2", inHead(0, -0.066, 0.210));
    r.pair("lid_upper", "head", plan.place * plan.eye.centre, true);
    r.pair("lid_lower", "head", plan.place * plan.eye.centre, true);
    r.pair("ear", "head", inHead(0.070, 0.048, -0.010), true);
    r.pair("ear_end", "ear", inHead(0.184, 0.025, -0.029));
    r.pair("scapula", "chest", Vec3d(0.060, 0.720, 0.150), true);
    r.pair("humerus", "scapula", Vec3d(0.098, 0.560, 0.215));
    r.pair("radius", "humerus", Vec3d(0.112, 0.452, 0.135));
    r.pair("carpus", "radius", Vec3d(0.113, 0.270, 0.160));
    r.pair("fore_fetlock", "carpus", Vec3d(0.113, 0.105, 0.155));
    r.pair("fore_hoof", "fore_fetlock", Vec3d(0.113, 0.048, 0.180));
    r.pair("fore_hoof_end", "fore_hoof", Vec3d(0.113, 0.004, 0.192));
    r.pair("thigh", "pelvis", Vec3d(0.098, 0.600, -0.285), true);
    r.pair("shin", "thigh", Vec3d(0.130, 0.435, -0.225));
    r.pair("stifle_helper", "thigh", Vec3d(0.130, 0.435, -0.225), true);
    r.pair("hock", "shin", Vec3d(0.124, 0.275, -0.345));
    r.pair("fetlock", "hock", Vec3d(0.122, 0.105, -0.312));
    r.pair("hoof", "fetlock", Vec3d(0.122, 0.048, -0.286));
    r.pair("hoof_end", "hoof", Vec3d(0.122, 0.004, -0.274));
    r.joint("tail_1", "pelvis", Vec3d(0, 0.690, -0.400), true);
    r.joint("tail_2", "tail_1", Vec3d(0, 0.730, -0.445));
    r.joint("tail_3", "tail_2", Vec3d(0, 0.755, -0.490));
    r.joint("tail_end", "tail_3", Vec3d(0, 0.760, -0.535));
    r.orient();
    return r;
}

std::vector<Solid> goatFlesh(const Rig& r) {
    const HeadPlan plan = goatHead();
    auto inHead = [&](double x, double y, double z) -> Vec3d { return plan.place * Vec3d(x, y, z); };
    const Eigen::Matrix3d turn = plan.place.linear();
    Flesh f(r);
    f.ball("pelvis", {0, 0.615, -0.275}, {0.128, 0.118, 0.150}, 0.03);
    f.ball("spine_1", {0, 0.585, -0.100}, {0.146, 0.138, 0.170}, 0.06); // the belly
    f.ball("spine_2", {0, 0.598, 0.030}, {0.152, 0.142, 0.165}, 0.06);
    f.ball("chest", {0, 0.600, 0.165}, {0.125, 0.150, 0.140}, 0.05);
    f.cone("neck_1", {0, 0.665, 0.215}, 0.105, {0, 0.800, 0.345}, 0.078, 0.06);
    f.cone("neck_2", {0, 0.800, 0.345}, 0.078, {0, 0.945, 0.452}, 0.066, 0.04);
    f.limb("scapula", "humerus", 0.058, 0.066, 0.04);
    f.limb("humerus", "radius", 0.066, 0.050, 0.03);
    f.limb("radius", "carpus", 0.050, 0.031, 0.02);
    f.limb("carpus", "fore_fetlock", 0.031, 0.025, 0.01);
    f.limb("fore_fetlock", "fore_hoof", 0.028, 0.029, 0.01);
    f.limb("fore_hoof", "fore_hoof_end", 0.030, 0.034, 0.008);
    f.balls("thigh", {0.092, 0.565, -0.275}, {0.064, 0.108, 0.098}, 0.04);
    f.limb("thigh", "shin", 0.082, 0.060, 0.03);
    f.limb("shin", "hock", 0.060, 0.033, 0.02);
    f.limb("hock", "fetlock", 0.032, 0.025, 0.01);
    f.limb("fetlock", "hoof", 0.028, 0.029, 0.01);
    f.limb("hoof", "hoof_end", 0.030, 0.034, 0.008);
    f.cone("tail_1", r.at("tail_1") + Vec3d(0, -0.01, 0.03), 0.036, r.at("tail_2"), 0.034, 0.03);
    f.cone("tail_2", r.at("tail_2"), 0.034, r.at("tail_3"), 0.030, 0.015);
    f.cone("tail_3", r.at("tail_3"), 0.030, r.at("tail_end"), 0.016, 0.015);
    f.ball("head", inHead(0, 0.008, 0.006), {0.076, 0.078, 0.092}, 0.03, turn);
    f.balls("head", inHead(0.034, -0.018, 0.055), {0.044, 0.050, 0.070}, 0.03, turn);
    f.cone("head", inHead(0, -0.006, 0.060), 0.056, inHead(0, -0.036, 0.205), 0.040, 0.03);
    f.cone("jaw", inHead(0, -0.048, 0.055), 0.038, inHead(0, -0.074, 0.200), 0.026, 0.02);
    return f.solids;
}

void leg(QuadMesh& mesh, const std::vector<Solid>& flesh, const std::vector<int>& patch,
         const std::vector<Vec3d>& joints, const std::vector<double>& radius, double start) {
    std::vector<Station> stations;
    const std::vector<std::vector<double>> shares{{start, 0.5 * (1 + start)},
                                                  {0.0, 0.08, 0.17, 0.28, 0.42, 0.58, 0.74, 0.88},
                                                  {0.0, 0.06, 0.14, 0.3, 0.5, 0.7, 0.86, 0.94},
                                                  {0.0, 0.25, 0.5, 0.75},
                                                  {0.0, 0.3, 0.6, 0.9}};
    for (std::size_t b = 0; b + 1 < joints.size(); ++b)
        for (double t : shares[b]) {
            const double reach = 1.45 * (radius[b] + t * (radius[b + 1] - radius[b]));
            stations.push_back({between(joints[b], joints[b + 1], t), reach, reach, 0.004});
        }
    const Drawn drawn = drawOut(mesh, mesh.open(patch), stations, Vec3d::UnitZ(), LegLabel, &flesh);
    mesh.close(drawn.rings.back(), 4, 4, FootLabel);
}

QuadMesh goatCage(const Rig& r, const std::vector<Solid>& flesh) {
    QuadMesh mesh;
    constexpr int around = 20;
    const double first = kPi / 5;
    std::vector<Ring> rings;
    Rows torso;
    for (double z : {-0.400, -0.372, -0.336, -0.300, -0.264, -0.226, -0.185, -0.142, -0.098, -0.054, -0.010,
                     0.034, 0.076, 0.112, 0.146, 0.182, 0.220}) {
        const Station s{{0, 0.605, z}, 0.19, 0.2};
        rings.push_back(mesh.add(ringPoints(s, Vec3d::UnitX(), Vec3d::UnitY(), around, first, &flesh)));
        if (rings.size() > 1)
            torso.push_back(mesh.stitch(rings[rings.size() - 2], rings.back(), TorsoLabel));
    }
    Ring rump;
    for (int k = 0; k < around; ++k) // the other way round, from a corner that has the wide side first
        rump.push_back(rings.front()[(16 - 10 - k + 2 * around) % around]);
    const Rows back = mesh.close(rump, 6, 4, TorsoLabel);
    leg(mesh, flesh, patchOf(torso, 1, 4, 15, 4),
        {r.at("thigh.L"), r.at("shin.L"), r.at("hock.L"), r.at("fetlock.L"), r.at("hoof.L"),
         r.at("hoof_end.L")},
        {0.095, 0.066, 0.040, 0.032, 0.034, 0.038}, 0.84);
    leg(mesh, flesh, patchOf(torso, 12, 4, 15, 4),
        {r.at("humerus.L"), r.at("radius.L"), r.at("carpus.L"), r.at("fore_fetlock.L"), r.at("fore_hoof.L"),
         r.at("fore_hoof_end.L")},
        {0.078, 0.060, 0.038, 0.032, 0.034, 0.038}, 0.86);
    std::vector<Station> tail;
    const std::vector<Vec3d> tails{r.at("tail_1"), r.at("tail_2"), r.at("tail_3"), r.at("tail_end")};
    for (int b = 0; b < 3; ++b)
        for (double t : {0.1, 0.35, 0.6, 0.85})
            tail.push_back({between(tails[b], tails[b + 1], t), 0.05, 0.05});
    tail.push_back({tails[3], 0.03, 0.03});
    tail.push_back({tails[3] + Vec3d(0, 0, -0.012), 0.016, 0.016});
    // The upper half of the rump, in its middle.
    const double y0 = mesh.centre({mesh.quads[back[0][2]][0]}).y(),
                 y3 = mesh.centre({mesh.quads[back[3][2]][0]}).y();
    const int row = y0 > y3 ? 0 : 2;
    const Drawn drawn =
        drawOut(mesh, mesh.open({back[row][2], back[row][3], back[row + 1][2], back[row + 1][3]}), tail,
                Vec3d::UnitY(), TailLabel, &flesh);
    mesh.close(drawn.rings.back(), 2, 2, TailLabel);
    std::vector<Station> neck;
    const Vec3d base(0, 0.655, 0.235), middle(0, 0.790, 0.340), top(0, 0.885, 0.415);
    for (double t : {0.12, 0.34, 0.56, 0.78, 1.0})
        neck.push_back({between(base, middle, t), 0.15, 0.15});
    for (double t : {0.25, 0.5, 0.75, 1.0})
        neck.push_back({between(middle, top, t), 0.11, 0.11});
    const Drawn throat = drawOut(mesh, rings.back(), neck, Vec3d::UnitY(), NeckLabel, &flesh);
    const HeadCage head = addHead(mesh, goatHead(), flesh);
    mesh.bridge(throat.rings.back(), head.neck, 1, NeckLabel);
    return mirrored(mesh);
}

std::vector<Bone> goatBones(const Rig& r, int label, const Vec3d& p) {
    const std::string s = p.x() < 0 ? ".R" : ".L";
    switch (label) {
    case NeckLabel:
        return bonesOf(r, {{"chest", "neck_1"}, {"neck_1", "neck_2"}, {"neck_2", "head"}, {"head", "jaw"}});
    case HeadLabel:
    case MouthLabel:
    case LidLabel:
    case EarLabel: {
        auto out = bonesOf(r, {{"neck_2", "head"}, {"head", "jaw"}});
        out.push_back({r.index.at("head"), r.at("jaw"), r.at("jaw_end") + Vec3d(0, 0.06, 0)});
        return out;
    }
    case TailLabel:
        return bonesOf(r, {{"tail_1", "tail_2"}, {"tail_2", "tail_3"}, {"tail_3", "tail_end"}});
    case LegLabel:
    case FootLabel:
        return p.z() < 0 ? bonesOf(r, {{"thigh" + s, "shin" + s},
                                       {"shin" + s, "hock" + s},
                                       {"hock" + s, "fetlock" + s},
                                       {"fetlock" + s, "hoof" + s},
                                       {"hoof" + s, "hoof_end" + s}})
                         : bonesOf(r, {{"humerus" + s, "radius" + s},
                                       {"radius" + s, "carpus" + s},
                                       {"carpus" + s, "fore_fetlock" + s},
                                       {"fore_fetlock" + s, "fore_hoof" + s},
                                       {"fore_hoof" + s, "fore_hoof_end" + s}});
    default: {
        auto out = bonesOf(r, {{"spine_1", "spine_2"},
                               {"spine_2", "chest"},
                               {"chest", "neck_1"},
                               {"scapula" + s, "humerus" + s}});
        out.push_back({r.index.at("pelvis"), r.at("pelvis") - Vec3d(0, 0, 0.09), r.at("spine_1")});
        return out;
    }
    }
}

std::vector<Weights> goatWeights(const Rig& r, const QuadMesh& cage, const Mesh& mesh) {
    const HeadPlan plan = goatHead();
    const std::vector<int> label = labels(cage);
    std::vector<Home> home;
    for (std::size_t v = 0; v < mesh.position.size(); ++v) {
        const Vec3d p = mesh.position[v].cast<double>();
        home.push_back(nearestBone(goatBones(r, label[v], p), p));
        const Vec3d q = plan.place.inverse() * p;
        const double line = -0.030 - 0.19 * (q.z() - 0.045);
        if ((label[v] == HeadLabel || label[v] == MouthLabel) && q.z() > 0.035 && q.y() < line)
            home.back() = {r.index.at("jaw"), 0.022};
    }
    std::vector<Weights> w = heatWeights(mesh, home, 0.5);
    shareLids(w, mesh, label, plan, r);
    shareEars(w, mesh, label, r, 0.12);
    for (const char* side : {".L", ".R"})
        shareHelper(w, r.skeleton, r.index.at(std::string("shin") + side),
                    r.index.at(std::string("stifle_helper") + side));
    return w;
}

Vec3 coatOfHair(const Vec3d& p) {
    const Vec3d cream(0.62, 0.56, 0.45), brown(0.20, 0.11, 0.055), dark(0.05, 0.042, 0.038),
        pink(0.42, 0.24, 0.20);
    Vec3d c = cream;
    auto over = [&](const Vec3d& with, double share) { c += (with - c) * share; };
    const double x = std::abs(p.x());
    over(brown, soft(0.66, 0.05, p.y() + 0.10 * std::sin(9 * p.z())) *
                    soft(0.26, -0.06, p.z())); // a saddle of brown
    over(brown, soft(0.40, -0.05, p.y()) * soft(0.02, 0.03, x));
    over(dark, soft(0.058, -0.012, p.y()));
    const Vec3d q = goatHead().place.inverse() * p;
    if (q.y() > -0.12 && q.z() > -0.10 && q.norm() < 0.3 && p.y() > 0.86) {
        over(brown, soft(0.020, 0.012, x) * soft(0.085, -0.02, x) * soft(0.17, -0.03, q.z()) *
                        soft(-0.03, 0.02, q.y()));
        over(pink, soft(0.222, 0.015, q.z()));
        if (x < 0.034 && q.z() < 0.226 && q.z() > 0.1 && std::abs(q.y() + 0.058) < 0.008 && x < 0.030)
            over(Vec3d(0.22, 0.06, 0.055), 1);
    }
    return c.cast<float>();
}

Mesh joined(const std::vector<Mesh>& all) {
    Mesh out;
    for (const Mesh& m : all) {
        const auto first = static_cast<std::uint32_t>(out.position.size());
        out.position.insert(out.position.end(), m.position.begin(), m.position.end());
        for (const Triangle& t : m.triangles)
            out.triangles.push_back({t[0] + first, t[1] + first, t[2] + first});
    }
    return out;
}

void addTack(Assembly& a, const Rig& r, const std::vector<Solid>& flesh, const Mesh& body,
             const std::vector<Weights>& skin) {
    const HeadPlan plan = goatHead();
    const int head = r.index.at("head");
    std::vector<Vec3> colours;
    const Mesh eyes = eyeballs(
        plan, 22, 50, {Vec3(0.72f, 0.68f, 0.60f), Vec3(0.50f, 0.30f, 0.04f), Vec3(0.006f, 0.005f, 0.005f)},
        colours);
    a.part("eyes", eyes, std::vector<Weights>(eyes.position.size(), Weights{{head, 1.0}}), colours);
    std::vector<Solid> horns;
    for (int side : {1, -1}) // swept back in an arc, thinning
        for (int k = 0; k < 7; ++k) {
            auto at = [&](int i) -> Vec3d {
                const double t = i / 7.0;
                return plan.place * Vec3d(side * (0.032 + 0.045 * t), 0.070 + 0.115 * std::sin(1.9 * t),
                                          -0.005 - 0.135 * t * t - 0.02 * t);
            };
            Solid s;
            s.a = at(k);
            s.b = at(k + 1);
            s.ra = 0.0165 - 0.0018 * k;
            s.rb = s.ra - 0.0018;
            s.blend = 0.004;
            horns.push_back(s);
        }
    a.rigid("horns", head, horns, 0.0055, Vec3(0.16f, 0.13f, 0.10f));
    std::vector<Solid> beard;
    for (int k = 0; k < 3; ++k) {
        Solid s;
        s.a = plan.place * Vec3d(0, -0.092 - 0.028 * k, 0.165 - 0.006 * k);
        s.b = plan.place * Vec3d(0, -0.120 - 0.028 * k, 0.159 - 0.006 * k);
        s.ra = 0.019 - 0.005 * k;
        s.rb = s.ra - 0.005;
        s.blend = 0.006;
        beard.push_back(s);
    }
    a.rigid("beard", r.index.at("jaw"), beard, 0.005, Vec3(0.55f, 0.50f, 0.40f));
    std::vector<Weights> harness;
    std::vector<Mesh> straps;
    for (double z : {0.060, -0.100})
        straps.push_back(
            strapAround(flesh, {0, 0.60, z}, Vec3d::UnitY(), Vec3d::UnitX(), 0.030, 0.008, 0.005));
    const Mesh all = joined(straps);
    a.part("harness", all, carriedWeights(all, body.position, skin, 4),
           std::vector<Vec3>(all.position.size(), Vec3(0.17f, 0.085f, 0.035f)));
    std::vector<Solid> bags;
    for (int side : {1, -1}) {
        Solid s;
        s.shape = Solid::Shape::Box;
        s.a = Vec3d(side * 0.236, 0.625, -0.010);
        s.size = Vec3d(0.056, 0.098, 0.112);
        s.ra = 0.022;
        s.turn = Eigen::AngleAxisd(side * 0.10, Vec3d::UnitZ()).toRotationMatrix();
        bags.push_back(s);
    }
    a.rigid("panniers", r.index.at("spine_2"), bags, 0.011, Vec3(0.34f, 0.20f, 0.085f));
}

} // namespace

Character packGoat() {
    const Rig rig = goatRig();
    const std::vector<Solid> flesh = goatFlesh(rig);
    QuadMesh coarse = goatCage(rig, flesh);
    settle(coarse, flesh, 12); // evens out where limbs leave the trunk
    QuadMesh fine = subdivided(coarse);
    settle(fine, flesh, 16);
    Mesh body = triangulated(fine);
    mirrorPairs(body.position, true);
    Assembly a(rig, "pack-goat");
    const std::vector<Weights> skin = goatWeights(rig, fine, body);
    a.part("body", body, skin, painted(body, coatOfHair));
    addTongue(a, rig, 0.008, 1.4, Vec3(0.42f, 0.14f, 0.13f));
    const HeadPlan plan = goatHead();
    std::vector<Solid> teeth = teethAlong({0, -0.070, 0.215}, 0.022, 0.045, 0.006, 0.0032);
    for (Solid& s : teeth)
        s.a = plan.place * s.a;
    a.rigid("teeth_lower", rig.index.at("jaw"), teeth, 0.0022, Vec3(0.74f, 0.70f, 0.58f));
    addTack(a, rig, flesh, body, skin);
    Character c = a.finish();
    const Plan plan2 = defaultPlan(c, guessRoles(c));
    for (const char* side : {".L", ".R"})
        for (const Motion& m : plan2.motions)
            if (m.turns.size() == 1 && m.turns[0].joint == rig.index.at(std::string("shin") + side) &&
                m.name.ends_with("flex"))
                c.drivers.push_back(follow(c, rig, std::string("stifle_helper") + side,
                                           std::string("shin") + side, std::string("stifle_helper") + side,
                                           m.turns[0].axis, {{-180, -90}, {180, 90}}));
    addCorrectives(
        c, 0,
        {{Role::Shoulder, Role::Elbow, Role::Hip, Role::Knee, Role::Wrist, Role::Ankle, Role::Fetlock}, {}});
    return c;
}

} // namespace hobble::demo
