// hobble-zoo [--tell]: how well roles are guessed, by body and by convention; and whether motions go as they
// are called; every mistake of the tuned half.
#include "zoo/score.h"
#include "zoo/ways.h"

#include <cstdio>
#include <cstring>

using namespace hobble::zoo;

int main(int argc, char** argv) {
    const bool tell = argc > 1 && std::strcmp(argv[1], "--tell") == 0;
    const ZooScore all = scoreAll({}, tell);
    const auto row = [](const std::string& name, const Score& s) {
        std::printf("| %s | %d | %.3f | %.3f | %.3f | %.2f | %.3f |\n", name.c_str(), s.asked, s.role(),
                    s.limb(), s.side(), static_cast<double>(s.sure) / s.asked, s.whenSure());
    };
    std::printf("| | joints | roles | limbs | sides | said to be sure | of these right "
                "|\n|---|---|---|---|---|---|---|\n");
    for (const auto& [name, s] : all.byBody)
        row(name, s);
    for (const auto& [name, s] : all.byConvention)
        row(name, s);
    row("tuned on", all.tuned);
    row("untuned", all.untuned);
    const ZooScore underChanges = scoreChanges(tell);
    for (const auto& [name, s] : underChanges.byChange)
        row(name, s);
    row("changed, tuned on", underChanges.tuned);
    row("changed, untuned", underChanges.untuned);
    std::printf("\n| bind pose | motions with a way | go it | joints that a motion of their role turns | "
                "least coverage "
                "|\n|---|---|---|---|---|\n");
    const auto wayRow = [&](const std::string& how, const auto& altered) {
        Ways ways;
        for (const Body& body : bodies())
            ways.add(waysOf(altered(body, how), conventions().front()));
        std::printf("| %s | %d | %.3f | %.3f | %.3f |\n", how.c_str(), ways.asked, ways.share(),
                    ways.plannedShare(), ways.leastCoverage);
        for (const std::string& w : ways.wrong)
            if (tell)
                std::printf("  %s: %s\n", how.c_str(), w.c_str());
    };
    for (const std::string& pose : bindPoses())
        wayRow(pose, inBindPose);
    for (const std::string& change : changes())
        wayRow(change, changed);
}
