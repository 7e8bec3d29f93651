// What is drawn on the skin: contact lines and the smooth preview against closed forms, a measure over the
// whole skin against the numbers of the run, and what a person marked.
#include "core/deform/smooth_preview.h"
#include "core/judge/by_eye.h"
#include "core/judge/outline.h"
#include "core/judge/skin_values.h"
#include "core/measure/contact_lines.h"
#include "core/measure/pose_meter.h"
#include "core/run/run.h"
#include "support/suite.h"
#include "support/tube.h"

#include <QTest>

#include <cmath>
#include <map>
#include <numeric>
#include <random>

using namespace hobble;
using namespace hobble::test;

namespace {

// Two unit squares in two triangles each: one lying, one standing through its middle, shifted along.
const std::vector<Vec3> kSquares{{-1, -1, 0}, {1, -1, 0},   {1, 1, 0},   {-1, 1, 0},
                                 {0, -2, -1}, {0, 0.5, -1}, {0, 0.5, 1}, {0, -2, 1}};
const std::vector<Triangle> kSquareTriangles{{0, 1, 2}, {0, 2, 3}, {4, 5, 6}, {4, 6, 7}};

double lengthOf(const std::vector<Vec3>& ends) {
    double sum = 0;
    for (std::size_t i = 0; i + 1 < ends.size(); i += 2)
        sum += static_cast<double>((ends[i + 1] - ends[i]).norm());
    return sum;
}

MeasuredMotion onePose(const Subject& s, Motion motion, double degrees) {
    motion.steps = {degrees};
    PoseMeter meter(s, {Skinning::Linear, noFloors(), true, nullptr});
    return *meter.measure(motion, [] {});
}

Surface surfaceOf(const std::vector<Vec3>& points, const std::vector<Triangle>& triangles) {
    Character c;
    c.neutral = points;
    c.triangles = triangles;
    Part part;
    part.name = "skin";
    part.vertexCount = static_cast<std::uint32_t>(points.size());
    part.triangleCount = static_cast<std::uint32_t>(triangles.size());
    c.parts = {part};
    c.weights.first.assign(points.size() + 1, 0);
    return buildSurface(c);
}

} // namespace

class TestSkinPictures : public QObject {
    Q_OBJECT
private slots:
    // The standing square cuts the lying one from y = -1 to y = 0.5.
    void crossingSquaresMeetInOneLine() {
        std::vector<std::pair<std::uint32_t, std::uint32_t>> pairs;
        for (std::uint32_t a : {0u, 1u})
            for (std::uint32_t b : {2u, 3u})
                pairs.emplace_back(a, b);
        const auto lines = contactLines(kSquareTriangles, kSquares, pairs);
        QVERIFY(std::abs(lengthOf(lines) - 1.5) < 1e-6);
        for (const Vec3& p : lines)
            QVERIFY(std::abs(p.x()) < 1e-6f && std::abs(p.z()) < 1e-6f && p.y() > -1.001f && p.y() < 0.501f);
        // turned and moved, the line goes along
        const Eigen::AngleAxisf turn(0.7f, Vec3(1, 2, 3).normalized());
        std::vector<Vec3> moved;
        for (const Vec3& p : kSquares)
            moved.push_back(turn * p + Vec3(3, -1, 2));
        QVERIFY(std::abs(lengthOf(contactLines(kSquareTriangles, moved, pairs)) - 1.5) < 1e-5);
    }

    void trianglesThatMissEachOtherGiveNoLine() {
        auto apart = kSquares;
        for (std::size_t i = 4; i < 8; ++i)
            apart[i].z() += 1.5f;
        QVERIFY(contactLines(kSquareTriangles, apart, {{0, 2}, {0, 3}, {1, 2}, {1, 3}}).empty());
        QVERIFY(contactLines(kSquareTriangles, kSquares, {{0, 1}}).empty()); // in one plane
    }

    void smoothingKeepsWhatIsFlatAndPullsInWhatIsRound() {
        // an octahedron: Loop's rules by hand
        const std::vector<Vec3> points{{1, 0, 0}, {-1, 0, 0}, {0, 1, 0}, {0, -1, 0}, {0, 0, 1}, {0, 0, -1}};
        const std::vector<Triangle> faces{{0, 2, 4}, {2, 1, 4}, {1, 3, 4}, {3, 0, 4},
                                          {2, 0, 5}, {1, 2, 5}, {3, 1, 5}, {0, 3, 5}};
        const Surface s = surfaceOf(points, faces);
        const SmoothPreview p = smoothPreview(s);
        QCOMPARE(p.vertexCount(), std::size_t(6 + 12));
        QCOMPARE(p.triangles.size(), std::size_t(32));
        const auto at = smoothed(p, points);
        // β = 3/32 and four neighbours that sum to nothing: (1 − 4β) of where it was
        for (std::size_t v = 0; v < 6; ++v)
            QVERIFY((at[v] - 0.625f * points[v]).norm() < 1e-6f);
        // on an edge: ⅜ of both ends and ⅛ of the two corners across, which cancel
        for (std::size_t v = 6; v < 18; ++v)
            QVERIFY(std::abs(at[v].norm() - 0.375f * std::sqrt(2.f)) < 1e-6f);
        for (std::size_t v = 0; v < p.vertexCount(); ++v) {
            float sum = 0;
            for (std::uint32_t i = p.first[v]; i < p.first[v + 1]; ++i)
                sum += p.weight[i];
            QVERIFY(std::abs(sum - 1) < 1e-6f);
        }
    }

    // Whatever the mesh: moved as a whole, the preview moves along.
    void smoothingCommutesWithMoving() {
        const Subject s = subjectOf(tube());
        const SmoothPreview p = smoothPreview(s.surface);
        const Eigen::AngleAxisf turn(1.1f, Vec3(1, -2, 0.5f).normalized());
        std::vector<Vec3> moved;
        for (const Vec3& x : s.neutral)
            moved.push_back(turn * x + Vec3(0.2f, 3, -1));
        const auto a = smoothed(p, s.neutral), b = smoothed(p, moved);
        for (std::size_t v = 0; v < a.size(); ++v)
            QVERIFY((turn * a[v] + Vec3(0.2f, 3, -1) - b[v]).norm() < 1e-4f);
    }

    // What the colours say at the worst place is what the run says of the joint.
    void skinValuesAgreeWithTheRun() {
        const Subject s = subjectOf(tube());
        const Plan plan = turnPlan(Vec3d::UnitX(), {0, 45, 90, 130, 0});
        const RunResult run = runPlan(s, plan);
        for (std::size_t m = 0; m < plan.motions.size(); ++m) {
            const auto& step = run.motions[m].steps[run.motions[m].steps.size() - 2];
            const MeasuredMotion here = onePose(s, plan.motions[m], step.at);
            const ZoneMeasures& told = step.joints[0].measures;
            const auto worst = [&](Kind k) {
                const auto values = skinValues(s, plan.motions[m], here, 0, k);
                if (values.size() != s.surface.vertexCount())
                    qFatal("one value per vertex");
                return static_cast<double>(faultIsAbove(k) ? *std::max_element(values.begin(), values.end())
                                                           : *std::min_element(values.begin(), values.end()));
            };
            QVERIFY(worst(Kind::Stretch) >= told.stretch - 1e-4);
            QVERIFY(worst(Kind::Squash) <= told.squash + 1e-4);
            if (told.contact)
                QVERIFY(std::abs(worst(Kind::Contact) - *told.contact) < 1e-4);
            if (told.leak)
                QVERIFY(std::abs(worst(Kind::Leak) - *told.leak) < 1e-4);
            if (told.volume && *told.volume < 1)
                QVERIFY(std::abs(worst(Kind::VolumeLoss) - *told.volume) < 1e-4);
            if (told.pinch) // between the stations, so not quite to the least of them
                QVERIFY(worst(Kind::Pinch) >= *told.pinch - 1e-4 && worst(Kind::Pinch) < 1);
            // in neutral nothing is changed
            const MeasuredMotion neutral = onePose(s, plan.motions[m], 0);
            for (Kind k : kKinds)
                for (float v : skinValues(s, plan.motions[m], neutral, 0, k))
                    QVERIFY(std::abs(static_cast<double>(v) - unchangedOf(k)) < 2e-3);
        }
    }

    // A band round a tube has two closed outlines, each as long as the tube is round.
    void aBandsOutlineIsTwoRings() {
        TubeSpec spec;
        const Subject s = subjectOf(tube(spec));
        std::vector<std::uint32_t> band;
        for (std::uint32_t t = 0; t < s.surface.triangles.size(); ++t) {
            float y = 0;
            for (std::uint32_t v : s.surface.triangles[t])
                y += s.neutral[v].y() / 3;
            if (std::abs(y) < 0.15f)
                band.push_back(t);
        }
        const auto& [outline, fill] = patchShape(s.surface, band);
        QVERIFY(!outline.empty() && outline.size() % 2 == 0);
        double length = 0;
        std::map<std::pair<std::uint32_t, std::uint32_t>, int> ends;
        const auto at = [&](const EdgePoint& p) {
            return Vec3((1 - p.t) * s.neutral[p.a] + p.t * s.neutral[p.b]);
        };
        for (std::size_t i = 0; i < outline.size(); i += 2) {
            length += static_cast<double>((at(outline[i]) - at(outline[i + 1])).norm());
            ++ends[std::minmax(outline[i].a, outline[i].b)];
            ++ends[std::minmax(outline[i + 1].a, outline[i + 1].b)];
            QVERIFY(std::abs(std::abs(at(outline[i]).y()) - 0.15f) < 0.02f);
        }
        for (const auto& [edge, n] : ends)
            QCOMPARE(n, 2); // closed
        double filled = 0, marked = 0;
        for (std::size_t i = 0; i < fill.size(); i += 3)
            filled += static_cast<double>(
                0.5f * (at(fill[i + 1]) - at(fill[i])).cross(at(fill[i + 2]) - at(fill[i])).norm());
        for (std::uint32_t t : band)
            marked += static_cast<double>(s.surface.area[t]);
        QVERIFY2(std::abs(filled - marked) < 0.05 * marked, qPrintable(QString::number(filled / marked)));
        const double round = 2 * kPi * spec.radius;
        QVERIFY2(std::abs(length - 2 * round) < 0.02 * round, qPrintable(QString::number(length / round)));
        // all of the skin has no outline, nor has nothing
        std::vector<std::uint32_t> all(s.surface.triangles.size());
        std::iota(all.begin(), all.end(), 0u);
        QVERIFY(patchShape(s.surface, all).outline.empty());
        QCOMPARE(patchShape(s.surface, all).fill.size(), 3 * all.size());
        QVERIFY(patchShape(s.surface, {}).fill.empty());
        QVERIFY(!patchShape(s.surface, {all[7]}).fill.empty()); // what is small is seen as well
    }

    void whatIsMarkedByEyeIsTold() {
        const Subject s = subjectOf(tube());
        const Plan plan = turnPlan(Vec3d::UnitX(), {0, 45, 90, 130, 0});
        const Motion& motion = plan.motions[0];
        const int joint = motion.turns[0].joint;
        const MeasuredMotion here = onePose(s, motion, motion.limit());
        const auto& zone = s.zones[static_cast<std::size_t>(joint)];
        const Limits limits = Limits::standard();
        const Kind kind = worstKindAt(s, motion, here, limits, zone.triangles);
        const Finding f = findingByEye(s, plan, 0, here, motion.limit(), kind, limits, zone.triangles);
        QCOMPARE(f.joint, joint);
        QCOMPARE(f.peak, motion.limit());
        QVERIFY(f.severity >= 1 && f.severity <= 4);
        QVERIFY(troubleOf(kind, f.peakValue, limits.of(kind, f.role)) > 0);
        std::size_t marked = 0;
        for (const PartMarks& p : f.marks)
            marked += p.vertices.size();
        QVERIFY(marked > 0);
        // no other kind is worse there
        for (Kind k : kKinds)
            if (k != Kind::Spike) {
                const Finding g = findingByEye(s, plan, 0, here, motion.limit(), k, limits, zone.triangles);
                QVERIFY(troubleOf(k, g.peakValue, limits.of(k, g.role)) <=
                        troubleOf(kind, f.peakValue, limits.of(kind, f.role)) + 1e-9);
            }
    }
};

HOBBLE_TEST(TestSkinPictures)
#include "test_skin_pictures.moc"
