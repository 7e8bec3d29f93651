#include "zoo/score.h"

#include <cstdio>

namespace hobble::zoo {

namespace {

bool ofLimb(Role r) {
    return r == Role::Shoulder || r == Role::Elbow || r == Role::Wrist || r == Role::Hip || r == Role::Knee ||
           r == Role::Ankle;
}

} // namespace

void Score::add(const Score& o) {
    asked += o.asked;
    roles += o.roles;
    sides += o.sides;
    limbs += o.limbs;
    limbsRight += o.limbsRight;
    sure += o.sure;
    sureRight += o.sureRight;
}

Score scoreOf(const Body& body, const Convention& v, bool tell) {
    const Character c = characterOf(body, v);
    const auto guessed = guessRoles(c);
    Score s;
    for (std::size_t j = 0; j < body.bones.size(); ++j) {
        const Bone& b = body.bones[j];
        // What moves nothing is nobody's question.
        if ((b.radius <= 0 && !b.carries) || b.follows)
            continue;
        // of a control and the skin that follows it, either is told what they are
        const JointRole& g = guessed[b.carries && guessed[j].role == Role::Control ? j + 1 : j];
        const bool role = isRightly(b, g.role, g.fore);
        ++s.asked;
        s.roles += role;
        s.sides += g.side == b.side;
        s.limbs += ofLimb(b.role);
        s.limbsRight += ofLimb(b.role) && role;
        s.sure += g.confidence >= 0.9f;
        s.sureRight += g.confidence >= 0.9f && role && g.side == b.side;
        if (tell && !(role && g.side == b.side))
            std::printf("%-20s %-26s %-24s is %s %s%s, taken for %s %s%s (%.2f %s)\n", body.name.c_str(),
                        v.name.c_str(), c.skeleton.name[j].c_str(), nameOf(b.side), b.fore ? "fore " : "",
                        nameOf(b.role), nameOf(g.side), g.fore ? "fore " : "", nameOf(g.role),
                        static_cast<double>(g.confidence), g.basis);
    }
    return s;
}

namespace {

ZooScore scoreUnder(const std::vector<std::string>& changes, bool tell, std::size_t first, std::size_t step,
                    const std::string& without = {}) {
    ZooScore out;
    const auto names = conventions();
    for (const std::string& change : changes)
        for (const Body& drawn : bodies()) {
            if (drawn.name == without)
                continue;
            Body body = changed(drawn, change);
            body.name += ", " + change;
            for (std::size_t v = first; v < names.size(); v += step) {
                const Score s =
                    scoreOf(body, names[v], tell && v % 2 == 0); // what is not tuned on is not looked at
                (v % 2 ? out.untuned : out.tuned).add(s);
                out.byBody[drawn.name].add(s);
                out.byConvention[names[v].name].add(s);
                out.byChange[change].add(s);
            }
        }
    return out;
}

} // namespace

ZooScore scoreAll(const std::string& without, bool tell) {
    return scoreUnder({changes().front()}, tell, 0, 1, without);
}

ZooScore scoreChanges(bool tell, std::size_t first, std::size_t step) {
    return scoreUnder({changes().begin() + 1, changes().end()}, tell, first, step);
}

} // namespace hobble::zoo
