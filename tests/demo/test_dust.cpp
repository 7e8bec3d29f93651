// A weight too small to move anything changes nothing that is told: no radius, no finding.
#include "core/run/run.h"
#include "io/character_read.h"
#include "support/suite.h"
#include "support/tube.h"

#include <QTest>
#include <random>
#include <set>

using namespace hobble;
using namespace hobble::test;

class TestDust : public QObject {
    Q_OBJECT

    // A thousandth of a few vertices given to a joint that has nothing to do there.
    static Character dusted(const Character& c, unsigned seed) {
        std::mt19937 random(seed);
        Character out = c;
        std::set<std::uint32_t> chosen;
        while (chosen.size() < 24)
            chosen.insert(static_cast<std::uint32_t>(random() % c.vertexCount()));
        const auto joint = static_cast<std::uint16_t>(random() % c.skeleton.name.size());
        SkinWeights weights;
        for (std::uint32_t v = 0; v < c.vertexCount(); ++v) {
            const std::uint32_t first = c.weights.first[v], last = c.weights.first[v + 1];
            bool has = first == last;
            for (std::uint32_t i = first; i < last; ++i)
                has |= c.weights.joint[i] == joint;
            const bool dust = chosen.count(v) && !has;
            for (std::uint32_t i = first; i < last; ++i) {
                weights.joint.push_back(c.weights.joint[i]);
                weights.weight.push_back(c.weights.weight[i] * (dust ? 0.999f : 1.f));
            }
            if (dust) {
                weights.joint.push_back(joint);
                weights.weight.push_back(0.001f);
            }
            weights.first.push_back(static_cast<std::uint32_t>(weights.joint.size()));
            weights.fileSum.push_back(1);
        }
        out.weights = weights;
        return out;
    }

private slots:
    void changesNothing_data() {
        QTest::addColumn<QString>("file");
        for (const char* name : {"badger-postmaster", "pack-goat", "lighthouse-newt"})
            QTest::newRow(name) << QStringLiteral(HOBBLE_DEMO_DIR "/%1.glb").arg(QLatin1String(name));
    }
    void changesNothing() {
        QFETCH(QString, file);
        const auto c = readCharacter(file.toStdString());
        QVERIFY2(c, c ? "" : c.error().c_str());
        const Subject clean = subjectOf(*c);
        const Plan plan = defaultPlan(*clean.character, clean.roles);
        const RunResult before = runPlan(clean, plan, {});
        for (unsigned seed = 1; seed <= 3; ++seed) {
            const Subject s = subjectOf(dusted(*c, seed));
            QCOMPARE(s.roles.size(), clean.roles.size());
            for (std::size_t j = 0; j < s.roles.size(); ++j) {
                QCOMPARE(nameOf(s.roles[j].role), nameOf(clean.roles[j].role));
                QCOMPARE(s.roles[j].movesSkin, clean.roles[j].movesSkin);
                const double a = clean.zones[j].limbRadius, b = s.zones[j].limbRadius;
                QVERIFY2(
                    std::abs(a - b) <= 0.01 * std::max(a, b),
                    (c->skeleton.name[j] + ": " + std::to_string(a) + " and " + std::to_string(b)).c_str());
            }
            const RunResult after = runPlan(s, plan, {});
            // Every finding that is not just at its limit is there again, and no other is.
            // A thousandth of a weight moves skin by a thousandth of the body at most.
            const auto moved = [&](const Finding& f) {
                const double height = clean.body.height,
                             radius = clean.zones[static_cast<std::size_t>(f.joint)].limbRadius;
                return f.kind == Kind::Contact && radius > 0 ? 0.001 * height / radius : 0.001;
            };
            const auto missing = [&](const RunResult& in, const RunResult& from) {
                for (const Finding& f : from.findings) {
                    const double by = std::abs(f.peakValue - f.limit) /
                                      std::max(std::abs(f.limit - unchangedOf(f.kind)), 1e-9);
                    if (by < 0.03)
                        continue;
                    const bool there =
                        std::any_of(in.findings.begin(), in.findings.end(), [&](const Finding& o) {
                            return o.kind == f.kind && o.joint == f.joint &&
                                   std::abs(o.peakValue - f.peakValue) <
                                       0.03 * std::abs(f.peakValue) + moved(f);
                        });
                    if (there)
                        continue;
                    QString out =
                        QStringLiteral("%1 at %2, %3 in %4; there:")
                            .arg(QLatin1String(nameOf(f.kind)),
                                 QString::fromStdString(c->skeleton.name[static_cast<std::size_t>(f.joint)]))
                            .arg(f.peakValue)
                            .arg(QString::fromStdString(plan.motions[static_cast<std::size_t>(f.motion)].id));
                    for (const Finding& o : in.findings)
                        if (o.kind == f.kind && o.joint == f.joint)
                            out += QStringLiteral(" %1").arg(o.peakValue);
                    return out;
                }
                return QString();
            };
            QCOMPARE(missing(after, before), QString());
            QCOMPARE(missing(before, after), QString());
        }
    }
};

HOBBLE_TEST(TestDust)
#include "test_dust.moc"
