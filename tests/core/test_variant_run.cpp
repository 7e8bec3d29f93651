// One plan over a build and its variants, each told apart from the build itself.
#include "core/run/variant_run.h"
#include "io/character_read.h"
#include "support/suite.h"
#include "support/tube.h"

#include <QTest>

#include <atomic>

using namespace hobble;
using namespace hobble::test;

namespace {

TroubleCurve curveOf(std::vector<double> trouble) {
    TroubleCurve c;
    for (std::size_t i = 0; i < trouble.size(); ++i)
        c.at.push_back(10 * static_cast<double>(i));
    c.trouble = std::move(trouble);
    return c;
}

} // namespace

class TestVariantRun : public QObject {
    Q_OBJECT

private slots:
    void buildFirstThenEach() {
        auto read = readCharacter(HOBBLE_DEMO_DIR "/badger-postmaster.glb");
        QVERIFY2(read, read ? "" : read.error().c_str());
        const auto badger = std::make_shared<const Character>(std::move(*read));
        const Subject whole = subjectOf(*badger);
        Plan plan = defaultPlan(*badger, whole.roles);
        std::erase_if(plan.motions, [](const Motion& m) {
            return m.id != "left-elbow-flex" && m.id != "right-elbow-flex" && m.id != "left-knee-flex";
        });
        QCOMPARE(plan.motions.size(), std::size_t(3));
        Variant bare, same;
        bare.name = "bare";
        bare.partsOff = {"coat"};
        same.name = "nothing changed";
        std::vector<std::vector<TroubleCurve>> curves;
        std::vector<const Variant*> told;
        std::vector<std::size_t> fresh;
        RunOptions options;
        std::size_t done = 0, total = 0;
        options.progress = [&](const RunProgress& p) {
            QVERIFY(p.done >= done && p.done <= p.total); // over all of them, never back
            done = p.done;
            total = p.total;
        };
        const std::vector<Variant> variants{bare, same};
        runVariants(badger, {}, variants, plan, options, [&](const VariantRun& r) {
            told.push_back(r.variant);
            fresh.push_back(r.fresh.size());
            curves.push_back(troubleCurves(r, options.limits));
            // as a run of that character by itself has it
            const RunResult alone =
                runPlan(subjectOf(varied(*badger, r.variant ? *r.variant : Variant{})), plan);
            for (std::size_t m = 0; m < plan.motions.size(); ++m)
                QCOMPARE(curves.back()[m].trouble,
                         troubleCurve(r.subject.roles, alone.motions[m], options.limits).trouble);
        });
        QCOMPARE(told, (std::vector<const Variant*>{nullptr, &variants[0], &variants[1]}));
        QVERIFY(total > 0 && done == total);
        QCOMPARE(fresh.front(), std::size_t(0));
        QCOMPARE(fresh.back(), std::size_t(0)); // what changes nothing shows nothing new
        for (const VariantDifference& d : variantDifferences(curves))
            QCOMPARE(d.variant, 1);
        QVERIFY(!variantDifferences(curves).empty()); // an elbow without its sleeve is another elbow
    }

    void differences() {
        const TroubleCurve none, low = curveOf({0, 0.2, 0.4}), high = curveOf({0, 1.5, 2.4});
        using Curves = std::vector<std::vector<TroubleCurve>>;
        QVERIFY(variantDifferences(Curves{}).empty());
        QVERIFY(variantDifferences(Curves{{low, high}}).empty());
        // a motion that was not run, one that stays as it is, one far below its limit
        QVERIFY(variantDifferences(Curves{{none, high, low}, {high, high, curveOf({0, 0.1, 0.8})}}).empty());
        const auto d = variantDifferences(Curves{
            {high, low, high}, {curveOf({0, 1.5, 1.9}), low, high}, {high, high, curveOf({0, 0.5, 2.4})}});
        QCOMPARE(d.size(), std::size_t(3));
        const auto is = [&](std::size_t i, int motion, int variant, double change, double at) {
            return d[i].motion == motion && d[i].variant == variant &&
                   std::abs(d[i].change - change) < 1e-9 && d[i].at == at;
        };
        QVERIFY(is(0, 1, 2, 2.0, 20)); // the largest first
        QVERIFY(is(1, 2, 2, -1.0, 10));
        QVERIFY(is(2, 0, 1, -0.5, 20));
    }

    void stopped() {
        auto read = readCharacter(HOBBLE_DEMO_DIR "/badger-postmaster.glb");
        const auto badger = std::make_shared<const Character>(std::move(*read));
        const Plan plan = defaultPlan(*badger, subjectOf(*badger).roles);
        std::atomic<bool> stop = false;
        RunOptions options;
        options.cancel = &stop;
        options.progress = [&](const RunProgress& p) { stop = p.done > 0; };
        int told = 0;
        runVariants(badger, {}, std::vector<Variant>(3), plan, options, [&](const VariantRun&) { ++told; });
        QCOMPARE(told, 0); // half a run tells nothing
    }
};

HOBBLE_TEST(TestVariantRun)
#include "test_variant_run.moc"
