// Cells: whatever goes out comes in again, nothing is a formula for a spreadsheet, torn tables are refused.
#include "io/csv.h"
#include "support/suite.h"

#include <QTest>
#include <random>

using namespace hobble;

class TestCsv : public QObject {
    Q_OBJECT

    static std::string line(const std::vector<std::string>& cells, const std::string& end) {
        std::string out;
        for (const std::string& cell : cells)
            out += (&cell == cells.data() ? "" : ",") + csvCell(cell);
        return out + end;
    }

private slots:
    void whatGoesOutComesIn() {
        std::mt19937 random(11);
        const std::string letters = "ab,\"'\n\r=+-@\t 1é";
        for (int round = 0; round < 500; ++round) {
            std::vector<std::vector<std::string>> table(1 + random() % 4);
            std::string text = round % 2 ? "\xEF\xBB\xBF" : "";
            for (auto& row : table) {
                row.resize(2 + random() % 4);
                for (std::string& cell : row)
                    for (std::size_t n = random() % 8; n > 0; --n)
                        cell += letters[random() % letters.size()];
                text += line(row, round % 3 ? "\n" : "\r\n");
            }
            const auto again = csvRows(text);
            QVERIFY2(again, again ? "" : again.error().c_str());
            QVERIFY2(*again == table, text.c_str());
        }
    }

    void nothingIsAFormula() {
        for (const char* name : {"=HYPERLINK(\"http://x\")", "+1+1", "-a", "@sum", "\tx"})
            QVERIFY2(csvCell(name).find('\'') <= 1, name);
        for (const char* number : {"-1.5", "+2", "1e-3", "0"})
            QCOMPARE(csvCell(number), std::string(number));
    }

    void tornAndEmpty() {
        QVERIFY(!csvRows("a,\"b"));
        QVERIFY(csvRows("")->empty());
        QCOMPARE(csvRows("a,b\n\n\r\nc")->size(), std::size_t(2)); // empty lines are none
    }
};

HOBBLE_TEST(TestCsv)
#include "test_csv.moc"
