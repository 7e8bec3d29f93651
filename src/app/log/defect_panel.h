#pragma once
// One defect's story: who has it and how urgent it is, pictures before and after, its measure over builds and
// angles, the cause, what was said, and all that happened to it.
#include "app/log/story_worker.h"
#include "app/session/run_desk.h"

#include <QWidget>

class QComboBox;
class QFormLayout;
class QLabel;
class QLineEdit;
class QPushButton;
class QVBoxLayout;

namespace hobble {

class CheckedLine;
class CompareDesk;
class FlowLayout;

class DefectPanel : public QWidget {
    Q_OBJECT
public:
    DefectPanel(RunDesk* run, LogDesk* log, CompareDesk* compare, QWidget* parent = nullptr);
    void show(qint64 id); // 0 for none
    qint64 defect() const { return id_; }
    void focusComment();
    bool storyTold() const { return toldOf_ == id_; } // pictures and numbers are there

signals:
    void showInReview(qint64 id);
    void compareWanted(qint64 build, qint64 defect); // the build it was seen on beside the open one
    void mendWanted(qint64 id);
    void rosterWanted();
    void assignWanted();
    void stateWanted();
    void dueWanted();
    void defectWanted(qint64 id);

protected:
    void resizeEvent(QResizeEvent*) override;

private:
    QWidget* buildStanding();
    void refresh();
    void showFacts(const Defect& d);
    void showStory();
    void showHistory();
    void completeMention();
    RunDesk* run_;
    LogDesk* log_;
    CheckedLine* checked_;
    StoryWorker* worker_;
    qint64 id_ = 0, toldOf_ = 0, askedOf_ = 0;
    std::shared_ptr<const DefectStory> story_;
    QWidget *body_, *empty_;
    QLabel *title_, *facts_, *cause_, *scale_, *curve_, *numbers_, *logged_;
    QPushButton *who_, *state_, *due_, *measured_, *mend_ = nullptr, *back_;
    QComboBox* severity_;
    QLineEdit* comment_;
    FlowLayout* pictures_;
    QVBoxLayout *history_, *linked_;
};

} // namespace hobble
