#pragma once
// Numbers and lists as bytes, for files that only this machine reads again (caches). Reading never goes past
// the end: what is missing makes `good` false.
#include <cstdint>
#include <cstring>
#include <optional>
#include <string>
#include <string_view>
#include <vector>

namespace hobble {

class ByteWriter {
public:
    std::string bytes;

    template <class T> void number(T x) { bytes.append(reinterpret_cast<const char*>(&x), sizeof x); }
    template <class T> void list(const std::vector<T>& xs) {
        number(static_cast<std::uint64_t>(xs.size()));
        bytes.append(reinterpret_cast<const char*>(xs.data()), xs.size() * sizeof(T));
    }
    void word(std::string_view x) {
        number(static_cast<std::uint64_t>(x.size()));
        bytes.append(x);
    }
    void maybe(const std::optional<double>& x) {
        number(static_cast<char>(x.has_value()));
        number(x.value_or(0));
    }
};

class ByteReader {
public:
    explicit ByteReader(std::string_view bytes) : left_(bytes) {}
    bool good = true;

    template <class T> T number() {
        T x{};
        if (left_.size() < sizeof x) {
            good = false;
            return x;
        }
        std::memcpy(&x, left_.data(), sizeof x);
        left_.remove_prefix(sizeof x);
        return x;
    }
    std::uint64_t count(std::size_t each) { // never more than there are bytes for
        const auto n = number<std::uint64_t>();
        if (n > left_.size() / each)
            good = false;
        return good ? n : 0;
    }
    template <class T> void list(std::vector<T>& xs) {
        xs.resize(count(sizeof(T)));
        if (!xs.empty())
            std::memcpy(static_cast<void*>(xs.data()), left_.data(), xs.size() * sizeof(T));
        left_.remove_prefix(xs.size() * sizeof(T));
    }
    std::string word() {
        const std::string out(left_.substr(0, count(1)));
        left_.remove_prefix(out.size());
        return out;
    }
    void maybe(std::optional<double>& x) {
        const bool there = number<char>() != 0;
        const auto value = number<double>();
        if (there)
            x = value;
    }
    bool done() const { return good && left_.empty(); }

private:
    std::string_view left_;
};

} // namespace hobble
