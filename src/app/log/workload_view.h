#pragma once
// Who has how much, how bad and how old; a person leads to what is theirs.
#include "app/session/log_desk.h"

class QTableWidget;
class QLabel;

namespace hobble {

class WorkloadView : public QWidget {
    Q_OBJECT
public:
    explicit WorkloadView(LogDesk* log, QWidget* parent = nullptr);

signals:
    void personChosen(const QString& name);

protected:
    void showEvent(QShowEvent*) override;
    void resizeEvent(QResizeEvent*) override;

private:
    void refresh();
    LogDesk* log_;
    QTableWidget* table_;
    QLabel* words_;
};

} // namespace hobble
