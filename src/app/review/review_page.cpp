#include "app/review/review_page.h"

#include "app/review/log_by_eye_dialog.h"
#include "app/review/strip_head.h"
#include "app/theme.h"
#include "app/widgets/reason_dialog.h"
#include "io/file_write.h"
#include "io/mesh_write.h"
#include "io/run_json.h"
#include "story/defect_pose.h"

#include <QFileDialog>
#include <QHBoxLayout>
#include <QJsonArray>
#include <QJsonDocument>
#include <QJsonObject>
#include <QLabel>
#include <QSplitter>
#include <QVBoxLayout>

#include <cmath>
#include <utility>

namespace hobble {

ReviewPage::ReviewPage(Session* session, QWidget* parent) : QWidget(parent), session_(session) {
    setAccessibleName(tr("Review"));
    model_ = new StripModel(session, this);
    auto* row = new QHBoxLayout(this);
    row->setContentsMargins(0, 0, 0, 0);
    row->setSpacing(0);
    auto* split = new QSplitter;
    split->setHandleWidth(1);
    split->setChildrenCollapsible(false);
    QWidget* strips = buildStrips();
    sweep_ = new Sweep(session, model_, strips_, this);
    stage_ = new Stage(session, sweep_);
    split->addWidget(strips);
    split->addWidget(stage_);
    split->addWidget(buildReading());
    split->setStretchFactor(0, 0);
    split->setStretchFactor(1, 1);
    split->setStretchFactor(2, 0);
    split->setSizes({420, 540, 320});
    row->addWidget(split);
    restyle();

    spot_ = new SpotCard(session_, this);
    if (viewport()) {
        connect(viewport(), &Viewport::skinPressed, this, [this](std::uint32_t v) {
            spot_->move(viewport()->mapTo(this, QPoint(12, 8)));
            spot_->show(v);
        });
        connect(spot_, &SpotCard::jointChosen, this, [this](int joint) {
            viewport()->setColouring(Colouring::Weight);
            viewport()->setWeightJoint(joint);
        });
    }
    connect(stage_, &Stage::logMarkedWanted, this, &ReviewPage::logMarked);
    connect(session, &Session::frameReady, this, &ReviewPage::logWhenShown, Qt::QueuedConnection);
    connect(session, &Session::findingChanged, this, [this] {
        if (session_->finding() >= 0)
            strips_->reveal(session_->run()->findings[session_->finding()].motion);
    });
}

QWidget* ReviewPage::buildStrips() {
    auto* side = new QWidget;
    setTextLeast(side, 340, 440);
    auto* all = new QVBoxLayout(side);
    all->setContentsMargins(0, 0, 0, 0);
    all->setSpacing(0);
    all->addWidget(new StripHead(model_, session_));
    auto* sides = new QHBoxLayout;
    sides->setContentsMargins(136, 0, 22, 2);
    for (const auto& [text, align] :
         {std::pair(tr("left"), Qt::AlignLeft), std::pair(tr("neutral"), Qt::AlignHCenter),
          std::pair(tr("right"), Qt::AlignRight)}) {
        auto* l = new QLabel(text);
        l->setAlignment(align);
        l->setProperty("quiet", true);
        setType(l, 0.88);
        sides->addWidget(l, 1);
    }
    all->addLayout(sides);
    auto* hair = new QFrame;
    hair->setProperty("hair", true);
    all->addWidget(hair);
    strips_ = new StripView(model_, session_);
    strips_->setObjectName(QStringLiteral("strips"));
    all->addWidget(strips_, 1);
    return side;
}

QWidget* ReviewPage::buildReading() {
    auto* side = new QWidget;
    side->setMaximumWidth(560);
    setTextLeast(side, 300, 420);
    auto* all = new QVBoxLayout(side);
    all->setContentsMargins(16, 8, 12, 0);
    all->setSpacing(10);
    reading_ = new ReadingPanel(session_);
    findings_ = new FindingsPanel(session_);
    all->addWidget(reading_);
    all->addWidget(findings_, 1);
    connect(reading_, &ReadingPanel::chartWanted, this, &ReviewPage::showChart);
    connect(findings_, &FindingsPanel::logWanted, this, &ReviewPage::logFinding);
    connect(findings_, &FindingsPanel::settleWanted, this, &ReviewPage::settleFinding);
    connect(findings_, &FindingsPanel::defectWanted, this, &ReviewPage::defectWanted);
    connect(findings_, &FindingsPanel::mergeWanted, session_, &Session::mergeFinding);
    return side;
}

void ReviewPage::stepAngle(int by) {
    if (session_->motion() < 0)
        return;
    const auto& steps = session_->plan().motions[session_->motion()].degrees;
    double target = session_->degrees();
    if (by > 0) {
        target = session_->plan().motions[session_->motion()].limit();
        for (double d : steps)
            if (d > session_->degrees() + 1e-6 && d < target)
                target = d;
    } else {
        target = 0;
        for (double d : steps)
            if (d < session_->degrees() - 1e-6 && d > target)
                target = d;
    }
    session_->setPose(session_->motion(), target);
}

void ReviewPage::goToOnsetOrPeak(int by) {
    const QModelIndex index = session_->motion() >= 0 ? model_->indexOf(session_->motion()) : QModelIndex();
    if (!index.isValid())
        return;
    const StripRow& row = model_->row(index);
    for (const StripCurve* c : {&row.left, &row.right, &row.single})
        if (c->motion == session_->motion() && c->onset >= 0) {
            const double now = session_->degrees();
            const double target = by > 0 ? (now < c->onset - 0.5 ? c->onset : c->peak)
                                         : (now > c->peak + 0.5    ? c->peak
                                            : now > c->onset + 0.5 ? c->onset
                                                                   : 0);
            session_->setPose(c->motion, target);
        }
}

void ReviewPage::stepMotion(int by) {
    const int next = strips_->motionBeside(session_->motion(), by);
    if (next < 0)
        return;
    const QModelIndex index = model_->indexOf(next);
    const StripRow& row = model_->row(index);
    const StripCurve& c = row.single.motion == next ? row.single
                          : row.left.motion == next ? row.left
                                                    : row.right;
    strips_->reveal(next);
    session_->setPose(next, c.peak >= 0 ? c.peak : c.limit);
}

void ReviewPage::stepFinding(int by) {
    const auto run = session_->run();
    if (!run || run->findings.empty())
        return;
    const int count = static_cast<int>(run->findings.size());
    session_->showFinding(((session_->finding() < 0 && by < 0 ? 0 : session_->finding()) + by + count) %
                          count);
}

void ReviewPage::goNeutral() {
    sweep_->stop();
    session_->setPose(session_->motion(), 0);
}

void ReviewPage::showChart() {
    if (session_->motion() < 0)
        return;
    if (auto* open = findChild<ChartDialog*>())
        return open->raise();
    auto* dialog = new ChartDialog(session_, this);
    dialog->setAttribute(Qt::WA_DeleteOnClose);
    dialog->show(); // beside the page: it follows the motion
}

QByteArray ReviewPage::cameraJson() const {
    return viewport() ? viewport()->camera().toJson() : QByteArray("{}");
}

QByteArray ReviewPage::picture() const { return viewport() ? viewport()->picture() : QByteArray(); }

void ReviewPage::savePicture() {
    if (!viewport() || !session_->subject())
        return;
    const QString path = QFileDialog::getSaveFileName(this, tr("Save the picture"),
                                                      QStringLiteral("pose.png"), tr("Picture (*.png)"));
    if (path.isEmpty())
        return;
    const QByteArray png = picture();
    if (auto written = writeFile(path.toStdString(), png.toStdString()); !written)
        emit session_->failed(QString::fromStdString(written.error()));
}

void ReviewPage::savePosedMesh() {
    const auto frame = session_->frame();
    if (!frame || frame->subject != session_->subject())
        return;
    const QString path = QFileDialog::getSaveFileName(
        this, tr("Save the posed mesh"), QStringLiteral("pose.glb"), tr("Geometry (*.glb *.ply *.obj)"));
    if (path.isEmpty())
        return;
    if (auto written = writePosed(*frame->subject->character, frame->position, path.toStdString()); !written)
        emit session_->failed(QString::fromStdString(written.error()));
}

void ReviewPage::logHere() {
    int finding = session_->finding();
    const auto shown = findings_->shownFindings();
    if (finding < 0 || std::find(shown.begin(), shown.end(), finding) == shown.end())
        finding = shown.empty() ? -1 : shown.front();
    if (finding >= 0)
        logFinding(finding);
}

void ReviewPage::toggleOtherSide() { reading_->setOtherSideShown(!reading_->otherSideShown()); }

void ReviewPage::logFinding(int finding) {
    const auto run = session_->run();
    if (!run || finding < 0 || finding >= static_cast<int>(run->findings.size()))
        return;
    // What is logged is the finding at its worst, so that is what the picture has to show.
    toLog_ = finding;
    session_->showFinding(finding);
    QMetaObject::invokeMethod(this, &ReviewPage::logWhenShown, Qt::QueuedConnection);
}

void ReviewPage::settleFinding(int finding, bool accepts) {
    const auto run = session_->run();
    if (!run || finding < 0 || finding >= static_cast<int>(run->findings.size()))
        return;
    const QString what = QString::fromStdString(
        sentence(*session_->subject(), run->plan, run->findings[std::size_t(finding)]));
    auto* dialog = accepts ? new ReasonDialog(tr("Accept"), what, {DefectState::Accepted}, this)
                           : new ReasonDialog(tr("Dismiss"), what,
                                              {DefectState::Intended, DefectState::NotItsFault}, this);
    dialog->setAttribute(Qt::WA_DeleteOnClose);
    connect(dialog, &ReasonDialog::settled, this,
            [this, finding, run](DefectState state, const QString& reason) {
                if (run == session_->run()) // not judged again meanwhile
                    session_->settleFinding(finding, state, reason, cameraJson(), picture());
            });
    session_->showFinding(finding);
    dialog->open();
}

void ReviewPage::logWhenShown() {
    const auto frame = session_->frame();
    if (toLog_ < 0 || !frame || frame->motion != session_->motion() || frame->degrees != session_->degrees())
        return; // called again with the next frame
    const int finding = std::exchange(toLog_, -1);
    if (viewport())
        viewport()->settle();
    session_->logDefect(finding, cameraJson(), picture());
}

void ReviewPage::logMarked() {
    if (!viewport())
        return;
    const auto triangles = viewport()->marked();
    if (triangles.empty() || session_->motion() < 0)
        return emit session_->failed(tr("Mark some skin first, in the pose of a motion."));
    const Motion& motion = session_->plan().motions[static_cast<std::size_t>(session_->motion())];
    const QString where = tr("%1 triangles marked, in %2 at %3")
                              .arg(triangles.size())
                              .arg(QString::fromStdString(motion.name),
                                   QString::fromStdString(wordsFor(motion, session_->degrees())));
    auto* dialog = new LogByEyeDialog(where, session_->kindAt(triangles), this);
    dialog->setAttribute(Qt::WA_DeleteOnClose);
    const auto subject = session_->subject();
    connect(dialog, &LogByEyeDialog::chosen, this,
            [this, triangles, subject](Kind kind, int severity, const QString& note) {
                if (subject != session_->subject())
                    return; // another character was opened meanwhile
                session_->logByEye(triangles, kind, severity, note, cameraJson(), picture());
                viewport()->clearMarks();
                viewport()->setMarkTool(MarkTool::None);
            });
    dialog->open();
}

void ReviewPage::restyle() {
    stage_->restyle();
    reading_->show();
    for (QWidget* w : findChildren<QWidget*>())
        w->update();
}

void ReviewPage::showDefect(const Defect& d) {
    const auto s = session_->subject();
    if (!s)
        return;
    const auto& motions = session_->plan().motions;
    int motion = -1;
    for (int m = 0; m < static_cast<int>(motions.size()); ++m)
        if (QString::fromStdString(motions[m].id) == d.facts.motion)
            motion = m;
    const int joint = s->character->skeleton.find(d.facts.joint.toStdString());
    int found = -1;
    if (const auto run = session_->run())
        for (int f = 0; f < static_cast<int>(run->findings.size()); ++f)
            if (run->findings[f].joint == joint &&
                d.facts.kind == QLatin1String(nameOf(run->findings[f].kind)) &&
                run->findings[f].motion == motion)
                found = f;
    session_->selectFinding(found);
    if (motion >= 0) {
        strips_->reveal(motion);
        session_->setPose(motion, d.facts.degrees);
    } else {
        session_->setFreePose(poseOf(d.facts, *s->character), joint, d.facts.degrees);
    }
    if (viewport())
        viewport()->setCamera(Camera::fromJson(d.facts.camera, viewport()->camera()), true);
}

} // namespace hobble
