#pragma once
// What the command line said, and what the commands answer with.
#include "core/exposure/fault_meetings.h"
#include "core/measure/subject.h"
#include "core/pose/coverage.h"
#include "core/result.h"

#include <optional>
#include <string>
#include <vector>

namespace hobble::cli {

enum Exit { Clean = 0, Findings = 1, BadUse = 2, Unreadable = 3 };

struct Options {
    std::string file, out, plan, limits, naming, unit, up, cache, method = "linear", json, csv, html, pdf,
                                                                  log, logEntry, logKey;
    std::string clipFile, clip, frames, beyond = "keep", jointMap, variants, variant, against, poseFile;
    bool asJson = false, quiet = false, meetings = false, singles = false, keepFeet = false,
         noDrivers = false;
    double leastCoverage = kLeastCoverage;
    int failAt = 0, threads = 0, every = 0, stress = 0, rest = -1;
    std::vector<std::string> sets, clips;
    std::optional<Plan> given; // in place of what the words say
};

int fail(int code, const std::string& message);
/// To a file, or to standard output for "-".
Result<Done> put(const std::string& path, const std::string& text);
/// Whether there is a folder to put it in: asked before long work, not after it.
Result<Done> canPut(const std::string& path);

/// The plan asked for: a file's, or the full one; notes of what a file's plan has to leave out go to the
/// error output.
Result<Plan> wantedPlan(const Character& character, const std::vector<JointRole>& roles,
                        const Options& options);

int writePlan(const Subject& subject, const Options& options);
int takeClip(const Subject& subject, const Options& options);
int writeTestClip(const Subject& subject, const Options& options);
/// What --clips names, counted; troubles with single files go to the error output.
Result<Exposure> exposureOf(const Character& character, const std::vector<JointRole>& roles, const Plan& plan,
                            const Options& options);
/// Frames of them in which faults of the run meet.
Result<std::vector<Meeting>> meetingsOf(const Subject& subject, const RunResult& run, const Plan& plan,
                                        const Exposure& exposure, const Options& options);
int exposure(const Subject& subject, const Options& options);
int comparePlans(const Subject& subject, const Options& options);

} // namespace hobble::cli
