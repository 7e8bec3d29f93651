#include "app/session/job_queue.h"

#include <QElapsedTimer>
#include <QMetaObject>
#include <mutex>
#include <sys/resource.h>
#include <unistd.h>

namespace hobble {

namespace {

// The window and the pose in hand come first where there are fewer cores than would like to work. Threads
// that this one starts, those of a run among them, are as modest. The only call of the system's own here:
// Qt's priorities of threads do nothing under Linux's usual scheduler.
void giveWayToTheWindow() {
    constexpr int modest = 5; // a third of the window's share
    setpriority(PRIO_PROCESS, static_cast<id_t>(gettid()), modest);
}

} // namespace

Progress progressOf(JobControl& control) {
    return {&control.cancelled, [&control](double share) {
                control.tell(static_cast<std::size_t>(1000 * std::min(share, 1.0)), 1000, 0);
            }};
}

JobQueue::JobQueue(QObject* parent) : QObject(parent) { pool_.setMaxThreadCount(1); }

JobQueue::~JobQueue() { stop(); }

void JobQueue::stop() {
    cancel();
    pool_.waitForDone();
}

void JobQueue::start(const QString& title, Work work) {
    waiting_.push_back({title, std::move(work)});
    if (!running_)
        next();
}

void JobQueue::cancel() {
    waiting_.clear();
    if (control_)
        control_->cancelled = true;
}

void JobQueue::next() {
    if (waiting_.empty()) {
        running_ = false;
        title_.clear();
        emit idle();
        return;
    }
    Waiting job = std::move(waiting_.front());
    waiting_.pop_front();
    running_ = true;
    title_ = job.title;
    control_ = std::make_shared<JobControl>();
    auto clock = std::make_shared<QElapsedTimer>();
    auto last = std::make_shared<qint64>(-1000);
    auto guard = std::make_shared<std::mutex>();
    clock->start();
    control_->tell = [this, clock, last, guard, title = job.title](std::size_t done, std::size_t total,
                                                                   double left) {
        {
            const std::lock_guard lock(*guard);
            if (clock->elapsed() - *last < 60 && done != total)
                return;
            *last = clock->elapsed();
        }
        const int percent = total ? static_cast<int>(100 * done / total) : 0;
        QMetaObject::invokeMethod(this,
                                  [this, title, percent, left] { emit progressed(title, percent, left); });
    };
    emit progressed(title_, 0, 0);
    pool_.start([this, control = control_, work = std::move(job.work)] {
        giveWayToTheWindow();
        auto after = work(*control);
        QMetaObject::invokeMethod(this, [this, after = std::move(after)] {
            if (after)
                after();
            next();
        });
    });
}

} // namespace hobble
