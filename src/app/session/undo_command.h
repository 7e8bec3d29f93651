#pragma once
// A change that can be taken back and made again.
#include <QUndoCommand>

#include <functional>

namespace hobble {

/// A change made already, when it is pushed, that can be taken back and made again. In the log each way
/// writes events of its own, so that its history stays whole. A way that fails (a clash, a locked file) drops
/// the command.
class UndoCommand : public QUndoCommand {
public:
    UndoCommand(const QString& text, std::function<bool()> forth, std::function<bool()> back)
        : QUndoCommand(text), forth_(std::move(forth)), back_(std::move(back)) {}
    void redo() override {
        if (!first_)
            setObsolete(!forth_());
        first_ = false;
    }
    void undo() override { setObsolete(!back_()); }

private:
    std::function<bool()> forth_, back_;
    bool first_ = true;
};

} // namespace hobble
