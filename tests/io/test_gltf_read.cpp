// What a skinned glTF file may look like, each way read back against numbers known beforehand.
#include "core/deform/deformer.h"
#include "io/character_read.h"
#include "support/gltf_builder.h"
#include "support/suite.h"

#include <QTemporaryDir>
#include <QTest>

using namespace hobble;
using namespace hobble::test;
using nlohmann::json;

class TestGltfRead : public QObject {
    Q_OBJECT

    QTemporaryDir folder_;

    Character open(const std::string& content, const char* name = "file.glb") {
        const std::string path = folder_.filePath(QString::fromLatin1(name)).toStdString();
        GltfBuilder::save(path, content);
        auto c = readCharacter(path);
        if (!c)
            qWarning("%s", c.error().c_str());
        return c ? *c : Character{};
    }

    static Vec3 tipTurned(const Character& c, std::uint32_t vertex) {
        Pose pose = Pose::neutral(c.skeleton);
        pose.turn[c.skeleton.find("tip")] = turnXyz(0, 0, 90);
        std::vector<Vec3> p;
        deform(c, pose, Skinning::Linear, p);
        return p[vertex];
    }

    // Vertex 5 is (1, 2, −1); about z through (0, 1, 0) it goes to (−1, 2, −1).
    static void checkBar(const Character& c) {
        QCOMPARE(c.skeleton.size(), 2);
        QCOMPARE(c.parts.size(), std::size_t(1));
        QCOMPARE(c.vertexCount(), std::size_t(8));
        QVERIFY((c.neutral[5] - Vec3(1, 2, -1)).norm() < 1e-5f);
        QVERIFY((tipTurned(c, 5) - Vec3(-1, 2, -1)).norm() < 1e-5f);
        QVERIFY((tipTurned(c, 1) - Vec3(1, 0, -1)).norm() < 1e-5f);
    }

private slots:
    void plain() {
        const Character c = open(Bar().build().glb());
        checkBar(c);
        QCOMPARE(c.triangles.size(), std::size_t(12));
        QCOMPARE(QString::fromStdString(c.parts[0].name), QStringLiteral("bar"));
        QVERIFY(c.notes.empty());
        QCOMPARE(c.hash.size(), std::size_t(64)); // SHA-256
    }

    void weightTypes() {
        for (const int type : {5121, 5123}) {
            GltfBuilder b = Bar().build();
            const Bar bar;
            auto& attributes = b.doc["meshes"][0]["primitives"][0]["attributes"];
            if (type == 5121) {
                std::vector<std::uint8_t> w;
                for (float x : bar.weights)
                    w.push_back(std::uint8_t(x * 255));
                attributes["WEIGHTS_0"] = b.accessor(w, type, "VEC4", 4, true);
            } else {
                std::vector<std::uint16_t> w, j;
                for (float x : bar.weights)
                    w.push_back(std::uint16_t(x * 65535));
                for (std::uint8_t x : bar.joints)
                    j.push_back(x);
                attributes["WEIGHTS_0"] = b.accessor(w, type, "VEC4", 4, true);
                attributes["JOINTS_0"] = b.accessor(j, type, "VEC4", 4);
            }
            checkBar(open(b.glb()));
        }
    }

    void setsBeyondTheFirst() {
        // Five influences of joint 0 … on the first vertices, of which the second set's belong to joint 1.
        GltfBuilder b = Bar().build();
        std::vector<std::uint8_t> joints(32, 1);
        std::vector<float> weights(32, 0.f);
        weights[0] = 3.f; // vertex 0: 1 on base, 3 on tip; a quarter and three quarters once normalised
        auto& attributes = b.doc["meshes"][0]["primitives"][0]["attributes"];
        attributes["JOINTS_1"] = b.accessor(joints, 5121, "VEC4", 4);
        attributes["WEIGHTS_1"] = b.accessor(weights, 5126, "VEC4", 4);
        const Character c = open(b.glb());
        QCOMPARE(c.weights.first[1], 2u);
        QCOMPARE(c.weights.joint[0], std::uint16_t(1)); // heaviest first
        QVERIFY(std::abs(c.weights.weight[0] - 0.75f) < 1e-6f);
        QVERIFY(std::abs(c.weights.fileSum[0] - 4.f) < 1e-6f);
    }

    void indexTypes() {
        const Bar bar;
        for (const int type : {5121, 5123, 5125}) {
            GltfBuilder b = bar.build();
            auto& primitive = b.doc["meshes"][0]["primitives"][0];
            if (type == 5121)
                primitive["indices"] = b.accessor(
                    std::vector<std::uint8_t>(bar.triangles.begin(), bar.triangles.end()), type, "SCALAR", 1);
            if (type == 5125)
                primitive["indices"] =
                    b.accessor(std::vector<std::uint32_t>(bar.triangles.begin(), bar.triangles.end()), type,
                               "SCALAR", 1);
            const Character c = open(b.glb());
            checkBar(c);
            QCOMPARE(c.triangles[2], (Triangle{4, 6, 5}));
        }
    }

    void nonIndexed() {
        const Bar bar;
        Bar flat;
        flat.positions.clear();
        flat.joints.clear();
        flat.weights.clear();
        for (std::uint16_t i : bar.triangles) {
            flat.positions.insert(flat.positions.end(), bar.positions.begin() + 3 * i,
                                  bar.positions.begin() + 3 * i + 3);
            flat.joints.insert(flat.joints.end(), bar.joints.begin() + 4 * i, bar.joints.begin() + 4 * i + 4);
            flat.weights.insert(flat.weights.end(), bar.weights.begin() + 4 * i,
                                bar.weights.begin() + 4 * i + 4);
        }
        GltfBuilder b = flat.build();
        b.doc["meshes"][0]["primitives"][0].erase("indices");
        const Character c = open(b.glb());
        QCOMPARE(c.vertexCount(), std::size_t(36));
        QCOMPARE(c.triangles.size(), std::size_t(12));
        QCOMPARE(c.triangles[3], (Triangle{9, 10, 11}));
    }

    void strips() {
        GltfBuilder b = Bar().build();
        auto& primitive = b.doc["meshes"][0]["primitives"][0];
        primitive["mode"] = 5;
        primitive["indices"] = b.accessor(std::vector<std::uint16_t>{0, 1, 3, 2}, 5123, "SCALAR", 1);
        const Character c = open(b.glb());
        QCOMPARE(c.triangles.size(), std::size_t(2));
        QCOMPARE(c.triangles[1], (Triangle{1, 2, 3})); // the second keeps the first's facing
    }

    void sparseAndInterleaved() {
        // Positions: all zeros by default, every one given sparsely. Weights and joints share one strided
        // view.
        const Bar bar;
        GltfBuilder b = bar.build();
        std::vector<std::uint16_t> which{0, 1, 2, 3, 4, 5, 6, 7};
        const int positions = b.accessor(-1, 5126, "VEC3", 8);
        b.doc["accessors"][positions]["sparse"] = {
            {"count", 8},
            {"indices", {{"bufferView", b.view(which)}, {"componentType", 5123}}},
            {"values", {{"bufferView", b.view(bar.positions)}}}};
        std::vector<std::uint8_t> mixed;
        for (int v = 0; v < 8; ++v) {
            mixed.insert(mixed.end(), bar.joints.begin() + 4 * v, bar.joints.begin() + 4 * v + 4);
            for (int k = 0; k < 4; ++k)
                mixed.push_back(std::uint8_t(bar.weights[4 * v + k] * 255));
        }
        const int view = b.view(mixed, 8);
        auto& attributes = b.doc["meshes"][0]["primitives"][0]["attributes"];
        attributes["POSITION"] = positions;
        attributes["JOINTS_0"] = b.accessor(view, 5121, "VEC4", 8);
        attributes["WEIGHTS_0"] = b.accessor(view, 5121, "VEC4", 8, true, 4);
        checkBar(open(b.glb()));
    }

    void sparseOverABase() {
        const Bar bar;
        GltfBuilder b = bar.build();
        const int positions = b.doc["meshes"][0]["primitives"][0]["attributes"]["POSITION"];
        b.doc["accessors"][positions]["sparse"] = {
            {"count", 1},
            {"indices", {{"bufferView", b.view(std::vector<std::uint8_t>{6})}, {"componentType", 5121}}},
            {"values", {{"bufferView", b.view(std::vector<float>{5, 6, 7})}}}};
        const Character c = open(b.glb());
        QVERIFY((c.neutral[6] - Vec3(5, 6, 7)).norm() < 1e-6f);
        QVERIFY((c.neutral[5] - Vec3(1, 2, -1)).norm() < 1e-6f);
    }

    void transformsAboveTheJoints() {
        // An armature node turned upright and scaled from centimetres, its bind matrices in its own space.
        GltfBuilder b = Bar().build();
        const double h = std::sqrt(0.5);
        b.node({{"name", "armature"},
                {"children", {0, 2}},
                {"scale", {0.01, 0.01, 0.01}},
                {"rotation", {-h, 0, 0, h}},
                {"translation", {1, 0, 0}}});
        b.doc["scenes"] = {{{"nodes", {3}}}};
        const Character c = open(b.glb());
        QCOMPARE(c.skeleton.size(), 2); // the armature is no joint
        // (1, 2, −1) turned −90° about x is (1, −1, −2)
        QVERIFY((c.neutral[5] - Vec3(1.01f, -0.01f, -0.02f)).norm() < 1e-6f);
        QVERIFY((tipTurned(c, 5) - Vec3(0.99f, -0.01f, -0.02f)).norm() < 1e-6f);
    }

    void neutralIsTheBindPoseNotTheNodes() {
        GltfBuilder b = Bar().build();
        const double h = std::sqrt(0.5);
        b.doc["nodes"][1]["rotation"] = {0, 0, h, h}; // left posed by the exporter
        const Character c = open(b.glb());
        QVERIFY((c.neutral[5] - Vec3(1, 2, -1)).norm() < 1e-5f);
        QVERIFY((tipTurned(c, 5) - Vec3(-1, 2, -1)).norm() < 1e-5f);
    }

    void posedRootUnderAnArmature() {
        GltfBuilder b = Bar().build();
        const double h = std::sqrt(0.5);
        b.doc["nodes"][0]["rotation"] = {0, 0, std::sin(0.2), std::cos(0.2)}; // both joints left posed
        b.doc["nodes"][1]["rotation"] = {h, 0, 0, h};
        b.node({{"name", "armature"}, {"children", {0, 2}}, {"translation", {0, 5, 0}}});
        b.doc["scenes"] = {{{"nodes", {3}}}};
        const Character c = open(b.glb());
        QVERIFY((c.neutral[5] - Vec3(1, 7, -1)).norm() < 1e-5f);
    }

    void severalPartsAndSkinsOnOneSkeleton() {
        GltfBuilder b = Bar().build();
        // A second skin with the joints the other way round, bound in a space moved by (0, 0, 3).
        std::vector<float> inverse{1, 0, 0, 0, 0, 1, 0, 0, 0, 0, 1, 0, 0, -1, -3, 1,
                                   1, 0, 0, 0, 0, 1, 0, 0, 0, 0, 1, 0, 0, 0,  -3, 1};
        b.doc["skins"].push_back(
            {{"joints", {1, 0}}, {"inverseBindMatrices", b.accessor(inverse, 5126, "MAT4", 16)}});
        json mesh = b.doc["meshes"][0];
        std::vector<float> moved = Bar().positions;
        for (std::size_t i = 2; i < moved.size(); i += 3)
            moved[i] += 3;
        std::vector<std::uint8_t> joints;
        for (std::uint8_t j : Bar().joints)
            joints.push_back(j ? 0 : 1);
        for (std::size_t i = 0; i < 8; ++i)
            joints[4 * i] = i < 4 ? 1 : 0;
        mesh["primitives"][0]["attributes"]["POSITION"] = b.accessor(moved, 5126, "VEC3", 3);
        mesh["primitives"][0]["attributes"]["JOINTS_0"] = b.accessor(joints, 5121, "VEC4", 4);
        b.doc["meshes"].push_back(mesh);
        b.node({{"name", "coat"}, {"mesh", 1}, {"skin", 1}});
        b.doc["scenes"][0]["nodes"].push_back(3);
        const Character c = open(b.glb());
        QCOMPARE(c.parts.size(), std::size_t(2));
        QCOMPARE(c.skeleton.size(), 2);
        std::vector<Vec3> p;
        Pose pose = Pose::neutral(c.skeleton);
        pose.turn[1] = turnXyz(20, 30, 40);
        deform(c, pose, Skinning::Linear, p);
        for (int v = 0; v < 8; ++v) // the coat lies exactly on the body, and moves with it
            QVERIFY((p[v] - p[8 + v]).norm() < 1e-5f);
        QVERIFY(c.notes.empty());
    }

    void primitivesOfOneMeshAreOnePart() {
        // Two materials share the positions; their triangles belong to one surface.
        GltfBuilder b = Bar().build();
        const Bar bar;
        json first = b.doc["meshes"][0]["primitives"][0], second = first;
        first["indices"] = b.accessor(
            std::vector<std::uint16_t>(bar.triangles.begin(), bar.triangles.begin() + 18), 5123, "SCALAR", 1);
        second["indices"] = b.accessor(
            std::vector<std::uint16_t>(bar.triangles.begin() + 18, bar.triangles.end()), 5123, "SCALAR", 1);
        b.doc["meshes"][0]["primitives"] = {first, second};
        checkBar(open(b.glb()));
    }

    void rigidPartBelowAJointAndOneBoundToNothing() {
        GltfBuilder b = Bar().build();
        json mesh = b.doc["meshes"][0];
        mesh["primitives"][0]["attributes"].erase("JOINTS_0");
        mesh["primitives"][0]["attributes"].erase("WEIGHTS_0");
        b.doc["meshes"].push_back(mesh);
        b.node({{"name", "hat"}, {"mesh", 1}, {"translation", {0, 1, 0}}});
        b.node({{"name", "lamp"}, {"mesh", 1}, {"translation", {9, 0, 0}}});
        b.doc["nodes"][1]["children"] = {3};
        b.doc["scenes"][0]["nodes"].push_back(4);
        const Character c = open(b.glb());
        QCOMPARE(c.parts.size(), std::size_t(3));
        QCOMPARE(c.parts[1].carrier, 1);
        QCOMPARE(c.parts[2].skin, -1);
        QCOMPARE(c.notes.size(), std::size_t(1)); // about the lamp
        QVERIFY((c.neutral[8 + 5] - Vec3(1, 4, -1)).norm() < 1e-5f);
        QVERIFY((tipTurned(c, 8 + 5) - Vec3(-3, 2, -1)).norm() < 1e-5f);
        QVERIFY((tipTurned(c, 16 + 5) - Vec3(10, 2, -1)).norm() < 1e-5f);
    }

    void shapeTargetsAndClips() {
        GltfBuilder b = Bar().build();
        std::vector<float> delta(24, 0.f);
        delta[3 * 5] = 0.5f;
        b.doc["meshes"][0]["primitives"][0]["targets"] = {{{"POSITION", b.accessor(delta, 5126, "VEC3", 3)}}};
        b.doc["meshes"][0]["extras"] = {{"targetNames", {"bulge"}}};
        b.doc["animations"] = {
            {{"name", "wave"},
             {"samplers",
              {{{"input", b.accessor(std::vector<float>{0, 2}, 5126, "SCALAR", 1)},
                {"output", b.accessor(std::vector<float>{0, 0, 0, 1, 0, 0, 1, 0}, 5126, "VEC4", 4)}}}},
             {"channels",
              {{{"sampler", 0}, {"target", {{"node", 1}, {"path", "rotation"}}}},
               {{"sampler", 0}, {"target", {{"node", 2}, {"path", "rotation"}}}}}}}};
        const Character c = open(b.glb());
        QCOMPARE(c.parts[0].targets.size(), std::size_t(1));
        QCOMPARE(QString::fromStdString(c.parts[0].targets[0].name), QStringLiteral("bulge"));
        QVERIFY((c.parts[0].targets[0].delta[0] - Vec3(0.5f, 0, 0)).norm() < 1e-6f);
        QVERIFY((c.neutral[5] - Vec3(1, 2, -1)).norm() < 1e-5f); // a target at rest moves nothing
        QCOMPARE(c.clips.size(), std::size_t(1));
        QCOMPARE(c.clips[0].seconds, 2.0);
        QCOMPARE(c.clips[0].channels.size(), std::size_t(1));
        QCOMPARE(c.notes.size(), std::size_t(1));
    }

    void textFileWithDataUriAndWithABinBeside() {
        GltfBuilder b = Bar().build();
        b.glb();
        b.doc["buffers"][0]["uri"] = "data:application/octet-stream;base64," +
                                     QByteArray::fromStdString(b.bytes).toBase64().toStdString();
        checkBar(open(b.doc.dump(), "inline.gltf"));
        GltfBuilder::save(folder_.filePath(QStringLiteral("dr\u00fcben data.bin")).toStdString(), b.bytes);
        b.doc["buffers"][0]["uri"] = "dr\xC3\xBC"
                                     "ben%20data.bin";
        checkBar(open(b.doc.dump(), "Küste, außen 'neu'.gltf"));
    }

    void noSkin() {
        GltfBuilder b = Bar().build();
        b.doc.erase("skins");
        b.doc["nodes"][2].erase("skin");
        const Character c = open(b.glb());
        QCOMPARE(c.parts.size(), std::size_t(1));
        QCOMPARE(c.skeleton.size(), 0);
        QCOMPARE(c.notes.size(), std::size_t(1));
        QVERIFY(c.notes[0].find("no skin") != std::string::npos);
    }

    void missingInverseBindMatrices() {
        GltfBuilder b = Bar().build();
        b.doc["skins"][0].erase("inverseBindMatrices");
        std::vector<float> local = Bar().positions; // then vertices are in their joint's own space
        for (std::size_t v = 4; v < 8; ++v)
            local[3 * v + 1] -= 1;
        b.doc["meshes"][0]["primitives"][0]["attributes"]["POSITION"] = b.accessor(local, 5126, "VEC3", 3);
        checkBar(open(b.glb()));
    }

    void quantizedPositions() {
        const Bar bar;
        GltfBuilder b = bar.build();
        std::vector<std::int16_t> small;
        for (std::size_t v = 0; v < 8; ++v) {
            for (int k = 0; k < 3; ++k)
                small.push_back(std::int16_t(bar.positions[3 * v + k]));
            small.push_back(0); // padding
        }
        const int view = b.view(small, 8);
        b.doc["meshes"][0]["primitives"][0]["attributes"]["POSITION"] = b.accessor(view, 5122, "VEC3", 8);
        b.doc["extensionsRequired"] = {"KHR_mesh_quantization"};
        b.doc["extensionsUsed"] = {"KHR_mesh_quantization"};
        checkBar(open(b.glb()));
    }
};

HOBBLE_TEST(TestGltfRead)
#include "test_gltf_read.moc"
