#pragma once
// hobble-cli log …: the production log without a screen. The contract is docs/cli.md.
#include "cli/options.h"

#include <CLI/App.hpp>

#include <functional>
#include <memory>

namespace hobble::cli {

struct LogOptions {
    std::string place, to, out, what = "json", state, who, character, words, author, reason, severity, due,
                                comment;
    int leastSeverity = 0, newest = 20;
    bool asJson = false, zip = false, all = false;
    std::vector<long long> numbers;
    std::vector<std::string> files;
};

/// Adds the command and all under it; `chosen` receives what is to be done.
void addLogCommands(CLI::App& app, std::shared_ptr<LogOptions> options, std::function<int()>& chosen);

} // namespace hobble::cli
