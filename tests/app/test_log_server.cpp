// Two leads at one PostgreSQL log, each with a Hobble of their own: each sees the other's changes as they are
// made, the connection is cut and comes back, and nothing that was said is lost. The connection goes through
// a small relay, so that it can be cut as a network cuts it: without a word.
#include "app/session/session.h"
#include "support/postgres.h"
#include "support/suite.h"

#include <QSettings>
#include <QSignalSpy>
#include <QStandardPaths>
#include <QTcpServer>
#include <QTcpSocket>
#include <QTest>
#include <QThread>

using namespace hobble;

// Passes bytes between a port of its own and the server, until it is told to let them fall.
class Relay : public QObject {
public:
    explicit Relay(quint16 to) {
        thread_.start();
        moveToThread(&thread_);
        QMetaObject::invokeMethod(
            this,
            [this, to] {
                server_ = new QTcpServer(this);
                server_->listen(QHostAddress::LocalHost);
                connect(server_, &QTcpServer::newConnection, this, [this, to] {
                    QTcpSocket* a = server_->nextPendingConnection();
                    auto* b = new QTcpSocket(a);
                    b->connectToHost(QHostAddress::LocalHost, to);
                    const auto pass = [this](QTcpSocket* from, QTcpSocket* into) {
                        connect(from, &QTcpSocket::readyRead, into, [this, from, into] {
                            const QByteArray bytes = from->readAll();
                            if (!silent_)
                                into->write(bytes);
                        });
                        connect(from, &QTcpSocket::disconnected, into, &QTcpSocket::disconnectFromHost);
                    };
                    pass(a, b);
                    pass(b, a);
                });
            },
            Qt::BlockingQueuedConnection);
    }
    ~Relay() override {
        QMetaObject::invokeMethod(
            this, [this] { delete server_; }, Qt::BlockingQueuedConnection);
        thread_.quit();
        thread_.wait();
    }
    int port() const { return server_->serverPort(); }
    /// Nothing comes through any more, and nobody is told.
    void silence(bool on) { silent_ = on; }
    /// Every connection is ended.
    void cut() {
        QMetaObject::invokeMethod(
            this,
            [this] {
                for (QTcpSocket* s : server_->findChildren<QTcpSocket*>(Qt::FindDirectChildrenOnly))
                    s->abort();
            },
            Qt::BlockingQueuedConnection);
    }

private:
    QThread thread_;
    QTcpServer* server_ = nullptr;
    std::atomic<bool> silent_{false};
};

class TestLogServer : public QObject {
    Q_OBJECT

    std::unique_ptr<Relay> relay_;
    std::unique_ptr<Session> petra_, juno_; // Petra's connection goes through the relay

    static DefectFacts facts(qint64 build) {
        DefectFacts f;
        f.buildId = build;
        f.what = QStringLiteral("Left elbow pinches");
        f.pose = f.camera = f.marks = "{}";
        return f;
    }

    static bool opened(Session& s) {
        return QTest::qWaitFor(
            [&] { return s.log().state() == LogState::Ready && !s.log().defects().isEmpty(); }, 60000);
    }

    // Another lead whose name is another; settings are one, in a test.
    static void asLead(const char* name) {
        QSettings().setValue(QStringLiteral("author"), QLatin1String(name));
    }

private slots:
    void init() {
        QFile::remove(QStandardPaths::writableLocation(QStandardPaths::AppDataLocation) +
                      QStringLiteral("/kept-edits.json"));
        const QString place = test::freshDatabase();
        {
            auto log = ProductionLog::open(place);
            QVERIFY2(log, log.error().c_str());
            const auto build =
                (*log)->build(QStringLiteral("badger"), QStringLiteral("h"), QStringLiteral("/b"));
            for (int i = 0; i < 3; ++i)
                QVERIFY((*log)->addDefect(facts(build->id), 2, QStringLiteral("Petra")));
            QVERIFY((*log)->addPerson(QStringLiteral("Ines")));
        }
        relay_ = std::make_unique<Relay>(static_cast<quint16>(qEnvironmentVariableIntValue("PGPORT")));
        petra_ = std::make_unique<Session>();
        juno_ = std::make_unique<Session>();
        petra_->log().open(test::addressOf(LogAddress::parse(place)->database, relay_->port()));
        juno_->log().open(place);
        QVERIFY(opened(*petra_));
        QVERIFY(opened(*juno_));
    }

    void cleanup() {
        petra_.reset();
        juno_.reset();
        relay_.reset();
    }

    void eachSeesTheOther() {
        asLead("Juno");
        juno_->log().change({1}, QStringLiteral("severity"), QStringLiteral("4"));
        QCOMPARE(juno_->log().defects()[0].severity, 4);
        QTRY_COMPARE_WITH_TIMEOUT(petra_->log().defects()[0].severity, 4, 60000);
        asLead("Petra");
        petra_->log().change({1, 2, 3}, QStringLiteral("assignee"), QStringLiteral("Ines"));
        QTRY_COMPARE_WITH_TIMEOUT(juno_->log().defects()[2].assignee, QStringLiteral("Ines"), 60000);
        // a person and a new defect too
        juno_->log().addPerson(QStringLiteral("Wim"));
        QTRY_COMPARE_WITH_TIMEOUT(petra_->log().people().size(), 2, 60000);
        // undo of one lead takes nothing of the other's back
        asLead("Juno");
        juno_->log().change({2}, QStringLiteral("assignee"), QStringLiteral("Wim"));
        QTRY_COMPARE_WITH_TIMEOUT(petra_->log().defects()[1].assignee, QStringLiteral("Wim"), 60000);
        asLead("Petra");
        QSignalSpy failed(&petra_->log(), &Desk::failed);
        petra_->undoStack().undo();
        QCOMPARE(failed.size(), 1);
        QVERIFY(failed[0][0].toString().contains(QStringLiteral("Juno set its assignee to “Wim”")));
        QCOMPARE(petra_->log().defects()[0].assignee, QString());
        QCOMPARE(petra_->log().defects()[1].assignee, QStringLiteral("Wim"));
    }

    void bothAtOnce() {
        // each a hundred changes of the same defects, at the same time
        for (Session* s : {petra_.get(), juno_.get()}) // a slow disk is another test's
            s->log().link().setPatience(20000);
        QSignalSpy failed(&juno_->log(), &Desk::failed);
        for (int i = 0; i < 50; ++i) {
            asLead("Petra");
            petra_->log().comment({1}, QStringLiteral("p%1").arg(i));
            petra_->log().change({2}, QStringLiteral("due"), QStringLiteral("build %1").arg(i));
            asLead("Juno");
            juno_->log().comment({1}, QStringLiteral("j%1").arg(i));
            juno_->log().change({2}, QStringLiteral("severity"), QString::number(1 + i % 4));
        }
        QVERIFY2(failed.isEmpty(), failed.isEmpty() ? "" : qPrintable(failed[0][0].toString()));
        const auto history = juno_->log().historyOf(1);
        int p = 0, j = 0;
        for (const DefectEvent& e : *history) {
            p += e.value == QStringLiteral("p%1").arg(p);
            j += e.value == QStringLiteral("j%1").arg(j);
        }
        QCOMPARE(p, 50);
        QCOMPARE(j, 50);
        QTRY_COMPARE_WITH_TIMEOUT(petra_->log().defects()[1].severity, juno_->log().defects()[1].severity,
                                  60000);
        QTRY_COMPARE_WITH_TIMEOUT(juno_->log().defects()[1].due, QStringLiteral("build 49"), 60000);
    }

    void lostAndFound_data() {
        QTest::addColumn<bool>("silently");
        QTest::newRow("cut") << false;
        QTest::newRow("without a word") << true;
    }

    void lostAndFound() {
        QFETCH(bool, silently);
        asLead("Petra");
        relay_->silence(true);
        if (!silently)
            relay_->cut();
        petra_->log().change({1}, QStringLiteral("severity"), QStringLiteral("1"));
        // it came back though nothing answered, and nothing does yet
        QCOMPARE(petra_->log().keptEdits().size(), 1);
        QTRY_COMPARE_WITH_TIMEOUT(petra_->log().state(), LogState::Lost, 60000);
        // what is there is still shown, and what is said is kept
        QCOMPARE(petra_->log().defects().size(), 3);
        petra_->log().change({2}, QStringLiteral("severity"), QStringLiteral("3"));
        petra_->log().comment({3}, QStringLiteral("while it was gone"));
        petra_->log().addPerson(QStringLiteral("Hedda Samphire"));
        petra_->log().setPersonMail(petra_->log().people().front().id, QStringLiteral("ines@example.org"));
        petra_->log().keepTeamFilter(QStringLiteral("feet"), "{}");
        petra_->log().split(2, {{}, 0, "{\"what\": \"pinches\"}", {}});
        QCOMPARE(petra_->log().keptEdits().size(), 7);
        QCOMPARE(petra_->log().people().size(), 1); // not yet
        // meanwhile the other lead goes on
        asLead("Juno");
        juno_->log().change({2}, QStringLiteral("severity"), QStringLiteral("4"));
        // Hobble is closed and opened again: they are still there
        asLead("Petra");
        const QString place = petra_->log().place();
        petra_.reset();
        relay_->silence(false);
        petra_ = std::make_unique<Session>();
        petra_->log().open(place);
        QVERIFY(opened(*petra_));
        QCOMPARE(petra_->log().keptEdits().size(), 7);
        QSignalSpy failed(&petra_->log(), &Desk::failed);
        petra_->log().writeKeptEdits();
        QCOMPARE(petra_->log().defects()[0].severity, 1);
        QCOMPARE(petra_->log().defects()[1].severity, 4); // Juno's stays
        QVERIFY(failed.size() >= 1);
        QVERIFY(failed.back()[0].toString().contains(QStringLiteral("Juno")));
        QCOMPARE(petra_->log().keptEdits().size(), 1); // to be looked at
        QCOMPARE(petra_->log().historyOf(3)->back().value, QStringLiteral("while it was gone"));
        QCOMPARE(petra_->log().people().size(), 2);
        QCOMPARE(petra_->log().people().back().mail, QStringLiteral("ines@example.org"));
        QCOMPARE(petra_->log().teamFilters().size(), 1);
        QCOMPARE(petra_->log().defects().size(), 4);
        petra_->log().dropKeptEdit(-1);
        QVERIFY(petra_->log().keptEdits().isEmpty());
    }

    // It comes back by itself, and nothing has to be opened again.
    void comesBackByItself() {
        relay_->silence(true);
        relay_->cut();
        QTRY_COMPARE_WITH_TIMEOUT(petra_->log().state(), LogState::Lost, 60000);
        QSignalSpy told(&petra_->log(), &Desk::told);
        asLead("Juno");
        juno_->log().change({3}, QStringLiteral("severity"), QStringLiteral("4"));
        relay_->silence(false);
        QTRY_COMPARE_WITH_TIMEOUT(petra_->log().state(), LogState::Ready, 60000);
        QTRY_COMPARE_WITH_TIMEOUT(petra_->log().defects()[2].severity, 4, 60000);
        asLead("Petra");
        petra_->log().change({3}, QStringLiteral("severity"), QStringLiteral("2"));
        QTRY_COMPARE_WITH_TIMEOUT(juno_->log().defects()[2].severity, 2, 60000);
    }
};

HOBBLE_TEST(TestLogServer)
#include "test_log_server.moc"
