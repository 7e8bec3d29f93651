#include "app/review/reading_panel.h"

#include "app/theme.h"
#include "io/run_json.h"

#include <QHBoxLayout>
#include <QPainter>
#include <QPainterPath>
#include <QVBoxLayout>

#include <numeric>

namespace hobble {

namespace {

enum Measure { Stretch, Squash, Volume, Pinch, Area, Shear, MeasureCount };
const char* const kNames[] = {QT_TRANSLATE_NOOP("measure", "stretch"), QT_TRANSLATE_NOOP("measure", "squash"),
                              QT_TRANSLATE_NOOP("measure", "volume"),  QT_TRANSLATE_NOOP("measure", "pinch"),
                              QT_TRANSLATE_NOOP("measure", "area"),    QT_TRANSLATE_NOOP("measure", "shear")};

std::optional<double> valueOfMeasure(int m, const ZoneMeasures& z) {
    switch (m) {
    case Stretch:
        return z.stretch;
    case Squash:
        return z.squash;
    case Volume:
        return z.volume;
    case Pinch:
        return z.pinch;
    case Area:
        return z.area;
    default:
        return z.shear;
    }
}

// The kind of fault a measure's value counts towards; volume has one on either side. Area and shear have no
// limit.
std::optional<Kind> kindOf(int m, double value) {
    switch (m) {
    case Stretch:
        return Kind::Stretch;
    case Squash:
        return Kind::Squash;
    case Volume:
        return value > 1 ? Kind::Bulge : Kind::VolumeLoss;
    case Pinch:
        return Kind::Pinch;
    default:
        return std::nullopt;
    }
}

double troubleOfMeasure(int m, double value, const Limits& limits, Role role) {
    const auto kind = kindOf(m, value);
    return kind ? troubleOf(*kind, value, limits.of(*kind, role)) : 0;
}

} // namespace

MeasureCurve::MeasureCurve(QWidget* parent) : QWidget(parent) { setFixedSize(66, 28); }

void MeasureCurve::show(Line line, Line otherSide, double limit, double now) {
    line_ = std::move(line);
    other_ = std::move(otherSide);
    limit_ = limit;
    now_ = now;
    update();
}

void MeasureCurve::paintEvent(QPaintEvent*) {
    if (limit_ <= 0 || line_.degrees.empty())
        return;
    QPainter p(this);
    p.setRenderHint(QPainter::Antialiasing);
    const Theme& t = Theme::current();
    const QRectF box = QRectF(rect()).adjusted(1, 3, -1, -3);
    double most = 1.4;
    for (const Line* l : {&line_, &other_})
        for (double x : l->trouble)
            most = std::max(most, x);
    auto x = [&](double degrees) { return box.left() + box.width() * degrees / limit_; };
    auto y = [&](double trouble) { return box.bottom() - box.height() * trouble / most; };
    p.setPen(QPen(t.limitLine, 1, Qt::DotLine));
    p.drawLine(QPointF(box.left(), y(1)), QPointF(box.right(), y(1)));
    auto path = [&](const Line& l) {
        QPainterPath out;
        for (std::size_t i = 0; i < l.degrees.size(); ++i)
            i ? out.lineTo(x(std::min(l.degrees[i], limit_)), y(l.trouble[i]))
              : out.moveTo(x(l.degrees[i]), y(l.trouble[i]));
        return out;
    };
    double worst = 0;
    for (double v : line_.trouble)
        worst = std::max(worst, v);
    p.setPen(QPen(t.muted, 1));
    p.drawPath(path(other_));
    p.setPen(QPen(worst > 1 ? t.stripGrave : t.muted, 1.8));
    p.drawPath(path(line_));
    p.setPen(QPen(t.accent, 2));
    p.drawLine(QPointF(x(now_), box.top() - 2), QPointF(x(now_), box.bottom() + 2));
}

ReadingPanel::ReadingPanel(Session* session, QWidget* parent) : QWidget(parent), session_(session) {
    auto* all = new QVBoxLayout(this);
    all->setContentsMargins(0, 0, 0, 0);
    all->setSpacing(0);
    auto* head = new QHBoxLayout;
    title_ = new QLabel;
    title_->setObjectName(QStringLiteral("readingTitle"));
    title_->setFont(typeface(1.08, true));
    note_ = new QLabel;
    note_->setProperty("quiet", true);
    note_->setFont(typeface(0.9));
    head->addWidget(title_, 1);
    head->addWidget(note_);
    all->addLayout(head);
    all->addSpacing(6);
    rowsLayout_ = new QVBoxLayout;
    rowsLayout_->setSpacing(0);
    all->addLayout(rowsLayout_);
    for (int m = 0; m < MeasureCount; ++m) {
        Row row;
        row.widget = new QWidget;
        row.widget->setObjectName(QStringLiteral("reading-") + QLatin1String(kNames[m]));
        auto* box = new QVBoxLayout(row.widget);
        box->setContentsMargins(0, 0, 0, 0);
        box->setSpacing(0);
        auto* hair = new QFrame;
        hair->setProperty("hair", true);
        box->addWidget(hair);
        auto* line = new QHBoxLayout;
        line->setContentsMargins(0, 3, 0, 3);
        line->setSpacing(8);
        row.name = new QLabel(tr(kNames[m]));
        row.value = new QLabel;
        row.value->setAlignment(Qt::AlignRight | Qt::AlignVCenter);
        row.limit = new QLabel;
        row.limit->setAlignment(Qt::AlignRight | Qt::AlignVCenter);
        row.limit->setProperty("quiet", true);
        row.limit->setFont(typeface(0.9));
        row.limit->setFixedWidth(34);
        row.curve = new MeasureCurve;
        row.chip = new SeverityChip;
        line->addWidget(row.name, 1);
        line->addWidget(row.value);
        line->addWidget(row.limit);
        line->addWidget(row.curve);
        line->addWidget(row.chip);
        box->addLayout(line);
        rowsLayout_->addWidget(row.widget);
        rows_.push_back(row);
    }
    connect(session, &Session::frameReady, this, &ReadingPanel::show);
    connect(session, &Session::runChanged, this, &ReadingPanel::show);
    connect(session, &Session::characterChanged, this, &ReadingPanel::show);
    connect(session, &Session::findingChanged, this, &ReadingPanel::show);
    show();
}

void ReadingPanel::setOtherSideShown(bool on) {
    otherShown_ = on;
    show();
}

MeasureCurve::Line ReadingPanel::lineOf(int motion, int joint, int measure) const {
    MeasureCurve::Line line;
    const auto run = session_->run();
    if (!run || motion < 0)
        return line;
    const auto& steps = run->motions[motion].steps;
    for (std::size_t i = 0; i + 1 < steps.size(); ++i)
        for (const JointStep& j : steps[i].joints)
            if (j.joint == joint || joint < 0)
                if (const auto v = valueOfMeasure(measure, j.measures)) {
                    line.degrees.push_back(steps[i].degrees);
                    line.trouble.push_back(measure == Area ? std::abs(*v - 1) / 0.5
                                           : measure == Shear
                                               ? (*v - 1) / 2
                                               : troubleOfMeasure(measure, *v, run->limits,
                                                                  session_->subject()->roles[j.joint].role));
                    break;
                }
    return line;
}

void ReadingPanel::showRow(Row& row, int m, const ZoneMeasures& now, int joint) {
    const auto value = valueOfMeasure(m, now);
    const Role role = session_->subject()->roles[joint].role;
    const JointZone& zone = session_->subject()->zones[joint];
    const auto kind = value ? kindOf(m, *value) : std::nullopt;
    const LimitSteps* steps = kind ? &session_->limits().of(*kind, role) : nullptr;
    const int severity = steps ? severityOf(*kind, *value, *steps) : 0;
    row.name->setText(m == Volume && value ? (*value > 1 ? tr("volume gain") : tr("volume loss"))
                                           : tr(kNames[m]));
    row.value->setText(value ? QString::number(*value, 'f', 2) : tr("not defined"));
    row.value->setFont(typeface(value ? 1.05 : 0.9, value.has_value()));
    row.limit->setText(steps ? QString::number((*steps)[0], 'f', 2) : QString());
    row.chip->setSeverity(severity);
    for (QLabel* l : {row.name, row.value}) {
        l->setProperty("quiet", severity == 0);
        l->setStyleSheet(severity == 0 ? QStringLiteral("color: %1").arg(Theme::current().muted.name())
                                       : QString());
    }
    row.widget->setToolTip(
        value ? QString()
        : m == Volume
            ? tr("Volume is not defined here: %1.").arg(QString::fromStdString(zone.volumeUndefined))
            : tr("Girth is not defined here: %1.").arg(QString::fromStdString(zone.girthUndefined)));
    row.widget->setAccessibleName(tr("%1 %2%3").arg(
        row.name->text(), row.value->text(), steps ? tr(", limit %1").arg(row.limit->text()) : QString()));

    // The other side: the same motion mirrored, its own joint.
    const auto& motions = session_->plan().motions;
    const int motion = session_->motion();
    int otherMotion = -1;
    if (motion >= 0 && motions[motion].side != Side::Middle && otherShown_)
        for (int k = 0; k < static_cast<int>(motions.size()); ++k)
            if (k != motion && motions[k].name == motions[motion].name &&
                motions[k].limb == motions[motion].limb)
                otherMotion = k;
    const int mirror = session_->subject()->roles[joint].mirror;
    row.curve->show(lineOf(motion, joint, m), lineOf(otherMotion, mirror >= 0 ? mirror : joint, m),
                    motion >= 0 ? motions[motion].limit() : 0, session_->degrees());
}

void ReadingPanel::show() {
    const auto frame = session_->frame();
    int joint = session_->joint();
    const JointStep* now = nullptr;
    if (frame && session_->subject() && joint >= 0 && frame->subject == session_->subject()) {
        for (const JointStep& j : frame->zones)
            if (j.joint == joint)
                now = &j;
        if (!now && !frame->zones.empty()) { // a stranger's doing: what is read is the joint that moves
            now = &frame->zones.front();
            joint = now->joint;
        }
    }
    for (Row& r : rows_)
        r.widget->setVisible(now != nullptr);
    if (!now) {
        title_->setText(session_->subject() ? tr("No joint chosen") : tr("Nothing open"));
        note_->setText({});
        return;
    }
    QString words = QString::fromStdString(jointWords(*session_->subject(), joint));
    words[0] = words[0].toUpper();
    title_->setText(tr("%1 at %2°").arg(words).arg(frame->degrees, 0, 'f', 0));
    const Side side =
        session_->motion() >= 0 ? session_->plan().motions[session_->motion()].side : Side::Middle;
    note_->setText(side == Side::Middle || !otherShown_ ? QString()
                   : side == Side::Left                 ? tr("right in outline")
                                                        : tr("left in outline"));
    for (int m = 0; m < MeasureCount; ++m)
        showRow(rows_[m], m, now->measures, joint);

    // Worst of the whole motion first, so that rows stand still while the angle moves.
    std::vector<int> order(MeasureCount);
    std::iota(order.begin(), order.end(), 0);
    std::vector<double> worst(MeasureCount, 0);
    for (int m = 0; m < MeasureCount; ++m) {
        if (m != Area && m != Shear)
            for (double t : lineOf(session_->motion(), joint, m).trouble)
                worst[m] = std::max(worst[m], t);
    }
    std::stable_sort(order.begin(), order.end(), [&](int a, int b) { return worst[a] > worst[b]; });
    for (int at = 0; at < MeasureCount; ++at)
        if (rowsLayout_->itemAt(at)->widget() != rows_[order[at]].widget)
            rowsLayout_->insertWidget(at, rows_[order[at]].widget);
}

} // namespace hobble
