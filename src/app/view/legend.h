#pragma once
// The scale of the colours shown: its stops are the limits of the joint looked at, ticked with their
// severity.
#include "app/view/colouring.h"

#include <QWidget>

namespace hobble {

class Legend : public QWidget {
    Q_OBJECT
public:
    explicit Legend(QWidget* parent = nullptr);
    /// `waiting`: the colours are not those of this pose yet.
    void show(Colouring colouring, const ColourScale& scale, bool waiting);
    QSize sizeHint() const override;

protected:
    void paintEvent(QPaintEvent*) override;

private:
    Colouring colouring_ = Colouring::Strain;
    ColourScale scale_;
    bool waiting_ = false;
};

} // namespace hobble
