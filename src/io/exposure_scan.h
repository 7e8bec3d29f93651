#pragma once
// Goes over the clips of a show and counts how far each takes a character along its plan. What was counted is
// kept, known by content, so that a second time nothing is posed again and a scan that was stopped goes on.
#include "core/exposure/fault_meetings.h"
#include "core/progress.h"
#include "core/result.h"

#include <map>

namespace hobble {

struct ScanSettings {
    std::vector<std::string> places; // folders and files (io/clip_folder.h)
    std::string cacheFolder;         // empty: nothing is kept
    int threads = 0;                 // 0: all cores
    /// Which joint is which, as a person has said it for clips on a skeleton (skeletonKey); may be empty.
    std::function<std::map<std::string, std::string>(const std::string& skeleton)> jointMap;
};

struct Scan {
    Exposure exposure;                  // clips in the order of their files' names
    std::size_t files = 0, counted = 0; // counted: not known from before
    std::vector<std::string> notes;     // places that are not there
    bool stopped = false;               // then clips are those that were done
};

/// One broken file costs only itself. The result is the same whatever the number of threads. Hips are not
/// moved and feet not kept: neither turns a joint the plan asks about by more than a pose needs.
Scan scanClips(const Character& character, const std::vector<JointRole>& roles, const Plan& plan,
               const ScanSettings& settings, const Progress& progress = {});

/// Frames of the clips counted in which faults of a run meet, the worst first. `plan` is the one they were
/// counted on. Only clips that go far enough are posed again. Unfinished where it was stopped.
std::vector<Meeting> findMeetings(const Character& character, const std::vector<JointRole>& roles,
                                  const Plan& plan, const RunResult& run, const Exposure& exposure,
                                  const ScanSettings& settings, std::size_t most = 40,
                                  const Progress& progress = {});

} // namespace hobble
