#include "badger.h"

#include "core/deform/deformer.h"
#include "implicit.h"

#include <algorithm>
#include <cmath>
#include <map>

namespace hobble::demo {

namespace {

using Shape = Solid::Shape;

struct Rig {
    Skeleton skeleton;
    std::map<std::string, int> index;

    int joint(const std::string& name, const std::string& parent, const Vec3d& at) {
        const int p = parent.empty() ? -1 : index.at(parent);
        Transform world = Transform::Identity();
        world.translate(at);
        skeleton.name.push_back(name);
        skeleton.parent.push_back(p);
        skeleton.neutralWorld.push_back(world);
        return index[name] = skeleton.size() - 1;
    }
    void pair(const std::string& name, const std::string& parent, const Vec3d& left) {
        const bool sided = index.count(parent + ".L") > 0;
        joint(name + ".L", sided ? parent + ".L" : parent, left);
        joint(name + ".R", sided ? parent + ".R" : parent, Vec3d(-left.x(), left.y(), left.z()));
    }
    Vec3d at(const std::string& name) const { return skeleton.neutralWorld[index.at(name)].translation(); }
};

const char* kFingers[] = {"index", "middle", "ring"};

Rig makeRig() {
    Rig r;
    r.joint("root", "", Vec3d(0, 0, 0));
    r.joint("pelvis", "root", Vec3d(0, 0.405, -0.01));
    r.joint("spine_1", "pelvis", Vec3d(0, 0.475, -0.02));
    r.joint("spine_2", "spine_1", Vec3d(0, 0.575, -0.025));
    r.joint("chest", "spine_2", Vec3d(0, 0.675, -0.02));
    r.joint("neck", "chest", Vec3d(0, 0.805, 0.0));
    r.joint("head", "neck", Vec3d(0, 0.865, 0.015));
    r.joint("jaw", "head", Vec3d(0, 0.900, 0.045));
    r.joint("jaw_end", "jaw", Vec3d(0, 0.848, 0.185));
    r.pair("collarbone", "chest", Vec3d(0.035, 0.775, 0.01));
    r.pair("upper_arm", "collarbone", Vec3d(0.15, 0.755, -0.005));
    r.pair("forearm", "upper_arm", Vec3d(0.268, 0.612, -0.018));
    r.pair("hand", "forearm", Vec3d(0.372, 0.486, 0.012));
    const Vec3d wrist = r.at("hand.L"), down = Vec3d(0.62, -0.78, 0.06).normalized(); // a big, kindly paw
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
    r.pair("thigh", "pelvis", Vec3d(0.092, 0.385, -0.005));
    r.pair("shin", "thigh", Vec3d(0.108, 0.225, 0.012));
    r.pair("foot", "shin", Vec3d(0.112, 0.070, -0.022));
    r.pair("toes", "foot", Vec3d(0.120, 0.030, 0.072));
    r.pair("toes_end", "toes", Vec3d(0.124, 0.026, 0.135));
    r.joint("tail_1", "pelvis", Vec3d(0, 0.40, -0.145));
    r.joint("tail_2", "tail_1", Vec3d(0, 0.372, -0.215));
    r.joint("tail_3", "tail_2", Vec3d(0, 0.338, -0.275));
    r.joint("tail_end", "tail_3", Vec3d(0, 0.300, -0.330));
    // Joints look along +Y from their parent, as riggers like: turn each so that its Y points down its own
    // bone.
    const auto children = r.skeleton.children();
    for (int j = 1; j < r.skeleton.size(); ++j) {
        Vec3d along = Vec3d::Zero();
        for (int k : children[j])
            along += r.skeleton.neutralWorld[k].translation() - r.skeleton.neutralWorld[j].translation();
        if (children[j].empty())
            r.skeleton.neutralWorld[j].linear() = r.skeleton.neutralWorld[r.skeleton.parent[j]].linear();
        else if (along.norm() > 1e-6)
            r.skeleton.neutralWorld[j].linear() =
                Quat::FromTwoVectors(Vec3d::UnitY(), along.normalized()).toRotationMatrix();
    }
    for (int j = 0; j < r.skeleton.size(); ++j) {
        const int p = r.skeleton.parent[j];
        r.skeleton.neutralLocal.push_back(p < 0 ? r.skeleton.neutralWorld[j]
                                                : r.skeleton.neutralWorld[p].inverse() *
                                                      r.skeleton.neutralWorld[j]);
    }
    return r;
}

class Flesh {
public:
    explicit Flesh(const Rig& rig) : rig_(rig) {}
    std::vector<Solid> solids;

    void cone(const std::string& bone, const Vec3d& a, double ra, const Vec3d& b, double rb, double blend) {
        Solid s;
        s.bone = rig_.index.at(bone);
        s.a = a;
        s.b = b;
        s.ra = ra;
        s.rb = rb;
        s.blend = blend;
        solids.push_back(s);
    }
    void ball(const std::string& bone, const Vec3d& centre, const Vec3d& size, double blend,
              const Eigen::Matrix3d& turn = Eigen::Matrix3d::Identity()) {
        Solid s;
        s.shape = Shape::Ellipsoid;
        s.bone = rig_.index.at(bone);
        s.a = centre;
        s.size = size;
        s.turn = turn;
        s.blend = blend;
        solids.push_back(s);
    }
    /// Along a pair's own bones, both sides.
    void limb(const std::string& bone, const std::string& to, double ra, double rb, double blend) {
        for (const char* side : {".L", ".R"})
            cone(bone + side, rig_.at(bone + side), ra, rig_.at(to + side), rb, blend);
    }
    /// One on either side, of a pair's bones or of the one in the middle.
    void balls(const std::string& bone, Vec3d centre, const Vec3d& size, double blend) {
        const bool sided = rig_.index.count(bone + ".L") > 0;
        ball(bone + (sided ? ".L" : ""), centre, size, blend);
        centre.x() = -centre.x();
        ball(bone + (sided ? ".R" : ""), centre, size, blend);
    }

private:
    const Rig& rig_;
};

std::vector<Solid> bodySolids(const Rig& r) {
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
               Quat::FromTwoVectors(Vec3d::UnitY(), knuckle - wrist).toRotationMatrix());
    }
    f.limb("thigh", "shin", 0.084, 0.060, 0.035);
    f.limb("shin", "foot", 0.060, 0.044, 0.03);
    f.balls("foot", {0.114, 0.052, 0.010}, {0.047, 0.046, 0.080}, 0.03);
    f.balls("toes", {0.121, 0.036, 0.098}, {0.052, 0.034, 0.052}, 0.03);
    f.cone("tail_1", r.at("tail_1") + Vec3d(0, 0, 0.03), 0.052, r.at("tail_2"), 0.048, 0.04);
    f.cone("tail_2", r.at("tail_2"), 0.048, r.at("tail_3"), 0.040, 0.02);
    f.cone("tail_3", r.at("tail_3"), 0.040, r.at("tail_end"), 0.022, 0.02);
    // Head: a low wedge with full cheeks and small round ears; the mouth stands a little open.
    f.ball("head", {0, 0.972, 0.015}, {0.122, 0.106, 0.120}, 0.04);
    f.balls("head", {0.072, 0.930, 0.040}, {0.056, 0.052, 0.062}, 0.03);
    f.cone("head", {0, 0.946, 0.085}, 0.064, {0, 0.920, 0.215}, 0.034, 0.03);
    f.balls("head", {0.094, 1.056, -0.012}, {0.034, 0.040, 0.020}, 0.015);
    f.cone("jaw", {0, 0.874, 0.050}, 0.044, {0, 0.850, 0.180}, 0.023, 0.014);
    for (const char* finger : kFingers) {
        f.limb(std::string(finger) + "_1", std::string(finger) + "_2", 0.0175, 0.0165, 0.010);
        f.limb(std::string(finger) + "_2", std::string(finger) + "_end", 0.0165, 0.0130, 0.004);
    }
    f.limb("thumb_1", "thumb_2", 0.0200, 0.0180, 0.014);
    f.limb("thumb_2", "thumb_end", 0.0180, 0.0140, 0.004);
    return f.solids;
}

using Weights = std::vector<std::pair<int, double>>;

// Each bone's share falls off with the distance to its own flesh; only bones near the closest one take part.
std::vector<Weights> bodyWeights(const Rig& rig, const std::vector<Solid>& solids, const Mesh& mesh) {
    constexpr double falloff =
        0.30; // of the flesh's own radius: a blend somewhat wider than the limb is thick
    const int joints = rig.skeleton.size();
    std::vector<std::vector<double>> dense(mesh.position.size(), std::vector<double>(joints, 0.0));
    for (std::size_t v = 0; v < dense.size(); ++v) {
        std::vector<double> distance(joints, 1e9);
        for (const Solid& s : solids) {
            const double radius = s.shape == Shape::Cone ? 0.5 * (s.ra + s.rb) : s.size.minCoeff();
            distance[s.bone] =
                std::min(distance[s.bone], std::abs(s.distance(mesh.position[v].cast<double>())) / radius);
        }
        const int best =
            static_cast<int>(std::min_element(distance.begin(), distance.end()) - distance.begin());
        for (int j = 0; j < joints; ++j)
            if (distance[j] < 1e8 && rig.skeleton.boneDistance(j, best) <= 2)
                dense[v][j] = std::exp(-(distance[j] - distance[best]) / falloff);
    }
    std::vector<std::vector<std::uint32_t>> around(dense.size());
    for (const Triangle& t : mesh.triangles)
        for (int k = 0; k < 3; ++k)
            around[t[k]].push_back(t[(k + 1) % 3]);
    auto normalize = [](std::vector<double>& w) {
        double sum = 0;
        for (double x : w)
            sum += x;
        for (double& x : w)
            x /= sum;
    };
    for (auto& w : dense)
        normalize(w);
    for (int pass = 0; pass < 4; ++pass) {
        auto next = dense;
        for (std::size_t v = 0; v < dense.size(); ++v)
            for (int j = 0; j < joints; ++j) {
                double mean = 0;
                for (std::uint32_t o : around[v])
                    mean += dense[o][j] / double(around[v].size());
                next[v][j] = 0.5 * (dense[v][j] + mean);
            }
        dense = std::move(next);
    }
    std::vector<Weights> out(dense.size());
    for (std::size_t v = 0; v < dense.size(); ++v) {
        Weights all;
        for (int j = 0; j < joints; ++j)
            if (dense[v][j] > 0.005)
                all.push_back({j, dense[v][j]});
        std::stable_sort(all.begin(), all.end(),
                         [](const auto& a, const auto& b) { return a.second > b.second; });
        all.resize(std::min<std::size_t>(all.size(), 4));
        double sum = 0;
        for (const auto& [joint, weight] : all)
            sum += weight;
        for (auto& [joint, weight] : all)
            weight /= sum;
        out[v] = std::move(all);
    }
    return out;
}

double soft(double edge, double width, double x) { return std::clamp((x - edge) / width + 0.5, 0.0, 1.0); }

// A badger's mask: white face, a black stripe from the nose over each eye to the ear; dark limbs, grizzled
// back, and a postman's red waistcoat.
Vec3 furColour(const Vec3d& p) {
    const Vec3d grey(0.20, 0.20, 0.21), dark(0.035, 0.033, 0.035), white(0.86, 0.84, 0.78),
        red(0.36, 0.055, 0.045), pale(0.46, 0.43, 0.38);
    const double x = std::abs(p.x()), y = p.y(), z = p.z();
    Vec3d c = grey;
    auto over = [&](const Vec3d& with, double share) { c += (with - c) * share; };
    over(pale, soft(-0.02, 0.06, z) * soft(0.12, -0.04, x) * soft(0.80, -0.05, y));
    if (y < 0.80 && x < 0.20 && y > 0.40) { // the waistcoat, open at the throat
        const double vee = 0.018 + std::max(0.0, y - 0.66) * 0.55;
        const double body = soft(0.150, -0.012, x) * soft(0.425, 0.012, y) * soft(0.785, -0.012, y);
        over(red, body * (z > 0 ? soft(vee, 0.012, x) : 1.0));
    }
    const double arm = soft(0.185, 0.03, x) * soft(0.36, 0.02, y) * soft(0.84, -0.02, y);
    over(dark, std::max(arm, soft(0.31, -0.05, y) * soft(-0.09, 0.02, z)));
    if (y > 0.83) {
        const double stripe =
            std::exp(-std::pow((x - (0.030 + 0.30 * std::max(0.0, 0.17 - z) * 0.85)) / 0.021, 2.0));
        over(white, soft(0.845, 0.03, y) * soft(-0.06, 0.05, z));
        over(dark, std::min(1.0, 1.25 * stripe) * soft(0.925, 0.016, y) * soft(0.225, -0.02, z) *
                       soft(-0.075, 0.03, z));
        over(white, soft(1.078, 0.012, y) * soft(0.075, 0.02, x)); // ear tips
    }
    return c.cast<float>();
}

void addPart(Character& c, std::vector<Weights>& weights, const std::string& name, const Mesh& mesh,
             const std::vector<Weights>& partWeights, const std::vector<Vec3>& colours) {
    Part p;
    p.name = name;
    p.skin = 0;
    p.skinned = true;
    p.firstVertex = std::uint32_t(c.neutral.size());
    p.vertexCount = std::uint32_t(mesh.position.size());
    p.firstTriangle = std::uint32_t(c.triangles.size());
    p.triangleCount = std::uint32_t(mesh.triangles.size());
    c.neutral.insert(c.neutral.end(), mesh.position.begin(), mesh.position.end());
    c.colour.insert(c.colour.end(), colours.begin(), colours.end());
    for (const Triangle& t : mesh.triangles)
        c.triangles.push_back({t[0] + p.firstVertex, t[1] + p.firstVertex, t[2] + p.firstVertex});
    weights.insert(weights.end(), partWeights.begin(), partWeights.end());
    c.parts.push_back(std::move(p));
}

void addRigid(Character& c, std::vector<Weights>& weights, const std::string& name, int joint,
              const std::vector<Solid>& solids, double cell, const Vec3& colour) {
    const Mesh mesh = polygonize(solids, cell);
    addPart(c, weights, name, mesh, std::vector<Weights>(mesh.position.size(), Weights{{joint, 1.0}}),
            std::vector<Vec3>(mesh.position.size(), colour));
}

Solid ellipsoid(const Vec3d& at, const Vec3d& size, double tilt = 0, double blend = 0.01) {
    Solid s;
    s.shape = Shape::Ellipsoid;
    s.a = at;
    s.size = size;
    s.turn = Eigen::AngleAxisd(tilt, Vec3d::UnitX()).toRotationMatrix();
    s.blend = blend;
    return s;
}

// The satchel's strap lies on the body from the left hip over the right shoulder, and moves with the skin
// below it.
void addStrap(Character& c, std::vector<Weights>& weights, const std::vector<Solid>& solids) {
    const Vec3d hip(0.155, 0.445, -0.01), shoulder(-0.085, 0.82, 0.0);
    const Vec3d centre = 0.5 * (hip + shoulder), along = (shoulder - hip).normalized(),
                across = Vec3d::UnitZ();
    const Vec3d normal = along.cross(across).normalized();
    const std::uint32_t bodyVertices = c.parts[0].vertexCount;
    constexpr int samples = 72;
    Mesh mesh;
    std::vector<Weights> partWeights;
    for (int k = 0; k < samples; ++k) {
        const double a = 2 * kPi * k / samples;
        const Vec3d out = std::cos(a) * along + std::sin(a) * across;
        double reach = 0.5; // march inwards until the skin is met
        while (reach > 0.02 && field(solids, centre + reach * out) > 0)
            reach -= 0.001;
        const double offsets[4][2] = {{-0.012, 0.002}, {-0.012, 0.009}, {0.012, 0.009}, {0.012, 0.002}};
        const Vec3 foot = (centre + reach * out).cast<float>();
        std::uint32_t nearest = 0;
        for (std::uint32_t v = 1; v < bodyVertices; ++v)
            if ((c.neutral[v] - foot).squaredNorm() < (c.neutral[nearest] - foot).squaredNorm())
                nearest = v;
        for (const auto& o : offsets) {
            mesh.position.push_back((centre + (reach + o[1]) * out + o[0] * normal).cast<float>());
            partWeights.push_back(weights[nearest]);
        }
    }
    for (std::uint32_t k = 0; k < samples; ++k)
        for (std::uint32_t e = 0; e < 4; ++e) {
            const std::uint32_t n = (k + 1) % samples, f = (e + 1) % 4;
            mesh.triangles.push_back({4 * k + e, 4 * n + f, 4 * n + e});
            mesh.triangles.push_back({4 * k + e, 4 * k + f, 4 * n + f});
        }
    addPart(c, weights, "strap", mesh, partWeights,
            std::vector<Vec3>(mesh.position.size(), Vec3(0.20f, 0.105f, 0.045f)));
}

} // namespace

Character badgerPostmaster() {
    const Rig rig = makeRig();
    Character c;
    c.name = "badger-postmaster";
    c.skeleton = rig.skeleton;
    std::vector<Weights> weights;

    const std::vector<Solid> solids = bodySolids(rig);
    // Finer at the hands and the face, coarser on the trunk and the legs.
    const Mesh body = polygonize(solids, [](int axis, double at) {
        if (axis == 0)
            return std::abs(at) > 0.255 ? 0.0098 : 0.0125;
        if (axis == 1)
            return at > 0.82 ? 0.0115 : at > 0.30 && at < 0.50 ? 0.0098 : 0.0135;
        return at > -0.06 && at < 0.14 ? 0.0086 : 0.0125;
    });
    std::vector<Vec3> colours;
    for (const Vec3& p : body.position)
        colours.push_back(furColour(p.cast<double>()));
    addPart(c, weights, "body", body, bodyWeights(rig, solids, body), colours);
    addStrap(c, weights, solids);

    const int head = rig.index.at("head"), pelvis = rig.index.at("pelvis");
    addRigid(c, weights, "eyes", head,
             {ellipsoid({0.056, 0.982, 0.114}, {0.0165, 0.0175, 0.0150}),
              ellipsoid({-0.056, 0.982, 0.114}, {0.0165, 0.0175, 0.0150})},
             0.004, Vec3(0.012f, 0.010f, 0.010f));
    addRigid(c, weights, "nose", head, {ellipsoid({0, 0.930, 0.246}, {0.024, 0.018, 0.017}, 0.2)}, 0.005,
             Vec3(0.02f, 0.016f, 0.018f));
    addRigid(c, weights, "cap", head,
             {ellipsoid({0, 1.090, -0.006}, {0.116, 0.040, 0.108}, 0.10),
              ellipsoid({0, 1.058, 0.004}, {0.098, 0.030, 0.096}, 0.10, 0.03),
              ellipsoid({0, 1.052, 0.100}, {0.080, 0.013, 0.062}, 0.34)},
             0.0072, Vec3(0.045f, 0.075f, 0.16f));
    Solid bag;
    bag.shape = Shape::Box;
    bag.a = Vec3d(0.186, 0.392, -0.018);
    bag.size = Vec3d(0.036, 0.066, 0.076);
    bag.ra = 0.016;
    bag.turn = Eigen::AngleAxisd(0.12, Vec3d::UnitZ()).toRotationMatrix();
    addRigid(c, weights, "satchel", pelvis, {bag}, 0.009, Vec3(0.24f, 0.13f, 0.055f));

    Skin skin;
    for (const Transform& t : c.skeleton.neutralWorld) {
        skin.inverseBind.push_back(t.inverse());
        skin.bound.push_back(1);
    }
    c.skins = {skin};
    c.bindPosition = c.neutral;
    for (const Weights& list : weights) {
        for (const auto& [joint, weight] : list) {
            c.weights.joint.push_back(static_cast<std::uint16_t>(joint));
            c.weights.weight.push_back(static_cast<float>(weight));
        }
        c.weights.first.push_back(static_cast<std::uint32_t>(c.weights.joint.size()));
        c.weights.fileSum.push_back(1.f);
    }
    return c;
}

} // namespace hobble::demo
