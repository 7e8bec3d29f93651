#include "app/coverage/coverage_line.h"

#include "app/theme.h"
#include "app/widgets/parts.h"
#include "core/words/finding_words.h"

#include <QHBoxLayout>
#include <QHeaderView>
#include <QLabel>
#include <QPushButton>
#include <QStyle>
#include <QTreeWidget>
#include <QVBoxLayout>

namespace hobble {

namespace {

constexpr int kJoint = Qt::UserRole;

QString shareWords(double share) {
    return share < 0.001 ? CoverageDialog::tr("under 0.1 %")
                         : CoverageDialog::tr("%L1 %").arg(100 * share, 0, 'f', 1);
}

} // namespace

CoverageLine::CoverageLine(BuildDesk* build, PlanDesk* plan, QWidget* parent)
    : QWidget(parent), build_(build), plan_(plan) {
    auto* row = new QHBoxLayout(this);
    row->setContentsMargins(0, 0, 0, 0);
    row->setSpacing(6);
    words_ = wrapped(QStringLiteral("coverageWords"));
    words_->setSizePolicy(QSizePolicy::Ignored, QSizePolicy::Preferred); // as narrow as where it stands
    row->addWidget(words_, 1);
    which_ = wordButton(row, tr("which"), QStringLiteral("coverageWhich"),
                        tr("Which joints no motion turns, why, and how to test them too"));
    row->setAlignment(which_, Qt::AlignTop);
    connect(which_, &QPushButton::clicked, this, [this] {
        auto* dialog = new CoverageDialog(build_, plan_, window());
        dialog->setAttribute(Qt::WA_DeleteOnClose);
        dialog->open();
    });
    connect(plan_, &PlanDesk::planChanged, this, &CoverageLine::refresh);
    connect(build_, &BuildDesk::characterChanged, this, &CoverageLine::refresh);
    refresh();
}

void CoverageLine::refresh() {
    setVisible(build_->subject() != nullptr);
    if (!build_->subject())
        return;
    const Coverage coverage = plan_->coverage();
    const bool enough = coverage.share >= kLeastCoverage;
    words_->setText(QString::fromStdString(wordsFor(coverage)) + QLatin1Char('.') +
                    (enough ? QString() : tr(" Too little to call anything clean.")));
    setType(words_, 1, !enough);
    words_->setProperty("quiet", enough);
    words_->style()->unpolish(words_);
    words_->style()->polish(words_);
    which_->setVisible(!coverage.untested.empty());
}

CoverageDialog::CoverageDialog(BuildDesk* build, PlanDesk* plan, QWidget* parent)
    : QDialog(parent), build_(build), plan_(plan) {
    setObjectName(QStringLiteral("coverage"));
    setWindowTitle(tr("What the plan does not move"));
    resize(px(620), px(420));
    auto* all = new QVBoxLayout(this);
    words_ = wrapped(QStringLiteral("coverageTotal"));
    setType(words_, 1.12, true);
    all->addWidget(words_);
    joints_ = new QTreeWidget;
    joints_->setObjectName(QStringLiteral("coverageJoints"));
    joints_->setAccessibleName(tr("Joints that are not tested"));
    joints_->setHeaderLabels({tr("Joint"), tr("Of the skin"), tr("Why it is not tested")});
    joints_->setRootIsDecorated(false);
    joints_->setUniformRowHeights(true);
    joints_->setSelectionMode(QAbstractItemView::ExtendedSelection);
    joints_->setFrameShape(QFrame::NoFrame);
    joints_->header()->setSectionResizeMode(QHeaderView::ResizeToContents);
    joints_->header()->setStretchLastSection(true);
    all->addWidget(joints_, 1);
    auto* foot = new QHBoxLayout;
    auto* close = new QPushButton(tr("Leave them out"));
    close->setAutoDefault(false);
    put_ = new QPushButton;
    put_->setObjectName(QStringLiteral("coveragePut"));
    put_->setProperty("strong", true);
    foot->addWidget(close);
    foot->addStretch();
    foot->addWidget(put_);
    all->addLayout(foot);
    connect(close, &QPushButton::clicked, this, &QDialog::close);
    connect(put_, &QPushButton::clicked, this, &CoverageDialog::putIn);
    connect(plan_, &PlanDesk::planChanged, this, &CoverageDialog::refresh);
    connect(build_, &BuildDesk::characterChanged, this, &QDialog::close);
    connect(joints_, &QTreeWidget::itemSelectionChanged, this, [this] {
        put_->setText(joints_->selectedItems().isEmpty() ? tr("Test them all") : tr("Test the chosen"));
    });
    refresh();
}

void CoverageDialog::refresh() {
    const auto s = build_->subject();
    joints_->clear();
    if (!s)
        return;
    const Coverage coverage = plan_->coverage();
    words_->setText(QString::fromStdString(wordsFor(coverage)) + QLatin1Char('.'));
    for (const UntestedJoint& u : coverage.untested) {
        auto* item = new QTreeWidgetItem(
            {QString::fromStdString(s->character->skeleton.name[static_cast<std::size_t>(u.joint)]),
             shareWords(u.share), QString::fromStdString(wordsFor(u.why))});
        item->setData(0, kJoint, u.joint);
        item->setTextAlignment(1, Qt::AlignRight | Qt::AlignVCenter);
        joints_->addTopLevelItem(item);
    }
    put_->setText(tr("Test them all"));
    put_->setEnabled(!coverage.untested.empty());
}

void CoverageDialog::putIn() {
    std::vector<int> joints;
    const auto chosen = joints_->selectedItems();
    if (chosen.isEmpty())
        for (int i = 0; i < joints_->topLevelItemCount(); ++i)
            joints.push_back(joints_->topLevelItem(i)->data(0, kJoint).toInt());
    for (const QTreeWidgetItem* item : chosen)
        joints.push_back(item->data(0, kJoint).toInt());
    plan_->putIn(joints);
}

} // namespace hobble
