#include "app/log/author_bar.h"

#include <QHBoxLayout>
#include <QLabel>
#include <QLineEdit>
#include <QPushButton>

namespace hobble {

AuthorBar::AuthorBar(LogDesk* log, QWidget* parent) : QWidget(parent), log_(log) {
    auto* row = new QHBoxLayout(this);
    row->setContentsMargins(20, 4, 12, 4);
    words_ = new QLabel;
    name_ = new QLineEdit;
    name_->setObjectName(QStringLiteral("authorName"));
    name_->setAccessibleName(tr("Your name"));
    name_->setPlaceholderText(tr("your name"));
    auto* sign = new QPushButton(tr("Sign with it"));
    sign->setObjectName(QStringLiteral("authorSign"));
    auto* as = new QPushButton(tr("Leave it"));
    row->addWidget(words_);
    row->addWidget(name_, 1);
    row->addWidget(sign);
    row->addWidget(as);
    connect(name_, &QLineEdit::returnPressed, this, &AuthorBar::take);
    connect(sign, &QPushButton::clicked, this, &AuthorBar::take);
    connect(as, &QPushButton::clicked, this, &QWidget::hide);
    connect(log_, &LogDesk::authorWanted, this, &AuthorBar::ask);
    hide();
}

void AuthorBar::ask() {
    words_->setText(tr("What you change in the log is signed “%1”.").arg(log_->author()));
    show(); // does not take the keyboard from what is being done
}

void AuthorBar::take() {
    if (name_->text().trimmed().isEmpty())
        return name_->setFocus();
    log_->setAuthor(name_->text());
    hide();
}

} // namespace hobble
