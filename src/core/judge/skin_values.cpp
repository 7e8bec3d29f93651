#include "core/judge/skin_values.h"

#include "core/measure/subject.h"

#include <algorithm>
#include <cmath>

namespace hobble {

namespace {

class Painter {
public:
    std::vector<float> values;

    Painter(const Subject& s, Kind kind)
        : values(s.surface.vertexCount(), static_cast<float>(unchangedOf(kind))), s_(s), kind_(kind) {}

    void worsen(std::uint32_t v, double x) {
        const auto value = static_cast<float>(x);
        // Volume goes either way: what is further from unchanged stays.
        if (kind_ == Kind::VolumeLoss || kind_ == Kind::Bulge)
            values[v] =
                std::abs(std::log(std::max(value, 1e-6f))) > std::abs(std::log(std::max(values[v], 1e-6f)))
                    ? value
                    : values[v];
        else
            values[v] = faultIsAbove(kind_) ? std::max(values[v], value) : std::min(values[v], value);
    }
    void vertices(const Samples& samples) {
        for (const Sample& x : samples)
            worsen(x.at, x.value);
    }
    void triangle(std::uint32_t t, double value) {
        for (std::uint32_t v : s_.surface.triangles[t])
            worsen(v, value);
    }
    void triangles(const std::vector<std::uint32_t>& list, std::optional<double> value) {
        if (value)
            for (std::uint32_t t : list)
                triangle(t, *value);
    }

private:
    const Subject& s_;
    Kind kind_;
};

// Between the stations on either side of a vertex along the limb.
void paintGirth(const Subject& s, const JointZone& zone, const ZoneMeasures& z, Painter& out) {
    if (!zone.girth || z.girth.empty())
        return;
    const auto& stations = zone.girth->stations;
    const Vec3d joint = s.character->skeleton.neutralWorld[zone.joint].translation();
    for (std::uint32_t t : zone.shellTriangles)
        for (std::uint32_t v : s.surface.triangles[t]) {
            const double along = zone.axis.dot(s.neutral[v].cast<double>() - joint);
            for (std::size_t i = 0; i + 1 < stations.size() && i + 1 < z.girth.size(); ++i) {
                const double from = stations[i].offset, to = stations[i + 1].offset;
                if (along < from || along > to || !z.girth[i] || !z.girth[i + 1])
                    continue;
                const double share = (along - from) / std::max(to - from, 1e-12);
                out.worsen(v, *z.girth[i] + share * (*z.girth[i + 1] - *z.girth[i]));
            }
        }
}

void paintParts(const Subject& s, const std::vector<double>& values, Painter& out) {
    for (std::size_t i = 0; i < std::min(values.size(), s.rigid.size()); ++i)
        out.triangles(s.rigid[i].triangles, values[i]);
}

} // namespace

Floors noFloors() { return {}; }

std::vector<float> skinValues(const Subject& s, const Motion& motion, const MeasuredMotion& measured,
                              std::size_t pose, Kind kind) {
    const MeasuredPose& p = measured.poses[pose];
    Painter out(s, kind);
    const auto wholeZone = [&](std::size_t k) -> const JointZone& { return s.zones[motion.turns[k].joint]; };
    switch (kind) {
    case Kind::Stretch:
    case Kind::Squash: // per triangle: the worst at a vertex
        for (const Sample& x : kind == Kind::Stretch ? p.stretch : p.squash)
            out.triangle(x.at, x.value);
        break;
    case Kind::VolumeLoss:
    case Kind::Bulge:
        for (std::size_t k = 0; k < p.zones.size(); ++k)
            out.triangles(wholeZone(k).shellTriangles, p.zones[k].volume);
        break;
    case Kind::Pinch:
        for (std::size_t k = 0; k < p.zones.size(); ++k)
            paintGirth(s, wholeZone(k), p.zones[k], out);
        break;
    case Kind::Contact:
        out.vertices(p.inside);
        break;
    case Kind::PokeThrough:
        out.vertices(p.poke);
        break;
    case Kind::Gap:
        out.vertices(p.gap);
        break;
    case Kind::Roughness:
    case Kind::Spike:
        out.vertices(p.roughness);
        break;
    case Kind::Leak:
        out.vertices(p.leak);
        break;
    case Kind::Lag:
        out.vertices(p.lag);
        break;
    case Kind::SoftRigidPart:
        paintParts(s, p.softness, out);
        break;
    case Kind::UnboundPart:
        paintParts(s, p.drift, out);
        break;
    case Kind::Flip: { // the share of the zone that each turned-over triangle is part of
        for (std::uint32_t t : p.flipped) {
            const std::size_t k = measured.turnOf.empty() ? 0 : measured.turnOf[t];
            out.triangle(t, k < p.zones.size() ? p.zones[k].flip.value_or(0) : 0);
        }
        break;
    }
    case Kind::Pop:
        for (const Sample& x : p.popped)
            out.triangle(x.at, x.value);
        break;
    case Kind::NotClosed:
        out.vertices(p.bare);
        break;
    case Kind::ThroughLid:
        out.vertices(p.through);
        break;
    case Kind::OneSided:
    case Kind::WrongBend:
        for (std::size_t k = 0; k < p.zones.size(); ++k)
            out.triangles(wholeZone(k).triangles, valueOf(kind, p.zones[k]));
        break;
    }
    return std::move(out.values);
}

} // namespace hobble
