#pragma once
// Poses a character off the window's thread. Only the newest request counts: while one pose is computed,
// later requests replace each other, so that scrubbing never queues up; what takes longer than the frame
// waits until nothing newer is wanted.
#include "core/run/posed.h"

#include <QObject>

#include <condition_variable>
#include <mutex>
#include <thread>

namespace hobble {

class PoseWorker : public QObject {
    Q_OBJECT
public:
    explicit PoseWorker(QObject* parent = nullptr);
    ~PoseWorker() override;
    void request(PoseRequest request);

signals:
    void posed(std::shared_ptr<const hobble::PosedFrame> frame);
    /// The frame, ready to be pointed at.
    void met(std::shared_ptr<const hobble::PosedFrame> frame, std::shared_ptr<const hobble::PosedSkin> skin);
    void detailed(std::shared_ptr<const hobble::PosedDetail> detail);

private:
    void work();
    void remember(const std::shared_ptr<const Subject>& subject);
    std::mutex mutex_;
    std::condition_variable wake_;
    std::optional<PoseRequest> newest_;
    std::atomic<bool> stale_{false}; // something newer is wanted
    bool stopping_ = false;
    // on the worker's thread only: what is the same for all poses of a character
    std::weak_ptr<const Subject> of_;
    std::shared_ptr<const SmoothPreview> preview_;
    std::thread thread_;
};

} // namespace hobble
