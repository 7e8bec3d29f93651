#pragma once
// What is done with the defects chosen on the Log page, each from a short list under the hand: give, judge,
// move on, take a way out, merge, take apart.
#include "app/session/log_desk.h"
#include "app/widgets/choice_popup.h"

namespace hobble {

class Triage : public QObject {
    Q_OBJECT
public:
    /// `anchor`: below it the lists open.
    Triage(LogDesk* log, QWidget* anchor);
    void setChosen(const QVector<qint64>& ids, qint64 current);
    const QVector<qint64>& chosen() const { return ids_; }

    void assign();
    void setSeverity(int severity);
    void askSeverity();
    void askState();
    void askWayOut(); // only the ways out
    void askDue();
    void askComment();
    void merge(); // the others into the one looked at; alone: into one that is found
    void split();

signals:
    void failed(const QString& message);

private:
    ChoicePopup* open(const QString& title, const QVector<Choice>& choices, bool free = false);
    QVector<Choice> moves(bool onlyWaysOut) const;
    QString aboutChosen() const; // "defect 12", "3 defects"
    LogDesk* log_;
    QWidget* anchor_;
    QVector<qint64> ids_;
    qint64 current_ = 0;
};

} // namespace hobble
