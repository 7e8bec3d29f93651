#include "app/log/kept_bar.h"

#include "app/theme.h"
#include "app/widgets/flow_layout.h"
#include "log/date_words.h"

#include <QHBoxLayout>
#include <QLabel>
#include <QPushButton>
#include <QVBoxLayout>

namespace hobble {

KeptBar::KeptBar(LogDesk* log, QWidget* parent) : QWidget(parent), log_(log) {
    setObjectName(QStringLiteral("keptBar"));
    auto* all = new QVBoxLayout(this);
    all->setContentsMargins(12, 8, 12, 8);
    words_ = new QLabel;
    words_->setObjectName(QStringLiteral("keptWords"));
    words_->setWordWrap(true);
    all->addWidget(words_);
    auto* buttons = new FlowLayout(8);
    buttons->setContentsMargins(0, 0, 0, 0);
    write_ = new QPushButton(tr("Write them now"));
    write_->setObjectName(QStringLiteral("keptWrite"));
    write_->setProperty("strong", true);
    look_ = new QPushButton(tr("Look at them"));
    look_->setObjectName(QStringLiteral("keptLook"));
    look_->setCheckable(true);
    drop_ = new QPushButton(tr("Drop them"));
    drop_->setObjectName(QStringLiteral("keptDrop"));
    for (QPushButton* b : {write_, look_, drop_})
        buttons->addWidget(b);
    all->addLayout(buttons);
    edits_ = new QWidget;
    list_ = new QVBoxLayout(edits_);
    list_->setContentsMargins(0, 0, 0, 0);
    edits_->hide();
    all->addWidget(edits_);
    connect(write_, &QPushButton::clicked, log, &LogDesk::writeKeptEdits);
    connect(drop_, &QPushButton::clicked, this, [this] { log_->dropKeptEdit(-1); });
    connect(look_, &QPushButton::toggled, edits_, &QWidget::setVisible);
    connect(log_, &LogDesk::stateChanged, this, &KeptBar::refresh);
    refresh();
}

void KeptBar::refresh() {
    const QVector<KeptEdit> kept = log_->keptEdits();
    const LogState state = log_->state();
    const bool lost = state == LogState::Lost;
    QStringList said;
    if (lost)
        said << tr("The log %1 does not answer. What is shown is as of %2; it is tried again every two "
                   "seconds.")
                    .arg(log_->place(), dateWords(log_->readAt(), DateAs::Time));
    else if (state == LogState::ReadOnly)
        said << tr("This log may only be looked at: nothing can be written to it.");
    else if (state == LogState::Opening)
        said << tr("Opening %1…").arg(log_->place());
    if (lost && kept.isEmpty())
        said << tr("You can go on looking; what you change is kept and offered once it answers.");
    if (!kept.isEmpty())
        said << (kept.size() == 1 ? tr("One change of yours is kept.")
                                  : tr("%n changes of yours are kept.", nullptr, int(kept.size())));
    words_->setText(said.join(QLatin1Char(' ')));
    setVisible(!said.isEmpty());
    write_->setVisible(!kept.isEmpty() && !lost);
    look_->setVisible(!kept.isEmpty());
    drop_->setVisible(!kept.isEmpty());
    while (QLayoutItem* item = list_->takeAt(0)) {
        delete item->widget();
        delete item;
    }
    for (const KeptEdit& e : kept) {
        auto* line = new QLabel(tr("%1  %2").arg(dateWords(e.at, DateAs::Moment), e.words));
        line->setTextFormat(Qt::PlainText);
        line->setWordWrap(true);
        line->setProperty("quiet", true);
        list_->addWidget(line);
    }
}

} // namespace hobble
