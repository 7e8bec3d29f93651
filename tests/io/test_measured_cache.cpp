// What was measured is kept and found again; what is damaged, changed or too much is measured anew.
#include "core/run/run.h"
#include "io/measured_cache.h"
#include "support/suite.h"
#include "support/tube.h"

#include <QDir>
#include <QFile>
#include <QTemporaryDir>
#include <QTest>
#include <random>

using namespace hobble;
using namespace hobble::test;

class TestMeasuredCache : public QObject {
    Q_OBJECT

    static Subject limb() {
        Character c = tube({.sides = 20, .rings = 40});
        c.hash = "of this content";
        return subjectOf(std::move(c));
    }
    static Plan bends() {
        Plan plan = turnPlan(Vec3d::UnitX(), {0, 30, 60, 90, 120, 0});
        plan.motions.push_back(turnPlan(Vec3d::UnitY(), {0, 30, 60, 90, 0}, 1, true).motions[0]);
        plan.motions[1].id = "roll";
        return plan;
    }
    static RunResult run(const Subject& s, MeasuredStore* store, const Limits& limits = Limits::standard()) {
        RunOptions o;
        o.store = store;
        o.limits = limits;
        return runPlan(s, bends(), o);
    }
    static void same(const RunResult& a, const RunResult& b) {
        QCOMPARE(a.findings.size(), b.findings.size());
        for (std::size_t i = 0; i < a.findings.size(); ++i) {
            const Finding &f = a.findings[i], &g = b.findings[i];
            QVERIFY(f.kind == g.kind && f.joint == g.joint && f.severity == g.severity);
            QVERIFY(f.peakValue == g.peakValue && f.onset == g.onset && f.triangles == g.triangles);
            QCOMPARE(f.causes.size(), g.causes.size());
        }
        for (std::size_t m = 0; m < a.motions.size(); ++m)
            for (std::size_t i = 0; i < a.motions[m].steps.size(); ++i)
                for (std::size_t k = 0; k < a.motions[m].steps[i].joints.size(); ++k) {
                    const ZoneMeasures &x = a.motions[m].steps[i].joints[k].measures,
                                       &y = b.motions[m].steps[i].joints[k].measures;
                    QVERIFY(x.stretch == y.stretch && x.volume == y.volume && x.girth == y.girth &&
                            x.contact == y.contact && x.roughness == y.roughness);
                }
    }

private slots:
    void foundAgainInMemoryAndOnDisk() {
        const Subject s = limb();
        QTemporaryDir folder;
        MeasuredCache cache(folder.filePath("kept").toStdString());
        const RunResult first = run(s, &cache), again = run(s, &cache);
        QCOMPARE(first.posesMeasured, bends().stepCount());
        QCOMPARE(again.posesMeasured, std::size_t(0));
        same(first, again);
        MeasuredCache tomorrow(folder.filePath("kept").toStdString());
        const RunResult later = run(s, &tomorrow);
        QCOMPARE(later.posesMeasured, std::size_t(0));
        same(first, later);
        same(first, run(s, nullptr));
    }

    void otherLimitsAreJudgedWithoutMeasuring() {
        const Subject s = limb();
        MeasuredCache cache("");
        run(s, &cache);
        Limits strict = Limits::standard();
        strict.general[Kind::Stretch] = {1.16, 1.2, 1.3, 1.4};
        strict.byRole.clear();
        const RunResult judged = run(s, &cache, strict);
        QCOMPARE(judged.posesMeasured, std::size_t(0));
        same(judged, run(s, nullptr, strict));
    }

    void anotherBuildOrMethodIsMeasured() {
        const Subject s = limb();
        MeasuredCache cache("");
        run(s, &cache);
        Character other = *s.character;
        other.hash = "of other content";
        QCOMPARE(run(subjectOf(other), &cache).posesMeasured, bends().stepCount());
        RunOptions o;
        o.store = &cache;
        o.method = Skinning::DualQuaternion;
        QCOMPARE(runPlan(s, bends(), o).posesMeasured, bends().stepCount());
    }

    void goesOnWhereItStopped() {
        const Subject s = limb();
        MeasuredCache cache("");
        std::atomic<bool> cancel{false};
        RunOptions o;
        o.store = &cache;
        o.cancel = &cancel;
        o.threads = 1;
        o.progress = [&](const RunProgress& p) { cancel = p.done == bends().motions[0].steps.size() + 1; };
        const RunResult stopped = runPlan(s, bends(), o);
        QVERIFY(stopped.cancelled);
        QVERIFY(!stopped.motions[0].steps.empty() && stopped.motions[1].steps.empty());
        const RunResult went = run(s, &cache);
        QCOMPARE(went.posesMeasured, bends().motions[1].steps.size());
        same(went, run(s, nullptr));
    }

    void damagedFilesCountAsMissing() {
        const Subject s = limb();
        QTemporaryDir folder;
        MeasuredCache(folder.path().toStdString());
        {
            MeasuredCache cache(folder.path().toStdString());
            run(s, &cache);
        }
        const auto files = QDir(folder.path()).entryList({"*.measured"});
        QCOMPARE(files.size(), 2);
        QFile torn(folder.filePath(files[0]));
        QVERIFY(torn.resize(torn.size() / 2));
        QFile flipped(folder.filePath(files[1]));
        QVERIFY(flipped.open(QIODevice::ReadWrite));
        QByteArray bytes = flipped.readAll();
        bytes[bytes.size() / 3] = static_cast<char>(bytes[bytes.size() / 3] ^ 8);
        flipped.seek(0);
        flipped.write(bytes);
        flipped.close();
        MeasuredCache cache(folder.path().toStdString());
        const RunResult r = run(s, &cache);
        QCOMPARE(r.posesMeasured, bends().stepCount());
        same(r, run(s, nullptr));
    }

    void randomBytesAreNeverTakenForMeasures() {
        std::mt19937 random(11);
        const Subject s = limb();
        MeasuredMotion real;
        real.poses.resize(3);
        real.poses[1].zones.resize(2);
        real.poses[1].stretch = {{3, 1.5f}, {9, 2.f}};
        real.turnOf = {0, 1, 1};
        const std::string good = packMeasured(real, "key");
        QVERIFY(unpackMeasured(good, "key"));
        QVERIFY(!unpackMeasured(good, "another key"));
        for (int i = 0; i < 4000; ++i) {
            std::string bytes = good;
            for (int changes = 1 + static_cast<int>(random() % 4); changes-- > 0;)
                switch (random() % 3) {
                case 0:
                    bytes[random() % bytes.size()] = static_cast<char>(random());
                    break;
                case 1:
                    bytes.resize(1 + random() % bytes.size());
                    break;
                default:
                    bytes.insert(random() % bytes.size(), 1 + random() % 9, static_cast<char>(random()));
                }
            QVERIFY(bytes == good || !unpackMeasured(bytes, "key"));
        }
        QVERIFY(!unpackMeasured("", "key"));
    }

    void theOldestGoesFirst() {
        const Subject s = limb();
        MeasuredCache all("");
        run(s, &all);
        const std::size_t whole = all.bytesInMemory();
        QVERIFY(whole > 0);
        MeasuredCache small("", whole - 1);
        run(s, &small);
        QVERIFY(small.bytesInMemory() < whole && small.bytesInMemory() > 0);
        QVERIFY(run(s, &small).posesMeasured > 0);
    }

    void aFolderThatCannotBeWrittenOnlyCostsTime() {
        MeasuredCache cache("/proc/no/such/folder");
        const RunResult r = run(limb(), &cache);
        QCOMPARE(r.posesMeasured, bends().stepCount());
    }
};

HOBBLE_TEST(TestMeasuredCache)
#include "test_measured_cache.moc"
