#pragma once
// One small change of a trial: what is done, with which joints, how much, and where. A step never overwrites
// the build: it is applied to what the steps before it made. Each kind has a file of its own in steps/.
#include "core/mend/place.h"
#include "core/result.h"

namespace hobble {

enum class StepKind {
    Fill,           // sets, adds to, or scales one joint's share
    Soften,         // evens out with the neighbours
    Narrow,         // makes the passage between two joints narrower or wider, its middle kept
    HandOver,       // gives a share of what one joint holds to another
    KeepOut,        // a joint holds nothing here
    DropSmall,      // influences below so much go
    Cap,            // at most so many influences
    FromNeighbours, // takes what the skin around it says
    Mirror,         // takes what the other side has
    Rigid,          // one joint holds all
    Pass,           // lets the skin pass from what stays to what follows a joint, over so much of the limb
    Copy,           // takes what one place of the skin has
    CarryOver,      // takes what the skin below has: a garment from the body
    Bind,           // from scratch, by the bones near it
    Pivot,          // moves a joint, the skin staying as it is in neutral
    TurnAxes,       // turns a joint's own axes, likewise
    Correct,     // changes the shape that fades in at an angle of a joint, and makes one where there is none
    Helper,      // adds a joint that follows another by a share, and takes skin
    ShareTwist,  // adds joints along a bone that share a roll
    Drive,       // changes what follows by itself
    SmoothAfter, // smooths the posed skin, its detail kept
    Method       // skins by dual quaternions, or by linear blending, in part
};
const char* nameOf(StepKind kind); // "soften"
std::optional<StepKind> stepKindCalled(const std::string& name);
inline constexpr int kStepKinds = static_cast<int>(StepKind::Method) + 1;

enum class FillBy { Set, Add, Scale };
enum class BindBy { Heat, Distance };
/// What is done to the posed skin: made as rigid as it can be; moved, all one way; moved along its normals;
/// evened out; laid into a plane; brought out of the flesh it lies in.
enum class CorrectBy { Solve, Move, Inflate, Soften, Flatten, OutOfContact };
enum class HelpBy { Turn, Shift };
/// What is done to drivers: what kicks spread over so many degrees; all that follows a joint scaled; what a
/// joint follows made as its mirror has it.
enum class DriveBy { Ease, Scale, AsOtherSide };

struct Step {
    StepKind kind = StepKind::Soften;
    MendPlace place;
    std::string joint; // whose share; of HandOver the one that gives; of Narrow the parent
    std::string to;    // of HandOver the one that takes; of Narrow the child
    std::string part;  // of CarryOver: whose skin is taken from; empty: any that does not take itself
    /// Fill: the share, what is added, or the factor. HandOver: the part of the share that goes, 0 … 1.
    /// Narrow: above 1 narrower, below 1 wider. DropSmall: the share below which an influence goes. Pass:
    /// over how many limb radii. TurnAxes: degrees. CarryOver: from how far, metres; 0: a tenth of the body.
    /// Correct by Inflate: metres, along the normal. Helper: the share of the turn, or metres at `degrees`.
    /// Drive by Ease: over how many degrees; by Scale: the factor. SmoothAfter: how far to the middle of the
    /// neighbours in one pass, 0 … 1; 0: half. Method: the share of dual quaternions.
    /// Bind by heat: how soon a share fades, 1 as in the paper; by distance: the power; 0: what is usual.
    double amount = 0;
    double middle = 0; // of Pass: where half has passed, limb radii beyond the joint
    FillBy fillBy = FillBy::Set;
    BindBy bindBy = BindBy::Heat;
    CorrectBy correctBy = CorrectBy::Solve;
    HelpBy helpBy = HelpBy::Turn;
    DriveBy driveBy = DriveBy::Ease;
    /// Pivot: where the joint goes, metres. TurnAxes: the axis. Copy: from where. Helper: where it stands.
    /// World, neutral
    Vec3d at = Vec3d::Zero();
    /// Of Correct and Helper: what the joint turns about, of length 1, world, neutral.
    Vec3d axis = Vec3d::Zero();
    /// Correct by Move: metres. Helper that shifts: the way it goes, of length 1. World, in the pose.
    Vec3d move = Vec3d::Zero();
    double degrees = 0, from = 0; // Correct, Helper that shifts: where it is whole, and where it begins
    std::string
        name; // Helper: what it is called; empty: as its neighbours are. Drive: the one driver; empty: all
    int count = 1; // Soften, SmoothAfter: passes. Cap: influences. Bind by distance: so many joints, 4 where
                   // it is 1. ShareTwist: joints
    double strength = 1; // 0 … 1, of all of it
    bool on = true;
    bool operator==(const Step&) const = default;
};

/// What a kind of step works with.
struct StepContext {
    const Subject& subject;
    const std::vector<Amount>& where; // ascending; strength is in it
    int joint = -1, to = -1;
    const Skeleton* skeleton =
        nullptr; // the subject's, and behind it the joints that steps before have added
};

using StepFunction = Result<Done> (*)(const Step& step, const StepContext& context, Shares& shares);
Result<Done> fill(const Step& step, const StepContext& context, Shares& shares);
Result<Done> soften(const Step& step, const StepContext& context, Shares& shares);
Result<Done> narrow(const Step& step, const StepContext& context, Shares& shares);
Result<Done> handOver(const Step& step, const StepContext& context, Shares& shares);
Result<Done> keepOut(const Step& step, const StepContext& context, Shares& shares);
Result<Done> dropSmall(const Step& step, const StepContext& context, Shares& shares);
Result<Done> cap(const Step& step, const StepContext& context, Shares& shares);
Result<Done> fromNeighbours(const Step& step, const StepContext& context, Shares& shares);
Result<Done> mirror(const Step& step, const StepContext& context, Shares& shares);
Result<Done> rigid(const Step& step, const StepContext& context, Shares& shares);
Result<Done> pass(const Step& step, const StepContext& context, Shares& shares);
Result<Done> copyShares(const Step& step, const StepContext& context, Shares& shares);
Result<Done> carryOver(const Step& step, const StepContext& context, Shares& shares);
Result<Done> bindAnew(const Step& step, const StepContext& context, Shares& shares);
/// Of skin at a place along the limb, the share that follows the joint by a Pass of that width and middle.
double passedAt(double limbRadii, double width, double middle);

/// Whether a step is about the skeleton and not about shares. Its place then says nothing.
bool ofTheSkeleton(StepKind kind);
Result<Done> pivot(const Step& step, int joint, Character& character);
Result<Done> turnAxes(const Step& step, int joint, Character& character);

/// Whether a step changes the build besides shares: joints, shapes, what follows by itself.
bool changesBuild(StepKind kind);
/// Whether after it what stands or turns is another skeleton, or follows otherwise.
bool changesSkeleton(StepKind kind);

/// What a step that changes the build works with.
struct BuildContext {
    const Subject& subject;           // the build as it was: its mesh, its zones
    const std::vector<Amount>& where; // ascending; strength is in it
    int joint = -1, to = -1;          // of the character's skeleton
};
Result<Done> correct(const Step& step, const BuildContext& context, Character& character);
Result<Done> addHelper(const Step& step, const BuildContext& context, Character& character, Shares& shares);
Result<Done> shareTwist(const Step& step, const BuildContext& context, Character& character, Shares& shares);
Result<Done> driveOtherwise(const Step& step, const BuildContext& context, Character& character);
Result<Done> smoothAfter(const Step& step, const BuildContext& context, Character& character);
Result<Done> skinBy(const Step& step, const BuildContext& context, Character& character);

/// Does it, wherever its place is. `skeleton` is that of the build with the steps before taken. An error
/// leaves the shares as they were.
Result<Done> apply(const Step& step, const Subject& subject, const Skeleton& skeleton, Shares& shares);
Result<Done> apply(const Step& step, const Subject& subject, Shares& shares);
/// The same for a step that changes the build; where it reads weights, they are the shares'.
Result<Done> apply(const Step& step, const Subject& subject, Character& character, Shares& shares);

/// "Soften three times, over 214 vertices", "Hand over 30 % of hips to thigh.L". Made in
/// core/words/step_words.cpp.
std::string sentence(const Step& step);

} // namespace hobble
