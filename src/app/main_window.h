#pragma once
// Top line, the line of pages, what is said, and every action with its key. What a page is, is in
// widgets/page.h; the window only lines them up and passes on what one wants of another.
#include "app/action_book.h"
#include "app/compare/compare_page.h"
#include "app/intake/intake_page.h"
#include "app/log/log_page.h"
#include "app/mend/mend_page.h"
#include "app/plan/plan_page.h"
#include "app/review/review_page.h"
#include "app/session/session.h"

#include <QMainWindow>

class QHBoxLayout;
class QLabel;
class QLineEdit;
class QStackedWidget;

namespace hobble {

class MainWindow : public QMainWindow {
    Q_OBJECT
public:
    explicit MainWindow(Session* session, QWidget* parent = nullptr);

    IntakePage* intake() const { return intake_; }
    PlanPage* planPage() const { return planPage_; }
    ReviewPage* review() const { return review_; }
    MendPage* mendPage() const { return mendPage_; }
    ComparePage* comparePage() const { return comparePage_; }
    LogPage* logPage() const { return logPage_; }
    ActionBook* actionBook() const { return book_; }
    void showPage(Page* page);
    Page* shownPage() const;
    std::vector<Page*> pages() const; // in the order of the work
    void tell(const QString& message) { say(message, false); }
    void openDialog();
    void openDemo();
    void compareDialog(); // asks for a file to lay the open build against
    void showLimits();

protected:
    bool eventFilter(QObject* watched, QEvent* event) override;
    void dragEnterEvent(QDragEnterEvent*) override;
    void dropEvent(QDropEvent*) override;

private:
    QString askCharacter(const QString& title); // empty: none was chosen
    QWidget* buildTopLine();
    QWidget* buildMessageBar();
    QWidget* buildFoot();
    void addPage(Page* page);
    void addActions(); // main_actions.cpp
    void followDesks();
    void restyle(bool night, double textScale);
    void characterCameIn();
    void refreshTop();
    void refreshCount(Page* page);
    void refreshFoot();
    void showKeys();
    void showDefect(qint64 id);
    void say(const QString& message, bool bad);
    void fillCommands();
    void command(const QString& id); // of what is in the command box

    Session* session_;
    IntakePage* intake_ = nullptr;
    PlanPage* planPage_ = nullptr;
    ReviewPage* review_ = nullptr;
    MendPage* mendPage_ = nullptr;
    ComparePage* comparePage_ = nullptr;
    LogPage* logPage_ = nullptr;
    struct Leaf {
        Page* page;
        QPushButton* tab;
    };
    std::vector<Leaf> pages_; // in the order of the work
    QStackedWidget* stack_ = nullptr;
    QHBoxLayout* tabs_ = nullptr;
    QPushButton* stop_ = nullptr;
    QLabel *sentence_ = nullptr, *job_ = nullptr, *keys_ = nullptr, *totals_ = nullptr, *message_ = nullptr;
    QWidget* messageBar_ = nullptr;
    QLineEdit* command_ = nullptr;
    ActionBook* book_ = nullptr;
    bool opened_ = false; // a character, since the start
};

} // namespace hobble
