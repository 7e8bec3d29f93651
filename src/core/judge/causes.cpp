#include "core/judge/causes.h"

#include "core/measure/joined_zones.h"

#include <algorithm>
#include <cmath>
#include <cstdio>
#include <map>
#include <set>

namespace hobble {

namespace {

template <class... A> std::string text(const char* format, A... args) {
    char buffer[400];
    std::snprintf(buffer, sizeof buffer, format, args...);
    return buffer;
}

std::string counted(std::size_t n, const char* one, const char* many) {
    return n == 1 ? std::string("one ") + one : std::to_string(n) + " " + many;
}

class Asking {
public:
    Asking(const Subject& s, const CauseContext& context, const Plan& plan, Skinning method, const Finding& f)
        : s_(s), context_(context), motion_(plan.motions[f.motion]), method_(method), f_(f) {
        for (std::uint32_t t : f.triangles)
            marked_.insert(s.surface.triangles[t].begin(), s.surface.triangles[t].end());
        sides_ = sideDifference(s, context.twins, f);
        if (f.kind == Kind::VolumeLoss || f.kind == Kind::Bulge)
            joined_ = joinZones(s, motion_);
    }

    std::vector<Cause> ask() {
        wholeParts();
        axis();
        posePastThePlan();
        kick();
        islands();
        loneVertex();
        drivers();
        twist();
        loopsAndWidth();
        heldByParent();
        otherSide();
        pivot();
        garment();
        otherMethod();
        std::stable_sort(out_.begin(), out_.end(),
                         [](const Cause& a, const Cause& b) { return a.weight > b.weight; });
        return std::move(out_);
    }

private:
    const Subject& s_;
    const CauseContext& context_;
    const Motion& motion_;
    Skinning method_;
    const Finding& f_;
    std::set<std::uint32_t> marked_; // welded
    SideDifference sides_;
    JoinedZones joined_; // of volumes
    std::vector<Cause> out_;

    const Skeleton& skeleton() const { return s_.character->skeleton; }
    const std::string& name(int joint) const { return skeleton().name[joint]; }
    int mirror() const { return s_.roles[f_.joint].mirror; }
    std::string markedPart() const {
        return f_.marks.empty() ? std::string() : s_.character->parts[f_.marks[0].part].name;
    }

    // What the finding measures in its peak pose, with drivers left out or skinned the other way.
    std::optional<double> valueWith(Skinning method, const std::vector<char>* off,
                                    const Character* edited = nullptr) const {
        const Character& built = edited ? *edited : *s_.character;
        std::vector<Vec3> posed;
        deform(built, drive(built, poseAt(skeleton(), motion_, f_.peakDegrees), off), method, posed);
        const std::vector<Vec3> welded = weldedPositions(s_.surface, posed);
        if (f_.kind == Kind::Stretch || f_.kind == Kind::Squash) { // where it is marked, not over the zone
            std::vector<std::pair<float, float>> items;
            for (std::uint32_t t : f_.triangles) {
                const auto& [a, b, c] = s_.surface.triangles[t];
                const Strain x = strainOf(s_.rest[t], welded[a], welded[b], welded[c]);
                items.emplace_back(f_.kind == Kind::Stretch ? -x.stretch : x.squash, s_.surface.area[t]);
            }
            return std::abs(weightedQuantile(std::move(items), 0.2));
        }
        if (joined_.pieces.empty())
            return valueOf(f_.kind, measureZone(s_.surface, s_.rest, s_.zones[f_.joint], welded));
        std::vector<ZoneMeasures> zones;
        for (const JointTurn& t : motion_.turns)
            zones.push_back(
                t.joint == f_.joint
                    ? measureZone(s_.surface, s_.rest, s_.zones[static_cast<std::size_t>(t.joint)], welded)
                    : ZoneMeasures{});
        measureJoined(s_.surface, joined_, welded, zones);
        for (std::size_t k = 0; k < zones.size(); ++k)
            if (motion_.turns[k].joint == f_.joint)
                return valueOf(f_.kind, zones[k]);
        return std::nullopt;
    }

    // Share of the fault that goes.
    double gone(Skinning method, const std::vector<char>* off, const Character* edited = nullptr) const {
        const auto now = valueWith(method_, nullptr), then = valueWith(method, off, edited);
        const double unchanged = unchangedOf(f_.kind);
        if (!now || !then || std::abs(*now - unchanged) < 1e-6)
            return 0;
        return 1 - std::abs(*then - unchanged) / std::abs(*now - unchanged);
    }

    void wholeParts() {
        if (f_.kind == Kind::UnboundPart)
            out_.push_back(
                {"part not bound", 1,
                 text("No joint moves '%s'; what it sits on goes without it.", markedPart().c_str())});
        std::map<int, double> held;
        double total = 0;
        for (const RigidPart& r : s_.rigid) {
            if (!r.bound || f_.marks.empty() || r.part != f_.marks[0].part)
                continue;
            for (std::uint32_t v : marked_)
                for (std::uint32_t i = s_.surface.weights.first[v]; i < s_.surface.weights.first[v + 1];
                     ++i) {
                    held[s_.surface.weights.joint[i]] += s_.surface.weights.weight[i];
                    total += s_.surface.weights.weight[i];
                }
        }
        if (held.size() < 2 || total <= 0)
            return;
        std::vector<std::pair<double, int>> sorted;
        for (const auto& [j, sum] : held)
            sorted.push_back({-sum / total, j});
        std::sort(sorted.begin(), sorted.end());
        out_.push_back({"part bound softly", f_.kind == Kind::SoftRigidPart ? 1.0 : 0.9,
                        text("'%s' should be one joint's: %.0f %% is %s's, %.0f %% %s's.",
                             markedPart().c_str(), -100 * sorted[0].first, name(sorted[0].second).c_str(),
                             -100 * sorted[1].first, name(sorted[1].second).c_str())});
    }

    void axis() {
        if (f_.kind == Kind::WrongBend)
            out_.push_back({"pivot or axis wrong", 1,
                            text("The axis %s would turn about, as its fellows do, lies %.0f° off the way "
                                 "its flesh bends.",
                                 name(f_.joint).c_str(), f_.peakValue)});
    }

    void posePastThePlan() {
        if (!motion_.beyond.empty())
            out_.push_back({"pose out of the planned range", 1.1, motion_.beyond});
    }

    void kick() {
        if (f_.kind != Kind::Pop)
            return;
        for (const Driver& d : s_.character->drivers) {
            if (d.source != f_.joint && std::none_of(motion_.turns.begin(), motion_.turns.end(),
                                                     [&](const JointTurn& t) { return t.joint == d.source; }))
                continue;
            for (std::size_t k = 1; k < d.keys.size(); ++k)
                if (d.keys[k].degrees - d.keys[k - 1].degrees < 2 &&
                    std::abs(d.keys[k].out - d.keys[k - 1].out) > 0.05) {
                    out_.push_back({"driver or corrective wrong", 1,
                                    text("'%s' goes from %.2f to %.2f within %.2f° of %s.", d.name.c_str(),
                                         d.keys[k - 1].out, d.keys[k].out,
                                         d.keys[k].degrees - d.keys[k - 1].degrees, name(d.source).c_str())});
                    return;
                }
        }
        out_.push_back(
            {"driver or corrective wrong", 0.6, "Skinning alone never jumps: something that fades in does."});
    }

    // Weight that hangs together with nothing else its joint holds.
    void islands() {
        const WeightIsland* best = nullptr;
        double most = 0;
        for (const WeightIsland& island : s_.islands) {
            std::size_t common = 0;
            for (std::uint32_t v : island.vertices)
                common += marked_.count(v);
            const double hit = static_cast<double>(common) * island.share;
            if (common > 0 && hit > most &&
                static_cast<double>(common) >
                    0.08 * static_cast<double>(std::min(island.vertices.size(), marked_.size()))) {
                most = hit;
                best = &island;
            }
        }
        if (!best)
            return;
        // A pocket beside the joint's own skin is a ripple; one on another limb is a mistake.
        const bool follows = skeleton().subtree(f_.joint)[best->joint] || best->joint == f_.joint;
        const double weight = best->far ? 0.99 : follows ? 0.6 : 0.5;
        int home = -1;
        double held = 0;
        std::map<int, double> others;
        for (std::uint32_t v : best->vertices)
            for (std::uint32_t i = s_.surface.weights.first[v]; i < s_.surface.weights.first[v + 1]; ++i)
                if (s_.surface.weights.joint[i] != best->joint)
                    others[s_.surface.weights.joint[i]] += s_.surface.weights.weight[i];
        for (const auto& [j, sum] : others)
            if (sum > held) {
                held = sum;
                home = j;
            }
        std::string where;
        if (home >= 0) {
            const Side a = s_.roles[home].side, b = s_.roles[best->joint].side;
            const int bones = skeleton().boneDistance(home, best->joint);
            where = text(", %s from %s",
                         counted(static_cast<std::size_t>(std::max(bones, 0)), "bone", "bones").c_str(),
                         name(home).c_str());
            if (a != Side::Middle && b != Side::Middle && a != b)
                where += ", across the body";
        }
        // A ripple between neighbours is no stranger.
        if (!best->far && (home < 0 || skeleton().boneDistance(home, best->joint) <= 2) &&
            !(home >= 0 && isAbove(best->joint, home) && best->vertices.size() > 8))
            return;
        // What the joint above holds of the limb below it is a slip of the brush, not a stranger.
        if (home >= 0 && isAbove(best->joint, home)) {
            out_.push_back(
                {"held by the parent", 0.95,
                 text("%.0f %% of the weight of %s here is held by %s, though they lie along %s.",
                      100 * best->share, counted(best->vertices.size(), "vertex", "vertices").c_str(),
                      name(best->joint).c_str(), name(home).c_str())});
            return;
        }
        const auto share = goneWithout(*best);
        const std::string tried =
            share ? text(" Without it %.0f %% of this goes.", 100 * std::clamp(*share, 0.0, 1.0))
                  : std::string();
        out_.push_back({"stray influence", share && *share < 0.2 ? std::min(weight, 0.5) : weight,
                        text("%.0f %% of the weight of %s here comes from %s%s.", 100 * best->share,
                             counted(best->vertices.size(), "vertex", "vertices").c_str(),
                             name(best->joint).c_str(), where.c_str()) +
                            tried});
    }

    // Tried: the peak pose again with the island's weight given to what else holds its vertices. Nothing
    // where the finding is no measure of the shape.
    std::optional<double> goneWithout(const WeightIsland& island) const {
        if (f_.kind != Kind::Stretch && f_.kind != Kind::Squash && f_.kind != Kind::VolumeLoss &&
            f_.kind != Kind::Bulge && f_.kind != Kind::Pinch)
            return std::nullopt;
        Character edited = *s_.character;
        SkinWeights& w = edited.weights;
        for (std::uint32_t welded : island.vertices)
            for (auto v = s_.surface.members.begin(welded); v != s_.surface.members.end(welded); ++v) {
                float rest = 0;
                for (std::uint32_t i = w.first[*v]; i < w.first[*v + 1]; ++i)
                    rest += w.joint[i] == island.joint ? 0 : w.weight[i];
                for (std::uint32_t i = w.first[*v]; i < w.first[*v + 1] && rest > 0; ++i)
                    w.weight[i] = w.joint[i] == island.joint ? 0 : w.weight[i] / rest;
            }
        return gone(method_, nullptr, &edited);
    }

    // A vertex that one joint holds far more than it holds any of its neighbours.
    void loneVertex() {
        if (f_.kind == Kind::Pinch || f_.kind == Kind::VolumeLoss || f_.kind == Kind::Bulge)
            return; // one vertex does not take a limb's volume
        double most = 0.35, around = 0;
        int joint = -1;
        const Surface& f = s_.surface;
        for (std::uint32_t v : marked_)
            for (std::uint32_t i = f.weights.first[v]; i < f.weights.first[v + 1]; ++i) {
                std::vector<char> one(skeleton().name.size(), 0);
                const Role role =
                    s_.roles[f.weights.joint[i]].role; // helpers hold little skin, where loops are few
                if (f.weights.weight[i] < 0.4f || role == Role::Helper || role == Role::Twist)
                    continue;
                one[f.weights.joint[i]] = 1;
                double next = 0;
                for (auto n = f.neighbours.begin(v); n != f.neighbours.end(v); ++n)
                    next = std::max(next, f.weightOn(*n, one));
                if (f.weights.weight[i] - next > most) {
                    most = f.weights.weight[i] - next;
                    around = next;
                    joint = f.weights.joint[i];
                }
            }
        if (joint >= 0)
            out_.push_back(
                {"stray influence", 0.985,
                 text("A single vertex here has %.0f %% of its weight from %s; of those around it none "
                      "has more than %.0f %%.",
                      100 * (most + around), name(joint).c_str(), 100 * around)});
    }

    // Next above along the limb, twist joints and helpers passed over.
    bool isAbove(int joint, int below) const {
        for (int j = skeleton().parent[below]; j >= 0; j = skeleton().parent[j]) {
            if (j == joint)
                return true;
            if (s_.roles[j].role != Role::Twist && s_.roles[j].role != Role::Helper)
                return false;
        }
        return false;
    }

    bool watches(const Driver& d) const {
        return d.source == f_.joint || std::any_of(motion_.turns.begin(), motion_.turns.end(),
                                                   [&](const JointTurn& t) { return t.joint == d.source; });
    }

    const Driver* twinOf(const Driver& d) const {
        const int source = s_.roles[d.source].mirror;
        if (source < 0 || d.output == Driver::Output::Target)
            return nullptr;
        for (const Driver& o : s_.character->drivers)
            if (o.output == d.output && o.source == source && o.joint == s_.roles[d.joint].mirror)
                return &o;
        return nullptr;
    }

    void drivers() {
        const Character& c = *s_.character;
        // Against the other side: the same driver missing, or with other keys.
        for (const Driver& d : c.drivers) {
            const bool ours = watches(d);
            const Driver* twin = twinOf(d);
            const int source = s_.roles[d.source].mirror;
            if (ours && twin) {
                double apart = 0;
                for (double x = -120; x <= 120; x += 20)
                    apart =
                        std::max(apart, std::abs(std::abs(driverOut(d, x)) - std::abs(driverOut(*twin, x))));
                // Which of the two is wrong is not known; that they differ is.
                if (apart > 8)
                    out_.push_back({"driver or corrective wrong", 0.98,
                                    text("'%s' and its mirror '%s' differ by up to %.0f° for the same turn.",
                                         d.name.c_str(), twin->name.c_str(), apart)});
            }
            if (!ours && !twin && source == f_.joint && d.output == Driver::Output::Turn &&
                s_.roles[d.joint].role == Role::Helper) {
                const int idle = s_.roles[d.joint].mirror;
                if (idle >= 0 && holdsMarked(idle))
                    out_.push_back({"driver or corrective wrong", 0.98,
                                    text("%s holds skin here and follows nothing, though %s follows %s.",
                                         name(idle).c_str(), name(d.joint).c_str(), name(d.source).c_str())});
            }
        }
        // A helper that nothing drives on either side.
        for (int j = 0; j < skeleton().size(); ++j)
            if (s_.roles[j].role == Role::Helper && !driven(j) && holdsMarked(j) &&
                std::none_of(out_.begin(), out_.end(),
                             [](const Cause& x) { return x.name == "driver or corrective wrong"; }))
                out_.push_back({"driver or corrective wrong", 0.85,
                                text("%s holds skin here and follows nothing.", name(j).c_str())});
        // Try: everything that fades in or follows, one kind at a time, switched off.
        if (f_.kind == Kind::Stretch || f_.kind == Kind::Squash || f_.kind == Kind::VolumeLoss ||
            f_.kind == Kind::Bulge || f_.kind == Kind::Pinch)
            for (const auto output : {Driver::Output::Target, Driver::Output::Turn}) {
                std::vector<char> off(c.drivers.size(), 0);
                bool any = false;
                for (std::size_t i = 0; i < c.drivers.size(); ++i) {
                    off[i] = c.drivers[i].output == output && watches(c.drivers[i]);
                    any = any || off[i];
                }
                if (!any)
                    continue;
                if (const double share = gone(method_, &off); share > 0.5)
                    out_.push_back(
                        {"driver or corrective wrong", 0.55 + 0.35 * std::min(share, 1.0),
                         text("Without the %s of %s, %.0f %% of it goes.",
                              output == Driver::Output::Target ? "shapes" : "joints that follow the turn",
                              name(f_.joint).c_str(), 100 * std::min(share, 1.0))});
            }
    }

    bool driven(int joint) const {
        return std::any_of(s_.character->drivers.begin(), s_.character->drivers.end(), [&](const Driver& d) {
            return d.output != Driver::Output::Target && d.joint == joint;
        });
    }

    bool holdsMarked(int joint) const {
        std::vector<char> in(s_.character->skeleton.name.size(), 0);
        in[joint] = 1;
        double sum = 0;
        for (std::uint32_t v : marked_)
            sum += s_.surface.weightOn(v, in);
        return sum > 0.05 * static_cast<double>(marked_.size());
    }

    void twist() {
        if (!motion_.roll || method_ != Skinning::Linear)
            return;
        bool shared = false, there = false;
        for (int j = 0; j < skeleton().size(); ++j) {
            if (s_.roles[j].role != Role::Twist)
                continue;
            const int p = skeleton().parent[j];
            there = there || p == f_.joint || p == skeleton().parent[f_.joint];
            for (const Driver& d : s_.character->drivers)
                shared = shared || (d.output == Driver::Output::Turn && d.joint == j && d.source == f_.joint);
        }
        // Twist joints that carry skin of their own may be turned by the clip itself.
        if (shared || (there && s_.character->drivers.empty()))
            return;
        const double collapse = gone(Skinning::DualQuaternion, nullptr);
        const bool otherShares = // the other side shows how it was meant
            mirror() >= 0 &&
            std::any_of(s_.character->drivers.begin(), s_.character->drivers.end(), [&](const Driver& d) {
                return d.output == Driver::Output::Turn && d.source == mirror() &&
                       s_.roles[d.joint].role == Role::Twist;
            });
        // Without a twist joint in sight only the collapse itself speaks for it.
        const bool collapses = f_.kind == Kind::Pinch || f_.kind == Kind::VolumeLoss;
        out_.push_back({"twist not shared out",
                        otherShares            ? 0.98
                        : !there && !collapses ? 0.75
                                               : std::clamp(0.92 + 0.05 * collapse, 0.9, 0.97),
                        text("The whole roll of %.0f° is taken by one joint; %s.", f_.peakDegrees,
                             there ? "twist joints are there, but none of them turns with it"
                                   : "no twist joint shares it")});
    }

    // What was done to the weights of one side only, told by how they differ from the other's.
    void otherSide() {
        if (sides_.joint < 0 || sides_.mean < 0.14 || sides_.garment > 2 * sides_.skin)
            return;
        if (std::any_of(out_.begin(), out_.end(), [](const Cause& c) {
                return c.weight > 0.94 && (c.name == "stray influence" || c.name == "too few edge loops");
            }))
            return;
        const int twin = s_.roles[sides_.joint].mirror;
        const std::string other = twin >= 0 ? name(twin) : "the other side";
        const int parent = skeleton().parent[sides_.joint];
        if (sides_.less > 0.85 && parent >= 0)
            out_.push_back(
                {"held by the parent", 0.975,
                 text("This skin follows %s by %.0f %% less than its mirror follows %s; %s holds it.",
                      name(sides_.joint).c_str(), 100 * sides_.mean, other.c_str(), name(parent).c_str())});
        else if (std::abs(sides_.harder) > 0.15)
            out_.push_back(
                {sides_.harder > 0 ? "blend too hard" : "blend too wide", 0.975,
                 text("The weight of %s passes over in %s space than that of %s: %.0f %% apart where "
                      "they differ.",
                      name(sides_.joint).c_str(), sides_.harder > 0 ? "less" : "more", other.c_str(),
                      100 * sides_.mean)});
    }

    void garment() {
        const double apart = garmentDifference(s_, f_);
        const bool cloth = f_.kind == Kind::PokeThrough || f_.kind == Kind::Gap;
        const bool onGarment =
            !f_.marks.empty() &&
            std::any_of(s_.cover.outer.begin(), s_.cover.outer.end(),
                        [&](std::uint32_t p) { return static_cast<int>(p) == f_.marks[0].part; });
        if (apart < (cloth ? 0.025 : 0.08))
            return;
        // Where the body's own blend is wrong, that the garment differs from it is a consequence.
        const bool bodys = std::any_of(out_.begin(), out_.end(), [](const Cause& c) {
            return c.weight > 0.84 && (c.name == "pivot or axis wrong" || c.name.starts_with("blend") ||
                                       c.name.starts_with("held") || c.name.starts_with("too few") ||
                                       c.name.starts_with("driver"));
        });
        const bool garments =
            sides_.garment > 0.1 && sides_.garment > 2 * sides_.skin; // alone differs from its mirror
        out_.push_back({"weights differ between garment and body",
                        garments ? 0.985
                        : bodys  ? 0.8
                                 : std::min(cloth || onGarment ? 0.97 : 0.5, 0.6 + 3 * apart),
                        text("The weights of the garment and of the skin below it differ by %.0f %% here.",
                             100 * apart)});
    }

    void loopsAndWidth() {
        const BlendShape& b = context_.blends[f_.joint];
        if (!b.known)
            return;
        const BlendShape* other =
            mirror() >= 0 && context_.blends[mirror()].known ? &context_.blends[mirror()] : nullptr;
        const double rings = b.perEdge > 0 ? 1 / b.perEdge : 99;
        const bool longEdges = b.edge > 1.7 || (other && b.edge > 1.5 * other->edge);
        if (b.perEdge > 0.4 && longEdges) {
            out_.push_back({"too few edge loops", std::min(0.96, 0.75 + 0.3 * b.perEdge),
                            text("The weight passes over within %.1f edges, each %.1f times as long as the "
                                 "limb's others; three loops are the least that bends.",
                                 rings, b.edge)});
            return;
        }
        const bool harder =
            other && b.perEdge > 1.15 * other->perEdge &&
            (b.width < 0.75 * other->width || (b.perEdge > 1.6 * other->perEdge && b.perEdge > 0.25));
        if (b.perEdge > 0.45 || harder)
            out_.push_back(
                {"blend too hard", std::min(0.95, 0.62 + 0.4 * b.perEdge + (harder ? 0.2 : 0)),
                 text("%.0f %% of the weight passes over along one edge%s.", 100 * b.perEdge,
                      other ? text(", %.0f %% on the other side", 100 * other->perEdge).c_str() : "")});
        const bool wider = other && b.width > 1.25 * other->width;
        if (b.width > 4.2 || wider)
            out_.push_back({"blend too wide", wider ? 0.88 : std::min(0.8, 0.2 + 0.12 * b.width),
                            text("The weight takes %.1f limb radii to pass over%s.", b.width,
                                 other ? text(", %.1f on the other side", other->width).c_str() : "")});
    }

    void pivot() {
        const BlendShape& b = context_.blends[f_.joint];
        if (!b.known)
            return;
        if (mirror() >= 0) { // the other side knows where it belongs
            if (const double off = offMirror(s_, f_.joint); off > 0.25)
                out_.push_back({"pivot or axis wrong", 0.97,
                                text("The joint lies %.2f limb radii from where its mirror %s has it.", off,
                                     name(mirror()).c_str())});
            return;
        }
        if (b.offCentre > 1.05)
            out_.push_back({"pivot or axis wrong", 0.96,
                            text("The joint lies %.2f radii from the middle of its limb.", b.offCentre)});
    }

    void heldByParent() {
        const double held = heldBack(s_, f_);
        // A blend that is too hard leaves skin behind too, all round.
        if (held < 0.15 || std::any_of(out_.begin(), out_.end(), [](const Cause& c) {
                return c.weight > 0.8 && (c.name == "blend too hard" || c.name == "too few edge loops" ||
                                          c.name == "held by the parent");
            }))
            return;
        const int parent = skeleton().parent[f_.joint];
        out_.push_back(
            {"held by the parent", std::min(0.86, 0.35 + 0.8 * held),
             text("Some of this skin follows %s by %.0f %% less than the skin around the limb does%s.",
                  name(f_.joint).c_str(), 100 * held,
                  parent >= 0 ? text("; %s holds it", name(parent).c_str()).c_str() : "")});
    }

    void otherMethod() {
        if (f_.kind != Kind::Pinch && f_.kind != Kind::VolumeLoss && f_.kind != Kind::Squash)
            return;
        const Skinning other = method_ == Skinning::Linear ? Skinning::DualQuaternion : Skinning::Linear;
        const double share = gone(other, nullptr);
        if (share > 0.3)
            out_.push_back(
                {"bend collapse of the method", std::min(0.6, 0.7 * share),
                 text("With %s skinning %.0f %% of it goes.",
                      other == Skinning::Linear ? "linear" : "dual quaternion", 100 * std::min(share, 1.0))});
    }
};

} // namespace

CauseContext causeContext(const Subject& s) {
    CauseContext out;
    for (int j = 0; j < s.character->skeleton.size(); ++j)
        out.blends.push_back(blendShape(s, j));
    out.twins = mirrorTwins(s);
    return out;
}

std::vector<Cause> likelyCauses(const Subject& subject, const CauseContext& context, const Plan& plan,
                                Skinning method, const Finding& finding) {
    return Asking(subject, context, plan, method, finding).ask();
}

} // namespace hobble
