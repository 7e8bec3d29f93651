// The files a run leaves for other programs and for people.
#include "core/run/run.h"
#include "core/words/finding_words.h"
#include "io/character_read.h"
#include "io/content_hash.h"
#include "io/file_write.h"
#include "io/run_curves.h"
#include "io/run_json.h"
#include "support/suite.h"
#include "support/tube.h"

#include <QFile>
#include <QTemporaryDir>
#include <QTest>
#include <nlohmann/json.hpp>

using namespace hobble;
using namespace hobble::test;

class TestRunFiles : public QObject {
    Q_OBJECT

private slots:
    void csvHasARowForEachStep() {
        TubeSpec spec;
        spec.tipName = "fore, \"arm\".L"; // as names go
        const Subject s = subjectOf(tube(spec));
        const RunResult r = runPlan(s, turnPlan(Vec3d::UnitX(), {0, 45, 90, 0}));
        const QStringList lines = QString::fromStdString(runToCsv(s, r)).trimmed().split('\n');
        QCOMPARE(lines.size(), 5);
        QVERIFY(lines[0].startsWith(QStringLiteral("joint,side,role,motion,step,degrees,stretch")));
        QVERIFY(lines[3].startsWith(QStringLiteral("\"fore, \"\"arm\"\".L\",left,elbow,turn,2,90,")));
        const QStringList numbers = lines[3].mid(lines[3].lastIndexOf(QStringLiteral("turn,"))).split(',');
        const JointStep& j = r.motions[0].steps[2].joints[0];
        QVERIFY(std::abs(numbers[3].toDouble() - j.measures.stretch) < 1e-4);
        QVERIFY(std::abs(numbers[7].toDouble() - *j.measures.volume) < 1e-4);
        QVERIFY(std::abs(numbers[9].toDouble() - *j.measures.pinch) < 1e-4);
    }

    // What the log keeps of a run comes back to five figures, on a skeleton in another order too.
    void curvesComeBack() {
        const Subject s = subjectOf(tube());
        const RunResult r = runPlan(s, turnPlan(Vec3d::UnitX(), {0, 45, 90, 0}));
        const std::string text = curvesToJson(s, r);
        const auto back = curvesFromJson(text, s.character->skeleton);
        QVERIFY2(back.ok(), back.error().c_str());
        const MotionResult& m = back->at("turn");
        QCOMPARE(m.steps.size(), r.motions[0].steps.size());
        const auto near = [](std::optional<double> a, std::optional<double> b) {
            return a.has_value() == b.has_value() &&
                   (!a || std::abs(*a - *b) <= 1e-4 * std::max(1.0, std::abs(*b)));
        };
        for (std::size_t i = 0; i < m.steps.size(); ++i) {
            QCOMPARE(m.steps[i].at, r.motions[0].steps[i].at);
            QCOMPARE(m.steps[i].joints.size(), std::size_t(1));
            QCOMPARE(m.steps[i].joints[0].joint, r.motions[0].steps[i].joints[0].joint);
            const ZoneMeasures &a = m.steps[i].joints[0].measures,
                               &b = r.motions[0].steps[i].joints[0].measures;
            QVERIFY(near(a.stretch, b.stretch) && near(a.squash, b.squash) && near(a.shear, b.shear));
            for (Kind k : kKinds)
                QVERIFY2(near(valueOf(k, a), valueOf(k, b)), nameOf(k));
        }
        Skeleton other = s.character->skeleton;
        std::reverse(other.name.begin(), other.name.end());
        const auto turned = curvesFromJson(text, other);
        QCOMPARE(turned->at("turn").steps[0].joints[0].joint, 0);
        Skeleton stranger = other;
        stranger.name = {"tail", "snout"};
        QVERIFY(curvesFromJson(text, stranger)->at("turn").steps[0].joints.empty());
        // and without any skeleton, with what the joint is
        const auto alone = curvesFromJson(text);
        QVERIFY2(alone.ok(), alone.error().c_str());
        QCOMPARE(alone->roles.size(), std::size_t(1));
        const MotionResult& kept = alone->motions.at("turn");
        QCOMPARE(kept.steps[2].joints[0].joint, 0);
        QCOMPARE(alone->roles[0].role, s.roles[static_cast<std::size_t>(m.steps[2].joints[0].joint)].role);
        QCOMPARE(kept.steps[2].joints[0].measures.stretch, m.steps[2].joints[0].measures.stretch);
        QVERIFY(!curvesFromJson(text.substr(0, text.size() / 2)).ok());
    }

    void damagedCurvesAreTold() {
        const Subject s = subjectOf(tube());
        const std::string text = curvesToJson(s, runPlan(s, turnPlan(Vec3d::UnitX(), {0, 45, 90, 0})));
        for (std::size_t cut = 0; cut < text.size(); cut += 37)
            QVERIFY(!curvesFromJson(text.substr(0, cut), s.character->skeleton).ok());
        for (std::string wrong :
             {std::string("[]"), std::string("{\"format\":\"other\"}"),
              QString::fromStdString(text).replace("\"version\":1", "\"version\":7").toStdString(),
              QString::fromStdString(text).replace("\"stretch\":[1.0", "\"stretch\":[\"x\"").toStdString()})
            QVERIFY(!curvesFromJson(wrong, s.character->skeleton).ok());
    }

    void undefinedMeasuresAreNullAndSayWhy() {
        Character c = tube();
        const auto slit = [&](const Triangle& t) { return c.bindPosition[t[0]].x() < 0; };
        c.triangles.change([&](auto& all) { std::erase_if(all, slit); });
        c.parts[0].triangleCount = std::uint32_t(c.triangles.size());
        const Subject s = subjectOf(c);
        const RunResult r = runPlan(s, turnPlan(Vec3d::UnitX(), {0, 45, 0}));
        const auto j = nlohmann::json::parse(runToJson(s, r));
        QVERIFY(j["measurements"][1]["volume"].is_null());
        QVERIFY(j["joints"][0]["volumeUndefined"].is_string());
        QVERIFY(runToCsv(s, r).find("nan") == std::string::npos);
    }

    void inspection() {
        const Subject s = subjectOf(*readCharacter(HOBBLE_DEMO_DIR "/badger-postmaster.glb"));
        const auto j = nlohmann::json::parse(inspectToJson(s));
        std::size_t vertices = 0;
        for (const auto& p : j["parts"])
            vertices += p["vertices"].get<std::size_t>();
        QCOMPARE(vertices, j["vertices"].get<std::size_t>());
        QCOMPARE(j["surface"]["nonManifoldEdges"].get<int>(), 0); // the demo meshes are clean
        QCOMPARE(j["surface"]["doubledTriangles"].get<int>(), 0);
        QCOMPARE(j["surface"]["degenerateTriangles"].get<int>(), 0);
        for (const auto& joint : j["joints"])
            if (joint["joint"] == "hand.L")
                QCOMPARE(joint["mirror"].get<std::string>(), std::string("hand.R"));
    }

    void jointsInWords() {
        const Subject s = subjectOf(*readCharacter(HOBBLE_DEMO_DIR "/badger-postmaster.glb"));
        auto words = [&](const char* joint) {
            return QString::fromStdString(jointWords(s, s.character->skeleton.find(joint)));
        };
        QCOMPARE(words("forearm.L"), QStringLiteral("left elbow"));
        QCOMPARE(words("spine_2"), QStringLiteral("spine 2"));
        QCOMPARE(words("middle_1.R"), QStringLiteral("right middle base"));
        QCOMPARE(words("thumb_2.L"), QStringLiteral("left thumb middle"));
        QCOMPARE(words("head"), QStringLiteral("head"));
    }

    void filesAreWrittenWholeOrNotAtAll() {
        QTemporaryDir folder;
        const std::string path = folder.filePath(QStringLiteral("out.json")).toStdString();
        QVERIFY(writeFile(path, "one"));
        QVERIFY(writeFile(path, "two"));
        QFile f(QString::fromStdString(path));
        QVERIFY(f.open(QIODevice::ReadOnly));
        QCOMPARE(f.readAll(), QByteArray("two"));
        const auto nowhere = writeFile("/nowhere/at/all.json", "x");
        QVERIFY(nowhere.error().find("/nowhere/at/all.json") != std::string::npos);
        QVERIFY(!QFile::exists(QString::fromStdString(path) + QStringLiteral(".part")));
    }

    // Published values.
    void hashes() {
        ContentHash empty, abc;
        QCOMPARE(empty.hex(),
                 std::string("e3b0c44298fc1c149afbf4c8996fb92427ae41e4649b934ca495991b7852b855"));
        abc.add("a");
        abc.add("bc");
        const std::string known = "ba7816bf8f01cfea414140de5dae2223b00361a396177a9cb410ff61f20015ad";
        QCOMPARE(abc.hex(), known);
        QCOMPARE(abc.hex(), known); // asked again
        FormerHash none, a, b;
        QCOMPARE(none.hex(), std::string("cbf29ce484222325")); // the offset basis
        a.add("a");
        QCOMPARE(a.hex(), std::string("af63dc4c8601ec8c"));
        b.add("foo");
        b.add("bar");
        QCOMPARE(b.hex(), std::string("85944171f73967e8")); // of "foobar"
        QCOMPARE(cacheKey(""), std::string("99aa06d3014798d86001c324468d497f"));
        QVERIFY(cacheKey("a") != cacheKey("b"));
    }
};

HOBBLE_TEST(TestRunFiles)
#include "test_run_files.moc"
