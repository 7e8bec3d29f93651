// Other weights in a file, and nothing else: documents and bytes compared with those of before by a reading
// of their own.
#include "core/character/moved_joint.h"
#include "core/deform/deformer.h"
#include "core/mend/trial.h"
#include "io/base64.h"
#include "io/character_read.h"
#include "io/file_read.h"
#include "io/file_write.h"
#include "io/gltf_edit.h"
#include "io/mesh_write.h"
#include "support/suite.h"

#include <nlohmann/json.hpp>

#include <QTemporaryDir>
#include <QTest>

#include <algorithm>
#include <cstdio>
#include <cstring>
#include <sstream>

using namespace hobble;
using nlohmann::json;

namespace {

struct Chunks {
    json document;
    std::string bin;
};

std::uint32_t wordAt(const std::string& bytes, std::size_t at) {
    std::uint32_t out;
    std::memcpy(&out, bytes.data() + at, 4);
    return out;
}

Chunks apart(const std::string& glb) {
    const std::size_t text = wordAt(glb, 12);
    return {json::parse(glb.substr(20, text)), glb.substr(28 + text, wordAt(glb, 20 + text))};
}

std::string together(const json& document, std::string bin) {
    std::string text = document.dump();
    text.resize((text.size() + 3) / 4 * 4, ' ');
    bin.resize((bin.size() + 3) / 4 * 4, '\0');
    std::string out = "glTF";
    const auto put = [&](std::size_t n) {
        const auto v = static_cast<std::uint32_t>(n);
        out.append(reinterpret_cast<const char*>(&v), 4);
    };
    put(2);
    put(28 + text.size() + bin.size());
    put(text.size());
    out += "JSON" + text;
    put(bin.size());
    out += std::string("BIN\0", 4) + bin;
    return out;
}

// Every fourth vertex of the first skinned part goes half to another of the joints it knows.
SkinWeights other(const Character& c) {
    const Part* part = nullptr;
    for (const Part& p : c.parts)
        if (p.skinned && !part)
            part = &p;
    std::vector<std::uint32_t> first{0};
    std::vector<std::uint16_t> joint;
    std::vector<float> weight;
    const std::uint16_t to = c.weights.joint[c.weights.first[part->firstVertex]];
    for (std::uint32_t v = 0; v < c.vertexCount(); ++v) {
        const bool here = v % 4 == 1 && v >= part->firstVertex && v < part->firstVertex + part->vertexCount;
        bool knows = false;
        for (std::uint32_t i = c.weights.first[v]; i < c.weights.first[v + 1]; ++i)
            knows |= c.weights.joint[i] == to;
        for (std::uint32_t i = c.weights.first[v]; i < c.weights.first[v + 1]; ++i) {
            joint.push_back(c.weights.joint[i]);
            weight.push_back(c.weights.weight[i] * (here && !knows ? 0.5f : 1));
        }
        if (here && !knows) {
            joint.push_back(to);
            weight.push_back(0.5f);
        }
        first.push_back(static_cast<std::uint32_t>(joint.size()));
    }
    return {std::move(first), std::move(joint), std::move(weight), c.weights.fileSum};
}

double shareOf(const SkinWeights& w, std::uint32_t v, int joint) {
    double sum = 0;
    for (std::uint32_t i = w.first[v]; i < w.first[v + 1]; ++i)
        sum += w.joint[i] == joint ? static_cast<double>(w.weight[i]) : 0;
    return sum;
}

// Of vertices with at most so many influences.
double farthest(const SkinWeights& a, const SkinWeights& b, std::uint32_t influences = 99) {
    double most = 0;
    for (std::uint32_t v = 0; v < a.vertexCount(); ++v)
        if (b.first[v + 1] - b.first[v] <= influences)
            for (const SkinWeights* w : {&a, &b})
                for (std::uint32_t i = w->first[v]; i < w->first[v + 1]; ++i)
                    most = std::max(most, std::abs(shareOf(a, v, w->joint[i]) - shareOf(b, v, w->joint[i])));
    return most;
}

} // namespace

class TestGltfEdit : public QObject {
    Q_OBJECT

    QTemporaryDir folder_;
    QString path(const char* name) const { return folder_.filePath(QString::fromUtf8(name)); }

    // The demo's goat with all that Hobble does not understand.
    std::string withExtras() {
        const auto bytes = readFile(HOBBLE_DEMO_DIR "/pack-goat.glb");
        Chunks c = apart(*bytes);
        c.document["extras"]["pipeline"] = {{"shot", "040"}, {"ids", {1, 2, 3.5, nullptr, "ünï"}}};
        c.document["extensions"]["EXT_of_somebody"] = {{"knows", true}};
        c.document["extensionsUsed"].push_back("EXT_of_somebody");
        c.document["materials"] = {{{"name", "felt"},
                                    {"extras", {{"dye", 0.1}}},
                                    {"pbrMetallicRoughness", {{"baseColorTexture", {{"index", 0}}}}}}};
        c.document["textures"] = {{{"source", 0}}};
        c.document["images"] = {{{"uri", "felt.png"}}};
        c.document["meshes"][0]["primitives"][0]["material"] = 0;
        c.document["meshes"][0]["primitives"][0]["extras"] = {{"kept", "as it was"}};
        c.document["nodes"][0]["extras"] = {{"rig", 7}};
        return together(c.document, c.bin);
    }

private slots:
    // Only what was changed is changed: the documents are alike but for the attributes of the mesh that has
    // other weights and what was put behind the lists; the bytes that were there are where they were.
    void allElseStays() {
        const std::string file = path("kid ü.glb").toStdString();
        QVERIFY(writeFile(file, withExtras()));
        const auto c = readCharacter(file);
        QVERIFY2(c, c ? "" : c.error().c_str());
        const SkinWeights wanted = other(*c);
        const auto edited = editWeights(file, *c, wanted);
        QVERIFY2(edited, edited ? "" : edited.error().c_str());
        Chunks was = apart(*readFile(file)), is = apart(edited->bytes);
        QCOMPARE(is.bin.substr(0, was.bin.size()), was.bin);
        QCOMPARE(is.document["buffers"][0]["byteLength"].get<std::size_t>(), is.bin.size());
        int touched = 0;
        for (std::size_t m = 0; m < was.document["meshes"].size(); ++m)
            for (std::size_t p = 0; p < was.document["meshes"][m]["primitives"].size(); ++p) {
                json &a = was.document["meshes"][m]["primitives"][p]["attributes"],
                     &b = is.document["meshes"][m]["primitives"][p]["attributes"];
                touched += a != b;
                for (json* attributes : {&a, &b})
                    for (const char* key : {"JOINTS_0", "WEIGHTS_0", "JOINTS_1", "WEIGHTS_1"})
                        attributes->erase(key);
            }
        QVERIFY(touched > 0);
        for (const char* list : {"accessors", "bufferViews"}) {
            QVERIFY(is.document[list].size() > was.document[list].size());
            is.document[list].erase(is.document[list].begin() +
                                        static_cast<std::ptrdiff_t>(was.document[list].size()),
                                    is.document[list].end());
        }
        was.document["buffers"][0]["byteLength"] = is.document["buffers"][0]["byteLength"];
        QVERIFY(was.document == is.document);

        const std::string to = path("mended.glb").toStdString();
        QVERIFY(writeFile(to, edited->bytes));
        const auto again = readCharacter(to);
        QVERIFY2(again, again ? "" : again.error().c_str());
        QVERIFY(farthest(again->weights, wanted) < 1e-7);
        for (std::uint32_t v = 0; v < c->vertexCount(); ++v)
            if (v % 4 != 1) // not changed: to the bit
                for (std::uint32_t i = c->weights.first[v]; i < c->weights.first[v + 1]; ++i)
                    QCOMPARE(shareOf(again->weights, v, c->weights.joint[i]),
                             shareOf(c->weights, v, c->weights.joint[i]));
        for (std::size_t v = 0; v < c->neutral.size(); ++v) // skinned in the bind pose: but for rounding
            QVERIFY((again->neutral[v] - c->neutral[v]).norm() < 1e-5f);
        QVERIFY(again->triangles == c->triangles);
    }

    void whereNothingChangedTheFileIsTheFile() {
        const std::string file = HOBBLE_DEMO_DIR "/pack-goat.glb";
        const auto c = readCharacter(file);
        QVERIFY(c);
        const auto edited = editWeights(file, *c, c->weights);
        QVERIFY(edited);
        QVERIFY(edited->bytes == *readFile(file));
    }

    void asWholeNumbersTheSumsAreExact_data() {
        QTest::addColumn<int>("as");
        QTest::addColumn<int>("whole");
        QTest::newRow("8 bits") << static_cast<int>(WeightsAs::Unorm8) << 255;
        QTest::newRow("16 bits") << static_cast<int>(WeightsAs::Unorm16) << 65535;
    }

    void asWholeNumbersTheSumsAreExact() {
        QFETCH(int, as);
        QFETCH(int, whole);
        const std::string file = HOBBLE_DEMO_DIR "/pack-goat.glb", to = path("whole.glb").toStdString();
        const auto c = readCharacter(file);
        QVERIFY(c);
        const auto edited = editWeights(file, *c, other(*c), 4, static_cast<WeightsAs>(as));
        QVERIFY2(edited, edited ? "" : edited.error().c_str());
        const Chunks is = apart(edited->bytes);
        bool seen = false;
        for (const json& mesh : is.document["meshes"])
            for (const json& p : mesh["primitives"]) {
                if (!p["attributes"].contains("WEIGHTS_0"))
                    continue;
                const json& a = is.document["accessors"][p["attributes"]["WEIGHTS_0"].get<std::size_t>()];
                if (a["componentType"] != (whole == 255 ? 5121 : 5123))
                    continue;
                seen = true;
                QVERIFY(a["normalized"].get<bool>());
                QVERIFY(!p["attributes"].contains("WEIGHTS_1")); // four were asked for
                const std::size_t at =
                    is.document["bufferViews"][a["bufferView"].get<std::size_t>()]["byteOffset"];
                for (std::size_t v = 0; v < a["count"].get<std::size_t>(); ++v) {
                    int sum = 0;
                    for (std::size_t k = 0; k < 4; ++k)
                        if (whole == 255)
                            sum += static_cast<unsigned char>(is.bin[at + 4 * v + k]);
                        else {
                            std::uint16_t n;
                            std::memcpy(&n, is.bin.data() + at + 8 * v + 2 * k, 2);
                            sum += n;
                        }
                    QCOMPARE(sum, whole);
                }
            }
        QVERIFY(seen);
        QVERIFY(writeFile(to, edited->bytes));
        const auto again = readCharacter(to);
        QVERIFY(again);
        QVERIFY(farthest(again->weights, other(*c), 4) < 1.5 / whole);
    }

    // A .gltf with its data beside it: what is new comes in a buffer of its own.
    void asText() {
        Chunks c = apart(*readFile(HOBBLE_DEMO_DIR "/pack-goat.glb"));
        c.document["buffers"][0]["uri"] = "goat.bin";
        QVERIFY(writeFile(path("goat.bin").toStdString(), c.bin));
        const std::string file = path("goat.gltf").toStdString(), to = path("goat-2.gltf").toStdString();
        QVERIFY(writeFile(file, c.document.dump()));
        const auto goat = readCharacter(file);
        QVERIFY2(goat, goat ? "" : goat.error().c_str());
        Character mended = *goat;
        mended.weights = other(*goat);
        const auto notes = writeMended(*goat, mended, to);
        QVERIFY2(notes, notes ? "" : notes.error().c_str());
        QVERIFY(notes->empty());
        QCOMPARE(json::parse(*readFile(to))["buffers"].size(), std::size_t(2));
        const auto again = readCharacter(to);
        QVERIFY2(again, again ? "" : again.error().c_str());
        QVERIFY(farthest(again->weights, mended.weights) < 1e-7);
        QVERIFY(!writeMended(*goat, mended, path("goat-2.glb").toStdString()));
    }

    // A joint that stands elsewhere and turns about other axes: it is there in the file that is written, all
    // others are where they were, the skin in neutral as before, and a pose is what the moved character's is.
    // A character with shapes and a clip that sets them: what steps add comes back as it was made, and all
    // else is as it was.
    void addedJointsShapesAndDrivers_data() {
        QTest::addColumn<QString>("name");
        QTest::addColumn<QString>("joint");
        QTest::newRow("a biped with correctives") << "badger-postmaster"
                                                  << "forearm.L";
        QTest::newRow("a face with shapes") << "lighthouse-newt"
                                            << "jaw";
    }
    void addedJointsShapesAndDrivers() {
        QFETCH(QString, name);
        QFETCH(QString, joint);
        const std::string file = path("shaped.glb").toStdString(), to = path("shaped-2.glb").toStdString();
        QVERIFY(writeFile(file, *readFile(HOBBLE_DEMO_DIR "/" + name.toStdString() + ".glb")));
        const auto c = readCharacter(file);
        QVERIFY2(c, c ? "" : c.error().c_str());
        const auto s = std::make_shared<const Subject>(prepareSubject(std::make_shared<const Character>(*c)));
        Step shape, helper, ease;
        shape.kind = StepKind::Correct;
        shape.joint = joint.toStdString();
        shape.axis = Vec3d::UnitX();
        shape.degrees = 25;
        shape.correctBy = CorrectBy::Inflate;
        shape.amount = 0.003;
        shape.place.what = MendPlace::What::Reach;
        shape.place.joint = joint.toStdString();
        helper = shape;
        helper.kind = StepKind::Helper;
        helper.amount = 0.4;
        helper.strength = 0.5;
        helper.at = c->skeleton.place(c->skeleton.find(shape.joint));
        TriedSteps tried(s);
        Trial trial;
        trial.steps = {shape, helper};
        tried.take(trial);
        for (const StepEffect& e : tried.effects())
            QVERIFY2(e.applies, e.why.c_str());
        const auto made = tried.character();
        const auto notes = writeMended(*c, *made, to);
        QVERIFY2(notes, notes ? "" : notes.error().c_str());
        const auto again = readCharacter(to);
        QVERIFY2(again, again ? "" : again.error().c_str());
        QVERIFY2(again->notes.size() == c->notes.size(),
                 again->notes.empty() ? "" : again->notes.back().c_str());
        QCOMPARE(again->skeleton.size(), c->skeleton.size() + 1);
        QCOMPARE(again->drivers.size(), made->drivers.size());
        for (std::size_t p = 0; p < c->parts.size(); ++p) {
            QCOMPARE(again->parts[p].targets.size(), made->parts[p].targets.size());
            for (std::size_t t = 0; t < made->parts[p].targets.size(); ++t)
                QCOMPARE(again->parts[p].targets[t].name, made->parts[p].targets[t].name);
        }
        // the shapes alone: one file for each part that the step reached, every vertex of it, some of them
        // moved
        const auto written = writeNewShapes(*c, *made, path("shapes").toStdString());
        QVERIFY2(written, written ? "" : written.error().c_str());
        std::size_t added = 0;
        for (std::size_t p = 0; p < c->parts.size(); ++p)
            for (std::size_t t = c->parts[p].targets.size(); t < made->parts[p].targets.size(); ++t) {
                const auto text = readFile(path("shapes").toStdString() + "/" + (*written)[added++]);
                QVERIFY2(text, text ? "" : text.error().c_str());
                std::istringstream lines(*text);
                std::vector<Vec3> at;
                for (std::string line; std::getline(lines, line);)
                    if (float x, y, z; std::sscanf(line.c_str(), "v %f %f %f", &x, &y, &z) == 3)
                        at.emplace_back(x, y, z);
                QCOMPARE(at.size(), std::size_t(c->parts[p].vertexCount));
                const ShapeTarget& whole = made->parts[p].targets[t];
                for (std::uint32_t v = 0; v < at.size(); ++v) {
                    const auto i = std::lower_bound(whole.vertex.begin(), whole.vertex.end(), v);
                    Vec3 expected = c->bindPosition[c->parts[p].firstVertex + v];
                    if (i != whole.vertex.end() && *i == v)
                        expected += whole.delta[static_cast<std::size_t>(i - whole.vertex.begin())];
                    QVERIFY((at[v] - expected).norm() <= 1e-6f * (1 + expected.norm()));
                }
            }
        QCOMPARE(written->size(), added);
        QVERIFY(added > 0);
        // The joints may stand in another order: poses are set by name.
        const auto posed = [&](const Character& of) {
            Pose pose = Pose::neutral(of.skeleton);
            pose.turn[static_cast<std::size_t>(of.skeleton.find(shape.joint))] = Quat(Eigen::AngleAxisd(
                radians(25),
                rotationOf(of.skeleton.neutralWorld[static_cast<std::size_t>(of.skeleton.find(shape.joint))])
                        .inverse() *
                    Vec3d::UnitX()));
            std::vector<Vec3> out;
            deform(of, pose, Skinning::Linear, out);
            return out;
        };
        const auto a = posed(*again), b = posed(*made);
        QCOMPARE(a.size(), b.size());
        float most = 0;
        for (std::size_t v = 0; v < a.size(); ++v)
            most = std::max(most, (a[v] - b[v]).norm());
        QVERIFY2(most < 1e-4f, qPrintable(QString::number(double(most))));
        // Clips set the shapes that were there as before, and none of those that are new.
        QCOMPARE(again->clips.size(), c->clips.size());
        for (std::size_t k = 0; k < c->clips.size(); ++k)
            for (const ClipChannel& was : c->clips[k].channels) {
                if (was.path != ClipChannel::Path::Weights)
                    continue;
                const auto is = std::find_if(
                    again->clips[k].channels.begin(), again->clips[k].channels.end(),
                    [&](const ClipChannel& x) { return x.path == was.path && x.part == was.part; });
                QVERIFY(is != again->clips[k].channels.end());
                const auto part = static_cast<std::size_t>(was.part);
                const std::size_t before = c->parts[part].targets.size(),
                                  now = again->parts[part].targets.size();
                QCOMPARE(is->value.size() / now, was.value.size() / before);
                for (std::size_t i = 0; i < is->value.size(); ++i)
                    QCOMPARE(is->value[i], i % now < before ? was.value[i / now * before + i % now] : 0.f);
            }
        const Chunks was = apart(*readFile(file)), is = apart(*readFile(to));
        QCOMPARE(is.bin.substr(0, was.bin.size()), was.bin);
        QVERIFY(is.document["scenes"] == was.document["scenes"]);
        QCOMPARE(is.document["nodes"].size(), was.document["nodes"].size() + 1);
    }

    void movedJoints() {
        const std::string file = path("moved.glb").toStdString(), to = path("moved-2.glb").toStdString();
        QVERIFY(writeFile(file, withExtras()));
        const auto c = readCharacter(file);
        QVERIFY2(c, c ? "" : c.error().c_str());
        const int joint = c->skeleton.parent[static_cast<std::size_t>(c->skeleton.size() - 1)];
        QVERIFY(joint >= 0 && c->skeleton.parent[static_cast<std::size_t>(joint)] >= 0);
        Character moved = *c;
        Transform world = c->skeleton.neutralWorld[static_cast<std::size_t>(joint)];
        world.translation() += Vec3d(0.01, 0.02, -0.03);
        world.linear() = Quat(Eigen::AngleAxisd(0.4, Vec3d(1, 2, 2) / 3)).toRotationMatrix() * world.linear();
        moveJoint(moved, joint, world);
        const auto notes = writeMended(*c, moved, to);
        QVERIFY2(notes, notes ? "" : notes.error().c_str());
        const auto again = readCharacter(to);
        QVERIFY2(again, again ? "" : again.error().c_str());
        QCOMPARE(again->skeleton.size(), c->skeleton.size());
        for (int j = 0; j < c->skeleton.size(); ++j) {
            const auto k = static_cast<std::size_t>(j);
            QVERIFY2(
                (again->skeleton.neutralWorld[k].matrix() - moved.skeleton.neutralWorld[k].matrix()).norm() <
                    2e-5,
                c->skeleton.name[k].c_str());
            if (j != joint)
                QVERIFY((again->skeleton.place(j) - c->skeleton.place(j)).norm() < 1e-5);
        }
        for (std::size_t v = 0; v < c->neutral.size(); ++v)
            QVERIFY((again->neutral[v] - c->neutral[v]).norm() < 2e-5f);
        Pose pose = Pose::neutral(c->skeleton);
        pose.turn[static_cast<std::size_t>(joint)] = Quat(Eigen::AngleAxisd(1.1, Vec3d(2, 1, 2) / 3));
        std::vector<Vec3> a, b;
        deform(*again, pose, Skinning::Linear, a);
        deform(moved, pose, Skinning::Linear, b);
        QCOMPARE(a.size(), b.size());
        for (std::size_t v = 0; v < a.size(); ++v)
            QVERIFY((a[v] - b[v]).norm() < 5e-5f);
        // nothing else in the document is another
        Chunks was = apart(*readFile(file)), is = apart(*readFile(to));
        QCOMPARE(is.bin.substr(0, was.bin.size()), was.bin);
        int nodes = 0;
        for (std::size_t n = 0; n < was.document["nodes"].size(); ++n)
            nodes += was.document["nodes"][n] != is.document["nodes"][n];
        QVERIFY(nodes >= 2 && nodes < 6); // the joint and what hangs from it
        QVERIFY(was.document["meshes"] == is.document["meshes"]);
        QVERIFY(was.document["extras"] == is.document["extras"]);
        for (std::size_t s = 0; s < is.document["skins"].size(); ++s) {
            const auto view =
                is.document["accessors"][is.document["skins"][s]["inverseBindMatrices"].get<std::size_t>()]
                           ["bufferView"]
                               .get<std::size_t>();
            QVERIFY(!is.document["bufferViews"][view].contains("target") ||
                    was.document["skins"][s] == is.document["skins"][s]); // not of vertices
        }
    }

    void whatCannotBe() {
        const std::string file = path("goat.glb").toStdString();
        QVERIFY(writeFile(file, *readFile(HOBBLE_DEMO_DIR "/pack-goat.glb")));
        const auto c = readCharacter(file);
        QVERIFY(c);
        QVERIFY(!editWeights(file, *c, SkinWeights{})); // another mesh
        QVERIFY(writeFile(file, withExtras()));         // somebody saved over it meanwhile
        const auto late = editWeights(file, *c, other(*c));
        QVERIFY(!late && QByteArray(late.error().c_str()).contains("no longer"));
        QVERIFY(!editWeights(path("none.glb").toStdString(), *c, other(*c)));
    }

    void base64BothWays() {
        for (std::size_t n = 0; n < 40; ++n) {
            std::string bytes;
            for (std::size_t i = 0; i < n; ++i)
                bytes += static_cast<char>(i * 37 + n);
            QCOMPARE(fromBase64(toBase64(bytes)), bytes);
        }
        QVERIFY(fromBase64("not base 64!").empty());
    }
};

HOBBLE_TEST(TestGltfEdit)
#include "test_gltf_edit.moc"
