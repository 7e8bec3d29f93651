#pragma once
// hobble-cli mend, cure and weights: a trial worked out and measured, cures searched, and the weights alone.
// The contract is docs/cli.md.
#include "cli/options.h"
#include "io/gltf_edit.h"

#include <CLI/App.hpp>

#include <functional>
#include <memory>

namespace hobble::cli {

struct MendChoice {
    std::string file, trial, trialOut, out, from, madeOn, plan, limits, cache, weightsJson, weightsCsv, json,
        csv, joint;
    bool quiet = false, singles = false, all = false;
    WeightsAs weightsAs = WeightsAs::Float;
    int failIfWorse = 0, influences = 0, threads = 0, fault = 0, finding = 0, take = 0;
};

void addMendCommands(CLI::App& app, std::shared_ptr<MendChoice> options, std::function<int()>& chosen);

} // namespace hobble::cli
