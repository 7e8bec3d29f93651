#include "io/content_hash.h"

#include <openssl/evp.h>
#include <xxhash.h>

#include <cstdint>
#include <stdexcept>

namespace hobble {

namespace {

std::string hexOf(const unsigned char* bytes, std::size_t count) {
    std::string out;
    for (std::size_t i = 0; i < count; ++i) {
        out += "0123456789abcdef"[bytes[i] >> 4];
        out += "0123456789abcdef"[bytes[i] & 15];
    }
    return out;
}

} // namespace

struct ContentHash::State {
    EVP_MD_CTX* context = EVP_MD_CTX_new();
    State() {
        if (!context || EVP_DigestInit_ex(context, EVP_sha256(), nullptr) != 1)
            throw std::bad_alloc();
    }
    ~State() { EVP_MD_CTX_free(context); }
    State(const State&) = delete;
    State& operator=(const State&) = delete;
};

ContentHash::ContentHash() : state_(std::make_unique<State>()) {}
ContentHash::~ContentHash() = default;

void ContentHash::add(std::string_view bytes) {
    EVP_DigestUpdate(state_->context, bytes.data(), bytes.size());
}

std::string ContentHash::hex() const {
    const State end; // what was added stays open for more
    EVP_MD_CTX_copy_ex(end.context, state_->context);
    unsigned char digest[EVP_MAX_MD_SIZE];
    unsigned int count = 0;
    EVP_DigestFinal_ex(end.context, digest, &count);
    return hexOf(digest, count);
}

void FormerHash::add(std::string_view bytes) {
    for (unsigned char b : bytes) {
        state_ ^= b;
        state_ *= 1099511628211ull;
    }
}

std::string FormerHash::hex() const {
    std::string out(16, '0');
    for (int i = 0; i < 16; ++i)
        out[static_cast<std::size_t>(i)] = "0123456789abcdef"[(state_ >> (60 - 4 * i)) & 15];
    return out;
}

std::string cacheKey(std::string_view bytes) {
    XXH128_canonical_t canonical;
    XXH128_canonicalFromHash(&canonical, XXH3_128bits(bytes.data(), bytes.size()));
    return hexOf(canonical.digest, sizeof canonical.digest);
}

} // namespace hobble
