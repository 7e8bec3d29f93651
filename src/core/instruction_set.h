#pragma once
// The binary runs on any x86-64 or ARM machine and picks the widest vector instructions it finds when it
// starts (Highway, run-time dispatch). Results are the same on all of them within float rounding; tests try
// each.
#include <string>
#include <vector>

namespace hobble {

/// Names of the sets in use or narrower that this machine can run, widest first: "AVX3_DL", "AVX3", "AVX2",
/// "SSE4", …
std::vector<std::string> instructionSets();

/// The one in use.
std::string instructionSet();

/// Runs everything with one of instructionSets() from now on; an empty name goes back to the widest. For
/// tests and benchmarks; not while anything is being computed.
void useInstructionSet(const std::string& name);

} // namespace hobble
