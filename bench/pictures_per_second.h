#pragma once
// What a viewport shows while something is done in its window again and again.
#include "app/view/viewport.h"

#include <QApplication>
#include <QElapsedTimer>

namespace hobble::bench {

/// `does` gets how many times it was done before.
template <class Does> double picturesPerSecond(Viewport* view, double seconds, Does&& does) {
    int shown = 0;
    const auto count = QObject::connect(view, &Viewport::painted, [&] { ++shown; });
    QElapsedTimer clock;
    clock.start();
    for (int i = 0; static_cast<double>(clock.elapsed()) < 1000 * seconds; ++i) {
        does(i);
        QApplication::processEvents(QEventLoop::AllEvents, 4);
    }
    QObject::disconnect(count);
    return 1000.0 * shown / static_cast<double>(clock.elapsed());
}

} // namespace hobble::bench
