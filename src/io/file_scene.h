#pragma once
// What a file holds, whatever its format, before it is a character: nodes, skins, parts and clips as the file
// has them. Readers fill it and characterOf makes the character, so that joints, bind pose, rigid parts and
// neutral positions are settled in one place.
#include "core/character/character.h"
#include "core/progress.h"
#include "core/result.h"

#include <utility>

namespace hobble {

struct SceneNode {
    std::string name; // never empty
    int parent = -1;
    Transform local = Transform::Identity(); // the file's default state
    std::string humanoidBone = {};           // what the file says it is of a person; mostly empty
};

struct SceneSkin {
    std::vector<int> joints; // nodes
    std::vector<Transform> inverseBind;
    bool given = true; // false: the file says nothing of the bind pose, and the nodes stand in it
    int meshNode = -1; // a node whose part uses it; -1 when none
};

/// Vertices that triangles share, with what the file says of each.
struct SceneBlock {
    std::vector<Vec3> position;
    std::vector<Vec3> colour; // as many
    /// Per vertex, in any order and number: an index into the skin's joints, and the weight as written.
    std::vector<std::uint32_t> firstInfluence{0};
    std::vector<std::pair<std::uint32_t, float>> influence;
    bool weighted = false; // false: the file has no weights for it
    std::vector<ShapeTarget> targets;
    int primitive = -1; // of the node's mesh, the first that has these vertices; glTF alone says
};

/// How a list of triangles is painted.
struct ScenePaint {
    int texture = -1;
    std::vector<CornerUv> corners; // per triangle, where it has a texture
};

struct ScenePart {
    std::string name; // unique among parts
    int node = -1, skin = -1;
    std::vector<SceneBlock> blocks;
    std::vector<std::pair<std::size_t, std::vector<Triangle>>> triangles; // of a block, numbered from 0 in it
    std::vector<ScenePaint> paint; // of each list of triangles; where there are fewer, no texture
    std::vector<float> targetWeights;
};

struct SceneChannel {
    int node = -1;
    ClipChannel values; // its joint is not set
};

struct SceneClip {
    std::string name;
    std::vector<SceneChannel> channels;
    std::size_t left = 0; // channels that the reader left out
    std::vector<ClipMark> marks;
};

struct FileScene {
    std::vector<SceneNode> nodes;
    std::vector<SceneSkin> skins;
    std::vector<char> isJoint; // per node, beside those the skins name: what the file implies; may be empty
    std::vector<ScenePart> parts;
    std::vector<SceneClip> clips;
    std::vector<Texture> textures;
    std::vector<std::string> notes;
};

/// Thrown while a file is read, never out of src/io: readCharacter makes an Error of it.
struct Refused {
    std::string cause;
};

template <class T> T orRefuse(Result<T> r) {
    if (!r)
        throw Refused{r.error()};
    return std::move(*r);
}

/// Thrown where a stop was asked for.
struct Stopped {};

inline void stopIfAsked(const Progress& progress) {
    if (progress.stopped())
        throw Stopped{};
}

/// World transform of every node; refuses a node that is its own ancestor.
std::vector<Transform> worldTransforms(const FileScene& scene);

/// The node of each joint of the character that the scene makes.
std::vector<int> nodesOfJoints(const FileScene& scene);

/// Throws Refused where the scene cannot be a character, Stopped where it was asked to.
Character characterOf(FileScene scene, const Progress& progress = {});

} // namespace hobble
