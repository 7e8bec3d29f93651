// Copies share until one is changed; the others never see it.
#include "core/shared_vector.h"
#include "support/suite.h"
#include "support/tube.h"

#include <QTest>

#include <random>

using namespace hobble;
using namespace hobble::test;

class TestSharedVector : public QObject {
    Q_OBJECT

private slots:
    // Random changes to a handful of vectors that share, beside plain ones that never do.
    void behavesAsPlainCopiesDo() {
        std::mt19937 random(7);
        const auto one = [&](std::size_t below) { return std::size_t(random() % below); };
        constexpr std::size_t kSome = 5;
        std::vector<SharedVector<int>> shared(kSome);
        std::vector<std::vector<int>> plain(kSome);
        for (int round = 0; round < 20000; ++round) {
            const std::size_t a = one(kSome), b = one(kSome);
            const int item = static_cast<int>(random() % 1000);
            switch (one(8)) {
            case 0:
                shared[a] = shared[b], plain[a] = plain[b];
                break;
            case 1:
                shared[a] = SharedVector<int>(shared[b]), plain[a] = std::vector<int>(plain[b]);
                break;
            case 2:
                shared[a].push_back(item), plain[a].push_back(item);
                break;
            case 3:
                if (!plain[a].empty()) {
                    const std::size_t at = one(plain[a].size());
                    shared[a][at] = item, plain[a][at] = item;
                }
                break;
            case 4:
                if (!plain[a].empty())
                    shared[a].pop_back(), plain[a].pop_back();
                break;
            case 5:
                if (a != b) {
                    shared[a] = std::move(shared[b]), plain[a] = std::move(plain[b]);
                    shared[b].clear(), plain[b].clear();
                }
                break;
            case 6:
                for (int& i : shared[a])
                    ++i;
                for (int& i : plain[a])
                    ++i;
                break;
            default:
                if (plain[a].size() > 40)
                    shared[a].clear(), plain[a].clear();
                else
                    shared[a].resize(plain[a].size() + 2, item), plain[a].resize(plain[a].size() + 2, item);
            }
            for (std::size_t i = 0; i < kSome; ++i)
                if (shared[i].vector() != plain[i] || shared[i].size() != plain[i].size())
                    QFAIL(qPrintable(QStringLiteral("vector %1 after %2 changes").arg(i).arg(round + 1)));
        }
    }

    // A character with other weights costs its weights and nothing else.
    void aCharacterWithOtherWeightsSharesTheRest() {
        const Character before = tube();
        Character after = before;
        const float was = before.weights.weight[0];
        after.weights.weight[0] = was / 2;
        QVERIFY(!after.weights.weight.sharesWith(before.weights.weight));
        QCOMPARE(before.weights.weight[0], was);
        QCOMPARE(after.weights.weight[0], was / 2);
        QVERIFY(after.weights.joint.sharesWith(before.weights.joint));
        QVERIFY(after.weights.first.sharesWith(before.weights.first));
        QVERIFY(after.neutral.sharesWith(before.neutral));
        QVERIFY(after.bindPosition.sharesWith(before.bindPosition));
        QVERIFY(after.triangles.sharesWith(before.triangles));
        QVERIFY(after.parts.sharesWith(before.parts));
    }
};

HOBBLE_TEST(TestSharedVector)
#include "test_shared_vector.moc"
