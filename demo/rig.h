#pragma once
// What every member of the cast is built with: a skeleton drawn joint by joint, flesh around its bones, and
// parts put together into a character.
#include "core/character/character.h"
#include "implicit.h"

#include <functional>
#include <map>
#include <set>

namespace hobble::demo {

/// A point of the way from one to another.
inline Vec3d between(const Vec3d& a, const Vec3d& b, double t) { return a + t * (b - a); }

using Weights = std::vector<std::pair<int, double>>; // joint and share

struct Rig {
    Skeleton skeleton;
    std::map<std::string, int> index;

    /// One that stands `aside` (twist, helper, face) does not say where its parent's bone points.
    int joint(const std::string& name, const std::string& parent, const Vec3d& at, bool aside = false);
    /// Left and right (".L", ".R"), below the parent's own sides if it has any; `left` is mirrored at x = 0.
    void pair(const std::string& name, const std::string& parent, const Vec3d& left, bool aside = false);
    Vec3d at(const std::string& name) const { return skeleton.neutralWorld[index.at(name)].translation(); }
    bool has(const std::string& name) const { return index.count(name) > 0; }
    /// Turns each joint so that its Y points down its own bone, as riggers like; to be called once, last.
    void orient();

private:
    std::set<int> aside_;
};

/// Solids around bones, for the flesh.
class Flesh {
public:
    explicit Flesh(const Rig& rig) : rig_(rig) {}
    std::vector<Solid> solids;

    void cone(const std::string& bone, const Vec3d& a, double ra, const Vec3d& b, double rb, double blend);
    void ball(const std::string& bone, const Vec3d& centre, const Vec3d& size, double blend,
              const Eigen::Matrix3d& turn = Eigen::Matrix3d::Identity());
    /// Along a pair's own bones, both sides.
    void limb(const std::string& bone, const std::string& to, double ra, double rb, double blend);
    /// One on either side, of a pair's bones or of the one in the middle; `turn` is the left one's.
    void balls(const std::string& bone, const Vec3d& left, const Vec3d& size, double blend,
               const Eigen::Matrix3d& turn = Eigen::Matrix3d::Identity());

private:
    const Rig& rig_;
};

Solid ellipsoid(const Vec3d& at, const Vec3d& size, double tilt = 0, double blend = 0.01);

/// 1 well beyond the edge, 0 well before it; a negative width turns it about.
double soft(double edge, double width, double x);

class Assembly {
public:
    Assembly(const Rig& rig, const std::string& name);

    int part(const std::string& name, const Mesh& mesh, const std::vector<Weights>& weights,
             const std::vector<Vec3>& colours);
    int rigid(const std::string& name, int joint, const Mesh& mesh, const Vec3& colour);
    int rigid(const std::string& name, int joint, const std::vector<Solid>& solids, double cell,
              const Vec3& colour);
    const std::vector<Weights>& weights() const { return weights_; }
    Character& character() { return c_; }
    Character finish();

private:
    Character c_;
    std::vector<Weights> weights_; // per vertex
};

/// Puts weights into a character's own arrays, heaviest first, at most `most` a vertex and none below
/// `least`, summing to 1.
void setWeights(Character& character, const std::vector<Weights>& weights, std::size_t most = 4,
                double least = 0.004);

std::vector<Vec3> painted(const Mesh& mesh, const std::function<Vec3(const Vec3d&)>& paint);

} // namespace hobble::demo
