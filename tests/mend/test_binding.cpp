// Steps that say anew what skin is bound to: by the bones near it, by the skin below it, by one place of it.
// Closed forms on tubes, and what holds however they are asked.
#include "core/mend/heat.h"
#include "core/mend/trial.h"
#include "support/suite.h"
#include "support/tube.h"

#include <QTest>

#include <cmath>

using namespace hobble;
using namespace hobble::test;

namespace {

constexpr double kRadius = 0.1, kHalf = 0.8;

// A tube on three joints along it, the third without skin: so that both bones have a length.
Character boned(double radius = kRadius) {
    TubeSpec spec;
    spec.radius = radius;
    spec.sides = 24;
    spec.rings = 97; // none lies right at the joint, as near to one bone as to the other
    spec.capped = false;
    Character c = tube(spec);
    c.skeleton = skeletonOf({{"upper_arm.L", -1, Vec3d(0, -kHalf, 0)},
                             {"forearm.L", 0, Vec3d(0, 0, 0)},
                             {"hand.L", 1, Vec3d(0, kHalf, 0)}});
    std::vector<std::vector<std::pair<int, double>>> rows(c.vertexCount());
    for (std::size_t v = 0; v < rows.size(); ++v) {
        const double t = std::clamp((static_cast<double>(c.bindPosition[v].y()) + 0.2) / 0.4, 0.0, 1.0);
        rows[v] = {{0, 1 - t}, {1, t}};
    }
    finish(c, rows);
    return c;
}

// The same with a sleeve around it, a part of its own, all of it bound to the upper arm; `inwards` turns its
// faces.
Character sleeved(bool inwards = false, double off = 0.02) {
    Character c = boned();
    const Character sleeve = boned(kRadius + off);
    const auto first = static_cast<std::uint32_t>(c.vertexCount());
    Part part = c.parts.front();
    part.name = "sleeve";
    part.firstVertex = first;
    part.firstTriangle = static_cast<std::uint32_t>(c.triangles.size());
    std::vector<std::vector<std::pair<int, double>>> rows(c.vertexCount());
    for (std::size_t v = 0; v < rows.size(); ++v)
        for (std::uint32_t i = c.weights.first[v]; i < c.weights.first[v + 1]; ++i)
            rows[v].emplace_back(c.weights.joint[i], c.weights.weight[i]);
    for (const Vec3& p : sleeve.bindPosition) {
        c.bindPosition.push_back(p);
        rows.push_back({{0, 1}});
    }
    for (Triangle t : sleeve.triangles) {
        for (std::uint32_t& v : t)
            v += first;
        if (inwards)
            std::swap(t[1], t[2]);
        c.triangles.push_back(t);
    }
    c.parts.push_back(part);
    finish(c, rows);
    return c;
}

Step step(StepKind kind, std::vector<std::uint32_t> vertices) {
    Step out;
    out.kind = kind;
    out.place.what = MendPlace::What::Marked;
    out.place.vertices = std::move(vertices);
    return out;
}

bool onSleeve(const Vec3& p) { return std::hypot(p.x(), p.z()) > kRadius + 0.005; }

} // namespace

class TestBinding : public QObject {
    Q_OBJECT

private slots:
    // Heat along a tube: w'' = (w − p) / (reach · d)², p being 1 where the bone is the nearest. Across the
    // joint w is 1 − e^(−y / reach·d) / 2 on one side and its mirror on the other.
    void heatIsTheExponential() {
        const auto s = std::make_shared<const Subject>(subjectOf(boned()));
        for (const double reach : {1.0, 2.0}) {
            Step bind = step(StepKind::Bind, {});
            bind.place.what = MendPlace::What::Everywhere;
            bind.amount = reach;
            TriedSteps tried(s);
            Trial trial;
            trial.steps = {bind};
            tried.take(trial);
            QVERIFY2(tried.effects()[0].applies, tried.effects()[0].why.c_str());
            const double length = kRadius * reach;
            for (std::uint32_t v = 0; v < s->neutral.size(); ++v) {
                const ShareRow row = tried.shares().at(v);
                double sum = 0;
                for (const Share& share : row) {
                    QVERIFY(share.by >= 0 && share.by <= 1 + 1e-12);
                    sum += share.by;
                }
                QVERIFY(std::abs(sum - 1) < 1e-9);
                const double y = static_cast<double>(s->neutral[v].y());
                if (std::abs(y) > 0.5) // the ends of the tube are no part of the form
                    continue;
                const double expected = y > 0 ? 1 - std::exp(-y / length) / 2 : std::exp(y / length) / 2;
                QVERIFY2(std::abs(shareOf(row, 1) - expected) < 0.01,
                         qPrintable(QStringLiteral("%1: %2 %3").arg(y).arg(shareOf(row, 1)).arg(expected)));
            }
        }
    }

    void distanceIsItsPower() {
        const auto s = std::make_shared<const Subject>(subjectOf(boned()));
        Step bind = step(StepKind::Bind, {});
        bind.place.what = MendPlace::What::Everywhere;
        bind.bindBy = BindBy::Distance;
        bind.amount = 3;
        TriedSteps tried(s);
        Trial trial;
        trial.steps = {bind};
        tried.take(trial);
        for (std::uint32_t v = 0; v < s->neutral.size(); ++v) {
            const Vec3d p = s->neutral[v].cast<double>();
            const double r = std::hypot(p.x(), p.z()), lower = std::hypot(r, std::max(p.y(), 0.0)),
                         upper = std::hypot(r, std::max(-p.y(), 0.0));
            const double a = std::pow(lower, -3), b = std::pow(upper, -3);
            QVERIFY(std::abs(shareOf(tried.shares().at(v), 1) - b / (a + b)) < 1e-6);
        }
    }

    // What is bound in a patch stays within it, and a locked joint keeps what it has.
    void withinItsPlace() {
        const auto s = std::make_shared<const Subject>(subjectOf(boned()));
        const auto middle = verticesWhere(*s, [](const Vec3& p) { return std::abs(p.y()) < 0.3f; });
        Trial trial;
        trial.steps = {step(StepKind::Bind, middle)};
        TriedSteps tried(s);
        tried.take(trial);
        QVERIFY(!tried.effects()[0].changed.empty());
        QVERIFY(std::includes(middle.begin(), middle.end(), tried.effects()[0].changed.begin(),
                              tried.effects()[0].changed.end()));
        trial.locked = {"forearm.L"};
        TriedSteps held(s);
        held.take(trial);
        for (std::uint32_t v : middle)
            QVERIFY(std::abs(shareOf(held.shares().at(v), 1) - shareOf(Shares(*s).at(v), 1)) < 1e-9);
    }

    // The sleeve takes what the arm below it has, by the nearest point: along the tube that is the same
    // height.
    void aSleeveTakesWhatIsBelow() {
        const auto s = std::make_shared<const Subject>(subjectOf(sleeved()));
        const auto sleeve = verticesWhere(*s, onSleeve);
        QVERIFY(sleeve.size() > 1000);
        TriedSteps tried(s);
        Trial trial;
        trial.steps = {step(StepKind::CarryOver, sleeve)};
        tried.take(trial);
        QVERIFY2(tried.effects()[0].applies, tried.effects()[0].why.c_str());
        for (std::uint32_t v : sleeve) {
            const double t = std::clamp((static_cast<double>(s->neutral[v].y()) + 0.2) / 0.4, 0.0, 1.0);
            QVERIFY2(std::abs(shareOf(tried.shares().at(v), 1) - t) < 1e-4,
                     qPrintable(QString::number(s->neutral[v].y())));
        }
        QVERIFY(std::none_of(tried.effects()[0].changed.begin(), tried.effects()[0].changed.end(),
                             [&](std::uint32_t v) { return !onSleeve(s->neutral[v]); }));
        // named, it is the same; of a part that is not there it says so
        trial.steps[0].part = s->character->parts.front().name;
        TriedSteps named(s);
        named.take(trial);
        QVERIFY(named.effects()[0].applies);
        QCOMPARE(named.character()->weights, tried.character()->weights);
        trial.steps[0].part = "no such part";
        named.take(trial);
        QVERIFY(!named.effects()[0].applies &&
                named.effects()[0].why.find("no such part") != std::string::npos);
    }

    // Where nothing near faces alike, the garment's own skin fills in; where that is all of it, it is told.
    void whatDoesNotAgreeIsFilledIn() {
        // the upper half of the sleeve stands off farther than it may be taken from
        Character c = sleeved();
        for (std::size_t v = 0; v < c.bindPosition.size(); ++v)
            if (Vec3& p = c.bindPosition[v]; onSleeve(p) && p.y() > 0.3f) {
                p.x() *= 3;
                p.z() *= 3;
            }
        c.neutral = c.bindPosition;
        const auto s = std::make_shared<const Subject>(subjectOf(c));
        Step carry = step(StepKind::CarryOver, verticesWhere(*s, onSleeve));
        carry.amount = 0.05;
        TriedSteps tried(s);
        Trial trial;
        trial.steps = {carry};
        tried.take(trial);
        QVERIFY2(tried.effects()[0].applies, tried.effects()[0].why.c_str());
        for (std::uint32_t v : carry.place.vertices)
            if (s->neutral[v].y() > 0.35f) // beyond the passage the rim is all the forearm's
                QVERIFY(shareOf(tried.shares().at(v), 1) > 0.99);
        // far from everything
        trial.steps[0].amount = 0.001;
        TriedSteps far(s);
        far.take(trial);
        QVERIFY(!far.effects()[0].applies);
        QVERIFY(far.effects()[0].why.find("nowhere") != std::string::npos);
        // and nothing else there to take it from
        trial.steps[0].place.what = MendPlace::What::Everywhere;
        TriedSteps none(s);
        none.take(trial);
        QVERIFY(none.effects()[0].why.find("no other skin") != std::string::npos);
    }

    void aPlaceIsCopied() {
        const auto s = std::make_shared<const Subject>(subjectOf(boned()));
        const auto low = verticesWhere(*s, [](const Vec3& p) { return p.y() < -0.5f; });
        Step copy = step(StepKind::Copy, low);
        copy.at = Vec3d(0, 0.1, kRadius);
        copy.strength = 0.5;
        TriedSteps tried(s);
        Trial trial;
        trial.steps = {copy};
        tried.take(trial);
        QVERIFY(tried.effects()[0].applies);
        for (std::uint32_t v : low) // half of (0.1 + 0.2) / 0.4
            QVERIFY(std::abs(shareOf(tried.shares().at(v), 1) - 0.375) < 0.02);
        copy.at = Vec3d(0, NAN, 0);
        trial.steps = {copy};
        tried.take(trial);
        QVERIFY(!tried.effects()[0].applies);
    }
};

HOBBLE_TEST(TestBinding)
#include "test_binding.moc"
