#include "core/measure/pose_meter.h"

#include "core/measure/lag.h"
#include "core/measure/leak.h"
#include "core/measure/pop.h"
#include "core/measure/touching.h"

#include <algorithm>
#include <map>

namespace hobble {

namespace {

// Whether a motion moves a part otherwise than as a whole.
bool bends(const Surface& surface, const MotionRegion& region, const RigidPart& part) {
    if (part.triangles.empty())
        return false;
    const std::uint32_t first = surface.triangles[part.triangles[0]][0];
    for (std::uint32_t t : part.triangles)
        for (std::uint32_t v : surface.triangles[t]) {
            if (region.numberOf[v] != MotionRegion::kNone)
                return true;
            for (const auto& follow : region.follow)
                if ((follow[v] > 0.5f) != (follow[first] > 0.5f))
                    return true;
        }
    return false;
}

} // namespace

void PoseMeter::begin(const Motion& motion) {
    motion_ = &motion;
    region_ = motionRegion(s_, motion);
    outside_ = outsideZones(s_, motion, region_);
    missing_ = missingTurn(s_, motion, options_.floors.lag);
    rings_ = ringLanes(s_, region_);
    joined_ = joinZones(s_, motion);
    contactScratch_.forRegion = 0;
    paths_.clear();
    kicks_ = !s_.character->drivers.empty() && !motion.keys; // a clip's own swings are no kicks
    partBends_.clear();
    for (const RigidPart& r : s_.rigid)
        partBends_.push_back(bends(s_.surface, region_, r));
    openings_.clear();
    const Closing closing = closingOf(motion);
    for (std::size_t i = 0; i < s_.openings->size(); ++i)
        if (const FaceOpening& o = (*s_.openings)[i]; closes(closing, o) || moves(region_, o))
            openings_.push_back(i);
    out_ = {};
    out_.turnOf = turnOfTriangles(s_, motion, region_);
    std::vector<std::uint32_t> placeOf(s_.surface.triangles.size(), MotionRegion::kNone);
    for (std::uint32_t i = 0; i < region_.triangles.size(); ++i)
        placeOf[region_.triangles[i]] = i;
    zoneTriangles_.clear();
    for (const JointTurn& turn : motion.turns) {
        zoneTriangles_.emplace_back();
        for (std::uint32_t t : s_.zones[turn.joint].triangles)
            zoneTriangles_.back().push_back(placeOf[t]);
    }
}

bool PoseMeter::pose(double degrees) {
    for (std::size_t i = 0; i < out_.poses.size(); ++i)
        if (out_.poses[i].at == degrees) { // a motion ends where it began
            out_.poses.push_back(MeasuredPose(out_.poses[i]));
            if (kicks_)
                paths_.push_back(std::vector<Vec3>(paths_[i]));
            return !cancelled();
        }
    MeasuredPose out;
    out.at = degrees;
    const Driven driven = drive(*s_.character, poseAt(s_.character->skeleton, *motion_, degrees));
    deform(*s_.character, driven, options_.method, file_, &s_.lanes);
    weldedPositions(s_.surface, file_, posed_);
    strains(region_.corners, region_.rest, posed_, strain_);
    zones(out);
    if (cancelled())
        return false;
    roughness(s_, region_, rings_, posed_, rough_);
    if (cancelled())
        return false;
    hobble::flips(s_, region_, posed_, rough_, flipped_);
    leaks(s_, *motion_, region_, outside_, driven.world, posed_, leak_);
    surface(out);
    lag(out);
    flips(out);
    const double radius = s_.zones[motion_->turns.front().joint].limbRadius;
    if (options_.contact) {
        if (!contacts(s_, region_, posed_, contactScratch_, contact_, options_.cancel))
            return false;
        out.zones[0].contact = radius > 0 ? contact_.deepest / radius : 0;
        if (radius > 0)
            for (const auto& [v, depth] : contact_.inside)
                out.inside.push_back({v, static_cast<float>(depth / radius)});
    }
    if (!s_.cover->covered.empty()) {
        cover(s_, region_, posed_, coverScratch_, cover_);
        const double height = std::max(s_.body.height, 1e-9);
        const auto keep = [&](const std::vector<Cover::Value>& from, Samples& to,
                              std::optional<double>& most) {
            most = 0;
            for (const Cover::Value& v : from) {
                to.push_back({v.vertex, static_cast<float>(v.metres / height)});
                most = std::max(*most, v.metres / height);
            }
        };
        keep(cover_.poke, out.poke, out.zones[0].poke);
        keep(cover_.gap, out.gap, out.zones[0].gap);
    }
    parts(out);
    openings(out);
    if (kicks_) {
        std::vector<Vec3> path;
        for (std::uint32_t v : region_.vertices)
            path.push_back(posed_[v]);
        paths_.push_back(std::move(path));
    }
    out_.poses.push_back(std::move(out));
    return !cancelled();
}

void PoseMeter::zones(MeasuredPose& out) {
    for (std::size_t k = 0; k < motion_->turns.size(); ++k) {
        zoneStrain_.clear();
        for (std::uint32_t i : zoneTriangles_[k])
            zoneStrain_.push_back(i == MotionRegion::kNone ? Strain{} : strain_[i]);
        out.zones.push_back(measureZone(s_.surface, s_.zones[motion_->turns[k].joint], posed_, zoneStrain_));
    }
    measureJoined(s_.surface, joined_, posed_, out.zones);
}

// Per triangle and per vertex, what lies beyond the floors. Rigid parts are measured as wholes.
void PoseMeter::surface(MeasuredPose& out) {
    const Floors& floor = options_.floors;
    for (std::size_t i = 0; i < region_.triangles.size(); ++i) {
        const std::uint32_t t = region_.triangles[i];
        const Strain& x = strain_[i];
        if (!(x.stretch > floor.stretch) && !(x.squash < floor.squash))
            continue;
        if (s_.surface.area[t] <= 0 || s_.onRigidPart[t])
            continue;
        if (x.stretch > floor.stretch)
            out.stretch.push_back({t, x.stretch});
        if (x.squash < floor.squash)
            out.squash.push_back({t, x.squash});
    }
    const double height = std::max(s_.body.height, 1e-9);
    double farthest = 0;
    for (std::size_t i = 0; i < region_.vertices.size(); ++i) {
        const std::uint32_t v = region_.vertices[i];
        if (s_.surface.trianglesAt.count(v) == 0 || s_.onRigidPart[*s_.surface.trianglesAt.begin(v)])
            continue;
        if (rough_.value[i] > floor.roughness)
            out.roughness.push_back({v, rough_.value[i]});
        const double leak = leak_[i] / height;
        farthest = std::max(farthest, leak);
        if (leak > floor.leak)
            out.leak.push_back({v, static_cast<float>(leak)});
    }
    out.zones[0].leak = farthest;
    std::vector<std::pair<float, float>> all;
    all.reserve(region_.triangles.size());
    for (std::size_t i = 0; i < region_.triangles.size(); ++i) {
        const auto& [a, b, c] = region_.numbers[i];
        all.emplace_back(std::min({rough_.value[a], rough_.value[b], rough_.value[c]}),
                         s_.surface.area[region_.triangles[i]]);
    }
    if (!all.empty())
        out.zones[0].roughness = weightedQuantile(std::move(all), 0.99);
}

void PoseMeter::lag(MeasuredPose& out) {
    constexpr double visible = 0.004; // of the body's height
    if (missing_.empty())
        return;
    out.lag = leftBehind(s_, *motion_, missing_, out.at, visible * std::max(s_.body.height, 1e-9));
    // As findings are judged: what a least patch of the skin reaches.
    std::vector<float> sorted;
    for (const Sample& x : out.lag)
        sorted.push_back(x.value);
    constexpr std::size_t few = 4;
    std::sort(sorted.rbegin(), sorted.rend());
    out.zones[0].lag = sorted.size() >= few ? static_cast<double>(sorted[few - 1]) : 0;
}

void PoseMeter::flips(MeasuredPose& out) {
    for (std::size_t i = 0; i < flipped_.size(); ++i)
        if (flipped_[i] && !s_.onRigidPart[region_.triangles[i]])
            out.flipped.push_back(region_.triangles[i]);
    out.zones[0].flip = 0;
    for (const auto& group : touching(s_.surface, out.flipped)) {
        const int joint = jointOfPatch(s_, *motion_, out_.turnOf, group);
        double area = 0;
        for (std::uint32_t t : group)
            area += s_.surface.area[t];
        std::size_t k = 0; // the turn it is told at
        for (std::size_t i = 0; i < motion_->turns.size(); ++i)
            if (motion_->turns[i].joint == joint)
                k = i;
        if (s_.zones[joint].area > 0)
            out.zones[k].flip = std::max(out.zones[k].flip.value_or(0), area / s_.zones[joint].area);
    }
}

void PoseMeter::parts(MeasuredPose& out) {
    const double height = std::max(s_.body.height, 1e-9);
    const auto raise = [](std::optional<double>& to, double value) { to = std::max(to.value_or(0), value); };
    for (const RigidPart& r : s_.rigid) {
        const bool bends = r.bound && partBends_[out.softness.size()];
        out.softness.push_back(bends ? softness(s_, r, posed_) : 0);
        out.drift.push_back(r.bound ? 0 : drift(s_, r, posed_) / height);
        raise(r.bound ? out.zones[0].softness : out.zones[0].drift,
              r.bound ? out.softness.back() : out.drift.back());
    }
}

void PoseMeter::openings(MeasuredPose& out) {
    const Closing closing = closingOf(*motion_);
    const bool closed = out.at != 0 && out.at == motion_->limit(); // only then is anything to be closed
    for (std::size_t i : openings_) {
        const FaceOpening& o = (*s_.openings)[i];
        std::size_t k = 0; // the turn it is told at
        for (std::size_t t = 0; t < motion_->turns.size(); ++t)
            if (motion_->turns[t].joint == o.joint)
                k = t;
        ZoneMeasures& zone = out.zones[k];
        const OpeningMeasure measured = measureOpening(s_, o, posed_, openingScratch_);
        zone.through = std::max(zone.through.value_or(0), measured.through);
        for (const auto& [v, share] : measured.outside)
            out.through.push_back({v, share});
        if (closed && measured.bare && closes(closing, o)) {
            zone.bare = std::max(zone.bare.value_or(0), *measured.bare);
            for (std::uint32_t v : measured.left)
                out.bare.push_back({v, static_cast<float>(*measured.bare)});
        }
    }
    const auto byVertex = [](const Sample& a, const Sample& b) { return a.at < b.at; };
    std::sort(out.through.begin(), out.through.end(), byVertex);
    std::sort(out.bare.begin(), out.bare.end(), byVertex);
}

std::optional<MeasuredPose> PoseMeter::oneMore(double degrees) {
    out_.poses.clear();
    paths_.clear();
    if (!pose(degrees))
        return std::nullopt;
    return std::move(finish().poses[0]);
}

MeasuredMotion PoseMeter::finish() {
    if (kicks_ && !paths_.empty()) {
        paths_.pop_back(); // neutral again
        const double height = std::max(s_.body.height, 1e-9);
        for (const Pop& pop :
             pops(s_, *motion_, region_, options_.method, paths_, options_.floors.pop * height)) {
            MeasuredPose& at = out_.poses[std::min(pop.step + 1, out_.poses.size() - 1)];
            at.zones[0].pop = pop.most / height;
            for (std::size_t i = 0; i < region_.triangles.size(); ++i) {
                const auto& [a, b, c] = region_.numbers[i];
                const float least = std::min({pop.metres[a], pop.metres[b], pop.metres[c]});
                if (least > options_.floors.pop * height)
                    at.popped.push_back({region_.triangles[i], static_cast<float>(least / height)});
            }
        }
    }
    MeasuredMotion done;
    done.turnOf = out_.turnOf; // kept for oneMore
    done.poses = std::move(out_.poses);
    out_.poses.clear();
    return done;
}

} // namespace hobble
