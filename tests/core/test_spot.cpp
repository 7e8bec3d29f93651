// One spot of the skin: its influences, and the motions it fares worst in, against posing it anew.
#include "core/deform/deformer.h"
#include "core/run/spot.h"
#include "io/measured_cache.h"
#include "support/suite.h"
#include "support/tube.h"

#include <QTest>

using namespace hobble;
using namespace hobble::test;

class TestSpot : public QObject {
    Q_OBJECT

    static Plan bendAndRoll() {
        Plan plan = turnPlan(Vec3d::UnitX(), {0, 30, 60, 90, 0});
        plan.motions.push_back(turnPlan(Vec3d::UnitY(), {0, 30, 60, 90, 0}, 1, true).motions[0]);
        plan.motions[1].id = "roll";
        return plan;
    }

private slots:
    void influences() {
        const Subject s = subjectOf(tube());
        for (std::uint32_t v = 0; v < s.character->vertexCount(); v += 17) {
            const auto all = influencesAt(s, v);
            QVERIFY(!all.empty());
            double sum = 0;
            for (std::size_t i = 0; i < all.size(); ++i) {
                sum += all[i].share;
                QVERIFY(i == 0 || all[i].share <= all[i - 1].share);
                QCOMPARE(all[i].bones, all[i].joint == all[0].joint ? 0 : 1);
            }
            QVERIFY(std::abs(sum - 1) < 1e-5);
        }
        const float y = s.character->neutral[0].y(); // the lower end is the first joint's alone
        QVERIFY(y < -0.2f);
        QCOMPARE(influencesAt(s, 0).size(), std::size_t(1));
        QCOMPARE(influencesAt(s, 0)[0].joint, 0);
    }

    void worstMotions() {
        const Subject s = subjectOf(tube());
        const Plan plan = bendAndRoll();
        MeasuredCache cache("");
        RunOptions o;
        o.store = &cache;
        const RunResult run = runPlan(s, plan, o);
        int checked = 0;
        for (std::uint32_t v = 0; v < s.character->vertexCount(); v += 101) {
            const auto told = worstMotionsAt(s, plan, Skinning::Linear, run.limits, cache, v);
            for (std::size_t m = 0; m < plan.motions.size(); ++m) { // posed anew, triangle by triangle
                double most = 0;
                const std::uint32_t w = s.surface.weldOf[v];
                for (double degrees : plan.motions[m].steps) {
                    std::vector<Vec3> file;
                    deform(*s.character, poseAt(s.character->skeleton, plan.motions[m], degrees),
                           Skinning::Linear, file);
                    const auto p = weldedPositions(s.surface, file);
                    for (auto t = s.surface.trianglesAt.begin(w); t != s.surface.trianglesAt.end(w); ++t) {
                        const auto& [a, b, c] = s.surface.triangles[*t];
                        const Strain x = strainOf(s.rest[*t], p[a], p[b], p[c]);
                        const Role role = s.roles[1].role;
                        most = std::max(
                            {most, troubleOf(Kind::Stretch, x.stretch, run.limits.of(Kind::Stretch, role)),
                             troubleOf(Kind::Squash, x.squash, run.limits.of(Kind::Squash, role))});
                    }
                }
                const auto it = std::find_if(told.begin(), told.end(), [&](const SpotMotion& x) {
                    return x.motion == static_cast<int>(m);
                });
                if (most > 0.6) { // beyond what the store leaves out
                    QVERIFY(it != told.end());
                    QVERIFY2(std::abs(it->trouble - most) < 1e-3 * most,
                             qPrintable(QStringLiteral("%1, not %2").arg(it->trouble).arg(most)));
                    ++checked;
                }
            }
            QVERIFY(std::is_sorted(told.begin(), told.end(), [](const SpotMotion& a, const SpotMotion& b) {
                return a.trouble > b.trouble;
            }));
        }
        QVERIFY(checked > 10);
    }

    void whatWasNotMeasuredIsLeftOut() {
        const Subject s = subjectOf(tube());
        MeasuredCache empty("");
        QVERIFY(worstMotionsAt(s, bendAndRoll(), Skinning::Linear, Limits::standard(), empty, 5).empty());
    }
};

HOBBLE_TEST(TestSpot)
#include "test_spot.moc"
