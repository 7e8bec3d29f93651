#include "story/defect_pictures.h"

#include "core/judge/skin_values.h"
#include "core/measure/pose_meter.h"
#include "log/finding_defect.h"
#include "picture/measure_scale.h"
#include "picture/picture.h"
#include "story/defect_pose.h"

#include <QCoreApplication>
#include <QJsonArray>
#include <QJsonDocument>
#include <QJsonObject>

#include <algorithm>
#include <cmath>
#include <utility>

namespace hobble {

namespace {

QString tr(const char* words) { return QCoreApplication::translate("hobble", words); }

// The kind a pose by itself shows; what only a whole run tells has no colours in one.
std::optional<Kind> kindInOnePose(const QString& name) {
    for (Kind k : kKinds)
        if (name == QLatin1String(nameOf(k)) && k != Kind::OneSided && k != Kind::WrongBend &&
            k != Kind::NotClosed)
            return k;
    return std::nullopt;
}

// One value per file vertex of what a kind measures in the defect's pose; nothing when stopped.
std::optional<std::vector<float>> valuesOf(const Defect& d, const Subject& s, Kind kind,
                                           const PictureWish& wish) {
    const DefectMotion dm = motionOf(d.facts, s);
    Motion here = dm.motion;
    std::size_t step = 0;
    if (kind == Kind::Pop) { // between two poses: the whole motion has to be gone through
        for (std::size_t k = 0; k < here.steps.size(); ++k)
            if (std::abs(here.steps[k] - dm.at) < std::abs(here.steps[step] - dm.at))
                step = k;
    } else {
        here.steps = {dm.at};
    }
    PoseMeter meter(s, {Skinning::Linear, noFloors(), kind != Kind::Pop, wish.cancel});
    const auto measured = meter.measure(here, [] {});
    if (!measured)
        return std::nullopt;
    const auto welded = skinValues(s, here, *measured, step, kind);
    std::vector<float> out(s.character->vertexCount());
    for (std::size_t v = 0; v < out.size(); ++v)
        out[v] = welded[s.surface.weldOf[v]];
    return out;
}

// Where the skin of the defect is in a pose, and the way it looks. By its vertices on the build it was logged
// in; on others, whose vertices may be others, by the place that was kept of it.
struct Spot {
    Vec3d centre = Vec3d::Zero(), outward = Vec3d::UnitZ();
    double reach = 0.1; // metres
};

Spot spotOf(const Defect& d, const Subject& s, const std::vector<Vec3>& posed, bool sameVertices) {
    const Character& c = *s.character;
    std::vector<char> marked(posed.size(), 0);
    bool any = false;
    if (sameVertices)
        for (const Part& part : c.parts)
            for (std::uint32_t v : markedVertices(d.facts, part.name))
                if (v < part.vertexCount) {
                    marked[part.firstVertex + v] = 1;
                    any = true;
                }
    if (!any) {
        const QJsonObject marks = QJsonDocument::fromJson(d.facts.marks).object();
        const QJsonArray place = marks.value(QStringLiteral("place")).toArray();
        const int joint = c.skeleton.find(d.facts.joint.toStdString());
        if (joint >= 0) {
            const Vec3d at = c.skeleton.neutralWorld[static_cast<std::size_t>(joint)].translation();
            Vec3d where = at;
            if (place.size() == 3) // left, up and forward of the joint, in body heights
                where +=
                    s.body.height * (place[0].toDouble() * s.body.left + place[1].toDouble() * s.body.up +
                                     place[2].toDouble() * s.body.forward);
            const double reach =
                std::max(0.02, marks.value(QStringLiteral("reach")).toDouble()) * s.body.height;
            for (std::size_t v = 0; v < posed.size(); ++v)
                if ((c.neutral[v].cast<double>() - where).norm() < reach) {
                    marked[v] = 1;
                    any = true;
                }
        }
    }
    Spot out;
    Vec3d normal = Vec3d::Zero();
    Eigen::AlignedBox3d box;
    for (const Triangle& t : c.triangles)
        if (marked[t[0]] && marked[t[1]] && marked[t[2]]) {
            normal += (posed[t[1]] - posed[t[0]]).cross(posed[t[2]] - posed[t[0]]).cast<double>();
            for (auto v : t)
                box.extend(posed[v].cast<double>());
        }
    if (box.isEmpty())
        for (std::size_t v = 0; v < posed.size(); ++v)
            if (marked[v])
                box.extend(posed[v].cast<double>());
    if (box.isEmpty()) { // nothing of it is left to be found: the whole character
        for (const Vec3& p : posed)
            box.extend(p.cast<double>());
        out.reach = box.isEmpty() ? 1 : box.sizes().maxCoeff() / 2;
    } else {
        out.reach = std::max(box.sizes().maxCoeff() / 2, 0.03 * s.body.height);
    }
    if (!box.isEmpty())
        out.centre = box.center();
    if (normal.norm() > 1e-12)
        out.outward = normal.normalized();
    return out;
}

// A view by its name from the limb: what one sees of it from there.
QString viewName(const Subject& s, const Vec3d& from, const QString& side) {
    const double front = from.dot(s.body.forward), left = from.dot(s.body.left);
    const QString ahead = front >= 0 ? tr("front") : tr("back");
    const QString beside = side == QLatin1String("left") ? (left >= 0 ? tr("outer side") : tr("inner side"))
                           : side == QLatin1String("right")
                               ? (left >= 0 ? tr("inner side") : tr("outer side"))
                               : (left >= 0 ? tr("left side") : tr("right side"));
    if (std::abs(left) < 0.45 * std::abs(front))
        return ahead;
    return std::abs(front) < 0.45 * std::abs(left) ? beside : tr("%1 and %2").arg(ahead, beside);
}

Vec3 linearOf(const Vec3& srgb) {
    return srgb.unaryExpr([](float v) { return std::pow(std::clamp(v, 0.f, 1.f), 2.2f); });
}

// What is marked, on skin of one pale colour.
std::vector<Vec3> markedColours(const Defect& d, const Character& c, bool sameVertices) {
    const Vec3 skin(0.55f, 0.53f, 0.5f), mark(0.8f, 0.22f, 0.02f);
    std::vector<Vec3> out(c.vertexCount(), skin);
    for (const Part& part : c.parts)
        if (sameVertices)
            for (std::uint32_t v : markedVertices(d.facts, part.name))
                if (v < part.vertexCount)
                    out[part.firstVertex + v] = mark;
    return out;
}

} // namespace

DefectPictures picturesOf(const Defect& d, const QVector<Build>& builds, BuildShelf& shelf,
                          const PictureWish& wish) {
    DefectPictures out;
    const auto stopped = [&] { return wish.cancel && wish.cancel->load(); };
    const std::optional<Kind> kind = kindInOnePose(d.facts.kind);
    // The first build's view is kept for the others, so that they compare; unless those are of another size.
    struct Seen {
        PictureView view;
        double yaw = 0, height = 0;
    } own, told;                 // as the defect was seen, and in the pose that shows it
    DefectFacts shown = d.facts; // in the pose that shows it
    bool sought = false;
    QString pose; // in words, if it is another
    for (const Build& b : builds) {
        if (stopped())
            return out;
        const auto taken = shelf.take(b);
        if (!taken) {
            out.missing << QString::fromStdString(taken.error());
            continue;
        }
        const Subject& s = **taken;
        const Character& c = *s.character;
        const bool sameVertices = b.hash == d.build.hash;
        if (sameVertices && !std::exchange(sought, true)) // on others its vertices say nothing
            shown = inTellingPose(d.facts, s, {wish.cancel, {}});
        if (stopped())
            return out;
        const bool byIntake = foundByIntake(d.facts), telling = byIntake && !shown.motionName.isEmpty();
        if (telling && pose.isEmpty()) {
            const DefectMotion dm = motionOf(shown, s);
            pose = QStringLiteral("%1, %2").arg(QString::fromStdString(wordsFor(dm.motion)),
                                                QString::fromStdString(wordsFor(dm.motion, dm.at)));
        }
        std::vector<Vec3> asSeen, posed;
        deform(c, poseOf(d.facts, c), Skinning::Linear, asSeen);
        if (telling)
            deform(c, poseOf(shown, c), Skinning::Linear, posed);
        std::vector<Vec3> colours;
        if (byIntake) {
            colours = markedColours(d, c, sameVertices);
            out.scale = telling ? tr("Marked in orange, in the pose that shows it: %1.").arg(pose)
                                : tr("Marked in orange; no pose of the plan shows it.");
        }
        if (kind) {
            const auto values = valuesOf(d, s, *kind, wish);
            if (!values)
                return out;
            const int joint = c.skeleton.find(d.facts.joint.toStdString());
            const ColourScale scale = scaleOf(*kind, s, wish.limits, joint);
            for (float value : *values)
                colours.push_back(linearOf(scale.at(static_cast<double>(value))));
            if (out.scale.isEmpty()) {
                QStringList steps;
                for (const ColourStop& stop : scale.stops) // of a scale with two sides, this one
                    if (stop.severity && (stop.value > unchangedOf(*kind)) == faultIsAbove(*kind))
                        steps << tr("%1 from %2").arg(stop.severity).arg(scale.words(stop.value));
                out.scale =
                    tr("Coloured by %1; severity %2.").arg(d.facts.kind, steps.join(QStringLiteral(", ")));
            }
        }
        const auto look = [&](Seen& seen, const std::vector<Vec3>& positions) {
            if (seen.height > 0 && std::abs(s.body.height / seen.height - 1) <= 0.15)
                return;
            seen.height = s.body.height;
            const Spot spot = spotOf(d, s, positions, sameVertices);
            seen.view.centre = spot.centre;
            seen.view.height = std::clamp(4.2 * spot.reach, 0.14 * seen.height, 1.15 * seen.height);
            Vec3d flat = spot.outward;
            flat.y() = 0;
            seen.yaw = flat.norm() > 0.15 ? std::atan2(flat.x(), flat.z()) * 180 / std::numbers::pi : 25;
            seen.view.pitch =
                std::clamp(std::asin(std::clamp(spot.outward.y(), -1.0, 1.0)) * 180 / std::numbers::pi * 0.5,
                           -25.0, 35.0);
        };
        look(own, asSeen);
        if (telling)
            look(told, posed);
        for (const bool measured : {false, true}) {
            if (measured && colours.empty())
                continue;
            const bool otherwise = measured && telling;
            Seen& seen = otherwise ? told : own;
            for (const double turn : {0.0, seen.yaw > 0 ? -80.0 : 80.0}) {
                if (stopped())
                    return out;
                if (turn != 0 && wish.views < 2)
                    continue;
                seen.view.yaw = seen.yaw + turn;
                const double a = radians(seen.view.yaw);
                out.pictures.push_back(
                    {b.number, viewName(s, Vec3d(std::sin(a), 0, std::cos(a)), d.facts.side), measured,
                     picture(c, otherwise ? posed : asSeen, seen.view, wish.width, wish.height, false,
                             measured ? colours : std::vector<Vec3>()),
                     otherwise ? pose : QString()});
            }
        }
    }
    return out;
}

} // namespace hobble
