#pragma once
// A value, or a message that a user can act on. Exceptions do not cross a target's border; this does.
#include <string>
#include <utility>
#include <variant>

namespace hobble {

struct Error {
    std::string message; // one sentence: what happened, to which file or joint, and what can be done
};

template <class T> class Result {
public:
    Result(T value) : state_(std::move(value)) {}
    Result(Error error) : state_(std::move(error)) {}

    bool ok() const { return std::holds_alternative<T>(state_); }
    explicit operator bool() const { return ok(); }

    T& value() { return std::get<T>(state_); }
    const T& value() const { return std::get<T>(state_); }
    T& operator*() { return value(); }
    const T& operator*() const { return value(); }
    T* operator->() { return &value(); }
    const T* operator->() const { return &value(); }

    /// Empty when it worked.
    const std::string& error() const {
        static const std::string none;
        return ok() ? none : std::get<Error>(state_).message;
    }

private:
    std::variant<T, Error> state_;
};

struct Done {}; // Result<Done>: it worked, and there is nothing to hand back

} // namespace hobble
