// hobble-cli exposure: how far a show's own clips take a character along its plan.
#include "cli/options.h"
#include "core/exposure/fault_use.h"
#include "core/words/exposure_words.h"
#include "io/clip_read.h"
#include "io/exposure_json.h"
#include "io/exposure_scan.h"
#include "io/file_read.h"

#include <algorithm>
#include <cstdio>
#include <unistd.h>

namespace hobble::cli {

namespace {

Result<ScanSettings> scanSettings(const Options& o) {
    ScanSettings settings;
    settings.places = o.clips;
    settings.cacheFolder = o.cache;
    settings.threads = o.threads;
    if (!o.jointMap.empty()) {
        const auto text = readFile(o.jointMap);
        const auto said =
            text ? jointMapFromJson(*text) : Result<std::map<std::string, std::string>>(Error{text.error()});
        if (!said)
            return Error{"cannot use " + o.jointMap + ": " + said.error()};
        settings.jointMap = [map = *said](const std::string&) { return map; };
    }
    return settings;
}

} // namespace

Result<std::vector<Meeting>> meetingsOf(const Subject& s, const RunResult& run, const Plan& plan,
                                        const Exposure& exposure, const Options& o) {
    const auto settings = scanSettings(o);
    if (!settings)
        return Error{settings.error()};
    return findMeetings(*s.character, s.roles, plan, run, exposure, *settings);
}

Result<Exposure> exposureOf(const Character& c, const std::vector<JointRole>& roles, const Plan& plan,
                            const Options& o) {
    const auto settings = scanSettings(o);
    if (!settings)
        return Error{settings.error()};
    Progress progress;
    const bool tell = !o.quiet && isatty(2);
    if (tell)
        progress.tell = [](double share) { std::fprintf(stderr, "\rclips: %.0f %% ", 100 * share); };
    Scan scan = scanClips(c, roles, plan, *settings, progress);
    if (tell)
        std::fprintf(stderr, "\n");
    for (const std::string& note : scan.notes)
        std::fprintf(stderr, "note: %s\n", note.c_str());
    for (const ClipTrouble& t : scan.exposure.troubles)
        std::fprintf(stderr, "note: %s\n", t.words.c_str());
    if (scan.exposure.clips.empty())
        return Error{scan.files == 0 ? "there is no file with clips in what --clips names"
                                     : "none of the " + std::to_string(scan.files) +
                                           " files that --clips names holds a clip that can be read"};
    if (std::none_of(scan.exposure.clips.begin(), scan.exposure.clips.end(), [](const ClipUse& clip) {
            return std::any_of(clip.motions.begin(), clip.motions.end(),
                               [](const MotionUse& m) { return m.told; });
        }))
        std::fprintf(stderr, "note: no clip moves a joint of this character; say which joint is which with "
                             "--joint-map\n");
    return std::move(scan.exposure);
}

int exposure(const Subject& s, const Options& o) {
    const auto plan = wantedPlan(*s.character, s.roles, o);
    if (!plan)
        return fail(BadUse, plan.error());
    for (const std::string& path : {o.json, o.csv})
        if (const auto possible = canPut(path); !possible)
            return fail(BadUse, possible.error());
    const auto found = exposureOf(*s.character, s.roles, *plan, o);
    if (!found)
        return fail(Unreadable, found.error());
    if (!o.json.empty())
        if (auto written = put(o.json, exposureToJson(*s.character, *plan, *found)); !written)
            return fail(BadUse, written.error());
    if (!o.csv.empty())
        if (auto written = put(o.csv, exposureToCsv(*plan, *found)); !written)
            return fail(BadUse, written.error());
    if (o.quiet || o.json == "-" || o.csv == "-")
        return Clean;
    std::printf("%zu clips, %s frames\n", found->clips.size(), grouped(found->frameCount()).c_str());
    int untold = 0;
    for (const Motion& m : plan->motions) {
        const auto far = furthest(*found, found->motionOf(m.id));
        untold += !far;
        if (!far)
            continue;
        std::printf("%-36s to %-7s of %-7s", wordsFor(m).c_str(), wordsFor(m, *far).c_str(),
                    wordsFor(m, m.limit()).c_str());
        if (const UsePast past = usePastPlan(*found, m); past.frames > 0)
            std::printf("  %s", wordsFor(*found, past).c_str());
        std::printf("\n");
    }
    std::printf("%d of %zu motions: no clip moves this\n", untold, plan->motions.size());
    return Clean;
}

} // namespace hobble::cli
