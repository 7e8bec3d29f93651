#pragma once
// Variants of the build: which parts are on, which shapes are set, whether drivers work; and what the plan
// finds on each of them.
#include "app/session/run_desk.h"

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
    VariantsPane(BuildDesk* build, RunDesk* run, QWidget* parent = nullptr);

signals:
    void failed(const QString& message);

private:
    void refresh();
    void refreshSwitches();
    void add();
    void remove();
    void change(const std::function<void(Variant&)>& how);

    BuildDesk* build_;
    RunDesk* run_;
    QComboBox* which_ = nullptr;
    QLineEdit* name_ = nullptr;
    QPushButton *remove_ = nullptr, *test_ = nullptr;
    QWidget* switches_ = nullptr;
    QLabel* results_ = nullptr;
    bool filling_ = false;
};

} // namespace hobble
