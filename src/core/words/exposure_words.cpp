#include "core/words/exposure_words.h"

#include "core/words/finding_words.h"
#include "core/words/say.h"

namespace hobble {

std::string grouped(std::size_t n) {
    std::string out = std::to_string(n);
    for (auto at = static_cast<int>(out.size()) - 3; at > 0; at -= 3)
        out.insert(static_cast<std::size_t>(at), ",");
    return out;
}

std::string wordsFor(const Exposure& e, const UsePast& past) {
    if (e.clips.empty())
        return say("no clip of the show was read");
    if (!past.known())
        return say("no clip of the show moves this");
    const std::string clips = counted(past.ofClips, tableWord("one clip"), manyOf("%n clips")),
                      all = grouped(past.ofFrames);
    if (past.frames == 0)
        return say("never reached in %s frames of %s", all.c_str(), clips.c_str());
    const ClipUse& first = e.clips[static_cast<std::size_t>(past.firstClip)];
    return say("past it in %s of %s frames, in %zu of %s, first in %s frame %u", grouped(past.frames).c_str(),
               all.c_str(), past.clips, clips.c_str(), first.clip.c_str(), past.firstFrame);
}

std::string wordsFor(const Meeting& m, const Subject& s, const RunResult& run) {
    std::string joints;
    for (int fault : m.faults)
        joints +=
            (joints.empty() ? "" : ", ") + jointWords(s, run.faults[static_cast<std::size_t>(fault)].joint);
    return m.first == m.last ? say("%zu faults meet: %s; %s frame %u", m.faults.size(), joints.c_str(),
                                   m.clip.c_str(), m.at)
                             : say("%zu faults meet: %s; %s frames %u to %u, worst at %u", m.faults.size(),
                                   joints.c_str(), m.clip.c_str(), m.first, m.last, m.at);
}

} // namespace hobble
