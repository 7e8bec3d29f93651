// The character in the middle of Review: coloured by every measure, ghosts, the smooth preview, contact
// lines, a limb or a region alone, skin marked by hand and logged, playback that rests on peaks. In the real
// window.
#include "support/window_test.h"

#include <QComboBox>
#include <QLineEdit>
#include <QPushButton>
#include <QSlider>

#include <set>

using namespace hobble;
using namespace hobble::test;

class TestReviewStage : public QObject {
    Q_OBJECT

    std::unique_ptr<TestWindow> w_;
    Session* session_ = nullptr;
    Viewport* view_ = nullptr;
    MarkingTool* marking_ = nullptr;

    void colourBy(Colouring c) {
        auto* box = w_->find<QComboBox>(QStringLiteral("colourBy"));
        box->setFocus();
        QTest::keyClick(box, Qt::Key_Home);
        for (int i = 0; i < static_cast<int>(c); ++i)
            QTest::keyClick(box, Qt::Key_Down);
        QCOMPARE(view_->colouring(), c);
    }
    QImage seen() {
        view_->settle();
        comeToRest();
        return QImage::fromData(view_->picture());
    }
    static double differing(const QImage& a, const QImage& b) { // share of pixels
        int n = 0;
        for (int y = 0; y < a.height(); ++y)
            for (int x = 0; x < a.width(); ++x)
                n += a.pixel(x, y) != b.pixel(x, y);
        return double(n) / (a.width() * a.height());
    }
    void atElbow() {
        const int elbow = w_->motion("left-elbow-flex");
        session_->run().selectFinding(-1);
        session_->run().setPose(elbow, session_->plan().plan().motions[std::size_t(elbow)].limit());
        QVERIFY(w_->arrived());
        view_->frameJoint(session_->run().joint());
        view_->settle();
        QVERIFY(w_->detailed());
    }

private slots:
    void initTestCase() {
        w_ = std::make_unique<TestWindow>(QStringLiteral("stage"), true);
        session_ = w_->session.get();
        view_ = w_->window->review()->viewport();
        marking_ = w_->window->review()->stage()->marking();
        session_->log().open(w_->folder.filePath(QStringLiteral("log.sqlite")));
        QVERIFY(w_->openAndRun(QStringLiteral(HOBBLE_DEMO_DIR "/builds/1/badger-postmaster.glb")));
    }
    void cleanupTestCase() { w_.reset(); }
    void cleanup() {
        view_->setShown(Shown{});
        view_->setColouring(Colouring::Strain);
        marking_->setTool(MarkTool::None);
    }

    // Pressing a strip brings what it moves into view; a hand's own view of it is there on coming back.
    void theViewGoesToWhatMoves() {
        StripView* strips = w_->window->review()->strips();
        const auto press = [&](const char* id) {
            const int m = w_->motion(id);
            strips->reveal(m);
            const double limit = session_->plan().plan().motions[std::size_t(m)].limit();
            QTest::mouseClick(strips->viewport(), Qt::LeftButton, {}, strips->pointOf(m, 0.6 * limit));
            QVERIFY(w_->arrived());
            QVERIFY(QTest::qWaitFor([&] { return !view_->framing(); }));
            view_->settle();
        };
        const auto seesJoint = [&](const char* name) {
            const int joint = session_->build().subject()->character->skeleton.find(name);
            const QPointF at = view_->project(
                session_->run().view().frame()->jointPosition[std::size_t(joint)].cast<double>());
            return QRectF(view_->rect()).adjusted(40, 40, -40, -40).contains(at);
        };
        session_->run().selectFinding(-1);
        for (const auto& [id, joint] : {std::pair("left-knee-flex", "shin.L"),
                                        {"left-neck-side", "neck"},
                                        {"left-wrist-bend-in", "hand.L"},
                                        {"left-ear-front", "ear.L"},
                                        {"right-hip-front", "thigh.R"}}) {
            press(id);
            QVERIFY2(seesJoint(joint), id);
        }
        press("left-knee-flex");
        QTest::mousePress(view_, Qt::LeftButton, {}, QPoint(200, 200));
        QTest::mouseMove(view_, QPoint(260, 190));
        QTest::mouseRelease(view_, Qt::LeftButton, {}, QPoint(260, 190));
        const Camera chosen = view_->camera();
        press("left-wrist-bend-in");
        QVERIFY((view_->camera().target - chosen.target).norm() > 0.1);
        press("left-knee-flex");
        QVERIFY((view_->camera().target - chosen.target).norm() < 1e-6 &&
                std::abs(view_->camera().yaw - chosen.yaw) < 1e-6);
        // held, it stays
        QTest::mouseClick(w_->find<QPushButton>(QStringLiteral("holdView")), Qt::LeftButton);
        press("left-wrist-bend-in");
        QVERIFY((view_->camera().target - chosen.target).norm() < 1e-6);
        QTest::mouseClick(w_->find<QPushButton>(QStringLiteral("holdView")), Qt::LeftButton);
        press("left-ear-front");
        QVERIFY(seesJoint("ear.L"));
    }

    // What is marked belongs to the motion and the pose; elsewhere a line says where it is, and goes there.
    void marksBelongToThePose() {
        auto* line = w_->find<QPushButton>(QStringLiteral("faultElsewhere"));
        const auto& findings = session_->run().run()->findings;
        int f = 0;
        while (findings[std::size_t(f)].kind != Kind::Stretch || findings[std::size_t(f)].onset < 5)
            ++f;
        const Finding& finding = findings[std::size_t(f)];
        session_->run().showFinding(f);
        QVERIFY(w_->arrived());
        QVERIFY(!line->isVisible());
        const QImage marked = seen();
        view_->setShown([&] {
            Shown s = view_->shown();
            s.patch = false;
            return s;
        }());
        const QImage plain = seen();
        QVERIFY2(differing(marked, plain) > 0.001, qPrintable(QString::number(differing(marked, plain))));
        view_->setShown(Shown{});
        // neutral: nothing is marked
        session_->run().setPose(finding.motion, 0);
        QVERIFY(w_->arrived());
        const QImage neutral = seen();
        view_->setShown([&] {
            Shown s = view_->shown();
            s.patch = false;
            return s;
        }());
        QVERIFY(differing(neutral, seen()) < 1e-4);
        QVERIFY(line->isVisible());
        QVERIFY2(line->text().startsWith(QStringLiteral("The fault of the ")), qPrintable(line->text()));
        QTest::mouseClick(line, Qt::LeftButton);
        QCOMPARE(session_->run().motion(), finding.motion);
        QCOMPARE(session_->run().poseAt(), finding.peak);
        QVERIFY(!line->isVisible());
    }

    // Each measure is on the skin with the value the run found at the joint, and the legend speaks of it.
    void everyMeasureColoursTheSkin() {
        std::set<int> different;
        for (int i = 0; i < kColourings; ++i) {
            const auto c = static_cast<Colouring>(i);
            // the finding of that kind is where it is to be seen
            int finding = -1;
            for (int f = 0; f < int(session_->run().run()->findings.size()) && kindOf(c); ++f)
                if (session_->run().run()->findings[std::size_t(f)].kind == *kindOf(c)) {
                    finding = f;
                    break;
                }
            if (finding >= 0)
                session_->run().showFinding(finding);
            else
                atElbow();
            QVERIFY(w_->arrived());
            colourBy(c);
            QCOMPARE(w_->find<QComboBox>(QStringLiteral("colourBy"))->currentText(), nameOf(c));
            if (kindOf(c)) {
                QVERIFY2(w_->detailed(), qPrintable(nameOf(c)));
                const auto d = session_->run().view().detail();
                QCOMPARE(d->values.size(), session_->build().subject()->surface.vertexCount());
            }
            QVERIFY2(QTest::qWaitFor([&] { return !view_->measuring(); }, 2000), qPrintable(nameOf(c)));
            if (finding >= 0) { // worse than its limit somewhere on the skin, as the finding says
                const Finding& f = session_->run().run()->findings[std::size_t(finding)];
                double worst = unchangedOf(f.kind);
                for (float v : session_->run().view().detail()->values)
                    worst = faultIsAbove(f.kind) ? std::max(worst, double(v)) : std::min(worst, double(v));
                const auto& steps = session_->run().limits().of(f.kind, f.role);
                QVERIFY2(severityOf(f.kind, worst, steps) >= f.severity,
                         qPrintable(QStringLiteral("%1: %2").arg(nameOf(c)).arg(worst)));
                different.insert(i);
            }
            const auto* legend = w_->find<QWidget>(QStringLiteral("legend"));
            QVERIFY2(QTest::qWaitFor(
                         [&] {
                             return legend->accessibleName().contains(nameOf(c)) &&
                                    !legend->accessibleName().contains(QStringLiteral("being measured"));
                         },
                         2000),
                     qPrintable(legend->accessibleName()));
        }
        QVERIFY(different.size() >= 5);
    }

    // A changed limit changes the legend and the picture; nothing is measured again.
    void theLegendFollowsTheLimits() {
        atElbow();
        auto* legend = w_->find<QWidget>(QStringLiteral("legend"));
        const QString before = legend->accessibleName();
        const QImage was = seen();
        Limits changed = session_->run().limits();
        changed.byRole[{Role::Elbow, Kind::Stretch}] = {2.5, 3, 4, 6};
        session_->run().setLimits(changed);
        QVERIFY(w_->finished());
        QVERIFY(legend->accessibleName() != before);
        QVERIFY(legend->accessibleName().contains(QStringLiteral("severity 1 at 2.50")));
        const QImage is = seen();
        QVERIFY2(differing(was, is) > 0.002, qPrintable(QString::number(differing(was, is))));
        session_->undoStack().undo();
        QVERIFY(w_->finished());
        QCOMPARE(legend->accessibleName(), before);
    }

    void theValueUnderThePointerIsSaid() {
        atElbow();
        const QImage before = seen();
        const QPoint at =
            view_
                ->project(
                    session_->run().view().frame()->jointPosition[session_->run().joint()].cast<double>())
                .toPoint();
        QTest::mouseMove(view_, at);
        QTRY_VERIFY(differing(before, view_->grab().toImage()) > 0.01); // words stand there
        QTest::mouseMove(view_, QPoint(2, 2));
    }

    void ghosts() {
        atElbow();
        const QImage without = seen();
        QTest::keyClick(w_->window->review()->strips(), Qt::Key_G);
        QCOMPARE(view_->shown().ghost, Ghost::Neutral);
        QVERIFY(w_->arrived());
        QVERIFY(
            QTest::qWaitFor([&] { return !session_->run().view().frame()->ghostPosition.empty(); }, 60000));
        const auto& neutral = session_->build().subject()->character->neutral;
        for (std::size_t v = 0; v < neutral.size(); v += 97)
            QVERIFY((session_->run().view().frame()->ghostPosition[v] - neutral[v]).norm() < 1e-4f);
        QVERIFY(differing(without, seen()) > 0.002);
        w_->choose(QStringLiteral("showMore"), QStringLiteral("ghost of the step before"));
        QCOMPARE(view_->shown().ghost, Ghost::StepBefore);
        // between neutral and the pose, once that frame is there: nearer to the pose than neutral is
        QVERIFY(QTest::qWaitFor(
            [&] {
                double toNeutral = 0, toGhost = 0;
                const auto f = session_->run().view().frame();
                for (std::size_t v = 0; v < neutral.size() && !f->ghostPosition.empty(); ++v) {
                    toNeutral += double((f->position[v] - neutral[v]).norm());
                    toGhost += double((f->position[v] - f->ghostPosition[v]).norm());
                }
                return toGhost > 0 && toGhost < 0.5 * toNeutral;
            },
            60000));
        w_->choose(QStringLiteral("showMore"), QStringLiteral("no ghost"));
        QVERIFY(
            QTest::qWaitFor([&] { return session_->run().view().frame()->ghostPosition.empty(); }, 60000));
    }

    void smoothPreviewWithTheTrueVertices() {
        atElbow();
        const QImage without = seen();
        QTest::keyClick(w_->window->review()->strips(), Qt::Key_V);
        QVERIFY(QTest::qWaitFor([&] { return session_->run().view().frame()->preview != nullptr; }, 60000));
        const auto f = session_->run().view().frame();
        QCOMPARE(f->preview->triangles.size(), 4 * session_->build().subject()->surface.triangles.size());
        QVERIFY(differing(without, seen()) > 0.01);
        QVERIFY(w_->find<QPushButton>(QStringLiteral("showSmooth"))->isChecked());
        QTest::mouseClick(w_->find<QPushButton>(QStringLiteral("showSmooth")), Qt::LeftButton);
        QVERIFY(QTest::qWaitFor([&] { return session_->run().view().frame()->preview == nullptr; }, 60000));
    }

    void contactLinesWhereSkinGoesThroughSkin() {
        int deepest = -1;
        double depth = 0, at = 0;
        for (std::size_t m = 0; m < session_->run().run()->motions.size(); ++m)
            for (const StepResult& step : session_->run().run()->motions[m].steps)
                if (const double here = step.joints[0].measures.contact.value_or(0); here > depth) {
                    depth = here;
                    deepest = int(m);
                    at = step.at;
                }
        QVERIFY(depth > 0.05);
        session_->run().selectFinding(-1);
        session_->run().setPose(deepest, at);
        QVERIFY(w_->detailed());
        const auto lines = session_->run().view().detail()->contactLines;
        QVERIFY(!lines.empty() && lines.size() % 2 == 0);
        // near skin, everyone of them
        for (std::size_t i = 0; i < lines.size(); i += 20) {
            float nearest = 1e9f;
            for (const Vec3& p : session_->run().view().frame()->position)
                nearest = std::min(nearest, (p - lines[i]).norm());
            QVERIFY(nearest < 0.05f);
        }
        w_->choose(QStringLiteral("showMore"), QStringLiteral("contact lines"));
        QVERIFY(!view_->shown().contactLines);
        QVERIFY(QTest::qWaitFor(
            [&] {
                return session_->run().view().detail() &&
                       session_->run().view().detail()->contactLines.empty();
            },
            60000));
    }

    void aLimbOrARegionAlone() {
        atElbow();
        comeToRest();
        const std::size_t whole = view_->shownTriangleCount();
        QTest::keyClick(w_->window->review()->strips(), Qt::Key_I);
        QTRY_VERIFY(view_->shownTriangleCount() < whole);
        const std::size_t limb = view_->shownTriangleCount();
        QTest::keyClick(w_->window->review()->strips(), Qt::Key_I);
        QTRY_VERIFY(view_->shownTriangleCount() < limb);
        const std::size_t region = view_->shownTriangleCount();
        QCOMPARE(view_->shown().isolation, Isolation::Region);
        QVERIFY2(whole > limb && limb > region && region > 100,
                 qPrintable(QStringLiteral("%1 %2 %3").arg(whole).arg(limb).arg(region)));
        // and what is left without them
        w_->choose(QStringLiteral("showMore"), QStringLiteral("without this region"));
        QCOMPARE(view_->shownTriangleCount(), whole - region);
        w_->choose(QStringLiteral("showMore"), QStringLiteral("without this limb"));
        QCOMPARE(view_->shownTriangleCount(), whole - limb);
        w_->choose(QStringLiteral("showMore"), QStringLiteral("only this joint's region"));
        // it follows the motion
        const int knee = w_->motion("right-knee-flex");
        session_->run().setPose(knee, 60);
        QVERIFY(w_->arrived());
        QTRY_COMPARE(
            view_->shownTriangleCount(),
            session_->build().subject()->zones[std::size_t(session_->run().joint())].triangles.size());
        QTest::keyClick(w_->window->review()->strips(), Qt::Key_I);
        QTRY_COMPARE(view_->shownTriangleCount(), whole);
    }

    void aPartAlone() {
        const auto& parts = session_->build().subject()->character->parts;
        w_->choose(QStringLiteral("parts"), QStringLiteral("only ") + QString::fromStdString(parts[1].name));
        QCOMPARE(view_->shownTriangleCount(), std::size_t(parts[1].triangleCount));
        w_->choose(QStringLiteral("parts"), QStringLiteral("show all"));
        QVERIFY(view_->shownTriangleCount() > parts[1].triangleCount);
    }

    // Brushed, taken back, brushed again, logged in one's own words, and undone.
    void markedWithTheBrushAndLogged() {
        atElbow();
        QVERIFY(w_->detailed());
        QTest::keyClick(w_->window->review()->strips(), Qt::Key_B);
        QCOMPARE(marking_->tool(), MarkTool::Brush);
        QVERIFY(w_->find<QWidget>(QStringLiteral("markBar"))->isVisible());
        comeToRest();
        auto* log = w_->find<QPushButton>(QStringLiteral("markLog"));
        QVERIFY(!log->isEnabled());
        const QPoint at =
            view_
                ->project(
                    session_->run().view().frame()->jointPosition[session_->run().joint()].cast<double>())
                .toPoint();
        const auto stroke = [&](QPoint from, QPoint to, Qt::KeyboardModifiers with = {}) {
            QTest::mousePress(view_, Qt::LeftButton, with, from);
            for (int i = 1; i <= 5; ++i) {
                const QPoint here = from + (to - from) * i / 5;
                QMouseEvent move(QEvent::MouseMove, here, view_->mapToGlobal(here), Qt::NoButton,
                                 Qt::LeftButton, with);
                QApplication::sendEvent(view_, &move);
            }
            QTest::mouseRelease(view_, Qt::LeftButton, with, to);
        };
        stroke(at, at + QPoint(18, 0));
        const auto first = marking_->marked();
        QVERIFY(first.size() > 3);
        QCOMPARE(w_->find<QLabel>(QStringLiteral("markCount"))->text(),
                 QStringLiteral("%1 triangles").arg(first.size()));
        // a broader brush marks more, and with Ctrl it takes away
        w_->find<QSlider>(QStringLiteral("markSize"))->setValue(60);
        stroke(at, at);
        const auto second = marking_->marked();
        QVERIFY(second.size() > first.size());
        stroke(at, at, Qt::ControlModifier);
        QVERIFY(marking_->marked().size() < second.size());
        for (int i = 0; i < 2; ++i)
            QTest::keyClick(w_->window.get(), Qt::Key_Z, Qt::ControlModifier);
        QCOMPARE(marking_->marked(), first);
        QVERIFY(!w_->find<QWidget>(QStringLiteral("spotCard"))->isVisible()); // marking is no pressing
        const Camera camera = view_->camera();
        QCOMPARE(camera.yaw, view_->camera().yaw);

        QTest::mouseClick(log, Qt::LeftButton);
        auto* note = w_->find<QLineEdit>(QStringLiteral("eyeNote"));
        QTest::keyClicks(note, QStringLiteral("the sleeve's seam looks broken"));
        QTest::mouseClick(w_->find<QPushButton>(QStringLiteral("eyeDo")), Qt::LeftButton);
        comeToRest();
        QCOMPARE(session_->log().defects().size(), 1);
        const Defect d = *session_->log().whole(session_->log().defects().front().id);
        QVERIFY2(d.facts.what.contains(QStringLiteral("seen by eye: the sleeve's seam looks broken")),
                 qPrintable(d.facts.what));
        QCOMPARE(d.facts.motion, QStringLiteral("left-elbow-flex"));
        QCOMPARE(d.facts.degrees, session_->run().poseAt());
        QVERIFY(d.facts.marks.contains("\"parts\""));
        QVERIFY(marking_->marked().empty());
        QCOMPARE(marking_->tool(), MarkTool::None);
        session_->undoStack().undo(); // what was marked is there again
        QCOMPARE(marking_->marked(), first);
        session_->undoStack().undo(); // and the defect is withdrawn
        QCOMPARE(session_->log().defects().front().state, DefectState::Withdrawn);
        marking_->clear();
    }

    // Round the joint on the screen: what is marked lies inside the loop and faces the eye.
    void markedWithTheLasso() {
        atElbow();
        marking_->setTool(MarkTool::Lasso);
        const QPoint at =
            view_
                ->project(
                    session_->run().view().frame()->jointPosition[session_->run().joint()].cast<double>())
                .toPoint();
        QPolygon loop;
        for (int i = 0; i < 24; ++i)
            loop << at + QPoint(int(40 * std::cos(i * kPi / 12)), int(40 * std::sin(i * kPi / 12)));
        QTest::mousePress(view_, Qt::LeftButton, {}, loop.front());
        for (const QPoint& p : loop) {
            QMouseEvent move(QEvent::MouseMove, p, view_->mapToGlobal(p), Qt::NoButton, Qt::LeftButton, {});
            QApplication::sendEvent(view_, &move);
        }
        QTest::mouseRelease(view_, Qt::LeftButton, {}, loop.back());
        const auto marked = marking_->marked();
        QVERIFY(marked.size() > 10);
        const auto f = session_->run().view().frame();
        const auto& s = *session_->build().subject();
        std::size_t facing = 0;
        for (std::uint32_t t : marked) {
            Vec3d middle = Vec3d::Zero(), normal = Vec3d::Zero();
            for (std::uint32_t v : s.surface.triangles[t]) {
                middle += f->position[s.surface.representative(v)].cast<double>() / 3;
                normal += f->normal[s.surface.representative(v)].cast<double>();
            }
            QVERIFY((view_->project(middle) - QPointF(at)).manhattanLength() < 60);
            facing += normal.dot(view_->camera().eye(bodyFrame(*s.character, s.roles)) - middle) > 0;
        }
        QVERIFY(facing > 0.9 * double(marked.size()));
        marking_->clear();
        QVERIFY(marking_->marked().empty());
    }

    // By keys alone.
    void markedFromTheCommandBox() {
        atElbow();
        w_->command(QStringLiteral("Mark the skin around the joint"));
        QCOMPARE(marking_->marked().size(),
                 session_->build().subject()->zones[std::size_t(session_->run().joint())].triangles.size());
        w_->command(QStringLiteral("Clear what is marked"));
        QVERIFY(marking_->marked().empty());
    }

    void sweepRestsOnTheWorstAngle() {
        const int elbow = w_->motion("left-elbow-flex");
        auto* model = w_->window->review()->findChild<StripModel*>();
        const double peak = model->row(model->indexOf(elbow)).left.peak;
        QVERIFY(peak > 0);
        session_->run().setPose(elbow, 0);
        Sweep* sweep = w_->window->review()->sweep();
        w_->choose(QStringLiteral("sweep"), QStringLiteral("fast: 0.7 s"));
        w_->choose(QStringLiteral("sweep"), QStringLiteral("rest on the worst angle"));
        QVERIFY(sweep->pausesOnPeaks());
        w_->choose(QStringLiteral("sweep"), QStringLiteral("this motion"));
        QVERIFY(sweep->running());
        QVERIFY(QTest::qWaitFor([&] { return session_->run().poseAt() == peak; }, 60000));
        QVERIFY(sweep->resting());
        bool rested = true; // until it moves on
        const auto moved = connect(&session_->run(), &RunDesk::poseChanged, this,
                                   [&] { rested = rested && !sweep->resting(); });
        QVERIFY(QTest::qWaitFor([&] { return session_->run().poseAt() != peak; }, 60000));
        disconnect(moved);
        QVERIFY(rested && !sweep->resting());
        w_->choose(QStringLiteral("sweep"), QStringLiteral("stop"));
        QVERIFY(!sweep->running());
        // kept for the next start
        QCOMPARE(QSettings().value(QStringLiteral("sweepSeconds")).toDouble(), 0.7);
        sweep->setPausesOnPeaks(false);
    }
};

HOBBLE_TEST(TestReviewStage)
#include "test_review_stage.moc"
