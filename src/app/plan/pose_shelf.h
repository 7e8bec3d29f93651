#pragma once
// The shelf of poses with their thumbnails: those of the plan, and those kept for any character. Pressing one
// puts the character into it.
#include "app/session/pose_desk.h"
#include "app/session/run_desk.h"

#include <QImage>
#include <QWidget>

#include <map>

class QLineEdit;
class QListWidget;
class QListWidgetItem;
class QPushButton;

namespace hobble {

class PoseShelf : public QWidget {
    Q_OBJECT
public:
    PoseShelf(BuildDesk* build, PlanDesk* plan, PoseDesk* pose, RunDesk* run, QWidget* parent = nullptr);

signals:
    void told(const QString& message);

protected:
    void showEvent(QShowEvent* event) override;

private:
    void refresh();
    void show(QListWidgetItem* item);
    void paintThumbnails();
    void keep();
    void putInPlan();
    void takeAway();

    BuildDesk* build_;
    PlanDesk* plan_;
    PoseDesk* pose_;
    RunDesk* run_;
    QListWidget* list_ = nullptr;
    QLineEdit* name_ = nullptr;
    QPushButton* away_ = nullptr;
    std::map<std::string, QImage> thumbnails_; // by what the item shows
    std::string shownCharacter_;
    // Rounds of thumbnails; a newer one makes an older one stop.
    const std::shared_ptr<std::atomic<int>> making_ = std::make_shared<std::atomic<int>>(0);
};

} // namespace hobble
