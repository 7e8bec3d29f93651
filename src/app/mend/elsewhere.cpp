#include "app/mend/elsewhere.h"

#include "app/theme.h"
#include "app/widgets/parts.h"
#include "app/words.h"
#include "core/judge/measure_unit.h"
#include "core/words/measure_words.h"

#include <QVBoxLayout>

#include <algorithm>

namespace hobble {

Elsewhere::Elsewhere(MendDesk* mend, RunDesk* run, QWidget* parent)
    : QWidget(parent), mend_(mend), run_(run) {
    auto* all = new QVBoxLayout(this);
    all->setContentsMargins(0, 0, 0, 0);
    all->setSpacing(4);
    auto* title = new QLabel(tr("Elsewhere"));
    setType(title, 1.0, true);
    all->addWidget(title);
    state_ = wrapped(QStringLiteral("elsewhereState"));
    state_->setProperty("quiet", true);
    setType(state_, 0.92);
    all->addWidget(state_);
    rows_ = new QVBoxLayout;
    rows_->setSpacing(0);
    all->addLayout(rows_);
    auto* below = new QHBoxLayout;
    more_ = wordButton(below, {}, QStringLiteral("moreElsewhere"));
    setType(more_, 0.92);
    below->addStretch(1);
    all->addLayout(below);
    connect(more_, &QPushButton::clicked, this, [this] {
        all_ = !all_;
        refresh();
    });
    connect(mend, &MendDesk::measuredChanged, this, &Elsewhere::refresh);
    refresh();
}

void Elsewhere::refresh() {
    empty(rows_);
    const TrialMeasured* r = mend_->result();
    const bool any =
        r && r->now.run && !r->now.run->cancelled && (r->motions > 0 || !r->effect.elsewhere.empty());
    setVisible(any);
    if (!any)
        return;
    const MendEffect& e = r->effect;
    QString state = r->motions == 1 ? tr("One motion measured again.")
                                    : tr("%n motions measured again.", nullptr, int(r->motions));
    state += QLatin1Char(' ') + (e.harms() ? tr("Something passes a limit that did not before, or by more.")
                                           : tr("Nothing passes a limit that did not before."));
    state_->setText(state);
    constexpr std::size_t first = 3, most = 60;
    std::vector<const MeasureChange*> told;
    for (const MeasureChange& m : e.worse)
        told.push_back(&m);
    for (const MeasureChange& m : e.elsewhere)
        if (std::none_of(e.worse.begin(), e.worse.end(), [&](const MeasureChange& w) {
                return w.kind == m.kind && w.joint == m.joint && w.motion == m.motion;
            }))
            told.push_back(&m);
    const Subject& s = *r->now.subject;
    const Plan& plan = mend_->buildRun()->plan;
    for (std::size_t i = 0; i < std::min(all_ ? most : first, told.size()); ++i) {
        const MeasureChange& m = *told[i];
        const MeasureUnit unit = unitOf(m.kind, s, m.joint[1]);
        const auto in = [&](double v) { return QString::fromStdString(wordsFor(unit, v)); };
        const Motion& motion = plan.motions[static_cast<std::size_t>(m.motion[0])];
        const auto [was, is] = valuesWhereItDiffers({mend_->sides().sides[0], r->now}, m, run_->limits());
        auto* row =
            new WordsLink(tr("%1, %2: %3 %4 → %5, %6")
                              .arg(QString::fromStdString(wordsFor(motion)),
                                   QString::fromStdString(wordsFor(motion, m.at)), inWords(measureOf(m.kind)),
                                   in(was), in(is), m.verdict == Change::Worse ? tr("worse") : tr("better")));
        row->setObjectName(QStringLiteral("elsewhere-%1").arg(i));
        row->setToolTip(tr("Go there"));
        row->setProperty("link", true);
        row->setContentsMargins(0, 2, 0, 2);
        setType(row, 0.92, i < e.worse.size());
        row->chosen = [this, at = m.at, motionAt = m.motion[0]] { mend_->setPose(motionAt, at); };
        rows_->addWidget(row);
    }
    more_->setVisible(told.size() > first);
    more_->setText(all_ ? tr("fold the others")
                        : tr("%1 more").arg(told.size() - std::min(first, told.size())));
}

} // namespace hobble
