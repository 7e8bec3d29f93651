// Plans and poses as files: what goes out comes in again, what another character lacks is told and left out,
// and two plans are told apart in words.
#include "core/pose/clip_frames.h"
#include "core/pose/clip_pose.h"
#include "core/pose/plan_diff.h"
#include "io/character_read.h"
#include "io/clip_read.h"
#include "io/plan_json.h"
#include "io/pose_json.h"
#include "support/suite.h"
#include "support/tube.h"

#include <QFile>
#include <QTemporaryDir>
#include <QTest>
#include <cstring>
#include <random>

using namespace hobble;
using namespace hobble::test;

class TestPlanFiles : public QObject {
    Q_OBJECT

    Character badger_, newt_;
    std::vector<JointRole> roles_;
    Plan plan_;

    static Character open(const char* name) {
        auto c = readCharacter(std::string(HOBBLE_DEMO_DIR "/") + name + ".glb");
        if (!c)
            qFatal("%s", c.error().c_str());
        return std::move(*c);
    }

private slots:
    void initTestCase() {
        badger_ = open("badger-postmaster");
        newt_ = open("lighthouse-newt");
        roles_ = guessRoles(badger_);
        plan_ = fullPlan(badger_, roles_);
        ChosenFrames frames{
            "walk", {4, 8}, {poseAt(badger_, badger_.clips[0], 3), poseAt(badger_, badger_.clips[0], 5)}};
        for (Motion& m : clipMotions(badger_, jointRanges(badger_, roles_, plan_), frames, BeyondPlan::Keep))
            plan_.motions.push_back(std::move(m));
        plan_.motions[2].on = false;
    }

    void planRoundTrip() {
        const auto back = planFromJson(planToJson(plan_, badger_), badger_);
        QVERIFY2(back, back.error().c_str());
        QVERIFY(planChanges(plan_, *back).empty());
        QCOMPARE(back->refineTo, plan_.refineTo);
        QCOMPARE(back->motions.size(), plan_.motions.size());
        for (std::size_t m = 0; m < plan_.motions.size(); ++m) {
            const Motion &a = plan_.motions[m], &b = back->motions[m];
            QCOMPARE(b.on, a.on);
            QCOMPARE(int(b.span), int(a.span));
            QCOMPARE(b.source, a.source);
            const double at = 0.6 * a.limit();
            const Pose p = poseAt(badger_.skeleton, a, at), q = poseAt(badger_.skeleton, b, at);
            for (std::size_t j = 0; j < p.turn.size(); ++j)
                QVERIFY(p.turn[j].angularDistance(q.turn[j]) < 1e-9);
            QCOMPARE(q.shift.size(), p.shift.size());
            QCOMPARE(q.targets.size(), p.targets.size());
        }
        const Plan faces = fullPlan(newt_, guessRoles(newt_));
        const auto face = planFromJson(planToJson(faces, newt_), newt_);
        QVERIFY(face && planChanges(faces, *face).empty());
    }

    // A plan for another character: what this one has stays usable.
    void planForAnother() {
        const std::string text = planToJson(plan_, badger_);
        QVERIFY(!planFromJson(text, newt_));
        std::vector<std::string> left;
        const auto some = planFromJson(text, newt_, &left);
        QVERIFY2(some, some.error().c_str());
        QVERIFY(!some->motions.empty() && some->motions.size() < plan_.motions.size());
        QCOMPARE(some->motions.size() + left.size(), plan_.motions.size());
        QVERIFY2(left[0].find("does not have") != std::string::npos, left[0].c_str());
    }

    void badPlans() {
        const auto edited = [&](const std::string& from, const std::string& to) {
            Plan one;
            one.motions.push_back(plan_.motions[0]);
            std::string text = planToJson(one, badger_);
            const auto at = text.find(from);
            if (at == std::string::npos)
                qFatal("no %s in %s", from.c_str(), text.c_str());
            text.replace(at, from.size(), to);
            return planFromJson(text, badger_);
        };
        QVERIFY(edited("\"version\": 2", "\"version\": 1")); // the one of before
        QVERIFY(edited("\"version\": 2", "\"version\": 3").error().find("version") != std::string::npos);
        QVERIFY(!edited("\"degrees\"", "\"degree\""));
        Plan twice;
        twice.motions = {plan_.motions[0], plan_.motions[0]};
        QVERIFY(planFromJson(planToJson(twice, badger_), badger_).error().find("twice") != std::string::npos);
        std::mt19937 random(5); // mutated: an error or a plan that can be posed
        Plan few;
        for (const Motion& m : plan_.motions)
            if (m.span != Span::Degrees && few.motions.size() < 2)
                few.motions.push_back(m);
        few.motions.push_back(plan_.motions.back());
        const std::string good = planToJson(few, badger_);
        int opened = 0;
        for (int i = 0; i < 300; ++i) {
            std::string text = good;
            for (int k = 0; k < 2; ++k) { // digits and signs, or any character
                const auto at = random() % text.size();
                text[at] = std::isdigit(static_cast<unsigned char>(text[at])) ? "0123456789-e."[random() % 13]
                                                                              : char(random() % 96 + 32);
            }
            std::vector<std::string> left;
            const auto p = planFromJson(text, badger_, &left);
            if (!p)
                continue;
            for (const Motion& m : p->motions) {
                ++opened;
                for (const Quat& q : poseAt(badger_.skeleton, m, m.limit()).turn)
                    QVERIFY(q.coeffs().allFinite());
            }
        }
        QVERIFY(opened > 20);
    }

    void changesInWords() {
        Plan now = plan_;
        now.motions.erase(now.motions.begin() + 1);
        const int flex = now.find("left-elbow-flex"), sit = now.find("pose-sit"),
                  raise = now.find("left-shoulder-raise");
        now.motions[std::size_t(flex)].steps = stepsTo(100);
        now.motions[std::size_t(sit)].turns[0].share *= 1.1;
        now.motions[std::size_t(raise)].on = false;
        Motion added = now.motions[0];
        added.id = "of-my-own";
        added.name = "of my own";
        added.side = Side::Middle;
        now.motions.push_back(added);
        const auto changes = planChanges(plan_, now);
        QStringList words;
        for (const PlanChange& c : changes)
            words << QString::fromStdString(c.words);
        QCOMPARE(changes.size(), std::size_t(5));
        QVERIFY2(words.contains(QStringLiteral("left elbow flex goes to 100° instead of %1°")
                                    .arg(plan_.motions[std::size_t(plan_.find("left-elbow-flex"))].limit())),
                 qPrintable(words.join('\n')));
        QVERIFY(words.contains(QStringLiteral("sit is another pose")));
        QVERIFY(words.contains(QStringLiteral("left shoulder raise is no longer tested")));
        QVERIFY(words.contains(QStringLiteral("of my own is new")));
        QVERIFY(words.filter(QStringLiteral("is gone")).size() == 1);
        QVERIFY(planChanges(now, now).empty());
    }

    void poseRoundTrip() {
        RolePose pose = rolePoseOf(badger_, roles_, poseAt(badger_, badger_.clips[0], 5), "reach");
        pose.picture = "aGVsbG8=";
        pose.shapes = {{"smile", 0.5}};
        const auto back = poseFromJson(poseToJson(pose));
        QVERIFY2(back, back.error().c_str());
        QCOMPARE(back->name, pose.name);
        QCOMPARE(back->picture, pose.picture);
        QCOMPARE(back->shapes.size(), std::size_t(1));
        const Pose a = poseFor(pose, badger_, roles_), b = poseFor(*back, badger_, roles_);
        for (std::size_t j = 0; j < a.turn.size(); ++j)
            QVERIFY(a.turn[j].angularDistance(b.turn[j]) < 1e-9);
        std::vector<std::string> missing; // the newt has no arms to put it on
        poseFor(*back, newt_, guessRoles(newt_), &missing);
        QVERIFY(!missing.empty());
        for (const char* bad : {"", "{}", "{\"format\":\"hobble-pose\",\"version\":9}",
                                "{\"format\":\"hobble-pose\",\"version\":1,\"joints\":[{\"role\":\"wheel\","
                                "\"turn\":[0,0,0,1],\"bone\":[0,0,0]}]}",
                                "{\"format\":\"hobble-pose\",\"version\":1,\"joints\":[{\"role\":\"hip\","
                                "\"turn\":[0,0,0,0],\"bone\":[0,0,0]}]}",
                                "{\"format\":\"hobble-pose\",\"version\":1,\"joints\":[{\"role\":\"hip\","
                                "\"parent\":0,\"turn\":[0,0,0,1],\"bone\":[0,0,0]}]}"})
            QVERIFY2(!poseFromJson(bad), bad);
    }

    void clipFiles() {
        const auto own = readClips(HOBBLE_DEMO_DIR "/badger-postmaster.glb");
        QVERIFY2(own, own ? "" : own.error().c_str());
        QCOMPARE(own->body.clips.size(), std::size_t(1));
        QVERIFY(own->frameCount(own->body.clips[0]) > 100);
        QVERIFY(!readClips("/nowhere/walk.bvh"));
        // a skeleton with a clip and no mesh: no character, but poses can be taken from it
        QTemporaryDir folder;
        const std::string bones = folder.filePath(QStringLiteral("bones.gltf")).toStdString();
        QFile file(QString::fromStdString(bones));
        QVERIFY(file.open(QIODevice::WriteOnly));
        QByteArray data(60, '\0');
        const float numbers[] = {0, 1, 2, 0, 0, 0, 1, 0, 0, 0.7071f, 0.7071f, 0, 0, 0, 1};
        std::memcpy(data.data(), numbers, sizeof numbers);
        QByteArray text =
            "{'asset':{'version':'2.0'},'scene':0,'scenes':[{'nodes':[0]}],'nodes':[{'name':'pelvis',"
            "'children':[1,2]},{'name':'spine_1','translation':[0,0.3,0]},{'name':'thigh.L',"
            "'translation':[0.1,0,0]}],'animations':[{'name':'wave','channels':[{'sampler':0,"
            "'target':{'node':1,'path':'rotation'}}],'samplers':[{'input':0,'output':1,"
            "'interpolation':'LINEAR'}]}],'bufferViews':[{'buffer':0,'byteOffset':0,'byteLength':12},"
            "{'buffer':0,'byteOffset':12,'byteLength':48}],'accessors':[{'bufferView':0,"
            "'componentType':5126,'count':3,'type':'SCALAR','min':[0],'max':[2]},{'bufferView':1,"
            "'componentType':5126,'count':3,'type':'VEC4'}],'buffers':[{'byteLength':60,"
            "'uri':'data:application/octet-stream;base64,";
        file.write(text.replace(char(39), char(34)) + data.toBase64() + "\"}]}");
        file.close();
        QVERIFY(readCharacter(bones).error().find("no mesh") != std::string::npos);
        const auto wave = readClips(bones);
        QVERIFY2(wave, wave ? "" : wave.error().c_str());
        QCOMPARE(wave->body.skeleton.size(), 3);
        QCOMPARE(wave->body.clips[0].channels.size(), std::size_t(1));
        QVERIFY(readClips(HOBBLE_DEMO_DIR "/demo-log.sqlite").error().find("Cannot") != std::string::npos);
        const auto map = jointMapFromJson(jointMapToJson({{"hand.L", "Wrist_L"}, {"tail_1", ""}}));
        QVERIFY(map && map->size() == 2 && map->at("tail_1").empty());
        QVERIFY(!jointMapFromJson("[]") &&
                !jointMapFromJson("{\"format\":\"hobble-joint-map\",\"version\":1}"));
        QCOMPARE(skeletonKey(own->body.skeleton), skeletonKey(badger_.skeleton));
        QVERIFY(skeletonKey(newt_.skeleton) != skeletonKey(badger_.skeleton));
    }
};

HOBBLE_TEST(TestPlanFiles)
#include "test_plan_files.moc"
