#include "app/mend/brush_line.h"

#include "app/theme.h"
#include "app/widgets/flow_layout.h"
#include "app/widgets/parts.h"

#include <QLabel>
#include <QMenu>
#include <QSlider>
#include <QVBoxLayout>

#include <cmath>

namespace hobble {

namespace {

// Sliders are even to the hand: the radius goes by its logarithm, from a thousandth of the body to a quarter.
constexpr int kSlide = 200;

} // namespace

BrushLine::BrushLine(BrushTool* brush, MarkingTool* marking, MendDesk* mend, QWidget* parent)
    : QWidget(parent), brush_(brush), marking_(marking), mend_(mend) {
    auto* both = new QVBoxLayout(this);
    both->setContentsMargins(12, 0, 10, 4);
    both->setSpacing(0);
    auto* words = new FlowLayout(2);
    auto* hand = new QLabel(tr("by hand:"));
    hand->setProperty("quiet", true);
    setType(hand, 0.95);
    words->addWidget(hand);
    const std::tuple<BrushDoes, QString, const char*, QString> does[] = {
        {BrushDoes::Add, tr("more"), "brushAdd", tr("Strokes give the joint in hand more of the skin")},
        {BrushDoes::Take, tr("less"), "brushTake", tr("Strokes take the joint in hand away")},
        {BrushDoes::Soften, tr("soften"), "brushSoften", tr("Strokes even the weights out")},
        {BrushDoes::FromNeighbours, tr("as around it"), "brushNeighbours",
         tr("Under the stroke, what the skin around it says")},
        {BrushDoes::KeepOut, tr("none of it"), "brushKeepOut",
         tr("Under the stroke the joint in hand holds nothing")},
        {BrushDoes::Out, tr("out"), "brushOut", tr("Strokes bring the skin out, at the angle shown")},
        {BrushDoes::In, tr("in"), "brushIn", tr("Strokes bring the skin in, at the angle shown")},
        {BrushDoes::Even, tr("even"), "brushEven",
         tr("Strokes even the skin's shape out, at the angle shown")},
        {BrushDoes::Drag, tr("drag"), "brushDrag",
         tr("The skin under the ring goes with the pointer, at the angle shown")}};
    for (const auto& [what, text, name, tip] : does) {
        if (what == BrushDoes::Out) {
            shapeWords_ = new QLabel(tr("· at this angle:"));
            shapeWords_->setProperty("quiet", true);
            setType(shapeWords_, 0.95);
            words->addWidget(shapeWords_);
        }
        auto* b = wordToggle(words, text, QLatin1String(name), false, tip);
        setType(b, 0.95);
        brushes_[what] = b;
        connect(b, &QPushButton::clicked, this, [this, w = what](bool on) {
            marking_->setTool(MarkTool::None);
            brush_->setDoes(on ? w : BrushDoes::Nothing);
            if (on && (w == BrushDoes::Add || w == BrushDoes::Take || w == BrushDoes::KeepOut))
                emit weightsWanted();
        });
    }
    mark_ = wordToggle(words, tr("mark"), QStringLiteral("mendMark"), false,
                       tr("Marks skin that a verb is then about"));
    lasso_ =
        wordToggle(words, tr("lasso"), QStringLiteral("mendLasso"), false, tr("Marks what lies in a loop"));
    clearMarks_ = wordButton(words, tr("clear"), QStringLiteral("mendClear"), tr("Nothing is marked"));
    larger_ = wordButton(words, tr("larger"), QStringLiteral("mendLarger"), tr("A ring more is marked"));
    smaller_ = wordButton(words, tr("smaller"), QStringLiteral("mendSmaller"), tr("A ring less is marked"));
    piece_ = wordButton(words, tr("whole piece"), QStringLiteral("mendPiece"),
                        tr("All that hangs together with what is marked"));
    // With the largest text the character needs the room: what is not there as a word is in here.
    more_ = wordButton(words, tr("shape…"), QStringLiteral("brushMore"),
                       tr("Strokes of the shape, and what is marked"));
    more_->setMenu(new QMenu(more_));
    connect(more_->menu(), &QMenu::aboutToShow, this, [this] {
        QMenu* menu = more_->menu();
        menu->clear();
        const auto put = [menu](QPushButton* word) {
            QAction* a = menu->addAction(word->text(), word, &QPushButton::click);
            a->setToolTip(word->toolTip());
            a->setCheckable(word->isCheckable());
            a->setChecked(word->isChecked());
        };
        menu->addSection(tr("at this angle"));
        for (const auto& [what, word] : brushes_)
            if (ofTheShape(what))
                put(word);
        if (marking_->marked().empty())
            return;
        menu->addSection(tr("what is marked"));
        for (QPushButton* word : {larger_, smaller_, piece_})
            put(word);
    });
    connect(larger_, &QPushButton::clicked, marking_, &MarkingTool::grow);
    connect(smaller_, &QPushButton::clicked, marking_, &MarkingTool::shrink);
    connect(piece_, &QPushButton::clicked, marking_, &MarkingTool::markPiece);
    for (auto* b : {mark_, lasso_, clearMarks_, larger_, smaller_, piece_, more_})
        setType(b, 0.95);
    connect(mark_, &QPushButton::clicked, this, [this](bool on) {
        brush_->setDoes(BrushDoes::Nothing);
        marking_->setTool(on ? MarkTool::Brush : MarkTool::None);
    });
    connect(lasso_, &QPushButton::clicked, this, [this](bool on) {
        brush_->setDoes(BrushDoes::Nothing);
        marking_->setTool(on ? MarkTool::Lasso : MarkTool::None);
    });
    connect(clearMarks_, &QPushButton::clicked, marking_, &MarkingTool::clear);
    both->addLayout(words);
    how_ = new QWidget;
    auto* how = new FlowLayout(6, how_);
    how->setContentsMargins(0, 2, 0, 2);
    const auto slider = [&](const char* name, const QString& accessible) {
        auto* s = new QSlider(Qt::Horizontal);
        s->setObjectName(QLatin1String(name));
        s->setAccessibleName(accessible);
        s->setRange(0, kSlide);
        setTextWidth(s, 84);
        how->addWidget(s);
        return s;
    };
    radius_ = new QLabel;
    radius_->setObjectName(QStringLiteral("brushRadius"));
    how->addWidget(radius_);
    radiusSlider_ = slider("brushRadiusSlider", tr("Radius of the brush"));
    strength_ = new QLabel;
    strength_->setObjectName(QStringLiteral("brushStrength"));
    how->addWidget(strength_);
    strengthSlider_ = slider("brushStrengthSlider", tr("Strength of the brush"));
    along_ = wordToggle(how, tr("along the surface"), QStringLiteral("brushAlong"), true,
                        tr("Otherwise straight, through what is thin"));
    bothSides_ = wordToggle(how, tr("both sides"), QStringLiteral("brushBothSides"), false,
                            tr("The same stroke on the other side of the body"));
    for (QWidget* w : std::initializer_list<QWidget*>{radius_, strength_, along_, bothSides_})
        setType(w, 0.92);
    connect(radiusSlider_, &QSlider::valueChanged, this, [this](int v) {
        if (const auto& s = mend_->view().subject()) {
            const double most = s->extent / 4;
            brush_->setRadius(most * std::pow(1000.0, double(v) / kSlide - 1));
        }
    });
    connect(strengthSlider_, &QSlider::valueChanged, this,
            [this](int v) { brush_->setStrength(double(v) / kSlide); });
    connect(along_, &QPushButton::toggled, brush_, &BrushTool::setAlong);
    connect(bothSides_, &QPushButton::toggled, brush_, &BrushTool::setBothSides);
    both->addWidget(how_);
    connect(brush_, &BrushTool::changed, this, &BrushLine::refresh);
    connect(marking_, &MarkingTool::toolChanged, this, &BrushLine::refresh);
    connect(marking_, &MarkingTool::markedChanged, this, &BrushLine::refresh);
    refresh();
}

void BrushLine::press(BrushDoes does) { brushes_[does]->click(); }
void BrushLine::pressMark() { mark_->click(); }
void BrushLine::pressLasso() { lasso_->click(); }

void BrushLine::refresh() {
    for (const auto& [does, button] : brushes_)
        button->setChecked(brush_->does() == does);
    for (QSlider* s : {radiusSlider_, strengthSlider_}) // with the largest text keys and wheel have to do
        s->setVisible(Theme::current().textScale < 1.7);
    mark_->setChecked(marking_->tool() == MarkTool::Brush);
    lasso_->setChecked(marking_->tool() == MarkTool::Lasso);
    const bool any = !marking_->marked().empty();
    clearMarks_->setVisible(any);
    // With the largest text the character needs the room: these are then under one word.
    const bool room = Theme::current().textScale < 1.7;
    for (QPushButton* b : {larger_, smaller_, piece_})
        b->setVisible(any && room);
    shapeWords_->setVisible(room);
    more_->setVisible(!room);
    for (const auto& [does, button] : brushes_)
        button->setVisible(room || !ofTheShape(does));
    how_->setVisible(brush_->does() != BrushDoes::Nothing);
    for (QWidget* w : {static_cast<QWidget*>(strength_), static_cast<QWidget*>(strengthSlider_)})
        if (brush_->does() == BrushDoes::Drag) // as far as the pointer goes
            w->hide();
        else if (w == strength_)
            w->show();
    radius_->setText(
        tr("radius %L1 mm").arg(1000 * brush_->radius(), 0, 'f', brush_->radius() < 0.01 ? 1 : 0));
    strength_->setText(tr("strength %1 %").arg(std::lround(100 * brush_->strength())));
    const auto& s = mend_->view().subject();
    if (s) {
        const QSignalBlocker a(radiusSlider_), b(strengthSlider_);
        radiusSlider_->setValue(static_cast<int>(
            std::lround(kSlide * (1 + std::log(brush_->radius() / (s->extent / 4)) / std::log(1000.0)))));
        strengthSlider_->setValue(static_cast<int>(std::lround(kSlide * brush_->strength())));
    }
}

} // namespace hobble
