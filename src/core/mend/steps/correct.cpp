// A corrective shape: what is done to the posed skin is taken back through the skinning (the inverse of the
// blended matrix; where that nearly collapses, no more than it can carry) and kept as a shape target of the
// vertices touched, faded in by the joint's own angle (Lewis, Cordner and Fong 2000, "Pose Space
// Deformation", for one angle). Several angles to a joint: each fades into the next.
#include "core/deform/deformer.h"
#include "core/measure/contact.h"
#include "core/measure/region.h"
#include "core/mend/relax.h"
#include "core/mend/step.h"
#include "core/words/say.h"

#include <algorithm>
#include <cmath>
#include <map>

namespace hobble {

namespace {

constexpr double kLeastCarried = 0.45; // of a singular value, where skinning collapses
constexpr float kLeastMoved = 1e-5f;   // metres: what moves less is not kept
const std::string kMade = "corrective ";

class Corrective {
public:
    Corrective(const Step& step, const BuildContext& context, Character& character)
        : step_(step), s_(context.subject), where_(context.where), joint_(context.joint), c_(character) {}

    Result<Done> make() {
        if (static_cast<std::size_t>(joint_) >= s_.zones.size())
            return Error{say("%s was added by this trial and turns in no motion", step_.joint)};
        if (!(step_.axis.norm() > 0.5))
            return Error{say("it is not said what %s turns about", step_.joint)};
        if (std::abs(step_.degrees) < 1)
            return Error{say("a corrective is for an angle away from neutral")};
        if (where_.empty())
            return Error{say("there is no skin at this place")};
        const auto j = static_cast<std::size_t>(joint_);
        about_ = (rotationOf(c_.skeleton.neutralWorld[j]).inverse() * step_.axis).normalized();
        std::vector<char> parts(c_.parts.size(), 0);
        for (const Amount& a : where_)
            for (auto m = s_.surface.members.begin(a.vertex); m != s_.surface.members.end(a.vertex); ++m)
                parts[static_cast<std::size_t>(c_.partOfVertex(*m))] = 1;
        for (std::size_t p = 0; p < parts.size(); ++p)
            if (parts[p])
                shapeOf(p);
        Pose pose = Pose::neutral(c_.skeleton);
        pose.turn[j] = Quat(Eigen::AngleAxisd(radians(step_.degrees), about_));
        const Driven driven = drive(c_, pose);
        std::vector<Vec3> file;
        deform(c_, driven, Skinning::Linear, file);
        posed_ = weldedPositions(s_.surface, file);
        moved_.assign(posed_.size(), Vec3::Zero());
        if (const auto done = move(); !done)
            return done;
        keep(driven);
        return Done{};
    }

private:
    const Step& step_;
    const Subject& s_;
    const std::vector<Amount>& where_;
    const int joint_;
    Character& c_;
    Vec3d about_ = Vec3d::UnitX();      // in the joint's own frame
    std::map<std::size_t, int> target_; // by part
    std::vector<Vec3> posed_, moved_;   // welded

    std::string shapeName() const {
        return step_.joint + " " + std::to_string(static_cast<int>(std::lround(step_.degrees)));
    }
    bool ours(const Driver& d, std::size_t part) const {
        return d.output == Driver::Output::Target && d.source == joint_ && d.part == static_cast<int>(part) &&
               d.name.starts_with(kMade) && d.about.dot(about_) > 0.95;
    }
    static double peakOf(const Driver& d) {
        for (const DriverKey& k : d.keys)
            if (k.out == 1)
                return k.degrees;
        return 0;
    }

    // The shape of this angle on a part, with what fades it in; made where there is none.
    void shapeOf(std::size_t part) {
        const double at = std::lround(step_.degrees);
        for (const Driver& d : c_.drivers)
            if (ours(d, part) && std::abs(peakOf(d) - at) < 1) {
                target_[part] = d.target;
                return;
            }
        std::vector<Part> parts(c_.parts.begin(), c_.parts.end());
        Part& p = parts[part];
        ShapeTarget shape{shapeName(), {}, {}};
        const auto taken = [&](const std::string& name) {
            return std::any_of(p.targets.begin(), p.targets.end(),
                               [&](const ShapeTarget& t) { return t.name == name; });
        };
        for (int n = 2; taken(shape.name); ++n)
            shape.name = shapeName() + " " + std::to_string(n);
        Driver d;
        d.name = kMade + shape.name + " on " + p.name;
        d.source = joint_;
        d.about = about_;
        d.keys = {{at > 0 ? std::clamp(step_.from, 0.0, at - 1) : std::clamp(step_.from, at + 1, 0.0), 0},
                  {at, 1}};
        if (at < 0)
            std::reverse(d.keys.begin(), d.keys.end());
        d.output = Driver::Output::Target;
        d.part = static_cast<int>(part);
        d.target = static_cast<int>(p.targets.size());
        target_[part] = d.target;
        p.targets.push_back(std::move(shape));
        p.targetWeights.push_back(0);
        c_.parts = std::move(parts);
        c_.drivers.push_back(std::move(d));
        fadeAll(part);
    }

    // Each from the peak of the one before, and out again towards the peak of the next.
    void fadeAll(std::size_t part) {
        for (const double way : {1.0, -1.0}) {
            std::vector<Driver*> on;
            for (Driver& d : c_.drivers)
                if (ours(d, part) && way * peakOf(d) > 0)
                    on.push_back(&d);
            std::sort(on.begin(), on.end(),
                      [&](const Driver* a, const Driver* b) { return way * peakOf(*a) < way * peakOf(*b); });
            for (std::size_t i = 0; i < on.size(); ++i) {
                const double peak = peakOf(*on[i]);
                double from = 0;
                if (i > 0)
                    from = peakOf(*on[i - 1]);
                else
                    for (const DriverKey& k : on[i]->keys)
                        if (k.out == 0 && way * k.degrees < way * peak)
                            from = k.degrees;
                on[i]->keys = {{from, 0}, {peak, 1}};
                if (i + 1 < on.size())
                    on[i]->keys.push_back({peakOf(*on[i + 1]), 0});
                std::sort(on[i]->keys.begin(), on[i]->keys.end(),
                          [](const DriverKey& a, const DriverKey& b) { return a.degrees < b.degrees; });
            }
        }
    }

    Vec3 normalAt(std::uint32_t v) const {
        Vec3 n = Vec3::Zero();
        for (auto t = s_.surface.trianglesAt.begin(v); t != s_.surface.trianglesAt.end(v); ++t) {
            const Triangle& f = s_.surface.triangles[*t];
            n += (posed_[f[1]] - posed_[f[0]]).cross(posed_[f[2]] - posed_[f[0]]);
        }
        return n.norm() > 0 ? Vec3(n.normalized()) : n;
    }

    Result<Done> move() {
        switch (step_.correctBy) {
        case CorrectBy::Solve:
            return solve();
        case CorrectBy::Move:
            for (const Amount& a : where_)
                moved_[a.vertex] = (a.by * step_.move).cast<float>();
            return Done{};
        case CorrectBy::Inflate:
            for (const Amount& a : where_)
                moved_[a.vertex] = static_cast<float>(a.by * step_.amount) * normalAt(a.vertex);
            return Done{};
        case CorrectBy::Soften:
            return soften();
        case CorrectBy::Flatten:
            return flatten();
        case CorrectBy::OutOfContact:
            return outOfContact();
        }
        return Done{};
    }

    Result<Done> solve() {
        // Only where skin gives when the joint turns; with two rings around that are held.
        const std::vector<char> below = c_.skeleton.subtree(joint_);
        std::vector<double> by(posed_.size(), 0);
        std::vector<std::uint32_t> taking;
        for (const Amount& a : where_) {
            double follows = 0;
            const std::uint32_t v = s_.surface.representative(a.vertex);
            for (std::uint32_t i = c_.weights.first[v]; i < c_.weights.first[v + 1]; ++i)
                follows += below[c_.weights.joint[i]] ? static_cast<double>(c_.weights.weight[i]) : 0;
            if (4 * follows * (1 - follows) > 0.01) {
                by[a.vertex] = a.by;
                taking.push_back(a.vertex);
            }
        }
        if (taking.empty())
            return Error{say("no skin gives here when %s turns", step_.joint)};
        std::vector<char> in(posed_.size(), 0);
        std::vector<std::uint32_t> rim = taking;
        for (std::uint32_t v : taking)
            in[v] = 1;
        for (int ring = 0; ring < 2; ++ring) {
            std::vector<std::uint32_t> next;
            for (std::uint32_t v : rim)
                for (auto n = s_.surface.neighbours.begin(v); n != s_.surface.neighbours.end(v); ++n)
                    if (!in[*n]) {
                        in[*n] = 1;
                        next.push_back(*n);
                    }
            taking.insert(taking.end(), next.begin(), next.end());
            rim = std::move(next);
        }
        std::sort(taking.begin(), taking.end());
        std::vector<std::uint32_t> number(posed_.size(), 0);
        std::vector<Vec3> rest, start;
        std::vector<char> free;
        for (std::uint32_t i = 0; i < taking.size(); ++i) {
            number[taking[i]] = i;
            rest.push_back(s_.neutral[taking[i]]);
            start.push_back(posed_[taking[i]]);
            free.push_back(by[taking[i]] > 0);
        }
        std::vector<Triangle> triangles;
        for (const Triangle& t : s_.surface.triangles)
            if (in[t[0]] && in[t[1]] && in[t[2]])
                triangles.push_back({number[t[0]], number[t[1]], number[t[2]]});
        const double radius = s_.zones[static_cast<std::size_t>(joint_)].limbRadius;
        constexpr int rounds = 40;
        const auto end = relaxed(triangles, rest, bracesThrough(triangles, rest, std::max(6 * radius, 1e-3)),
                                 start, free, std::max(radius, 1e-3), rounds);
        for (std::uint32_t i = 0; i < taking.size(); ++i)
            if (free[i])
                moved_[taking[i]] = static_cast<float>(by[taking[i]]) * (end[i] - start[i]);
        return Done{};
    }

    Result<Done> soften() {
        std::vector<Vec3> now = posed_, next = posed_;
        for (int pass = 0; pass < std::clamp(step_.count, 1, 200); ++pass) {
            for (const Amount& a : where_) {
                Vec3 mean = Vec3::Zero();
                const auto count = s_.surface.neighbours.count(a.vertex);
                for (auto n = s_.surface.neighbours.begin(a.vertex); n != s_.surface.neighbours.end(a.vertex);
                     ++n)
                    mean += now[*n];
                if (count > 0)
                    next[a.vertex] = now[a.vertex] + static_cast<float>(0.5 * a.by) *
                                                         (mean / static_cast<float>(count) - now[a.vertex]);
            }
            for (const Amount& a : where_)
                now[a.vertex] = next[a.vertex];
        }
        for (const Amount& a : where_)
            moved_[a.vertex] = now[a.vertex] - posed_[a.vertex];
        return Done{};
    }

    // Into the plane that lies nearest to it, by squares.
    Result<Done> flatten() {
        Vec3d middle = Vec3d::Zero();
        double sum = 0;
        for (const Amount& a : where_) {
            middle += a.by * posed_[a.vertex].cast<double>();
            sum += a.by;
        }
        middle /= sum;
        Eigen::Matrix3d spread = Eigen::Matrix3d::Zero();
        for (const Amount& a : where_) {
            const Vec3d off = posed_[a.vertex].cast<double>() - middle;
            spread += a.by * off * off.transpose();
        }
        const Vec3d normal = singularValues(spread).u.col(2);
        for (const Amount& a : where_)
            moved_[a.vertex] =
                (-a.by * (posed_[a.vertex].cast<double>() - middle).dot(normal) * normal).cast<float>();
        return Done{};
    }

    // Where skin lies in skin, each side goes half of the way out.
    Result<Done> outOfContact() {
        Motion motion;
        motion.turns = {{joint_, about_, 1}};
        motion.steps = {0, step_.degrees, 0};
        const MotionRegion region = motionRegion(s_, motion);
        ContactScratch scratch;
        Contact found;
        contacts(s_, region, posed_, scratch, found, nullptr);
        std::map<std::uint32_t, float> deep;
        for (const auto& [v, depth] : found.inside)
            deep[v] = static_cast<float>(depth);
        if (deep.empty())
            return Error{say("no skin lies in skin here")};
        bool any = false;
        for (const Amount& a : where_)
            if (const auto it = deep.find(a.vertex); it != deep.end()) {
                moved_[a.vertex] = static_cast<float>(-0.5 * a.by) * it->second * normalAt(a.vertex);
                any = true;
            }
        return any ? Result<Done>(Done{}) : Result<Done>(Error{say("no skin lies in skin here")});
    }

    Eigen::Matrix3d carrying(std::uint32_t v, const Driven& driven, const Part& part) const {
        Eigen::Matrix3d sum = Eigen::Matrix3d::Zero();
        if (part.skin < 0)
            return Eigen::Matrix3d::Identity();
        const Skin& skin = c_.skins[static_cast<std::size_t>(part.skin)];
        for (std::uint32_t i = c_.weights.first[v]; i < c_.weights.first[v + 1]; ++i) {
            const auto j = static_cast<std::size_t>(c_.weights.joint[i]);
            sum +=
                static_cast<double>(c_.weights.weight[i]) * (driven.world[j] * skin.inverseBind[j]).linear();
        }
        return c_.weights.first[v] == c_.weights.first[v + 1] ? Eigen::Matrix3d(Eigen::Matrix3d::Identity())
                                                              : sum;
    }

    void keep(const Driven& driven) {
        std::vector<Part> parts(c_.parts.begin(), c_.parts.end());
        std::map<std::size_t, std::map<std::uint32_t, Vec3>> more; // by part
        for (const Amount& a : where_) {
            if (!(moved_[a.vertex].norm() > kLeastMoved))
                continue;
            for (auto m = s_.surface.members.begin(a.vertex); m != s_.surface.members.end(a.vertex); ++m) {
                const auto p = static_cast<std::size_t>(c_.partOfVertex(*m));
                const SingularValues x = singularValues(carrying(*m, driven, parts[p]));
                const Vec3d back = x.v * (x.s.cwiseMax(kLeastCarried * x.s[0]).cwiseInverse().asDiagonal() *
                                          (x.u.transpose() * moved_[a.vertex].cast<double>()));
                if (back.allFinite())
                    more[p][*m - parts[p].firstVertex] = back.cast<float>();
            }
        }
        for (auto& [p, deltas] : more) {
            ShapeTarget& shape = parts[p].targets[static_cast<std::size_t>(target_.at(p))];
            for (std::size_t i = 0; i < shape.vertex.size(); ++i)
                if (const auto [it, fresh] = deltas.try_emplace(shape.vertex[i], shape.delta[i]); !fresh)
                    it->second += shape.delta[i];
            shape.vertex.clear();
            shape.delta.clear();
            for (const auto& [v, d] : deltas) {
                shape.vertex.push_back(v);
                shape.delta.push_back(d);
            }
        }
        c_.parts = std::move(parts);
    }
};

} // namespace

Result<Done> correct(const Step& step, const BuildContext& context, Character& character) {
    return Corrective(step, context, character).make();
}

} // namespace hobble
