// The trend on paper: every number of the table can be read again, and only as many as fit.
#include "story/trend_paper.h"
#include "support/suite.h"

#include <QFile>
#include <QProcess>
#include <QTemporaryDir>
#include <QTest>

using namespace hobble;

class TestTrendPaper : public QObject {
    Q_OBJECT

    QTemporaryDir folder_;

    static TrendPaper paper(int weeks) {
        TrendPaper out;
        out.title = QStringLiteral("Open defects of everything");
        out.summary = QStringLiteral("1007 defects are open.");
        for (int i = 0; i < weeks; ++i) {
            TrendPoint p;
            p.label = QStringLiteral("week %1").arg(100 + i);
            p.open = {0, 400 + i, 300 + i, 200 + i, 100 + i};
            p.found = QVector<qint64>(10 + i);
            p.daysToCure = i == 0 ? -1 : 3.5;
            out.trend.points.push_back(p);
        }
        return out;
    }

    QString textOf(const QString& path) {
        QProcess reader;
        reader.start(QStringLiteral("pdftotext"), {QStringLiteral("-layout"), path, QStringLiteral("-")});
        reader.waitForFinished();
        return QString::fromUtf8(reader.readAllStandardOutput());
    }

private slots:
    void numbersCanBeRead() {
        const QString path = folder_.filePath(QStringLiteral("trend.pdf"));
        const auto written = writeTrendPdf(paper(3), path);
        QVERIFY2(written, written ? "" : written.error().c_str());
        const QString text = textOf(path);
        for (const char* words : {"Open defects of everything", "1007 defects are open.", "blocking",
                                  "came back", "week 102", "402", "302", "202", "102", "3.5"})
            QVERIFY2(text.contains(QLatin1String(words)), words);
        QVERIFY(text.indexOf(QLatin1String("402")) <
                text.lastIndexOf(QLatin1String("401"))); // the newest first
    }

    void oneSheetHoweverLong() {
        const QString path = folder_.filePath(QStringLiteral("long.pdf"));
        QVERIFY(writeTrendPdf(paper(400), path));
        const QString text = textOf(path);
        QCOMPARE(text.count(QChar(u'\f')), 1); // ends one page
        QVERIFY(text.contains(QLatin1String("week 499")) && !text.contains(QLatin1String("week 101")));
    }

    void nothingYetAndNowhereToWrite() {
        const QString path = folder_.filePath(QStringLiteral("none.pdf"));
        QVERIFY(writeTrendPdf(paper(0), path));
        QVERIFY(textOf(path).contains(QLatin1String("Open defects")));
        const auto failed = writeTrendPdf(paper(1), QStringLiteral("/nowhere/trend.pdf"));
        QVERIFY(!failed);
        QVERIFY(failed.error().find("/nowhere/trend.pdf") != std::string::npos);
    }
};

HOBBLE_TEST(TestTrendPaper)
#include "test_trend_paper.moc"
