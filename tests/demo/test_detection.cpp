// A small set of planted faults on a stranger with flesh, as a floor under docs/detection.md: found, told at
// the right joint with the right cause, near the top of a short list.
#include "core/run/run.h"
#include "io/run_json.h"
#include "plant/score.h"
#include "support/suite.h"
#include "zoo/flesh.h"

#include <nlohmann/json.hpp>

using namespace hobble;
using namespace hobble::demo;
using nlohmann::json;

namespace {

json runOf(const Character& c) {
    const Subject s = prepareSubject(std::make_shared<const Character>(c));
    return json::parse(runToJson(s, runPlan(s, defaultPlan(*s.character, s.roles))));
}

} // namespace

class TestDetection : public QObject {
    Q_OBJECT

private slots:
    void aStrangersFaultsAreFound() {
        const auto stranger = zoo::strangerCalled("zoo low dog");
        QVERIFY(stranger);
        const json clean = runOf(*stranger);
        QVERIFY2(clean["faults"].size() < 20, qPrintable(QString::number(clean["faults"].size())));
        for (const json& f : clean["faults"])
            QVERIFY2(f["severity"].get<int>() < 4, f["sentence"].get<std::string>().c_str());
        Score all;
        std::uint32_t seed = 41;
        for (const char* fault :
             {"stray influence", "influence across the body", "flying vertex", "blend too hard",
              "blend too wide", "held by the parent", "patch left on the root", "pivot outside the flesh"})
            for (double strength : {0.5, 0.85}) {
                Recipe r;
                r.seed = seed += 7;
                r.faults.resize(1);
                r.faults[0].fault = fault;
                r.faults[0].strength = strength;
                Character faulty = *stranger;
                const auto truth = plant(faulty, r);
                QVERIFY2(truth.ok(), truth ? "" : truth.error().c_str());
                faulty.neutral = neutralPositions(faulty);
                all.add(scoreRun(runOf(faulty), &clean, *truth));
            }
        qInfo("%s", scoreText(all).c_str());
        QVERIFY(all.recall() >= 0.85);
        QVERIFY(all.joint() >= 0.85);
        QVERIFY(all.cause() >= 0.75);
        QVERIFY(all.amongFirst(5) >= 0.85);
    }

    // Skin that a stray draws into other skin, at joints further on, is a sign of the stray: what is listed
    // with it is what was there before.
    void whatGoesWithAFaultIsItsSign() {
        const auto person = zoo::strangerCalled("zoo low person");
        QVERIFY(person);
        const Subject clean = prepareSubject(std::make_shared<const Character>(*person));
        const RunResult before = runPlan(clean, defaultPlan(*clean.character, clean.roles));
        Recipe r;
        r.seed = 88845;
        r.faults.resize(1);
        r.faults[0].fault = "stray influence";
        r.faults[0].strength = 0.9;
        Character faulty = *person;
        const auto truth = plant(faulty, r);
        QVERIFY2(truth.ok(), truth ? "" : truth.error().c_str());
        faulty.neutral = neutralPositions(faulty);
        const Subject s = prepareSubject(std::make_shared<const Character>(faulty));
        RunOptions options;
        const RunResult run = runPlan(s, defaultPlan(*s.character, s.roles), options);
        // every sign is of one fault
        std::vector<int> of(run.findings.size(), 0);
        for (const hobble::Fault& f : run.faults)
            for (int i : f.signs)
                ++of[std::size_t(i)];
        QVERIFY(std::all_of(of.begin(), of.end(), [](int n) { return n == 1; }));
        // that of the stray has skin in skin, at another joint than its own
        const hobble::Fault& stray = run.faults.front();
        QVERIFY(stray.headline() && stray.headline()->kind == CauseKind::StrayInfluence);
        QVERIFY(std::any_of(stray.signs.begin(), stray.signs.end(), [&](int i) {
            const Finding& f = run.findings[std::size_t(i)];
            return f.kind == Kind::Contact && f.joint != stray.joint;
        }));
        QVERIFY2(run.faults.size() <= before.faults.size() + 1,
                 qPrintable(QStringLiteral("%1, clean %2").arg(run.faults.size()).arg(before.faults.size())));
        // as many threads as one likes
        options.threads = 1;
        const RunResult alone = runPlan(s, defaultPlan(*s.character, s.roles), options);
        QCOMPARE(alone.faults.size(), run.faults.size());
        for (std::size_t k = 0; k < run.faults.size(); ++k)
            QCOMPARE(alone.faults[k].signs, run.faults[k].signs);
    }

    void aFingerThatBleedsIn() {
        const auto hand = zoo::strangerCalled("zoo hand alone");
        QVERIFY(hand);
        const json clean = runOf(*hand);
        Recipe r;
        r.seed = 5;
        r.faults.resize(1);
        r.faults[0].fault = "neighbour finger bleeds in";
        r.faults[0].strength = 0.6;
        Character faulty = *hand;
        const auto truth = plant(faulty, r);
        QVERIFY2(truth.ok(), truth ? "" : truth.error().c_str());
        const Score s = scoreRun(runOf(faulty), &clean, *truth);
        QVERIFY2(s.found == 1 && s.causeRight == 1 && s.jointRight == 1, scoreText(s).c_str());
    }

    // Bound without any blend: told as that, and as nothing that was painted.
    void boundHard() {
        const auto dog = zoo::strangerCalled("zoo hard low dog");
        QVERIFY(dog);
        const json run = runOf(*dog);
        int told = 0;
        for (const json& f : run["faults"])
            if (!f["causes"].empty()) {
                const std::string cause = f["causes"][0]["cause"];
                told += cause == "bound without a blend";
                QVERIFY2(cause != "blend too wide" && cause != "held by the parent", f.dump(1).c_str());
            }
        QVERIFY2(told >= 4, qPrintable(QString::number(told)));
    }

    // Every stranger with flesh, clean, lists little.
    void cleanStrangersListLittle_data() {
        QTest::addColumn<QString>("name");
        for (const char* name : {"zoo low person", "zoo low horse", "zoo low mouse", "zoo low centaur"})
            QTest::newRow(name) << QString::fromLatin1(name);
    }
    void cleanStrangersListLittle() {
        QFETCH(QString, name);
        const auto stranger = zoo::strangerCalled(name.toStdString());
        QVERIFY(stranger);
        const json run = runOf(*stranger);
        QVERIFY2(run["faults"].size() < 20, qPrintable(QString::number(run["faults"].size())));
        std::size_t signs = 0;
        for (const json& f : run["faults"])
            signs += f["signs"].size();
        QCOMPARE(signs, run["findings"].size());
    }

    void namesOfStrangers() {
        QVERIFY(!zoo::strangerCalled("badger-postmaster"));
        QVERIFY(!zoo::strangerCalled("zoo unicorn"));
        const auto plain = zoo::strangerCalled("zoo mouse"), low = zoo::strangerCalled("zoo low mouse"),
                   hard = zoo::strangerCalled("zoo hard mouse");
        QVERIFY(plain && low && hard);
        QVERIFY(low->vertexCount() * 4 < plain->vertexCount());
        for (std::uint32_t v = 0; v < hard->vertexCount(); ++v)
            QCOMPARE(hard->weights.first[v + 1] - hard->weights.first[v], 1u);
    }
};

HOBBLE_TEST(TestDetection)
#include "test_detection.moc"
