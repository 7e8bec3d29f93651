#include "app/log/roster_dialog.h"

#include <QHBoxLayout>
#include <QHeaderView>
#include <QLabel>
#include <QLineEdit>
#include <QPushButton>
#include <QTableWidget>
#include <QVBoxLayout>

namespace hobble {

RosterDialog::RosterDialog(LogDesk* log, QWidget* parent) : QDialog(parent), log_(log) {
    setWindowTitle(tr("Roster"));
    resize(480, 400);
    auto* all = new QVBoxLayout(this);
    auto* hint = new QLabel(tr("Defects can be given to these people; messages go to their addresses. Who "
                               "leaves keeps what they did. "
                               "Press Enter on a name or an address to change it."));
    hint->setWordWrap(true);
    hint->setProperty("quiet", true);
    all->addWidget(hint);
    auto* own = new QHBoxLayout;
    own->addWidget(new QLabel(tr("You sign as")));
    own_ = new QLineEdit;
    own_->setObjectName(QStringLiteral("rosterOwnName"));
    own_->setAccessibleName(tr("The name you sign the log with"));
    own->addWidget(own_, 1);
    all->addLayout(own);
    connect(own_, &QLineEdit::editingFinished, this, [this] {
        if (own_->isModified())
            log_->setAuthor(own_->text());
    });
    list_ = new QTableWidget;
    list_->setObjectName(QStringLiteral("rosterList"));
    list_->setAccessibleName(tr("Roster"));
    list_->setColumnCount(2);
    list_->setHorizontalHeaderLabels({tr("Name"), tr("Address")});
    list_->horizontalHeader()->setSectionResizeMode(QHeaderView::Stretch);
    list_->horizontalHeader()->setHighlightSections(false);
    list_->verticalHeader()->hide();
    list_->setShowGrid(false);
    list_->setTabKeyNavigation(false);
    list_->setSelectionMode(QAbstractItemView::SingleSelection);
    list_->setEditTriggers(QAbstractItemView::DoubleClicked | QAbstractItemView::EditKeyPressed);
    all->addWidget(list_, 1);
    auto* row = new QHBoxLayout;
    name_ = new QLineEdit;
    name_->setObjectName(QStringLiteral("rosterName"));
    name_->setPlaceholderText(tr("Name of a person"));
    auto* add = new QPushButton(tr("Add"));
    add->setObjectName(QStringLiteral("rosterAdd"));
    add->setAutoDefault(false);
    row->addWidget(name_, 1);
    row->addWidget(add);
    all->addLayout(row);
    auto* foot = new QHBoxLayout;
    auto* remove = new QPushButton(tr("Take off the roster"));
    remove->setObjectName(QStringLiteral("rosterRemove"));
    remove->setAutoDefault(false);
    auto* close = new QPushButton(tr("Done"));
    close->setObjectName(QStringLiteral("rosterDone"));
    close->setAutoDefault(false);
    close->setProperty("strong", true);
    foot->addWidget(remove);
    foot->addStretch();
    foot->addWidget(close);
    all->addLayout(foot);

    auto addNow = [this] {
        if (name_->text().trimmed().isEmpty())
            return;
        log_->addPerson(name_->text());
        name_->clear();
        name_->setFocus();
    };
    connect(add, &QPushButton::clicked, this, addNow);
    connect(name_, &QLineEdit::returnPressed, this, addNow);
    connect(remove, &QPushButton::clicked, this, [this] {
        if (const auto* item = list_->currentItem())
            log_->removePerson(item->data(Qt::UserRole).toLongLong());
    });
    connect(close, &QPushButton::clicked, this, &QDialog::accept);
    connect(list_, &QTableWidget::itemActivated, list_, [this](QTableWidgetItem* i) { list_->editItem(i); });
    connect(list_, &QTableWidget::itemChanged, this, [this](QTableWidgetItem* i) {
        const qint64 id = i->data(Qt::UserRole).toLongLong();
        const QString words = i->text();
        const bool name = i->column() == 0;
        // after the editor has closed, for the list is filled anew by the change
        QMetaObject::invokeMethod(
            this, [=, this] { name ? log_->renamePerson(id, words) : log_->setPersonMail(id, words); },
            Qt::QueuedConnection);
    });
    connect(log_, &LogDesk::logChanged, this, &RosterDialog::refresh);
    refresh();
    name_->setFocus();
}

void RosterDialog::refresh() {
    const QSignalBlocker quiet(list_);
    if (!own_->hasFocus())
        own_->setText(log_->author());
    list_->setRowCount(0);
    for (const Person& p : log_->people())
        if (p.active) {
            const int row = list_->rowCount();
            list_->insertRow(row);
            for (int column = 0; column < 2; ++column) {
                auto* item = new QTableWidgetItem(column == 0 ? p.name : p.mail);
                item->setData(Qt::UserRole, p.id);
                list_->setItem(row, column, item);
            }
        }
}

} // namespace hobble
