#pragma once
// hobble-cli batch and watch: many characters, and whatever is delivered, unattended. The contract is
// docs/cli.md.
#include "cli/options.h"

#include <CLI/App.hpp>

#include <functional>
#include <memory>

namespace hobble::cli {

struct BatchChoice {
    std::vector<std::string> sources;
    std::string out, log, plan, limits, variants, variant, method = "linear";
    bool singles = false, check = false, noReports = false, afresh = false, quiet = false;
    int failAt = 0, jobs = 0, threads = 0, seconds = 1800, megabytes = 4096;
    // on a cluster
    std::string scheduler, part;
    std::vector<std::string> toScheduler;
    int tasks = 0;
    bool wait = false, merge = false;
};

struct WatchChoice : BatchChoice {
    std::string folder, outbox, from = "hobble@localhost", to;
    int settle = 1500;
    bool once = false;
};

void addBatchCommand(CLI::App& app, std::shared_ptr<BatchChoice> options, std::function<int()>& chosen);
void addWatchCommand(CLI::App& app, std::shared_ptr<WatchChoice> options, std::function<int()>& chosen);

} // namespace hobble::cli
