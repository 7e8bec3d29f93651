#pragma once
// The real window on demo data, for tests that press, type and drag in it.
#include "app/main_window.h"
#include "app/theme.h"
#include "support/suite.h"

#include <QApplication>
#include <QDir>
#include <QLabel>
#include <QLineEdit>
#include <QMenu>
#include <QPushButton>
#include <QSettings>
#include <QStandardPaths>
#include <QTemporaryDir>
#include <QTest>

#include <utility>

namespace hobble::test {

/// All that was posted (layouts, styles, paints, what a click asked for) is done, and what that posted in
/// turn. An end of events, not a time; what a worker brings is waited for by what it brings.
inline void comeToRest() {
    for (int round = 0; round < 8; ++round) {
        QCoreApplication::sendPostedEvents();
        QCoreApplication::sendPostedEvents(nullptr, QEvent::DeferredDelete);
        QCoreApplication::processEvents(QEventLoop::AllEvents);
    }
}

class TestWindow {
public:
    /// `name` keeps settings and caches of one test away from another's; they start empty. With
    /// `measuredOnce` what one case of a program measured is there for the next, and under the runner what
    /// any test has measured in this round, where cases are not about measuring.
    explicit TestWindow(const QString& name, bool measuredOnce = false) {
        QStandardPaths::setTestModeEnabled(true);
        QCoreApplication::setOrganizationName(QStringLiteral("HobbleTests"));
        QCoreApplication::setApplicationName(name);
        QSettings().clear();
        QSettings().setValue(QStringLiteral("author"), QStringLiteral("lead")); // or it would be asked for
        QFile::remove(RunDesk::limitsPath());
        static QStringList clean; // of what an earlier round of the same tests kept
        if (!clean.contains(name))
            QDir(QStandardPaths::writableLocation(QStandardPaths::AppConfigLocation)).removeRecursively();
        clean << name;
        static bool first = true;
        const QString caches = QStandardPaths::writableLocation(QStandardPaths::CacheLocation);
        if (!measuredOnce || std::exchange(first, false))
            QDir(caches).removeRecursively();
        const QString ofAllTests = qEnvironmentVariable("HOBBLE_TESTS_MEASURED");
        if (measuredOnce && !ofAllTests.isEmpty()) {
            QDir().mkpath(caches);
            QDir().mkpath(ofAllTests);
            QFile::link(ofAllTests, caches + QStringLiteral("/measured"));
        }
        Theme::apply(false);
        session = std::make_unique<Session>();
        window = std::make_unique<MainWindow>(session.get());
        window->show();
        if (!QTest::qWaitForWindowExposed(window.get()))
            qFatal("the window does not come up");
        QApplication::setActiveWindow(window.get());
    }
    ~TestWindow() {
        window.reset();
        session.reset();
    }

    bool openAndRun(const QString& path) {
        session->build().open(path);
        return finished() && arrived();
    }
    bool finished() const {
        return QTest::qWaitFor([this] { return session->run().run() && !session->jobs().busy(); }, 180000);
    }
    bool arrived() const {
        return QTest::qWaitFor(
            [this] {
                const auto f = session->run().view().frame();
                return f && f->motion == session->run().motion() && f->at == session->run().poseAt();
            },
            60000);
    }
    bool detailed() const {
        return arrived() && QTest::qWaitFor(
                                [this] {
                                    const auto d = session->run().view().detail();
                                    return d && d->frame->at == session->run().poseAt() &&
                                           d->kind == session->run().view().wish().values;
                                },
                                60000);
    }
    int motion(const char* id) const {
        for (std::size_t m = 0; m < session->plan().plan().motions.size(); ++m)
            if (session->plan().plan().motions[m].id == id)
                return static_cast<int>(m);
        qFatal("no motion %s", id);
    }
    template <class W> W* find(const QString& name) const {
        W* found = window->findChild<W*>(name);
        if (!found)
            qFatal("there is no %s", qPrintable(name));
        return found;
    }
    /// Opens a button's menu, as pressing it would, and chooses an entry by its words.
    void choose(const QString& button, const QString& words) const {
        QMenu* menu = find<QPushButton>(button)->menu();
        emit menu->aboutToShow();
        for (QAction* a : menu->actions())
            if (a->text() == words)
                return a->trigger();
        qFatal("there is no %s under %s", qPrintable(words), qPrintable(button));
    }
    /// Types into the command box and takes what it offers.
    void command(const QString& words) const {
        auto* box = find<QLineEdit>(QStringLiteral("command"));
        QTest::keyClick(window.get(), Qt::Key_K, Qt::ControlModifier);
        QTest::keyClicks(box, words);
        QTest::keyClick(box, Qt::Key_Return);
        comeToRest();
    }
    static QStringList wordsOf(const QWidget* w) {
        QStringList out;
        for (const QLabel* l : w->findChildren<QLabel*>())
            if (l->isVisible() && !l->text().isEmpty())
                out << l->text();
        return out;
    }

    QTemporaryDir folder;
    std::unique_ptr<Session> session;
    std::unique_ptr<MainWindow> window;
};

} // namespace hobble::test
