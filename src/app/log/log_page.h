#pragma once
// The log: defects in a list that reads like sentences, or who has how much; and beside it the story of the
// one looked at.
#include "app/log/defect_panel.h"
#include "app/log/filter_bar.h"
#include "app/log/log_model.h"
#include "app/log/triage.h"
#include "app/session/run_desk.h"
#include "app/widgets/page.h"

class QLabel;
class QStackedWidget;
class QTreeView;

namespace hobble {

class CompareDesk;
class ShowView;
class TrendView;
class WorkloadView;

class LogPage : public Page {
    Q_OBJECT
public:
    LogPage(BuildDesk* build, RunDesk* run, LogDesk* log, CompareDesk* compare, QWidget* parent = nullptr);
    QString id() const override { return QStringLiteral("log"); }
    QString title() const override { return tr("Log"); }
    QString count() const override;
    void addActions(ActionBook& book) override;
    QString keyLine(const ActionBook& book) const override;
    QWidget* firstFocus() override;
    QString asksWhy() const override;
    QJsonObject layoutToKeep() const override;
    void layOutAs(const QJsonObject& kept) override;
    QJsonObject placeToKeep() const override;
    void goBackTo(const QJsonObject& place) override;

    void choose(qint64 id); // shows it, whatever is filtered
    qint64 chosen() const { return panel_->defect(); }
    QVector<qint64> chosenAll() const;
    void step(int by); // next or previous defect
    Triage* triage() const { return triage_; }
    DefectPanel* panel() const { return panel_; }
    FilterBar* filters() const { return filters_; }
    QTreeView* table() const { return table_; }
    void showWorkload(bool on);
    void showTrend(bool on);
    void showWholeShow(bool on);
    TrendView* trend() const { return trend_; }
    ShowView* wholeShow() const { return show_; }
    void restyle() override;
    void send();
    void editRoster();
    void backUp();
    void restore();
    void takeIn();

    void openAnother(); // asks which

signals:
    void showInReview(qint64 id);

private:
    QWidget* buildList();
    QWidget* buildVerbs();
    enum Left { Defects, Workload, Trend, WholeShow };
    void showLeft(Left left);
    void refresh();
    void keepSelection();
    BuildDesk* build_;
    RunDesk* run_;
    LogDesk* log_;
    CompareDesk* compare_;
    LogModel* model_;
    FilterBar* filters_;
    QTreeView* table_;
    QStackedWidget* left_;
    WorkloadView* workload_;
    TrendView* trend_;
    ShowView* show_ = nullptr;
    QPushButton *workloadButton_, *trendButton_, *showButton_;
    QLabel *emptyHint_, *count_;
    QWidget* verbs_;
    DefectPanel* panel_;
    Triage* triage_;
    qint64 current_ = 0;
    QVector<qint64> selected_;
    bool settling_ = false; // the list is being made anew
};

} // namespace hobble
