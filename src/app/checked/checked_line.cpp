#include "app/checked/checked_line.h"

#include "app/widgets/parts.h"

#include <QHBoxLayout>

namespace hobble {

CheckedLine::CheckedLine(CompareDesk* compare, QWidget* parent) : QWidget(parent), compare_(compare) {
    auto* row = new QHBoxLayout(this);
    row->setContentsMargins(0, 0, 0, 0);
    row->setSpacing(6);
    words_ = wrapped(QStringLiteral("checkedWords"));
    QSizePolicy narrow(QSizePolicy::Ignored, QSizePolicy::Preferred); // as narrow as where it stands
    narrow.setHeightForWidth(true);
    words_->setSizePolicy(narrow);
    row->addWidget(words_, 1);
    go_ = wordButton(row, tr("look"), QStringLiteral("checkedGo"), tr("To both builds, side by side"));
    row->setAlignment(go_, Qt::AlignTop);
    connect(go_, &QPushButton::clicked, this, [this] { emit wanted(std::max<qint64>(0, defect_)); });
    connect(compare, &CompareDesk::checksChanged, this, &CheckedLine::refresh);
    refresh();
}

void CheckedLine::setDefect(qint64 defect) {
    defect_ = defect;
    refresh();
}

void CheckedLine::refresh() {
    const DefectChecks* checks = compare_->checks();
    const DefectCheck* one = defect_ > 0 ? compare_->check(defect_) : nullptr;
    const bool any = defect_ >= 0 ? one != nullptr : checks && !checks->checks.isEmpty();
    setVisible(any);
    if (any)
        words_->setText(one ? tr("On the open build: %1.").arg(one->sentence) : checks->sentence());
}

} // namespace hobble
