#include "app/session/pose_worker.h"

#include "core/judge/skin_values.h"
#include "core/measure/contact_lines.h"
#include "core/measure/joined_zones.h"
#include "core/measure/pose_meter.h"

#include <QMetaObject>

#include <algorithm>
#include <chrono>

namespace hobble {

namespace {

constexpr std::chrono::milliseconds kRest{60}; // how long a pose stands before its detail is computed

// Area-weighted, per vertex the triangles name.
std::vector<Vec3> normalsOf(const std::vector<Triangle>& triangles, const std::vector<Vec3>& at) {
    std::vector<Vec3> out(at.size(), Vec3::Zero());
    for (const Triangle& t : triangles) {
        const Vec3 n = (at[t[1]] - at[t[0]]).cross(at[t[2]] - at[t[0]]);
        for (std::uint32_t v : t)
            out[v] += n;
    }
    for (Vec3& n : out)
        n = n.norm() > 1e-20f ? Vec3(n.normalized()) : Vec3::UnitY();
    return out;
}

// Built once per character: scrubbing asks again and again.
std::shared_ptr<const SmoothPreview> previewOf(const std::shared_ptr<const Subject>& subject) {
    thread_local std::weak_ptr<const Subject> last;
    thread_local std::shared_ptr<const SmoothPreview> preview;
    if (last.lock() != subject || !preview) {
        preview = std::make_shared<const SmoothPreview>(smoothPreview(subject->surface));
        last = subject;
    }
    return preview;
}

// From one per welded vertex to one per file vertex: over welds, so that seams do not show.
std::vector<Vec3> toFile(const Surface& s, const std::vector<Vec3>& welded) {
    std::vector<Vec3> out(s.weldOf.size());
    for (std::size_t v = 0; v < out.size(); ++v)
        out[v] = welded[s.weldOf[v]];
    return out;
}

} // namespace

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
    f.normal = toFile(s.surface, normalsOf(s.surface.triangles, welded));
    f.strain.resize(f.position.size());
    for (std::size_t v = 0; v < f.position.size(); ++v)
        f.strain[v] = perVertex[s.surface.weldOf[v]];
    for (int j : r.joints)
        f.zones.push_back({j, measureZone(s.surface, s.rest, s.zones[j], welded)});
    if (r.moved && r.moved->turns.size() == f.zones.size()) {
        std::vector<ZoneMeasures> measures;
        for (const JointStep& z : f.zones)
            measures.push_back(z.measures);
        measureJoined(s.surface, joinZones(s, *r.moved), welded, measures);
        for (std::size_t k = 0; k < measures.size(); ++k)
            f.zones[k].measures = measures[k];
    }
    if (r.ghost) {
        deform(c, drive(c, *r.ghost), r.method, f.ghostPosition, &s.lanes);
        f.ghostNormal =
            toFile(s.surface, normalsOf(s.surface.triangles, weldedPositions(s.surface, f.ghostPosition)));
    }
    if (r.wish.smooth) {
        f.preview = previewOf(r.subject);
        f.smoothPosition = smoothed(*f.preview, welded);
        f.smoothNormal = normalsOf(f.preview->triangles, f.smoothPosition);
    }
    return f;
}

PosedDetail computeDetail(const PoseRequest& r, std::shared_ptr<const PosedFrame> frame,
                          const std::atomic<bool>* cancel) {
    PosedDetail d;
    d.frame = std::move(frame);
    const Subject& s = *r.subject;
    Motion here = *r.moved;
    here.degrees = {r.degrees};
    PoseMeter meter(s, {r.method, noFloors(), true, cancel});
    auto measured = meter.measure(here, [] {});
    if (!measured)
        return d; // something newer is wanted
    d.measured = std::move(*measured);
    d.kind = r.wish.values;
    MeasuredPose& pose = d.measured.poses.front();
    // A kick is between two steps, and sides are compared over a run: what the step nearest to here was found
    // to do.
    const auto& steps = r.moved->degrees;
    const auto nearest = static_cast<std::size_t>(std::min_element(steps.begin(), steps.end(),
                                                                   [&](double a, double b) {
                                                                       return std::abs(a - r.degrees) <
                                                                              std::abs(b - r.degrees);
                                                                   }) -
                                                  steps.begin());
    if (d.kind == Kind::Pop && r.store)
        if (const auto whole = r.store->find(*s.character, r.method, *r.moved, r.floors))
            pose.popped = whole->poses[nearest].popped;
    if (r.run && r.motion >= 0 && static_cast<std::size_t>(r.motion) < r.run->motions.size()) {
        const StepResult* known = nullptr; // a run may have more steps than its plan
        for (const StepResult& step : r.run->motions[static_cast<std::size_t>(r.motion)].steps)
            if (!known || std::abs(step.degrees - r.degrees) < std::abs(known->degrees - r.degrees))
                known = &step;
        for (std::size_t k = 0; known && k < pose.zones.size(); ++k) {
            pose.zones[k].side = known->joints[k].measures.side;
            pose.zones[k].bend = known->joints[k].measures.bend;
        }
    }
    if (d.kind)
        d.values = skinValues(s, here, d.measured, 0, *d.kind);
    if (r.wish.contactLines && !pose.inside.empty()) {
        const auto welded = weldedPositions(s.surface, d.frame->position);
        const MotionRegion region = motionRegion(s, here);
        ContactScratch scratch;
        Contact found;
        if (contacts(s, region, welded, scratch, found, cancel))
            d.contactLines = contactLines(s.surface.triangles, welded, found.pairs);
    }
    return d;
}

PoseWorker::PoseWorker(QObject* parent) : QObject(parent), thread_([this] { work(); }) {}

PoseWorker::~PoseWorker() {
    {
        const std::lock_guard lock(mutex_);
        stopping_ = true;
        stale_ = true;
    }
    wake_.notify_one();
    thread_.join();
}

void PoseWorker::request(PoseRequest r) {
    {
        const std::lock_guard lock(mutex_);
        newest_ = std::move(r);
        stale_ = true;
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
            stale_ = false;
        }
        auto frame = std::make_shared<const PosedFrame>(computeFrame(r));
        QMetaObject::invokeMethod(this, [this, frame] { emit posed(frame); });
        if (!r.moved)
            continue;
        { // while the hand moves, all cores are for the picture
            std::unique_lock lock(mutex_);
            if (wake_.wait_for(lock, kRest, [this] { return stopping_ || newest_; }))
                continue;
        }
        auto detail = std::make_shared<const PosedDetail>(computeDetail(r, frame, &stale_));
        if (!stale_)
            QMetaObject::invokeMethod(this, [this, detail] { emit detailed(detail); });
    }
}

} // namespace hobble
