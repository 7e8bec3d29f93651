// Sentences made from facts: their numbers as the reader's settings have them, those of files never.
#include "core/judge/measure_unit.h"
#include "core/plain_number.h"
#include "core/words/measure_words.h"
#include "core/words/say.h"
#include "support/other_locale.h"
#include "support/suite.h"

#include <clocale>
#include <cmath>
#include <random>

using namespace hobble;

class TestSay : public QObject {
    Q_OBJECT

    QTemporaryDir locales_;

private slots:
    void initTestCase() { QVERIFY(!test::commaLocale(locales_).isEmpty()); }

    void placesTakeWordsAndNumbers() {
        QCOMPARE(say("%s at %zu of %d", std::string("knee"), std::size_t(3), 4),
                 std::string("knee at 3 of 4"));
        QCOMPARE(say("%.0f %% goes", 12.4), std::string("12 % goes"));
        QCOMPARE(counted(1, "one vertex", "%n vertices"), std::string("one vertex"));
        QCOMPARE(counted(12, "one vertex", "%n vertices"), std::string("12 vertices"));
        QCOMPARE(wordsFor(MeasureUnit{1000, 1, " mm"}, 0.01234), std::string("12.3 mm"));
    }

    // As printf has it in the C locale, which is the independent slow way.
    void plainNumbersAreThoseOfC() {
        std::mt19937 random(11);
        std::uniform_real_distribution<double> mantissa(-10, 10), power(-30, 30);
        for (int i = 0; i < 20000; ++i) {
            const double x = mantissa(random) * std::pow(10, power(random));
            char text[128];
            std::snprintf(text, sizeof text, "%.9g", x);
            QCOMPARE(plainNumber(x, 9), std::string(text));
            std::snprintf(text, sizeof text, "%.6f", x);
            QCOMPARE(fixedNumber(x, 6), std::string(text));
            QCOMPARE(numberAt(plainNumber(x, 17)), x);
        }
        QCOMPARE(numberAt("0.0254\" name=\"inch\""), 0.0254);
        QCOMPARE(numberAt("inch"), 0.0);
        QCOMPARE(fixedNumber(1e300, 6), std::string("1e+300"));
    }

    // Last, for it changes what numbers are said as.
    void numbersAreSaidAsTheSystemDoes() {
        qputenv("LOCPATH", locales_.path().toLocal8Bit());
        qputenv("LC_ALL", "de_DE.UTF-8");
        QVERIFY(std::setlocale(LC_ALL, "")); // as a window does
        QCOMPARE(say("%.2f", 3.684), std::string("3.68"));
        QCOMPARE(plainNumber(3.684, 9), std::string("3.684"));
        sayNumbersAsTheSystemDoes();
        std::setlocale(LC_NUMERIC, "C");
        QCOMPARE(say("%.2f", 3.684), std::string("3,68"));
        QCOMPARE(wordsFor(MeasureUnit{100, 1, " %"}, 0.0625), std::string("6,2 %"));
        QCOMPARE(plainNumber(3.684, 9), std::string("3.684"));
        char text[16];
        std::snprintf(text, sizeof text, "%.2f", 3.684);
        QCOMPARE(text, "3.68");
        qputenv("LC_ALL", "C");
        sayNumbersAsTheSystemDoes();
        std::setlocale(LC_ALL, "C");
    }
};

HOBBLE_TEST(TestSay)
#include "test_say.moc"
