#include "core/mend/step.h"
#include "core/words/say.h"

#include <cmath>

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
            return Error{name->empty() ? say("no joint is named")
                                       : say("the joint %s is not in this build", *name)};
    }
    if (!std::isfinite(step.amount) || !std::isfinite(step.middle) || !std::isfinite(step.degrees) ||
        !std::isfinite(step.from) || std::abs(step.degrees) > 360 || std::abs(step.from) > 360 ||
        !step.axis.allFinite() || !step.move.allFinite() || !(step.strength >= 0 && step.strength <= 1))
        return Error{say("its numbers are out of range")};
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
    StepContext context{subject, where, -1, -1, &skeleton};
    if (const auto good = joints(step, skeleton, context.joint, context.to); !good)
        return Error{good.error()};
    if ((step.kind == StepKind::Pass || step.kind == StepKind::Bind) &&
        context.joint >= subject.character->skeleton.size())
        return Error{say("%s was added by this trial and has no reach of its own", step.joint)};
    auto amounts = whereOf(step, subject, shares);
    if (!amounts)
        return Error{amounts.error()};
    where = std::move(*amounts);
    return factsOf(step.kind).does(step, context, shares);
}

Result<Done> apply(const Step& step, const Subject& subject, Shares& shares) {
    return apply(step, subject, subject.character->skeleton, shares);
}

} // namespace hobble
