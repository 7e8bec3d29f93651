#include "app/intake/builds_pane.h"

#include "app/theme.h"
#include "app/widgets/flow_layout.h"
#include "log/date_words.h"

#include <QDir>
#include <QFileDialog>
#include <QFileInfo>
#include <QLabel>
#include <QLineEdit>
#include <QPushButton>
#include <QScrollArea>
#include <QVBoxLayout>

namespace hobble {

BuildsPane::BuildsPane(BuildDesk* build, LogDesk* log, QWidget* parent)
    : QWidget(parent), build_(build), log_(log) {
    auto* column = new QVBoxLayout(this);
    column->setContentsMargins(0, 0, 0, 0);
    auto* scroll = new QScrollArea;
    scroll->setObjectName(QStringLiteral("buildList"));
    scroll->setWidgetResizable(true);
    scroll->setFrameShape(QFrame::NoFrame);
    scroll->setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
    auto* inside = new QWidget;
    list_ = new QVBoxLayout(inside);
    list_->setContentsMargins(0, 0, 4, 0);
    list_->addStretch();
    scroll->setWidget(inside);
    column->addWidget(scroll, 1);
    watched_ = new QLabel;
    watched_->setObjectName(QStringLiteral("watchedFolder"));
    watched_->setWordWrap(true);
    watched_->setTextFormat(Qt::PlainText);
    watched_->setProperty("quiet", true);
    watch_ = new QPushButton;
    watch_->setObjectName(QStringLiteral("watchFolder"));
    connect(watch_, &QPushButton::clicked, this, [this] {
        if (build_->watchedFolder().isEmpty())
            askFolder();
        else
            build_->watchFolder({});
    });
    column->addWidget(watched_);
    column->addWidget(watch_);
    connect(build_, &BuildDesk::intakeChanged, this, &BuildsPane::refresh);
    connect(log_, &LogDesk::logChanged, this, &BuildsPane::refresh);
    refresh();
}

void BuildsPane::askFolder() {
    const QString folder = QFileDialog::getExistingDirectory(this, tr("Watch a folder for new builds"));
    if (!folder.isEmpty())
        build_->watchFolder(folder);
}

QWidget* BuildsPane::card(const BuildState& state) {
    auto* card = new QFrame;
    card->setProperty("card", true);
    card->setProperty("chosen", state.build.id == log_->build().id);
    card->setObjectName(QStringLiteral("build%1").arg(state.build.number));
    auto* column = new QVBoxLayout(card);
    column->setContentsMargins(10, 6, 10, 6);
    column->setSpacing(2);
    QString words = tr("Build %1").arg(state.build.number);
    if (state.score >= 0)
        words += tr(", fit %1 of 100").arg(state.score);
    auto* title = new QLabel(words);
    title->setWordWrap(true);
    title->setProperty("heading", true);
    column->addWidget(title);
    QStringList more{dateWords(state.seenAt, DateAs::MomentOfYear)};
    if (state.defects)
        more << (state.defects == 1 ? tr("one defect") : tr("%n defects", nullptr, int(state.defects)));
    auto* when = new QLabel(more.join(QStringLiteral(", ")));
    when->setWordWrap(true);
    when->setProperty("quiet", true);
    column->addWidget(when);
    const bool there = QFileInfo::exists(state.build.path);
    auto* path = new QLabel(there ? QFileInfo(state.build.path).fileName()
                                  : tr("%1 is no longer there").arg(QFileInfo(state.build.path).fileName()));
    path->setToolTip(state.build.path);
    path->setWordWrap(true);
    path->setTextFormat(Qt::PlainText);
    path->setProperty("quiet", true);
    column->addWidget(path);
    auto* note = new QLineEdit(state.note);
    note->setObjectName(QStringLiteral("buildNote"));
    note->setPlaceholderText(tr("note"));
    note->setAccessibleName(tr("Note on build %1").arg(state.build.number));
    connect(note, &QLineEdit::editingFinished, this, [this, id = state.build.id, note] {
        const QString text = note->text();
        // the card goes with the change: not from within its own signal
        QMetaObject::invokeMethod(
            this, [this, id, text] { build_->note(id, text); }, Qt::QueuedConnection);
    });
    column->addWidget(note);
    auto* row = new FlowLayout(6); // at large text one below the other
    if (!there) {
        auto* find = new QPushButton(tr("Find it…"));
        find->setObjectName(QStringLiteral("findBuild"));
        connect(find, &QPushButton::clicked, this, [this, state] {
            const QString found =
                QFileDialog::getOpenFileName(this, tr("Where is build %1?").arg(state.build.number),
                                             QFileInfo(state.build.path).absolutePath());
            if (!found.isEmpty())
                build_->findAt(state.build.id, found);
        });
        row->addWidget(find);
    } else if (state.build.id != log_->build().id) {
        auto* open = new QPushButton(tr("Open"));
        open->setObjectName(QStringLiteral("openBuild"));
        connect(open, &QPushButton::clicked, this, [this, state] { emit openWanted(state.build.path); });
        row->addWidget(open);
        if (log_->build().id) {
            auto* compare = new QPushButton(tr("Compare"));
            compare->setObjectName(QStringLiteral("compareBuild"));
            compare->setToolTip(tr("The open build against this one"));
            connect(compare, &QPushButton::clicked, this,
                    [this, id = state.build.id] { emit compareWanted(id); });
            row->addWidget(compare);
        }
    }
    if (log_->build().id) { // in the log
        const bool is = log_->reference() && log_->reference()->build.id == state.build.id;
        auto* good = new QPushButton(is ? tr("The reference") : tr("As reference"));
        good->setObjectName(QStringLiteral("referenceBuild"));
        good->setCheckable(true);
        good->setChecked(is);
        good->setToolTip(is ? tr("What good looks like in this log. Press to have none.")
                            : tr("Take this build for what good looks like: its curves can stand behind "
                                 "every strip on the Review page, of any character"));
        connect(good, &QPushButton::clicked, this, [this, is, id = state.build.id] {
            QMetaObject::invokeMethod( // the card goes with the change
                this, [this, is, id] { log_->setReference(is ? 0 : id); }, Qt::QueuedConnection);
        });
        row->addWidget(good);
    }
    column->addLayout(row);
    return card;
}

void BuildsPane::refresh() {
    while (list_->count() > 1) {
        QLayoutItem* item = list_->takeAt(0);
        if (item->widget())
            item->widget()->deleteLater();
        delete item;
    }
    const QVector<BuildState> builds = build_->builds();
    int at = 0;
    for (auto it = builds.rbegin(); it != builds.rend(); ++it) // the newest first
        list_->insertWidget(at++, card(*it));
    const QString folder = build_->watchedFolder();
    watched_->setText(folder.isEmpty() ? tr("New builds can come in by themselves from a folder.")
                                       : tr("Watching %1").arg(QDir::toNativeSeparators(folder)));
    watch_->setText(folder.isEmpty() ? tr("Watch a folder…") : tr("Stop watching"));
}

} // namespace hobble
