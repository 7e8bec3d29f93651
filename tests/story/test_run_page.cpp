// The report of a run: whole, escaped, with pictures of every fault, small enough to be sent and soon made.
#include "core/measure/subject.h"
#include "io/character_read.h"
#include "story/run_page.h"
#include "support/suite.h"
#include "support/tube.h"

using namespace hobble;
using namespace hobble::test;

class TestRunPage : public QObject {
    Q_OBJECT

private slots:
    void isWholeAndEscaped() {
        TubeSpec spec;
        spec.tipName = "<script>";
        Character c = tube(spec);
        c.name = "Küste & <b>Deich</b>";
        const Subject s = subjectOf(c);
        const RunResult r = runPlan(s, turnPlan(Vec3d::UnitX(), {0, 45, 90, 120, 0}));
        QVERIFY(!r.faults.empty());
        const QByteArray html = runPage(s, r);
        QVERIFY(!html.contains("<script>"));
        QVERIFY(html.contains("Küste &amp; &lt;b&gt;Deich"));
        QVERIFY(html.contains("<svg"));
        QVERIFY(!html.contains("http://") && !html.contains("https://"));
        QVERIFY(html.endsWith("</html>\n"));
        // a strip for the motion: from the lower left to the lower right corner, and nothing that was not put
        // in
        QVERIFY(html.contains("points=\"0,26 0.0,26.0 ") && html.contains(" 320,26\""));
        for (int n = 1; n < 10; ++n)
            QVERIFY(!html.contains('%' + QByteArray::number(n)));
    }

    // Each fault once, in the run's order, with pictures, curve and signs.
    void everyFaultIsShown() {
        const Subject s = subjectOf(*readCharacter(HOBBLE_DEMO_DIR "/pack-goat.glb"));
        const RunResult r = runPlan(s, fullPlan(*s.character, s.roles));
        QVERIFY(r.faults.size() > 3);
        const QByteArray html = runPage(s, r);
        QVERIFY2(html.size() < 5'000'000, qPrintable(QString::number(html.size())));
        qsizetype at = 0;
        for (std::size_t k = 0; k < r.faults.size(); ++k) {
            const qsizetype here =
                html.indexOf(QStringLiteral("<section id=\"fault-%1\">").arg(k + 1).toUtf8());
            QVERIFY(here > at);
            at = here;
            const QByteArray section = html.mid(here, html.indexOf("</section>", here) - here);
            QVERIFY(section.count("<img ") >= 2);
            QCOMPARE(section.count("<li>"), qsizetype(r.faults[k].signs.size()) - 1);
        }
        QCOMPARE(html.count("<section id="), qsizetype(r.faults.size()));
    }

    void stopsWhenAsked() {
        const Subject s = subjectOf(tube());
        const RunResult r = runPlan(s, turnPlan(Vec3d::UnitX(), {0, 45, 90, 120, 0}));
        RunPageWish wish;
        int asked = 0;
        wish.progress = [&](int, int) {
            ++asked;
            return false;
        };
        QVERIFY(runPage(s, r, wish).endsWith("</html>\n")); // told without the pictures that were left out
        QCOMPARE(asked, 1);
    }
};

HOBBLE_TEST(TestRunPage)
#include "test_run_page.moc"
