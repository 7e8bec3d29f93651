#include "app/log/show_view.h"

#include "app/theme.h"
#include "app/widgets/parts.h"
#include "io/file_write.h"
#include "story/show_page.h"

#include <QFileDialog>
#include <QFileInfo>
#include <QHeaderView>
#include <QLineEdit>
#include <QPainter>
#include <QPointer>
#include <QStyledItemDelegate>
#include <QTableWidget>
#include <QVBoxLayout>

#include <algorithm>
#include <cmath>

namespace hobble {

namespace {

enum {
    ShowName,
    ShowSigned,
    ShowFour,
    ShowThree,
    ShowTwo,
    ShowOne,
    ShowToCheck,
    ShowMoved,
    ShowWeeks,
    ShowColumns
};
constexpr int kRow = 62, kShotWidth = 76;

// What was open at the end of each week, as standing bars; this week's is the last.
class WeeksDelegate : public QStyledItemDelegate {
public:
    using QStyledItemDelegate::QStyledItemDelegate;
    void paint(QPainter* p, const QStyleOptionViewItem& option, const QModelIndex& index) const override {
        QStyleOptionViewItem o = option;
        initStyleOption(&o, index);
        o.text.clear();
        o.widget->style()->drawControl(QStyle::CE_ItemViewItem, &o, p, o.widget);
        const QVariantList weeks = index.data(Qt::UserRole).toList();
        int most = 0;
        for (const QVariant& n : weeks)
            most = std::max(most, n.toInt());
        if (most == 0)
            return;
        const QRectF room = QRectF(o.rect).adjusted(8, 14, -8, -14);
        const double step = room.width() / static_cast<double>(weeks.size());
        for (qsizetype w = 0; w < weeks.size(); ++w) {
            const double high = std::max(1.0, room.height() * weeks[w].toInt() / most);
            p->fillRect(QRectF(room.left() + static_cast<double>(w) * step, room.bottom() - high,
                               std::max(1.0, step - 2), high),
                        w + 1 == weeks.size() ? Theme::current().accent : Theme::current().limitLine);
        }
    }
};

} // namespace

ShowView::ShowView(LogDesk* log, QWidget* parent) : QWidget(parent), log_(log) {
    auto* all = new QVBoxLayout(this);
    all->setContentsMargins(0, 0, 0, 0);
    auto* head = new QHBoxLayout;
    words_ = wrapped(QStringLiteral("showSentence"));
    head->addWidget(words_, 1);
    find_ = new QLineEdit;
    find_->setObjectName(QStringLiteral("showFind"));
    find_->setPlaceholderText(tr("find by words"));
    find_->setAccessibleName(tr("Only characters with these words"));
    find_->setClearButtonEnabled(true);
    find_->setMaximumWidth(px(200));
    connect(find_, &QLineEdit::textChanged, this, &ShowView::find);
    head->addWidget(find_);
    auto* page = wordButton(head, tr("Save the page…"), QStringLiteral("saveShowPage"),
                            tr("One page with everything in it: to hang on a wall, to send, to print"));
    connect(page, &QPushButton::clicked, this, &ShowView::save);
    all->addLayout(head);
    table_ = tableOfLines(QStringLiteral("showTable"), tr("Every character of the show"),
                          {tr("Character"), tr("Signed off"), tr("4"), tr("3"), tr("2"), tr("1"),
                           tr("to check"), tr("moved"), tr("open, by week")},
                          ShowName, ShowFour, ShowMoved);
    table_->horizontalHeader()->setSectionResizeMode(ShowWeeks, QHeaderView::Fixed);
    table_->setItemDelegateForColumn(ShowWeeks, new WeeksDelegate(table_));
    all->addWidget(table_, 1);
    const auto choose = [this](int row) {
        emit characterChosen(table_->item(row, ShowName)->data(Qt::UserRole).toString());
    };
    connect(table_, &QTableWidget::cellActivated, this, choose);
    connect(table_, &QTableWidget::cellClicked, this, choose);
    connect(log_, &LogDesk::logChanged, this, [this] {
        if (isVisible())
            ask();
    });
}

void ShowView::showEvent(QShowEvent* e) {
    QWidget::showEvent(e);
    ask();
}

// At large text the numbers stay, and what is only a picture of them goes.
void ShowView::resizeEvent(QResizeEvent* e) {
    QWidget::resizeEvent(e);
    table_->setColumnHidden(ShowWeeks, width() < px(720));
    table_->setColumnHidden(ShowToCheck, width() < px(600));
    table_->setColumnHidden(ShowMoved, width() < px(560));
    table_->setColumnWidth(ShowWeeks, px(130));
}

void ShowView::ask() {
    if (!log_->link().canRead()) {
        state_ = {};
        return fill();
    }
    log_->link().tell([](ProductionLog& log) { return showState(log, QDateTime::currentDateTime()); },
                      [view = QPointer(this)](const Result<ShowState>& state) {
                          if (!view)
                              return;
                          if (state)
                              view->state_ = *state;
                          else
                              view->words_->setText(QString::fromStdString(state.error()));
                          if (state)
                              view->fill();
                      });
}

void ShowView::fill() {
    words_->setText(state_.characters.isEmpty()
                        ? tr("No character has come into this log yet.")
                        : tr("%1. Enter on a line shows what is open of it.").arg(showSentence(state_)));
    table_->setRowCount(static_cast<int>(state_.characters.size()));
    table_->setIconSize(QSize(px(kShotWidth), px(kRow - 8)));
    for (int r = 0; r < table_->rowCount(); ++r) {
        const CharacterState& c = state_.characters[r];
        table_->setRowHeight(r, px(kRow));
        const auto cell = [&](int column, const QString& words, bool number) {
            auto* item = new QTableWidgetItem(words);
            if (number)
                item->setTextAlignment(Qt::AlignRight | Qt::AlignVCenter);
            table_->setItem(r, column, item);
            return item;
        };
        const auto count = [](int n) { return n ? QString::number(n) : QString(); };
        QString name = c.character;
        name.replace(QLatin1Char('-'), QLatin1Char(' '));
        auto* who =
            cell(ShowName,
                 tr("%1\nbuild %2%3").arg(name).arg(c.build.number).arg(c.run ? QString() : tr(", not run")),
                 false);
        who->setData(Qt::UserRole, c.character);
        who->setToolTip(c.worst ? tr("%1. %2").arg(c.worst).arg(c.worstWhat) : tr("Nothing is open"));
        QPixmap shot(px(kShotWidth), px(kRow - 8));
        shot.fill(Theme::current().viewport);
        if (const QImage picture = QImage::fromData(c.picture); !picture.isNull()) {
            const QImage whole =
                picture.scaled(shot.size(), Qt::KeepAspectRatioByExpanding, Qt::SmoothTransformation);
            QPainter(&shot).drawImage(
                QPoint((shot.width() - whole.width()) / 2, (shot.height() - whole.height()) / 2), whole);
        }
        who->setIcon(QIcon(shot));
        cell(ShowSigned,
             c.signedOff      ? tr("%1\nby %2").arg(c.signedOff->state.use, c.signedOff->author)
             : c.signedBefore ? tr("no; build %1 is").arg(c.signedBefore)
                              : tr("no"),
             false);
        for (int s = 1; s <= 4; ++s)
            cell(ShowFour + 4 - s, count(c.open[static_cast<std::size_t>(s)]), true);
        cell(ShowToCheck, count(c.toBeChecked), true);
        cell(ShowMoved, c.run ? tr("%1 %").arg(std::floor(100 * c.run->coverage), 0, 'f', 0) : QString(),
             true);
        auto* weeks = cell(ShowWeeks, {}, false);
        QVariantList points;
        QStringList said;
        for (int n : c.openByWeek) {
            points << n;
            said << QString::number(n);
        }
        weeks->setData(Qt::UserRole, points);
        weeks->setData(Qt::AccessibleTextRole, tr("open by week: %1").arg(said.join(QStringLiteral(", "))));
        weeks->setToolTip(
            tr("Open at the end of each of the last weeks: %1").arg(said.join(QStringLiteral(", "))));
    }
    find();
}

void ShowView::find() {
    const QStringList wanted = find_->text().split(QLatin1Char(' '), Qt::SkipEmptyParts);
    for (int r = 0; r < table_->rowCount(); ++r) {
        const QTableWidgetItem *name = table_->item(r, ShowName), *signedOff = table_->item(r, ShowSigned);
        const QString words =
            name->text() + QLatin1Char(' ') + name->toolTip() + QLatin1Char(' ') + signedOff->text();
        table_->setRowHidden(r, !std::all_of(wanted.begin(), wanted.end(), [&](const QString& word) {
                                 return words.contains(word, Qt::CaseInsensitive);
                             }));
    }
}

void ShowView::save() {
    const QString path = QFileDialog::getSaveFileName(this, tr("Save the show's page"),
                                                      QStringLiteral("show.html"), tr("Page (*.html)"));
    if (path.isEmpty())
        return;
    log_->work(tr("Writing the show's page"),
               [state = state_, title = QFileInfo(log_->place()).completeBaseName(),
                path](JobControl&) -> Result<QString> {
                   const QByteArray page = showPage(state, title, QDateTime::currentDateTime());
                   if (const auto written = writeFile(path.toStdString(), page.toStdString()); !written)
                       return Error{written.error()};
                   return tr("The page is in %1.").arg(path);
               });
}

} // namespace hobble
