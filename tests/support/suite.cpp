#include "support/suite.h"

#include <QCoreApplication>
#include <QStandardPaths>

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

/// Files run beside one another: what one of them sets and clears must not be another's settings.
int runAlone(const std::string& name, const Run& run, int argc, char** argv) {
    QStandardPaths::setTestModeEnabled(true);
    QCoreApplication::setOrganizationName(QStringLiteral("HobbleTests"));
    QCoreApplication::setApplicationName(QString::fromStdString(name));
    return run(argc, argv);
}

} // namespace

Entered::Entered(const char* file, Run run) {
    entries()[std::filesystem::path(file).stem().string()] = std::move(run);
}

int runEntered(int argc, char** argv) {
    if (argc < 2 || argv[1][0] == '-') {
        int failures = 0;
        for (const auto& [name, run] : entries())
            failures += runAlone(name, run, argc, argv);
        return failures;
    }
    const auto it = entries().find(argv[1]);
    if (it == entries().end()) {
        std::fprintf(stderr, "There are no tests called %s here.\n", argv[1]);
        return 1;
    }
    argv[1] = argv[0];
    return runAlone(it->first, it->second, argc - 1, argv + 1);
}

} // namespace hobble::test
