// glTF's nodes, skins, meshes and animations → FileScene (glTF 2.0, sections 3.5, 3.7 and 3.11).
#include "io/gltf_scene.h"

#include "core/words/say.h"
#include "io/gltf_accessor.h"
#include "io/textures.h"

#define TINYGLTF_NO_STB_IMAGE
#define TINYGLTF_NO_STB_IMAGE_WRITE
#include <nlohmann/json.hpp>
#include <tiny_gltf.h>

#include <algorithm>
#include <array>
#include <cmath>
#include <map>
#include <set>

namespace hobble {

namespace {

class SceneReader {
public:
    SceneReader(const tinygltf::Model& model, const Progress& progress)
        : model_(model), progress_(progress) {}

    FileScene read() {
        checkExtensions();
        readNodes();
        worldTransforms(out_); // refuses circles before they are walked
        readSkins();
        readHumanoid();
        const std::vector<int> nodes = sceneNodes();
        double done = 0;
        for (int n : nodes) {
            if (model_.nodes[n].mesh >= 0)
                readPart(n);
            progress_.at(++done / static_cast<double>(nodes.size()));
        }
        readClips();
        noteMissing(missing_, out_.notes);
        return std::move(out_);
    }

private:
    const tinygltf::Model& model_;
    const Progress& progress_;
    FileScene out_;
    std::set<std::string> partNames_;
    std::map<int, int> textureOf_;  // of a material; −1: it has none
    std::set<std::string> missing_; // pictures

    std::string nodeName(int n) const {
        return model_.nodes[n].name.empty() ? "node " + std::to_string(n) : model_.nodes[n].name;
    }

    void note(const std::string& text) { out_.notes.push_back(text); }

    void checkExtensions() {
        static const std::set<std::string> known{"KHR_mesh_quantization", "KHR_materials_unlit",
                                                 "KHR_texture_transform"};
        for (const auto& e : model_.extensionsRequired)
            if (!known.count(e) && e.rfind("KHR_materials_", 0) != 0)
                throw Refused{say(
                    "it requires the glTF extension %s, which Hobble does not read; export without it", e)};
    }

    // What the file itself says its joints are: the open avatar extensions of glTF, in their first form (a
    // list of bones) and their present one (an object with a bone for each name).
    void readHumanoid() {
        const auto say = [&](const std::string& bone, const tinygltf::Value& node) {
            const int n = node.IsInt() ? node.Get<int>() : -1;
            if (n >= 0 && n < static_cast<int>(out_.nodes.size()) && !bone.empty())
                out_.nodes[static_cast<std::size_t>(n)].humanoidBone = bone;
        };
        const auto bones = [&](const char* extension) -> const tinygltf::Value* {
            const auto it = model_.extensions.find(extension);
            if (it == model_.extensions.end() || !it->second.Has("humanoid"))
                return nullptr;
            const tinygltf::Value& humanoid = it->second.Get("humanoid");
            return humanoid.Has("humanBones") ? &humanoid.Get("humanBones") : nullptr;
        };
        if (const auto* object = bones("VRMC_vrm"); object && object->IsObject()) {
            for (const std::string& bone : object->Keys())
                say(bone, object->Get(bone).Get("node"));
        } else if (const auto* list = bones("VRM"); list && list->IsArray()) {
            for (std::size_t i = 0; i < list->ArrayLen(); ++i)
                if (const tinygltf::Value& entry = list->Get(i); entry.Get("bone").IsString())
                    say(entry.Get("bone").Get<std::string>(), entry.Get("node"));
        }
    }

    void readNodes() {
        const int count = static_cast<int>(model_.nodes.size());
        out_.nodes.resize(count);
        for (int n = 0; n < count; ++n) {
            out_.nodes[n].name = nodeName(n);
            out_.nodes[n].local = localTransform(n);
        }
        for (int n = 0; n < count; ++n)
            for (int c : model_.nodes[n].children) {
                if (c < 0 || c >= count)
                    throw Refused{say("node '%s' has a child that does not exist", nodeName(n))};
                if (out_.nodes[c].parent >= 0)
                    throw Refused{say("node '%s' has two parents", nodeName(c))};
                out_.nodes[c].parent = n;
            }
    }

    Transform localTransform(int n) const {
        const auto& node = model_.nodes[n];
        Transform t = Transform::Identity();
        auto sized = [&](const std::vector<double>& v, std::size_t size) {
            if (!v.empty() && v.size() != size)
                throw Refused{say("node '%s' has a transform of the wrong length", nodeName(n))};
            for (double x : v)
                if (!std::isfinite(x))
                    throw Refused{say("node '%s' has a transform that is not finite", nodeName(n))};
            return !v.empty();
        };
        if (sized(node.matrix, 16)) {
            t.matrix() = Eigen::Map<const Eigen::Matrix4d>(node.matrix.data());
            t.makeAffine();
            return t;
        }
        if (sized(node.translation, 3))
            t.translate(Vec3d(node.translation[0], node.translation[1], node.translation[2]));
        if (sized(node.rotation, 4)) {
            Quat q(node.rotation[3], node.rotation[0], node.rotation[1], node.rotation[2]);
            if (q.norm() < 1e-9)
                throw Refused{say("node '%s' has a rotation of zero length", nodeName(n))};
            t.rotate(q.normalized());
        }
        if (sized(node.scale, 3))
            t.scale(Vec3d(node.scale[0], node.scale[1], node.scale[2]));
        return t;
    }

    std::vector<int> sceneNodes() const {
        std::vector<char> in(model_.nodes.size(), model_.scenes.empty());
        if (!model_.scenes.empty()) {
            int scene = model_.defaultScene;
            if (scene < 0 || scene >= static_cast<int>(model_.scenes.size()))
                scene = 0;
            std::vector<int> stack = model_.scenes[scene].nodes;
            while (!stack.empty()) {
                const int n = stack.back();
                stack.pop_back();
                if (n < 0 || n >= static_cast<int>(in.size()))
                    throw Refused{say("its scene refers to a node that does not exist")};
                if (in[n])
                    continue;
                in[n] = 1;
                stack.insert(stack.end(), model_.nodes[n].children.begin(), model_.nodes[n].children.end());
            }
        }
        std::vector<int> out;
        for (int n = 0; n < static_cast<int>(in.size()); ++n)
            if (in[n])
                out.push_back(n);
        return out;
    }

    void readSkins() {
        const int count = static_cast<int>(model_.nodes.size());
        for (std::size_t s = 0; s < model_.skins.size(); ++s) {
            const auto& from = model_.skins[s];
            const std::string label = "inverse bind matrices of skin " + std::to_string(s);
            SceneSkin skin{from.joints, std::vector<Transform>(from.joints.size(), Transform::Identity()),
                           from.inverseBindMatrices >= 0, -1};
            if (skin.given) {
                const auto m = orRefuse(readFloats(model_, from.inverseBindMatrices, 16, label));
                if (m.size() < skin.inverseBind.size() * 16)
                    throw Refused{say("there are fewer %s than joints", label)};
                for (std::size_t i = 0; i < skin.inverseBind.size(); ++i) {
                    skin.inverseBind[i].matrix() =
                        Eigen::Map<const Eigen::Matrix4f>(m.data() + 16 * i).cast<double>();
                    skin.inverseBind[i].makeAffine();
                }
            }
            for (int n = 0; n < count && skin.meshNode < 0; ++n)
                if (model_.nodes[n].skin == static_cast<int>(s))
                    skin.meshNode = n;
            out_.skins.push_back(std::move(skin));
        }
    }

    void readPart(int node) {
        const auto& from = model_.nodes[node];
        if (from.mesh >= static_cast<int>(model_.meshes.size()))
            throw Refused{say("node '%s' has a mesh that does not exist", nodeName(node))};
        if (from.skin >= static_cast<int>(model_.skins.size()))
            throw Refused{say("node '%s' has a skin that does not exist", nodeName(node))};
        const auto& mesh = model_.meshes[from.mesh];
        ScenePart part;
        const std::string wanted = !from.name.empty()   ? from.name
                                   : !mesh.name.empty() ? mesh.name
                                                        : "part " + std::to_string(out_.parts.size() + 1);
        part.name = wanted;
        for (int k = 2; !partNames_.insert(part.name).second; ++k)
            part.name = wanted + " (" + std::to_string(k) + ")";
        part.node = node;
        part.skin = from.skin;
        std::map<std::array<int, 2>, std::size_t> seen; // position and weight accessor → block
        for (const auto& primitive : mesh.primitives) {
            readPrimitive(part, mesh, primitive, seen);
            stopIfAsked(progress_);
        }
        const auto& weights = from.weights.empty() ? mesh.weights : from.weights;
        part.targetWeights.assign(weights.begin(), weights.end());
        out_.parts.push_back(std::move(part));
    }

    void readPrimitive(ScenePart& part, const tinygltf::Mesh& mesh, const tinygltf::Primitive& primitive,
                       std::map<std::array<int, 2>, std::size_t>& seen) {
        const int mode = primitive.mode < 0 ? TINYGLTF_MODE_TRIANGLES : primitive.mode;
        if (mode != TINYGLTF_MODE_TRIANGLES && mode != TINYGLTF_MODE_TRIANGLE_STRIP &&
            mode != TINYGLTF_MODE_TRIANGLE_FAN) {
            note(say("Part '%s' has points or lines, which are left out.", part.name));
            return;
        }
        auto attribute = [&](const std::string& key) {
            auto it = primitive.attributes.find(key);
            return it == primitive.attributes.end() ? -1 : it->second;
        };
        const int positions = attribute("POSITION");
        if (positions < 0) {
            note(say("Part '%s' has a primitive without positions, which is left out.", part.name));
            return;
        }
        const auto [known, fresh] = seen.try_emplace({positions, attribute("WEIGHTS_0")}, part.blocks.size());
        if (fresh) {
            SceneBlock block;
            const auto xyz = orRefuse(readFloats(model_, positions, 3, "positions of '" + part.name + "'"));
            for (std::size_t v = 0; v + 2 < xyz.size(); v += 3)
                block.position.emplace_back(xyz[v], xyz[v + 1], xyz[v + 2]);
            readColours(part, primitive, block);
            block.primitive = static_cast<int>(&primitive - mesh.primitives.data());
            if (part.skin >= 0)
                readWeights(part, primitive, block);
            readTargets(part, mesh, primitive, block);
            part.blocks.push_back(std::move(block));
        }
        readTriangles(part, primitive, mode, known->second);
    }

    void readColours(const ScenePart& part, const tinygltf::Primitive& primitive, SceneBlock& block) const {
        const std::size_t count = block.position.size();
        Vec3 base(0.8f, 0.8f, 0.8f);
        if (primitive.material >= 0 && primitive.material < static_cast<int>(model_.materials.size())) {
            const auto& f = model_.materials[primitive.material].pbrMetallicRoughness.baseColorFactor;
            if (f.size() >= 3)
                base = Vec3(static_cast<float>(f[0]), static_cast<float>(f[1]), static_cast<float>(f[2]));
        }
        block.colour.assign(count, base);
        if (auto it = primitive.attributes.find("COLOR_0");
            it != primitive.attributes.end() && it->second >= 0 &&
            it->second < static_cast<int>(model_.accessors.size())) {
            const int n = model_.accessors[it->second].type == TINYGLTF_TYPE_VEC4 ? 4 : 3;
            const auto rgb = orRefuse(readFloats(model_, it->second, n, "colours of '" + part.name + "'"));
            if (rgb.size() == count * n)
                for (std::size_t v = 0; v < count; ++v)
                    block.colour[v] = Vec3(rgb[n * v], rgb[n * v + 1], rgb[n * v + 2]).cwiseProduct(base);
        }
    }

    void readWeights(const ScenePart& part, const tinygltf::Primitive& primitive, SceneBlock& block) const {
        const std::size_t count = block.position.size(), joints = model_.skins[part.skin].joints.size();
        std::vector<std::vector<std::uint32_t>> jointSets;
        std::vector<std::vector<float>> weightSets;
        for (int set = 0;; ++set) {
            auto j = primitive.attributes.find("JOINTS_" + std::to_string(set));
            auto f = primitive.attributes.find("WEIGHTS_" + std::to_string(set));
            if (j == primitive.attributes.end() || f == primitive.attributes.end())
                break;
            jointSets.push_back(
                orRefuse(readIntegers(model_, j->second, 4, "joints of '" + part.name + "'")));
            weightSets.push_back(
                orRefuse(readFloats(model_, f->second, 4, "weights of '" + part.name + "'")));
            if (jointSets.back().size() != count * 4 || weightSets.back().size() != count * 4)
                throw Refused{say("part '%s' has another number of weights than of vertices", part.name)};
        }
        block.weighted = !jointSets.empty();
        if (!block.weighted)
            return;
        block.firstInfluence.reserve(count + 1);
        for (std::size_t v = 0; v < count; ++v) {
            for (std::size_t set = 0; set < jointSets.size(); ++set)
                for (int k = 0; k < 4; ++k) {
                    const float weight = weightSets[set][4 * v + k];
                    const std::uint32_t local = jointSets[set][4 * v + k];
                    if (weight == 0)
                        continue;
                    if (weight > 0 && local >= joints)
                        throw Refused{
                            say("vertex %s of '%s' is weighted to joint %s, but the skin has only %s",
                                std::to_string(v), part.name, std::to_string(local), std::to_string(joints))};
                    block.influence.push_back({local, weight});
                }
            block.firstInfluence.push_back(static_cast<std::uint32_t>(block.influence.size()));
            if (v % 65536 == 0)
                stopIfAsked(progress_);
        }
    }

    void readTargets(const ScenePart& part, const tinygltf::Mesh& mesh, const tinygltf::Primitive& primitive,
                     SceneBlock& block) const {
        for (std::size_t t = 0; t < primitive.targets.size(); ++t) {
            auto it = primitive.targets[t].find("POSITION");
            if (it == primitive.targets[t].end())
                continue;
            const auto xyz =
                orRefuse(readFloats(model_, it->second, 3, "shape target of '" + part.name + "'"));
            if (xyz.size() != block.position.size() * 3)
                throw Refused{
                    say("a shape target of '%s' has another number of vertices than the part", part.name)};
            while (block.targets.size() <= t)
                block.targets.push_back({"target " + std::to_string(block.targets.size() + 1), {}, {}});
            ShapeTarget& target = block.targets[t];
            for (std::size_t v = 0; v < block.position.size(); ++v) {
                const Vec3 delta(xyz[3 * v], xyz[3 * v + 1], xyz[3 * v + 2]);
                if (delta.isZero(0))
                    continue;
                target.vertex.push_back(static_cast<std::uint32_t>(v));
                target.delta.push_back(delta);
            }
        }
        // names are kept in the mesh's extras by common agreement of exporters
        if (mesh.extras.IsObject() && mesh.extras.Has("targetNames")) {
            const auto& names = mesh.extras.Get("targetNames");
            for (std::size_t t = 0; t < block.targets.size() && t < names.ArrayLen(); ++t)
                if (names.Get(static_cast<int>(t)).IsString())
                    block.targets[t].name = names.Get(static_cast<int>(t)).Get<std::string>();
        }
    }

    void readTriangles(ScenePart& part, const tinygltf::Primitive& primitive, int mode, std::size_t block) {
        const std::size_t vertices = part.blocks[block].position.size();
        std::vector<std::uint32_t> index;
        if (primitive.indices >= 0) {
            index = orRefuse(readIntegers(model_, primitive.indices, 1, "indices of '" + part.name + "'"));
            for (std::uint32_t i : index)
                if (i >= vertices)
                    throw Refused{say("part '%s' has a triangle with vertex %s, but only %s vertices",
                                      part.name, std::to_string(i), std::to_string(vertices))};
        } else {
            index.resize(vertices);
            for (std::size_t i = 0; i < vertices; ++i)
                index[i] = static_cast<std::uint32_t>(i);
        }
        std::vector<Triangle> list;
        auto put = [&](std::size_t a, std::size_t b, std::size_t c) {
            list.push_back({index[a], index[b], index[c]});
        };
        if (mode == TINYGLTF_MODE_TRIANGLES)
            for (std::size_t i = 0; i + 2 < index.size(); i += 3)
                put(i, i + 1, i + 2);
        else if (mode == TINYGLTF_MODE_TRIANGLE_STRIP)
            for (std::size_t i = 0; i + 2 < index.size(); ++i)
                put(i, i + 1 + (i % 2), i + 2 - (i % 2));
        else
            for (std::size_t i = 1; i + 1 < index.size(); ++i)
                put(0, i, i + 1);
        part.paint.push_back(readPaint(part, primitive, list, vertices));
        part.triangles.push_back({block, std::move(list)});
    }

    // What a material takes its base colour from (glTF 2.0, section 3.9.2; the older form with specular
    // colour likewise); null where that is no picture.
    const tinygltf::Value* olderTexture(const tinygltf::Material& material) const {
        const auto it = material.extensions.find("KHR_materials_pbrSpecularGlossiness");
        return it != material.extensions.end() && it->second.Has("diffuseTexture") &&
                       it->second.Get("diffuseTexture").Has("index")
                   ? &it->second.Get("diffuseTexture")
                   : nullptr;
    }

    int textureFor(int material) {
        const auto [known, fresh] = textureOf_.try_emplace(material, -1);
        if (!fresh)
            return known->second;
        const tinygltf::Material& m = model_.materials[static_cast<std::size_t>(material)];
        int index = m.pbrMetallicRoughness.baseColorTexture.index;
        if (const tinygltf::Value* older = index < 0 ? olderTexture(m) : nullptr)
            index = older->Get("index").GetNumberAsInt();
        if (index < 0 || index >= static_cast<int>(model_.textures.size()))
            return -1;
        const tinygltf::Texture& from = model_.textures[static_cast<std::size_t>(index)];
        if (from.source < 0 || from.source >= static_cast<int>(model_.images.size())) {
            missing_.insert("picture of '" + m.name + "'"); // in a format of an extension
            return -1;
        }
        const tinygltf::Image& image = model_.images[static_cast<std::size_t>(from.source)];
        std::string bytes(image.image.begin(), image.image.end());
        if (!isPicture(bytes)) {
            missing_.insert(image.uri.empty() || image.uri.rfind("data:", 0) == 0
                                ? "picture of '" + m.name + "'"
                                : image.uri);
            return -1;
        }
        Texture texture;
        texture.name = image.name.empty() ? image.uri : image.name;
        texture.picture = std::make_shared<const std::string>(std::move(bytes));
        for (const Texture& other : out_.textures) // kept once
            if (*other.picture == *texture.picture)
                texture.picture = other.picture;
        if (from.sampler >= 0 && from.sampler < static_cast<int>(model_.samplers.size())) {
            const tinygltf::Sampler& sampler = model_.samplers[static_cast<std::size_t>(from.sampler)];
            for (const auto& [axis, wrap] : {std::pair(0u, sampler.wrapS), std::pair(1u, sampler.wrapT)})
                texture.beyond[axis] = wrap == TINYGLTF_TEXTURE_WRAP_CLAMP_TO_EDGE ? Texture::Beyond::Clamp
                                       : wrap == TINYGLTF_TEXTURE_WRAP_MIRRORED_REPEAT
                                           ? Texture::Beyond::Mirror
                                           : Texture::Beyond::Repeat;
        }
        if (m.alphaMode == "MASK")
            texture.cutoff = static_cast<float>(m.alphaCutoff);
        else if (m.alphaMode == "BLEND")
            texture.cutoff = 0.5f; // what is hardly there is not drawn; nothing is drawn half
        known->second = static_cast<int>(out_.textures.size());
        out_.textures.push_back(std::move(texture));
        return known->second;
    }

    // Khronos, KHR_texture_transform: scaled, turned, shifted.
    ScenePaint readPaint(const ScenePart& part, const tinygltf::Primitive& primitive,
                         const std::vector<Triangle>& list, std::size_t vertices) {
        ScenePaint out;
        if (primitive.material < 0 || primitive.material >= static_cast<int>(model_.materials.size()))
            return out;
        const tinygltf::Material& m = model_.materials[static_cast<std::size_t>(primitive.material)];
        const tinygltf::TextureInfo& info = m.pbrMetallicRoughness.baseColorTexture;
        int set = info.texCoord;
        if (info.index < 0)
            if (const tinygltf::Value* older = olderTexture(m); older && older->Has("texCoord"))
                set = older->Get("texCoord").GetNumberAsInt();
        Eigen::Matrix<double, 2, 3> place;
        place << 1, 0, 0, 0, 1, 0;
        if (const auto it = info.extensions.find("KHR_texture_transform"); it != info.extensions.end()) {
            const tinygltf::Value& t = it->second;
            const auto pair = [&](const char* key, double otherwise) {
                Eigen::Vector2d xy(otherwise, otherwise);
                for (int k = 0; t.Has(key) && k < 2 && k < static_cast<int>(t.Get(key).ArrayLen()); ++k)
                    xy[k] = t.Get(key).Get(k).GetNumberAsDouble();
                return xy;
            };
            const Eigen::Vector2d offset = pair("offset", 0), scale = pair("scale", 1);
            const double turn = t.Has("rotation") ? t.Get("rotation").GetNumberAsDouble() : 0;
            place << std::cos(turn) * scale.x(), std::sin(turn) * scale.y(), offset.x(),
                -std::sin(turn) * scale.x(), std::cos(turn) * scale.y(), offset.y();
            if (t.Has("texCoord"))
                set = t.Get("texCoord").GetNumberAsInt();
        }
        const auto at = primitive.attributes.find("TEXCOORD_" + std::to_string(set));
        if (at == primitive.attributes.end())
            return out;
        const int texture = textureFor(primitive.material);
        if (texture < 0)
            return out;
        const auto uv =
            orRefuse(readFloats(model_, at->second, 2, "texture coordinates of '" + part.name + "'"));
        if (uv.size() < 2 * vertices)
            return out;
        out.texture = texture;
        for (const Triangle& t : list) {
            CornerUv corners{};
            for (std::size_t k = 0; k < 3; ++k) {
                const Eigen::Vector2d on = place * Eigen::Vector3d(uv[2 * t[k]], uv[2 * t[k] + 1], 1);
                corners[2 * k] = static_cast<float>(on.x());
                corners[2 * k + 1] = static_cast<float>(on.y());
            }
            out.corners.push_back(corners);
        }
        return out;
    }

    void readClips() {
        for (std::size_t a = 0; a < model_.animations.size(); ++a) {
            const auto& animation = model_.animations[a];
            SceneClip clip;
            clip.name = animation.name.empty() ? "clip " + std::to_string(a + 1) : animation.name;
            for (const auto& channel : animation.channels) {
                const int node = channel.target_node;
                if (node < 0 || node >= static_cast<int>(out_.nodes.size()))
                    ++clip.left;
                else
                    clip.channels.push_back({node, readChannel(animation, channel, clip.name)});
            }
            readMarks(animation, clip);
            out_.clips.push_back(std::move(clip));
        }
    }

    static void readMarks(const tinygltf::Animation& animation, SceneClip& clip) {
        if (!animation.extras.IsObject() || !animation.extras.Has("frames"))
            return;
        const tinygltf::Value& frames = animation.extras.Get("frames");
        for (std::size_t i = 0; frames.IsArray() && i < frames.ArrayLen(); ++i) {
            const tinygltf::Value& frame = frames.Get(i);
            if (!frame.IsObject() || !frame.Has("name") || !frame.Has("seconds") ||
                !frame.Get("name").IsString() || !frame.Get("seconds").IsNumber())
                continue;
            ClipMark mark{frame.Get("seconds").GetNumberAsDouble(), frame.Get("name").Get<std::string>(), "",
                          0};
            if (frame.Has("motion") && frame.Get("motion").IsString())
                mark.motion = frame.Get("motion").Get<std::string>();
            if (frame.Has("at") && frame.Get("at").IsNumber())
                mark.at = frame.Get("at").GetNumberAsDouble();
            clip.marks.push_back(std::move(mark));
        }
    }

    ClipChannel readChannel(const tinygltf::Animation& animation, const tinygltf::AnimationChannel& channel,
                            const std::string& clipName) const {
        if (channel.sampler < 0 || channel.sampler >= static_cast<int>(animation.samplers.size()))
            throw Refused{say("clip '%s' refers to a sampler that does not exist", clipName)};
        const auto& sampler = animation.samplers[channel.sampler];
        ClipChannel out;
        out.path = channel.target_path == "translation" ? ClipChannel::Path::Translation
                   : channel.target_path == "scale"     ? ClipChannel::Path::Scale
                   : channel.target_path == "weights"   ? ClipChannel::Path::Weights
                                                        : ClipChannel::Path::Rotation;
        out.blend = sampler.interpolation == "STEP"          ? ClipChannel::Blend::Step
                    : sampler.interpolation == "CUBICSPLINE" ? ClipChannel::Blend::Cubic
                                                             : ClipChannel::Blend::Linear;
        const bool weights = out.path == ClipChannel::Path::Weights;
        const int components = out.path == ClipChannel::Path::Rotation ? 4 : weights ? 1 : 3;
        out.time = orRefuse(readFloats(model_, sampler.input, 1, "times of clip '" + clipName + "'"));
        out.value =
            orRefuse(readFloats(model_, sampler.output, components, "values of clip '" + clipName + "'"));
        const std::size_t each = components * (out.blend == ClipChannel::Blend::Cubic ? 3 : 1);
        // of weights there are as many as the mesh has targets, which is asked once the parts are known
        if (weights ? out.time.empty() || out.value.size() % out.time.size() != 0
                    : out.value.size() != out.time.size() * each)
            throw Refused{say("clip '%s' has another number of values than of times", clipName)};
        return out;
    }
};

} // namespace

FileScene gltfScene(const tinygltf::Model& model, const Progress& progress) {
    return SceneReader(model, progress).read();
}

} // namespace hobble
