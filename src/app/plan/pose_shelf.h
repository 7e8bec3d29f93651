#pragma once
// The shelf of poses with their thumbnails: those of the plan, and those kept for any character. Pressing one
// puts the character into it.
#include "app/session/session.h"

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
    explicit PoseShelf(Session* session, QWidget* parent = nullptr);

signals:
    void poseShown();

private:
    void refresh();
    void show(QListWidgetItem* item);
    void paintThumbnails();
    void keep();
    void putInPlan();
    void takeAway();

    Session* session_;
    QListWidget* list_ = nullptr;
    QLineEdit* name_ = nullptr;
    QPushButton* away_ = nullptr;
    std::map<std::string, QImage> thumbnails_; // by what the item shows
    std::string shownCharacter_;
    int making_ = 0; // rounds of thumbnails; a newer one makes an older one stop
};

} // namespace hobble
