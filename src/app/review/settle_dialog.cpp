#include "app/review/settle_dialog.h"

#include <QHBoxLayout>
#include <QLabel>
#include <QLineEdit>
#include <QPushButton>
#include <QVBoxLayout>

namespace hobble {

SettleDialog::SettleDialog(const QString& finding, const QString& status, QWidget* parent) : QDialog(parent) {
    const bool accepting = status == QLatin1String("accepted");
    setObjectName(QStringLiteral("settle"));
    setWindowTitle(accepting ? tr("Accept a finding") : tr("Dismiss a finding"));
    resize(420, 150);
    auto* all = new QVBoxLayout(this);
    auto* what = new QLabel(finding);
    what->setWordWrap(true);
    all->addWidget(what);
    reason_ = new QLineEdit;
    reason_->setObjectName(QStringLiteral("settleReason"));
    reason_->setPlaceholderText(accepting ? tr("Why it may stay as it is") : tr("Why it is no fault"));
    reason_->setAccessibleName(reason_->placeholderText());
    all->addWidget(reason_);
    auto* foot = new QHBoxLayout;
    auto* no = new QPushButton(tr("Leave it open"));
    auto* yes = new QPushButton(accepting ? tr("Accept") : tr("Dismiss"));
    yes->setObjectName(QStringLiteral("settleDo"));
    yes->setProperty("strong", true);
    yes->setEnabled(false); // not without a reason
    no->setAutoDefault(false);
    foot->addWidget(no);
    foot->addStretch();
    foot->addWidget(yes);
    all->addLayout(foot);
    connect(reason_, &QLineEdit::textChanged, yes,
            [yes](const QString& text) { yes->setEnabled(!text.trimmed().isEmpty()); });
    connect(no, &QPushButton::clicked, this, &QDialog::reject);
    connect(yes, &QPushButton::clicked, this, [this] {
        emit settled(reason_->text().trimmed());
        accept();
    });
    reason_->setFocus();
}

} // namespace hobble
