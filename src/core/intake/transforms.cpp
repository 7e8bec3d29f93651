// Scales that were not applied before binding, and a size that no creature has.
#include "core/intake/collect.h"

#include <cmath>

namespace hobble {

CheckFindings checkTransforms(const Subject& s, const IntakeLimits& limits) {
    const Character& c = *s.character;
    CheckFindings out;
    for (int j = 0; j < c.skeleton.size(); ++j) {
        const Vec3d scale = c.skeleton.neutralLocal[j].linear().colwise().norm();
        const double far = (scale - Vec3d::Ones()).cwiseAbs().maxCoeff();
        const bool turned = c.skeleton.neutralLocal[j].linear().determinant() < 0;
        if (far < limits.scaleTolerance && !turned)
            continue;
        if (out.size() == 9) // one in many is told as well as all
            break;
        CheckFinding f{.check = tableWord("transforms not applied"),
                       .severity = turned || far > 0.5 ? 3 : 2,
                       .joint = j,
                       .value = scale.maxCoeff(),
                       .sentence = {},
                       .advice = say("Apply the scale before binding: what hangs below it inherits it.")};
        f.sentence = turned
                         ? say("%s is mirrored by a negative scale in neutral.", c.skeleton.name[j].c_str())
                         : say("%s is scaled by %.3g, %.3g, %.3g in neutral.", c.skeleton.name[j].c_str(),
                               scale.x(), scale.y(), scale.z());
        out.push_back(std::move(f));
    }
    if (s.body.height > 0 && (s.body.height < limits.leastHeight || s.body.height > limits.mostHeight))
        out.push_back({.check = tableWord("transforms not applied"),
                       .severity = 3,
                       .value = s.body.height,
                       .sentence = say("The character is %.3g m high.", s.body.height),
                       .advice = say("Check the units of the export.")});
    return out;
}

} // namespace hobble
