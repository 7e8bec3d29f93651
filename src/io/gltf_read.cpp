#include "io/gltf_read.h"

#include "core/deform/deformer.h"
#include "io/bind_placement.h"
#include "io/content_hash.h"
#include "io/drivers_json.h"
#include "io/gltf_accessor.h"

#define TINYGLTF_NO_STB_IMAGE
#define TINYGLTF_NO_STB_IMAGE_WRITE
#include <nlohmann/json.hpp>
#include <tiny_gltf.h>

#include <algorithm>
#include <cmath>
#include <filesystem>
#include <fstream>
#include <map>
#include <set>
#include <sstream>

namespace hobble {

namespace {

/// Thrown inside this file only; readGltf turns it into an Error.
struct Refused {
    std::string cause;
};

template <class T> T orRefuse(Result<T> r) {
    if (!r)
        throw Refused{r.error()};
    return std::move(*r);
}

class Reader {
public:
    Reader(const tinygltf::Model& model, Character& out) : model_(model), out_(out) {}

    void read() {
        checkExtensions();
        orderNodes();
        buildSkeleton();
        for (int n : sceneNodes())
            if (model_.nodes[n].mesh >= 0)
                addPart(n);
        if (out_.parts.empty())
            throw Refused{"it holds no mesh with triangles"};
        if (model_.skins.empty())
            out_.notes.push_back(
                "The file has no skin: its meshes are opened as rigid parts, and there is no joint "
                "to test. Export the character with its skeleton and skin weights.");
        finishNeutral();
        readClips();
        readDrivers();
    }

private:
    const tinygltf::Model& model_;
    Character& out_;
    std::vector<int> parentOf_;    // per node
    std::vector<Transform> local_; // per node, the file's default state
    std::vector<Transform> world_; // per node
    std::vector<int> jointOfNode_; // per node, -1 when it is no joint
    std::vector<int> nodeOfJoint_;
    std::vector<std::vector<Transform>> fileInverseBind_; // per glTF skin, per its joints

    std::string nodeName(int n) const {
        return model_.nodes[n].name.empty() ? "node " + std::to_string(n) : model_.nodes[n].name;
    }

    void note(const std::string& text) { out_.notes.push_back(text); }

    void checkExtensions() {
        static const std::set<std::string> known{"KHR_mesh_quantization", "KHR_materials_unlit",
                                                 "KHR_texture_transform"};
        for (const auto& e : model_.extensionsRequired)
            if (!known.count(e) && e.rfind("KHR_materials_", 0) != 0)
                throw Refused{"it requires the glTF extension " + e +
                              ", which Hobble does not read; export without it"};
    }

    void orderNodes() {
        const int count = static_cast<int>(model_.nodes.size());
        parentOf_.assign(count, -1);
        for (int n = 0; n < count; ++n)
            for (int c : model_.nodes[n].children) {
                if (c < 0 || c >= count)
                    throw Refused{"node '" + nodeName(n) + "' has a child that does not exist"};
                if (parentOf_[c] >= 0)
                    throw Refused{"node '" + nodeName(c) + "' has two parents"};
                parentOf_[c] = n;
            }
        local_.resize(count);
        world_.resize(count);
        for (int n = 0; n < count; ++n)
            local_[n] = localTransform(n);
        std::vector<char> known(count, 0);
        for (int n = 0; n < count; ++n) {
            std::vector<int> path;
            for (int a = n; a >= 0 && !known[a]; a = parentOf_[a]) {
                path.push_back(a);
                if (static_cast<int>(path.size()) > count)
                    throw Refused{"node '" + nodeName(n) + "' is its own ancestor"};
            }
            for (auto it = path.rbegin(); it != path.rend(); ++it) {
                const int a = *it, p = parentOf_[a];
                world_[a] = p < 0 ? local_[a] : world_[p] * local_[a];
                known[a] = 1;
            }
        }
    }

    Transform localTransform(int n) const {
        const auto& node = model_.nodes[n];
        Transform t = Transform::Identity();
        auto sized = [&](const std::vector<double>& v, std::size_t size) {
            if (!v.empty() && v.size() != size)
                throw Refused{"node '" + nodeName(n) + "' has a transform of the wrong length"};
            for (double x : v)
                if (!std::isfinite(x))
                    throw Refused{"node '" + nodeName(n) + "' has a transform that is not finite"};
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
                throw Refused{"node '" + nodeName(n) + "' has a rotation of zero length"};
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
                    throw Refused{"its scene refers to a node that does not exist"};
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

    // Joints are all nodes any skin names, and the nodes between them, parents first, in the file's order.
    void buildSkeleton() {
        const int count = static_cast<int>(model_.nodes.size());
        std::vector<char> isJoint(count, 0);
        for (std::size_t s = 0; s < model_.skins.size(); ++s)
            for (int n : model_.skins[s].joints) {
                if (n < 0 || n >= count)
                    throw Refused{"skin " + std::to_string(s) + " names a joint that does not exist"};
                isJoint[n] = 1;
            }
        std::vector<char> between = isJoint;
        for (int n = 0; n < count; ++n) {
            if (!isJoint[n])
                continue;
            std::vector<int> path;
            for (int a = parentOf_[n]; a >= 0 && !between[a]; a = parentOf_[a])
                path.push_back(a);
            const int top = path.empty() ? -1 : parentOf_[path.back()];
            if (top >= 0) // the path ended on a joint
                for (int a : path)
                    between[a] = 1;
        }
        jointOfNode_.assign(count, -1);
        std::set<std::string> names;
        auto add = [&](auto&& self, int n) -> void {
            if (jointOfNode_[n] >= 0)
                return;
            const int p = parentOf_[n] >= 0 && between[parentOf_[n]] ? parentOf_[n] : -1;
            if (p >= 0)
                self(self, p);
            std::string name = nodeName(n);
            for (int k = 2; !names.insert(name).second; ++k)
                name = nodeName(n) + " (" + std::to_string(k) + ")";
            jointOfNode_[n] = static_cast<int>(nodeOfJoint_.size());
            nodeOfJoint_.push_back(n);
            out_.skeleton.name.push_back(name);
            out_.skeleton.parent.push_back(p < 0 ? -1 : jointOfNode_[p]);
        };
        for (const auto& skin : model_.skins)
            for (int n : skin.joints)
                add(add, n);
        for (int n = 0; n < count; ++n)
            if (between[n])
                add(add, n);
        if (nodeOfJoint_.size() > 65535)
            throw Refused{"it has more than 65,535 joints"};
        bindSkins();
    }

    void bindSkins() {
        Skeleton& sk = out_.skeleton;
        const int joints = sk.size();
        std::vector<char> known(joints, 0);
        sk.neutralWorld.assign(joints, Transform::Identity());
        for (std::size_t s = 0; s < model_.skins.size(); ++s) {
            const auto& fileSkin = model_.skins[s];
            const std::string label = "inverse bind matrices of skin " + std::to_string(s);
            Skin skin{std::vector<Transform>(joints, Transform::Identity()), std::vector<char>(joints, 0)};
            std::vector<Transform> inverseBind(fileSkin.joints.size(), Transform::Identity());
            const bool given = fileSkin.inverseBindMatrices >= 0;
            if (given) {
                const auto m = orRefuse(readFloats(model_, fileSkin.inverseBindMatrices, 16, label));
                if (m.size() < inverseBind.size() * 16)
                    throw Refused{"there are fewer " + label + " than joints"};
                for (std::size_t i = 0; i < inverseBind.size(); ++i) {
                    inverseBind[i].matrix() =
                        Eigen::Map<const Eigen::Matrix4f>(m.data() + 16 * i).cast<double>();
                    inverseBind[i].makeAffine();
                    if (std::abs(inverseBind[i].linear().determinant()) < 1e-18)
                        throw Refused{"joint '" + nodeName(fileSkin.joints[i]) +
                                      "' has an inverse bind matrix that "
                                      "cannot be inverted"};
                }
            }
            const Transform place =
                given ? placement(static_cast<int>(s), inverseBind) : Transform::Identity();
            bool differs = false;
            for (std::size_t i = 0; i < inverseBind.size(); ++i) {
                const int j = jointOfNode_[fileSkin.joints[i]];
                skin.inverseBind[j] = inverseBind[i];
                skin.bound[j] = 1;
                const Transform world = given ? place * inverseBind[i].inverse() : world_[fileSkin.joints[i]];
                if (!known[j]) {
                    sk.neutralWorld[j] = world;
                    known[j] = 1;
                } else {
                    differs |= !sk.neutralWorld[j].matrix().isApprox(world.matrix(), 1e-3);
                }
            }
            if (differs)
                note("Skin " + std::to_string(s) +
                     " was bound in another pose than the first; the first is taken as "
                     "neutral.");
            out_.skins.push_back(std::move(skin));
        }
        sk.neutralLocal.resize(joints);
        for (int j = 0; j < joints; ++j) {
            const int p = sk.parent[j];
            if (!known[j]) // a node between joints follows its parent as the file sets it
                sk.neutralWorld[j] =
                    p < 0 ? world_[nodeOfJoint_[j]]
                          : sk.neutralWorld[p] * world_[nodeOfJoint_[p]].inverse() * world_[nodeOfJoint_[j]];
            if (std::abs(sk.neutralWorld[j].linear().determinant()) < 1e-18)
                throw Refused{"joint '" + sk.name[j] + "' is scaled to nothing"};
            sk.neutralLocal[j] =
                p < 0 ? sk.neutralWorld[j] : sk.neutralWorld[p].inverse() * sk.neutralWorld[j];
        }
    }

    Transform placement(int s, const std::vector<Transform>& inverseBind) const {
        const auto& joints = model_.skins[s].joints;
        if (joints.empty())
            return Transform::Identity();
        std::vector<Transform> nodes;
        std::size_t top = 0; // the joint nearest the root
        auto depth = [&](int n) {
            int d = 0;
            for (; parentOf_[n] >= 0; n = parentOf_[n])
                ++d;
            return d;
        };
        for (std::size_t i = 0; i < joints.size(); ++i) {
            nodes.push_back(world_[joints[i]]);
            if (depth(joints[i]) < depth(joints[top]))
                top = i;
        }
        const int above = parentOf_[joints[top]];
        std::vector<Transform> still{above >= 0 ? world_[above] : Transform::Identity()};
        for (std::size_t n = 0; n < model_.nodes.size(); ++n)
            if (model_.nodes[n].skin == s) {
                still.push_back(world_[n]);
                break;
            }
        still.push_back(Transform::Identity());
        return bindPlacement(nodes, inverseBind, top, still);
    }

    void addPart(int node) {
        const auto& fileNode = model_.nodes[node];
        if (fileNode.mesh >= static_cast<int>(model_.meshes.size()))
            throw Refused{"node '" + nodeName(node) + "' has a mesh that does not exist"};
        if (fileNode.skin >= static_cast<int>(model_.skins.size()))
            throw Refused{"node '" + nodeName(node) + "' has a skin that does not exist"};
        const auto& mesh = model_.meshes[fileNode.mesh];
        Part part;
        part.name = uniquePartName(!fileNode.name.empty() ? fileNode.name
                                   : !mesh.name.empty()   ? mesh.name
                                                          : "part " + std::to_string(out_.parts.size() + 1));
        part.firstVertex = static_cast<std::uint32_t>(out_.bindPosition.size());
        part.firstTriangle = static_cast<std::uint32_t>(out_.triangles.size());
        bindPart(part, node);

        std::map<std::array<int, 2>, std::uint32_t> seen; // position and weight accessor → first vertex
        for (const auto& primitive : mesh.primitives)
            addPrimitive(part, primitive, fileNode.skin, seen);
        part.vertexCount = static_cast<std::uint32_t>(out_.bindPosition.size()) - part.firstVertex;
        part.triangleCount = static_cast<std::uint32_t>(out_.triangles.size()) - part.firstTriangle;
        if (part.triangleCount == 0) {
            out_.bindPosition.resize(part.firstVertex);
            out_.colour.resize(part.firstVertex);
            truncateWeights(part.firstVertex);
            note("Part '" + part.name + "' has no triangles and is left out.");
            return;
        }
        part.targetWeights.assign(fileNode.weights.begin(), fileNode.weights.end());
        if (part.targetWeights.empty())
            part.targetWeights.assign(mesh.weights.begin(), mesh.weights.end());
        part.targetWeights.resize(part.targets.size(), 0.f);
        for (std::size_t t = 0; t < part.targets.size(); ++t) {
            const ShapeTarget& target = part.targets[t];
            if (part.targetWeights[t] != 0 && std::isfinite(part.targetWeights[t]))
                for (std::size_t i = 0; i < target.vertex.size(); ++i)
                    out_.bindPosition[part.firstVertex + target.vertex[i]] +=
                        part.targetWeights[t] * target.delta[i];
        }
        out_.parts.push_back(std::move(part));
    }

    std::string uniquePartName(const std::string& wanted) const {
        std::string name = wanted;
        for (int k = 2;
             std::any_of(out_.parts.begin(), out_.parts.end(), [&](const Part& p) { return p.name == name; });
             ++k)
            name = wanted + " (" + std::to_string(k) + ")";
        return name;
    }

    // A skinned part uses the file's skin; a rigid one below a joint gets a skin of its own with that joint
    // only.
    void bindPart(Part& part, int node) {
        part.skinned = model_.nodes[node].skin >= 0;
        if (part.skinned) {
            part.skin = model_.nodes[node].skin;
            return;
        }
        int n = node;
        while (n >= 0 && jointOfNode_[n] < 0)
            n = parentOf_[n];
        staticPlace_ = world_[node];
        if (n < 0) {
            if (!model_.skins.empty())
                note("Part '" + part.name +
                     "' is bound to nothing: it will stay behind when the character moves.");
            return;
        }
        part.carrier = jointOfNode_[n];
        Skin skin{std::vector<Transform>(out_.skeleton.size(), Transform::Identity()),
                  std::vector<char>(out_.skeleton.size(), 0)};
        skin.inverseBind[part.carrier] = world_[n].inverse() * world_[node];
        skin.bound[part.carrier] = 1;
        part.skin = static_cast<int>(out_.skins.size());
        out_.skins.push_back(std::move(skin));
    }
    Transform staticPlace_ = Transform::Identity();

    void truncateWeights(std::size_t vertices) {
        out_.weights.first.resize(vertices + 1);
        out_.weights.fileSum.resize(vertices);
        out_.weights.joint.resize(out_.weights.first.back());
        out_.weights.weight.resize(out_.weights.first.back());
    }

    void addPrimitive(Part& part, const tinygltf::Primitive& primitive, int fileSkin,
                      std::map<std::array<int, 2>, std::uint32_t>& seen) {
        const int mode = primitive.mode < 0 ? TINYGLTF_MODE_TRIANGLES : primitive.mode;
        if (mode != TINYGLTF_MODE_TRIANGLES && mode != TINYGLTF_MODE_TRIANGLE_STRIP &&
            mode != TINYGLTF_MODE_TRIANGLE_FAN) {
            note("Part '" + part.name + "' has points or lines, which are left out.");
            return;
        }
        auto attribute = [&](const std::string& key) {
            auto it = primitive.attributes.find(key);
            return it == primitive.attributes.end() ? -1 : it->second;
        };
        const int positionAccessor = attribute("POSITION");
        if (positionAccessor < 0) {
            note("Part '" + part.name + "' has a primitive without positions, which is left out.");
            return;
        }
        const std::array<int, 2> key{positionAccessor, attribute("WEIGHTS_0")};
        std::uint32_t first = static_cast<std::uint32_t>(out_.bindPosition.size());
        std::size_t count = 0;
        if (auto it = seen.find(key); it != seen.end()) {
            first = it->second;
            count = model_.accessors[positionAccessor].count;
        } else {
            const auto xyz =
                orRefuse(readFloats(model_, positionAccessor, 3, "positions of '" + part.name + "'"));
            count = xyz.size() / 3;
            seen.emplace(key, first);
            const bool still = part.skin < 0;
            for (std::size_t v = 0; v < count; ++v) {
                Vec3 p(xyz[3 * v], xyz[3 * v + 1], xyz[3 * v + 2]);
                out_.bindPosition.push_back(still ? Vec3((staticPlace_ * p.cast<double>()).cast<float>())
                                                  : p);
            }
            addColours(part, primitive, count);
            addWeights(part, primitive, fileSkin, count);
            addTargets(part, primitive, first, count);
        }
        addTriangles(part, primitive, mode, first, count);
    }

    void addColours(const Part& part, const tinygltf::Primitive& primitive, std::size_t count) {
        Vec3 base(0.8f, 0.8f, 0.8f);
        if (primitive.material >= 0 && primitive.material < static_cast<int>(model_.materials.size())) {
            const auto& f = model_.materials[primitive.material].pbrMetallicRoughness.baseColorFactor;
            if (f.size() >= 3)
                base = Vec3(static_cast<float>(f[0]), static_cast<float>(f[1]), static_cast<float>(f[2]));
        }
        std::vector<Vec3> colours(count, base);
        if (auto it = primitive.attributes.find("COLOR_0");
            it != primitive.attributes.end() && it->second >= 0 &&
            it->second < static_cast<int>(model_.accessors.size())) {
            const int n = model_.accessors[it->second].type == TINYGLTF_TYPE_VEC4 ? 4 : 3;
            const auto rgb = orRefuse(readFloats(model_, it->second, n, "colours of '" + part.name + "'"));
            if (rgb.size() == count * n)
                for (std::size_t v = 0; v < count; ++v)
                    colours[v] = Vec3(rgb[n * v], rgb[n * v + 1], rgb[n * v + 2]).cwiseProduct(base);
        }
        out_.colour.insert(out_.colour.end(), colours.begin(), colours.end());
    }

    void addWeights(const Part& part, const tinygltf::Primitive& primitive, int fileSkin, std::size_t count) {
        SkinWeights& w = out_.weights;
        std::vector<std::vector<std::uint32_t>> jointSets;
        std::vector<std::vector<float>> weightSets;
        if (fileSkin >= 0)
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
                    throw Refused{"part '" + part.name + "' has another number of weights than of vertices"};
            }
        if (fileSkin >= 0 && jointSets.empty())
            note("Part '" + part.name + "' has a skin but no weights: nothing moves it.");
        std::map<std::uint16_t, float> sum;
        bool negative = false;
        for (std::size_t v = 0; v < count; ++v) {
            sum.clear();
            if (part.carrier >= 0)
                sum[static_cast<std::uint16_t>(part.carrier)] = 1.f;
            for (std::size_t set = 0; set < jointSets.size(); ++set)
                for (int k = 0; k < 4; ++k) {
                    const float weight = weightSets[set][4 * v + k];
                    negative |= weight < 0;
                    if (weight <= 0)
                        continue;
                    const std::uint32_t local = jointSets[set][4 * v + k];
                    const auto& joints = model_.skins[fileSkin].joints;
                    if (local >= joints.size())
                        throw Refused{"vertex " + std::to_string(v) + " of '" + part.name +
                                      "' is weighted to joint " + std::to_string(local) +
                                      ", but the skin has only " + std::to_string(joints.size())};
                    sum[static_cast<std::uint16_t>(jointOfNode_[joints[local]])] += weight;
                }
            std::vector<std::pair<std::uint16_t, float>> sorted(sum.begin(), sum.end());
            std::stable_sort(sorted.begin(), sorted.end(),
                             [](const auto& a, const auto& b) { return a.second > b.second; });
            float total = 0;
            for (const auto& [joint, weight] : sorted)
                total += weight;
            if (!std::isfinite(total))
                throw Refused{"vertex " + std::to_string(v) + " of '" + part.name +
                              "' has weights beyond all bounds"};
            for (const auto& [joint, weight] : sorted) {
                w.joint.push_back(joint);
                w.weight.push_back(weight / total);
            }
            w.first.push_back(static_cast<std::uint32_t>(w.joint.size()));
            w.fileSum.push_back(total);
        }
        if (negative)
            note("Part '" + part.name + "' has negative weights, which are taken as none.");
    }

    void addTargets(Part& part, const tinygltf::Primitive& primitive, std::uint32_t first,
                    std::size_t count) {
        const auto& mesh = model_.meshes;
        for (std::size_t t = 0; t < primitive.targets.size(); ++t) {
            auto it = primitive.targets[t].find("POSITION");
            if (it == primitive.targets[t].end())
                continue;
            const auto xyz =
                orRefuse(readFloats(model_, it->second, 3, "shape target of '" + part.name + "'"));
            if (xyz.size() != count * 3)
                throw Refused{"a shape target of '" + part.name +
                              "' has another number of vertices than the part"};
            while (part.targets.size() <= t)
                part.targets.push_back({"target " + std::to_string(part.targets.size() + 1), {}, {}});
            ShapeTarget& target = part.targets[t];
            for (std::size_t v = 0; v < count; ++v) {
                const Vec3 delta(xyz[3 * v], xyz[3 * v + 1], xyz[3 * v + 2]);
                if (delta.isZero(0))
                    continue;
                target.vertex.push_back(static_cast<std::uint32_t>(first - part.firstVertex + v));
                target.delta.push_back(delta);
            }
        }
        for (const auto& m : mesh) // names are kept in the mesh's extras by common agreement of exporters
            for (const auto& p : m.primitives)
                if (&p == &primitive && m.extras.IsObject() && m.extras.Has("targetNames")) {
                    const auto& names = m.extras.Get("targetNames");
                    for (std::size_t t = 0; t < part.targets.size() && t < names.ArrayLen(); ++t)
                        if (names.Get(static_cast<int>(t)).IsString())
                            part.targets[t].name = names.Get(static_cast<int>(t)).Get<std::string>();
                }
    }

    void addTriangles(const Part& part, const tinygltf::Primitive& primitive, int mode, std::uint32_t first,
                      std::size_t vertexCount) {
        std::vector<std::uint32_t> index;
        if (primitive.indices >= 0) {
            index = orRefuse(readIntegers(model_, primitive.indices, 1, "indices of '" + part.name + "'"));
            for (std::uint32_t i : index)
                if (i >= vertexCount)
                    throw Refused{"part '" + part.name + "' has a triangle with vertex " + std::to_string(i) +
                                  ", but only " + std::to_string(vertexCount) + " vertices"};
        } else {
            index.resize(vertexCount);
            for (std::size_t i = 0; i < vertexCount; ++i)
                index[i] = static_cast<std::uint32_t>(i);
        }
        auto put = [&](std::size_t a, std::size_t b, std::size_t c) {
            out_.triangles.push_back({first + index[a], first + index[b], first + index[c]});
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
    }

    void finishNeutral() {
        out_.neutral = neutralPositions(out_);
        for (std::size_t p = 0; p < out_.parts.size(); ++p) {
            const Part& part = out_.parts[p];
            if (part.skin < 0) {
                continue;
            }
            // Vertices without a weight have no place of their own but the skin's; and a mirrored placement
            // turns the triangles inside out.
            Transform place = Transform::Identity();
            for (int j = 0; j < out_.skeleton.size(); ++j)
                if (out_.skins[part.skin].bound[j]) {
                    place = out_.skeleton.neutralWorld[j] * out_.skins[part.skin].inverseBind[j];
                    break;
                }
            std::size_t loose = 0;
            for (std::uint32_t v = part.firstVertex; v < part.firstVertex + part.vertexCount; ++v)
                if (out_.weights.first[v] == out_.weights.first[v + 1]) {
                    out_.neutral[v] = (place * out_.bindPosition[v].cast<double>()).cast<float>();
                    ++loose;
                }
            if (loose)
                note(std::to_string(loose) + " vertices of '" + part.name +
                     "' have no weight and will stay behind.");
            if (place.linear().determinant() < 0)
                for (std::uint32_t t = part.firstTriangle; t < part.firstTriangle + part.triangleCount; ++t)
                    std::swap(out_.triangles[t][1], out_.triangles[t][2]);
        }
        for (const Vec3& p : out_.neutral)
            if (!p.allFinite() || p.cwiseAbs().maxCoeff() > 1e9f)
                throw Refused{"its vertices lie beyond all bounds"};
    }

    void readClips() {
        for (std::size_t a = 0; a < model_.animations.size(); ++a) {
            const auto& animation = model_.animations[a];
            Clip clip;
            clip.name = animation.name.empty() ? "clip " + std::to_string(a + 1) : animation.name;
            std::size_t left = 0;
            for (const auto& channel : animation.channels) {
                const int node = channel.target_node;
                const bool joint =
                    node >= 0 && node < static_cast<int>(jointOfNode_.size()) && jointOfNode_[node] >= 0;
                if (!joint || channel.target_path == "weights") {
                    ++left;
                    continue;
                }
                clip.channels.push_back(readChannel(animation, channel, clip.name));
                if (!clip.channels.back().time.empty())
                    clip.seconds =
                        std::max(clip.seconds, static_cast<double>(clip.channels.back().time.back()));
            }
            if (left)
                note("Clip '" + clip.name + "' moves things that are no joints (" + std::to_string(left) +
                     " channels); these are left out.");
            out_.clips.push_back(std::move(clip));
        }
    }

    void readDrivers() {
        const auto extras = nlohmann::json::parse(model_.extras_json_string, nullptr, false);
        if (extras.is_object() && extras.contains("hobbleDrivers"))
            out_.drivers = driversFromJson(extras["hobbleDrivers"], out_, out_.notes);
    }

    ClipChannel readChannel(const tinygltf::Animation& animation, const tinygltf::AnimationChannel& channel,
                            const std::string& clipName) const {
        if (channel.sampler < 0 || channel.sampler >= static_cast<int>(animation.samplers.size()))
            throw Refused{"clip '" + clipName + "' refers to a sampler that does not exist"};
        const auto& sampler = animation.samplers[channel.sampler];
        ClipChannel out;
        out.joint = jointOfNode_[channel.target_node];
        out.path = channel.target_path == "translation" ? ClipChannel::Path::Translation
                   : channel.target_path == "scale"     ? ClipChannel::Path::Scale
                                                        : ClipChannel::Path::Rotation;
        out.blend = sampler.interpolation == "STEP"          ? ClipChannel::Blend::Step
                    : sampler.interpolation == "CUBICSPLINE" ? ClipChannel::Blend::Cubic
                                                             : ClipChannel::Blend::Linear;
        const int components = out.path == ClipChannel::Path::Rotation ? 4 : 3;
        out.time = orRefuse(readFloats(model_, sampler.input, 1, "times of clip '" + clipName + "'"));
        out.value =
            orRefuse(readFloats(model_, sampler.output, components, "values of clip '" + clipName + "'"));
        const std::size_t each = components * (out.blend == ClipChannel::Blend::Cubic ? 3 : 1);
        if (out.value.size() != out.time.size() * each)
            throw Refused{"clip '" + clipName + "' has another number of values than of times"};
        return out;
    }
};

Result<tinygltf::Model> parse(const std::string& path, const std::string& bytes) {
    tinygltf::TinyGLTF parser;
    parser.SetImageLoader([](tinygltf::Image*, const int, std::string*, std::string*, int, int,
                             const unsigned char*, int, void*) { return true; },
                          nullptr);
    parser.SetStoreOriginalJSONForExtrasAndExtensions(true);
    tinygltf::Model model;
    std::string error, warning;
    const std::string folder = std::filesystem::path(path).parent_path().string();
    const bool binary = bytes.size() >= 4 && bytes.compare(0, 4, "glTF") == 0;
    const std::string::size_type start = bytes.find_first_not_of(" \t\r\n\xEF\xBB\xBF");
    if (!binary && (start == std::string::npos || bytes[start] != '{'))
        return Error{"it is neither a .glb nor a .gltf file"};
    bool ok = false;
    try {
        const auto size = static_cast<unsigned int>(bytes.size());
        ok = binary ? parser.LoadBinaryFromMemory(&model, &error, &warning,
                                                  reinterpret_cast<const unsigned char*>(bytes.data()), size,
                                                  folder)
                    : parser.LoadASCIIFromString(&model, &error, &warning, bytes.data() + start,
                                                 size - static_cast<unsigned int>(start), folder);
    } catch (const std::exception& e) {
        error = e.what();
    }
    if (!ok) {
        std::replace(error.begin(), error.end(), '\n', ' ');
        if (const auto at = error.find("json.exception"); at != std::string::npos) {
            const auto words = error.find("] ", at), end = error.find(" while", at);
            error = "it is not valid JSON (" +
                    (words == std::string::npos ? "" : error.substr(words + 2, end - words - 2)) + ")";
        }
        while (!error.empty() && (error.back() == ' ' || error.back() == '.'))
            error.pop_back();
        return Error{error.empty() ? "it is not valid glTF" : error};
    }
    return model;
}

} // namespace

Result<Character> readGltf(const std::string& path) {
    auto refuse = [&](const std::string& cause) { return Error{"Cannot open " + path + ": " + cause + "."}; };
    std::error_code ec;
    if (!std::filesystem::exists(path, ec))
        return refuse("there is no such file");
    if (std::filesystem::is_directory(path, ec))
        return refuse("it is a folder");
    std::ifstream in(path, std::ios::binary);
    if (!in)
        return refuse("it may not be read");
    std::string bytes((std::istreambuf_iterator<char>(in)), {});
    if (bytes.empty())
        return refuse("it is empty");
    if (bytes.size() > 0xFFFFFFFFu)
        return refuse("it is larger than 4 GB");

    auto model = parse(path, bytes);
    if (!model)
        return refuse(model.error());
    Character out;
    out.source = path;
    out.name = std::filesystem::path(path).stem().string();
    ContentHash hash;
    hash.add(bytes);
    for (const auto& buffer : model->buffers)
        if (!buffer.uri.empty())
            hash.add({reinterpret_cast<const char*>(buffer.data.data()), buffer.data.size()});
    out.hash = hash.hex();
    try {
        Reader(*model, out).read();
    } catch (const Refused& r) {
        return refuse(r.cause);
    } catch (const std::bad_alloc&) {
        return refuse("it needs more memory than there is");
    }
    return out;
}

} // namespace hobble
