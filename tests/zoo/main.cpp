// hobble-zoo [--tell]: how well roles are guessed, by body and by convention; every mistake of the tuned
// half.
#include "zoo/score.h"

#include <cstdio>
#include <cstring>

using namespace hobble::zoo;

int main(int argc, char** argv) {
    const ZooScore all = scoreAll(argc > 1 && std::strcmp(argv[1], "--tell") == 0);
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
}
