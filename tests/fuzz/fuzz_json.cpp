// Any bytes as each of our own JSON files; the first byte says which. What is accepted is written and read
// the same again.
#include "fuzz/fuzz.h"
#include "io/clip_read.h"
#include "io/drivers_json.h"
#include "io/intake_limits_json.h"
#include "io/limits_json.h"
#include "io/naming_json.h"
#include "io/plan_json.h"
#include "io/pose_json.h"
#include "io/run_curves.h"
#include "io/trial_json.h"
#include "io/variant_json.h"

#include <nlohmann/json.hpp>

using namespace hobble;

namespace {

const Character& twoJoints() {
    static const Character c = [] {
        Character out;
        out.skeleton.name = {"hip", "knee"};
        out.skeleton.parent = {-1, 0};
        out.skeleton.neutralLocal.assign(2, Transform::Identity());
        out.skeleton.neutralWorld = out.skeleton.neutralLocal;
        return out;
    }();
    return c;
}

const Surface& threeVertices() { // two of them one
    static const Surface s = [] {
        Surface out;
        out.weldOf = {0, 1, 1};
        out.members.first = {0, 1, 3};
        out.members.item = {0, 1, 2};
        return out;
    }();
    return s;
}

} // namespace

extern "C" int LLVMFuzzerTestOneInput(const std::uint8_t* data, std::size_t size) {
    if (size == 0)
        return 0;
    const std::string text(reinterpret_cast<const char*>(data) + 1, size - 1);
    switch (data[0] == 255 ? 9 : data[0] < 96 ? data[0] % 6 : 6 + data[0] % 3) {
    case 9:
        if (const auto x = trialFromJson(text, threeVertices()))
            must(*trialFromJson(trialToJson(*x, threeVertices()), threeVertices()) == *x);
        break;
    case 6:
        if (const auto x = poseFromJson(text))
            must(poseFromJson(poseToJson(*x)).ok());
        break;
    case 7:
        if (const auto x = variantsFromJson(text))
            must(variantsFromJson(variantsToJson(*x)).ok());
        break;
    case 8:
        if (const auto x = jointMapFromJson(text))
            must(*jointMapFromJson(jointMapToJson(*x)) == *x);
        break;
    case 0:
        if (const auto x = limitsFromJson(text))
            must(*limitsFromJson(limitsToJson(*x)) == *x);
        break;
    case 1:
        if (const auto x = intakeLimitsFromJson(text))
            must(*intakeLimitsFromJson(intakeLimitsToJson(*x)) == *x);
        break;
    case 2:
        if (const auto x = namingFromJson(text))
            must(namingFromJson(namingToJson(*x)).ok());
        break;
    case 3:
        if (const auto x = planFromJson(text, twoJoints()))
            must(planFromJson(planToJson(*x, twoJoints()), twoJoints()).ok());
        break;
    case 5:
        if (const auto x = curvesFromJson(text, twoJoints().skeleton))
            for (const auto& [id, motion] : *x)
                for (const auto& step : motion.steps)
                    must(step.joints.size() <= 2);
        break;
    case 4: {
        std::vector<std::string> notes;
        const auto in = nlohmann::json::parse(text, nullptr, false);
        if (!in.is_discarded())
            for (const Driver& d : driversFromJson(in, twoJoints(), notes))
                must(d.source >= 0 && d.source < 2);
        break;
    }
    }
    return 0;
}
