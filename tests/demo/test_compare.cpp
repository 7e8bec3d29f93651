// Two builds laid over each other, and defects of the one asked for on the other: nothing differs where
// nothing was done, what was planted is what changed, and cured is never said of what is still there.
#include "builds.h"
#include "compared_side.h"
#include "core/compare/check_again.h"
#include "core/deform/deformer.h"
#include "io/character_read.h"
#include "plant/plant.h"
#include "remesh.h"
#include "support/suite.h"
#include "zoo/flesh.h"

#include <QTest>

using namespace hobble;
using namespace hobble::demo;

namespace {

Differences compared(const ComparedSide& before, const ComparedSide& now) {
    return compareRuns({before, now}, pairJoints(*now.subject, *before.subject));
}

// What a run found, checked again on another.
std::vector<CheckedAgain> checked(const ComparedSide& before, const ComparedSide& now,
                                  const std::vector<Finding>& which) {
    const Differences since = compared(before, now);
    std::vector<CheckedAgain> out;
    for (const Finding& f : which)
        out.push_back(checkAgain(seenOf(*before.subject, *before.run, f, now.run->plan),
                                 {*now.subject, *now.run, &since}));
    return out;
}

} // namespace

class TestCompare : public QObject {
    Q_OBJECT

    Character clean_;
    ComparedSide side_;

    struct Planted {
        Truth truth;
        ComparedSide side;
        std::vector<Finding>
            findings; // at the planted joints, of a kind and strength the clean build has not
    };

    std::optional<Planted> planted(const char* fault, std::uint32_t seed, double strength,
                                   const char* joint = "", bool both = false) {
        Recipe r;
        r.seed = seed;
        r.faults.push_back({fault, joint, "", "", strength, both});
        Character c = clean_;
        const auto truth = plant(c, r);
        if (!truth)
            return std::nullopt;
        c.neutral = neutralPositions(c);
        Planted out{truth->front(), comparedSide(std::move(c)), {}};
        // A sign of the fault: it marks skin that was touched or is told at the joint, and is far worse than
        // clean.
        const Differences d = compared(side_, out.side);
        for (const Finding& f : out.side.run->findings) {
            const std::string& at =
                out.side.subject->character->skeleton.name[static_cast<std::size_t>(f.joint)];
            const bool told =
                at == out.truth.joint || std::count(out.truth.joints.begin(), out.truth.joints.end(), at);
            bool worse = false;
            for (const MeasureChange& m : d.measures)
                worse |= m.joint[1] == f.joint && m.kind == f.kind && m.verdict == Change::Worse;
            if (told && worse && std::count(out.truth.kinds.begin(), out.truth.kinds.end(), nameOf(f.kind)))
                out.findings.push_back(f);
        }
        return out;
    }

    // On a build with the same mesh: some finding of that kind, told at or beside that joint, marks a
    // triangle of it.
    static bool shownOn(const ComparedSide& side, const Finding& f) {
        return std::any_of(side.run->findings.begin(), side.run->findings.end(), [&](const Finding& g) {
            std::vector<std::uint32_t> common;
            std::set_intersection(f.triangles.begin(), f.triangles.end(), g.triangles.begin(),
                                  g.triangles.end(), std::back_inserter(common));
            const auto area = [&](const std::vector<std::uint32_t>& triangles) {
                double sum = 0;
                for (std::uint32_t t : triangles)
                    sum += side.subject->surface.area[t];
                return sum;
            };
            return g.kind == f.kind && area(common) > 0.25 * area(f.triangles) &&
                   side.subject->character->skeleton.boneDistance(f.joint, g.joint) <= 2;
        });
    }

private slots:
    void initTestCase() {
        auto c = zoo::strangerCalled("zoo low dog");
        QVERIFY(c);
        clean_ = std::move(*c);
        side_ = comparedSide(clean_);
    }

    void nothingDiffersFromItself() {
        const Differences d = compared(side_, side_);
        QVERIFY(d.measures.size() > 500);
        QCOMPARE(d.count(Change::Same), static_cast<int>(d.joints.size()));
        QVERIFY(d.onlyBefore.empty() && d.onlyNow.empty());
        for (const MeasureChange& m : d.measures)
            QCOMPARE(m.change, 0.0);
    }

    void anotherOrderChangesNothing() {
        const ComparedSide other = comparedSide(shuffled(clean_, 3));
        const Differences d = compared(side_, other);
        QCOMPARE(d.count(Change::Same), static_cast<int>(d.joints.size()));
        for (const CheckedAgain& c : checked(side_, other, side_.run->findings))
            QVERIFY2(c.verdict == Verdict::Same, nameOf(c.verdict));
    }

    // A finer and a coarser mesh of one build: nothing is told worse, and what it has is found again.
    void reMeshingIsNoChange() {
        auto goat = readCharacter(HOBBLE_DEMO_DIR "/pack-goat.glb");
        QVERIFY(goat);
        const ComparedSide whole = comparedSide(*goat);
        for (const auto& [before, now, least] :
             {std::tuple(side_, comparedSide(subdivided(clean_)), 0.98),
              std::tuple(whole, comparedSide(decimated(*goat, 0.5)), 0.95)}) {
            const Differences d = compared(before, now);
            for (const MeasureChange& m : d.measures)
                if (m.verdict != Change::Same)
                    qInfo("%s of %s in %s: trouble %.2f, was %.2f, %+.2f at %.0f", nameOf(m.kind),
                          now.subject->character->skeleton.name[static_cast<std::size_t>(m.joint[1])].c_str(),
                          now.run->plan.motions[static_cast<std::size_t>(m.motion[1])].id.c_str(),
                          m.trouble[1], m.trouble[0], m.change, m.at);
            QCOMPARE(d.count(Change::Worse), 0);
            QVERIFY2(d.count(Change::Same) >= least * static_cast<double>(d.joints.size()),
                     qPrintable(QStringLiteral("%1 of %2").arg(d.count(Change::Same)).arg(d.joints.size())));
        }
    }

    void everySideOfAChangeIsToldOppositely() {
        const auto p = planted("blend too hard", 11, 0.8);
        QVERIFY(p);
        const Differences there = compared(side_, p->side), back = compared(p->side, side_);
        QCOMPARE(there.count(Change::Worse), back.count(Change::Better));
        QCOMPARE(there.count(Change::Better), back.count(Change::Worse));
        QVERIFY(there.count(Change::Worse) > 0);
    }

    // Both elbows, then the left alone: the right is cured, and told that the other side still shows it.
    void onlyOneSideMended() {
        const auto both = planted("blend too hard", 11, 0.8, "front_lower_leg_l", true),
                   left = planted("blend too hard", 11, 0.8, "front_lower_leg_l");
        QVERIFY(both && left);
        const auto told = checked(both->side, left->side, both->findings);
        int cured = 0, same = 0, across = 0;
        for (std::size_t i = 0; i < told.size(); ++i) {
            const Finding& f = both->findings[i];
            const std::string& joint = clean_.skeleton.name[static_cast<std::size_t>(f.joint)];
            qInfo("%s of %s: %s", nameOf(f.kind), joint.c_str(), nameOf(told[i].verdict));
            if (joint == "front_lower_leg_l") {
                QVERIFY2(told[i].verdict == Verdict::Same, nameOf(told[i].verdict));
                ++same;
                continue;
            }
            const bool gone = told[i].verdict == Verdict::Cured || told[i].verdict == Verdict::Better;
            if (shownOn(left->side, f))
                QVERIFY2(told[i].verdict != Verdict::Cured, nameOf(f.kind));
            else if (f.kind == Kind::Stretch)
                QVERIFY2(gone, nameOf(told[i].verdict));
            cured += gone;
            across += gone && told[i].otherSideLeft;
        }
        QVERIFY(cured > 0 && same > 0 && across > 0);
    }

    // Gone where it was, and a like one, new with this build, at the next joint: told as moved there. One
    // that is lighter by far, or was there before, is another matter.
    void movedToTheNextJoint() {
        const auto here = planted("stray influence", 11, 0.9);
        QVERIFY(here && !here->findings.empty());
        SeenDefect seen =
            seenOf(*here->side.subject, *here->side.run, here->findings.front(), side_.run->plan);
        const Differences since = compared(here->side, side_);
        QCOMPARE(checkAgain(seen, {*side_.subject, *side_.run, &since}).verdict, Verdict::Cured);
        const int joint = clean_.skeleton.find(seen.mark.joint),
                  parent = clean_.skeleton.parent[static_cast<std::size_t>(joint)];
        QVERIFY(parent >= 0);
        RunResult run = *side_.run;
        Finding beside = here->findings.front();
        beside.joint = parent;
        beside.triangles = side_.subject->zones[static_cast<std::size_t>(parent)].triangles;
        std::erase_if(beside.triangles, [&](std::uint32_t t) { // none of the skin where it was
            return std::binary_search(here->findings.front().triangles.begin(),
                                      here->findings.front().triangles.end(), t);
        });
        beside.triangles.resize(std::min<std::size_t>(beside.triangles.size(), 1));
        markSkin(*side_.subject, beside);
        run.findings.push_back(beside);
        const double was = troubleOf(seen.mark.kind, seen.value, run.limits.of(seen.mark.kind, seen.role));
        for (const auto& [before, now, verdict] :
             {std::tuple(0.5, was, Verdict::Moved), std::tuple(0.5, 0.2 * was, Verdict::Cured),
              std::tuple(was, 1.5 * was, Verdict::Cured)}) {
            Differences told;
            MeasureChange change;
            change.kind = seen.mark.kind;
            change.joint = {parent, parent};
            change.trouble = {before, now};
            change.change = now - before;
            change.verdict = Change::Worse;
            told.measures.push_back(change);
            JointChange at;
            at.joint = change.joint;
            at.verdict = Change::Worse;
            at.measures = {0};
            told.joints.push_back(at);
            const CheckedAgain c = checkAgain(seen, {*side_.subject, run, &told});
            QVERIFY2(c.verdict == verdict, nameOf(c.verdict));
            QCOMPARE(c.movedTo, verdict == Verdict::Moved ? parent : -1);
        }
        // and where the joint is gone nothing is said
        seen.mark.joint = "third_leg";
        seen.role = Role::Unknown;
        const CheckedAgain gone = checkAgain(seen, {*side_.subject, *side_.run, nullptr});
        QVERIFY(gone.verdict == Verdict::CannotTell && gone.why == WhyNot::JointGone);
    }

    void whatWasPlantedIsWhatChanged_data() {
        QTest::addColumn<QString>("fault");
        for (const char* fault : {"stray influence", "blend too hard", "held by the parent",
                                  "patch left on the root", "influence across the body"})
            QTest::newRow(fault) << QString::fromLatin1(fault);
    }

    // Faulty, then clean: its joint is the one that got better, its signs are cured. Clean, then faulty: what
    // was there is not called cured, and the joint is the one that got worse.
    void whatWasPlantedIsWhatChanged() {
        QFETCH(QString, fault);
        int asked = 0, cured = 0;
        for (std::uint32_t seed : {5u, 19u}) {
            const auto p = planted(qPrintable(fault), seed, 0.8);
            QVERIFY(p);
            const Differences d = compared(p->side, side_);
            const JointChange* most = nullptr;
            for (const JointChange& j : d.joints)
                if (j.verdict == Change::Better && (!most || j.change < most->change))
                    most = &j;
            QVERIFY(most);
            const int planted = clean_.skeleton.find(p->truth.joint);
            QVERIFY2(std::any_of(d.joints.begin(), d.joints.end(),
                                 [&](const JointChange& j) {
                                     return j.joint[1] == planted && j.verdict == Change::Better;
                                 }),
                     p->truth.joint.c_str());
            const std::string& at = clean_.skeleton.name[static_cast<std::size_t>(most->joint[1])];
            // a patch that stays behind shows wherever the body is turned below it
            QVERIFY2(
                clean_.skeleton.boneDistance(most->joint[1], planted) <= 1 ||
                    clean_.skeleton.subtree(most->joint[1])[static_cast<std::size_t>(planted)] ||
                    std::count(p->truth.joints.begin(), p->truth.joints.end(), at),
                qPrintable(QStringLiteral("%1 for %2")
                               .arg(QString::fromStdString(at), QString::fromStdString(p->truth.joint))));
            const auto told = checked(p->side, side_, p->findings);
            for (std::size_t i = 0; i < told.size(); ++i) {
                // right is what the two meshes, which are one, say triangle by triangle
                const Finding& f = p->findings[i];
                const bool still = shownOn(side_, f);
                ++asked;
                const bool right =
                    told[i].verdict == Verdict::Cured ? !still : still || told[i].verdict == Verdict::Better;
                cured += right;
                if (!right)
                    qInfo("seed %u: %s of %s is %s, now %.3f was %.3f limit %.3f, finding %d", seed,
                          nameOf(f.kind), clean_.skeleton.name[static_cast<std::size_t>(f.joint)].c_str(),
                          nameOf(told[i].verdict), told[i].now.value_or(-1), told[i].before, told[i].limit,
                          told[i].finding);
            }
            // still there: the same build, delivered again
            for (const CheckedAgain& c : checked(p->side, p->side, p->findings))
                QVERIFY2(c.verdict == Verdict::Same, nameOf(c.verdict));
            // what the clean build had is called cured only where it is gone
            const auto& own = side_.run->findings;
            const auto now = checked(side_, p->side, own);
            for (std::size_t i = 0; i < own.size(); ++i)
                QVERIFY2(now[i].verdict != Verdict::Cured || !shownOn(p->side, own[i]), nameOf(own[i].kind));
        }
        QVERIFY2(asked > 0 && cured == asked, qPrintable(QStringLiteral("%1 of %2").arg(cured).arg(asked)));
    }
};

HOBBLE_TEST(TestCompare)
#include "test_compare.moc"
