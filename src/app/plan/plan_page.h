#pragma once
// The Plan page: the motions on the left; the character to be posed, with the ranges of its joints as arcs,
// in the middle; poses, clips, variants and versions on the right.
#include "app/plan/plan_model.h"
#include "app/plan/posing_tool.h"
#include "app/session/exposure_desk.h"
#include "app/widgets/page.h"

class QCheckBox;
class QDoubleSpinBox;
class QLabel;
class QPushButton;
class QScrollArea;
class QStackedWidget;
class QTreeView;

namespace hobble {

class VariantStrips;
class VersionsPane;

class PlanPage : public Page {
    Q_OBJECT
public:
    enum Pane { Poses, Clips, Show, Variants, Versions };

    PlanPage(BuildDesk* build, PlanDesk* plan, PoseDesk* pose, RunDesk* run, ExposureDesk* exposure,
             LogDesk* log, QWidget* parent = nullptr);
    QString id() const override { return QStringLiteral("plan"); }
    QString title() const override { return tr("Plan"); }
    QString count() const override;
    void addActions(ActionBook& book) override;
    QString keyLine(const ActionBook& book) const override;
    QWidget* firstFocus() override;
    QJsonObject placeToKeep() const override;
    void goBackTo(const QJsonObject& place) override;

    Viewport* viewport() const { return viewport_; } // null where there is no OpenGL
    QTreeView* motions() const { return motions_; }
    void showPane(int pane);
    void runPlan();
    void takeOut(); // what is chosen in the list

signals:
    void reviewWanted();

private:
    QWidget* buildLeft();
    QWidget* buildMiddle();
    QWidget* buildRight();
    void showVariantStrips();
    void refresh();
    void refreshJoint();
    void refreshWords();
    void setAngle(int axis, double degrees);
    void showMotion(const QModelIndex& at);

    BuildDesk* build_;
    PlanDesk* plan_;
    PoseDesk* pose_;
    RunDesk* run_;
    ExposureDesk* exposure_;
    LogDesk* log_;
    PlanModel* model_;
    Viewport* viewport_ = nullptr;
    PosingTool* posing_ = nullptr;
    VariantStrips* variantStrips_ = nullptr;
    QTreeView* motions_ = nullptr;
    QLabel *cost_ = nullptr, *stale_ = nullptr, *jointTitle_ = nullptr, *words_ = nullptr;
    QPushButton* runButton_ = nullptr;
    QScrollArea* wordsRoom_ = nullptr;
    QDoubleSpinBox* angle_[3] = {nullptr, nullptr, nullptr};
    QCheckBox* pinned_ = nullptr;
    QStackedWidget* panes_ = nullptr;
    std::vector<QPushButton*> tabs_;
    QString said_;
    bool filling_ = false;
};

} // namespace hobble
