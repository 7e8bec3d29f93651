// What each kind of step does to the weights: closed forms on a tube whose weights are known, slow versions
// that know nothing of the fast ones, and what holds for any list of steps at all.
#include "core/mend/trial.h"
#include "support/suite.h"
#include "support/tube.h"

#include <QTest>

#include <cmath>
#include <random>
#include <set>

using namespace hobble;
using namespace hobble::test;

namespace {

constexpr int kRoot = 0, kTip = 1;

MendPlace marked(std::vector<std::uint32_t> vertices) {
    MendPlace out;
    out.what = MendPlace::What::Marked;
    out.vertices = std::move(vertices);
    return out;
}

Subject smallTube(bool mirrored = false) {
    TubeSpec spec;
    spec.sides = 16;
    spec.rings = 33;
    const Character c = tube(spec);
    return subjectOf(mirrored ? mirroredX(c) : c);
}

// A tube with a third joint that holds an even tenth of everything.
Subject threeJoints(bool mirrored = false) {
    TubeSpec spec;
    spec.sides = 16;
    spec.rings = 33;
    Character c = tube(spec);
    c.skeleton = skeletonOf({{"upper_arm.L", -1, Vec3d(0, -0.8, 0)},
                             {"forearm.L", 0, Vec3d(0, 0, 0)},
                             {"helper.L", 0, Vec3d(0.05, -0.1, 0)}});
    const SkinWeights was = c.weights;
    std::vector<std::vector<std::pair<int, double>>> rows(was.vertexCount());
    for (std::uint32_t v = 0; v < was.vertexCount(); ++v) {
        for (std::uint32_t i = was.first[v]; i < was.first[v + 1]; ++i)
            rows[v].emplace_back(was.joint[i], 0.9 * was.weight[i]);
        rows[v].emplace_back(2, 0.1);
    }
    finish(c, rows);
    return subjectOf(mirrored ? mirroredX(c) : c);
}

double sumOf(const ShareRow& row) {
    double out = 0;
    for (const Share& s : row)
        out += s.by;
    return out;
}

// Every joint's share of every vertex, as a table.
std::vector<std::vector<double>> tableOf(const Shares& shares, int joints) {
    std::vector<std::vector<double>> out(shares.size(),
                                         std::vector<double>(static_cast<std::size_t>(joints)));
    for (std::uint32_t v = 0; v < shares.size(); ++v)
        for (const Share& s : shares.at(v))
            out[v][s.joint] = s.by;
    return out;
}

} // namespace

class TestSteps : public QObject {
    Q_OBJECT

    static Step step(StepKind kind, MendPlace place, const char* joint = "", const char* to = "") {
        Step out;
        out.kind = kind;
        out.place = std::move(place);
        out.joint = joint;
        out.to = to;
        return out;
    }

    // Any list of steps, of any kind, over places of any kind.
    static std::vector<Step> randomSteps(std::mt19937& random, const Subject& s, bool mirrored) {
        const auto& names = s.character->skeleton.name;
        const auto any = [&](int least, int most) {
            return std::uniform_int_distribution<int>(least, most)(random);
        };
        const auto part = [&] { return std::uniform_real_distribution<double>(0, 1)(random); };
        std::vector<Step> out;
        for (int n = any(1, 8); n > 0; --n) {
            Step one;
            do {
                one.kind = static_cast<StepKind>(any(0, kStepKinds - 1));
            } while (one.kind == StepKind::Mirror);
            one.joint = names[static_cast<std::size_t>(any(0, 2))];
            one.to = names[static_cast<std::size_t>(any(0, 2))];
            one.amount = part();
            one.fillBy = static_cast<FillBy>(any(0, 2));
            one.count = any(1, 4);
            one.strength = part();
            one.axis = Vec3d::UnitX(); // mirrored in x it is the same
            one.at = Vec3d(0, 0.05, 0);
            one.degrees = 60;
            if (one.kind == StepKind::Soften && any(0, 1))
                one.joint.clear();
            if (any(0, 1)) {
                std::set<std::uint32_t> in;
                for (int k = any(1, 200); k > 0; --k)
                    in.insert(static_cast<std::uint32_t>(any(0, static_cast<int>(s.neutral.size()) - 1)));
                one.place = marked({in.begin(), in.end()});
            } else {
                one.place.what = MendPlace::What::Stroke;
                one.place.radius = 0.02 + 0.3 * part();
                one.place.along = any(0, 1);
                for (int k = any(1, 3); k > 0; --k) {
                    const double turn = 6.28 * part();
                    const Vec3 at(static_cast<float>(0.1 * std::cos(turn)),
                                  static_cast<float>(1.2 * part() - 0.6),
                                  static_cast<float>(0.1 * std::sin(turn)));
                    one.place.path.push_back(mirrored ? Vec3(-at.x(), at.y(), at.z()) : at);
                }
            }
            out.push_back(one);
        }
        return out;
    }

private slots:
    void fillsWhereItIsTold() {
        const Subject s = smallTube();
        const auto low = verticesWhere(s, [](const Vec3& p) { return p.y() < -0.4; });
        Step fill = step(StepKind::Fill, marked(low), "forearm.L");
        fill.amount = 0.4;
        Shares shares(s);
        QVERIFY(apply(fill, s, shares));
        for (std::uint32_t v : low) { // there the arm alone held all
            QVERIFY(std::abs(shareOf(shares.at(v), kTip) - 0.4) < 1e-12);
            QVERIFY(std::abs(shareOf(shares.at(v), kRoot) - 0.6) < 1e-12);
        }
        fill.fillBy = FillBy::Add;
        fill.strength = 0.5;
        QVERIFY(apply(fill, s, shares));
        QVERIFY(std::abs(shareOf(shares.at(low[3]), kTip) - 0.6) < 1e-12);
        fill.fillBy = FillBy::Scale;
        fill.amount = 0;
        fill.strength = 1;
        QVERIFY(apply(fill, s, shares));
        QCOMPARE(shares.at(low[3]), (ShareRow{{kRoot, 1.0}}));
        // nobody could take what it has: it stays
        fill.joint = "upper_arm.L";
        QVERIFY(apply(fill, s, shares));
        QCOMPARE(shares.at(low[3]), (ShareRow{{kRoot, 1.0}}));
    }

    void handsOverAPart() {
        const Subject s = threeJoints();
        Step over = step(StepKind::HandOver, {}, "helper.L", "forearm.L");
        over.amount = 0.5;
        const Shares before(s);
        Shares shares(s);
        QVERIFY(apply(over, s, shares));
        for (std::uint32_t v = 0; v < s.neutral.size(); ++v) {
            const ShareRow was = before.at(v), is = shares.at(v);
            QVERIFY(std::abs(shareOf(is, 2) - 0.05) < 1e-6);
            QVERIFY(std::abs(shareOf(is, kTip) - shareOf(was, kTip) - 0.05) < 1e-6);
            QVERIFY(std::abs(shareOf(is, kRoot) - shareOf(was, kRoot)) < 1e-6);
        }
    }

    // C = ½ stays where it is; narrower and then as much wider is nothing; a blend that is a step is hard.
    void narrowsAroundItsMiddle() {
        const Subject s = smallTube();
        const Shares before(s);
        Shares shares(s);
        Step narrow = step(StepKind::Narrow, {}, "upper_arm.L", "forearm.L");
        narrow.amount = 3;
        QVERIFY(apply(narrow, s, shares));
        for (std::uint32_t v = 0; v < s.neutral.size(); ++v) {
            const double c = shareOf(before.at(v), kTip);
            QVERIFY(std::abs(shareOf(shares.at(v), kTip) - c * c * c / (c * c * c + std::pow(1 - c, 3))) <
                    1e-9);
        }
        narrow.amount = 1.0 / 3;
        QVERIFY(apply(narrow, s, shares));
        for (std::uint32_t v = 0; v < s.neutral.size(); ++v)
            QVERIFY(std::abs(shareOf(shares.at(v), kTip) - shareOf(before.at(v), kTip)) < 1e-9);
        narrow.amount = 0;
        QVERIFY(!apply(narrow, s, shares));
    }

    void keepsAJointOut() {
        const Subject s = threeJoints();
        const auto middle = verticesWhere(s, [](const Vec3& p) { return std::abs(p.y()) < 0.3; });
        Shares shares(s);
        QVERIFY(apply(step(StepKind::KeepOut, marked(middle), "forearm.L"), s, shares));
        const Shares before(s);
        for (std::uint32_t v : middle) {
            QCOMPARE(shareOf(shares.at(v), kTip), 0.0);
            const double arm = shareOf(before.at(v), kRoot), helper = shareOf(before.at(v), 2);
            QVERIFY(std::abs(shareOf(shares.at(v), 2) - helper / (arm + helper)) < 1e-9);
        }
        // where nothing else holds it, the skin around says what
        const Subject two = smallTube();
        Shares of(two);
        const auto end =
            verticesWhere(two, [](const Vec3& p) { return p.y() > 0.15; }); // 1 forearm beyond 0.2
        QVERIFY(apply(step(StepKind::KeepOut, marked(end), "forearm.L"), two, of));
        for (std::uint32_t v : end)
            QCOMPARE(of.at(v), (ShareRow{{kRoot, 1.0}}));
    }

    void fewerInfluences() {
        const Subject s = threeJoints();
        Shares shares(s);
        Step small = step(StepKind::DropSmall, {});
        small.amount = 0.15; // the helper's tenth, and what is little in the blend
        QVERIFY(apply(small, s, shares));
        for (std::uint32_t v = 0; v < s.neutral.size(); ++v) {
            QCOMPARE(shareOf(shares.at(v), 2), 0.0);
            for (const Share& x : shares.at(v))
                QVERIFY(x.by >= 0.15);
        }
        Shares capped(s);
        Step cap = step(StepKind::Cap, {});
        cap.count = 1;
        QVERIFY(apply(cap, s, capped));
        for (std::uint32_t v = 0; v < s.neutral.size(); ++v)
            QCOMPARE(capped.at(v).size(), std::size_t(1));
        cap.count = 0;
        QVERIFY(!apply(cap, s, capped));
    }

    // Pass by pass against a table of all shares and all edges.
    void softensAsTheSlowVersionDoes() {
        const Subject s = threeJoints();
        const auto in =
            verticesWhere(s, [](const Vec3& p) { return std::abs(p.y()) < 0.35 && p.x() > -0.05; });
        auto table = tableOf(Shares(s), 3);
        std::vector<char> inside(s.neutral.size(), 0);
        for (std::uint32_t v : in)
            inside[v] = 1;
        std::set<std::pair<std::uint32_t, std::uint32_t>> edges;
        for (const Triangle& t : s.surface.triangles)
            for (std::size_t k = 0; k < 3; ++k) {
                edges.insert({t[k], t[(k + 1) % 3]});
                edges.insert({t[(k + 1) % 3], t[k]});
            }
        for (int pass = 0; pass < 4; ++pass) {
            auto next = table;
            for (std::uint32_t v = 0; v < inside.size(); ++v) {
                if (!inside[v])
                    continue;
                std::vector<double> mean(3, 0);
                double sum = 0;
                for (const auto& [a, b] : edges)
                    if (a == v) {
                        const double w = 1 / static_cast<double>((s.neutral[b] - s.neutral[a]).norm());
                        for (std::size_t j = 0; j < 3; ++j)
                            mean[j] += w * table[b][j];
                        sum += w;
                    }
                for (std::size_t j = 0; j < 3; ++j)
                    next[v][j] = 0.3 * table[v][j] + 0.7 * mean[j] / sum;
            }
            table = next;
        }
        Step soften = step(StepKind::Soften, marked(in));
        soften.count = 4;
        soften.strength = 0.7;
        Shares shares(s);
        QVERIFY(apply(soften, s, shares));
        const auto found = tableOf(shares, 3);
        for (std::uint32_t v = 0; v < inside.size(); ++v)
            for (std::size_t j = 0; j < 3; ++j)
                QVERIFY2(std::abs(found[v][j] - table[v][j]) < 1e-9, qPrintable(QString::number(v)));
    }

    // Against going over the patch again and again until nothing moves (Gauss and Seidel); and no share lies
    // outside those of the rim.
    void aPatchTakesWhatItsRimSays() {
        const Subject s = smallTube();
        const auto patch =
            verticesWhere(s, [](const Vec3& p) { return std::abs(p.y()) < 0.12 && p.z() > 0; });
        QVERIFY(patch.size() > 20);
        Shares shares(s);
        QVERIFY(apply(step(StepKind::Rigid, marked(patch), "forearm.L"), s, shares)); // spoilt
        auto table = tableOf(shares, 2);
        double least = 1, most = 0;
        std::set<std::uint32_t> in(patch.begin(), patch.end());
        for (std::uint32_t v : patch)
            for (const std::uint32_t* n = s.surface.neighbours.begin(v); n != s.surface.neighbours.end(v);
                 ++n)
                if (!in.count(*n)) {
                    least = std::min(least, table[*n][kTip]);
                    most = std::max(most, table[*n][kTip]);
                }
        for (int round = 0; round < 4000; ++round)
            for (std::uint32_t v : patch) {
                double sum = 0, by = 0;
                for (const std::uint32_t* n = s.surface.neighbours.begin(v); n != s.surface.neighbours.end(v);
                     ++n) {
                    const double w = 1 / static_cast<double>((s.neutral[*n] - s.neutral[v]).norm());
                    by += w * table[*n][kTip];
                    sum += w;
                }
                table[v][kTip] = by / sum;
            }
        QVERIFY(apply(step(StepKind::FromNeighbours, marked(patch)), s, shares));
        for (std::uint32_t v : patch) {
            const double share = shareOf(shares.at(v), kTip);
            QVERIFY2(std::abs(share - table[v][kTip]) < 1e-6,
                     qPrintable(QString::number(share - table[v][kTip])));
            QVERIFY(share >= least - 1e-9 && share <= most + 1e-9);
        }
        // a whole piece of skin has no rim
        Shares untouched(s);
        const auto all = verticesWhere(s, [](const Vec3&) { return true; });
        QVERIFY(!apply(step(StepKind::FromNeighbours, marked(all)), s, untouched));
        QVERIFY(untouched.changed().empty());
    }

    // A stroke fades as (1 − d²)² from its path, along the surface only where the surface goes.
    void aStrokeFades() {
        const Subject s = smallTube();
        MendPlace stroke;
        stroke.what = MendPlace::What::Stroke;
        stroke.path = {Vec3(0.1f, 0, 0)};
        stroke.radius = 0.15;
        stroke.along = false;
        const Shares now(s);
        const auto straight = amountsAt(s, now, stroke);
        QVERIFY(straight);
        bool through = false;
        for (const Amount& a : *straight) {
            const double d = (s.neutral[a.vertex] - stroke.path[0]).norm() / 0.15;
            QVERIFY(std::abs(a.by - (1 - d * d) * (1 - d * d)) < 1e-6);
            through |= s.neutral[a.vertex].x() < -0.03f;
        }
        stroke.radius = 0.22; // through the tube of 0.2, but not around its half of 0.31
        QVERIFY(amountsAt(s, now, stroke)->size() > straight->size());
        stroke.along = true;
        const auto along = amountsAt(s, now, stroke);
        for (const Amount& a : *along)
            QVERIFY(s.neutral[a.vertex].x() > -0.09f);
        stroke.along = false;
        const auto wide = amountsAt(s, now, stroke);
        for (const Amount& a : *wide)
            through |= s.neutral[a.vertex].x() < -0.09f;
        QVERIFY(through);
        // a hair's breadth over metres: told at once, not worked at for ever
        MendPlace thin = stroke;
        thin.along = true;
        thin.path = {Vec3(0.1f, -0.5f, 0), Vec3(0.1f, 0.5f, 0)};
        thin.radius = 1e-30;
        QVERIFY(!amountsAt(s, now, thin) || amountsAt(s, now, thin)->size() < s.neutral.size() / 4);
        // Pressed half as hard, half of it; pressed harder at one end, more there, along the skin as through
        // it.
        MendPlace pressed = stroke;
        pressed.path = {Vec3(0.1f, -0.3f, 0), Vec3(0.1f, 0.3f, 0)};
        for (const bool alongSkin : {false, true}) {
            pressed.along = alongSkin;
            pressed.pressure.clear();
            const auto full = amountsAt(s, now, pressed);
            pressed.pressure = {0.5f, 0.5f};
            const auto half = amountsAt(s, now, pressed);
            QVERIFY(full && half && full->size() == half->size());
            for (std::size_t i = 0; i < full->size(); ++i)
                QVERIFY(std::abs((*half)[i].by - (*full)[i].by / 2) < 1e-6);
            pressed.pressure = {0, 1};
            const auto rising = amountsAt(s, now, pressed);
            QVERIFY(rising && rising->size() < full->size()); // where nothing pressed there is nothing
            for (const Amount& a : *rising) {
                const auto whole = std::find_if(full->begin(), full->end(),
                                                [&](const Amount& f) { return f.vertex == a.vertex; });
                QVERIFY(whole != full->end());
                const double share =
                    std::clamp((static_cast<double>(s.neutral[a.vertex].y()) + 0.3) / 0.6, 0.0, 1.0);
                if (!alongSkin)
                    QVERIFY(std::abs(a.by - share * whole->by) < 1e-6);
                else // of the nearest of the points it goes out from
                    QVERIFY(std::abs(a.by / whole->by - share) < 0.2);
            }
            pressed.pressure = {1};
            QVERIFY(!amountsAt(s, now, pressed));
        }
        stroke.path = {Vec3(5, 5, 5)};
        QVERIFY(!amountsAt(s, now, stroke));
        stroke.path.clear();
        QVERIFY(!amountsAt(s, now, stroke));
    }

    void whatCannotBeDoneIsSaid() {
        const Subject s = smallTube();
        Shares shares(s);
        for (const auto& [bad, says] :
             {std::pair(step(StepKind::Fill, {}, "no such joint"), "no such joint"),
              std::pair(step(StepKind::Fill, {}), "no joint is named"),
              std::pair(step(StepKind::HandOver, {}, "forearm.L"), "no joint is named"),
              std::pair(step(StepKind::Rigid, marked({999999}), "forearm.L"), "not on this build's mesh"),
              std::pair(step(StepKind::Mirror, {}), "mirror")}) {
            const auto done = apply(bad, s, shares);
            QVERIFY2(!done && done.error().find(says) != std::string::npos, done.error().c_str());
        }
        Step nan = step(StepKind::Fill, {}, "forearm.L");
        nan.amount = std::nan("");
        QVERIFY(!apply(nan, s, shares));
        QVERIFY(shares.changed().empty());
    }

    // Whatever is done: shares are above 0 and 1 together, a locked joint keeps its own, what is not in a
    // place is not touched, and a mirrored body gets mirrored weights.
    void whatHoldsForAnyList() {
        const Subject s = threeJoints(), other = threeJoints(true);
        QCOMPARE(s.neutral.size(), other.neutral.size());
        for (std::uint32_t seed = 1; seed <= 60; ++seed) {
            std::mt19937 random(seed), again(seed);
            Trial trial, mirrored;
            trial.steps = randomSteps(random, s, false);
            mirrored.steps = randomSteps(again, other, true);
            if (seed % 2) {
                trial.locked = {"helper.L"};
                mirrored.locked = {other.character->skeleton.name[2]};
            }
            TriedSteps tried(std::make_shared<const Subject>(s)),
                there(std::make_shared<const Subject>(other));
            tried.take(trial);
            there.take(mirrored);
            std::set<std::uint32_t> touched;
            const Shares none(s);
            for (std::size_t i = 0; i < trial.steps.size(); ++i)
                if (trial.steps[i].kind == StepKind::ShareTwist) { // along a bone, wherever its place is
                    for (std::uint32_t v = 0; v < s.neutral.size(); ++v)
                        touched.insert(v);
                } else if (const auto amounts = amountsAt(s, none, trial.steps[i].place))
                    for (const Amount& a : *amounts)
                        touched.insert(a.vertex);
            for (std::uint32_t v = 0; v < s.neutral.size(); ++v) {
                const ShareRow row = tried.shares().at(v), across = there.shares().at(v);
                QVERIFY(std::abs(sumOf(row) - 1) < 1e-6);
                for (const Share& x : row)
                    QVERIFY(x.by > 0);
                if (seed % 2)
                    QVERIFY(std::abs(shareOf(row, 2) - shareOf(none.at(v), 2)) < 1e-12);
                if (!touched.count(v))
                    QCOMPARE(row, none.at(v));
                for (int j = 0; j < 3; ++j)
                    QVERIFY2(std::abs(shareOf(row, j) - shareOf(across, j)) < 1e-5,
                             qPrintable(QStringLiteral("seed %1 vertex %2").arg(seed).arg(v)));
            }
            // in the file's own numbers
            const SkinWeights w = tried.shares().ofFile();
            const SkinWeights& was = s.character->weights;
            QCOMPARE(w.vertexCount(), was.vertexCount());
            for (std::uint32_t v = 0; v < w.vertexCount(); ++v) {
                double sum = 0;
                for (std::uint32_t i = w.first[v]; i < w.first[v + 1]; ++i) {
                    QVERIFY(w.weight[i] >= 0);
                    sum += w.weight[i];
                }
                QVERIFY(std::abs(sum - 1) < 1e-6);
                if (!touched.count(s.surface.weldOf[v])) {
                    QCOMPARE(w.first[v + 1] - w.first[v], was.first[v + 1] - was.first[v]);
                    for (std::uint32_t i = 0; i < w.first[v + 1] - w.first[v]; ++i) {
                        QCOMPARE(w.joint[w.first[v] + i], was.joint[was.first[v] + i]);
                        QCOMPARE(w.weight[w.first[v] + i], was.weight[was.first[v] + i]);
                    }
                }
            }
        }
    }
};

HOBBLE_TEST(TestSteps)
#include "test_steps.moc"
