#include "app/review/mark_bar.h"

#include "app/theme.h"
#include "app/widgets/flow_layout.h"

#include <QButtonGroup>
#include <QLabel>
#include <QPushButton>
#include <QSlider>

namespace hobble {

MarkBar::MarkBar(MarkingTool* marking, QWidget* parent) : QWidget(parent), marking_(marking) {
    setObjectName(QStringLiteral("markBar"));
    auto* row = new FlowLayout(6);
    setLayout(row);
    row->setContentsMargins(10, 2, 10, 2);
    const auto word = [&](const QString& text, const QString& name, const QString& tip) {
        auto* b = new QPushButton(text);
        b->setObjectName(name);
        b->setToolTip(tip);
        setType(b, 0.92);
        row->addWidget(b);
        return b;
    };
    brush_ =
        word(tr("brush"), QStringLiteral("markBrush"), tr("Drag over the skin; with Ctrl it takes away"));
    lasso_ =
        word(tr("lasso"), QStringLiteral("markLasso"), tr("Draw round the skin; with Ctrl it takes away"));
    auto* tools = new QButtonGroup(this);
    for (QPushButton* b : {brush_, lasso_}) {
        b->setCheckable(true);
        tools->addButton(b);
    }
    size_ = new QSlider(Qt::Horizontal);
    size_->setObjectName(QStringLiteral("markSize"));
    size_->setAccessibleName(tr("Size of the brush"));
    size_->setRange(6, 90);
    size_->setValue(28);
    setTextWidth(size_, 70);
    row->addWidget(size_);
    count_ = new QLabel;
    count_->setObjectName(QStringLiteral("markCount"));
    setType(count_, 0.92);
    row->addWidget(count_);
    auto* region =
        word(tr("the joint's region"), QStringLiteral("markRegion"), tr("Marks all skin around the joint"));
    clear_ = word(tr("clear"), QStringLiteral("markClear"), tr("Nothing is marked"));
    log_ = word(tr("Log what is marked"), QStringLiteral("markLog"), tr("As a defect that no rule found"));
    log_->setProperty("strong", true);
    mend_ = word(tr("Try to mend it"), QStringLiteral("markMend"), tr("What is marked, on Mend"));
    connect(mend_, &QPushButton::clicked, this, &MarkBar::mendWanted);
    auto* done = word(tr("done"), QStringLiteral("markDone"), tr("Back to turning and pressing"));
    connect(brush_, &QPushButton::clicked, this, [this] { marking_->setTool(MarkTool::Brush); });
    connect(lasso_, &QPushButton::clicked, this, [this] { marking_->setTool(MarkTool::Lasso); });
    connect(size_, &QSlider::valueChanged, marking_, &MarkingTool::setBrush);
    connect(region, &QPushButton::clicked, marking_, &MarkingTool::markRegion);
    connect(clear_, &QPushButton::clicked, marking_, &MarkingTool::clear);
    connect(log_, &QPushButton::clicked, this, &MarkBar::logWanted);
    connect(done, &QPushButton::clicked, this, [this] { marking_->setTool(MarkTool::None); });
    connect(marking_, &MarkingTool::toolChanged, this, &MarkBar::refresh);
    connect(marking_, &MarkingTool::markedChanged, this, &MarkBar::refresh);
    refresh();
}

void MarkBar::refresh() {
    const MarkTool tool = marking_->tool();
    setVisible(tool != MarkTool::None);
    brush_->setChecked(tool == MarkTool::Brush);
    lasso_->setChecked(tool == MarkTool::Lasso);
    size_->setVisible(tool == MarkTool::Brush);
    mend_->setVisible(Theme::current().textScale < 1.55); // with large text its key does
    if (tool == MarkTool::None)
        return;
    const auto count = marking_->marked().size();
    count_->setText(count == 0   ? tr("nothing marked")
                    : count == 1 ? tr("1 triangle")
                                 : tr("%n triangles", nullptr, int(count)));
    log_->setEnabled(count > 0);
    mend_->setEnabled(count > 0);
    clear_->setEnabled(count > 0);
}

} // namespace hobble
