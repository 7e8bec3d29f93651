#pragma once
// The production log, kept on a thread of its own, for neither a slow disk nor a server that has gone may
// hold up the window. What is small is waited for, but never long; what is large comes later. Watches for
// changes by others, and for the log to go away and come back.
#include "log/production_log.h"

#include <QObject>
#include <QSemaphore>
#include <QThread>

#include <atomic>
#include <type_traits>

namespace hobble {

enum class LogState {
    None,    // no log, or one that could not be opened
    Opening, // takes longer than the window waits
    Ready,
    ReadOnly, // can be looked at
    Lost      // was there, and does not answer: it is tried again every two seconds
};

class LogLink : public QObject {
    Q_OBJECT
public:
    explicit LogLink(QObject* parent = nullptr);
    ~LogLink() override;

    /// Small files open while one waits; of large ones, and of servers, opened() tells later.
    /// What went wrong; nothing while it is still opening.
    std::optional<QString> open(const QString& place);
    /// What lies between here and a server, as of when it was opened.
    ProductionLog::Wire wire() const { return wire_; }
    void close();
    QString place() const { return place_; }
    LogState state() const { return slow_ ? LogState::Lost : state_.load(); }
    bool canRead() const { return state() == LogState::Ready || state() == LogState::ReadOnly; }

    /// Does it on the log's thread and waits for it. When that takes too long, or the log is lost, an error
    /// says so; what was begun may still be finished then.
    template <class F> auto ask(F work) -> std::invoke_result_t<F, ProductionLog&> {
        using R = std::invoke_result_t<F, ProductionLog&>;
        unanswered_ = false;
        if (!canRead()) {
            unanswered_ = state() == LogState::Lost;
            return notThere();
        }
        struct Answer {
            std::optional<R> value;
            QSemaphore done;
        };
        auto answer = std::make_shared<Answer>();
        QMetaObject::invokeMethod(worker_, [this, answer, work = std::move(work)] {
            const Busy busy(*this);
            answer->value = log_ ? work(*log_) : R(notThere());
            if (!answer->value->ok())
                lookWhetherLost();
            answer->done.release();
            if (slow_.exchange(false))
                QMetaObject::invokeMethod(this, [this] { emit late(); });
        });
        if (answer->done.tryAcquire(1, patienceMs_))
            return std::move(*answer->value);
        slow_ = true;
        if (answer->done.tryAcquire()) { // just now
            slow_ = false;
            return std::move(*answer->value);
        }
        const Error error = notThere();
        emit lost();
        unanswered_ = true; // whatever has come while others were told
        return error;
    }
    /// The last ask() ended without an answer, though the log may be there again by now.
    bool unanswered() const { return unanswered_; }
    /// How long ask() waits; open() sets what suits a file or a server.
    void setPatience(int ms) { patienceMs_ = ms; }

    /// Does it on the log's thread; `then` gets the answer on this one.
    template <class F, class Then> void tell(F work, Then then) {
        QMetaObject::invokeMethod(worker_, [this, work = std::move(work), then = std::move(then)] {
            using R = std::invoke_result_t<F, ProductionLog&>;
            const Busy busy(*this);
            auto answer = std::make_shared<R>(log_ ? work(*log_) : R(notThere()));
            if (!answer->ok())
                lookWhetherLost();
            QMetaObject::invokeMethod(this, [answer, then] { then(std::move(*answer)); });
        });
    }

signals:
    void opened(const QString& error); // empty when it worked
    void passwordWanted();             // by the server that was to be opened, in place of opened()
    void changedByOthers();
    void lost();
    void cameBack();
    void late(); // an answer that was no longer waited for has come

private:
    // Since when the log's thread is at something.
    class Busy {
    public:
        explicit Busy(LogLink& link) : link_(link) { link_.busySince_ = now(); }
        ~Busy() { link_.busySince_ = 0; }

    private:
        LogLink& link_;
    };
    static qint64 now(); // milliseconds of a steady clock
    Error notThere() const;
    void look();
    void took(std::unique_ptr<ProductionLog> log);
    void breakOff();
    void lookWhetherLost();

    QThread thread_;
    QObject* worker_;
    // on the log's thread only
    std::unique_ptr<ProductionLog> log_;
    QString keptPlace_;
    int looks_ = 0;
    // on the window's only
    QString place_;
    ProductionLog::Wire wire_;
    // on both
    std::atomic<LogState> state_{LogState::None};
    std::atomic<bool> slow_{false};
    std::atomic<qint64> busySince_{0};
    std::atomic<int> socket_{-1};
    int patienceMs_ = 1000;
    bool unanswered_ = false;
};

} // namespace hobble
