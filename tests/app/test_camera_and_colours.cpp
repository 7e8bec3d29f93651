// Where the camera looks from, and what the ramps say.
#include "app/theme.h"
#include "app/view/camera.h"
#include "app/view/colouring.h"
#include "app/widgets/severity_chip.h"
#include "support/colour_vision.h"
#include "support/suite.h"
#include "support/tube.h"

#include <QApplication>
#include <QImage>
#include <QTest>

using namespace hobble;
using namespace hobble::test;

class TestCameraAndColours : public QObject {
    Q_OBJECT

private slots:
    void directions() {
        const BodyFrame body; // faces +z, up +y, left +x
        Camera c;
        c.yaw = c.pitch = 0;
        QVERIFY(c.direction(body).isApprox(Vec3d::UnitZ()));
        c.lookAlong(body, Vec3d::UnitX());
        QVERIFY(c.direction(body).isApprox(Vec3d::UnitX(), 1e-9));
        c.lookAlong(body, Vec3d(-1, 0.5, -2));
        QVERIFY(c.direction(body).isApprox(Vec3d(-1, 0.5, -2).normalized(), 1e-9));
        c.lookAlong(body, Vec3d::UnitY()); // straight down stays this side of the pole
        QVERIFY(c.direction(body).y() > 0.98);
    }

    void viewsAreNamedFromTheLimb() {
        const BodyFrame body;
        const Vec3d axis = Vec3d(1, -1, 0).normalized();
        QVERIFY(directionOf(ViewFrom::Outer, body, Side::Left, axis).isApprox(Vec3d::UnitX()));
        QVERIFY(directionOf(ViewFrom::Outer, body, Side::Right, axis).isApprox(-Vec3d::UnitX()));
        QVERIFY(directionOf(ViewFrom::Inner, body, Side::Left, axis).isApprox(-Vec3d::UnitX()));
        QVERIFY(directionOf(ViewFrom::Back, body, Side::Left, axis).isApprox(-Vec3d::UnitZ()));
        QVERIFY(directionOf(ViewFrom::Along, body, Side::Left, axis).isApprox(axis));
    }

    void theTargetIsInTheMiddle() {
        const BodyFrame body;
        Camera c;
        c.target = Vec3d(0.3, 1, -0.2);
        const QVector3D p = (c.projection(1.6) * c.view(body)).map(QVector3D(0.3f, 1, -0.2f));
        QVERIFY(std::abs(p.x()) < 1e-4f && std::abs(p.y()) < 1e-4f);
    }

    void survivesJson() {
        Camera c;
        c.target = Vec3d(1, 2, 3);
        c.yaw = -0.7;
        c.pitch = 0.3;
        c.distance = 0.8;
        const Camera back = Camera::fromJson(c.toJson(), {});
        QVERIFY(back.target.isApprox(c.target));
        QCOMPARE(back.yaw, c.yaw);
        QCOMPARE(back.distance, c.distance);
        for (const char* bad : {"", "{}", "[1]", "{\"distance\":-1,\"target\":[1,2,3]}"})
            QCOMPARE(Camera::fromJson(bad, c).distance, c.distance);
    }

    // Unchanged is pale, and every way out of it grows darker, so that the ramps read without hue.
    void rampsGrowDarker() {
        const Subject subject = subjectOf(tube());
        const auto lightness = [](const Vec3& c) { return QColor::fromRgbF(c[0], c[1], c[2]).lightnessF(); };
        const Limits limits = Limits::standard();
        for (int i = 0; i < kColourings; ++i) {
            const auto colouring = static_cast<Colouring>(i);
            const ColourScale scale = scaleOf(colouring, subject, limits, 1);
            if (colouring == Colouring::Own || colouring == Colouring::Influences)
                continue;
            QVERIFY(scale.stops.size() >= 3);
            std::size_t pale = 0;
            for (std::size_t k = 0; k < scale.stops.size(); ++k) {
                QVERIFY(k == 0 || scale.stops[k].value > scale.stops[k - 1].value);
                if (lightness(scale.at(scale.stops[k].value)) > lightness(scale.at(scale.stops[pale].value)))
                    pale = k;
            }
            QVERIFY2(lightness(scale.at(scale.stops[pale].value)) > 0.85, qPrintable(nameOf(colouring)));
            for (std::size_t k = 1; k < scale.stops.size(); ++k) {
                const double here = lightness(scale.at(scale.stops[k].value)),
                             before = lightness(scale.at(scale.stops[k - 1].value));
                QVERIFY2(k <= pale ? here > before : here < before, qPrintable(nameOf(colouring)));
            }
            // beyond the ends nothing more happens
            QVERIFY((scale.at(1e9) - scale.at(scale.stops.back().value)).norm() < 1e-5f);
            QVERIFY((scale.at(-1e9) - scale.at(scale.stops.front().value)).norm() < 1e-5f);
        }
    }

    // Whatever cones somebody has, a severity is told from the next, and what is squashed from what is
    // stretched.
    void rampsAreToldApartByEverybody() {
        // The difference itself, against pairs published with its formula.
        QVERIFY(std::abs(test::ciede2000({50, 2.6772, -79.7751}, {50, 0, -82.7485}) - 2.0425) < 1e-4);
        QVERIFY(std::abs(test::ciede2000({50, 2.5, 0}, {73, 25, -18}) - 27.1492) < 1e-4);
        QVERIFY(std::abs(test::ciede2000({2.0776, 0.0795, -1.1350}, {0.9033, -0.0636, -0.5514}) - 0.9082) <
                1e-4);
        constexpr double toldApart = 9; // side by side in a legend; 2.3 is just noticeable
        for (const test::Vision& vision : test::kVisions) {
            const auto apart = [&](const QColor& a, const QColor& b, const char* what) {
                const double d = test::ciede2000(test::labOf(a, vision), test::labOf(b, vision));
                QVERIFY2(d >= toldApart, qPrintable(QStringLiteral("%1, %2: %3 and %4 are %5 apart")
                                                        .arg(QLatin1String(vision.name), QLatin1String(what),
                                                             a.name(), b.name())
                                                        .arg(d)));
            };
            const auto steps = [&](const std::vector<QColor>& ramp, const char* what) {
                for (std::size_t i = 1; i < ramp.size(); ++i)
                    apart(ramp[i - 1], ramp[i], what);
            };
            steps(lessRamp(), "less");
            steps(moreRamp(), "more");
            steps(depthRamp(), "depth");
            steps(weightRamp(), "weight");
            apart(unchangedColour(), lessRamp().back(), "unchanged and less");
            apart(unchangedColour(), moreRamp().front(), "unchanged and more");
            apart(unchangedColour(), depthRamp().front(), "unchanged and depth");
            for (const QColor& less : lessRamp())
                for (const QColor& more : moreRamp())
                    apart(less, more, "less and more");
        }
    }

    // The stops are the limits of the joint looked at, and move with them.
    void stopsAreTheLimits() {
        const Subject subject = subjectOf(tube());
        Limits limits = Limits::standard();
        const Role role = subject.roles[1].role;
        const auto ticked = [&](Colouring c, int severity) {
            std::vector<double> out;
            for (const ColourStop& s : scaleOf(c, subject, limits, 1).stops)
                if (s.severity == severity)
                    out.push_back(s.value);
            return out;
        };
        for (int severity = 1; severity <= 4; ++severity) {
            const auto i = static_cast<std::size_t>(severity - 1);
            QCOMPARE(
                ticked(Colouring::Strain, severity),
                (std::vector<double>{limits.of(Kind::Squash, role)[i], limits.of(Kind::Stretch, role)[i]}));
            QCOMPARE(ticked(Colouring::Roughness, severity),
                     (std::vector<double>{limits.of(Kind::Roughness, role)[i]}));
        }
        limits.byRole[{role, Kind::Roughness}] = {2, 3, 4, 5};
        QCOMPARE(ticked(Colouring::Roughness, 2), (std::vector<double>{3}));
        // said in millimetres where lengths are kept as shares
        const ColourScale depth = scaleOf(Colouring::Contact, subject, limits, 1);
        QCOMPARE(depth.words(0.5), QStringLiteral("%1 mm").arg(500 * subject.zones[1].limbRadius, 0, 'f', 0));
    }

    // What is further from unchanged, as a ratio, decides.
    void strainTakesTheWorseOfTwo() {
        const Subject subject = subjectOf(tube());
        PosedFrame f;
        f.subject = std::make_shared<const Subject>(subject);
        f.strain = {{1.2f, 0.3f}, {2.5f, 0.8f}, {1, 1}, {0.9f, 0.5f}};
        const auto values = skinValuesFor(Colouring::Strain, f, nullptr, -1);
        QCOMPARE(values, (std::vector<float>{0.3f, 2.5f, 1, 0.5f}));
        QVERIFY(skinValuesFor(Colouring::Leak, f, nullptr, -1).empty()); // not measured yet
    }

    // The frame closes further the worse it is: counted on its four sides.
    void severityFrames() {
        Theme::apply(false);
        for (int severity = 0; severity <= 4; ++severity) {
            QImage image(40, 40, QImage::Format_ARGB32);
            image.fill(Qt::white);
            QPainter p(&image);
            paintSeverity(p, QRectF(0, 0, 40, 40), severity);
            p.end();
            auto dark = [&](int x, int y) { return QColor(image.pixel(x, y)).lightnessF() < 0.7; };
            const int sides = dark(20, 38) + dark(38, 20) + dark(20, 2) + dark(2, 20);
            QCOMPARE(sides, severity);
        }
        QCOMPARE(severityWord(4), QStringLiteral("blocking"));
        QCOMPARE(SeverityChip(3).accessibleName(), QStringLiteral("severity 3, serious"));
    }
};

HOBBLE_TEST(TestCameraAndColours)
#include "test_camera_and_colours.moc"
