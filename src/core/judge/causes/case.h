#pragma once
// A finding whose causes are asked for, with what every question needs of it. Each cause is a question of its
// own, in a file of its own; what was answered before can be looked at, for some causes are only a
// consequence of others.
#include "core/deform/deformer.h"
#include "core/judge/causes/asked_once.h"
#include "core/judge/evidence.h"
#include "core/judge/findings.h"
#include "core/judge/mirror.h"
#include "core/measure/joined_zones.h"
#include "core/measure/torn_limbs.h"

#include <map>
#include <set>

namespace hobble {

/// What every finding of a run is asked against; computed once. The subject and the plan outlive it.
struct CauseContext {
    std::vector<BlendShape> blends; // per joint
    MirrorTwins twins;
    std::vector<TornLimb> torn;
    std::vector<char> hard; // per joint: skin goes with it or with its parent, and none with both
    bool boundHard = false; // most joints are so: it is how the character is bound
    std::unique_ptr<AskedOnce> once;
};

struct Case {
    Case(const Subject& subject, const CauseContext& context, const Plan& plan, Skinning method,
         const Finding& finding);

    /// The joint that is asked about: the finding's own, or another that the marked skin goes with.
    int asked;

    const Subject& subject;
    const CauseContext& context;
    const Motion& motion;
    Skinning method;
    const Finding& finding;
    std::set<std::uint32_t> marked; // welded vertices
    SideDifference sides;
    JoinedZones joined; // of volumes

    const Skeleton& skeleton() const { return subject.character->skeleton; }
    int joint() const { return asked; }
    int mirror() const { return subject.roles[static_cast<std::size_t>(asked)].mirror; }
    /// What the joint's skin blends with above it.
    int parentOf(int joint) const { return holderAbove(skeleton(), subject.held, joint); }
    Role roleOf(int joint) const { return subject.roles[static_cast<std::size_t>(joint)].role; }
    /// The part with most of what is marked; −1 when nothing is.
    int part() const { return finding.marks.empty() ? -1 : finding.marks.front().part; }
    /// Whether a joint is the next above another along the limb, twist joints and helpers passed over.
    bool isAbove(int joint, int below) const;
    /// Whether the motion turns what a driver watches.
    bool watches(const Driver& driver) const;

    /// Whether the finding is a measure of the shape, which the peak pose alone shows again.
    bool ofTheShape() const;
    /// Whether what was found is a difference from the other side, which may be told at the side nobody
    /// changed.
    bool ofTheDifference() const { return finding.kind == Kind::OneSided || finding.kind == Kind::WrongBend; }
    /// Tried: the share of the finding that goes in its peak pose skinned by a method, with drivers left out
    /// (flags, by driver; null: none), or with other weights (null: its own). 0 where it is not defined.
    double gone(Skinning how, const std::vector<char>* off, const Character* edited = nullptr) const;

private:
    std::optional<double> valueWith(Skinning how, const std::vector<char>* off,
                                    const Character* edited) const;
};

/// The island of weight that the marked skin lies on; null where it lies on none.
const WeightIsland* islandAt(const Case& c);

using Causes = std::vector<Cause>;

/// Whether a cause of one of these kinds is among those found, with more than `weight` speaking for it.
bool among(const Causes& found, std::initializer_list<CauseKind> kinds, double weight = 0);

// The questions, in the order they are asked. Each adds what it finds.
void askBeyondPlan(const Case& c, Causes& found);
void askTornLimb(const Case& c, Causes& found);
void askPartBinding(const Case& c, Causes& found);
void askBendAxis(const Case& c, Causes& found);
void askKick(const Case& c, Causes& found);
void askIslands(const Case& c, Causes& found);
void askNeighbourFinger(const Case& c, Causes& found);
void askLoneVertex(const Case& c, Causes& found);
void askDrivers(const Case& c, Causes& found);
void askTwist(const Case& c, Causes& found);
void askBlend(const Case& c, Causes& found);
void askLoops(const Case& c, Causes& found);
void askHeldByParent(const Case& c, Causes& found);
void askLag(const Case& c, Causes& found);
void askOtherSide(const Case& c, Causes& found);
void askPivot(const Case& c, Causes& found);
void askGarment(const Case& c, Causes& found);
void askFace(const Case& c, Causes& found);
void askMethod(const Case& c, Causes& found);

} // namespace hobble
