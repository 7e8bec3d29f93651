// Empty groups above the joints change nothing that is told: not what joints are, not Intake, not the run,
// not what a cure hands skin over to.
#include "core/intake/check.h"
#include "core/judge/faults.h"
#include "core/run/run.h"
#include "support/suite.h"
#include "support/tube.h"
#include "zoo/flesh.h"

#include <QTest>

using namespace hobble;
using namespace hobble::test;

class TestStackedJoints : public QObject {
    Q_OBJECT

    static QString told(const Subject& s, const Finding& f) {
        return QStringLiteral("%1 at %2 in motion %3, %4")
            .arg(QLatin1String(nameOf(f.kind)),
                 QString::fromStdString(s.character->skeleton.name[static_cast<std::size_t>(f.joint)]))
            .arg(f.motion)
            .arg(f.peakValue, 0, 'f', 3);
    }
    static QString told(const Subject& s, const CheckFinding& f) {
        return QStringLiteral("%1 at %2: %3")
            .arg(QString::fromStdString(f.check),
                 f.joint < 0
                     ? QString()
                     : QString::fromStdString(s.character->skeleton.name[static_cast<std::size_t>(f.joint)]))
            .arg(f.value, 0, 'f', 3);
    }

private slots:
    void changeNothing_data() {
        QTest::addColumn<QString>("body");
        for (const char* body : {"person", "dog", "dressed person", "elephant"})
            QTest::newRow(body) << QString::fromLatin1(body);
    }
    void changeNothing() {
        QFETCH(QString, body);
        const auto plain = zoo::strangerCalled("zoo low " + body.toStdString()),
                   grouped = zoo::strangerCalled("zoo low grouped " + body.toStdString());
        QVERIFY(plain && grouped);
        QVERIFY(grouped->skeleton.size() > plain->skeleton.size() + 10);
        const Subject a = subjectOf(*plain), b = subjectOf(*grouped);
        QCOMPARE(b.body.height, a.body.height);

        const CheckFindings intakeA = inspect(a, {}), intakeB = inspect(b, {});
        QStringList checksA, checksB;
        for (const CheckFinding& f : intakeA)
            checksA << told(a, f);
        for (const CheckFinding& f : intakeB)
            checksB << told(b, f);
        checksA.sort();
        checksB.sort();
        QCOMPARE(checksB, checksA);

        const Plan planA = fullPlan(*a.character, a.roles), planB = fullPlan(*b.character, b.roles);
        QCOMPARE(planB.motions.size(), planA.motions.size());
        const RunResult runA = runPlan(a, planA, {}), runB = runPlan(b, planB, {});
        QStringList findingsA, findingsB;
        for (const Finding& f : runA.findings)
            findingsA << told(a, f);
        for (const Finding& f : runB.findings)
            findingsB << told(b, f);
        QVERIFY(!findingsA.isEmpty());
        QCOMPARE(findingsB, findingsA);
        QCOMPARE(runB.faults.size(), runA.faults.size());
    }
};

HOBBLE_TEST(TestStackedJoints)
#include "test_stacked_joints.moc"
