// What is written reads back as it was; posed files hold the pose in the file's order.
#include "core/deform/deformer.h"
#include "io/character_read.h"
#include "io/gltf_write.h"
#include "io/mesh_write.h"
#include "support/suite.h"
#include "support/tube.h"

#include <QTemporaryDir>
#include <QTest>

#include <fstream>
#include <sstream>

using namespace hobble;
using namespace hobble::test;

class TestGltfWrite : public QObject {
    Q_OBJECT
    QTemporaryDir folder_;
    std::string path(const char* name) { return folder_.filePath(QString::fromLatin1(name)).toStdString(); }

private slots:
    void roundTrip() {
        const Character c = tube();
        QVERIFY(writeGlb(c, path("tube.glb")));
        const auto back = readCharacter(path("tube.glb"));
        QVERIFY2(back, back.error().c_str());
        QCOMPARE(back->vertexCount(), c.vertexCount());
        QCOMPARE(back->triangles.size(), c.triangles.size());
        QCOMPARE(back->skeleton.name, c.skeleton.name);
        std::vector<Vec3> a, b;
        const Motion m = turnPlan(Vec3d(1, 1, 0), {50}).motions[0];
        deform(c, poseAt(c.skeleton, m, 50), Skinning::Linear, a);
        deform(*back, poseAt(back->skeleton, m, 50), Skinning::Linear, b);
        for (std::size_t v = 0; v < a.size(); ++v)
            QVERIFY((a[v] - b[v]).norm() < 1e-5f);
    }

    void posedFiles() {
        const Character c = tube();
        std::vector<Vec3> p;
        deform(c, poseAt(c.skeleton, turnPlan(Vec3d::UnitX(), {33}).motions[0], 33), Skinning::Linear, p);
        for (const char* name : {"posed.obj", "posed.ply", "posed.glb"})
            QVERIFY(writePosed(c, p, path(name)));
        QVERIFY(!writePosed(c, p, path("posed.stl")));
        QVERIFY(!writePosed(c, p, "/nowhere/posed.obj"));

        const auto glb = readCharacter(path("posed.glb"));
        QVERIFY2(glb, glb.error().c_str());
        for (std::size_t v = 0; v < p.size(); ++v)
            QVERIFY((glb->neutral[v] - p[v]).norm() < 1e-6f);

        std::ifstream obj(path("posed.obj"));
        std::string line, word;
        std::size_t at = 0, objects = 0;
        while (std::getline(obj, line)) {
            std::istringstream in(line);
            in >> word;
            objects += word == "o";
            if (word == "v") {
                Vec3 x;
                in >> x.x() >> x.y() >> x.z();
                QVERIFY((x - p[at++]).norm() < 1e-6f);
            }
        }
        QCOMPARE(at, p.size());
        QCOMPARE(objects, std::size_t(1));

        std::ifstream ply(path("posed.ply"));
        while (std::getline(ply, line) && line != "end_header")
            ;
        for (const Vec3& expected : p) {
            Vec3 x;
            int part = -1;
            ply >> x.x() >> x.y() >> x.z() >> part;
            QVERIFY((x - expected).norm() < 1e-6f);
            QCOMPARE(part, 0);
        }
    }
};

HOBBLE_TEST(TestGltfWrite)
#include "test_gltf_write.moc"
