#include "app/session/log_link.h"
#include "log/log_password.h"

#include <QDeadlineTimer>
#include <QFile>
#include <QFileInfo>
#include <QTimer>

#include <sys/socket.h>

namespace hobble {

namespace {
constexpr int kLookMs = 250;      // how soon a change by others is seen
constexpr int kAliveEvery = 8;    // looks, between two questions whether the log is still there
constexpr qint64 kHangsMs = 5000; // a server that has not said a word for so long has gone
} // namespace

qint64 LogLink::now() { return QDeadlineTimer::current().deadline(); }

LogLink::LogLink(QObject* parent) : QObject(parent), worker_(new QObject) {
    worker_->moveToThread(&thread_);
    thread_.setObjectName(QStringLiteral("log"));
    thread_.start();
    QMetaObject::invokeMethod(worker_, [this] {
        auto* timer = new QTimer(worker_);
        connect(timer, &QTimer::timeout, worker_, [this] { look(); });
        timer->start(kLookMs);
    });
    auto* watch = new QTimer(this);
    connect(watch, &QTimer::timeout, this, [this] {
        if (const qint64 since = busySince_; since && now() - since > kHangsMs)
            breakOff();
    });
    watch->start(1000);
}

LogLink::~LogLink() {
    if (busySince_)
        breakOff();
    QMetaObject::invokeMethod(worker_, [this] {
        log_.reset();
        delete worker_; // with its timer, on their thread
        thread_.quit();
    });
    thread_.wait();
}

// A call to a server that hangs ends with its connection; nothing else wakes it.
void LogLink::breakOff() {
    if (const int socket = socket_; socket >= 0)
        ::shutdown(socket, SHUT_RDWR);
}

Error LogLink::notThere() const {
    const LogState s = state();
    return {s == LogState::None || s == LogState::Opening ? std::string("There is no log open.")
                                                          : "The log does not answer."};
}

void LogLink::took(std::unique_ptr<ProductionLog> log) {
    log_ = std::move(log);
    if (log_)
        log_->changedByOthers(); // from here on
    socket_ = log_ ? log_->socket() : -1;
    state_ = !log_ ? LogState::None : log_->readOnly() ? LogState::ReadOnly : LogState::Ready;
}

std::optional<QString> LogLink::open(const QString& place) {
    const auto address = LogAddress::parse(place);
    const bool server = address && address->postgres;
    struct Opening {
        QSemaphore done;
        QString error;
        bool passwordWanted = false;
        ProductionLog::Wire wire;
        bool told = false; // on the window's thread
    };
    auto opening = std::make_shared<Opening>();
    state_ = LogState::Opening;
    place_ = place;
    slow_ = false;
    wire_ = {};
    // a server is waited for less: it may have gone, and a file is here
    patienceMs_ = server ? 600 : 1000;
    QMetaObject::invokeMethod(worker_, [this, place, opening, server, address] {
        keptPlace_ = place;
        log_.reset();
        auto log = ProductionLog::open(place, server ? 2000 : 250);
        if (!log) {
            opening->error = QString::fromStdString(log.error());
            opening->passwordWanted = server && wantsPassword(*address);
        } else {
            opening->wire = (*log)->wire();
        }
        took(log ? std::move(*log) : nullptr);
        QMetaObject::invokeMethod(this, [this, opening] {
            if (opening->told)
                return;
            wire_ = opening->wire;
            if (opening->passwordWanted)
                emit passwordWanted();
            else
                emit opened(opening->error);
        });
        opening->done.release();
    });
    constexpr qint64 large = 16 << 20; // bytes, that take a while to be looked through
    if (server || QFileInfo(place).size() > large || !opening->done.tryAcquire(1, 1000))
        return std::nullopt;
    opening->told = true;
    return opening->error;
}

void LogLink::close() {
    QSemaphore done;
    QMetaObject::invokeMethod(worker_, [this, &done] {
        took(nullptr);
        done.release();
    });
    done.acquire();
}

void LogLink::lookWhetherLost() {
    if (!log_ || !log_->lost())
        return;
    took(nullptr);
    state_ = LogState::Lost;
    QMetaObject::invokeMethod(this, [this] { emit lost(); });
}

void LogLink::look() {
    if (log_ && log_->changedByOthers())
        QMetaObject::invokeMethod(this, [this] { emit changedByOthers(); });
    if (++looks_ % kAliveEvery != 0)
        return;
    if (log_) {
        const Busy busy(*this);
        return lookWhetherLost();
    }
    if (state_ != LogState::Lost)
        return;
    if (const auto address = LogAddress::parse(keptPlace_);
        address && !address->postgres && !QFile::exists(address->path))
        return; // a file that has gone is not made anew
    auto again = ProductionLog::open(keptPlace_, 250);
    if (!again)
        return;
    took(std::move(*again));
    QMetaObject::invokeMethod(this, [this] { emit cameBack(); });
}

} // namespace hobble
