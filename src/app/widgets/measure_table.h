#pragma once
// The measures of one joint in one pose on two sides: what each was, what it is, its limit; what changed
// first. Pressing a row asks for its colours.
#include "app/view/colouring.h"
#include "core/compare/differences.h"

#include <QTableWidget>

class QLabel;
class QPushButton;

namespace hobble {

/// What stands beside what. A motion or joint that a side does not have is −1.
struct ComparedPose {
    ComparedSides sides; // [0] before, [1] now
    std::array<int, 2> motion{-1, -1}, joint{-1, -1};
    double at = 0; // in the motion's unit
    std::array<QString, 2> names;
};

class MeasureTable : public QWidget {
    Q_OBJECT
public:
    explicit MeasureTable(QWidget* parent = nullptr);
    /// Nothing where there is no motion or joint now.
    void show(const std::optional<ComparedPose>& pose);
    /// Only so many rows at first, those that changed or are near their limit; the table is then as high as
    /// what it shows. 0: all, scrolled.
    void setMostRows(int most);
    QTableWidget* table() const { return table_; }
    QString title() const;

protected:
    void resizeEvent(QResizeEvent*) override;

signals:
    void colouringWanted(hobble::Colouring colouring);

private:
    void fitHeight();
    void fitWidth(); // limits give way to the names of measures

    int mostRows_ = 0;
    bool all_ = false; // all rows, though only some were to be shown
    QPushButton* more_;
    QLabel *title_, *none_;
    QTableWidget* table_;
    std::vector<Kind> kinds_; // per row
};

} // namespace hobble
