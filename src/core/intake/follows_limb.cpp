// A limb whose end hangs elsewhere in the tree, and a skeleton that lies flat: the skin tears where the tree
// does not go on.
#include "core/intake/collect.h"
#include "core/measure/torn_limbs.h"
#include "core/words/finding_words.h"

namespace hobble {

namespace {

void addHeld(const Subject& s, const std::vector<char>& joints, Places& places) {
    const SkinWeights& w = s.character->weights;
    for (std::uint32_t v = 0; v < w.vertexCount(); ++v)
        if (w.first[v] < w.first[v + 1] && joints[w.joint[w.first[v]]])
            places.add(v);
}

} // namespace

CheckFindings checkFollowsLimb(const Subject& s, const IntakeLimits&) {
    const Skeleton& sk = s.character->skeleton;
    const TreeAndSkin found = treeAndSkin(sk, s.surface);
    CheckFindings out;
    if (found.flatUnder >= 0)
        out.push_back(
            {.check = tableWord("limb that does not follow"),
             .severity = 4,
             .joint = found.flatUnder,
             .value = 1,
             .sentence = say("The skeleton lies flat: its joints all hang from %s, though they form chains. "
                             "Turning one moves nothing that it should carry.",
                             sk.name[static_cast<std::size_t>(found.flatUnder)].c_str()),
             .advice =
                 say("Parent the joints along their chains. What each is, is read from where it lies.")});
    for (const TornLimb& t : found.torn) {
        if (found.flatUnder >= 0)
            break; // told already, of all at once
        Places places(*s.character);
        addHeld(s, sk.subtree(t.joint), places);
        const std::string joint = jointWords(s, t.joint), limb = jointWords(s, t.continues);
        out.push_back(
            {.check = tableWord("limb that does not follow"),
             .severity = 4,
             .joint = t.joint,
             .vertices = places.take(),
             .value = t.share,
             .sentence =
                 say("The %s does not follow the %s: its skin goes on from %s, but it hangs from %s.",
                     joint.c_str(), limb.c_str(), sk.name[static_cast<std::size_t>(t.continues)].c_str(),
                     t.hangsFrom < 0 ? "nothing" : sk.name[static_cast<std::size_t>(t.hangsFrom)].c_str()),
             .advice = say("Parent it to the limb, or export the constraint that binds it.")});
    }
    return out;
}

} // namespace hobble
