#pragma once
// What holds whatever the bytes are; where it does not, the fuzzer keeps the input.
#include <cstdint>
#include <cstdlib>

inline void must(bool holds) {
    if (!holds)
        std::abort();
}
