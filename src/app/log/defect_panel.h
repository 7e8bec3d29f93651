#pragma once
// One defect's story: picture, numbers, who and how urgent, comments, history.
#include "app/session/session.h"

#include <QWidget>

class QComboBox;
class QLabel;
class QLineEdit;
class QPushButton;
class QVBoxLayout;

namespace hobble {

class DefectPanel : public QWidget {
    Q_OBJECT
public:
    explicit DefectPanel(Session* session, QWidget* parent = nullptr);
    void show(qint64 id); // 0 for none
    qint64 defect() const { return id_; }
    void focusComment();
    void openAssignees();

signals:
    void showInReview(qint64 id);
    void rosterWanted();

private:
    void refresh();
    void fillAssignees(const QString& current);
    Session* session_;
    qint64 id_ = 0;
    QWidget *body_, *empty_;
    QLabel *title_, *facts_, *picture_, *cause_;
    QComboBox *assignee_, *severity_, *status_;
    QLineEdit *due_, *comment_;
    QVBoxLayout* history_;
    QPushButton* back_;
    qint64 pictureOf_ = 0;
};

} // namespace hobble
