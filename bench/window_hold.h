#pragma once
// How long a window was held up while something went on, and what a benchmark does with an error.
#include "core/result.h"

#include <QCoreApplication>
#include <QElapsedTimer>
#include <QTimer>

#include <cstdio>
#include <cstdlib>
#include <functional>

namespace hobble::bench {

template <class T> T must(Result<T> r) {
    if (!r) {
        std::fprintf(stderr, "%s\n", r.error().c_str());
        std::exit(1);
    }
    return std::move(*r);
}

/// The longest the window did not answer, in ms, from `begin` until `done` says so, or ten minutes have passed.
inline double longestHold(const std::function<void()>& begin, const std::function<bool()>& done) {
    QElapsedTimer beat, whole;
    double longest = 0;
    QTimer pulse;
    QObject::connect(&pulse, &QTimer::timeout, [&] {
        longest = std::max(longest, static_cast<double>(beat.nsecsElapsed()) / 1e6);
        beat.restart();
    });
    pulse.start(0);
    beat.start();
    whole.start();
    begin();
    while (!done() && whole.elapsed() < 600000)
        QCoreApplication::processEvents(QEventLoop::AllEvents, 2);
    QCoreApplication::processEvents();
    return std::max(longest, static_cast<double>(beat.nsecsElapsed()) / 1e6);
}

} // namespace hobble::bench
