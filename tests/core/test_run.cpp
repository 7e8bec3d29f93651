#include "core/measure/pose_meter.h"
#include "core/run/run.h"
#include "core/words/cause_words.h"
#include "core/words/finding_words.h"
#include "io/character_read.h"
#include "io/run_json.h"
#include "support/suite.h"
#include "support/tube.h"

#include <QTest>
#include <algorithm>
#include <nlohmann/json.hpp>

using namespace hobble;
using namespace hobble::test;

class TestRun : public QObject {
    Q_OBJECT

    static Subject badger() { return subjectOf(*readCharacter(HOBBLE_DEMO_DIR "/badger-postmaster.glb")); }
    static Subject firstBuild() {
        return subjectOf(*readCharacter(HOBBLE_DEMO_DIR "/builds/1/badger-postmaster.glb"));
    }

private slots:
    void threadsChangeNothing() {
        const Subject s = badger();
        Plan plan = defaultPlan(*s.character, s.roles);
        plan.motions.resize(24);
        std::string first;
        for (int threads : {1, 2, 7}) {
            RunOptions o;
            o.threads = threads;
            const std::string text = runToJson(s, runPlan(s, plan, o)) + runToCsv(s, runPlan(s, plan, o));
            if (first.empty())
                first = text;
            QVERIFY(text == first);
        }
    }

    // Every motion is told once, in the plan's order, as the result has it but for what compares sides.
    void motionsAreToldAsTheyFinish() {
        const Subject s = badger();
        Plan plan = defaultPlan(*s.character, s.roles);
        plan.motions.resize(16);
        std::vector<std::size_t> order;
        std::vector<MotionResult> told;
        RunOptions o;
        o.finished = [&](std::size_t m, const MotionResult& r) {
            order.push_back(m);
            told.push_back(r);
        };
        const RunResult r = runPlan(s, plan, o);
        QCOMPARE(order.size(), plan.motions.size());
        for (std::size_t m = 0; m < order.size(); ++m) {
            QCOMPARE(order[m], m);
            QCOMPARE(told[m].steps.size(), r.motions[m].steps.size());
            for (std::size_t i = 0; i < told[m].steps.size(); ++i)
                QCOMPARE(told[m].steps[i].joints[0].measures.stretch,
                         r.motions[m].steps[i].joints[0].measures.stretch);
        }
    }

    void neutralStepsAreUnchanged() {
        const Subject s = badger();
        const RunResult r = runPlan(s, defaultPlan(*s.character, s.roles));
        for (const MotionResult& m : r.motions)
            for (const StepResult* step : {&m.steps.front(), &m.steps.back()})
                for (const JointStep& j : step->joints) {
                    QVERIFY(std::abs(j.measures.stretch - 1) < 1e-4);
                    QVERIFY(std::abs(j.measures.squash - 1) < 1e-4);
                    if (j.measures.volume)
                        QVERIFY(std::abs(*j.measures.volume - 1) < 1e-4);
                    if (j.measures.pinch)
                        QVERIFY(std::abs(*j.measures.pinch - 1) < 1e-3);
                }
    }

    // The faults of the story's first build, by what docs/detection.md says was planted.
    void demoShowsItsFaults() {
        const Subject s = firstBuild();
        const RunResult r = runPlan(s, defaultPlan(*s.character, s.roles));
        auto has = [&](Role role, Side side, bool roll) {
            return std::any_of(r.findings.begin(), r.findings.end(), [&](const Finding& f) {
                return f.role == role && f.side == side && r.plan.motions[f.motion].roll == roll;
            });
        };
        for (Side side : {Side::Left, Side::Right}) {
            QVERIFY(has(Role::Elbow, side, false));
            QVERIFY(has(Role::Knee, side, false));
        }
        QVERIFY(has(Role::Wrist, Side::Right, true)); // its twist joints are unhooked
        auto first = [&](Kind kind, const char* cause) {
            return std::any_of(r.findings.begin(), r.findings.end(), [&](const Finding& f) {
                return f.kind == kind && !f.causes.empty() && f.causes[0].kind == causeCalled(cause);
            });
        };
        QVERIFY(first(Kind::Pop, "driver or corrective wrong"));
        QVERIFY(first(Kind::SoftRigidPart, "part bound softly"));
        QVERIFY(first(Kind::WrongBend, "pivot or axis wrong"));
        QVERIFY(first(Kind::Leak, "stray influence"));
        // trying it without the stranger is part of the evidence
        QVERIFY(std::any_of(r.findings.begin(), r.findings.end(), [&](const Finding& f) {
            return std::any_of(f.causes.begin(), f.causes.end(), [&](const Cause& c) {
                return c.kind == CauseKind::StrayInfluence &&
                       sentenceOf(*s.character, c).find("Without it ") != std::string::npos;
            });
        }));
        QVERIFY(first(Kind::PokeThrough, "weights differ between garment and body"));
        // worst first, every finding complete
        for (std::size_t i = 0; i < r.findings.size(); ++i) {
            const Finding& f = r.findings[i];
            QVERIFY(f.severity >= 1 && f.severity <= 4);
            QVERIFY(i == 0 || r.findings[i - 1].severity >= f.severity);
            QVERIFY(f.onset > 0 && f.onset <= f.peak + 1e-9);
            QVERIFY(!f.marks.empty() && !f.marks[0].vertices.empty());
            QVERIFY(std::is_sorted(f.marks[0].vertices.begin(), f.marks[0].vertices.end()));
            QVERIFY(f.marks[0].vertices.back() < s.character->parts[f.marks[0].part].vertexCount);
        }
    }

    void progressAndCancel() {
        const Subject s = badger();
        const Plan plan = defaultPlan(*s.character, s.roles);
        std::size_t last = 0;
        std::atomic<bool> cancel{false};
        RunOptions o;
        o.cancel = &cancel;
        o.progress = [&](const RunProgress& p) {
            QVERIFY(p.done == last + 1 && p.total == plan.stepCount());
            last = p.done;
            if (p.done == 100)
                cancel = true;
        };
        const RunResult r = runPlan(s, plan, o);
        QVERIFY(r.cancelled);
        QVERIFY(last < plan.stepCount());
        // what was finished is whole, what was not is left out
        std::size_t whole = 0;
        for (std::size_t m = 0; m < r.motions.size(); ++m) {
            QVERIFY(r.motions[m].steps.empty() || r.motions[m].steps.size() == plan.motions[m].steps.size());
            whole += !r.motions[m].steps.empty();
        }
        QVERIFY(whole > 0 && whole < plan.motions.size());
    }

    // A press is seen within the pose at hand: no further pose is begun, so no more are told of than threads
    // were at work. What that comes to in time is told by hobble-bench.
    void stopsWithinAPose() {
        const Subject s = badger();
        const Plan plan = defaultPlan(*s.character, s.roles);
        for (std::size_t at : {1u, 57u, 300u}) {
            std::atomic<bool> cancel{false};
            std::size_t told = 0;
            RunOptions o;
            o.threads = 2;
            o.cancel = &cancel;
            o.progress = [&](const RunProgress& p) {
                told = p.done;
                if (p.done == at)
                    cancel = true;
            };
            QVERIFY(runPlan(s, plan, o).cancelled);
            QVERIFY2(told <= at + 2, qPrintable(QString::number(told - at)));
        }
    }

    // No pose knows of the others: the same motion alone gives what it gives among others.
    void motionsDoNotDependOnEachOther() {
        const Subject s = badger();
        Plan whole = defaultPlan(*s.character, s.roles);
        whole.motions.resize(9);
        Plan alone = whole;
        alone.motions = {whole.motions[7]};
        const RunResult a = runPlan(s, whole), b = runPlan(s, alone);
        for (std::size_t i = 0; i < b.motions[0].steps.size(); ++i)
            for (std::size_t k = 0; k < b.motions[0].steps[i].joints.size(); ++k) {
                const ZoneMeasures &x = a.motions[7].steps[i].joints[k].measures,
                                   &y = b.motions[0].steps[i].joints[k].measures;
                QVERIFY(x.stretch == y.stretch && x.squash == y.squash && x.volume == y.volume &&
                        x.roughness == y.roughness && x.contact == y.contact && x.leak == y.leak);
            }
    }

    // Nor of those before it, so that one met again is not measured again.
    void posesDoNotDependOnThoseBefore() {
        const Subject s = badger();
        const Plan plan = defaultPlan(*s.character, s.roles);
        Motion there = plan.motions[static_cast<std::size_t>(plan.find("left-elbow-flex"))], back = there;
        there.steps = {0, 60, 120, 60, 0};
        back.steps = {120, 60};
        const MeterOptions options{Skinning::Linear, floorsFor(Limits::standard()), true, nullptr};
        const MeasuredMotion a = *PoseMeter(s, options).measure(there, [] {}),
                             b = *PoseMeter(s, options).measure(back, [] {});
        QCOMPARE(a.poses.size(), 5);
        QVERIFY(!a.poses[2].inside.empty()); // it touches
        for (const auto& [x, y] :
             {std::pair(&a.poses[2], &b.poses[0]), std::pair(&a.poses[1], &b.poses[1]),
              std::pair(&a.poses[3], &b.poses[1]), std::pair(&a.poses[4], &a.poses[0])}) {
            QCOMPARE(x->at, y->at);
            for (const auto of :
                 {&MeasuredPose::stretch, &MeasuredPose::squash, &MeasuredPose::roughness,
                  &MeasuredPose::inside, &MeasuredPose::poke, &MeasuredPose::gap, &MeasuredPose::leak})
                QVERIFY(std::equal(
                    (x->*of).begin(), (x->*of).end(), (y->*of).begin(), (y->*of).end(),
                    [](const Sample& p, const Sample& q) { return p.at == q.at && p.value == q.value; }));
            for (std::size_t k = 0; k < x->zones.size(); ++k)
                QVERIFY(x->zones[k].stretch == y->zones[k].stretch &&
                        x->zones[k].volume == y->zones[k].volume && x->zones[k].pinch == y->zones[k].pinch &&
                        x->zones[k].contact == y->zones[k].contact);
        }
    }

    void jsonHasTheContract() {
        const Subject s = subjectOf(tube());
        const RunResult r = runPlan(s, turnPlan(Vec3d::UnitX(), {0, 45, 90, 0}));
        const auto j = nlohmann::json::parse(runToJson(s, r));
        QCOMPARE(QString::fromStdString(j["format"]), QStringLiteral("hobble-run"));
        QCOMPARE(j["version"].get<int>(), 1);
        QCOMPARE(j["measurements"].size(), std::size_t(4));
        for (const char* key : {"joint", "side", "role", "motion", "step", "degrees", "stretch", "squash",
                                "area", "shear", "volume", "volumeCm3", "pinch", "girth", "trouble"})
            QVERIFY2(j["measurements"][2].contains(key), key);
        QVERIFY(!j["findings"].empty());
        for (const char* key : {"joint", "side", "role", "part", "kind", "severity", "causes", "motion",
                                "onsetDegrees", "peakDegrees", "peakValue", "limit", "vertices", "sentence"})
            QVERIFY2(j["findings"][0].contains(key), key);
        QCOMPARE(j["findings"][0]["vertices"].begin().key(), std::string("body"));
    }

    void sentences() {
        const Subject s = subjectOf(tube());
        const RunResult r = runPlan(s, turnPlan(Vec3d::UnitY(), {0, 30, 45, 46, 60, 90, 0}, 1, true));
        for (const Finding& f : r.findings)
            if (f.kind == Kind::Pinch)
                QCOMPARE(QString::fromStdString(sentence(s, r.plan, f)),
                         QStringLiteral(
                             "Left elbow pinches to 50 % of its girth in turn, from 46°, worst at 90°."));
    }
};

HOBBLE_TEST(TestRun)
#include "test_run.moc"
