// hobble-cast-picture FILE.glb OUT.png [CELL]: one character in neutral and in motion, on one sheet.
#include "io/gltf_read.h"
#include "core/deform/deformer.h"
#include "picture.h"

#include <QPainter>

#include <cstdio>
#include <cstring>

using namespace hobble;

int main(int argc, char** argv) {
    auto c = readGltf(argv[1]);
    if (!c) {
        std::fprintf(stderr, "%s\n", c.error().c_str());
        return 1;
    }
    demo::View v;
    Eigen::AlignedBox3f box;
    for (const Vec3& p : c->neutral)
        box.extend(p);
    v.centre = box.center().cast<double>();
    v.height = box.sizes().maxCoeff() * 1.05;
    bool wire = false;
    for (int i = 3; i < argc; ++i) {
        double x[3];
        if (std::sscanf(argv[i], "yaw=%lf", x) == 1) v.yaw = x[0];
        if (std::sscanf(argv[i], "pitch=%lf", x) == 1) v.pitch = x[0];
        if (std::sscanf(argv[i], "h=%lf", x) == 1) v.height = x[0];
        if (std::sscanf(argv[i], "at=%lf,%lf,%lf", x, x + 1, x + 2) == 3) v.centre = Vec3d(x[0], x[1], x[2]);
        wire = wire || !std::strcmp(argv[i], "wire");
    }
    Pose pose = Pose::neutral(c->skeleton);
    for (int i = 3; i < argc; ++i) {
        char name[64];
        double x, y, z;
        if (std::sscanf(argv[i], "set:%63[^=]=%lf,%lf,%lf", name, &x, &y, &z) == 4)
            pose.turn[c->skeleton.find(name)] = turnXyz(x, y, z);
    }
    std::vector<Vec3> posed;
    deform(*c, pose, Skinning::Linear, posed);
    QImage out(1000, 800, QImage::Format_RGB32);
    QPainter p(&out);
    p.drawImage(0, 0, demo::picture(*c, posed, v, 600, 800, wire));
    v.yaw += 120;
    p.drawImage(600, 0, demo::picture(*c, posed, v, 400, 800, wire));
    p.end();
    out.save(argv[2]);
    std::printf("%zu vertices, %zu triangles in %s\n", std::size_t(c->parts[0].vertexCount), std::size_t(c->parts[0].triangleCount), c->parts[0].name.c_str());
}
