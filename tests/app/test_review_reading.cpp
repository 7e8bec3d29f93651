// The Review page read back: every measure with its unit, strips chosen by measure and severity, what moves a
// spot that is pressed, and findings accepted or dismissed for a reason. In the real window.
#include "app/main_window.h"
#include "app/theme.h"
#include "core/run/spot.h"

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

class TestReviewReading : public QObject {
    Q_OBJECT

    std::unique_ptr<Session> session_;
    std::unique_ptr<MainWindow> window_;
    QTemporaryDir folder_;

    template <class W> W* find(const QString& name) const {
        W* found = window_->findChild<W*>(name);
        if (!found)
            qWarning("there is no %s", qPrintable(name));
        return found;
    }
    void quiet() {
        QVERIFY(QTest::qWaitFor([this] { return session_->run() && !session_->jobs().busy(); }, 60000));
    }
    bool arrived() const {
        return QTest::qWaitFor(
            [this] {
                const auto f = session_->frame();
                return f && f->motion == session_->motion() && f->degrees == session_->degrees();
            },
            5000);
    }
    int motion(const char* id) const {
        for (std::size_t m = 0; m < session_->plan().motions.size(); ++m)
            if (session_->plan().motions[m].id == id)
                return static_cast<int>(m);
        return -1;
    }
    static QStringList wordsOf(const QWidget* w) {
        QStringList out;
        for (const QLabel* l : w->findChildren<QLabel*>())
            if (l->isVisible() && !l->text().isEmpty())
                out << l->text();
        return out;
    }
    int shownReadings() const {
        int n = 0;
        for (QWidget* w : window_->review()->findChildren<QWidget*>())
            n += w->objectName().startsWith(QStringLiteral("reading-")) && w->isVisible();
        return n;
    }

private slots:
    void initTestCase() {
        QStandardPaths::setTestModeEnabled(true);
        QCoreApplication::setOrganizationName(QStringLiteral("HobbleTests"));
        QCoreApplication::setApplicationName(QStringLiteral("reading"));
        QFile::remove(Session::limitsPath());
        QDir(QStandardPaths::writableLocation(QStandardPaths::CacheLocation)).removeRecursively();
        Theme::apply(false);
        session_ = std::make_unique<Session>();
        window_ = std::make_unique<MainWindow>(session_.get());
        window_->show();
        QVERIFY(QTest::qWaitForWindowExposed(window_.get()));
        QApplication::setActiveWindow(window_.get());
        session_->openLog(folder_.filePath(QStringLiteral("log.sqlite")));
        session_->openFile(QStringLiteral(HOBBLE_DEMO_DIR "/builds/3/badger-postmaster.glb"));
        quiet();
        QVERIFY(arrived());
    }
    void cleanupTestCase() {
        window_.reset();
        session_.reset();
    }

    void theWindowFitsTheScreen() {
        QVERIFY2(window_->height() <= 800 && window_->width() <= 1280,
                 qPrintable(QStringLiteral("%1 × %2").arg(window_->width()).arg(window_->height())));
        QVERIFY(window_->minimumSizeHint().height() <= 800);
    }

    void everyMeasureWithItsUnit() {
        const int elbow = motion("right-elbow-flex");
        session_->setPose(elbow, session_->plan().motions[elbow].limit());
        QVERIFY(arrived());
        QTest::qWait(50);
        const auto& steps = session_->run()->motions[elbow].steps;
        const ZoneMeasures& peak = steps[steps.size() - 2].joints[0].measures;
        // what comes near a limit is there at first sight, in millimetres
        QWidget* gap = find<QWidget>(QStringLiteral("reading-gap"));
        QVERIFY(gap->isVisible());
        const QString mm =
            QStringLiteral("%1 mm").arg(1000 * *peak.gap * session_->subject()->body.height, 0, 'f', 0);
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
        session_->setPose(elbow, 0);
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
        for (const StepResult& step : session_->run()->motions[elbow].steps)
            if (const auto pinch = step.joints[0].measures.pinch)
                most = std::max(
                    most, troubleOf(Kind::Pinch, *pinch, session_->limits().of(Kind::Pinch, Role::Elbow)));
        QVERIFY(std::abs(row.left.worst - most) < 1e-9);
        measure->setCurrentIndex(0);
    }

    void whatMovesThis() {
        session_->showFinding(0);
        QVERIFY(arrived());
        Viewport* view = window_->review()->viewport();
        view->settle();
        QTest::qWait(300);
        QTest::mouseClick(view, Qt::LeftButton, {}, QPoint(3, 3)); // beside the body: nothing to tell
        QWidget* card = find<QWidget>(QStringLiteral("spotCard"));
        QVERIFY(!card->isVisible());
        // on the skin, wherever the joint is
        const Vec3d at = session_->frame()->jointPosition[session_->joint()].cast<double>();
        std::uint32_t pressed = ~0u;
        const auto there = connect(view, &Viewport::skinPressed, this, [&](std::uint32_t v) { pressed = v; });
        QTest::mouseClick(view, Qt::LeftButton, {}, view->project(at).toPoint());
        disconnect(there);
        QVERIFY(pressed != ~0u && card->isVisible());
        const auto influences = influencesAt(*session_->subject(), pressed);
        QVERIFY(!influences.empty());
        for (const SpotInfluence& i : influences) {
            auto* b = find<QPushButton>(QStringLiteral("influence-%1").arg(i.joint));
            QVERIFY(b && b->text().contains(
                             QString::fromStdString(session_->subject()->character->skeleton.name[i.joint])));
        }
        // choosing one shows its weights
        const int joint = influences.back().joint;
        QTest::mouseClick(find<QPushButton>(QStringLiteral("influence-%1").arg(joint)), Qt::LeftButton);
        QCOMPARE(view->colouring(), Colouring::Weight);
        QCOMPARE(view->weightJoint(), joint);
        // and a motion goes there
        const auto motions = session_->worstMotionsAt(pressed);
        QVERIFY(!motions.empty());
        QTest::mouseClick(find<QPushButton>(QStringLiteral("spotMotion-%1").arg(motions[0].motion)),
                          Qt::LeftButton);
        QCOMPARE(session_->motion(), motions[0].motion);
        QCOMPARE(session_->degrees(), motions[0].degrees);
        QTest::mouseClick(find<QPushButton>(QStringLiteral("spotClose")), Qt::LeftButton);
        QVERIFY(!card->isVisible());
        QTest::mouseClick(find<QPushButton>(QStringLiteral("colour-3")), Qt::LeftButton);
        QCOMPARE(view->colouring(), Colouring::Influences);
        QTest::mouseClick(find<QPushButton>(QStringLiteral("colour-0")), Qt::LeftButton);
        QCOMPARE(view->weightJoint(), session_->joint());
    }

    // The coat away, what is pressed is the body below it.
    void partsThatAreHiddenCannotBePressed() {
        const Character& c = *session_->subject()->character;
        Viewport* view = window_->review()->viewport();
        session_->showFinding(0);
        QVERIFY(arrived());
        view->settle();
        QTest::qWait(200);
        std::uint32_t pressed = ~0u;
        const auto there = connect(view, &Viewport::skinPressed, this, [&](std::uint32_t v) { pressed = v; });
        const QPoint at =
            view->project(session_->frame()->jointPosition[session_->joint()].cast<double>()).toPoint();
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
        session_->showFinding(0);
        QVERIFY(arrived());
        QTest::qWait(50);
        const Finding& f = session_->run()->findings[0];
        auto* onset = find<QPushButton>(QStringLiteral("readingOnset"));
        auto* peak = find<QPushButton>(QStringLiteral("readingPeak"));
        QVERIFY(onset->isVisible() && peak->isVisible());
        QCOMPARE(peak->text(), QStringLiteral("worst at %1°").arg(f.peakDegrees, 0, 'f', 0));
        QTest::mouseClick(onset, Qt::LeftButton);
        QVERIFY(session_->degrees() <= f.onsetDegrees + 1e-9);
        QTest::mouseClick(peak, Qt::LeftButton);
        QCOMPARE(session_->degrees(), f.peakDegrees);
    }

    // One motion after another, each there and back, and no farther than the limb.
    void sweepingALimb() {
        const int first = motion("left-elbow-flex");
        const std::string limb = session_->plan().motions[std::size_t(first)].limb;
        session_->setPose(first, 0);
        window_->review()->strips()->setFocus();
        std::vector<int> seen;
        connect(session_.get(), &Session::poseChanged, this, [&] {
            if (seen.empty() || seen.back() != session_->motion())
                seen.push_back(session_->motion());
        });
        QTest::keyClick(window_->review()->strips(), Qt::Key_Space, Qt::ShiftModifier);
        QVERIFY(window_->review()->sweeping());
        const bool on = QTest::qWaitFor([&] { return seen.size() >= 2; }, 15000);
        disconnect(session_.get(), &Session::poseChanged, this, nullptr);
        QVERIFY2(on,
                 qPrintable(
                     QStringLiteral("at %1° of motion %2").arg(session_->degrees()).arg(session_->motion())));
        QTest::keyClick(window_->review()->strips(), Qt::Key_Space, Qt::ShiftModifier);
        QVERIFY(!window_->review()->sweeping());
        for (int m : seen)
            QCOMPARE(session_->plan().motions[std::size_t(m)].limb, limb);
    }

    void pictureAndMeshGoOut() {
        const auto saveAs = [this](const QString& command, const QString& name) {
            const QString path = folder_.filePath(name);
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
        QCOMPARE(vertices, session_->subject()->character->vertexCount());
    }

    void acceptedAndDismissedForAReason() {
        session_->showFinding(0);
        QVERIFY(arrived());
        QTest::qWait(50);
        const auto press = [&](int finding, const char* verb) {
            QWidget* card = find<QWidget>(QStringLiteral("finding-%1").arg(finding));
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
        QCOMPARE(session_->defects().size(), 1);
        const Defect d = session_->defects().front();
        QCOMPARE(d.status, QStringLiteral("accepted"));
        QCOMPARE(session_->defectOf(0), d.id);
        const auto history = session_->log()->history(d.id);
        QVERIFY(std::any_of(history->begin(), history->end(), [](const DefectEvent& e) {
            return e.field == QLatin1String("comment") && e.value.contains(QStringLiteral("cut anew"));
        }));
        // and it can be undone
        session_->undoStack().undo();
        QCOMPARE(session_->defects().front().status, QStringLiteral("withdrawn"));
        QCOMPARE(session_->defectOf(0), qint64(0));
        session_->undoStack().redo();
        QCOMPARE(session_->defectOf(0), d.id);
    }

    void theSameFaultIsSaid() {
        const auto& all = session_->run()->findings;
        for (int i = 0; i < static_cast<int>(all.size()); ++i) {
            const bool others = std::any_of(all.begin(), all.end(), [&](const Finding& g) {
                return &g != &all[std::size_t(i)] && g.fault == all[std::size_t(i)].fault;
            });
            if (!others)
                continue;
            session_->showFinding(i);
            QVERIFY(arrived());
            QTest::qWait(50);
            QWidget* card = find<QWidget>(QStringLiteral("finding-%1").arg(i));
            QVERIFY(card);
            QVERIFY2(wordsOf(card).join(' ').contains(QStringLiteral("The same fault: ")),
                     qPrintable(wordsOf(card).join(' ')));
            return;
        }
        QFAIL("no fault shows twice");
    }
};

QTEST_MAIN(TestReviewReading)
#include "test_review_reading.moc"
