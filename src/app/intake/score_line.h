#pragma once
// How fit each build of the character was to be tested, as a line from build to build.
#include "app/session/build_desk.h"

#include <QWidget>

namespace hobble {

class ScoreLine : public QWidget {
    Q_OBJECT
public:
    explicit ScoreLine(BuildDesk* build, LogDesk* log, QWidget* parent = nullptr);
    QSize sizeHint() const override;
    /// As a person reads it: "build 1 scores 47, build 2 scores 88".
    QString words() const;

protected:
    void paintEvent(QPaintEvent*) override;

private:
    BuildDesk* build_;
    LogDesk* log_;
};

} // namespace hobble
