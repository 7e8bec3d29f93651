// Broken files are refused with a message that names the file and the cause, or opened; never a crash, a hang
// or a number that is not finite. Built with the sanitizers too (preset "sanitize").
#include "core/run/run.h"
#include "io/character_read.h"
#include "io/plan_json.h"
#include "support/gltf_builder.h"
#include "support/suite.h"
#include "support/tube.h"

#include <QElapsedTimer>
#include <QTemporaryDir>
#include <QTest>
#include <random>

using namespace hobble;
using namespace hobble::test;
using nlohmann::json;

class TestBadFiles : public QObject {
    Q_OBJECT

    QTemporaryDir folder_;

    Result<Character> open(const std::string& content, const char* name = "broken.glb") {
        const std::string path = folder_.filePath(QString::fromLatin1(name)).toStdString();
        GltfBuilder::save(path, content);
        return readCharacter(path);
    }

    // `words` must be in the message, and the file's name as well.
    void refused(const std::string& content, const char* words, const char* name = "broken.glb") {
        const auto c = open(content, name);
        QVERIFY2(!c, "it was opened");
        QVERIFY2(c.error().find(words) != std::string::npos, c.error().c_str());
        QVERIFY2(c.error().find(name) != std::string::npos, c.error().c_str());
    }

private slots:
    void unreadable() {
        QVERIFY(readCharacter("/nowhere/at all.glb").error().find("no such file") != std::string::npos);
        QVERIFY(readCharacter(folder_.path().toStdString()).error().find("folder") != std::string::npos);
        refused("", "empty");
        refused("solid cube\n", "neither a .glb nor a .gltf");
        refused("gltF" + Bar().build().glb().substr(4), "neither");
        refused("{ \"asset\": ", "JSON", "torn.gltf");
    }

    void truncated() {
        const std::string whole = Bar().build().glb();
        for (std::size_t n : {5ul, 12ul, 19ul, 40ul, whole.size() / 2, whole.size() - 40})
            QVERIFY(!open(whole.substr(0, n)));
    }

    // What nests without end would take the stack of whoever calls itself for each level.
    void nestedWithoutEnd() {
        for (const char* open : {"[", "{\"a\":"}) {
            const std::string close = open[0] == '[' ? "]" : "}";
            std::string in, out;
            for (int i = 0; i < 200000; ++i) {
                in += open;
                out += close;
            }
            GltfBuilder b = Bar().build();
            b.doc["extras"] = 1;
            for (const bool binary : {true, false}) {
                std::string text = b.json();
                const std::string was = "\"extras\":1";
                text.replace(text.find(was), was.size(), "\"extras\":" + in + "1" + out);
                if (binary)
                    refused(b.glb(text), "nests deeper");
                else
                    refused(text, "nests deeper", "deep.gltf");
            }
        }
        GltfBuilder b = Bar().build(); // brackets in words are no nesting
        b.doc["extras"]["note"] = std::string(500, '[') + "\"" + std::string(500, '{');
        QVERIFY(open(b.glb()));
    }

    void brokenReferences() {
        auto with = [](auto&& change) {
            GltfBuilder b = Bar().build();
            change(b);
            return b.glb();
        };
        auto attributes = [](GltfBuilder& b) -> json& {
            return b.doc["meshes"][0]["primitives"][0]["attributes"];
        };
        refused(with([](GltfBuilder& b) { b.doc["accessors"][1]["count"] = 4000000000u; }), "claim");
        refused(with([](GltfBuilder& b) { b.doc["accessors"][1]["count"] = 9; }), "claim 9 elements");
        refused(with([&](GltfBuilder& b) { attributes(b)["POSITION"] = 99; }),
                "accessor that does not exist");
        refused(with([&](GltfBuilder& b) { attributes(b)["JOINTS_0"] = 1; }), "type that does not fit");
        refused(with([](GltfBuilder& b) { b.doc["nodes"][1]["children"] = {0}; }), "ancestor");
        refused(with([](GltfBuilder& b) { b.doc["nodes"][0]["children"] = {0}; }), "ancestor");
        refused(with([](GltfBuilder& b) {
                    b.doc["nodes"][0]["children"] = {1, 7};
                }),
                "child that does not exist");
        refused(with([](GltfBuilder& b) { b.doc["nodes"][2]["children"] = {1}; }), "two parents");
        refused(with([](GltfBuilder& b) { b.doc["nodes"][2]["mesh"] = 3; }), "mesh that does not exist");
        refused(with([](GltfBuilder& b) { b.doc["nodes"][2]["skin"] = 3; }), "skin that does not exist");
        refused(with([](GltfBuilder& b) {
                    b.doc["skins"][0]["joints"] = {0, 8};
                }),
                "joint that does not exist");
        refused(with([](GltfBuilder& b) { b.doc["bufferViews"][1]["buffer"] = 2; }), "buffer");
        refused(with([](GltfBuilder& b) { b.doc["bufferViews"][1]["byteLength"] = 1u << 30; }), "buffer");
        refused(with([](GltfBuilder& b) { b.doc["extensionsRequired"] = {"EXT_sealed_box"}; }),
                "EXT_sealed_box");
        refused(with([](GltfBuilder& b) {
                    b.doc["nodes"].erase(2);
                    b.doc["scenes"][0]["nodes"] = {0};
                }),
                "no mesh");
    }

    void brokenNumbers() {
        Bar bar;
        bar.triangles[7] = 80;
        refused(bar.build().glb(), "vertex 80");
        bar = {};
        bar.joints[4 * 6] = 7;
        refused(bar.build().glb(), "joint 7");
        bar = {};
        bar.positions[10] = std::numeric_limits<float>::quiet_NaN();
        refused(bar.build().glb(), "not finite");
        bar = {};
        bar.weights[0] = std::numeric_limits<float>::infinity();
        refused(bar.build().glb(), "not finite");
        bar = {};
        for (int i = 0; i < 11; ++i)
            bar.inverseBind[16 + i] = 0;
        refused(bar.build().glb(), "cannot be inverted");
        bar = {};
        bar.positions[0] = 3e38f;
        refused(bar.build().glb(), "beyond all bounds");
    }

    void missingBuffer() {
        GltfBuilder b = Bar().build();
        b.glb();
        b.doc["buffers"][0]["uri"] = "gone.bin";
        refused(b.doc.dump(), "gone.bin", "lonely.gltf");
    }

    // Bytes and JSON values of a good file changed at random: opened or refused, and if opened, runnable.
    void mutated() {
        std::mt19937 random(2026);
        auto upTo = [&](std::size_t n) { return std::size_t(random() % n); };
        const std::string whole = Bar().build().glb();
        int opened = 0;
        QElapsedTimer clock;
        clock.start();
        for (int i = 0; i < 400; ++i) {
            std::string content;
            if (i % 2) {
                content = whole;
                for (std::size_t k = 0; k <= upTo(6); ++k)
                    content[upTo(content.size())] = char(random());
                if (i % 10 == 1)
                    content.resize(upTo(content.size()));
            } else {
                GltfBuilder b = Bar().build();
                json flat = b.doc.flatten();
                for (std::size_t k = 0; k <= upTo(2); ++k) {
                    auto it = flat.begin();
                    std::advance(it, upTo(flat.size()));
                    const json choices[] = {-1,    0,   1,       3,    65535,        4294967295u,
                                            1e300, "x", nullptr, true, json::array()};
                    *it = choices[upTo(std::size(choices))];
                }
                try {
                    b.doc = flat.unflatten();
                    content = b.glb();
                } catch (const json::exception&) {
                    continue; // the change took the document's own frame away
                }
            }
            auto c = open(content);
            if (!c) {
                QVERIFY(c.error().find("broken.glb") != std::string::npos);
                continue;
            }
            ++opened;
            const Subject s = subjectOf(std::move(*c));
            const RunResult run = runPlan(s, defaultPlan(*s.character, s.roles));
            for (const MotionResult& m : run.motions)
                for (const StepResult& step : m.steps)
                    for (const JointStep& j : step.joints)
                        QVERIFY(std::isfinite(j.measures.stretch) && std::isfinite(j.measures.squash));
        }
        qInfo("%d of 400 mutated files still opened, %lld ms", opened, clock.elapsed());
        QVERIFY(opened > 20); // or the changes would be too coarse to test much
    }

    void mutatedPlans() {
        const Character c = tube();
        const Plan plan = turnPlan(Vec3d::UnitX(), {0, 30, 0});
        const std::string good = planToJson(plan, c);
        QVERIFY(planFromJson(good, c).ok());
        std::mt19937 random(3);
        for (int i = 0; i < 400; ++i) {
            std::string text = good;
            for (int k = 0; k < 3; ++k)
                text[random() % text.size()] = char(random() % 96 + 32);
            const auto p = planFromJson(text, c);
            if (!p) {
                QVERIFY(!p.error().empty());
                continue;
            }
            for (const Motion& m : p->motions) { // whatever is let through can be run
                QVERIFY(!m.turns.empty() && !m.steps.empty());
                for (const JointTurn& t : m.turns) {
                    QVERIFY(t.joint >= 0 && t.joint < c.skeleton.size());
                    QVERIFY(std::abs(t.axis.norm() - 1) < 1e-9 && std::isfinite(t.share));
                }
                for (double d : m.steps)
                    QVERIFY(std::isfinite(d));
            }
        }
        QVERIFY(planFromJson("{}", c).error().find("not a Hobble plan") != std::string::npos);
        std::string other = good;
        other.replace(other.find("forearm.L"), 9, "someone.L");
        QVERIFY(planFromJson(other, c).error().find("someone.L") != std::string::npos);
    }
};

HOBBLE_TEST(TestBadFiles)
#include "test_bad_files.moc"
