#pragma once
// A severity as a number in a frame that closes further the worse it is: one side, two, three, all four.
#include <QPainter>
#include <QWidget>

namespace hobble {

void paintSeverity(QPainter& painter, const QRectF& box, int severity);
QString severityWord(int severity); // "serious"

class SeverityChip : public QWidget {
    Q_OBJECT
public:
    explicit SeverityChip(int severity = 0, QWidget* parent = nullptr);
    void setSeverity(int severity);
    int severity() const { return severity_; }
    QSize sizeHint() const override { return {22, 22}; }

protected:
    void paintEvent(QPaintEvent*) override;

private:
    int severity_ = 0;
};

} // namespace hobble
