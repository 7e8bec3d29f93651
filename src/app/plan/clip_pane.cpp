#include "app/plan/clip_pane.h"

#include "app/plan/joint_map_dialog.h"
#include "app/theme.h"
#include "app/widgets/flow_layout.h"

#include <QCheckBox>
#include <QComboBox>
#include <QFileDialog>
#include <QFileInfo>
#include <QFormLayout>
#include <QHBoxLayout>
#include <QLabel>
#include <QPushButton>
#include <QSettings>
#include <QSpinBox>
#include <QVBoxLayout>

namespace hobble {

namespace {

enum Which { EveryNth, Stressful, OneFrame };

} // namespace

ClipPane::ClipPane(BuildDesk* build, PoseDesk* pose, QWidget* parent)
    : QWidget(parent), build_(build), desk_(pose) {
    auto* column = new QVBoxLayout(this);
    column->setContentsMargins(0, 0, 0, 0);
    column->setSpacing(6);
    auto* top = new FlowLayout(4);
    top->setContentsMargins(0, 0, 0, 0);
    auto* openIt = new QPushButton(tr("Open a clip"));
    openIt->setObjectName(QStringLiteral("openClip"));
    connect(openIt, &QPushButton::clicked, this, &ClipPane::open);
    auto* own = new QPushButton(tr("The character's own"));
    own->setObjectName(QStringLiteral("ownClip"));
    connect(own, &QPushButton::clicked, this, [this] {
        if (build_->build())
            desk_->openClip(QString::fromStdString(build_->build()->source));
    });
    top->addWidget(openIt);
    top->addWidget(own);
    auto* topRow = new QWidget;
    topRow->setLayout(top);
    column->addWidget(topRow);
    title_ =
        new QLabel(tr("Motion capture (BVH), or the clips in a glTF or FBX file. Its body need not have this "
                      "one's proportions, joints or names."));
    title_->setObjectName(QStringLiteral("clipTitle"));
    title_->setWordWrap(true);
    title_->setTextFormat(Qt::PlainText);
    column->addWidget(title_);

    body_ = new QWidget;
    auto* rest = new QVBoxLayout(body_);
    rest->setContentsMargins(0, 0, 8, 0);
    rest->setSpacing(6);
    clips_ = new QComboBox;
    clips_->setObjectName(QStringLiteral("clipList"));
    clips_->setAccessibleName(tr("Clip of the file"));
    rest->addWidget(clips_);
    strip_ = new ClipStrip(desk_);
    strip_->setObjectName(QStringLiteral("clipStrip"));
    rest->addWidget(strip_);
    frame_ = new QLabel;
    frame_->setObjectName(QStringLiteral("clipFrame"));
    frame_->setWordWrap(true);
    frame_->setTextFormat(Qt::PlainText);
    rest->addWidget(frame_);
    connect(strip_, &ClipStrip::placeChanged, this, [this] {
        desk_->showClipFrame(strip_->place());
        refreshFrame();
    });

    auto* form = new QFormLayout;
    form->setContentsMargins(0, 0, 0, 0);
    form->setVerticalSpacing(5);
    form->setLabelAlignment(Qt::AlignLeft);
    form->setRowWrapPolicy(QFormLayout::WrapLongRows);
    which_ = new QComboBox;
    clips_->setSizeAdjustPolicy(QComboBox::AdjustToMinimumContentsLengthWithIcon); // a name may be long
    which_->setObjectName(QStringLiteral("clipWhich"));
    which_->addItems({tr("every n-th frame"), tr("what stresses most"), tr("this frame")});
    form->addRow(tr("Take"), which_);
    auto* span = new QWidget;
    auto* spanRow = new FlowLayout(4);
    spanRow->setContentsMargins(0, 0, 0, 0);
    span->setLayout(spanRow);
    spanRow->setContentsMargins(0, 0, 0, 0);
    const auto spin = [&](const char* name, const QString& said) {
        auto* s = new QSpinBox;
        s->setObjectName(QLatin1String(name));
        s->setAccessibleName(said);
        return s;
    };
    first_ = spin("clipFirst", tr("First frame"));
    last_ = spin("clipLast", tr("Last frame"));
    spanRow->addWidget(first_);
    spanRow->addWidget(new QLabel(tr("to")));
    spanRow->addWidget(last_);
    form->addRow(tr("Frames"), span);
    every_ = spin("clipEvery", tr("Every so-manyth frame"));
    every_->setRange(1, 100000);
    every_->setValue(10);
    form->addRow(tr("Every"), every_);
    most_ = spin("clipMost", tr("How many frames at most"));
    most_->setRange(1, 200);
    most_->setValue(12);
    form->addRow(tr("At most"), most_);
    beyond_ = new QComboBox;
    beyond_->setObjectName(QStringLiteral("clipBeyond"));
    beyond_->addItems({tr("with the rest"), tr("left out"), tr("judged apart")});
    beyond_->setCurrentIndex(2);
    beyond_->setToolTip(
        tr("A frame that drives a joint past its planned range is the clip's fault, not the character's."));
    form->addRow(tr("Past the plan"), beyond_);
    rest_ = new QComboBox;
    rest_->setObjectName(QStringLiteral("clipRest"));
    rest_->addItems({tr("as the file says"), tr("as in this frame")});
    form->addRow(tr("Its body rests"), rest_);
    feet_ = new QCheckBox(tr("feet do not slide"));
    feet_->setObjectName(QStringLiteral("clipFeet"));
    form->addRow(QString(), feet_);
    rest->addLayout(form);
    auto* buttons = new FlowLayout(4);
    buttons->setContentsMargins(0, 0, 0, 0);
    auto* toPlan = new QPushButton(tr("Put in the plan"));
    toPlan->setObjectName(QStringLiteral("clipToPlan"));
    toPlan->setProperty("strong", true);
    connect(toPlan, &QPushButton::clicked, this, &ClipPane::put);
    map_ = new QPushButton(tr("Which joint is which"));
    map_->setObjectName(QStringLiteral("clipMap"));
    connect(map_, &QPushButton::clicked, this, &ClipPane::editMap);
    buttons->addWidget(toPlan);
    buttons->addWidget(map_);
    auto* buttonRow = new QWidget;
    buttonRow->setLayout(buttons);
    rest->addWidget(buttonRow);
    notes_ = new QLabel;
    notes_->setObjectName(QStringLiteral("clipNotes"));
    notes_->setWordWrap(true);
    notes_->setTextFormat(Qt::PlainText);
    notes_->setProperty("quiet", true);
    notes_->setAlignment(Qt::AlignTop);
    rest->addWidget(notes_);
    rest->addStretch(1);
    column->addWidget(body_);
    column->addStretch(1);

    connect(clips_, &QComboBox::currentIndexChanged, this, &ClipPane::choose);
    connect(feet_, &QCheckBox::toggled, this, &ClipPane::choose);
    connect(rest_, &QComboBox::currentIndexChanged, this, &ClipPane::choose);
    connect(which_, &QComboBox::currentIndexChanged, this, &ClipPane::refreshFrame);
    for (QSpinBox* s : {first_, last_})
        connect(s, &QSpinBox::valueChanged, this, [this] {
            strip_->setSpan(static_cast<std::size_t>(first_->value()),
                            static_cast<std::size_t>(last_->value()));
        });
    connect(desk_, &PoseDesk::clipChanged, this, &ClipPane::refresh);
    connect(desk_, &PoseDesk::rangesChanged, this, &ClipPane::refreshFrame);
    refresh();
}

void ClipPane::open() {
    const QString folder =
        QSettings()
            .value(QStringLiteral("clipFolder"), QSettings().value(QStringLiteral("folder")))
            .toString();
    const QString path = QFileDialog::getOpenFileName(
        this, tr("Open a clip"), folder, tr("Clips (*.bvh *.glb *.gltf *.fbx *.dae);;All files (*)"));
    if (path.isEmpty())
        return;
    QSettings().setValue(QStringLiteral("clipFolder"), QFileInfo(path).absolutePath());
    desk_->openClip(path);
}

void ClipPane::refresh() {
    const ClipOnDesk* clip = desk_->clip();
    body_->setVisible(clip);
    if (!clip)
        return;
    filling_ = true;
    const std::size_t frames = clip->file->frameCount(clip->chosen());
    title_->setText(
        tr("%1: %2 frames, %3 a second, %4")
            .arg(QFileInfo(clip->path).fileName())
            .arg(frames)
            .arg(clip->file->framesPerSecond, 0, 'f', 0)
            .arg(clip->asItIs ? tr("made for this skeleton") : tr("carried over from another body")));
    clips_->clear();
    for (const Clip& c : clip->file->body.clips)
        clips_->addItem(QString::fromStdString(c.name.empty() ? std::string("clip") : c.name));
    clips_->setCurrentIndex(clip->clip);
    clips_->setVisible(clips_->count() > 1);
    const int most = static_cast<int>(clip->poses.size()) - 1;
    first_->setRange(0, std::max(most, 0));
    last_->setRange(0, std::max(most, 0));
    first_->setValue(0);
    last_->setValue(std::max(most, 0));
    feet_->setChecked(clip->settings.keepFeet);
    feet_->setEnabled(!clip->asItIs);
    rest_->setCurrentIndex(clip->settings.restSeconds >= 0 ? 1 : 0);
    map_->setEnabled(!clip->asItIs);
    QStringList notes;
    for (const std::string& note : clip->notes)
        notes << QString::fromStdString(note);
    notes_->setText(notes.join(QLatin1Char('\n')));
    filling_ = false;
    strip_->setSpan(0, static_cast<std::size_t>(std::max(most, 0)));
    strip_->setPlace(clip->place);
    refreshFrame();
}

void ClipPane::refreshFrame() {
    const ClipOnDesk* clip = desk_->clip();
    if (!clip || clip->stress.empty())
        return;
    const std::size_t i = std::min(strip_->place(), clip->stress.size() - 1);
    const FrameStress& s = clip->stress[i];
    const auto name = [&](int joint) {
        return joint < 0
                   ? QString()
                   : QString::fromStdString(build_->build()->skeleton.name[static_cast<std::size_t>(joint)]);
    };
    std::size_t past = 0;
    for (const FrameStress& f : clip->stress)
        past += f.beyond > 5;
    QString words = tr("Frame %1: ").arg(clip->frames[i]);
    words += s.beyond > 0.5
                 ? tr("%1 is %2° past its planned range").arg(name(s.beyondJoint)).arg(s.beyond, 0, 'f', 0)
             : s.joint >= 0 ? tr("%1 uses %2 % of its range").arg(name(s.joint)).arg(100 * s.share, 0, 'f', 0)
                            : tr("nothing turns");
    words += QLatin1Char('\n') + tr("%1 of %2 frames go past the plan.").arg(past).arg(clip->stress.size());
    frame_->setText(words);
    const int which = which_->currentIndex();
    first_->setEnabled(which != OneFrame);
    last_->setEnabled(which != OneFrame);
    every_->setEnabled(which == EveryNth);
    most_->setEnabled(which == Stressful);
    strip_->update();
}

void ClipPane::choose() {
    const ClipOnDesk* clip = desk_->clip();
    if (filling_ || !clip || clips_->currentIndex() < 0)
        return;
    RetargetSettings settings = clip->settings;
    settings.keepFeet = feet_->isChecked();
    settings.restSeconds =
        rest_->currentIndex() == 1 ? clip->file->secondsAt(clip->frames[strip_->place()]) : -1;
    desk_->chooseClip(clips_->currentIndex(), settings);
}

void ClipPane::put() {
    if (!desk_->clip())
        return;
    const auto beyond = static_cast<BeyondPlan>(beyond_->currentIndex());
    const auto first = static_cast<std::size_t>(first_->value()),
               last = static_cast<std::size_t>(last_->value());
    switch (which_->currentIndex()) {
    case OneFrame:
        return desk_->putClipInPlan(strip_->place(), strip_->place(), 1, 0, beyond);
    case Stressful:
        return desk_->putClipInPlan(first, last, 1, static_cast<std::size_t>(most_->value()), beyond);
    default:
        return desk_->putClipInPlan(first, last, static_cast<std::size_t>(every_->value()), 0, beyond);
    }
}

void ClipPane::editMap() {
    const ClipOnDesk* clip = desk_->clip();
    if (!clip)
        return;
    JointMapDialog dialog(*build_->subject(), *clip, this);
    if (dialog.exec() != QDialog::Accepted)
        return;
    RetargetSettings settings = clip->settings;
    settings.said = dialog.said();
    desk_->chooseClip(clip->clip, settings);
}

} // namespace hobble
