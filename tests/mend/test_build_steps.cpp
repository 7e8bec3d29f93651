// Steps that change more than weights: shapes for an angle, joints that help, a roll shared out, what
// follows. On tubes, where the answers are known.
#include "core/character/added_joint.h"
#include "core/deform/deformer.h"
#include "core/mend/relax.h"
#include "core/mend/touched.h"
#include "core/mend/trial.h"
#include "core/run/run.h"
#include "io/trial_json.h"
#include "support/suite.h"
#include "support/tube.h"

#include <QTest>

#include <cmath>

using namespace hobble;
using namespace hobble::test;

namespace {

std::shared_ptr<const Subject> ready(Character c) {
    return std::make_shared<const Subject>(prepareSubject(std::make_shared<const Character>(std::move(c))));
}

Step corrective(CorrectBy by, double degrees, double amount = 0) {
    Step out;
    out.kind = StepKind::Correct;
    out.joint = "forearm.L";
    out.correctBy = by;
    out.axis = Vec3d::UnitX();
    out.degrees = degrees;
    out.amount = amount;
    return out;
}

// Goes out 3 cm as the tube bends from 30 to 90 degrees.
Step filler() {
    Step out;
    out.kind = StepKind::Helper;
    out.helpBy = HelpBy::Shift;
    out.joint = "forearm.L";
    out.axis = Vec3d::UnitX();
    out.move = -Vec3d::UnitZ();
    out.amount = 0.03;
    out.degrees = 90;
    out.from = 30;
    out.place.what = MendPlace::What::Stroke;
    out.place.path = {Vec3(0, 0, -0.1f)};
    out.place.radius = 0.08;
    return out;
}

Trial of(std::vector<Step> steps) {
    Trial out;
    out.steps = std::move(steps);
    return out;
}

std::vector<Vec3> posedAt(const Character& c, double degrees, const Vec3d& axis = Vec3d::UnitX(),
                          int joint = 1) {
    Pose pose = Pose::neutral(c.skeleton);
    pose.turn[static_cast<std::size_t>(joint)] = Quat(Eigen::AngleAxisd(radians(degrees), axis));
    std::vector<Vec3> out;
    deform(c, pose, Skinning::Linear, out);
    return out;
}

// Of the zone of the tube's joint, in a turn about an axis.
ZoneMeasures zoneAt(const Subject& s, const Vec3d& axis, double degrees) {
    const RunResult run = runPlan(s, turnPlan(axis, {0, degrees, 0}));
    return run.motions[0].steps[1].joints[0].measures;
}

std::vector<std::uint32_t> aboutTheJoint(const Subject& s) {
    return verticesWhere(s, [](const Vec3& p) { return std::abs(p.y()) < 0.05f && p.z() > 0; });
}

} // namespace

class TestBuildSteps : public QObject {
    Q_OBJECT

private slots:
    void aSolvedShapeGivesBackWhatTheBendTakes() {
        const auto s = ready(tube({.rings = 64}));
        TriedSteps tried(s);
        tried.take(of({corrective(CorrectBy::Solve, 90)}));
        QVERIFY2(tried.effects()[0].applies, tried.effects()[0].why.c_str());
        QVERIFY(tried.effects()[0].shapes && !tried.effects()[0].skeleton &&
                tried.effects()[0].changed.empty());
        const auto c = tried.character();
        QVERIFY(c->hash != s->character->hash);
        QVERIFY(c->weights == s->character->weights);
        const Subject mended = prepareSubject(c);
        const ZoneMeasures before = zoneAt(*s, Vec3d::UnitX(), 90),
                           after = zoneAt(mended, Vec3d::UnitX(), 90);
        QVERIFY2(after.stretch < before.stretch - 0.2 && *after.pinch > *before.pinch + 0.2 &&
                     *after.volume > *before.volume,
                 qPrintable(QString("%1 %2, %3 %4, %5 %6, %7 %8")
                                .arg(before.stretch)
                                .arg(after.stretch)
                                .arg(before.squash)
                                .arg(after.squash)
                                .arg(*before.pinch)
                                .arg(*after.pinch)
                                .arg(*before.volume)
                                .arg(*after.volume)));
        // Away from its angle it fades: neutral and the other way it is not there at all.
        QCOMPARE(posedAt(*c, 0), posedAt(*s->character, 0));
        QCOMPARE(posedAt(*c, -60), posedAt(*s->character, -60));
        const auto half = posedAt(*c, 45), halfWas = posedAt(*s->character, 45), whole = posedAt(*c, 90),
                   wholeWas = posedAt(*s->character, 90);
        float atHalf = 0, atWhole = 0;
        for (std::size_t v = 0; v < half.size(); ++v) {
            atHalf = std::max(atHalf, (half[v] - halfWas[v]).norm());
            atWhole = std::max(atWhole, (whole[v] - wholeWas[v]).norm());
        }
        QVERIFY(atHalf > 0 && atHalf < atWhole);
    }

    // What is asked for in the pose is what comes of it in the pose: the way back through the skinning and
    // forth again is none, where skinning does not collapse.
    void aShapeIsWhereItWasPut_data() {
        QTest::addColumn<double>("degrees");
        QTest::newRow("a little") << 30.0;
        QTest::newRow("half") << 60.0;
        QTest::newRow("the other way") << -45.0;
    }
    void aShapeIsWhereItWasPut() {
        QFETCH(double, degrees);
        const auto s = ready(tube({.rings = 64}));
        Step step = corrective(CorrectBy::Move, degrees);
        step.move = Vec3d(0.01, 0.004, -0.006);
        step.place.what = MendPlace::What::Marked;
        step.place.vertices = aboutTheJoint(*s);
        TriedSteps tried(s);
        tried.take(of({step}));
        QVERIFY2(tried.effects()[0].applies, tried.effects()[0].why.c_str());
        const auto now = posedAt(*tried.character(), degrees), was = posedAt(*s->character, degrees);
        std::vector<char> in(s->surface.vertexCount(), 0);
        for (std::uint32_t v : step.place.vertices)
            in[v] = 1;
        for (std::size_t v = 0; v < now.size(); ++v) {
            const Vec3 by = now[v] - was[v];
            if (in[s->surface.weldOf[v]])
                QVERIFY((by.cast<double>() - step.move).norm() < 2e-5);
            else
                QCOMPARE(by, Vec3(Vec3::Zero()));
        }
    }

    void severalAnglesFadeIntoEachOther() {
        const auto s = ready(tube({.rings = 64}));
        std::vector<Step> steps;
        for (double degrees : {90.0, 45.0, 120.0}) {
            Step step = corrective(CorrectBy::Inflate, degrees, 0.005);
            step.place.what = MendPlace::What::Marked;
            step.place.vertices = aboutTheJoint(*s);
            steps.push_back(step);
        }
        steps[1].from = 20;
        TriedSteps tried(s);
        tried.take(of(steps));
        const auto c = tried.character();
        QCOMPARE(c->drivers.size(), std::size_t(3));
        const auto out = [&](double degrees) {
            double sum = 0;
            for (const Driver& d : c->drivers)
                sum += driverOut(d, degrees);
            return sum;
        };
        QCOMPARE(out(0), 0.0);
        QCOMPARE(out(20), 0.0);
        for (double at : {45.0, 60.0, 90.0, 100.0, 120.0, 170.0}) // one hands over to the next
            QVERIFY(std::abs(out(at) - 1) < 1e-9);
        QCOMPARE(driverOut(c->drivers[0], 120), 0.0);
        // The same angle again goes on with the same shape.
        steps.push_back(steps[0]);
        tried.take(of(steps));
        QCOMPARE(tried.character()->drivers.size(), std::size_t(3));
        QCOMPARE(tried.character()->parts[0].targets.size(), std::size_t(3));
    }

    void inflatedFlattenedSoftened() {
        const auto s = ready(tube({.rings = 64}));
        const auto where = aboutTheJoint(*s);
        const auto after = [&](Step step) {
            step.place.what = MendPlace::What::Marked;
            step.place.vertices = where;
            TriedSteps tried(s);
            tried.take(of({step}));
            return posedAt(*tried.character(), 60);
        };
        const auto was = posedAt(*s->character, 60);
        const auto out = after(corrective(CorrectBy::Inflate, 60, 0.004));
        for (std::uint32_t v : where) {
            const std::uint32_t f = s->surface.representative(v);
            QVERIFY(std::abs((out[f] - was[f]).norm() - 0.004f) < 2e-5f);
        }
        const auto spread = [&](const std::vector<Vec3>& p) { // off the best plane
            Vec3d middle = Vec3d::Zero();
            for (std::uint32_t v : where)
                middle += p[s->surface.representative(v)].cast<double>() / double(where.size());
            Eigen::Matrix3d m = Eigen::Matrix3d::Zero();
            for (std::uint32_t v : where) {
                const Vec3d off = p[s->surface.representative(v)].cast<double>() - middle;
                m += off * off.transpose();
            }
            return singularValues(m).s[2];
        };
        QVERIFY(spread(after(corrective(CorrectBy::Flatten, 60))) < 0.01 * spread(was));
        // A vertex drawn out, and evened out again.
        Step bump = corrective(CorrectBy::Inflate, 60, 0.02), soft = corrective(CorrectBy::Soften, 60);
        bump.place.what = soft.place.what = MendPlace::What::Marked;
        const std::uint32_t middle = where[where.size() / 2];
        bump.place.vertices = {middle};
        soft.place.vertices = where;
        soft.count = 10;
        TriedSteps tried(s);
        tried.take(of({bump, soft}));
        const std::uint32_t f = s->surface.representative(middle);
        QVERIFY((posedAt(*tried.character(), 60)[f] - was[f]).norm() < 0.01f);
    }

    // A joint that makes half of the turn holds the girth up that the linear blend of the whole turn loses.
    void halfATurnKeepsTheGirth() {
        const auto s = ready(tube({.rings = 64}));
        Step step;
        step.kind = StepKind::Helper;
        step.joint = "forearm.L";
        step.axis = Vec3d::UnitX();
        step.amount = 0.5;
        step.place.what = MendPlace::What::Stroke;
        step.place.path = {Vec3(0, 0, 0)};
        step.place.radius = 0.25;
        step.place.along = false;
        TriedSteps tried(s);
        tried.take(of({step}));
        QVERIFY2(tried.effects()[0].applies, tried.effects()[0].why.c_str());
        QVERIFY(tried.effects()[0].skeleton && !tried.effects()[0].changed.empty());
        const auto c = tried.character();
        QCOMPARE(c->skeleton.name.back(), std::string("forearm_helper.L"));
        QCOMPARE(c->skeleton.parent.back(), 0);
        const auto neutral = neutralPositions(*c);
        for (std::size_t v = 0; v < neutral.size(); ++v)
            QVERIFY((neutral[v] - c->neutral[v]).norm() < 1e-6f);
        for (std::uint32_t v = 0; v < c->vertexCount(); ++v) {
            float sum = 0;
            for (std::uint32_t i = c->weights.first[v]; i < c->weights.first[v + 1]; ++i)
                sum += c->weights.weight[i];
            QVERIFY(std::abs(sum - 1) < 1e-5f);
        }
        const Subject mended = prepareSubject(c);
        const double before = *zoneAt(*s, Vec3d::UnitX(), 120).pinch,
                     after = *zoneAt(mended, Vec3d::UnitX(), 120).pinch;
        QVERIFY2(after > before + 0.05, qPrintable(QString("%1 %2").arg(before).arg(after)));
    }

    void aHelperGoesOutAsTheJointBends() {
        const auto s = ready(tube({.rings = 64}));
        Step step = filler();
        step.name = "elbow_filler";
        TriedSteps tried(s);
        tried.take(of({step}));
        QVERIFY2(tried.effects()[0].applies, tried.effects()[0].why.c_str());
        const auto c = tried.character();
        const int helper = c->skeleton.find("elbow_filler");
        QVERIFY(helper == 2);
        const auto placeAt = [&](double degrees) -> Vec3d {
            Pose pose = Pose::neutral(c->skeleton);
            pose.turn[1] = Quat(Eigen::AngleAxisd(radians(degrees), Vec3d::UnitX()));
            return drive(*c, pose).world[2].translation();
        };
        QVERIFY((placeAt(30) - placeAt(0)).norm() < 1e-9);
        QVERIFY((placeAt(90) - placeAt(0) - 0.03 * -Vec3d::UnitZ()).norm() < 1e-9);
        QVERIFY((placeAt(60) - placeAt(0) - 0.015 * -Vec3d::UnitZ()).norm() < 1e-9);
    }

    // A tube rolled by its end loses 1 − (1 − cos θ)/3 where it blends; shared out, each piece rolls by less.
    void aRollSharedOutKeepsTheVolume() {
        Character c = tube({.rings = 64});
        // A hand at the end of the forearm, its passage as long as any.
        c.skeleton = skeletonOf(
            {{"upper_arm.L", -1, {0, -0.7, 0}}, {"forearm.L", 0, {0, -0.4, 0}}, {"hand.L", 1, {0, 0.5, 0}}});
        std::vector<std::vector<std::pair<int, double>>> weights;
        for (const Vec3& p : c.neutral) {
            const double hand = std::clamp((double(p.y()) - 0.45) / 0.1, 0.0, 1.0),
                         fore = std::clamp((double(p.y()) + 0.45) / 0.1, 0.0, 1.0) - hand;
            weights.push_back({{0, 1 - hand - fore}, {1, fore}, {2, hand}});
        }
        finish(c, weights);
        const auto s = ready(c);
        Step step;
        step.kind = StepKind::ShareTwist;
        step.joint = "hand.L";
        step.count = 3;
        TriedSteps tried(s);
        tried.take(of({step}));
        QVERIFY2(tried.effects()[0].applies, tried.effects()[0].why.c_str());
        const auto m = tried.character();
        QCOMPARE(m->skeleton.size(), 6);
        QCOMPARE(m->skeleton.name[3], std::string("forearm_twist_1.L"));
        // Each ring rolls by where it lies: at the middle of the bone by half.
        const auto rolled = posedAt(*m, 80, Vec3d::UnitY(), 2);
        for (std::uint32_t v = 0; v < m->vertexCount(); ++v) {
            const double y = m->neutral[v].y();
            if (y < -0.3 || y > 0.27)
                continue;
            const Vec3 a = m->neutral[v], b = rolled[v];
            if (a.head<1>().norm() + std::abs(a.z()) < 0.05f)
                continue;
            const double turn =
                degrees(std::atan2(double(b.x()), double(b.z())) - std::atan2(double(a.x()), double(a.z())));
            const double expected = 80 * (y + 0.4) / 0.9, off = std::remainder(turn - expected, 360.0);
            QVERIFY2(std::abs(off) < 2.5,
                     qPrintable(QString("%1: %2 for %3").arg(y).arg(turn).arg(expected)));
        }
        const Subject mended = prepareSubject(m);
        QVERIFY(mended.roles[3].role == Role::Twist);
        const auto pinchOf = [](const Subject& of) {
            return *runPlan(of, turnPlan(Vec3d::UnitY(), {0, 80, 0}, 2, true))
                        .motions[0]
                        .steps[1]
                        .joints[0]
                        .measures.pinch;
        };
        QVERIFY2(pinchOf(mended) > pinchOf(*s) + 0.1,
                 qPrintable(QString("%1 %2").arg(pinchOf(*s)).arg(pinchOf(mended))));
        // Once is enough.
        tried.take(of({step, step}));
        QVERIFY(!tried.effects()[1].applies);
    }

    void aKickIsSpread() {
        Character c = tube({.rings = 64});
        std::vector<Part> parts(c.parts.begin(), c.parts.end());
        parts[0].targets.push_back({"elbow out", {100, 101}, {Vec3(0.01f, 0, 0), Vec3(0.01f, 0, 0)}});
        parts[0].targetWeights.push_back(0);
        c.parts = parts;
        Driver d;
        d.name = "elbow out at once";
        d.source = 1;
        d.keys = {{60, 0}, {60.5, 1}};
        d.output = Driver::Output::Target;
        d.part = 0;
        d.target = 0;
        c.drivers = {d};
        const auto s = ready(std::move(c));
        Step step;
        step.kind = StepKind::Drive;
        step.joint = "forearm.L";
        step.name = d.name;
        step.amount = 40;
        TriedSteps tried(s);
        tried.take(of({step}));
        QVERIFY2(tried.effects()[0].applies, tried.effects()[0].why.c_str());
        const auto made = tried.character();
        const Driver& eased = made->drivers[0];
        QCOMPARE(driverOut(eased, 60.5), 1.0);
        QVERIFY(std::abs(driverOut(eased, 40.5) - 0.5) < 1e-9);
        QCOMPARE(driverOut(eased, 20), 0.0);
        step.driveBy = DriveBy::Scale;
        step.amount = 0;
        tried.take(of({step}));
        QCOMPARE(driverOut(tried.character()->drivers[0], 120), 0.0);
        step.name = "nobody";
        tried.take(of({step}));
        QVERIFY(!tried.effects()[0].applies && tried.effects()[0].why.find("nobody") != std::string::npos);
    }

    void onlyMotionsOfTheJointAreMeasuredAgain() {
        const auto s = ready(tube({.rings = 64}));
        TriedSteps tried(s);
        tried.take(of({corrective(CorrectBy::Solve, 90)}));
        const Subject mended = prepareSubject(tried.character());
        Plan plan = turnPlan(Vec3d::UnitX(), {0, 90, 0}, 1);
        plan.motions.push_back(turnPlan(Vec3d::UnitX(), {0, 30, 0}, 0).motions[0]);
        const auto touched = touchedMotions(*s, mended, plan);
        QCOMPARE(touched, (std::vector<char>{1, 0}));
    }

    // On a joint that is nobody's, at no angle, about nothing.
    void whatCannotBeIsSaid() {
        const auto s = ready(tube({.rings = 64}));
        const auto why = [&](Step step) {
            TriedSteps tried(s);
            tried.take(of({step}));
            if (tried.effects()[0].applies)
                return std::string();
            if (tried.character()->hash != s->character->hash)
                return std::string("it changed something all the same");
            return tried.effects()[0].why;
        };
        Step step = corrective(CorrectBy::Solve, 90);
        step.joint = "tail";
        QCOMPARE(why(step), std::string("the joint tail is not in this build"));
        QVERIFY(why(corrective(CorrectBy::Solve, 0)).find("away from neutral") != std::string::npos);
        step = corrective(CorrectBy::Solve, 90);
        step.axis = Vec3d::Zero();
        QVERIFY(why(step).find("turns about") != std::string::npos);
        step.axis = Vec3d(NAN, 0, 0);
        QVERIFY(why(step).find("out of range") != std::string::npos);
        step = corrective(CorrectBy::OutOfContact, 20);
        QVERIFY(why(step).find("no skin lies in skin") != std::string::npos);
        step = {};
        step.joint = "upper_arm.L";
        step.kind = StepKind::ShareTwist;
        step.count = 9;
        QVERIFY(why(step).find("eight") != std::string::npos);
        step.kind = StepKind::Drive;
        step.driveBy = DriveBy::AsOtherSide;
        QVERIFY(why(step).find("no other side") != std::string::npos);
        step.kind = StepKind::Helper;
        step.joint = "forearm.L";
        step.axis = Vec3d::UnitX();
        step.name = "upper_arm.L";
        QVERIFY(why(step).find("already") != std::string::npos);
    }

    // Every step after a joint was added, at that joint, from it, to it, and where it holds skin: taken, or
    // refused with a sentence, and what skin is held by stays whole.
    void everyStepAfterAnAddedJoint() {
        const auto s = ready(tube({.rings = 48}));
        const Step helper = filler();
        TriedSteps first(s);
        first.take(of({helper}));
        QVERIFY2(first.effects()[0].applies, first.effects()[0].why.c_str());
        const std::string added = first.character()->skeleton.name.back();
        const std::vector<std::string> names{"upper_arm.L", "forearm.L", added};
        int taken = 0, refused = 0;
        for (int k = 0; k < kStepKinds; ++k)
            for (const std::string& joint : names)
                for (const std::string& to : names) {
                    Step step;
                    step.kind = static_cast<StepKind>(k);
                    step.joint = joint;
                    step.to = to;
                    step.amount = 0.5;
                    step.degrees = 60;
                    step.axis = Vec3d::UnitX();
                    step.count = 2;
                    step.place = helper.place;
                    TriedSteps tried(s);
                    tried.take(of({helper, step}));
                    const StepEffect& effect = tried.effects()[1];
                    QVERIFY(effect.applies || !effect.why.empty());
                    (effect.applies ? taken : refused) += 1;
                    const auto c = tried.character();
                    for (std::size_t v = 0; v < c->vertexCount(); ++v) {
                        float sum = 0;
                        for (std::uint32_t i = c->weights.first[v]; i < c->weights.first[v + 1]; ++i) {
                            QVERIFY(c->weights.joint[i] < c->skeleton.size() && c->weights.weight[i] >= 0);
                            sum += c->weights.weight[i];
                        }
                        QVERIFY2(std::abs(sum - 1) < 1e-5f, nameOf(step.kind));
                    }
                }
        QVERIFY2(taken > 40 && refused > 4, qPrintable(QStringLiteral("%1 %2").arg(taken).arg(refused)));
    }

    void stepsAreKeptAsTheyAre() {
        const auto s = ready(tube({.rings = 64}));
        Step helper;
        helper.kind = StepKind::Helper;
        helper.helpBy = HelpBy::Shift;
        helper.joint = "forearm.L";
        helper.axis = Vec3d::UnitX();
        helper.move = -Vec3d::UnitZ();
        helper.at = Vec3d(0.1, 0.2, 0.3);
        helper.degrees = 90;
        helper.from = 10;
        helper.name = "filler";
        Step drive;
        drive.kind = StepKind::Drive;
        drive.joint = "forearm.L";
        drive.driveBy = DriveBy::AsOtherSide;
        Step twist;
        twist.kind = StepKind::ShareTwist;
        twist.joint = "forearm.L";
        twist.count = 2;
        const Trial trial = of({corrective(CorrectBy::OutOfContact, 100), helper, drive, twist});
        const auto again = trialFromJson(trialToJson(trial, s->surface), s->surface);
        QVERIFY2(again, again ? "" : again.error().c_str());
        QVERIFY(*again == trial);
        for (const Step& step : trial.steps)
            QVERIFY(!sentence(step).empty());
    }

    void namedAsItsNeighbours_data() {
        QTest::addColumn<QString>("name");
        QTest::addColumn<QString>("beside");
        QTest::newRow("dot") << "forearm.R"
                             << "forearm_twist_1.R";
        QTest::newRow("underscore") << "lower_arm_l"
                                    << "lower_arm_twist_1_l";
        QTest::newRow("side first") << "r_forearm"
                                    << "r_forearm_twist_1";
        QTest::newRow("camel") << "LeftForeArm"
                               << "LeftForeArm_twist_1";
        QTest::newRow("spaces") << "Arm lower R"
                                << "Arm lower twist 1 R";
        QTest::newRow("no side") << "tail"
                                 << "tail_twist_1";
    }
    void namedAsItsNeighbours() {
        QFETCH(QString, name);
        QFETCH(QString, beside);
        Skeleton sk;
        QCOMPARE(QString::fromStdString(nameBeside(sk, name.toStdString(), "twist 1")), beside);
        sk.name = {beside.toStdString()};
        QVERIFY(nameBeside(sk, name.toStdString(), "twist 1") != beside.toStdString());
    }

    // Skin that is a rigid copy already stays; a rest shape turned as a whole costs nothing.
    void relaxedIsRigidWhereItCanBe() {
        const Character c = tube({.rings = 32});
        const Transform by = Transform(Eigen::Translation3d(0.4, 0, 1)) *
                             Transform(Eigen::AngleAxisd(0.7, Vec3d(1, 1, 0).normalized()));
        std::vector<Vec3> rest(c.neutral.begin(), c.neutral.end()), posed;
        for (const Vec3& p : rest)
            posed.push_back((by * p.cast<double>()).cast<float>());
        std::vector<Vec3> spoilt = posed;
        std::vector<char> free(rest.size(), 0);
        for (std::size_t v = 0; v < rest.size(); ++v)
            if (std::abs(rest[v].y()) < 0.2f) {
                free[v] = 1;
                spoilt[v] += Vec3(0.02f, -0.01f, 0.005f);
            }
        const std::vector<Triangle> triangles(c.triangles.begin(), c.triangles.end());
        const auto back = relaxed(triangles, rest, {}, spoilt, free, 0.01, 60);
        float most = 0;
        for (std::size_t v = 0; v < rest.size(); ++v)
            most = std::max(most, (back[v] - posed[v]).norm());
        QVERIFY2(most < 1e-3f, qPrintable(QString::number(double(most))));
    }
};

HOBBLE_TEST(TestBuildSteps)
#include "test_build_steps.moc"
