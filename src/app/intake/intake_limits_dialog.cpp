#include "app/intake/intake_limits_dialog.h"

#include "app/theme.h"
#include "app/words.h"

#include <QDoubleSpinBox>
#include <QGridLayout>
#include <QLabel>
#include <QPushButton>
#include <QScrollArea>
#include <QVBoxLayout>

namespace hobble {

IntakeLimitsDialog::IntakeLimitsDialog(BuildDesk* build, QWidget* parent) : QDialog(parent), build_(build) {
    setObjectName(QStringLiteral("intakeLimits"));
    setWindowTitle(tr("Limits of Intake"));
    auto* column = new QVBoxLayout(this);
    auto* inside = new QWidget;
    auto* grid = new QGridLayout(inside);
    grid->setColumnStretch(0, 1);
    int row = 0;
    const auto add = [&](const QString& words, const QString& unit, double least, double most, int decimals,
                         const QString& name) {
        auto* label = new QLabel(words);
        label->setWordWrap(true);
        auto* box = new QDoubleSpinBox;
        box->setObjectName(name);
        box->setAccessibleName(words);
        box->setRange(least, most);
        box->setDecimals(decimals);
        box->setSingleStep(decimals == 0 ? 1 : std::pow(10.0, -decimals) * 5);
        box->setKeyboardTracking(false);
        auto* after = new QLabel(unit);
        after->setProperty("quiet", true);
        grid->addWidget(label, row, 0);
        grid->addWidget(box, row, 1);
        grid->addWidget(after, row++, 2);
        connect(box, &QDoubleSpinBox::valueChanged, this, &IntakeLimitsDialog::take);
        return box;
    };
    for (const IntakeLimitField& f : intakeLimitFields())
        boxes_.push_back(add(QString::fromLatin1(f.words), QString::fromLatin1(f.unit), f.least, f.most,
                             f.decimals, QString::fromLatin1(f.key)));
    for (const auto& [role, wanted] : IntakeLimits::standardLoops())
        loops_[role] = add(tr("edge loops wanted across: %1").arg(inWords(nameOf(role))), QString(), 0, 20, 1,
                           QStringLiteral("loops-%1").arg(QLatin1String(nameOf(role))));
    auto* scroll = new QScrollArea;
    scroll->setWidgetResizable(true);
    scroll->setFrameShape(QFrame::NoFrame);
    scroll->setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
    scroll->setWidget(inside);
    column->addWidget(scroll, 1);
    message_ = new QLabel;
    message_->setObjectName(QStringLiteral("intakeLimitsMessage"));
    message_->setWordWrap(true);
    column->addWidget(message_);
    auto* buttons = new QHBoxLayout;
    auto* standard = new QPushButton(tr("Standard limits"));
    standard->setObjectName(QStringLiteral("intakeLimitsStandard"));
    auto* close = new QPushButton(tr("Close"));
    connect(standard, &QPushButton::clicked, this, [this] { build_->setLimits({}); });
    connect(close, &QPushButton::clicked, this, &QDialog::accept);
    for (QPushButton* b : {standard, close})
        b->setAutoDefault(false); // Return in a box takes its number, and presses nothing
    buttons->addWidget(standard);
    buttons->addStretch();
    buttons->addWidget(close);
    column->addLayout(buttons);
    resize(px(520), px(560));
    fill(build->limits());
    connect(build_, &BuildDesk::intakeChanged, this, [this] { fill(build_->limits()); });
}

// A box that is still being typed in tells of its value when it is hidden: here, while there is somebody to
// tell.
IntakeLimitsDialog::~IntakeLimitsDialog() {
    showing_ = true;
    hide();
}

void IntakeLimitsDialog::fill(const IntakeLimits& limits) {
    showing_ = true;
    for (std::size_t i = 0; i < boxes_.size(); ++i)
        boxes_[i]->setValue(limits.*intakeLimitFields()[i].value);
    for (const auto& [role, box] : loops_) {
        const auto it = limits.loops.find(role);
        box->setValue(it == limits.loops.end() ? 0 : it->second);
    }
    showing_ = false;
    message_->setText(build_->buildSubject() ? tr("%1 things to look at with these limits, fit %2 of 100.")
                                                   .arg(build_->checks().size())
                                                   .arg(build_->score())
                                             : tr("They hold for every character."));
}

void IntakeLimitsDialog::take() {
    if (showing_)
        return;
    IntakeLimits limits = build_->limits();
    for (std::size_t i = 0; i < boxes_.size(); ++i)
        limits.*intakeLimitFields()[i].value = boxes_[i]->value();
    if (limits.leastHeight >= limits.mostHeight) {
        message_->setText(tr("The least height must be below the greatest; nothing is changed."));
        return;
    }
    for (const auto& [role, box] : loops_)
        limits.loops[role] = box->value();
    build_->setLimits(limits);
}

} // namespace hobble
