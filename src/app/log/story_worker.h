#pragma once
// Tells a defect's story off the window's thread: pictures before and after, numbers over builds. Only the
// newest defect asked for counts; what was told stays for a while, so that going back and forth costs
// nothing.
#include "app/session/log_link.h"
#include "story/packet.h"

#include <QCache>
#include <QThread>

#include <atomic>

namespace hobble {

class StoryWorker : public QObject {
    Q_OBJECT
public:
    explicit StoryWorker(LogLink* link, QObject* parent = nullptr);
    ~StoryWorker() override;
    /// `version` and `limits` are what a kept story must still be of.
    void ask(const Defect& defect, const Limits& limits);

signals:
    void told(qint64 defect, std::shared_ptr<const hobble::DefectStory> story);

private:
    struct Ready {
        qint64 version = 0;
        Limits limits;
        std::shared_ptr<const DefectStory> story;
    };
    LogLink* link_;
    QThread thread_;
    QObject* worker_;
    BuildShelf shelf_; // of the worker's thread
    QCache<qint64, Ready> ready_{24};
    std::shared_ptr<std::atomic<bool>> stale_;
};

} // namespace hobble
