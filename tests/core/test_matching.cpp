// The same findings found again: on a build put in another order, meshed anew, or standing elsewhere.
#include "core/judge/matching.h"
#include "core/run/run.h"
#include "io/character_read.h"
#include "support/suite.h"
#include "support/tube.h"

#include <QTest>
#include <numeric>
#include <random>

using namespace hobble;
using namespace hobble::test;

class TestMatching : public QObject {
    Q_OBJECT

    static std::vector<FindingMark> marksOf(const Subject& s, const RunResult& r) {
        std::vector<FindingMark> out;
        for (const Finding& f : r.findings)
            out.push_back(markOf(s, f));
        return out;
    }

    static Character badger() { return *readCharacter(HOBBLE_DEMO_DIR "/builds/1/badger-postmaster.glb"); }

    // The vertices of every part in another order.
    static Character reordered(const Character& c) {
        Character out = c;
        std::mt19937 random(3);
        std::vector<std::uint32_t> to(c.vertexCount());
        std::iota(to.begin(), to.end(), 0u);
        for (const Part& p : c.parts)
            std::shuffle(to.begin() + p.firstVertex, to.begin() + p.firstVertex + p.vertexCount, random);
        std::vector<std::uint32_t> from(to.size());
        for (std::uint32_t v = 0; v < to.size(); ++v)
            from[to[v]] = v;
        out.weights = {};
        for (std::uint32_t v = 0; v < to.size(); ++v) {
            const std::uint32_t old = from[v];
            out.neutral[v] = c.neutral[old];
            out.bindPosition[v] = c.bindPosition[old];
            for (std::uint32_t i = c.weights.first[old]; i < c.weights.first[old + 1]; ++i) {
                out.weights.joint.push_back(c.weights.joint[i]);
                out.weights.weight.push_back(c.weights.weight[i]);
            }
            out.weights.first.push_back(static_cast<std::uint32_t>(out.weights.joint.size()));
            out.weights.fileSum.push_back(c.weights.fileSum[old]);
        }
        for (Triangle& t : out.triangles)
            for (std::uint32_t& v : t)
                v = to[v];
        for (Part& p : out.parts)
            for (ShapeTarget& target : p.targets) {
                std::vector<std::pair<std::uint32_t, Vec3>> moves;
                for (std::size_t i = 0; i < target.vertex.size(); ++i)
                    moves.push_back({to[p.firstVertex + target.vertex[i]] - p.firstVertex, target.delta[i]});
                std::sort(moves.begin(), moves.end(),
                          [](const auto& a, const auto& b) { return a.first < b.first; });
                for (std::size_t i = 0; i < moves.size(); ++i)
                    std::tie(target.vertex[i], target.delta[i]) = moves[i];
            }
        for (const Part& p : out.parts)
            std::shuffle(out.triangles.begin() + p.firstTriangle,
                         out.triangles.begin() + p.firstTriangle + p.triangleCount, random);
        return out;
    }

private slots:
    void anotherOrder() {
        const Subject s = subjectOf(badger()), t = subjectOf(reordered(badger()));
        const Plan plan = defaultPlan(*s.character, s.roles);
        const RunResult a = runPlan(s, plan), b = runPlan(t, plan);
        QVERIFY(a.findings.size() > 20);
        const auto match = matchFindings(marksOf(t, b), marksOf(s, a));
        for (std::size_t i = 0; i < match.size(); ++i)
            if (match[i] < 0)
                qInfo("only in the other order: %s, %.3f in %s at %.0f, at %.3f %.3f %.3f",
                      sentence(t, b, i).c_str(), b.findings[i].peakValue,
                      b.plan.motions[static_cast<std::size_t>(b.findings[i].motion)].id.c_str(),
                      b.findings[i].peak, static_cast<double>(b.findings[i].place.x()),
                      static_cast<double>(b.findings[i].place.y()),
                      static_cast<double>(b.findings[i].place.z()));
        QCOMPARE(b.findings.size(), a.findings.size());
        for (std::size_t i = 0; i < match.size(); ++i) {
            QVERIFY2(match[i] >= 0, sentence(t, b, i).c_str());
            const Finding &f = b.findings[i], &g = a.findings[static_cast<std::size_t>(match[i])];
            QVERIFY(f.joint == g.joint && f.kind == g.kind);
            QVERIFY((f.place - g.place).norm() < 0.01f * static_cast<float>(s.body.height));
        }
    }

    void anotherMeshAndAnotherPlace() {
        const Plan plan = turnPlan(Vec3d::UnitY(), {0, 20, 40, 60, 80, 0}, 1, true);
        const Subject coarse = subjectOf(tube({.sides = 32, .rings = 70}));
        Transform away = Transform::Identity();
        away.translate(Vec3d(3, 0, -2));
        const Subject fine = subjectOf(moved(tube({.sides = 71, .rings = 133}), away));
        const RunResult a = runPlan(coarse, plan), b = runPlan(fine, plan);
        QVERIFY(!a.findings.empty());
        const auto match = matchFindings(marksOf(fine, b), marksOf(coarse, a));
        QVERIFY(std::any_of(match.begin(), match.end(), [](int m) { return m >= 0; }));
        for (std::size_t i = 0; i < match.size(); ++i)
            if (match[i] >= 0)
                QVERIFY(b.findings[i].kind == a.findings[static_cast<std::size_t>(match[i])].kind);
    }

    void eachOnceAndTheNearestFirst() {
        const auto at = [](double x, Kind kind = Kind::Stretch, const char* joint = "knee") {
            return FindingMark{joint, kind, Vec3d(x, 0, 0), 0.1};
        };
        QCOMPARE(matchFindings({at(0), at(0.05)}, {at(0.04)}), (std::vector<int>{-1, 0}));
        QCOMPARE(matchFindings({at(0)}, {at(0.2)}), std::vector<int>{-1});
        QCOMPARE(matchFindings({at(0)}, {at(0, Kind::Squash), at(0, Kind::Stretch, "hip")}),
                 std::vector<int>{-1});
        QCOMPARE(matchFindings({}, {at(0)}), std::vector<int>{});
    }

private:
    static std::string sentence(const Subject& s, const RunResult& r, std::size_t i) {
        return s.character->skeleton.name[r.findings[i].joint] + ": " + nameOf(r.findings[i].kind);
    }
};

HOBBLE_TEST(TestMatching)
#include "test_matching.moc"
