#include "core/mend/cure_families.h"

#include "core/mend/effect.h"

#include <algorithm>
#include <cmath>
#include <map>
#include <set>

namespace hobble {

namespace {

using Vertices = std::vector<std::uint32_t>;
// Limb radii along a limb: what a passage may take by itself, and however far the skin blends by now.
constexpr double kPassageRadii = 3, kAllOfIt = 1e9;

void sortOnce(Vertices& v) {
    std::sort(v.begin(), v.end());
    v.erase(std::unique(v.begin(), v.end()), v.end());
}

class Families {
public:
    Families(const Subject& s, const RunResult& run, const CureGoal& goal) : s_(s), run_(run), goal_(goal) {
        for (int i : goal.signs)
            if (const Finding& f = run.findings[static_cast<std::size_t>(i)]; marks(f))
                for (std::uint32_t t : f.triangles)
                    for (std::uint32_t v : s.surface.triangles[t])
                        marked_.push_back(v);
        sortOnce(marked_);
    }

    std::vector<CureFamily> all() {
        for (const Cause& c : goal_.causes) {
            undoing_ = &c == goal_.causes.data();
            std::visit([&](const auto& fact) { of(c, fact); }, c.fact);
        }
        undoing_ = false;
        otherSide(goal_.joint);
        if (!goal_.causes.empty())
            for (int j : {goal_.joint, goal_.causes.front().joint})
                passage(j);
        passage(goal_.joint);
        patch(grown(marked_, 1));
        soften(grown(marked_, 3), "soften the marks");
        if (ofTheShape())
            solved();
        return std::move(out_);
    }

private:
    const Subject& s_;
    const RunResult& run_;
    const CureGoal& goal_;
    Vertices marked_;
    std::vector<CureFamily> out_;
    bool undoing_ = false; // what is added is for the likeliest cause

    // The sign that tells the fault says where it is, and what is misshapen as that is, at the same joint.
    // What is compared with the other side marks the whole limb, what touches marks whatever it comes to.
    bool marks(const Finding& f) const {
        const auto shape = [](Kind k) {
            return !toldOnceAMotion(k) && k != Kind::Contact && k != Kind::PokeThrough && k != Kind::Gap;
        };
        const Finding& first = run_.findings[static_cast<std::size_t>(goal_.signs.front())];
        return &f == &first || (f.joint == first.joint && (shape(f.kind) || f.kind == first.kind));
    }

    const std::string& nameOf(int joint) const {
        return s_.character->skeleton.name[static_cast<std::size_t>(joint)];
    }
    int parentOf(int joint) const { return holderAbove(s_.character->skeleton, s_.held, joint); }
    double shareOn(std::uint32_t v, const std::vector<char>& joints) const {
        return s_.surface.weightOn(v, joints);
    }
    double shareOn(std::uint32_t v, int joint) const {
        const SkinWeights& w = s_.surface.weights;
        for (std::uint32_t i = w.first[v]; i < w.first[v + 1]; ++i)
            if (w.joint[i] == joint)
                return static_cast<double>(w.weight[i]);
        return 0;
    }

    // By so many rings, without going over to another shell.
    Vertices grown(const Vertices& from, int rings) const {
        Vertices out = from, rim = from;
        for (int r = 0; r < rings; ++r) {
            Vertices next;
            for (std::uint32_t v : rim)
                for (const std::uint32_t* n = s_.surface.neighbours.begin(v);
                     n != s_.surface.neighbours.end(v); ++n)
                    if (!std::binary_search(out.begin(), out.end(), *n))
                        next.push_back(*n);
            sortOnce(next);
            out.insert(out.end(), next.begin(), next.end());
            std::sort(out.begin(), out.end());
            rim = std::move(next);
        }
        return out;
    }

    static Step step(StepKind kind, Vertices vertices, std::string joint = {}, std::string to = {}) {
        Step out;
        out.kind = kind;
        out.place.what = MendPlace::What::Marked;
        out.place.vertices = std::move(vertices);
        out.joint = std::move(joint);
        out.to = std::move(to);
        return out;
    }

    void add(const char* name, std::vector<Step> steps, FreeNumber free = FreeNumber::None,
             std::vector<double> values = {}, bool otherSide = false) {
        for (const Step& s : steps)
            if (s.place.vertices.empty())
                return;
        addAnywhere(name, std::move(steps), free, std::move(values), otherSide);
    }
    void addAnywhere(const char* name, std::vector<Step> steps, FreeNumber free = FreeNumber::None,
                     std::vector<double> values = {}, bool otherSide = false) {
        for (const CureFamily& f : out_)
            if (f.steps == steps && f.free == free)
                return;
        out_.push_back({name, std::move(steps), free, std::move(values), otherSide, undoing_});
    }

    void moveTo(const char* name, int joint, const Vec3d& place) {
        Step move;
        move.kind = StepKind::Pivot;
        move.joint = nameOf(joint);
        move.at = place;
        addAnywhere(name, {std::move(move)});
    }

    // Across the limb, into the middle of the skin that blends about it; all of the way, and half of it.
    void toTheMiddle(int joint) {
        const JointZone& zone = s_.zones[static_cast<std::size_t>(joint)];
        const Vec3d at = s_.character->skeleton.place(joint);
        const std::vector<char> below = s_.character->skeleton.subtree(joint);
        Vec3d middle = Vec3d::Zero();
        double weight = 0;
        for (std::uint32_t v : zone.blendVertices) {
            const double c = shareOn(v, below), b = 4 * c * (1 - c);
            middle += b * s_.neutral[v].cast<double>();
            weight += b;
        }
        if (weight <= 0)
            return;
        const Vec3d off = middle / weight - at;
        const Vec3d across = off - off.dot(zone.axis) * zone.axis;
        if (zone.limbRadius <= 0 || across.norm() < 0.1 * zone.limbRadius)
            return;
        moveTo("into the middle of the limb", joint, at + across);
        moveTo("half way into the middle", joint, at + across / 2);
    }

    // What is held wrongly takes what the skin around it says.
    void patch(const Vertices& vertices) {
        add("from the neighbours", {step(StepKind::FromNeighbours, vertices)});
    }
    void soften(const Vertices& vertices, const char* name) {
        add(name, {step(StepKind::Soften, vertices)}, FreeNumber::Count, {2, 5, 12, 30, 80});
    }

    // The skin of a joint's passage, of the shell that encloses it.
    Vertices zoneOf(int joint, double radii) const {
        const JointZone& zone = s_.zones[static_cast<std::size_t>(joint)];
        Vertices out;
        if (zone.empty() || zone.limbRadius <= 0)
            return out;
        const Vec3d at = s_.character->skeleton.neutralWorld[static_cast<std::size_t>(joint)].translation();
        const std::vector<char> below = s_.character->skeleton.subtree(joint);
        const auto blends = [&](std::uint32_t v) {
            const double share = shareOn(v, below);
            return share > 0.005 && share < 0.995;
        };
        for (std::uint32_t v : zone.vertices)
            if (zone.shell < 0 || s_.surface.shellOf[v] == zone.shell) {
                const double along =
                    std::abs((s_.neutral[v].cast<double>() - at).dot(zone.axis)) / zone.limbRadius;
                if (along < std::min(radii, kPassageRadii) || (along < radii && blends(v)))
                    out.push_back(v);
            }
        return out;
    }

    // Where half of the skin has passed by now, limb radii beyond the joint.
    double middleOf(int joint) const {
        const JointZone& zone = s_.zones[static_cast<std::size_t>(joint)];
        const std::vector<char> below = s_.character->skeleton.subtree(joint);
        const Vec3d at = s_.character->skeleton.neutralWorld[static_cast<std::size_t>(joint)].translation();
        double sum = 0, weight = 0;
        for (std::uint32_t v : zone.blendVertices) {
            const double c = shareOn(v, below), b = 4 * c * (1 - c);
            sum += b * (s_.neutral[v].cast<double>() - at).dot(zone.axis) / zone.limbRadius;
            weight += b;
        }
        return weight > 0 ? sum / weight : 0;
    }

    // `radii`: how far along the limb it may reach; where it was made too wide, all of what it is by now.
    void passage(int joint, double radii = kPassageRadii) {
        if (joint < 0 || parentOf(joint) < 0)
            return;
        const Vertices zone = zoneOf(joint, radii);
        if (zone.empty())
            return;
        Step pass = step(StepKind::Pass, zone, nameOf(joint));
        add("pass", {pass}, FreeNumber::Amount, {0.7, 1.2, 1.8, 2.6, 3.6});
        if (const double middle = middleOf(joint); std::abs(middle) > 0.12 && std::abs(middle) < 1) {
            pass.middle = std::round(middle * 100) / 100;
            add("pass where it passes", {pass}, FreeNumber::Amount, {0.7, 1.2, 1.8, 2.6, 3.6});
        }
        soften(zone, "soften the passage");
        add("narrow or widen", {step(StepKind::Narrow, zone, nameOf(parentOf(joint)), nameOf(joint))},
            FreeNumber::Amount, {0.35, 0.6, 1.6, 2.6, 5});
    }

    // Skin of a limb that the joint above holds: it passes where the rest of it does.
    void follow(int joint) {
        if (joint < 0 || parentOf(joint) < 0)
            return;
        const JointZone& zone = s_.zones[static_cast<std::size_t>(joint)];
        if (zone.empty() || zone.limbRadius <= 0)
            return;
        const std::vector<char> below = s_.character->skeleton.subtree(joint);
        const Vec3d at = s_.character->skeleton.neutralWorld[static_cast<std::size_t>(joint)].translation();
        for (const double width : {1.2, 1.8, 2.6}) {
            Vertices lag;
            for (std::uint32_t v : zone.vertices)
                if ((zone.shell < 0 || s_.surface.shellOf[v] == zone.shell) &&
                    passedAt((s_.neutral[v].cast<double>() - at).dot(zone.axis) / zone.limbRadius, width, 0) >
                        shareOn(v, below) + 0.01)
                    lag.push_back(v);
            Step pass = step(StepKind::Pass, std::move(lag), nameOf(joint));
            pass.amount = width;
            add("pass what lags", {std::move(pass)});
        }
    }

    // As the other side has it: the passage and all that is marked.
    void otherSide(int joint) {
        if (!s_.mirror.found)
            return;
        if (joint >= 0 && s_.roles[static_cast<std::size_t>(joint)].mirror >= 0) {
            Vertices both = s_.zones[static_cast<std::size_t>(joint)].vertices;
            const Vertices marks = grown(marked_, 2);
            both.insert(both.end(), marks.begin(), marks.end());
            sortOnce(both);
            add("as the other side", {step(StepKind::Mirror, std::move(both))}, FreeNumber::None, {}, true);
        }
    }

    // What one joint, and with it all below it, holds of skin that is mostly another's.
    void keepOut(const std::vector<int>& joints, const Vertices& where) {
        std::vector<Step> steps;
        for (int j : joints) {
            Vertices held;
            for (std::uint32_t v : where)
                if (shareOn(v, j) > 0)
                    held.push_back(v);
            if (!held.empty())
                steps.push_back(step(StepKind::KeepOut, std::move(held), nameOf(j)));
        }
        if (!steps.empty())
            add("keep out", std::move(steps));
    }

    // Pieces of a joint's hold that hang together with nothing else of it, at the marks first.
    std::vector<Vertices> islandsOf(int joint) const {
        std::vector<Vertices> out;
        Vertices all;
        for (const WeightIsland& i : s_.islands)
            if (i.joint == joint) {
                all.insert(all.end(), i.vertices.begin(), i.vertices.end());
                Vertices common;
                std::set_intersection(i.vertices.begin(), i.vertices.end(), marked_.begin(), marked_.end(),
                                      std::back_inserter(common));
                if (!common.empty())
                    out.push_back(i.vertices);
            }
        sortOnce(all);
        if (!all.empty())
            out.push_back(std::move(all));
        return out;
    }

    // Vertices whose shares are unlike those of all around them.
    Vertices unlike(const Vertices& where) const {
        Vertices out;
        const SkinWeights& w = s_.surface.weights;
        for (std::uint32_t v : where) {
            double least = 2;
            for (const std::uint32_t* n = s_.surface.neighbours.begin(v); n != s_.surface.neighbours.end(v);
                 ++n) {
                double apart = 0;
                for (std::uint32_t i = w.first[v]; i < w.first[v + 1]; ++i)
                    apart += std::max(0.0, static_cast<double>(w.weight[i]) - shareOn(*n, w.joint[i]));
                least = std::min(least, apart);
            }
            if (least > 0.06 && least <= 1)
                out.push_back(v);
        }
        return out;
    }

    void island(int joint) {
        for (const Vertices& piece : islandsOf(joint)) {
            keepOut({joint}, piece);
            patch(piece);
            patch(grown(piece, 1));
            patch(grown(piece, 3));
        }
        Vertices held;
        for (std::uint32_t v : grown(marked_, 2))
            if (shareOn(v, joint) > 0)
                held.push_back(v);
        keepOut({joint}, held);
    }

    template <class Fact> void of(const Cause&, const Fact&) {} // what no weights change
    void of(const Cause&, const fact::Island& f) { island(f.joint); }
    void of(const Cause&, const fact::LoneVertex& f) {
        const Vertices near = grown(marked_, 1);
        const Vertices alone = unlike(near);
        patch(alone);
        keepOut({f.joint}, alone);
        island(f.joint);
    }
    void of(const Cause&, const fact::BleedsIn& f) {
        const std::vector<char> in = s_.character->skeleton.subtree(f.joint),
                                home = s_.character->skeleton.subtree(f.home);
        std::vector<int> joints;
        for (std::size_t j = 0; j < in.size(); ++j)
            if (in[j])
                joints.push_back(static_cast<int>(j));
        Vertices theirs;
        for (std::uint32_t v = 0; v < s_.neutral.size(); ++v)
            if (const double bleeds = shareOn(v, in); bleeds > 0 && shareOn(v, home) > bleeds)
                theirs.push_back(v);
        keepOut(joints, theirs);
        keepOut(joints, grown(marked_, 2));
    }
    void of(const Cause&, const fact::HeldAlong& f) {
        for (const Vertices& piece : islandsOf(f.joint)) {
            Step over = step(StepKind::HandOver, piece, nameOf(f.joint), nameOf(f.home));
            over.amount = 1;
            add("hand over", {over});
            patch(piece);
            patch(grown(piece, 2));
        }
        follow(f.home);
        otherSide(f.home);
    }
    void of(const Cause&, const fact::LagsBehindMirror& f) {
        otherSide(f.joint);
        follow(f.joint);
    }
    void of(const Cause&, const fact::LagsBehindLimb& f) {
        follow(f.joint);
        otherSide(f.joint);
    }
    void of(const Cause&, const fact::PassesInOneEdge&) { passageOf(); }
    void of(const Cause&, const fact::BoundHard& f) { passage(f.joint); }
    void of(const Cause&, const fact::PassesOverLength&) {
        passage(goal_.joint, kAllOfIt);
        passageOf();
    }
    void of(const Cause&, const fact::PassesUnlikeMirror& f) {
        otherSide(f.joint);
        if (!f.harder)
            passage(f.joint, kAllOfIt);
        passage(f.joint);
    }
    void of(const Cause& c, const fact::RollTakenByOne& f) {
        if (!f.twistJointThere) {
            Step share;
            share.kind = StepKind::ShareTwist;
            share.joint = nameOf(c.joint >= 0 ? c.joint : goal_.joint);
            addAnywhere("share the roll out", {std::move(share)}, FreeNumber::Count, {1, 2, 3});
        }
        if (run_.method == Skinning::Linear)
            byMethod(Skinning::DualQuaternion);
        passageOf();
    }
    Step drive(DriveBy by, int joint, const std::string& driver = {}) const {
        Step out;
        out.kind = StepKind::Drive;
        out.driveBy = by;
        out.joint = nameOf(joint);
        out.name = driver;
        return out;
    }
    void of(const Cause&, const fact::DriverKicks& f) {
        addAnywhere("spread what kicks", {drive(DriveBy::Ease, f.source, f.driver)}, FreeNumber::Amount,
                    {10, 20, 30, 45});
    }
    void of(const Cause&, const fact::DriversDiffer& f) {
        for (const Driver& d : s_.character->drivers)
            if ((d.name == f.driver || d.name == f.mirror) && d.joint >= 0)
                addAnywhere("follow as the other side", {drive(DriveBy::AsOtherSide, d.joint)},
                            FreeNumber::None, {}, true);
    }
    void of(const Cause&, const fact::FollowsNothing& f) {
        if (f.otherSide >= 0)
            addAnywhere("follow as the other side", {drive(DriveBy::AsOtherSide, f.joint)}, FreeNumber::None,
                        {}, true);
    }
    void of(const Cause&, const fact::GoesWithoutDrivers& f) {
        addAnywhere("less of what follows", {drive(DriveBy::Scale, f.joint)}, FreeNumber::Amount,
                    {0, 0.3, 0.6});
    }
    void of(const Cause&, const fact::OtherMethod& f) {
        byMethod(f.method);
        halfTurn();
        solved();
    }

    // The skin of the joint's passage by the other method; by less of it, where that bulges.
    void byMethod(Skinning other) {
        const bool dual = other == Skinning::DualQuaternion;
        add("by the other method", {step(StepKind::Method, zoneOf(goal_.joint, kAllOfIt))},
            FreeNumber::Amount, dual ? std::vector<double>{0.4, 0.7, 1} : std::vector<double>{0, 0.3, 0.6});
    }

    // The motion that tells it, where that turns one joint: its axis in the world, and the angle at its
    // worst.
    struct Bend {
        int joint = -1;
        Vec3d axis = Vec3d::Zero();
        double degrees = 0;
    };
    std::optional<Bend> bend() const {
        if (goal_.signs.empty())
            return std::nullopt;
        const Finding& f = run_.findings[static_cast<std::size_t>(goal_.signs.front())];
        const Motion& m = run_.plan.motions[static_cast<std::size_t>(f.motion)];
        if (m.span != Span::Degrees || m.turns.size() != 1 || m.roll)
            return std::nullopt;
        const JointTurn& t = m.turns.front();
        const Vec3d axis =
            rotationOf(s_.character->skeleton.neutralWorld[static_cast<std::size_t>(t.joint)]) * t.axis;
        return Bend{t.joint, axis.normalized(), f.peak * t.share};
    }

    // A joint that makes half of the turn, for the skin about the pivot.
    void halfTurn() {
        const auto b = bend();
        if (!b || parentOf(b->joint) < 0)
            return;
        const JointZone& zone = s_.zones[static_cast<std::size_t>(b->joint)];
        Step help = step(StepKind::Helper, {}, nameOf(b->joint));
        help.place.what = MendPlace::What::Stroke;
        help.at = s_.character->skeleton.place(b->joint);
        help.place.path = {help.at.cast<float>()};
        help.place.radius = 1.6 * zone.limbRadius;
        help.place.along = false;
        help.axis = b->axis;
        if (zone.limbRadius > 0)
            addAnywhere("half of the turn", {std::move(help)}, FreeNumber::Amount, {0.35, 0.5, 0.65});
    }

    // The skin shaped for the angle that shows it worst.
    void solved() {
        const auto b = bend();
        if (!b || std::abs(b->degrees) < 20)
            return;
        Vertices skin = zoneOf(b->joint, 3);
        const Vertices marks = grown(marked_, 3);
        skin.insert(skin.end(), marks.begin(), marks.end());
        sortOnce(skin);
        Step shape = step(StepKind::Correct, std::move(skin), nameOf(b->joint));
        shape.axis = b->axis;
        shape.degrees = b->degrees;
        add("shape the skin", {std::move(shape)});
    }
    bool ofTheShape() const {
        if (goal_.signs.empty())
            return false;
        const Kind kind = run_.findings[static_cast<std::size_t>(goal_.signs.front())].kind;
        return kind == Kind::Stretch || kind == Kind::Squash || kind == Kind::VolumeLoss ||
               kind == Kind::Bulge || kind == Kind::Pinch || kind == Kind::Flip || kind == Kind::Roughness;
    }
    void of(const Cause&, const fact::LiesOffMirror& f) {
        const Skeleton& sk = s_.character->skeleton;
        moveTo("where its mirror has it", f.joint, s_.mirror.mirrored(sk.place(f.mirror)));
        toTheMiddle(f.joint);
    }
    void of(const Cause&, const fact::LiesOffMiddle&) { toTheMiddle(goal_.joint); }
    // A lid's skin, with what of the head lies among it.
    void of(const Cause&, const fact::RimHeldBack& f) {
        otherSide(f.joint);
        Vertices rim;
        for (const FaceOpening& o : *s_.openings)
            for (std::uint32_t v : o.around)
                if (shareOn(v, f.joint) > 0.15 && shareOn(v, f.holder) > 0)
                    rim.push_back(v);
        sortOnce(rim);
        add("hand over to the lid",
            {step(StepKind::HandOver, std::move(rim), nameOf(f.holder), nameOf(f.joint))}, FreeNumber::Amount,
            {0.4, 0.6, 0.8, 1.0});
    }
    void of(const Cause&, const fact::TurnsBesideEye& f) {
        for (const FaceOpening& o : *s_.openings)
            if (o.joint == f.joint || o.joint == goal_.joint)
                moveTo("into the middle of the eye", f.joint, o.middle.cast<double>());
    }
    void of(const Cause&, const fact::BendsOff& f) {
        const JointZone& zone = s_.zones[static_cast<std::size_t>(f.joint)];
        for (const double way : {-1.0, 1.0}) {
            Step turn;
            turn.kind = StepKind::TurnAxes;
            turn.joint = nameOf(f.joint);
            turn.at = zone.axis;
            std::vector<double> values;
            for (const double part : {0.5, 0.75, 1.0, 1.25})
                values.push_back(std::round(way * part * f.degrees * 10) / 10);
            std::sort(values.begin(), values.end());
            addAnywhere("turn the axes back", {std::move(turn)}, FreeNumber::Amount, std::move(values));
        }
    }
    void of(const Cause&, const fact::GarmentUnlikeSkin&) {
        // the garments marked, else those over the joint
        const std::set<std::uint32_t> outer(s_.cover->outer.begin(), s_.cover->outer.end());
        const Vertices& zone = s_.zones[static_cast<std::size_t>(goal_.joint)].vertices;
        for (const Vertices* skin : std::initializer_list<const Vertices*>{&marked_, &zone}) {
            std::map<int, Vertices> garment;
            for (std::uint32_t v : *skin) {
                const int part = s_.character->partOfVertex(s_.surface.representative(v));
                if (outer.count(static_cast<std::uint32_t>(part)))
                    garment[part].push_back(v);
            }
            for (const auto& [part, worn] : garment) {
                add("as the skin below", {step(StepKind::CarryOver, grown(worn, 2))});
                add("as the skin below, and around", {step(StepKind::CarryOver, grown(worn, 8))});
            }
        }
    }
    void of(const Cause&, const fact::HeldByTwo& f) {
        const Part& part = s_.character->parts[static_cast<std::size_t>(f.part)];
        Vertices all;
        for (std::uint32_t v = part.firstVertex; v < part.firstVertex + part.vertexCount; ++v)
            all.push_back(s_.surface.weldOf[v]);
        sortOnce(all);
        for (int j : {f.most, f.second})
            if (j >= 0)
                add("stiff", {step(StepKind::Rigid, all, nameOf(j))});
    }

    void passageOf() {
        otherSide(goal_.joint);
        passage(goal_.joint);
    }
};

} // namespace

CureGoal goalOf(const RunResult&, const Fault& fault) { return {fault.joint, fault.signs, fault.causes}; }

CureGoal goalOf(const RunResult& run, int finding) {
    const Finding& f = run.findings[static_cast<std::size_t>(finding)];
    return {f.joint, {finding}, f.causes};
}

std::vector<CureFamily> cureFamilies(const Subject& subject, const RunResult& run, const CureGoal& goal) {
    return Families(subject, run, goal).all();
}

std::string beyondWeights(CauseKind kind) {
    switch (kind) {
    case CauseKind::PosePastPlan:
        return "the pose goes past what the plan asks of the joint: a matter for the animator, or the plan";
    case CauseKind::LimbDoesNotFollow:
        return "the limb hangs elsewhere in the skeleton: it has to be hung where it belongs, and no weights "
               "do that";
    case CauseKind::TooFewLoops:
        return "there are too few edge loops: no weights cure this, two loops more would, from the modeller";
    case CauseKind::LoopsAskew:
        return "the edge loops run askew of the bend: no weights cure this, the modeller lays them round the "
               "limb";
    case CauseKind::ShapeWrong:
        return "it comes from a shape: that has to be made anew, or go through another between, and no "
               "weights do "
               "that";
    case CauseKind::PartNotBound:
        return "the part is bound to nothing: it has to be bound first";
    default:
        return {};
    }
}

} // namespace hobble
