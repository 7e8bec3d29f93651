#pragma once
// What a likely cause of a finding is: its kind, how much speaks for it, and the facts that do. Facts are
// numbers and names; the sentence made of them is in core/words/cause_words.h.
#include "core/character/drivers.h"
#include "core/deform/skinning.h"

#include <array>
#include <optional>
#include <string>
#include <variant>
#include <vector>

namespace hobble {

enum class CauseKind {
    PosePastPlan,
    LimbDoesNotFollow,
    PartNotBound,
    PartBoundSoftly,
    PivotOrAxis,
    DriverOrCorrective,
    StrayInfluence,
    PatchLeftBehind,
    NeighbourFinger,
    HeldByParent,
    TwistNotShared,
    TooFewLoops,
    LoopsAskew,
    NoBlend,
    BlendTooHard,
    BlendTooWide,
    GarmentDiffers,
    MethodCollapse,
    LidHeldBack,
    ShapeWrong
};
inline constexpr int kCauseKinds = 20;

/// Who can mend it.
enum class MendedBy { Rigger, Modeller, Animator };

/// The one table of causes.
struct CauseFacts {
    CauseKind kind;
    const char* word; // as files and people say it
    MendedBy mendedBy;
};
const CauseFacts& factsOf(CauseKind kind);
std::optional<CauseKind> causeCalled(const std::string& word);

// What speaks for a cause. Joints and parts by number; −1 where there is none. Shares are 0 … 1.
namespace fact {

struct BeyondPlan {
    std::string how; // in the clip's own words
};
struct NothingMovesIt {
    int part;
};
struct DoesNotFollow {
    int joint, continues, hangsFrom; // hangsFrom: −1 at a root
};
struct HeldByTwo {
    int part, most, second;
    double mostShare, secondShare;
};
struct BendsOff {
    int joint;
    double degrees;
};
struct LiesOffMirror {
    int joint, mirror;
    double radii;
};
struct LiesOffMiddle {
    double radii;
};
struct DriverKicks {
    std::string driver;
    double from, to, within; // within: degrees of the source
    int source;
};
struct SomethingFadesIn {};
struct DriversDiffer {
    std::string driver, mirror;
    double by; // degrees, metres or weight, as the driver puts out
    Driver::Output output;
};
struct FollowsNothing {
    int joint, otherSide,
        source; // otherSide and source: what its mirror follows; −1 where that follows nothing either
};
struct GoesWithoutDrivers {
    bool shapes; // else: joints that follow
    int joint;
    double share;
};
struct Island {
    int joint, home; // home: the joint that holds the rest of these vertices
    std::size_t vertices;
    double share;
    int bones; // between the two
    bool acrossBody;
    std::optional<double> gone; // of the finding, when it was tried without; nothing where it was not
};
struct LoneVertex {
    int joint;
    double share, around; // around: the most any neighbour has
};
struct BleedsIn { // into the skin of one digit from another
    int joint, home;
    double share; // mean over the skin
};
struct HeldAlong { // of the limb below by the joint above
    int joint, home;
    std::size_t vertices;
    double share;
};
struct LagsBehindMirror {
    int joint, mirror, holder;
    double share;
};
struct LagsBehindLimb {
    int joint, holder;
    double share;
};
struct RollTakenByOne {
    double degrees;
    bool twistJointThere;
};
struct FewEdges {
    double rings;  // edges over which the weight passes
    double longer; // how many times as long as the limb's others
};
struct EdgesAskew { // off the plane across the limb
    double degrees;
    std::optional<double> otherSide;
};
struct BoundHard { // every vertex to one joint alone
    int joint, parent;
};
struct PassesInOneEdge {
    double share;
    std::optional<double> otherSide;
};
struct PassesOverLength {
    double radii;
    std::optional<double> otherSide;
};
struct PassesUnlikeMirror {
    bool harder; // in less space; else in more
    int joint, mirror;
    double share;
};
struct GarmentUnlikeSkin {
    double share;
};
struct TurnsBesideEye {
    int joint;
    double radii; // of the eye
};
struct RimHeldBack { // of a lid, by another joint
    int joint, holder;
    double share;
};
struct ShapeGoes {
    int part;        // that it leaves bare, or that comes through
    bool fallsShort; // it closes too little; else: through the skin
    bool onTheWay;   // though at its end it does not
    double share;
};
struct OtherMethod {
    Skinning method;
    double share; // of the finding that goes with it
};

} // namespace fact

using CauseFact =
    std::variant<fact::BeyondPlan, fact::NothingMovesIt, fact::DoesNotFollow, fact::HeldByTwo, fact::BendsOff,
                 fact::LiesOffMirror, fact::LiesOffMiddle, fact::DriverKicks, fact::SomethingFadesIn,
                 fact::DriversDiffer, fact::FollowsNothing, fact::GoesWithoutDrivers, fact::Island,
                 fact::LoneVertex, fact::BleedsIn, fact::HeldAlong, fact::LagsBehindMirror,
                 fact::LagsBehindLimb, fact::RollTakenByOne, fact::FewEdges, fact::EdgesAskew,
                 fact::BoundHard, fact::PassesInOneEdge, fact::PassesOverLength, fact::PassesUnlikeMirror,
                 fact::GarmentUnlikeSkin, fact::TurnsBesideEye, fact::RimHeldBack, fact::ShapeGoes,
                 fact::OtherMethod>;

struct Cause {
    CauseKind kind = CauseKind::StrayInfluence;
    double weight = 0; // 0 … 1, how much speaks for it
    CauseFact fact;
    int joint = -1; // whose weights, pivot or driver would be changed
    std::optional<double> gone =
        std::nullopt; // tried: the share of the trouble that goes; nothing where it was not tried
};

} // namespace hobble
