#pragma once
// Faults planted on purpose: a recipe says which, the character comes back faulty, and the truth says what
// was done and where. Docs: docs/detection.md; schemas: docs/schema/recipe.schema.json,
// docs/schema/truth.schema.json.
#include "core/character/roles.h"
#include "core/result.h"

#include <cstdint>
#include <map>

namespace hobble::demo {

/// Left empty, what is not said is chosen by the recipe's seed among what suits the fault.
struct Fault {
    std::string fault; // one of faultNames()
    std::string joint; // where
    std::string from;  // the joint that intrudes
    std::string part;
    double strength = 0.5; // 0 … 1
    bool bothSides = false;
};

struct Recipe {
    std::string name, character;
    std::uint32_t seed = 1;
    std::vector<Fault> faults;
};

struct Truth {
    std::string fault;
    std::string detector = "run";    // or "inspect", for what only Intake can see
    std::string joint;               // whose motion shows it; empty when no joint is concerned
    std::vector<std::string> joints; // others at which it may rightly be reported
    Side side = Side::Middle;
    std::vector<std::string> kinds; // by which it may rightly be called, the likeliest first
    std::string cause;              // that should be named first
    std::string part;               // for faults of a whole part
    std::map<std::string, std::vector<std::uint32_t>> vertices; // touched, by part, in the part's own order
    double size = 0; // the largest change of a weight, or metres, or degrees: see `unit`
    std::string unit;
};

const std::vector<std::string>& faultNames();

/// Fails, with the fault's name, where the character has nothing it suits.
Result<std::vector<Truth>> plant(Character& character, const Recipe& recipe);

Result<std::vector<Recipe>> readRecipes(const std::string& path); // one, or a list under "recipes"
std::string truthToJson(const Character& character, const Recipe& recipe, const std::vector<Truth>& truth);
Result<std::vector<Truth>> readTruth(const std::string& path);

} // namespace hobble::demo
