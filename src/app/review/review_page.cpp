#include "app/review/review_page.h"

#include "app/review/log_by_eye_dialog.h"
#include "app/review/strip_head.h"
#include "app/theme.h"
#include "app/widgets/parts.h"
#include "app/widgets/reason_dialog.h"
#include "app/words.h"
#include "core/words/finding_words.h"
#include "core/words/motion_words.h"
#include "io/file_write.h"
#include "io/mesh_write.h"
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

ReviewPage::ReviewPage(BuildDesk* build, PlanDesk* plan, RunDesk* run, ExposureDesk* exposure, LogDesk* log,
                       QUndoStack* undo, QWidget* parent)
    : Page(parent), build_(build), plan_(plan), run_(run), exposure_(exposure), log_(log) {
    setAccessibleName(tr("Review"));
    model_ = new StripModel(plan, run, exposure, this);
    auto* row = new QHBoxLayout(this);
    row->setContentsMargins(0, 0, 0, 0);
    row->setSpacing(0);
    QWidget* strips = buildStrips();
    sweep_ = new Sweep(build, plan, run, model_, strips_, this);
    stage_ = new Stage(build, run, undo, sweep_);
    row->addWidget(columns({strips, stage_, buildReading()}, 1, {420, 540, 320}));
    restyle();

    spot_ = new SpotCard(build, plan, run, this);
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
    connect(stage_, &Stage::mendMarkedWanted, this, &ReviewPage::mendMarked);
    connect(&run_->view(), &PoseView::frameReady, this, &ReviewPage::logWhenShown, Qt::QueuedConnection);
    connect(run_, &RunDesk::findingChanged, this, [this] {
        if (const Finding* f = run_->findingAt(run_->finding()))
            strips_->reveal(f->motion);
    });
    connect(run_, &RunDesk::runChanged, this, &Page::countChanged);
    connect(exposure_, &ExposureDesk::frameWanted, this, &Page::wanted);
}

QString ReviewPage::count() const {
    return run_->run() ? QString::number(run_->run()->faults.size()) : QString();
}

QWidget* ReviewPage::firstFocus() { return strips_; }

QWidget* ReviewPage::buildStrips() {
    auto* side = new QWidget;
    setTextLeast(side, 340, 440);
    auto* all = new QVBoxLayout(side);
    all->setContentsMargins(0, 0, 0, 0);
    all->setSpacing(0);
    auto* head = new StripHead(model_, build_, plan_, run_, exposure_);
    connect(head, &StripHead::compareWanted, this, [this] { emit compareWanted(0, 0); });
    all->addWidget(head);
    auto* over = new QWidget; // stands as the strips do, whichever way the words around them are read
    over->setLayoutDirection(Qt::LeftToRight);
    auto* sides = new QHBoxLayout(over);
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
    all->addWidget(over);
    all->addWidget(hairline());
    strips_ = new StripView(model_, build_, plan_, run_);
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
    reading_ = new ReadingPanel(build_, plan_, run_);
    findings_ = new FindingsPanel(build_, plan_, run_, exposure_, log_);
    all->addWidget(reading_);
    all->addWidget(findings_, 1);
    connect(reading_, &ReadingPanel::chartWanted, this, &ReviewPage::showChart);
    connect(findings_, &FindingsPanel::logWanted, this, &ReviewPage::logFinding);
    connect(findings_, &FindingsPanel::settleWanted, this, &ReviewPage::settleFinding);
    connect(findings_, &FindingsPanel::defectWanted, this, &ReviewPage::defectWanted);
    connect(findings_, &FindingsPanel::mendWanted, this, &Page::mendWanted);
    connect(findings_, &FindingsPanel::mergeWanted, run_, &RunDesk::merge);
    return side;
}

void ReviewPage::stepAngle(int by) {
    if (const Motion* m = run_->motionShown())
        run_->setPose(run_->motion(), stepBeside(*m, run_->poseAt(), by > 0));
}

void ReviewPage::goToOnsetOrPeak(int by) {
    const QModelIndex index = run_->motion() >= 0 ? model_->indexOf(run_->motion()) : QModelIndex();
    if (!index.isValid())
        return;
    const StripRow& row = model_->row(index);
    for (const StripCurve* c : {&row.left, &row.right, &row.single})
        if (c->motion == run_->motion() && c->onset >= 0) {
            const double now = run_->poseAt();
            const double target = by > 0 ? (now < c->onset - 0.5 ? c->onset : c->peak)
                                         : (now > c->peak + 0.5    ? c->peak
                                            : now > c->onset + 0.5 ? c->onset
                                                                   : 0);
            run_->setPose(c->motion, target);
        }
}

void ReviewPage::stepMotion(int by) {
    const int next = strips_->motionBeside(run_->motion(), by);
    if (next < 0)
        return;
    const QModelIndex index = model_->indexOf(next);
    const StripRow& row = model_->row(index);
    const StripCurve& c = row.single.motion == next ? row.single
                          : row.left.motion == next ? row.left
                                                    : row.right;
    strips_->reveal(next);
    run_->setPose(next, c.peak >= 0 ? c.peak : c.limit);
}

void ReviewPage::stepFinding(int by) {
    const auto run = run_->run();
    if (!run || run->faults.empty())
        return;
    const int count = static_cast<int>(run->faults.size());
    const Finding* looked = run_->findingAt(run_->finding());
    const int from = looked ? looked->fault : by < 0 ? 0 : -1;
    run_->showFinding(run->faults[static_cast<std::size_t>((from + by + count) % count)].signs.front());
}

void ReviewPage::goNeutral() {
    sweep_->stop();
    run_->setPose(run_->motion(), 0);
}

void ReviewPage::showChart() {
    if (run_->motion() < 0)
        return;
    if (auto* open = findChild<ChartDialog*>())
        return open->raise();
    auto* dialog = new ChartDialog(build_, plan_, run_, this);
    dialog->setAttribute(Qt::WA_DeleteOnClose);
    connect(dialog, &ChartDialog::failed, this, &Page::failed);
    dialog->show(); // beside the page: it follows the motion
}

QByteArray ReviewPage::cameraJson() const {
    return viewport() ? viewport()->camera().toJson() : QByteArray("{}");
}

QByteArray ReviewPage::picture() const { return viewport() ? viewport()->picture() : QByteArray(); }

void ReviewPage::savePicture() {
    if (!viewport() || !build_->subject())
        return;
    const QString path = QFileDialog::getSaveFileName(this, tr("Save the picture"),
                                                      QStringLiteral("pose.png"), tr("Picture (*.png)"));
    if (path.isEmpty())
        return;
    const QByteArray png = picture();
    if (auto written = writeFile(path.toStdString(), png.toStdString()); !written)
        emit failed(QString::fromStdString(written.error()));
}

void ReviewPage::savePosedMesh() {
    const auto frame = run_->view().frame();
    if (!frame || frame->subject != build_->subject())
        return;
    const QString path = QFileDialog::getSaveFileName(
        this, tr("Save the posed mesh"), QStringLiteral("pose.glb"), tr("Geometry (*.glb *.ply *.obj)"));
    if (path.isEmpty())
        return;
    if (auto written = writePosed(*frame->subject->character, frame->position, path.toStdString()); !written)
        emit failed(QString::fromStdString(written.error()));
}

QString ReviewPage::asksWhy() const {
    const auto run = run_->run();
    const int finding = run_->finding();
    if (!run || finding < 0 || finding >= static_cast<int>(run->findings.size()))
        return {};
    return QString::fromUtf8(factsOf(run->findings[static_cast<std::size_t>(finding)].kind).word);
}

void ReviewPage::logHere() {
    int finding = run_->finding();
    const auto shown = findings_->shownFaults();
    const Fault* fault = run_->faultOf(finding);
    if (!fault || std::find(shown.begin(), shown.end(), fault->signs.front()) == shown.end())
        finding = shown.empty() ? -1 : shown.front();
    if (finding >= 0)
        logFinding(finding);
}

void ReviewPage::toggleOtherSide() { reading_->setOtherSideShown(!reading_->otherSideShown()); }

void ReviewPage::logFinding(int finding) {
    const auto run = run_->run();
    if (!run || finding < 0 || finding >= static_cast<int>(run->findings.size()))
        return;
    // What is logged is the finding at its worst, so that is what the picture has to show.
    toLog_ = finding;
    run_->showFinding(finding);
    QMetaObject::invokeMethod(this, &ReviewPage::logWhenShown, Qt::QueuedConnection);
}

void ReviewPage::settleFinding(int finding, bool accepts) {
    const auto run = run_->run();
    if (!run || finding < 0 || finding >= static_cast<int>(run->findings.size()))
        return;
    const QString what =
        QString::fromStdString(sentence(*build_->subject(), run->plan, run->findings[std::size_t(finding)]));
    auto* dialog = accepts ? new ReasonDialog(tr("Accept"), what, {DefectState::Accepted}, this)
                           : new ReasonDialog(tr("Dismiss"), what,
                                              {DefectState::Intended, DefectState::NotItsFault}, this);
    dialog->setAttribute(Qt::WA_DeleteOnClose);
    connect(dialog, &ReasonDialog::settled, this,
            [this, finding, run](DefectState state, const QString& reason) {
                if (run == run_->run()) // not judged again meanwhile
                    run_->settle(finding, state, reason, cameraJson(), picture());
            });
    run_->showFinding(finding);
    dialog->open();
}

void ReviewPage::logWhenShown() {
    if (toLog_ < 0 || !run_->view().arrived())
        return; // called again with the next frame
    const int finding = std::exchange(toLog_, -1);
    if (viewport())
        viewport()->settle();
    run_->logDefect(finding, cameraJson(), picture());
}

void ReviewPage::logMarked() {
    if (!viewport())
        return;
    const auto triangles = stage_->marking()->marked();
    if (triangles.empty() || run_->motion() < 0)
        return void(emit failed(tr("Mark some skin first, in the pose of a motion.")));
    const Motion& motion = plan_->plan().motions[static_cast<std::size_t>(run_->motion())];
    const QString where =
        (triangles.size() == 1 ? tr("one triangle marked, in %1 at %2")
                               : tr("%n triangles marked, in %1 at %2", nullptr, int(triangles.size())))
            .arg(QString::fromStdString(motionName(motion.name)),
                 QString::fromStdString(wordsFor(motion, run_->poseAt())));
    auto* dialog = new LogByEyeDialog(where, run_->kindAt(triangles), this);
    dialog->setAttribute(Qt::WA_DeleteOnClose);
    const auto subject = build_->subject();
    connect(dialog, &LogByEyeDialog::chosen, this,
            [this, triangles, subject](Kind kind, int severity, const QString& note) {
                if (subject != build_->subject())
                    return; // another character was opened meanwhile
                run_->logByEye(triangles, kind, severity, note, cameraJson(), picture());
                stage_->marking()->clear();
                stage_->marking()->setTool(MarkTool::None);
            });
    dialog->open();
}

// The fault looked at, else what is marked, else the joint looked at.
void ReviewPage::mendHere() {
    if (run_->finding() >= 0)
        emit mendWanted(run_->finding());
    else if (stage_->marking() && !stage_->marking()->marked().empty())
        mendMarked();
    else if (run_->joint() >= 0)
        emit mendJointWanted(run_->joint());
}

void ReviewPage::mendMarked() {
    if (!stage_->marking() || !build_->subject())
        return;
    const auto triangles = stage_->marking()->marked();
    const Subject& s = *build_->subject();
    std::vector<double> held(s.roles.size(), 0);
    for (std::uint32_t t : triangles)
        for (std::uint32_t v : s.surface.triangles[t])
            for (std::uint32_t i = s.surface.weights.first[v]; i < s.surface.weights.first[v + 1]; ++i)
                held[s.surface.weights.joint[i]] += static_cast<double>(s.surface.weights.weight[i]);
    const int most = run_->joint() >= 0
                         ? run_->joint()
                         : static_cast<int>(std::max_element(held.begin(), held.end()) - held.begin());
    emit mendSkinWanted(most, triangles);
}

void ReviewPage::restyle() {
    stage_->restyle();
    reading_->show();
    for (QWidget* w : findChildren<QWidget*>())
        w->update();
}

int ReviewPage::findingOf(int motion, int joint, const QString& kind) const {
    if (const auto run = run_->run())
        for (int f = 0; f < static_cast<int>(run->findings.size()); ++f)
            if (const Finding& it = run->findings[static_cast<std::size_t>(f)];
                it.motion == motion && it.joint == joint && kind == QLatin1String(nameOf(it.kind)))
                return f;
    return -1;
}

void ReviewPage::showDefect(const Defect& d) {
    const auto s = build_->subject();
    if (!s)
        return;
    const auto& motions = plan_->plan().motions;
    int motion = -1;
    for (int m = 0; m < static_cast<int>(motions.size()); ++m)
        if (QString::fromStdString(motions[m].id) == d.facts.motion)
            motion = m;
    const int joint = s->character->skeleton.find(d.facts.joint.toStdString());
    run_->selectFinding(findingOf(motion, joint, d.facts.kind));
    if (motion >= 0) {
        strips_->reveal(motion);
        run_->setPose(motion, d.facts.degrees);
    } else {
        run_->setFreePose(poseOf(d.facts, *s->character), joint, d.facts.degrees);
    }
    if (viewport())
        viewport()->setCamera(Camera::fromJson(d.facts.camera, viewport()->camera()), true);
}

namespace {
const QString kFolded = QStringLiteral("folded"), kStates = QStringLiteral("states"),
              kMotion = QStringLiteral("motion"), kAt = QStringLiteral("at"),
              kFinding = QStringLiteral("finding"), kJoint = QStringLiteral("joint"),
              kKind = QStringLiteral("kind");
// Of the strips: they start anew with every character.
const QStringList kOfTheStrips = {QStringLiteral("stripMeasure"), QStringLiteral("stripSeverity"),
                                  QStringLiteral("stripJoint"),   QStringLiteral("stripReached"),
                                  QStringLiteral("worstFirst"),   QStringLiteral("mostUsed"),
                                  QStringLiteral("onlyChanged"),  QStringLiteral("goodBehind")};
} // namespace

QStringList ReviewPage::namesInLayout() const {
    return {QStringLiteral("colourBy"), QStringLiteral("showSkeleton"), QStringLiteral("showWire"),
            QStringLiteral("showSmooth")};
}

QJsonObject ReviewPage::layoutToKeep() const {
    QJsonObject o = Page::layoutToKeep();
    o.insert(kFolded, QJsonArray::fromStringList(strips_->folded().values()));
    return o;
}

void ReviewPage::layOutAs(const QJsonObject& kept) {
    Page::layOutAs(kept);
    for (const QJsonValue& group : kept.value(kFolded).toArray())
        strips_->setFolded(group.toString(), true);
}

QJsonObject ReviewPage::placeToKeep() const {
    QJsonObject o{{kStates, statesOf(kOfTheStrips)}};
    if (const Motion* m = run_->motionShown()) {
        o.insert(kMotion, QString::fromStdString(m->id));
        o.insert(kAt, run_->poseAt());
    }
    if (const Finding* f = run_->findingAt(run_->finding())) {
        const RunResult& run = *run_->run();
        o.insert(
            kFinding,
            QJsonObject{
                {kMotion, QString::fromStdString(run.plan.motions[static_cast<std::size_t>(f->motion)].id)},
                {kJoint,
                 QString::fromStdString(
                     build_->subject()->character->skeleton.name[static_cast<std::size_t>(f->joint)])},
                {kKind, QLatin1String(nameOf(f->kind))}});
    }
    return o;
}

void ReviewPage::goBackTo(const QJsonObject& place) {
    const auto motionOf = [this](const QJsonObject& o) {
        return plan_->plan().find(o.value(kMotion).toString().toStdString());
    };
    setStates(place.value(kStates).toObject());
    if (const QJsonObject f = place.value(kFinding).toObject(); !f.isEmpty() && build_->subject())
        run_->selectFinding(
            findingOf(motionOf(f),
                      build_->subject()->character->skeleton.find(f.value(kJoint).toString().toStdString()),
                      f.value(kKind).toString()));
    if (const int motion = motionOf(place); motion >= 0) {
        strips_->reveal(motion);
        run_->setPose(motion, place.value(kAt).toDouble());
    }
}

} // namespace hobble
