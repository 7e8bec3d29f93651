// The Review page read back: every measure with its unit, strips chosen by measure and severity, what moves a
// spot that is pressed, and findings accepted or dismissed for a reason. In the real window.
#include "core/run/spot.h"
#include "core/words/finding_words.h"
#include "support/window_test.h"

#include <QAction>
#include <QComboBox>
#include <QDir>
#include <QFileDialog>
#include <QLabel>
#include <QLineEdit>
#include <QMenu>
#include <QPushButton>
#include <QScreen>
#include <QStandardPaths>
#include <QTemporaryDir>
#include <QTest>
#include <QTimer>

using namespace hobble;
using namespace hobble::test;

class TestReviewReading : public QObject {
    Q_OBJECT

    std::unique_ptr<TestWindow> w_;
    Session* session_ = nullptr;
    MainWindow* window_ = nullptr;

    static QStringList wordsOf(const QWidget* w) { return TestWindow::wordsOf(w); }
    template <class W> W* find(const QString& name) const { return w_->find<W>(name); }
    bool arrived() const { return w_->arrived(); }
    int motion(const char* id) const { return w_->motion(id); }
    int shownReadings() const {
        int n = 0;
        for (QWidget* w : window_->review()->findChildren<QWidget*>())
            n += w->objectName().startsWith(QStringLiteral("reading-")) && w->isVisible();
        return n;
    }

private slots:
    void initTestCase() {
        w_ = std::make_unique<TestWindow>(QStringLiteral("reading"), true);
        session_ = w_->session.get();
        window_ = w_->window.get();
        session_->log().open(w_->folder.filePath(QStringLiteral("log.sqlite")));
        QVERIFY(w_->openAndRun(QStringLiteral(HOBBLE_DEMO_DIR "/builds/3/badger-postmaster.glb")));
    }
    void cleanupTestCase() { w_.reset(); }

    void theWindowFitsTheScreen() {
        QVERIFY2(window_->height() <= 800 && window_->width() <= 1280,
                 qPrintable(QStringLiteral("%1 × %2").arg(window_->width()).arg(window_->height())));
        QVERIFY(window_->minimumSizeHint().height() <= 800);
    }

    void everyMeasureWithItsUnit() {
        const int elbow = motion("right-elbow-flex");
        session_->run().setPose(elbow, session_->plan().plan().motions[elbow].limit());
        QVERIFY(arrived());
        comeToRest();
        const auto& steps = session_->run().run()->motions[elbow].steps;
        const ZoneMeasures& peak = steps[steps.size() - 2].joints[0].measures;
        // what comes near a limit is there at first sight, in millimetres
        QWidget* gap = find<QWidget>(QStringLiteral("reading-gap"));
        QVERIFY(gap->isVisible());
        const QString mm = QStringLiteral("%1 mm").arg(
            1000 * *peak.gap * session_->build().subject()->body.height, 0, 'f', 0);
        QVERIFY2(wordsOf(gap).contains(mm), qPrintable(wordsOf(gap).join(' ') + " not " + mm));
        // the rest on demand
        const int few = shownReadings();
        QVERIFY(few >= 4 && few <= 7);
        QPushButton* more = find<QPushButton>(QStringLiteral("readingMore"));
        QVERIFY(more->isVisible() && more->text().startsWith(QStringLiteral("all ")));
        QTest::mouseClick(more, Qt::LeftButton);
        QVERIFY(shownReadings() > few);
        QVERIFY(find<QWidget>(QStringLiteral("reading-leak"))->isVisible());
        QVERIFY(window_->height() <= 800);
        QTest::mouseClick(more, Qt::LeftButton);
        QCOMPARE(shownReadings(), few);
        // in neutral nothing is worse than its limit
        session_->run().setPose(elbow, 0);
        QVERIFY(arrived());
        QVERIFY(!wordsOf(find<QWidget>(QStringLiteral("reading-gap"))).contains(mm));
    }

    void stripsByMeasureAndSeverity() {
        auto* model = window_->review()->findChild<StripModel*>();
        const auto rows = [&] {
            int n = 0;
            for (int g = 0; g < model->rowCount(); ++g)
                n += model->rowCount(model->index(g, 0));
            return n;
        };
        const int all = rows();
        auto* severity = find<QComboBox>(QStringLiteral("stripSeverity"));
        auto* measure = find<QComboBox>(QStringLiteral("stripMeasure"));
        QVERIFY(severity && measure);
        severity->setFocus();
        QTest::keyClick(severity, Qt::Key_End); // blocking
        const int blocking = rows();
        QVERIFY(blocking > 0 && blocking < all);
        for (int g = 0; g < model->rowCount(); ++g)
            for (int r = 0; r < model->rowCount(model->index(g, 0)); ++r) {
                const StripRow& row = model->row(model->index(r, 0, model->index(g, 0)));
                QCOMPARE(std::max({row.left.severity, row.right.severity, row.single.severity}), 4);
            }
        QTest::keyClick(severity, Qt::Key_Home);
        QCOMPARE(rows(), all);
        measure->setCurrentIndex(measure->findText(QStringLiteral("pinch")));
        const int elbow = motion("left-elbow-flex");
        const StripRow& row = model->row(model->indexOf(elbow));
        double most = 0;
        for (const StepResult& step : session_->run().run()->motions[elbow].steps)
            if (const auto pinch = step.joints[0].measures.pinch)
                most = std::max(most, troubleOf(Kind::Pinch, *pinch,
                                                session_->run().limits().of(Kind::Pinch, Role::Elbow)));
        QVERIFY(std::abs(row.left.worst - most) < 1e-9);
        measure->setCurrentIndex(0);
    }

    void whatMovesThis() {
        session_->run().showFinding(0);
        QVERIFY(arrived());
        Viewport* view = window_->review()->viewport();
        view->settle();
        QTest::mouseClick(view, Qt::LeftButton, {}, QPoint(3, 3)); // beside the body: nothing to tell
        QWidget* card = find<QWidget>(QStringLiteral("spotCard"));
        QVERIFY(!card->isVisible());
        // on the skin, wherever the joint is
        const Vec3d at =
            session_->run().view().frame()->jointPosition[session_->run().joint()].cast<double>();
        std::uint32_t pressed = ~0u;
        const auto there = connect(view, &Viewport::skinPressed, this, [&](std::uint32_t v) { pressed = v; });
        QTest::mouseClick(view, Qt::LeftButton, {}, view->project(at).toPoint());
        disconnect(there);
        QVERIFY(pressed != ~0u && card->isVisible());
        const auto influences = influencesAt(*session_->build().subject(), pressed);
        QVERIFY(!influences.empty());
        for (const SpotInfluence& i : influences) {
            auto* b = find<QPushButton>(QStringLiteral("influence-%1").arg(i.joint));
            QVERIFY(b && b->isVisible() &&
                    b->text().contains(QString::fromStdString(
                        session_->build().subject()->character->skeleton.name[i.joint])));
        }
        // choosing one shows its weights
        const int joint = influences.back().joint;
        QTest::mouseClick(find<QPushButton>(QStringLiteral("influence-%1").arg(joint)), Qt::LeftButton);
        QCOMPARE(view->colouring(), Colouring::Weight);
        QCOMPARE(view->weightJoint(), joint);
        // and a motion goes there
        const auto first = [&]() -> QPushButton* { // they are looked up off the window's thread
            for (QPushButton* b : card->findChildren<QPushButton*>())
                if (b->isVisible() && b->objectName().startsWith(QStringLiteral("spotMotion-")))
                    return b;
            return nullptr;
        };
        QVERIFY(QTest::qWaitFor([&] { return first() != nullptr; }, 60000));
        // it can be read: ink on paper, nothing cut off
        comeToRest();
        const QImage looks = card->grab().toImage();
        double darkest = 1;
        for (int y = 0; y < looks.height(); ++y)
            for (int x = 0; x < looks.width(); ++x)
                darkest = std::min(darkest, double(looks.pixelColor(x, y).lightnessF()));
        QVERIFY2(darkest < 0.35, qPrintable(QString::number(darkest)));
        for (const QPushButton* b : card->findChildren<QPushButton*>())
            if (b->isVisible())
                QVERIFY2(b->height() >= b->sizeHint().height() && b->geometry().bottom() < card->height(),
                         qPrintable(b->text()));
        const int wanted = first()->objectName().mid(11).toInt();
        const QString said = first()->text();
        QTest::mouseClick(first(), Qt::LeftButton);
        QCOMPARE(session_->run().motion(), wanted);
        QVERIFY2(said.endsWith(QStringLiteral(" at %1°").arg(session_->run().poseAt(), 0, 'f', 0)),
                 qPrintable(said));
        QTest::mouseClick(find<QPushButton>(QStringLiteral("spotClose")), Qt::LeftButton);
        QVERIFY(!card->isVisible());
        auto* colours = find<QComboBox>(QStringLiteral("colourBy"));
        colours->setFocus();
        QCOMPARE(colours->currentText(), QStringLiteral("weight"));
        QTest::keyClick(colours, Qt::Key_Down);
        QCOMPARE(view->colouring(), Colouring::Influences);
        QTest::keyClick(colours, Qt::Key_Home);
        QCOMPARE(view->colouring(), Colouring::Strain);
        QCOMPARE(view->weightJoint(), session_->run().joint());
    }

    // The coat away, what is pressed is the body below it.
    void partsThatAreHiddenCannotBePressed() {
        const Character& c = *session_->build().subject()->character;
        Viewport* view = window_->review()->viewport();
        session_->run().showFinding(0);
        QVERIFY(arrived());
        view->settle();
        std::uint32_t pressed = ~0u;
        const auto there = connect(view, &Viewport::skinPressed, this, [&](std::uint32_t v) { pressed = v; });
        const QPoint at =
            view->project(
                    session_->run().view().frame()->jointPosition[session_->run().joint()].cast<double>())
                .toPoint();
        QTest::mouseClick(view, Qt::LeftButton, {}, at);
        QVERIFY(pressed != ~0u);
        const int first = c.partOfVertex(pressed);
        auto* button = find<QPushButton>(QStringLiteral("parts"));
        QMenu* menu = button->menu();
        emit menu->aboutToShow();
        const auto entry = [&](const QString& name) {
            for (QAction* a : menu->actions())
                if (a->text() == name)
                    return a;
            return static_cast<QAction*>(nullptr);
        };
        entry(QString::fromStdString(c.parts[std::size_t(first)].name))->trigger();
        QVERIFY(!view->partShown(std::size_t(first)));
        pressed = ~0u;
        QTest::mouseClick(view, Qt::LeftButton, {}, at);
        QVERIFY(pressed == ~0u || c.partOfVertex(pressed) != first);
        entry(QStringLiteral("show all"))->trigger();
        QVERIFY(view->partShown(std::size_t(first)));
        QTest::mouseClick(view, Qt::LeftButton, {}, at);
        QCOMPARE(int(c.partOfVertex(pressed)), int(first));
        disconnect(there);
        QTest::mouseClick(find<QPushButton>(QStringLiteral("spotClose")), Qt::LeftButton);
    }

    void turningTheViewIsNoPress() {
        Viewport* view = window_->review()->viewport();
        const QPoint middle = view->rect().center();
        QTest::mousePress(view, Qt::LeftButton, {}, middle);
        QTest::mouseMove(view, middle + QPoint(40, 5));
        QTest::mouseRelease(view, Qt::LeftButton, {}, middle + QPoint(40, 5));
        QVERIFY(!find<QWidget>(QStringLiteral("spotCard"))->isVisible());
    }

    void onsetAndPeakAreLinks() {
        session_->run().showFinding(0);
        QVERIFY(arrived());
        comeToRest();
        const Finding& f = session_->run().run()->findings[0];
        auto* onset = find<QPushButton>(QStringLiteral("readingOnset"));
        auto* peak = find<QPushButton>(QStringLiteral("readingPeak"));
        QVERIFY(onset->isVisible() && peak->isVisible());
        QCOMPARE(peak->text(), QStringLiteral("worst at %1°").arg(f.peak, 0, 'f', 0));
        QTest::mouseClick(onset, Qt::LeftButton);
        QVERIFY(session_->run().poseAt() <= f.onset + 1e-9);
        QTest::mouseClick(peak, Qt::LeftButton);
        QCOMPARE(session_->run().poseAt(), f.peak);
    }

    // One motion after another, each there and back, and no farther than the limb.
    void sweepingALimb() {
        const int first = motion("left-elbow-flex");
        const Limb limb = session_->plan().plan().motions[std::size_t(first)].limb;
        session_->run().setPose(first, 0);
        window_->review()->strips()->setFocus();
        std::vector<int> seen;
        connect(&session_->run(), &RunDesk::poseChanged, this, [&] {
            if (seen.empty() || seen.back() != session_->run().motion())
                seen.push_back(session_->run().motion());
        });
        QTest::keyClick(window_->review()->strips(), Qt::Key_Space, Qt::ShiftModifier);
        QVERIFY(window_->review()->sweep()->running());
        const bool on = QTest::qWaitFor([&] { return seen.size() >= 2; }, 60000);
        disconnect(&session_->run(), &RunDesk::poseChanged, this, nullptr);
        QVERIFY2(on, qPrintable(QStringLiteral("at %1° of motion %2")
                                    .arg(session_->run().poseAt())
                                    .arg(session_->run().motion())));
        QTest::keyClick(window_->review()->strips(), Qt::Key_Space, Qt::ShiftModifier);
        QVERIFY(!window_->review()->sweep()->running());
        for (int m : seen)
            QVERIFY(session_->plan().plan().motions[std::size_t(m)].limb == limb);
    }

    void pictureAndMeshGoOut() {
        const auto saveAs = [this](const QString& command, const QString& name) {
            const QString path = w_->folder.filePath(name);
            QTimer::singleShot(300, this, [path] { // the dialog holds the stage until it is answered
                for (QWidget* w : QApplication::topLevelWidgets())
                    if (auto* dialog = qobject_cast<QFileDialog*>(w); dialog && dialog->isVisible()) {
                        auto* line = dialog->findChild<QLineEdit*>();
                        line->setText(path);
                        QTest::keyClick(line, Qt::Key_Return);
                    }
            });
            for (QAction* a : window_->findChildren<QAction*>())
                if (a->text() == command)
                    a->trigger();
            return path;
        };
        const QString png = saveAs(QStringLiteral("Save the picture"), QStringLiteral("a pose.png"));
        QVERIFY(QImage(png).width() > 200);
        const QString obj = saveAs(QStringLiteral("Save the posed mesh"), QStringLiteral("a pose.obj"));
        QFile file(obj);
        QVERIFY(file.open(QIODevice::ReadOnly));
        std::size_t vertices = 0;
        for (const QByteArray& line : file.readAll().split('\n'))
            vertices += line.startsWith("v ");
        QCOMPARE(vertices, session_->build().subject()->character->vertexCount());
    }

    void acceptedAndDismissedForAReason() {
        const int first = session_->run().run()->faults[0].signs.front();
        session_->run().showFinding(first);
        QVERIFY(arrived());
        comeToRest();
        const auto press = [&](int fault, const char* verb) {
            QWidget* card = find<QWidget>(QStringLiteral("fault-%1").arg(fault));
            QVERIFY(card);
            QTest::mouseClick(card->findChild<QPushButton*>(QLatin1String(verb)), Qt::LeftButton);
        };
        press(0, "settle-accepted");
        auto* reason = find<QLineEdit>(QStringLiteral("settleReason"));
        auto* yes = find<QPushButton>(QStringLiteral("settleDo"));
        QVERIFY(!yes->isEnabled()); // not without a reason
        QTest::keyClicks(reason, QStringLiteral("the coat is cut anew next week"));
        QVERIFY(yes->isEnabled());
        QTest::mouseClick(yes, Qt::LeftButton);
        QCOMPARE(session_->log().defects().size(), 1);
        const Defect d = session_->log().defects().front();
        QCOMPARE(d.state, DefectState::Accepted);
        QCOMPARE(session_->run().defectOf(first), d.id);
        const auto history = session_->log().historyOf(d.id);
        QVERIFY(std::any_of(history->begin(), history->end(), [](const DefectEvent& e) {
            return e.field == QLatin1String("state") && e.reason.contains(QStringLiteral("cut anew"));
        }));
        // and it can be undone
        session_->undoStack().undo();
        QCOMPARE(session_->log().defects().front().state, DefectState::Withdrawn);
        QCOMPARE(session_->run().defectOf(first), qint64(0));
        session_->undoStack().redo();
        QCOMPARE(session_->run().defectOf(first), d.id);
    }

    // Its other signs are folded beneath a fault: pressed open, each leads to where it is seen, and the fault
    // stays the chosen one; logging one sign logs the fault.
    void signsAreFolded() {
        const auto run = session_->run().run();
        const auto it = std::find_if(run->faults.begin(), run->faults.end(),
                                     [](const Fault& f) { return f.signs.size() > 2; });
        QVERIFY(it != run->faults.end());
        const auto number = it - run->faults.begin();
        session_->run().showFinding(it->signs.front());
        QVERIFY(arrived());
        const auto card = [&] { return find<QWidget>(QStringLiteral("fault-%1").arg(number)); };
        QTRY_VERIFY(card());
        auto* fold = card()->findChild<QPushButton*>(QStringLiteral("signs"));
        QCOMPARE(fold->text(), QStringLiteral("%1 more signs").arg(it->signs.size() - 1));
        const int second = it->signs[1];
        const auto row = [&] { return card()->findChild<QLabel*>(QStringLiteral("sign-%1").arg(second)); };
        QVERIFY(row() && !row()->isVisible());
        QTest::mouseClick(fold, Qt::LeftButton);
        QTRY_VERIFY(row()->isVisible());
        QVERIFY(row()->text().contains(QString::fromStdString(
            sentence(*session_->build().subject(), run->plan, run->findings[std::size_t(second)]))));
        QTest::mouseClick(row(), Qt::LeftButton);
        QCOMPARE(session_->run().finding(), second);
        QCOMPARE(session_->run().poseAt(), run->findings[std::size_t(second)].peak);
        QTRY_VERIFY(card() && card()->property("chosen").toBool());
        session_->run().logDefect(it->signs.front(), "{}", {});
        QVERIFY(session_->run().defectOf(second) > 0);
        QCOMPARE(session_->run().defectOf(second), session_->run().defectOf(it->signs.front()));
    }
};

HOBBLE_TEST(TestReviewReading)
#include "test_review_reading.moc"
