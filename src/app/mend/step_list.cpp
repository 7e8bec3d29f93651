#include "app/mend/step_list.h"

#include "app/theme.h"
#include "app/widgets/flow_layout.h"
#include "app/widgets/parts.h"

#include <QApplication>
#include <QCheckBox>
#include <QDoubleSpinBox>
#include <QFormLayout>
#include <QFrame>
#include <QKeyEvent>
#include <QMouseEvent>
#include <QPainter>
#include <QSpinBox>
#include <QStyle>
#include <QVBoxLayout>

#include <cmath>

namespace hobble {

namespace {

// Of a kind's own number: its word, its bounds, how far one press goes.
struct NumberFacts {
    const char* word;
    double least, most, by;
    int decimals;
    const char* suffix;
    double factor; // from the step's number to what is said
};

std::optional<NumberFacts> amountOf(const Step& step) {
    const FillBy by = step.fillBy;
    switch (step.kind) {
    case StepKind::Fill:
        return by == FillBy::Scale
                   ? NumberFacts{QT_TRANSLATE_NOOP("StepList", "factor"), 0, 10, 0.1, 2, "", 1}
               : by == FillBy::Add
                   ? NumberFacts{QT_TRANSLATE_NOOP("StepList", "share added"), -100, 100, 5, 0, " %", 100}
                   : NumberFacts{QT_TRANSLATE_NOOP("StepList", "share"), 0, 100, 5, 0, " %", 100};
    case StepKind::Narrow:
        return NumberFacts{QT_TRANSLATE_NOOP("StepList", "narrower by"), 0.1, 10, 0.1, 2, "", 1};
    case StepKind::HandOver:
        return NumberFacts{QT_TRANSLATE_NOOP("StepList", "part that goes"), 0, 100, 5, 0, " %", 100};
    case StepKind::DropSmall:
        return NumberFacts{QT_TRANSLATE_NOOP("StepList", "below"), 0, 50, 0.5, 1, " %", 100};
    case StepKind::Pass:
        return NumberFacts{QT_TRANSLATE_NOOP("StepList", "limb radii"), 0.05, 8, 0.1, 2, "", 1};
    case StepKind::CarryOver:
        return NumberFacts{QT_TRANSLATE_NOOP("StepList", "from how far"), 0, 1e6, 5, 0, " mm", 1000};
    case StepKind::TurnAxes:
        return NumberFacts{QT_TRANSLATE_NOOP("StepList", "turned by"), -180, 180, 1, 1, "°", 1};
    case StepKind::Correct:
        return step.correctBy == CorrectBy::Inflate
                   ? std::optional(
                         NumberFacts{QT_TRANSLATE_NOOP("StepList", "out by"), -1e5, 1e5, 0.5, 1, " mm", 1000})
                   : std::nullopt;
    case StepKind::Helper:
        return step.helpBy == HelpBy::Turn
                   ? NumberFacts{QT_TRANSLATE_NOOP("StepList", "of the turn"), -200, 200, 5, 0, " %", 100}
                   : NumberFacts{
                         QT_TRANSLATE_NOOP("StepList", "goes out by"), -1e5, 1e5, 0.5, 1, " mm", 1000};
    case StepKind::Drive:
        return step.driveBy == DriveBy::Ease
                   ? std::optional(NumberFacts{QT_TRANSLATE_NOOP("StepList", "over"), 1, 180, 5, 0, "°", 1})
               : step.driveBy == DriveBy::Scale
                   ? std::optional(NumberFacts{QT_TRANSLATE_NOOP("StepList", "factor"), 0, 10, 0.1, 2, "", 1})
                   : std::nullopt;
    case StepKind::SmoothAfter:
        return NumberFacts{QT_TRANSLATE_NOOP("StepList", "to the middle"), 0, 100, 5, 0, " %", 100};
    case StepKind::Method:
        return NumberFacts{QT_TRANSLATE_NOOP("StepList", "of it"), 0, 100, 5, 0, " %", 100};
    default:
        return std::nullopt;
    }
}

bool ofAnAngle(const Step& s) {
    return s.kind == StepKind::Correct || (s.kind == StepKind::Helper && s.helpBy == HelpBy::Shift);
}
bool standsSomewhere(const Step& s) { return s.kind == StepKind::Pivot || s.kind == StepKind::Helper; }
bool counts(const Step& s) {
    return s.kind == StepKind::Soften || s.kind == StepKind::SmoothAfter || s.kind == StepKind::Cap ||
           s.kind == StepKind::ShareTwist ||
           (s.kind == StepKind::Correct && s.correctBy == CorrectBy::Soften);
}

} // namespace

// What a step took away, as a bar: of all the trouble there was.
class StepShareBar : public QWidget {
public:
    StepShareBar() { setTextSize(this, 76, 8); }
    void show(std::optional<double> share) {
        share_ = share;
        update();
    }

protected:
    void paintEvent(QPaintEvent*) override {
        QPainter p(this);
        const Theme& t = Theme::current();
        const QRectF box = QRectF(rect()).adjusted(0, 1, 0, -1);
        p.fillRect(box, t.stripBody);
        if (!share_)
            return;
        const double width = box.width() * std::min(1.0, std::abs(*share_));
        p.fillRect(QRectF(box.left(), box.top(), width, box.height()), *share_ >= 0 ? t.stripGrave : t.worse);
    }

private:
    std::optional<double> share_;
};

class StepRow : public QFrame {
public:
    StepRow(MendDesk* mend, StepList* list, int at) : mend_(mend), list_(list), at_(at) {
        setObjectName(QStringLiteral("step-%1").arg(at));
        setFocusPolicy(Qt::TabFocus);
        setProperty("card", true);
        auto* all = new QVBoxLayout(this);
        all->setContentsMargins(6, 4, 8, 4);
        all->setSpacing(2);
        auto* first = new QHBoxLayout;
        first->setSpacing(8);
        on_ = new QCheckBox;
        on_->setObjectName(QStringLiteral("stepOn-%1").arg(at));
        first->addWidget(on_, 0, Qt::AlignTop);
        words_ = wrapped(QStringLiteral("stepWords-%1").arg(at));
        first->addWidget(words_, 1);
        all->addLayout(first);
        auto* second = new QHBoxLayout;
        second->setContentsMargins(24, 0, 0, 0);
        second->setSpacing(6);
        bar_ = new StepShareBar;
        second->addWidget(bar_, 0, Qt::AlignVCenter);
        took_ = wrapped(QStringLiteral("stepTook-%1").arg(at));
        took_->setProperty("quiet", true);
        setType(took_, 0.9);
        second->addWidget(took_, 1);
        all->addLayout(second);
        buildEditor();
        all->addWidget(editor_);
        connect(on_, &QCheckBox::clicked, this, [this](bool on) {
            change([on](Step& s) { s.on = on; },
                   on ? StepList::tr("switch a step on") : StepList::tr("switch a step off"));
        });
        refresh();
    }

    void refresh() {
        const Step& step = this->step();
        on_->setChecked(step.on);
        words_->setText(QString::fromStdString(sentence(step)));
        on_->setAccessibleName(words_->text());
        setAccessibleName(words_->text());
        words_->setEnabled(step.on);
        const auto at = static_cast<std::size_t>(at_);
        const auto& effects = mend_->effects();
        const auto& shares = mend_->stepShares();
        std::optional<double> share;
        QString took;
        if (!step.on) {
            took = StepList::tr("off");
        } else if (at < effects.size() && !effects[at].applies) {
            took = StepList::tr("does nothing: %1").arg(QString::fromStdString(effects[at].why));
        } else {
            if (at < shares.size()) {
                share = shares[at];
                const long percent = std::lround(100 * std::abs(*share));
                took = percent == 0 ? StepList::tr("takes nothing away")
                       : *share > 0 ? StepList::tr("takes %1 % away").arg(percent)
                                    : StepList::tr("adds %1 %").arg(percent);
            }
            if (at < effects.size() &&
                !(effects[at].changed.empty() && (effects[at].skeleton || effects[at].shapes))) {
                const auto n = effects[at].changed.size();
                const QString changed = n == 0   ? StepList::tr("changes nothing")
                                        : n == 1 ? StepList::tr("one vertex")
                                                 : StepList::tr("%n vertices", nullptr, int(n));
                took += took.isEmpty() ? changed : StepList::tr(" · %1").arg(changed);
            }
        }
        bar_->show(share);
        took_->setText(took);
        const auto put = [](auto* box, double value) {
            if (box && !box->hasFocus() && std::abs(box->value() - value) > 1e-9) {
                const QSignalBlocker quiet(box);
                box->setValue(static_cast<decltype(box->value())>(value));
            }
        };
        if (const auto facts = amountOf(step))
            put(amount_, facts->factor * step.amount);
        put(count_, step.count);
        put(middle_, step.middle);
        put(strength_, 100 * step.strength);
        for (std::size_t k = 0; k < at_box_.size(); ++k)
            put(at_box_[k], 1000 * step.at[static_cast<Eigen::Index>(k)]);
        put(radius_, 1000 * step.place.radius);
        put(degrees_, step.degrees);
        put(from_, step.from);
    }

    void setChosen(bool on) {
        editor_->setVisible(on);
        setProperty("chosen", on);
        style()->unpolish(this);
        style()->polish(this);
    }

protected:
    void mousePressEvent(QMouseEvent* e) override {
        pressed_ = e->globalPosition().toPoint();
        list_->choose(at_);
        setFocus(Qt::MouseFocusReason);
    }
    void mouseMoveEvent(QMouseEvent* e) override {
        if (!(e->buttons() & Qt::LeftButton))
            return;
        if ((e->globalPosition().toPoint() - pressed_).manhattanLength() >= QApplication::startDragDistance())
            setCursor(Qt::ClosedHandCursor);
    }
    void mouseReleaseEvent(QMouseEvent* e) override {
        unsetCursor();
        const QPoint at = e->globalPosition().toPoint();
        if ((at - pressed_).manhattanLength() < QApplication::startDragDistance())
            return;
        if (const int to = list_->rowAt(at); to >= 0 && to != at_)
            moveTo(to);
    }
    void keyPressEvent(QKeyEvent* e) override {
        const bool alt = e->modifiers() & Qt::AltModifier;
        if (alt && (e->key() == Qt::Key_Up || e->key() == Qt::Key_Down))
            moveTo(at_ + (e->key() == Qt::Key_Up ? -1 : 1));
        else if (e->key() == Qt::Key_Return || e->key() == Qt::Key_Enter)
            list_->choose(list_->chosen() == at_ ? -1 : at_);
        else if (e->key() == Qt::Key_Delete)
            mend_->takeOut(at_);
        else if (e->key() == Qt::Key_Space)
            on_->click();
        else
            QFrame::keyPressEvent(e);
    }

private:
    const Step& step() const { return mend_->trial().steps[static_cast<std::size_t>(at_)]; }
    void change(const std::function<void(Step&)>& how, const QString& what) {
        Step now = step();
        how(now);
        mend_->setStep(at_, now, what);
    }
    void moveTo(int to) {
        StepList* list = list_; // this row may be gone after
        MendDesk* mend = mend_;
        const int from = at_;
        if (to < 0 || to >= list->rows())
            return;
        mend->move(from, to);
        list->choose(to);
    }
    template <class Box> Box* number(QFormLayout* form, const QString& word, const char* name) {
        auto* box = new Box;
        box->setObjectName(QStringLiteral("%1-%2").arg(QLatin1String(name)).arg(at_));
        box->setAccessibleName(word);
        box->setMinimumWidth(20);
        box->setKeyboardTracking(false); // typed to its end before it counts
        auto* label = new QLabel(word);
        setType(label, 0.92);
        form->addRow(label, box);
        return box;
    }
    void buildEditor() {
        editor_ = new QWidget;
        auto* all = new QVBoxLayout(editor_);
        all->setContentsMargins(24, 2, 0, 0);
        all->setSpacing(3);
        auto* form = new QFormLayout;
        form->setSpacing(3);
        form->setRowWrapPolicy(QFormLayout::WrapLongRows);
        all->addLayout(form);
        const Step& s = step();
        if (const auto facts = amountOf(s)) {
            amount_ = number<QDoubleSpinBox>(form, QCoreApplication::translate("StepList", facts->word),
                                             "stepAmount");
            amount_->setRange(facts->least, facts->most);
            amount_->setSingleStep(facts->by);
            amount_->setDecimals(facts->decimals);
            amount_->setSuffix(QString::fromUtf8(facts->suffix));
            amount_->setValue(facts->factor * s.amount);
            connect(amount_, &QDoubleSpinBox::valueChanged, this, [this, factor = facts->factor](double v) {
                change([&](Step& one) { one.amount = v / factor; }, StepList::tr("change a step's amount"));
            });
        }
        if (s.kind == StepKind::Pass) {
            middle_ = number<QDoubleSpinBox>(form, StepList::tr("middle, radii beyond"), "stepMiddle");
            middle_->setRange(-4, 4);
            middle_->setSingleStep(0.1);
            middle_->setValue(s.middle);
            connect(middle_, &QDoubleSpinBox::valueChanged, this, [this](double v) {
                change([&](Step& one) { one.middle = v; }, StepList::tr("move a passage"));
            });
        }
        if (ofAnAngle(s)) {
            const auto angle = [&](const QString& word, const char* name, double Step::*which) {
                auto* box = number<QDoubleSpinBox>(form, word, name);
                box->setRange(-180, 180);
                box->setDecimals(0);
                box->setSingleStep(5);
                box->setSuffix(QStringLiteral("°"));
                box->setValue(s.*which);
                connect(box, &QDoubleSpinBox::valueChanged, this, [this, which](double v) {
                    change([&](Step& one) { one.*which = v; }, StepList::tr("change a step's angle"));
                });
                return box;
            };
            from_ = angle(StepList::tr("begins at"), "stepFrom", &Step::from);
            degrees_ = angle(StepList::tr("whole at"), "stepDegrees", &Step::degrees);
        }
        if (counts(s)) {
            count_ = number<QSpinBox>(form,
                                      s.kind == StepKind::Cap          ? StepList::tr("at most")
                                      : s.kind == StepKind::ShareTwist ? StepList::tr("joints")
                                                                       : StepList::tr("times"),
                                      "stepCount");
            count_->setRange(1, s.kind == StepKind::Cap ? 32 : s.kind == StepKind::ShareTwist ? 8 : 200);
            count_->setValue(s.count);
            connect(count_, &QSpinBox::valueChanged, this, [this](int v) {
                change([&](Step& one) { one.count = v; }, StepList::tr("change a step's number"));
            });
        }
        if (standsSomewhere(s)) {
            static const char* const axes[] = {"x", "y", "z"};
            for (int k = 0; k < 3; ++k) {
                auto* box = number<QDoubleSpinBox>(form, QLatin1String(axes[k]), axes[k]);
                box->setRange(-1e6, 1e6);
                box->setDecimals(1);
                box->setSuffix(QStringLiteral(" mm"));
                box->setValue(1000 * s.at[k]);
                connect(box, &QDoubleSpinBox::valueChanged, this, [this, k](double v) {
                    Vec3d place = step().at;
                    place[k] = v / 1000;
                    mend_->setJointAt(at_, place);
                });
                at_box_.push_back(box);
            }
        }
        if (s.place.what == MendPlace::What::Stroke) {
            radius_ = number<QDoubleSpinBox>(form, StepList::tr("radius"), "stepRadius");
            radius_->setRange(0.1, 1e6);
            radius_->setDecimals(1);
            radius_->setSuffix(QStringLiteral(" mm"));
            radius_->setValue(1000 * s.place.radius);
            connect(radius_, &QDoubleSpinBox::valueChanged, this, [this](double v) {
                change([&](Step& one) { one.place.radius = v / 1000; },
                       StepList::tr("change a stroke's radius"));
            });
        }
        if (!ofTheSkeleton(s.kind) && s.kind != StepKind::Drive) {
            strength_ = number<QDoubleSpinBox>(form, StepList::tr("strength"), "stepStrength");
            strength_->setRange(0, 100);
            strength_->setSingleStep(5);
            strength_->setDecimals(0);
            strength_->setSuffix(QStringLiteral(" %"));
            strength_->setValue(100 * s.strength);
            connect(strength_, &QDoubleSpinBox::valueChanged, this, [this](double v) {
                change([&](Step& one) { one.strength = v / 100; }, StepList::tr("change a step's strength"));
            });
        }
        auto* verbs = new FlowLayout(4);
        const auto verb = [&](const QString& words, const char* name, auto&& does) {
            auto* b = wordButton(verbs, words, QStringLiteral("%1-%2").arg(QLatin1String(name)).arg(at_));
            setType(b, 0.92);
            connect(b, &QPushButton::clicked, this, does);
        };
        verb(StepList::tr("earlier"), "stepUp", [this] { moveTo(at_ - 1); });
        verb(StepList::tr("later"), "stepDown", [this] { moveTo(at_ + 1); });
        verb(StepList::tr("on the other side, too"), "stepAcross", [this] { mend_->copyAcross(at_); });
        verb(StepList::tr("take out"), "stepOut", [this] { mend_->takeOut(at_); });
        all->addLayout(verbs);
        editor_->hide();
    }

    MendDesk* mend_;
    StepList* list_;
    int at_;
    QCheckBox* on_;
    QLabel *words_, *took_;
    StepShareBar* bar_;
    QWidget* editor_ = nullptr;
    QDoubleSpinBox *amount_ = nullptr, *middle_ = nullptr, *strength_ = nullptr, *radius_ = nullptr,
                   *degrees_ = nullptr, *from_ = nullptr;
    QSpinBox* count_ = nullptr;
    std::vector<QDoubleSpinBox*> at_box_; // where a joint goes
    QPoint pressed_;
};

StepList::StepList(MendDesk* mend, QWidget* parent) : QWidget(parent), mend_(mend) {
    column_ = new QVBoxLayout(this);
    column_->setContentsMargins(0, 0, 0, 0);
    column_->setSpacing(4);
    connect(mend, &MendDesk::trialChanged, this, &StepList::rebuild);
    connect(mend, &MendDesk::madeChanged, this, &StepList::refresh);
    connect(mend, &MendDesk::measuredChanged, this, &StepList::refresh);
    rebuild();
}

// Rows stay where the list is of the same kinds of steps: a number is then changed under the hand.
void StepList::rebuild() {
    std::vector<std::array<int, 5>> kinds; // what a row has numbers for
    for (const Step& s : mend_->trial().steps)
        kinds.push_back({static_cast<int>(s.kind), static_cast<int>(s.fillBy), static_cast<int>(s.correctBy),
                         static_cast<int>(s.helpBy), static_cast<int>(s.driveBy)});
    if (kinds == kinds_)
        return refresh();
    const bool more = kinds.size() > kinds_.size();
    kinds_ = std::move(kinds);
    empty(column_); // it may be the one whose button was just pressed
    rows_.clear();
    for (int i = 0; i < static_cast<int>(kinds_.size()); ++i) {
        rows_.push_back(new StepRow(mend_, this, i));
        column_->addWidget(rows_.back());
    }
    choose(more ? rows() - 1 : std::min(chosen_, rows() - 1));
}

void StepList::refresh() {
    if (rows_.size() != mend_->trial().steps.size())
        return; // about to be built anew
    for (StepRow* row : rows_)
        row->refresh();
}

void StepList::choose(int step) {
    chosen_ = step;
    for (int i = 0; i < rows(); ++i)
        row(i)->setChosen(i == step);
    emit chosenChanged();
}

int StepList::rowAt(const QPoint& global) const {
    const int y = mapFromGlobal(global).y();
    for (int i = 0; i < rows(); ++i)
        if (y < row(i)->geometry().center().y() || i + 1 == rows())
            return i;
    return -1;
}

} // namespace hobble
