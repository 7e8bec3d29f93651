// A server that wants a password: asked for in one line of the window, kept in the desktop's keyring and
// nowhere else, and found there the next time. With a server, a bus and a keyring of the test's own.
#include "log/log_password.h"
#include "support/postgres.h"
#include "support/window_test.h"

#include <QCheckBox>
#include <QDBusConnection>
#include <QDBusConnectionInterface>
#include <QDirIterator>
#include <QProcess>
#include <QSignalSpy>

using namespace hobble;
using namespace hobble::test;

class TestLogPassword : public QObject {
    Q_OBJECT

    const QString secret_ = QStringLiteral("saltmarsh-7-tides");
    QTemporaryDir home_;
    std::unique_ptr<TestWindow> w_;
    std::unique_ptr<QProcess> keyring_;
    QString place_;

    LogDesk& log() { return w_->session->log(); }
    QWidget* bar() { return w_->find<QLineEdit>(QStringLiteral("logPassword"))->parentWidget(); }
    QString said() { return w_->find<QLabel>(QStringLiteral("passwordWords"))->text(); }
    void type(const QString& password) {
        auto* field = w_->find<QLineEdit>(QStringLiteral("logPassword"));
        QCOMPARE(field->echoMode(), QLineEdit::Password);
        QTest::keyClicks(field, password);
        QTest::keyClick(field, Qt::Key_Return);
    }
    void newWindow() {
        usePassword(place_, {}); // as of another day
        w_.reset();
        w_ = std::make_unique<TestWindow>(QStringLiteral("password"));
    }
    void openAndBeAsked() {
        log().open(place_);
        QTRY_VERIFY(bar()->isVisible());
        QVERIFY(!log().link().canRead());
    }

private slots:
    void initTestCase() {
        QVERIFY(home_.isValid());
        place_ = freshDatabase();
        const QString database = place_.section(QLatin1Char('/'), -1);
        askServer(database, QStringLiteral("CREATE ROLE petra LOGIN PASSWORD '%1'").arg(secret_));
        askServer(database, QStringLiteral("GRANT ALL ON DATABASE %1 TO petra").arg(database));
        askServer(database, QStringLiteral("GRANT ALL ON SCHEMA public TO petra"));
        place_.replace(QStringLiteral("//%1@").arg(qEnvironmentVariable("PGUSER")),
                       QStringLiteral("//petra@"));
        qputenv("PGPASSFILE", QFile::encodeName(home_.filePath(QStringLiteral("none"))));
        qunsetenv("PGPASSWORD");
        qunsetenv("PGUSER");
        newWindow();
    }
    void cleanupTestCase() {
        w_.reset();
        if (keyring_) {
            keyring_->terminate();
            keyring_->waitForFinished();
        }
    }

    // Without a keyring it is said that it is not kept; the log opens all the same.
    void withoutAKeyring() {
        openAndBeAsked();
        QVERIFY2(said().contains(QStringLiteral("wants a password")), qPrintable(said()));
        QSignalSpy failed(&log(), &Desk::failed);
        type(QStringLiteral("guessed"));
        QTRY_VERIFY(bar()->isVisible());
        QVERIFY2(said().contains(QStringLiteral("does not take that password")), qPrintable(said()));
        type(secret_);
        QTRY_COMPARE(log().state(), LogState::Ready);
        QVERIFY(!bar()->isVisible());
        QTRY_VERIFY(!failed.isEmpty());
        QVERIFY2(failed.last().front().toString().contains(QStringLiteral("keyring does not keep")),
                 qPrintable(failed.last().front().toString()));
        for (const auto& told : failed)
            QVERIFY(!told.front().toString().contains(secret_));
    }

    // What goes over the wire is as the server says it is.
    void whetherItIsEncryptedIsTold() {
        const auto encrypted = log().link().ask([](ProductionLog& l) -> Result<QString> {
            QSqlQuery q(l.database());
            return q.exec(QStringLiteral("SELECT version FROM pg_stat_ssl WHERE pid = pg_backend_pid()")) &&
                           q.next()
                       ? q.value(0).toString()
                       : QString();
        });
        QVERIFY(encrypted);
        QCOMPARE(log().wireWords(), encrypted->isEmpty() ? QStringLiteral("on this machine")
                                                         : QStringLiteral("encrypted (%1)").arg(*encrypted));
        w_->window->actionBook()->find(QStringLiteral("log"))->trigger();
        const auto* count = w_->find<QLabel>(QStringLiteral("logCount"));
        QTRY_VERIFY(count->toolTip().contains(log().wireWords()));
    }

    void leftAlone() {
        newWindow();
        openAndBeAsked();
        QSignalSpy failed(&log(), &Desk::failed);
        QTest::mouseClick(w_->find<QPushButton>(QStringLiteral("passwordLeave")), Qt::LeftButton);
        QVERIFY(!bar()->isVisible());
        QCOMPARE(failed.size(), 1);
        QVERIFY(!log().link().canRead());
    }

    void keptAndFound() {
        qputenv("XDG_DATA_HOME", QFile::encodeName(home_.path()));
        keyring_ = std::make_unique<QProcess>();
        keyring_->start(QStringLiteral("gnome-keyring-daemon"),
                        {QStringLiteral("--foreground"), QStringLiteral("--unlock"),
                         QStringLiteral("--components=secrets"),
                         QStringLiteral("--control-directory=%1").arg(home_.path())});
        QVERIFY(keyring_->waitForStarted());
        keyring_->write("of the test\n");
        keyring_->closeWriteChannel();
        QTRY_VERIFY(QDBusConnection::sessionBus().interface()->isServiceRegistered(
            QStringLiteral("org.freedesktop.secrets")));
        newWindow();
        openAndBeAsked();
        QVERIFY(w_->find<QCheckBox>(QStringLiteral("passwordKeep"))->isChecked());
        QSignalSpy failed(&log(), &Desk::failed), told(&log(), &Desk::told);
        type(secret_);
        QTRY_COMPARE(log().state(), LogState::Ready);
        QTRY_VERIFY(told.size() == 1 && told[0][0].toString().contains(QStringLiteral("in the keyring")));
        // Another day it is not asked for.
        newWindow();
        QSignalSpy asked(&log(), &LogDesk::passwordWanted);
        log().open(place_);
        QTRY_COMPARE(log().state(), LogState::Ready);
        QVERIFY(asked.isEmpty());
    }

    // Nothing of it stands in a file of ours.
    void nowhereElse() {
        QVERIFY(!log().place().contains(secret_));
        for (const auto where : {QStandardPaths::AppConfigLocation, QStandardPaths::GenericConfigLocation,
                                 QStandardPaths::AppDataLocation, QStandardPaths::CacheLocation}) {
            QDirIterator files(QStandardPaths::writableLocation(where), QDir::Files,
                               QDirIterator::Subdirectories);
            while (files.hasNext()) {
                QFile file(files.next());
                if (file.size() < (1 << 20) && file.open(QIODevice::ReadOnly))
                    QVERIFY2(!file.readAll().contains(secret_.toUtf8()), qPrintable(file.fileName()));
            }
        }
    }

    // The keyring's own is out of date: the person is asked again.
    void changedOnTheServer() {
        usePassword(place_, secret_);
        QVERIFY(log().link().ask([](ProductionLog& l) -> Result<Done> {
            QSqlQuery q(l.database());
            return q.exec(QStringLiteral("ALTER ROLE petra PASSWORD 'another'")) ? Result<Done>(Done{})
                                                                                 : Result<Done>(Error{"no"});
        }));
        newWindow();
        openAndBeAsked();
        QSignalSpy told(&log(), &Desk::told);
        type(QStringLiteral("another"));
        QTRY_COMPARE(log().state(), LogState::Ready);
        QTRY_COMPARE(told.size(), 1);
        newWindow();
        log().open(place_);
        QTRY_COMPARE(log().state(), LogState::Ready); // the new one is kept in its place
    }
};

HOBBLE_TEST(TestLogPassword)
#include "test_log_password.moc"
