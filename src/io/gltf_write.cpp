#include "io/gltf_write.h"

#include "io/deform_json.h"
#include "io/drivers_json.h"
#include "io/file_write.h"

#include <nlohmann/json.hpp>

#include <algorithm>
#include <cmath>
#include <cstring>

namespace hobble {

namespace {

using nlohmann::json;

enum Component { Byte = 5121, Short = 5123, Int = 5125, Float = 5126 };

class GlbWriter {
public:
    GlbWriter() {
        doc_["asset"] = {{"version", "2.0"}, {"generator", "Hobble"}};
        doc_["scene"] = 0;
        doc_["nodes"] = json::array();
        doc_["meshes"] = json::array();
        doc_["bufferViews"] = json::array();
        doc_["accessors"] = json::array();
        doc_["materials"] =
            json::array({{{"name", "skin"},
                          {"pbrMetallicRoughness", {{"metallicFactor", 0.0}, {"roughnessFactor", 0.8}}}}});
    }

    template <class T>
    int accessor(const std::vector<T>& values, int components, Component type, const char* kind, int target,
                 bool bounds = false) {
        while (data_.size() % 4)
            data_.push_back(0);
        const std::size_t offset = data_.size(), bytes = values.size() * sizeof(T);
        data_.resize(offset + bytes);
        if (bytes)
            std::memcpy(data_.data() + offset, values.data(), bytes);
        json view{{"buffer", 0}, {"byteOffset", offset}, {"byteLength", bytes}};
        if (target)
            view["target"] = target;
        doc_["bufferViews"].push_back(view);
        json a{{"bufferView", doc_["bufferViews"].size() - 1},
               {"componentType", static_cast<int>(type)},
               {"count", values.size() / components},
               {"type", kind}};
        if (bounds) {
            std::vector<T> lo(values.begin(), values.begin() + components), hi = lo;
            for (std::size_t i = 0; i < values.size(); ++i) {
                lo[i % components] = std::min(lo[i % components], values[i]);
                hi[i % components] = std::max(hi[i % components], values[i]);
            }
            a["min"] = lo;
            a["max"] = hi;
        }
        doc_["accessors"].push_back(a);
        return static_cast<int>(doc_["accessors"].size()) - 1;
    }

    int vectors(const std::vector<Vec3>& v, std::size_t first, std::size_t count, bool bounds) {
        std::vector<float> flat;
        flat.reserve(count * 3);
        for (std::size_t i = first; i < first + count; ++i)
            flat.insert(flat.end(), {v[i].x(), v[i].y(), v[i].z()});
        return accessor(flat, 3, Float, "VEC3", 34962, bounds);
    }

    int view(const void* data, std::size_t bytes) {
        while (data_.size() % 4)
            data_.push_back(0);
        const auto* from = static_cast<const char*>(data);
        doc_["bufferViews"].push_back({{"buffer", 0}, {"byteOffset", data_.size()}, {"byteLength", bytes}});
        data_.insert(data_.end(), from, from + bytes);
        return static_cast<int>(doc_["bufferViews"].size()) - 1;
    }

    /// A shape target as a sparse accessor: only the vertices it moves are stored.
    int target(const ShapeTarget& t, std::uint32_t vertexCount) {
        std::vector<std::uint32_t> index = t.vertex;
        std::vector<Vec3> delta = t.delta;
        if (index.empty()) { // an accessor without any value is not allowed
            index = {0};
            delta = {Vec3::Zero()};
        }
        Vec3 lo = Vec3::Zero(), hi = Vec3::Zero();
        if (index.size() == vertexCount)
            lo = hi = delta[0];
        std::vector<float> flat;
        for (const Vec3& d : delta) {
            lo = lo.cwiseMin(d);
            hi = hi.cwiseMax(d);
            flat.insert(flat.end(), {d.x(), d.y(), d.z()});
        }
        const bool narrow = vertexCount <= 65536;
        const std::vector<std::uint16_t> index16(index.begin(), index.end());
        const int indices =
            narrow ? view(index16.data(), index16.size() * 2) : view(index.data(), index.size() * 4);
        const int values = view(flat.data(), flat.size() * 4);
        doc_["accessors"].push_back(
            {{"componentType", int(Float)},
             {"count", vertexCount},
             {"type", "VEC3"},
             {"min", {lo.x(), lo.y(), lo.z()}},
             {"max", {hi.x(), hi.y(), hi.z()}},
             {"sparse",
              {{"count", index.size()},
               {"indices", {{"bufferView", indices}, {"componentType", int(narrow ? Short : Int)}}},
               {"values", {{"bufferView", values}}}}}});
        return static_cast<int>(doc_["accessors"].size()) - 1;
    }

    /// Parts' nodes follow each other from `firstPartNode` on.
    void clip(const Clip& clip, int firstPartNode) {
        json animation{{"name", clip.name}, {"channels", json::array()}, {"samplers", json::array()}};
        for (const ClipChannel& ch : clip.channels) {
            const bool turn = ch.path == ClipChannel::Path::Rotation,
                       fade = ch.path == ClipChannel::Path::Weights;
            const char* path = turn                                        ? "rotation"
                               : fade                                      ? "weights"
                               : ch.path == ClipChannel::Path::Translation ? "translation"
                                                                           : "scale";
            const char* blend = ch.blend == ClipChannel::Blend::Step    ? "STEP"
                                : ch.blend == ClipChannel::Blend::Cubic ? "CUBICSPLINE"
                                                                        : "LINEAR";
            const int in = accessor(ch.time, 1, Float, "SCALAR", 0, true);
            const int out = turn   ? accessor(ch.value, 4, Float, "VEC4", 0)
                            : fade ? accessor(ch.value, 1, Float, "SCALAR", 0)
                                   : accessor(ch.value, 3, Float, "VEC3", 0);
            const int node = fade ? firstPartNode + ch.part : ch.joint;
            animation["channels"].push_back(
                {{"sampler", animation["samplers"].size()}, {"target", {{"node", node}, {"path", path}}}});
            animation["samplers"].push_back({{"input", in}, {"output", out}, {"interpolation", blend}});
        }
        for (const ClipMark& mark : clip.marks) {
            json named{{"name", mark.name}, {"seconds", mark.seconds}};
            if (!mark.motion.empty()) {
                named["motion"] = mark.motion;
                named["at"] = mark.at;
            }
            animation["extras"]["frames"].push_back(std::move(named));
        }
        if (!clip.channels.empty())
            doc_["animations"].push_back(std::move(animation));
    }

    json primitive(const Character& c, const Part& part, const std::vector<Vec3>& positions,
                   const std::vector<Vec3>& normals) {
        json p{{"material", 0}};
        p["attributes"]["POSITION"] = vectors(positions, part.firstVertex, part.vertexCount, true);
        p["attributes"]["NORMAL"] = vectors(normals, part.firstVertex, part.vertexCount, false);
        if (!c.colour.empty()) {
            std::vector<std::uint8_t> rgba;
            for (std::uint32_t v = part.firstVertex; v < part.firstVertex + part.vertexCount; ++v)
                for (int k = 0; k < 4; ++k)
                    rgba.push_back(k < 3 ? static_cast<std::uint8_t>(
                                               std::lround(255 * std::clamp(c.colour[v][k], 0.f, 1.f)))
                                         : 255);
            p["attributes"]["COLOR_0"] = accessor(rgba, 4, Byte, "VEC4", 34962);
            doc_["accessors"].back()["normalized"] = true;
        }
        std::vector<std::uint32_t> index;
        for (std::uint32_t t = part.firstTriangle; t < part.firstTriangle + part.triangleCount; ++t)
            for (std::uint32_t v : c.triangles[t])
                index.push_back(v - part.firstVertex);
        if (part.vertexCount < 65536) {
            const std::vector<std::uint16_t> narrow(index.begin(), index.end());
            p["indices"] = accessor(narrow, 1, Short, "SCALAR", 34963);
        } else {
            p["indices"] = accessor(index, 1, Int, "SCALAR", 34963);
        }
        return p;
    }

    void addWeights(const Character& c, const Part& part, json& attributes) {
        std::uint32_t most = 1;
        for (std::uint32_t v = part.firstVertex; v < part.firstVertex + part.vertexCount; ++v)
            most = std::max(most, c.weights.first[v + 1] - c.weights.first[v]);
        for (std::uint32_t set = 0; set * 4 < most; ++set) {
            std::vector<std::uint16_t> joints(std::size_t(part.vertexCount) * 4, 0);
            std::vector<float> weights(std::size_t(part.vertexCount) * 4, 0.f);
            for (std::uint32_t v = 0; v < part.vertexCount; ++v) {
                const std::uint32_t first = c.weights.first[part.firstVertex + v],
                                    end = c.weights.first[part.firstVertex + v + 1];
                for (std::uint32_t k = 0; k < 4 && first + set * 4 + k < end; ++k) {
                    joints[v * 4 + k] = c.weights.joint[first + set * 4 + k];
                    weights[v * 4 + k] = c.weights.weight[first + set * 4 + k];
                }
            }
            attributes["JOINTS_" + std::to_string(set)] = accessor(joints, 4, Short, "VEC4", 34962);
            attributes["WEIGHTS_" + std::to_string(set)] = accessor(weights, 4, Float, "VEC4", 34962);
        }
    }

    json& doc() { return doc_; }

    Result<Done> write(const std::string& path) {
        while (data_.size() % 4)
            data_.push_back(0);
        doc_["buffers"] = json::array({{{"byteLength", data_.size()}}});
        std::string text = doc_.dump();
        while (text.size() % 4)
            text += ' ';
        std::string out;
        auto word = [&](std::uint32_t x) { out.append(reinterpret_cast<const char*>(&x), 4); };
        word(0x46546C67); // "glTF"
        word(2);
        word(static_cast<std::uint32_t>(12 + 8 + text.size() + 8 + data_.size()));
        word(static_cast<std::uint32_t>(text.size()));
        word(0x4E4F534A); // "JSON"
        out += text;
        word(static_cast<std::uint32_t>(data_.size()));
        word(0x004E4942); // "BIN"
        out.append(data_.begin(), data_.end());
        return writeFile(path, out);
    }

private:
    json doc_;
    std::vector<char> data_;
};

std::vector<Vec3> normalsOf(const Character& c, const std::vector<Vec3>& p) {
    std::vector<Vec3> n(p.size(), Vec3::Zero());
    for (const Triangle& t : c.triangles) {
        const Vec3 face = (p[t[1]] - p[t[0]]).cross(p[t[2]] - p[t[0]]);
        for (std::uint32_t v : t)
            n[v] += face;
    }
    for (Vec3& v : n)
        v = v.norm() > 1e-20f ? Vec3(v.normalized()) : Vec3::UnitY();
    return n;
}

json jointNode(const Skeleton& sk, int j, const std::vector<int>& children) {
    const Transform& t = sk.neutralLocal[j];
    json node{{"name", sk.name[j]}};
    const Quat q = rotationOf(t);
    const Vec3d scale = t.linear().colwise().norm();
    Transform rebuilt = Transform::Identity();
    rebuilt.translate(t.translation()).rotate(q).scale(scale);
    if (rebuilt.matrix().isApprox(t.matrix(), 1e-6)) { // animatable form, where there is no shear
        node["translation"] = {t.translation().x(), t.translation().y(), t.translation().z()};
        if (!q.isApprox(Quat::Identity(), 1e-9))
            node["rotation"] = {q.x(), q.y(), q.z(), q.w()};
        if (!scale.isApproxToConstant(1.0, 1e-6))
            node["scale"] = {scale.x(), scale.y(), scale.z()};
    } else {
        node["matrix"] = std::vector<double>(t.matrix().data(), t.matrix().data() + 16);
    }
    if (!children.empty())
        node["children"] = children;
    return node;
}

} // namespace

Result<Done> writeGlb(const Character& c, const std::string& path) {
    GlbWriter w;
    const Skeleton& sk = c.skeleton;
    const auto children = sk.children();
    std::vector<int> sceneNodes;
    for (int j = 0; j < sk.size(); ++j) {
        w.doc()["nodes"].push_back(jointNode(sk, j, children[j]));
        if (sk.parent[j] < 0)
            sceneNodes.push_back(j);
    }
    if (sk.size() > 0) {
        std::vector<float> inverse;
        std::vector<int> all;
        for (int j = 0; j < sk.size(); ++j) {
            Eigen::Matrix4f m = sk.neutralWorld[j].inverse().matrix().cast<float>();
            m.row(3) = Eigen::RowVector4f(0, 0, 0, 1);
            inverse.insert(inverse.end(), m.data(), m.data() + 16);
            all.push_back(j);
        }
        w.doc()["skins"] = json::array(
            {{{"joints", all}, {"inverseBindMatrices", w.accessor(inverse, 16, Float, "MAT4", 0)}}});
    }
    const std::vector<Vec3> normals = normalsOf(c, c.neutral);
    for (const Part& part : c.parts) {
        json mesh{{"name", part.name}};
        json primitive = w.primitive(c, part, c.neutral, normals);
        if (part.skin >= 0)
            w.addWeights(c, part, primitive["attributes"]);
        for (const ShapeTarget& target : part.targets) {
            primitive["targets"].push_back({{"POSITION", w.target(target, part.vertexCount)}});
            mesh["extras"]["targetNames"].push_back(target.name);
        }
        mesh["primitives"].push_back(primitive);
        w.doc()["meshes"].push_back(mesh);
        json node{{"name", part.name}, {"mesh", w.doc()["meshes"].size() - 1}};
        if (part.skin >= 0)
            node["skin"] = 0;
        w.doc()["nodes"].push_back(node);
        sceneNodes.push_back(static_cast<int>(w.doc()["nodes"].size()) - 1);
    }
    for (const Clip& clip : c.clips)
        w.clip(clip, sk.size());
    if (!c.drivers.empty())
        w.doc()["extras"]["hobbleDrivers"] = driversToJson(c);
    if (c.extras.any())
        w.doc()["extras"]["hobbleDeform"] = deformToJson(c);
    w.doc()["scenes"] = json::array({{{"nodes", sceneNodes}}});
    return w.write(path);
}

Result<Done> writePosedGlb(const Character& c, const std::vector<Vec3>& positions, const std::string& path) {
    GlbWriter w;
    const std::vector<Vec3> normals = normalsOf(c, positions);
    std::vector<int> sceneNodes;
    for (const Part& part : c.parts) {
        w.doc()["meshes"].push_back(
            {{"name", part.name}, {"primitives", json::array({w.primitive(c, part, positions, normals)})}});
        w.doc()["nodes"].push_back({{"name", part.name}, {"mesh", w.doc()["meshes"].size() - 1}});
        sceneNodes.push_back(static_cast<int>(sceneNodes.size()));
    }
    w.doc()["scenes"] = json::array({{{"nodes", sceneNodes}}});
    return w.write(path);
}

} // namespace hobble
