#include "rig.h"

#include <algorithm>

namespace hobble::demo {

namespace {
constexpr const char* kSides[] = {".L", ".R"};
Vec3d image(const Vec3d& p) { return {-p.x(), p.y(), p.z()}; }
} // namespace

int Rig::joint(const std::string& name, const std::string& parent, const Vec3d& at, bool aside) {
    Transform world = Transform::Identity();
    world.translate(at);
    skeleton.name.push_back(name);
    skeleton.parent.push_back(parent.empty() ? -1 : index.at(parent));
    skeleton.neutralWorld.push_back(world);
    if (aside)
        aside_.insert(skeleton.size() - 1);
    return index[name] = skeleton.size() - 1;
}

void Rig::pair(const std::string& name, const std::string& parent, const Vec3d& left, bool aside) {
    const bool sided = has(parent + ".L");
    for (int side = 0; side < 2; ++side)
        joint(name + kSides[side], sided ? parent + kSides[side] : parent, side ? image(left) : left, aside);
}

void Rig::orient() {
    const auto children = skeleton.children();
    for (int j = 1; j < skeleton.size(); ++j) {
        Vec3d along = Vec3d::Zero();
        for (int k : children[j])
            if (!aside_.count(k))
                along += skeleton.neutralWorld[k].translation() - skeleton.neutralWorld[j].translation();
        if (along.norm() > 1e-6)
            skeleton.neutralWorld[j].linear() =
                turnFromTo(Vec3d::UnitY(), along.normalized()).toRotationMatrix();
        else
            skeleton.neutralWorld[j].linear() = skeleton.neutralWorld[skeleton.parent[j]].linear();
    }
    for (int j = 0; j < skeleton.size(); ++j) {
        const int p = skeleton.parent[j];
        skeleton.neutralLocal.push_back(
            p < 0 ? skeleton.neutralWorld[j] : skeleton.neutralWorld[p].inverse() * skeleton.neutralWorld[j]);
    }
}

void Flesh::cone(const std::string& bone, const Vec3d& a, double ra, const Vec3d& b, double rb,
                 double blend) {
    Solid s;
    s.bone = rig_.index.at(bone);
    s.a = a;
    s.b = b;
    s.ra = ra;
    s.rb = rb;
    s.blend = blend;
    solids.push_back(s);
}

void Flesh::ball(const std::string& bone, const Vec3d& centre, const Vec3d& size, double blend,
                 const Eigen::Matrix3d& turn) {
    Solid s;
    s.shape = Solid::Shape::Ellipsoid;
    s.bone = rig_.index.at(bone);
    s.a = centre;
    s.size = size;
    s.turn = turn;
    s.blend = blend;
    solids.push_back(s);
}

void Flesh::limb(const std::string& bone, const std::string& to, double ra, double rb, double blend) {
    for (const char* side : kSides)
        cone(bone + side, rig_.at(bone + side), ra, rig_.at(to + side), rb, blend);
}

void Flesh::balls(const std::string& bone, const Vec3d& left, const Vec3d& size, double blend,
                  const Eigen::Matrix3d& turn) {
    const bool sided = rig_.has(bone + ".L");
    const Eigen::Matrix3d flip = Eigen::Vector3d(-1, 1, 1).asDiagonal();
    ball(bone + (sided ? ".L" : ""), left, size, blend, turn);
    ball(bone + (sided ? ".R" : ""), image(left), size, blend, flip * turn * flip);
}

Solid ellipsoid(const Vec3d& at, const Vec3d& size, double tilt, double blend) {
    Solid s;
    s.shape = Solid::Shape::Ellipsoid;
    s.a = at;
    s.size = size;
    s.turn = Eigen::AngleAxisd(tilt, Vec3d::UnitX()).toRotationMatrix();
    s.blend = blend;
    return s;
}

double soft(double edge, double width, double x) { return std::clamp((x - edge) / width + 0.5, 0.0, 1.0); }

Assembly::Assembly(const Rig& rig, const std::string& name) {
    c_.name = name;
    c_.skeleton = rig.skeleton;
}

int Assembly::part(const std::string& name, const Mesh& mesh, const std::vector<Weights>& weights,
                   const std::vector<Vec3>& colours) {
    Part p;
    p.name = name;
    p.skin = 0;
    p.skinned = true;
    p.firstVertex = std::uint32_t(c_.neutral.size());
    p.vertexCount = std::uint32_t(mesh.position.size());
    p.firstTriangle = std::uint32_t(c_.triangles.size());
    p.triangleCount = std::uint32_t(mesh.triangles.size());
    c_.neutral.append(mesh.position.begin(), mesh.position.end());
    c_.colour.append(colours.begin(), colours.end());
    for (const Triangle& t : mesh.triangles)
        c_.triangles.push_back({t[0] + p.firstVertex, t[1] + p.firstVertex, t[2] + p.firstVertex});
    weights_.insert(weights_.end(), weights.begin(), weights.end());
    c_.parts.push_back(std::move(p));
    return static_cast<int>(c_.parts.size()) - 1;
}

int Assembly::rigid(const std::string& name, int joint, const Mesh& mesh, const Vec3& colour) {
    return part(name, mesh, std::vector<Weights>(mesh.position.size(), Weights{{joint, 1.0}}),
                std::vector<Vec3>(mesh.position.size(), colour));
}

int Assembly::rigid(const std::string& name, int joint, const std::vector<Solid>& solids, double cell,
                    const Vec3& colour) {
    return rigid(name, joint, polygonize(solids, cell), colour);
}

Character Assembly::finish() {
    Skin skin;
    for (const Transform& t : c_.skeleton.neutralWorld) {
        skin.inverseBind.push_back(t.inverse());
        skin.bound.push_back(1);
    }
    c_.skins = {skin};
    c_.bindPosition = c_.neutral;
    setWeights(c_, weights_);
    return std::move(c_);
}

void setWeights(Character& c, const std::vector<Weights>& weights, std::size_t most, double least) {
    c.weights = SkinWeights{};
    for (const Weights& raw : weights) {
        std::map<int, double> sum;
        for (const auto& [joint, share] : raw)
            sum[joint] += share;
        Weights list(sum.begin(), sum.end());
        std::stable_sort(list.begin(), list.end(),
                         [](const auto& a, const auto& b) { return a.second > b.second; });
        std::erase_if(list, [&](const auto& w) { return w.second < least; });
        list.resize(std::min(list.size(), most));
        double total = 0;
        for (const auto& [joint, share] : list)
            total += share;
        for (const auto& [joint, share] : list) {
            c.weights.joint.push_back(static_cast<std::uint16_t>(joint));
            c.weights.weight.push_back(static_cast<float>(share / total));
        }
        c.weights.first.push_back(static_cast<std::uint32_t>(c.weights.joint.size()));
        c.weights.fileSum.push_back(1.f);
    }
}

std::vector<Vec3> painted(const Mesh& mesh, const std::function<Vec3(const Vec3d&)>& paint) {
    std::vector<Vec3> out;
    for (const Vec3& p : mesh.position)
        out.push_back(paint(p.cast<double>()));
    return out;
}

} // namespace hobble::demo
