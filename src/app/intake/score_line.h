#pragma once
// How fit each build of the character was to be tested, as a line from build to build.
#include "app/session/session.h"

#include <QWidget>

namespace hobble {

class ScoreLine : public QWidget {
    Q_OBJECT
public:
    explicit ScoreLine(Session* session, QWidget* parent = nullptr);
    QSize sizeHint() const override;
    /// As a person reads it: "build 1 scores 47, build 2 scores 88".
    QString words() const;

protected:
    void paintEvent(QPaintEvent*) override;

private:
    Session* session_;
};

} // namespace hobble
