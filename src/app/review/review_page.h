#pragma once
// The page a lead lives in: strips, the character, the reading.
#include "app/review/findings_panel.h"
#include "app/review/legend.h"
#include "app/review/reading_panel.h"
#include "app/review/spot_card.h"
#include "app/review/strip_view.h"
#include "app/review/viewport.h"

#include <QElapsedTimer>

class QAction;

namespace hobble {

class ReviewPage : public QWidget {
    Q_OBJECT
public:
    explicit ReviewPage(Session* session, QWidget* parent = nullptr);

    StripView* strips() const { return strips_; }
    Viewport* viewport() const { return viewport_; } // null where there is no OpenGL

    // What the keys do
    void stepAngle(int by);
    void goToOnsetOrPeak(int by);
    void stepMotion(int by);
    void stepFinding(int by);
    void goNeutral();
    enum class SweepOver { Motion, Limb, Plan };
    void toggleSweep(SweepOver over = SweepOver::Motion); // there and back, one after another; again: stops
    bool sweeping() const;
    void logHere();
    void toggleOtherSide();
    void logFinding(int finding); // at its worst angle, once that is shown
    void savePicture();
    void savePosedMesh();
    void settleFinding(int finding, const QString& status); // asks for the reason
    void restyle();                                         // after a change of theme
    /// Shows a logged defect's pose, angle and camera again.
    void showDefect(const Defect& defect);

signals:
    void defectWanted(qint64 id);

private:
    QWidget* buildStrips();
    QWidget* buildViewport();
    QWidget* buildReading();
    void showTitle();
    void logWhenShown();
    Session* session_;
    StripModel* model_;
    StripView* strips_ = nullptr;
    Viewport* viewport_ = nullptr;
    Legend* legend_ = nullptr;
    SpotCard* spot_ = nullptr;
    ReadingPanel* reading_ = nullptr;
    FindingsPanel* findings_ = nullptr;
    QLabel *title_ = nullptr, *subtitle_ = nullptr;
    QTimer* sweep_ = nullptr;
    QElapsedTimer sweepClock_;
    SweepOver sweepOver_ = SweepOver::Motion;
    bool sweepBack_ = false;
    void sweepOn();
    int motionAfter(int motion) const; // in the order of the strips, of the limb or the plan; -1 at the end
    QWidget* stage_ = nullptr;         // what frames the viewport
    int toLog_ = -1;                   // the finding to log once its pose is shown
};

} // namespace hobble
