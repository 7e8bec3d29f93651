// The Log page as a lead uses it: by keys and presses, on a copy of the demo's log, read as a person reads
// it.
#include "app/log/show_view.h"
#include "app/widgets/choice_popup.h"
#include "story/show_page.h"
#include "support/window_test.h"

#include <QAbstractItemModelTester>
#include <QCheckBox>
#include <QComboBox>
#include <QDialog>
#include <QListWidget>
#include <QTableWidget>
#include <QTreeView>

using namespace hobble;
using test::TestWindow;

class TestLogPage : public QObject {
    Q_OBJECT

    std::unique_ptr<TestWindow> w_;

    Session& session() { return *w_->session; }
    LogPage* page() { return w_->window->logPage(); }
    QTreeView* table() { return page()->table(); }
    LogModel* model() { return static_cast<LogModel*>(table()->model()); }
    QString place() { return w_->folder.filePath(QStringLiteral("log.sqlite")); }
    const Defect& defect(qint64 id) { return *session().log().list().find(id); }

    void key(int k, Qt::KeyboardModifiers m = {}) { QTest::keyClick(table(), static_cast<Qt::Key>(k), m); }

    // Types into the list that has opened, Enter; and a reason, where one is asked for.
    void take(const QString& words, const QString& reason = {}) {
        ChoicePopup* popup = nullptr;
        QTRY_VERIFY((popup = w_->window->findChild<ChoicePopup*>()) && popup->isVisible());
        auto* find = popup->findChild<QLineEdit*>(QStringLiteral("choiceFind"));
        QTest::keyClicks(find, words);
        QTest::keyClick(find, Qt::Key_Return);
        if (!reason.isEmpty()) {
            auto* why = popup->findChild<QLineEdit*>(QStringLiteral("choiceReason"));
            QVERIFY(why->isVisible());
            QTest::keyClick(why, Qt::Key_Return); // not without one
            QVERIFY(popup->isVisible());
            QTest::keyClicks(why, reason);
            QTest::keyClick(why, Qt::Key_Return);
        }
        QTRY_VERIFY(!w_->window->findChild<ChoicePopup*>());
        table()->setFocus();
    }

    void choose(const char* box, const QString& words) {
        auto* list = w_->find<QComboBox>(QLatin1String(box));
        const int at = list->findText(words);
        QVERIFY2(at >= 0, qPrintable(words));
        list->setCurrentIndex(at);
        emit list->activated(at);
    }

    QVector<qint64> shown() {
        QVector<qint64> out;
        for (qint64 id = model()->beside(0, 0); id; id = model()->beside(id, 1))
            out << id;
        return out;
    }

    QString said(const char* label) { return w_->find<QLabel>(QLatin1String(label))->text(); }

private slots:
    void init() {
        QDir::setCurrent(QStringLiteral(HOBBLE_DEMO_DIR "/../.."));
        w_ = std::make_unique<TestWindow>(QStringLiteral("log-page"), true);
        QFile::remove(QStandardPaths::writableLocation(QStandardPaths::AppDataLocation) +
                      QStringLiteral("/kept-edits.json"));
        QSettings().setValue(QStringLiteral("author"), QStringLiteral("Petra Sandwort"));
        QVERIFY(QFile::copy(QStringLiteral("demo/data/demo-log.sqlite"), place()));
        QFile::setPermissions(place(), QFile::ReadOwner | QFile::WriteOwner);
        session().log().open(place());
        QTRY_VERIFY(!session().log().defects().isEmpty());
        w_->window->showPage(w_->window->logPage());
        table()->setFocus();
    }
    void cleanup() { w_.reset(); }

    void theModelIsSound() {
        LogModel m(&session().log());
        const QAbstractItemModelTester tester(&m, QAbstractItemModelTester::FailureReportingMode::QtTest);
        for (const DefectGrouping g : {DefectGrouping::Rigger, DefectGrouping::State, DefectGrouping::None,
                                       DefectGrouping::Build, DefectGrouping::Limb}) {
            m.setGrouping(g);
            m.sort(LogModel::Who, Qt::AscendingOrder);
            DefectFilter f;
            f.words = QStringLiteral("elbow");
            m.setFilter(f);
            m.setFilter({});
            session().log().change({1}, QStringLiteral("severity"),
                                   QString::number(1 + static_cast<int>(g) % 4));
        }
        QCOMPARE(m.indexOf(1).data(LogModel::IdRole).toLongLong(), 1);
    }

    void triageByKeys() {
        const auto ids = shown();
        QVERIFY(ids.size() > 6);
        QCOMPARE(page()->chosen(), ids[0]); // something is looked at from the start
        key(Qt::Key_Period);
        QCOMPARE(page()->chosen(), ids[1]);
        key(Qt::Key_Comma);
        QCOMPARE(page()->chosen(), ids[0]);
        // one that nobody has
        w_->choose(QStringLiteral("savedFilters"), QStringLiteral("Nobody has it yet"));
        const qint64 id = page()->chosen();
        QCOMPARE(defect(id).assignee, QString());
        QTRY_VERIFY(said("defectTitle").startsWith(QStringLiteral("%1. ").arg(id)));
        w_->choose(QStringLiteral("savedFilters"), QStringLiteral("All that is open"));
        page()->choose(id);
        key(Qt::Key_A);
        take(QStringLiteral("hedda"));
        QCOMPARE(defect(id).assignee, QStringLiteral("Hedda Samphire"));
        QCOMPARE(defect(id).state, DefectState::Assigned);
        key(Qt::Key_3);
        QCOMPARE(defect(id).severity, 3);
        key(Qt::Key_D);
        take(QStringLiteral("build 7 for the trailer"));
        QCOMPARE(defect(id).due, QStringLiteral("build 7 for the trailer"));
        key(Qt::Key_S);
        take(QStringLiteral("being"));
        QCOMPARE(defect(id).state, DefectState::BeingFixed);
        QCOMPARE(page()->chosen(), id); // it stays in hand
        key(Qt::Key_N);
        take(QStringLiteral("accepted"), QStringLiteral("seen from afar only"));
        QCOMPARE(defect(id).state, DefectState::Accepted);
        QVERIFY(!shown().contains(id)); // out of what is open
        QCOMPARE(session().log().historyOf(id)->back().reason, QStringLiteral("seen from afar only"));
        // all of it comes back, step by step
        for (int i = 0; i < 5; ++i)
            QTest::keyClick(w_->window.get(), Qt::Key_Z, Qt::ControlModifier);
        QCOMPARE(defect(id).assignee, QString());
        QCOMPARE(defect(id).state, DefectState::Logged);
        QCOMPARE(defect(id).due, QString());
    }

    void manyAtOnce() {
        const auto ids = shown();
        table()->setCurrentIndex(model()->indexOf(ids[0]));
        key(Qt::Key_Down, Qt::ShiftModifier);
        key(Qt::Key_Down, Qt::ShiftModifier);
        QCOMPARE(page()->chosenAll().size(), 3);
        QVERIFY(said("logCount").startsWith(QStringLiteral("3 chosen")));
        key(Qt::Key_A);
        take(QStringLiteral("wim"));
        for (int i = 0; i < 3; ++i)
            QCOMPARE(defect(ids[i]).assignee, QStringLiteral("Wim Knot"));
        QVERIFY(defect(ids[3]).assignee != QStringLiteral("Wim Knot") ||
                defect(ids[4]).assignee != QStringLiteral("Wim Knot"));
        QTest::keyClick(w_->window.get(), Qt::Key_Z, Qt::ControlModifier); // as one
        QVERIFY(defect(ids[0]).assignee != QStringLiteral("Wim Knot"));
    }

    void foundAndGrouped() {
        key(Qt::Key_Slash);
        auto* search = w_->find<QLineEdit>(QStringLiteral("logSearch"));
        QTRY_VERIFY(search->hasFocus());
        QTest::keyClicks(search, QStringLiteral("elbow tobias"));
        QTRY_COMPARE(shown().size(), 1);
        QCOMPARE(defect(shown()[0]).assignee, QStringLiteral("Tobias Glasswort"));
        search->clear();
        QTRY_VERIFY(shown().size() > 6);
        QTest::keyClicks(search, QStringLiteral("sleeve on top has to follow")); // what somebody said of it
        QTRY_COMPARE(shown(), QVector<qint64>{3});
        search->clear();
        QTRY_VERIFY(shown().size() > 6);
        choose("groupBy", QStringLiteral("by rigger"));
        QCOMPARE(model()->index(0, 0).data().toString().section(QLatin1Char(' '), 0, 1),
                 QStringLiteral("nobody yet"));
        QVERIFY(table()->isExpanded(model()->index(0, 0)));
        // a group that is chosen is all in it
        table()->setFocus();
        table()->setCurrentIndex(model()->index(1, 0));
        QCOMPARE(page()->chosenAll().size(), model()->rowCount(model()->index(1, 0)));
        choose("filterState", QStringLiteral("every state"));
        choose("filterWho", QStringLiteral("Jonas Eelgrass")); // has left, and is still found
        QCOMPARE(shown().size(), 1);
        // kept under a name, and taken again
        QMenu* menu = w_->find<QPushButton>(QStringLiteral("savedFilters"))->menu();
        emit menu->aboutToShow();
        w_->choose(QStringLiteral("savedFilters"), QStringLiteral("Keep this filter…"));
        const auto keepAs = [&](const char* words, bool forAll) {
            auto* ask = w_->find<QDialog>(QStringLiteral("keepFilter"));
            QTRY_VERIFY(ask->isVisible());
            QTest::keyClicks(ask->findChild<QLineEdit*>(QStringLiteral("filterName")), QLatin1String(words));
            auto* box = ask->findChild<QCheckBox*>(QStringLiteral("filterForAll"));
            QVERIFY(box->isChecked());
            if (!forAll)
                QTest::keyClick(box, Qt::Key_Space);
            QTest::keyClick(ask, Qt::Key_Return);
            QTRY_VERIFY(!w_->window->findChild<QDialog*>(QStringLiteral("keepFilter")));
        };
        keepAs("What Jonas left", false);
        const QVector<TeamFilter> before = session().log().teamFilters();
        QCOMPARE(before.size(), 1); // the demo's
        w_->choose(QStringLiteral("savedFilters"), QStringLiteral("All that is open"));
        QVERIFY(shown().size() > 6);
        w_->choose(QStringLiteral("savedFilters"), QStringLiteral("What Jonas left"));
        QTRY_COMPARE(shown().size(), 1);
        w_->choose(QStringLiteral("savedFilters"), QStringLiteral("Where I am mentioned"));
        QTRY_VERIFY(shown().size() == 1 && defect(shown()[0]).assignee == QStringLiteral("Tobias Glasswort"));
        // one for everybody is in the log, and can be taken back
        w_->choose(QStringLiteral("savedFilters"), QStringLiteral("What Jonas left"));
        w_->choose(QStringLiteral("savedFilters"), QStringLiteral("Keep this filter…"));
        keepAs("Who has left", true);
        w_->choose(QStringLiteral("savedFilters"), QStringLiteral("All that is open"));
        QVERIFY(shown().size() > 6);
        w_->choose(QStringLiteral("savedFilters"), QStringLiteral("Who has left"));
        QTRY_COMPARE(shown().size(), 1);
        auto beside = ProductionLog::open(session().log().place());
        const auto filters = (*beside)->teamFilters();
        QCOMPARE(filters->back().name, QStringLiteral("Who has left"));
        QCOMPARE(filters->back().author, QStringLiteral("Petra Sandwort"));
        QTest::keyClick(w_->window.get(), Qt::Key_Z, Qt::ControlModifier);
        QTRY_COMPARE(session().log().teamFilters(), before);
    }

    void mergedAndSplit() {
        const auto ids = shown();
        const qint64 keep = ids[0], other = ids[1];
        page()->choose(other);
        key(Qt::Key_G);
        take(QString::number(keep) + QStringLiteral("  "), QStringLiteral("the same crease"));
        QCOMPARE(defect(other).state, DefectState::Duplicate);
        QCOMPARE(defect(other).duplicateOf, keep);
        page()->choose(keep);
        const auto links = page()->panel()->findChildren<QPushButton*>();
        QVERIFY(std::any_of(links.begin(), links.end(), [&](const QPushButton* b) {
            return b->text() == QStringLiteral("Also logged as defect %1").arg(other);
        }));
        key(Qt::Key_P);
        take(QString::number(other) + QStringLiteral(". "));
        QVERIFY(isOpen(defect(other).state));
        QCOMPARE(defect(other).duplicateOf, 0);
        QTest::keyClick(w_->window.get(), Qt::Key_Z, Qt::ControlModifier);
        QCOMPARE(defect(other).duplicateOf, keep);
        QTest::keyClick(w_->window.get(), Qt::Key_Z, Qt::ControlModifier);
        QVERIFY(isOpen(defect(other).state));
    }

    void theStory() {
        qint64 elbow = 0;
        for (const Defect& d : session().log().defects())
            if (d.facts.joint == QLatin1String("forearm.L") && d.build.number == 1)
                elbow = d.id;
        page()->choose(elbow);
        QTRY_VERIFY_WITH_TIMEOUT(page()->panel()->storyTold(), 60000);
        QStringList words = TestWindow::wordsOf(page()->panel());
        QCOMPARE(words.filter(QStringLiteral("before, build 1")).size(), 2);
        QCOMPARE(words.filter(QStringLiteral("after, build 3")).size(), 2);
        QVERIFY(said("storyNumbers").contains(QStringLiteral("build 2:")));
        QVERIFY(w_->find<QLabel>(QStringLiteral("storyCurve"))->isVisible());
        QTest::mouseClick(w_->find<QPushButton>(QStringLiteral("storyMeasured")), Qt::LeftButton);
        QVERIFY(said("storyScale").contains(QStringLiteral("Coloured by")));
        QVERIFY(!words.filter(QStringLiteral("@Petra the sleeve")).isEmpty());
        // speaking to somebody: the name is offered
        key(Qt::Key_C);
        auto* comment = w_->find<QLineEdit>(QStringLiteral("comment"));
        QTRY_VERIFY(comment->hasFocus());
        QTest::keyClicks(comment, QStringLiteral("ask @To"));
        QTRY_VERIFY(QApplication::activePopupWidget());
        QTest::keyClick(QApplication::activePopupWidget(), Qt::Key_Down);
        QTest::keyClick(QApplication::activePopupWidget(), Qt::Key_Return);
        QCOMPARE(comment->text(), QStringLiteral("ask @Tobias Glasswort "));
        QTest::keyClick(comment, Qt::Key_Return);
        QCOMPARE(session().log().historyOf(elbow)->back().value, QStringLiteral("ask @Tobias Glasswort"));
    }

    void workload() {
        key(Qt::Key_W);
        auto* loads = w_->find<QTableWidget>(QStringLiteral("workload"));
        QTRY_VERIFY(loads->isVisible());
        int row = -1;
        for (int r = 0; r < loads->rowCount(); ++r)
            if (loads->item(r, 0)->text() == QStringLiteral("Jonas Eelgrass (has left)"))
                row = r;
        QVERIFY(row >= 0);
        emit loads->itemActivated(loads->item(row, 0));
        QVERIFY(!loads->isVisible());
        QCOMPARE(shown().size(), 1);
        QCOMPARE(defect(shown()[0]).assignee, QStringLiteral("Jonas Eelgrass"));
        // it is given on
        table()->setFocus();
        key(Qt::Key_A);
        take(QStringLiteral("ines"));
        QVERIFY(shown().isEmpty());
        QVERIFY(w_->find<QLabel>(QStringLiteral("logHint"))->isVisible());
    }

    // Every character with its newest build; a line leads to what is open of it, and the page says the same.
    void theWholeShow() {
        {
            const auto log = ProductionLog::open(place());
            QVERIFY(
                (*log)->build(QStringLiteral("night-heron"), QStringLiteral("h1"), QStringLiteral("/h.glb")));
        }
        w_->command(QStringLiteral("Show how the whole show stands"));
        auto* lines = w_->find<QTableWidget>(QStringLiteral("showTable"));
        QTRY_VERIFY(lines->isVisible() && lines->rowCount() == 2);
        QVERIFY(lines->item(0, 0)->text().startsWith(QStringLiteral("badger postmaster\nbuild 3")));
        QVERIFY(lines->item(1, 0)->text().startsWith(QStringLiteral("night heron\nbuild 1, not run")));
        QVERIFY2(said("showSentence").startsWith(QStringLiteral("2 characters, 0 signed off")),
                 qPrintable(said("showSentence")));
        QCOMPARE(lines->item(0, 2)->text().toInt(), page()->wholeShow()->state().characters[0].open[4]);
        const QByteArray html = showPage(page()->wholeShow()->state(), QStringLiteral("Saltmarsh <Post>"),
                                         QDateTime::currentDateTime());
        QVERIFY(html.contains("Saltmarsh &lt;Post&gt;") && html.contains("night heron") &&
                html.contains("data:image/jpeg"));
        QVERIFY(!html.contains("http")); // nothing from elsewhere
        auto* find = w_->find<QLineEdit>(QStringLiteral("showFind"));
        QTest::keyClicks(find, QStringLiteral("Build heron"));
        QVERIFY(lines->isRowHidden(0) && !lines->isRowHidden(1));
        find->clear();
        QVERIFY(!lines->isRowHidden(0) && !lines->isRowHidden(1));
        emit lines->cellActivated(0, 0);
        QVERIFY(!lines->isVisible() && table()->isVisible());
        QVERIFY(!shown().isEmpty());
        for (qint64 id : shown())
            QVERIFY(isOpen(defect(id).state) &&
                    defect(id).build.character == QStringLiteral("badger-postmaster"));
    }

    void seesWhatAnotherLeadDoes() {
        const qint64 id = page()->chosen();
        auto other = ProductionLog::open(place());
        QVERIFY(other);
        QVERIFY((*other)->change(id, QStringLiteral("severity"), QStringLiteral("1"), defect(id).version,
                                 QStringLiteral("Juno Brack")));
        QTRY_COMPARE_WITH_TIMEOUT(defect(id).severity, 1, 60000);
        QTRY_VERIFY(!TestWindow::wordsOf(page()->panel()).filter(QStringLiteral("Juno Brack")).isEmpty());
    }

    void aLogThatGoesAway() {
        const qint64 id = page()->chosen();
        const QString away = place() + QStringLiteral(".away");
        QVERIFY(QFile::rename(place(), away));
        QTRY_COMPARE_WITH_TIMEOUT(session().log().state(), LogState::Lost, 60000);
        QTRY_VERIFY(said("keptWords").contains(QStringLiteral("does not answer")));
        QVERIFY(!shown().isEmpty()); // what was there is still to be read
        const int before = defect(id).severity;
        key(before == 1 ? Qt::Key_2 : Qt::Key_1);
        QTRY_VERIFY(said("keptWords").contains(QStringLiteral("One change of yours is kept")));
        QCOMPARE(defect(id).severity, before); // not written yet
        QVERIFY(QFile::rename(away, place()));
        QTRY_COMPARE_WITH_TIMEOUT(session().log().state(), LogState::Ready, 60000);
        auto* write = w_->find<QPushButton>(QStringLiteral("keptWrite"));
        QTRY_VERIFY(write->isVisible());
        QTest::mouseClick(write, Qt::LeftButton);
        QCOMPARE(defect(id).severity, before == 1 ? 2 : 1);
        QVERIFY(!w_->find<QWidget>(QStringLiteral("keptBar"))->isVisible());
    }

    void readOnlySaysSo() {
        QFile::setPermissions(place(), QFile::ReadOwner);
        session().log().open(place());
        QTRY_COMPARE(session().log().state(), LogState::ReadOnly);
        QTRY_VERIFY(said("keptWords").contains(QStringLiteral("only be looked at")));
        QVERIFY(!w_->find<QPushButton>(QStringLiteral("verbAssign"))->isEnabled());
        key(Qt::Key_1);
        QVERIFY(said("message").contains(QStringLiteral("read-only")));
    }

    void backedUpDamagedRestored() {
        const QString backup = w_->folder.filePath(QStringLiteral("backup.sqlite"));
        session().log().backUp(backup);
        QTRY_VERIFY(QFile::exists(backup));
        const auto count = session().log().defects().size();
        session().log().change({shown()[0]}, QStringLiteral("due"), QStringLiteral("after the backup"));
        session().log().restore(backup);
        QTRY_VERIFY(session().log().state() == LogState::Ready && session().log().defects().size() == count);
        for (const Defect& d : session().log().defects())
            QVERIFY(d.due != QStringLiteral("after the backup"));
        const auto aside = QDir(w_->folder.path()).entryList({QStringLiteral("log.sqlite.before-restore-*")});
        QVERIFY(!aside.isEmpty()); // nothing is thrown away
        // what is no log is not put in its place
        QFile f(w_->folder.filePath(QStringLiteral("diary.txt")));
        QVERIFY(f.open(QIODevice::WriteOnly));
        f.write("Dear diary, this is not a log");
        f.close();
        session().log().restore(f.fileName());
        QVERIFY(said("message").contains(QStringLiteral("not a Hobble log")));
        QCOMPARE(session().log().defects().size(), count);
    }

    void sentOut() {
        choose("filterWho", QStringLiteral("Ines Marram"));
        QTest::mouseClick(w_->find<QPushButton>(QStringLiteral("verbSend")), Qt::LeftButton);
        auto* dialog = w_->find<QDialog>(QStringLiteral("send"));
        QTRY_VERIFY(dialog->isVisible());
        QVERIFY(said("sendAbout").contains(QStringLiteral("for 1 people")));
        const auto line = [&](const char* name) { return w_->find<QLineEdit>(QLatin1String(name)); };
        line("sendFolder")->setText(w_->folder.filePath(QStringLiteral("out")));
        line("sendOutbox")->setText(w_->folder.filePath(QStringLiteral("outbox")));
        QTest::mouseClick(w_->find<QAbstractButton>(QStringLiteral("sendMessage")), Qt::LeftButton, {},
                          QPoint(8, 8));
        QTest::mouseClick(w_->find<QPushButton>(QStringLiteral("sendDo")), Qt::LeftButton);
        QTRY_VERIFY_WITH_TIMEOUT(said("message").contains(QStringLiteral("The packet is in")), 60000);
        QVERIFY(QFile::exists(w_->folder.filePath(QStringLiteral("out/For_Ines_Marram/index.html"))));
        const auto mails =
            QDir(w_->folder.filePath(QStringLiteral("outbox"))).entryList({QStringLiteral("*.eml")});
        QCOMPARE(mails.size(), 1);
        QFile mail(w_->folder.filePath(QStringLiteral("outbox/")) + mails[0]);
        QVERIFY(mail.open(QIODevice::ReadOnly));
        QVERIFY(mail.readAll().contains("ines@saltmarsh-post.example"));
    }

    void tableTakenIn() {
        QFile f(w_->folder.filePath(QStringLiteral("edited.csv")));
        QVERIFY(f.open(QIODevice::WriteOnly));
        const qint64 id = shown()[0];
        f.write("number,severity,who\n" + QByteArray::number(id) + ",1,Wim Knot\n999,1,\n");
        f.close();
        session().log().takeIn(f.fileName());
        QTRY_COMPARE(defect(id).assignee, QStringLiteral("Wim Knot"));
        QTRY_VERIFY(said("message").contains(QStringLiteral("there is no defect “999”")));
    }
};

HOBBLE_TEST(TestLogPage)
#include "test_log_page.moc"
