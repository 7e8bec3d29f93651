#pragma once
// hobble-cli mend and weights: a trial worked out and measured, and the weights alone. The contract is
// docs/cli.md.
#include "cli/options.h"

#include <CLI/App.hpp>

#include <functional>
#include <memory>

namespace hobble::cli {

struct MendChoice {
    std::string file, trial, madeOn, plan, limits, cache, weightsJson, weightsCsv, json, csv;
    bool quiet = false, singles = false;
    int failIfWorse = 0, influences = 0, threads = 0;
};

void addMendCommands(CLI::App& app, std::shared_ptr<MendChoice> options, std::function<int()>& chosen);

} // namespace hobble::cli
