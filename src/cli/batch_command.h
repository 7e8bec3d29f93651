#pragma once
// hobble-cli batch: many characters, unattended. The contract is docs/cli.md.
#include "cli/options.h"

#include <CLI/App.hpp>

#include <functional>
#include <memory>

namespace hobble::cli {

struct BatchChoice {
    std::vector<std::string> sources;
    std::string out, log, plan, limits, method = "linear";
    bool singles = false, check = false, noReports = false, afresh = false, quiet = false;
    int failAt = 0, jobs = 0, seconds = 1800, megabytes = 4096;
};

void addBatchCommand(CLI::App& app, std::shared_ptr<BatchChoice> options, std::function<int()>& chosen);

} // namespace hobble::cli
