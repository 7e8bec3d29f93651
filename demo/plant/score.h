#pragma once
// How well a run (and an inspection) found what was planted, as defined in docs/detection.md.
#include "plant.h"

#include <nlohmann/json_fwd.hpp>

namespace hobble::demo {

struct Score {
    int planted = 0, found = 0;            // recall
    int reported = 0, rightlyReported = 0; // precision: what the clean build has too is neither
    int jointRight = 0, kindRight = 0, causeRight = 0,
        causeAsked = 0;      // of those found; first causes of faults seen in a run
    std::vector<int> places; // in the whole list, from 1, of those found in a run
    std::vector<std::string> misses, falseAlarms, wrong;

    void add(const Score& other);
    double recall() const { return planted ? double(found) / planted : 1; }
    double precision() const { return reported ? double(rightlyReported) / reported : 1; }
    double joint() const { return found ? double(jointRight) / found : 1; }
    double kind() const { return found ? double(kindRight) / found : 1; }
    double cause() const { return causeAsked ? double(causeRight) / causeAsked : 1; }
    /// Of those found in a run, the share that stands among the first so many.
    double amongFirst(int count) const;
    int middlePlace() const; // 0 when there is none
};

/// Of the faults a run can see, against the faults it lists. `clean` may be null.
Score scoreRun(const nlohmann::json& run, const nlohmann::json* clean, const std::vector<Truth>& truth);
/// Of the faults only Intake can see: checks that pass on the clean character and fail here.
Score scoreInspect(const nlohmann::json& inspect, const nlohmann::json* clean,
                   const std::vector<Truth>& truth);

std::string scoreText(const Score& score);

} // namespace hobble::demo
