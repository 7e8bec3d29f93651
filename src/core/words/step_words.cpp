// A step of a trial in words: what it does, then where.
#include "core/mend/step.h"
#include "core/words/say.h"

#include <cmath>

namespace hobble {

namespace {

std::string written(double x) { return say("%.3g", x); }

std::string times(int n) {
    return n == 1 ? say("once") : n == 2 ? say("twice") : n == 3 ? say("three times") : say("%d times", n);
}

// Of an angle of the step's joint.
std::string shapeWords(const Step& step) {
    const std::string degrees = written(step.degrees), mm = written(1000 * std::abs(step.amount)),
                      far = written(1000 * step.move.norm()), often = times(step.count);
    const char *at = degrees.c_str(), *of = step.joint.c_str();
    switch (step.correctBy) {
    case CorrectBy::Solve:
        return say("Shape the skin at %s° of %s as rigid as it can be", at, of);
    case CorrectBy::Move:
        return say("Move the skin at %s° of %s by %s mm", at, of, far.c_str());
    case CorrectBy::Inflate:
        return step.amount < 0 ? say("Bring the skin in at %s° of %s by %s mm", at, of, mm.c_str())
                               : say("Bring the skin out at %s° of %s by %s mm", at, of, mm.c_str());
    case CorrectBy::Soften:
        return say("Even the skin out at %s° of %s, %s", at, of, often.c_str());
    case CorrectBy::Flatten:
        return say("Lay the skin flat at %s° of %s", at, of);
    case CorrectBy::OutOfContact:
        return say("Bring the skin at %s° of %s out of the flesh it lies in", at, of);
    }
    return {};
}

std::string driveWords(const Step& step) {
    if (step.driveBy == DriveBy::AsOtherSide)
        return say("Let %s follow as its other side does", step.joint.c_str());
    const std::string what =
        step.name.empty() ? say("what follows %s", step.joint.c_str()) : say("\"%s\"", step.name.c_str());
    return step.driveBy == DriveBy::Ease
               ? say("Spread %s over %s°", what.c_str(), written(step.amount).c_str())
               : say("Scale %s by %s", what.c_str(), written(step.amount).c_str());
}

std::string placeWords(const Vec3d& at) {
    return say("%s, %s, %s m", written(at.x()).c_str(), written(at.y()).c_str(), written(at.z()).c_str());
}

std::string what(const Step& step) {
    const std::string amount = written(step.amount), percent = written(100 * step.amount);
    const char *joint = step.joint.c_str(), *to = step.to.c_str();
    switch (step.kind) {
    case StepKind::Fill:
        return step.fillBy == FillBy::Set ? say("Set %s to %s", joint, amount.c_str())
               : step.fillBy == FillBy::Add
                   ? (step.amount < 0 ? say("Take %s from %s", written(-step.amount).c_str(), joint)
                                      : say("Add %s to %s", amount.c_str(), joint))
                   : say("Scale %s by %s", joint, amount.c_str());
    case StepKind::Soften:
        return step.joint.empty() ? say("Soften %s", times(step.count).c_str())
                                  : say("Soften %s %s", joint, times(step.count).c_str());
    case StepKind::Narrow:
        return step.amount > 1
                   ? say("Make the passage from %s to %s narrower by %s", joint, to, amount.c_str())
                   : say("Make the passage from %s to %s wider by %s", joint, to,
                         written(1 / std::max(step.amount, 1e-9)).c_str());
    case StepKind::HandOver:
        return step.amount >= 1 ? say("Hand over all of %s to %s", joint, to)
                                : say("Hand over %s %% of %s to %s", percent.c_str(), joint, to);
    case StepKind::KeepOut:
        return say("Keep %s out", joint);
    case StepKind::DropSmall:
        return say("Drop influences below %s", amount.c_str());
    case StepKind::Cap:
        return step.count == 1 ? say("At most 1 influence") : say("At most %d influences", step.count);
    case StepKind::FromNeighbours:
        return say("From the neighbours");
    case StepKind::Mirror:
        return say("As the other side");
    case StepKind::Rigid:
        return say("Stiff with %s", joint);
    case StepKind::Pass: {
        const std::string middle = written(std::abs(step.middle));
        std::string out = say("Let the skin pass to %s over %s limb radii", joint, amount.c_str());
        if (std::abs(step.middle) >= 0.005)
            out += step.middle > 0 ? say(", its middle %s beyond the joint", middle.c_str())
                                   : say(", its middle %s before the joint", middle.c_str());
        return out;
    }
    case StepKind::Copy:
        return say("As the skin at %s", placeWords(step.at).c_str());
    case StepKind::CarryOver:
        return step.part.empty() ? say("As the skin below")
                                 : say("As the skin below of %s", step.part.c_str());
    case StepKind::Bind: {
        const std::string out =
            step.bindBy == BindBy::Heat ? say("Bind anew by heat") : say("Bind anew by distance");
        return step.joint.empty() ? out : out + say(", about %s", joint);
    }
    case StepKind::Pivot:
        return say("Move %s to %s", joint, placeWords(step.at).c_str());
    case StepKind::TurnAxes:
        return say("Turn the axes of %s by %s°", joint, amount.c_str());
    case StepKind::Correct:
        return shapeWords(step);
    case StepKind::Helper:
        return step.helpBy == HelpBy::Turn
                   ? say("Add a joint beside %s that makes %s %% of its turn", joint, percent.c_str())
                   : say("Add a joint beside %s that goes %s mm by %s°", joint,
                         written(1000 * step.amount).c_str(), written(step.degrees).c_str());
    case StepKind::ShareTwist:
        return step.count == 1 ? say("Share the roll of %s out over 1 joint", joint)
                               : say("Share the roll of %s out over %d joints", joint, step.count);
    case StepKind::Drive:
        return driveWords(step);
    case StepKind::SmoothAfter:
        return say("Smooth the posed skin, its detail kept, %s", times(step.count).c_str());
    case StepKind::Method:
        return step.amount >= 1   ? say("Skin by dual quaternions")
               : step.amount <= 0 ? say("Skin by linear blending")
                                  : say("Skin by dual quaternions to %s %%", percent.c_str());
    }
    return {};
}

std::string where(const MendPlace& place) {
    switch (place.what) {
    case MendPlace::What::Everywhere:
        return {};
    case MendPlace::What::Reach:
        return say(", where %s reaches", place.joint.c_str());
    case MendPlace::What::Marked:
        return place.vertices.size() == 1 ? say(", over 1 vertex")
                                          : say(", over %zu vertices", place.vertices.size());
    case MendPlace::What::Stroke: {
        const double radius = 1000 * place.radius; // shown whole where a tenth is nothing
        return say(", under a stroke of %s mm", written(radius >= 10 ? std::round(radius) : radius).c_str());
    }
    }
    return {};
}

} // namespace

std::string sentence(const Step& step) {
    const bool hasNoPlace =
        ofTheSkeleton(step.kind) || step.kind == StepKind::ShareTwist || step.kind == StepKind::Drive;
    return hasNoPlace ? what(step) : what(step) + where(step.place);
}

} // namespace hobble
