#pragma once
// What is tested: a mesh of several parts on one skeleton, with its skin weights, shape targets and clips.
// Plain arrays, immutable once opened; copies share those that stay the same. Metres, as the file's nodes
// place it.
#include "core/character/drivers.h"
#include "core/geometry.h"
#include "core/shared_vector.h"

#include <array>
#include <memory>
#include <optional>
#include <string>
#include <vector>

namespace hobble {

/// Joints in an order where a parent always precedes its children.
struct Skeleton {
    std::vector<std::string> name;
    std::vector<int> parent;             // -1 for a root
    std::vector<Transform> neutralLocal; // to the parent; for a root, to the world
    std::vector<Transform> neutralWorld; // the neutral pose: the one the skin was bound in
    std::vector<Transform> restWorld;    // how the file leaves the joints; empty when it is not known
    /// Per joint, what the file itself says it is of a person, as the open avatar extensions of glTF call it:
    /// "leftUpperArm". Empty strings where it does not; no entries where the file says nothing at all.
    std::vector<std::string> humanoidBone;

    int size() const { return static_cast<int>(name.size()); }
    Vec3d place(int joint) const { return neutralWorld[static_cast<std::size_t>(joint)].translation(); }
    /// Index of the joint of that name, -1 if there is none.
    int find(const std::string& jointName) const;
    std::vector<std::vector<int>> children() const;
    /// For every joint, whether it is `joint` or one of its descendants.
    std::vector<char> subtree(int joint) const;
    /// How many bones lie between two joints along the tree, joints that lie on one another having none
    /// between them; -1 when they share no root.
    int boneDistance(int a, int b) const;
};

/// How one skin of the file binds its vertices: where each joint stood, in the skin's own space.
struct Skin {
    std::vector<Transform> inverseBind; // per joint of the skeleton; identity where not bound
    std::vector<char> bound;            // per joint of the skeleton
};

/// Influences of vertex v: joint[first[v]] … with weight[first[v]] …, heaviest first, weights summing to 1.
/// A vertex that nothing moves has none.
struct SkinWeights {
    SharedVector<std::uint32_t> first{0};
    SharedVector<std::uint16_t> joint;
    SharedVector<float> weight;
    SharedVector<float> fileSum; // per vertex: what the weights summed to in the file, before normalising

    bool operator==(const SkinWeights&) const = default;
    std::size_t vertexCount() const { return first.size() - 1; }
};

/// How much of two vertices' weights is on the same joints, 0 … 1; 1 where both follow nothing.
double weightShared(const SkinWeights& weights, std::uint32_t a, std::uint32_t b);

struct ShapeTarget {
    std::string name;
    std::vector<std::uint32_t> vertex; // of the part, rising: those it moves
    std::vector<Vec3> delta;           // for each of them, in the skin's space
};

/// One mesh of the file where a node places it: vertices and triangles are ranges of the character's arrays.
/// Vertices keep the file's order: primitive after primitive, a shared position accessor counted once.
struct Part {
    std::string name;
    std::uint32_t firstVertex = 0, vertexCount = 0;
    std::uint32_t firstTriangle = 0, triangleCount = 0;
    int skin = -1;        // -1: bound to nothing; it stays where the file put it
    bool skinned = false; // has its own weights; otherwise it follows one joint rigidly, or nothing
    int carrier = -1;     // the joint a rigid part follows
    std::vector<ShapeTarget> targets;
    std::vector<float> targetWeights; // as the file sets them in its default state
};

/// One animated value of one joint: local rotation (x, y, z, w), translation or scale at rising times; or the
/// weights of all shape targets of one part.
struct ClipChannel {
    enum class Path { Translation, Rotation, Scale, Weights };
    enum class Blend { Linear, Step, Cubic }; // Cubic: in-tangent, value, out-tangent for each time
    int joint = -1;                           // -1 for weights
    int part = -1;                            // of weights
    Path path = Path::Rotation;
    Blend blend = Blend::Linear;
    std::vector<float> time;  // seconds
    std::vector<float> value; // 3 or 4 numbers, or one per target, for each time; thrice as many when cubic
};

/// A moment of a clip with a name.
struct ClipMark {
    double seconds = 0;
    std::string name;   // "left elbow flex 90°"
    std::string motion; // of a plan, by its id; may be empty
    double at = 0;      // in the motion's unit
};

struct Clip {
    std::string name;
    double seconds = 0;
    std::vector<ClipChannel> channels;
    std::vector<ClipMark> marks; // rising
};

class DetailSmoothing;

/// How much of a vertex goes by dual quaternions, 0 … 1: in a run by linear skinning, and in one by them.
struct DualShare {
    float ofLinear = 0, ofDual = 1;
    bool operator==(const DualShare&) const = default;
};

/// How the skin is deformed besides what the run's method says. Copies share it.
struct DeformExtras {
    SharedVector<DualShare> dualShare; // per vertex; empty: all as the run's method has it
    std::vector<std::shared_ptr<const DetailSmoothing>> smoothing; // of the skinned mesh, one after the other
    bool any() const { return !dualShare.empty() || !smoothing.empty(); }
};

/// What triangles are painted with: a picture as the file has it, PNG or JPEG, not decoded here.
struct Texture {
    enum class Beyond { Repeat, Mirror, Clamp }; // how it goes on past its edges
    std::string name;
    std::shared_ptr<const std::string> picture;
    std::array<Beyond, 2> beyond{Beyond::Repeat, Beyond::Repeat};
    float cutoff = 0; // alpha below which nothing is seen; 0: all is
};

/// Where the corners of a triangle lie in its picture: u and v of each, (0, 0) at the picture's upper left.
using CornerUv = std::array<float, 6>;

struct Character {
    std::string name;
    std::string source;     // path of the file it came from
    std::string hash;       // of the file's content: SHA-256, hexadecimal
    std::string formerHash; // by which logs of before know it; empty when there is none
    Skeleton skeleton;
    std::vector<Skin> skins;
    SharedVector<Part> parts;
    SharedVector<Vec3> bindPosition; // per vertex, in the skin's space (world, for parts bound to nothing)
    SharedVector<Vec3> neutral;      // per vertex, world, in the neutral pose
    SharedVector<Vec3> colour;       // per vertex, linear RGB 0…1: what the file paints it
    SharedVector<Triangle> triangles;
    SharedVector<Texture> textures;       // times the colour of the vertices
    SharedVector<std::int16_t> textureOf; // per triangle, −1: none; empty where nothing is painted with one
    SharedVector<CornerUv> cornerUv;      // per triangle, as textureOf
    SkinWeights weights;
    DeformExtras extras;
    SharedVector<Clip> clips;
    std::vector<Driver> drivers;    // in the order they are evaluated
    std::vector<std::string> notes; // what was missing or mended while reading, in plain words

    std::size_t vertexCount() const { return neutral.size(); }
    int partOfVertex(std::uint32_t vertex) const;
    /// Largest extent of the neutral bounding box, metres.
    double extent() const;
};

} // namespace hobble
