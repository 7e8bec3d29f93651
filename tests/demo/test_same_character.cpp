// The same character written another way is told the same: empty groups above its joints, axes as another
// tool leaves them, ends marked, seams cut for textures, all faces looking inwards, vertices in another
// order.
#include "core/intake/check.h"
#include "core/judge/faults.h"
#include "core/run/run.h"
#include "support/suite.h"
#include "support/tube.h"
#include "zoo/flesh.h"

#include <QTest>
#include <algorithm>
#include <random>

using namespace hobble;
using namespace hobble::test;

class TestSameCharacter : public QObject {
    Q_OBJECT

    static QString told(const Subject& s, const Finding& f) {
        return QStringLiteral("%1 at %2 in motion %3, %4")
            .arg(QLatin1String(nameOf(f.kind)),
                 QString::fromStdString(s.character->skeleton.name[static_cast<std::size_t>(f.joint)]))
            .arg(f.motion)
            .arg(f.peakValue, 0, 'f', 3);
    }
    static QString told(const Subject& s, const CheckFinding& f) {
        return QStringLiteral("%1 at %2: %3")
            .arg(QString::fromStdString(f.check),
                 f.joint < 0
                     ? QString()
                     : QString::fromStdString(s.character->skeleton.name[static_cast<std::size_t>(f.joint)]))
            .arg(f.value, 0, 'f', 3);
    }

    // Vertices as `from` lists them by their old numbers, with the triangles given.
    static Character rebuilt(const Character& c, const std::vector<std::uint32_t>& from,
                             std::vector<Triangle> triangles) {
        Character out = c;
        std::vector<Vec3> neutral, bind, colour;
        SkinWeights weights;
        for (std::uint32_t v : from) {
            neutral.push_back(c.neutral[v]);
            bind.push_back(c.bindPosition[v]);
            colour.push_back(c.colour[v]);
            for (std::uint32_t i = c.weights.first[v]; i < c.weights.first[v + 1]; ++i) {
                weights.joint.push_back(c.weights.joint[i]);
                weights.weight.push_back(c.weights.weight[i]);
            }
            weights.first.push_back(static_cast<std::uint32_t>(weights.joint.size()));
            weights.fileSum.push_back(1);
        }
        out.neutral = neutral;
        out.bindPosition = bind;
        out.colour = colour;
        out.weights = weights;
        out.triangles = triangles;
        Part part = c.parts[0];
        part.vertexCount = static_cast<std::uint32_t>(from.size());
        out.parts = std::vector<Part>{part};
        return out;
    }

    // A vertex of its own for each way the skin about it faces, as a texture's islands have.
    static Character cutAtSeams(const Character& c) {
        std::map<std::pair<std::uint32_t, int>, std::uint32_t> number;
        std::vector<std::uint32_t> from;
        std::vector<Triangle> triangles;
        for (const Triangle& t : c.triangles) {
            const Vec3 n = (c.neutral[t[1]] - c.neutral[t[0]]).cross(c.neutral[t[2]] - c.neutral[t[0]]);
            Eigen::Index axis;
            n.cwiseAbs().maxCoeff(&axis);
            const int island = 2 * static_cast<int>(axis) + (n[axis] > 0);
            Triangle now;
            for (std::size_t k = 0; k < 3; ++k) {
                const auto [it, fresh] =
                    number.try_emplace({t[k], island}, static_cast<std::uint32_t>(from.size()));
                if (fresh)
                    from.push_back(t[k]);
                now[k] = it->second;
            }
            triangles.push_back(now);
        }
        return rebuilt(c, from, triangles);
    }

    static Character reordered(const Character& c) {
        std::vector<std::uint32_t> from(c.vertexCount()), now(c.vertexCount());
        for (std::uint32_t v = 0; v < from.size(); ++v)
            from[v] = v;
        std::mt19937 random(5);
        std::shuffle(from.begin(), from.end(), random);
        for (std::uint32_t i = 0; i < from.size(); ++i)
            now[from[i]] = i;
        std::vector<Triangle> triangles;
        for (const Triangle& t : c.triangles)
            triangles.push_back({now[t[0]], now[t[1]], now[t[2]]});
        std::shuffle(triangles.begin(), triangles.end(), random);
        return rebuilt(c, from, triangles);
    }

    // A joint that holds nothing beyond each chain's last.
    static Character marked(const Character& c) {
        Character out = c;
        Skeleton& sk = out.skeleton;
        const auto children = c.skeleton.children();
        for (int j = 1; j < c.skeleton.size(); ++j)
            if (children[static_cast<std::size_t>(j)].empty()) {
                Transform world = sk.neutralWorld[static_cast<std::size_t>(j)];
                world.translation() += 0.6 * (sk.place(j) - sk.place(sk.parent[static_cast<std::size_t>(j)]));
                sk.name.push_back(sk.name[static_cast<std::size_t>(j)] + "_end");
                sk.parent.push_back(j);
                sk.neutralWorld.push_back(world);
                sk.neutralLocal.push_back(sk.neutralWorld[static_cast<std::size_t>(j)].inverse() * world);
                sk.restWorld.push_back(world);
                out.skins[0].inverseBind.push_back(Transform::Identity());
                out.skins[0].bound.push_back(0);
            }
        return out;
    }

    static Character inwards(const Character& c) {
        Character out = c;
        std::vector<Triangle> triangles(c.triangles.begin(), c.triangles.end());
        for (Triangle& t : triangles)
            std::swap(t[1], t[2]);
        out.triangles = triangles;
        return out;
    }

    // Findings that are not just at their limit have their like in the other list.
    static QStringList missing(const Subject& s, const RunResult& in, const RunResult& from,
                               const Subject& of) {
        QStringList out;
        for (const Finding& f : from.findings) {
            const double by =
                std::abs(f.peakValue - f.limit) / std::max(std::abs(f.limit - unchangedOf(f.kind)), 1e-9);
            const std::string& joint = of.character->skeleton.name[static_cast<std::size_t>(f.joint)];
            const auto like = [&](const Finding& o) {
                return o.kind == f.kind && o.motion == f.motion &&
                       s.character->skeleton.name[static_cast<std::size_t>(o.joint)] == joint &&
                       std::abs(o.peakValue - f.peakValue) <= 0.02 * std::abs(f.peakValue) + 0.02;
            };
            if (by > 0.05 && std::none_of(in.findings.begin(), in.findings.end(), like))
                out << told(of, f);
        }
        return out;
    }

private slots:
    void isToldTheSame_data() {
        QTest::addColumn<QString>("body");
        QTest::addColumn<QString>("how");
        for (const char* body : {"person", "dog", "elephant"})
            for (const char* how :
                 {"grouped", "seams cut", "reordered", "faces inwards", "axes mirrored", "end markers"}) {
                if (qstrcmp(body, "elephant") == 0 && qstrcmp(how, "grouped") != 0)
                    continue;
                QTest::newRow(
                    qPrintable(QStringLiteral("%1, %2").arg(QLatin1String(body), QLatin1String(how))))
                    << QString::fromLatin1(body) << QString::fromLatin1(how);
            }
    }
    void isToldTheSame() {
        QFETCH(QString, body);
        QFETCH(QString, how);
        const auto plain = zoo::strangerCalled("zoo low " + body.toStdString());
        QVERIFY(plain);
        Character other = *plain;
        if (how == QLatin1String("grouped"))
            other = *zoo::strangerCalled("zoo low grouped " + body.toStdString());
        else if (how == QLatin1String("seams cut"))
            other = cutAtSeams(*plain);
        else if (how == QLatin1String("reordered"))
            other = reordered(*plain);
        else if (how == QLatin1String("faces inwards"))
            other = inwards(*plain);
        else if (how == QLatin1String("end markers"))
            other = marked(*plain);
        else
            for (const zoo::Body& b : zoo::bodies())
                if (b.name == body.toStdString())
                    other =
                        zoo::fleshed(zoo::changed(b, how.toStdString()), zoo::conventions().front(), 0.045);
        const Subject a = subjectOf(*plain), b = subjectOf(other);
        QCOMPARE(b.body.height, a.body.height);
        QCOMPARE(b.surface.triangles.size(), a.surface.triangles.size());
        QCOMPARE(b.surface.vertexCount(), a.surface.vertexCount());

        const Plan planA = fullPlan(*a.character, a.roles), planB = fullPlan(*b.character, b.roles);
        QCOMPARE(planB.motions.size(), planA.motions.size());
        for (std::size_t m = 0; m < planA.motions.size(); ++m)
            QCOMPARE(planB.motions[m].id, planA.motions[m].id);
        const RunResult runA = runPlan(a, planA, {}), runB = runPlan(b, planB, {});
        QVERIFY(!runA.findings.empty());
        QCOMPARE(missing(b, runB, runA, a), QStringList());
        QCOMPARE(missing(a, runA, runB, b), QStringList());
        if (how != QLatin1String("grouped"))
            return;
        // Nothing of the mesh is another: to the last digit, and so is Intake.
        QStringList findingsA, findingsB, checksA, checksB;
        for (const Finding& f : runA.findings)
            findingsA << told(a, f);
        for (const Finding& f : runB.findings)
            findingsB << told(b, f);
        QCOMPARE(findingsB, findingsA);
        QCOMPARE(runB.faults.size(), runA.faults.size());
        for (const CheckFinding& f : inspect(a, {}))
            checksA << told(a, f);
        for (const CheckFinding& f : inspect(b, {}))
            checksB << told(b, f);
        checksA.sort();
        checksB.sort();
        QCOMPARE(checksB, checksA);
    }
};

HOBBLE_TEST(TestSameCharacter)
#include "test_same_character.moc"
