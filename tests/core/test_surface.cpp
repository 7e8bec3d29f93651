#include "support/suite.h"
#include "support/tube.h"

#include <QTest>

using namespace hobble;
using namespace hobble::test;

class TestSurface : public QObject {
    Q_OBJECT

    // Every triangle with three vertices of its own, as files split at every seam.
    static Character split(const Character& c) {
        Character out = c;
        out.bindPosition.clear();
        out.triangles.clear();
        std::vector<std::vector<std::pair<int, double>>> weights;
        for (const Triangle& t : c.triangles) {
            Triangle f;
            for (int k = 0; k < 3; ++k) {
                f[k] = std::uint32_t(out.bindPosition.size());
                out.bindPosition.push_back(c.bindPosition[t[k]]);
                weights.emplace_back();
                for (auto i = c.weights.first[t[k]]; i < c.weights.first[t[k] + 1]; ++i)
                    weights.back().push_back({c.weights.joint[i], c.weights.weight[i]});
            }
            out.triangles.push_back(f);
        }
        out.parts[0].vertexCount = std::uint32_t(out.bindPosition.size());
        finish(out, weights);
        return out;
    }

private slots:
    void closedTube() {
        const Subject s = subjectOf(tube());
        QCOMPARE(s.surface.vertexCount(), s.character->vertexCount());
        QCOMPARE(s.surface.borderEdges, std::size_t(0));
        QCOMPARE(s.surface.nonManifoldEdges, std::size_t(0));
        QCOMPARE(s.surface.shellCount, 1u);
    }

    void splitVerticesWeldBack() {
        const Character whole = tube();
        const Subject a = subjectOf(whole), b = subjectOf(split(whole));
        QCOMPARE(b.surface.vertexCount(), a.surface.vertexCount());
        QCOMPARE(b.surface.shellCount, 1u);
        QCOMPARE(b.surface.borderEdges, std::size_t(0));
        QCOMPARE(b.surface.crackingWelds, std::size_t(0));
        QCOMPARE(b.zones[1].triangles.size(), a.zones[1].triangles.size());
    }

    void seamWithUnlikeWeightsIsTold() {
        Character c = split(tube());
        for (std::uint32_t i = c.weights.first[30]; i < c.weights.first[31]; ++i)
            c.weights.joint[i] = c.weights.joint[i] ? 0 : 1;
        QCOMPARE(subjectOf(c).surface.crackingWelds, std::size_t(1));
    }

    void openTubeHasBorders() {
        TubeSpec spec;
        spec.capped = false;
        QCOMPARE(subjectOf(tube(spec)).surface.borderEdges, std::size_t(2 * spec.sides));
    }

    void brokenFacesAreSurvived() {
        Character c = tube();
        c.triangles.push_back(c.triangles[5]);                                            // doubled
        c.triangles.push_back({c.triangles[9][0], c.triangles[9][2], c.triangles[9][1]}); // doubled, turned
        c.triangles.push_back({1, 1, 2});                                                 // a line
        c.triangles.push_back({c.triangles[40][0], c.triangles[40][1], 900});             // a third wing
        c.parts[0].triangleCount += 4;
        const Subject s = subjectOf(c);
        QCOMPARE(s.surface.doubled, std::size_t(2));
        QCOMPARE(s.surface.degenerate, std::size_t(1));
        QVERIFY(s.surface.nonManifoldEdges >= 1);
    }

    void partsAreNotWelded() {
        Character c = tube();
        const auto n = std::uint32_t(c.bindPosition.size());
        Part second = c.parts[0];
        second.name = "coat";
        second.firstVertex = n;
        second.firstTriangle = std::uint32_t(c.triangles.size());
        std::vector<std::vector<std::pair<int, double>>> weights;
        for (int copy = 0; copy < 2; ++copy)
            for (std::uint32_t v = 0; v < n; ++v) {
                weights.emplace_back();
                for (auto i = c.weights.first[v]; i < c.weights.first[v + 1]; ++i)
                    weights.back().push_back({c.weights.joint[i], c.weights.weight[i]});
            }
        for (std::uint32_t v = 0; v < n; ++v)
            c.bindPosition.push_back(c.bindPosition[v]);
        for (std::uint32_t t = 0; t < second.triangleCount; ++t) {
            const Triangle f = c.triangles[t];
            c.triangles.push_back({f[0] + n, f[1] + n, f[2] + n});
        }
        c.parts.push_back(second);
        finish(c, weights);
        const Subject s = subjectOf(c);
        QCOMPARE(s.surface.vertexCount(), std::size_t(2 * n));
        QCOMPARE(s.surface.shellCount, 2u);
        QCOMPARE(c.partOfVertex(n - 1), 0);
        QCOMPARE(c.partOfVertex(n), 1);
    }
};

HOBBLE_TEST(TestSurface)
#include "test_surface.moc"
