#include "io/file_scene.h"
#include "core/deform/deformer.h"
#include "core/words/say.h"
#include "io/bind_placement.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <set>

namespace hobble {

namespace {

class Builder {
public:
    Builder(FileScene scene, const Progress& progress) : scene_(std::move(scene)), progress_(progress) {}

    const std::vector<int>& joints() {
        world_ = worldTransforms(scene_);
        buildSkeleton();
        return nodeOfJoint_;
    }

    Character build() {
        out_.notes = std::move(scene_.notes);
        world_ = worldTransforms(scene_);
        if (scene_.parts.empty() && scene_.skins.empty() && !scene_.clips.empty())
            scene_.isJoint.assign(scene_.nodes.size(), 1); // a skeleton with clips, to take poses from
        buildSkeleton();
        double done = 0;
        for (ScenePart& p : scene_.parts) {
            addPart(p);
            progress_.at(0.8 * ++done / static_cast<double>(scene_.parts.size()));
        }
        if (out_.parts.empty() && (scene_.clips.empty() || out_.skeleton.size() == 0))
            throw Refused{say("it holds no mesh with triangles")};
        if (scene_.skins.empty() && !out_.parts.empty())
            note(say("The file has no skin: its meshes are opened as rigid parts, and there is no joint to "
                     "test. Export the character with its skeleton and skin weights."));
        finishNeutral();
        out_.textures = SharedVector<Texture>(std::move(scene_.textures));
        for (SceneClip& c : scene_.clips)
            addClip(c);
        return std::move(out_);
    }

private:
    FileScene scene_;
    const Progress& progress_;
    Character out_;
    std::vector<Transform> world_; // per node
    std::vector<int> jointOfNode_; // per node, -1 when it is no joint
    std::vector<int> nodeOfJoint_;
    Transform staticPlace_ = Transform::Identity(); // of the part at hand, where nothing moves it

    const std::string& nodeName(int n) const { return scene_.nodes[n].name; }
    int parentOf(int n) const { return scene_.nodes[n].parent; }
    void note(const std::string& text) { out_.notes.push_back(text); }

    // Joints are all nodes any skin names, and the nodes between them, parents first, in the file's order.
    void buildSkeleton() {
        const int count = static_cast<int>(scene_.nodes.size());
        std::vector<char> isJoint = scene_.isJoint;
        isJoint.resize(count, 0);
        for (std::size_t s = 0; s < scene_.skins.size(); ++s)
            for (int n : scene_.skins[s].joints) {
                if (n < 0 || n >= count)
                    throw Refused{say("skin %s names a joint that does not exist", std::to_string(s))};
                isJoint[n] = 1;
            }
        std::vector<char> between = isJoint;
        for (int n = 0; n < count; ++n) {
            if (!isJoint[n])
                continue;
            std::vector<int> path;
            for (int a = parentOf(n); a >= 0 && !between[a]; a = parentOf(a))
                path.push_back(a);
            const int top = path.empty() ? -1 : parentOf(path.back());
            if (top >= 0) // the path ended on a joint
                for (int a : path)
                    between[a] = 1;
        }
        jointOfNode_.assign(count, -1);
        std::set<std::string> names;
        auto add = [&](int node) {
            std::vector<int> path; // up to the first that is known
            for (int n = node; n >= 0 && between[n] && jointOfNode_[n] < 0; n = parentOf(n))
                path.push_back(n);
            for (auto it = path.rbegin(); it != path.rend(); ++it) {
                const int n = *it;
                const int p = parentOf(n) >= 0 && between[parentOf(n)] ? parentOf(n) : -1;
                std::string name = nodeName(n);
                for (int k = 2; !names.insert(name).second; ++k)
                    name = nodeName(n) + " (" + std::to_string(k) + ")";
                jointOfNode_[n] = static_cast<int>(nodeOfJoint_.size());
                nodeOfJoint_.push_back(n);
                out_.skeleton.name.push_back(name);
                out_.skeleton.parent.push_back(p < 0 ? -1 : jointOfNode_[p]);
            }
        };
        for (const auto& skin : scene_.skins)
            for (int n : skin.joints)
                add(n);
        for (int n = 0; n < count; ++n)
            if (between[n])
                add(n);
        bool said = false;
        for (int n : nodeOfJoint_)
            said |= !scene_.nodes[static_cast<std::size_t>(n)].humanoidBone.empty();
        for (int n : nodeOfJoint_)
            if (said)
                out_.skeleton.humanoidBone.push_back(scene_.nodes[static_cast<std::size_t>(n)].humanoidBone);
        if (said)
            out_.notes.push_back(say("What its joints are is taken from the file, which says so itself."));
        if (nodeOfJoint_.size() > 65535)
            throw Refused{say("it has more than 65,535 joints")};
        bindSkins();
    }

    void bindSkins() {
        Skeleton& sk = out_.skeleton;
        const int joints = sk.size();
        std::vector<char> known(joints, 0);
        sk.neutralWorld.assign(joints, Transform::Identity());
        for (std::size_t s = 0; s < scene_.skins.size(); ++s) {
            const SceneSkin& fileSkin = scene_.skins[s];
            Skin skin{std::vector<Transform>(joints, Transform::Identity()), std::vector<char>(joints, 0)};
            for (std::size_t i = 0; i < fileSkin.joints.size(); ++i)
                if (std::abs(fileSkin.inverseBind[i].linear().determinant()) < 1e-18)
                    throw Refused{say("joint '%s' has an inverse bind matrix that cannot be inverted",
                                      nodeName(fileSkin.joints[i]))};
            const Transform place =
                fileSkin.given ? placement(static_cast<int>(s), fileSkin.inverseBind) : Transform::Identity();
            bool differs = false;
            for (std::size_t i = 0; i < fileSkin.joints.size(); ++i) {
                const int j = jointOfNode_[fileSkin.joints[i]];
                skin.inverseBind[j] = fileSkin.inverseBind[i];
                skin.bound[j] = 1;
                const Transform world =
                    fileSkin.given ? place * fileSkin.inverseBind[i].inverse() : world_[fileSkin.joints[i]];
                if (!known[j]) {
                    sk.neutralWorld[j] = world;
                    known[j] = 1;
                } else {
                    differs |= !sk.neutralWorld[j].matrix().isApprox(world.matrix(), 1e-3);
                }
            }
            if (differs)
                note(say("Skin %s was bound in another pose than the first; the first is taken as neutral.",
                         std::to_string(s)));
            out_.skins.push_back(std::move(skin));
        }
        sk.neutralLocal.resize(joints);
        sk.restWorld.resize(joints);
        for (int j = 0; j < joints; ++j) {
            const int p = sk.parent[j];
            sk.restWorld[j] = world_[nodeOfJoint_[j]];
            if (!known[j]) // a node between joints follows its parent as the file sets it
                sk.neutralWorld[j] =
                    p < 0 ? world_[nodeOfJoint_[j]]
                          : sk.neutralWorld[p] * world_[nodeOfJoint_[p]].inverse() * world_[nodeOfJoint_[j]];
            if (std::abs(sk.neutralWorld[j].linear().determinant()) < 1e-18)
                throw Refused{say("joint '%s' is scaled to nothing", sk.name[j])};
            sk.neutralLocal[j] =
                p < 0 ? sk.neutralWorld[j] : sk.neutralWorld[p].inverse() * sk.neutralWorld[j];
        }
    }

    Transform placement(int s, const std::vector<Transform>& inverseBind) const {
        const auto& joints = scene_.skins[s].joints;
        if (joints.empty())
            return Transform::Identity();
        std::vector<Transform> nodes;
        std::size_t top = 0; // the joint nearest the root
        auto depth = [&](int n) {
            int d = 0;
            for (; parentOf(n) >= 0; n = parentOf(n))
                ++d;
            return d;
        };
        for (std::size_t i = 0; i < joints.size(); ++i) {
            nodes.push_back(world_[joints[i]]);
            if (depth(joints[i]) < depth(joints[top]))
                top = i;
        }
        const int above = parentOf(joints[top]);
        std::vector<Transform> still{above >= 0 ? world_[above] : Transform::Identity()};
        if (scene_.skins[s].meshNode >= 0)
            still.push_back(world_[scene_.skins[s].meshNode]);
        still.push_back(Transform::Identity());
        return bindPlacement(nodes, inverseBind, top, still);
    }

    void addPart(ScenePart& from) {
        Part part;
        part.name = from.name;
        part.firstVertex = static_cast<std::uint32_t>(out_.bindPosition.size());
        part.firstTriangle = static_cast<std::uint32_t>(out_.triangles.size());
        std::size_t triangles = 0;
        for (const auto& [block, list] : from.triangles)
            triangles += list.size();
        if (triangles == 0) {
            note(say("Part '%s' has no triangles and is left out.", part.name));
            return;
        }
        bindPart(part, from);
        std::vector<std::uint32_t> firstOfBlock;
        for (SceneBlock& block : from.blocks) {
            firstOfBlock.push_back(static_cast<std::uint32_t>(out_.bindPosition.size()));
            addBlock(part, from, block);
            stopIfAsked(progress_);
        }
        for (std::size_t k = 0; k < from.triangles.size(); ++k) {
            const auto& [block, list] = from.triangles[k];
            const std::uint32_t first = firstOfBlock[block];
            for (const Triangle& t : list)
                out_.triangles.push_back({first + t[0], first + t[1], first + t[2]});
            addPaint(k < from.paint.size() ? from.paint[k] : ScenePaint(), list.size());
        }
        part.vertexCount = static_cast<std::uint32_t>(out_.bindPosition.size()) - part.firstVertex;
        part.triangleCount = static_cast<std::uint32_t>(triangles);
        part.targetWeights = std::move(from.targetWeights);
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

    void addPaint(const ScenePaint& paint, std::size_t triangles) {
        if (scene_.textures.empty())
            return;
        const bool painted = paint.texture >= 0 && paint.corners.size() == triangles;
        for (std::size_t t = 0; t < triangles; ++t) {
            out_.textureOf.push_back(static_cast<std::int16_t>(painted ? paint.texture : -1));
            out_.cornerUv.push_back(painted ? paint.corners[t] : CornerUv{});
        }
    }

    // A skinned part uses the file's skin; a rigid one below a joint gets a skin of its own with that joint
    // only.
    void bindPart(Part& part, const ScenePart& from) {
        part.skinned = from.skin >= 0;
        if (part.skinned) {
            part.skin = from.skin;
            return;
        }
        int n = from.node;
        while (n >= 0 && jointOfNode_[n] < 0)
            n = parentOf(n);
        staticPlace_ = world_[from.node];
        if (n < 0) {
            if (!scene_.skins.empty())
                note(say("Part '%s' is bound to nothing: it will stay behind when the character moves.",
                         part.name));
            return;
        }
        part.carrier = jointOfNode_[n];
        Skin skin{std::vector<Transform>(out_.skeleton.size(), Transform::Identity()),
                  std::vector<char>(out_.skeleton.size(), 0)};
        skin.inverseBind[part.carrier] = world_[n].inverse() * world_[from.node];
        skin.bound[part.carrier] = 1;
        part.skin = static_cast<int>(out_.skins.size());
        out_.skins.push_back(std::move(skin));
    }

    void addBlock(Part& part, const ScenePart& from, SceneBlock& block) {
        const auto first = static_cast<std::uint32_t>(out_.bindPosition.size()) - part.firstVertex;
        for (const Vec3& p : block.position)
            out_.bindPosition.push_back(part.skin < 0 ? Vec3((staticPlace_ * p.cast<double>()).cast<float>())
                                                      : p);
        out_.colour.append(block.colour.begin(), block.colour.end());
        addWeights(part, from, block);
        for (std::size_t t = 0; t < block.targets.size(); ++t) {
            if (part.targets.size() <= t)
                part.targets.emplace_back();
            ShapeTarget& to = part.targets[t];
            to.name = block.targets[t].name;
            for (std::uint32_t v : block.targets[t].vertex)
                to.vertex.push_back(first + v);
            to.delta.insert(to.delta.end(), block.targets[t].delta.begin(), block.targets[t].delta.end());
        }
    }

    void addWeights(const Part& part, const ScenePart& from, const SceneBlock& block) {
        SkinWeights& w = out_.weights;
        if (from.skin >= 0 && !block.weighted)
            note(say("Part '%s' has a skin but no weights: nothing moves it.", part.name));
        std::vector<std::pair<std::uint16_t, float>> own;
        bool negative = false;
        for (std::size_t v = 0; v < block.position.size(); ++v) {
            own.clear();
            if (part.carrier >= 0)
                own.push_back({static_cast<std::uint16_t>(part.carrier), 1.f});
            else if (block.weighted)
                for (std::uint32_t i = block.firstInfluence[v]; i < block.firstInfluence[v + 1]; ++i) {
                    const auto [local, weight] = block.influence[i];
                    negative |= weight < 0;
                    if (weight <= 0)
                        continue;
                    const auto joint =
                        static_cast<std::uint16_t>(jointOfNode_[scene_.skins[from.skin].joints[local]]);
                    const auto known =
                        std::find_if(own.begin(), own.end(), [&](const auto& o) { return o.first == joint; });
                    if (known == own.end())
                        own.push_back({joint, weight});
                    else
                        known->second += weight;
                }
            std::sort(own.begin(), own.end(), [](const auto& a, const auto& b) {
                return a.second != b.second ? a.second > b.second : a.first < b.first;
            });
            float total = 0;
            for (const auto& [joint, weight] : own)
                total += weight;
            if (!std::isfinite(total))
                throw Refused{
                    say("vertex %s of '%s' has weights beyond all bounds", std::to_string(v), part.name)};
            for (const auto& [joint, weight] : own) {
                w.joint.push_back(joint);
                w.weight.push_back(weight / total);
            }
            w.first.push_back(static_cast<std::uint32_t>(w.joint.size()));
            w.fileSum.push_back(total);
            if (v % 65536 == 0)
                stopIfAsked(progress_);
        }
        if (negative)
            note(say("Part '%s' has negative weights, which are taken as none.", part.name));
    }

    void finishNeutral() {
        out_.neutral = neutralPositions(out_);
        for (const Part& part : out_.parts) {
            if (part.skin < 0)
                continue;
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
                note(say("%s vertices of '%s' have no weight and will stay behind.", std::to_string(loose),
                         part.name));
            if (place.linear().determinant() < 0)
                for (std::uint32_t t = part.firstTriangle; t < part.firstTriangle + part.triangleCount; ++t)
                    turnOver(t);
        }
        for (const Vec3& p : out_.neutral)
            if (!p.allFinite() || p.cwiseAbs().maxCoeff() > 1e9f)
                throw Refused{say("its vertices lie beyond all bounds")};
    }

    void turnOver(std::uint32_t t) {
        std::swap(out_.triangles[t][1], out_.triangles[t][2]);
        if (out_.cornerUv.empty())
            return;
        CornerUv& uv = out_.cornerUv[t];
        std::swap(uv[2], uv[4]);
        std::swap(uv[3], uv[5]);
    }

    // A root joint's own parent is no joint: its values are told to the world instead.
    static void throughParent(ClipChannel& channel, const Transform& parent) {
        const Quat turn = rotationOf(parent);
        const std::size_t each = channel.path == ClipChannel::Path::Rotation ? 4 : 3;
        for (std::size_t i = 0; i + each <= channel.value.size(); i += each) {
            float* x = channel.value.data() + i;
            if (channel.path == ClipChannel::Path::Rotation) {
                const Quat q = turn * Quat(x[3], x[0], x[1], x[2]);
                for (int k = 0; k < 4; ++k)
                    x[k] = static_cast<float>(q.coeffs()[k]);
            } else if (channel.path == ClipChannel::Path::Translation) {
                const bool tangent = channel.blend == ClipChannel::Blend::Cubic && (i / each) % 3 != 1;
                Vec3d p = parent.linear() * Vec3d(x[0], x[1], x[2]);
                if (!tangent)
                    p += parent.translation();
                for (int k = 0; k < 3; ++k)
                    x[k] = static_cast<float>(p[k]);
            }
        }
    }

    // Returns how many channels have to be left out.
    std::size_t addFading(SceneChannel& channel, Clip& clip) {
        const ClipChannel& values = channel.values;
        const std::size_t each = values.blend == ClipChannel::Blend::Cubic ? 3 : 1;
        for (std::size_t p = 0; p < scene_.parts.size() && p < out_.parts.size(); ++p)
            if (scene_.parts[p].node == channel.node && !values.time.empty() &&
                values.value.size() == each * values.time.size() * out_.parts[p].targets.size()) {
                channel.values.part = static_cast<int>(p);
                clip.seconds = std::max(clip.seconds, static_cast<double>(values.time.back()));
                clip.channels.push_back(std::move(channel.values));
                return 0;
            }
        return 1;
    }

    void addClip(SceneClip& from) {
        Clip clip;
        clip.name = from.name;
        std::size_t left = from.left;
        clip.marks = std::move(from.marks);
        for (SceneChannel& channel : from.channels) {
            if (channel.values.path == ClipChannel::Path::Weights) {
                left += addFading(channel, clip);
                continue;
            }
            if (channel.node < 0 || jointOfNode_[channel.node] < 0) {
                ++left;
                continue;
            }
            channel.values.joint = jointOfNode_[channel.node];
            if (out_.skeleton.parent[channel.values.joint] < 0 && parentOf(channel.node) >= 0)
                throughParent(channel.values, world_[parentOf(channel.node)]);
            if (!channel.values.time.empty())
                clip.seconds = std::max(clip.seconds, static_cast<double>(channel.values.time.back()));
            clip.channels.push_back(std::move(channel.values));
        }
        if (left)
            note(say("Clip '%s' moves things that are no joints (%s channels); these are left out.",
                     clip.name, std::to_string(left)));
        out_.clips.push_back(std::move(clip));
    }
};

} // namespace

std::vector<Transform> worldTransforms(const FileScene& scene) {
    const int count = static_cast<int>(scene.nodes.size());
    std::vector<Transform> world(count);
    std::vector<char> known(count, 0);
    for (int n = 0; n < count; ++n) {
        std::vector<int> path;
        for (int a = n; a >= 0 && !known[a]; a = scene.nodes[a].parent) {
            path.push_back(a);
            if (static_cast<int>(path.size()) > count)
                throw Refused{say("node '%s' is its own ancestor", scene.nodes[n].name)};
        }
        for (auto it = path.rbegin(); it != path.rend(); ++it) {
            const int p = scene.nodes[*it].parent;
            world[*it] = p < 0 ? scene.nodes[*it].local : world[p] * scene.nodes[*it].local;
            known[*it] = 1;
        }
    }
    return world;
}

std::vector<int> nodesOfJoints(const FileScene& scene) {
    const Progress none;
    return Builder(scene, none).joints();
}

Character characterOf(FileScene scene, const Progress& progress) {
    return Builder(std::move(scene), progress).build();
}

} // namespace hobble
