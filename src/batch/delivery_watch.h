#pragma once
// The nightly without a window: waits for deliveries in a folder, tests each by a process of its own and
// tells it in one line. What was told is kept, by content: after a restart only what is new is tested, and
// nothing twice.
#include "batch/batch_run.h"
#include "story/folder_watch.h"

#include <map>

namespace hobble {

struct WatchOptions {
    BatchOptions batch;       // folder, log, check, fail-at and the rest; progress and cancel are the watch's
    QString watched;          // the folder deliveries come into
    QString outbox, from, to; // a message for each delivery, laid in a folder; empty: none
    int settlingMs = 1500;    // a file that has not changed for so long is whole
    bool once = false;        // test what lies there, and end
    const std::atomic<bool>* cancel = nullptr;
    std::function<void(const QString& line)> tell; // one line a delivery
};

/// "badger-postmaster.glb: 24 faults, worst 4; 3 of 8 open defects not cured; does not pass"
QString deliverySentence(const BatchRow& row, int failAt);

/// Runs until it is cancelled, or all is tested where `once` asks for that: what was tested in this run of
/// it. An error where there is no such folder, or results cannot be kept. Needs a QCoreApplication.
Result<std::vector<BatchRow>> watchDeliveries(const WatchOptions& options);

} // namespace hobble
