#pragma once
// The motion strips: one view over the model, and the scrubber. Press or drag on a strip and the character
// takes that pose; press a group's name and it folds.
#include "app/review/strip_model.h"

#include <QAbstractScrollArea>
#include <QSet>

#include <functional>

namespace hobble {

class StripView : public QAbstractScrollArea {
    Q_OBJECT
public:
    StripView(StripModel* model, BuildDesk* build, PlanDesk* plan, RunDesk* run, QWidget* parent = nullptr);

    /// Where a motion takes an angle, in viewport coordinates; a null point when its row is not shown.
    QPoint pointOf(int motion, double degrees) const;
    void setFolded(const QString& group, bool folded);
    bool isFolded(const QString& group) const { return folded_.contains(group); }
    const QSet<QString>& folded() const { return folded_; }
    void reveal(int motion);                  // unfolds and scrolls to its row
    void foldChosen();                        // the limb of the motion looked at, or opens it again
    int motionBeside(int from, int by) const; // the next or previous one shown; -1 when there is none

    QSize sizeHint() const override { return {420, 600}; }

protected:
    void paintEvent(QPaintEvent*) override;
    void resizeEvent(QResizeEvent*) override;
    void changeEvent(QEvent*) override;
    void mousePressEvent(QMouseEvent*) override;
    void mouseMoveEvent(QMouseEvent*) override;
    void mouseReleaseEvent(QMouseEvent*) override;
    bool viewportEvent(QEvent*) override;

private:
    struct Line { // one laid-out row
        QModelIndex index;
        int top = 0, height = 0;
        bool group = false;
    };
    void layOut();
    void paintLine(QPainter& p, const Line& line);
    void paintCurve(QPainter& p, const StripCurve& c, const QRectF& box, bool leftwards, bool labelled);
    using Place = std::function<double(double)>; // of an angle, or of trouble, in the viewport
    QPolygonF edgeOf(const TroubleCurve& curve, int side, const Place& x, const Place& y, double limit) const;
    void paintUse(QPainter& p, const StripCurve& c, const QRectF& box, const Place& x) const;
    void paintBand(QPainter& p, const TroubleCurve& curve, const Place& x, const Place& y,
                   double limit) const;
    int nameWidth() const;
    QRectF curveBox(const Line& line) const;
    QRectF halfBox(const Line& line, const StripCurve& c, const StripRow& row) const;
    void scrub(const QPoint& at);
    const Line* lineAt(int y) const;

    StripModel* model_;
    BuildDesk* build_;
    PlanDesk* plan_;
    RunDesk* run_;
    std::vector<Line> lines_;
    QSet<QString> folded_;
    QPersistentModelIndex marked_; // the row of the pose shown
    int dragged_ = -1;             // the motion being scrubbed
};

} // namespace hobble
