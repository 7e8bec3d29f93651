#include "app/widgets/reason_dialog.h"
#include "app/words.h"

#include <QComboBox>
#include <QHBoxLayout>
#include <QLabel>
#include <QLineEdit>
#include <QPushButton>
#include <QVBoxLayout>

namespace hobble {

ReasonDialog::ReasonDialog(const QString& title, const QString& about, const QVector<DefectState>& ways,
                           QWidget* parent)
    : QDialog(parent) {
    setObjectName(QStringLiteral("settle"));
    setWindowTitle(title);
    resize(440, 160);
    auto* all = new QVBoxLayout(this);
    auto* what = new QLabel(about);
    what->setWordWrap(true);
    all->addWidget(what);
    way_ = new QComboBox;
    way_->setObjectName(QStringLiteral("settleWay"));
    way_->setAccessibleName(tr("What it becomes"));
    for (DefectState s : ways)
        way_->addItem(inWords(nameOf(s)), static_cast<int>(s));
    way_->setVisible(ways.size() > 1);
    all->addWidget(way_);
    reason_ = new QLineEdit;
    reason_->setObjectName(QStringLiteral("settleReason"));
    const auto ask = [this] {
        static const QString why[] = {tr("Why it is logged again"),
                                      tr("Why it is given again"),
                                      tr("What is still wrong"),
                                      QString(),
                                      QString(),
                                      tr("Why it is meant to look like that"),
                                      tr("Whose fault it is, and how one sees it"),
                                      tr("Why it may stay as it is"),
                                      tr("How one sees that it is the same"),
                                      QString()};
        reason_->setPlaceholderText(why[way_->currentData().toInt()]);
        reason_->setAccessibleName(reason_->placeholderText());
    };
    connect(way_, &QComboBox::currentIndexChanged, this, ask);
    ask();
    all->addWidget(reason_);
    auto* foot = new QHBoxLayout;
    auto* no = new QPushButton(tr("Leave it as it is"));
    auto* yes = new QPushButton(title);
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
        emit settled(static_cast<DefectState>(way_->currentData().toInt()), reason_->text().trimmed());
        accept();
    });
    reason_->setFocus();
}

} // namespace hobble
