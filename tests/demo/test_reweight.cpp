// Weights changed: what comes back is to the bit what preparing from nothing gives, and all that the weights
// have nothing to do with is shared with the subject of before.
#include "core/measure/reweight.h"
#include "io/character_read.h"
#include "plant/plant.h"
#include "support/suite.h"
#include "support/tube.h"

#include <QTest>

#include <random>

using namespace hobble;
using namespace hobble::demo;
using namespace hobble::test;

class TestReweight : public QObject {
    Q_OBJECT

    Subject clean_;

    static std::shared_ptr<const Character> with(const Character& c, const SkinWeights& weights) {
        auto out = std::make_shared<Character>(c);
        out->weights = weights;
        return out;
    }

    using Row = std::map<int, double>;
    template <class Edit> static SkinWeights edited(const Character& c, const Edit& edit) {
        SkinWeights out;
        for (std::uint32_t v = 0; v < c.vertexCount(); ++v) {
            Row row;
            for (std::uint32_t i = c.weights.first[v]; i < c.weights.first[v + 1]; ++i)
                row[c.weights.joint[i]] = static_cast<double>(c.weights.weight[i]);
            const Row before = row;
            edit(v, row);
            const bool same = row == before;
            std::vector<std::pair<double, int>> sorted;
            for (const auto& [j, w] : row)
                if (w > 0)
                    sorted.push_back({w, j});
            if (!same)
                std::sort(sorted.rbegin(), sorted.rend());
            if (same)
                for (std::uint32_t i = c.weights.first[v]; i < c.weights.first[v + 1]; ++i) {
                    out.joint.push_back(c.weights.joint[i]);
                    out.weight.push_back(c.weights.weight[i]);
                }
            else
                for (const auto& [w, j] : sorted) {
                    out.joint.push_back(static_cast<std::uint16_t>(j));
                    out.weight.push_back(static_cast<float>(w));
                }
            out.first.push_back(static_cast<std::uint32_t>(out.joint.size()));
            out.fileSum.push_back(1);
        }
        return out;
    }

    // The first thing that differs, by name; empty when none does.
    static QString differs(const Subject& a, const Subject& b) {
        if (!(a.lanes == b.lanes))
            return "lanes";
        if (!(a.surface.weights == b.surface.weights))
            return "weights of the surface";
        if (!(a.surface == b.surface))
            return "surface";
        if (!(a.held == b.held))
            return "held";
        for (std::size_t j = 0; j < a.zones.size(); ++j)
            if (!(a.zones[j] == b.zones[j]))
                return "zone of " + QString::fromStdString(a.character->skeleton.name[j]);
        if (!(a.rigid == b.rigid) || !(a.onRigidPart == b.onRigidPart))
            return "rigid parts";
        if (!(a.islands == b.islands))
            return "islands";
        if (!(*a.openings == *b.openings))
            return QStringLiteral("openings of the face");
        if (!(*a.cover == *b.cover))
            return "cover";
        if (!(a.contactCarriers == b.contactCarriers))
            return "carriers";
        if (!(a.contact->tree == b.contact->tree) || a.contact->neutralPairs != b.contact->neutralPairs ||
            a.contact->neutralDepth != b.contact->neutralDepth)
            return "contact";
        for (std::size_t j = 0; j < a.roles.size(); ++j)
            if (a.roles[j].role != b.roles[j].role || a.roles[j].side != b.roles[j].side ||
                a.roles[j].mirror != b.roles[j].mirror || a.roles[j].movesSkin != b.roles[j].movesSkin)
                return "role of " + QString::fromStdString(a.character->skeleton.name[j]);
        if (a.body.up != b.body.up || a.body.height != b.body.height || a.mirror.partner != b.mirror.partner)
            return "body";
        return {};
    }

    static int grown(const Subject& before, const Subject& after) {
        int out = 0;
        for (std::size_t j = 0; j < before.zones.size(); ++j)
            out += !after.zones.shared(before.zones, j);
        return out;
    }

private slots:
    void initTestCase() {
        auto c = readCharacter(HOBBLE_DEMO_DIR "/badger-postmaster.glb");
        QVERIFY2(c, c ? "" : c.error().c_str());
        clean_ = prepareSubject(std::make_shared<const Character>(std::move(*c)));
    }

    void plantedBuildsAreAsPreparedFromNothing_data() {
        QTest::addColumn<QString>("fault");
        QTest::addColumn<unsigned>("seed");
        for (const std::string& f : faultNames()) {
            Character c = *clean_.character;
            Recipe r;
            r.faults.push_back({f, "", "", "", 0.7, false});
            if (plant(c, r) && c.vertexCount() == clean_.character->vertexCount() &&
                !changedVertices(clean_.character->weights, c.weights).empty())
                for (unsigned seed : {1u, 5u})
                    QTest::addRow("%s, seed %u", f.c_str(), seed) << QString::fromStdString(f) << seed;
        }
    }

    void plantedBuildsAreAsPreparedFromNothing() {
        QFETCH(QString, fault);
        QFETCH(unsigned, seed);
        Character planted = *clean_.character;
        Recipe r;
        r.seed = seed;
        r.faults.push_back({fault.toStdString(), "", "", "", 0.7, false});
        QVERIFY(plant(planted, r));
        const auto after = with(*clean_.character, planted.weights);
        const Subject fresh = prepareSubject(after), again = reweighted(clean_, after);
        QCOMPARE(differs(again, fresh), QString());
        QVERIFY(again.surface.triangles.sharesWith(clean_.surface.triangles));
        QVERIFY(again.neutral.sharesWith(clean_.neutral));
        QVERIFY(again.surface.neighbours.item.sharesWith(clean_.surface.neighbours.item));
        QCOMPARE(again.tree, clean_.tree);
        // and back again
        QCOMPARE(differs(reweighted(again, clean_.character), clean_), QString());
    }

    void anyEditIsAsPreparedFromNothing_data() {
        QTest::addColumn<unsigned>("seed");
        for (unsigned seed = 1; seed <= 12; ++seed)
            QTest::addRow("seed %u", seed) << seed;
    }

    // Shares moved between any two joints in a ball anywhere: of one joint's weights alone, of strangers', of
    // skin that had none.
    void anyEditIsAsPreparedFromNothing() {
        QFETCH(unsigned, seed);
        std::mt19937 random(seed);
        const Character& c = *clean_.character;
        const auto any = [&](std::size_t n) { return static_cast<std::uint32_t>(random() % n); };
        const Vec3 middle = c.neutral[any(c.vertexCount())];
        const float reach = 0.01f + 0.15f * static_cast<float>(any(100)) / 100;
        const int from = c.weights.joint[c.weights.first[any(c.vertexCount())]],
                  to = c.weights.joint[c.weights.first[any(c.vertexCount())]];
        const double share = 0.02 + 0.01 * any(98);
        const SkinWeights weights = edited(c, [&](std::uint32_t v, Row& row) {
            if ((c.neutral[v] - middle).norm() > reach || row.empty())
                return;
            if (seed % 4 == 0) { // all to one joint
                row = {{to, 1.0}};
                return;
            }
            const int source = row.count(from) ? from : row.begin()->first;
            const int taker = source != to ? to : (to + 1) % c.skeleton.size();
            const double moved = share * row[source];
            row[source] -= moved;
            row[taker] += moved;
        });
        const auto after = with(c, weights);
        QVERIFY(!changedVertices(c.weights, after->weights).empty());
        QCOMPARE(differs(reweighted(clean_, after), prepareSubject(after)), QString());
    }

    void aJointThatLosesItsSkinLosesWhatItWas() {
        const Character& c = *clean_.character;
        const int tongue = c.skeleton.find("tongue_2"), parent = c.skeleton.parent[tongue];
        const auto after = with(c, edited(c, [&](std::uint32_t, Row& row) {
                                    if (row.count(tongue)) {
                                        row[parent] += row[tongue];
                                        row.erase(tongue);
                                    }
                                }));
        const Subject again = reweighted(clean_, after);
        QCOMPARE(differs(again, prepareSubject(after)), QString());
        QVERIFY(clean_.roles[tongue].movesSkin && !again.roles[tongue].movesSkin);
        QCOMPARE(differs(reweighted(again, clean_.character), clean_), QString());
    }

    void aGarmentHeldByOneJointCoversNothing() {
        const Character& c = *clean_.character;
        const auto covering = clean_.cover->outer.front();
        const Part& garment = c.parts[covering];
        const auto after =
            with(c, edited(c, [&](std::uint32_t v, Row& row) {
                     if (v >= garment.firstVertex && v < garment.firstVertex + garment.vertexCount)
                         row = {{3, 1.0}};
                 }));
        const Subject again = reweighted(clean_, after);
        QVERIFY(std::find(again.cover->outer.begin(), again.cover->outer.end(), covering) ==
                again.cover->outer.end());
        QCOMPARE(differs(again, prepareSubject(after)), QString());
    }

    void aSmallStrokeGrowsFewZones() {
        const Character& c = *clean_.character;
        const int elbow = c.skeleton.find("forearm.L"), above = c.skeleton.find("upper_arm_twist_2.L");
        QVERIFY(elbow >= 0 && above >= 0);
        const auto after = with(c, edited(c, [&](std::uint32_t, Row& row) {
                                    if (row.count(elbow) && row.count(above)) {
                                        const double moved = 0.3 * row[above];
                                        row[above] -= moved;
                                        row[elbow] += moved;
                                    }
                                }));
        const Subject again = reweighted(clean_, after);
        QVERIFY2(grown(clean_, again) >= 1 && grown(clean_, again) <= 8,
                 qPrintable(QString::number(grown(clean_, again))));
        QCOMPARE(again.cover, clean_.cover);
        QCOMPARE(again.contact, clean_.contact);
        QCOMPARE(differs(again, prepareSubject(after)), QString());
    }

    void nothingChangedIsTheSame() {
        const Subject again =
            reweighted(clean_, with(*clean_.character, SkinWeights(clean_.character->weights)));
        QCOMPARE(grown(clean_, again), 0);
        QVERIFY(again.surface.weights.weight.sharesWith(clean_.surface.weights.weight));
        QCOMPARE(differs(again, clean_), QString());
    }

    void anotherMeshIsPreparedAnew() {
        const Subject one = subjectOf(tube({.sides = 12, .rings = 20})),
                      other = reweighted(
                          one, subjectOf(tube({.radius = 0.2, .sides = 12, .rings = 20})).character);
        QVERIFY(other.neutral[5] != one.neutral[5]);
        QVERIFY(std::abs(other.zones[1].limbRadius - 0.2) < 0.01);
    }

    void canBeStopped() {
        const std::atomic<bool> stop{true};
        Character planted = *clean_.character;
        Recipe r;
        r.faults.push_back({faultNames().front(), "", "", "", 0.7, false});
        QVERIFY(plant(planted, r));
        const Subject none = reweighted(clean_, with(*clean_.character, planted.weights), {&stop, {}});
        QCOMPARE(grown(clean_, none), 0);
    }
};

HOBBLE_TEST(TestReweight)
#include "test_reweight.moc"
