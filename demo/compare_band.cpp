// hobble-compare-band CHARACTER…: by how much re-meshing alone changes what is measured, per kind of finding.
// Each character is run as it is, subdivided and decimated; what differs then differs for no fault.
// docs/compare.md has the numbers, and bandOf() what was made of them.
#include "builds.h"
#include "compared_side.h"
#include "core/compare/differences.h"
#include "io/character_read.h"
#include "remesh.h"
#include "zoo/flesh.h"

#include <algorithm>
#include <cstdio>

using namespace hobble;
using namespace hobble::demo;

int main(int argc, char** argv) {
    struct Off {
        std::vector<double> change, share; // of trouble; and beyond a quarter, / the worse trouble
    };
    std::map<std::string, std::map<Kind, Off>> off; // by way of re-meshing
    for (int i = 1; i < argc; ++i) {
        Character c;
        if (auto stranger = zoo::strangerCalled(argv[i]))
            c = std::move(*stranger);
        else if (auto read = readCharacter(argv[i]))
            c = std::move(*read);
        else {
            std::fprintf(stderr, "%s\n", read.error().c_str());
            return 1;
        }
        const ComparedSide as = comparedSide(c);
        const std::pair<const char*, Character> others[] = {{"in another order", shuffled(c, 5)},
                                                            {"subdivided", subdivided(c)},
                                                            {"decimated to half", decimated(c, 0.5)}};
        for (const auto& [way, other] : others) {
            const ComparedSide made = comparedSide(other);
            const Differences d = compareRuns({as, made}, pairJoints(*made.subject, *as.subject));
            int changed = 0;
            for (const MeasureChange& m : d.measures) {
                const double most = std::max({m.trouble[0], m.trouble[1], std::abs(m.change)});
                if (most < kNearLimit)
                    continue;
                off[way][m.kind].change.push_back(std::abs(m.change));
                off[way][m.kind].share.push_back(std::max(0.0, std::abs(m.change) - 0.25) / most);
                if (m.verdict != Change::Same) {
                    ++changed;
                    std::printf(
                        "  %s %s: %s of %s in %s %.2f, was %.2f (%+.2f at %.0f)\n", argv[i], way,
                        factsOf(m.kind).word,
                        as.subject->character->skeleton.name[static_cast<std::size_t>(m.joint[0])].c_str(),
                        as.run->plan.motions[static_cast<std::size_t>(m.motion[0])].id.c_str(), m.trouble[1],
                        m.trouble[0], m.change, m.at);
                }
            }
            std::printf("%s, %s: %zu measures, %d changed; joints %d better, %d worse, %d the same\n",
                        argv[i], way, d.measures.size(), changed, d.count(Change::Better),
                        d.count(Change::Worse), d.count(Change::Same));
            std::fflush(stdout);
        }
    }
    const auto at = [](std::vector<double> x, double q) {
        std::sort(x.begin(), x.end());
        return x.empty() ? 0.0 : x[static_cast<std::size_t>(q * static_cast<double>(x.size() - 1))];
    };
    for (const auto& [way, kinds] : off)
        for (const auto& [kind, o] : kinds)
            std::printf("%-18s %-18s %6zu  change 50 %% %.2f, 95 %% %.2f, 99 %% %.2f; beyond 0.25, share 95 "
                        "%% %.2f, 99 %% %.2f\n",
                        way.c_str(), factsOf(kind).word, o.change.size(), at(o.change, 0.5),
                        at(o.change, 0.95), at(o.change, 0.99), at(o.share, 0.95), at(o.share, 0.99));
}
