#pragma once
// What the log's defects are on the open build, in one line, wherever it matters; a press goes to Compare,
// where they are worked through.
#include "app/session/compare_desk.h"

#include <QWidget>

class QLabel;
class QPushButton;

namespace hobble {

class CheckedLine : public QWidget {
    Q_OBJECT
public:
    /// Of all of them, or once `setDefect` was called of one.
    explicit CheckedLine(CompareDesk* compare, QWidget* parent = nullptr);
    void setDefect(qint64 defect);

signals:
    void wanted(qint64 defect); // 0: the whole

private:
    void refresh();
    CompareDesk* compare_;
    qint64 defect_ = -1;
    QLabel* words_;
    QPushButton* go_;
};

} // namespace hobble
