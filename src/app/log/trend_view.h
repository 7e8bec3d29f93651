#pragma once
// How it goes: what is open over weeks or builds, by severity, as a chart; and what was found, cured and came
// back, in a table whose numbers lead to their defects. No score of people.
#include "app/session/log_desk.h"
#include "log/trend.h"

#include <QWidget>

class QChartView;
class QComboBox;
class QLabel;
class QPushButton;
class QTableWidget;

namespace hobble {

class TrendView : public QWidget {
    Q_OBJECT
public:
    explicit TrendView(LogDesk* log, QWidget* parent = nullptr);
    const Trend& trend() const { return trend_; }
    void restyle(); // after a change of theme
    void save();    // as a table, or a page to print

signals:
    void defectsWanted(const QSet<qint64>& defects); // that a number stands for
    void failed(const QString& message);

protected:
    void showEvent(QShowEvent*) override;

private:
    void fillChoices();
    void ask();
    void draw();
    TrendQuery query() const; // as chosen
    QString title() const;    // of that
    LogDesk* log_;
    Trend trend_;
    int asked_ = 0; // the newest question; answers to older ones are too late
    QPushButton *weeks_, *builds_;
    QComboBox *character_, *kind_, *joint_, *cause_;
    QChartView* chart_;
    QTableWidget* table_;
    QLabel* words_;
};

} // namespace hobble
