#include "app/review/reading_panel.h"

#include "app/theme.h"
#include "io/run_json.h"

#include <QHBoxLayout>
#include <QPainter>
#include <QPainterPath>
#include <QPushButton>
#include <QScrollArea>
#include <QVBoxLayout>

#include <array>
#include <numeric>

namespace hobble {

namespace {

// What the shape at hand says at any angle, then what the run measured at its steps.
enum Measure { Stretch, Squash, Volume, Pinch, Area, Shear, FirstOfRun };
const char* const kNames[] = {QT_TRANSLATE_NOOP("measure", "stretch"), QT_TRANSLATE_NOOP("measure", "squash"),
                              QT_TRANSLATE_NOOP("measure", "volume"),  QT_TRANSLATE_NOOP("measure", "pinch"),
                              QT_TRANSLATE_NOOP("measure", "area"),    QT_TRANSLATE_NOOP("measure", "shear")};
constexpr std::array kOfRun{Kind::Contact,     Kind::Roughness, Kind::Leak,     Kind::PokeThrough,
                            Kind::Gap,         Kind::Flip,      Kind::Pop,      Kind::SoftRigidPart,
                            Kind::UnboundPart, Kind::OneSided,  Kind::WrongBend};
constexpr int kMeasureCount = FirstOfRun + static_cast<int>(kOfRun.size());
constexpr int kMostRows = 7; // at first sight; the others on demand

Kind ofRun(int m) { return kOfRun[static_cast<std::size_t>(m - FirstOfRun)]; }

QString nameOfMeasure(int m) {
    return m < FirstOfRun ? QLatin1String(kNames[m]) : QLatin1String(nameOf(ofRun(m)));
}

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
    case Shear:
        return z.shear;
    default:
        return valueOf(ofRun(m), z);
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
    case Area:
    case Shear:
        return std::nullopt;
    default:
        return ofRun(m);
    }
}

// In the unit people think in: millimetres for what is kept as a share of the body or the limb.
QString words(const Subject& s, int joint, int m, double value) {
    if (m < FirstOfRun)
        return QString::number(value, 'f', 2);
    switch (ofRun(m)) {
    case Kind::Contact:
        return QObject::tr("%1 mm").arg(1000 * value * s.zones[joint].limbRadius, 0, 'f', 0);
    case Kind::Leak:
    case Kind::PokeThrough:
    case Kind::Gap:
    case Kind::Pop:
    case Kind::UnboundPart:
        return QObject::tr("%1 mm").arg(1000 * value * s.body.height, 0, 'f',
                                        value * s.body.height < 0.01 ? 1 : 0);
    case Kind::Flip:
    case Kind::SoftRigidPart:
        return QObject::tr("%1 %").arg(100 * value, 0, 'f', 0);
    case Kind::WrongBend:
        return QObject::tr("%1°").arg(value, 0, 'f', 0);
    default:
        return QString::number(value, 'f', 2);
    }
}

double troubleOfMeasure(int m, double value, const Limits& limits, Role role) {
    const auto kind = kindOf(m, value);
    return kind ? troubleOf(*kind, value, limits.of(*kind, role)) : 0;
}

} // namespace

MeasureCurve::MeasureCurve(QWidget* parent) : QWidget(parent) { setFixedSize(60, 28); }

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
        auto* line = new QHBoxLayout;
        line->setContentsMargins(0, 3, 0, 3);
        line->setSpacing(6);
        row.name = new QLabel(nameOfMeasure(m));
        row.value = new QLabel;
        row.value->setAlignment(Qt::AlignRight | Qt::AlignVCenter);
        row.limit = new QLabel;
        row.limit->setAlignment(Qt::AlignRight | Qt::AlignVCenter);
        row.limit->setProperty("quiet", true);
        row.limit->setFont(typeface(0.9));
        row.limit->setFixedWidth(44);
        row.curve = new MeasureCurve;
        row.chip = new SeverityChip;
        line->addWidget(row.name, 1);
        line->addWidget(row.value);
        line->addWidget(row.limit);
        line->addWidget(row.curve);
        line->addWidget(row.chip);
        box->addLayout(line);
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
    auto* links = new QHBoxLayout;
    links->setSpacing(10);
    for (QPushButton* b : {more_, onset_, peak_})
        links->addWidget(b);
    links->addStretch();
    all->addLayout(links);
    for (QPushButton* b : {onset_, peak_})
        connect(b, &QPushButton::clicked, this,
                [this, b] { session_->setPose(session_->motion(), b->property("degrees").toDouble()); });
    connect(more_, &QPushButton::clicked, this, [this] {
        everything_ = !everything_;
        show();
    });
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

// Between the steps on either side of the angle.
std::optional<double> ReadingPanel::ofRunNow(int m) const {
    const auto run = session_->run();
    const int motion = session_->motion();
    if (!run || motion < 0)
        return std::nullopt;
    const auto& steps = run->motions[motion].steps;
    const double degrees = session_->degrees();
    std::optional<double> before;
    double from = 0;
    for (std::size_t i = 0; i + 1 < steps.size(); ++i) {
        std::optional<double> value;
        for (const JointStep& j : steps[i].joints)
            if (!value)
                value = valueOfMeasure(m, j.measures);
        if (steps[i].degrees >= degrees || i + 2 == steps.size()) {
            const double t = before && value && steps[i].degrees > from
                                 ? std::clamp((degrees - from) / (steps[i].degrees - from), 0.0, 1.0)
                                 : 1;
            return value && before ? std::optional(*before + t * (*value - *before)) : value;
        }
        before = value;
        from = steps[i].degrees;
    }
    return std::nullopt;
}

// Where this motion starts to pass a limit, and where it is worst.
void ReadingPanel::showLinks() {
    double onset = -1, peak = -1, most = 1;
    const auto run = session_->run();
    if (run && session_->motion() >= 0)
        for (const Finding& f : run->findings)
            if (f.motion == session_->motion()) {
                const double trouble =
                    troubleOf(f.kind, f.peakValue, run->limits.of(f.kind, f.role)); // the worst has the peak
                onset = onset < 0 ? f.onsetDegrees : std::min(onset, f.onsetDegrees);
                if (trouble >= most) {
                    most = trouble;
                    peak = f.peakDegrees;
                }
            }
    onset_->setVisible(onset >= 0);
    peak_->setVisible(peak >= 0);
    onset_->setText(tr("starts at %1°").arg(onset, 0, 'f', 0));
    peak_->setText(tr("worst at %1°").arg(peak, 0, 'f', 0));
    onset_->setProperty("degrees", onset);
    peak_->setProperty("degrees", peak);
}

void ReadingPanel::showRow(Row& row, int m, const ZoneMeasures& now, int joint) {
    const auto value = m < FirstOfRun ? valueOfMeasure(m, now) : ofRunNow(m);
    const Role role = session_->subject()->roles[joint].role;
    const JointZone& zone = session_->subject()->zones[joint];
    const auto kind = value ? kindOf(m, *value) : std::nullopt;
    const LimitSteps* steps = kind ? &session_->limits().of(*kind, role) : nullptr;
    const int severity = steps ? severityOf(*kind, *value, *steps) : 0;
    row.name->setText(m == Volume && value ? (*value > 1 ? tr("volume gain") : tr("volume loss"))
                                           : nameOfMeasure(m));
    row.value->setText(value ? words(*session_->subject(), joint, m, *value) : tr("not defined"));
    row.value->setFont(typeface(value ? 1.05 : 0.9, value.has_value()));
    row.limit->setText(steps ? words(*session_->subject(), joint, m, (*steps)[0]) : QString());
    row.chip->setSeverity(severity);
    for (QLabel* l : {row.name, row.value}) {
        l->setProperty("quiet", severity == 0);
        l->setStyleSheet(severity == 0 ? QStringLiteral("color: %1").arg(Theme::current().muted.name())
                                       : QString());
    }
    row.widget->setToolTip(
        value || m >= FirstOfRun ? QString()
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
    const int own =
        m < FirstOfRun ? joint : -1; // what the run tells of the whole pose stands at its first joint
    row.curve->show(lineOf(motion, own, m), lineOf(otherMotion, own < 0 || mirror < 0 ? own : mirror, m),
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
    scroll_->setVisible(now != nullptr);
    showLinks();
    if (!now) {
        more_->hide();
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
    for (int m = 0; m < kMeasureCount; ++m)
        showRow(rows_[m], m, now->measures, joint);

    // Worst of the whole motion first, so that rows stand still while the angle moves.
    std::vector<int> order(kMeasureCount);
    std::iota(order.begin(), order.end(), 0);
    std::vector<double> worst(kMeasureCount, 0);
    for (int m = 0; m < kMeasureCount; ++m)
        if (m != Area && m != Shear)
            for (double t : lineOf(session_->motion(), m < FirstOfRun ? joint : -1, m).trouble)
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
    const int rowHeight = rows_[order[0]].widget->sizeHint().height();
    scroll_->setFixedHeight(std::min(shown, kMostRows + 1) * rowHeight);
    more_->setVisible(everything_ || shown < defined);
    more_->setText(everything_ ? tr("fewer") : tr("all %1").arg(defined));
}

} // namespace hobble
