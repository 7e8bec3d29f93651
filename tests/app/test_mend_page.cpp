// Mend, by hand and key: from a fault on Review to proposals, steps of one's own, strokes on the skin, what
// they do to the numbers, and what leaves the page. Build 3 of the story, in the real window.
#include "core/measure/limb_middle.h"
#include "support/window_test.h"

#include "app/mend/step_list.h"
#include "core/judge/limits.h"
#include "io/character_read.h"
#include "log/proposal.h"

#include <QCheckBox>
#include <QDoubleSpinBox>
#include <QJsonDocument>
#include <QJsonObject>
#include <QMenu>
#include <QMouseEvent>
#include <QPointingDevice>
#include <QSpinBox>
#include <QTabletEvent>
#include <QUndoStack>

using namespace hobble;
using namespace hobble::test;

class TestMendPage : public QObject {
    Q_OBJECT

    std::unique_ptr<TestWindow> w_;
    QTemporaryDir kept_; // outlives a window
    Session* session_ = nullptr;
    MendPage* page_ = nullptr;
    MendDesk* desk_ = nullptr;

    static QString file(const char* name) {
        return QStringLiteral(HOBBLE_DEMO_DIR "/") + QLatin1String(name);
    }
    void newWindow() {
        w_.reset();
        w_ = std::make_unique<TestWindow>(QStringLiteral("mend"), true);
        session_ = w_->session.get();
        page_ = w_->window->mendPage();
        desk_ = &session_->mend();
    }
    QString words(const char* label) const { return w_->find<QLabel>(QLatin1String(label))->text(); }
    void press(const QString& button) const {
        comeToRest();
        auto* b = w_->find<QPushButton>(button);
        QVERIFY2(b->isVisible() && b->isEnabled(), qPrintable(button));
        QTest::mouseClick(b, Qt::LeftButton);
    }
    void key(int k, Qt::KeyboardModifiers with = {}) const {
        QTest::keyClick(page_->strip(), static_cast<Qt::Key>(k), with);
    }
    bool measured() const {
        return QTest::qWaitFor(
            [this] {
                return desk_->result() && !desk_->measuring() && !session_->jobs().busy() &&
                       desk_->view().arrived() &&
                       (desk_->goal().signs.empty() ||
                        desk_->stepShares().size() == desk_->trial().steps.size());
            },
            180000);
    }
    int faultAt(const char* joint, Kind kind) const {
        const RunResult& run = *session_->run().run();
        const int j = session_->build().subject()->character->skeleton.find(joint);
        for (std::size_t f = 0; f < run.faults.size(); ++f) {
            const Finding& tells = run.findings[static_cast<std::size_t>(run.faults[f].signs.front())];
            if (tells.joint == j && tells.kind == kind)
                return static_cast<int>(f);
        }
        return -1;
    }
    // A cell of the table of numbers, as it is read.
    QString cell(const QString& measure, int column) const {
        const QTableWidget* t = page_->numbers()->table();
        for (int r = 0; r < t->rowCount(); ++r)
            if (t->item(r, 0)->text() == measure)
                return t->item(r, column)->text();
        return {};
    }
    double number(const QString& measure, int column) const {
        return cell(measure, column).split(QLatin1Char(' ')).front().toDouble();
    }
    // A point of the skin near the joint in hand that a press would meet.
    QPoint onSkin() const {
        Viewport* v = page_->viewport();
        v->settle();
        comeToRest();
        const auto& frame = desk_->view().frame();
        const QPointF joint =
            v->project(frame->jointPosition[static_cast<std::size_t>(desk_->joint())].cast<double>());
        for (int r = 0; r < 80; r += 4)
            for (const QPointF by : {QPointF(r, 0), QPointF(-r, 0), QPointF(0, r), QPointF(0, -r)})
                if (v->rect().contains((joint + by).toPoint()) && v->pick(joint + by))
                    return (joint + by).toPoint();
        return {};
    }
    void stroke(const QPoint& from, const QPoint& to) const {
        QTest::mouseMove(page_->viewport(), from);
        QTest::mousePress(page_->viewport(), Qt::LeftButton, {}, from);
        for (int i = 1; i <= 6; ++i)
            QTest::mouseMove(page_->viewport(), from + (to - from) * i / 6);
        QTest::mouseRelease(page_->viewport(), Qt::LeftButton, {}, to);
    }
    static std::vector<float> sharesOf(const Character& c, int joint) {
        std::vector<float> out(c.vertexCount(), 0);
        for (std::size_t v = 0; v < out.size(); ++v)
            for (std::uint32_t i = c.weights.first[v]; i < c.weights.first[v + 1]; ++i)
                if (c.weights.joint[i] == joint)
                    out[v] += c.weights.weight[i];
        return out;
    }
    void begin(int fault) {
        desk_->beginFor(session_->run().run()->faults[static_cast<std::size_t>(fault)].signs.front());
        QTRY_VERIFY_WITH_TIMEOUT(!desk_->searching(),
                                 600000); // the runner's own limit is the one that counts
        QVERIFY(measured());
    }

private slots:
    void initTestCase() {
        newWindow();
        QDir(settingsFile(QStringLiteral("trials"))).removeRecursively();
        const QString log = kept_.filePath(QStringLiteral("log.sqlite"));
        QVERIFY(QFile::copy(file("demo-log.sqlite"), log));
        QVERIFY(QFile::setPermissions(log, QFile::ReadOwner | QFile::WriteOwner));
        QDir::setCurrent(QStringLiteral(HOBBLE_DEMO_DIR "/../.."));
        session_->log().open(log);
    }
    void cleanupTestCase() { w_.reset(); }

    void nothingIsOpen() {
        QTest::mouseClick(w_->find<QPushButton>(QStringLiteral("pageMend")), Qt::LeftButton);
        QCOMPARE(w_->window->shownPage(), static_cast<Page*>(page_));
        QCOMPARE(words("mendAim"), QStringLiteral("No character is open."));
        QVERIFY(!w_->find<QPushButton>(QStringLiteral("verbSofter"))->isEnabled());
        QVERIFY(!w_->find<QPushButton>(QStringLiteral("mendPropose"))->isEnabled());
    }

    void fromAFaultOnReview() {
        QVERIFY(w_->openAndRun(file("builds/3/badger-postmaster.glb")));
        w_->window->showPage(page_);
        QCOMPARE(words("mendAim"), QStringLiteral("Nothing is being mended yet."));
        w_->window->showPage(w_->window->review());
        const int fault = faultAt("forearm.R", Kind::Stretch);
        QVERIFY(fault >= 0);
        session_->run().showFinding(
            session_->run().run()->faults[static_cast<std::size_t>(fault)].signs.front());
        QVERIFY(w_->arrived());
        QPushButton* mend = nullptr;
        QTRY_VERIFY([&] {
            auto* card = w_->window->findChild<QWidget*>(QStringLiteral("fault-%1").arg(fault));
            return card && card->isVisible() &&
                   (mend = card->findChild<QPushButton*>(QStringLiteral("mend")));
        }());
        mend->click();
        QCOMPARE(w_->window->shownPage(), static_cast<Page*>(page_));
        QVERIFY2(words("mendAim").startsWith(QStringLiteral("For defect ")) &&
                     words("mendAim").contains(QStringLiteral("ight elbow stretches")),
                 qPrintable(words("mendAim")));
        // they come in while one looks: the first before all have been tried
        QTRY_VERIFY(w_->window->findChild<QWidget*>(QStringLiteral("proposal-0")));
        QTRY_VERIFY_WITH_TIMEOUT(!desk_->searching(),
                                 600000); // the runner's own limit is the one that counts
        QVERIFY(!desk_->cures().empty());
        QVERIFY(measured());
        // where the fault is worst
        const Finding* f = desk_->told();
        QVERIFY(f);
        QCOMPARE(desk_->motion(), f->motion);
        QCOMPARE(desk_->poseAt(), f->peak);
        QCOMPARE(cell(QStringLiteral("stretch"), 1), cell(QStringLiteral("stretch"), 2));
    }

    void shownWhileHeld() {
        auto* show = w_->find<QPushButton>(QStringLiteral("show-0"));
        const auto build = desk_->view().subject();
        QTest::mousePress(show, Qt::LeftButton);
        QCOMPARE(desk_->shownCure(), 0);
        QTRY_VERIFY(desk_->view().subject() != build);
        QTRY_VERIFY(number(QStringLiteral("stretch"), 2) < number(QStringLiteral("stretch"), 1));
        QVERIFY(words("mendShown").endsWith(QStringLiteral("proposed")));
        QVERIFY(desk_->trial().steps.empty());
        QTest::mouseRelease(show, Qt::LeftButton);
        QCOMPARE(desk_->shownCure(), -1);
        QTRY_COMPARE(desk_->view().subject(), build);
        QTRY_COMPARE(cell(QStringLiteral("stretch"), 2), cell(QStringLiteral("stretch"), 1));
    }

    void takenByKey() {
        const double before = number(QStringLiteral("stretch"), 1);
        key(Qt::Key_T);
        QVERIFY(page_->steps()->rows() >= 1);
        QVERIFY(measured());
        QVERIFY(number(QStringLiteral("stretch"), 2) < 0.6 * before);
        QVERIFY(words("mendGone").contains(QStringLiteral("% of the trouble is gone")));
        QVERIFY(words("stepTook-0").contains(QStringLiteral("% away")));
        QTRY_VERIFY(words("elsewhereState").contains(QStringLiteral("measured again")));
        QCOMPARE(page_->count(), QStringLiteral("1 step"));
        // before, while its key is held
        const auto mended = desk_->view().subject();
        QTest::keyPress(page_->strip(), Qt::Key_B);
        QTRY_VERIFY(desk_->view().subject() != mended);
        QVERIFY(words("mendShown").endsWith(QStringLiteral("before")));
        QTest::keyRelease(page_->strip(), Qt::Key_B);
        QTRY_COMPARE(desk_->view().subject(), mended);
        // taken back, and again
        QTest::keyClick(w_->window.get(), Qt::Key_Z, Qt::ControlModifier);
        QCOMPARE(page_->steps()->rows(), 0);
        QTRY_COMPARE(cell(QStringLiteral("stretch"), 2), cell(QStringLiteral("stretch"), 1));
        QTest::keyClick(w_->window.get(), Qt::Key_Z, Qt::ControlModifier | Qt::ShiftModifier);
        QCOMPARE(page_->steps()->rows(), 1);
        QVERIFY(measured());
        QVERIFY(number(QStringLiteral("stretch"), 2) < 0.6 * before);
    }

    void stepsAreChangedInPlace() {
        press(QStringLiteral("verbSofter"));
        QCOMPARE(page_->steps()->rows(), 2);
        QVERIFY(measured());
        QCOMPARE(page_->steps()->chosen(), 1);
        QVERIFY(words("stepWords-1").startsWith(QStringLiteral("Soften three times")));
        // typed
        auto* times = w_->find<QSpinBox>(QStringLiteral("stepCount-1"));
        times->setFocus();
        times->selectAll();
        QTest::keyClicks(times, QStringLiteral("9"));
        QTest::keyClick(times, Qt::Key_Return);
        QCOMPARE(desk_->trial().steps[1].count, 9);
        QTRY_VERIFY(words("stepWords-1").contains(QStringLiteral("9 times")));
        auto* strength = w_->find<QDoubleSpinBox>(QStringLiteral("stepStrength-1"));
        strength->setFocus();
        strength->selectAll();
        QTest::keyClicks(strength, QStringLiteral("50"));
        QTest::keyClick(strength, Qt::Key_Return);
        QCOMPARE(desk_->trial().steps[1].strength, 0.5);
        QVERIFY(measured());
        // switched off by its tick
        auto* tick = w_->find<QCheckBox>(QStringLiteral("stepOn-0"));
        const double with = number(QStringLiteral("stretch"), 2);
        QTest::mouseClick(tick, Qt::LeftButton, {}, QPoint(8, tick->height() / 2));
        QVERIFY(!desk_->trial().steps[0].on);
        QCOMPARE(words("stepTook-0"), QStringLiteral("off"));
        QVERIFY(measured());
        QVERIFY(number(QStringLiteral("stretch"), 2) > with);
        QTest::mouseClick(tick, Qt::LeftButton, {}, QPoint(8, tick->height() / 2));
        QVERIFY(measured());
        QCOMPARE(number(QStringLiteral("stretch"), 2), with);
        // dragged above the other, and back by a key
        const StepKind first = desk_->trial().steps[0].kind;
        auto* row = w_->find<QWidget>(QStringLiteral("step-1"));
        auto* over = w_->find<QWidget>(QStringLiteral("step-0"));
        const QPoint to = row->mapFromGlobal(over->mapToGlobal(QPoint(120, 4)));
        QTest::mousePress(row, Qt::LeftButton, {}, QPoint(120, 6));
        QTest::mouseMove(row, to);
        QTest::mouseRelease(row, Qt::LeftButton, {}, to);
        QCOMPARE(desk_->trial().steps[1].kind, first);
        QTRY_COMPARE(page_->steps()->chosen(), 0);
        auto* moved = w_->find<QWidget>(QStringLiteral("step-0"));
        moved->setFocus();
        QTest::keyClick(moved, Qt::Key_Down, Qt::AltModifier);
        QCOMPARE(desk_->trial().steps[0].kind, first);
        // on the other side, too; then taken out
        comeToRest();
        page_->steps()->choose(1);
        press(QStringLiteral("stepAcross-1"));
        QCOMPARE(page_->steps()->rows(), 3);
        comeToRest();
        page_->steps()->choose(2);
        press(QStringLiteral("stepOut-2"));
        QCOMPARE(page_->steps()->rows(), 2);
        comeToRest();
        w_->find<QWidget>(QStringLiteral("step-1"))->setFocus();
        QTest::keyClick(w_->find<QWidget>(QStringLiteral("step-1")), Qt::Key_Delete);
        QCOMPARE(page_->steps()->rows(), 1);
        QVERIFY(measured());
    }

    // A stroke changes the skin under it and nothing else, along the surface, and is undone whole.
    void strokesOnTheSkin() {
        desk_->takeInHand(session_->build().subject()->character->skeleton.find("forearm.R"));
        press(QStringLiteral("brushTake"));
        QCOMPARE(page_->viewport()->colouring(), Colouring::Weight);
        QVERIFY(w_->find<QWidget>(QStringLiteral("brushRadiusSlider"))->isVisible());
        const double radius = page_->brush()->radius();
        key(Qt::Key_PageUp);
        QVERIFY(page_->brush()->radius() > radius);
        const int rows = page_->steps()->rows();
        const QPoint from = onSkin();
        QVERIFY(!from.isNull());
        const int joint = desk_->joint();
        const auto before = sharesOf(*desk_->view().subject()->character, joint);
        stroke(from, from + QPoint(24, 10));
        QCOMPARE(page_->steps()->rows(), rows + 1);
        QVERIFY(measured());
        const Step& step = desk_->trial().steps.back();
        QCOMPARE(step.place.what, MendPlace::What::Stroke);
        QVERIFY(!step.place.path.empty());
        const Character& c = *desk_->view().subject()->character;
        const auto after = sharesOf(c, joint);
        int less = 0, outside = 0;
        for (std::size_t v = 0; v < after.size(); ++v) {
            double far = INFINITY;
            for (const Vec3& p : step.place.path)
                far = std::min(far, double((c.neutral[v] - p).norm()));
            less += after[v] < before[v] - 1e-5f;
            outside += far > step.place.radius + 1e-4 && after[v] != before[v];
        }
        QVERIFY(less > 3);
        QCOMPARE(outside, 0);
        QTest::keyClick(w_->window.get(), Qt::Key_Z, Qt::ControlModifier);
        QCOMPARE(page_->steps()->rows(), rows);
        QTRY_VERIFY(sharesOf(*desk_->view().subject()->character, joint) == before);
        // On both sides the other one is seen to change while the hand is still down.
        press(QStringLiteral("brushBothSides"));
        const int mirrored = session_->build().subject()->roles[static_cast<std::size_t>(joint)].mirror;
        QVERIFY(mirrored >= 0);
        const auto otherBefore = sharesOf(*desk_->view().subject()->character, mirrored);
        QTest::mousePress(page_->viewport(), Qt::LeftButton, {}, from);
        QTest::mouseMove(page_->viewport(), from + QPoint(12, 5));
        QTRY_VERIFY(sharesOf(*desk_->view().subject()->character, mirrored) != otherBefore);
        QCOMPARE(page_->steps()->rows(), rows);
        QTest::mouseRelease(page_->viewport(), Qt::LeftButton, {}, from + QPoint(12, 5));
        QCOMPARE(page_->steps()->rows(), rows + 2);
        QVERIFY(measured());
        QTest::keyClick(w_->window.get(), Qt::Key_Z, Qt::ControlModifier);
        QCOMPARE(page_->steps()->rows(), rows);
        QTRY_VERIFY(sharesOf(*desk_->view().subject()->character, mirrored) == otherBefore);
        press(QStringLiteral("brushBothSides"));
        press(QStringLiteral("brushTake")); // put away: the view turns again
        QCOMPARE(page_->brush()->does(), BrushDoes::Nothing);
    }

    // A pen says how hard it is pressed: where it is pressed less, less is done. A mouse presses fully.
    void strokesOfAPen() {
        desk_->takeInHand(session_->build().subject()->character->skeleton.find("forearm.R"));
        press(QStringLiteral("brushTake"));
        Viewport* v = page_->viewport();
        const QPoint from = onSkin();
        QVERIFY(!from.isNull());
        const QPointingDevice pen(
            QStringLiteral("pen"), 72, QInputDevice::DeviceType::Stylus, QPointingDevice::PointerType::Pen,
            QInputDevice::Capability::Position | QInputDevice::Capability::Pressure, 1, 2);
        // As Qt sends them: what the pen does, and, where nobody took that, the mouse event in its place.
        const auto send = [&](QEvent::Type tablet, QEvent::Type mouse, const QPointF& at, double pressure) {
            const bool down = tablet != QEvent::TabletRelease;
            QTabletEvent e(tablet, &pen, at, v->mapToGlobal(at), pressure, 0, 0, 0, 0, 0, {},
                           tablet == QEvent::TabletMove ? Qt::NoButton : Qt::LeftButton,
                           down ? Qt::LeftButton : Qt::NoButton);
            QCoreApplication::sendEvent(v, &e);
            QVERIFY(!e.isAccepted());
            QMouseEvent m(mouse, at, v->mapToGlobal(at),
                          mouse == QEvent::MouseMove ? Qt::NoButton : Qt::LeftButton,
                          down ? Qt::LeftButton : Qt::NoButton, {}, &pen);
            QCoreApplication::sendEvent(v, &m);
        };
        const int rows = page_->steps()->rows();
        send(QEvent::TabletPress, QEvent::MouseButtonPress, from, 0.2);
        for (int i = 1; i <= 6; ++i)
            send(QEvent::TabletMove, QEvent::MouseMove, from + QPoint(8, 3) * i, 0.2 + 0.1 * i);
        send(QEvent::TabletRelease, QEvent::MouseButtonRelease, from + QPoint(48, 18), 0);
        QCOMPARE(page_->steps()->rows(), rows + 1);
        QVERIFY(measured());
        const MendPlace place = desk_->trial().steps.back().place;
        QCOMPARE(place.pressure.size(), place.path.size());
        QVERIFY(place.path.size() > 1);
        QVERIFY(std::abs(place.pressure.front() - 0.2f) < 1e-3f);
        QVERIFY(std::is_sorted(place.pressure.begin(), place.pressure.end()));
        QTest::keyClick(w_->window.get(), Qt::Key_Z, Qt::ControlModifier);
        stroke(from, from + QPoint(24, 10));
        QCOMPARE(page_->steps()->rows(), rows + 1);
        QVERIFY(desk_->trial().steps.back().place.pressure.empty());
        QVERIFY(measured());
        QTest::keyClick(w_->window.get(), Qt::Key_Z, Qt::ControlModifier);
        QCOMPARE(page_->steps()->rows(), rows);
        press(QStringLiteral("brushTake"));
    }

    // With the largest text the words that have no room are under one.
    void everyStrokeAtTheLargestText() {
        auto* more = w_->find<QPushButton>(QStringLiteral("brushMore"));
        QVERIFY(!more->isVisible());
        for (int i = 0; i < 12; ++i)
            QTest::keyClick(w_->window.get(), Qt::Key_Plus, Qt::ControlModifier);
        QVERIFY(more->isVisible());
        QVERIFY(!w_->find<QPushButton>(QStringLiteral("brushOut"))->isVisible());
        emit more->menu()->aboutToShow();
        QAction* out = nullptr;
        for (QAction* a : more->menu()->actions())
            if (a->text() == QStringLiteral("out"))
                out = a;
        QVERIFY(out && !out->isChecked());
        out->trigger();
        QCOMPARE(page_->brush()->does(), BrushDoes::Out);
        emit more->menu()->aboutToShow();
        for (QAction* a : more->menu()->actions())
            if (a->text() == QStringLiteral("out"))
                a->trigger();
        QCOMPARE(page_->brush()->does(), BrushDoes::Nothing);
        QTest::keyClick(w_->window.get(), Qt::Key_0, Qt::ControlModifier);
        QVERIFY(!more->isVisible());
    }

    // The build beside what is tried: one pose, one camera, whichever of the two is turned.
    void theBuildBeside() {
        Viewport* other = page_->buildViewport();
        QVERIFY(!other->isVisible());
        const Camera was = page_->viewport()->camera();
        press(QStringLiteral("mendBeside"));
        QVERIFY(other->isVisible());
        QTRY_VERIFY(desk_->buildView().arrived() && desk_->view().arrived());
        QCOMPARE(desk_->buildView().subject().get(), desk_->build());
        QVERIFY(desk_->view().subject() != desk_->buildView().subject());
        const auto together = [&] {
            const Camera &a = page_->viewport()->camera(), &b = other->camera();
            return a.yaw == b.yaw && a.pitch == b.pitch && a.distance == b.distance && a.target == b.target;
        };
        QTRY_VERIFY(together());
        comeToRest();
        QVERIFY(page_->viewport()->camera().distance == was.distance &&
                page_->viewport()->camera().yaw == was.yaw); // as it was looked at before
        const double yaw = other->camera().yaw;
        const QPoint middle = other->rect().center();
        QTest::mousePress(other, Qt::LeftButton, {}, QPoint(8, 60));
        QTest::mouseMove(other, middle);
        QTest::mouseRelease(other, Qt::LeftButton, {}, middle);
        QTRY_VERIFY(other->camera().yaw != yaw && together());
        desk_->setPose(desk_->motion(), 40);
        QTRY_VERIFY(desk_->buildView().arrived());
        QCOMPARE(desk_->buildView().asked().at, 40.0);
        key(Qt::Key_B, Qt::ShiftModifier);
        QVERIFY(!other->isVisible());
        key(Qt::Key_Right, Qt::ShiftModifier);
    }

    // What is locked is touched by nothing.
    void lockedJoints() {
        press(QStringLiteral("lock-upper_arm.R"));
        const int joint = session_->build().subject()->character->skeleton.find("upper_arm.R");
        QVERIFY(desk_->locked(joint));
        QVERIFY(measured());
        const auto build = sharesOf(*session_->build().subject()->character, joint);
        press(QStringLiteral("verbSofter"));
        QVERIFY(measured());
        const auto now = sharesOf(*desk_->view().subject()->character, joint);
        double most = 0;
        for (std::size_t v = 0; v < now.size(); ++v)
            most = std::max(most, std::abs(double(now[v]) - double(build[v])));
        QVERIFY(most < 1e-6);
        press(QStringLiteral("lock-upper_arm.R"));
        QVERIFY(!desk_->locked(joint));
        QTest::keyClick(w_->window.get(), Qt::Key_Z, Qt::ControlModifier);
        QTest::keyClick(w_->window.get(), Qt::Key_Z, Qt::ControlModifier);
        QTest::keyClick(w_->window.get(), Qt::Key_Z, Qt::ControlModifier);
        QVERIFY(desk_->trial().locked.empty());
        QVERIFY(measured());
    }

    void posedOnTheStrip() {
        QTest::mouseClick(page_->strip(), Qt::LeftButton, {}, page_->strip()->pointOf(60));
        QVERIFY2(std::abs(desk_->poseAt() - 60) <= 1, qPrintable(QString::number(desk_->poseAt())));
        key(Qt::Key_Right);
        QVERIFY(desk_->poseAt() > 60);
        key(Qt::Key_Right, Qt::ShiftModifier);
        QCOMPARE(desk_->poseAt(), desk_->told()->peak);
        // what changed elsewhere is a press away
        QTRY_VERIFY(w_->window->findChild<QWidget*>(QStringLiteral("elsewhere-0")));
        const int motion = desk_->motion();
        const double at = desk_->poseAt();
        comeToRest();
        QTest::mouseClick(w_->find<QWidget>(QStringLiteral("elsewhere-0")), Qt::LeftButton, {}, QPoint(8, 8));
        QVERIFY(desk_->motion() != motion || desk_->poseAt() != at);
        key(Qt::Key_Right, Qt::ShiftModifier);
    }

    // Without any proposal: skin marked around the joint, a verb, a stroke. The elbow is then as good as the
    // other one: the difference of the sides is within its limit, and no skin is stretched beyond what the
    // left has.
    // What is marked on Review is marked on Mend, at the joint looked at; a ring more, a ring less, the whole
    // piece.
    void fromAMarkedPatch() {
        ReviewPage* review = w_->window->review();
        w_->window->showPage(review);
        session_->run().showFinding(-1);
        const int m = w_->motion("left-knee-flex");
        session_->run().setPose(m, 60);
        comeToRest();
        MarkingTool* marking = review->stage()->marking();
        marking->setTool(MarkTool::Brush);
        marking->markRegion();
        const auto triangles = marking->marked();
        QVERIFY(!triangles.empty());
        press(QStringLiteral("markMend"));
        QCOMPARE(w_->window->shownPage(), static_cast<Page*>(page_));
        QCOMPARE(page_->marking()->marked(), triangles);
        QVERIFY(desk_->joint() >= 0);
        press(QStringLiteral("mendLarger"));
        const auto larger = page_->marking()->marked();
        QVERIFY(larger.size() > triangles.size() &&
                std::includes(larger.begin(), larger.end(), triangles.begin(), triangles.end()));
        press(QStringLiteral("mendSmaller"));
        QVERIFY(page_->marking()->marked().size() < larger.size());
        press(QStringLiteral("mendPiece"));
        QVERIFY(page_->marking()->marked().size() > larger.size());
        press(QStringLiteral("mendClear"));
        QVERIFY(page_->marking()->marked().empty());
        marking->clear();
        marking->setTool(MarkTool::None);
    }

    // A shape for the angle shown, faded in by its handles; a joint that helps; strokes that bring the skin
    // out.
    void shapesAndJointsAtAnAngle() {
        const auto choose = [&](const QString& words) {
            comeToRest();
            for (QAction* a : w_->find<QPushButton>(QStringLiteral("verbHere"))->menu()->actions())
                if (a->text() == words)
                    return a->trigger();
            QFAIL(qPrintable(words));
        };
        const QString shape = QStringLiteral("shape the skin, as rigid as it can be");
        begin(faultAt("forearm.R", Kind::Stretch));
        const Trial start = desk_->trial();
        key(Qt::Key_Home); // in neutral nothing has an angle
        QCOMPARE(desk_->poseAt(), 0.0);
        choose(shape);
        QVERIFY(desk_->trial() == start);
        key(Qt::Key_Right, Qt::ShiftModifier); // to where it is worst
        QVERIFY(desk_->poseAt() > 30);
        choose(shape);
        QCOMPARE(desk_->trial().steps.size(), start.steps.size() + 1);
        const Step made = desk_->trial().steps.back();
        QVERIFY(made.kind == StepKind::Correct && made.joint == "forearm.R");
        QVERIFY(std::abs(made.degrees - desk_->poseAt()) <= 1);
        QVERIFY(measured());
        QVERIFY2(desk_->effects().back().applies, desk_->effects().back().why.c_str());
        QVERIFY(number(QStringLiteral("stretch"), 2) < number(QStringLiteral("stretch"), 1));
        // Where it begins is dragged on the strip.
        QCOMPARE(page_->strip()->handles().size(), std::size_t(1));
        const QPoint from = page_->strip()->handles().front().first, to = page_->strip()->pointOf(40);
        QTest::mousePress(page_->strip(), Qt::LeftButton, {}, from);
        QTest::mouseMove(page_->strip(), {to.x(), from.y()});
        QTest::mouseRelease(page_->strip(), Qt::LeftButton, {}, {to.x(), from.y()});
        QVERIFY(std::abs(desk_->trial().steps.back().from - 40) <= 2);
        QCOMPARE(desk_->trial().steps.back().degrees, made.degrees);
        session_->undoStack().undo();
        QCOMPARE(desk_->trial().steps.back().from, 0.0);
        // and typed in its line
        const int row = page_->steps()->rows() - 1;
        auto* box = w_->find<QDoubleSpinBox>(QStringLiteral("stepFrom-%1").arg(row));
        QVERIFY(box->isVisible());
        box->setFocus();
        box->selectAll();
        QTest::keyClicks(box, QStringLiteral("25"));
        QTest::keyClick(box, Qt::Key_Return);
        QCOMPARE(desk_->trial().steps.back().from, 25.0);
        // A stroke goes on with the same shape.
        press(QStringLiteral("brushOut"));
        const QPoint skin = onSkin();
        stroke(skin, skin + QPoint(10, 3));
        QCOMPARE(desk_->trial().steps.size(), start.steps.size() + 2);
        QVERIFY(desk_->trial().steps.back().kind == StepKind::Correct &&
                desk_->trial().steps.back().amount > 0);
        QVERIFY(measured());
        QVERIFY(desk_->effects().back().shapes);
        QCOMPARE(page_->strip()->handles().size(), std::size_t(1));
        // Skin that is grasped goes with the hand, where it was grasped as far as that.
        press(QStringLiteral("brushDrag"));
        comeToRest();
        const QPoint skinHeld = onSkin();
        const auto hit = page_->viewport()->pick(skinHeld);
        QVERIFY(hit);
        const auto seen = [&] {
            return page_->viewport()->project(desk_->view().frame()->position[hit->vertex].cast<double>());
        };
        const QPointF was = seen();
        stroke(skinHeld, skinHeld + QPoint(14, -6));
        const Step pulled = desk_->trial().steps.back();
        QVERIFY(pulled.kind == StepKind::Correct && pulled.correctBy == CorrectBy::Move);
        QVERIFY(pulled.move.norm() > 1e-3);
        QVERIFY(measured());
        comeToRest();
        const QPointF went = seen() - was;
        QVERIFY2(QLineF(went, QPointF(14, -6)).length() < 5,
                 qPrintable(QStringLiteral("%1 %2").arg(went.x()).arg(went.y())));
        session_->undoStack().undo();
        QVERIFY(measured());
        press(QStringLiteral("brushDrag"));
        // A joint of its own, which can be taken in hand, locked, and is gone again with the step.
        choose(QStringLiteral("a joint that makes half of the turn"));
        QVERIFY(measured());
        const Skeleton& sk = desk_->view().subject()->character->skeleton;
        const int helper = sk.find("forearm_helper.R");
        QVERIFY(helper >= 0 && helper == sk.size() - 1);
        // Dragged by its handle it stands where the hand let go, and what it takes goes along; near the
        // middle of the limb it goes there.
        const Step helps = desk_->trial().steps.back();
        comeToRest();
        const auto grasped = page_->jointTool()->handle();
        QVERIFY(grasped && QRectF(page_->viewport()->rect()).contains(*grasped));
        const auto drag = [&](const QPointF& held, const QPointF& letGo) {
            QTest::mousePress(page_->viewport(), Qt::LeftButton, {}, held.toPoint());
            QTest::mouseMove(page_->viewport(), ((held + letGo) / 2).toPoint());
            QTest::mouseMove(page_->viewport(), letGo.toPoint());
            QTest::mouseRelease(page_->viewport(), Qt::LeftButton, {}, letGo.toPoint());
        };
        drag(*grasped, *grasped + QPointF(46, -34));
        const Step dragged = desk_->trial().steps.back();
        QVERIFY((dragged.at - helps.at).norm() > 0.005);
        QVERIFY((dragged.place.path.front() - dragged.at.cast<float>()).norm() < 1e-4f);
        QVERIFY(measured());
        QVERIFY((desk_->view().subject()->character->skeleton.place(helper) - dragged.at).norm() < 1e-6);
        comeToRest();
        const auto stands = page_->jointTool()->handle(), centre = page_->jointTool()->middle();
        QVERIFY(stands && centre);
        QVERIFY(QLineF(*stands, *grasped + QPointF(46, -34)).length() < 3);
        drag(*stands, *centre + QPointF(2, 1));
        const auto middle =
            limbMiddle(*desk_->build(), desk_->build()->character->skeleton.find("forearm.R"), dragged.at);
        QVERIFY(middle && (desk_->trial().steps.back().at - *middle).norm() < 1e-9);
        QVERIFY(measured());
        session_->undoStack().undo();
        session_->undoStack().undo();
        QVERIFY(desk_->trial().steps.back() == helps);
        QVERIFY(measured());
        desk_->takeInHand(helper);
        desk_->setLocked(helper, true);
        QVERIFY(desk_->locked(helper));
        QVERIFY(measured());
        desk_->setPose(desk_->motion(), 60);
        comeToRest();
        session_->undoStack().undo();
        session_->undoStack().undo();
        QVERIFY(measured());
        QCOMPARE(desk_->view().subject()->character->skeleton.find("forearm_helper.R"), -1);
        QCOMPARE(desk_->joint(), -1);
    }

    // What a joint bends about is turned by the end of its axis, along the arc, in any view of it.
    void axesByTheHandle() {
        begin(faultAt("forearm.R", Kind::Stretch));
        const Trial start = desk_->trial();
        desk_->takeInHand(session_->build().subject()->character->skeleton.find("forearm.R"));
        desk_->setPose(w_->motion("right-elbow-flex"), 60);
        QVERIFY(measured());
        comeToRest();
        for (QAction* a : w_->find<QPushButton>(QStringLiteral("verbMore"))->menu()->actions())
            if (a->text() == QStringLiteral("turn what the joint bends about"))
                a->trigger();
        QVERIFY(desk_->trial().steps.back().kind == StepKind::TurnAxes);
        const Step step = desk_->trial().steps.back();
        QCOMPARE(step.amount, 0.0);
        QVERIFY(measured());
        const auto axis = desk_->bendAxis(session_->build().subject()->character->skeleton.find("forearm.R"));
        QVERIFY(axis && std::abs(axis->dot(step.at)) < 0.5); // across the limb
        Viewport* v = page_->viewport();
        for (const double pitch : {70.0, 0.0}) { // the arc seen from above, and from its edge
            Camera camera = v->camera();
            camera.pitch = pitch;
            v->setCamera(camera, false);
            comeToRest();
            const auto held = page_->axisTool()->handle();
            QVERIFY(held && QRectF(v->rect()).contains(*held));
            const auto joint = v->project(
                desk_->view()
                    .frame()
                    ->jointPosition[std::size_t(desk_->build()->character->skeleton.find("forearm.R"))]
                    .cast<double>());
            const QPointF arm = *held - joint,
                          across = pitch > 30 ? QPointF(-arm.y(), arm.x()) : QPointF(-30, 0);
            const QPointF to = *held + across * 0.35;
            QTest::mousePress(v, Qt::LeftButton, {}, held->toPoint());
            QTest::mouseMove(v, ((*held + to) / 2).toPoint());
            QTest::mouseMove(v, to.toPoint());
            const double shown = page_->axisTool()->turnedBy();
            QVERIFY2(std::abs(shown) > 1 && std::abs(shown) < 90, qPrintable(QString::number(shown)));
            QTest::mouseRelease(v, Qt::LeftButton, {}, to.toPoint());
            QCOMPARE(desk_->trial().steps.back().amount, shown);
            QVERIFY(measured());
            QVERIFY(desk_->effects().back().skeleton);
            comeToRest();
            if (pitch > 30) // the handle is where the hand let go, along the arc
                QVERIFY(QLineF(joint, *page_->axisTool()->handle()).angleTo(QLineF(joint, to)) < 6 ||
                        QLineF(joint, *page_->axisTool()->handle()).angleTo(QLineF(joint, to)) > 354);
            session_->undoStack().undo();
            QVERIFY(desk_->trial().steps.back() == step);
            QVERIFY(measured());
        }
        session_->undoStack().undo();
        QVERIFY(desk_->trial() == start);
        QVERIFY(measured());
        QVERIFY(!page_->axisTool()->handle());
    }

    void mendedByHandAlone() {
        const int elbow = faultAt("forearm.R", Kind::Stretch);
        const Trial before = desk_->trial();
        desk_->beginFor(-1);
        QVERIFY(measured());
        QCOMPARE(words("mendAim"), QStringLiteral("The whole character"));
        QCOMPARE(page_->steps()->rows(), 0);
        desk_->setPose(w_->motion("right-elbow-flex"), 136);
        desk_->takeInHand(session_->build().subject()->character->skeleton.find("forearm.R"));
        QTRY_VERIFY(desk_->view().arrived());
        key(Qt::Key_G);
        QVERIFY(!page_->marking()->marked().empty());
        QCOMPARE(words("sharesWhere"), QStringLiteral("of what is marked"));
        press(QStringLiteral("verbOtherSide"));
        QVERIFY(measured());
        QTRY_VERIFY(number(QStringLiteral("side difference"), 2) < 1.2);
        QVERIFY(number(QStringLiteral("side difference"), 1) > 5);
        double left = 0;
        for (const StepResult& step :
             session_->run().run()->motions[static_cast<std::size_t>(w_->motion("left-elbow-flex"))].steps)
            left = std::max(left, valueOf(Kind::Stretch, step.joints[0].measures).value_or(0));
        QVERIFY(number(QStringLiteral("stretch"), 2) <= left + 0.01);
        press(QStringLiteral("mendClear"));
        press(QStringLiteral("brushSoften"));
        const QPoint from = onSkin();
        stroke(from, from + QPoint(10, 10));
        press(QStringLiteral("brushSoften"));
        QCOMPARE(page_->steps()->rows(), 2);
        QVERIFY(measured());
        QVERIFY(number(QStringLiteral("side difference"), 2) < 1.2);
        // the other trial is found where it was
        begin(elbow);
        QVERIFY(desk_->trial() == before);
    }

    // The trial is on the disk while the hand is still at it: whatever ends the window, it is there.
    void nothingIsLost() {
        const Trial before = desk_->trial();
        QVERIFY(!before.steps.empty());
        press(QStringLiteral("brushTake"));
        const QPoint from = onSkin();
        QTest::mousePress(page_->viewport(), Qt::LeftButton, {}, from);
        QTest::mouseMove(page_->viewport(), from + QPoint(8, 4));
        newWindow(); // in the middle of a stroke
        session_->log().open(kept_.filePath(QStringLiteral("log.sqlite")));
        QVERIFY(w_->openAndRun(file("builds/3/badger-postmaster.glb")));
        w_->window->showPage(page_);
        QTRY_VERIFY(desk_->begun());
        QVERIFY(desk_->trial() == before);
        QVERIFY(measured());
        QCOMPARE(page_->steps()->rows(), int(before.steps.size()));
        QVERIFY(words("mendAim").contains(QStringLiteral("ight elbow stretches")));
        QVERIFY(number(QStringLiteral("stretch"), 2) < number(QStringLiteral("stretch"), 1));
    }

    // A run that is stopped under a trial takes the numbers with it; a change of looks asks for them again.
    void aRunThatIsStopped() {
        QVERIFY(desk_->result() && page_->numbers()->table()->rowCount() > 0);
        session_->run().setMethod(Skinning::DualQuaternion);
        session_->jobs().cancel();
        QTRY_VERIFY_WITH_TIMEOUT(!session_->jobs().busy(), 180000);
        QVERIFY(session_->run().run()->cancelled);
        QVERIFY(!desk_->result() && !desk_->buildRun());
        for (int i = 0; i < 2; ++i)
            w_->window->actionBook()->find(QStringLiteral("night"))->trigger();
        session_->run().setMethod(Skinning::Linear);
        QTRY_VERIFY_WITH_TIMEOUT(!session_->jobs().busy() && !session_->run().run()->cancelled, 180000);
        QVERIFY(measured());
        QVERIFY(page_->numbers()->table()->rowCount() > 0);
    }

    void aProposalInTheLog() {
        const qint64 defect = desk_->trial().aim.defect;
        QVERIFY(defect > 0);
        QTRY_VERIFY(w_->find<QPushButton>(QStringLiteral("mendPropose"))->isEnabled());
        press(QStringLiteral("mendPropose"));
        const auto history = session_->log().historyOf(defect);
        QVERIFY(history);
        const auto event = std::find_if(history->begin(), history->end(), [](const DefectEvent& e) {
            return e.field == QLatin1String("proposal");
        });
        QVERIFY(event != history->end());
        const auto proposal = proposalFrom(event->value);
        QVERIFY(proposal);
        QCOMPARE(proposal->kind, QStringLiteral("stretch"));
        QVERIFY(proposal->is < proposal->was);
        QCOMPARE(proposal->steps.size(), qsizetype(desk_->trial().steps.size()));
        // read in the defect's story
        w_->window->showPage(w_->window->logPage());
        w_->window->logPage()->choose(defect);
        QTRY_VERIFY(TestWindow::wordsOf(w_->window->logPage())
                        .join(QLatin1Char(' '))
                        .contains(QStringLiteral("proposed: ")));
        // and from there back to the trial
        press(QStringLiteral("mendDefect"));
        QCOMPARE(w_->window->shownPage(), static_cast<Page*>(page_));
        QCOMPARE(desk_->trial().aim.defect, defect);
    }

    // On every motion of the plan, beside the build: the trial is a side of Compare.
    void seenInCompare() {
        QVERIFY(measured());
        const double stretch = number(QStringLiteral("stretch"), 2);
        const int motion = desk_->motion();
        const double at = desk_->poseAt();
        press(QStringLiteral("mendInCompare"));
        CompareDesk& compare = session_->compare();
        QCOMPARE(w_->window->shownPage(), static_cast<Page*>(w_->window->comparePage()));
        QVERIFY(QTest::qWaitFor([&] { return compare.comparison() && !session_->jobs().busy(); }, 180000));
        QCOMPARE(w_->find<QPushButton>(QStringLiteral("against"))->text(), QStringLiteral("build 3"));
        const QString named = nameOf(desk_->trial());
        QVERIFY2(words("compareNow").compare(named + QStringLiteral(" against"), Qt::CaseInsensitive) == 0,
                 qPrintable(words("compareNow")));
        QVERIFY2(words("compareSentence").contains(QStringLiteral("etter at")),
                 qPrintable(words("compareSentence")));
        // the numbers that Mend showed
        compare.setPose(motion, at);
        compare.lookAtJoint(desk_->goal().joint);
        const QTableWidget* table = w_->window->comparePage()->table()->table();
        double told = 0;
        for (int r = 0; r < table->rowCount(); ++r)
            if (table->item(r, 0)->text() == QLatin1String("stretch"))
                told = table->item(r, 2)->text().split(QLatin1Char(' ')).front().toDouble();
        QVERIFY2(std::abs(told - stretch) < 0.011,
                 qPrintable(QStringLiteral("%1 %2").arg(told).arg(stretch)));
        // it is chosen there as well
        auto* against = w_->find<QPushButton>(QStringLiteral("against"));
        compare.leftAgainstRight();
        emit against->menu()->aboutToShow();
        QAction* itself = nullptr;
        for (QAction* a : against->menu()->actions())
            if (a->text() == QStringLiteral("itself, as tried: ") + named)
                itself = a;
        QVERIFY(itself);
        itself->trigger();
        QVERIFY(compare.trial());
        QVERIFY(QTest::qWaitFor([&] { return compare.comparison() && !session_->jobs().busy(); }, 180000));
        compare.againstNothing();
        w_->window->showPage(page_);
    }

    // The new build is the old one but for the weights, and its run says what the trial said.
    void savedAndOpened() {
        QVERIFY(measured());
        const double stretch = number(QStringLiteral("stretch"), 2);
        const QString recipe = kept_.filePath(QStringLiteral("recipe.html")),
                      weights = kept_.filePath(QStringLiteral("weights.json")),
                      build = kept_.filePath(QStringLiteral("mended.glb"));
        desk_->saveRecipe(recipe);
        desk_->saveWeights(weights);
        desk_->saveBuild(build, 0);
        QTRY_COMPARE(desk_->savedBuild(), build);
        QFile page(recipe);
        QVERIFY(page.open(QIODevice::ReadOnly));
        const QByteArray html = page.readAll();
        QVERIFY(html.contains("Recipe: For defect") && html.contains("<img "));
        QFile json(weights);
        QVERIFY(json.open(QIODevice::ReadOnly));
        QVERIFY(!QJsonDocument::fromJson(json.readAll()).object().isEmpty());
        const auto mended = readCharacter(build.toStdString());
        QVERIFY2(mended, mended.error().c_str());
        press(QStringLiteral("mendOpenSaved"));
        QVERIFY(w_->finished());
        QTRY_VERIFY(session_->build().build() &&
                    QString::fromStdString(session_->build().build()->source) == build);
        QVERIFY(w_->finished());
        const int m = w_->motion("right-elbow-flex");
        double worst = 0;
        for (const StepResult& step : session_->run().run()->motions[static_cast<std::size_t>(m)].steps)
            worst = std::max(worst, valueOf(Kind::Stretch, step.joints[0].measures).value_or(0));
        QVERIFY2(std::abs(worst - stretch) < 0.02,
                 qPrintable(QStringLiteral("%1 %2").arg(worst).arg(stretch)));
    }

    // It says where it is why something cannot be.
    void badInput() {
        QVERIFY(w_->openAndRun(file("builds/3/badger-postmaster.glb")));
        w_->window->showPage(page_);
        QVERIFY(measured());
        const Trial kept = desk_->trial();
        // a trial of another build, and a file that is none
        QFile other(kept_.filePath(QStringLiteral("other.json")));
        QVERIFY(other.open(QIODevice::WriteOnly));
        other.write(R"({"format":"hobble-trial","version":1,"build":"of something else","steps":[]})");
        other.close();
        desk_->takeTrial(other.fileName());
        QVERIFY(words("message").contains(QStringLiteral("made on another build")));
        desk_->takeTrial(file("demo-log.sqlite"));
        QVERIFY(words("message").contains(QStringLiteral("not a Hobble trial")));
        QVERIFY(desk_->trial() == kept);
        // no joint in hand; a joint that moves nothing
        desk_->takeInHand(-1);
        desk_->apply(MendVerb::Narrower, {});
        QVERIFY(words("message").contains(QStringLiteral("joint in hand")));
        for (int j = 0; j < session_->build().subject()->character->skeleton.size(); ++j)
            if (session_->build().subject()->zones[static_cast<std::size_t>(j)].empty()) {
                desk_->takeInHand(j);
                desk_->apply(MendVerb::Softer, {});
                QVERIFY(words("message").contains(QStringLiteral("No skin blends")));
                break;
            }
        QVERIFY(desk_->trial() == kept);
        // a folder that is not there is said, and nothing is left behind
        desk_->takeInHand(session_->build().subject()->character->skeleton.find("forearm.R"));
        desk_->apply(MendVerb::Centre, {});
        QVERIFY(measured());
        desk_->saveBuild(kept_.filePath(QStringLiteral("no such/moved.glb")), 0);
        QTRY_VERIFY(words("message").contains(QStringLiteral("Cannot write")));
        // a joint that was moved is written
        desk_->saveBuild(kept_.filePath(QStringLiteral("moved.glb")), 0);
        QTRY_VERIFY(QFile::exists(kept_.filePath(QStringLiteral("moved.glb"))));
        QTest::keyClick(w_->window.get(), Qt::Key_Z, Qt::ControlModifier);
        QVERIFY(desk_->trial() == kept);
        // a variant is worn
        Variant bare;
        bare.name = "bare";
        bare.partsOff = {session_->build().subject()->character->parts.back().name};
        session_->build().setVariants({bare});
        session_->build().wear(0);
        QTRY_VERIFY(words("mendAim").contains(QStringLiteral("variant is worn")));
        session_->build().wear(-1);
        QVERIFY(w_->finished());
    }
};

HOBBLE_TEST(TestMendPage)
#include "test_mend_page.moc"
