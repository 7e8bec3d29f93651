// A proposal goes into the log whole, comes out as it was, and is words to a person wherever its defect's
// history is shown.
#include "log/proposal.h"
#include "support/suite.h"

#include <QJsonDocument>
#include <QJsonObject>
#include <QTemporaryDir>
#include <QTest>

using namespace hobble;

class TestProposal : public QObject {
    Q_OBJECT

    static Proposal some() {
        Proposal p;
        p.sentence =
            QStringLiteral("stretch at forearm.R 4.64 → 1.31 (limit 1.35), 94 % of the trouble goes");
        p.steps = {QStringLiteral("As the other side, over 214 vertices"),
                   QStringLiteral("Soften “Küste” twice")};
        p.kind = QStringLiteral("stretch");
        p.was = 4.64;
        p.is = 1.31;
        p.limit = 1.35;
        p.gone = 0.94;
        p.build = 3;
        p.trial = R"({"format":"hobble-trial","version":1,"steps":[]})";
        return p;
    }

private slots:
    void keptAndTold() {
        const QTemporaryDir folder;
        auto opened = ProductionLog::open(folder.filePath(QStringLiteral("log.sqlite")), 100);
        QVERIFY(opened);
        ProductionLog& log = **opened;
        DefectFacts facts;
        facts.buildId =
            log.build(QStringLiteral("badger"), QStringLiteral("abc"), QStringLiteral("/b.glb"))->id;
        facts.joint = QStringLiteral("forearm.R");
        facts.kind = QStringLiteral("stretch");
        facts.what = QStringLiteral("Right elbow stretches");
        facts.pose = facts.camera = facts.marks = "{}";
        const auto id = log.addDefect(facts, 3, QStringLiteral("Petra"));
        QVERIFY(id);
        const Defect before = *log.defect(*id);
        const auto written = log.change({proposalEvent(before, some())}, QStringLiteral("Juno"));
        QVERIFY(written && written->clashes.isEmpty());
        // it adds, and overwrites nothing: one that was based on an older state is written, too
        QVERIFY(log.change({proposalEvent(before, some())}, QStringLiteral("Ines"))->clashes.isEmpty());
        const auto history = log.history(*id);
        QVERIFY(history);
        const DefectEvent& event = history->at(history->size() - 2);
        QCOMPARE(event.field, QStringLiteral("proposal"));
        const auto back = proposalFrom(event.value);
        QVERIFY(back);
        Proposal expected = some();
        QCOMPARE(QJsonDocument::fromJson(back->trial).object(),
                 QJsonDocument::fromJson(expected.trial).object());
        expected.trial = back->trial;
        QVERIFY(*back == expected);
        const QString words = valueWords(event);
        QVERIFY(words.contains(QStringLiteral("As the other side")) &&
                words.contains(QStringLiteral("94 %")));
        QVERIFY(!words.contains(QLatin1Char('{')));
        QCOMPARE(log.defect(*id)->severity, before.severity);
    }

    void whatIsNone() {
        for (const char* text : {"", "{}", "[1]", "softer", R"({"sentence": "x"})"})
            QVERIFY(!proposalFrom(QString::fromUtf8(text)));
        DefectEvent e;
        e.field = QStringLiteral("proposal");
        e.value = QStringLiteral("written by another program");
        QCOMPARE(valueWords(e), e.value);
        e.field = QStringLiteral("state");
        e.value = QStringLiteral("closed");
        QCOMPARE(valueWords(e), QStringLiteral("closed"));
    }
};

HOBBLE_TEST(TestProposal)
#include "test_proposal.moc"
