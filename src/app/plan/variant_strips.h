#pragma once
// What the plan found on the build and on each of its variants, side by side: a column each, a row for every
// motion that any of them does otherwise, as strips laid over the build's own. Press one and that variant
// takes that pose.
#include "app/session/pose_desk.h"
#include "app/session/run_desk.h"
#include "core/run/variant_run.h"

#include <QAbstractScrollArea>

namespace hobble {

class VariantStrips : public QAbstractScrollArea {
    Q_OBJECT
public:
    VariantStrips(BuildDesk* build, PlanDesk* plan, RunDesk* run, PoseDesk* pose, QWidget* parent = nullptr);

    bool isEmpty() const { return columns() == 0; } // nothing was tested
    int rows() const { return static_cast<int>(rows_.size()); }
    int columns() const { return static_cast<int>(run_->variantResults().size()); }
    QString sentenceAt(int row, int column) const;
    /// The place of an angle in a strip, in viewport coordinates.
    QPoint pointOf(int row, int column, double at) const;

    QSize sizeHint() const override { return {400, 220}; }

signals:
    void changed(); // there is something else to be seen, or nothing

protected:
    void paintEvent(QPaintEvent*) override;
    void resizeEvent(QResizeEvent*) override;
    void changeEvent(QEvent*) override;
    void keyPressEvent(QKeyEvent*) override;
    void mousePressEvent(QMouseEvent*) override;
    void mouseMoveEvent(QMouseEvent*) override;
    void mouseReleaseEvent(QMouseEvent*) override { dragged_ = false; }
    bool viewportEvent(QEvent*) override;

private:
    void rebuild();
    void layOut();
    const Motion& motionOf(int row) const;
    const TroubleCurve& curve(int row, int column) const;
    QRectF box(int row, int column) const; // of a strip
    int nameWidth() const;
    int headHeight() const;
    int rowAt(const QPoint& at) const;
    int columnAt(const QPoint& at) const; // −1 on the names
    void choose(int row, int column, double at);
    void paintStrip(QPainter& p, int row, int column);

    BuildDesk* build_;
    PlanDesk* plan_;
    RunDesk* run_;
    PoseDesk* pose_;
    std::vector<VariantDifference> rows_;
    int row_ = -1, column_ = -1; // chosen
    double at_ = 0;
    bool dragged_ = false;
};

} // namespace hobble
