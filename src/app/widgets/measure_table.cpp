#include "app/widgets/measure_table.h"

#include "app/theme.h"
#include "app/widgets/parts.h"
#include "app/words.h"
#include "core/judge/measure_unit.h"
#include "core/words/finding_words.h"
#include "core/words/measure_words.h"
#include "core/words/motion_words.h"

#include <QHeaderView>
#include <QVBoxLayout>

#include <algorithm>

namespace hobble {

namespace {

Colouring colouringOf(Kind kind) {
    switch (kind) {
    case Kind::VolumeLoss:
    case Kind::Bulge:
        return Colouring::Volume;
    case Kind::Spike:
        return Colouring::Roughness;
    case Kind::Stretch:
    case Kind::Squash:
        return Colouring::Strain;
    default:
        for (int c = 0; c < kColourings; ++c)
            if (kindOf(static_cast<Colouring>(c)) == kind)
                return static_cast<Colouring>(c);
        return Colouring::Strain;
    }
}

} // namespace

MeasureTable::MeasureTable(QWidget* parent) : QWidget(parent) {
    auto* all = new QVBoxLayout(this);
    all->setContentsMargins(0, 0, 0, 0);
    all->setSpacing(6);
    title_ = wrapped(QStringLiteral("compareJoint"));
    setType(title_, 1.15, true);
    all->addWidget(title_);
    none_ = wrapped();
    none_->setProperty("quiet", true);
    all->addWidget(none_);
    table_ = new QTableWidget;
    table_->setObjectName(QStringLiteral("compareTable"));
    table_->setAccessibleName(tr("Measures on both sides"));
    table_->setColumnCount(4);
    table_->verticalHeader()->hide();
    table_->setShowGrid(false);
    table_->setEditTriggers(QAbstractItemView::NoEditTriggers);
    table_->setSelectionBehavior(QAbstractItemView::SelectRows);
    table_->setSelectionMode(QAbstractItemView::SingleSelection);
    table_->setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
    table_->setFrameShape(QFrame::NoFrame);
    table_->setWordWrap(false);
    table_->horizontalHeader()->setDefaultAlignment(Qt::AlignRight | Qt::AlignVCenter);
    table_->horizontalHeader()->setSectionResizeMode(0, QHeaderView::Stretch);
    for (int c = 1; c < 4; ++c)
        table_->horizontalHeader()->setSectionResizeMode(c, QHeaderView::ResizeToContents);
    table_->horizontalHeader()->setHighlightSections(false);
    all->addWidget(table_, 1);
    auto* below = new QHBoxLayout;
    more_ = wordButton(below, {}, QStringLiteral("moreMeasures"));
    setType(more_, 0.92);
    more_->hide();
    below->addStretch(1);
    all->addLayout(below);
    connect(more_, &QPushButton::clicked, this, [this] {
        all_ = !all_;
        fitHeight();
    });
    connect(table_, &QTableWidget::cellClicked, this, [this](int row, int) {
        if (row >= 0 && row < static_cast<int>(kinds_.size()))
            emit colouringWanted(colouringOf(kinds_[static_cast<std::size_t>(row)]));
    });
    show(std::nullopt);
}

void MeasureTable::setMostRows(int most) {
    mostRows_ = most;
    table_->setVerticalScrollBarPolicy(most > 0 ? Qt::ScrollBarAlwaysOff : Qt::ScrollBarAsNeeded);
    table_->verticalHeader()->setMinimumSectionSize(10);
}

void MeasureTable::fitHeight() {
    const int rows = table_->rowCount(), shown = all_ ? rows : std::min(rows, mostRows_);
    int height = table_->horizontalHeader()->sizeHint().height() + 3;
    for (int r = 0; r < shown; ++r)
        height += table_->rowHeight(r);
    table_->setFixedHeight(height);
    more_->setVisible(rows > mostRows_);
    more_->setText(all_                    ? tr("fold the others")
                   : rows - mostRows_ == 1 ? tr("1 more measure")
                                           : tr("%n more measures", nullptr, int(rows - mostRows_)));
}

void MeasureTable::fitWidth() {
    int named = 0, values = 0;
    for (int r = 0; r < table_->rowCount(); ++r)
        if (const QTableWidgetItem* name = table_->item(r, 0))
            named = std::max(named, QFontMetrics(name->font()).horizontalAdvance(name->text()));
    const auto wanted = [this](int column) {
        return std::max(table_->horizontalHeader()->sectionSizeHint(column),
                        static_cast<QAbstractItemView*>(table_)->sizeHintForColumn(column));
    };
    for (int c = 1; c < 4; ++c)
        values += wanted(c);
    const bool narrow = width() - values < 0.75 * named;
    if (table_->isColumnHidden(3) != narrow)
        table_->setColumnHidden(3, narrow);
}

void MeasureTable::resizeEvent(QResizeEvent* e) {
    QWidget::resizeEvent(e);
    fitWidth();
}

QString MeasureTable::title() const { return title_->text(); }

void MeasureTable::show(const std::optional<ComparedPose>& pose) {
    const bool any = pose && pose->motion[1] >= 0 && pose->joint[1] >= 0;
    table_->setVisible(any);
    title_->setVisible(any);
    none_->setVisible(false);
    more_->hide();
    kinds_.clear();
    if (!any)
        return;
    const ComparedSides& sides = pose->sides;
    const Subject& s = *sides[1].subject;
    const int joint = pose->joint[1];
    const Motion& motion = sides[1].run->plan.motions[static_cast<std::size_t>(pose->motion[1])];
    QString title = QString::fromStdString(jointWords(s, joint));
    title[0] = title[0].toUpper();
    title_->setText(tr("%1, %2 at %3")
                        .arg(title, QString::fromStdString(motionName(motion.name)),
                             QString::fromStdString(wordsFor(motion, pose->at))));
    const int was = pose->motion[0], other = pose->joint[0];
    struct Line {
        Kind kind;
        std::optional<double> before, now;
        double limit, worst;
        Change verdict;
        double change;
    };
    std::vector<Line> lines;
    const Limits& limits = sides[1].run->limits;
    const Role role = s.roles[static_cast<std::size_t>(joint)].role;
    for (Kind kind : kKinds) {
        if (kind == Kind::Bulge || kind == Kind::Spike) // the same measures, other limits
            continue;
        Line line{kind, {}, {}, limits.of(kind, role)[0], 0, Change::Same, 0};
        line.now = valueOn(lineOf(sides[1], pose->motion[1], joint, kind, limits), pose->at);
        if (was >= 0 && other >= 0)
            line.before = valueOn(lineOf(sides[0], was, other, kind, limits), pose->at);
        if (!line.now && !line.before)
            continue;
        double trouble[2]{};
        for (const auto& [value, into] :
             {std::pair(line.before, &trouble[0]), std::pair(line.now, &trouble[1])})
            if (value) {
                *into = troubleOf(kind, *value, limits.of(kind, role));
                line.worst = std::max(line.worst, *into);
            }
        if (line.now && line.before) {
            line.change = trouble[1] - trouble[0];
            if (line.worst >= kNearLimit && std::abs(line.change) >= bandOf(kind, line.worst))
                line.verdict = line.change > 0 ? Change::Worse : Change::Better;
        }
        lines.push_back(line);
    }
    std::stable_sort(lines.begin(), lines.end(), [](const Line& a, const Line& b) {
        const bool x = a.verdict != Change::Same, y = b.verdict != Change::Same;
        return x != y ? x : x ? std::abs(a.change) > std::abs(b.change) : a.worst > b.worst;
    });
    if (lines.empty()) {
        none_->setText(tr("Nothing was measured at this joint in this motion."));
        none_->setVisible(true);
        table_->setVisible(false);
        return;
    }
    const Theme& t = Theme::current();
    const auto brief = [](const QString& name) {
        return name.size() > 13 ? name.left(12) + QChar(0x2026) : name;
    };
    table_->setHorizontalHeaderLabels(
        {tr("measure"), brief(pose->names[0]), brief(pose->names[1]), tr("limit")});
    table_->horizontalHeaderItem(0)->setTextAlignment(Qt::AlignLeft | Qt::AlignVCenter);
    table_->setRowCount(static_cast<int>(lines.size()));
    for (int r = 0; r < static_cast<int>(lines.size()); ++r) {
        const Line& line = lines[static_cast<std::size_t>(r)];
        kinds_.push_back(line.kind);
        const MeasureUnit unit = unitOf(line.kind, s, joint);
        const auto words = [&](const std::optional<double>& v) {
            return v         ? QString::fromStdString(wordsFor(unit, *v))
                   : was < 0 ? tr("not run")
                             : tr("not defined");
        };
        const auto put = [&](int column, const QString& text, bool strong, const QColor& ink) {
            auto* item = new QTableWidgetItem(text);
            item->setTextAlignment(column ? Qt::AlignRight | Qt::AlignVCenter
                                          : Qt::AlignLeft | Qt::AlignVCenter);
            item->setFont(typeface(column == 3 ? 0.92 : 1, strong));
            item->setForeground(ink);
            table_->setItem(r, column, item);
        };
        const bool changed = line.verdict != Change::Same;
        const QColor ink = line.verdict == Change::Worse    ? t.worse.darker(t.night ? 80 : 130)
                           : line.verdict == Change::Better ? t.better.darker(t.night ? 80 : 140)
                                                            : t.ink;
        put(0, inWords(measureOf(line.kind)), changed, t.ink);
        table_->item(r, 0)->setToolTip(tr("%1, limit %2").arg(table_->item(r, 0)->text(), words(line.limit)));
        put(1, words(line.before), false, t.muted);
        put(2, words(line.now), changed, ink);
        put(3, words(line.limit), false, t.muted);
        const QString way = line.verdict == Change::Worse    ? tr("worse")
                            : line.verdict == Change::Better ? tr("better")
                                                             : tr("the same");
        table_->item(r, 2)->setToolTip(way);
        table_->item(r, 2)->setData(Qt::AccessibleTextRole, tr("%1, %2").arg(words(line.now), way));
    }
    if (mostRows_ > 0) {
        for (int r = 0; r < table_->rowCount(); ++r)
            table_->setRowHeight(r, px(25));
        fitHeight();
    } else {
        table_->resizeRowsToContents();
    }
    fitWidth();
}

} // namespace hobble
