#include "app/log/trend_view.h"

#include "app/theme.h"
#include "app/widgets/flow_layout.h"
#include "app/widgets/parts.h"
#include "app/widgets/severity_chip.h"
#include "core/judge/causes/cause.h"
#include "io/file_write.h"
#include "story/trend_paper.h"

#include <QBarCategoryAxis>
#include <QBarSet>
#include <QChart>
#include <QChartView>
#include <QComboBox>
#include <QFileDialog>
#include <QHeaderView>
#include <QLegend>
#include <QStackedBarSeries>
#include <QTableWidget>
#include <QVBoxLayout>
#include <QValueAxis>

namespace hobble {

namespace {
enum TrendColumn {
    When,
    Open4,
    Open3,
    Open2,
    Open1,
    Found,
    Cured,
    CameBack,
    OneSided,
    Settled,
    Days,
    TrendColumns
};
}

TrendView::TrendView(LogDesk* log, QWidget* parent) : QWidget(parent), log_(log) {
    auto* all = new QVBoxLayout(this);
    all->setContentsMargins(4, 4, 4, 4);
    all->setSpacing(6);
    auto* choose = new FlowLayout(6);
    weeks_ = wordToggle(choose, tr("over weeks"), QStringLiteral("trendWeeks"), true);
    builds_ = wordToggle(choose, tr("over builds"), QStringLiteral("trendBuilds"));
    const auto combo = [&](const char* name, const QString& accessible) {
        auto* c = new QComboBox;
        c->setObjectName(QLatin1String(name));
        c->setAccessibleName(accessible);
        c->setSizeAdjustPolicy(QComboBox::AdjustToContents);
        choose->addWidget(c);
        connect(c, &QComboBox::activated, this, [this] { ask(); });
        return c;
    };
    character_ = combo("trendCharacter", tr("Of which character"));
    kind_ = combo("trendKind", tr("Of which kind"));
    joint_ = combo("trendJoint", tr("At which joint"));
    cause_ = combo("trendCause", tr("Of which cause"));
    auto* saved = wordButton(choose, tr("Save or print…"), QStringLiteral("trendSave"));
    connect(saved, &QPushButton::clicked, this, &TrendView::save);
    for (QPushButton* b : {weeks_, builds_})
        connect(b, &QPushButton::clicked, this, [this, b] {
            weeks_->setChecked(b == weeks_);
            builds_->setChecked(b == builds_);
            ask();
        });
    all->addLayout(choose);
    words_ = wrapped(QStringLiteral("trendWords"));
    all->addWidget(words_);
    chart_ = new QChartView(new QChart);
    chart_->setRenderHint(QPainter::Antialiasing);
    chart_->setFrameShape(QFrame::NoFrame);
    chart_->setMinimumHeight(180);
    all->addWidget(chart_, 3);
    table_ = new QTableWidget;
    table_->setObjectName(QStringLiteral("trendTable"));
    table_->setAccessibleName(tr("The trend in numbers; each leads to its defects"));
    table_->setColumnCount(TrendColumns);
    table_->verticalHeader()->hide();
    table_->setShowGrid(false);
    table_->setEditTriggers(QAbstractItemView::NoEditTriggers);
    table_->setFrameShape(QFrame::NoFrame);
    table_->setHorizontalScrollBarPolicy(Qt::ScrollBarAsNeeded);
    table_->horizontalHeader()->setSectionResizeMode(QHeaderView::ResizeToContents);
    table_->horizontalHeader()->setHighlightSections(false);
    all->addWidget(table_, 2);
    connect(table_, &QTableWidget::cellActivated, this, [this](int row, int column) {
        const qsizetype point = trend_.points.size() - 1 - row; // the newest stands first
        if (point < 0 || point >= trend_.points.size())
            return;
        const TrendPoint& p = trend_.points[point];
        const auto ids = [&]() -> QVector<qint64> {
            switch (column) {
            case Found:
                return p.found;
            case Cured:
                return p.cured;
            case CameBack:
                return p.cameBack;
            case OneSided:
                return p.oneSided;
            case Settled:
                return p.settled;
            case Open1:
            case Open2:
            case Open3:
            case Open4:
                return trend_.openAt(point, Open1 - column + 1);
            default:
                return trend_.openAt(point);
            }
        }();
        if (!ids.isEmpty())
            emit defectsWanted(QSet<qint64>(ids.begin(), ids.end()));
    });
    connect(table_, &QTableWidget::cellClicked, table_, &QTableWidget::cellActivated);
    connect(log, &LogDesk::logChanged, this, [this] {
        if (isVisible())
            ask();
    });
}

void TrendView::showEvent(QShowEvent* e) {
    QWidget::showEvent(e);
    fillChoices();
    ask();
}

void TrendView::fillChoices() {
    const auto fill = [](QComboBox* c, const QString& any, const QSet<QString>& values,
                         const QString& first) {
        const QString kept = c->count() ? c->currentData().toString() : first;
        c->clear();
        c->addItem(any, QString());
        QStringList sorted(values.begin(), values.end());
        sorted.sort(Qt::CaseInsensitive);
        for (const QString& v : sorted)
            if (!v.isEmpty())
                c->addItem(v, v);
        c->setCurrentIndex(std::max(0, c->findData(kept)));
    };
    QSet<QString> characters, kinds, joints, causes;
    for (const Defect& d : log_->defects()) {
        characters.insert(d.build.character);
        kinds.insert(d.facts.kind);
        joints.insert(d.facts.joint);
        if (const QString cause = d.facts.cause.section(QLatin1Char(':'), 0, 0);
            causeCalled(cause.toStdString())) // what Intake found has its advice there
            causes.insert(cause);
    }
    fill(character_, tr("every character"), characters, log_->character());
    fill(kind_, tr("every kind"), kinds, {});
    fill(joint_, tr("every joint"), joints, {});
    fill(cause_, tr("every cause"), causes, {});
}

TrendQuery TrendView::query() const {
    TrendQuery out;
    out.over = weeks_->isChecked() ? TrendQuery::Weeks : TrendQuery::Builds;
    out.character = character_->currentData().toString();
    out.kind = kind_->currentData().toString();
    out.joint = joint_->currentData().toString();
    out.cause = cause_->currentData().toString();
    return out;
}

QString TrendView::title() const {
    const TrendQuery q = query();
    QString out = q.character.isEmpty() ? tr("Open defects") : tr("Open defects of %1").arg(q.character);
    for (const QString& narrowed : {q.kind, q.joint, q.cause})
        if (!narrowed.isEmpty())
            out += QStringLiteral(", ") + narrowed;
    return out;
}

void TrendView::ask() {
    if (!log_->link().canRead()) {
        trend_ = {};
        return draw();
    }
    log_->link().tell([query = query()](ProductionLog& log) { return trendOf(log, query); },
                      [this, asked = ++asked_](const Result<Trend>& trend) {
                          if (asked != asked_)
                              return;
                          if (!trend)
                              return emit failed(QString::fromStdString(trend.error()));
                          trend_ = *trend;
                          draw();
                      });
}

void TrendView::restyle() { draw(); }

void TrendView::draw() {
    const Theme& t = Theme::current();
    QChart* chart = chart_->chart();
    chart->removeAllSeries();
    for (QAbstractAxis* axis : chart->axes())
        chart->removeAxis(axis), axis->deleteLater();
    chart->setBackgroundBrush(t.paper);
    chart->setBackgroundRoundness(0);
    chart->setMargins(QMargins(4, 4, 4, 4));
    chart_->setBackgroundBrush(t.paper);
    chart->legend()->setAlignment(Qt::AlignTop);
    chart->legend()->setFont(typeface(0.88));
    chart->legend()->setLabelColor(t.ink);
    const bool any = !trend_.points.isEmpty();
    chart_->setVisible(any);
    table_->setVisible(any);
    // as many points as can be read; what lies before is in the table
    const qsizetype most = std::max<qsizetype>(4, chart_->width() / px(44)),
                    from = std::max<qsizetype>(0, trend_.points.size() - most);
    auto* series = new QStackedBarSeries;
    series->setBarWidth(0.7);
    // one hue that deepens with the severity; blocking has the colour it has everywhere
    const QColor inks[] = {t.stripBody, t.stripMild, t.stripGrave, t.blocking};
    int highest = 1;
    QStringList labels;
    for (int s = 1; s <= 4; ++s) {
        auto* set = new QBarSet(severityWord(s));
        set->setColor(inks[s - 1]);
        set->setBorderColor(t.paper);
        for (qsizetype i = from; i < trend_.points.size(); ++i)
            *set << trend_.points[i].open[static_cast<std::size_t>(s)];
        series->append(set);
    }
    for (qsizetype i = from; i < trend_.points.size(); ++i) {
        labels << trend_.points[i].label;
        highest = std::max(highest, trend_.points[i].openAll());
    }
    labels.removeDuplicates();
    if (labels.size() != trend_.points.size() - from) { // a day of another year has the same name
        labels.clear();
        for (qsizetype i = from; i < trend_.points.size(); ++i)
            labels << trend_.points[i].from.toString(Qt::ISODate);
    }
    chart->addSeries(series);
    auto* x = new QBarCategoryAxis;
    x->append(labels);
    auto* y = new QValueAxis;
    y->setRange(0, highest);
    y->setLabelFormat(QStringLiteral("%d"));
    y->setTickCount(std::min(5, highest + 1));
    y->applyNiceNumbers();
    y->setTitleText(tr("open"));
    y->setTitleFont(typeface(0.9));
    y->setTitleBrush(t.muted);
    for (QAbstractAxis* axis : {static_cast<QAbstractAxis*>(x), static_cast<QAbstractAxis*>(y)}) {
        axis->setLabelsColor(t.ink);
        axis->setLabelsFont(typeface(0.85));
        axis->setLinePenColor(t.hairline);
        axis->setGridLineColor(t.hairline);
    }
    x->setGridLineVisible(false);
    chart->addAxis(x, Qt::AlignBottom);
    chart->addAxis(y, Qt::AlignLeft);
    series->attachAxis(x);
    series->attachAxis(y);

    table_->setHorizontalHeaderLabels({weeks_->isChecked() ? tr("week of") : tr("build"), tr("blocking"),
                                       tr("serious"), tr("notable"), tr("minor"), tr("found"), tr("cured"),
                                       tr("came back"), tr("one side"), tr("settled"), tr("days to cure")});
    table_->setRowCount(static_cast<int>(trend_.points.size()));
    for (int row = 0; row < table_->rowCount(); ++row) {
        const TrendPoint& p = trend_.points[trend_.points.size() - 1 - row];
        const auto put = [&](int column, const QString& text, bool strong = false) {
            auto* item = new QTableWidgetItem(text);
            item->setTextAlignment(column ? Qt::AlignRight | Qt::AlignVCenter
                                          : Qt::AlignLeft | Qt::AlignVCenter);
            item->setForeground(text == QLatin1String("0") ? t.muted : t.ink);
            item->setFont(typeface(0.95, strong));
            table_->setItem(row, column, item);
        };
        put(When, p.label);
        for (int s = 1; s <= 4; ++s)
            put(Open1 - s + 1, QString::number(p.open[static_cast<std::size_t>(s)]));
        put(Found, QString::number(p.found.size()));
        put(Cured, QString::number(p.cured.size()));
        put(CameBack, QString::number(p.cameBack.size()), !p.cameBack.isEmpty());
        put(OneSided, QString::number(p.oneSided.size()), !p.oneSided.isEmpty());
        put(Settled, QString::number(p.settled.size()));
        put(Days,
            p.daysToCure < 0 ? QString() : QLocale().toString(p.daysToCure, 'f', p.daysToCure < 10 ? 1 : 0));
    }
    if (!any)
        return words_->setText(tr("Nothing was logged of that yet."));
    const TrendPoint& last = trend_.points.back();
    const TrendPoint* before = trend_.points.size() > 1 ? &trend_.points[trend_.points.size() - 2] : nullptr;
    QString said = last.openAll() == 1 ? tr("One defect is open")
                                       : tr("%n defects are open", nullptr, int(last.openAll()));
    if (before && before->openAll() != last.openAll())
        said += (weeks_->isChecked() ? tr(", %1 the week before") : tr(", %1 a build before"))
                    .arg(before->openAll());
    qsizetype back = 0;
    for (const TrendPoint& p : trend_.points)
        back += p.cameBack.size();
    if (back)
        said += back == 1 ? tr("; one came back in all that time")
                          : tr("; %n came back in all that time", nullptr, int(back));
    words_->setText(said + QLatin1Char('.'));
    chart_->setAccessibleName(words_->text());
}

void TrendView::save() {
    const QString path = QFileDialog::getSaveFileName(this, tr("Save the trend"), {},
                                                      tr("Table (*.csv);;One page to print (*.pdf)"));
    if (path.isEmpty())
        return;
    const bool page = path.endsWith(QLatin1String(".pdf"), Qt::CaseInsensitive);
    const auto written = page ? writeTrendPdf({title(), words_->text(), query(), trend_}, path)
                              : writeFile(path.toStdString(), trendToCsv(trend_).toStdString());
    if (!written)
        emit failed(QString::fromStdString(written.error()));
}

} // namespace hobble
