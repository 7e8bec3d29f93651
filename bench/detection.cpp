// hobble-detection DATA-FOLDER RECIPES.json …: plants every recipe of the sets, runs and inspects each build,
// and scores what was found. With --markdown FILE writes the summary of docs/detection.md.
#include "core/run/run.h"
#include "io/character_read.h"
#include "io/file_write.h"
#include "io/run_json.h"
#include "plant/score.h"
#include "zoo/flesh.h"

#include <CLI/CLI.hpp>
#include <nlohmann/json.hpp>

#include <cstdio>
#include <filesystem>
#include <map>

using namespace hobble;
using namespace hobble::demo;
using nlohmann::json;

namespace {

struct Clean {
    Character character;
    json run, inspect;
};

// What is wrong with a face shows in whole poses and shapes; everything else in single joints as well.
json runOf(const Subject& s, bool whole) {
    const Plan plan = whole ? fullPlan(*s.character, s.roles) : defaultPlan(*s.character, s.roles);
    return json::parse(runToJson(s, runPlan(s, plan)));
}

Subject subjectOf(const Character& c) { return prepareSubject(std::make_shared<const Character>(c)); }

// As a reader of the file would have it: weights normalised.
Character reread(const Character& c) {
    Character out = c;
    for (std::uint32_t v = 0; v < out.vertexCount(); ++v) {
        double sum = 0;
        for (std::uint32_t i = out.weights.first[v]; i < out.weights.first[v + 1]; ++i)
            sum += out.weights.weight[i];
        for (std::uint32_t i = out.weights.first[v]; i < out.weights.first[v + 1] && sum > 0; ++i)
            out.weights.weight[i] /= static_cast<float>(sum);
    }
    out.neutral = neutralPositions(out);
    return out;
}

std::string row(const std::string& name, const Score& s) {
    char line[200];
    std::snprintf(line, sizeof line, "| %s | %d | %.3f | %.3f | %.3f | %.3f | %s | %s |\n", name.c_str(),
                  s.planted, s.recall(), s.precision(), s.joint(), s.kind(),
                  s.causeAsked ? std::to_string(s.cause()).substr(0, 5).c_str() : "–",
                  s.places.empty() ? "–" : std::to_string(s.amongFirst(5)).substr(0, 5).c_str());
    return line;
}

} // namespace

int main(int argc, char** argv) {
    CLI::App app{"Scores Hobble on planted faults"};
    std::string folder, markdown, only, kept;
    std::vector<std::string> sets;
    bool quiet = false;
    app.add_option("DATA", folder, "where the clean cast is")->required();
    app.add_option("SETS", sets, "recipe files")->required();
    app.add_option("--markdown", markdown, "write the summary here");
    app.add_option("--only", only, "the recipe of that name");
    app.add_option("--runs", kept,
                   "write each build's run into this folder, and those of the clean ones, to be read");
    app.add_flag("--quiet", quiet);
    CLI11_PARSE(app, argc, argv);
    std::map<std::pair<std::string, bool>, Clean> clean; // by character, and whether with whole poses
    const auto keep = [&](const std::string& name, const json& run) {
        if (kept.empty())
            return;
        if (auto written = writeFile(kept + "/" + name + ".json", run.dump(1)); !written)
            std::fprintf(stderr, "%s\n", written.error().c_str());
    };
    std::string text;
    for (const std::string& set : sets) {
        const auto recipes = readRecipes(set);
        if (!recipes) {
            std::fprintf(stderr, "%s\n", recipes.error().c_str());
            return 1;
        }
        const std::string name = std::filesystem::path(set).stem().string();
        Score run, inspected;
        std::map<std::string, Score> byFault;
        int builds = 0;
        const bool whole = name.starts_with("faces");
        for (const Recipe& r : *recipes) {
            if (!only.empty() && r.name != only)
                continue;
            const std::pair key(r.character, whole);
            if (!clean.count(key)) {
                auto stranger = zoo::strangerCalled(r.character);
                auto c = stranger ? Result<Character>(std::move(*stranger))
                                  : readCharacter(folder + "/" + r.character + ".glb");
                if (!c) {
                    std::fprintf(stderr, "%s\n", c.error().c_str());
                    return 1;
                }
                const Subject s = subjectOf(*c);
                clean[key] = {*c, runOf(s, whole), json::parse(inspectToJson(s))};
                keep(r.character + ", clean", clean[key].run);
                if (!quiet) {
                    std::printf("%s, clean: %zu faults, %zu signs\n", r.character.c_str(),
                                clean[key].run["faults"].size(), clean[key].run["findings"].size());
                    for (const json& f : clean[key].run["faults"])
                        std::printf("    %d  %.2f  %s [%s]\n", f["severity"].get<int>(),
                                    f["urgency"].get<double>(), f["sentence"].get<std::string>().c_str(),
                                    f["causes"].empty() ? ""
                                                        : f["causes"][0]["cause"].get<std::string>().c_str());
                }
            }
            const Clean& k = clean.at(key);
            Character faulty = k.character;
            const auto truth = plant(faulty, r);
            if (!truth) {
                std::printf("%s left out: %s\n", r.name.c_str(), truth.error().c_str());
                continue;
            }
            ++builds;
            const Subject s = subjectOf(reread(faulty));
            const bool runs = !name.starts_with("intake"); // those sets are of what a run does not see
            const json runJson = runs ? runOf(s, whole) : k.run, inspectJson = json::parse(inspectToJson(s));
            keep(r.name, runJson);
            const Score a = scoreRun(runJson, &k.run, *truth),
                        b = scoreInspect(inspectJson, &k.inspect, *truth);
            run.add(a);
            inspected.add(b);
            for (const Truth& t : *truth)
                byFault[t.fault].add(t.detector == "run" ? scoreRun(runJson, &k.run, {t})
                                                         : scoreInspect(inspectJson, &k.inspect, {t}));
            if (!quiet) {
                std::printf("%s (%s)\n  run      %s", r.name.c_str(), r.character.c_str(),
                            scoreText(a).c_str());
                if (b.planted || b.reported)
                    std::printf("  inspect  %s", scoreText(b).c_str());
                std::fflush(stdout);
            }
        }
        std::printf("== %s: %d builds\nrun      %s\ninspect  %s\n", name.c_str(), builds,
                    scoreText(run).c_str(), scoreText(inspected).c_str());
        text += "\n## Set `" + name + "`: " + std::to_string(builds) + " builds\n\n";
        text +=
            "| seen by | planted | recall | precision | joint | kind | first cause | among the first five "
            "|\n|---|---|---|---|---|---|---|---|\n";
        text += (name.starts_with("intake") ? "" : row("a run", run)) + row("Intake", inspected);
        text += "\n| fault | planted | found | joint right | kind right | first cause right | place (middle) "
                "|\n|---|---|---|---|---|---|---|\n";
        for (const auto& [fault, s] : byFault)
            text += "| " + fault + " | " + std::to_string(s.planted) + " | " + std::to_string(s.found) +
                    " | " + std::to_string(s.jointRight) + " | " + std::to_string(s.kindRight) + " | " +
                    (s.causeAsked ? std::to_string(s.causeRight) : "–") + " | " +
                    (s.places.empty() ? "–" : std::to_string(s.middlePlace())) + " |\n";
        for (const auto& [title, list] : {std::pair{"Missed", run.misses},
                                          {"Missed by Intake", inspected.misses},
                                          {"False alarms", run.falseAlarms},
                                          {"False alarms of Intake", inspected.falseAlarms},
                                          {"Wrong", run.wrong}}) {
            if (list.empty())
                continue;
            text += std::string("\n") + title + ":\n";
            for (const std::string& line : list)
                text += "- " + line + "\n";
        }
    }
    if (!markdown.empty())
        if (auto written = writeFile(markdown, text); !written)
            std::fprintf(stderr, "%s\n", written.error().c_str());
    return 0;
}
