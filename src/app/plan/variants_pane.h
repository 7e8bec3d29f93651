#pragma once
// Variants of the build: which parts are on, which shapes are set, whether drivers work; and what the plan
// finds on each of them.
#include "app/session/session.h"

#include <QWidget>

class QCheckBox;
class QComboBox;
class QLabel;
class QLineEdit;
class QPushButton;
class QVBoxLayout;

namespace hobble {

class VariantsPane : public QWidget {
    Q_OBJECT
public:
    explicit VariantsPane(Session* session, QWidget* parent = nullptr);

private:
    void refresh();
    void refreshSwitches();
    void add();
    void remove();
    void change(const std::function<void(Variant&)>& how);

    Session* session_;
    QComboBox* which_ = nullptr;
    QLineEdit* name_ = nullptr;
    QPushButton *remove_ = nullptr, *test_ = nullptr;
    QWidget* switches_ = nullptr;
    QLabel* results_ = nullptr;
    bool filling_ = false;
};

} // namespace hobble
