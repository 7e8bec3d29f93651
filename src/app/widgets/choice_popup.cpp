#include "app/widgets/choice_popup.h"

#include "app/theme.h"

#include <QGuiApplication>
#include <QKeyEvent>
#include <QLabel>
#include <QLineEdit>
#include <QListWidget>
#include <QScreen>
#include <QVBoxLayout>

namespace hobble {

ChoicePopup::ChoicePopup(const QString& title, const QVector<Choice>& choices, bool free, QWidget* parent)
    : QFrame(parent, Qt::Popup), choices_(choices), free_(free) {
    setObjectName(QStringLiteral("choice"));
    setFrameShape(QFrame::Box);
    setAttribute(Qt::WA_DeleteOnClose);
    auto* all = new QVBoxLayout(this);
    all->setContentsMargins(12, 8, 12, 12);
    all->setSpacing(8);
    auto* head = new QLabel(title);
    head->setProperty("heading", true);
    all->addWidget(head);
    find_ = new QLineEdit;
    find_->setObjectName(QStringLiteral("choiceFind"));
    find_->setPlaceholderText(free ? tr("Type it, or find it") : tr("Type to find"));
    find_->setAccessibleName(title);
    all->addWidget(find_);
    list_ = new QListWidget;
    list_->setObjectName(QStringLiteral("choiceList"));
    list_->setAccessibleName(title);
    list_->setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
    list_->setTextElideMode(Qt::ElideRight);
    list_->setFocusPolicy(Qt::NoFocus);
    all->addWidget(list_, 1);
    reason_ = new QLineEdit;
    reason_->setObjectName(QStringLiteral("choiceReason"));
    reason_->hide();
    all->addWidget(reason_);
    find_->installEventFilter(this);
    connect(find_, &QLineEdit::textChanged, this, &ChoicePopup::fill);
    connect(find_, &QLineEdit::returnPressed, this, &ChoicePopup::take);
    connect(list_, &QListWidget::itemClicked, this, &ChoicePopup::take);
    connect(reason_, &QLineEdit::returnPressed, this, [this] {
        if (reason_->text().trimmed().isEmpty())
            return;
        emit chosen(value_, reason_->text().trimmed());
        close();
    });
    fill();
    resize(px(360), std::min(px(420), px(120) + static_cast<int>(choices.size()) * px(30)));
}

void ChoicePopup::openBelow(QWidget* anchor) {
    QPoint at = anchor->mapToGlobal(QPoint(0, anchor->height() + 2));
    const QRect window = anchor->window()->geometry();
    if (at.y() + height() > window.bottom()) // above it, where there is no room below
        at.setY(anchor->mapToGlobal(QPoint(0, 0)).y() - height() - 2);
    at.setX(std::clamp(at.x(), window.left(), std::max(window.left(), window.right() - width())));
    at.setY(std::max(at.y(), window.top()));
    move(at);
    show();
    find_->setFocus();
}

void ChoicePopup::fill() {
    const QString words = find_->text().trimmed();
    list_->clear();
    QVector<Choice> found; // what begins with the words comes first
    for (const bool begins : {true, false})
        for (const Choice& c : choices_)
            if (c.words.contains(words, Qt::CaseInsensitive) &&
                c.words.startsWith(words, Qt::CaseInsensitive) == begins)
                found << c;
    for (const Choice& c : std::as_const(found)) {
        auto* item =
            new QListWidgetItem(c.note.isEmpty() ? c.words : tr("%1    %2").arg(c.words, c.note), list_);
        item->setData(Qt::UserRole, c.value);
        item->setData(Qt::UserRole + 1, c.asks);
        item->setToolTip(c.note);
    }
    list_->setCurrentRow(free_ && !words.isEmpty() ? -1 : 0);
}

void ChoicePopup::take() {
    const auto* item = list_->currentItem();
    if (!item && !(free_ && !find_->text().trimmed().isEmpty()))
        return;
    value_ = item ? item->data(Qt::UserRole).toString() : find_->text().trimmed();
    const QString asks = item ? item->data(Qt::UserRole + 1).toString() : QString();
    if (asks.isEmpty()) {
        emit chosen(value_, {});
        close();
        return;
    }
    reason_->setPlaceholderText(asks);
    reason_->setAccessibleName(asks);
    reason_->show();
    reason_->setFocus();
}

bool ChoicePopup::eventFilter(QObject* watched, QEvent* event) {
    if (watched == find_ && event->type() == QEvent::KeyPress) {
        const int key = static_cast<QKeyEvent*>(event)->key();
        const int by = key == Qt::Key_Down ? 1 : key == Qt::Key_Up ? -1 : 0;
        if (by && list_->count() > 0) {
            list_->setCurrentRow(std::clamp(list_->currentRow() + by, 0, list_->count() - 1));
            return true;
        }
    }
    return QFrame::eventFilter(watched, event);
}

} // namespace hobble
