#include "newt.h"

#include "core/deform/deformer.h"
#include "corrective.h"
#include "face.h"
#include "garment.h"

#include <algorithm>
#include <cmath>

namespace hobble::demo {

namespace {

HeadPlan newtHead() {
    HeadPlan p;
    p.place = Transform(Eigen::Translation3d(0, 0.270, 0.010));
    auto ring = [&](double z, double y, double rx, double ry) { p.rings.push_back({{0, y, z}, rx, ry}); };
    ring(-0.098, 0.000, 0.13, 0.11);
    ring(-0.066, 0.000, 0.17, 0.14);
    ring(-0.032, 0.000, 0.18, 0.14);
    ring(0.004, -0.002, 0.18, 0.14);
    ring(0.038, -0.006, 0.18, 0.14);
    ring(0.070, -0.012, 0.18, 0.13);
    ring(0.098, -0.018, 0.17, 0.12);
    ring(0.122, -0.023, 0.15, 0.11);
    ring(0.144, -0.028, 0.13, 0.10);
    ring(0.162, -0.031, 0.12, 0.09);
    ring(0.176, -0.034, 0.11, 0.08);
    p.corner = Vec3d(0.088, -0.036, 0.082);
    p.upper = Vec3d(0, -0.036, 0.192);
    p.lower = Vec3d(0, -0.044, 0.184);
    p.pout = 0.45;
    p.throat = Vec3d(0, -0.030, 0.030);
    p.throatWidth = 0.03;
    p.throatHeight = 0.012;
    p.eye.centre = Vec3d(0.074, 0.064, 0.056);
    p.eye.radius = 0.032;
    p.eye.gaze = Vec3d(0.52, 0.12, 1).normalized();
    p.eye.yaw = 50;
    p.eye.up = 34;
    p.eye.down = 28;
    return p;
}

Rig newtRig() {
    const HeadPlan plan = newtHead();
    auto inHead = [&](double x, double y, double z) -> Vec3d { return plan.place * Vec3d(x, y, z); };
    Rig r;
    r.joint("root", "", Vec3d(0, 0, 0));
    r.joint("chest", "root", Vec3d(0, 0.015, -0.020));
    r.joint("neck_1", "chest", Vec3d(0, 0.070, -0.020));
    r.joint("neck_2", "neck_1", Vec3d(0, 0.130, -0.018));
    r.joint("head", "neck_2", Vec3d(0, 0.190, -0.012));
    r.joint("head_end", "head", inHead(0, 0.100, 0));
    r.joint("jaw", "head", inHead(0, -0.020, 0.000), true);
    r.joint("jaw_end", "jaw", inHead(0, -0.075, 0.170));
    r.joint("tongue_1", "jaw", inHead(0, -0.042, 0.065), true);
    r.joint("tongue_2", "tongue_1", inHead(0, -0.044, 0.110));
    r.joint("tongue_end", "tongue_2", inHead(0, -0.046, 0.158));
    r.pair("lid_upper", "head", plan.place * plan.eye.centre, true);
    r.pair("lid_lower", "head", plan.place * plan.eye.centre, true);
    r.pair("brow", "head", inHead(0.066, 0.112, 0.072), true);
    r.pair("lip_corner", "head", inHead(0.088, -0.036, 0.088), true);
    r.joint("lip_upper", "head", inHead(0, -0.026, 0.180), true);
    r.joint("lip_lower", "jaw", inHead(0, -0.056, 0.172), true);
    r.orient();
    return r;
}

std::vector<Solid> newtFlesh(const Rig& r) {
    const HeadPlan plan = newtHead();
    auto inHead = [&](double x, double y, double z) -> Vec3d { return plan.place * Vec3d(x, y, z); };
    Flesh f(r);
    f.cone("chest", {0, -0.02, -0.02}, 0.094, {0, 0.06, -0.02}, 0.080, 0.03);
    f.cone("neck_1", {0, 0.06, -0.02}, 0.080, {0, 0.20, -0.014}, 0.078, 0.03);
    f.ball("head", inHead(0, 0.006, 0.0), {0.128, 0.086, 0.118}, 0.04);
    f.ball("head", inHead(0, -0.010, 0.075), {0.112, 0.052, 0.110}, 0.04);     // the broad snout
    f.balls("head", inHead(0.070, 0.058, 0.040), {0.050, 0.048, 0.050}, 0.03); // eye mounds
    f.ball("jaw", inHead(0, -0.058, 0.055), {0.104, 0.032, 0.120}, 0.025);
    f.ball("jaw", inHead(0, -0.068, 0.010), {0.080, 0.045, 0.080}, 0.05); // the throat's pouch
    return f.solids;
}

QuadMesh newtCage(const std::vector<Solid>& flesh) {
    QuadMesh mesh;
    constexpr int around = 20;
    const double first = kPi / 5;
    std::vector<Ring> rings;
    for (double y : {0.000, 0.020, 0.040, 0.060, 0.080, 0.100, 0.120, 0.140, 0.158, 0.174}) {
        rings.push_back(mesh.add(ringPoints({{0, y, -0.018}, 0.14, 0.14}, Vec3d::UnitX(), -Vec3d::UnitZ(),
                                            around, first, &flesh)));
        if (rings.size() > 1)
            mesh.stitch(rings[rings.size() - 2], rings.back(), NeckLabel);
    }
    Ring bottom;
    for (int k = 0; k < around; ++k)
        bottom.push_back(rings.front()[(16 - k + around) % around]);
    for (int v : bottom)
        mesh.held[v] = 1; // a bust is cut flat
    mesh.close(bottom, 6, 4, NeckLabel, true);
    const HeadCage head = addHead(mesh, newtHead(), flesh);
    mesh.bridge(rings.back(), head.neck, 1, NeckLabel);
    return mirrored(mesh);
}

std::vector<Weights> newtWeights(const Rig& r, const QuadMesh& cage, const Mesh& mesh) {
    const HeadPlan plan = newtHead();
    const std::vector<int> label = labels(cage);
    std::vector<Home> home;
    for (std::size_t v = 0; v < mesh.position.size(); ++v) {
        const Vec3d p = mesh.position[v].cast<double>(), q = plan.place.inverse() * p;
        if (label[v] == NeckLabel) {
            home.push_back(
                nearestBone(bonesOf(r, {{"root", "neck_1"}, {"neck_1", "neck_2"}, {"neck_2", "head"}}), p));
            if (home.back().joint == r.index.at("root"))
                home.back().joint = r.index.at("chest");
        } else {
            home.push_back({r.index.at("head"), 0.06});
            if (label[v] != LidLabel && q.z() > 0.0 && q.y() < -0.030 - 0.05 * q.z())
                home.back() = {r.index.at("jaw"), 0.03};
        }
    }
    std::vector<Weights> w = heatWeights(mesh, home, 0.5);
    shareLids(w, mesh, label, plan, r);
    const auto face = [&](const char* name) { return r.index.at(name); };
    const auto skin = [&](const Vec3d& p) { // lips and brows take of the outer face only
        const Vec3d q = plan.place.inverse() * p;
        return q.z() > 0.02 ? 1.0 : 0.0;
    };
    for (const char* side : {".L", ".R"}) {
        const double x = side[1] == 'L' ? 1 : -1;
        const Vec3d brow = plan.place * Vec3d(x * 0.066, 0.112, 0.072),
                    corner = plan.place * Vec3d(x * 0.088, -0.036, 0.088);
        shareSpot(w, mesh, face((std::string("brow") + side).c_str()), brow, {0.050, 0.030, 0.045}, 0.85,
                  [&](const Vec3d& p) {
                      return (plan.place.inverse() * p).y() > 0.085 ? soft(0.355, 0.02, p.y()) : 0.0;
                  });
        shareSpot(w, mesh, face((std::string("lip_corner") + side).c_str()), corner, {0.040, 0.036, 0.046},
                  0.85, skin);
    }
    const double line = plan.place.translation().y() - 0.041;
    shareSpot(w, mesh, face("lip_upper"), plan.place * Vec3d(0, -0.030, 0.185), {0.064, 0.028, 0.040}, 0.85,
              [&](const Vec3d& p) { return soft(line, 0.004, p.y()); });
    shareSpot(w, mesh, face("lip_lower"), plan.place * Vec3d(0, -0.050, 0.180), {0.064, 0.028, 0.040}, 0.85,
              [&](const Vec3d& p) { return soft(line, -0.004, p.y()); });
    return w;
}

Vec3 newtColour(const Vec3d& p) {
    const Vec3d back(0.055, 0.155, 0.125), belly(0.70, 0.26, 0.045), spot(0.020, 0.050, 0.045),
        mouth(0.30, 0.075, 0.085);
    const Vec3d q = newtHead().place.inverse() * p;
    Vec3d c = back;
    auto over = [&](const Vec3d& with, double share) { c += (with - c) * share; };
    const double under =
        q.z() > 0.0 ? soft(-0.052, -0.02, q.y()) : soft(-0.018, 0.05, p.z()) * soft(0.20, -0.03, p.y());
    over(belly, under);
    const double spots = std::sin(58 * p.x()) * std::sin(52 * p.y() + 1.3) * std::sin(49 * p.z() + 0.6);
    over(spot, soft(0.42, 0.16, std::abs(spots)) * (1 - 0.6 * under));
    const Vec3d inside = (q - Vec3d(0, -0.040, 0.080)).cwiseQuotient(Vec3d(0.084, 0.014, 0.104));
    if (inside.norm() < 0.97 && q.z() < 0.182)
        c = mouth;
    return c.cast<float>();
}

// A target is a pose of the face kept as a shape.
void addShape(Character& c, const std::string& name, const Pose& pose) {
    std::vector<Vec3> posed;
    deform(c, pose, Skinning::Linear, posed);
    for (Part& part : c.parts) {
        if (part.name != "body" && part.name != "tongue" && part.name != "teeth_lower")
            continue;
        ShapeTarget t{name, {}, {}};
        for (std::uint32_t v = 0; v < part.vertexCount; ++v) {
            const Vec3 delta = posed[part.firstVertex + v] - c.neutral[part.firstVertex + v];
            if (delta.norm() > 2e-4f) {
                t.vertex.push_back(v);
                t.delta.push_back(delta);
            }
        }
        if (t.vertex.empty())
            continue;
        part.targets.push_back(std::move(t));
        part.targetWeights.push_back(0);
    }
}

class FacePose {
public:
    FacePose(const Character& c, const Rig& r) : c_(c), r_(r), pose(Pose::neutral(c.skeleton)) {
        pose.shift.resize(pose.turn.size(), Vec3d::Zero());
    }
    void turn(const std::string& joint, const Vec3d& worldAxis, double degrees) {
        const int j = r_.index.at(joint);
        pose.turn[j] = Quat(Eigen::AngleAxisd(radians(degrees),
                                              rotationOf(c_.skeleton.neutralWorld[j]).inverse() * worldAxis));
    }
    void shift(const std::string& joint, const Vec3d& by) {
        const int j = r_.index.at(joint);
        pose.shift[j] = rotationOf(c_.skeleton.neutralWorld[j]).inverse() * by;
    }
    /// Both sides; `left` is mirrored.
    void shiftPair(const std::string& joint, const Vec3d& left) {
        shift(joint + ".L", left);
        shift(joint + ".R", Vec3d(-left.x(), left.y(), left.z()));
    }

private:
    const Character& c_;
    const Rig& r_;

public:
    Pose pose;
};

void addShapes(Character& c, const Rig& r) {
    const Vec3d side = Vec3d::UnitX();
    struct Vowel {
        const char* name;
        double jaw;
        Vec3d corner, upper, lower;
    };
    const Vowel vowels[] = {{"vowel a", 16, {-0.006, 0, 0}, {0, 0.004, 0}, {0, -0.003, 0}},
                            {"vowel e", 8, {0.008, 0.003, -0.004}, {0, 0.005, 0}, {0, -0.004, 0}},
                            {"vowel i", 4, {0.012, 0.005, -0.006}, {0, 0.005, 0}, {0, -0.005, 0}},
                            {"vowel o", 12, {-0.018, 0, 0.010}, {0, 0.003, 0.008}, {0, -0.002, 0.008}},
                            {"vowel u", 5, {-0.022, 0, 0.014}, {0, 0.002, 0.014}, {0, 0, 0.014}}};
    for (const Vowel& v : vowels) {
        FacePose f(c, r);
        f.turn("jaw", side, v.jaw);
        f.shiftPair("lip_corner", v.corner);
        f.shift("lip_upper", v.upper);
        f.shift("lip_lower", v.lower);
        addShape(c, v.name, f.pose);
    }
    FacePose blink(c, r);
    const Vec3d corners = eyeFrame(newtHead()).col(0); // from the left eye's one corner to the other
    for (const char* s : {".L", ".R"}) {
        const Vec3d axis = s[1] == 'L' ? corners : Vec3d(corners.x(), -corners.y(), -corners.z());
        blink.turn(std::string("lid_upper") + s, axis, 44);
        blink.turn(std::string("lid_lower") + s, axis, -23);
    }
    addShape(c, "blink", blink.pose);
    FacePose together(c, r);
    together.turn("jaw", side, -3.1);
    together.shift("lip_upper", {0, -0.002, 0});
    together.shift("lip_lower", {0, 0.001, 0});
    addShape(c, "lips together", together.pose);
    FacePose smile(c, r);
    smile.shiftPair("lip_corner", {0.010, 0.012, -0.004});
    smile.shiftPair("brow", {0, 0.005, 0});
    for (const char* s : {".L", ".R"})
        smile.turn(std::string("lid_lower") + s, side, -8);
    addShape(c, "smile", smile.pose);
}

} // namespace

Character lighthouseNewt() {
    const Rig rig = newtRig();
    const std::vector<Solid> flesh = newtFlesh(rig);
    const QuadMesh coarse = subdivided(newtCage(flesh)); // twice in all: a face is seen from near
    QuadMesh fine = subdivided(coarse);
    settle(fine, flesh, 8);
    Mesh body = triangulated(fine);
    mirrorPairs(body.position, true);
    for (std::size_t v = 0; v < fine.at.size(); ++v)
        fine.at[v] = body.position[v].cast<double>();
    const HeadPlan plan = newtHead();
    Assembly a(rig, "lighthouse-newt");
    const std::vector<Weights> skin = newtWeights(rig, fine, body);
    a.part("body", body, skin, painted(body, newtColour));
    const int head = rig.index.at("head");
    std::vector<Vec3> colours;
    const Mesh eyes = eyeballs(
        plan, 20, 52, {Vec3(0.70f, 0.68f, 0.60f), Vec3(0.62f, 0.36f, 0.02f), Vec3(0.005f, 0.005f, 0.006f)},
        colours);
    a.part("eyes", eyes, std::vector<Weights>(eyes.position.size(), Weights{{head, 1.0}}), colours);
    auto inHead = [&](double x, double y, double z) -> Vec3d { return plan.place * Vec3d(x, y, z); };
    const Vec3 ivory(0.80f, 0.78f, 0.68f);
    a.rigid("teeth_upper", head, teethAlong(inHead(0, -0.0355, 0.172), 0.062, 0.090, 0.002, 0.0042), 0.0026,
            ivory);
    a.rigid("teeth_lower", rig.index.at("jaw"),
            teethAlong(inHead(0, -0.0465, 0.164), 0.058, 0.090, 0.006, 0.0040), 0.0026, ivory);
    addTongue(a, rig, 0.010, 2.2, Vec3(0.46f, 0.13f, 0.15f));
    Garment collar = cutFrom(fine, coarse, 0.010, [&](const Vec3d& p, int label) {
        return label == NeckLabel && p.y() < 0.118 && p.y() > 0.001;
    });
    for (Ring border : borders(collar.mesh)) {
        const bool top = collar.mesh.centre(border).y() > 0.06;
        const Vec3d middle = collar.mesh.centre(border);
        for (int k = 1; k <= (top ? 5 : 2); ++k) // rolled over at the top, a band at the bottom
            border = hem(collar, border, [&](const Vec3d& p) {
                const Vec3d out = (p - middle).cwiseProduct(Vec3d(1, 0, 1)).normalized();
                const double turn = top ? radians(36.0 * k) : 0;
                return top ? Vec3d(p + 0.0062 * (std::sin(turn) * out + std::cos(turn) * Vec3d::UnitY()))
                           : Vec3d(p + 0.003 * out - Vec3d(0, 0.004, 0));
            });
    }
    const Mesh knit = triangulated(kept(collar.mesh));
    a.part("collar", knit, carriedWeights(knit, body.position, skin, 2), painted(knit, [](const Vec3d& p) {
               const double rib = 0.85 + 0.15 * std::cos(40 * std::atan2(p.x(), p.z() + 0.018));
               return Vec3((Vec3d(0.07, 0.10, 0.22) * rib).cast<float>());
           }));
    a.rigid("cap", head,
            {ellipsoid(inHead(0, 0.106, -0.030), {0.082, 0.040, 0.080}, -0.10),
             ellipsoid(inHead(0, 0.090, -0.028), {0.088, 0.018, 0.086}, -0.10, 0.012),
             ellipsoid(inHead(0, 0.086, 0.048), {0.058, 0.009, 0.046}, 0.22, 0.010)},
            0.0066, Vec3(0.035f, 0.05f, 0.11f));
    Character c = a.finish();
    addShapes(c, rig);
    addCorrectives(c, 0, {{Role::Neck, Role::Head}, {{"collar", 1.0}}});
    return c;
}

} // namespace hobble::demo
