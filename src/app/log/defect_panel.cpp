#include "app/log/defect_panel.h"

#include "app/checked/checked_line.h"
#include "app/theme.h"
#include "app/widgets/flow_layout.h"
#include "app/widgets/severity_chip.h"
#include "app/words.h"
#include "log/date_words.h"
#include "log/defect_use.h"
#include "log/finding_defect.h"
#include "log/proposal.h"
#include "log/workload.h"
#include "story/curve_svg.h"

#include <QAbstractItemView>
#include <QComboBox>
#include <QCompleter>
#include <QFormLayout>
#include <QHBoxLayout>
#include <QLabel>
#include <QLineEdit>
#include <QPainter>
#include <QPushButton>
#include <QScrollArea>
#include <QScrollBar>
#include <QSignalBlocker>
#include <QStringListModel>
#include <QSvgRenderer>
#include <QVBoxLayout>

namespace hobble {

namespace {

QString shortly(const QDateTime& at) { return dateWords(at, DateAs::Moment); }

QLabel* heading(const QString& words) {
    auto* l = new QLabel(words);
    l->setProperty("heading", true);
    return l;
}

void clear(QLayout* layout) {
    while (QLayoutItem* item = layout->takeAt(0)) {
        delete item->widget();
        delete item;
    }
}

QPixmap sharp(const QImage& image, const QSize& size, qreal ratio) {
    QPixmap p = QPixmap::fromImage(image.scaled(size * ratio, Qt::KeepAspectRatio, Qt::SmoothTransformation));
    p.setDevicePixelRatio(ratio);
    return p;
}

} // namespace

DefectPanel::DefectPanel(RunDesk* run, LogDesk* log, CompareDesk* compare, QWidget* parent)
    : QWidget(parent), run_(run), log_(log), worker_(new StoryWorker(&log->link(), this)) {
    auto* outer = new QVBoxLayout(this);
    outer->setContentsMargins(16, 8, 12, 8);
    auto* none = new QLabel(tr("Choose a defect to see its story."));
    none->setProperty("quiet", true);
    empty_ = none;
    outer->addWidget(none);
    auto* scroll = new QScrollArea;
    scroll->setWidgetResizable(true);
    scroll->setFrameShape(QFrame::NoFrame);
    scroll->setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
    scroll->setAccessibleName(tr("The defect's story"));
    body_ = scroll;
    outer->addWidget(scroll, 1);
    auto* inside = new QWidget;
    scroll->setWidget(inside);
    auto* all = new QVBoxLayout(inside);
    all->setContentsMargins(0, 0, 8, 0);
    all->setSpacing(8);
    const auto label = [&](const char* name, bool quiet) {
        auto* l = new QLabel;
        l->setObjectName(QLatin1String(name));
        l->setTextFormat(Qt::PlainText); // what people and files say is never markup
        l->setWordWrap(true);
        l->setProperty("quiet", quiet);
        all->addWidget(l);
        return l;
    };
    title_ = label("defectTitle", false);
    setType(title_, 1.15, true);
    facts_ = label("defectFacts", true);
    all->addWidget(buildStanding());
    checked_ = new CheckedLine(compare);
    checked_->setDefect(0);
    connect(checked_, &CheckedLine::wanted, this, [this] {
        const Defect* d = log_->find(id_);
        emit compareWanted(d ? d->build.id : 0, id_);
    });
    all->addWidget(checked_);
    linked_ = new QVBoxLayout;
    linked_->setSpacing(2);
    all->addLayout(linked_);

    auto* views = new FlowLayout(8);
    views->setContentsMargins(0, 0, 0, 0);
    back_ = new QPushButton(tr("Show in Review"));
    back_->setProperty("strong", true);
    back_->setObjectName(QStringLiteral("showInReview"));
    measured_ = new QPushButton(tr("In its measure's colours"));
    measured_->setObjectName(QStringLiteral("storyMeasured"));
    measured_->setCheckable(true);
    mend_ = new QPushButton(tr("Try to mend it"));
    mend_->setObjectName(QStringLiteral("mendDefect"));
    views->addWidget(back_);
    views->addWidget(mend_);
    views->addWidget(measured_);
    all->addLayout(views);
    pictures_ = new FlowLayout(8);
    pictures_->setContentsMargins(0, 0, 0, 0);
    all->addLayout(pictures_);
    logged_ = label("storyMissing", true);
    scale_ = label("storyScale", true);
    cause_ = label("defectCause", false);
    curve_ = new QLabel;
    curve_->setObjectName(QStringLiteral("storyCurve"));
    curve_->setSizePolicy(QSizePolicy::Ignored, QSizePolicy::Fixed); // as wide as there is room
    all->addWidget(curve_);
    numbers_ = label("storyNumbers", true);

    comment_ = new QLineEdit;
    comment_->setObjectName(QStringLiteral("comment"));
    comment_->setPlaceholderText(tr("Write a comment and press Enter; @ speaks to somebody"));
    comment_->setAccessibleName(tr("New comment"));
    all->addWidget(comment_);
    all->addWidget(heading(tr("What happened to it")));
    history_ = new QVBoxLayout;
    history_->setSpacing(3);
    all->addLayout(history_);
    all->addStretch();

    connect(mend_, &QPushButton::clicked, this, [this] { emit mendWanted(id_); });
    connect(back_, &QPushButton::clicked, this, [this] { emit showInReview(id_); });
    connect(measured_, &QPushButton::toggled, this, &DefectPanel::showStory);
    connect(comment_, &QLineEdit::returnPressed, this, [this] {
        const QString text = comment_->text();
        comment_->clear();
        log_->comment({id_}, text);
    });
    completeMention();
    connect(worker_, &StoryWorker::told, this,
            [this](qint64 id, const std::shared_ptr<const DefectStory>& story) {
                if (id != id_)
                    return;
                story_ = story;
                toldOf_ = id;
                showStory();
            });
    connect(log_, &LogDesk::logChanged, this, &DefectPanel::refresh);
    connect(log_, &LogDesk::stateChanged, this, &DefectPanel::refresh);
    refresh();
}

// Who, how bad, state, due: each a press that opens its list.
QWidget* DefectPanel::buildStanding() {
    auto* box = new QWidget;
    auto* flow = new FlowLayout(8);
    flow->setContentsMargins(0, 0, 0, 0);
    box->setLayout(flow);
    const auto button = [&](const char* name, const QString& accessible) {
        auto* b = new QPushButton;
        b->setObjectName(QLatin1String(name));
        b->setAccessibleName(accessible);
        flow->addWidget(b);
        return b;
    };
    who_ = button("assignee", tr("Assigned to"));
    severity_ = new QComboBox;
    severity_->setObjectName(QStringLiteral("severity"));
    severity_->setAccessibleName(tr("Severity"));
    for (int s = 1; s <= 4; ++s)
        severity_->addItem(tr("%1  %2").arg(s).arg(severityWord(s)), s);
    flow->addWidget(severity_);
    state_ = button("state", tr("State"));
    due_ = button("due", tr("Due"));
    connect(who_, &QPushButton::clicked, this, &DefectPanel::assignWanted);
    connect(state_, &QPushButton::clicked, this, &DefectPanel::stateWanted);
    connect(due_, &QPushButton::clicked, this, &DefectPanel::dueWanted);
    connect(severity_, &QComboBox::activated, this,
            [this] { log_->change({id_}, QStringLiteral("severity"), severity_->currentData().toString()); });
    return box;
}

// After an @ the names of the roster are offered.
void DefectPanel::completeMention() {
    auto* names = new QStringListModel(this);
    auto* completer = new QCompleter(names, this);
    auto typed = std::make_shared<std::pair<QString, qsizetype>>(); // the line and its @, as they were typed
    completer->setWidget(comment_);
    completer->setCaseSensitivity(Qt::CaseInsensitive);
    connect(comment_, &QLineEdit::textEdited, this, [=, this] {
        const QString before = comment_->text().left(comment_->cursorPosition());
        const auto at = before.lastIndexOf(QLatin1Char('@'));
        if (at < 0 || before.size() - at > 24) {
            completer->popup()->hide();
            return;
        }
        QStringList all;
        for (const Person& p : log_->people())
            if (p.active)
                all << p.name;
        names->setStringList(all);
        *typed = {comment_->text(), at};
        completer->setCompletionPrefix(before.mid(at + 1));
        if (completer->completionCount() > 0 && completer->currentCompletion() != before.mid(at + 1))
            completer->complete();
        else
            completer->popup()->hide();
    });
    connect(completer, qOverload<const QString&>(&QCompleter::activated), this,
            [=, this](const QString& name) {
                const auto& [line, at] = *typed;
                const qsizetype end = at + 1 + completer->completionPrefix().size();
                comment_->setText(line.left(at + 1) + name + QLatin1Char(' ') + line.mid(end));
                comment_->setCursorPosition(static_cast<int>(at + name.size() + 2));
            });
}

void DefectPanel::show(qint64 id) {
    if (id == id_)
        return;
    id_ = id;
    checked_->setDefect(id);
    comment_->clear();
    static_cast<QScrollArea*>(body_)->verticalScrollBar()->setValue(0);
    refresh();
}

void DefectPanel::resizeEvent(QResizeEvent* e) {
    QWidget::resizeEvent(e);
    showStory();
}

void DefectPanel::focusComment() { comment_->setFocus(); }

void DefectPanel::refresh() {
    const Defect* d = log_->list().find(id_);
    const bool any = d && log_->there();
    body_->setVisible(any);
    empty_->setVisible(!any);
    if (!any) {
        askedOf_ = toldOf_ = 0;
        return;
    }
    mend_->setVisible(log_->build().id && d->build.character == log_->build().character);
    showFacts(*d);
    showHistory();
    if (askedOf_ != id_) {
        askedOf_ = id_;
        story_.reset();
        showStory();
        worker_->ask(*d, run_->limits());
    }
}

void DefectPanel::showFacts(const Defect& d) {
    const DefectFacts& f = d.facts;
    title_->setText(tr("%1. %2").arg(d.id).arg(f.what));
    QStringList words{tr("%1, build %2").arg(d.build.character).arg(d.build.number)};
    if (f.motionName.isEmpty()) { // found by Intake, before any pose
        words << tr("Intake: %1").arg(inWords(f.kind));
    } else {
        words << tr("%1 %2 against a limit of %3")
                     .arg(inWords(f.kind), numberWords(f, f.value), numberWords(f, f.limit));
    }
    if (!f.joint.isEmpty())
        words << tr("joint %1").arg(f.joint);
    if (!f.part.isEmpty())
        words << tr("part %1").arg(f.part);
    words << tr("logged %1").arg(shortly(d.loggedAt));
    if (d.use)
        words << tr("in the show %1").arg(useWords(*d.use));
    facts_->setText(words.join(QStringLiteral(" · ")));
    cause_->setText(f.cause);
    cause_->setVisible(!f.cause.isEmpty());
    const QSignalBlocker quiet(severity_);
    severity_->setCurrentIndex(severity_->findData(d.severity));
    bool onRoster = d.assignee.isEmpty();
    for (const Person& p : log_->people())
        onRoster |= p.active && p.name == d.assignee;
    who_->setText(d.assignee.isEmpty() ? tr("nobody has it")
                  : onRoster           ? d.assignee
                                       : tr("%1 (has left)").arg(d.assignee));
    state_->setText(d.state == DefectState::Duplicate && d.duplicateOf
                        ? tr("duplicate of %1").arg(d.duplicateOf)
                        : inWords(nameOf(d.state)));
    due_->setText(d.due.isEmpty() ? tr("no due build") : tr("due in %1").arg(d.due));
    const bool writable = log_->takesChanges();
    for (QWidget* w : std::initializer_list<QWidget*>{who_, severity_, state_, due_, comment_})
        w->setEnabled(writable);
    clear(linked_);
    const auto link = [&](const Defect& other, const QString& words_) {
        auto* b = new QPushButton(words_);
        b->setProperty("link", true);
        b->setFlat(true);
        b->setStyleSheet(QStringLiteral("text-align: left"));
        connect(b, &QPushButton::clicked, this, [this, id = other.id] { emit defectWanted(id); });
        linked_->addWidget(b, 0, Qt::AlignLeft);
    };
    if (d.state == DefectState::Duplicate)
        if (const Defect* kept = log_->list().find(d.duplicateOf))
            link(*kept, tr("The same as defect %1").arg(kept->id));
    for (const Defect& other : log_->defects())
        if (other.state == DefectState::Duplicate && other.duplicateOf == d.id)
            link(other, tr("Also logged as defect %1").arg(other.id));
}

void DefectPanel::showStory() {
    clear(pictures_);
    const Defect* d = log_->list().find(id_);
    if (!d)
        return;
    const qreal ratio = devicePixelRatioF();
    const auto add = [&](const QImage& image, const QString& words) {
        auto* cell = new QWidget;
        auto* box = new QVBoxLayout(cell);
        box->setContentsMargins(0, 0, 0, 0);
        box->setSpacing(1);
        auto* picture = new QLabel;
        picture->setPixmap(sharp(image, QSize(198, 149), ratio));
        picture->setAccessibleName(words);
        auto* below = new QLabel(words);
        setType(below, 0.85);
        below->setProperty("quiet", true);
        box->addWidget(picture);
        box->addWidget(below);
        pictures_->addWidget(cell);
        cell->show();
    };
    bool anyMeasured = false;
    QStringList notes;
    if (story_) {
        const int since = d->build.number;
        for (const DefectPicture& p : story_->pictures.pictures) {
            anyMeasured |= p.measured;
            if (p.measured == measured_->isChecked())
                add(p.image, tr("%1, build %2, %3")
                                 .arg(p.build == since ? tr("before") : tr("after"))
                                 .arg(p.build)
                                 .arg(p.view));
        }
        notes = story_->pictures.missing;
        if (pictures_->count() == 0)
            if (const QImage logged = QImage::fromData(story_->defect.facts.picture); !logged.isNull())
                add(logged, tr("when it was logged"));
    }
    logged_->setText(story_ ? notes.join(QLatin1Char('\n')) : tr("Pictures are being made…"));
    logged_->setVisible(!logged_->text().isEmpty());
    measured_->setVisible(anyMeasured);
    measured_->setText(foundByIntake(d->facts) ? tr("Marked, in a pose that shows it")
                                               : tr("In its measure's colours"));
    scale_->setText(story_ && measured_->isChecked() ? story_->pictures.scale : QString());
    scale_->setVisible(!scale_->text().isEmpty());

    const Theme& t = Theme::current();
    const CurveInk ink{QStringLiteral("none"), t.ink.name(),    t.muted.name(),
                       t.hairline.name(),      t.accent.name(), t.blocking.name()};
    const QSize room(std::clamp(body_->width() - 24, 200, 560), 150);
    const QByteArray svg =
        story_ ? curveSvg(d->facts, story_->numbers, room.width(), room.height(), ink) : QByteArray();
    curve_->setVisible(!svg.isEmpty());
    numbers_->setVisible(!svg.isEmpty());
    if (svg.isEmpty())
        return;
    QPixmap drawn(room * ratio);
    drawn.setDevicePixelRatio(ratio);
    drawn.fill(Qt::transparent);
    QPainter p(&drawn);
    QSvgRenderer(svg).render(&p, QRectF(QPointF(0, 0), room));
    curve_->setPixmap(drawn);
    QStringList words;
    for (const BuildNumber& n : story_->numbers)
        words << tr("build %1: %2 here, %3 at its worst (%4)")
                     .arg(n.build.number)
                     .arg(numberWords(d->facts, n.here), numberWords(d->facts, n.worst),
                          n.severity ? severityWord(n.severity) : tr("within limits"));
    numbers_->setText(words.join(QLatin1Char('\n')));
    curve_->setAccessibleName(
        tr("%1 against the angle, over builds: %2").arg(d->facts.kind, numbers_->text()));
}

void DefectPanel::showHistory() {
    const auto events = log_->historyOf(id_);
    if (!events)
        return; // the last known stays
    clear(history_);
    for (auto e = events->rbegin(); e != events->rend(); ++e) {
        const bool said = e->field == QLatin1String("comment");
        QString what =
            said                                              ? tr("“%1”").arg(e->value)
            : e->field == QLatin1String("same fault")         ? tr("a finding was merged into it")
            : e->field == QLatin1String("not the same fault") ? tr("a finding was taken out of it")
            : e->field == QLatin1String("verdict")            ? tr("checked: %1").arg(e->value)
            : e->field == QLatin1String("proposal")           ? tr("proposed: %1").arg(valueWords(*e))
            : e->field == QLatin1String("use")                ? tr("in the show: %1").arg(valueWords(*e))
            : e->value.isEmpty() || e->value == QLatin1String("0")
                ? tr("%1: none").arg(inWords(e->field))
                : tr("%1: %2").arg(inWords(e->field),
                                   e->field == QLatin1String("state") ? inWords(e->value) : e->value);
        if (!e->reason.isEmpty())
            what += tr(" (%1)").arg(e->reason);
        const QString who = e->build ? tr("%1, on build %2").arg(e->author).arg(e->build) : e->author;
        auto* line = new QLabel(tr("%1  %2  %3").arg(shortly(e->at), who, what));
        line->setWordWrap(true);
        line->setTextFormat(Qt::PlainText);
        setType(line, said ? 1 : 0.92, said && mentionsIn(e->value, log_->people()).contains(log_->author()));
        line->setProperty("quiet", !said);
        history_->addWidget(line);
    }
}

} // namespace hobble
