#pragma once
// The reading: for the joint at this angle every measure with value, limit, a small curve over the whole
// angle, the mirrored side in outline and the earlier build dashed; the motion's worst measure first.
#include "app/review/measure_line.h"
#include "app/widgets/severity_chip.h"

#include <QLabel>
#include <QWidget>

class QGridLayout;
class QPushButton;
class QScrollArea;
class QVBoxLayout;

namespace hobble {

/// A measure over the angle: the value's curve, the other side and the earlier build beside it, the angle
/// now.
class MeasureCurve : public QWidget {
    Q_OBJECT
public:
    explicit MeasureCurve(QWidget* parent = nullptr);
    void show(MeasureLines lines, double limit, double now);

protected:
    void paintEvent(QPaintEvent*) override;

private:
    MeasureLines lines_;
    double limit_ = 0, now_ = 0;
};

class ReadingPanel : public QWidget {
    Q_OBJECT
public:
    explicit ReadingPanel(BuildDesk* build, PlanDesk* plan, RunDesk* run, QWidget* parent = nullptr);

    void setOtherSideShown(bool on);
    bool otherSideShown() const { return otherShown_; }
    void show();

signals:
    void chartWanted();

private:
    struct Row {
        QWidget* widget = nullptr;
        QLabel *name = nullptr, *value = nullptr, *limit = nullptr;
        MeasureCurve* curve = nullptr;
        SeverityChip* chip = nullptr;
        QGridLayout* grid = nullptr;
        int lines = 0; // that it takes
        QColor ink;
    };
    static void arrange(Row& row);
    void showRow(Row& row, int measure, const ZoneMeasures& now, int joint);
    std::optional<double> ofRunNow(int measure) const;

    BuildDesk* build_;
    PlanDesk* plan_;
    RunDesk* run_;
    QLabel *title_, *note_;
    QVBoxLayout* rowsLayout_;
    std::vector<Row> rows_; // by measure
    QPushButton *more_ = nullptr, *onset_ = nullptr, *peak_ = nullptr, *chart_ = nullptr;
    void showLinks();
    QScrollArea* scroll_ = nullptr;
    bool otherShown_ = true, everything_ = false;
};

} // namespace hobble
