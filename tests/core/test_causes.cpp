// Each cause on a pair of arms with that one thing wrong on the left: it is told, with numbers that are
// known, and not on the right, nor where nothing is wrong.
#include "core/judge/causes/likely_causes.h"
#include "core/run/run.h"
#include "core/words/cause_words.h"
#include "core/words/say.h"
#include "support/arms.h"
#include "support/suite.h"

using namespace hobble;
using namespace hobble::test;

namespace {

// A finding of the whole zone of a joint at the end of a bend, as a run would bring it.
Finding zoneFinding(const Subject& s, int joint, Kind kind, double peak) {
    Finding f;
    f.joint = joint;
    f.side = s.roles[std::size_t(joint)].side;
    f.role = s.roles[std::size_t(joint)].role;
    f.kind = kind;
    f.motion = 0;
    f.motions = {0};
    f.peak = peak;
    f.triangles = s.zones[std::size_t(joint)].triangles;
    markSkin(s, f);
    return f;
}

Causes asked(const Subject& s, int joint, Kind kind, double peak = 90, bool roll = false,
             Skinning method = Skinning::Linear) {
    const Plan plan = turnPlan(roll ? Vec3d::UnitY() : Vec3d::UnitX(), {0, peak / 2, peak, 0}, joint, roll);
    return likelyCauses(s, causeContext(s), plan, method, zoneFinding(s, joint, kind, peak));
}

const Cause* find(const Causes& causes, CauseKind kind) {
    const auto it =
        std::find_if(causes.begin(), causes.end(), [&](const Cause& c) { return c.kind == kind; });
    return it == causes.end() ? nullptr : &*it;
}

QString told(const Causes& causes) {
    QString out;
    for (const Cause& c : causes)
        out += QStringLiteral("%1 %2; ").arg(QLatin1String(factsOf(c.kind).word)).arg(c.weight, 0, 'f', 2);
    return out;
}

Driver helper(const char* name, int source, int joint, double share,
              Driver::Output output = Driver::Output::Turn) {
    Driver d;
    d.name = name;
    d.source = source;
    d.joint = joint;
    d.output = output;
    d.keys = {{-120, -120 * share}, {0, 0}, {120, 120 * share}};
    return d;
}

} // namespace

class TestCauses : public QObject {
    Q_OBJECT

private slots:
    void everyCauseHasItsRow() {
        for (int k = 0; k < kCauseKinds; ++k) {
            const auto kind = static_cast<CauseKind>(k);
            QVERIFY(factsOf(kind).kind == kind);
            QVERIFY(causeCalled(factsOf(kind).word) == kind);
        }
        QVERIFY(!causeCalled("bad luck"));
        QVERIFY(factsOf(CauseKind::TooFewLoops).mendedBy == MendedBy::Modeller);
        QVERIFY(factsOf(CauseKind::PosePastPlan).mendedBy == MendedBy::Animator);
    }

    void everyKindHasItsRow() {
        for (Kind kind : kKinds) {
            const KindFacts& f = factsOf(kind);
            QVERIFY(f.kind == kind);
            QVERIFY2(whyNotLimits(kind, f.limits).empty(), f.word);
            QCOMPARE(f.unchanged, f.in == MeasuredIn::Ratio ? 1.0 : 0.0);
            QVERIFY(f.worseAbove ? f.limits[0] > f.unchanged : f.limits[0] < f.unchanged);
        }
    }

    // A clean pair: nothing of the weights, pivots or drivers is blamed; a bend loses girth by the method.
    void nothingWrong() {
        const Subject s = subjectOf(arms());
        for (int elbow : {kLeftElbow, kRightElbow}) {
            const Causes causes = asked(s, elbow, Kind::Pinch, 120);
            for (const Cause& c : causes)
                QVERIFY2(c.kind == CauseKind::MethodCollapse, sentenceOf(*s.character, c).c_str());
            QVERIFY(find(causes, CauseKind::MethodCollapse));
            QVERIFY(std::get<fact::OtherMethod>(causes[0].fact).method == Skinning::DualQuaternion);
        }
        for (const Cause& c : asked(s, kLeftElbow, Kind::Stretch))
            QVERIFY(c.weight <= 1 && c.weight >= 0);
    }

    void blendTooHard() {
        const Subject s = subjectOf(arms({.weights = [](const ArmVertex& v) {
            ArmVertex between = v; // the elbow lies between two rings
            between.at.y() += 0.0125;
            return plainArm(between, v.left ? 0.0125 / 0.8 : 0.2); // from a tenth to nine along one edge
        }}));
        QVERIFY(!find(asked(s, kRightElbow, Kind::Stretch), CauseKind::BlendTooHard));
        const Causes causes = asked(s, kLeftElbow, Kind::Stretch);
        QVERIFY2(find(causes, CauseKind::BlendTooHard), qPrintable(told(causes)));
        const auto one = std::find_if(causes.begin(), causes.end(), [](const Cause& x) {
            return std::holds_alternative<fact::PassesInOneEdge>(x.fact);
        });
        QVERIFY(one != causes.end());
        const auto fact = std::get<fact::PassesInOneEdge>(one->fact);
        QVERIFY2(std::abs(fact.share - 0.8) < 0.02, qPrintable(QString::number(fact.share)));
        QVERIFY(fact.otherSide && *fact.otherSide < 0.1); // 1.6 / 64 of 0.4
    }

    void blendTooWide() {
        const Subject s =
            subjectOf(arms({.weights = [](const ArmVertex& v) { return plainArm(v, v.left ? 0.5 : 0.15); }}));
        const auto causes = asked(s, kLeftElbow, Kind::Stretch);
        QVERIFY(find(causes, CauseKind::BlendTooWide));
        QVERIFY(!find(asked(s, kRightElbow, Kind::Stretch), CauseKind::BlendTooWide));
        for (const Cause& c : causes)
            if (const auto* f = std::get_if<fact::PassesOverLength>(&c.fact)) {
                QVERIFY(f->otherSide);
                // a linear ramp from −h to h: B's spread along it is h / √5
                QVERIFY2(std::abs(f->radii / *f->otherSide - 0.5 / 0.15) < 0.35,
                         qPrintable(QString::number(f->radii / *f->otherSide)));
            }
    }

    // As if loops at the elbow had been taken out: the edges across it are several times as long as the
    // limb's others.
    void tooFewLoops() {
        const auto without = [](double by) {
            return ArmsSpec{.rings = 65,
                            .weights = [](const ArmVertex& v) { return plainArm(v, 0.08); },
                            .place =
                                [by](const Vec3d& at) {
                                    const double near = std::max(0.0, 1 - std::abs(at.y()) / 0.3);
                                    return Vec3d(at.x(), at.y() + by * near * (at.y() > 0 ? 1 : -1), at.z());
                                }};
        };
        QVERIFY(!find(asked(subjectOf(arms(without(0))), kLeftElbow, Kind::Stretch), CauseKind::TooFewLoops));
        const Causes causes = asked(subjectOf(arms(without(0.06))), kLeftElbow, Kind::Stretch);
        const Cause* c = find(causes, CauseKind::TooFewLoops);
        QVERIFY(c);
        const auto fact = std::get<fact::FewEdges>(c->fact);
        QVERIFY2(fact.longer > 3 && fact.rings < 2.5,
                 qPrintable(QStringLiteral("%1 %2").arg(fact.longer).arg(fact.rings)));
    }

    // A patch of the forearm that the upper arm holds half.
    void heldByTheParent() {
        const Subject s = subjectOf(arms({.weights = [](const ArmVertex& v) -> Influences {
            if (v.left && v.at.y() > 0.25 && v.at.y() < 0.5 && v.at.z() > 0.03)
                return {{v.upper, 0.5}, {v.fore, 0.5}};
            return plainArm(v);
        }}));
        const Plan plan = turnPlan(Vec3d::UnitX(), {0, 45, 90, 0}, kLeftElbow);
        const RunResult r = runPlan(s, plan);
        bool told = false;
        for (const Finding& f : r.findings)
            told = told || (!f.causes.empty() && f.causes[0].kind == CauseKind::HeldByParent);
        QVERIFY(told);
        const RunResult other = runPlan(s, turnPlan(Vec3d::UnitX(), {0, 45, 90, 0}, kRightElbow));
        for (const Finding& f : other.findings)
            QVERIFY(!find(f.causes, CauseKind::HeldByParent));
    }

    // A ring of the left forearm held a third by the right hand, across the body.
    void strayAcrossTheBody() {
        const Subject s = subjectOf(arms({.weights = [](const ArmVertex& v) -> Influences {
            if (v.left && v.at.y() > 0.3 && v.at.y() < 0.4)
                return {{v.fore, 0.7}, {6, 0.3}};
            return plainArm(v);
        }}));
        Finding f = zoneFinding(s, kLeftElbow, Kind::Stretch, 60);
        f.triangles.clear();
        for (std::uint32_t t = 0; t < s.surface.triangles.size(); ++t)
            for (std::uint32_t v : s.surface.triangles[t])
                if (s.neutral[v].x() > 0 && s.neutral[v].y() > 0.3f && s.neutral[v].y() < 0.4f) {
                    f.triangles.push_back(t);
                    break;
                }
        markSkin(s, f);
        const Plan plan = turnPlan(Vec3d::UnitX(), {0, 30, 60, 0}, kLeftElbow);
        const Causes causes = likelyCauses(s, causeContext(s), plan, Skinning::Linear, f);
        const Cause* c = find(causes, CauseKind::StrayInfluence);
        QVERIFY(c);
        const auto fact = std::get<fact::Island>(c->fact);
        QCOMPARE(fact.joint, 6);
        QCOMPARE(fact.home, kLeftElbow);
        QVERIFY(std::abs(fact.share - 0.3) < 0.01);
        QVERIFY(fact.acrossBody);
        QVERIFY(fact.gone && *fact.gone > 0.5);
        const std::string words = sentenceOf(*s.character, *c);
        QVERIFY2(words.find("hand.R") != std::string::npos &&
                     words.find("across the body") != std::string::npos,
                 words.c_str());
    }

    void aLoneVertex() {
        const Subject s = subjectOf(arms({.weights = [](const ArmVertex& v) -> Influences {
            if (v.left && std::abs(v.at.y() - 0.4) < 0.002 && v.at.z() > 0.099)
                return {{v.fore, 0.2}, {0, 0.8}};
            return plainArm(v);
        }}));
        Finding f = zoneFinding(s, kLeftElbow, Kind::Spike, 60);
        f.triangles.clear();
        for (std::uint32_t t = 0; t < s.surface.triangles.size(); ++t)
            for (std::uint32_t v : s.surface.triangles[t])
                if (s.neutral[v].x() > 0 && std::abs(s.neutral[v].y() - 0.4f) < 0.05f &&
                    s.neutral[v].z() > 0.09f)
                    f.triangles.push_back(t);
        std::sort(f.triangles.begin(), f.triangles.end());
        f.triangles.erase(std::unique(f.triangles.begin(), f.triangles.end()), f.triangles.end());
        QVERIFY(!f.triangles.empty());
        markSkin(s, f);
        const Causes causes = likelyCauses(
            s, causeContext(s), turnPlan(Vec3d::UnitX(), {0, 60, 0}, kLeftElbow), Skinning::Linear, f);
        bool lone = false;
        for (const Cause& c : causes)
            if (const auto* fact = std::get_if<fact::LoneVertex>(&c.fact)) {
                lone = true;
                QCOMPARE(fact->joint, 0);
                QVERIFY(std::abs(fact->share - 0.8) < 0.01);
                QVERIFY(fact->around < 0.01);
            }
        QVERIFY(lone);
    }

    void pivotOffItsMirror() {
        const Subject s = subjectOf(arms({.leftElbowOff = Vec3d(0, 0, 0.09)}));
        const Cause* c = nullptr;
        const Causes causes = asked(s, kLeftElbow, Kind::Stretch);
        c = find(causes, CauseKind::PivotOrAxis);
        QVERIFY(c);
        const auto fact = std::get<fact::LiesOffMirror>(c->fact);
        QCOMPARE(fact.mirror, kRightElbow);
        QVERIFY2(std::abs(fact.radii - 0.9) < 0.1, qPrintable(QString::number(fact.radii))); // of 0.1 m
    }

    void theRollOfOneJoint() {
        const Subject s = subjectOf(arms());
        const Causes causes = asked(s, kLeftElbow, Kind::Pinch, 90, true);
        QVERIFY(!causes.empty());
        QVERIFY(causes[0].kind == CauseKind::TwistNotShared);
        const auto fact = std::get<fact::RollTakenByOne>(causes[0].fact);
        QCOMPARE(fact.degrees, 90.0);
        QVERIFY(!fact.twistJointThere);
        QVERIFY(!find(asked(s, kLeftElbow, Kind::Pinch, 90, true, Skinning::DualQuaternion),
                      CauseKind::TwistNotShared));
    }

    // The same driver on both sides with other keys: in degrees, in metres, in weight, each by its own
    // measure.
    void driversUnlikeTheirMirror_data() {
        QTest::addColumn<int>("output");
        QTest::addColumn<double>("left");
        QTest::addColumn<double>("right");
        QTest::addColumn<bool>("told");
        const int turn = int(Driver::Output::Turn), shift = int(Driver::Output::Shift);
        QTest::newRow("turns alike") << turn << 0.5 << 0.5 << false;
        QTest::newRow("turns by six degrees") << turn << 0.5 << 0.55 << false;
        QTest::newRow("turns by sixty") << turn << 0.5 << 1.0 << true;
        QTest::newRow("shifts alike") << shift << 0.0005 << 0.0005 << false;
        QTest::newRow("shifts by six centimetres") << shift << 0.0005 << 0.001 << true;
        QTest::newRow("shifts by a millimetre") << shift << 0.0005 << 0.00051 << false;
    }
    void driversUnlikeTheirMirror() {
        QFETCH(int, output);
        QFETCH(double, left);
        QFETCH(double, right);
        QFETCH(bool, told);
        Character c = arms();
        c.drivers = {helper("left", 2, 3, left, static_cast<Driver::Output>(output)),
                     helper("right", 5, 6, right, static_cast<Driver::Output>(output))};
        const Subject s = subjectOf(c);
        QVERIFY(s.body.height > 0.5 && s.body.height < 3);
        bool differ = false;
        for (const Cause& cause : asked(s, kLeftElbow, Kind::Stretch))
            if (const auto* fact = std::get_if<fact::DriversDiffer>(&cause.fact)) {
                differ = true;
                QVERIFY(std::abs(fact->by - 120 * std::abs(left - right)) < 1e-9);
                const std::string words = sentenceOf(*s.character, cause);
                QVERIFY2(words.find(output == int(Driver::Output::Shift) ? "60 mm" : "60°") !=
                             std::string::npos,
                         words.c_str());
            }
        QCOMPARE(differ, told);
    }

    void kicks() {
        Character c = arms();
        Driver d = helper("sudden", kLeftElbow, 3, 0);
        d.keys = {{0, 0}, {40, 0}, {41, 30}, {120, 30}};
        c.drivers = {d};
        const Subject s = subjectOf(c);
        const Causes causes = asked(s, kLeftElbow, Kind::Pop);
        QVERIFY(!causes.empty());
        const auto fact = std::get<fact::DriverKicks>(causes[0].fact);
        QCOMPARE(fact.driver, std::string("sudden"));
        QCOMPARE(fact.within, 1.0);
        QCOMPARE(causes[0].weight, 1.0);
        const Subject plain = subjectOf(arms());
        QVERIFY(std::holds_alternative<fact::SomethingFadesIn>(asked(plain, kLeftElbow, Kind::Pop)[0].fact));
    }

    // A pose past the plan comes before whatever else is sure.
    void pastThePlanComesFirst() {
        const Subject s = subjectOf(arms());
        Plan plan = turnPlan(Vec3d::UnitX(), {0, 60, 0}, kLeftElbow);
        plan.motions[0].beyond = "The clip bends it further than planned.";
        Finding f = zoneFinding(s, kLeftElbow, Kind::WrongBend, 60);
        f.peakValue = 50;
        const Causes causes = likelyCauses(s, causeContext(s), plan, Skinning::Linear, f);
        QVERIFY(causes.size() >= 2);
        QVERIFY(causes[0].kind == CauseKind::PosePastPlan);
        QVERIFY(causes[1].kind == CauseKind::PivotOrAxis);
        QCOMPARE(std::get<fact::BendsOff>(causes[1].fact).degrees, 50.0);
        QCOMPARE(sentenceOf(*s.character, causes[0]), plan.motions[0].beyond);
    }

    // Moved rigidly, or mirrored, the same is said.
    void movedAndMirrored() {
        const Character c =
            arms({.weights = [](const ArmVertex& v) { return plainArm(v, v.left ? 0.005 : 0.2); }});
        Transform by = Transform::Identity();
        by.translate(Vec3d(3, 1, -2));
        by.rotate(turnXyz(0, 70, 0));
        const Subject here = subjectOf(c), there = subjectOf(moved(c, by));
        const QString said = told(asked(here, kLeftElbow, Kind::Stretch));
        QVERIFY(!said.isEmpty());
        QCOMPARE(told(asked(there, kLeftElbow, Kind::Stretch)), said);
        const Subject other = subjectOf(mirroredX(c)); // its joint 2 is the right elbow now
        QCOMPARE(told(asked(other, kLeftElbow, Kind::Stretch)), said);
    }

    // Sentences go through the translator; facts do not.
    void sentencesAreTranslated() {
        const Subject s = subjectOf(arms());
        const Cause c{CauseKind::PivotOrAxis, 1, fact::LiesOffMiddle{1.25}};
        QCOMPARE(sentenceOf(*s.character, c),
                 std::string("The joint lies 1.25 radii from the middle of its limb."));
        setTranslator([](const char* pattern, int) {
            return std::string(pattern).starts_with("The joint lies") ? std::string("Daneben: %.2f Radien.")
                                                                      : std::string(pattern);
        });
        QCOMPARE(sentenceOf(*s.character, c), std::string("Daneben: 1.25 Radien."));
        setTranslator(nullptr);
    }
};

HOBBLE_TEST(TestCauses)
#include "test_causes.moc"
