#include "app/log/roster_dialog.h"

#include <QHBoxLayout>
#include <QLabel>
#include <QLineEdit>
#include <QListWidget>
#include <QPushButton>
#include <QVBoxLayout>

namespace hobble {

RosterDialog::RosterDialog(Session* session, QWidget* parent) : QDialog(parent), session_(session) {
    setWindowTitle(tr("Roster"));
    resize(360, 380);
    auto* all = new QVBoxLayout(this);
    auto* hint = new QLabel(tr("Defects can be given to these people. Press Enter on a name to change it."));
    hint->setWordWrap(true);
    hint->setProperty("quiet", true);
    all->addWidget(hint);
    list_ = new QListWidget;
    list_->setObjectName(QStringLiteral("rosterList"));
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
        session_->addPerson(name_->text());
        name_->clear();
        name_->setFocus();
    };
    connect(add, &QPushButton::clicked, this, addNow);
    connect(name_, &QLineEdit::returnPressed, this, addNow);
    connect(remove, &QPushButton::clicked, this, [this] {
        if (const auto* item = list_->currentItem())
            session_->removePerson(item->data(Qt::UserRole).toLongLong());
    });
    connect(close, &QPushButton::clicked, this, &QDialog::accept);
    connect(list_, &QListWidget::itemActivated, list_, [this](QListWidgetItem* i) { list_->editItem(i); });
    connect(list_, &QListWidget::itemChanged, this, [this](QListWidgetItem* i) {
        const qint64 id = i->data(Qt::UserRole).toLongLong();
        const QString name = i->text();
        // after the editor has closed, for the list is filled anew by the change
        QMetaObject::invokeMethod(
            this, [=, this] { session_->renamePerson(id, name); }, Qt::QueuedConnection);
    });
    connect(session, &Session::logChanged, this, &RosterDialog::refresh);
    refresh();
    name_->setFocus();
}

void RosterDialog::refresh() {
    const QSignalBlocker quiet(list_);
    list_->clear();
    for (const Person& p : session_->people())
        if (p.active) {
            auto* item = new QListWidgetItem(p.name, list_);
            item->setData(Qt::UserRole, p.id);
            item->setFlags(item->flags() | Qt::ItemIsEditable);
        }
}

} // namespace hobble
