#pragma once
// Poses the character off the window's thread. Only the newest request counts: while one pose is computed,
// later requests replace each other, so that scrubbing never queues up.
#include "core/measure/subject.h"
#include "core/run/run.h"

#include <QObject>

#include <condition_variable>
#include <memory>
#include <mutex>
#include <optional>
#include <thread>

namespace hobble {

struct PosedFrame {
    std::shared_ptr<const Subject> subject;
    int motion = -1; // of the plan; -1 for a pose that is no motion's
    double degrees = 0;
    std::vector<Vec3> position, normal; // per file vertex, world
    std::vector<Strain> strain;         // per file vertex
    std::vector<JointStep> zones;       // of the joints the motion turns
    std::vector<Vec3> jointPosition;    // per joint
};

struct PoseRequest {
    std::shared_ptr<const Subject> subject;
    Pose pose;
    std::vector<int> joints; // whose zones to measure
    Skinning method = Skinning::Linear;
    int motion = -1;
    double degrees = 0;
};

PosedFrame computeFrame(const PoseRequest& request);

class PoseWorker : public QObject {
    Q_OBJECT
public:
    explicit PoseWorker(QObject* parent = nullptr);
    ~PoseWorker() override;
    void request(PoseRequest request);

signals:
    void posed(std::shared_ptr<const hobble::PosedFrame> frame);

private:
    void work();
    std::mutex mutex_;
    std::condition_variable wake_;
    std::optional<PoseRequest> newest_;
    bool stopping_ = false;
    std::thread thread_;
};

} // namespace hobble
