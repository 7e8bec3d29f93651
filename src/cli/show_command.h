#pragma once
// hobble-cli show: how the whole show stands, as one page. The contract is docs/cli.md.
#include "cli/options.h"

#include <CLI/App.hpp>

#include <functional>
#include <memory>

namespace hobble::cli {

struct ShowChoice {
    std::string log, html, json, title;
    int weeks = 12;
    bool quiet = false;
};

void addShowCommand(CLI::App& app, std::shared_ptr<ShowChoice> options, std::function<int()>& chosen);

} // namespace hobble::cli
