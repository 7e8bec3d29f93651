// Dates as they are said: names in the language at hand, the order as the system's settings have it.
#include "log/date_words.h"
#include "support/suite.h"

using namespace hobble;

class TestDateWords : public QObject {
    Q_OBJECT

    const QDateTime at_{QDate(2026, 11, 30), QTime(21, 4, 9)};

private slots:
    void cleanup() { sayDatesIn(QLocale::English); }

    void asTheSettingsHaveIt_data() {
        QTest::addColumn<QString>("names");
        QTest::addColumn<QString>("order");
        QTest::addColumn<int>("as");
        QTest::addColumn<QString>("said");
        const auto row = [](const char* names, const char* order, DateAs as, const char* said) {
            QTest::addRow("%s", said) << QString::fromLatin1(names) << QString::fromLatin1(order)
                                      << static_cast<int>(as) << QString::fromUtf8(said);
        };
        row("en", "de_DE", DateAs::Day, "30 Nov");
        row("en", "en_US", DateAs::Day, "Nov 30");
        row("en", "en_GB", DateAs::DayOfYear, "30 Nov 2026");
        row("en", "en_US", DateAs::LongOfYear, "November 30, 2026");
        row("en", "en_GB", DateAs::Moment, "30 Nov 21:04");
        row("en", "en_US", DateAs::MomentOfYear, "Nov 30, 2026 9:04 PM");
        row("en", "sv_SE", DateAs::Time, "21:04:09");
        row("en", "fr_FR", DateAs::Weekday, "Monday 21:04");
        row("fr", "fr_FR", DateAs::LongMoment, "30 novembre 2026 21:04");
        row("sv", "sv_SE", DateAs::LongDay, "30 november");
    }
    void asTheSettingsHaveIt() {
        QFETCH(QString, names);
        QFETCH(QString, order);
        QFETCH(int, as);
        QFETCH(QString, said);
        QCOMPARE(dateWords(at_, static_cast<DateAs>(as), QLocale(names), QLocale(order)), said);
    }

    void inTheLanguageAtHand() {
        QCOMPARE(dateWords(at_, DateAs::LongDay, QLocale(QLocale::English), QLocale::c()),
                 QStringLiteral("30 November"));
        sayDatesIn(QLocale(QStringLiteral("sv")));
        QVERIFY(dateWords(at_.date(), DateAs::LongDay).contains(QStringLiteral("november")));
        QVERIFY(dateWords(at_.toUTC(), DateAs::Day) == dateWords(at_, DateAs::Day)); // said in local time
    }
};

HOBBLE_TEST(TestDateWords)
#include "test_date_words.moc"
