#include "app/mend/proposals.h"

#include "app/theme.h"
#include "app/widgets/flow_layout.h"
#include "app/widgets/parts.h"
#include "app/widgets/trouble_paint.h"
#include "app/words.h"
#include "core/judge/measure_unit.h"
#include "core/words/finding_words.h"
#include "core/words/measure_words.h"

#include <QPainter>
#include <QVBoxLayout>

#include <cmath>

namespace hobble {

namespace {

constexpr std::size_t kFirst = 3; // what is read at once

TroubleCurve asCurve(const MeasureLine& line) {
    TroubleCurve out;
    for (std::size_t i = 0; i < line.at.size(); ++i) {
        if (!out.at.empty() && line.at[i] <= out.at.back())
            break; // the way back
        out.at.push_back(line.at[i]);
        out.trouble.push_back(line.trouble[i]);
    }
    return out;
}

class TinyCurves : public QWidget {
public:
    explicit TinyCurves(const Cure& cure) : before_(asCurve(cure.before)), after_(asCurve(cure.after)) {
        setTextSize(this, 66, 40);
    }

protected:
    void paintEvent(QPaintEvent*) override {
        if (before_.at.empty())
            return;
        QPainter p(this);
        p.setRenderHint(QPainter::Antialiasing);
        const Theme& t = Theme::current();
        paintBeforeAndAfter(p, QRectF(rect()).adjusted(1, 3, -1, -2), before_.at.back(), before_, after_,
                            t.ink, t.stripBody);
    }

private:
    TroubleCurve before_, after_;
};

QString capital(QString words) {
    if (!words.isEmpty())
        words[0] = words[0].toUpper();
    return words;
}

} // namespace

Proposals::Proposals(MendDesk* mend, QWidget* parent) : QWidget(parent), mend_(mend) {
    auto* all = new QVBoxLayout(this);
    all->setContentsMargins(0, 0, 0, 0);
    all->setSpacing(5);
    title_ = new QLabel(tr("What would help"));
    setType(title_, 1.0, true);
    all->addWidget(title_);
    state_ = wrapped(QStringLiteral("proposalState"));
    state_->setProperty("quiet", true);
    all->addWidget(state_);
    cards_ = new QVBoxLayout;
    cards_->setSpacing(6);
    all->addLayout(cards_);
    auto* words = new FlowLayout(4);
    more_ = wordButton(words, {}, QStringLiteral("moreProposals"));
    search_ = wordButton(words, {}, QStringLiteral("searchCures"),
                         tr("Tries what could take the trouble away, and proves it on every motion"));
    all->addLayout(words);
    connect(more_, &QPushButton::clicked, this, [this] {
        all_ = !all_;
        refresh();
    });
    connect(search_, &QPushButton::clicked, mend, &MendDesk::search);
    for (auto signal : {&MendDesk::curesChanged, &MendDesk::aimChanged, &MendDesk::trialChanged})
        connect(mend, signal, this, &Proposals::refresh);
    connect(mend, &MendDesk::measuredChanged, search_, [this] { search_->setEnabled(!mend_->measuring()); });
    refresh();
}

QWidget* Proposals::card(int index) {
    const Cure& c = mend_->cures()[static_cast<std::size_t>(index)];
    const Subject& s = *mend_->build();
    auto* frame = new QFrame;
    frame->setProperty("card", true);
    frame->setProperty("chosen", mend_->shownCure() == index);
    frame->setObjectName(QStringLiteral("proposal-%1").arg(index));
    auto* row = new QHBoxLayout(frame);
    row->setContentsMargins(8, 6, 8, 4);
    row->setSpacing(10);
    row->addWidget(new TinyCurves(c), 0, Qt::AlignTop);
    auto* text = new QVBoxLayout;
    text->setSpacing(0);
    QStringList steps;
    for (const Step& step : c.steps)
        steps << QString::fromStdString(sentence(step));
    auto* what = wrapped();
    what->setText(steps.join(QStringLiteral("; then ")));
    setType(what, 1, true);
    text->addWidget(what);
    const MeasureUnit unit = unitOf(c.kind, s, c.joint);
    const auto in = [&](double value) { return QString::fromStdString(wordsFor(unit, value)); };
    QStringList does{
        tr("%1 %2 → %3 of %4").arg(inWords(factsOf(c.kind).word), in(c.was), in(c.is), in(c.limit)),
        tr("%1 % of the trouble goes").arg(std::lround(100 * std::max(c.gone(), 0.0)))};
    if (!c.worse.empty()) {
        const MeasureChange& w = c.worse.front();
        const MeasureUnit its = unitOf(w.kind, s, w.joint[1]);
        const auto told = [&](double value) { return QString::fromStdString(wordsFor(its, value)); };
        does << tr("worse: %1 %2 %3 → %4")
                    .arg(QString::fromStdString(jointWords(s, w.joint[1])), inWords(measureOf(w.kind)),
                         told(w.peak[0]), told(w.peak[1]));
        if (c.worse.size() > 1)
            does.back() += tr(", and %1 more").arg(c.worse.size() - 1);
    } else if (c.newFindings > 0) {
        does << (c.newFindings == 1 ? tr("one new finding")
                                    : tr("%n new findings", nullptr, int(c.newFindings)));
    } else {
        does << tr("nothing gets worse");
    }
    const bool saidAbove = c.steps.size() == 1 && c.steps[0].place.vertices.size() == c.changed.vertices;
    if (c.changed.vertices > 0 && !saidAbove)
        does << (c.changed.vertices == 1 ? tr("one vertex changes")
                                         : tr("%n vertices change", nullptr, int(c.changed.vertices)));
    auto* numbers = wrapped();
    numbers->setText(does.join(QStringLiteral(" · ")));
    numbers->setProperty("quiet", true);
    setType(numbers, 0.92);
    text->addWidget(numbers);
    auto* verbs = new QHBoxLayout;
    verbs->setSpacing(4);
    auto* take = wordButton(verbs, tr("Take it"), QStringLiteral("take-%1").arg(index));
    take->setProperty("strong", true);
    auto* show = wordButton(verbs, tr("Show"), QStringLiteral("show-%1").arg(index),
                            tr("While it is held: as if it were taken"));
    verbs->addStretch(1);
    text->addLayout(verbs);
    row->addLayout(text, 1);
    connect(take, &QPushButton::clicked, this, [this, index] { mend_->take(index); });
    connect(show, &QPushButton::pressed, this, [this, index] { mend_->showCure(index); });
    connect(show, &QPushButton::released, this, [this] { mend_->showCure(-1); });
    frame->setAccessibleName(what->text() + QStringLiteral(". ") + capital(numbers->text()));
    return frame;
}

void Proposals::refresh() {
    const auto& cures = mend_->cures();
    const bool forFault = mend_->told() != nullptr;
    setVisible(forFault || mend_->searching());
    const bool steps = !mend_->trial().steps.empty();
    QString state;
    if (mend_->searching())
        state = cures.empty() ? tr("trying…") : tr("still trying…");
    else if (!mend_->nothing().isEmpty())
        state = tr("Nothing helps: %1.").arg(mend_->nothing());
    state_->setText(state);
    state_->setVisible(!state.isEmpty());
    title_->setVisible(!steps || mend_->searching() || !cures.empty() || !mend_->nothing().isEmpty());
    search_->setText(steps ? tr("what would help now?") : tr("what would help?"));
    search_->setVisible(forFault && !mend_->searching() && cures.empty());
    search_->setEnabled(!mend_->measuring());
    more_->setVisible(cures.size() > kFirst);
    more_->setText(all_ ? tr("fold those that help less")
                        : tr("%1 more that help less").arg(cures.size() - std::min(kFirst, cures.size())));
    // A card under the hand is not made anew while it is held.
    if (mend_->shownCure() >= 0)
        return;
    empty(cards_);
    const std::size_t shown = all_ ? cures.size() : std::min(kFirst, cures.size());
    for (std::size_t i = 0; i < shown; ++i)
        cards_->addWidget(card(static_cast<int>(i)));
}

} // namespace hobble
