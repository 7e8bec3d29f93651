// What the keys do on the Review page, and how it is found by name.
#include "app/review/review_page.h"

#include <QPushButton>

namespace hobble {

void ReviewPage::addActions(ActionBook& book) {
    addAction(book, "step-on", tr("One step further"), Qt::Key_Right, [this] { stepAngle(1); });
    addAction(book, "step-back", tr("One step back"), Qt::Key_Left, [this] { stepAngle(-1); });
    addAction(book, "peak-on", tr("Next onset or peak"), Qt::SHIFT | Qt::Key_Right,
              [this] { goToOnsetOrPeak(1); });
    addAction(book, "peak-back", tr("Previous onset or peak"), Qt::SHIFT | Qt::Key_Left,
              [this] { goToOnsetOrPeak(-1); });
    addAction(book, "motion-on", tr("Next motion"), Qt::Key_Down, [this] { stepMotion(1); });
    addAction(book, "motion-back", tr("Previous motion"), Qt::Key_Up, [this] { stepMotion(-1); });
    addAction(book, "neutral", tr("Neutral"), Qt::Key_Home, [this] { goNeutral(); });
    addAction(book, "fold", tr("Fold or open the limb's strips"), Qt::Key_T,
              [this] { strips_->foldChosen(); });
    using Over = Sweep::Over;
    addAction(book, "sweep", tr("Sweep the motion"), Qt::Key_Space, [this] { sweep_->toggle(Over::Motion); });
    addAction(book, "sweep-limb", tr("Sweep the limb"), Qt::SHIFT | Qt::Key_Space,
              [this] { sweep_->toggle(Over::Limb); });
    addAction(book, "sweep-plan", tr("Sweep the whole plan"), {}, [this] { sweep_->toggle(Over::Plan); });
    addAction(book, "sweep-pause", tr("Rest on the worst angle while sweeping, or not"), {},
              [this] { sweep_->setPausesOnPeaks(!sweep_->pausesOnPeaks()); });
    addAction(book, "good-behind", tr("What the reference shows, behind the strips, or not"), {},
              [this] { findChild<QPushButton*>(QStringLiteral("goodBehind"))->click(); });
    addAction(book, "chart", tr("Chart of this motion's measures"), Qt::Key_C, [this] { showChart(); });
    addAction(book, "picture", tr("Save the picture"), {}, [this] { savePicture(); });
    addAction(book, "mesh", tr("Save the posed mesh"), {}, [this] { savePosedMesh(); });
    addAction(book, "mend-here", tr("Try to mend the fault looked at"), Qt::CTRL | Qt::Key_M,
              [this] { mendHere(); });
    addAction(book, "log-here", tr("Log the defect here"), Qt::Key_L, [this] { logHere(); });
    addAction(book, "other-side", tr("Lay the other side over"), Qt::Key_M, [this] { toggleOtherSide(); });
    addAction(book, "finding-back", tr("Previous fault"), Qt::Key_Comma, [this] { stepFinding(-1); });
    addAction(book, "finding-on", tr("Next fault"), Qt::Key_Period, [this] { stepFinding(1); });

    const auto shown = [&](const char* id, const QString& text, const QKeySequence& key,
                           std::function<void(Shown&)> change) {
        addAction(book, id, text, key, [this, change = std::move(change)] { stage_->changeShown(change); });
    };
    shown("skeleton", tr("Skeleton through the skin"), Qt::Key_X, [](Shown& s) { s.skeleton = !s.skeleton; });
    shown("wire", tr("Wire"), Qt::Key_W, [](Shown& s) { s.wire = !s.wire; });
    shown("smooth", tr("Smooth preview with the true vertices"), Qt::Key_V,
          [](Shown& s) { s.smooth = !s.smooth; });
    shown("patch", tr("Marked patch of the fault"), {}, [](Shown& s) { s.patch = !s.patch; });
    shown("contact-lines", tr("Contact lines"), {}, [](Shown& s) { s.contactLines = !s.contactLines; });
    for (const auto& [id, text, key, ghost] :
         {std::tuple("ghost", tr("Ghost of the neutral"), QKeySequence(Qt::Key_G), Ghost::Neutral),
          {"ghost-before", tr("Ghost of the step before"), QKeySequence(), Ghost::StepBefore},
          {"ghost-after", tr("Ghost of the step after"), QKeySequence(), Ghost::StepAfter}})
        shown(id, text, key, [ghost = ghost](Shown& s) { s.ghost = s.ghost == ghost ? Ghost::None : ghost; });
    addAction(book, "isolate", tr("Show only this limb, only its region, or all"), Qt::Key_I,
              [this] { stage_->stepIsolation(); });

    const auto view = [&](const char* id, const QString& text, const QKeySequence& key,
                          std::function<void(Viewport*)> does) {
        addAction(book, id, text, key, [this, does = std::move(does)] {
            if (Viewport* v = viewport())
                does(v);
        });
    };
    addAction(book, "hold-view", tr("Hold the view, or let it go to what moves"), Qt::SHIFT | Qt::Key_F,
              [this] { stage_->setViewHeld(!stage_->viewHeld()); });
    view("frame-joint", tr("Frame the joint"), Qt::Key_F,
         [this](Viewport* v) { v->frameJoint(run_->joint()); });
    view("frame-all", tr("Frame the whole character"), Qt::Key_H, [](Viewport* v) { v->frameAll(); });
    for (ViewFrom from : kViewsFrom)
        view((QByteArray("look-") + idOf(from)).constData(), tr("Look from: %1").arg(nameOf(from)), {},
             [from](Viewport* v) { v->lookFrom(from); });
    for (int c = 0; c < kColourings; ++c) {
        const auto colouring = static_cast<Colouring>(c);
        const QByteArray id = "colour-" + QByteArray::number(c);
        view(id.constData(), tr("Colour by: %1").arg(nameOf(colouring)), {}, [colouring](Viewport* v) {
            v->setWeightJoint(-1);
            v->setColouring(colouring);
        });
    }
    const auto mark = [&](const char* id, const QString& text, const QKeySequence& key,
                          std::function<void(MarkingTool*)> does) {
        addAction(book, id, text, key, [this, does = std::move(does)] {
            if (MarkingTool* marking = stage_->marking())
                does(marking);
        });
    };
    const auto toggled = [](MarkTool tool) {
        return [tool](MarkingTool* m) { m->setTool(m->tool() == tool ? MarkTool::None : tool); };
    };
    mark("mark-brush", tr("Mark skin with a brush"), Qt::Key_B, toggled(MarkTool::Brush));
    mark("mark-lasso", tr("Mark skin with a lasso"), {}, toggled(MarkTool::Lasso));
    mark("mark-region", tr("Mark the skin around the joint"), {}, [](MarkingTool* m) { m->markRegion(); });
    mark("mark-clear", tr("Clear what is marked"), {}, [](MarkingTool* m) { m->clear(); });
    addAction(book, "mark-log", tr("Log what is marked"), {}, [this] { logMarked(); });
}

QString ReviewPage::keyLine(const ActionBook& book) const {
    return book.line({{{"step-back", "step-on"}, tr("angle")},
                      {{"motion-back", "motion-on"}, tr("motion")},
                      {{"neutral"}, tr("neutral")},
                      {{"sweep"}, tr("sweep")},
                      {{"finding-back", "finding-on"}, tr("fault")},
                      {{"log-here"}, tr("log")},
                      {{"keys"}, tr("all keys")}});
}

} // namespace hobble
