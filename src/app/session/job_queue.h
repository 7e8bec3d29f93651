#pragma once
// Long work off the window's thread, one job at a time, with progress, time left and stop.
#include "core/progress.h"

#include <QObject>
#include <QString>
#include <QThreadPool>

#include <atomic>
#include <deque>
#include <functional>
#include <memory>

namespace hobble {

class JobControl {
public:
    std::atomic<bool> cancelled{false};
    /// From any thread; throttled, so it may be called for every pose.
    std::function<void(std::size_t done, std::size_t total, double secondsLeft)> tell;
};

/// What a computation is told of its job: whether to stop; and takes of it: how far it is.
Progress progressOf(JobControl& control);

class JobQueue : public QObject {
    Q_OBJECT
public:
    /// Runs off the window's thread and returns what is then to be done on it.
    using Work = std::function<std::function<void()>(JobControl&)>;

    explicit JobQueue(QObject* parent = nullptr);
    ~JobQueue() override;

    void start(const QString& title, Work work);
    void stop(); // cancels everything and waits until it has ended
    bool busy() const { return running_ || !waiting_.empty(); }
    QString title() const { return title_; }

public slots:
    void cancel(); // the running job and those waiting

signals:
    void progressed(const QString& title, int percent, double secondsLeft);
    void idle();

private:
    struct Waiting {
        QString title;
        Work work;
    };
    void next();
    std::deque<Waiting> waiting_;
    std::shared_ptr<JobControl> control_;
    QThreadPool pool_;
    bool running_ = false;
    QString title_;
};

} // namespace hobble
