// Intake as its user meets it: the checks, their places, telling the rigger, joints corrected, builds,
// limits, deliveries.
#include "support/window_test.h"

#include "app/intake/builds_pane.h"
#include "app/intake/check_model.h"
#include "app/intake/joint_model.h"
#include "app/intake/score_line.h"
#include "io/intake_limits_json.h"

#include <QAbstractItemModelTester>
#include <QCheckBox>
#include <QComboBox>
#include <QDoubleSpinBox>
#include <QListView>
#include <QMimeData>
#include <QProcess>
#include <QSignalSpy>
#include <QTableView>

using namespace hobble;
using namespace hobble::test;

class TestIntakePage : public QObject {
    Q_OBJECT

    std::unique_ptr<TestWindow> w_;

    static QString build(int n) {
        return QStringLiteral(HOBBLE_DEMO_DIR "/builds/%1/badger-postmaster.glb").arg(n);
    }
    Session& session() const { return *w_->session; }
    IntakePage* page() const { return w_->window->intake(); }
    QString text(const char* label) const { return w_->find<QLabel>(QLatin1String(label))->text(); }
    void press(const char* button) const {
        auto* b = w_->find<QPushButton>(QLatin1String(button));
        QVERIFY2(b->isVisible() && b->isEnabled(), button);
        QTest::mouseClick(b, Qt::LeftButton);
        comeToRest();
    }
    void pressRow(int row) const {
        auto* list = page()->checks();
        QTest::mouseClick(list->viewport(), Qt::LeftButton, {},
                          list->visualRect(list->model()->index(row, 0)).center());
        comeToRest();
    }
    int rowOf(const QString& check) const {
        for (int r = 0; r < page()->checks()->model()->rowCount(); ++r)
            if (page()->checks()->model()->index(r, 0).data(CheckModel::CheckRole) == check)
                return r;
        return -1;
    }
    int joint(const char* name) const { return session().build().subject()->character->skeleton.find(name); }
    const JointRole& roleOf(const char* name) const {
        return session().build().subject()->roles[static_cast<std::size_t>(joint(name))];
    }

private slots:
    void init() {
        w_ = std::make_unique<TestWindow>(QStringLiteral("intake"), true);
        QFile::remove(BuildDesk::limitsPath());
        QDir(BuildDesk::namingFolder()).removeRecursively();
        session().log().open(w_->folder.filePath(QStringLiteral("log.sqlite")));
    }
    void cleanup() { w_.reset(); }

    void failingFirstPassedFolded() {
        QVERIFY(w_->openAndRun(build(1)));
        QTest::keyClick(w_->window.get(), Qt::Key_1, Qt::ControlModifier);
        QVERIFY(page()->isVisible());
        const auto* model = qobject_cast<CheckModel*>(page()->checks()->model());
        QAbstractItemModelTester modelIsSound(const_cast<CheckModel*>(model));
        QCOMPARE(model->failing(), static_cast<int>(session().build().checks().size()));
        int before = 4;
        for (int r = 0; r < model->failing(); ++r) {
            const int severity = model->index(r).data(CheckModel::SeverityRole).toInt();
            QVERIFY(severity <= before);
            before = severity;
            QVERIFY(model->index(r).data().toString().endsWith(QLatin1Char('.')));
        }
        QCOMPARE(w_->find<QPushButton>(QStringLiteral("pageIntake"))->text(),
                 QStringLiteral("Intake  %1").arg(model->failing()));
        QVERIFY(text("intakeScore").endsWith(QStringLiteral("%1 of 100").arg(session().build().score())));
        // the fold
        QCOMPARE(model->rowCount(), model->failing() + 1);
        const QString words = model->index(model->failing()).data().toString();
        pressRow(model->failing());
        const int passed = model->rowCount() - model->failing() - 1;
        QCOMPARE(words, QStringLiteral("%1 checks passed").arg(passed));
        QTest::keyClick(page()->checks(), Qt::Key_P);
        QCOMPARE(model->rowCount(), model->failing() + 1);
    }

    void choosingShowsWhere() {
        QVERIFY(w_->openAndRun(build(1)));
        w_->window->showPage(w_->window->intake());
        Viewport* view = page()->viewport();
        QVERIFY(view);
        session().build().selectCheck(-1);
        view->settle();
        const double whole = view->camera().distance;
        const int far = rowOf(QStringLiteral("influence from far away"));
        QVERIFY(far >= 0);
        pressRow(far);
        QCOMPARE(session().build().check(), far);
        QCOMPARE(text("checkTitle"), QStringLiteral("Influence from far away"));
        QVERIFY(text("checkPlace").contains(QStringLiteral("in body")));
        QVERIFY(!text("checkAdvice").isEmpty());
        view->settle();
        QVERIFY2(view->camera().distance < 0.6 * whole,
                 qPrintable(QStringLiteral("%1 of %2").arg(view->camera().distance).arg(whole)));
        // what is marked is what the check names, and it is in sight
        const CheckFinding& f = session().build().checks()[static_cast<std::size_t>(far)];
        QVERIFY(!f.vertices.empty());
        const Character& c = *session().build().subject()->character;
        int inside = 0, all = 0;
        for (const auto& [part, list] : f.vertices)
            for (std::uint32_t v : list) {
                const auto at =
                    static_cast<std::size_t>(c.parts[static_cast<std::size_t>(part)].firstVertex + v);
                const QPointF p = view->project(session().build().neutral()->position[at].cast<double>());
                inside += view->rect().contains(p.toPoint());
                ++all;
            }
        QVERIFY(inside * 10 >= all * 9);
        // by key to the next, and round
        QTest::keyClick(page()->checks(), Qt::Key_Period);
        QCOMPARE(session().build().check(), far + 1);
        QTest::keyClick(page()->checks(), Qt::Key_Comma);
        QTest::keyClick(page()->checks(), Qt::Key_Comma);
        QVERIFY(session().build().check() != far);
        // Review kept its pose
        QVERIFY(session().run().motion() >= 0);
    }

    void tellTheRigger() {
        QVERIFY(w_->openAndRun(build(1)));
        w_->window->showPage(w_->window->intake());
        const auto before = session().log().defects().size();
        const int row = rowOf(QStringLiteral("weights on an end joint"));
        pressRow(row);
        press("tellRigger");
        QCOMPARE(session().log().defects().size(), before + 1);
        const Defect d = session().log().defects().front();
        QCOMPARE(d.facts.kind, QStringLiteral("weights on an end joint"));
        QCOMPARE(d.facts.joint, QStringLiteral("tail_end"));
        QCOMPARE(d.severity, session().build().checks()[static_cast<std::size_t>(row)].severity);
        QVERIFY(
            session().log().whole(session().log().defects().front().id)->facts.picture.startsWith("\x89PNG"));
        const QString logged = QStringLiteral("Logged as defect %1").arg(d.id);
        QCOMPARE(w_->find<QPushButton>(QStringLiteral("tellRigger"))->text(), logged);
        // pressed again it leads there, and logs nothing more
        press("tellRigger");
        QCOMPARE(session().log().defects().size(), before + 1);
        QVERIFY(w_->window->logPage()->isVisible());
        const QString story = TestWindow::wordsOf(w_->window->logPage()).join(QLatin1Char('\n'));
        QVERIFY2(story.contains(QStringLiteral("Intake: weights on an end joint · joint tail_end")),
                 qPrintable(story));
        // and from the Log it leads back to its place
        session().build().selectCheck(-1);
        emit w_->window->logPage()->showInReview(d.id);
        QVERIFY(page()->isVisible());
        QCOMPARE(session().build().check(), row);
        // undone like any other
        QTest::keyClick(w_->window.get(), Qt::Key_Z, Qt::ControlModifier);
        comeToRest();
        QCOMPARE(session().build().defectOfCheck(row), 0);
    }

    void jointsAreCorrectedAndRemembered() {
        // the badger under a name that says nothing of its left elbow, and the same again as another
        // character: it is guessed by what it hangs between, and somebody wants it tested as a knee
        const QString first = w_->folder.filePath(QStringLiteral("dachs.glb")),
                      other = w_->folder.filePath(QStringLiteral("cousin.glb"));
        QFile in(QStringLiteral(HOBBLE_DEMO_DIR "/badger-postmaster.glb"));
        QVERIFY(in.open(QIODevice::ReadOnly));
        QByteArray bytes = in.readAll();
        QVERIFY(bytes.contains("\"forearm.L\""));
        bytes.replace("\"forearm.L\"", "\"thing_aaL\"");
        for (const QString& path : {first, other}) {
            QFile out(path);
            QVERIFY(out.open(QIODevice::WriteOnly));
            out.write(bytes);
            out.write(path == other ? QByteArray(4, '\0') : QByteArray());
        }
        QVERIFY(w_->openAndRun(first));
        w_->window->showPage(w_->window->intake());
        QVERIFY(roleOf("thing_aaL").role != Role::Knee);
        QVERIFY(text("jointsSummary").contains(QStringLiteral("not known")) ||
                text("jointsSummary").contains(QStringLiteral("unsure")));
        auto* table = w_->find<QTableView>(QStringLiteral("jointTable"));
        QAbstractItemModelTester modelIsSound(table->model());
        auto* unsure = w_->find<QCheckBox>(QStringLiteral("unsureOnly"));
        QTest::mouseClick(unsure, Qt::LeftButton, {}, QPoint(8, unsure->height() / 2));
        QVERIFY(table->model()->rowCount() < session().build().subject()->character->skeleton.size());
        // pressed on the picture of the skeleton
        Viewport* view = page()->viewport();
        view->frameAll(false);
        comeToRest();
        const auto at = static_cast<std::size_t>(joint("thing_aaL"));
        QTest::mouseClick(
            view, Qt::LeftButton, {},
            view->project(session().build().neutral()->jointPosition[at].cast<double>()).toPoint());
        QVERIFY2(text("jointName").startsWith(QStringLiteral("thing_aaL")) ||
                     text("jointName").startsWith(QStringLiteral("elbow_helper")),
                 qPrintable(text("jointName")));
        // whichever of the two lies on top there: the one meant, by its row
        for (int r = 0; r < table->model()->rowCount(); ++r)
            if (table->model()->index(r, 0).data().toString() == QLatin1String("thing_aaL"))
                table->selectRow(r);
        auto* role = w_->find<QComboBox>(QStringLiteral("jointRole"));
        auto* side = w_->find<QComboBox>(QStringLiteral("jointSide"));
        role->setFocus();
        QTest::keyClicks(role, QStringLiteral("knee"));
        QTRY_COMPARE(roleOf("thing_aaL").role, Role::Knee);
        if (roleOf("thing_aaL").side != Side::Left) {
            side->setFocus();
            QTest::keyClicks(side, QStringLiteral("left"));
        }
        QTRY_COMPARE(roleOf("thing_aaL").side, Side::Left);
        QVERIFY(w_->finished());
        QCOMPARE(roleOf("thing_aaL").mirror, -1); // the other side is an elbow still
        // it is tested as one now
        const auto& motions = session().plan().plan().motions;
        QVERIFY(std::any_of(motions.begin(), motions.end(), [&](const Motion& m) {
            return m.name == "knee flex" && m.side == Side::Left &&
                   m.turns.front().joint == joint("thing_aaL");
        }));

        // its next build knows it by itself
        QVERIFY(w_->openAndRun(first));
        QCOMPARE(roleOf("thing_aaL").role, Role::Knee);
        // another character of that naming is offered it
        QVERIFY(w_->openAndRun(other));
        QVERIFY(roleOf("thing_aaL").role != Role::Knee);
        auto* use = w_->find<QPushButton>(QStringLiteral("useNaming"));
        QVERIFY(use->isVisible() && use->text().contains(QStringLiteral("dachs")));
        QTest::mouseClick(use, Qt::LeftButton);
        QVERIFY(w_->finished());
        QTRY_COMPARE(roleOf("thing_aaL").role, Role::Knee);
        QVERIFY(!use->isVisible());
        // and it can be taken back
        QTest::keyClick(w_->window.get(), Qt::Key_Z, Qt::ControlModifier);
        comeToRest();
        QVERIFY(w_->finished());
        QTRY_VERIFY(roleOf("thing_aaL").role != Role::Knee);
    }

    void limitsComeAndGo() {
        QVERIFY(w_->openAndRun(build(1)));
        w_->window->showPage(w_->window->intake());
        QVERIFY(rowOf(QStringLiteral("too many influences")) >= 0);
        w_->command(QStringLiteral("Limits of Intake"));
        auto* box = w_->find<QDoubleSpinBox>(QStringLiteral("mostInfluences"));
        QCOMPARE(box->value(), 4.0);
        box->setFocus();
        box->selectAll();
        QTest::keyClicks(box, QStringLiteral("8"));
        QTest::keyClick(box, Qt::Key_Return);
        QVERIFY(QTest::qWaitFor([&] { return rowOf(QStringLiteral("too many influences")) < 0; }, 60000));
        QCOMPARE(readIntakeLimits(BuildDesk::limitsPath().toStdString())->mostInfluences, 8.0);
        QVERIFY(
            text("intakeLimitsMessage").contains(QStringLiteral("%1 of 100").arg(session().build().score())));
        press("intakeLimitsStandard");
        QVERIFY(QTest::qWaitFor([&] { return rowOf(QStringLiteral("too many influences")) >= 0; }, 60000));
        QCOMPARE(box->value(), 4.0);
    }

    void buildsAreKnownByTheirContent() {
        for (int n : {1, 2, 3})
            QVERIFY(w_->openAndRun(build(n)));
        w_->window->showPage(w_->window->intake());
        QCOMPARE(session().build().builds().size(), 3);
        const auto* line = w_->find<ScoreLine>(QStringLiteral("scoreLine"));
        QVERIFY(line->isVisible());
        QStringList scores;
        for (const BuildState& b : session().build().builds()) {
            QVERIFY(b.score >= 0);
            scores << QStringLiteral("build %1 scores %2").arg(b.build.number).arg(b.score);
        }
        QCOMPARE(line->words(), scores.join(QStringLiteral(", ")));
        QVERIFY(session().build().builds()[0].score < session().build().builds()[2].score);
        press("intakeBuilds");
        auto* card = w_->find<QWidget>(QStringLiteral("build2"));
        auto* note = card->findChild<QLineEdit*>(QStringLiteral("buildNote"));
        note->setFocus();
        QTest::keyClicks(note, QStringLiteral("sleeves = "));
        note->insert(QStringLiteral("“neu”, Ärmel 袖")); // as an input method does
        QTest::keyClick(note, Qt::Key_Return);
        QTRY_COMPARE(session().build().builds()[1].note, QStringLiteral("sleeves = “neu”, Ärmel 袖"));
        QTest::keyClick(w_->window.get(), Qt::Key_Z, Qt::ControlModifier);
        QTRY_COMPARE(session().build().builds()[1].note, QString());

        // the same content elsewhere, under another name of it, is the same build; where it was is no more
        const QString moved = w_->folder.filePath(QStringLiteral("badger-postmaster_v002.glb"));
        QVERIFY(QFile::copy(build(2), moved));
        QVERIFY(w_->openAndRun(moved));
        QCOMPARE(session().build().number(), 2);
        QCOMPARE(session().build().builds().size(), 3);
        QCOMPARE(session().build().builds()[1].build.path, moved);
        QVERIFY(w_->openAndRun(build(3)));
        QVERIFY(QFile::remove(moved));
        session().build().note(session().build().builds()[0].build.id,
                               QStringLiteral("so that the cards are made anew"));
        comeToRest();
        card = w_->find<QWidget>(QStringLiteral("build2"));
        QVERIFY(card->findChild<QPushButton*>(QStringLiteral("findBuild")));
        QVERIFY(TestWindow::wordsOf(card).join(QLatin1Char(' ')).contains(QStringLiteral("no longer there")));
        // another build's file is not it
        QSignalSpy failed(&session().build(), &Desk::failed);
        session().build().findAt(session().build().builds()[1].build.id, build(1));
        QVERIFY(failed.wait(60000));
        QVERIFY(failed.front().front().toString().contains(QStringLiteral("not build 2")));
        session().build().findAt(session().build().builds()[1].build.id, build(2));
        QTRY_COMPARE(session().build().builds()[1].build.path, QFileInfo(build(2)).absoluteFilePath());
    }

    void deliveriesComeInBySelf() {
        const QString inbox = w_->folder.filePath(QStringLiteral("in box ü"));
        QVERIFY(QDir().mkpath(inbox));
        session().build().folderWatch().setSettling(3000); // longer than any pause of the writer
        QVERIFY(session().build().watchFolder(inbox));
        w_->window->showPage(w_->window->intake());
        QSignalSpy arrived(&session().build().folderWatch(), &FolderWatch::arrived);
        // the rigging team's stand-in, in a hurry: the next is there before the one before it is open
        QProcess team;
        team.start(QStringLiteral(HOBBLE_DEMO_DIR "/../../scripts/simulate-delivery"),
                   {inbox, QStringLiteral("0")});
        QVERIFY(team.waitForStarted());
        QVERIFY(QTest::qWaitFor([&] { return session().build().builds().size() == 3 && w_->finished(); },
                                300000));
        QVERIFY(team.state() == QProcess::NotRunning || team.waitForFinished(20000));
        QCOMPARE(arrived.size(), 3); // each once, none of them half written
        QCOMPARE(session().build().title(), QStringLiteral("Badger postmaster"));
        QCOMPARE(session().build().number(), 3);
        // another character does not push it away
        QVERIFY(QFile::copy(QStringLiteral(HOBBLE_DEMO_DIR "/pack-goat.glb"),
                            inbox + QStringLiteral("/pack-goat.glb")));
        QTRY_COMPARE_WITH_TIMEOUT(arrived.size(), 4, 60000);
        comeToRest();
        QCOMPARE(session().build().title(), QStringLiteral("Badger postmaster"));
        QVERIFY(session().build().recent().front().endsWith(QStringLiteral("pack-goat.glb")));
        QVERIFY(text("watchedFolder").contains(QStringLiteral("in box ü")));
        // a folder that goes is said
        QSignalSpy failed(&session().build(), &Desk::failed);
        QVERIFY(QDir(inbox).removeRecursively());
        QVERIFY(failed.wait(60000));
        QVERIFY(session().build().watchedFolder().isEmpty());
    }

    void droppedAndOpenedBefore() {
        QVERIFY(page()->isVisible()); // nothing is open: what to do next stands there
        QVERIFY(w_->find<QPushButton>(QStringLiteral("intakeOpen"))->isVisible());
        QMimeData data;
        data.setUrls({QUrl::fromLocalFile(QStringLiteral(HOBBLE_DEMO_DIR "/pack-goat.glb"))});
        QDragEnterEvent enter(QPoint(600, 400), Qt::CopyAction, &data, Qt::LeftButton, Qt::NoModifier);
        QApplication::sendEvent(w_->window.get(), &enter);
        QVERIFY(enter.isAccepted());
        QDropEvent drop(QPointF(600, 400), Qt::CopyAction, &data, Qt::LeftButton, Qt::NoModifier);
        QApplication::sendEvent(w_->window.get(), &drop);
        QVERIFY(w_->finished());
        QCOMPARE(session().build().title(), QStringLiteral("Pack goat"));
        QVERIFY(w_->window->review()->isVisible()); // it is fit: on to its test
        QVERIFY(text("checkTitle").contains(QStringLiteral("Nothing would spoil")));
        QCOMPARE(session().build().recent(), QStringList{QStringLiteral(HOBBLE_DEMO_DIR "/pack-goat.glb")});
        w_->command(QStringLiteral("Open again: "));
        QVERIFY(session().jobs().busy());
        QVERIFY(w_->finished());
    }

    // A file that does not say its unit and axis, or says them wrongly: said here, seen at once, kept for the
    // next.
    void unitAndAxisAreSaid() {
        const QString smd = w_->folder.filePath(QStringLiteral("post.smd"));
        QFile file(smd);
        QVERIFY(file.open(QIODevice::WriteOnly));
        QByteArray text =
            "version 1\nnodes\n0 \"root\" -1\n1 \"spine\" 0\n2 \"head\" 1\nend\nskeleton\ntime 0\n"
            "0 0 0 0 0 0 0\n1 0 0 60 0 0 0\n2 0 0 60 0 0 0\nend\ntriangles\n";
        for (int k = 0; k < 12; ++k) // a post, 170 units along Z
            for (int side = 0; side < 4; ++side) {
                const auto corner = [&](int s, int z) {
                    const int x = s % 4 == 0 || s % 4 == 3 ? -10 : 10, y = s % 4 < 2 ? -10 : 10;
                    return QByteArray::number(std::min(z / 4, 2)) + " " + QByteArray::number(x) + " " +
                           QByteArray::number(y) + " " + QByteArray::number(z * 170.0 / 12) + " 0 0 1 0 0\n";
                };
                text += "skin\n" + corner(side, k) + corner(side + 1, k) + corner(side + 1, k + 1);
                text += "skin\n" + corner(side, k) + corner(side + 1, k + 1) + corner(side, k + 1);
            }
        QVERIFY(file.write(text + "end\n") > 0);
        file.close();
        QVERIFY(w_->openAndRun(smd));
        w_->window->showPage(w_->window->intake());
        auto* unit = w_->find<QComboBox>(QStringLiteral("fileUnit"));
        auto* up = w_->find<QComboBox>(QStringLiteral("fileUp"));
        QVERIFY(unit->isVisible());
        const auto extent = [&](int axis) {
            float low = 1e9f, high = -1e9f;
            for (const Vec3& p : session().build().build()->neutral) {
                low = std::min(low, p[axis]);
                high = std::max(high, p[axis]);
            }
            return double(high - low);
        };
        const auto choose = [&](QComboBox* box, const QString& words) {
            const auto before = session().build().subject();
            box->setCurrentIndex(box->findText(words));
            emit box->activated(box->currentIndex());
            return QTest::qWaitFor([&] { return session().build().subject() != before; }, 60000) &&
                   w_->finished();
        };
        QVERIFY(choose(unit, QStringLiteral("millimetres")));
        QVERIFY(choose(up, QStringLiteral("Z is up")));
        QVERIFY(std::abs(extent(1) - 0.17) < 1e-3);
        QVERIFY2(this->text("bodyHeight").endsWith(QStringLiteral("m high")),
                 qPrintable(this->text("bodyHeight")));
        QVERIFY(choose(up, QStringLiteral("X is up")));
        QVERIFY(std::abs(extent(1) - 0.02) < 1e-3);
        // the character's next file is read the same way, by whoever reads it
        QCOMPARE(placingOf("post"), (Placing{0.001, 0}));
        const auto next = readCharacter(smd.toStdString());
        QVERIFY(next && std::abs(double(next->extent()) - 0.17) < 2e-2);
        QVERIFY(choose(unit, QStringLiteral("unit as the file says")));
        QVERIFY(choose(up, QStringLiteral("up as the file says")));
        QCOMPARE(placingOf("post"), Placing());
        QVERIFY(w_->openAndRun(build(3))); // glTF has both
        QVERIFY(!unit->isVisible());
    }

    void openingIsStopped() {
        QVERIFY(w_->openAndRun(build(3)));
        const auto before = session().build().subject();
        QSignalSpy told(&session().build(), &Desk::told);
        session().build().open(QStringLiteral(HOBBLE_DEMO_DIR "/pack-goat.glb"));
        session().jobs().cancel();
        QVERIFY(told.wait(60000));
        QVERIFY(told.front().front().toString().contains(QStringLiteral("stopped")));
        QCOMPARE(session().build().subject(), before); // what was open stays
    }
};

HOBBLE_TEST(TestIntakePage)
#include "test_intake_page.moc"
