#include "app/review/findings_panel.h"

#include "app/coverage/coverage_line.h"
#include "app/theme.h"
#include "app/widgets/flow_layout.h"
#include "app/widgets/parts.h"
#include "app/widgets/severity_chip.h"
#include "app/words.h"
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

#include <set>

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

FindingsPanel::FindingsPanel(BuildDesk* build, PlanDesk* plan, RunDesk* run, ExposureDesk* exposure,
                             LogDesk* log, QWidget* parent)
    : QWidget(parent), build_(build), plan_(plan), run_(run), exposure_(exposure), log_(log) {
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
    connect(run_, &RunDesk::runChanged, this, [this] {
        opened_ = -1; // faults have other numbers now
        rebuild();
    });
    connect(log_, &LogDesk::logChanged, this, &FindingsPanel::rebuild);
    connect(exposure_, &ExposureDesk::exposureChanged, this, &FindingsPanel::rebuild);
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

std::vector<int> FindingsPanel::shownFaults() const {
    std::vector<int> out;
    const auto run = run_->run();
    if (!run)
        return out;
    std::set<int> here{run_->joint()};
    if (run_->motion() >= 0) // a shared motion shows the faults of all its joints
        for (const JointTurn& t : plan_->plan().motions[static_cast<std::size_t>(run_->motion())].turns)
            here.insert(t.joint);
    for (const Fault& fault : run->faults) {
        const auto seenHere = [&](int sign) {
            return here.count(run->findings[static_cast<std::size_t>(sign)].joint) > 0;
        };
        if (everywhere_ ||
            std::any_of(fault.joints.begin(), fault.joints.end(), [&](int j) { return here.count(j) > 0; }) ||
            std::any_of(fault.signs.begin(), fault.signs.end(), seenHere))
            out.push_back(fault.signs.front());
    }
    return out;
}

// The other signs of a fault, folded: each goes to where it is seen.
QWidget* FindingsPanel::foldedSigns(const Fault& fault) {
    auto* all = new QWidget;
    auto* box = new QVBoxLayout(all);
    box->setContentsMargins(0, 0, 0, 0);
    box->setSpacing(0);
    auto* fold = new QPushButton;
    fold->setObjectName(QStringLiteral("signs"));
    fold->setProperty("quiet", true);
    fold->setCursor(Qt::PointingHandCursor);
    auto* rows = new QWidget;
    auto* list = new QVBoxLayout(rows);
    list->setContentsMargins(8, 0, 0, 4);
    list->setSpacing(0);
    const auto count = static_cast<int>(fault.signs.size()) - 1;
    for (int i = 1; i <= count; ++i) {
        const int sign = fault.signs[static_cast<std::size_t>(i)];
        const Finding& f = run_->run()->findings[static_cast<std::size_t>(sign)];
        auto* row =
            new WordsLink(tr("%1  %2")
                              .arg(f.severity)
                              .arg(QString::fromStdString(sentence(*build_->subject(), plan_->plan(), f))));
        setType(row, 0.88);
        row->setProperty("quiet", true);
        row->setObjectName(QStringLiteral("sign-%1").arg(sign));
        row->chosen = [this, sign] { run_->showFinding(sign); };
        list->addWidget(row);
    }
    const auto tell = [fold, count](bool open) {
        fold->setText(open         ? tr("fold its signs")
                      : count == 1 ? tr("one more sign")
                                   : tr("%n more signs", nullptr, int(count)));
    };
    const int number = run_->run()->findings[static_cast<std::size_t>(fault.signs.front())].fault;
    rows->setVisible(opened_ == number);
    tell(opened_ == number);
    connect(fold, &QPushButton::clicked, rows, [this, rows, tell, number] {
        const bool open = rows->isHidden();
        rows->setVisible(open);
        opened_ = open ? number : -1;
        tell(open);
    });
    box->addWidget(fold, 0, Qt::AlignLeft);
    box->addWidget(rows);
    return all;
}

// How often the show's clips go there; the first frame is a press away.
QWidget* FindingsPanel::useLine(int index) {
    const auto use = exposure_->ofFault(index);
    if (!use)
        return nullptr;
    const QString words = tr("In the show: %1").arg(exposure_->wordsOf(*use, index));
    QLabel* line = nullptr;
    if (use->past.firstClip >= 0) {
        auto* link = new WordsLink(words);
        link->chosen = [this, past = use->past, joint = run_->findingAt(use->finding)->joint] {
            exposure_->lookAt(past.firstClip, past.firstFrame, joint);
        };
        link->setToolTip(tr("Shows the character in that frame, and the clip on Plan"));
        link->setProperty("link", true);
        line = link;
    } else {
        line = wrapped();
        line->setText(words);
        line->setProperty("quiet", true);
    }
    line->setObjectName(QStringLiteral("use-%1").arg(index));
    setType(line, 0.92);
    return line;
}

QWidget* FindingsPanel::card(int index) {
    const Fault& fault = *run_->faultOf(index);
    auto* card = new Card([this, index] { run_->showFinding(index); });
    card->setObjectName(QStringLiteral("fault-%1").arg(run_->findingAt(index)->fault));
    card->setProperty("finding", index);
    auto* box = new QHBoxLayout(card);
    box->setContentsMargins(8, 8, 8, 6);
    box->setSpacing(8);
    box->addWidget(new SeverityChip(fault.severity), 0, Qt::AlignTop);
    auto* text = new QVBoxLayout;
    text->setSpacing(1);
    // The sentence's own halves: what, and in which motion at which angles.
    const QString whole =
        QString::fromStdString(sentence(*build_->subject(), plan_->plan(), run_->run()->findings, fault));
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
    if (const Cause* c = fault.headline()) {
        QString cause = inWords(factsOf(c->kind).word);
        cause[0] = cause[0].toUpper();
        label(cause + QStringLiteral(": ") +
                  QString::fromStdString(sentenceOf(*build_->subject()->character, *c)),
              0.95, false, false)
            ->setToolTip(tr("Why does it say this? The manual tells, with Shift+F1"));
    }
    if (QWidget* use = useLine(index))
        text->addWidget(use);
    if (fault.signs.size() > 1)
        text->addWidget(foldedSigns(fault));
    auto* buttons = new FlowLayout(4);
    if (const qint64 defect = run_->defectOf(index)) {
        const Defect* d = log_->list().find(defect);
        const bool known = d && !isOpen(d->state);
        if (known) // a way out has a long name, and a button does not wrap
            label(tr("In the log: %1").arg(inWords(nameOf(d->state))), 1, false, true);
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
        connect(merge->menu(), &QMenu::aboutToShow, this,
                [this, menu = merge->menu(), index] { fillMergeMenu(menu, index); });
        buttons->addWidget(merge);
    }
    auto* mend = new QPushButton(tr("Try to mend it"));
    mend->setObjectName(QStringLiteral("mend"));
    connect(mend, &QPushButton::clicked, this, [this, index] { emit mendWanted(index); });
    buttons->addWidget(mend);
    text->addLayout(buttons);
    box->addLayout(text, 1);
    card->setAccessibleName(tr("Severity %1. %2").arg(fault.severity).arg(whole));
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
    const std::vector<int> shown = shownFaults();
    const std::size_t total = run ? run->faults.size() : 0;
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
            const Fault* chosen = run_->faultOf(run_->finding());
            w->setProperty("chosen", chosen && w->property("finding").toInt() == chosen->signs.front());
            w->style()->unpolish(w);
            w->style()->polish(w);
        }
}

} // namespace hobble
