#pragma once
// Top line, pages, and every action with its key.
#include "app/action_book.h"
#include "app/intake/intake_page.h"
#include "app/log/log_page.h"
#include "app/plan/plan_page.h"
#include "app/review/review_page.h"

#include <QMainWindow>

class QStackedWidget;

namespace hobble {

class MainWindow : public QMainWindow {
    Q_OBJECT
public:
    explicit MainWindow(Session* session, QWidget* parent = nullptr);

    enum Page { Intake, Plan, Review, Log };

    IntakePage* intake() const { return intake_; }
    PlanPage* planPage() const { return planPage_; }
    ReviewPage* review() const { return review_; }
    LogPage* logPage() const { return logPage_; }
    void openDialog();
    void showLimits();
    ActionBook* actionBook() const { return book_; }
    void showPage(int page); // one of Page

protected:
    bool eventFilter(QObject* watched, QEvent* event) override;
    void dragEnterEvent(QDragEnterEvent*) override;
    void dropEvent(QDropEvent*) override;

private:
    QWidget* buildTopLine();
    QWidget* buildPages();
    QWidget* buildFoot();
    void buildActions();
    void buildIntakeActions();
    void buildPlanActions();
    void buildReviewActions();
    void buildLogActions();
    QString keyLine(int page) const;
    void restyle(bool night, double textScale);
    void refreshTop();
    void refreshFoot();
    void showKeys();
    void showDefect(qint64 id);
    void say(const QString& message, bool bad);
    void fillCommands();

    Session* session_;
    IntakePage* intake_ = nullptr;
    PlanPage* planPage_ = nullptr;
    ReviewPage* review_ = nullptr;
    LogPage* logPage_ = nullptr;
    QStackedWidget* stack_ = nullptr;
    QPushButton *intakeTab_ = nullptr, *planTab_ = nullptr, *reviewTab_ = nullptr, *logTab_ = nullptr,
                *stop_ = nullptr;
    QLabel *sentence_ = nullptr, *job_ = nullptr, *keys_ = nullptr, *totals_ = nullptr, *message_ = nullptr;
    QWidget* messageBar_ = nullptr;
    QLineEdit* command_ = nullptr;
    ActionBook* book_ = nullptr;
    bool opened_ = false; // a character, since the start
};

} // namespace hobble
