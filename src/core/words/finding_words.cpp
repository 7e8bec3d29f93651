#include "core/words/finding_words.h"

#include "core/ascii.h"
#include "core/character/hand.h"
#include "core/measure/subject.h"
#include "core/pose/motion.h"
#include "core/words/motion_words.h"
#include "core/words/say.h"

#include <algorithm>
#include <cmath>

namespace hobble {

std::string jointWords(const Subject& s, int j) {
    const JointRole& r = s.roles[j];
    if (r.role == Role::Unknown)
        return s.character->skeleton.name[j];
    std::string out = translated(nameOf(r.role));
    static const char* segments[] = {tableWord("base"), tableWord("middle"), tableWord("tip")};
    const std::string segment = translated(segments[std::min(r.segment, 2)]);
    if (r.role == Role::Finger)
        out = translated(digitName(std::max(r.digit, 0)).c_str()) + " " + segment;
    else if (r.role == Role::Thumb)
        out += " " + segment;
    else if (std::count_if(s.roles.begin(), s.roles.end(), [&](const JointRole& o) {
                 return o.role == r.role && o.side == r.side && o.fore == r.fore;
             }) > 1)
        out += " " + std::to_string(r.segment + 1); // one of a chain
    return r.side == Side::Middle ? out : say("%s %s", translated(nameOf(r.side)).c_str(), out.c_str());
}

namespace {

std::string capital(std::string words) {
    if (!words.empty())
        words[0] = toAsciiUpper(words[0]);
    return words;
}

// What the joint does, to be put behind its name: " stretches to …", ": skin sinks …".
std::string whatItDoes(const Subject& s, const Finding& f) {
    std::string what;
    const std::string part =
        f.marks.empty() ? std::string("a part") : s.character->parts[f.marks.front().part].name;
    switch (f.kind) {
    case Kind::Stretch:
        what = say(" stretches to %.2f times at the %s", f.peakValue, translated(f.region.c_str()).c_str());
        break;
    case Kind::Squash:
        what = say(" is squashed to %.2f at the %s", f.peakValue, translated(f.region.c_str()).c_str());
        break;
    case Kind::VolumeLoss:
        what = say(" loses %.0f %% of its volume", 100 * (1 - f.peakValue));
        break;
    case Kind::Bulge:
        what = say(" swells by %.0f %% of its volume", 100 * (f.peakValue - 1));
        break;
    case Kind::Pinch:
        what = say(" pinches to %.0f %% of its girth", 100 * f.peakValue);
        break;
    case Kind::Contact:
        what = say(": skin sinks %.0f mm into skin", 1000 * f.peakValue * s.zones[f.joint].limbRadius);
        break;
    case Kind::PokeThrough:
        what = say(": %s pokes through by %.1f mm", part.c_str(), 1000 * f.peakValue * s.body.height);
        break;
    case Kind::Gap:
        what =
            say(": what covers %s stands off by %.0f mm", part.c_str(), 1000 * f.peakValue * s.body.height);
        break;
    case Kind::Roughness:
        what = say(" is rough at the %s: bumps of %.1f edges", translated(f.region.c_str()).c_str(),
                   f.peakValue);
        break;
    case Kind::Spike:
        what = say(" draws out a spike of %.1f edges", f.peakValue);
        break;
    case Kind::Leak:
        what = say(" moves skin that it should not, by %.0f mm", 1000 * f.peakValue * s.body.height);
        break;
    case Kind::Lag:
        what = say(" leaves skin behind at the %s: it misses %.0f %% of the turn",
                   translated(f.region.c_str()).c_str(), 100 * f.peakValue);
        break;
    case Kind::SoftRigidPart:
        what = say(": %s bends by %.0f %% though it is rigid", part.c_str(), 100 * f.peakValue);
        break;
    case Kind::UnboundPart:
        what = say(": %s stays behind by %.0f mm", part.c_str(), 1000 * f.peakValue * s.body.height);
        break;
    case Kind::Flip:
        what = say(" turns %.0f %% of its skin inside out", 100 * f.peakValue);
        break;
    case Kind::Pop:
        what = say(" kicks by %.0f mm at once", 1000 * f.peakValue * s.body.height);
        break;
    case Kind::OneSided:
        what = say(" does %.1f limits worse than its other side", f.peakValue);
        break;
    case Kind::WrongBend:
        what = say(" bends %.0f° off its own axis", f.peakValue);
        break;
    case Kind::NotClosed:
        what = say(" leaves %.0f %% of %s bare", 100 * f.peakValue, part.c_str());
        break;
    case Kind::ThroughLid:
        what = say(": %s comes through the skin by %.0f %% of its radius", part.c_str(), 100 * f.peakValue);
        break;
    }
    if (const auto at = what.find("at the all round"); at != std::string::npos)
        what.replace(at, 16, "all round");
    return what;
}

std::string inMotion(const Plan& plan, const Finding& f, const std::string& what) {
    const Motion& motion = plan.motions[static_cast<std::size_t>(f.motion)];
    return say("%s in %s, from %s, worst at %s.", what, motionName(motion.name),
               wordsFor(motion, f.onset).c_str(), wordsFor(motion, f.peak).c_str());
}

} // namespace

std::string sentence(const Subject& s, const Plan& plan, const Finding& f) {
    return inMotion(plan, f, capital(jointWords(s, f.joint)) + whatItDoes(s, f));
}

std::string sentence(const Subject& s, const Plan& plan, const std::vector<Finding>& findings,
                     const Fault& fault) {
    const Finding& f = findings[static_cast<std::size_t>(fault.signs.front())];
    const std::string what = whatItDoes(s, f);
    std::string who = capital(jointWords(s, fault.joint));
    const bool twoSides =
        fault.joints.size() == 2 && s.roles[static_cast<std::size_t>(fault.joint)].mirror == fault.joints[1];
    if (twoSides)
        who = say("%s and its other side", who.c_str());
    else if (fault.joints.size() > 1)
        who = say("%s and %zu more", who.c_str(), fault.joints.size() - 1);
    const bool seenElsewhere =
        std::find(fault.joints.begin(), fault.joints.end(), f.joint) == fault.joints.end();
    if (seenElsewhere) // what it does is what is seen there
        who = say("%s, seen at the %s", who.c_str(), jointWords(s, f.joint).c_str());
    if (fault.joints.size() > 1 || seenElsewhere)
        return inMotion(plan, f, who + (what[0] == ':' ? what : ":" + what));
    return inMotion(plan, f, who + what);
}

std::string wordsFor(const Coverage& coverage) {
    const int percent = static_cast<int>(std::floor(100 * coverage.share + 1e-9));
    const auto count = coverage.untested.size();
    if (count == 0)
        return say("The plan moves all of the skin");
    return count == 1 ? say("The plan moves %d %% of the skin; not tested: 1 joint", percent)
                      : say("The plan moves %d %% of the skin; not tested: %zu joints", percent, count);
}

std::string wordsFor(WhyUntested why) {
    switch (why) {
    case WhyUntested::Off:
        return say("its motions are off");
    case WhyUntested::FollowsNone:
        return say("it follows another joint, and that is not turned");
    case WhyUntested::Base:
        return say("it carries the rest, and nothing that hangs from it is turned");
    case WhyUntested::NotKnown:
        return say("it is not known what it is");
    case WhyUntested::NotPlanned:
        break;
    }
    return say("no motion of the plan turns it");
}

} // namespace hobble
