// Each check on a planted case and on a clean one.
#include "core/intake/check.h"
#include "support/tube.h"

#include <QTest>
#include <algorithm>

using namespace hobble;
using namespace hobble::test;

class TestIntake : public QObject {
    Q_OBJECT

    static const CheckFinding* find(const CheckFindings& all, const std::string& check) {
        const auto it =
            std::find_if(all.begin(), all.end(), [&](const CheckFinding& f) { return f.check == check; });
        return it == all.end() ? nullptr : &*it;
    }

private slots:
    void cleanPasses() {
        const CheckFindings all = inspect(subjectOf(tube()));
        QVERIFY2(all.empty(), all.empty() ? "" : all[0].sentence.c_str());
    }

    void sums() {
        Character c = tube();
        c.weights.fileSum[100] = 0.8f;
        c.weights.fileSum[101] = 1.3f;
        const Subject s = subjectOf(c);
        const auto all = inspect(s);
        const CheckFinding* f = find(all, "weights that do not sum to 1");
        QVERIFY(f && f->vertices.size() == 1);
        QCOMPARE(f->vertices[0].second, (std::vector<std::uint32_t>{100, 101}));
        QVERIFY(std::abs(f->value - 0.3) < 1e-6);
    }

    void manyAndNegligible() {
        Character c = tube();
        c.skeleton = skeletonOf({{"upper_arm.L", -1, {0, -0.8, 0}},
                                 {"forearm.L", 0, {0, 0, 0}},
                                 {"hand.L", 1, {0, .3, 0}},
                                 {"finger.L", 2, {0, .4, 0}},
                                 {"neck", 0, {0, .5, 0}},
                                 {"head", 4, {0, .6, 0}}});
        std::vector<std::vector<std::pair<int, double>>> weights;
        for (std::uint32_t v = 0; v < c.vertexCount(); ++v) {
            weights.push_back({{0, 0.5}, {1, 0.5}});
            if (v < 40)
                weights.back() = {{0, 0.4}, {1, 0.3}, {2, 0.1}, {3, 0.1}, {4, 0.05}, {5, 0.05}};
            else if (v < 600)
                weights.back() = {{0, 0.5}, {1, 0.499}, {5, 0.001}};
        }
        finish(c, weights);
        const auto all = inspect(subjectOf(c));
        const CheckFinding* many = find(all, "too many influences");
        QVERIFY(many && many->value == 6 && many->vertices[0].second.size() == 40);
        const CheckFinding* dust = find(all, "negligible weights");
        QVERIFY(dust && dust->vertices[0].second.size() == 560);
    }

    void endsAndIdleJoints() {
        Character c = tube();
        c.skeleton = skeletonOf({{"upper_arm.L", -1, {0, -0.8, 0}},
                                 {"forearm.L", 0, {0, 0, 0}},
                                 {"hand.L", 1, {0, .4, 0}},
                                 {"hand_end.L", 2, {0, .7, 0}}});
        std::vector<std::vector<std::pair<int, double>>> weights;
        for (const Vec3& p : c.neutral)
            weights.push_back(p.y() > 0.6f ? std::vector<std::pair<int, double>>{{1, 0.4}, {3, 0.6}}
                                           : std::vector<std::pair<int, double>>{{p.y() > 0 ? 1 : 0, 1.0}});
        finish(c, weights);
        const auto all = inspect(subjectOf(c));
        QVERIFY(find(all, "weights on an end joint") && find(all, "weights on an end joint")->joint == 3);
        QVERIFY(find(all, "joint with no weight") && find(all, "joint with no weight")->joint == 2);
    }

    void crackingSeam() {
        Character c = tube();
        // A second copy of one vertex, weighted otherwise, holds one of its triangles.
        const std::uint32_t v = 64 * 64 + 3, n = static_cast<std::uint32_t>(c.vertexCount());
        c.neutral.push_back(c.neutral[v]);
        c.colour.resize(c.neutral.size(), Vec3::Ones());
        std::vector<std::vector<std::pair<int, double>>> weights;
        for (std::uint32_t i = 0; i < n; ++i) {
            weights.emplace_back();
            for (std::uint32_t k = c.weights.first[i]; k < c.weights.first[i + 1]; ++k)
                weights.back().push_back({c.weights.joint[k], c.weights.weight[k]});
        }
        weights.push_back({{0, 1.0}});
        for (Triangle& t : c.triangles)
            if (auto at = std::find(t.begin(), t.end(), v); at != t.end()) {
                *at = n;
                break;
            }
        c.parts[0].vertexCount = n + 1;
        c.bindPosition = c.neutral;
        finish(c, weights);
        const auto all = inspect(subjectOf(c));
        const CheckFinding* f = find(all, "seam that cracks");
        QVERIFY(f);
        QCOMPARE(f->vertices[0].second, (std::vector<std::uint32_t>{v, n}));
    }

    void scales() {
        Character c = tube();
        c.skeleton.neutralLocal[0].linear() *= 100;
        const auto all = inspect(subjectOf(c));
        QVERIFY(find(all, "transforms not applied") && find(all, "transforms not applied")->joint == 0);
    }
};

QTEST_APPLESS_MAIN(TestIntake)
#include "test_intake.moc"
