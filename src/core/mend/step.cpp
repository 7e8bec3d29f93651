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
                                          {"turn axes", nullptr, true, false}};
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

Result<Done> apply(const Step& step, Character& character) {
    const int joint = character.skeleton.find(step.joint);
    if (joint < 0)
        return Error{step.joint.empty() ? std::string("no joint is named")
                                        : "the joint " + step.joint + " is not in this build"};
    if (!std::isfinite(step.amount) || !(step.strength >= 0 && step.strength <= 1))
        return Error{"its numbers are out of range"};
    return step.kind == StepKind::Pivot ? pivot(step, joint, character) : turnAxes(step, joint, character);
}

Result<Done> apply(const Step& step, const Subject& subject, Shares& shares) {
    const Skeleton& skeleton = subject.character->skeleton;
    const StepFacts& facts = factsOf(step.kind);
    std::vector<Amount> where;
    StepContext context{subject, where};
    for (const auto& [needed, name, at] : {std::tuple(facts.needsJoint, &step.joint, &context.joint),
                                           std::tuple(facts.needsTo, &step.to, &context.to)}) {
        *at = name->empty() ? -1 : skeleton.find(*name);
        if (*at < 0 && (needed || !name->empty()))
            return Error{name->empty() ? std::string("no joint is named")
                                       : "the joint " + *name + " is not in this build"};
    }
    if (!std::isfinite(step.amount) || !std::isfinite(step.middle) ||
        !(step.strength >= 0 && step.strength <= 1))
        return Error{"its numbers are out of range"};
    auto amounts = amountsAt(subject, shares, step.place);
    if (!amounts)
        return Error{amounts.error()};
    where = std::move(*amounts);
    for (Amount& a : where)
        a.by *= step.strength;
    std::erase_if(where, [](const Amount& a) { return !(a.by > 0); });
    return facts.does(step, context, shares);
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
    }
    if (ofTheSkeleton(step.kind))
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
    case MendPlace::What::Stroke:
        out += ", under a stroke of " + written(1000 * step.place.radius) + " mm";
        break;
    }
    return out;
}

} // namespace hobble
