// What is done after skinning, and skin by another method: into a build and back.
#include "core/deform/deformer.h"
#include "core/deform/detail_smoothing.h"
#include "core/mend/trial.h"
#include "io/character_read.h"
#include "io/deform_json.h"
#include "io/file_read.h"
#include "io/gltf_edit.h"
#include "io/gltf_write.h"
#include "io/trial_json.h"
#include "support/suite.h"
#include "support/tube.h"

#include <QTemporaryDir>
#include <QTest>
#include <nlohmann/json.hpp>

using namespace hobble;
using namespace hobble::test;

class TestDeformJson : public QObject {
    Q_OBJECT

    QTemporaryDir folder_;
    std::string path(const char* name) const { return folder_.filePath(QLatin1String(name)).toStdString(); }

    static std::vector<Vec3> bent(const Character& c, Skinning method) {
        Pose pose = Pose::neutral(c.skeleton);
        pose.turn[static_cast<std::size_t>(c.skeleton.find("forearm.L"))] = turnXyz(70, 20, 0);
        std::vector<Vec3> out;
        deform(c, pose, method, out);
        return out;
    }
    static Step overTheElbow(StepKind kind, double amount) {
        Step out;
        out.kind = kind;
        out.place.what = MendPlace::What::Stroke;
        out.place.path = {Vec3(0, 0, 0.1f), Vec3(0.07f, 0, 0.07f)};
        out.place.radius = 0.15;
        out.count = 6;
        out.amount = amount;
        return out;
    }

private slots:
    void intoABuildAndBack() {
        Character built = tube({.blendHalf = 0.03, .sides = 20, .rings = 60});
        QVERIFY(writeGlb(built, path("tube.glb")));
        const auto c = readCharacter(path("tube.glb"));
        QVERIFY2(c, c ? "" : c.error().c_str());
        QVERIFY(!c->extras.any());
        const auto s = std::make_shared<const Subject>(prepareSubject(std::make_shared<const Character>(*c)));
        Trial trial;
        trial.steps = {overTheElbow(StepKind::SmoothAfter, 0.4), overTheElbow(StepKind::Method, 0.8)};
        // the trial itself comes back as it was
        const auto read = trialFromJson(trialToJson(trial, s->surface), s->surface);
        QVERIFY2(read, read ? "" : read.error().c_str());
        QCOMPARE(int(read->steps[0].kind), int(StepKind::SmoothAfter));
        QCOMPARE(int(read->steps[1].kind), int(StepKind::Method));
        QCOMPARE(read->steps[0].count, 6);
        QCOMPARE(read->steps[1].amount, 0.8);
        TriedSteps tried(s);
        tried.take(*read);
        for (const StepEffect& e : tried.effects())
            QVERIFY2(e.applies && e.shapes && !e.skeleton && e.changed.empty(), e.why.c_str());
        const auto mended = tried.character();
        QVERIFY(mended->hash != c->hash);
        const auto notes = writeMended(*c, *mended, path("mended.glb"));
        QVERIFY2(notes, notes ? "" : notes.error().c_str());
        QVERIFY(!notes->empty() && notes->back().find("by hand") != std::string::npos); // not hidden
        const auto again = readCharacter(path("mended.glb"));
        QVERIFY2(again, again ? "" : again.error().c_str());
        QVERIFY(again->notes.size() == c->notes.size());
        QVERIFY(again->extras.dualShare == mended->extras.dualShare);
        QCOMPARE(again->extras.smoothing.size(), std::size_t(1));
        QVERIFY(again->extras.smoothing[0]->amounts() == mended->extras.smoothing[0]->amounts());
        for (Skinning method : {Skinning::Linear, Skinning::DualQuaternion}) {
            const auto a = bent(*mended, method), b = bent(*again, method), plain = bent(*c, method);
            double apart = 0, changed = 0;
            for (std::size_t v = 0; v < a.size(); ++v) {
                apart = std::max(apart, static_cast<double>((a[v] - b[v]).norm()));
                changed = std::max(changed, static_cast<double>((a[v] - plain[v]).norm()));
            }
            QVERIFY2(apart < 1e-5, qPrintable(QString::number(apart)));
            QVERIFY(changed > 1e-3);
        }
        // and goes out of it again where the steps are taken back
        const auto back = writeMended(
            *again,
            [&] {
                Character none = *again;
                none.extras = {};
                return none;
            }(),
            path("back.glb"));
        QVERIFY2(back, back ? "" : back.error().c_str());
        QVERIFY(!readCharacter(path("back.glb"))->extras.any());
        // written anew, as a build of another format is
        QVERIFY(writeGlb(*mended, path("anew.glb")));
        QVERIFY(readCharacter(path("anew.glb"))->extras.dualShare == mended->extras.dualShare);
    }

    void whatCannotBeUsedIsTold_data() {
        QTest::addColumn<QByteArray>("text");
        QTest::newRow("no such part") << QByteArray(
            R"({"smoothing": [{"passes": 3, "strength": 0.5, "where": [{"part": "coat", "vertices": [0], "amounts": [1]}]}]})");
        QTest::newRow("passes") << QByteArray(
            R"({"smoothing": [{"passes": 100000, "strength": 0.5, "where": []}]})");
        QTest::newRow("too few amounts") << QByteArray(
            R"({"smoothing": [{"passes": 3, "strength": 0.5, "where": [{"part": "body", "vertices": [0, 1], "amounts": [1]}]}]})");
        QTest::newRow("vertices beyond the part") << QByteArray(
            R"({"dualQuaternions": [{"part": "body", "vertices": [99999999], "ofLinear": [1], "ofDual": [1]}]})");
        QTest::newRow("shares beyond one") << QByteArray(
            R"({"dualQuaternions": [{"part": "body", "vertices": [1], "ofLinear": [7], "ofDual": [1]}]})");
        QTest::newRow("another type") << QByteArray(R"({"smoothing": [7], "dualQuaternions": "all"})");
    }
    void whatCannotBeUsedIsTold() {
        QFETCH(QByteArray, text);
        const Character c = tube({.sides = 8, .rings = 8});
        std::vector<std::string> notes;
        const DeformExtras read = deformFromJson(nlohmann::json::parse(text.toStdString()), c, notes);
        QVERIFY(!read.any());
        QVERIFY(!notes.empty());
        QVERIFY(notes[0].find("left out") != std::string::npos);
    }
};

HOBBLE_TEST(TestDeformJson)
#include "test_deform_json.moc"
