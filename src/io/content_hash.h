#pragma once
#include <cstdint>
#include <string>
#include <string_view>

namespace hobble {

/// Names a build by its content: FNV-1a, 64 bit (Fowler, Noll, Vo). Not for security.
class ContentHash {
public:
    void add(std::string_view bytes);
    std::string hex() const; // 16 digits

private:
    std::uint64_t state_ = 14695981039346656037ull;
};

} // namespace hobble
