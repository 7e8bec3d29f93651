#include "io/gltf_edit.h"

#include "core/ascii.h"
#include "core/words/say.h"
#include "io/deform_json.h"
#include "io/drivers_json.h"
#include "io/file_read.h"
#include "io/file_write.h"
#include "io/gltf_accessor.h"
#include "io/gltf_container.h"
#include "io/gltf_read.h"
#include "io/gltf_scene.h"
#include "io/gltf_unpack.h"
#include "io/gltf_write.h"

#define TINYGLTF_NO_STB_IMAGE
#define TINYGLTF_NO_STB_IMAGE_WRITE
#include <nlohmann/json.hpp>
#include <tiny_gltf.h>

#include <algorithm>
#include <cmath>
#include <cstring>
#include <filesystem>

namespace hobble {

namespace {

using Document = GltfDocument;
using Row = std::vector<std::pair<std::uint32_t, float>>; // of the skin's joints

// Whole numbers that sum to `whole` exactly, each nearest to its share (largest remainders).
std::vector<std::uint32_t> shared(const Row& row, std::uint32_t whole) {
    double sum = 0;
    for (const auto& [joint, weight] : row)
        sum += static_cast<double>(weight);
    std::vector<std::uint32_t> out(row.size(), 0);
    if (!(sum > 0))
        return out;
    std::vector<std::pair<double, std::size_t>> left;
    std::uint32_t given = 0;
    for (std::size_t i = 0; i < row.size(); ++i) {
        const double share = static_cast<double>(row[i].second) / sum * whole;
        out[i] = static_cast<std::uint32_t>(std::max(share, 0.0));
        given += out[i];
        left.emplace_back(out[i] - share, i); // the largest remainder first
    }
    std::sort(left.begin(), left.end());
    for (std::size_t k = 0; given < whole; ++k, ++given)
        ++out[left[k % left.size()].second];
    return out;
}

class Editor {
public:
    /// `moved`: the character with joints that stand elsewhere or were added, other shapes and drivers; null
    /// where only weights are others.
    Editor(const Character& character, const SkinWeights& weights, const Character* moved,
           std::size_t influences, WeightsAs as)
        : c_(character), now_(weights), moved_(moved), most_(influences), as_(as) {}

    Result<EditedGltf> edit(const std::string& path) {
        const auto bytes = readFile(path);
        if (!bytes)
            return Error{bytes.error()};
        try {
            if (readGltfBytes(path, *bytes).hash != c_.hash)
                return Error{say("%s is no longer the file that was opened: open it again.", path)};
            const UnpackedGltf plain = unpackGltf(*bytes, std::filesystem::path(path).parent_path().string());
            const auto parsed = parseGltf(path, plain.bytes);
            const tinygltf::Model& model = *parsed;
            const FileScene scene = gltfScene(model, {});
            GltfContainer file(plain.bytes);
            nodes_ = nodesOfJoints(scene);
            const bool added = moved_ && addJoints(scene, file);
            const bool weights = rewrite(scene, model, file);
            const bool joints = moved_ && moveJoints(scene, file);
            const bool shapes = moved_ && changeShapes(scene, model, file);
            const bool drivers = moved_ && changeDrivers(file);
            const bool deforming = moved_ && changeDeforming(file);
            if (!weights && !joints && !added && !shapes && !drivers && !deforming)
                return EditedGltf{*bytes, {}};
            EditedGltf out{file.joined(), std::move(notes_)};
            if (plain.changed)
                out.notes.push_back(say("What was compressed in the file is written uncompressed."));
            return out;
        } catch (const Refused& refused) {
            return Error{say("Cannot write weights into %s: %s.", path, refused.cause)};
        } catch (const Document::exception&) {
            return Error{say("Cannot write weights into %s: it is described in an unusual way.", path)};
        }
    }

private:
    const Character& c_;
    const SkinWeights& now_;
    const Character* moved_;
    std::size_t most_;
    WeightsAs as_;
    std::vector<int> nodes_;    // of joints
    std::vector<int> partNode_; // of the character's parts
    std::vector<std::string> notes_;
    std::map<std::pair<int, int>, std::vector<Row>> written_; // by mesh and primitive

    bool changed(std::uint32_t v) const {
        const SkinWeights& was = c_.weights;
        const std::uint32_t n = was.first[v + 1] - was.first[v];
        if (now_.first[v + 1] - now_.first[v] != n)
            return true;
        for (std::uint32_t i = 0; i < n; ++i)
            if (was.joint[was.first[v] + i] != now_.joint[now_.first[v] + i] ||
                was.weight[was.first[v] + i] != now_.weight[now_.first[v] + i])
                return true;
        return false;
    }

    bool rewrite(const FileScene& scene, const tinygltf::Model& model, GltfContainer& file) {
        bool any = false;
        std::uint32_t vertex = 0;
        for (const ScenePart& part : scene.parts) {
            std::size_t triangles = 0;
            for (const auto& [block, list] : part.triangles)
                triangles += list.size();
            if (triangles == 0)
                continue; // no part of the character either
            partNode_.push_back(part.node);
            for (const SceneBlock& block : part.blocks) {
                const auto count = static_cast<std::uint32_t>(block.position.size());
                bool other = false;
                for (std::uint32_t v = 0; v < count && !other; ++v)
                    other = changed(vertex + v);
                if (other) {
                    if (part.skin < 0 || !block.weighted)
                        throw Refused{say("part '%s' has no weights in the file", part.name)};
                    rewriteBlock(part, block, vertex, model, file);
                    any = true;
                }
                vertex += count;
            }
        }
        if (vertex != c_.vertexCount())
            throw Refused{say("its vertices are not those that were opened")};
        return any;
    }

    void rewriteBlock(const ScenePart& part, const SceneBlock& block, std::uint32_t first,
                      const tinygltf::Model& model, GltfContainer& file) {
        std::vector<Row> rows(block.position.size());
        std::size_t longest = 1;
        for (std::uint32_t v = 0; v < rows.size(); ++v) {
            if (!changed(first + v)) {
                rows[v].assign(block.influence.begin() + block.firstInfluence[v],
                               block.influence.begin() + block.firstInfluence[v + 1]);
            } else {
                for (std::uint32_t i = now_.first[first + v]; i < now_.first[first + v + 1]; ++i)
                    rows[v].emplace_back(localJoint(part.skin, now_.joint[i], file), now_.weight[i]);
                if (most_ > 0 && rows[v].size() > most_) { // heaviest first, as they stand
                    rows[v].resize(most_);
                    float sum = 0;
                    for (const auto& [joint, weight] : rows[v])
                        sum += weight;
                    for (auto& [joint, weight] : rows[v])
                        weight /= sum;
                }
            }
            longest = std::max(longest, rows[v].size());
        }
        const int mesh = model.nodes[static_cast<std::size_t>(part.node)].mesh;
        const auto [known, fresh] = written_.emplace(std::pair(mesh, block.primitive), rows);
        if (!fresh) {
            if (known->second != rows)
                throw Refused{say("the mesh of part '%s' stands in the file once and is used twice, and only "
                                  "one use has changed",
                                  part.name)};
            return;
        }
        const std::vector<std::pair<std::string, std::size_t>> sets = encoded(rows, (longest + 3) / 4, file);
        const auto& primitives = model.meshes[static_cast<std::size_t>(mesh)].primitives;
        const auto attribute = [](const tinygltf::Primitive& p, const char* key) {
            const auto it = p.attributes.find(key);
            return it == p.attributes.end() ? -1 : it->second;
        };
        const tinygltf::Primitive& own = primitives[static_cast<std::size_t>(block.primitive)];
        for (std::size_t p = 0; p < primitives.size(); ++p) {
            if (attribute(primitives[p], "POSITION") != attribute(own, "POSITION") ||
                attribute(primitives[p], "WEIGHTS_0") != attribute(own, "WEIGHTS_0"))
                continue; // of other vertices
            Document& attributes =
                file.document["meshes"][static_cast<std::size_t>(mesh)]["primitives"][p]["attributes"];
            for (std::size_t set = 0;; ++set) {
                const std::string k = std::to_string(set);
                if (attributes.erase("JOINTS_" + k) + attributes.erase("WEIGHTS_" + k) == 0)
                    break;
            }
            for (const auto& [key, accessor] : sets)
                attributes[key] = accessor;
        }
    }

    // Joints that were added hang from their parents and stand behind the others of every skin that binds
    // these.
    bool addJoints(const FileScene& scene, GltfContainer& file) {
        const Skeleton& sk = moved_->skeleton;
        const std::size_t known = nodes_.size();
        for (std::size_t j = known; j < sk.name.size(); ++j) {
            const int parent = sk.parent[j];
            Document node{{"name", sk.name[j]}};
            placeNode(node, sk.neutralLocal[j]);
            file.document["nodes"].push_back(std::move(node));
            nodes_.push_back(static_cast<int>(file.document["nodes"].size()) - 1);
            if (parent < 0 || nodes_[static_cast<std::size_t>(parent)] < 0)
                throw Refused{say("joint '%s' hangs from nothing that stands in the file", sk.name[j])};
            file.document["nodes"][static_cast<std::size_t>(nodes_[static_cast<std::size_t>(parent)])]
                         ["children"]
                             .push_back(nodes_.back());
            for (std::size_t s = 0; s < scene.skins.size() && s < moved_->skins.size(); ++s)
                if (moved_->skins[s].bound[j])
                    file.document.at("skins").at(s)["joints"].push_back(nodes_.back());
        }
        return sk.name.size() > known;
    }

    // What a part's shapes are now, where they are others: those of a mesh's other primitives move nothing.
    bool changeShapes(const FileScene& scene, const tinygltf::Model& model, GltfContainer& file) {
        bool any = false;
        std::map<int, std::size_t> grown; // meshes, and how many shapes they had
        std::size_t p = 0;
        for (const ScenePart& part : scene.parts) {
            std::size_t triangles = 0;
            for (const auto& [block, list] : part.triangles)
                triangles += list.size();
            if (triangles == 0)
                continue; // no part of the character either
            const Part &was = c_.parts[p], &is = moved_->parts[p];
            ++p;
            const int mesh = model.nodes[static_cast<std::size_t>(part.node)].mesh;
            for (std::size_t t = 0; t < is.targets.size(); ++t) {
                const bool there = t < was.targets.size();
                if (there && was.targets[t].vertex == is.targets[t].vertex &&
                    was.targets[t].delta == is.targets[t].delta)
                    continue;
                if (!there && grown.count(mesh) && grown[mesh] > was.targets.size())
                    throw Refused{
                        say("the mesh of part '%s' is used twice, and both uses have new shapes", part.name)};
                writeShape(part, is.targets[t], t, mesh, model, file);
                any = true;
            }
            if (is.targets.size() > was.targets.size())
                grown.emplace(mesh, was.targets.size());
        }
        for (const auto& [mesh, before] : grown)
            tellOfShapes(mesh, before, model, file);
        return any;
    }

    void writeShape(const ScenePart& part, const ShapeTarget& shape, std::size_t t, int mesh,
                    const tinygltf::Model& model, GltfContainer& file) {
        const auto& primitives = model.meshes[static_cast<std::size_t>(mesh)].primitives;
        Document& told = file.document["meshes"][static_cast<std::size_t>(mesh)]["primitives"];
        std::map<int, std::size_t> byVertices; // accessors of shapes, by those of positions
        std::uint32_t first = 0;
        for (const SceneBlock& block : part.blocks) {
            const auto count = static_cast<std::uint32_t>(block.position.size());
            ShapeTarget own;
            for (std::size_t i = 0; i < shape.vertex.size(); ++i)
                if (shape.vertex[i] >= first && shape.vertex[i] < first + count) {
                    own.vertex.push_back(shape.vertex[i] - first);
                    own.delta.push_back(shape.delta[i]);
                }
            first += count;
            const auto at = primitives[static_cast<std::size_t>(block.primitive)].attributes.find("POSITION");
            byVertices[at->second] = file.appendShape(own, count);
        }
        for (std::size_t k = 0; k < primitives.size(); ++k) {
            const auto at = primitives[k].attributes.find("POSITION");
            if (at == primitives[k].attributes.end())
                continue;
            auto known = byVertices.find(at->second);
            if (known == byVertices.end())
                known = byVertices
                            .emplace(at->second,
                                     file.appendShape(
                                         {}, model.accessors[static_cast<std::size_t>(at->second)].count))
                            .first;
            Document& targets = told[k]["targets"];
            if (t < targets.size())
                targets[t]["POSITION"] = known->second;
            else
                targets.push_back({{"POSITION", known->second}});
        }
    }

    // Names, weights and clips have as many shapes as the mesh has now; a new one is not faded in.
    void tellOfShapes(int mesh, std::size_t before, const tinygltf::Model& model, GltfContainer& file) {
        const auto m = static_cast<std::size_t>(mesh);
        Document& told = file.document["meshes"][m];
        std::size_t now = 0;
        for (const Document& primitive : told["primitives"])
            now = std::max(now, primitive.value("targets", Document::array()).size());
        const auto lengthened = [&](Document& weights) {
            while (weights.size() < now)
                weights.push_back(0.0);
        };
        if (told.contains("weights"))
            lengthened(told["weights"]);
        Document& names = told["extras"]["targetNames"];
        if (!names.is_array())
            names = Document::array();
        std::size_t p = 0;
        for (const Part& part : moved_->parts) { // the part of the mesh that has most of them
            ++p;
            if (part.targets.size() == now && meshOfPart(p - 1, model) == mesh)
                for (std::size_t t = names.size(); t < now; ++t)
                    names.push_back(part.targets[t].name);
        }
        for (std::size_t n = 0; n < model.nodes.size(); ++n)
            if (model.nodes[n].mesh == mesh && file.document["nodes"][n].contains("weights"))
                lengthened(file.document["nodes"][n]["weights"]);
        for (std::size_t a = 0; a < model.animations.size(); ++a)
            for (const auto& channel : model.animations[a].channels) {
                if (channel.target_path != "weights" || channel.target_node < 0 ||
                    model.nodes[static_cast<std::size_t>(channel.target_node)].mesh != mesh || before == 0)
                    continue;
                const auto sampler = static_cast<std::size_t>(channel.sampler);
                const int output = model.animations[a].samplers[sampler].output;
                const auto values = readFloats(model, output, 1, "a clip's weights");
                if (!values || values->size() % before != 0)
                    throw Refused{say("a clip sets its shapes in an unusual way")};
                std::string bytes;
                std::size_t count = 0;
                for (std::size_t i = 0; i < values->size(); i += before)
                    for (std::size_t t = 0; t < now; ++t, ++count)
                        add(bytes, t < before ? (*values)[i + t] : 0.f);
                file.document["animations"][a]["samplers"][sampler]["output"] =
                    file.append(bytes, 5126, "SCALAR", count, false, false);
            }
    }

    int meshOfPart(std::size_t part, const tinygltf::Model& model) const {
        return partNode_.size() > part ? model.nodes[static_cast<std::size_t>(partNode_[part])].mesh : -1;
    }

    // What follows by itself stands in the document's extras, as Hobble reads it.
    bool changeDrivers(GltfContainer& file) {
        const nlohmann::json was = driversToJson(c_), is = driversToJson(*moved_);
        if (was == is)
            return false;
        file.document["extras"]["hobbleDrivers"] = Document::parse(is.dump());
        return true;
    }

    // What is done after skinning, or by another method, has no place in glTF but there.
    bool changeDeforming(GltfContainer& file) {
        const nlohmann::json was = deformToJson(c_), is = deformToJson(*moved_);
        if (was == is)
            return false;
        if (is.is_null())
            file.document["extras"].erase("hobbleDeform");
        else
            file.document["extras"]["hobbleDeform"] = Document::parse(is.dump());
        notes_.push_back(say("Smoothing after skinning, and skin by another method, stand in the file's "
                             "extras: other programs pass them over, and the rig has to be set so by hand."));
        return true;
    }

    // A joint that stands elsewhere in the bind pose stands elsewhere by as much, in its own frame, in the
    // pose the file is left in. What hangs from it stays where it is, and its inverse bind matrices follow.
    bool moveJoints(const FileScene& scene, GltfContainer& file) {
        const std::vector<Transform> world = worldTransforms(scene);
        std::vector<Transform> now = world;
        std::map<int, Transform>
            back; // by node: from where the joint stands now to where it stood, its own frame
        for (std::size_t j = 0; j < c_.skeleton.name.size(); ++j) {
            const Transform &was = c_.skeleton.neutralWorld[j], &is = moved_->skeleton.neutralWorld[j];
            if (nodes_[j] < 0 || was.matrix() == is.matrix())
                continue;
            const auto node = static_cast<std::size_t>(nodes_[j]);
            back[nodes_[j]] = is.inverse() * was;
            now[node] = world[node] * (was.inverse() * is);
        }
        const bool added = moved_->skeleton.name.size() > c_.skeleton.name.size();
        if (back.empty() && !added)
            return false;
        const auto moved = [&](int node) { return node >= 0 && back.count(node) > 0; };
        for (std::size_t n = 0; n < scene.nodes.size(); ++n) {
            const int parent = scene.nodes[n].parent;
            if (!moved(static_cast<int>(n)) && !moved(parent))
                continue;
            placeNode(file.document.at("nodes").at(n),
                      parent < 0 ? now[n]
                                 : Transform(now[static_cast<std::size_t>(parent)].inverse() * now[n]));
        }
        for (std::size_t s = 0; s < scene.skins.size(); ++s) {
            const SceneSkin& skin = scene.skins[s];
            if (!added && std::none_of(skin.joints.begin(), skin.joints.end(), moved))
                continue;
            std::string bytes;
            std::map<int, Transform> bound; // by node
            for (std::size_t i = 0; i < skin.joints.size(); ++i) {
                // a file that says nothing of the bind pose stands in it
                Transform inverse =
                    skin.given ? skin.inverseBind[i]
                               : Transform(world[static_cast<std::size_t>(skin.joints[i])].inverse());
                if (const auto it = back.find(skin.joints[i]); it != back.end())
                    inverse = it->second * inverse;
                bound[skin.joints[i]] = inverse;
                for (double x : inverse.matrix().reshaped())
                    add(bytes, static_cast<float>(x));
            }
            std::size_t count = skin.joints.size();
            for (std::size_t j = c_.skeleton.name.size(); j < moved_->skeleton.name.size(); ++j) {
                if (s >= moved_->skins.size() || !moved_->skins[s].bound[j])
                    continue;
                // bound where its parent is; where that is not bound, as the character has it
                const auto parent = bound.find(nodes_[static_cast<std::size_t>(moved_->skeleton.parent[j])]);
                const Transform inverse =
                    parent != bound.end()
                        ? Transform(moved_->skeleton.neutralLocal[j].inverse() * parent->second)
                        : moved_->skins[s].inverseBind[j];
                ++count;
                for (double x : inverse.matrix().reshaped())
                    add(bytes, static_cast<float>(x));
            }
            file.document.at("skins").at(s)["inverseBindMatrices"] =
                file.append(bytes, 5126, "MAT4", count, false, false);
        }
        if (!scene.clips.empty() && !back.empty())
            notes_.push_back(say(
                "Joints were moved: clips in the file still set them, and what hangs from them, as before."));
        return true;
    }

    // As it was told before: a matrix stays one, otherwise translation, rotation and scale.
    static void placeNode(Document& node, const Transform& local) {
        const auto numbers = [](const auto& values) {
            Document out = Document::array();
            for (double x : values)
                out.push_back(x);
            return out;
        };
        const Eigen::Matrix3d linear = local.linear();
        const Vec3d scale(linear.col(0).norm(), linear.col(1).norm(), linear.col(2).norm());
        const Eigen::Matrix3d turn = linear * scale.cwiseInverse().asDiagonal();
        const bool sheared = !(turn.transpose() * turn).isIdentity(1e-6) || turn.determinant() < 0;
        if (node.contains("matrix") || sheared) {
            for (const char* key : {"translation", "rotation", "scale"})
                node.erase(key);
            node["matrix"] = numbers(local.matrix().reshaped());
            return;
        }
        node["translation"] = numbers(Vec3d(local.translation()));
        node["rotation"] = numbers(Quat(turn).normalized().coeffs());
        if (node.contains("scale") || !scale.isOnes(1e-9))
            node["scale"] = numbers(scale);
    }

    template <class T> static void add(std::string& bytes, T value) {
        bytes.append(reinterpret_cast<const char*>(&value), sizeof value); // little-endian, as glTF is
    }

    std::vector<std::pair<std::string, std::size_t>> encoded(const std::vector<Row>& rows, std::size_t sets,
                                                             GltfContainer& file) const {
        std::vector<std::string> joints(sets), weights(sets);
        std::uint32_t highest = 0;
        for (const Row& row : rows)
            for (const auto& [joint, weight] : row)
                highest = std::max(highest, joint);
        const bool small = highest < 256;
        const std::uint32_t whole = as_ == WeightsAs::Unorm8 ? 255 : 65535;
        for (const Row& row : rows) {
            const auto numbers = as_ == WeightsAs::Float ? std::vector<std::uint32_t>() : shared(row, whole);
            for (std::size_t i = 0; i < 4 * sets; ++i) {
                const bool there = i < row.size();
                const std::uint32_t joint =
                    there && (as_ == WeightsAs::Float ? row[i].second != 0 : numbers[i] != 0) ? row[i].first
                                                                                              : 0;
                if (small)
                    add(joints[i / 4], static_cast<std::uint8_t>(joint));
                else
                    add(joints[i / 4], static_cast<std::uint16_t>(joint));
                if (as_ == WeightsAs::Float)
                    add(weights[i / 4], there ? row[i].second : 0.f);
                else if (as_ == WeightsAs::Unorm8)
                    add(weights[i / 4], static_cast<std::uint8_t>(there ? numbers[i] : 0));
                else
                    add(weights[i / 4], static_cast<std::uint16_t>(there ? numbers[i] : 0));
            }
        }
        std::vector<std::pair<std::string, std::size_t>> out;
        for (std::size_t set = 0; set < sets; ++set) {
            const std::string k = std::to_string(set);
            out.emplace_back("JOINTS_" + k,
                             file.append(joints[set], small ? 5121 : 5123, "VEC4", rows.size(), false));
            out.emplace_back("WEIGHTS_" + k, file.append(weights[set],
                                                         as_ == WeightsAs::Float    ? 5126
                                                         : as_ == WeightsAs::Unorm8 ? 5121
                                                                                    : 5123,
                                                         "VEC4", rows.size(), as_ != WeightsAs::Float));
        }
        return out;
    }

    std::uint32_t localJoint(int skin, std::uint16_t joint, const GltfContainer& file) {
        auto& local = localOf_[skin];
        if (local.empty())
            for (const Document& n :
                 file.document.at("skins").at(static_cast<std::size_t>(skin)).at("joints"))
                local.emplace(n.get<int>(), static_cast<std::uint32_t>(local.size()));
        const auto it = local.find(nodes_[joint]);
        if (it == local.end())
            throw Refused{say("joint '%s' is not among those of skin %s",
                              (moved_ ? *moved_ : c_).skeleton.name[joint], std::to_string(skin))};
        return it->second;
    }
    std::map<int, std::map<int, std::uint32_t>> localOf_; // per skin, by node
};

} // namespace

Result<EditedGltf> editWeights(const std::string& path, const Character& character,
                               const SkinWeights& weights, std::size_t influences, WeightsAs as) {
    if (weights.vertexCount() != character.vertexCount())
        return Error{say("The weights are of another mesh.")};
    return Editor(character, weights, nullptr, influences, as).edit(path);
}

Result<std::vector<std::string>> writeMended(const Character& build, const Character& mended,
                                             const std::string& to, std::size_t influences, WeightsAs as) {
    const std::string suffix = lowered(std::filesystem::path(build.source).extension().string());
    if (suffix != ".glb" && suffix != ".gltf") {
        if (const auto written = writeGlb(mended, to); !written)
            return Error{written.error()};
        return std::vector<std::string>{
            say("The build was no glTF: geometry, skin, shapes and clips are written as one; "
                "materials and whatever else the file held are not.")};
    }
    auto edited = Editor(build, mended.weights, &mended, influences, as).edit(build.source);
    if (!edited)
        return Error{edited.error()};
    if (lowered(std::filesystem::path(to).extension().string()) != suffix)
        return Error{say("Cannot write %s: the build is a %s file, and so is what comes of it.", to, suffix)};
    if (const auto written = writeFile(to, edited->bytes); !written)
        return Error{written.error()};
    // Drivers beside a build stand in place of those in it: so do they beside what comes of it.
    namespace fs = std::filesystem;
    const fs::path here(build.source), there(to);
    const bool beside = fs::exists(here.parent_path() / (here.stem().string() + ".drivers.json")) ||
                        fs::exists(here.parent_path() / "drivers.json");
    if (beside && driversToJson(build) != driversToJson(mended)) {
        const std::string path = (there.parent_path() / (there.stem().string() + ".drivers.json")).string();
        if (const auto written =
                writeFile(path, nlohmann::json{{"drivers", driversToJson(mended)}}.dump(1) + "\n");
            !written)
            return Error{written.error()};
        edited->notes.push_back(
            say("What follows by itself is written beside it, as it was with the build: %s.", path));
    }
    if (suffix == ".gltf" &&
        std::filesystem::path(to).parent_path() != std::filesystem::path(build.source).parent_path())
        edited->notes.push_back(
            say("The file refers to others beside it: keep it in the folder of the build."));
    return std::move(edited->notes);
}

} // namespace hobble
