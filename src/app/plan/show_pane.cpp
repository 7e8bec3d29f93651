#include "app/plan/show_pane.h"

#include "app/theme.h"
#include "app/widgets/flow_layout.h"
#include "app/widgets/parts.h"
#include "core/words/exposure_words.h"

#include <QCheckBox>
#include <QDir>
#include <QFileDialog>
#include <QFileInfo>
#include <QLabel>
#include <QPushButton>
#include <QSettings>
#include <QSignalBlocker>
#include <QVBoxLayout>

#include <cmath>

namespace hobble {

namespace {

constexpr int kMostRows = 24, kMostMeetings = 8, kMostNames = 8;

QString folderToStartIn() {
    return QSettings()
        .value(QStringLiteral("clipFolder"), QSettings().value(QStringLiteral("folder")))
        .toString();
}

// The end of a long path, which tells one from another.
QString shortPath(const QString& path) {
    const QStringList parts = QDir::cleanPath(path).split(QLatin1Char('/'), Qt::SkipEmptyParts);
    return parts.size() <= 3 ? QDir::cleanPath(path)
                             : QStringLiteral("…/") + parts.mid(parts.size() - 3).join(QLatin1Char('/'));
}

} // namespace

ShowPane::ShowPane(PlanDesk* plan, ExposureDesk* exposure, QWidget* parent)
    : QWidget(parent), plan_(plan), exposure_(exposure) {
    auto* column = new QVBoxLayout(this);
    column->setContentsMargins(0, 0, 0, 0);
    column->setSpacing(6);
    auto* top = new FlowLayout(4);
    top->setContentsMargins(0, 0, 0, 0);
    connect(wordButton(top, tr("Add a folder of clips"), QStringLiteral("addClipFolder")),
            &QPushButton::clicked, this, &ShowPane::addFolder);
    connect(wordButton(top, tr("Add files"), QStringLiteral("addClipFiles")), &QPushButton::clicked, this,
            &ShowPane::addFiles);
    auto* topRow = new QWidget;
    topRow->setLayout(top);
    column->addWidget(topRow);
    auto* places = new QWidget;
    places_ = new QVBoxLayout(places);
    places_->setContentsMargins(0, 0, 0, 0);
    places_->setSpacing(0);
    column->addWidget(places);
    total_ = wrapped(QStringLiteral("showTotal"));
    column->addWidget(total_);
    auto* doing = new FlowLayout(4);
    doing->setContentsMargins(0, 0, 0, 0);
    stop_ = wordButton(doing, tr("Stop"), QStringLiteral("stopCounting"));
    connect(stop_, &QPushButton::clicked, exposure_, &ExposureDesk::stop);
    again_ = wordButton(doing, tr("Count again"), QStringLiteral("countAgain"),
                        tr("Clips that are as they were are not posed again"));
    connect(again_, &QPushButton::clicked, exposure_, &ExposureDesk::count);
    tell_ = wordButton(doing, QString(), QStringLiteral("tellLog"),
                       tr("Each open defect of this character then says in its history how often the show's "
                          "clips go past where it begins"));
    connect(tell_, &QPushButton::clicked, exposure_, &ExposureDesk::tellLog);
    unread_ = wordButton(doing, QString(), QStringLiteral("clipsUnread"));
    unread_->setCheckable(true);
    connect(unread_, &QPushButton::toggled, this, [this](bool on) { notes_->setVisible(on); });
    auto* doingRow = new QWidget;
    doingRow->setLayout(doing);
    column->addWidget(doingRow);
    notes_ = wrapped(QStringLiteral("showNotes"));
    notes_->setProperty("quiet", true);
    notes_->setVisible(false);
    column->addWidget(notes_);
    body_ = new QWidget;
    auto* rest = new QVBoxLayout(body_);
    rest->setContentsMargins(0, 6, 8, 0);
    rest->setSpacing(6);
    lighter_ = new QCheckBox(tr("log lighter where no clip goes"));
    lighter_->setObjectName(QStringLiteral("lighter"));
    lighter_->setToolTip(
        tr("A fault that no clip reaches is logged one severity lighter; what is not known stays as it is"));
    connect(lighter_, &QCheckBox::toggled, exposure_, &ExposureDesk::setProposesLighter);
    rest->addWidget(lighter_);
    metTitle_ = wrapped(QStringLiteral("meetingsTitle"));
    setType(metTitle_, 1.0, true);
    rest->addWidget(metTitle_);
    auto* meeting = new FlowLayout(4);
    meeting->setContentsMargins(0, 0, 0, 0);
    meet_ = wordButton(
        meeting, tr("Find frames where faults meet"), QStringLiteral("findMeetings"),
        tr("Goes over the clips once more: a frame in which several faults of the run are gone past "
           "at once is worth a test pose"));
    connect(meet_, &QPushButton::clicked, this, [this] {
        if (exposure_->meeting())
            exposure_->stopMeeting();
        else
            exposure_->findMeetings();
    });
    auto* meetingRow = new QWidget;
    meetingRow->setLayout(meeting);
    rest->addWidget(meetingRow);
    met_ = new QVBoxLayout;
    met_->setSpacing(4);
    rest->addLayout(met_);
    pastTitle_ = wrapped(QStringLiteral("pastPlanTitle"));
    setType(pastTitle_, 1.0, true);
    rest->addWidget(pastTitle_);
    wider_ = new QVBoxLayout;
    wider_->setSpacing(8);
    rest->addLayout(wider_);
    notMoved_ = wrapped(QStringLiteral("notMoved"));
    notMoved_->setProperty("quiet", true);
    rest->addWidget(notMoved_);
    column->addWidget(body_);
    column->addStretch(1);
    connect(exposure_, &ExposureDesk::placesChanged, this, &ShowPane::refreshPlaces);
    connect(exposure_, &ExposureDesk::exposureChanged, this, &ShowPane::refresh);
    connect(exposure_, &ExposureDesk::countingChanged, this, &ShowPane::refreshTotal);
    connect(exposure_, &ExposureDesk::untoldChanged, this, &ShowPane::refreshUntold);
    connect(plan_, &PlanDesk::planChanged, this, &ShowPane::refresh);
    connect(exposure_, &ExposureDesk::meetingsChanged, this, &ShowPane::refreshMeetings);
    refreshPlaces();
    refresh();
}

void ShowPane::addFolder() {
    const QString folder =
        QFileDialog::getExistingDirectory(this, tr("A folder of the show's clips"), folderToStartIn());
    if (folder.isEmpty())
        return;
    QSettings().setValue(QStringLiteral("clipFolder"), folder);
    exposure_->setPlaces(exposure_->places() + QStringList{folder});
}

void ShowPane::addFiles() {
    const QStringList files =
        QFileDialog::getOpenFileNames(this, tr("Clips of the show"), folderToStartIn(),
                                      tr("Clips (*.bvh *.glb *.gltf *.fbx *.dae);;All files (*)"));
    if (files.isEmpty())
        return;
    QSettings().setValue(QStringLiteral("clipFolder"), QFileInfo(files.front()).absolutePath());
    exposure_->setPlaces(exposure_->places() + files);
}

void ShowPane::refreshPlaces() {
    empty(places_);
    for (const QString& place : exposure_->places()) {
        auto* line = new QWidget;
        auto* row = new QHBoxLayout(line);
        row->setContentsMargins(0, 0, 0, 0);
        QLabel* path = wrapped();
        path->setText(shortPath(place));
        path->setToolTip(place);
        row->addWidget(path, 1);
        auto* out = wordButton(row, tr("take out"), QStringLiteral("takeOutClips"));
        out->setAccessibleName(tr("Take out %1").arg(place));
        connect(out, &QPushButton::clicked, this, [this, place] {
            QStringList rest = exposure_->places();
            rest.removeAll(place);
            exposure_->setPlaces(rest);
        });
        places_->addWidget(line);
    }
    refresh();
}

QWidget* ShowPane::row(const ExposureDesk::Wider& w) {
    const Motion& m = *plan_->motion(w.motion);
    auto* box = new QWidget;
    auto* column = new QVBoxLayout(box);
    column->setContentsMargins(0, 0, 0, 0);
    column->setSpacing(0);
    QLabel* what = wrapped();
    what->setText(tr("%1 to %2, planned to %3")
                      .arg(QString::fromStdString(wordsFor(m)),
                           QString::fromStdString(wordsFor(m, w.furthest)),
                           QString::fromStdString(wordsFor(m, m.limit()))));
    column->addWidget(what);
    const ClipUse& first = exposure_->exposure()->clips[static_cast<std::size_t>(w.past.firstClip)];
    auto* where = new WordsLink(
        w.past.frames == 1
            ? tr("in one frame: %1 frame %2").arg(QString::fromStdString(first.clip)).arg(w.past.firstFrame)
            : tr("in %1 frames of %2 clips, first in %3 frame %4")
                  .arg(QString::fromStdString(grouped(w.past.frames)))
                  .arg(w.past.clips)
                  .arg(QString::fromStdString(first.clip))
                  .arg(w.past.firstFrame));
    where->setObjectName(QStringLiteral("pastPlan-") + QString::fromStdString(m.id));
    where->setProperty("link", true);
    where->chosen = [this, past = w.past, joint = m.turns.empty() ? -1 : m.turns.front().joint] {
        exposure_->lookAt(past.firstClip, past.firstFrame, joint);
    };
    column->addWidget(where);
    if (m.span == Span::Degrees) {
        const double to = 5 * std::ceil(w.furthest / 5);
        auto* flow = new FlowLayout(4);
        flow->setContentsMargins(0, 0, 0, 0);
        auto* widen = wordButton(flow, tr("test it to %1").arg(QString::fromStdString(wordsFor(m, to))),
                                 QStringLiteral("widen-") + QString::fromStdString(m.id),
                                 tr("Widens the motion's range in the plan"));
        connect(widen, &QPushButton::clicked, this,
                [this, motion = w.motion, to] { exposure_->widen(motion, to); });
        auto* line = new QWidget;
        line->setLayout(flow);
        column->addWidget(line);
    }
    return box;
}

void ShowPane::refreshUntold() {
    const int untold = exposure_->counting() ? 0 : exposure_->untold();
    tell_->setVisible(untold > 0);
    tell_->setText(untold == 1 ? tr("Tell the log of one defect")
                               : tr("Tell the log of %n defects", nullptr, int(untold)));
}

void ShowPane::refreshMeetings() {
    empty(met_);
    const auto& meetings = exposure_->meetings();
    const bool looking = exposure_->meeting();
    meet_->setVisible(!meetings);
    meet_->setText(looking ? tr("Stop") : tr("Find frames where faults meet"));
    metTitle_->setText(looking     ? tr("Looking where faults meet, %1 %").arg(exposure_->meetingPercent())
                       : !meetings ? tr("Where faults meet")
                       : meetings->empty() ? tr("In no frame two faults meet.")
                                           : tr("Where faults meet, the worst first"));
    for (std::size_t i = 0; meetings && i < meetings->size() && i < kMostMeetings; ++i) {
        const Meeting& m = (*meetings)[i];
        auto* row = new WordsLink(exposure_->wordsOf(m));
        row->setObjectName(QStringLiteral("meeting-%1").arg(i));
        row->setProperty("link", true);
        row->setToolTip(
            tr("Shows the character in that frame, and the clip on Plan, where it can be put in the plan"));
        row->chosen = [this, m] { exposure_->lookAt(m); };
        met_->addWidget(row);
    }
}

void ShowPane::refreshTotal() {
    const auto& e = exposure_->exposure();
    const bool counting = exposure_->counting(), none = exposure_->places().isEmpty();
    const QString counted = e ? tr("%1 clips, %2 frames")
                                    .arg(QString::fromStdString(grouped(e->clips.size())),
                                         QString::fromStdString(grouped(e->frameCount())))
                              : QString();
    total_->setText(
        none       ? tr("Where the show's animation is: motion capture (BVH) and files with clips, of this "
                              "body or of others. Every fault then says how often the show goes there.")
        : counting ? tr("counting, %1 %%2")
                         .arg(exposure_->percent())
                         .arg(e ? QStringLiteral("; so far known: ") + counted : QString())
        : !e                   ? tr("Nothing was counted yet.")
        : e->clips.empty()     ? tr("No clip was found there.")
        : exposure_->stopped() ? tr("%1; stopped before its end").arg(counted)
                               : counted);
    stop_->setVisible(counting);
    again_->setVisible(!none && !counting);
    refreshUntold();
}

void ShowPane::refresh() {
    refreshTotal();
    const auto& e = exposure_->exposure();
    const QStringList& notes = exposure_->notes();
    unread_->setVisible(!notes.isEmpty());
    unread_->setText(notes.size() == 1 ? tr("one was not read")
                                       : tr("%n were not read", nullptr, int(notes.size())));
    notes_->setText(notes.mid(0, kMostRows).join(QLatin1Char('\n')));
    notes_->setVisible(unread_->isChecked() && !notes.isEmpty());
    body_->setVisible(e && !e->clips.empty());
    if (!body_->isVisibleTo(this))
        return;
    refreshMeetings();
    {
        const QSignalBlocker quiet(lighter_);
        lighter_->setChecked(exposure_->proposesLighter());
    }
    empty(wider_);
    const auto wider = exposure_->pastPlan();
    pastTitle_->setText(wider.empty()       ? tr("Nothing goes past the plan.")
                        : wider.size() == 1 ? tr("One motion goes past the plan")
                                            : tr("%n motions go past the plan", nullptr, int(wider.size())));
    for (std::size_t i = 0; i < wider.size() && i < kMostRows; ++i)
        wider_->addWidget(row(wider[i]));
    const std::vector<int> still = exposure_->notMoved();
    QStringList names;
    for (std::size_t i = 0; i < still.size() && i < kMostNames; ++i)
        names << QString::fromStdString(wordsFor(*plan_->motion(still[i])));
    notMoved_->setText(still.empty() ? QString()
                                     : (still.size() == 1 ? tr("No clip tells of one motion: %1%2.")
                                                          : tr("No clip tells of %n motions: %1%2.", nullptr,
                                                               int(still.size())))
                                           .arg(names.join(QStringLiteral(", ")),
                                                still.size() > kMostNames ? QStringLiteral("…") : QString()));
    notMoved_->setVisible(!still.empty());
}

} // namespace hobble
