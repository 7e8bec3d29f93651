#pragma once
// The plan's versions in the log, what has changed since the last run and between versions, and the plan out
// again: as JSON, and as a test clip.
#include "app/session/session.h"

#include <QWidget>

class QLabel;
class QLineEdit;
class QListWidget;
class QPushButton;

namespace hobble {

class VersionsPane : public QWidget {
    Q_OBJECT
public:
    explicit VersionsPane(Session* session, QWidget* parent = nullptr);
    /// Writes the plan as a clip: .glb or .bvh by the name.
    void writeTestClip(const QString& path);
    void savePlan(const QString& path);
    void openPlan(const QString& path);

private:
    void refresh();
    void refreshChanges();

    Session* session_;
    QListWidget* versions_ = nullptr;
    QLabel *since_ = nullptr, *differs_ = nullptr;
    QLineEdit* note_ = nullptr;
    QPushButton* take_ = nullptr;
};

} // namespace hobble
