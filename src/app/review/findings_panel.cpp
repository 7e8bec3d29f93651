#include "app/review/findings_panel.h"

#include "app/coverage/coverage_line.h"
#include "app/theme.h"
#include "app/widgets/flow_layout.h"
#include "app/widgets/severity_chip.h"
#include "core/words/cause_words.h"
#include "core/words/finding_words.h"

#include <QHBoxLayout>
#include <QLabel>
#include <QMenu>
#include <QMouseEvent>
#include <QPushButton>
#include <QScrollArea>
#include <QStyle>
#include <QVBoxLayout>

namespace hobble {

namespace {

constexpr std::size_t kMostCards = 60; // what anybody reads; the rest is counted

class Card : public QFrame {
public:
    explicit Card(std::function<void()> chosen) : chosen_(std::move(chosen)) {
        setProperty("card", true);
        setFocusPolicy(Qt::TabFocus);
        setCursor(Qt::PointingHandCursor);
    }

protected:
    void mousePressEvent(QMouseEvent*) override { chosen_(); }
    void keyPressEvent(QKeyEvent* e) override {
        if (e->key() == Qt::Key_Return || e->key() == Qt::Key_Enter)
            chosen_();
        else
            QFrame::keyPressEvent(e);
    }

private:
    std::function<void()> chosen_;
};

} // namespace

FindingsPanel::FindingsPanel(BuildDesk* build, PlanDesk* plan, RunDesk* run, LogDesk* log, QWidget* parent)
    : QWidget(parent), build_(build), plan_(plan), run_(run), log_(log) {
    auto* all = new QVBoxLayout(this);
    all->setContentsMargins(0, 0, 0, 0);
    all->setSpacing(6);
    auto* head = new FlowLayout(8);
    title_ = new QLabel;
    setType(title_, 1.08, true);
    count_ = new QLabel;
    count_->setObjectName(QStringLiteral("findingCount"));
    count_->setProperty("quiet", true);
    scope_ = new QPushButton;
    scope_->setObjectName(QStringLiteral("findingScope"));
    head->addWidget(title_);
    head->addWidget(count_);
    head->addWidget(scope_);
    all->addLayout(head);
    auto* scroll = new QScrollArea;
    scroll->setWidgetResizable(true);
    scroll->setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
    scroll->setFrameShape(QFrame::NoFrame);
    scroll->setFocusPolicy(Qt::NoFocus);
    auto* inside = new QWidget;
    auto* within = new QVBoxLayout(inside);
    within->setContentsMargins(0, 0, 4, 0);
    within->addWidget(new CoverageLine(build_, plan_));
    cards_ = new QVBoxLayout;
    within->addLayout(cards_, 1);
    cards_->setSpacing(8);
    scroll->setWidget(inside);
    all->addWidget(scroll, 1);

    connect(scope_, &QPushButton::clicked, this, [this] {
        everywhere_ = !everywhere_;
        rebuild();
    });
    connect(run_, &RunDesk::runChanged, this, &FindingsPanel::rebuild);
    connect(log_, &LogDesk::logChanged, this, &FindingsPanel::rebuild);
    connect(run_, &RunDesk::findingChanged, this, [this] {
        if (!everywhere_ && run_->joint() != builtForJoint_)
            rebuild();
        else
            markChosen();
    });
    connect(run_, &RunDesk::poseChanged, this, [this] {
        if (!everywhere_ && run_->joint() != builtForJoint_)
            rebuild();
    });
    rebuild();
}

std::vector<int> FindingsPanel::shownFindings() const {
    std::vector<int> out;
    const auto run = run_->run();
    if (!run)
        return out;
    for (int f = 0; f < static_cast<int>(run->findings.size()); ++f) {
        bool here = everywhere_ || run->findings[f].joint == run_->joint();
        if (!here && run_->motion() >= 0) // a shared motion shows the findings of all its joints
            for (const JointTurn& t : plan_->plan().motions[run_->motion()].turns)
                here |= t.joint == run->findings[f].joint;
        if (here)
            out.push_back(f);
    }
    return out;
}

// What else the same fault shows as: other kinds, other joints.
QString FindingsPanel::alsoWords(int index) const {
    const auto& all = run_->run()->findings;
    const Finding& f = all[static_cast<std::size_t>(index)];
    QStringList words;
    for (const Finding& g : all) {
        if (&g == &f || g.fault != f.fault || f.fault < 0)
            continue;
        QString word = QLatin1String(nameOf(g.kind));
        if (g.joint != f.joint)
            word += tr(" at the %1").arg(QString::fromStdString(jointWords(*build_->subject(), g.joint)));
        if (!words.contains(word))
            words << word;
    }
    constexpr int most = 3;
    const auto more = words.size() - most;
    QString out = words.mid(0, most).join(QStringLiteral(", "));
    if (more > 0)
        out += tr(" and %1 more").arg(more);
    return out.isEmpty() ? out : tr("The same fault: %1").arg(out);
}

QWidget* FindingsPanel::card(int index) {
    const Finding& f = run_->run()->findings[index];
    auto* card = new Card([this, index] { run_->showFinding(index); });
    card->setObjectName(QStringLiteral("finding-%1").arg(index));
    card->setProperty("finding", index);
    auto* box = new QHBoxLayout(card);
    box->setContentsMargins(8, 8, 8, 6);
    box->setSpacing(8);
    box->addWidget(new SeverityChip(f.severity), 0, Qt::AlignTop);
    auto* text = new QVBoxLayout;
    text->setSpacing(1);
    // The sentence's own halves: what, and in which motion at which angles.
    const QString whole = QString::fromStdString(sentence(*build_->subject(), plan_->plan(), f));
    const int cut = static_cast<int>(whole.lastIndexOf(QStringLiteral(" in ")));
    auto label = [&](const QString& words, double scale, bool bold, bool quiet) {
        auto* l = new QLabel(words);
        l->setWordWrap(true);
        setType(l, scale, bold);
        l->setProperty("quiet", quiet);
        text->addWidget(l);
        return l;
    };
    label(cut > 0 ? whole.left(cut) : whole, 1, true, false);
    if (cut > 0) {
        QString when = whole.mid(cut + 4);
        when.chop(1);
        label(when, 0.92, false, true);
    }
    if (const QString also = alsoWords(index); !also.isEmpty())
        label(also, 0.92, false, true);
    if (const Cause* c = f.headline()) {
        QString cause = QString::fromUtf8(factsOf(c->kind).word);
        cause[0] = cause[0].toUpper();
        label(cause + QStringLiteral(": ") +
                  QString::fromStdString(sentenceOf(*build_->subject()->character, *c)),
              0.95, false, false);
    }
    auto* buttons = new FlowLayout(4);
    if (const qint64 defect = run_->defectOf(index)) {
        const Defect* d = log_->list().find(defect);
        const bool known = d && !isOpen(d->state);
        if (known) // a way out has a long name, and a button does not wrap
            label(tr("In the log: %1").arg(nameOf(d->state)), 1, false, true);
        auto* open =
            new QPushButton(known ? tr("Defect %1").arg(defect) : tr("Logged as defect %1").arg(defect));
        connect(open, &QPushButton::clicked, this, [this, defect] { emit defectWanted(defect); });
        buttons->addWidget(open);
    } else {
        auto* log = new QPushButton(tr("Log defect"));
        log->setProperty("strong", true);
        log->setEnabled(log_->takesChanges());
        connect(log, &QPushButton::clicked, this, [this, index] { emit logWanted(index); });
        buttons->addWidget(log);
        for (const auto& [verb, status] :
             {std::pair(tr("Accept"), "accepted"), {tr("Dismiss"), "dismissed"}}) { // with a reason
            auto* settle = new QPushButton(verb);
            settle->setObjectName(QStringLiteral("settle-") + QLatin1String(status));
            settle->setEnabled(log->isEnabled());
            connect(settle, &QPushButton::clicked, this,
                    [this, index, accepts = QLatin1String(status) == QLatin1String("accepted")] {
                        emit settleWanted(index, accepts);
                    });
            buttons->addWidget(settle);
        }
        auto* merge = new QPushButton(tr("Merge"));
        merge->setObjectName(QStringLiteral("merge"));
        merge->setToolTip(tr("It is another sign of a defect that is open already"));
        merge->setEnabled(log->isEnabled());
        merge->setMenu(new QMenu(merge));
        merge->setStyleSheet(QStringLiteral("QPushButton::menu-indicator { image: none; width: 0; }"));
        connect(merge->menu(), &QMenu::aboutToShow, this,
                [this, menu = merge->menu(), index] { fillMergeMenu(menu, index); });
        buttons->addWidget(merge);
    }
    text->addLayout(buttons);
    box->addLayout(text, 1);
    card->setAccessibleName(tr("Severity %1. %2").arg(f.severity).arg(whole));
    return card;
}

void FindingsPanel::fillMergeMenu(QMenu* menu, int index) {
    constexpr int most = 12;
    menu->clear();
    const QVector<Defect> open = run_->mergeable(index);
    for (const Defect& d : open.mid(0, most)) {
        const QString words = tr("%1  %2").arg(d.id).arg(d.facts.what);
        menu->addAction(menu->fontMetrics().elidedText(words, Qt::ElideRight, px(420)), this,
                        [this, index, id = d.id] { emit mergeWanted(index, id); });
    }
    if (open.isEmpty())
        menu->addAction(tr("No defect of this character is open"))->setEnabled(false);
    else if (open.size() > most)
        menu->addAction(tr("and %1 more, on other limbs").arg(open.size() - most))->setEnabled(false);
}

void FindingsPanel::rebuild() {
    while (QLayoutItem* item = cards_->takeAt(0)) {
        if (QWidget* w = item->widget()) {
            w->hide();
            w->deleteLater(); // it may be the card whose button was just pressed
        }
        delete item;
    }
    builtForJoint_ = run_->joint();
    const auto run = run_->run();
    const std::vector<int> shown = shownFindings();
    const std::size_t total = run ? run->findings.size() : 0;
    title_->setText(everywhere_ ? tr("Found everywhere") : tr("Found here"));
    count_->setText(run ? tr("%1 of %2").arg(shown.size()).arg(total) : QString());
    scope_->setText(everywhere_ ? tr("only here") : tr("show all"));
    scope_->setVisible(total > 0);
    for (std::size_t i = 0; i < std::min(shown.size(), kMostCards); ++i)
        cards_->addWidget(card(shown[i]));
    QString empty;
    if (!build_->subject())
        empty = tr("What a run finds will be listed here.");
    else if (!run)
        empty = run_->jobs().busy() ? tr("The test is running; the strips fill as motions come in.")
                                    : tr("Not tested yet. Press F5 to run the plan.");
    else if (shown.empty())
        empty = plan_->coverage().share < kLeastCoverage
                    ? tr("Nothing that was tested passes its limit at this joint.")
                    : tr("Nothing passes its limit at this joint.");
    else if (shown.size() > kMostCards)
        empty = tr("…and %1 more of lower severity.").arg(shown.size() - kMostCards);
    if (!empty.isEmpty()) {
        auto* l = new QLabel(empty);
        l->setWordWrap(true);
        l->setProperty("quiet", true);
        cards_->addWidget(l);
    }
    cards_->addStretch();
    markChosen();
}

void FindingsPanel::markChosen() {
    for (int i = 0; i < cards_->count(); ++i)
        if (QWidget* w = cards_->itemAt(i)->widget(); w && w->property("card").toBool()) {
            w->setProperty("chosen", w->property("finding").toInt() == run_->finding());
            w->style()->unpolish(w);
            w->style()->polish(w);
        }
}

} // namespace hobble
