#pragma once
// What came in, and is it fit to be tested? The checks on the left, the character in neutral in the middle
// with what is chosen marked on it, and on the right what to do about it, what the joints are, and the
// builds.
#include "app/intake/check_model.h"
#include "app/intake/joint_model.h"
#include "app/intake/pointing_tool.h"
#include "app/session/plan_desk.h"
#include "app/widgets/page.h"

#include <QTimer>

class QComboBox;
class QLabel;
class QListView;
class QPushButton;
class QSortFilterProxyModel;
class QStackedWidget;
class QTableView;

namespace hobble {

class BuildsPane;
class CheckedLine;
class CompareDesk;

class IntakePage : public Page {
    Q_OBJECT
public:
    /// `start`: what is shown while no character is open.
    IntakePage(BuildDesk* build, PlanDesk* plan, LogDesk* log, CompareDesk* compare, QWidget* start,
               QWidget* parent = nullptr);

    QString id() const override { return QStringLiteral("intake"); }
    QString title() const override { return tr("Intake"); }
    QString count() const override;
    void addActions(ActionBook& book) override;
    QString keyLine(const ActionBook& book) const override;
    QWidget* firstFocus() override;
    QString asksWhy() const override;
    QJsonObject placeToKeep() const override;
    void goBackTo(const QJsonObject& place) override;

    Viewport* viewport() const { return viewport_; } // null where there is no OpenGL
    QListView* checks() const { return checks_; }
    BuildsPane* builds() const { return builds_; }
    void stepCheck(int by); // the next or the previous failing check
    void tellRigger();      // logs the check looked at
    void togglePassed();
    void showLimits();
    void showJoints();
    void showBuilds();

signals:
    void characterWanted(const QString& path);

protected:
    void changeEvent(QEvent* event) override;

private:
    void fitJointTable();
    QWidget* buildLeft();
    QWidget* buildPlacing();
    QWidget* buildMiddle();
    QWidget* buildCard();
    QWidget* buildJoints();
    void refresh();
    void refreshPlacing();
    void place();
    void refreshCard();
    void chooseJoint(int joint);
    void correct();

    BuildDesk* build_;
    PlanDesk* plan_;
    LogDesk* log_;
    CheckModel* checkModel_ = nullptr;
    JointModel* jointModel_ = nullptr;
    Viewport* viewport_ = nullptr;
    PointingTool* pointing_ = nullptr;
    QStackedWidget *whole_ = nullptr, *side_ = nullptr;
    QListView* checks_ = nullptr;
    QLabel *score_ = nullptr, *summary_ = nullptr, *notes_ = nullptr;
    QLabel *cardTitle_ = nullptr, *cardWords_ = nullptr, *cardAdvice_ = nullptr, *cardPlace_ = nullptr;
    QPushButton *tell_ = nullptr, *mend_ = nullptr, *jointsTab_ = nullptr, *buildsTab_ = nullptr,
                *offer_ = nullptr;
    QTableView* joints_ = nullptr;
    QWidget* placing_ = nullptr;
    QComboBox *unit_ = nullptr, *up_ = nullptr;
    QLabel* height_ = nullptr;
    QLabel *jointsSummary_ = nullptr, *jointName_ = nullptr;
    QComboBox *role_ = nullptr, *sideOf_ = nullptr;
    BuildsPane* builds_ = nullptr;
    CheckedLine* checked_ = nullptr;
    int joint_ = -1; // the one looked at
    std::string shownHash_;
    QTimer corrects_;
};

} // namespace hobble
