#pragma once
// The ramp of the measure shown, with its limits ticked.
#include "app/review/viewport.h"

#include <QWidget>

namespace hobble {

class Legend : public QWidget {
    Q_OBJECT
public:
    explicit Legend(QWidget* parent = nullptr);
    void show(Colouring colouring, const QString& joint);
    QSize sizeHint() const override { return {400, 48}; }

protected:
    void paintEvent(QPaintEvent*) override;

private:
    Colouring colouring_ = Colouring::Strain;
    QString joint_;
};

} // namespace hobble
