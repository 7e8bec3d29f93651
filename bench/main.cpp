// Speed, each beside a peer measured in the same run: docs/performance.md.
#include "core/instruction_set.h"

#include <benchmark/benchmark.h>

#include <algorithm>
#include <string_view>

int main(int argc, char** argv) {
    benchmark::Initialize(&argc, argv);
    const std::string_view option =
        "--instruction_set="; // one of those the machine has; otherwise the widest
    for (int i = 1; i < argc; ++i)
        if (std::string_view(argv[i]).starts_with(option)) {
            hobble::useInstructionSet(argv[i] + option.size());
            std::rotate(argv + i, argv + i + 1, argv + argc--);
            break;
        }
    if (benchmark::ReportUnrecognizedArguments(argc, argv))
        return 1;
    benchmark::AddCustomContext("instruction_set", hobble::instructionSet());
    benchmark::RunSpecifiedBenchmarks();
    benchmark::Shutdown();
}
