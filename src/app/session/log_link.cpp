#include "app/session/log_link.h"

#include <QFile>
#include <QTimer>

namespace hobble {

namespace {
constexpr int kLookMs = 250;  // how soon a change by others is seen
constexpr int kAliveEvery = 8; // looks, between two questions whether the log is still there
} // namespace

LogLink::LogLink(QObject* parent) : QObject(parent), worker_(new QObject) {
    worker_->moveToThread(&thread_);
    thread_.setObjectName(QStringLiteral("log"));
    thread_.start();
    QMetaObject::invokeMethod(worker_, [this] {
        auto* timer = new QTimer(worker_);
        connect(timer, &QTimer::timeout, worker_, [this] { look(); });
        timer->start(kLookMs);
    });
}

LogLink::~LogLink() {
    QMetaObject::invokeMethod(worker_, [this] {
        log_.reset();
        delete worker_; // with its timer, on their thread
        thread_.quit();
    });
    thread_.wait();
}

Error LogLink::notThere() const {
    return {state_ == LogState::None || state_ == LogState::Opening ? std::string("There is no log open.")
                                                                    : "The log does not answer."};
}

void LogLink::open(const QString& place) {
    const auto address = LogAddress::parse(place);
    const bool server = address && address->postgres;
    auto done = std::make_shared<QSemaphore>();
    state_ = LogState::Opening;
    place_ = place;
    slow_ = false;
    // a server is waited for less: it may have gone, and a file is here
    patienceMs_ = server ? 600 : 1000;
    QMetaObject::invokeMethod(worker_, [this, place, done, server] {
        keptPlace_ = place;
        log_.reset();
        auto log = ProductionLog::open(place, server ? 2000 : 250);
        const QString error = log ? QString() : QString::fromStdString(log.error());
        if (log) {
            log_ = std::move(*log);
            log_->changedByOthers(); // from here on
        }
        state_ = !log_ ? LogState::None : log_->readOnly() ? LogState::ReadOnly : LogState::Ready;
        QMetaObject::invokeMethod(this, [this, error] { emit opened(error); });
        done->release();
    });
    if (!server)
        done->tryAcquire(1, 1000);
}

void LogLink::close() {
    QSemaphore done;
    QMetaObject::invokeMethod(worker_, [this, &done] {
        log_.reset();
        state_ = LogState::None;
        done.release();
    });
    done.acquire();
}

void LogLink::lookWhetherLost() {
    if (!log_ || !log_->lost())
        return;
    log_.reset();
    state_ = LogState::Lost;
    QMetaObject::invokeMethod(this, [this] { emit lost(); });
}

void LogLink::look() {
    if (log_ && log_->changedByOthers())
        QMetaObject::invokeMethod(this, [this] { emit changedByOthers(); });
    if (++looks_ % kAliveEvery != 0)
        return;
    if (log_)
        return lookWhetherLost();
    if (state_ != LogState::Lost)
        return;
    if (const auto address = LogAddress::parse(keptPlace_);
        address && !address->postgres && !QFile::exists(address->path))
        return; // a file that has gone is not made anew
    auto again = ProductionLog::open(keptPlace_, 250);
    if (!again)
        return;
    log_ = std::move(*again);
    log_->changedByOthers();
    state_ = log_->readOnly() ? LogState::ReadOnly : LogState::Ready;
    QMetaObject::invokeMethod(this, [this] { emit cameBack(); });
}

} // namespace hobble
