#pragma once
// The log: the table and, beside it, the story of the chosen defect.
#include "app/log/defect_panel.h"
#include "app/log/log_model.h"

class QLineEdit;
class QSortFilterProxyModel;
class QTableView;

namespace hobble {

class LogPage : public QWidget {
    Q_OBJECT
public:
    explicit LogPage(Session* session, QWidget* parent = nullptr);
    void choose(qint64 id);
    qint64 chosen() const;
    void step(int by);              // next or previous defect
    void setSeverity(int severity); // of the chosen one
    void setStatus(const QString& status);
    void assign(); // opens the list of people

signals:
    void showInReview(qint64 id);

private:
    Session* session_;
    LogModel* model_;
    QSortFilterProxyModel* sorted_;
    QTableView* table_;
    QWidget* emptyHint_;
    DefectPanel* panel_;
};

} // namespace hobble
