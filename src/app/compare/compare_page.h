#pragma once
// Compare: the open build against another. Left the motions that changed and the log's defects with their
// verdicts; in the middle both characters; right the numbers of the joint looked at, where the skin differs,
// and signing off.
#include "app/compare/compare_strips.h"
#include "app/compare/side_by_side.h"
#include "app/compare/verdict_list.h"
#include "app/session/mend_desk.h"
#include "app/widgets/measure_table.h"
#include "app/widgets/page.h"

#include <QTimer>

class QComboBox;
class QLabel;
class QLineEdit;
class QMenu;
class QPushButton;

namespace hobble {

class ComparePage : public Page {
    Q_OBJECT
public:
    ComparePage(BuildDesk* build, CompareDesk* compare, MendDesk* mend, RunDesk* run, LogDesk* log,
                QWidget* parent = nullptr);
    QString id() const override { return QStringLiteral("compare"); }
    QString title() const override { return tr("Compare"); }
    QString count() const override;
    void addActions(ActionBook& book) override;
    QString keyLine(const ActionBook& book) const override;
    QWidget* firstFocus() override { return strips_; }
    void restyle() override;
    QJsonObject placeToKeep() const override;
    void goBackTo(const QJsonObject& place) override;

    CompareStrips* strips() const { return strips_; }
    SideBySide* sides() const { return sides_; } // null where there is no OpenGL
    VerdictList* verdicts() const { return verdicts_; }
    MeasureTable* table() const { return table_; }

signals:
    void fileWanted(); // another file to compare with

protected:
    QStringList namesInLayout() const override { return {QStringLiteral("compareColours")}; }
    void showEvent(QShowEvent*) override;

private:
    QWidget* buildLeft();
    QWidget* buildMiddle();
    QWidget* buildRight();
    void fillAgainst(QMenu* menu);
    void refresh();
    void refreshTable();
    void refreshOrders();
    void refreshVerdicts();
    void refreshSigned();
    void stepAngle(int by);
    void goTo(double at);
    void sweep();
    void giveBack();
    void signOff();
    void takeBack();
    void print();

    BuildDesk* build_;
    CompareDesk* compare_;
    MendDesk* mend_;
    RunDesk* run_;
    LogDesk* log_;
    CompareStrips* strips_ = nullptr;
    SideBySide* sides_ = nullptr;
    VerdictList* verdicts_ = nullptr;
    MeasureTable* table_ = nullptr;
    QPushButton *against_ = nullptr, *seam_ = nullptr, *difference_ = nullptr, *play_ = nullptr;
    std::array<QPushButton*, 4> orders_{};
    QComboBox* colours_ = nullptr;
    QLabel *now_ = nullptr, *sentence_ = nullptr, *notes_ = nullptr, *skin_ = nullptr, *here_ = nullptr,
           *checked_ = nullptr, *signed_ = nullptr;
    QWidget *checkBox_ = nullptr, *signBox_ = nullptr, *change_ = nullptr;
    QPushButton *close_ = nullptr, *keep_ = nullptr, *back_ = nullptr, *then_ = nullptr, *allCured_ = nullptr,
                *inLog_ = nullptr, *sign_ = nullptr, *takeBack_ = nullptr, *print_ = nullptr;
    QLineEdit *use_ = nullptr, *why_ = nullptr;
    bool writingReason_ = false; // why a sign-off is taken back, where its use is told
    QTimer sweep_;
    int sweepStep_ = 0;
};

} // namespace hobble
