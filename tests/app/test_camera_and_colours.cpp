// Where the camera looks from, and what the ramps say.
#include "app/review/camera.h"
#include "app/theme.h"
#include "app/widgets/severity_chip.h"

#include <QApplication>
#include <QImage>
#include <QTest>

using namespace hobble;

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
        QVERIFY(namedView(QStringLiteral("outer"), body, Side::Left, axis).isApprox(Vec3d::UnitX()));
        QVERIFY(namedView(QStringLiteral("outer"), body, Side::Right, axis).isApprox(-Vec3d::UnitX()));
        QVERIFY(namedView(QStringLiteral("inner"), body, Side::Left, axis).isApprox(-Vec3d::UnitX()));
        QVERIFY(namedView(QStringLiteral("back"), body, Side::Left, axis).isApprox(-Vec3d::UnitZ()));
        QVERIFY(namedView(QStringLiteral("along"), body, Side::Left, axis).isApprox(axis));
        QCOMPARE(namedView(QStringLiteral("sideways"), body, Side::Left, axis).norm(), 0.0);
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

    // Unchanged is pale, and both ways out of it grow darker, so that the ramp reads without hue.
    void strainRamp() {
        const double pale = strainColour(1, 1).lightnessF();
        QVERIFY(pale > 0.85);
        double before = pale;
        for (double x : {1.2, 1.5, 2.0, 2.6, 3.0}) {
            const double now = strainColour(x, 1).lightnessF();
            QVERIFY(now < before);
            before = now;
        }
        before = pale;
        for (double x : {0.85, 0.65, 0.5, 0.35, 0.2}) {
            const double now = strainColour(1, x).lightnessF();
            QVERIFY(now < before);
            before = now;
        }
        // what is further from unchanged as a ratio decides
        QVERIFY(strainColour(1.2, 0.3).blueF() > strainColour(1.2, 0.3).greenF());
        QVERIFY(strainColour(2.5, 0.8).redF() > strainColour(2.5, 0.8).blueF());
        QCOMPARE(strainColour(99, 1), strainColour(3, 1));
        QCOMPARE(strainColour(1, 0), strainColour(1, 0.2));
        QVERIFY(weightColour(0).lightnessF() > weightColour(0.5).lightnessF());
        QVERIFY(weightColour(0.5).lightnessF() > weightColour(1).lightnessF());
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

QTEST_MAIN(TestCameraAndColours)
#include "test_camera_and_colours.moc"
