// How the file leaves its joints, against the pose the skin was bound in: a build that was saved posed.
#include "core/intake/collect.h"

#include <cmath>

namespace hobble {

CheckFindings checkBindPose(const Subject& s, const IntakeLimits& limits) {
    const Character& c = *s.character;
    const Skeleton& sk = c.skeleton;
    if (sk.restWorld.empty())
        return {};
    std::size_t off = 0;
    int worst = -1;
    double turn = 0, shift = 0;
    std::vector<char> moves(sk.name.size(), 0);
    for (std::uint16_t j : c.weights.joint)
        moves[j] = 1;
    for (int j = 0; j < sk.size(); ++j) {
        const int p = sk.parent[j];
        if (p < 0 || !moves[j]) // where the whole stands is not a pose
            continue;
        const Transform rest = sk.restWorld[p].inverse() * sk.restWorld[j];
        const double a = degrees(rotationOf(sk.neutralLocal[j]).angularDistance(rotationOf(rest)));
        // in metres of the world: a parent that is scaled scales what hangs on it
        const double d =
            (sk.neutralWorld[p].linear() * (sk.neutralLocal[j].translation() - rest.translation())).norm();
        if (a <= limits.bindDegrees && d <= 0.005 * s.body.height)
            continue;
        ++off;
        shift = std::max(shift, d);
        if (a > turn || worst < 0) {
            turn = std::max(turn, a);
            worst = j;
        }
    }
    if (!off)
        return {};
    return {{.check = tableWord("bind pose is not the rest pose"),
             .severity = 2,
             .joint = worst,
             .value = turn,
             .sentence = say(
                 "The file leaves %s posed, most at %s (%.0f degrees%s); the bind pose is tested.",
                 counted(off, tableWord("one joint"), manyOf("%n joints")).c_str(), sk.name[worst].c_str(),
                 turn, shift > 0.005 * s.body.height ? say(", up to %.1f cm off", 100 * shift).c_str() : ""),
             .advice = say("Go to the bind pose before exporting, so that everybody starts from the same.")}};
}

} // namespace hobble
