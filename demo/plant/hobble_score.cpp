// hobble-score RUN.json TRUTH.json: how well a run found what was planted.
#include "plant/score.h"

#include <CLI/CLI.hpp>
#include <nlohmann/json.hpp>

#include <cstdio>
#include <fstream>

using namespace hobble::demo;

int main(int argc, char** argv) {
    CLI::App app{"Scores a run against the truth of what was planted"};
    std::string run, truthPath, clean, inspect, cleanInspect;
    app.add_option("RUN", run, "hobble-cli run --json")->required();
    app.add_option("TRUTH", truthPath, "hobble-plant --truth")->required();
    app.add_option("--clean", clean, "a run of the clean build: what it has too counts neither way");
    app.add_option("--inspect", inspect,
                   "hobble-cli inspect --json of the faulty build, for what only Intake can see");
    app.add_option("--clean-inspect", cleanInspect, "the same of the clean build");
    CLI11_PARSE(app, argc, argv);
    auto read = [](const std::string& path, nlohmann::json& into) {
        std::ifstream in(path);
        into = nlohmann::json::parse(in, nullptr, false);
        if (into.is_discarded())
            std::fprintf(stderr, "hobble-score: %s cannot be read as JSON.\n", path.c_str());
        return !into.is_discarded();
    };
    const auto truth = readTruth(truthPath);
    if (!truth) {
        std::fprintf(stderr, "hobble-score: %s\n", truth.error().c_str());
        return 1;
    }
    nlohmann::json j, k;
    if (!read(run, j) || (!clean.empty() && !read(clean, k)))
        return 1;
    std::printf("run      %s", scoreText(scoreRun(j, clean.empty() ? nullptr : &k, *truth)).c_str());
    if (!inspect.empty()) {
        if (!read(inspect, j) || (!cleanInspect.empty() && !read(cleanInspect, k)))
            return 1;
        std::printf("inspect  %s",
                    scoreText(scoreInspect(j, cleanInspect.empty() ? nullptr : &k, *truth)).c_str());
    }
    return 0;
}
