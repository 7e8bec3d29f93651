#include "app/review/spot_card.h"

#include "app/theme.h"
#include "app/words.h"
#include "core/run/spot.h"
#include "core/words/motion_words.h"
#include "io/run_json.h"

#include <QHBoxLayout>
#include <QLabel>
#include <QPushButton>
#include <QVBoxLayout>

namespace hobble {

SpotCard::SpotCard(BuildDesk* build, PlanDesk* plan, RunDesk* run, QWidget* parent)
    : QFrame(parent), build_(build), plan_(plan), run_(run) {
    setObjectName(QStringLiteral("spotCard"));
    setProperty("card", true);
    setAutoFillBackground(true);
    setTextWidth(this, 330);
    auto* all = new QVBoxLayout(this);
    all->setContentsMargins(10, 8, 10, 8);
    all->setSpacing(4);
    auto* head = new QHBoxLayout;
    title_ = new QLabel;
    title_->setObjectName(QStringLiteral("spotTitle"));
    setType(title_, 1, true);
    auto* close = new QPushButton(tr("close"));
    close->setObjectName(QStringLiteral("spotClose"));
    connect(close, &QPushButton::clicked, this, &QWidget::hide);
    head->addWidget(title_, 1);
    head->addWidget(close);
    all->addLayout(head);
    rows_ = new QVBoxLayout;
    rows_->setSpacing(2);
    all->addLayout(rows_);
    connect(build_, &BuildDesk::characterChanged, this, &QWidget::hide);
    connect(run_, &RunDesk::worstMotionsFound, this, &SpotCard::showWorst);
    hide();
}

void SpotCard::clear() {
    worst_ = nullptr;
    while (QLayoutItem* item = rows_->takeAt(0)) {
        if (QWidget* w = item->widget()) {
            w->hide();
            w->deleteLater(); // it may be the button that was just pressed
        }
        delete item;
    }
}

void SpotCard::show(std::uint32_t v) {
    clear();
    const auto s = build_->subject();
    if (!s)
        return hide();
    const Character& c = *s->character;
    title_->setText(tr("What moves this?"));
    const auto quiet = [&](const QString& text) {
        auto* l = new QLabel(text);
        l->setWordWrap(true);
        l->setProperty("quiet", true);
        setType(l, 0.92);
        rows_->addWidget(l);
    };
    quiet(tr("vertex %1 of %2")
              .arg(v - c.parts[c.partOfVertex(v)].firstVertex)
              .arg(QString::fromStdString(c.parts[c.partOfVertex(v)].name)));
    const auto influences = influencesAt(*s, v);
    if (influences.empty())
        quiet(tr("Nothing: no joint holds it."));
    for (const SpotInfluence& i : influences) {
        const QString where = i.bones == 0   ? tr("most of it")
                              : i.bones == 1 ? tr("one bone away")
                                             : tr("%n bones away", nullptr, int(i.bones));
        auto* b = button(tr("%L1 %   %2, %3")
                             .arg(100 * i.share, 0, 'f', i.share < 0.01 ? 1 : 0)
                             .arg(QString::fromStdString(c.skeleton.name[i.joint]), where),
                         QStringLiteral("influence-%1").arg(i.joint));
        b->setToolTip(tr("Show the weights of this joint"));
        connect(b, &QPushButton::clicked, this, [this, joint = i.joint] { emit jointChosen(joint); });
    }
    asked_ = v;
    worst_ = new QLabel(tr("Looking for the motions that are worst here…"));
    worst_->setObjectName(QStringLiteral("spotWorst"));
    worst_->setWordWrap(true);
    worst_->setProperty("quiet", true);
    setType(worst_, 0.92);
    rows_->addWidget(worst_);
    QFrame::show();
    adjustSize();
    raise();
    run_->askWorstMotionsAt(v);
}

QPushButton* SpotCard::button(const QString& text, const QString& name) {
    auto* b = new QPushButton(text);
    b->setObjectName(name);
    b->setStyleSheet(QStringLiteral("text-align: left;"));
    rows_->addWidget(b);
    if (isVisible()) // so that it counts in the card's size at once
        b->show();
    return b;
}

void SpotCard::showWorst(std::uint32_t v, const std::vector<SpotMotion>& motions) {
    if (v != asked_ || !isVisible() || !worst_)
        return;
    worst_->setText(motions.empty() ? tr("No motion strains this spot.") : tr("Worst here"));
    for (const SpotMotion& m : motions) {
        const Motion& motion = plan_->plan().motions[m.motion];
        const QString side =
            motion.side == Side::Middle ? QString() : inWords(nameOf(motion.side)) + QLatin1Char(' ');
        auto* b = button(tr("%1 %L2, %3%4 at %5")
                             .arg(inWords(nameOf(m.kind)))
                             .arg(m.value, 0, 'f', 2)
                             .arg(side, QString::fromStdString(motionName(motion.name)),
                                  QString::fromStdString(wordsFor(motion, m.at))),
                         QStringLiteral("spotMotion-%1").arg(m.motion));
        connect(b, &QPushButton::clicked, this, [this, m] { run_->setPose(m.motion, m.at); });
    }
    adjustSize();
}

} // namespace hobble
