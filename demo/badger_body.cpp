#include "badger_body.h"

#include <algorithm>
#include <cmath>

namespace hobble::demo {

namespace {

const char* kFingers[] = {"index", "middle", "ring"};

// Stations on a bone at rising shares of its length.
void along(std::vector<Station>& out, const Vec3d& a, const Vec3d& b, std::initializer_list<double> shares,
           double ra, double rb) {
    for (double t : shares)
        out.push_back({between(a, b, t), ra + t * (rb - ra), ra + t * (rb - ra)});
}

// A rounded end beyond the last station.
void roundOff(std::vector<Station>& out, double radius) {
    const Vec3d way = (out.back().centre - out[out.size() - 2].centre).normalized(), end = out.back().centre;
    out.push_back({end + 0.55 * radius * way, radius, radius});
    out.push_back({end + 0.85 * radius * way, 0.62 * radius, 0.62 * radius});
}

// The ring turned so that its first `wide` edges run the way given, on the side that faces `facing`.
Ring turnedRing(const QuadMesh& mesh, const Ring& ring, int wide, const Vec3d& way) {
    const int n = static_cast<int>(ring.size());
    Ring best = ring, turned = ring;
    double most = -INFINITY;
    for (int k = 0; k < n; ++k) {
        const double along = (mesh.at[turned[wide]] - mesh.at[turned[0]]).dot(way) -
                             (mesh.at[turned[n / 2 + wide]] - mesh.at[turned[n / 2]]).dot(way);
        if (along > most) {
            most = along;
            best = turned;
        }
        std::rotate(turned.begin(), turned.begin() + 1, turned.end());
    }
    return best;
}

void addHand(QuadMesh& mesh, const Rig& r, const std::vector<Solid>& flesh, const Ring& wristRing) {
    const Vec3d wrist = r.at("hand.L"), middle = r.at("middle_1.L");
    std::vector<Station> palm;
    along(palm, wrist, middle, {0.14, 0.3, 0.46, 0.62, 0.78, 0.92}, 0.085, 0.085);
    const Drawn drawn = drawOut(mesh, wristRing, palm, Vec3d::UnitZ(), HandLabel, &flesh);
    const Ring knuckles = turnedRing(mesh, drawn.rings.back(), 6, -Vec3d::UnitZ());
    const Rows end = mesh.close(knuckles, 6, 2, HandLabel);
    for (int f = 0; f < 3; ++f) {
        const std::string name = kFingers[f];
        const Vec3d a = r.at(name + "_1.L"), b = r.at(name + "_2.L"), tip = r.at(name + "_end.L");
        std::vector<Station> finger;
        along(finger, a, b, {0.05, 0.25, 0.5, 0.75, 0.92}, 0.022, 0.02);
        along(finger, b, tip, {0.1, 0.3, 0.55, 0.8, 1.0}, 0.02, 0.018);
        roundOff(finger, 0.013);
        const Ring border = mesh.open({end[0][2 * f], end[0][2 * f + 1], end[1][2 * f], end[1][2 * f + 1]});
        const Drawn d = drawOut(mesh, border, finger, Vec3d::UnitZ(), FingerLabel + 1 + f, &flesh);
        mesh.close(d.rings.back(), 2, 2, FingerLabel + 1 + f);
    }
    // The thumb leaves the palm on its front edge.
    const Vec3d a = r.at("thumb_1.L"), b = r.at("thumb_2.L"), tip = r.at("thumb_end.L");
    int column = 0;
    double least = INFINITY;
    for (int c = 0; c < 16; ++c) {
        const Vec3d p = mesh.at[drawn.rings[2][c]];
        if ((p - (a + Vec3d(0, 0, 0.02))).norm() < least) {
            least = (p - (a + Vec3d(0, 0, 0.02))).norm();
            column = c;
        }
    }
    const Ring border = mesh.open(patchOf(drawn.rows, 2, 2, column - 1, 2));
    std::vector<Station> thumb;
    along(thumb, a, b, {0.3, 0.5, 0.7, 0.9}, 0.024, 0.022);
    along(thumb, b, tip, {0.1, 0.35, 0.65, 1.0}, 0.022, 0.018);
    roundOff(thumb, 0.014);
    const Drawn d = drawOut(mesh, border, thumb, Vec3d::UnitY(), FingerLabel, &flesh);
    mesh.close(d.rings.back(), 2, 2, FingerLabel);
}

void addArm(QuadMesh& mesh, const Rig& r, const std::vector<Solid>& flesh, const Rows& torso) {
    const Ring border = mesh.open(patchOf(torso, 10, 4, 16, 4));
    const Vec3d shoulder = r.at("upper_arm.L"), elbow = r.at("forearm.L"), wrist = r.at("hand.L");
    std::vector<Station> arm;
    along(arm, shoulder, elbow, {0.16, 0.27, 0.38, 0.49, 0.6, 0.7, 0.79, 0.87, 0.94}, 0.082, 0.066);
    along(arm, elbow, wrist, {0.0, 0.07, 0.15, 0.24, 0.34, 0.45, 0.56, 0.67, 0.77, 0.86, 0.94, 1.0}, 0.066,
          0.058);
    const Drawn drawn = drawOut(mesh, border, arm, Vec3d::UnitZ(), ArmLabel, &flesh);
    addHand(mesh, r, flesh, drawn.rings.back());
}

void addLeg(QuadMesh& mesh, const Rig& r, const std::vector<Solid>& flesh, const std::vector<int>& patch) {
    const Ring border = mesh.open(patch);
    const Vec3d hip = r.at("thigh.L"), knee = r.at("shin.L"), ankle = r.at("foot.L"), toes = r.at("toes.L");
    std::vector<Station> leg;
    along(leg, hip, knee, {0.42, 0.52, 0.62, 0.71, 0.79, 0.86, 0.93, 1.0}, 0.12, 0.09);
    along(leg, knee, ankle, {0.08, 0.17, 0.28, 0.4, 0.53, 0.66, 0.78, 0.89}, 0.09, 0.08);
    for (double y : {0.072, 0.052, 0.034, 0.018})
        leg.push_back({{0.113, y, -0.016}, 0.055, 0.062});
    for (Station& s : leg)
        s.leastX = 0.002;
    const Drawn drawn = drawOut(mesh, border, leg, Vec3d::UnitZ(), LegLabel, &flesh);
    const Ring sole = turnedRing(mesh, drawn.rings.back(), 4, Vec3d::UnitX());
    mesh.close(sole, 4, 3, FootLabel);
    // The foot leaves the ankle forwards.
    int column = 0;
    for (int c = 0; c < 14; ++c)
        if (mesh.at[drawn.rings.back()[c]].z() > mesh.at[drawn.rings.back()[column]].z())
            column = c;
    const int last = static_cast<int>(drawn.rows.size());
    const Ring front = mesh.open(patchOf(drawn.rows, last - 3, 3, column - 2, 4));
    std::vector<Station> foot;
    const Vec3d from(0.115, 0.046, 0.03);
    along(foot, from, toes, {0.1, 0.45, 0.75, 1.0}, 0.08, 0.07);
    along(foot, toes, r.at("toes_end.L"), {0.15, 0.4, 0.7, 0.95}, 0.07, 0.055);
    const Drawn out = drawOut(mesh, front, foot, Vec3d::UnitY(), FootLabel, &flesh);
    mesh.close(turnedRing(mesh, out.rings.back(), 4, Vec3d::UnitX()), 4, 3, FootLabel);
}

} // namespace

Rig badgerRig() {
    Rig r;
    r.joint("root", "", Vec3d(0, 0, 0));
    r.joint("pelvis", "root", Vec3d(0, 0.405, -0.01));
    r.joint("spine_1", "pelvis", Vec3d(0, 0.475, -0.02));
    r.joint("spine_2", "spine_1", Vec3d(0, 0.575, -0.025));
    r.joint("chest", "spine_2", Vec3d(0, 0.675, -0.02));
    r.joint("neck", "chest", Vec3d(0, 0.805, 0.0));
    r.joint("head", "neck", Vec3d(0, 0.865, 0.015));
    r.joint("jaw", "head", Vec3d(0, 0.915, 0.055), true);
    r.joint("jaw_end", "jaw", Vec3d(0, 0.858, 0.185));
    r.joint("tongue_1", "jaw", Vec3d(0, 0.884, 0.095), true);
    r.joint("tongue_2", "tongue_1", Vec3d(0, 0.874, 0.145));
    r.joint("tongue_end", "tongue_2", Vec3d(0, 0.868, 0.185));
    const HeadPlan head = badgerHead();
    r.pair("lid_upper", "head", head.eye.centre, true);
    r.pair("lid_lower", "head", head.eye.centre, true);
    r.pair("ear", "head", Vec3d(0.094, 1.035, -0.01), true);
    r.pair("ear_end", "ear", Vec3d(0.112, 1.092, -0.012));
    r.pair("collarbone", "chest", Vec3d(0.035, 0.775, 0.01));
    r.pair("upper_arm", "collarbone", Vec3d(0.15, 0.755, -0.005));
    const Vec3d shoulder(0.15, 0.755, -0.005), elbow(0.268, 0.612, -0.018), wrist(0.372, 0.486, 0.012);
    r.pair("upper_arm_twist_1", "upper_arm", shoulder, true);
    r.pair("upper_arm_twist_2", "upper_arm", between(shoulder, elbow, 1 / 3.0), true);
    r.pair("forearm", "upper_arm", elbow);
    r.pair("elbow_helper", "upper_arm", elbow, true);
    r.pair("forearm_twist_1", "forearm", between(elbow, wrist, 1 / 3.0), true);
    r.pair("forearm_twist_2", "forearm", between(elbow, wrist, 2 / 3.0), true);
    r.pair("hand", "forearm", wrist);
    const Vec3d down = Vec3d(0.62, -0.78, 0.06).normalized(); // a big, kindly paw
    for (int f = 0; f < 3; ++f) {
        const Vec3d spread(0, 0, 0.043 - 0.043 * f);
        const double reach = f == 1 ? 1.0 : 0.93;
        const std::string name = kFingers[f];
        r.pair(name + "_1", "hand", wrist + reach * 0.078 * down + spread);
        r.pair(name + "_2", name + "_1", wrist + reach * 0.126 * down + 1.18 * spread + Vec3d(-0.004, 0, 0));
        r.pair(name + "_end", name + "_2",
               wrist + reach * 0.170 * down + 1.28 * spread + Vec3d(-0.014, 0, 0));
    }
    r.pair("thumb_1", "hand", wrist + 0.022 * down + Vec3d(-0.004, 0, 0.034));
    r.pair("thumb_2", "thumb_1", wrist + 0.044 * down + Vec3d(-0.008, 0, 0.076));
    r.pair("thumb_end", "thumb_2", wrist + 0.076 * down + Vec3d(-0.016, 0, 0.104));
    r.pair("thigh", "pelvis", Vec3d(0.098, 0.385, -0.005));
    r.pair("shin", "thigh", Vec3d(0.108, 0.225, 0.012));
    r.pair("knee_helper", "thigh", Vec3d(0.108, 0.225, 0.012), true);
    r.pair("foot", "shin", Vec3d(0.112, 0.070, -0.022));
    r.pair("toes", "foot", Vec3d(0.120, 0.030, 0.072));
    r.pair("toes_end", "toes", Vec3d(0.124, 0.026, 0.135));
    r.joint("tail_1", "pelvis", Vec3d(0, 0.40, -0.145), true);
    r.joint("tail_2", "tail_1", Vec3d(0, 0.372, -0.215));
    r.joint("tail_3", "tail_2", Vec3d(0, 0.338, -0.275));
    r.joint("tail_end", "tail_3", Vec3d(0, 0.300, -0.330));
    r.orient();
    return r;
}

HeadPlan badgerHead() {
    HeadPlan p;
    auto ring = [&](double z, double y, double rx, double ry) { p.rings.push_back({{0, y, z}, rx, ry}); };
    ring(-0.078, 0.975, 0.12, 0.11);
    ring(-0.050, 0.972, 0.15, 0.14);
    ring(-0.020, 0.970, 0.15, 0.14);
    ring(0.010, 0.966, 0.15, 0.14);
    ring(0.040, 0.960, 0.15, 0.14);
    ring(0.068, 0.954, 0.15, 0.14);
    ring(0.092, 0.946, 0.14, 0.13);
    ring(0.112, 0.938, 0.12, 0.12);
    ring(0.132, 0.928, 0.10, 0.11);
    ring(0.152, 0.917, 0.09, 0.10);
    ring(0.172, 0.908, 0.08, 0.09);
    ring(0.190, 0.902, 0.07, 0.08);
    p.corner = Vec3d(0.046, 0.893, 0.115);
    p.upper = Vec3d(0, 0.889, 0.222);
    p.lower = Vec3d(0, 0.879, 0.204);
    p.pout = 0.42;
    p.throat = Vec3d(0, 0.905, 0.075);
    p.eye.centre = Vec3d(0.0505, 0.981, 0.090);
    p.eye.radius = 0.021;
    p.eye.gaze = Vec3d(0.42, 0.05, 1).normalized();
    p.neckRow = 0;
    p.ear = {{{0.098, 1.036, -0.010}, 0.034, 0.024},
             {{0.102, 1.050, -0.010}, 0.034, 0.021},
             {{0.107, 1.066, -0.010}, 0.031, 0.017},
             {{0.111, 1.080, -0.011}, 0.025, 0.013},
             {{0.114, 1.090, -0.012}, 0.014, 0.009}};
    return p;
}

std::vector<Solid> badgerFlesh(const Rig& r) {
    Flesh f(r);
    f.ball("pelvis", {0, 0.415, -0.01}, {0.152, 0.105, 0.132}, 0.03);
    f.ball("spine_1", {0, 0.505, 0.012}, {0.170, 0.12, 0.162}, 0.06); // the belly
    f.ball("spine_2", {0, 0.605, 0.0}, {0.155, 0.11, 0.138}, 0.06);
    f.ball("chest", {0, 0.715, -0.01}, {0.138, 0.105, 0.112}, 0.05);
    f.cone("neck", {0, 0.78, -0.005}, 0.088, {0, 0.87, 0.01}, 0.085, 0.05);
    f.limb("collarbone", "upper_arm", 0.062, 0.058, 0.05);
    f.limb("upper_arm", "forearm", 0.058, 0.046, 0.035);
    f.limb("forearm", "hand", 0.046, 0.034, 0.02);
    for (const char* side : {".L", ".R"}) {
        const Vec3d wrist = r.at(std::string("hand") + side), knuckle = r.at(std::string("middle_1") + side);
        f.ball(std::string("hand") + side, wrist + 0.62 * (knuckle - wrist), {0.030, 0.054, 0.064}, 0.025,
               turnFromTo(Vec3d::UnitY(), knuckle - wrist).toRotationMatrix());
    }
    f.limb("thigh", "shin", 0.080, 0.060, 0.03);
    f.limb("shin", "foot", 0.060, 0.044, 0.03);
    f.balls("foot", {0.114, 0.052, 0.010}, {0.047, 0.046, 0.080}, 0.03);
    f.balls("toes", {0.121, 0.036, 0.098}, {0.052, 0.034, 0.052}, 0.03);
    f.cone("tail_1", r.at("tail_1") + Vec3d(0, 0, 0.03), 0.052, r.at("tail_2"), 0.048, 0.04);
    f.cone("tail_2", r.at("tail_2"), 0.048, r.at("tail_3"), 0.040, 0.02);
    f.cone("tail_3", r.at("tail_3"), 0.040, r.at("tail_end"), 0.022, 0.02);
    // Head: a low wedge with full cheeks.
    f.ball("head", {0, 0.972, 0.015}, {0.122, 0.106, 0.120}, 0.04);
    f.balls("head", {0.072, 0.930, 0.040}, {0.056, 0.052, 0.062}, 0.03);
    f.cone("head", {0, 0.946, 0.085}, 0.064, {0, 0.920, 0.205}, 0.036, 0.03);
    f.cone("jaw", {0, 0.886, 0.050}, 0.044, {0, 0.864, 0.180}, 0.027, 0.020);
    for (const char* finger : kFingers) {
        f.limb(std::string(finger) + "_1", std::string(finger) + "_2", 0.0175, 0.0165, 0.010);
        f.limb(std::string(finger) + "_2", std::string(finger) + "_end", 0.0165, 0.0130, 0.004);
    }
    f.limb("thumb_1", "thumb_2", 0.0200, 0.0180, 0.014);
    f.limb("thumb_2", "thumb_end", 0.0180, 0.0140, 0.004);
    return f.solids;
}

QuadMesh badgerCage(const Rig& r, const std::vector<Solid>& flesh) {
    QuadMesh mesh;
    constexpr int around = 20; // 6 across front and back, 4 down each side
    const double first = kPi / 5;
    std::vector<Ring> rings;
    Rows torso;
    for (double y : {0.352, 0.372, 0.393, 0.416, 0.442, 0.475, 0.510, 0.546, 0.582, 0.618, 0.652, 0.684,
                     0.716, 0.748, 0.782, 0.812, 0.842}) {
        const bool chest = y > 0.63 && y < 0.8;
        const Station s{{0, y, y < 0.8 ? -0.005 : 0.0}, chest ? 0.155 : 0.2, 0.2};
        rings.push_back(mesh.add(ringPoints(s, Vec3d::UnitX(), -Vec3d::UnitZ(), around, first, &flesh)));
        if (rings.size() > 1)
            torso.push_back(
                mesh.stitch(rings[rings.size() - 2], rings.back(), y > 0.8 ? NeckLabel : TorsoLabel));
    }
    Ring bottom;
    for (int k = 0; k < around; ++k)
        bottom.push_back(rings.front()[(16 - k + around) % around]);
    const Rows seat = mesh.close(bottom, 6, 4, TorsoLabel);
    std::vector<int> left;
    for (int j = 0; j < 4; ++j)
        left.insert(left.end(), seat[j].begin(), seat[j].begin() + 3);
    addLeg(mesh, r, flesh, left);
    addArm(mesh, r, flesh, torso);
    std::vector<Station> tail;
    along(tail, r.at("tail_1"), r.at("tail_2"), {0.0, 0.2, 0.4, 0.6, 0.8}, 0.075, 0.07);
    along(tail, r.at("tail_2"), r.at("tail_3"), {0.0, 0.2, 0.4, 0.6, 0.8}, 0.07, 0.06);
    along(tail, r.at("tail_3"), r.at("tail_end"), {0.0, 0.25, 0.5, 0.8, 1.0}, 0.06, 0.05);
    roundOff(tail, 0.022);
    const Drawn drawn =
        drawOut(mesh, mesh.open(patchOf(torso, 1, 2, 2, 2)), tail, Vec3d::UnitY(), TailLabel, &flesh);
    mesh.close(drawn.rings.back(), 2, 2, TailLabel);
    const HeadCage head = addHead(mesh, badgerHead(), flesh);
    mesh.bridge(rings.back(), head.neck, 1, NeckLabel);
    return mirrored(mesh);
}

} // namespace hobble::demo
