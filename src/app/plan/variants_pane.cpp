#include "app/plan/variants_pane.h"

#include "app/theme.h"
#include "app/widgets/flow_layout.h"

#include <QCheckBox>
#include <QComboBox>
#include <QHBoxLayout>
#include <QLabel>
#include <QLineEdit>
#include <QPushButton>
#include <QScrollArea>
#include <QSlider>
#include <QVBoxLayout>

#include <algorithm>
#include <map>

namespace hobble {

VariantsPane::VariantsPane(BuildDesk* build, RunDesk* run, QWidget* parent)
    : QWidget(parent), build_(build), run_(run) {
    auto* column = new QVBoxLayout(this);
    column->setContentsMargins(0, 0, 0, 0);
    column->setSpacing(6);
    auto* words = new QLabel(
        tr("The same plan on the same build, otherwise dressed or shaped, or with its drivers off."));
    words->setWordWrap(true);
    words->setProperty("quiet", true);
    column->addWidget(words);
    which_ = new QComboBox;
    which_->setObjectName(QStringLiteral("variantList"));
    which_->setAccessibleName(tr("Variant in use"));
    connect(which_, &QComboBox::activated, this, [this](int index) { build_->wear(index - 1); });
    column->addWidget(which_);
    auto* row = new FlowLayout(4);
    row->setContentsMargins(0, 0, 0, 0);
    name_ = new QLineEdit;
    name_->setObjectName(QStringLiteral("variantName"));
    name_->setPlaceholderText(tr("name of a new variant"));
    name_->setAccessibleName(tr("Name of a new variant"));
    name_->setMaxLength(40);
    auto* addIt = new QPushButton(tr("Add"));
    addIt->setObjectName(QStringLiteral("variantAdd"));
    connect(addIt, &QPushButton::clicked, this, &VariantsPane::add);
    connect(name_, &QLineEdit::returnPressed, this, &VariantsPane::add);
    remove_ = new QPushButton(tr("Remove"));
    remove_->setObjectName(QStringLiteral("variantRemove"));
    connect(remove_, &QPushButton::clicked, this, &VariantsPane::remove);
    row->addWidget(addIt);
    row->addWidget(remove_);
    auto* buttons = new QWidget;
    buttons->setLayout(row);
    column->addWidget(name_);
    column->addWidget(buttons);
    auto* scroll = new QScrollArea;
    scroll->setWidgetResizable(true);
    scroll->setFrameShape(QFrame::NoFrame);
    scroll->setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
    scroll->setFocusPolicy(Qt::NoFocus);
    switches_ = new QWidget;
    switches_->setLayout(new QVBoxLayout);
    scroll->setWidget(switches_);
    scroll->setMinimumHeight(120);
    column->addWidget(scroll, 2);
    test_ = new QPushButton(tr("Test every variant"));
    test_->setObjectName(QStringLiteral("variantTest"));
    test_->setProperty("strong", true);
    connect(test_, &QPushButton::clicked, run, &RunDesk::testVariants);
    column->addWidget(test_, 0, Qt::AlignLeft);
    results_ = new QLabel;
    results_->setObjectName(QStringLiteral("variantResults"));
    results_->setWordWrap(true);
    results_->setTextFormat(Qt::PlainText);
    results_->setAlignment(Qt::AlignTop);
    auto* found = new QScrollArea;
    found->setWidgetResizable(true);
    found->setFrameShape(QFrame::NoFrame);
    found->setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
    found->setWidget(results_);
    found->setMinimumHeight(80);
    column->addWidget(found, 1);
    connect(build_, &BuildDesk::variantsChanged, this, &VariantsPane::refresh);
    connect(run_, &RunDesk::variantsTested, this, &VariantsPane::refresh);
    connect(build_, &BuildDesk::characterChanged, this, &VariantsPane::refresh);
    refresh();
}

void VariantsPane::refresh() {
    if (!build_->build())
        return;
    which_->clear();
    which_->addItem(tr("the build as it is"));
    for (const Variant& v : build_->variants())
        which_->addItem(QString::fromStdString(v.name));
    which_->setCurrentIndex(build_->variant() + 1);
    remove_->setEnabled(build_->variant() >= 0);
    test_->setEnabled(!build_->variants().empty());
    QStringList lines;
    for (const VariantResult& r : run_->variantResults()) {
        lines << (r.name.isEmpty() ? tr("The build as it is: %1 faults, worst %2.").arg(r.faults).arg(r.worst)
                                   : tr("%1: %2 faults, worst %3; %4 the build does not have.")
                                         .arg(r.name)
                                         .arg(r.faults)
                                         .arg(r.worst)
                                         .arg(r.fresh));
        for (std::size_t i = 0; i < r.new_.size() && i < 4; ++i)
            lines << QStringLiteral("   ") + r.new_[i];
        if (r.new_.size() > 4)
            lines << tr("   and %1 more").arg(r.new_.size() - 4);
    }
    results_->setText(lines.join(QLatin1Char('\n')));
    refreshSwitches();
}

void VariantsPane::refreshSwitches() {
    delete switches_->layout();
    qDeleteAll(switches_->findChildren<QWidget*>(QString(), Qt::FindDirectChildrenOnly));
    auto* column = new QVBoxLayout(switches_);
    column->setContentsMargins(0, 0, 0, 0);
    column->setSpacing(3);
    const int at = build_->variant();
    if (at < 0) {
        auto* words = new QLabel(
            build_->variants().empty()
                ? tr("There is no variant yet: name one and add it, then say what it leaves out or "
                     "how it is shaped.")
                : tr("Choose a variant to change it."));
        words->setWordWrap(true);
        words->setProperty("quiet", true);
        column->addWidget(words);
        column->addStretch(1);
        return;
    }
    const Variant& v = build_->variants()[static_cast<std::size_t>(at)];
    const Character& c = *build_->build();
    const auto tick = [&](const QString& text, const QString& name, bool on, auto&& does) {
        auto* box = new QCheckBox(text);
        box->setObjectName(name);
        box->setChecked(on);
        connect(box, &QCheckBox::toggled, this, does);
        column->addWidget(box);
    };
    for (const Part& p : c.parts) {
        const bool on = std::find(v.partsOff.begin(), v.partsOff.end(), p.name) == v.partsOff.end();
        tick(QString::fromStdString(p.name),
             QStringLiteral("variantPart_%1").arg(QString::fromStdString(p.name)), on,
             [this, name = p.name](bool wanted) {
                 change([&](Variant& x) {
                     std::erase(x.partsOff, name);
                     if (!wanted)
                         x.partsOff.push_back(name);
                 });
             });
    }
    if (!c.drivers.empty())
        tick(tr("drivers: what follows by itself (%1)").arg(c.drivers.size()),
             QStringLiteral("variantDrivers"), v.drivers,
             [this](bool on) { change([&](Variant& x) { x.drivers = on; }); });
    // Shapes of one name are one control over all parts; what a driver fades in is not a body preset.
    std::map<std::string, double> shapes;
    for (std::size_t p = 0; p < c.parts.size(); ++p)
        for (std::size_t t = 0; t < c.parts[p].targets.size(); ++t)
            if (std::none_of(c.drivers.begin(), c.drivers.end(), [&](const Driver& d) {
                    return d.output == Driver::Output::Target && d.part == static_cast<int>(p) &&
                           d.target == static_cast<int>(t);
                }))
                shapes[c.parts[p].targets[t].name];
    for (const Variant::Shape& s : v.shapes)
        if (const auto known = shapes.find(s.target); known != shapes.end())
            known->second = s.weight;
    for (const auto& [name, weight] : shapes) {
        auto* row = new QWidget;
        auto* line = new QHBoxLayout(row);
        line->setContentsMargins(0, 0, 0, 0);
        auto* label = new QLabel(QString::fromStdString(name));
        auto* amount = new QLabel(tr("%1 %").arg(100 * weight, 0, 'f', 0));
        auto* slider = new QSlider(Qt::Horizontal);
        slider->setObjectName(QStringLiteral("variantShape_%1").arg(QString::fromStdString(name)));
        slider->setAccessibleName(tr("Shape %1").arg(QString::fromStdString(name)));
        slider->setRange(0, 100);
        slider->setPageStep(25);
        slider->setValue(static_cast<int>(std::lround(100 * weight)));
        slider->setTracking(false); // the character is made anew: once, when the hand lets go
        label->setMinimumWidth(px(80));
        connect(slider, &QSlider::sliderMoved, amount,
                [amount](int x) { amount->setText(tr("%1 %").arg(x)); });
        connect(slider, &QSlider::valueChanged, this, [this, name = name](int x) {
            change([&](Variant& variant) {
                std::erase_if(variant.shapes, [&](const Variant::Shape& s) { return s.target == name; });
                if (x > 0)
                    for (const Part& p : build_->build()->parts)
                        for (const ShapeTarget& t : p.targets)
                            if (t.name == name)
                                variant.shapes.push_back({p.name, name, x / 100.0});
            });
        });
        line->addWidget(label);
        line->addWidget(slider, 1);
        line->addWidget(amount);
        column->addWidget(row);
    }
    column->addStretch(1);
}

void VariantsPane::add() {
    const QString name = name_->text().trimmed();
    if (name.isEmpty())
        return name_->setFocus();
    std::vector<Variant> all = build_->variants();
    for (const Variant& v : all)
        if (QString::fromStdString(v.name) == name)
            return void(emit failed(tr("There is a variant “%1” already.").arg(name)));
    Variant v;
    v.name = name.toStdString();
    all.push_back(v);
    build_->setVariants(all);
    name_->clear();
    build_->wear(static_cast<int>(all.size()) - 1);
}

void VariantsPane::remove() {
    std::vector<Variant> all = build_->variants();
    if (build_->variant() < 0)
        return;
    all.erase(all.begin() + build_->variant());
    build_->setVariants(all);
}

void VariantsPane::change(const std::function<void(Variant&)>& how) {
    std::vector<Variant> all = build_->variants();
    if (build_->variant() < 0)
        return;
    how(all[static_cast<std::size_t>(build_->variant())]);
    // not within the signal of a switch that goes away with the change
    QMetaObject::invokeMethod(
        this, [this, all] { build_->setVariants(all); }, Qt::QueuedConnection);
}

} // namespace hobble
