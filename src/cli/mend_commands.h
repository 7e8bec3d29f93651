#pragma once
// hobble-cli mend, cure, bind and weights: a trial worked out and measured, cures searched, skin bound anew,
// and the weights alone. The contract is docs/cli.md.
#include "cli/options.h"
#include "core/mend/step.h"
#include "io/gltf_edit.h"

#include <CLI/App.hpp>

#include <functional>
#include <memory>

namespace hobble::cli {

struct MendChoice {
    std::string file, trial, trialOut, out, from, madeOn, plan, limits, cache, weightsJson, weightsCsv, json,
        csv, joint, shapes, log, author;
    std::vector<std::string> parts;
    std::string below;
    bool quiet = false, singles = false, all = false, asBelow = false;
    BindBy bindBy = BindBy::Heat;
    double reach = 0;
    WeightsAs weightsAs = WeightsAs::Float;
    int failIfWorse = 0, influences = 0, threads = 0, fault = 0, finding = 0, take = 0;
    long long defect = 0;
    bool propose = false;
};

void addMendCommands(CLI::App& app, std::shared_ptr<MendChoice> options, std::function<int()>& chosen);

} // namespace hobble::cli
