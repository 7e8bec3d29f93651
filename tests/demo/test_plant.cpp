// A clean build and its planted twin differ only where the truth says; recipes repeat; scores count what they
// should.
#include "io/character_read.h"
#include "plant/score.h"
#include "support/suite.h"

#include <QTest>
#include <nlohmann/json.hpp>

using namespace hobble;
using namespace hobble::demo;

class TestPlant : public QObject {
    Q_OBJECT

    Character badger_, newt_;

    // What has the part that a fault suits: lids and shapes are the newt's.
    const Character& cleanFor(const std::string& fault) const {
        return fault.find("lid ") == 0 || fault.find("blink") == 0 || fault.find("shape") == 0 ? newt_
                                                                                               : badger_;
    }
    static bool sameShapes(const Character& a, const Character& b) {
        for (std::size_t p = 0; p < a.parts.size(); ++p)
            for (std::size_t t = 0; t < a.parts[p].targets.size(); ++t)
                if (a.parts[p].targets[t].delta != b.parts[p].targets[t].delta)
                    return false;
        return true;
    }

    static std::map<int, float> row(const Character& c, std::uint32_t v) {
        std::map<int, float> out;
        for (std::uint32_t i = c.weights.first[v]; i < c.weights.first[v + 1]; ++i)
            out[c.weights.joint[i]] += c.weights.weight[i];
        return out;
    }

    static bool sameWeights(const Character& a, const Character& b, std::uint32_t v, std::uint32_t w) {
        auto x = row(a, v), y = row(b, w);
        for (const auto& [j, weight] : y)
            x[j] -= weight;
        for (const auto& [j, weight] : x)
            if (std::abs(weight) > 1e-5f)
                return false;
        return true;
    }

private slots:
    void initTestCase() {
        auto c = readCharacter(HOBBLE_DEMO_DIR "/badger-postmaster.glb");
        QVERIFY2(c, c ? "" : c.error().c_str());
        badger_ = std::move(*c);
        auto n = readCharacter(HOBBLE_DEMO_DIR "/lighthouse-newt.glb");
        QVERIFY2(n, n ? "" : n.error().c_str());
        newt_ = std::move(*n);
    }

    void onlyWhereTheTruthSays_data() {
        QTest::addColumn<QString>("fault");
        for (const std::string& f : faultNames())
            QTest::newRow(f.c_str()) << QString::fromStdString(f);
    }

    void onlyWhereTheTruthSays() {
        QFETCH(QString, fault);
        const Character& clean_ = cleanFor(fault.toStdString());
        for (std::uint32_t seed : {3u, 71u}) {
            Recipe r;
            r.seed = seed;
            r.faults.push_back({fault.toStdString(), "", "", "", 0.7, false});
            Character c = clean_;
            const auto truth = plant(c, r);
            QVERIFY2(truth, truth ? "" : truth.error().c_str());
            const Truth& t = truth->at(0);
            QVERIFY(!t.kinds.empty() && t.size > 0);
            QVERIFY(t.detector == "inspect" || !t.cause.empty());
            const bool sameMesh = c.vertexCount() == clean_.vertexCount();
            for (std::size_t p = 0; p < c.parts.size(); ++p) {
                const auto it = t.vertices.find(c.parts[p].name);
                const std::vector<std::uint32_t> none, &touched = it == t.vertices.end() ? none : it->second;
                QVERIFY(std::is_sorted(touched.begin(), touched.end()));
                QVERIFY(touched.empty() || touched.back() < c.parts[p].vertexCount);
                if (!sameMesh)
                    continue;
                for (std::uint32_t v = 0; v < c.parts[p].vertexCount; ++v) {
                    const std::uint32_t at = c.parts[p].firstVertex + v;
                    const bool isTouched = std::binary_search(touched.begin(), touched.end(), v);
                    // Only a mesh laid anew moves its vertices, and over the skin that was there.
                    if (isTouched && t.fault == "edge loops askew of the bend")
                        QVERIFY((c.neutral[at] - clean_.neutral[at]).norm() < 1.5 * t.size);
                    else
                        QVERIFY(c.neutral[at] == clean_.neutral[at]);
                    if (!isTouched)
                        QVERIFY2(sameWeights(c, clean_, at, at), qPrintable(QString::number(v)));
                }
            }
            // What has no weight changed has something else changed.
            const bool skeleton =
                !std::equal(c.skeleton.neutralWorld.begin(), c.skeleton.neutralWorld.end(),
                            clean_.skeleton.neutralWorld.begin(),
                            [](const Transform& a, const Transform& b) { return a.isApprox(b, 1e-9); });
            bool weights = !sameMesh;
            for (std::uint32_t v = 0; v < c.vertexCount() && sameMesh && !weights; ++v)
                weights = !sameWeights(c, clean_, v, v);
            bool drivers = c.drivers.size() != clean_.drivers.size();
            for (std::size_t i = 0; i < c.drivers.size() && !drivers; ++i)
                drivers = c.drivers[i].keys.size() != clean_.drivers[i].keys.size() ||
                          c.drivers[i].keys[0].degrees != clean_.drivers[i].keys[0].degrees ||
                          c.drivers[i].keys.back().out != clean_.drivers[i].keys.back().out;
            const bool names = c.skeleton.name != clean_.skeleton.name,
                       faces = c.triangles != clean_.triangles;
            QVERIFY(skeleton || weights || drivers || names || faces || !sameShapes(c, clean_));
            // the same recipe again is the same build
            Character again = clean_;
            const auto twice = plant(again, r);
            QCOMPARE(twice->at(0).joint, t.joint);
            QVERIFY(again.weights.weight == c.weights.weight && again.weights.joint == c.weights.joint);
        }
    }

    void unknownFaultsAreRefused() {
        Recipe r;
        r.faults.push_back({"gremlins", "", "", "", 0.5, false});
        Character c = badger_;
        QVERIFY(!plant(c, r));
        r.faults[0] = {"stray influence", "no_such_joint", "", "", 0.5, false};
        const auto refused = plant(c, r);
        QVERIFY(!refused && refused.error().find("no_such_joint") != std::string::npos);
    }

    void scores() {
        using nlohmann::json;
        auto finding = [](const char* joint, const char* kind, double value, std::vector<int> vertices,
                          const char* cause) {
            return json{{"joint", joint},
                        {"kind", kind},
                        {"peakValue", value},
                        {"limit", 1.35},
                        {"unchanged", 1.0},
                        {"severity", 2},
                        {"place", {0, 0, 0}},
                        {"part", "body"},
                        {"sentence", "so"},
                        {"vertices", {{"body", vertices}}},
                        {"causes", json::array({{{"cause", cause}, {"weight", 1}, {"evidence", ""}}})}};
        };
        Truth elbow;
        elbow.fault = "blend too hard";
        elbow.joint = "forearm.L";
        elbow.kinds = {"stretch"};
        elbow.cause = "blend too hard";
        elbow.vertices["body"] = {1, 2, 3, 4};
        Truth missed = elbow;
        missed.joint = "shin.L";
        missed.vertices["body"] = {90, 91};
        Truth intake = elbow;
        intake.detector = "inspect";
        const auto fault = [](const char* joint, const char* kind, int sign, const char* cause) {
            return json{{"joint", joint},
                        {"kind", kind},
                        {"severity", 2},
                        {"sentence", "so"},
                        {"signs", {sign}},
                        {"causes", json::array({{{"cause", cause}, {"weight", 1}, {"evidence", ""}}})}};
        };
        const json run{{"character", {{"height", 1.0}}},
                       {"faults",
                        {fault("neck", "stretch", 2, "x"), fault("forearm.L", "stretch", 0, "blend too hard"),
                         fault("head", "squash", 1, "x")}},
                       {"findings",
                        {finding("forearm.L", "stretch", 2, {2, 3}, "blend too hard"), // right in all
                         finding("head", "squash", 0.2, {50}, "x"),                    // a false alarm
                         finding("neck", "stretch", 1.6, {60}, "x")}}}; // the clean one has it too
        const json clean{{"findings", {finding("neck", "stretch", 1.6, {60}, "x")}}};
        const Score s = scoreRun(run, &clean, {elbow, missed, intake});
        QCOMPARE(s.planted, 2);
        QCOMPARE(s.found, 1);
        QCOMPARE(s.reported, 2);
        QCOMPARE(s.rightlyReported, 1);
        QCOMPARE(s.jointRight + s.kindRight + s.causeRight, 3);
        QCOMPARE(s.places, std::vector<int>{2}); // the clean one's stands before it
        QCOMPARE(s.amongFirst(1), 0.0);
        QCOMPARE(s.amongFirst(5), 1.0);
        QCOMPARE(s.middlePlace(), 2);
        QCOMPARE(s.misses.size(), std::size_t(1));
        QCOMPARE(s.falseAlarms.size(), std::size_t(1));
        // without the clean run the neck's is a false alarm; worse than on the clean one it is new
        QCOMPARE(scoreRun(run, nullptr, {elbow}).reported, 3);
        json worse = clean;
        worse["findings"][0]["peakValue"] = 1.4;
        QCOMPARE(scoreRun(run, &worse, {elbow}).reported, 3);
        // wrong place, wrong joint: found nothing
        Truth elsewhere = elbow;
        elsewhere.joint = "hand.R";
        elsewhere.vertices["body"] = {7000};
        QCOMPARE(scoreRun(run, &clean, {elsewhere}).found, 0);
    }
};

HOBBLE_TEST(TestPlant)
#include "test_plant.moc"
