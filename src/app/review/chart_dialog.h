#pragma once
// The measures of a motion in a large chart: values along the angle with their limits, the mirrored side and
// the earlier build beside them; press on it to go to that angle. Its data go out as CSV or JSON, its picture
// as PNG or SVG.
#include "app/review/measure_line.h"

#include <QDialog>

class QChart;
class QChartView;
class QComboBox;
class QLabel;
class QValueAxis;

namespace hobble {

class ChartDialog : public QDialog {
    Q_OBJECT
public:
    ChartDialog(BuildDesk* build, PlanDesk* plan, RunDesk* run, QWidget* parent);

    /// What is drawn, as rows of "curve, degrees, value".
    QByteArray csv() const;
    QByteArray json() const;
    bool savePicture(const QString& path); // .png or .svg, by its ending
    int measure() const;
    QPointF pointOf(double degrees, double value) const; // in the chart's view

signals:
    void failed(const QString& message);

protected:
    bool eventFilter(QObject* watched, QEvent* event) override;

private:
    void listMeasures();
    void draw();
    void markNow();
    void saveData();
    struct Curve {
        QString name;
        MeasureLine line;
    };
    std::vector<Curve> curves() const;
    BuildDesk* build_;
    PlanDesk* plan_;
    RunDesk* run_;
    QComboBox* measure_;
    QLabel* title_;
    QChart* chart_;
    QChartView* view_;
    QValueAxis *across_ = nullptr, *up_ = nullptr;
    int motion_ = -1, joint_ = -1;
};

} // namespace hobble
