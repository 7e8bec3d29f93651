// The weighted quantile against sorting.
#include "core/measure/quantile.h"
#include "support/suite.h"

#include <QTest>
#include <algorithm>
#include <cmath>
#include <random>

using namespace hobble;

class TestQuantile : public QObject {
    Q_OBJECT

    static double sorted(std::vector<std::pair<float, float>> items, double share) {
        std::sort(items.begin(), items.end());
        double total = 0, sum = 0;
        for (const auto& i : items)
            total += i.second;
        for (const auto& i : items)
            if ((sum += i.second) >= share * total)
                return i.first;
        return items.back().first;
    }

private slots:
    void againstSorting_data() {
        QTest::addColumn<int>("count");
        QTest::addColumn<int>("shape");
        for (int count : {1, 2, 3, 10, 1000, 1024, 1025, 20000})
            for (int shape = 0; shape < 5; ++shape)
                QTest::addRow("%d of shape %d", count, shape) << count << shape;
    }

    void againstSorting() {
        QFETCH(int, count);
        QFETCH(int, shape);
        std::mt19937 random(static_cast<unsigned>(count * 7 + shape));
        std::uniform_real_distribution<float> even(0, 1);
        std::vector<std::pair<float, float>> items;
        for (int i = 0; i < count; ++i) {
            float value = even(random);
            if (shape == 1)
                value = 1; // all alike
            if (shape == 2)
                value = i == 0 ? 1e20f : 1 + 1e-3f * value; // one lies far off
            if (shape == 3)
                value = std::floor(value * 4) - 2; // few different, some below zero
            if (shape == 4)
                value = std::exp(20 * value - 10);
            items.push_back({value, 0.01f + even(random)});
        }
        for (double share : {0.0, 0.01, 0.2, 0.5, 0.98, 0.99, 1.0}) {
            // Rounding of the sums may pick a neighbour: what it picks must be between its own neighbours'
            // shares.
            const double quick = weightedQuantile(items, share);
            const double low = sorted(items, std::max(0.0, share - 1e-6)), high = sorted(items, share + 1e-6);
            QVERIFY2(
                quick >= low && quick <= high,
                qPrintable(QStringLiteral("%1: %2, not %3 to %4").arg(share).arg(quick).arg(low).arg(high)));
        }
    }
};

HOBBLE_TEST(TestQuantile)
#include "test_quantile.moc"
