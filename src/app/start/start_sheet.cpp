#include "app/start/start_sheet.h"

#include "app/session/recent_shelf.h"
#include "app/theme.h"
#include "app/widgets/flow_layout.h"
#include "app/widgets/parts.h"
#include "log/date_words.h"

#include <QFileDialog>
#include <QFileInfo>
#include <QKeyEvent>
#include <QMouseEvent>
#include <QPainter>
#include <QScrollArea>
#include <QStyle>
#include <QVBoxLayout>

#include <algorithm>

namespace hobble {

namespace {

constexpr int kMostBefore = 6;

QString dayOf(const QDateTime& at) {
    const qint64 days = at.date().daysTo(QDate::currentDate());
    return days == 0   ? StartSheet::tr("today")
           : days == 1 ? StartSheet::tr("yesterday")
                       : dateWords(at, DateAs::Day);
}

QString standingOf(const RecentCharacter& r) {
    QStringList words;
    if (r.build > 0)
        words << StartSheet::tr("build %1").arg(r.build);
    if (r.changed)
        words << StartSheet::tr("the file is another since");
    else if (r.faults < 0)
        words << StartSheet::tr("not run yet");
    else
        words << (r.faults == 1 ? StartSheet::tr("one fault")
                                : StartSheet::tr("%n faults", nullptr, int(r.faults)));
    if (!r.changed && r.blocking > 0)
        words << StartSheet::tr("%1 blocking").arg(r.blocking);
    return words.join(QStringLiteral(", "));
}

// A character as one remembers it; the whole card is pressed.
class RecentCard : public QFrame {
public:
    RecentCard(const RecentCharacter& r, std::function<void()> chosen) : chosen_(std::move(chosen)) {
        setProperty("card", true);
        setObjectName(QStringLiteral("recent-") + QFileInfo(r.path).fileName());
        setFocusPolicy(Qt::TabFocus);
        setCursor(Qt::PointingHandCursor);
        setToolTip(r.path);
        auto* column = new QVBoxLayout(this);
        column->setContentsMargins(10, 10, 10, 8);
        column->setSpacing(2);
        auto* picture = new QLabel;
        picture->setFixedSize(px(RecentShelf::kWidth), px(RecentShelf::kHeight));
        QPixmap drawn(picture->size());
        drawn.fill(Theme::current().viewport);
        if (!r.picture.isNull()) {
            QPainter p(&drawn);
            p.setRenderHint(QPainter::SmoothPixmapTransform);
            p.drawImage(drawn.rect(), r.picture);
        }
        picture->setPixmap(drawn);
        column->addWidget(picture);
        const auto line = [&](const QString& words, double scale, bool bold, bool quiet) {
            auto* l = wrapped();
            l->setText(words);
            l->setFixedWidth(picture->width());
            l->setProperty("quiet", quiet);
            setType(l, scale, bold);
            column->addWidget(l);
        };
        line(r.name, 1.05, true, false);
        line(standingOf(r), 0.95, false, false);
        const QString folder = QFileInfo(r.path).absolutePath().section(QLatin1Char('/'), -2);
        line(r.at.isValid() ? StartSheet::tr("%1, in %2").arg(dayOf(r.at), folder) : folder, 0.88, false,
             true);
        setAccessibleName(StartSheet::tr("%1, %2").arg(r.name, standingOf(r)));
    }

protected:
    void mousePressEvent(QMouseEvent*) override { chosen_(); }
    void keyPressEvent(QKeyEvent* e) override {
        if (e->key() == Qt::Key_Return || e->key() == Qt::Key_Enter || e->key() == Qt::Key_Space)
            chosen_();
        else
            QFrame::keyPressEvent(e);
    }
    void focusInEvent(QFocusEvent* e) override {
        QFrame::focusInEvent(e);
        setChosen(true);
    }
    void focusOutEvent(QFocusEvent* e) override {
        QFrame::focusOutEvent(e);
        setChosen(false);
    }

private:
    void setChosen(bool on) {
        setProperty("chosen", on);
        style()->unpolish(this);
        style()->polish(this);
    }
    std::function<void()> chosen_;
};

QLabel* heading(const QString& words) {
    auto* h = new QLabel(words);
    setType(h, 1.08, true);
    return h;
}

} // namespace

StartSheet::StartSheet(BuildDesk* build, LogDesk* log, QWidget* parent)
    : QWidget(parent), build_(build), log_(log) {
    setObjectName(QStringLiteral("start"));
    auto* scroll = new QScrollArea; // large text is higher than the window
    scroll->setWidgetResizable(true);
    scroll->setFrameShape(QFrame::NoFrame);
    scroll->setFocusPolicy(Qt::NoFocus);
    scroll->setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
    auto* inside = new QWidget;
    auto* row = new QHBoxLayout(inside);
    row->setContentsMargins(40, 36, 32, 24);
    row->setSpacing(44);
    auto* left = new QVBoxLayout;
    left->setSpacing(26);
    left->addWidget(buildOpening());
    left->addWidget(buildBefore());
    left->addStretch(1);
    row->addLayout(left, 5);
    auto* right = new QVBoxLayout;
    right->addWidget(buildTeam());
    right->addStretch(1);
    row->addLayout(right, 2);
    scroll->setWidget(inside);
    auto* all = new QVBoxLayout(this);
    all->setContentsMargins(0, 0, 0, 0);
    all->addWidget(scroll);
    connect(log_, &LogDesk::logChanged, this, &StartSheet::refreshTeam);
    connect(log_, &LogDesk::stateChanged, this, &StartSheet::refreshTeam);
    connect(build_, &BuildDesk::intakeChanged, this, [this] {
        if (isVisible())
            refresh();
    });
    refresh();
}

QWidget* StartSheet::buildOpening() {
    auto* box = new QWidget;
    auto* column = new QVBoxLayout(box);
    column->setContentsMargins(0, 0, 0, 0);
    column->setSpacing(8);
    QLabel* what = wrapped();
    what->setText(tr("Bend it before the animators do."));
    setType(what, 1.7, true);
    column->addWidget(what);
    QLabel* how = wrapped();
    how->setText(
        tr("Drop a character's file anywhere in this window, or open one. Hobble looks whether it is fit to "
           "be tested, puts every joint through its range, and shows where the skin gives way and why."));
    how->setProperty("quiet", true);
    column->addWidget(how);
    auto* ways = new FlowLayout(10);
    ways->setContentsMargins(0, 6, 0, 0);
    auto* open = wordButton(ways, tr("Open a character  Ctrl+O"), QStringLiteral("intakeOpen"));
    open->setProperty("strong", true);
    connect(open, &QPushButton::clicked, this, &StartSheet::openWanted);
    auto* demo =
        wordButton(ways, tr("Open the demo"), QStringLiteral("openDemo"),
                   tr("The Saltmarsh Post: a badger in three builds, with the log of its defects. The log is "
                      "a copy: do with it what you like."));
    connect(demo, &QPushButton::clicked, this, &StartSheet::demoWanted);
    auto* line = new QWidget;
    line->setLayout(ways);
    column->addWidget(line);
    return box;
}

QWidget* StartSheet::buildBefore() {
    before_ = new QWidget;
    auto* column = new QVBoxLayout(before_);
    column->setContentsMargins(0, 0, 0, 0);
    column->setSpacing(8);
    column->addWidget(heading(tr("Opened before")));
    cards_ = new FlowLayout(12);
    cards_->setLineGap(12);
    cards_->setContentsMargins(0, 0, 0, 0);
    auto* line = new QWidget;
    line->setLayout(cards_);
    column->addWidget(line);
    return before_;
}

QWidget* StartSheet::buildTeam() {
    auto* box = new QWidget;
    auto* column = new QVBoxLayout(box);
    column->setContentsMargins(0, 0, 0, 0);
    column->setSpacing(4);
    const auto words = [&](const char* name, bool quiet) {
        QLabel* l = wrapped(QLatin1String(name));
        l->setProperty("quiet", quiet);
        l->setSizePolicy(QSizePolicy::Ignored, QSizePolicy::Preferred);
        column->addWidget(l);
        return l;
    };
    const auto button = [&](const QString& text, const char* name) {
        auto* b = wordButton(column, text, QLatin1String(name));
        column->setAlignment(b, Qt::AlignLeft);
        return b;
    };
    column->addWidget(heading(tr("The log")));
    logWords_ = words("startLog", false);
    logPlace_ = words("startLogPlace", true);
    connect(button(tr("Open another log"), "startOpenLog"), &QPushButton::clicked, this,
            &StartSheet::logWanted);
    column->addSpacing(18);
    column->addWidget(heading(tr("Deliveries")));
    watched_ = words("startWatched", false);
    watch_ = button(QString(), "startWatch");
    connect(watch_, &QPushButton::clicked, this, &StartSheet::chooseFolder);
    unwatch_ = button(tr("Watch none"), "startUnwatch");
    connect(unwatch_, &QPushButton::clicked, this, [this] { build_->watchFolder({}); });
    return box;
}

void StartSheet::showEvent(QShowEvent* e) {
    QWidget::showEvent(e);
    refresh();
}

void StartSheet::refresh() {
    refreshBefore();
    refreshTeam();
}

void StartSheet::refreshBefore() {
    empty(cards_);
    const auto recent = RecentShelf::of(build_->recent());
    before_->setVisible(!recent.isEmpty());
    for (const RecentCharacter& r : recent.mid(0, kMostBefore))
        cards_->addWidget(new RecentCard(r, [this, path = r.path] { emit characterWanted(path); }));
}

void StartSheet::refreshTeam() {
    QString words;
    if (!log_->there()) {
        words = tr("No log is open.");
    } else if (log_->defects().isEmpty()) {
        words = tr("Nothing was logged yet.");
    } else {
        int blocking = 0;
        QDateTime newest;
        for (const Defect& d : log_->defects()) {
            blocking += isOpen(d.state) && d.severity == 4;
            newest = std::max(newest, d.changedAt);
        }
        const int open = log_->openDefects();
        words = open == 0   ? tr("Nothing is open.")
                : open == 1 ? tr("One defect is open")
                            : tr("%n defects are open", nullptr, int(open));
        if (open > 0)
            words +=
                blocking > 0 ? tr(", %1 of them blocking.").arg(blocking) : tr(", none of them blocking.");
        words += QLatin1Char(' ') + tr("Last changed %1.").arg(dayOf(newest.toLocalTime()));
    }
    logWords_->setText(words);
    logPlace_->setText(log_->place());
    const QString folder = build_->watchedFolder();
    watched_->setText(
        folder.isEmpty()
            ? tr("No folder is watched. New builds that come into one are opened, or put among those "
                 "above, by themselves.")
            : tr("%1 is watched: new builds are opened by themselves.").arg(folder));
    watch_->setText(folder.isEmpty() ? tr("Watch a folder") : tr("Watch another folder"));
    unwatch_->setVisible(!folder.isEmpty());
}

void StartSheet::chooseFolder() {
    const QString folder = QFileDialog::getExistingDirectory(this, tr("The folder builds are delivered to"),
                                                             build_->watchedFolder());
    if (!folder.isEmpty())
        build_->watchFolder(folder);
}

} // namespace hobble
