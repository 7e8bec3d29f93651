// Files and lines for programs are the same to the byte on a machine whose settings write 3,14: a build
// machine's settings are not those of the people who read what it wrote.
#include "support/other_locale.h"
#include "support/suite.h"

#include <QDir>
#include <QFile>

namespace {

const QString kBadger = QStringLiteral(HOBBLE_DEMO_DIR "/builds/3/badger-postmaster.glb");

} // namespace

class TestDecimalComma : public QObject {
    Q_OBJECT

    QTemporaryDir locales_, points_, commas_;

    // What hobble-cli writes in a folder, and says; with settings that have commas or without.
    QByteArray run(const QTemporaryDir& in, const QStringList& arguments) {
        QProcessEnvironment env = QProcessEnvironment::systemEnvironment();
        env.insert(QStringLiteral("LOCPATH"), locales_.path());
        env.insert(QStringLiteral("LC_ALL"),
                   &in == &commas_ ? QStringLiteral("de_DE.UTF-8") : QStringLiteral("C.UTF-8"));
        QProcess p;
        p.setProcessEnvironment(env);
        p.setWorkingDirectory(in.path());
        p.start(QStringLiteral(HOBBLE_CLI), arguments);
        if (!p.waitForFinished(300000) || p.exitStatus() != QProcess::NormalExit)
            return "it did not end";
        return QByteArray::number(p.exitCode()) + "\n" + p.readAllStandardOutput();
    }

    void same(const QStringList& arguments, const QStringList& files) {
        const QByteArray said = run(points_, arguments);
        QVERIFY2(said.startsWith("0\n"), said.left(400).constData());
        QCOMPARE(run(commas_, arguments), said);
        for (const QString& name : files) {
            QFile a(points_.filePath(name)), b(commas_.filePath(name));
            QVERIFY2(a.open(QIODevice::ReadOnly) && b.open(QIODevice::ReadOnly), qPrintable(name));
            const QByteArray with = a.readAll(), without = b.readAll();
            QVERIFY2(!with.isEmpty() && with == without, qPrintable(name));
        }
    }

private slots:
    void initTestCase() { QVERIFY(!hobble::test::commaLocale(locales_).isEmpty()); }

    void everythingWritten_data() {
        QTest::addColumn<QStringList>("arguments");
        QTest::addColumn<QStringList>("files");
        const auto row = [](const char* name, const QString& words, const QStringList& files) {
            QStringList arguments = words.split(QLatin1Char(' '));
            arguments.replaceInStrings(QStringLiteral("BADGER"), kBadger);
            QTest::newRow(name) << arguments << files;
        };
        row("weights", QStringLiteral("weights BADGER --csv w.csv"), {QStringLiteral("w.csv")});
        row("plan", QStringLiteral("plan BADGER --out p.json"), {QStringLiteral("p.json")});
        row("clip", QStringLiteral("test-clip BADGER --out c.bvh"), {QStringLiteral("c.bvh")});
        row("posed by numbers", QStringLiteral("pose BADGER --set upper_arm.L=12.5,0.25,0 --out posed.obj"),
            {QStringLiteral("posed.obj")});
        row("run", QStringLiteral("run BADGER --singles --quiet --json r.json --csv r.csv"),
            {QStringLiteral("r.csv")});
        row("exposure",
            QStringLiteral("exposure BADGER --clips %1 --singles --quiet --csv e.csv")
                .arg(QStringLiteral(HOBBLE_DEMO_DIR "/badger-postmaster.bvh")),
            {QStringLiteral("e.csv")});
        row("compared",
            QStringLiteral("compare %1 BADGER --singles --quiet --csv x.csv")
                .arg(QStringLiteral(HOBBLE_DEMO_DIR "/builds/2/badger-postmaster.glb")),
            {QStringLiteral("x.csv")});
    }
    void everythingWritten() {
        QFETCH(QStringList, arguments);
        QFETCH(QStringList, files);
        same(arguments, files);
    }

    // COLLADA says its unit with a point, whoever reads it.
    void aUnitIsReadAsItStands() {
        const QString text = QStringLiteral("/usr/share/assimp/models/Collada/duck.dae");
        QTemporaryDir other;
        const QByteArray at = run(points_, {QStringLiteral("inspect"), text});
        QVERIFY2(at.startsWith("0\n"), at.left(400).constData());
        QCOMPARE(run(commas_, {QStringLiteral("inspect"), text}), at);
    }
};

HOBBLE_TEST(TestDecimalComma)
#include "test_decimal_comma.moc"
