#include "io/content_hash.h"

namespace hobble {

void ContentHash::add(std::string_view bytes) {
    for (unsigned char b : bytes) {
        state_ ^= b;
        state_ *= 1099511628211ull;
    }
}

std::string ContentHash::hex() const {
    std::string out(16, '0');
    for (int i = 0; i < 16; ++i)
        out[i] = "0123456789abcdef"[(state_ >> (60 - 4 * i)) & 15];
    return out;
}

} // namespace hobble
