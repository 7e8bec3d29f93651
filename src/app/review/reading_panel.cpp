#include "app/review/reading_panel.h"

#include "app/theme.h"
#include "app/widgets/flow_layout.h"
#include "core/words/finding_words.h"

#include <QGridLayout>
#include <QHBoxLayout>
#include <QPainter>
#include <QPainterPath>
#include <QPushButton>
#include <QScrollArea>
#include <QStringList>
#include <QVBoxLayout>

#include <algorithm>
#include <cmath>
#include <numeric>

namespace hobble {

namespace {

constexpr int kMostRows = 7; // at first sight; the others on demand

} // namespace

MeasureCurve::MeasureCurve(QWidget* parent) : QWidget(parent) { setTextSize(this, 60, 28); }

void MeasureCurve::show(MeasureLines lines, double limit, double now) {
    lines_ = std::move(lines);
    limit_ = limit;
    now_ = now;
    update();
}

void MeasureCurve::paintEvent(QPaintEvent*) {
    if (limit_ <= 0 || lines_.here.at.empty())
        return;
    QPainter p(this);
    p.setRenderHint(QPainter::Antialiasing);
    const Theme& t = Theme::current();
    const QRectF box = QRectF(rect()).adjusted(1, 3, -1, -3);
    double most = 1.4;
    for (const MeasureLine* l : {&lines_.here, &lines_.otherSide, &lines_.earlier})
        for (double x : l->trouble)
            most = std::max(most, x);
    auto x = [&](double degrees) { return box.left() + box.width() * degrees / limit_; };
    auto y = [&](double trouble) { return box.bottom() - box.height() * trouble / most; };
    p.setPen(QPen(t.limitLine, 1, Qt::DotLine));
    p.drawLine(QPointF(box.left(), y(1)), QPointF(box.right(), y(1)));
    auto path = [&](const MeasureLine& l) {
        QPainterPath out;
        for (std::size_t i = 0; i < l.at.size(); ++i)
            i ? out.lineTo(x(std::min(l.at[i], limit_)), y(l.trouble[i]))
              : out.moveTo(x(l.at[i]), y(l.trouble[i]));
        return out;
    };
    double worst = 0;
    for (double v : lines_.here.trouble)
        worst = std::max(worst, v);
    p.setPen(QPen(t.muted, 1));
    p.drawPath(path(lines_.otherSide));
    p.setPen(QPen(t.accent, 1, Qt::DashLine));
    p.drawPath(path(lines_.earlier));
    p.setPen(QPen(worst > 1 ? t.stripGrave : t.muted, 1.8));
    p.drawPath(path(lines_.here));
    p.setPen(QPen(t.accent, 2));
    p.drawLine(QPointF(x(now_), box.top() - 2), QPointF(x(now_), box.bottom() + 2));
}

ReadingPanel::ReadingPanel(BuildDesk* build, PlanDesk* plan, RunDesk* run, QWidget* parent)
    : QWidget(parent), build_(build), plan_(plan), run_(run) {
    auto* all = new QVBoxLayout(this);
    all->setContentsMargins(0, 0, 0, 0);
    all->setSpacing(0);
    auto* head = new QHBoxLayout;
    title_ = new QLabel;
    title_->setObjectName(QStringLiteral("readingTitle"));
    title_->setWordWrap(true);
    setType(title_, 1.08, true);
    note_ = new QLabel;
    note_->setProperty("quiet", true);
    note_->setWordWrap(true);
    setType(note_, 0.9);
    chart_ = new QPushButton(tr("chart"));
    chart_->setObjectName(QStringLiteral("readingChart"));
    chart_->setToolTip(tr("The measures of this motion in a large chart"));
    connect(chart_, &QPushButton::clicked, this, &ReadingPanel::chartWanted);
    head->addWidget(title_, 1);
    head->addWidget(chart_);
    all->addLayout(head);
    all->addWidget(note_);
    all->addSpacing(4);
    auto* rows = new QWidget;
    rowsLayout_ = new QVBoxLayout(rows);
    rowsLayout_->setContentsMargins(0, 0, 0, 0);
    rowsLayout_->setSpacing(0);
    scroll_ = new QScrollArea; // all measures are more than there is room for beside the findings
    scroll_->setWidgetResizable(true);
    scroll_->setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
    scroll_->setFrameShape(QFrame::NoFrame);
    scroll_->setFocusPolicy(Qt::NoFocus);
    scroll_->setWidget(rows);
    all->addWidget(scroll_);
    for (int m = 0; m < kMeasureCount; ++m) {
        Row row;
        row.widget = new QWidget;
        row.widget->setObjectName(QStringLiteral("reading-") + nameOfMeasure(m));
        auto* box = new QVBoxLayout(row.widget);
        box->setContentsMargins(0, 0, 0, 0);
        box->setSpacing(0);
        auto* hair = new QFrame;
        hair->setProperty("hair", true);
        box->addWidget(hair);
        row.grid = new QGridLayout;
        row.grid->setContentsMargins(0, 3, 0, 3);
        row.grid->setHorizontalSpacing(6);
        row.grid->setVerticalSpacing(0);
        row.grid->setColumnStretch(0, 1);
        row.name = new QLabel(nameOfMeasure(m));
        row.name->setWordWrap(true);
        row.value = new QLabel;
        row.value->setAlignment(Qt::AlignRight | Qt::AlignVCenter);
        row.limit = new QLabel;
        row.limit->setAlignment(Qt::AlignRight | Qt::AlignVCenter);
        row.limit->setProperty("quiet", true);
        setType(row.limit, 0.9);
        row.limit->setMinimumWidth(44);
        row.curve = new MeasureCurve;
        row.chip = new SeverityChip;
        box->addLayout(row.grid);
        row.widget->hide(); // until there is something to read
        rowsLayout_->addWidget(row.widget);
        rows_.push_back(row);
    }
    more_ = new QPushButton;
    more_->setObjectName(QStringLiteral("readingMore"));
    onset_ = new QPushButton;
    onset_->setObjectName(QStringLiteral("readingOnset"));
    peak_ = new QPushButton;
    peak_->setObjectName(QStringLiteral("readingPeak"));
    auto* links = new FlowLayout(10);
    for (QPushButton* b : {more_, onset_, peak_})
        links->addWidget(b);
    all->addLayout(links);
    for (QPushButton* b : {onset_, peak_})
        connect(b, &QPushButton::clicked, this,
                [this, b] { run_->setPose(run_->motion(), b->property("at").toDouble()); });
    connect(more_, &QPushButton::clicked, this, [this] {
        everything_ = !everything_;
        show();
    });
    connect(&run_->view(), &PoseView::frameReady, this, &ReadingPanel::show);
    connect(run_, &RunDesk::runChanged, this, &ReadingPanel::show);
    connect(run_, &RunDesk::motionMeasured, this, [this](int motion) {
        if (motion == run_->motion())
            show();
    });
    connect(build_, &BuildDesk::characterChanged, this, &ReadingPanel::show);
    connect(run_, &RunDesk::findingChanged, this, &ReadingPanel::show);
    show();
}

void ReadingPanel::setOtherSideShown(bool on) {
    otherShown_ = on;
    show();
}

// Between the steps on either side of the angle.
std::optional<double> ReadingPanel::ofRunNow(int m) const {
    const MotionResult* result = run_->resultOf(run_->motion());
    if (!result)
        return std::nullopt;
    return valueAlong(*result, run_->poseAt(), [m](const StepResult& step) {
        std::optional<double> value;
        for (const JointStep& j : step.joints)
            if (!value)
                value = valueOfMeasure(m, j.measures);
        return value;
    });
}

// Where this motion starts to pass a limit, and where it is worst.
void ReadingPanel::showLinks() {
    const auto [onset, peak] =
        run_->run() ? onsetAndPeak(*run_->run(), run_->motion()) : std::pair(-1.0, -1.0);
    onset_->setVisible(onset >= 0);
    peak_->setVisible(peak >= 0);
    const Motion* moved = run_->motionShown();
    const auto at = [&](double x) {
        return moved ? QString::fromStdString(wordsFor(*moved, x)) : tr("%1°").arg(x, 0, 'f', 0);
    };
    onset_->setText(tr("starts at %1").arg(at(onset)));
    peak_->setText(tr("worst at %1").arg(at(peak)));
    onset_->setProperty("at", onset);
    peak_->setProperty("at", peak);
}

// In one line; at large text, where one line would be wider than the panel, in two.
void ReadingPanel::arrange(Row& row) {
    const bool two = Theme::current().textScale > 1.25;
    if (row.lines == (two ? 2 : 1))
        return;
    row.lines = two ? 2 : 1;
    row.grid->addWidget(row.name, 0, 0);
    row.grid->addWidget(row.value, 0, 1);
    row.grid->addWidget(row.limit, two ? 1 : 0, two ? 0 : 2);
    row.grid->addWidget(row.curve, two ? 1 : 0, two ? 1 : 3);
    row.grid->addWidget(row.chip, 0, two ? 2 : 4, two ? 2 : 1, 1);
    row.limit->setAlignment((two ? Qt::AlignLeft : Qt::AlignRight) | Qt::AlignVCenter);
}

void ReadingPanel::showRow(Row& row, int m, const ZoneMeasures& now, int joint) {
    arrange(row);
    const auto value = m < FirstOfRun ? valueOfMeasure(m, now) : ofRunNow(m);
    const Role role = build_->subject()->roles[joint].role;
    const JointZone& zone = build_->subject()->zones[joint];
    const auto kind = value ? kindOfMeasure(m, *value) : std::nullopt;
    const LimitSteps* steps = kind ? &run_->limits().of(*kind, role) : nullptr;
    const int severity = steps ? severityOf(*kind, *value, *steps) : 0;
    row.name->setText(m == Volume && value ? (*value > 1 ? tr("volume gain") : tr("volume loss"))
                                           : nameOfMeasure(m));
    row.value->setText(value ? measureWords(*build_->subject(), joint, m, *value) : tr("not defined"));
    row.limit->setText(steps ? (row.lines == 2 ? tr("limit ") : QString()) +
                                   measureWords(*build_->subject(), joint, m, (*steps)[0])
                             : QString());
    row.chip->setSeverity(severity);
    const QColor ink = severity == 0 ? Theme::current().muted : Theme::current().ink;
    const bool polish = row.ink != ink; // it takes longer than all the rest of a row
    if (polish) {
        row.ink = ink;
        for (QLabel* l : {row.name, row.value})
            l->setStyleSheet(QStringLiteral("color: %1").arg(ink.name()));
    }
    const double size = value ? 1.05 : 0.9;
    if (polish || row.value->property("typeScale").toDouble() != size)
        setType(row.value, size, value.has_value());
    row.widget->setToolTip(
        value || m >= FirstOfRun ? QString()
        : m == Volume
            ? tr("Volume is not defined here: %1.").arg(QString::fromStdString(zone.volumeUndefined))
            : tr("Girth is not defined here: %1.").arg(QString::fromStdString(zone.girthUndefined)));
    row.widget->setAccessibleName(tr("%1 %2%3").arg(
        row.name->text(), row.value->text(), steps ? tr(", limit %1").arg(row.limit->text()) : QString()));

    const int motion = run_->motion();
    MeasureLines lines = measureLines(*build_, *plan_, *run_, motion, joint, m);
    if (!otherShown_)
        lines.otherSide = {};
    row.curve->show(std::move(lines),
                    motion >= 0 ? plan_->plan().motions[static_cast<std::size_t>(motion)].limit() : 0,
                    run_->poseAt());
}

void ReadingPanel::show() {
    const auto frame = run_->view().frame();
    int joint = run_->joint();
    const JointStep* now = nullptr;
    if (frame && build_->subject() && joint >= 0 && frame->subject == build_->subject()) {
        for (const JointStep& j : frame->zones)
            if (j.joint == joint)
                now = &j;
        if (!now && !frame->zones.empty()) { // a stranger's doing: what is read is the joint that moves
            now = &frame->zones.front();
            joint = now->joint;
        }
    }
    scroll_->setVisible(now != nullptr);
    showLinks();
    chart_->setVisible(now && run_->motion() >= 0);
    if (!now) {
        more_->hide();
        note_->hide();
        title_->setText(build_->subject() ? tr("No joint chosen") : tr("Nothing open"));
        note_->setText({});
        return;
    }
    QString words = QString::fromStdString(jointWords(*build_->subject(), joint));
    words[0] = words[0].toUpper();
    title_->setText(
        tr("%1 at %2")
            .arg(words, run_->motion() >= 0
                            ? QString::fromStdString(wordsFor(
                                  plan_->plan().motions[static_cast<std::size_t>(run_->motion())], frame->at))
                            : tr("%1°").arg(frame->at, 0, 'f', 0)));
    const Side side = run_->motion() >= 0 ? plan_->plan().motions[run_->motion()].side : Side::Middle;
    QStringList outlines;
    if (side != Side::Middle && otherShown_)
        outlines << (side == Side::Left ? tr("right in outline") : tr("left in outline"));
    if (run_->earlier() && run_->motion() >= 0 &&
        run_->earlier()->of(plan_->plan().motions[std::size_t(run_->motion())]))
        outlines << tr("build %1 dashed").arg(run_->earlier()->build);
    note_->setText(outlines.join(QStringLiteral(", ")));
    note_->setVisible(!outlines.isEmpty());
    for (int m = 0; m < kMeasureCount; ++m)
        showRow(rows_[m], m, now->measures, joint);

    // Worst of the whole motion first, so that rows stand still while the angle moves.
    std::vector<int> order(kMeasureCount);
    std::iota(order.begin(), order.end(), 0);
    std::vector<double> worst(kMeasureCount, 0);
    for (int m = 0; m < kMeasureCount; ++m)
        if (m != Area && m != Shear)
            for (double t : measureLines(*build_, *plan_, *run_, run_->motion(), joint, m).here.trouble)
                worst[m] = std::max(worst[m], t);
    std::stable_sort(order.begin(), order.end(), [&](int a, int b) { return worst[a] > worst[b]; });
    int shown = 0, defined = 0;
    for (int at = 0; at < kMeasureCount; ++at) {
        const int m = order[at];
        if (rowsLayout_->itemAt(at)->widget() != rows_[m].widget)
            rowsLayout_->insertWidget(at, rows_[m].widget);
        const bool has = m < FirstOfRun || ofRunNow(m);
        defined += has;
        // At first sight: what is worst, and of what the run tells only what comes near a limit.
        const bool near = m < FirstOfRun ? m != Area && m != Shear : worst[m] > 0.3;
        const bool visible = has && (everything_ || (near && shown < kMostRows));
        rows_[m].widget->setVisible(visible);
        shown += visible;
    }
    int height = 0; // of as many rows as there is room for beside the findings
    for (int at = 0, n = 0; at < kMeasureCount && n < std::min(shown, kMostRows + 1); ++at) {
        QWidget* row = rows_[static_cast<std::size_t>(order[static_cast<std::size_t>(at)])].widget;
        if (row->isHidden())
            continue;
        height += row->hasHeightForWidth() ? row->heightForWidth(scroll_->viewport()->width())
                                           : row->sizeHint().height();
        ++n;
    }
    scroll_->setFixedHeight(std::min(
        height,
        static_cast<int>(window()->height() * 0.4 / std::max(1.0, Theme::current().textScale / 1.2))));
    more_->setVisible(everything_ || shown < defined);
    more_->setText(everything_ ? tr("fewer") : tr("all %1").arg(defined));
}

} // namespace hobble
