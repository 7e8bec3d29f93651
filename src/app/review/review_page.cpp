#include "app/review/review_page.h"

#include "app/review/settle_dialog.h"
#include "app/theme.h"
#include "io/file_write.h"
#include "io/mesh_write.h"
#include "io/run_json.h"

#include <QButtonGroup>
#include <QComboBox>
#include <QFileDialog>
#include <QHBoxLayout>
#include <QJsonArray>
#include <QJsonDocument>
#include <QJsonObject>
#include <QLabel>
#include <QMenu>
#include <QPushButton>
#include <QSplitter>
#include <QTimer>
#include <QVBoxLayout>

#include <cmath>
#include <utility>

namespace hobble {

namespace {

QPushButton* wordButton(const QString& text, bool checkable) {
    auto* b = new QPushButton(text);
    b->setCheckable(checkable);
    b->setCursor(Qt::PointingHandCursor);
    return b;
}

} // namespace

ReviewPage::ReviewPage(Session* session, QWidget* parent) : QWidget(parent), session_(session) {
    model_ = new StripModel(session, this);
    auto* row = new QHBoxLayout(this);
    row->setContentsMargins(0, 0, 0, 0);
    row->setSpacing(0);
    auto* split = new QSplitter;
    split->setHandleWidth(1);
    split->setChildrenCollapsible(false);
    split->addWidget(buildStrips());
    split->addWidget(buildViewport());
    split->addWidget(buildReading());
    split->setStretchFactor(0, 0);
    split->setStretchFactor(1, 1);
    split->setStretchFactor(2, 0);
    split->setSizes({420, 540, 320});
    row->addWidget(split);
    restyle();

    sweep_ = new QTimer(this);
    sweep_->setInterval(33);
    connect(sweep_, &QTimer::timeout, this, &ReviewPage::sweepOn);
    connect(session, &Session::poseChanged, this, &ReviewPage::showTitle);
    connect(session, &Session::findingChanged, this, &ReviewPage::showTitle);
    connect(session, &Session::characterChanged, this, &ReviewPage::showTitle);
    connect(session, &Session::frameReady, this, &ReviewPage::logWhenShown, Qt::QueuedConnection);
    connect(session, &Session::findingChanged, this, [this] {
        if (session_->finding() >= 0)
            strips_->reveal(session_->run()->findings[session_->finding()].motion);
    });
    showTitle();
}

QWidget* ReviewPage::buildStrips() {
    auto* side = new QWidget;
    side->setMinimumWidth(340);
    auto* all = new QVBoxLayout(side);
    all->setContentsMargins(0, 0, 0, 0);
    all->setSpacing(0);
    auto* head = new QHBoxLayout;
    head->setContentsMargins(14, 6, 20, 0);
    auto* worst = wordButton(tr("worst first"), true);
    auto* body = wordButton(tr("body order"), true);
    worst->setObjectName(QStringLiteral("worstFirst"));
    body->setObjectName(QStringLiteral("bodyOrder"));
    auto* group = new QButtonGroup(side);
    group->addButton(worst);
    group->addButton(body);
    body->setChecked(true);
    head->addWidget(body);
    head->addWidget(worst);
    head->addStretch();
    auto* method = new QComboBox;
    method->setObjectName(QStringLiteral("method"));
    method->setAccessibleName(tr("Skinning method"));
    method->addItem(tr("linear skinning"), int(Skinning::Linear));
    method->addItem(tr("dual quaternions"), int(Skinning::DualQuaternion));
    head->addWidget(method);
    all->addLayout(head);
    auto* choose = new QHBoxLayout;
    choose->setContentsMargins(14, 4, 20, 2);
    auto* measure = new QComboBox;
    measure->setObjectName(QStringLiteral("stripMeasure"));
    measure->setAccessibleName(tr("Measure the strips show"));
    measure->addItem(tr("the worst of all measures"), -1);
    for (Kind k : kKinds)
        if (k != Kind::Spike) // a few vertices: no measure of the joint
            measure->addItem(QLatin1String(nameOf(k)), int(k));
    auto* severity = new QComboBox;
    severity->setObjectName(QStringLiteral("stripSeverity"));
    severity->setAccessibleName(tr("Severity from which strips are shown"));
    severity->addItem(tr("every motion"), 0);
    for (const auto& [text, least] : {std::pair(tr("minor and worse"), 1),
                                      {tr("notable and worse"), 2},
                                      {tr("serious and worse"), 3},
                                      {tr("blocking"), 4}})
        severity->addItem(text, least);
    choose->addWidget(measure, 1);
    choose->addWidget(severity, 1);
    all->addLayout(choose);
    const auto filter = [this, measure, severity] {
        const int kind = measure->currentData().toInt();
        model_->setFilter({kind < 0 ? std::nullopt : std::optional(static_cast<Kind>(kind)),
                           severity->currentData().toInt()});
    };
    connect(measure, &QComboBox::currentIndexChanged, this, filter);
    connect(severity, &QComboBox::currentIndexChanged, this, filter);
    auto* sides = new QHBoxLayout;
    sides->setContentsMargins(136, 2, 22, 4);
    for (const auto& [text, align] :
         {std::pair(tr("left side"), Qt::AlignLeft), std::pair(tr("neutral"), Qt::AlignHCenter),
          std::pair(tr("right side"), Qt::AlignRight)}) {
        auto* l = new QLabel(text);
        l->setAlignment(align);
        l->setProperty("quiet", true);
        l->setFont(typeface(0.88));
        sides->addWidget(l, 1);
    }
    all->addLayout(sides);
    auto* hair = new QFrame;
    hair->setProperty("hair", true);
    all->addWidget(hair);
    strips_ = new StripView(model_, session_);
    strips_->setObjectName(QStringLiteral("strips"));
    all->addWidget(strips_, 1);
    connect(worst, &QPushButton::toggled, model_, &StripModel::setWorstFirst);
    connect(method, &QComboBox::currentIndexChanged, this,
            [this, method] { session_->setMethod(Skinning(method->currentData().toInt())); });
    return side;
}

QWidget* ReviewPage::buildViewport() {
    auto* middle = new QWidget;
    middle->setObjectName(QStringLiteral("stage"));
    middle->setAttribute(Qt::WA_StyledBackground);
    stage_ = middle;
    auto* all = new QVBoxLayout(middle);
    all->setContentsMargins(0, 0, 0, 0);
    all->setSpacing(0);
    auto* head = new QHBoxLayout;
    head->setContentsMargins(14, 6, 8, 2);
    auto* words = new QVBoxLayout;
    words->setSpacing(0);
    title_ = new QLabel;
    title_->setObjectName(QStringLiteral("viewTitle"));
    title_->setFont(typeface(1.05, true));
    subtitle_ = new QLabel;
    subtitle_->setFont(typeface(0.9));
    words->addWidget(title_);
    words->addWidget(subtitle_);
    head->addLayout(words, 1);

    if (!Viewport::supported()) {
        all->addLayout(head);
        auto* sorry = new QLabel(
            tr("This display gives no OpenGL 3.3, so the character cannot be shown. Strips, readings, "
               "findings and the log work as ever; for the picture, start Hobble on a display with "
               "OpenGL (Mesa's software renderer is enough)."));
        sorry->setObjectName(QStringLiteral("noOpenGl"));
        sorry->setWordWrap(true);
        sorry->setAlignment(Qt::AlignCenter);
        sorry->setMargin(32);
        all->addWidget(sorry, 1);
        return middle;
    }
    viewport_ = new Viewport(session_);
    viewport_->setObjectName(QStringLiteral("viewport"));
    for (const QString& view : {tr("front"), tr("back"), tr("outer"), tr("inner"), tr("along")}) {
        auto* b = wordButton(view, false);
        b->setFont(typeface(0.92));
        connect(b, &QPushButton::clicked, this, [this, view] { viewport_->lookFrom(view); });
        head->addWidget(b, 0, Qt::AlignTop);
    }
    auto* whole = wordButton(tr("whole"), false);
    whole->setFont(typeface(0.92));
    connect(whole, &QPushButton::clicked, this, [this] { viewport_->frameAll(); });
    head->addWidget(whole, 0, Qt::AlignTop);
    all->addLayout(head);
    all->addWidget(viewport_, 1);

    auto* foot = new QHBoxLayout;
    foot->setContentsMargins(10, 0, 10, 0);
    auto* colours = new QButtonGroup(middle);
    int id = 0;
    for (const QString& text : {tr("strain"), tr("weight"), tr("own colours"), tr("influences")}) {
        auto* b = wordButton(text, true);
        b->setFont(typeface(0.92));
        b->setObjectName(QStringLiteral("colour-%1").arg(id));
        colours->addButton(b, id++);
        foot->addWidget(b);
    }
    colours->button(0)->setChecked(true);
    foot->addStretch();
    auto* parts = wordButton(tr("parts"), false);
    parts->setObjectName(QStringLiteral("parts"));
    parts->setFont(typeface(0.92));
    parts->setStyleSheet(QStringLiteral("QPushButton::menu-indicator { image: none; width: 0; }"));
    parts->setMenu(new QMenu(parts));
    foot->addWidget(parts);
    connect(parts->menu(), &QMenu::aboutToShow, this, [this, menu = parts->menu()] {
        menu->clear();
        const auto s = session_->subject();
        if (!s)
            return;
        const auto& listed = s->character->parts;
        menu->addAction(tr("show all"), this, [this, count = listed.size()] {
            for (std::size_t p = 0; p < count; ++p)
                viewport_->setPartShown(p, true);
        });
        for (std::size_t p = 0; p < listed.size(); ++p) {
            QAction* a = menu->addAction(QString::fromStdString(listed[p].name));
            a->setCheckable(true);
            a->setChecked(viewport_->partShown(p));
            connect(a, &QAction::toggled, this, [this, p](bool on) { viewport_->setPartShown(p, on); });
        }
    });
    auto* skeleton = wordButton(tr("skeleton"), true);
    auto* wire = wordButton(tr("wire"), true);
    skeleton->setChecked(true);
    for (QPushButton* b : {skeleton, wire}) {
        b->setFont(typeface(0.92));
        foot->addWidget(b);
    }
    all->addLayout(foot);
    legend_ = new Legend;
    all->addWidget(legend_);
    connect(colours, &QButtonGroup::idClicked, this, [this](int which) {
        viewport_->setWeightJoint(-1);
        viewport_->setColouring(Colouring(which));
    });
    spot_ = new SpotCard(session_, this);
    connect(viewport_, &Viewport::skinPressed, this, [this](std::uint32_t v) {
        spot_->move(stage_->mapTo(this, QPoint(12, 52)));
        spot_->show(v);
    });
    connect(spot_, &SpotCard::jointChosen, this, [this](int joint) {
        viewport_->setColouring(Colouring::Weight);
        viewport_->setWeightJoint(joint);
    });
    connect(skeleton, &QPushButton::toggled, viewport_, &Viewport::setSkeletonShown);
    connect(wire, &QPushButton::toggled, viewport_, &Viewport::setWireShown);
    connect(viewport_, &Viewport::viewChanged, this, [this, skeleton, wire, colours] {
        skeleton->setChecked(viewport_->skeletonShown());
        wire->setChecked(viewport_->wireShown());
        colours->button(int(viewport_->colouring()))->setChecked(true);
        showTitle();
    });
    return middle;
}

QWidget* ReviewPage::buildReading() {
    auto* side = new QWidget;
    side->setMinimumWidth(300);
    side->setMaximumWidth(420);
    auto* all = new QVBoxLayout(side);
    all->setContentsMargins(16, 8, 12, 0);
    all->setSpacing(10);
    reading_ = new ReadingPanel(session_);
    findings_ = new FindingsPanel(session_);
    all->addWidget(reading_);
    all->addWidget(findings_, 1);
    connect(findings_, &FindingsPanel::logWanted, this, &ReviewPage::logFinding);
    connect(findings_, &FindingsPanel::settleWanted, this, &ReviewPage::settleFinding);
    connect(findings_, &FindingsPanel::defectWanted, this, &ReviewPage::defectWanted);
    return side;
}

void ReviewPage::showTitle() {
    const auto s = session_->subject();
    const int joint = viewport_ ? viewport_->weightJoint() : session_->joint();
    if (!s) {
        title_->setText({});
        subtitle_->setText({});
    } else {
        const int m = session_->motion();
        QString what = m >= 0 ? QString::fromStdString(session_->plan().motions[m].name) : tr("logged pose");
        const Side side = m >= 0 ? session_->plan().motions[m].side : Side::Middle;
        if (side != Side::Middle)
            what = QLatin1String(nameOf(side)) + QLatin1Char(' ') + what;
        title_->setText(tr("%1, %2°").arg(what).arg(session_->degrees(), 0, 'f', 0));
        const QString view = viewport_ ? viewport_->viewWords() : QString();
        subtitle_->setText(view.isEmpty()                   ? QString()
                           : view == QLatin1String("along") ? tr("seen along the limb")
                           : view == QLatin1String("outer") || view == QLatin1String("inner")
                               ? tr("seen from the %1 side").arg(view)
                               : tr("seen from the %1").arg(view));
    }
    if (legend_ && viewport_)
        legend_->show(viewport_->colouring(), s && joint >= 0
                                                  ? QString::fromStdString(s->character->skeleton.name[joint])
                                                  : QString());
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

bool ReviewPage::sweeping() const { return sweep_->isActive(); }

void ReviewPage::toggleSweep(SweepOver over) {
    if (sweep_->isActive() && over == sweepOver_)
        return sweep_->stop();
    sweepOver_ = over;
    sweepBack_ = false;
    sweepClock_.start();
    sweep_->start();
}

void ReviewPage::sweepOn() {
    if (session_->motion() < 0)
        return sweep_->stop();
    const double limit = session_->plan().motions[session_->motion()].limit();
    // Two seconds from neutral to the limit, however many pictures a second there are.
    const double pace = std::max(limit, 30.0) * static_cast<double>(sweepClock_.restart()) / 2000;
    const double next = session_->degrees() + (sweepBack_ ? -pace : pace);
    if (next <= 0 && sweepBack_ && sweepOver_ != SweepOver::Motion) { // there and back: on to the next
        sweepBack_ = false;
        const int motion = motionAfter(session_->motion());
        if (motion < 0) {
            goNeutral();
            return;
        }
        strips_->reveal(motion);
        return session_->setPose(motion, 0);
    }
    if (next >= limit || next <= 0)
        sweepBack_ = next >= limit;
    session_->setPose(session_->motion(), std::clamp(next, 0.0, limit));
}

int ReviewPage::motionAfter(int motion) const {
    const auto& motions = session_->plan().motions;
    const int next = strips_->motionBeside(motion, 1);
    if (next < 0 || next == motion ||
        (sweepOver_ == SweepOver::Limb &&
         motions[static_cast<std::size_t>(next)].limb != motions[static_cast<std::size_t>(motion)].limb))
        return -1;
    return next;
}

void ReviewPage::savePicture() {
    if (!viewport_ || !session_->subject())
        return;
    const QString path = QFileDialog::getSaveFileName(this, tr("Save the picture"),
                                                      QStringLiteral("pose.png"), tr("Picture (*.png)"));
    if (path.isEmpty())
        return;
    const QByteArray png = viewport_->picture();
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

void ReviewPage::settleFinding(int finding, const QString& status) {
    const auto run = session_->run();
    if (!run || finding < 0 || finding >= static_cast<int>(run->findings.size()))
        return;
    const QString what = QString::fromStdString(
        sentence(*session_->subject(), run->plan, run->findings[std::size_t(finding)]));
    auto* dialog = new SettleDialog(what, status, this);
    dialog->setAttribute(Qt::WA_DeleteOnClose);
    connect(dialog, &SettleDialog::settled, this, [this, finding, run, status](const QString& reason) {
        if (run == session_->run()) // not judged again meanwhile
            session_->settleFinding(finding, status, reason,
                                    viewport_ ? viewport_->camera().toJson() : QByteArray("{}"),
                                    viewport_ ? viewport_->picture() : QByteArray());
    });
    session_->showFinding(finding);
    dialog->open();
}

void ReviewPage::logWhenShown() {
    const auto frame = session_->frame();
    if (toLog_ < 0 || !frame || frame->motion != session_->motion() || frame->degrees != session_->degrees())
        return; // called again with the next frame
    const int finding = std::exchange(toLog_, -1);
    if (viewport_)
        viewport_->settle();
    session_->logDefect(finding, viewport_ ? viewport_->camera().toJson() : QByteArray("{}"),
                        viewport_ ? viewport_->picture() : QByteArray());
}

void ReviewPage::restyle() {
    const Theme& t = Theme::current();
    stage_->setStyleSheet(
        QStringLiteral("#stage { background: %1; } #stage QLabel { color: %2; }"
                       "#stage QPushButton { color: %3; padding: 3px 4px; }"
                       "#stage QPushButton:hover { background: rgba(255,255,255,40); }"
                       "#stage QPushButton:checked { color: %2; border-bottom: 2px solid %2; }"
                       "#stage QPushButton:focus { border: 1px solid %2; padding: 2px 3px; }")
            .arg(t.viewport.name(), t.viewportInk.name(), QStringLiteral("#e4e3dd")));
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
        Pose pose = Pose::neutral(s->character->skeleton);
        const QJsonObject turns =
            QJsonDocument::fromJson(d.facts.pose).object().value(QStringLiteral("turns")).toObject();
        for (auto it = turns.begin(); it != turns.end(); ++it) {
            const int j = s->character->skeleton.find(it.key().toStdString());
            const QJsonArray q = it.value().toArray();
            if (j >= 0 && q.size() == 4)
                pose.turn[j] =
                    Quat(q[3].toDouble(), q[0].toDouble(), q[1].toDouble(), q[2].toDouble()).normalized();
        }
        session_->setFreePose(pose, joint, d.facts.degrees);
    }
    if (viewport_)
        viewport_->setCamera(Camera::fromJson(d.facts.camera, viewport_->camera()), true);
}

} // namespace hobble
