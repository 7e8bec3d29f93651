// Two characters in one window, each in its own view: posing, colouring, pointing at and closing one leaves
// the other as it is. In a real window.
#include "app/theme.h"
#include "app/view/viewport.h"
#include "io/character_read.h"
#include "support/suite.h"

#include <QHBoxLayout>
#include <QLineF>
#include <QMouseEvent>
#include <QNativeGestureEvent>
#include <QPointingDevice>
#include <QSignalSpy>
#include <QWheelEvent>

using namespace hobble;

namespace {

// Remembers what it was told, and holds on to every stroke.
class Stroke : public ViewportTool {
public:
    explicit Stroke(Viewport* viewport) : ViewportTool(viewport) { viewport->addTool(this); }
    bool press(QMouseEvent*) override { return grasps && ++pressed; }
    void move(QMouseEvent*) override { ++moved; }
    void release(QMouseEvent*) override { ++released; }
    bool click(QMouseEvent*) override { return clicked++, false; }
    bool grasps = true;
    int pressed = 0, moved = 0, released = 0, clicked = 0;
};

} // namespace

class TestTwoViewports : public QObject {
    Q_OBJECT

    PoseView first_, second_;
    std::unique_ptr<QWidget> window_;
    Viewport *left_ = nullptr, *right_ = nullptr;

    static std::shared_ptr<const Subject> subject(const char* name) {
        auto c = readCharacter(std::string(HOBBLE_DEMO_DIR "/") + name);
        return c ? std::make_shared<const Subject>(
                       prepareSubject(std::make_shared<const Character>(std::move(*c))))
                 : nullptr;
    }
    static void showMotion(PoseView& view, const Plan& plan, int motion, double at) {
        AskedPose asked;
        asked.moved = std::make_shared<const Motion>(plan.motions[static_cast<std::size_t>(motion)]);
        asked.pose = poseAt(view.subject()->character->skeleton, *asked.moved, at);
        asked.motion = motion;
        asked.at = at;
        for (const JointTurn& t : asked.moved->turns)
            asked.joints.push_back(t.joint);
        view.show(std::move(asked));
    }
    Plan planOf(const PoseView& view) const {
        return fullPlan(*view.subject()->character, view.subject()->roles);
    }
    static QImage seen(Viewport* v) {
        v->settle();
        return QImage::fromData(v->picture());
    }
    // A place where there is skin, and as far as the view is wide, its middle.
    static QPoint skinOf(Viewport* v) {
        for (int y = v->height() / 2; y < v->height(); y += 4)
            for (int x = v->width() / 4; x < 3 * v->width() / 4; x += 4)
                if (v->pick(QPointF(x, y)))
                    return {x, y};
        return {};
    }

private slots:
    void initTestCase() {
        Theme::apply(false);
        QVERIFY(Viewport::supported());
        window_ = std::make_unique<QWidget>();
        auto* row = new QHBoxLayout(window_.get());
        row->addWidget(left_ = new Viewport(&first_));
        row->addWidget(right_ = new Viewport(&second_));
        window_->resize(1000, 600);
        window_->show();
        QVERIFY(QTest::qWaitForWindowExposed(window_.get()));
        const auto badger = subject("badger-postmaster.glb"), goat = subject("pack-goat.glb");
        QVERIFY(badger && goat);
        first_.setSubject(badger);
        second_.setSubject(goat);
        showMotion(first_, planOf(first_), 0, 0);
        showMotion(second_, planOf(second_), 0, 0);
        QTRY_VERIFY(first_.arrived() && second_.arrived());
    }
    void cleanupTestCase() { window_.reset(); }

    void eachShowsItsOwn() {
        const QImage a = seen(left_), b = seen(right_);
        QVERIFY(!a.isNull() && !b.isNull());
        QVERIFY(a != b);
        QCOMPARE(first_.frame()->subject, first_.subject());
        QCOMPARE(second_.frame()->subject, second_.subject());
        QVERIFY(first_.subject() != second_.subject());
    }

    void posingOneLeavesTheOther() {
        const QImage before = seen(right_);
        const auto frame = second_.frame();
        const Plan plan = planOf(first_);
        const int motion = plan.find("left-elbow-flex");
        QVERIFY(motion >= 0);
        showMotion(first_, plan, motion, 90);
        QTRY_VERIFY(first_.arrived());
        QCOMPARE(second_.frame(), frame);
        QCOMPARE(seen(right_), before);
        QTRY_VERIFY(first_.detail());
        QVERIFY(first_.detail()->frame == first_.frame());
    }

    void colouringOneLeavesTheOther() {
        const QImage before = seen(right_);
        left_->setColouring(Colouring::Own);
        QCOMPARE(right_->colouring(), Colouring::Strain);
        QCOMPARE(seen(right_), before);
        left_->setColouring(Colouring::Strain);
    }

    // What is pressed is skin of the character that is pressed, seen from the eye.
    void pressingMeetsItsOwnSkin() {
        for (auto [viewport, view] : {std::pair(left_, &first_), {right_, &second_}}) {
            const QPoint at = skinOf(viewport);
            QVERIFY(!at.isNull());
            QSignalSpy pressed(viewport, &Viewport::skinPressed);
            QTest::mouseClick(viewport, Qt::LeftButton, {}, at);
            QCOMPARE(pressed.size(), 1);
            const auto v = pressed[0][0].toUInt();
            QVERIFY(v < view->subject()->character->vertexCount());
            const QPointF there = viewport->project(view->frame()->position[v].cast<double>());
            QVERIFY2(std::hypot(there.x() - at.x(), there.y() - at.y()) < 40,
                     qPrintable(QStringLiteral("%1 %2").arg(there.x() - at.x()).arg(there.y() - at.y())));
        }
    }

    // A tool that grasps has the hand until it lets go; one that does not lets the view turn.
    void toolsComeFirst() {
        auto* stroke = new Stroke(left_);
        const double yaw = left_->camera().yaw;
        QTest::mousePress(left_, Qt::LeftButton, {}, QPoint(100, 100));
        QTest::mouseMove(left_, QPoint(160, 110));
        QTest::mouseRelease(left_, Qt::LeftButton, {}, QPoint(160, 110));
        QVERIFY(stroke->pressed == 1 && stroke->moved >= 1 && stroke->released == 1);
        QCOMPARE(left_->camera().yaw, yaw);
        QCOMPARE(stroke->clicked, 0);
        stroke->grasps = false;
        QTest::mouseClick(left_, Qt::LeftButton, {}, QPoint(100, 100));
        QCOMPARE(stroke->clicked, 1);
        QCOMPARE(stroke->pressed, 1);
    }

    // Two fingers slide the view, and come nearer where they are spread; a wheel comes nearer, as ever.
    void twoFingersOnAPad() {
        const QPointingDevice pad(QStringLiteral("pad"), 71, QInputDevice::DeviceType::TouchPad,
                                  QPointingDevice::PointerType::Finger,
                                  QInputDevice::Capability::Position | QInputDevice::Capability::PixelScroll,
                                  5, 3);
        const QPointF at = left_->rect().center();
        const auto turnWheel = [&](const QPoint& pixels, const QPoint& angle, Qt::KeyboardModifiers with,
                                   const QPointingDevice* device) {
            QWheelEvent e(at, left_->mapToGlobal(at), pixels, angle, Qt::NoButton, with, Qt::NoScrollPhase,
                          false, Qt::MouseEventNotSynthesized, device);
            QCoreApplication::sendEvent(left_, &e);
        };
        left_->frameAll(false);
        const Camera before = left_->camera();
        const Vec3d point = before.target;
        const QPointF seen = left_->project(point);
        turnWheel({30, -12}, {40, -16}, {}, &pad);
        QCOMPARE(left_->camera().distance, before.distance);
        QVERIFY(QLineF(left_->project(point), seen + QPointF(30, -12)).length() <
                1);                        // it goes with the fingers
        turnWheel({}, {0, 120}, {}, &pad); // of a pad that counts as a wheel does
        QCOMPARE(left_->camera().distance, before.distance);
        QVERIFY(left_->project(point).y() > seen.y());
        turnWheel({}, {0, 120}, Qt::ControlModifier, &pad);
        QVERIFY(left_->camera().distance < before.distance);
        left_->frameAll(false);
        turnWheel({}, {0, 120}, {}, QPointingDevice::primaryPointingDevice());
        QVERIFY(std::abs(left_->camera().distance - 0.9 * before.distance) < 1e-9);
        left_->frameAll(false);
        QNativeGestureEvent spread(Qt::ZoomNativeGesture, &pad, 2, at, at, left_->mapToGlobal(at), 0.25, {});
        QCoreApplication::sendEvent(left_, &spread);
        QVERIFY(std::abs(left_->camera().distance - before.distance / 1.25) < 1e-9);
        QNativeGestureEvent shut(Qt::ZoomNativeGesture, &pad, 2, at, at, left_->mapToGlobal(at), -5, {});
        QCoreApplication::sendEvent(left_, &shut); // however wild, within bounds
        QVERIFY(std::isfinite(left_->camera().distance) && left_->camera().distance > 0);
        left_->frameAll(false);
    }

    void closingOneLeavesTheOther() {
        const QImage before = seen(right_);
        first_.setSubject(nullptr);
        QVERIFY(!first_.frame());
        QVERIFY(left_->picture().isEmpty());
        QCOMPARE(seen(right_), before);
    }
};

HOBBLE_TEST(TestTwoViewports)
#include "test_two_viewports.moc"
