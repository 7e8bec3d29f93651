// Frames of a clip as motions: what goes past the plan is marked and not blamed on the character; those that
// stress joints most are the extremes.
#include "core/judge/causes/likely_causes.h"
#include "core/pose/clip_frames.h"
#include "core/pose/clip_pose.h"
#include "core/run/run.h"
#include "io/character_read.h"
#include "support/suite.h"
#include "support/tube.h"

#include <QTest>

using namespace hobble;
using namespace hobble::test;

class TestClipFrames : public QObject {
    Q_OBJECT

    Character badger_;
    std::vector<JointRange> ranges_;
    ChosenFrames chosen_;

private slots:
    void initTestCase() {
        auto c = readCharacter(HOBBLE_DEMO_DIR "/badger-postmaster.glb");
        QVERIFY2(c, c ? "" : c.error().c_str());
        badger_ = std::move(*c);
        const auto roles = guessRoles(badger_);
        ranges_ = jointRanges(badger_, roles, defaultPlan(badger_, roles));
        chosen_.clip = badger_.clips[0].name;
        for (std::size_t f = 0; f / 10.0 <= badger_.clips[0].seconds; ++f) {
            chosen_.frames.push_back(f);
            chosen_.poses.push_back(poseAt(badger_, badger_.clips[0], double(f) / 10));
        }
    }

    // The demo's clip drives a knee past its limit on purpose.
    void pastThePlan() {
        const auto stress = frameStress(ranges_, chosen_.poses);
        std::size_t past = 0;
        double most = 0;
        int worst = -1;
        for (const FrameStress& f : stress) {
            past += f.beyond > 5;
            if (f.beyond > most) {
                most = f.beyond;
                worst = f.beyondJoint;
            }
        }
        QVERIFY(past > 0 && past < stress.size() / 2);
        QVERIFY2(badger_.skeleton.name[std::size_t(worst)].starts_with("shin"),
                 badger_.skeleton.name[std::size_t(worst)].c_str());
        QVERIFY(most > 10);

        const auto kept = clipMotions(badger_, ranges_, chosen_, BeyondPlan::Keep);
        QCOMPARE(kept.size(), std::size_t(1));
        QCOMPARE(kept[0].keys->size(), chosen_.poses.size());
        const auto without = clipMotions(badger_, ranges_, chosen_, BeyondPlan::LeaveOut);
        QCOMPARE(without.size(), std::size_t(1));
        QCOMPARE(without[0].keys->size(), chosen_.poses.size() - past);
        const auto apart = clipMotions(badger_, ranges_, chosen_, BeyondPlan::JudgeApart);
        QCOMPARE(apart.size(), std::size_t(2));
        QVERIFY(apart[0].beyond.empty());
        QCOMPARE(apart[1].keys->size(), past);
        QVERIFY2(apart[1].beyond.find("shin") != std::string::npos, apart[1].beyond.c_str());
    }

    void posesAreTheClips() {
        const Motion m = clipMotions(badger_, ranges_, chosen_, BeyondPlan::Keep)[0];
        QCOMPARE(m.steps.front(), 0.0);
        QCOMPARE(m.steps.back(), 0.0);
        const Pose first = poseAt(badger_.skeleton, m, 0);
        for (std::size_t j = 0; j < first.turn.size(); ++j)
            QVERIFY(first.turn[j].angularDistance(Quat::Identity()) < 1e-9); // neutral before
        for (std::size_t i : {std::size_t(3), std::size_t(40), chosen_.poses.size() - 1}) {
            const Pose p = poseAt(badger_.skeleton, m, double(i + 1));
            for (std::size_t j = 0; j < p.turn.size(); ++j)
                QVERIFY(p.turn[j].angularDistance(chosen_.poses[i].turn[j]) < 1e-6);
            QCOMPARE(wordsFor(m, double(i + 1)), "frame " + std::to_string(chosen_.frames[i]));
        }
    }

    void stressIsAtTheExtremes() {
        const auto places = mostStressful(ranges_, chosen_.poses, 8);
        QVERIFY(!places.empty() && places.size() <= 8);
        QVERIFY(std::is_sorted(places.begin(), places.end()));
        const auto stress = frameStress(ranges_, chosen_.poses);
        double all = 0, best = 0;
        for (const FrameStress& f : stress)
            all = std::max(all, f.share);
        for (std::size_t i : places) {
            best = std::max(best, stress[i].share);
            QVERIFY(stress[i].share > 0.35);
        }
        QVERIFY(best > 0.95 * all);
        // within the ranges only, when asked
        for (std::size_t i : mostStressful(ranges_, chosen_.poses, 8, 5))
            QVERIFY(stress[i].beyond <= 5);
        // more frames never stress less, and a hundred are not asked for nothing
        QVERIFY(mostStressful(ranges_, chosen_.poses, 100).size() < chosen_.poses.size());
    }

    // What shows only past the plan has that for its first cause.
    void theClipIsToBlame() {
        const Subject s = subjectOf(badger_);
        Plan plan;
        for (Motion& m : clipMotions(badger_, ranges_, chosen_, BeyondPlan::JudgeApart))
            plan.motions.push_back(std::move(m));
        const RunResult run = runPlan(s, plan);
        QVERIFY(!run.findings.empty());
        int blamed = 0;
        for (const Finding& f : run.findings) {
            const bool past = !plan.motions[std::size_t(f.motion)].beyond.empty();
            blamed += past;
            if (past) {
                QVERIFY(!f.causes.empty());
                QVERIFY(f.causes.front().kind == CauseKind::PosePastPlan);
            } else {
                for (const Cause& c : f.causes)
                    QVERIFY(c.kind != CauseKind::PosePastPlan);
            }
        }
        QVERIFY(blamed > 0);
    }
};

HOBBLE_TEST(TestClipFrames)
#include "test_clip_frames.moc"
