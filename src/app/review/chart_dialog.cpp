#include "app/review/chart_dialog.h"

#include "app/theme.h"
#include "app/words.h"
#include "core/words/finding_words.h"
#include "core/words/motion_words.h"
#include "io/file_write.h"

#include <QChart>
#include <QChartView>
#include <QComboBox>
#include <QFileDialog>
#include <QHBoxLayout>
#include <QJsonArray>
#include <QJsonDocument>
#include <QJsonObject>
#include <QLabel>
#include <QLegendMarker>
#include <QLineSeries>
#include <QMouseEvent>
#include <QPushButton>
#include <QSignalBlocker>
#include <QSvgGenerator>
#include <QVBoxLayout>
#include <QValueAxis>

#include <algorithm>
#include <cmath>
#include <set>

namespace hobble {

ChartDialog::ChartDialog(BuildDesk* build, PlanDesk* plan, RunDesk* run, QWidget* parent)
    : QDialog(parent), build_(build), plan_(plan), run_(run) {
    setObjectName(QStringLiteral("chartDialog"));
    setWindowTitle(tr("Chart"));
    resize(900, 560);
    auto* all = new QVBoxLayout(this);
    auto* head = new QHBoxLayout;
    title_ = new QLabel;
    title_->setObjectName(QStringLiteral("chartTitle"));
    title_->setWordWrap(true);
    setType(title_, 1.1, true);
    measure_ = new QComboBox;
    measure_->setObjectName(QStringLiteral("chartMeasure"));
    measure_->setAccessibleName(tr("Measure"));
    head->addWidget(title_, 1);
    head->addWidget(measure_);
    const auto button = [&](const QString& words, const QString& name) {
        auto* b = new QPushButton(words);
        b->setObjectName(name);
        b->setAutoDefault(false);
        head->addWidget(b);
        return b;
    };
    auto* numbers = button(tr("Save the data"), QStringLiteral("chartData"));
    auto* picture = button(tr("Save the picture"), QStringLiteral("chartPicture"));
    all->addLayout(head);
    chart_ = new QChart;
    chart_->setAnimationOptions(QChart::NoAnimation);
    chart_->setBackgroundRoundness(0);
    view_ = new QChartView(chart_);
    view_->setObjectName(QStringLiteral("chartView"));
    view_->setRenderHint(QPainter::Antialiasing);
    view_->setAccessibleName(tr("Value along the angle; press to go there"));
    view_->viewport()->installEventFilter(this);
    all->addWidget(view_, 1);
    connect(measure_, &QComboBox::currentIndexChanged, this, &ChartDialog::draw);
    connect(numbers, &QPushButton::clicked, this, &ChartDialog::saveData);
    connect(picture, &QPushButton::clicked, this, [this] {
        const QString path = QFileDialog::getSaveFileName(
            this, tr("Save the picture"), QStringLiteral("chart.png"), tr("Picture (*.png *.svg)"));
        if (!path.isEmpty() && !savePicture(path))
            emit failed(tr("Cannot write the picture %1.").arg(path));
    });
    for (auto signal : {&RunDesk::runChanged, &RunDesk::limitsChanged})
        connect(run, signal, this, &ChartDialog::draw);
    connect(run_, &RunDesk::poseChanged, this, [this] {
        if (run_->motion() == motion_ && run_->joint() == joint_)
            markNow();
        else
            listMeasures();
    });
    connect(build_, &BuildDesk::characterChanged, this, &QDialog::reject);
    listMeasures();
}

int ChartDialog::measure() const {
    return measure_->currentData().isValid() ? measure_->currentData().toInt() : -1;
}

// Those the run knows of in this motion, the worst of them first; what was chosen stays chosen.
void ChartDialog::listMeasures() {
    motion_ = run_->motion();
    joint_ = run_->joint();
    const int before = measure();
    std::vector<std::pair<double, int>> known;
    for (int m = 0; m < kMeasureCount && motion_ >= 0; ++m) {
        const MeasureLine line = measureLines(*build_, *plan_, *run_, motion_, joint_, m).here;
        if (line.value.empty())
            continue;
        const double worst = *std::max_element(line.trouble.begin(), line.trouble.end());
        known.emplace_back(m == Area || m == Shear ? -1 : worst, m);
    }
    std::stable_sort(known.begin(), known.end(), [](auto& a, auto& b) { return a.first > b.first; });
    {
        const QSignalBlocker quiet(measure_);
        measure_->clear();
        for (const auto& [worst, m] : known)
            measure_->addItem(nameOfMeasure(m), m);
        measure_->setCurrentIndex(std::max(0, measure_->findData(before)));
    }
    draw();
}

std::vector<ChartDialog::Curve> ChartDialog::curves() const {
    std::vector<Curve> out;
    if (motion_ < 0 || measure() < 0)
        return out;
    const MeasureLines lines = measureLines(*build_, *plan_, *run_, motion_, joint_, measure());
    const Side side = plan_->plan().motions[static_cast<std::size_t>(motion_)].side;
    out.push_back({side == Side::Left    ? tr("left")
                   : side == Side::Right ? tr("right")
                                         : tr("this build"),
                   lines.here});
    if (!lines.otherSide.value.empty())
        out.push_back({side == Side::Left ? tr("right") : tr("left"), lines.otherSide});
    if (!lines.earlier.value.empty())
        out.push_back({tr("build %1").arg(run_->earlier()->build), lines.earlier});
    return out;
}

void ChartDialog::draw() {
    const Theme& t = Theme::current();
    chart_->removeAllSeries();
    for (QAbstractAxis* a : chart_->axes()) {
        chart_->removeAxis(a);
        a->deleteLater();
    }
    across_ = up_ = nullptr;
    chart_->setBackgroundBrush(t.panel);
    chart_->setPlotAreaBackgroundVisible(false);
    chart_->legend()->setLabelColor(t.ink);
    chart_->legend()->setFont(typeface(0.95));
    chart_->legend()->setMarkerShape(QLegend::MarkerShapeFromSeries);
    const auto shown = curves();
    if (shown.empty()) {
        title_->setText(tr("Nothing has been measured of this motion yet."));
        return;
    }
    const Subject& s = *build_->subject();
    const Motion& motion = plan_->plan().motions[static_cast<std::size_t>(motion_)];
    const int m = measure();
    const auto [factor, unit] = measureUnit(s, joint_, m);
    title_->setText(tr("%1 of the %2 in %3")
                        .arg(nameOfMeasure(m), QString::fromStdString(jointWords(s, joint_)),
                             QString::fromStdString(motionName(motion.name))));
    double least = 1e300, most = -1e300;
    const auto series = [&](const QString& name, const QPen& pen) {
        auto* line = new QLineSeries;
        line->setName(name);
        line->setPen(pen);
        return line;
    };
    std::vector<QLineSeries*> lines;
    const QPen pens[] = {QPen(t.stripGrave, 2.6), QPen(t.muted, 1.6), QPen(t.accent, 1.6, Qt::DashLine)};
    for (std::size_t i = 0; i < shown.size(); ++i) {
        const bool earlier = i + 1 == shown.size() && run_->earlier() &&
                             shown[i].name == tr("build %1").arg(run_->earlier()->build);
        auto* line = series(shown[i].name, pens[i == 0 ? 0 : earlier ? 2 : 1]);
        for (std::size_t k = 0; k < shown[i].line.at.size(); ++k) {
            const double v = shown[i].line.value[k] * factor;
            line->append(shown[i].line.at[k], v);
            least = std::min(least, v);
            most = std::max(most, v);
        }
        lines.push_back(line);
    }
    // The limits that lie in what is seen, and always the first on the side it goes to.
    const Role role = s.roles[static_cast<std::size_t>(joint_)].role;
    std::set<Kind> kinds;
    for (double v : shown[0].line.value)
        if (const auto kind = kindOfMeasure(m, v); kind && (m != Volume || v != 1))
            kinds.insert(*kind);
    for (Kind kind : kinds)
        for (std::size_t i = 0; i < 4; ++i) {
            const double at = run_->limits().of(kind, role)[i] * factor;
            if (i > 0 && (at < least || at > most))
                continue;
            auto* limit =
                series(tr("limit %1").arg(i + 1), QPen(i == 3 ? t.blocking : t.muted, 1.2, Qt::DotLine));
            limit->append(0, at);
            limit->append(motion.limit(), at);
            least = std::min(least, at);
            most = std::max(most, at);
            lines.push_back(limit);
        }
    auto* now = series(tr("now"), QPen(t.ink, 1));
    lines.push_back(now);
    across_ = new QValueAxis;
    up_ = new QValueAxis;
    const double room = std::max(most - least, 1e-6) * 0.06;
    across_->setRange(0, motion.limit());
    across_->setLabelFormat(QStringLiteral("%.0f"));
    across_->setTickType(QValueAxis::TicksDynamic); // at angles one says
    across_->setTickInterval(motion.limit() > 100 ? 30 : motion.limit() > 40 ? 10 : 5);
    across_->setTitleText(motion.span == Span::Degrees   ? tr("degrees")
                          : motion.span == Span::Percent ? tr("per cent of the pose")
                                                         : tr("frames of the clip"));
    up_->setTitleText(unit.trimmed() == QLatin1String("°") ? tr("degrees") : unit.trimmed());
    up_->setRange(least >= 0 ? std::max(0.0, least - room) : least - room, most + room);
    up_->applyNiceNumbers();
    up_->setLabelFormat(unit.isEmpty() ? QStringLiteral("%.2f") : QStringLiteral("%.1f"));
    chart_->addAxis(across_, Qt::AlignBottom);
    chart_->addAxis(up_, Qt::AlignLeft);
    for (QValueAxis* a : {across_, up_}) {
        a->setLabelsColor(t.ink);
        a->setLabelsFont(typeface(0.9));
        a->setGridLineColor(t.hairline);
        a->setLinePen(QPen(t.muted, 1));
        a->setTitleBrush(t.muted);
        a->setTitleFont(typeface(0.9));
    }
    for (QLineSeries* l : lines) {
        chart_->addSeries(l);
        l->attachAxis(across_);
        l->attachAxis(up_);
    }
    for (QLegendMarker* marker : chart_->legend()->markers(now)) // it needs no name
        marker->setVisible(false);
    markNow();
}

void ChartDialog::markNow() {
    if (!up_)
        return;
    auto* now = static_cast<QLineSeries*>(chart_->series().back());
    now->replace(QList<QPointF>{{run_->poseAt(), up_->min()}, {run_->poseAt(), up_->max()}});
}

QPointF ChartDialog::pointOf(double degrees, double value) const {
    return chart_->mapToPosition({degrees, value});
}

bool ChartDialog::eventFilter(QObject* watched, QEvent* event) {
    if (watched == view_->viewport() && across_ && motion_ >= 0 &&
        (event->type() == QEvent::MouseButtonPress || event->type() == QEvent::MouseMove)) {
        const auto* e = static_cast<QMouseEvent*>(event);
        if (e->buttons() & Qt::LeftButton) {
            const double degrees = chart_->mapToValue(chart_->mapFromScene(view_->mapToScene(e->pos()))).x();
            run_->setPose(motion_, std::round(std::clamp(degrees, 0.0, across_->max())));
            return true;
        }
    }
    return QDialog::eventFilter(watched, event);
}

QByteArray ChartDialog::csv() const {
    QByteArray out = "measure,joint,motion,curve,degrees,value,trouble\r\n";
    if (motion_ < 0)
        return out;
    const auto quoted = [](QString text) {
        return '"' + text.replace(QLatin1Char('"'), QStringLiteral("\"\"")).toUtf8() + '"';
    };
    const QByteArray start =
        quoted(nameOfMeasure(measure())) + ',' +
        quoted(QString::fromStdString(build_->subject()->character->skeleton.name[std::size_t(joint_)])) +
        ',' + quoted(QString::fromStdString(plan_->plan().motions[std::size_t(motion_)].id));
    for (const Curve& c : curves())
        for (std::size_t i = 0; i < c.line.at.size(); ++i)
            out += start + ',' + quoted(c.name) + ',' + QByteArray::number(c.line.at[i], 'g', 8) + ',' +
                   QByteArray::number(c.line.value[i], 'g', 8) + ',' +
                   QByteArray::number(c.line.trouble[i], 'g', 8) + "\r\n";
    return out;
}

QByteArray ChartDialog::json() const {
    QJsonArray list;
    for (const Curve& c : curves()) {
        QJsonArray degrees, value;
        for (double x : c.line.at)
            degrees << x;
        for (double x : c.line.value)
            value << x;
        list << QJsonObject{{QStringLiteral("name"), c.name},
                            {QStringLiteral("degrees"), degrees},
                            {QStringLiteral("value"), value}};
    }
    QJsonObject out{{QStringLiteral("format"), QStringLiteral("hobble-chart")},
                    {QStringLiteral("version"), 1},
                    {QStringLiteral("curves"), list}};
    if (motion_ >= 0 && measure() >= 0) {
        out[QStringLiteral("measure")] = nameOfMeasure(measure());
        out[QStringLiteral("joint")] =
            QString::fromStdString(build_->subject()->character->skeleton.name[std::size_t(joint_)]);
        out[QStringLiteral("motion")] =
            QString::fromStdString(plan_->plan().motions[std::size_t(motion_)].id);
    }
    return QJsonDocument(out).toJson();
}

void ChartDialog::saveData() {
    const QString path = QFileDialog::getSaveFileName(this, tr("Save the data"), QStringLiteral("chart.csv"),
                                                      tr("Numbers (*.csv *.json)"));
    if (path.isEmpty())
        return;
    const QByteArray out = path.endsWith(QLatin1String(".json"), Qt::CaseInsensitive) ? json() : csv();
    if (auto written = writeFile(path.toStdString(), out.toStdString()); !written)
        emit failed(QString::fromStdString(written.error()));
}

bool ChartDialog::savePicture(const QString& path) {
    if (!path.endsWith(QLatin1String(".svg"), Qt::CaseInsensitive))
        return view_->grab().save(path, "PNG");
    QSvgGenerator svg;
    svg.setFileName(path);
    svg.setSize(view_->size());
    svg.setViewBox(view_->rect());
    svg.setTitle(title_->text());
    QPainter p;
    if (!p.begin(&svg))
        return false;
    view_->render(&p);
    return p.end();
}

} // namespace hobble
