#pragma once
// The motions of a comparison as strips with both silhouettes: what is over the other side's is tinted as
// worse, what is under it as better. Press or drag on a strip and both characters take that pose.
#include "app/session/compare_desk.h"

#include <QAbstractScrollArea>

namespace hobble {

class CompareStrips : public QAbstractScrollArea {
    Q_OBJECT
public:
    enum class Order { WorseFirst, BetterFirst, CameBack, Body }; // the first three show only what changed so

    explicit CompareStrips(CompareDesk* compare, QWidget* parent = nullptr);

    Order order() const { return order_; }
    void setOrder(Order order);
    int count(Order order) const; // of the rows it would show
    int rows() const { return static_cast<int>(rows_.size()); }
    int motionAt(int row) const { return rows_[static_cast<std::size_t>(row)].motion; }
    QString sentenceAt(int row) const;
    /// Where a motion takes an angle, in viewport coordinates; a null point when its row is not shown.
    QPoint pointOf(int motion, double at) const;
    void step(int by); // to the next motion, at its largest change
    void reveal(int motion);

    QSize sizeHint() const override { return {400, 320}; }

protected:
    void paintEvent(QPaintEvent*) override;
    void resizeEvent(QResizeEvent*) override;
    void changeEvent(QEvent*) override;
    void mousePressEvent(QMouseEvent*) override;
    void mouseMoveEvent(QMouseEvent*) override;
    void mouseReleaseEvent(QMouseEvent*) override { dragged_ = -1; }
    bool viewportEvent(QEvent*) override;

private:
    struct Row {
        int motion = -1;
        QString name;
        double limit = 0;
        QString unit;
        TroubleCurve before, now;
        Change verdict = Change::Same;
        bool mixed = false;
        double change = 0, at = 0; // where it changed most
        // of the measures that got worse, and better, the one that did most
        struct Way {
            std::optional<Kind> kind;
            double change = 0, at = 0;
        } worse, better;
        std::optional<Kind> only; // drawn by this one alone: the worst of all would hide the change
    };
    void rebuild();
    void layOut();
    void takeCurves(Row& row) const; // of the worst measure, or of row.only
    bool shows(const Row& row, Order order) const;
    QRectF curveBox(int row) const;
    int rowAt(int y) const;
    int nameWidth() const;
    void scrub(double x);
    void paintRow(QPainter& p, int row);

    CompareDesk* compare_;
    Order order_ = Order::WorseFirst;
    std::vector<Row> all_, rows_;
    QSet<int> cameBack_; // motions of closed defects that are there again
    int dragged_ = -1;
};

} // namespace hobble
