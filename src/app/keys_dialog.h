#pragma once
// All keys: what each does, to be found by typing, and to be changed by pressing another one.
#include "app/action_book.h"

#include <QDialog>

class QLabel;
class QLineEdit;
class QTableWidget;

namespace hobble {

class KeysDialog : public QDialog {
    Q_OBJECT
public:
    KeysDialog(ActionBook* book, QWidget* parent);

protected:
    bool eventFilter(QObject* watched, QEvent* event) override;

private:
    void list();
    void startChange(int row);
    void take(const QKeySequence& key);
    QAction* actionAt(int row) const;
    ActionBook* book_;
    QLineEdit* find_;
    QTableWidget* table_;
    QLabel* told_;
    QAction* changing_ = nullptr;
};

} // namespace hobble
