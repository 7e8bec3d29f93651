#pragma once
// Taking poses from a clip: its frames as a strip, which of them to test, and which joint of the clip is
// which.
#include "app/plan/clip_strip.h"
#include "app/session/pose_desk.h"

#include <QWidget>

class QCheckBox;
class QComboBox;
class QLabel;
class QPushButton;
class QSpinBox;

namespace hobble {

class ClipPane : public QWidget {
    Q_OBJECT
public:
    ClipPane(BuildDesk* build, PoseDesk* pose, QWidget* parent = nullptr);

private:
    void open();
    void refresh();
    void refreshFrame();
    void choose(); // the clip, and how it is carried over
    void put();
    void editMap();

    BuildDesk* build_;
    PoseDesk* desk_;
    ClipStrip* strip_ = nullptr;
    QWidget* body_ = nullptr;
    QLabel *title_ = nullptr, *frame_ = nullptr, *notes_ = nullptr;
    QComboBox *clips_ = nullptr, *beyond_ = nullptr, *which_ = nullptr, *rest_ = nullptr;
    QSpinBox *first_ = nullptr, *last_ = nullptr, *every_ = nullptr, *most_ = nullptr;
    QCheckBox* feet_ = nullptr;
    QPushButton* map_ = nullptr;
    bool filling_ = false;
};

} // namespace hobble
