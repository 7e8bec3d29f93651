#pragma once
// Mend: try the cure before it is sent. Left what could be done, in the middle how it looks, right what it
// does to the numbers. It starts from a finding or a defect and from proposals; a hand improves on them.
#include "app/mend/axis_tool.h"
#include "app/mend/brush_line.h"
#include "app/mend/elsewhere.h"
#include "app/mend/joint_shares.h"
#include "app/mend/joint_tool.h"
#include "app/mend/mend_strip.h"
#include "app/mend/proposals.h"
#include "app/mend/step_list.h"
#include "app/view/legend.h"
#include "app/widgets/measure_table.h"
#include "app/widgets/page.h"

class QComboBox;
class QLabel;
class QMenu;
class QPushButton;

namespace hobble {

class MendPage : public Page {
    Q_OBJECT
public:
    MendPage(MendDesk* mend, BuildDesk* build, RunDesk* run, LogDesk* log, QUndoStack* undo,
             QWidget* parent = nullptr);
    ~MendPage() override;
    QString id() const override { return QStringLiteral("mend"); }
    QString title() const override { return tr("Mend"); }
    QString count() const override;
    void addActions(ActionBook& book) override;
    QString keyLine(const ActionBook& book) const override;
    QWidget* firstFocus() override { return strip_; }
    void restyle() override;
    QJsonObject placeToKeep() const override;
    void goBackTo(const QJsonObject& place) override;

    Viewport* viewport() const { return viewport_; } // null where there is no OpenGL
    BrushTool* brush() const { return brush_; }      // null there, too
    JointTool* jointTool() const { return jointTool_; }
    AxisTool* axisTool() const { return axisTool_; }
    Viewport* buildViewport() const { return buildViewport_; }
    MarkingTool* marking() const { return marking_; }
    MendStrip* strip() const { return strip_; }
    StepList* steps() const { return steps_; }
    MeasureTable* numbers() const { return numbers_; }
    JointShares* shares() const { return shares_; }

signals:
    void buildWanted(const QString& path);       // a mended one, to be opened and run
    void compareFileWanted(const QString& path); // or laid against the open one
    void compareTrialWanted();                   // as it is tried now, against the build

protected:
    QStringList namesInLayout() const override { return {QStringLiteral("mendColours")}; }
    bool eventFilter(QObject* watched, QEvent* event) override;

private:
    QWidget* buildLeft();
    QWidget* buildMiddle();
    QWidget* buildRight();
    void fillTrials(QMenu* menu);
    void refreshAim();
    void refreshSteps();
    void refreshNumbers();
    void refreshShares();
    void refreshView();
    void follow();
    void join();
    void showBeside(bool on);
    void setColouring(Colouring c);
    void lookAtAim();
    void applyVerb(MendVerb verb);
    std::vector<std::uint32_t> marked() const; // welded vertices
    void stepAngle(int by);
    void goTo(double at);
    void stepMotion(int by);
    void saveBuild();
    void saveRecipe();
    void saveWeights();
    void saveTrial();
    void takeTrial();
    void propose();

    MendDesk* mend_;
    BuildDesk* build_;
    RunDesk* run_;
    LogDesk* log_;
    Viewport* viewport_ = nullptr;
    BrushTool* brush_ = nullptr;
    JointTool* jointTool_ = nullptr; // null without OpenGL
    AxisTool* axisTool_ = nullptr;   // likewise
    Viewport *buildViewport_ = nullptr, *leads_ = nullptr;
    bool following_ = false, joined_ = false; // joined: the build is seen as what is tried is
    MarkingTool* marking_ = nullptr;
    Legend* legend_ = nullptr;
    MendStrip* strip_ = nullptr;
    StepList* steps_ = nullptr;
    MeasureTable* numbers_ = nullptr;
    JointShares* shares_ = nullptr;
    QLabel *aim_ = nullptr, *notes_ = nullptr, *stepsTitle_ = nullptr, *gone_ = nullptr, *shown_ = nullptr;
    BrushLine* brushLine_ = nullptr;
    Elsewhere* elsewhere_ = nullptr;
    QPushButton *trials_ = nullptr, *before_ = nullptr, *beside_ = nullptr, *propose_ = nullptr,
                *openSaved_ = nullptr, *compareSaved_ = nullptr;
    QComboBox* colours_ = nullptr;
    QAction* beforeAction_ = nullptr;
    std::vector<QWidget*> needRun_; // of no use without a run
};

} // namespace hobble
