#pragma once
// Names by content. What is named in a log or signed has SHA-256 (FIPS 180-4, by OpenSSL); what is only kept
// for another time has XXH3 (128 bit, by xxHash), which takes a fraction of it.
#include <cstdint>
#include <memory>
#include <string>
#include <string_view>

namespace hobble {

/// Names a build.
class ContentHash {
public:
    ContentHash();
    ~ContentHash();
    void add(std::string_view bytes);
    std::string hex() const; // 64 digits

private:
    struct State;
    std::unique_ptr<State> state_;
};

/// By which builds were named before version 0.2: FNV-1a, 64 bit (Fowler, Noll, Vo). Only to find them again.
class FormerHash {
public:
    void add(std::string_view bytes);
    std::string hex() const; // 16 digits

private:
    std::uint64_t state_ = 14695981039346656037ull;
};

/// Names what a cache keeps.
std::string cacheKey(std::string_view bytes); // 32 digits

} // namespace hobble
