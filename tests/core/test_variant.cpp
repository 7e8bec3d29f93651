// Variants: parts off, shapes set, drivers off; the vertices keep their numbers, and the rest stays as it
// was.
#include "core/character/variant.h"
#include "core/deform/deformer.h"
#include "core/pose/balance.h"
#include "core/run/run.h"
#include "io/character_read.h"
#include "io/variant_json.h"
#include "support/suite.h"
#include "support/tube.h"

#include <QTest>

using namespace hobble;
using namespace hobble::test;

class TestVariant : public QObject {
    Q_OBJECT

    Character badger_;

private slots:
    void initTestCase() {
        auto c = readCharacter(HOBBLE_DEMO_DIR "/badger-postmaster.glb");
        QVERIFY2(c, c ? "" : c.error().c_str());
        badger_ = std::move(*c);
    }

    void nothingChangesNothing() {
        const Character c = varied(badger_, {});
        QCOMPARE(c.hash, badger_.hash);
        QCOMPARE(c.triangles.size(), badger_.triangles.size());
    }

    void withoutTheCoat() {
        Variant v;
        v.partsOff = {"coat", "no such part"};
        const Character c = varied(badger_, v);
        QCOMPARE(c.vertexCount(), badger_.vertexCount());
        std::size_t coat = 0;
        for (const Part& p : badger_.parts)
            coat += p.name == "coat" ? p.triangleCount : 0;
        QVERIFY(coat > 0);
        QCOMPARE(c.triangles.size(), badger_.triangles.size() - coat);
        QVERIFY(c.hash != badger_.hash);
        QVERIFY(c.notes.size() == badger_.notes.size() + 1);
        for (std::size_t p = 0; p < c.parts.size(); ++p)
            for (std::uint32_t t = c.parts[p].firstTriangle;
                 t < c.parts[p].firstTriangle + c.parts[p].triangleCount; ++t)
                for (std::uint32_t corner : c.triangles[t])
                    QVERIFY(corner >= c.parts[p].firstVertex &&
                            corner < c.parts[p].firstVertex + c.parts[p].vertexCount);
        // what pokes through the coat does so no more
        const Subject dressed = subjectOf(badger_), bare = subjectOf(c);
        const Plan plan = defaultPlan(badger_, dressed.roles);
        const auto pokes = [&](const Subject& s) {
            const RunResult run = runPlan(s, plan);
            return std::count_if(run.findings.begin(), run.findings.end(),
                                 [](const Finding& f) { return f.kind == Kind::PokeThrough; });
        };
        QVERIFY(pokes(dressed) > 0);
        QCOMPARE(pokes(bare), std::ptrdiff_t(0));
    }

    void wellFed() {
        Variant v;
        v.shapes = {{"body", "well fed", 0.5}, {"coat", "well fed", 0.5}};
        const Character c = varied(badger_, v);
        double moved = 0;
        for (std::size_t i = 0; i < c.neutral.size(); ++i)
            moved = std::max(moved, double((c.neutral[i] - badger_.neutral[i]).norm()));
        QVERIFY(moved > 0.02);
        Variant more = v;
        more.shapes[0].weight = 1;
        QVERIFY(varied(badger_, more).hash != c.hash);
    }

    // Without drivers the pose is what drive() gives with all of them left out.
    void withoutDrivers() {
        Variant v;
        v.drivers = false;
        const Character c = varied(badger_, v);
        QVERIFY(c.drivers.empty() && !badger_.drivers.empty());
        Pose pose = Pose::neutral(badger_.skeleton);
        pose.turn[std::size_t(badger_.skeleton.find("forearm.L"))] = turnXyz(90, 0, 0);
        const std::vector<char> off(badger_.drivers.size(), 1);
        std::vector<Vec3> a, b, with;
        deform(badger_, drive(badger_, pose, &off), Skinning::Linear, a);
        deform(c, pose, Skinning::Linear, b);
        deform(badger_, pose, Skinning::Linear, with);
        double same = 0, other = 0;
        for (std::size_t i = 0; i < a.size(); ++i) {
            same = std::max(same, double((a[i] - b[i]).norm()));
            other = std::max(other, double((a[i] - with[i]).norm()));
        }
        QVERIFY(same < 1e-9);
        QVERIFY(other > 1e-3);
        Variant one;
        one.driversOff = {badger_.drivers[0].name};
        QCOMPARE(varied(badger_, one).drivers.size(), badger_.drivers.size() - 1);
    }

    void keptAsJson() {
        Variant v;
        v.name = "bare and round";
        v.partsOff = {"coat"};
        v.shapes = {{"body", "well fed", 0.75}};
        v.drivers = false;
        v.driversOff = {"x"};
        const auto back = variantsFromJson(variantsToJson({v, {}}));
        QVERIFY2(back, back.error().c_str());
        QCOMPARE(back->size(), std::size_t(2));
        QVERIFY((*back)[0] == v);
        for (const char* bad : {"", "[]", "{\"format\":\"hobble-variants\"}",
                                "{\"format\":\"hobble-variants\",\"version\":2,\"variants\":[]}",
                                "{\"format\":\"hobble-variants\",\"version\":1,\"variants\":[{\"name\":3}]}"})
            QVERIFY2(!variantsFromJson(bad), bad);
    }

    // Balance: standing he stands; bowed stiffly from the ankles he would tip forward; on one side, to that
    // side.
    void balance() {
        const auto roles = guessRoles(badger_);
        const BodyFrame body = bodyFrame(badger_, roles);
        const auto of = [&](const Pose& pose) {
            std::vector<Vec3> posed;
            deform(badger_, pose, Skinning::Linear, posed);
            return balanceOf(badger_, roles, body, posed);
        };
        const Balance stands = of(Pose::neutral(badger_.skeleton));
        QVERIFY(stands.known);
        QCOMPARE(wordsFor(stands, body), std::string("stands"));
        QVERIFY(stands.support.size() >= 3);
        // the whole body but the feet carried forward
        Pose lean = Pose::neutral(badger_.skeleton);
        const int pelvis = badger_.skeleton.find("pelvis");
        lean.shift.assign(lean.turn.size(), Vec3d::Zero());
        lean.shift[std::size_t(pelvis)] =
            rotationOf(badger_.skeleton.neutralWorld[std::size_t(pelvis)]).inverse() *
            Vec3d(0.4 * body.forward);
        for (const char* foot : {"foot.L", "foot.R"}) {
            const auto j = std::size_t(badger_.skeleton.find(foot));
            lean.shift[j] =
                rotationOf(badger_.skeleton.neutralWorld[j]).inverse() * Vec3d(-0.4 * body.forward);
        }
        const Balance tips = of(lean);
        QVERIFY(tips.known && tips.out > 0.05);
        QVERIFY(tips.towards.dot(body.forward) > 0.9);
        QVERIFY2(wordsFor(tips, body).find("forward") != std::string::npos, wordsFor(tips, body).c_str());
        // the hull is one: every other corner lies on its inner side
        for (std::size_t i = 0; i < stands.support.size(); ++i) {
            const Vec3d a = stands.support[i], b = stands.support[(i + 1) % stands.support.size()];
            for (const Vec3d& c : stands.support)
                QVERIFY((b - a).cross(c - a).dot(body.left.cross(body.forward)) > -1e-9);
        }
    }
};

HOBBLE_TEST(TestVariant)
#include "test_variant.moc"
