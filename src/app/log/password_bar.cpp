#include "app/log/password_bar.h"

#include <QCheckBox>
#include <QHBoxLayout>
#include <QLabel>
#include <QLineEdit>
#include <QPushButton>

namespace hobble {

PasswordBar::PasswordBar(LogDesk* log, QWidget* parent) : QWidget(parent), log_(log) {
    auto* row = new QHBoxLayout(this);
    row->setContentsMargins(20, 4, 12, 4);
    words_ = new QLabel;
    words_->setObjectName(QStringLiteral("passwordWords"));
    words_->setWordWrap(true);
    password_ = new QLineEdit;
    password_->setObjectName(QStringLiteral("logPassword"));
    password_->setAccessibleName(tr("Password of the log's server"));
    password_->setPlaceholderText(tr("password"));
    password_->setEchoMode(QLineEdit::Password);
    password_->setMinimumWidth(160);
    keep_ = new QCheckBox(tr("keep it in the keyring"));
    keep_->setObjectName(QStringLiteral("passwordKeep"));
    keep_->setChecked(true);
    auto* open = new QPushButton(tr("Open the log"));
    open->setObjectName(QStringLiteral("passwordOpen"));
    auto* leave = new QPushButton(tr("Leave it"));
    leave->setObjectName(QStringLiteral("passwordLeave"));
    row->addWidget(words_, 1);
    row->addWidget(password_);
    row->addWidget(keep_);
    row->addWidget(open);
    row->addWidget(leave);
    connect(password_, &QLineEdit::returnPressed, this, &PasswordBar::give);
    connect(open, &QPushButton::clicked, this, &PasswordBar::give);
    connect(leave, &QPushButton::clicked, this, [this] {
        password_->clear();
        hide();
        log_->withoutPassword();
    });
    connect(log_, &LogDesk::passwordWanted, this, &PasswordBar::ask);
    connect(log_, &LogDesk::opened, this, &QWidget::hide);
    connect(log_, &LogDesk::stateChanged, this, [this] {
        if (log_->place() != asked_) // another log was chosen instead
            hide();
    });
    hide();
}

void PasswordBar::ask(bool again) {
    asked_ = log_->place();
    words_->setText(again ? tr("%1 does not take that password.").arg(log_->place())
                          : tr("%1 wants a password.").arg(log_->place()));
    password_->clear();
    show();
    password_->setFocus();
}

void PasswordBar::give() {
    if (password_->text().isEmpty())
        return password_->setFocus();
    log_->givePassword(password_->text(), keep_->isChecked());
    password_->clear(); // it stands nowhere longer than it has to
    hide();
}

} // namespace hobble
