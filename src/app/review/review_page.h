#pragma once
// The page a lead lives in: strips, the character, the reading.
#include "app/review/chart_dialog.h"
#include "app/review/findings_panel.h"
#include "app/review/reading_panel.h"
#include "app/review/spot_card.h"
#include "app/review/stage.h"
#include "app/review/strip_view.h"

namespace hobble {

class ReviewPage : public QWidget {
    Q_OBJECT
public:
    explicit ReviewPage(Session* session, QWidget* parent = nullptr);

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
    void logMarked();             // asks what it is
    void savePicture();
    void savePosedMesh();
    void settleFinding(int finding, bool accepts); // asks for the reason
    void restyle();                                // after a change of theme
    /// Shows a logged defect's pose, angle and camera again.
    void showDefect(const Defect& defect);

signals:
    void defectWanted(qint64 id);

private:
    QWidget* buildStrips();
    QWidget* buildReading();
    void logWhenShown();
    QByteArray cameraJson() const;
    QByteArray picture() const;
    Session* session_;
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
