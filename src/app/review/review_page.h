#pragma once
// The page a lead lives in: strips, the character, the reading.
#include "app/review/chart_dialog.h"
#include "app/review/findings_panel.h"
#include "app/review/reading_panel.h"
#include "app/review/spot_card.h"
#include "app/review/stage.h"
#include "app/review/strip_view.h"
#include "app/widgets/page.h"

namespace hobble {

class ReviewPage : public Page {
    Q_OBJECT
public:
    ReviewPage(BuildDesk* build, PlanDesk* plan, RunDesk* run, ExposureDesk* exposure, LogDesk* log,
               QUndoStack* undo, QWidget* parent = nullptr);
    QString id() const override { return QStringLiteral("review"); }
    QString title() const override { return tr("Review"); }
    QString count() const override;
    void addActions(ActionBook& book) override; // review_actions.cpp
    QString keyLine(const ActionBook& book) const override;
    QWidget* firstFocus() override;
    QString asksWhy() const override;
    void restyle() override;
    QJsonObject layoutToKeep() const override;
    void layOutAs(const QJsonObject& kept) override;
    QJsonObject placeToKeep() const override;
    void goBackTo(const QJsonObject& place) override;

    StripView* strips() const { return strips_; }
    Stage* stage() const { return stage_; }
    Viewport* viewport() const { return stage_->viewport(); } // null where there is no OpenGL
    Sweep* sweep() const { return sweep_; }

    // What the keys do
    void stepAngle(int by);
    void goToOnsetOrPeak(int by);
    void stepMotion(int by);
    void stepFinding(int by);
    void goNeutral();
    void logHere();
    void toggleOtherSide();
    void showChart();
    void logFinding(int finding); // at its worst angle, once that is shown
    void logMarked();
    void mendHere();
    void mendMarked(); // asks what it is
    void savePicture();
    void savePosedMesh();
    void settleFinding(int finding, bool accepts); // asks for the reason
    /// Shows a logged defect's pose, angle and camera again.
    void showDefect(const Defect& defect);

protected:
    QStringList namesInLayout() const override;

private:
    QWidget* buildStrips();
    QWidget* buildReading();
    void logWhenShown();
    int findingOf(int motion, int joint, const QString& kind) const; // −1: there is none
    QByteArray cameraJson() const;
    QByteArray picture() const;
    BuildDesk* build_;
    PlanDesk* plan_;
    RunDesk* run_;
    ExposureDesk* exposure_;
    LogDesk* log_;
    StripModel* model_;
    StripView* strips_ = nullptr;
    Sweep* sweep_ = nullptr;
    Stage* stage_ = nullptr;
    SpotCard* spot_ = nullptr; // over the stage, but in the look of the panels
    ReadingPanel* reading_ = nullptr;
    FindingsPanel* findings_ = nullptr;
    int toLog_ = -1; // the finding to log once its pose is shown
};

} // namespace hobble
