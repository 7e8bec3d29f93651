#pragma once
// hobble-cli compare, check and sign-off: the second half of a lead's day, for pipelines. The contract is
// docs/cli.md.
#include "cli/options.h"

#include <CLI/App.hpp>

#include <functional>
#include <memory>

namespace hobble::cli {

struct CompareChoice {
    Options common; // plan, limits, naming, cache, method
    std::string before, now, againstMethod, log, json, csv, html, junit, author, use, reason, pdf;
    bool leftRight = false, closeCured = false, quiet = false, singles = false, takeBack = false,
         require = false;
    int failIfWorse = 0, failAt = 3;
    std::vector<std::string> accept;
};

void addCompareCommands(CLI::App& app, std::shared_ptr<CompareChoice> options, std::function<int()>& chosen);

} // namespace hobble::cli
