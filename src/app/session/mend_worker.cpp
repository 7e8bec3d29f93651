#include "app/session/mend_worker.h"

#include <QMetaObject>

namespace hobble {

MendWorker::MendWorker(QObject* parent) : QObject(parent), thread_([this] { work(); }) {}

MendWorker::~MendWorker() {
    {
        const std::lock_guard lock(mutex_);
        stopping_ = true;
        stale_ = true;
    }
    wake_.notify_one();
    thread_.join();
}

void MendWorker::ask(TrialAsk ask) {
    {
        const std::lock_guard lock(mutex_);
        newest_ = std::move(ask);
        stale_ = true;
    }
    wake_.notify_one();
}

void MendWorker::work() {
    while (true) {
        TrialAsk ask;
        {
            std::unique_lock lock(mutex_);
            wake_.wait(lock, [this] { return stopping_ || newest_; });
            if (stopping_)
                return;
            ask = std::move(*newest_);
            newest_.reset();
            stale_ = false;
        }
        answer(ask);
    }
}

void MendWorker::answer(const TrialAsk& ask) {
    const std::uint64_t ticket = ask.ticket;
    // What is worked out is shown even where a newer one waits: the hand sees where it has been.
    Trial trial = ask.trial;
    if (ask.lastOnBothSides && !trial.steps.empty())
        if (auto other = onOtherSide(trial.steps.back(), *ask.on->build(), ask.on->across()))
            trial.steps.push_back(std::move(*other));
    const auto state = std::make_shared<const TrialState>(ask.on->make(trial));
    QMetaObject::invokeMethod(this, [this, ticket, state] { emit made(ticket, state); });
    if (!ask.measured)
        return;
    RunOptions options = ask.options;
    options.cancel = &stale_;
    options.causes = false; // faults are told by a run of the new build
    if (!ask.motion.empty() && state->subject != ask.on->build()) {
        const ComparedSide side = ask.on->measure(*state, ask.motion, options);
        if (stale_)
            return;
        if (side.run)
            QMetaObject::invokeMethod(this, [this, ticket, side] { emit motionMeasured(ticket, side); });
    }
    const auto all = std::make_shared<const TrialMeasured>(ask.on->measure(*state, ask.goal, options));
    if (stale_)
        return;
    QMetaObject::invokeMethod(this, [this, ticket, all] { emit measured(ticket, all); });
    auto shares = ask.on->shares(ask.trial, ask.goal, options);
    if (!stale_)
        QMetaObject::invokeMethod(
            this, [this, ticket, shares = std::move(shares)] { emit weighed(ticket, shares); });
    ask.on->across(); // at leisure, before a hand asks for it
}

} // namespace hobble
