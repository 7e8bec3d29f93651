// What can be done on the Mend page by key and from the command box, and what leaves it.
#include "app/mend/mend_page.h"

#include <QFileDialog>
#include <QFileInfo>
#include <QPushButton>

namespace hobble {

void MendPage::addActions(ActionBook& book) {
    addAction(book, "mend-step-on", tr("Mend: one step further"), Qt::Key_Right, [this] { stepAngle(1); });
    addAction(book, "mend-step-back", tr("Mend: one step back"), Qt::Key_Left, [this] { stepAngle(-1); });
    addAction(book, "mend-motion-on", tr("Mend: next motion"), Qt::Key_Down, [this] { stepMotion(1); });
    addAction(book, "mend-motion-back", tr("Mend: previous motion"), Qt::Key_Up, [this] { stepMotion(-1); });
    addAction(book, "mend-neutral", tr("Mend: neutral"), Qt::Key_Home, [this] { goTo(0); });
    addAction(book, "mend-end", tr("Mend: to the end of the motion"), Qt::Key_End, [this] {
        if (const Motion* m = mend_->motionShown())
            goTo(m->limit());
    });
    addAction(book, "mend-worst", tr("Mend: to where it is worst"), Qt::SHIFT | Qt::Key_Right, [this] {
        if (const Finding* f = mend_->told())
            mend_->setPose(f->motion, f->peak);
    });
    beforeAction_ = addAction(book, "mend-before", tr("Mend: the build as it came, while held"), Qt::Key_B,
                              [this] { mend_->showBefore(true); });
    addAction(book, "mend-beside", tr("Mend: the build beside what is tried"), Qt::SHIFT | Qt::Key_B, [this] {
        if (beside_->isEnabled())
            beside_->setChecked(!beside_->isChecked());
    });
    addAction(book, "mend-take", tr("Take the first proposal"), Qt::Key_T, [this] { mend_->take(0); });
    addAction(book, "mend-search", tr("Search what would help"), Qt::Key_F, [this] { mend_->search(); });
    addAction(book, "mend-propose", tr("Send the trial as a proposal"), Qt::Key_P, [this] {
        if (propose_->isEnabled())
            propose();
    });
    addAction(book, "mend-all", tr("Cure all that can be cured"), {}, [this] { mend_->cureAll(); });
    addAction(book, "mend-save-build", tr("Save the trial as a new build"), {}, [this] { saveBuild(); });
    addAction(book, "mend-recipe", tr("Write the recipe for the rigger"), {}, [this] { saveRecipe(); });
    const std::tuple<const char*, QString, MendVerb> verbs[] = {
        {"mend-softer", tr("Mend: softer"), MendVerb::Softer},
        {"mend-narrower", tr("Mend: narrower"), MendVerb::Narrower},
        {"mend-wider", tr("Mend: wider"), MendVerb::Wider},
        {"mend-from-parent", tr("Mend: from parent to child"), MendVerb::FromParent},
        {"mend-pass", tr("Mend: an even passage"), MendVerb::Pass},
        {"mend-other-side", tr("Mend: as the other side"), MendVerb::OtherSide},
        {"mend-keep-out", tr("Mend: keep the joint in hand out"), MendVerb::KeepOut},
        {"mend-neighbours", tr("Mend: from the neighbours"), MendVerb::FromNeighbours},
        {"mend-fill", tr("Mend: fill out"), MendVerb::Fill},
        {"mend-stiff", tr("Mend: stiff"), MendVerb::Stiff},
        {"mend-below", tr("Mend: a garment, as the skin below"), MendVerb::AsBelow},
        {"mend-bind", tr("Mend: bind anew"), MendVerb::BindAnew},
        {"mend-drop", tr("Mend: drop small influences"), MendVerb::DropSmall},
        {"mend-cap", tr("Mend: at most so many influences"), MendVerb::Cap},
        {"mend-centre", tr("Mend: the joint to the middle of its skin"), MendVerb::Centre},
        {"mend-shape", tr("Mend: shape the skin at this angle"), MendVerb::ShapeHere},
        {"mend-out", tr("Mend: bring the skin out at this angle"), MendVerb::BringOut},
        {"mend-in", tr("Mend: bring the skin in at this angle"), MendVerb::BringIn},
        {"mend-even", tr("Mend: even the skin out at this angle"), MendVerb::EvenHere},
        {"mend-flat", tr("Mend: lay the skin flat at this angle"), MendVerb::FlatHere},
        {"mend-out-of-flesh", tr("Mend: out of the flesh at this angle"), MendVerb::OutOfFlesh},
        {"mend-half-turn", tr("Mend: a joint that makes half of the turn"), MendVerb::HalfTurn},
        {"mend-fill-out", tr("Mend: a joint that fills the bend out"), MendVerb::FillOut},
        {"mend-share-roll", tr("Mend: share the roll of the joint in hand out"), MendVerb::ShareRoll},
        {"mend-follow-other", tr("Mend: follow as the other side does"), MendVerb::FollowOther},
        {"mend-smooth-after", tr("Mend: smooth the posed skin, its detail kept"), MendVerb::SmoothAfter},
        {"mend-dual", tr("Mend: skin by dual quaternions"), MendVerb::ByDual}};
    for (const auto& [id, words, verb] : verbs)
        addAction(book, id, words, {}, [this, v = verb] { applyVerb(v); });
    if (!viewport_)
        return;
    addAction(book, "mend-under", tr("Mend: take in hand what moves the skin under the pointer"), Qt::Key_W,
              [this] {
                  const auto hit = viewport_->pick(viewport_->pointer());
                  const auto& s = mend_->view().subject();
                  if (!hit || !s)
                      return;
                  if (const auto here = meanShares(*s, {s->surface.weldOf[hit->vertex]}); !here.empty())
                      mend_->takeInHand(here.front().joint);
              });
    const std::tuple<const char*, QString, QKeySequence, BrushDoes> strokes[] = {
        {"mend-brush-add", tr("Mend: strokes that give more"), Qt::Key_A, BrushDoes::Add},
        {"mend-brush-take", tr("Mend: strokes that take away"), Qt::Key_Z, BrushDoes::Take},
        {"mend-brush-soften", tr("Mend: strokes that soften"), Qt::Key_O, BrushDoes::Soften},
        {"mend-brush-around", tr("Mend: strokes as the skin around"), {}, BrushDoes::FromNeighbours},
        {"mend-brush-none", tr("Mend: strokes that keep out"), {}, BrushDoes::KeepOut},
        {"mend-brush-out", tr("Mend: strokes that bring the skin out at this angle"), Qt::Key_U,
         BrushDoes::Out},
        {"mend-brush-in", tr("Mend: strokes that bring the skin in at this angle"), Qt::Key_I, BrushDoes::In},
        {"mend-brush-even", tr("Mend: strokes that even the skin out at this angle"), Qt::Key_Y,
         BrushDoes::Even},
        {"mend-brush-drag", tr("Mend: drag the skin at this angle"), Qt::Key_H, BrushDoes::Drag}};
    for (const auto& [id, words, key, does] : strokes)
        addAction(book, id, words, key, [this, d = does] { brushLine_->press(d); });
    addAction(book, "mend-mark", tr("Mend: mark skin"), Qt::Key_M, [this] { brushLine_->pressMark(); });
    addAction(book, "mend-lasso", tr("Mend: mark what lies in a loop"), {},
              [this] { brushLine_->pressLasso(); });
    addAction(book, "mend-clear", tr("Mend: clear what is marked"), {}, [this] { marking_->clear(); });
    addAction(book, "mend-grow", tr("Mend: mark a ring more"), Qt::Key_Plus, [this] { marking_->grow(); });
    addAction(book, "mend-shrink", tr("Mend: mark a ring less"), Qt::Key_Minus,
              [this] { marking_->shrink(); });
    addAction(book, "mend-piece", tr("Mend: mark the whole piece"), {}, [this] { marking_->markPiece(); });
    addAction(book, "mend-mark-region", tr("Mend: mark the skin around the joint in hand"), Qt::Key_G,
              [this] { marking_->markRegion(); });
    addAction(book, "mend-larger", tr("Mend: a larger brush"), Qt::Key_PageUp,
              [this] { brush_->setRadius(brush_->radius() * 1.15); });
    addAction(book, "mend-smaller", tr("Mend: a smaller brush"), Qt::Key_PageDown,
              [this] { brush_->setRadius(brush_->radius() / 1.15); });
    addAction(book, "mend-stronger", tr("Mend: a stronger brush"), Qt::SHIFT | Qt::Key_PageUp,
              [this] { brush_->setStrength(brush_->strength() + 0.05); });
    addAction(book, "mend-weaker", tr("Mend: a weaker brush"), Qt::SHIFT | Qt::Key_PageDown,
              [this] { brush_->setStrength(brush_->strength() - 0.05); });
}

QString MendPage::keyLine(const ActionBook& book) const {
    return book.line({{{QStringLiteral("mend-step-back"), QStringLiteral("mend-step-on")}, tr("angle")},
                      {{QStringLiteral("mend-motion-back"), QStringLiteral("mend-motion-on")}, tr("motion")},
                      {{QStringLiteral("mend-before")}, tr("hold: before")},
                      {{QStringLiteral("mend-take")}, tr("take the first proposal")},
                      {{QStringLiteral("mend-brush-add"), QStringLiteral("mend-brush-take")}, tr("strokes")},
                      {{QStringLiteral("mend-mark")}, tr("mark")},
                      {{QStringLiteral("undo")}, tr("undo")},
                      {{QStringLiteral("keys")}, tr("all keys")}});
}

void MendPage::saveBuild() {
    const QFileInfo of(QString::fromStdString(build_->build() ? build_->build()->source : std::string()));
    const bool gltf = of.suffix().compare(QStringLiteral("gltf"), Qt::CaseInsensitive) == 0;
    const QString suffix = gltf ? QStringLiteral("gltf") : QStringLiteral("glb");
    const QString path = QFileDialog::getSaveFileName(
        this, tr("Save as a new build"),
        of.dir().filePath(QStringLiteral("%1-mended.%2").arg(of.completeBaseName(), suffix)),
        tr("glTF (*.%1)").arg(suffix));
    if (!path.isEmpty())
        mend_->saveBuild(path, 0);
}

void MendPage::saveRecipe() {
    const QString path = QFileDialog::getSaveFileName(this, tr("Recipe for the rigger"),
                                                      QStringLiteral("recipe.html"), tr("Page (*.html)"));
    if (!path.isEmpty())
        mend_->saveRecipe(path);
}

void MendPage::saveWeights() {
    const QString path = QFileDialog::getSaveFileName(this, tr("The weights"), QStringLiteral("weights.json"),
                                                      tr("JSON (*.json);;Table (*.csv)"));
    if (!path.isEmpty())
        mend_->saveWeights(path);
}

void MendPage::saveTrial() {
    const QString path = QFileDialog::getSaveFileName(this, tr("The steps of the trial"),
                                                      QStringLiteral("trial.json"), tr("Trial (*.json)"));
    if (!path.isEmpty())
        mend_->saveTrial(path);
}

void MendPage::takeTrial() {
    const QString path =
        QFileDialog::getOpenFileName(this, tr("Take steps from a file"), {}, tr("Trial (*.json)"));
    if (!path.isEmpty())
        mend_->takeTrial(path);
}

void MendPage::propose() {
    mend_->propose(viewport_ ? viewport_->camera().toJson() : QByteArrayLiteral("{}"),
                   viewport_ ? viewport_->picture() : QByteArray());
}

} // namespace hobble
