// Limits in the real window: typed, judged at once, undone, kept; and a run that was stopped goes on.
#include "app/main_window.h"
#include "app/review/limits_dialog.h"
#include "app/theme.h"
#include "io/limits_json.h"
#include "support/suite.h"

#include <QComboBox>
#include <QDir>
#include <QLabel>
#include <QLineEdit>
#include <QPushButton>
#include <QSignalSpy>
#include <QStandardPaths>
#include <QTableWidget>
#include <QTest>

using namespace hobble;

class TestLimits : public QObject {
    Q_OBJECT

    std::unique_ptr<Session> session_;
    std::unique_ptr<MainWindow> window_;

    // The run shown is judged by the limits there are.
    void quiet() {
        QVERIFY(QTest::qWaitFor(
            [this] {
                const auto& run = session_->run().run();
                return run && !session_->jobs().busy() &&
                       (run->cancelled || run->limits == session_->run().limits());
            },
            60000));
    }
    int found(Kind kind, std::optional<Role> role = {}) const {
        int n = 0;
        for (const Finding& f : session_->run().run()->findings)
            n += f.kind == kind && (!role || f.role == *role);
        return n;
    }
    LimitsDialog* dialog() const { return window_->findChild<LimitsDialog*>(); }
    template <class W> W* part(const char* name) const {
        return dialog()->findChild<W*>(QLatin1String(name));
    }

    // As a person does: to the cell, type, Enter.
    void type(Kind kind, int column, const QString& text) {
        auto* table = part<QTableWidget>("limitsTable");
        const int row = static_cast<int>(std::find(kKinds.begin(), kKinds.end(), kind) - kKinds.begin());
        table->scrollToItem(table->item(row, column));
        quiet(); // a run that comes in fills the table anew, and closes what is typed into
        QTRY_VERIFY(!table->viewport()->findChild<QLineEdit*>()); // that of the cell before is gone
        const QPoint at = table->visualItemRect(table->item(row, column)).center();
        QTest::mouseClick(table->viewport(), Qt::LeftButton, {}, at);
        QTest::mouseDClick(table->viewport(), Qt::LeftButton, {}, at);
        QLineEdit* editor = table->viewport()->findChild<QLineEdit*>();
        QVERIFY(editor);
        editor->selectAll();
        QTest::keyClicks(editor, text);
        QCOMPARE(editor->text(), text);
        QTest::keyClick(editor, Qt::Key_Return);
        QTRY_VERIFY(!table->viewport()->findChild<QLineEdit*>());
        QCoreApplication::processEvents(); // the limit is set by an event of its own, after the editor's
        quiet();
    }

private slots:
    void initTestCase() {
        QFile::remove(RunDesk::limitsPath());
        QDir(QStandardPaths::writableLocation(QStandardPaths::CacheLocation)).removeRecursively();
        Theme::apply(false);
    }
    void init() {
        session_ = std::make_unique<Session>();
        window_ = std::make_unique<MainWindow>(session_.get());
        window_->show();
        QVERIFY(QTest::qWaitForWindowExposed(window_.get()));
        QApplication::setActiveWindow(window_.get());
        session_->build().open(QStringLiteral(HOBBLE_DEMO_DIR "/badger-postmaster.glb"));
        quiet();
    }
    void cleanup() {
        window_.reset();
        session_.reset();
        QFile::remove(RunDesk::limitsPath());
    }

    void findingsComeAndGo() {
        const std::size_t before = session_->run().run()->findings.size();
        const int stretches = found(Kind::Stretch);
        QVERIFY(stretches > 0);
        session_->run().selectFinding(static_cast<int>(before) - 1);
        QTest::keyClick(window_.get(), Qt::Key_L, Qt::ControlModifier);
        QVERIFY(dialog() && dialog()->isVisible());
        QVERIFY(part<QLabel>("limitsMessage")->text().contains(QStringLiteral("as before")));

        type(Kind::Stretch, 1, QStringLiteral("1.2"));
        QTRY_VERIFY_WITH_TIMEOUT(found(Kind::Stretch) > stretches, 60000);
        QCOMPARE(session_->run().run()->posesMeasured, std::size_t(0)); // judging measures nothing
        QVERIFY(part<QLabel>("limitsMessage")->text().contains(QStringLiteral("new since")));
        QCOMPARE(session_->run().limits().general.at(Kind::Stretch)[0], 1.2);
        QVERIFY(session_->run().finding() >= 0); // what was looked at is still looked at
        // kept for the next start
        QVERIFY(*readLimits(RunDesk::limitsPath().toStdString()) == session_->run().limits());

        QTest::keyClick(window_.get(), Qt::Key_Z, Qt::ControlModifier);
        quiet();
        QCOMPARE(session_->run().run()->findings.size(), before);
        QVERIFY(session_->run().limits() == Limits::standard());
        QVERIFY(part<QLabel>("limitsMessage")->text().contains(QStringLiteral("as before")));
    }

    void forOneRole() {
        QTest::keyClick(window_.get(), Qt::Key_L, Qt::ControlModifier);
        auto* role = part<QComboBox>("limitsRole");
        role->setCurrentIndex(role->findText(QStringLiteral("finger")));
        const int fingers = found(Kind::Stretch, Role::Finger), others = found(Kind::Stretch) - fingers;
        QVERIFY(fingers > 0 && others > 0);
        type(Kind::Stretch, 4, QStringLiteral("9"));
        type(Kind::Stretch, 3, QStringLiteral("8"));
        type(Kind::Stretch, 2, QStringLiteral("7"));
        type(Kind::Stretch, 1, QStringLiteral("6"));
        QTRY_COMPARE_WITH_TIMEOUT(found(Kind::Stretch, Role::Finger), 0, 60000);
        QCOMPARE(found(Kind::Stretch), others);
        QTest::mouseClick(part<QPushButton>("limitsStandard"), Qt::LeftButton);
        quiet();
        QCOMPARE(found(Kind::Stretch, Role::Finger), fingers);
    }

    void whatCannotBeIsSaidAndChangesNothing() {
        QTest::keyClick(window_.get(), Qt::Key_L, Qt::ControlModifier);
        for (const auto& [text, says] : {std::pair("7", "above the one before"), {"much", "not a number"}}) {
            type(Kind::Stretch, 1, QLatin1String(text));
            QVERIFY2(part<QLabel>("limitsMessage")->text().contains(QLatin1String(says)),
                     qPrintable(part<QLabel>("limitsMessage")->text()));
            QVERIFY(session_->run().limits() == Limits::standard());
            QTRY_COMPARE(part<QTableWidget>("limitsTable")->item(0, 1)->text(), QStringLiteral("1.35"));
        }
    }

    void whatWasStoppedGoesOn() {
        QDir(QStandardPaths::writableLocation(QStandardPaths::CacheLocation)).removeRecursively();
        session_->run().setMethod(Skinning::DualQuaternion); // runs anew: nothing of this is kept yet
        const auto before = session_->run().run();
        QVERIFY(
            QTest::qWaitFor([this] { return window_->findChild<QPushButton*>("stop")->isVisible(); }, 60000));
        QSignalSpy measured(&session_->run(), &RunDesk::motionMeasured);
        QVERIFY(measured.wait(60000)); // something is there to be kept
        QTest::mouseClick(window_->findChild<QPushButton*>("stop"), Qt::LeftButton);
        QVERIFY(QTest::qWaitFor([&] { return session_->run().run() != before && !session_->jobs().busy(); },
                                60000));
        QVERIFY(session_->run().run()->cancelled);
        const auto stopped = session_->run().run();
        QTest::keyClick(window_.get(), Qt::Key_F5);
        QVERIFY(QTest::qWaitFor([&] { return session_->run().run() != stopped && !session_->jobs().busy(); },
                                60000));
        QVERIFY(!session_->run().run()->cancelled);
        QVERIFY(session_->run().run()->posesMeasured < session_->plan().plan().stepCount());
        QVERIFY(session_->run().run()->posesMeasured > 0);
    }
};

HOBBLE_TEST(TestLimits)
#include "test_limits.moc"
