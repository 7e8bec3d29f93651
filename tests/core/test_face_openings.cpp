// An eye between lids that turn about its middle: what is bare has a closed form, for the lids are parts of a
// sphere and open by an angle.
#include "core/pose/compound_poses.h"
#include "core/run/run.h"
#include "core/words/cause_words.h"
#include "core/words/finding_words.h"
#include "support/suite.h"
#include "support/tube.h"

#include <QTest>
#include <algorithm>

using namespace hobble;
using namespace hobble::test;

namespace {

constexpr double kEye = 0.03, kOpen = 40; // metres; degrees from rim to rim

struct FaceSpec {
    bool upper = true, lower = true; // lids that have joints
    double held = 0;                 // share of the upper lid that stays with the head
    Vec3d pivot = Vec3d::Zero();     // the upper lid's, beside the eye's middle
    double shape = 0;                // of a blink as a shape: the share of the way it goes; 0: none
    double lid = 1.06;               // eye radii
    bool mirrored = false;           // the same on the other side
    const char* eyes = "eyes";
};

// A sphere about an axis along x: rows from pole to pole, columns of an angle about the axis.
template <class Add> void lune(double from, double to, int columns, const Add& add) {
    for (int c = 0; c <= columns; ++c)
        for (int r = 0; r <= 24; ++r)
            add(radians(from + (to - from) * c / columns), radians(1 + 178.0 * r / 24));
}

Vec3 onBall(const Vec3d& middle, double radius, double about, double pole) {
    return (middle + radius * Vec3d(std::cos(pole), std::sin(pole) * std::sin(about),
                                    std::sin(pole) * std::cos(about)))
        .cast<float>();
}

Character face(const FaceSpec& spec) {
    Character c;
    c.name = "face";
    std::vector<std::tuple<std::string, int, Vec3d>> joints{{"head", -1, {0, 0, -0.1}},
                                                            {"neck", 0, {0, -0.3, -0.1}}};
    std::vector<std::vector<std::pair<int, double>>> weights;
    std::vector<Part> parts;
    std::vector<Vec3> positions;
    std::vector<Triangle> triangles;
    const auto begin = [&](const char* name) {
        Part p;
        p.name = name;
        p.skin = 0;
        p.skinned = true;
        p.firstVertex = static_cast<std::uint32_t>(positions.size());
        p.firstTriangle = static_cast<std::uint32_t>(triangles.size());
        parts.push_back(p);
    };
    const auto end = [&] {
        parts.back().vertexCount = static_cast<std::uint32_t>(positions.size()) - parts.back().firstVertex;
        parts.back().triangleCount =
            static_cast<std::uint32_t>(triangles.size()) - parts.back().firstTriangle;
    };
    const auto grid = [&](std::uint32_t first, int columns, bool outwards) {
        for (int col = 0; col < columns; ++col)
            for (int r = 0; r < 24; ++r) {
                const auto a = first + static_cast<std::uint32_t>(col * 25 + r), b = a + 1, d = a + 25,
                           e = d + 1;
                if (outwards) {
                    triangles.push_back({a, b, d});
                    triangles.push_back({b, e, d});
                } else {
                    triangles.push_back({a, d, b});
                    triangles.push_back({b, d, e});
                }
            }
    };
    std::vector<std::string> sides{".L"};
    if (spec.mirrored)
        sides.push_back(".R");
    std::vector<Vec3d> middles;
    for (const std::string& side : sides)
        middles.push_back(Vec3d(side == ".L" ? 0.05 : -0.05, 0, 0));
    std::vector<std::array<int, 2>> lids;
    for (std::size_t i = 0; i < sides.size(); ++i) {
        lids.push_back({0, 0});
        const bool spoilt = i == 0;
        if (spec.upper) {
            lids.back()[0] = static_cast<int>(joints.size());
            joints.emplace_back("lid_upper" + sides[i], 0,
                                middles[i] + (spoilt ? spec.pivot : Vec3d::Zero()));
        }
        if (spec.lower) {
            lids.back()[1] = static_cast<int>(joints.size());
            joints.emplace_back("lid_lower" + sides[i], 0, middles[i]);
        }
    }
    begin("skin");
    ShapeTarget blink{"blink", {}, {}};
    for (std::size_t i = 0; i < sides.size(); ++i) {
        const auto first = static_cast<std::uint32_t>(positions.size());
        const int columns = 64;
        // From the upper rim over the back to the lower rim.
        lune(kOpen / 2, 360 - kOpen / 2, columns, [&](double about, double pole) {
            const double degreesAbout = degrees(about);
            const bool upper = degreesAbout<90, lower = degreesAbout> 270;
            const auto v = static_cast<std::uint32_t>(positions.size());
            positions.push_back(onBall(middles[i], spec.lid * kEye, about, pole));
            const double own = upper && spec.upper   ? 1 - (i == 0 ? spec.held : 0)
                               : lower && spec.lower ? 1
                                                     : 0;
            const int lid = upper ? lids[i][0] : lids[i][1];
            weights.push_back(own < 1 ? std::vector<std::pair<int, double>>{{0, 1 - own}, {lid, own}}
                                      : std::vector<std::pair<int, double>>{{lid, 1.0}});
            if (spec.shape > 0 && upper) { // the rim goes down to meet the lower one, the fold stays
                const double turn = radians(kOpen) * (90 - degreesAbout) / (90 - kOpen / 2);
                blink.vertex.push_back(v);
                blink.delta.push_back(
                    static_cast<float>(spec.shape) *
                    (onBall(middles[i], spec.lid * kEye, about - turn, pole) - positions[v]));
            }
        });
        grid(first, columns, true);
    }
    end();
    if (!blink.vertex.empty()) {
        parts.back().targets.push_back(blink);
        parts.back().targetWeights.push_back(0);
    }
    begin(spec.eyes);
    for (const Vec3d& middle : middles) {
        const auto first = static_cast<std::uint32_t>(positions.size());
        for (int col = 0; col < 33; ++col) // closed: its seam welds
            for (int r = 0; r <= 24; ++r) {
                positions.push_back(
                    onBall(middle, kEye, radians(360.0 * (col % 32) / 32), radians(180.0 * r / 24)));
                weights.push_back({{0, 1.0}});
            }
        grid(first, 32, true);
    }
    end();
    c.parts = parts;
    c.neutral = positions;
    c.triangles = triangles;
    c.skeleton = skeletonOf(joints);
    c.bindPosition = c.neutral;
    finish(c, weights);
    return c;
}

Motion lidsTo(const Subject& s, double upper, double lower) {
    Pose pose = Pose::neutral(s.character->skeleton);
    int leads = -1;
    for (int j = 0; j < s.character->skeleton.size(); ++j) {
        const std::string& name = s.character->skeleton.name[static_cast<std::size_t>(j)];
        const double by = name.starts_with("lid_upper") ? upper : name.starts_with("lid_lower") ? -lower : 0;
        pose.turn[static_cast<std::size_t>(j)] = Quat(Eigen::AngleAxisd(radians(by), Vec3d::UnitX()));
        if (by != 0 && leads < 0)
            leads = j;
    }
    Motion m = poseMotion(s.character->skeleton, "pose-blink", "blink", Side::Middle, pose, leads);
    return m;
}

OpeningMeasure measured(const Subject& s, const Motion& m, double at) {
    std::vector<Vec3> posed;
    deform(*s.character, drive(*s.character, poseAt(s.character->skeleton, m, at)), Skinning::Linear, posed);
    OpeningScratch scratch;
    return measureOpening(s, s.openings->at(0), weldedPositions(s.surface, posed), scratch);
}

const Finding* find(const RunResult& run, Kind kind) {
    const auto it = std::find_if(run.findings.begin(), run.findings.end(),
                                 [&](const Finding& f) { return f.kind == kind; });
    return it == run.findings.end() ? nullptr : &*it;
}

} // namespace

class TestFaceOpenings : public QObject {
    Q_OBJECT

private slots:
    void anEyeIsFoundAndToldAtItsLid() {
        const Subject s = subjectOf(face({.mirrored = true}));
        QCOMPARE(s.openings->size(), std::size_t(2));
        for (const FaceOpening& o : *s.openings) {
            QVERIFY(std::abs(o.radius - kEye) < 0.01 * kEye);
            QVERIFY(o.closedBy == Closes::Eyes);
            const std::string& lid = s.character->skeleton.name[static_cast<std::size_t>(o.joint)];
            QCOMPARE(lid, o.side == Side::Left ? std::string("lid_upper.L") : std::string("lid_upper.R"));
            QVERIFY(o.bareNeutral.size() > 60);
        }
        QVERIFY(s.openings->at(0).side != s.openings->at(1).side);
    }

    void aBallThatIsNoEyeIsNone() {
        QCOMPARE(subjectOf(face({.upper = false, .lower = false, .eyes = "buttons"})).openings->size(),
                 std::size_t(0));
        QCOMPARE(subjectOf(face({.upper = false, .lower = false, .eyes = "Eyeball_L"})).openings->size(),
                 std::size_t(1));
        QCOMPARE(subjectOf(tube()).openings->size(), std::size_t(0));
    }

    // A lune's area goes with its angle: what is bare is what the lids leave of it.
    void whatIsBareIsTheAngleLeft_data() {
        QTest::addColumn<double>("upper");
        QTest::addColumn<double>("lower");
        for (const auto& [u, l] : {std::pair{0.0, 0.0}, {10.0, 0.0}, {20.0, 10.0}, {0.0, 30.0}, {25.0, 15.0}})
            QTest::addRow("%.0f and %.0f", u, l) << u << l;
    }
    void whatIsBareIsTheAngleLeft() {
        QFETCH(double, upper);
        QFETCH(double, lower);
        const Subject s = subjectOf(face({}));
        const OpeningMeasure m = measured(s, lidsTo(s, upper, lower), 100);
        QVERIFY(m.bare);
        const double expected = std::max(0.0, kOpen - upper - lower) / kOpen;
        QVERIFY2(std::abs(*m.bare - expected) < 0.05, qPrintable(QString::number(*m.bare)));
        QCOMPARE(m.through, 0.0);
        QVERIFY(expected > 0 ? m.left.size() > 5 : m.left.size() <= 2); // at the poles the sphere is cut
    }

    void aRigidMotionChangesNothing() {
        const Character c = face({});
        const Transform by = Transform(Eigen::Translation3d(0.3, -1, 2)) *
                             Transform(Eigen::AngleAxisd(1.1, Vec3d(1, 2, -1).normalized()));
        const Subject a = subjectOf(c), b = subjectOf(moved(c, by));
        QCOMPARE(b.openings->size(), std::size_t(1));
        std::vector<Vec3> posed = a.neutral;
        for (Vec3& p : posed)
            p = (by * p.cast<double>()).cast<float>();
        OpeningScratch scratch;
        const OpeningMeasure m = measureOpening(a, a.openings->at(0), posed, scratch);
        QVERIFY(m.bare && std::abs(*m.bare - 1) < 0.02);
        QCOMPARE(m.through, 0.0);
    }

    void aBlinkIsPlannedUntilTheLidsMeet() {
        const Subject s = subjectOf(face({.mirrored = true}));
        const Plan plan = fullPlan(*s.character, s.roles);
        const int blink = plan.find("pose-blink");
        QVERIFY(blink >= 0);
        const Motion& m = plan.motions[static_cast<std::size_t>(blink)];
        QCOMPARE(m.turns.size(), std::size_t(4));
        double both = 0;
        for (const JointTurn& t : m.turns)
            both += 100 * t.share / 2; // of two eyes
        QVERIFY2(std::abs(both - kOpen) < 1, qPrintable(QString::number(both)));
        const RunResult run = runPlan(s, {"", {m}});
        QVERIFY(!find(run, Kind::NotClosed));
        QVERIFY(!find(run, Kind::ThroughLid));
    }

    void aLidHeldBackLeavesTheEyeBare() {
        const Subject s = subjectOf(face({.held = 0.5, .mirrored = true}));
        const RunResult run = runPlan(s, {"", {lidsTo(s, 27, 13)}});
        const Finding* f = find(run, Kind::NotClosed);
        QVERIFY(f);
        QCOMPARE(s.character->skeleton.name[static_cast<std::size_t>(f->joint)], std::string("lid_upper.L"));
        QVERIFY2(std::abs(f->peakValue - 27 * 0.5 / kOpen) < 0.06, qPrintable(QString::number(f->peakValue)));
        QVERIFY(!f->causes.empty() && f->causes[0].kind == CauseKind::LidHeldBack);
        const QString why = QString::fromStdString(sentenceOf(*s.character, f->causes[0]));
        QVERIFY2(why.contains("lid_upper.L") && why.contains("head"), qPrintable(why));
        const QString says = QString::fromStdString(sentence(s, run.plan, *f));
        QVERIFY2(says.contains("of eyes bare in blink"), qPrintable(says));
        const auto sound = std::count_if(run.findings.begin(), run.findings.end(),
                                         [&](const Finding& x) { return x.kind == Kind::NotClosed; });
        QCOMPARE(sound, 1); // the other eye closes
    }

    void aPivotBesideTheEyeLetsItThrough() {
        const Subject s = subjectOf(face({.pivot = Vec3d(0, 0, 0.02), .mirrored = true}));
        const RunResult run = runPlan(s, {"", {lidsTo(s, 27, 13)}});
        const Finding *through = find(run, Kind::ThroughLid), *bare = find(run, Kind::NotClosed);
        QVERIFY(through || bare);
        const Finding* f = through ? through : bare;
        QVERIFY(!f->causes.empty() && f->causes[0].kind == CauseKind::PivotOrAxis);
        QCOMPARE(s.character->skeleton.name[static_cast<std::size_t>(f->causes[0].joint)],
                 std::string("lid_upper.L"));
    }

    // Straight from open to shut a lid cuts across the ball: half way it lies by a cosine within its path.
    void aShapeThatGoesStraightLetsTheEyeThrough() {
        const Subject s = subjectOf(face({.upper = false, .lower = false, .shape = 1, .lid = 1.01}));
        QCOMPARE(s.openings->size(), std::size_t(1));
        Plan plan = fullPlan(*s.character, s.roles);
        const int blink = plan.find("shape-blink");
        QVERIFY(blink >= 0);
        const OpeningMeasure half = measured(s, plan.motions[static_cast<std::size_t>(blink)], 50);
        const double expected = 1 - 1.01 * std::cos(radians(kOpen / 2));
        QVERIFY2(half.through > 0 && half.through < expected + 0.01,
                 qPrintable(QString::number(half.through)));
        const OpeningMeasure shut = measured(s, plan.motions[static_cast<std::size_t>(blink)], 100);
        QVERIFY(shut.bare && *shut.bare < 0.04);
    }

    void aShapeThatFallsShort() {
        const Subject s = subjectOf(face({.upper = false, .lower = false, .shape = 0.6}));
        const Plan plan = fullPlan(*s.character, s.roles);
        const RunResult run =
            runPlan(s, {"", {plan.motions[static_cast<std::size_t>(plan.find("shape-blink"))]}});
        const Finding* f = find(run, Kind::NotClosed);
        QVERIFY(f);
        QCOMPARE(f->peak, 100.0); // only where it is to be closed
        QVERIFY2(std::abs(f->peakValue - 0.4) < 0.1, qPrintable(QString::number(f->peakValue)));
        QVERIFY(!f->causes.empty() && f->causes[0].kind == CauseKind::ShapeWrong);
    }

    void whatIsCalledSoCloses_data() {
        QTest::addColumn<QString>("name");
        QTest::addColumn<int>("closes");
        QTest::addColumn<int>("side");
        const auto row = [](const char* name, Closes closes, Side side = Side::Middle) {
            QTest::newRow(name) << QString(name) << static_cast<int>(closes) << static_cast<int>(side);
        };
        row("blink", Closes::Eyes);
        row("Blink_L", Closes::Eyes, Side::Left);
        row("eye_close.R", Closes::Eyes, Side::Right);
        row("eyesShut", Closes::Eyes);
        row("LidsClosed", Closes::Eyes);
        row("lips together", Closes::Mouth);
        row("mouth_closed", Closes::Mouth);
        row("squint with smile", Closes::Nothing);
        row("half blink", Closes::Nothing);
        row("mouth open", Closes::Nothing);
        row("eye look down", Closes::Nothing);
        row("fist", Closes::Nothing);
    }
    void whatIsCalledSoCloses() {
        QFETCH(QString, name);
        QFETCH(int, closes);
        QFETCH(int, side);
        Motion m;
        m.span = Span::Percent;
        m.name = name.toStdString();
        QCOMPARE(static_cast<int>(closingOf(m).what), closes);
        QCOMPARE(static_cast<int>(closingOf(m).side), side);
        m.span = Span::Frames; // a clip's
        QVERIFY(closingOf(m).what == Closes::Nothing);
    }
};

HOBBLE_TEST(TestFaceOpenings)
#include "test_face_openings.moc"
