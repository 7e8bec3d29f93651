// hobble-plant: takes a character and a recipe, writes the faulty build and the truth about it.
#include "io/character_read.h"
#include "io/file_write.h"
#include "io/gltf_write.h"
#include "plant/plant.h"

#include <CLI/CLI.hpp>

#include <cstdio>

using namespace hobble;

int main(int argc, char** argv) {
    CLI::App app{"Plants faults in a character on purpose"};
    std::string file, recipePath, out, truthPath, only;
    app.add_option("CHARACTER", file, "a .glb or .gltf file")->required();
    app.add_option("RECIPE", recipePath, "docs/schema/recipe.schema.json")->required();
    app.add_option("--recipe", only, "the one of that name, where the file holds several");
    app.add_option("--out", out, "the faulty build, .glb")->required();
    app.add_option("--truth", truthPath, "what was planted where, JSON")->required();
    CLI11_PARSE(app, argc, argv);
    auto fail = [](const std::string& message) {
        std::fprintf(stderr, "hobble-plant: %s\n", message.c_str());
        return 1;
    };
    auto c = readCharacter(file);
    if (!c)
        return fail(c.error());
    const auto recipes = demo::readRecipes(recipePath);
    if (!recipes)
        return fail(recipes.error());
    const demo::Recipe* recipe = nullptr;
    for (const demo::Recipe& r : *recipes)
        if (!recipe && (only.empty() || r.name == only))
            recipe = &r;
    if (!recipe)
        return fail("There is no recipe called '" + only + "' in " + recipePath + ".");
    const auto truth = demo::plant(*c, *recipe);
    if (!truth)
        return fail(truth.error());
    if (auto written = writeGlb(*c, out); !written)
        return fail(written.error());
    if (auto written = writeFile(truthPath, demo::truthToJson(*c, *recipe, *truth)); !written)
        return fail(written.error());
    for (const demo::Truth& t : *truth)
        std::printf("%s at %s, size %.3g %s\n", t.fault.c_str(),
                    t.joint.empty() ? "the whole" : t.joint.c_str(), t.size, t.unit.c_str());
    return 0;
}
