// Drivers, clips and sparse targets survive a round trip; bad drivers are told and left out; BVH says what
// the clip does.
#include "core/deform/deformer.h"
#include "core/pose/clip_pose.h"
#include "io/bvh_write.h"
#include "io/character_read.h"
#include "io/drivers_json.h"
#include "io/gltf_write.h"
#include "support/suite.h"
#include "support/tube.h"

#include <QFile>
#include <QTemporaryDir>
#include <QTest>
#include <nlohmann/json.hpp>

using namespace hobble;
using namespace hobble::test;

class TestDriversAndClips : public QObject {
    Q_OBJECT

    static Character driven() {
        Character c = tube();
        ShapeTarget t{"bump", {3, 70, 900}, {Vec3(0.1f, 0, 0), Vec3(0, 0.2f, 0), Vec3(0, 0, -0.1f)}};
        c.parts[0].targets = {t};
        c.parts[0].targetWeights = {0};
        Driver d;
        d.name = "bump at the bend";
        d.source = 1;
        d.about = Vec3d::UnitX();
        d.keys = {{0, 0}, {40, 1}, {90, 0.5}};
        d.output = Driver::Output::Target;
        d.part = d.target = 0;
        c.drivers = {d};
        Clip clip;
        clip.name = "bend";
        clip.seconds = 2;
        ClipChannel ch;
        ch.joint = 1;
        for (int k = 0; k <= 2; ++k) {
            const Quat q = rotationOf(c.skeleton.neutralLocal[1]) *
                           Quat(Eigen::AngleAxisd(radians(45 * k), Vec3d::UnitX()));
            ch.time.push_back(static_cast<float>(k));
            for (double x : {q.x(), q.y(), q.z(), q.w()})
                ch.value.push_back(static_cast<float>(x));
        }
        clip.channels = {ch};
        c.clips = {clip};
        return c;
    }

private slots:
    void roundTrip() {
        QTemporaryDir dir;
        const Character c = driven();
        const std::string path = dir.filePath(QStringLiteral("driven.glb")).toStdString();
        QVERIFY(writeGlb(c, path));
        const auto back = readCharacter(path);
        QVERIFY2(back, back ? "" : back.error().c_str());
        QVERIFY2(back->notes.empty(), back->notes.empty() ? "" : back->notes[0].c_str());
        QCOMPARE(back->drivers.size(), std::size_t(1));
        QCOMPARE(back->drivers[0].name, c.drivers[0].name);
        QCOMPARE(back->drivers[0].keys.size(), std::size_t(3));
        QCOMPARE(back->parts[0].targets.at(0).vertex, c.parts[0].targets[0].vertex);
        for (double seconds : {0.0, 0.4, 1.0, 1.7, 2.0, 5.0}) {
            const Pose a = poseAt(c, c.clips[0], seconds), b = poseAt(*back, back->clips.at(0), seconds);
            QVERIFY(std::abs(turnAbout(a.turn[1], Vec3d::UnitX()) - 45 * std::min(seconds, 2.0)) < 1e-3);
            std::vector<Vec3> p, q;
            deform(c, a, Skinning::Linear, p);
            deform(*back, b, Skinning::Linear, q);
            for (std::size_t v = 0; v < p.size(); ++v)
                QVERIFY((p[v] - q[v]).norm() < 1e-5f);
        }
    }

    void badDriversAreTold() {
        using nlohmann::json;
        const Character c = driven();
        const json good = driversToJson(c)[0];
        auto with = [&](const char* key, json value) {
            json j = good;
            j[key] = std::move(value);
            return j;
        };
        std::vector<std::string> notes;
        const auto list =
            driversFromJson(json::array({good, with("source", "nobody"), with("about", {0, 0, 0}),
                                         with("keys", json::array()), with("keys", {{10, 0}, {0, 1}}),
                                         with("output", "sing"), with("target", "none"), 7,
                                         json{{"name", "c"},
                                              {"source", "forearm.L"},
                                              {"about", {1, 0, 0}},
                                              {"keys", {{0, 0}, {1, 1}}},
                                              {"output", "turn"},
                                              {"joint", "forearm.L"},
                                              {"along", {1, 0, 0}}}}),
                            c, notes);
        QCOMPARE(list.size(), std::size_t(1));
        QCOMPARE(notes.size(), std::size_t(8));
        QVERIFY(notes[0].find("nobody") != std::string::npos);
        QVERIFY(notes.back().find("circle") != std::string::npos);
        notes.clear();
        QVERIFY(driversFromJson(json("no list"), c, notes).empty() && notes.size() == 1);
    }

    // drivers.json beside the build stands in place of what the file holds; a bad one is told and passed
    // over.
    void driversBesideTheBuild() {
        QTemporaryDir dir;
        Character c = driven();
        const std::string glb = dir.filePath(QStringLiteral("arm.glb")).toStdString();
        QVERIFY(writeGlb(c, glb));
        const auto plain = readCharacter(glb);
        QVERIFY(plain && !plain->drivers.empty());
        const auto beside = [&](const char* name, const QByteArray& text) {
            QFile f(dir.filePath(QLatin1String(name)));
            if (!f.open(QIODevice::WriteOnly))
                qFatal("cannot write");
            f.write(text);
        };
        beside(
            "drivers.json",
            R"([{"name":"by poses","source":"forearm.L","output":"turn","joint":"upper_arm.L","along":[0,1,0],
            "width":40,"poses":[{"turn":[0.7071,0,0,0.7071],"out":12},{"turn":[0,0,0.5,0.866],"out":-3}]},
            {"name":"lost","source":"nobody","about":[1,0,0],"keys":[[0,0]],"output":"turn","joint":"upper_arm.L","along":[1,0,0]},
            {"name":"twice","source":"forearm.L","output":"turn","joint":"upper_arm.L","along":[0,1,0],
            "poses":[{"turn":[0.5,0,0,0.866],"out":1},{"turn":[0.5,0,0,0.866],"out":2}]}])");
        const auto with = readCharacter(glb);
        QVERIFY2(with, with ? "" : with.error().c_str());
        QCOMPARE(with->drivers.size(), std::size_t(1));
        QCOMPARE(with->drivers[0].name, std::string("by poses"));
        QVERIFY(std::abs(posesOut(with->drivers[0], turnXyz(90, 0, 0)) - 12) < 0.05);
        QVERIFY(with->hash != plain->hash); // other drivers, another build
        QStringList notes;
        for (const std::string& n : with->notes)
            notes << QString::fromStdString(n);
        QVERIFY(notes.filter(QStringLiteral("nobody")).size() == 1);
        QVERIFY(notes.filter(QStringLiteral("two answers")).size() == 1);
        QVERIFY(notes.filter(QStringLiteral("in place of")).size() == 1);
        // written into the file and read again
        const std::string again = dir.filePath(QStringLiteral("sub.glb")).toStdString();
        QVERIFY(writeGlb(*with, again));
        // the one named like the build comes first
        beside("arm.drivers.json", "[]");
        QVERIFY(readCharacter(glb)->drivers.empty());
        beside("arm.drivers.json", "no list");
        const auto bad = readCharacter(glb);
        QVERIFY(bad && !bad->drivers.empty());
        QVERIFY(std::any_of(bad->notes.begin(), bad->notes.end(), [](const std::string& n) {
            return n.find("not a list of drivers") != std::string::npos;
        }));
        QFile::remove(dir.filePath(QStringLiteral("drivers.json")));
        const auto own = readCharacter(again);
        QVERIFY(own && own->drivers.size() == 1);
        QVERIFY(std::abs(posesOut(own->drivers[0], turnXyz(90, 0, 0)) - 12) < 0.05);
    }

    // Read back by hand: the channels of the second joint, Z X Y in degrees about the world's axes.
    void bvh() {
        QTemporaryDir dir;
        const Character c = driven();
        const QString path = dir.filePath(QStringLiteral("bend.bvh"));
        QVERIFY(writeBvh(c, c.clips[0], 1, path.toStdString()));
        QFile file(path);
        QVERIFY(file.open(QIODevice::ReadOnly));
        const QStringList lines =
            QString::fromUtf8(file.readAll()).split(QLatin1Char('\n'), Qt::SkipEmptyParts);
        QCOMPARE(lines.first(), QStringLiteral("HIERARCHY"));
        const int motion = static_cast<int>(lines.indexOf(QStringLiteral("MOTION")));
        QCOMPARE(lines[motion + 1], QStringLiteral("Frames: 3"));
        for (int f = 0; f < 3; ++f) {
            const QStringList n = lines[motion + 3 + f].split(QLatin1Char(' '));
            QCOMPARE(n.size(), 9);
            QVERIFY(std::abs(n[1].toDouble() + 0.8) < 1e-5); // where the root stands
            QVERIFY(std::abs(n[6].toDouble()) < 1e-3 && std::abs(n[7].toDouble() - 45 * f) < 1e-3 &&
                    std::abs(n[8].toDouble()) < 1e-3);
        }
        Character none;
        QVERIFY(!writeBvh(none, Clip{}, 30, path.toStdString()));
    }
};

HOBBLE_TEST(TestDriversAndClips)
#include "test_drivers_and_clips.moc"
