// What a variant, a correction and an inspection are of: the build as it was delivered, or as it is worn.
#include "app/session/session.h"
#include "support/suite.h"

#include <QDir>
#include <QSettings>
#include <QSignalSpy>
#include <QTemporaryDir>

using namespace hobble;

class TestBuildDesk : public QObject {
    Q_OBJECT

    QTemporaryDir folder_;
    std::unique_ptr<Session> s_;

    bool finished() {
        return QTest::qWaitFor([&] { return s_->run().run() && !s_->jobs().busy(); }, 60000);
    }
    static Variant without(const char* part) {
        Variant v;
        v.name = "bare";
        v.partsOff = {part};
        return v;
    }
    std::size_t runsOfTheBuild() {
        const auto kept = s_->log().link().ask(
            [id = s_->log().build().id](ProductionLog& log) { return log.runCount(id); });
        return kept ? static_cast<std::size_t>(*kept) : 999;
    }
    bool wear(int variant) {
        s_->build().wear(variant);
        return QTest::qWaitFor([&] { return s_->build().variant() == variant && !s_->jobs().busy(); }, 60000);
    }

private slots:
    void init() {
        QSettings().clear();
        QDir(BuildDesk::variantsFolder()).removeRecursively();
        QDir(BuildDesk::namingFolder()).removeRecursively();
        s_ = std::make_unique<Session>();
        s_->log().open(folder_.filePath(QStringLiteral("log-%1.sqlite").arg(next())));
        s_->build().open(QStringLiteral(HOBBLE_DEMO_DIR "/pack-goat.glb"));
        QVERIFY(finished());
    }
    void cleanup() { s_.reset(); }

    // Files that crash the importer library (tests/io/fuzzed) cost a sentence; what was open stays open.
    void aFileThatCrashesTheImporter() {
        const auto open = s_->build().subject();
        const QDir fuzzed(QStringLiteral(HOBBLE_DEMO_DIR "/../../tests/io/fuzzed"));
        const QStringList files =
            fuzzed.entryList({QStringLiteral("*.x"), QStringLiteral("*.fbx")}, QDir::Files);
        QCOMPARE(files.size(), 2);
        for (const QString& file : files) {
            QSignalSpy failed(&s_->build(), &Desk::failed);
            s_->build().open(fuzzed.filePath(file));
            QVERIFY(QTest::qWaitFor([&] { return failed.size() == 1 && !s_->jobs().busy(); }, 60000));
            QVERIFY(failed[0][0].toString().contains(file));
            QCOMPARE(s_->build().subject(), open);
        }
    }

    // Editing what is worn and stopping leaves what was put on, under its name; its runs are never the
    // build's.
    void editingWhatIsWornAndStopping() {
        QTRY_COMPARE(runsOfTheBuild(), std::size_t(1)); // the build's own
        const std::string part = s_->build().build()->parts.back().name;
        s_->build().setVariants({without(part.c_str())});
        QVERIFY(wear(0));
        QVERIFY(finished());
        QVERIFY(!s_->build().wearsNothing());
        const auto worn = s_->build().subject();
        Variant other = without(part.c_str());
        other.drivers = false;
        QSignalSpy told(&s_->build(), &Desk::told);
        s_->build().setVariants({other});
        s_->jobs().cancel();
        QTRY_VERIFY(!s_->jobs().busy());
        QCOMPARE(s_->build().subject(), worn);
        QCOMPARE(s_->build().variant(), 0);
        QCOMPARE(s_->build().wornName(), QStringLiteral("bare"));
        QVERIFY(!s_->build().wearsNothing());
        s_->run().start();
        QVERIFY(finished());
        QCOMPARE(runsOfTheBuild(), std::size_t(1));
        // asked for again, the edited one is put on
        QVERIFY(wear(0));
        QTRY_VERIFY(s_->build().subject() != worn);
        QVERIFY(s_->build().subject()->character->drivers.empty());
    }

    // A role corrected while a variant is worn: the build stays the build, the variant stays worn.
    void correctingARoleUnderAVariant() {
        const auto build = s_->build().build();
        s_->build().setVariants({without(build->parts.back().name.c_str())});
        QVERIFY(wear(0));
        const int joint = build->skeleton.size() - 1;
        s_->build().correctRole(joint, Role::Helper, Side::Middle);
        QVERIFY(QTest::qWaitFor(
            [&] {
                return !s_->jobs().busy() &&
                       s_->build().buildSubject()->roles[std::size_t(joint)].role == Role::Helper;
            },
            60000));
        QCOMPARE(s_->build().build(), build);
        QCOMPARE(s_->build().variant(), 0);
        QVERIFY(s_->build().subject()->character != build);
        QCOMPARE(s_->build().subject()->roles[std::size_t(joint)].role, Role::Helper);
    }

    // Intake is about the build: its score in the log is the build's, whatever is worn.
    void inspectingUnderAVariant() {
        const int score = s_->build().score();
        const std::size_t checks = s_->build().checks().size();
        Variant bare;
        bare.name = "one part";
        for (const Part& p : s_->build().build()->parts)
            if (p.name != s_->build().build()->parts.front().name)
                bare.partsOff.push_back(p.name);
        s_->build().setVariants({bare});
        QVERIFY(wear(0));
        IntakeLimits limits = s_->build().limits();
        limits.sumTolerance *= 1.5;
        QSignalSpy inspected(&s_->build(), &BuildDesk::checkChanged);
        s_->build().setLimits(limits);
        QVERIFY(inspected.wait(60000));
        QCOMPARE(s_->build().score(), score);
        QCOMPARE(s_->build().checks().size(), checks);
        for (const BuildState& b : s_->build().builds())
            if (b.build.id == s_->log().build().id)
                QCOMPARE(b.score, score);
    }

private:
    static int next() {
        static int n = 0;
        return ++n;
    }
};

HOBBLE_TEST(TestBuildDesk)
#include "test_build_desk.moc"
