#pragma once
// What every desk has: the queue of long work, the undo stack, and a voice of its own. Only a desk itself can
// raise its signals.
#include "app/session/job_queue.h"
#include "app/session/undo_command.h"

#include <QObject>
#include <QUndoStack>

namespace hobble {

class MeasuredStore;

/// What all desks of a session share.
struct Shared {
    JobQueue jobs;
    QUndoStack undo;
    std::shared_ptr<MeasuredStore> measured; // so that nothing is measured twice

    explicit Shared(std::shared_ptr<MeasuredStore> store) : measured(std::move(store)) {}
};

class Desk : public QObject {
    Q_OBJECT
public:
    explicit Desk(Shared& shared) : shared_(shared) {}

    JobQueue& jobs() { return shared_.jobs; } // the one queue of long work

signals:
    void failed(const QString& message, QPrivateSignal); // what happened, to what, and what can be done
    void told(const QString& message, QPrivateSignal);   // something went well and is worth a line

protected:
    void fail(const QString& message) { emit failed(message, QPrivateSignal()); }
    void fail(const std::string& message) { fail(QString::fromStdString(message)); }
    void tell(const QString& message) { emit told(message, QPrivateSignal()); }
    MeasuredStore* measured() { return shared_.measured.get(); }
    /// The change is made already.
    void undoable(const QString& what, std::function<bool()> forth, std::function<bool()> back) {
        shared_.undo.push(new UndoCommand(what, std::move(forth), std::move(back)));
    }
    void forgetUndo() { shared_.undo.clear(); }

private:
    Shared& shared_;
};

/// Where what a person has set is kept between starts; `name` below it.
QString settingsFile(const QString& name);

} // namespace hobble
