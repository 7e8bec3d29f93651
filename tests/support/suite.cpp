#include "support/suite.h"

#include <cstdio>
#include <filesystem>
#include <map>
#include <string>

namespace hobble::test {

namespace {

std::map<std::string, Run>& entries() {
    static std::map<std::string, Run> all;
    return all;
}

} // namespace

Entered::Entered(const char* file, Run run) {
    entries()[std::filesystem::path(file).stem().string()] = std::move(run);
}

int runEntered(int argc, char** argv) {
    if (argc < 2 || argv[1][0] == '-') {
        int failures = 0;
        for (const auto& [name, run] : entries())
            failures += run(argc, argv);
        return failures;
    }
    const auto it = entries().find(argv[1]);
    if (it == entries().end()) {
        std::fprintf(stderr, "There are no tests called %s here.\n", argv[1]);
        return 1;
    }
    argv[1] = argv[0];
    return it->second(argc - 1, argv + 1);
}

} // namespace hobble::test
