#pragma once
// Numbers as files hold them: a point between whole and part, whatever the locale of the process. printf and
// strtod follow the locale, which a window sets, and a program that Hobble's Python module runs in.
#include <charconv>
#include <string>
#include <string_view>

namespace hobble {

/// As printf's %.<digits>g writes it in the C locale.
inline std::string plainNumber(double x, int digits) {
    char text[64];
    return {text, std::to_chars(text, text + sizeof text, x, std::chars_format::general, digits).ptr};
}

/// As printf's %.<decimals>f writes it in the C locale. Beyond 10⁶⁰, as %g does.
inline std::string fixedNumber(double x, int decimals) {
    char text[128];
    const auto [end, error] = std::to_chars(text, text + sizeof text, x, std::chars_format::fixed, decimals);
    return error == std::errc() ? std::string(text, end) : plainNumber(x, 9);
}

/// The number a text begins with; 0 where it begins with none.
inline double numberAt(std::string_view text) {
    double x = 0;
    std::from_chars(text.data(), text.data() + text.size(), x);
    return x;
}

} // namespace hobble
