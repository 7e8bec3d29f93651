#include "app/session/pose_worker.h"

#include <QMetaObject>

namespace hobble {

PosedFrame computeFrame(const PoseRequest& r) {
    const Subject& s = *r.subject;
    const Character& c = *s.character;
    PosedFrame f;
    f.subject = r.subject;
    f.motion = r.motion;
    f.degrees = r.degrees;
    const Driven driven = drive(c, r.pose);
    deform(c, driven, r.method, f.position, &s.lanes);
    for (const Transform& t : driven.world)
        f.jointPosition.push_back(t.translation().cast<float>());
    const auto welded = weldedPositions(s.surface, f.position);

    std::vector<Strain> perTriangle;
    strains(s.surface.triangles, s.rest, welded, perTriangle);
    const auto perVertex = vertexStrains(s.surface, perTriangle);
    std::vector<Vec3> normals(welded.size(), Vec3::Zero()); // over welds, so that seams do not show
    for (const Triangle& t : s.surface.triangles) {
        const Vec3 n = (welded[t[1]] - welded[t[0]]).cross(welded[t[2]] - welded[t[0]]);
        for (std::uint32_t v : t)
            normals[v] += n;
    }
    f.strain.resize(f.position.size());
    f.normal.resize(f.position.size());
    for (std::size_t v = 0; v < f.position.size(); ++v) {
        f.strain[v] = perVertex[s.surface.weldOf[v]];
        const Vec3& n = normals[s.surface.weldOf[v]];
        f.normal[v] = n.norm() > 1e-20f ? Vec3(n.normalized()) : Vec3::UnitY();
    }
    for (int j : r.joints)
        f.zones.push_back({j, measureZone(s.surface, s.rest, s.zones[j], welded)});
    return f;
}

PoseWorker::PoseWorker(QObject* parent) : QObject(parent), thread_([this] { work(); }) {}

PoseWorker::~PoseWorker() {
    {
        const std::lock_guard lock(mutex_);
        stopping_ = true;
    }
    wake_.notify_one();
    thread_.join();
}

void PoseWorker::request(PoseRequest r) {
    {
        const std::lock_guard lock(mutex_);
        newest_ = std::move(r);
    }
    wake_.notify_one();
}

void PoseWorker::work() {
    while (true) {
        PoseRequest r;
        {
            std::unique_lock lock(mutex_);
            wake_.wait(lock, [this] { return stopping_ || newest_; });
            if (stopping_)
                return;
            r = std::move(*newest_);
            newest_.reset();
        }
        auto frame = std::make_shared<const PosedFrame>(computeFrame(r));
        QMetaObject::invokeMethod(this, [this, frame] { emit posed(frame); });
    }
}

} // namespace hobble
