// Naming profiles and Intake limits as files.
#include "io/character_read.h"
#include "io/intake_limits_json.h"
#include "io/naming_json.h"
#include "support/suite.h"

#include <QTest>

using namespace hobble;

class TestNaming : public QObject {
    Q_OBJECT

private slots:
    void thereAndBack() {
        NamingProfile p{"Dachs", {"böse", "Ä\"1", "左腕"}, {{"左腕", {Role::Shoulder, Side::Left}}}};
        const auto read = namingFromJson(namingToJson(p));
        QVERIFY2(read.ok(), read.error().c_str());
        QVERIFY(*read == p);
    }

    void fitsWhatIsNamedAlike() {
        const Character badger = *readCharacter(HOBBLE_DEMO_DIR "/badger-postmaster.glb"),
                        goat = *readCharacter(HOBBLE_DEMO_DIR "/pack-goat.glb");
        NamingProfile p;
        for (const std::string& n : badger.skeleton.name)
            p.known.insert(n);
        p.corrections["jaw"] = {Role::Tongue, Side::Middle};
        QCOMPARE(fit(p, badger.skeleton), 1.0);
        QVERIFY(fit(p, goat.skeleton) < kGoodFit + 0.2);
        Skeleton spaced = badger.skeleton; // the same rig below a namespace
        for (std::string& n : spaced.name)
            n = "shot_12:" + n;
        QCOMPARE(fit(p, spaced), 1.0);
        QCOMPARE(correctionsFor(p, spaced).begin()->first, std::string("shot_12:jaw"));
        p.corrections.clear();
        QCOMPARE(fit(p, badger.skeleton), 0.0); // nothing to offer
    }

    void badFiles_data() {
        QTest::addColumn<QString>("text");
        QTest::addColumn<QString>("says");
        QTest::newRow("no JSON") << "{"
                                 << "not valid JSON";
        QTest::newRow("other") << R"({"format":"hobble-plan","version":1})"
                               << "naming profile";
        QTest::newRow("version") << R"({"format":"hobble-naming","version":7,"joints":{}})"
                                 << "another version";
        QTest::newRow("role") << R"({"format":"hobble-naming","version":1,"joints":{"a":{"role":"gill"}}})"
                              << "'a'";
        QTest::newRow("no joints") << R"({"format":"hobble-naming","version":1})"
                                   << "lacks";
    }
    void badFiles() {
        QFETCH(QString, text);
        QFETCH(QString, says);
        const auto p = namingFromJson(text.toStdString());
        QVERIFY(!p.ok());
        QVERIFY2(QString::fromStdString(p.error()).contains(says), p.error().c_str());
    }

    void intakeLimits() {
        IntakeLimits limits;
        limits.mostInfluences = 8;
        limits.loops[Role::Finger] = 1;
        const auto read = intakeLimitsFromJson(intakeLimitsToJson(limits));
        QVERIFY2(read.ok(), read.error().c_str());
        QVERIFY(*read == limits);
        QVERIFY(*intakeLimitsFromJson(R"({"format":"hobble-intake-limits","version":1})") == IntakeLimits());
        for (const char* bad :
             {R"({"format":"hobble-intake-limits","version":1,"mostInfluences":0})",
              R"({"format":"hobble-intake-limits","version":1,"mostInfluences":"many"})",
              R"({"format":"hobble-intake-limits","version":1,"loops":{"gill":2}})",
              R"({"format":"hobble-intake-limits","version":1,"leastHeight":9,"mostHeight":2})"})
            QVERIFY(!intakeLimitsFromJson(bad).ok());
    }
};

HOBBLE_TEST(TestNaming)
#include "test_naming.moc"
