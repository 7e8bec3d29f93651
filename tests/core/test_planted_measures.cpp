// Leak, islands, rigid parts, cover, pop: each on a tube with one thing wrong, and on one with nothing wrong.
#include "core/run/run.h"
#include "core/words/cause_words.h"
#include "support/suite.h"
#include "support/tube.h"

#include <QTest>
#include <algorithm>

using namespace hobble;
using namespace hobble::test;

class TestPlantedMeasures : public QObject {
    Q_OBJECT

    static const Finding* find(const RunResult& r, Kind kind) {
        const auto it = std::find_if(r.findings.begin(), r.findings.end(),
                                     [&](const Finding& f) { return f.kind == kind; });
        return it == r.findings.end() ? nullptr : &*it;
    }

    // A four-jointed arm along y, its skin held by upper arm and forearm; `edit` may spoil the weights.
    template <class Edit> static Character arm(const Edit& edit) {
        Character c = tube();
        c.skeleton = skeletonOf(
            {{"upper_arm.L", -1, {0, -0.8, 0}}, {"forearm.L", 0, {0, 0, 0}}, {"hand.L", 1, {0, 0.6, 0}}});
        std::vector<std::vector<std::pair<int, double>>> weights;
        for (const Vec3& p : c.neutral) {
            const double t = std::clamp((p.y() + 0.2) / 0.4, 0.0, 1.0);
            weights.push_back({{0, 1 - t}, {1, t}});
        }
        edit(c, weights);
        c.bindPosition = c.neutral;
        finish(c, weights);
        return c;
    }

    // A second part: a sleeve of the same tube, `off` larger, or a block on the forearm.
    static void addSleeve(Character& c, std::vector<std::vector<std::pair<int, double>>>& weights, float off,
                          const std::string& name, const std::vector<std::pair<int, double>>* own = nullptr) {
        const std::uint32_t n = static_cast<std::uint32_t>(c.vertexCount());
        Part p = c.parts[0];
        p.name = name;
        p.firstVertex = n;
        p.firstTriangle = static_cast<std::uint32_t>(c.triangles.size());
        std::vector<std::uint32_t> copy(n, ~0u);
        std::uint32_t next = n;
        const std::size_t triangles = c.triangles.size();
        for (std::size_t t = 0; t < triangles; ++t) {
            Triangle f = c.triangles[t];
            if (std::any_of(f.begin(), f.end(),
                            [&](std::uint32_t v) { return std::abs(c.neutral[v].y()) > 0.5f; }))
                continue;
            for (auto& v : f) {
                if (copy[v] == ~0u) {
                    copy[v] = next++;
                    const Vec3 q = c.neutral[v];
                    c.neutral.push_back(q + off * Vec3(q.x(), 0, q.z()).normalized());
                    weights.push_back(own ? *own : weights[v]);
                }
                v = copy[v];
            }
            c.triangles.push_back(f);
        }
        c.colour.resize(c.neutral.size(), Vec3::Ones());
        p.vertexCount = next - n;
        p.triangleCount = static_cast<std::uint32_t>(c.triangles.size()) - p.firstTriangle;
        c.parts.push_back(p);
    }

    using Rows = std::vector<std::vector<std::pair<int, double>>>;

private slots:
    // A ring on the upper arm held a third by the hand: an island, a leak, and the hand named.
    void aStrayRing() {
        const Subject s = subjectOf(arm([](Character& c, Rows& w) {
            for (std::size_t v = 0; v < w.size(); ++v)
                if (c.neutral[v].y() > -0.6f && c.neutral[v].y() < -0.5f)
                    w[v] = {{0, 0.7}, {2, 0.3}};
        }));
        QCOMPARE(s.islands.size(), std::size_t(1));
        QCOMPARE(s.islands[0].joint, 2);
        QVERIFY(std::abs(s.islands[0].share - 0.3) < 0.01);
        const RunResult r = runPlan(s, turnPlan(Vec3d::UnitX(), {0, 20, 40, 0}));
        const Finding* f = find(r, Kind::Leak);
        QVERIFY(f);
        // 0.3 of what a point 0.55 below the joint travels in 40°, less the little it would do anyway
        const double travel = 0.3 * 2 * std::sin(radians(20)) * 0.55 / s.body.height;
        QVERIFY2(std::abs(f->peakValue - travel) < 0.15 * travel,
                 qPrintable(QString::number(f->peakValue / travel)));
        QVERIFY(!f->causes.empty());
        QVERIFY(f->causes[0].kind == CauseKind::StrayInfluence);
        QVERIFY(sentenceOf(*s.character, f->causes[0]).find("hand.L") != std::string::npos);
    }

    void nothingWrong() {
        const Subject s = subjectOf(arm([](Character&, Rows&) {}));
        QVERIFY(s.islands.empty());
        const RunResult r = runPlan(s, turnPlan(Vec3d::UnitX(), {0, 20, 40, 0}));
        for (Kind k : {Kind::Leak, Kind::Spike, Kind::Pop, Kind::SoftRigidPart, Kind::UnboundPart,
                       Kind::PokeThrough, Kind::Gap, Kind::Contact})
            QVERIFY2(!find(r, k), nameOf(k));
    }

    void oneFlyingVertex() {
        const Subject s = subjectOf(arm([](Character& c, Rows& w) {
            for (std::size_t v = 0; v < w.size(); ++v)
                if (v == 20 * 64 + 7) {
                    w[v] = {{1, 1.0}};
                    QVERIFY(c.neutral[v].y() < -0.4f);
                }
        }));
        const RunResult r = runPlan(s, turnPlan(Vec3d::UnitX(), {0, 30, 0}));
        const Finding* f = find(r, Kind::Spike);
        QVERIFY(f);
        QVERIFY(f->marks[0].vertices.size() <= 9);
        QVERIFY(std::binary_search(f->marks[0].vertices.begin(), f->marks[0].vertices.end(), 20u * 64 + 7));
    }

    // A bag bound half and half bends; bound to one joint it does not; bound to none it stays behind.
    void bags() {
        const std::vector<std::pair<int, double>> one{{1, 1.0}};
        for (int way = 0; way < 3; ++way) {
            Character c = arm(
                [&](Character& k, Rows& w) { addSleeve(k, w, 0.05f, "satchel", way == 0 ? nullptr : &one); });
            if (way == 2) {
                for (std::uint32_t v = c.parts[1].firstVertex; v < c.vertexCount(); ++v)
                    c.weights.fileSum[v] = 0;
                const std::uint32_t keep = c.weights.first[c.parts[1].firstVertex];
                c.weights.joint.resize(keep);
                c.weights.weight.resize(keep);
                for (std::size_t v = c.parts[1].firstVertex; v < c.weights.first.size(); ++v)
                    c.weights.first[v] = keep;
                c.parts[1].skin = -1;
                c.parts[1].skinned = false;
            }
            const RunResult r = runPlan(subjectOf(c), turnPlan(Vec3d::UnitX(), {0, 30, 60, 0}));
            QCOMPARE(find(r, Kind::SoftRigidPart) != nullptr, way == 0);
            QCOMPARE(find(r, Kind::UnboundPart) != nullptr, way == 2);
            if (way == 0)
                QVERIFY(find(r, Kind::SoftRigidPart)->causes.at(0).kind == CauseKind::PartBoundSoftly);
        }
    }

    // A sleeve with the arm's own weights covers it; one that bends late lets it through on one side and
    // stands off on the other.
    void sleeves() {
        const Subject good = subjectOf(arm([](Character& c, Rows& w) { addSleeve(c, w, 0.01f, "sleeve"); }));
        QVERIFY(good.cover->covered.size() > 1000);
        for (const Covered& c : good.cover->covered)
            QVERIFY(std::abs(c.height - 0.01f) < 0.002f);
        const Plan plan = turnPlan(Vec3d::UnitX(), {0, 20, 40, 0});
        QVERIFY(!find(runPlan(good, plan), Kind::PokeThrough));
        const Subject late = subjectOf(arm([](Character& c, Rows& w) {
            addSleeve(c, w, 0.01f, "sleeve");
            for (std::size_t v = c.parts[1].firstVertex; v < w.size(); ++v) {
                const double t = std::clamp((c.neutral[v].y() - 0.1) / 0.4, 0.0, 1.0);
                w[v] = {{0, 1 - t}, {1, t}};
            }
        }));
        const RunResult r = runPlan(late, plan);
        const Finding* f = find(r, Kind::PokeThrough);
        QVERIFY(f && find(r, Kind::Gap));
        QVERIFY(f->causes.at(0).kind == CauseKind::GarmentDiffers);
        QCOMPARE(late.character->parts[f->marks[0].part].name, std::string("body"));
    }

    // A shape that comes in all at once is a kick where it comes; the same shape faded in is none.
    void aKick() {
        for (const bool sudden : {true, false}) {
            Character c = arm([](Character&, Rows&) {});
            ShapeTarget t{"bulge", {}, {}};
            for (std::uint32_t v = 0; v < c.vertexCount(); ++v)
                if (std::abs(c.neutral[v].y()) < 0.1f) {
                    t.vertex.push_back(v);
                    t.delta.push_back(0.03f * Vec3(c.neutral[v].x(), 0, c.neutral[v].z()).normalized());
                }
            c.parts[0].targets = {t};
            c.parts[0].targetWeights = {0};
            Driver d;
            d.name = "bulge";
            d.source = 1;
            d.about = Vec3d::UnitX();
            d.keys = sudden ? std::vector<DriverKey>{{33.99, 0}, {34, 1}}
                            : std::vector<DriverKey>{{0, 0}, {60, 1}};
            d.output = Driver::Output::Target;
            d.part = d.target = 0;
            c.drivers = {d};
            const RunResult r =
                runPlan(subjectOf(c), turnPlan(Vec3d::UnitX(), {0, 10, 20, 30, 40, 50, 60, 0}));
            const Finding* f = find(r, Kind::Pop);
            QCOMPARE(f != nullptr, sudden);
            if (f) {
                QCOMPARE(f->peak, 40.0);
                QVERIFY(std::abs(f->peakValue * subjectOf(c).body.height - 0.03) < 0.004);
                QVERIFY(f->causes.at(0).kind == CauseKind::DriverOrCorrective);
            }
        }
    }

    // Findings of one fault share a number, and one of them leads it.
    void oneFaultOneNumber() {
        const RunResult r = runPlan(subjectOf(tube()), turnPlan(Vec3d::UnitX(), {0, 30, 60, 90, 120, 0}));
        QVERIFY(r.findings.size() > 1);
        for (const Finding& f : r.findings)
            QCOMPARE(f.fault, 0);
        QCOMPARE(
            std::count_if(r.findings.begin(), r.findings.end(), [](const Finding& f) { return f.leads; }), 1);
    }
};

HOBBLE_TEST(TestPlantedMeasures)
#include "test_planted_measures.moc"
