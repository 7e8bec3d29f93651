#pragma once
// What hobble-cli says of itself for others to show: manual pages (man(7)) and the words a shell completes.
// Made of the commands as they are, so that neither can be out of date.
#include <CLI/App.hpp>

#include <string>

namespace hobble::cli {

/// A page for a command, "hobble-cli-run(1)", or for the whole program where `command` is the root.
std::string manualPage(const CLI::App& root, const CLI::App& command);

/// For bash: commands, options and, where an option takes one of a few words, these; else files.
std::string bashCompletion(const CLI::App& root);

/// Writes one page for each command, and the completion, into a folder. False where it cannot.
bool writeDescriptions(const CLI::App& root, const std::string& folder);

} // namespace hobble::cli
