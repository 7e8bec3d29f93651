#include "core/mend/step.h"

#include <cmath>
#include <cstdio>

namespace hobble {

namespace {

struct StepFacts {
    const char* name;
    StepFunction does;
    bool needsJoint, needsTo;
};
// In the order of StepKind.
constexpr StepFacts kFacts[kStepKinds] = {{"fill", fill, true, false},
                                          {"soften", soften, false, false},
                                          {"narrow", narrow, true, true},
                                          {"hand over", handOver, true, true},
                                          {"keep out", keepOut, true, false},
                                          {"drop small", dropSmall, false, false},
                                          {"cap", cap, false, false},
                                          {"from neighbours", fromNeighbours, false, false},
                                          {"mirror", mirror, false, false},
                                          {"rigid", rigid, true, false},
                                          {"pass", pass, true, false},
                                          {"copy", copyShares, false, false},
                                          {"carry over", carryOver, false, false},
                                          {"bind", bindAnew, false, false},
                                          {"pivot", nullptr, true, false},
                                          {"turn axes", nullptr, true, false},
                                          {"corrective", nullptr, true, false},
                                          {"helper", nullptr, true, false},
                                          {"share twist", nullptr, true, false},
                                          {"driver", nullptr, true, false},
                                          {"smooth after", nullptr, false, false},
                                          {"method", nullptr, false, false}};
const StepFacts& factsOf(StepKind kind) { return kFacts[static_cast<std::size_t>(kind)]; }

std::string written(double x) {
    char text[32];
    std::snprintf(text, sizeof text, "%.3g", x);
    return text;
}

std::string times(int n) {
    return n == 1 ? "once" : n == 2 ? "twice" : n == 3 ? "three times" : std::to_string(n) + " times";
}

} // namespace

const char* nameOf(StepKind kind) { return factsOf(kind).name; }

std::optional<StepKind> stepKindCalled(const std::string& name) {
    for (int k = 0; k < kStepKinds; ++k)
        if (name == kFacts[k].name)
            return static_cast<StepKind>(k);
    return std::nullopt;
}

bool ofTheSkeleton(StepKind kind) { return kind == StepKind::Pivot || kind == StepKind::TurnAxes; }

bool changesBuild(StepKind kind) { return kind >= StepKind::Pivot; }

bool changesSkeleton(StepKind kind) {
    return changesBuild(kind) && kind != StepKind::Correct && kind != StepKind::SmoothAfter &&
           kind != StepKind::Method;
}

namespace {

// The joints a step names, or what is wrong with them or its numbers.
Result<Done> joints(const Step& step, const Skeleton& skeleton, int& joint, int& to) {
    const StepFacts& facts = factsOf(step.kind);
    for (const auto& [needed, name, at] :
         {std::tuple(facts.needsJoint, &step.joint, &joint), std::tuple(facts.needsTo, &step.to, &to)}) {
        *at = name->empty() ? -1 : skeleton.find(*name);
        if (*at < 0 && (needed || !name->empty()))
            return Error{name->empty() ? std::string("no joint is named")
                                       : "the joint " + *name + " is not in this build"};
    }
    if (!std::isfinite(step.amount) || !std::isfinite(step.middle) || !std::isfinite(step.degrees) ||
        !std::isfinite(step.from) || std::abs(step.degrees) > 360 || std::abs(step.from) > 360 ||
        !step.axis.allFinite() || !step.move.allFinite() || !(step.strength >= 0 && step.strength <= 1))
        return Error{"its numbers are out of range"};
    return Done{};
}

Result<std::vector<Amount>> whereOf(const Step& step, const Subject& subject, const Shares& shares) {
    auto amounts = amountsAt(subject, shares, step.place);
    if (!amounts)
        return amounts;
    for (Amount& a : *amounts)
        a.by *= step.strength;
    std::erase_if(*amounts, [](const Amount& a) { return !(a.by > 0); });
    return amounts;
}

} // namespace

Result<Done> apply(const Step& step, const Subject& subject, Character& character, Shares& shares) {
    int joint = -1, to = -1;
    if (const auto good = joints(step, character.skeleton, joint, to); !good)
        return Error{good.error()};
    if (step.kind == StepKind::Pivot)
        return pivot(step, joint, character);
    if (step.kind == StepKind::TurnAxes)
        return turnAxes(step, joint, character);
    std::vector<Amount> where;
    if (step.kind != StepKind::Drive && step.kind != StepKind::ShareTwist) {
        auto amounts = whereOf(step, subject, shares);
        if (!amounts)
            return Error{amounts.error()};
        where = std::move(*amounts);
    }
    const BuildContext context{subject, where, joint, to};
    switch (step.kind) {
    case StepKind::Correct:
        return correct(step, context, character);
    case StepKind::Helper:
        return addHelper(step, context, character, shares);
    case StepKind::ShareTwist:
        return shareTwist(step, context, character, shares);
    case StepKind::SmoothAfter:
        return smoothAfter(step, context, character);
    case StepKind::Method:
        return skinBy(step, context, character);
    default:
        return driveOtherwise(step, context, character);
    }
}

Result<Done> apply(const Step& step, const Subject& subject, const Skeleton& skeleton, Shares& shares) {
    std::vector<Amount> where;
    StepContext context{subject, where};
    if (const auto good = joints(step, skeleton, context.joint, context.to); !good)
        return Error{good.error()};
    if (step.kind == StepKind::Pass && context.joint >= subject.character->skeleton.size())
        return Error{step.joint + " was added by this trial and has no reach of its own"};
    auto amounts = whereOf(step, subject, shares);
    if (!amounts)
        return Error{amounts.error()};
    where = std::move(*amounts);
    return factsOf(step.kind).does(step, context, shares);
}

Result<Done> apply(const Step& step, const Subject& subject, Shares& shares) {
    return apply(step, subject, subject.character->skeleton, shares);
}

std::string sentence(const Step& step) {
    std::string out;
    const std::string part = step.amount >= 1 ? "all" : written(100 * step.amount) + " %";
    switch (step.kind) {
    case StepKind::Fill:
        out = step.fillBy == FillBy::Set   ? "Set " + step.joint + " to " + written(step.amount)
              : step.fillBy == FillBy::Add ? (step.amount < 0 ? "Take " + written(-step.amount) + " from "
                                                              : "Add " + written(step.amount) + " to ") +
                                                 step.joint
                                           : "Scale " + step.joint + " by " + written(step.amount);
        break;
    case StepKind::Soften:
        out = "Soften " + (step.joint.empty() ? "" : step.joint + " ") + times(step.count);
        break;
    case StepKind::Narrow:
        out = std::string("Make the passage from ") + step.joint + " to " + step.to +
              (step.amount > 1 ? " narrower by " + written(step.amount)
                               : " wider by " + written(1 / std::max(step.amount, 1e-9)));
        break;
    case StepKind::HandOver:
        out = "Hand over " + part + " of " + step.joint + " to " + step.to;
        break;
    case StepKind::KeepOut:
        out = "Keep " + step.joint + " out";
        break;
    case StepKind::DropSmall:
        out = "Drop influences below " + written(step.amount);
        break;
    case StepKind::Cap:
        out = "At most " + std::to_string(step.count) + (step.count == 1 ? " influence" : " influences");
        break;
    case StepKind::FromNeighbours:
        out = "From the neighbours";
        break;
    case StepKind::Mirror:
        out = "As the other side";
        break;
    case StepKind::Rigid:
        out = "Stiff with " + step.joint;
        break;
    case StepKind::Pass:
        out = "Let the skin pass to " + step.joint + " over " + written(step.amount) + " limb radii";
        if (std::abs(step.middle) >= 0.005)
            out += ", its middle " + written(std::abs(step.middle)) +
                   (step.middle > 0 ? " beyond the joint" : " before the joint");
        break;
    case StepKind::Copy:
        out = "As the skin at " + written(step.at.x()) + ", " + written(step.at.y()) + ", " +
              written(step.at.z()) + " m";
        break;
    case StepKind::CarryOver:
        out = "As the skin below" + (step.part.empty() ? std::string() : " of " + step.part);
        break;
    case StepKind::Bind:
        out = std::string("Bind anew by ") + (step.bindBy == BindBy::Heat ? "heat" : "distance") +
              (step.joint.empty() ? std::string() : ", about " + step.joint);
        break;
    case StepKind::Pivot:
        out = "Move " + step.joint + " to " + written(step.at.x()) + ", " + written(step.at.y()) + ", " +
              written(step.at.z()) + " m";
        break;
    case StepKind::TurnAxes:
        out = "Turn the axes of " + step.joint + " by " + written(step.amount) + "°";
        break;
    case StepKind::Correct: {
        const std::string mm = written(1000 * std::abs(step.amount)) + " mm";
        const std::string at = " at " + written(step.degrees) + "° of " + step.joint;
        out = step.correctBy == CorrectBy::Solve ? "Shape the skin" + at + " as rigid as it can be"
              : step.correctBy == CorrectBy::Move
                  ? "Move the skin" + at + " by " + written(1000 * step.move.norm()) + " mm"
              : step.correctBy == CorrectBy::Inflate
                  ? (step.amount < 0 ? "Bring the skin in" : "Bring the skin out") + at + " by " + mm
              : step.correctBy == CorrectBy::Soften  ? "Even the skin out" + at + ", " + times(step.count)
              : step.correctBy == CorrectBy::Flatten ? "Lay the skin flat" + at
                                                     : "Bring the skin" + at + " out of the flesh it lies in";
        break;
    }
    case StepKind::Helper:
        out = "Add a joint beside " + step.joint +
              (step.helpBy == HelpBy::Turn
                   ? " that makes " + written(100 * step.amount) + " % of its turn"
                   : " that goes " + written(1000 * step.amount) + " mm by " + written(step.degrees) + "°");
        break;
    case StepKind::ShareTwist:
        out = "Share the roll of " + step.joint + " out over " + std::to_string(step.count) +
              (step.count == 1 ? " joint" : " joints");
        break;
    case StepKind::Drive: {
        const std::string what = step.name.empty() ? "what follows " + step.joint : "\"" + step.name + "\"";
        out = step.driveBy == DriveBy::Ease    ? "Spread " + what + " over " + written(step.amount) + "°"
              : step.driveBy == DriveBy::Scale ? "Scale " + what + " by " + written(step.amount)
                                               : "Let " + step.joint + " follow as its other side does";
        break;
    }
    case StepKind::SmoothAfter:
        out = "Smooth the posed skin, its detail kept, " + times(step.count);
        break;
    case StepKind::Method:
        out = step.amount >= 1   ? "Skin by dual quaternions"
              : step.amount <= 0 ? "Skin by linear blending"
                                 : "Skin by dual quaternions to " + written(100 * step.amount) + " %";
        break;
    }
    if (ofTheSkeleton(step.kind) || step.kind == StepKind::ShareTwist || step.kind == StepKind::Drive)
        return out;
    switch (step.place.what) {
    case MendPlace::What::Everywhere:
        break;
    case MendPlace::What::Reach:
        out += ", where " + step.place.joint + " reaches";
        break;
    case MendPlace::What::Marked:
        out += ", over " + std::to_string(step.place.vertices.size()) +
               (step.place.vertices.size() == 1 ? " vertex" : " vertices");
        break;
    case MendPlace::What::Stroke: {
        const double radius = 1000 * step.place.radius; // shown whole where a tenth is nothing
        out += ", under a stroke of " + written(radius >= 10 ? std::round(radius) : radius) + " mm";
        break;
    }
    }
    return out;
}

} // namespace hobble
