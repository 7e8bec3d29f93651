// The commands about plans: writing one, taking a clip into one, writing it as a test clip, comparing two.
#include "cli/options.h"
#include "core/pose/clip_frames.h"
#include "core/pose/plan_diff.h"
#include "core/pose/retarget.h"
#include "core/pose/test_clip.h"
#include "core/run/cost.h"
#include "io/bvh_write.h"
#include "io/clip_read.h"
#include "io/file_read.h"
#include "io/file_write.h"
#include "io/gltf_write.h"
#include "io/plan_json.h"

#include <algorithm>
#include <cstdio>
#include <filesystem>
#include <iostream>
#include <unistd.h>

namespace hobble::cli {

int fail(int code, const std::string& message) {
    std::fprintf(stderr, "hobble-cli: %s\n", message.c_str());
    return code;
}

Result<Done> put(const std::string& path, const std::string& text) {
    if (path == "-") {
        std::cout << text;
        return Done{};
    }
    return writeFile(path, text);
}

Result<Done> canPut(const std::string& path) {
    if (path.empty() || path == "-" ||
        ::access(std::filesystem::absolute(path).parent_path().c_str(), W_OK | X_OK) == 0)
        return Done{};
    return Error{"Cannot write " + path + ": the folder is missing or protected."};
}

Result<Plan> wantedPlan(const Character& c, const std::vector<JointRole>& roles, const Options& o) {
    if (o.given)
        return *o.given;
    if (o.plan.empty())
        return o.singles ? defaultPlan(c, roles) : fullPlan(c, roles);
    std::vector<std::string> left;
    auto plan = readPlan(o.plan, c, &left);
    if (!o.quiet)
        for (const std::string& note : left)
            std::fprintf(stderr, "note: %s\n", note.c_str());
    return plan;
}

int writePlan(const Subject& s, const Options& o) {
    const auto made = wantedPlan(*s.character, s.roles, o);
    if (!made)
        return fail(BadUse, made.error());
    if (!o.out.empty())
        if (auto written = writeFile(o.out, planToJson(*made, *s.character)); !written)
            return fail(BadUse, written.error());
    std::fprintf(stderr, "%s\n", wordsFor(runCost(s, *made)).c_str());
    return Clean;
}

namespace {

// "12", "12-80", or nothing: all.
bool parseFrames(const std::string& text, std::size_t count, std::size_t& first, std::size_t& last) {
    first = 0;
    last = count - 1;
    if (text.empty())
        return true;
    unsigned long a = 0, b = 0;
    int used = 0;
    if (std::sscanf(text.c_str(), "%lu-%lu%n", &a, &b, &used) == 2 &&
        static_cast<std::size_t>(used) == text.size()) {
        first = a;
        last = b;
    } else if (std::sscanf(text.c_str(), "%lu%n", &a, &used) == 1 &&
               static_cast<std::size_t>(used) == text.size()) {
        first = last = a;
    } else {
        return false;
    }
    return first <= last && last < count;
}

} // namespace

int takeClip(const Subject& s, const Options& o) {
    const Character& c = *s.character;
    const auto file = readClips(o.clipFile);
    if (!file)
        return fail(Unreadable, file.error());
    const Clip* clip = &file->body.clips.front();
    for (const Clip& one : file->body.clips)
        if (one.name == o.clip)
            clip = &one;
    if (!o.clip.empty() && clip->name != o.clip)
        return fail(BadUse, "there is no clip '" + o.clip + "' in " + o.clipFile);
    auto plan = wantedPlan(*s.character, s.roles, o);
    if (!plan)
        return fail(BadUse, plan.error());
    RetargetSettings settings;
    settings.keepFeet = o.keepFeet;
    if (o.rest >= 0)
        settings.restSeconds = file->secondsAt(static_cast<std::size_t>(o.rest));
    if (!o.jointMap.empty()) {
        const auto text = readFile(o.jointMap);
        auto said =
            text ? jointMapFromJson(*text) : Result<std::map<std::string, std::string>>(Error{text.error()});
        if (!said)
            return fail(BadUse, "cannot use " + o.jointMap + ": " + said.error());
        settings.said = std::move(*said);
    }
    const std::vector<JointRange> ranges = jointRanges(c, s.roles, *plan);
    const Retargeter retargeter(file->body, *clip, c, s.roles, ranges, settings);
    if (!o.quiet) {
        for (const std::string& note : file->notes)
            std::fprintf(stderr, "note: %s\n", note.c_str());
        for (const std::string& note : retargeter.notes())
            std::fprintf(stderr, "note: %s\n", note.c_str());
    }
    if (!retargeter.asItIs() && std::none_of(retargeter.map().begin(), retargeter.map().end(),
                                             [](const JointSource& from) { return from.joint >= 0; }))
        return fail(BadUse, "nothing was taken: none of the " + std::to_string(file->body.skeleton.size()) +
                                " joints of " + o.clipFile + " is known to be one of " + o.file +
                                "'s; say which are with --joint-map");
    std::size_t first = 0, last = 0;
    const std::size_t count = file->frameCount(*clip);
    if (!parseFrames(o.frames, count, first, last))
        return fail(BadUse,
                    "--frames takes N or N-M below " + std::to_string(count) + ", not '" + o.frames + "'");
    constexpr std::size_t kMost = 2000; // frames looked at
    std::size_t every = o.every > 0 ? static_cast<std::size_t>(o.every) : 1;
    if (o.stress > 0)
        every = std::max<std::size_t>(every, (last - first) / kMost + 1);
    else if ((last - first) / every >= kMost)
        return fail(BadUse, "that is more than " + std::to_string(kMost) +
                                " frames; take fewer with --every, --frames or --stress");
    ChosenFrames chosen;
    chosen.clip = clip->name;
    std::vector<double> seconds;
    for (std::size_t f = first; f <= last; f += every) {
        chosen.frames.push_back(f);
        seconds.push_back(file->secondsAt(f));
    }
    chosen.poses = retargeter.poses(seconds);
    if (o.stress > 0) {
        ChosenFrames worst;
        worst.clip = chosen.clip;
        for (std::size_t i : mostStressful(ranges, chosen.poses, static_cast<std::size_t>(o.stress))) {
            worst.frames.push_back(chosen.frames[i]);
            worst.poses.push_back(chosen.poses[i]);
        }
        chosen = std::move(worst);
    }
    const auto moves = [](const Pose& pose) {
        return std::any_of(
                   pose.turn.begin(), pose.turn.end(),
                   [](const Quat& q) { return degrees(q.angularDistance(Quat::Identity())) > 0.1; }) ||
               std::any_of(pose.shift.begin(), pose.shift.end(),
                           [](const Vec3d& by) { return by.norm() > 1e-5; }) ||
               !pose.targets.empty();
    };
    if (std::none_of(chosen.poses.begin(), chosen.poses.end(), moves))
        return fail(BadUse, "nothing was taken: in the " + std::to_string(chosen.poses.size()) +
                                " frames of '" + clip->name + "' the character stands in neutral");
    const BeyondPlan beyond = o.beyond == "leave-out" ? BeyondPlan::LeaveOut
                              : o.beyond == "apart"   ? BeyondPlan::JudgeApart
                                                      : BeyondPlan::Keep;
    int past = 0;
    for (const FrameStress& f : frameStress(ranges, chosen.poses))
        past += f.beyond > 5;
    for (Motion& m : clipMotions(c, ranges, chosen, beyond)) {
        if (const int known = plan->find(m.id); known >= 0)
            plan->motions[static_cast<std::size_t>(known)] = std::move(m);
        else
            plan->motions.push_back(std::move(m));
    }
    if (auto written = writeFile(o.out, planToJson(*plan, c)); !written)
        return fail(BadUse, written.error());
    std::fprintf(stderr, "%zu frames of '%s' taken, %d past the planned ranges\n", chosen.frames.size(),
                 clip->name.c_str(), past);
    return Clean;
}

int writeTestClip(const Subject& s, const Options& o) {
    const auto plan = wantedPlan(*s.character, s.roles, o);
    if (!plan)
        return fail(BadUse, plan.error());
    const Clip clip = testClip(*s.character, *plan);
    const bool bvh = o.out.size() > 4 && o.out.compare(o.out.size() - 4, 4, ".bvh") == 0;
    if (!bvh && !(o.out.size() > 4 && o.out.compare(o.out.size() - 4, 4, ".glb") == 0))
        return fail(BadUse, "a test clip is written as .glb or .bvh, not as " + o.out);
    Character out = *s.character;
    out.clips = {clip};
    const auto written = bvh ? writeBvh(out, clip, 24, o.out) : writeGlb(out, o.out);
    if (!written)
        return fail(BadUse, written.error());
    std::fprintf(stderr, "%zu named frames, %.1f s\n", clip.marks.size(), clip.seconds);
    return Clean;
}

int comparePlans(const Subject& s, const Options& o) {
    std::vector<std::string> left;
    const auto before = readPlan(o.against, *s.character, &left);
    if (!before)
        return fail(BadUse, before.error());
    const auto after = wantedPlan(*s.character, s.roles, o);
    if (!after)
        return fail(BadUse, after.error());
    const auto changes = planChanges(*before, *after);
    for (const PlanChange& change : changes)
        std::printf("%s\n", change.words.c_str());
    return changes.empty() ? Clean : Findings;
}

} // namespace hobble::cli
