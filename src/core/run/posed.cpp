#include "core/run/posed.h"

#include "core/judge/skin_values.h"
#include "core/measure/contact_lines.h"
#include "core/measure/joined_zones.h"
#include "core/measure/pose_meter.h"

#include <algorithm>
#include <cmath>

namespace hobble {

namespace {

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

// From one per welded vertex to one per file vertex: over welds, so that seams do not show.
std::vector<Vec3> toFile(const Surface& s, const std::vector<Vec3>& welded) {
    std::vector<Vec3> out(s.weldOf.size());
    for (std::size_t v = 0; v < out.size(); ++v)
        out[v] = welded[s.weldOf[v]];
    return out;
}

} // namespace

PosedFrame computeFrame(const PoseRequest& r, std::shared_ptr<const SmoothPreview> preview) {
    const Subject& s = *r.subject;
    const Character& c = *s.character;
    PosedFrame f;
    f.subject = r.subject;
    f.motion = r.motion;
    f.at = r.at;
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
        f.preview =
            preview ? std::move(preview) : std::make_shared<const SmoothPreview>(smoothPreview(s.surface));
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
    here.steps = {r.at};
    PoseMeter meter(s, {r.method, noFloors(), true, cancel});
    auto measured = meter.measure(here, [] {});
    if (!measured)
        return d; // something newer is wanted
    d.measured = std::move(*measured);
    d.kind = r.wish.values;
    MeasuredPose& pose = d.measured.poses.front();
    // A kick is between two steps, and sides are compared over a run: what the step nearest to here was found
    // to do.
    const auto& steps = r.moved->steps;
    const auto nearest = static_cast<std::size_t>(
        std::min_element(steps.begin(), steps.end(),
                         [&](double a, double b) { return std::abs(a - r.at) < std::abs(b - r.at); }) -
        steps.begin());
    if (d.kind == Kind::Pop && r.store)
        if (const auto whole = r.store->find(*s.character, r.method, *r.moved, r.floors))
            pose.popped = whole->poses[nearest].popped;
    if (r.run && r.motion >= 0 && static_cast<std::size_t>(r.motion) < r.run->motions.size()) {
        const StepResult* known = nullptr; // a run may have more steps than its plan
        for (const StepResult& step : r.run->motions[static_cast<std::size_t>(r.motion)].steps)
            if (!known || std::abs(step.at - r.at) < std::abs(known->at - r.at))
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

std::optional<double> ghostPlace(const Motion& motion, double at, Ghost ghost) {
    if (ghost == Ghost::None)
        return std::nullopt;
    if (ghost == Ghost::Neutral)
        return 0;
    std::optional<double> beside;
    for (double step : motion.steps)
        if (ghost == Ghost::StepBefore ? step < at - 1e-6 && (!beside || step > *beside)
                                       : step > at + 1e-6 && (!beside || step < *beside))
            beside = step;
    return beside;
}

} // namespace hobble
