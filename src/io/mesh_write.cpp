#include "io/mesh_write.h"
#include "core/plain_number.h"

#include "core/words/say.h"
#include "io/file_write.h"
#include "io/gltf_write.h"

#include <algorithm>
#include <cstdio>
#include <cstring>
#include <filesystem>

namespace hobble {

namespace {

std::string coordinates(const Vec3& p) {
    return plainNumber(double(p.x()), 9) + " " + plainNumber(double(p.y()), 9) + " " +
           plainNumber(double(p.z()), 9);
}

std::string line(std::string name) {
    std::replace_if(
        name.begin(), name.end(), [](char x) { return x == '\n' || x == '\r'; }, ' ');
    return name;
}

std::string obj(const Character& c, const std::vector<Vec3>& p) {
    std::string out = "# " + c.name + ", posed; metres, world space\n";
    for (const Part& part : c.parts) {
        out += "o " + line(part.name) + "\n";
        for (std::uint32_t v = part.firstVertex; v < part.firstVertex + part.vertexCount; ++v)
            out += "v " + coordinates(p[v]) + "\n";
        for (std::uint32_t t = part.firstTriangle; t < part.firstTriangle + part.triangleCount; ++t) {
            out += "f";
            for (std::uint32_t v : c.triangles[t])
                out += " " + std::to_string(v + 1); // counted from 1 through the whole file
            out += "\n";
        }
    }
    return out;
}

std::string ply(const Character& c, const std::vector<Vec3>& p) {
    std::string out = "ply\nformat ascii 1.0\ncomment metres, world space\n";
    for (std::size_t i = 0; i < c.parts.size(); ++i)
        out += "comment part " + std::to_string(i) + " " + c.parts[i].name + "\n";
    out += "element vertex " + std::to_string(p.size()) +
           "\nproperty float x\nproperty float y\nproperty float z\nproperty int part\n";
    out += "element face " + std::to_string(c.triangles.size()) +
           "\nproperty list uchar int vertex_indices\nend_header\n";
    for (std::size_t i = 0; i < c.parts.size(); ++i)
        for (std::uint32_t v = 0; v < c.parts[i].vertexCount; ++v)
            out += coordinates(p[c.parts[i].firstVertex + v]) + " " + std::to_string(i) + "\n";
    for (const Triangle& t : c.triangles)
        out += "3 " + std::to_string(t[0]) + " " + std::to_string(t[1]) + " " + std::to_string(t[2]) + "\n";
    return out;
}

std::string shapeObj(const Character& c, const Part& part, const ShapeTarget& shape) {
    std::vector<Vec3> at(c.bindPosition.begin() + part.firstVertex,
                         c.bindPosition.begin() + part.firstVertex + part.vertexCount);
    for (std::size_t i = 0; i < shape.vertex.size(); ++i)
        at[shape.vertex[i]] += shape.delta[i];
    std::string out = "# " + line(shape.name) + " of " + line(part.name) +
                      ", whole; as bound, vertices in the file's order\no " + line(shape.name) + "\n";
    for (const Vec3& p : at)
        out += "v " + coordinates(p) + "\n";
    for (std::uint32_t t = part.firstTriangle; t < part.firstTriangle + part.triangleCount; ++t) {
        out += "f";
        for (std::uint32_t v : c.triangles[t])
            out += " " + std::to_string(v - part.firstVertex + 1);
        out += "\n";
    }
    return out;
}

// What a file may be called on any system.
std::string fileName(const std::string& words) {
    std::string out;
    for (char x : words)
        out += (x >= 0 && x < 0x20) || std::strchr("/\\:*?\"<>|", x) ? '_' : x;
    return out;
}

} // namespace

Result<std::vector<std::string>> writeNewShapes(const Character& before, const Character& now,
                                                const std::string& folder) {
    std::error_code error;
    std::filesystem::create_directories(folder, error);
    if (error)
        return Error{say("Cannot write into %s: %s.", folder, error.message())};
    std::vector<std::string> out;
    for (std::size_t p = 0; p < now.parts.size(); ++p)
        for (std::size_t k = 0; k < now.parts[p].targets.size(); ++k) {
            const ShapeTarget& shape = now.parts[p].targets[k];
            if (p < before.parts.size() && k < before.parts[p].targets.size() &&
                before.parts[p].targets[k].vertex == shape.vertex &&
                before.parts[p].targets[k].delta == shape.delta)
                continue;
            const std::string name = fileName(now.parts[p].name + "-" + shape.name) + ".obj";
            if (auto written = writeFile((std::filesystem::path(folder) / name).string(),
                                         shapeObj(now, now.parts[p], shape));
                !written)
                return Error{written.error()};
            out.push_back(name);
        }
    return out;
}

Result<Done> writePosed(const Character& c, const std::vector<Vec3>& positions, const std::string& path) {
    const std::string ending = std::filesystem::path(path).extension().string();
    if (ending == ".obj")
        return writeFile(path, obj(c, positions));
    if (ending == ".ply")
        return writeFile(path, ply(c, positions));
    if (ending == ".glb")
        return writePosedGlb(c, positions, path);
    return Error{say("Cannot write %s: a posed character is written as .obj, .ply or .glb.", path)};
}

} // namespace hobble
