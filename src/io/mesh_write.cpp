#include "io/mesh_write.h"

#include "io/file_write.h"
#include "io/gltf_write.h"

#include <algorithm>
#include <cstdio>
#include <filesystem>

namespace hobble {

namespace {

std::string coordinates(const Vec3& p) {
    char buffer[64];
    std::snprintf(buffer, sizeof buffer, "%.9g %.9g %.9g", double(p.x()), double(p.y()), double(p.z()));
    return buffer;
}

std::string obj(const Character& c, const std::vector<Vec3>& p) {
    std::string out = "# " + c.name + ", posed; metres, world space\n";
    for (const Part& part : c.parts) {
        std::string name = part.name;
        std::replace_if(
            name.begin(), name.end(), [](char x) { return x == '\n' || x == '\r'; }, ' ');
        out += "o " + name + "\n";
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

} // namespace

Result<Done> writePosed(const Character& c, const std::vector<Vec3>& positions, const std::string& path) {
    const std::string ending = std::filesystem::path(path).extension().string();
    if (ending == ".obj")
        return writeFile(path, obj(c, positions));
    if (ending == ".ply")
        return writeFile(path, ply(c, positions));
    if (ending == ".glb")
        return writePosedGlb(c, positions, path);
    return Error{"Cannot write " + path + ": a posed character is written as .obj, .ply or .glb."};
}

} // namespace hobble
