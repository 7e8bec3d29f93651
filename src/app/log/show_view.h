#pragma once
// How the whole show stands: every character of the log with its newest build; one leads to what is its own.
#include "app/session/log_desk.h"
#include "log/show_state.h"

class QTableWidget;
class QLabel;
class QLineEdit;
class QPushButton;

namespace hobble {

class ShowView : public QWidget {
    Q_OBJECT
public:
    explicit ShowView(LogDesk* log, QWidget* parent = nullptr);
    const ShowState& state() const { return state_; }

signals:
    void characterChosen(const QString& character);

protected:
    void showEvent(QShowEvent*) override;
    void resizeEvent(QResizeEvent*) override;

private:
    void ask();
    void fill();
    void find(); // only lines with all the words that are typed
    void save();
    LogDesk* log_;
    QTableWidget* table_;
    QLabel* words_;
    QLineEdit* find_;
    ShowState state_;
};

} // namespace hobble
