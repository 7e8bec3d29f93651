#pragma once
// The table of one joint at one angle: each measure on both sides, its change and its limit; what changed
// first. Pressing a row colours both characters by it.
#include "app/session/compare_desk.h"
#include "app/view/colouring.h"

#include <QTableWidget>

class QLabel;

namespace hobble {

class JointTable : public QWidget {
    Q_OBJECT
public:
    explicit JointTable(CompareDesk* compare, QWidget* parent = nullptr);
    void refresh();
    QTableWidget* table() const { return table_; }
    QString title() const;

signals:
    void colouringWanted(hobble::Colouring colouring);

private:
    CompareDesk* compare_;
    QLabel *title_, *none_;
    QTableWidget* table_;
    std::vector<Kind> kinds_; // per row
};

} // namespace hobble
