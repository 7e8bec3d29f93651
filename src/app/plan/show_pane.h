#pragma once
// The show's own clips: where they are, how many, and what they do that the plan does not test.
#include "app/session/exposure_desk.h"

#include <QWidget>

class QCheckBox;
class QLabel;
class QPushButton;
class QVBoxLayout;

namespace hobble {

class ShowPane : public QWidget {
    Q_OBJECT
public:
    ShowPane(PlanDesk* plan, ExposureDesk* exposure, QWidget* parent = nullptr);

private:
    void addFolder();
    void addFiles();
    void refreshPlaces();
    void refresh();
    void refreshTotal();
    void refreshUntold();
    void refreshMeetings();
    QWidget* row(const ExposureDesk::Wider& wider);

    PlanDesk* plan_;
    ExposureDesk* exposure_;
    QVBoxLayout *places_ = nullptr, *wider_ = nullptr, *met_ = nullptr;
    QLabel *total_ = nullptr, *notes_ = nullptr, *pastTitle_ = nullptr, *notMoved_ = nullptr,
           *metTitle_ = nullptr;
    QPushButton *stop_ = nullptr, *again_ = nullptr, *unread_ = nullptr, *tell_ = nullptr, *meet_ = nullptr;
    QCheckBox* lighter_ = nullptr;
    QWidget* body_ = nullptr;
};

} // namespace hobble
