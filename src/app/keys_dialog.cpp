#include "app/keys_dialog.h"

#include "app/theme.h"

#include <QHBoxLayout>
#include <QHeaderView>
#include <QKeyEvent>
#include <QLabel>
#include <QLineEdit>
#include <QMainWindow>
#include <QPushButton>
#include <QTableWidget>
#include <QVBoxLayout>

namespace hobble {

KeysDialog::KeysDialog(ActionBook* book, QWidget* parent) : QDialog(parent), book_(book) {
    setObjectName(QStringLiteral("keys"));
    setWindowTitle(tr("Keys"));
    resize(620, 620);
    auto* all = new QVBoxLayout(this);
    find_ = new QLineEdit;
    find_->setObjectName(QStringLiteral("keysFind"));
    find_->setPlaceholderText(tr("find an action or a key"));
    find_->setClearButtonEnabled(true);
    all->addWidget(find_);
    table_ = new QTableWidget(0, 3);
    table_->setObjectName(QStringLiteral("keysTable"));
    table_->setAccessibleName(tr("Actions and their keys"));
    table_->setHorizontalHeaderLabels({tr("Key"), tr("What it does"), tr("Where")});
    table_->verticalHeader()->hide();
    table_->horizontalHeader()->setSectionResizeMode(0, QHeaderView::ResizeToContents);
    table_->horizontalHeader()->setSectionResizeMode(1, QHeaderView::Stretch);
    table_->horizontalHeader()->setSectionResizeMode(2, QHeaderView::ResizeToContents);
    table_->setSelectionBehavior(QAbstractItemView::SelectRows);
    table_->setSelectionMode(QAbstractItemView::SingleSelection);
    table_->setEditTriggers(QAbstractItemView::NoEditTriggers);
    table_->setShowGrid(false);
    table_->installEventFilter(this);
    all->addWidget(table_, 1);
    told_ = new QLabel;
    told_->setObjectName(QStringLiteral("keysTold"));
    told_->setWordWrap(true);
    all->addWidget(told_);
    auto* buttons = new QHBoxLayout;
    const auto button = [&](const QString& text, const QString& name) {
        auto* b = new QPushButton(text);
        b->setObjectName(name);
        b->setAutoDefault(false);
        buttons->addWidget(b);
        return b;
    };
    auto* change = button(tr("Change this key"), QStringLiteral("keysChange"));
    auto* none = button(tr("No key for it"), QStringLiteral("keysNone"));
    auto* usual = button(tr("All keys as they came"), QStringLiteral("keysUsual"));
    buttons->addStretch();
    auto* close = button(tr("Close"), QStringLiteral("keysClose"));
    all->addLayout(buttons);
    connect(find_, &QLineEdit::textChanged, this, &KeysDialog::list);
    connect(table_, &QTableWidget::cellDoubleClicked, this, [this](int row) { startChange(row); });
    connect(change, &QPushButton::clicked, this, [this] { startChange(table_->currentRow()); });
    connect(none, &QPushButton::clicked, this, [this] {
        if (QAction* a = actionAt(table_->currentRow()))
            book_->setKey(a, {});
    });
    connect(usual, &QPushButton::clicked, book_, &ActionBook::useUsualKeys);
    connect(close, &QPushButton::clicked, this, &QDialog::accept);
    connect(book_, &ActionBook::keysChanged, this, &KeysDialog::list);
    told_->setText(tr("Enter or a double press on a line changes its key."));
    list();
}

QAction* KeysDialog::actionAt(int row) const {
    const QTableWidgetItem* item = row >= 0 ? table_->item(row, 0) : nullptr;
    return item ? book_->actions().value(item->data(Qt::UserRole).toInt()) : nullptr;
}

void KeysDialog::list() {
    const QAction* chosen = actionAt(table_->currentRow());
    const QString wanted = find_->text().trimmed();
    table_->setRowCount(0);
    int choose = 0;
    for (int i = 0; i < static_cast<int>(book_->actions().size()); ++i) {
        QAction* a = book_->actions()[i];
        const QString key = a->shortcut().toString(QKeySequence::NativeText);
        if (!wanted.isEmpty() && !a->text().contains(wanted, Qt::CaseInsensitive) &&
            key.compare(wanted, Qt::CaseInsensitive) != 0)
            continue;
        const int row = table_->rowCount();
        table_->insertRow(row);
        auto* first = new QTableWidgetItem(key);
        first->setFont(typeface(1, true));
        first->setData(Qt::UserRole, i);
        const QWidget* where = book_->placeOf(a);
        table_->setItem(row, 0, first);
        table_->setItem(row, 1, new QTableWidgetItem(a->text()));
        table_->setItem(row, 2,
                        new QTableWidgetItem(qobject_cast<const QMainWindow*>(where)
                                                 ? tr("everywhere")
                                                 : where->accessibleName()));
        if (a == chosen)
            choose = row;
    }
    if (table_->rowCount() > 0)
        table_->setCurrentCell(choose, 0);
}

void KeysDialog::startChange(int row) {
    changing_ = actionAt(row);
    if (!changing_)
        return;
    told_->setText(tr("Press the new key for “%1”; Escape leaves it as it is.").arg(changing_->text()));
    table_->setFocus();
}

void KeysDialog::take(const QKeySequence& key) {
    QAction* action = std::exchange(changing_, nullptr);
    if (const QAction* holder = book_->holderOf(key, action)) {
        told_->setText(
            tr("%1 is the key for “%2” already. Nothing was changed; give that one another key first.")
                .arg(key.toString(QKeySequence::NativeText), holder->text()));
        return;
    }
    book_->setKey(action, key);
    told_->setText(tr("“%1” is on %2 now.").arg(action->text(), key.toString(QKeySequence::NativeText)));
}

bool KeysDialog::eventFilter(QObject* watched, QEvent* event) {
    if (event->type() != QEvent::KeyPress && event->type() != QEvent::ShortcutOverride)
        return QDialog::eventFilter(watched, event);
    const auto* e = static_cast<QKeyEvent*>(event);
    const int k = e->key();
    if (!changing_) {
        if (event->type() == QEvent::KeyPress && (k == Qt::Key_Return || k == Qt::Key_Enter)) {
            startChange(table_->currentRow());
            return true;
        }
        return QDialog::eventFilter(watched, event);
    }
    if (event->type() == QEvent::ShortcutOverride) {
        event->accept(); // it comes back as a press
        return true;
    }
    if (k == Qt::Key_Control || k == Qt::Key_Shift || k == Qt::Key_Alt || k == Qt::Key_Meta)
        return true; // on the way to a combination
    if (k == Qt::Key_Escape) {
        changing_ = nullptr;
        told_->setText(tr("Left as it was."));
        return true;
    }
    // A sign that Shift makes (a question mark) is the sign itself.
    Qt::KeyboardModifiers with = e->modifiers() & (Qt::ControlModifier | Qt::AltModifier | Qt::ShiftModifier);
    if (k < 0x1000000 && !QChar(k).isLetterOrNumber() && k != Qt::Key_Space)
        with &= ~Qt::KeyboardModifiers(Qt::ShiftModifier);
    take(QKeySequence(static_cast<int>(with) | k));
    return true;
}

} // namespace hobble
