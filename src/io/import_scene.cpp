#include "io/import_scene.h"
#include "core/plain_number.h"

#include "core/ascii.h"
#include "core/words/say.h"
#include "io/file_read.h"
#include "io/textures.h"

#include <assimp/Importer.hpp>
#include <assimp/ProgressHandler.hpp>
#include <assimp/config.h>
#include <assimp/postprocess.h>
#include <assimp/scene.h>

#include <algorithm>
#include <cmath>
#include <cstring>
#include <filesystem>
#include <map>
#include <numeric>
#include <set>
#include <unordered_map>

namespace hobble {

namespace {

Transform transformOf(const aiMatrix4x4& m) {
    Transform t;
    t.matrix() << m.a1, m.a2, m.a3, m.a4, m.b1, m.b2, m.b3, m.b4, m.c1, m.c2, m.c3, m.c4, 0, 0, 0, 1;
    return t;
}

Vec3 vectorOf(const aiVector3D& v) {
    return {static_cast<float>(v.x), static_cast<float>(v.y), static_cast<float>(v.z)};
}

class Converter {
public:
    Converter(const aiScene& from, const std::filesystem::path& folder, const Progress& progress)
        : from_(from), folder_(folder), progress_(progress) {}

    FileScene convert() {
        addNode(from_.mRootNode);
        implyJoints();
        for (std::size_t i = 0; i < nodes_.size(); ++i) {
            if (nodes_[i]->mNumMeshes > 0)
                addPart(static_cast<int>(i));
            progress_.at(static_cast<double>(i) / static_cast<double>(nodes_.size()));
            stopIfAsked(progress_);
        }
        for (unsigned a = 0; a < from_.mNumAnimations; ++a)
            addClip(*from_.mAnimations[a], a);
        noteMissing(missing_, out_.notes);
        return std::move(out_);
    }

private:
    const aiScene& from_;
    const std::filesystem::path folder_;
    const Progress& progress_;
    std::map<unsigned, int> textureOf_; // of a material; −1: it has none
    std::set<std::string> missing_;     // pictures
    FileScene out_;
    std::vector<const aiNode*> nodes_;
    std::map<std::string, int> nodeCalled_; // the first of that name
    std::set<std::string> partNames_;

    void addNode(const aiNode* root) {
        std::vector<std::pair<const aiNode*, int>> stack{{root, -1}};
        while (!stack.empty()) {
            const auto [node, parent] = stack.back();
            stack.pop_back();
            const int index = static_cast<int>(nodes_.size());
            nodes_.push_back(node);
            const std::string name = node->mName.C_Str();
            const Transform local = transformOf(node->mTransformation);
            if (!local.matrix().allFinite())
                throw Refused{say("node '%s' has a transform that is not finite", name)};
            out_.nodes.push_back({name.empty() ? "node " + std::to_string(index) : name, parent, local});
            nodeCalled_.try_emplace(name, index);
            for (unsigned c = node->mNumChildren; c-- > 0;)
                stack.push_back({node->mChildren[c], index});
        }
    }

    // Bones name what holds skin. Joints are these, what lies between them (characterOf adds it), what hangs
    // below them and is no mesh, and what they all hang on below the top of the scene.
    void implyJoints() {
        const int count = static_cast<int>(nodes_.size());
        std::vector<char> bone(count, 0), meshBelow(count, 0);
        int bones = 0;
        for (unsigned m = 0; m < from_.mNumMeshes; ++m)
            for (unsigned b = 0; b < from_.mMeshes[m]->mNumBones; ++b)
                if (auto it = nodeCalled_.find(from_.mMeshes[m]->mBones[b]->mName.C_Str());
                    it != nodeCalled_.end()) {
                    bones += !bone[it->second];
                    bone[it->second] = 1;
                }
        if (bones == 0)
            return;
        for (int n = count - 1; n > 0; --n) {
            meshBelow[n] |= nodes_[n]->mNumMeshes > 0;
            meshBelow[out_.nodes[n].parent] |= meshBelow[n];
        }
        out_.isJoint.assign(count, 0);
        std::vector<int> below(count, 0); // bones at or below
        for (int n = count - 1; n >= 0; --n) {
            below[n] += bone[n];
            if (n > 0)
                below[out_.nodes[n].parent] += below[n];
        }
        for (int n = 1; n < count; ++n) {
            const int p = out_.nodes[n].parent;
            const bool camera = isCameraOrLight(nodes_[n]->mName);
            out_.isJoint[n] = bone[n] || (out_.isJoint[p] && !meshBelow[n] && !camera) ||
                              (p > 0 && below[n] == bones && !meshBelow[n] && !isHolder(n));
        }
    }

    // A node that only places the skeleton in the scene: the top, or one that holds nothing but it.
    bool isHolder(int n) const { return nodes_[n]->mNumChildren == 1 && out_.nodes[n].parent <= 0; }

    bool isCameraOrLight(const aiString& name) const {
        for (unsigned i = 0; i < from_.mNumCameras; ++i)
            if (from_.mCameras[i]->mName == name)
                return true;
        for (unsigned i = 0; i < from_.mNumLights; ++i)
            if (from_.mLights[i]->mName == name)
                return true;
        return false;
    }

    void addPart(int n) {
        const aiNode& node = *nodes_[n];
        ScenePart part;
        std::string wanted = node.mName.C_Str();
        if (wanted.empty())
            wanted = node.mNumMeshes > 0 && node.mMeshes[0] < from_.mNumMeshes
                         ? from_.mMeshes[node.mMeshes[0]]->mName.C_Str()
                         : "";
        if (wanted.empty())
            wanted = "part " + std::to_string(out_.parts.size() + 1);
        part.name = wanted;
        for (int k = 2; !partNames_.insert(part.name).second; ++k)
            part.name = wanted + " (" + std::to_string(k) + ")";
        part.node = n;

        SceneSkin skin;
        skin.meshNode = n;
        std::map<std::string, std::uint32_t> jointCalled;
        std::set<std::string> lost;
        for (unsigned i = 0; i < node.mNumMeshes; ++i) {
            if (node.mMeshes[i] >= from_.mNumMeshes)
                throw Refused{say("part '%s' has a mesh that does not exist", part.name)};
            const aiMesh& mesh = *from_.mMeshes[node.mMeshes[i]];
            for (unsigned b = 0; b < mesh.mNumBones; ++b) {
                const std::string name = mesh.mBones[b]->mName.C_Str();
                const auto joint = nodeCalled_.find(name);
                if (joint == nodeCalled_.end()) {
                    if (mesh.mBones[b]->mNumWeights > 0)
                        lost.insert(name);
                    continue;
                }
                if (!jointCalled.try_emplace(name, static_cast<std::uint32_t>(skin.joints.size())).second)
                    continue;
                Transform bind = transformOf(mesh.mBones[b]->mOffsetMatrix);
                if (!bind.matrix().allFinite())
                    throw Refused{say("joint '%s' has a bind pose that is not finite", name)};
                skin.joints.push_back(joint->second);
                skin.inverseBind.push_back(bind);
            }
        }
        for (const std::string& name : lost)
            out_.notes.push_back(
                say("Part '%s' has weights for '%s', which is no joint of the file; they are left out.",
                    part.name, name));
        if (!skin.joints.empty()) {
            part.skin = static_cast<int>(out_.skins.size());
            out_.skins.push_back(skin);
        }
        std::size_t noTriangles = 0;
        for (unsigned i = 0; i < node.mNumMeshes; ++i)
            addMesh(part, *from_.mMeshes[node.mMeshes[i]], jointCalled, noTriangles);
        if (noTriangles)
            out_.notes.push_back(say("Part '%s' has points or lines, which are left out.", part.name));
        out_.parts.push_back(std::move(part));
    }

    // Inside the file, beside it, or where exporters leave pictures.
    std::shared_ptr<const std::string> pictureAt(std::string path) const {
        if (const aiTexture* within = from_.GetEmbeddedTexture(path.c_str())) {
            if (within->mHeight != 0) // not encoded
                return nullptr;
            return std::make_shared<const std::string>(reinterpret_cast<const char*>(within->pcData),
                                                       within->mWidth);
        }
        std::replace(path.begin(), path.end(), '\\', '/');
        const std::filesystem::path name = std::filesystem::path(path).filename();
        for (const auto& place : {folder_ / path, folder_ / name, folder_ / "textures" / name}) {
            std::error_code error;
            if (std::filesystem::is_regular_file(place, error))
                if (auto bytes = readFile(place.string()); bytes && isPicture(*bytes))
                    return std::make_shared<const std::string>(std::move(*bytes));
        }
        return nullptr;
    }

    int textureFor(unsigned material) {
        if (material >= from_.mNumMaterials)
            return -1;
        const auto [known, fresh] = textureOf_.try_emplace(material, -1);
        if (!fresh)
            return known->second;
        const aiMaterial& m = *from_.mMaterials[material];
        aiString path;
        aiTextureMapMode modes[2] = {aiTextureMapMode_Wrap, aiTextureMapMode_Wrap};
        unsigned channel = 0;
        for (const aiTextureType kind : {aiTextureType_BASE_COLOR, aiTextureType_DIFFUSE})
            if (path.length == 0)
                m.GetTexture(kind, 0, &path, nullptr, &channel, nullptr, nullptr, modes);
        if (path.length == 0 || channel != 0)
            return -1;
        auto picture = pictureAt(path.C_Str());
        if (!picture || !isPicture(*picture)) {
            missing_.insert(path.C_Str());
            return -1;
        }
        Texture texture;
        texture.name = path.C_Str();
        texture.picture = std::move(picture);
        for (int k = 0; k < 2; ++k)
            texture.beyond[static_cast<std::size_t>(k)] =
                modes[k] == aiTextureMapMode_Mirror ? Texture::Beyond::Mirror
                : modes[k] == aiTextureMapMode_Wrap ? Texture::Beyond::Repeat
                                                    : Texture::Beyond::Clamp;
        known->second = static_cast<int>(out_.textures.size());
        out_.textures.push_back(std::move(texture));
        return known->second;
    }

    // The importer gives every corner of a triangle a vertex of its own. Those alike in place, colour,
    // weights and targets are one again; those that differ in any stay apart, so that no fault is mended.
    void addMesh(ScenePart& part, const aiMesh& mesh, const std::map<std::string, std::uint32_t>& jointCalled,
                 std::size_t& noTriangles) {
        const unsigned count = mesh.mNumVertices;
        std::vector<std::vector<std::pair<std::uint32_t, float>>> influence(count);
        for (unsigned b = 0; b < mesh.mNumBones; ++b) {
            const auto joint = jointCalled.find(mesh.mBones[b]->mName.C_Str());
            if (joint == jointCalled.end())
                continue;
            for (unsigned w = 0; w < mesh.mBones[b]->mNumWeights; ++w) {
                const aiVertexWeight& weight = mesh.mBones[b]->mWeights[w];
                if (weight.mVertexId >= count)
                    throw Refused{
                        say("joint '%s' holds a vertex that '%s' does not have", joint->first, part.name)};
                if (!std::isfinite(weight.mWeight))
                    throw Refused{say("vertex %s of '%s' has a weight that is not finite",
                                      std::to_string(weight.mVertexId), part.name)};
                if (weight.mWeight != 0)
                    influence[weight.mVertexId].push_back({joint->second, weight.mWeight});
            }
        }
        for (auto& list : influence)
            std::sort(list.begin(), list.end());
        stopIfAsked(progress_);

        aiColor4D diffuse(0.8f, 0.8f, 0.8f, 1);
        if (mesh.mMaterialIndex < from_.mNumMaterials)
            from_.mMaterials[mesh.mMaterialIndex]->Get(AI_MATKEY_COLOR_DIFFUSE, diffuse);
        SceneBlock block;
        block.weighted = mesh.mNumBones > 0;
        for (unsigned t = 0; t < mesh.mNumAnimMeshes; ++t)
            if (mesh.mAnimMeshes[t]->mVertices && mesh.mAnimMeshes[t]->mNumVertices == count) {
                const std::string name = mesh.mAnimMeshes[t]->mName.C_Str();
                block.targets.push_back({name.empty() ? "target " + std::to_string(t + 1) : name, {}, {}});
            }
        std::vector<std::uint32_t> vertexOf(count);
        std::unordered_map<std::string, std::uint32_t> known;
        std::string key;
        for (unsigned v = 0; v < count; ++v) {
            const Vec3 p = vectorOf(mesh.mVertices[v]);
            if (!p.allFinite())
                throw Refused{say("the positions of '%s' are not finite", part.name)};
            Vec3 colour(diffuse.r, diffuse.g, diffuse.b);
            if (mesh.mColors[0])
                colour = colour.cwiseProduct(
                    Vec3(mesh.mColors[0][v].r, mesh.mColors[0][v].g, mesh.mColors[0][v].b));
            key.assign(reinterpret_cast<const char*>(p.data()), 3 * sizeof(float));
            key.append(reinterpret_cast<const char*>(colour.data()), 3 * sizeof(float));
            for (const auto& [joint, weight] : influence[v]) {
                key.append(reinterpret_cast<const char*>(&joint), sizeof joint);
                key.append(reinterpret_cast<const char*>(&weight), sizeof weight);
            }
            std::vector<Vec3> deltas;
            for (unsigned t = 0; t < mesh.mNumAnimMeshes; ++t)
                if (mesh.mAnimMeshes[t]->mVertices && mesh.mAnimMeshes[t]->mNumVertices == count) {
                    deltas.push_back(vectorOf(mesh.mAnimMeshes[t]->mVertices[v]) - p);
                    if (!deltas.back().allFinite())
                        throw Refused{say("a shape target of '%s' is not finite", part.name)};
                    key.append(reinterpret_cast<const char*>(deltas.back().data()), 3 * sizeof(float));
                }
            const auto [it, fresh] =
                known.try_emplace(key, static_cast<std::uint32_t>(block.position.size()));
            vertexOf[v] = it->second;
            if (!fresh)
                continue;
            block.position.push_back(p);
            block.colour.push_back(colour);
            block.influence.insert(block.influence.end(), influence[v].begin(), influence[v].end());
            block.firstInfluence.push_back(static_cast<std::uint32_t>(block.influence.size()));
            for (std::size_t t = 0; t < deltas.size(); ++t)
                if (!deltas[t].isZero(0)) {
                    block.targets[t].vertex.push_back(it->second);
                    block.targets[t].delta.push_back(deltas[t]);
                }
            if (v % 65536 == 0)
                stopIfAsked(progress_);
        }
        std::vector<Triangle> triangles;
        ScenePaint paint;
        if (mesh.mTextureCoords[0])
            paint.texture = textureFor(mesh.mMaterialIndex);
        for (unsigned f = 0; f < mesh.mNumFaces; ++f) {
            const aiFace& face = mesh.mFaces[f];
            if (face.mNumIndices != 3) {
                ++noTriangles;
                continue;
            }
            for (unsigned k = 0; k < 3; ++k)
                if (face.mIndices[k] >= count)
                    throw Refused{say("part '%s' has a triangle with a vertex it does not have", part.name)};
            triangles.push_back(
                {vertexOf[face.mIndices[0]], vertexOf[face.mIndices[1]], vertexOf[face.mIndices[2]]});
            if (paint.texture < 0)
                continue;
            CornerUv uv{};
            for (unsigned k = 0; k < 3; ++k) {
                const aiVector3D& at = mesh.mTextureCoords[0][face.mIndices[k]];
                uv[2 * k] = std::isfinite(at.x) ? at.x : 0;
                uv[2 * k + 1] = std::isfinite(at.y) ? 1 - at.y : 0; // theirs count from the lower edge
            }
            paint.corners.push_back(uv);
        }
        part.paint.push_back(std::move(paint));
        part.triangles.push_back({part.blocks.size(), std::move(triangles)});
        part.blocks.push_back(std::move(block));
    }

    template <class Key, class Value>
    static ClipChannel channelOf(ClipChannel::Path path, const Key* keys, unsigned count, double perSecond,
                                 Value value) {
        ClipChannel out;
        out.path = path;
        std::vector<unsigned> order(count);
        std::iota(order.begin(), order.end(), 0u);
        std::stable_sort(order.begin(), order.end(),
                         [&](unsigned a, unsigned b) { return keys[a].mTime < keys[b].mTime; });
        for (unsigned i : order) {
            const auto numbers = value(keys[i].mValue);
            if (!std::isfinite(keys[i].mTime) ||
                !std::all_of(numbers.begin(), numbers.end(), [](float x) { return std::isfinite(x); }))
                continue;
            out.time.push_back(static_cast<float>(keys[i].mTime / perSecond));
            out.value.insert(out.value.end(), numbers.begin(), numbers.end());
        }
        return out;
    }

    void addClip(const aiAnimation& from, unsigned index) {
        SceneClip clip;
        clip.name = from.mName.length ? from.mName.C_Str() : "clip " + std::to_string(index + 1);
        double perSecond = from.mTicksPerSecond;
        if (!(perSecond > 0)) {
            perSecond = 25;
            out_.notes.push_back(
                say("Clip '%s' does not say how fast it plays; 25 ticks a second are assumed.", clip.name));
        }
        for (unsigned c = 0; c < from.mNumChannels; ++c) {
            const aiNodeAnim& channel = *from.mChannels[c];
            const auto node = nodeCalled_.find(channel.mNodeName.C_Str());
            if (node == nodeCalled_.end()) {
                ++clip.left;
                continue;
            }
            const auto vector = [](const aiVector3D& v) { return std::array<float, 3>{v.x, v.y, v.z}; };
            if (channel.mNumPositionKeys)
                clip.channels.push_back(
                    {node->second, channelOf(ClipChannel::Path::Translation, channel.mPositionKeys,
                                             channel.mNumPositionKeys, perSecond, vector)});
            if (channel.mNumRotationKeys)
                clip.channels.push_back(
                    {node->second, channelOf(ClipChannel::Path::Rotation, channel.mRotationKeys,
                                             channel.mNumRotationKeys, perSecond, [](const aiQuaternion& q) {
                                                 return std::array<float, 4>{q.x, q.y, q.z, q.w};
                                             })});
            if (channel.mNumScalingKeys > 1)
                clip.channels.push_back(
                    {node->second, channelOf(ClipChannel::Path::Scale, channel.mScalingKeys,
                                             channel.mNumScalingKeys, perSecond, vector)});
        }
        clip.left += from.mNumMeshChannels + from.mNumMorphMeshChannels;
        out_.clips.push_back(std::move(clip));
    }
};

std::string lowerSuffix(const std::string& path) {
    return lowered(std::filesystem::path(path).extension().string());
}

std::optional<int> wholeNumber(const aiMetadata& data, const char* key) {
    std::int32_t i = 0;
    if (data.Get(key, i))
        return i;
    return std::nullopt;
}

// FBX, global settings: centimetres per unit, and which axes are up, front and right.
void readFbxSettings(const aiScene& from, ImportedScene& out) {
    if (!from.mMetaData)
        return;
    double factor = 0;
    float single = 0;
    if (from.mMetaData->Get("UnitScaleFactor", factor) ||
        (from.mMetaData->Get("UnitScaleFactor", single) && (factor = static_cast<double>(single), true)))
        if (std::isfinite(factor) && factor > 0)
            out.metresPerUnit = factor / 100;
    Eigen::Matrix3d turned = Eigen::Matrix3d::Zero();
    const char* keys[][2] = {
        {"CoordAxis", "CoordAxisSign"}, {"UpAxis", "UpAxisSign"}, {"FrontAxis", "FrontAxisSign"}};
    for (int row = 0; row < 3; ++row) {
        const auto axis = wholeNumber(*from.mMetaData, keys[row][0]);
        const auto sign = wholeNumber(*from.mMetaData, keys[row][1]);
        if (!axis || *axis < 0 || *axis > 2)
            return;
        turned(row, *axis) = sign.value_or(1) < 0 ? -1 : 1;
    }
    if (turned.determinant() > 0.5)
        out.turned = turned;
}

// COLLADA 1.4, <asset>: <unit meter="…"> and <up_axis>. Read from the text: the importer library hides the
// unit in the top node's transform, where it cannot be told from what a person put there.
void readColladaAsset(const std::string& path, ImportedScene& out) {
    const auto text = readFile(path);
    if (!text)
        return;
    const auto unit = text->find("<unit");
    if (unit != std::string::npos) {
        const auto end = text->find('>', unit), meter = text->find("meter=\"", unit);
        if (meter < end) {
            const double x = numberAt(std::string_view(*text).substr(meter + 7));
            if (std::isfinite(x) && x > 0) {
                out.metresPerUnit = x;
                out.scene.nodes[0].local.linear() /= x; // where the importer library has put it
            }
        }
    }
    Eigen::Matrix3d turned = Eigen::Matrix3d::Identity();
    if (text->find("Z_UP") != std::string::npos)
        turned << 1, 0, 0, 0, 0, 1, 0, -1, 0;
    else if (text->find("X_UP") != std::string::npos)
        turned << 0, -1, 0, 1, 0, 0, 0, 0, 1;
    else if (text->find("Y_UP") == std::string::npos)
        return;
    out.turned = turned;
}

class Teller : public Assimp::ProgressHandler {
public:
    explicit Teller(const Progress& progress) : progress_(progress) {}
    bool Update(float share) override {
        progress_.at(std::clamp<double>(share, 0, 1));
        return !progress_.stopped();
    }

private:
    const Progress& progress_;
};

} // namespace

ImportedScene importScene(const std::string& path, const Progress& progress) {
    const Progress reading = progress.within(0, 0.6);
    Assimp::Importer importer;
    importer.SetProgressHandler(new Teller(reading)); // which deletes it
    importer.SetPropertyBool(AI_CONFIG_IMPORT_FBX_PRESERVE_PIVOTS, false);
    importer.SetPropertyBool(AI_CONFIG_IMPORT_REMOVE_EMPTY_BONES, false);
    importer.SetPropertyBool(AI_CONFIG_IMPORT_NO_SKELETON_MESHES, true);
    importer.SetPropertyBool(AI_CONFIG_IMPORT_COLLADA_IGNORE_UP_DIRECTION, true);
    ImportedScene out;
    try {
        const aiScene* from = importer.ReadFile(path, aiProcess_Triangulate);
        stopIfAsked(progress);
        if (!from || !from->mRootNode) {
            std::string why = importer.GetErrorString();
            std::replace(why.begin(), why.end(), '\n', ' ');
            while (!why.empty() && (why.back() == ' ' || why.back() == '.'))
                why.pop_back();
            throw Refused{why.empty() ? say("the importer library finds nothing in it")
                                      : say("the importer library says '%s'", why)};
        }
        out.scene =
            Converter(*from, std::filesystem::path(path).parent_path(), progress.within(0.6, 1)).convert();
        const std::string suffix = lowerSuffix(path);
        if (suffix == ".fbx")
            readFbxSettings(*from, out);
        else if (suffix == ".dae")
            readColladaAsset(path, out);
    } catch (const std::bad_alloc&) {
        throw Refused{say("it needs more memory than there is")};
    } catch (const std::exception& e) { // out of the importer library
        throw Refused{say("the importer library gave up ('%s')", e.what())};
    }
    return out;
}

void settle(FileScene& scene, double metresPerUnit, const Eigen::Matrix3d& turned) {
    const auto s = static_cast<float>(metresPerUnit);
    for (SceneNode& n : scene.nodes)
        n.local.translation() *= metresPerUnit;
    for (SceneSkin& k : scene.skins)
        for (Transform& b : k.inverseBind)
            b.translation() *= metresPerUnit;
    for (ScenePart& p : scene.parts)
        for (SceneBlock& b : p.blocks) {
            for (Vec3& x : b.position)
                x *= s;
            for (ShapeTarget& t : b.targets)
                for (Vec3& d : t.delta)
                    d *= s;
        }
    for (SceneClip& c : scene.clips)
        for (SceneChannel& h : c.channels)
            if (h.values.path == ClipChannel::Path::Translation)
                for (float& x : h.values.value)
                    x *= s;
    if (turned.isIdentity(1e-9))
        return;
    // A node above all, not a turn of the roots: a clip may set these anew.
    SceneNode top;
    top.name = "up axis";
    top.local.linear() = turned;
    const int at = static_cast<int>(scene.nodes.size());
    for (SceneNode& n : scene.nodes)
        if (n.parent < 0)
            n.parent = at;
    scene.nodes.push_back(top);
    if (!scene.isJoint.empty())
        scene.isJoint.push_back(0);
}

} // namespace hobble
