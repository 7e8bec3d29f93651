#pragma once
// How colours look to people, and how far apart: the simulations of Machado, Oliveira and Fernandes 2009, "A
// Physiologically-based Model for Simulation of Color Vision Deficiency" (its matrices at full severity, on
// linear RGB), and the difference CIEDE2000 (Sharma, Wu and Dalal 2005).
#include <QColor>

#include <array>
#include <cmath>

namespace hobble::test {

using Rgb = std::array<double, 3>;

struct Vision {
    const char* name;
    std::array<Rgb, 3> matrix;
};
inline constexpr std::array<Vision, 4> kVisions{{
    {"all cones", {{{1, 0, 0}, {0, 1, 0}, {0, 0, 1}}}},
    {"no long-wave cones",
     {{{0.152286, 1.052583, -0.204868}, {0.114503, 0.786281, 0.099216}, {-0.003882, -0.048116, 1.051998}}}},
    {"no middle-wave cones",
     {{{0.367322, 0.860646, -0.227968}, {0.280085, 0.672501, 0.047413}, {-0.011820, 0.042940, 0.968881}}}},
    {"no short-wave cones",
     {{{1.255528, -0.076749, -0.178779}, {-0.078411, 0.930809, 0.147602}, {0.004733, 0.691367, 0.303900}}}},
}};

/// CIE L*a*b* under D65, as somebody of that vision sees it.
inline Rgb labOf(const QColor& colour, const Vision& vision) {
    const auto linear = [](double c) {
        return c <= 0.04045 ? c / 12.92 : std::pow((c + 0.055) / 1.055, 2.4);
    };
    const Rgb in{linear(colour.redF()), linear(colour.greenF()), linear(colour.blueF())};
    Rgb seen{};
    for (std::size_t i = 0; i < 3; ++i) {
        for (std::size_t j = 0; j < 3; ++j)
            seen[i] += vision.matrix[i][j] * in[j];
        seen[i] = std::fmin(std::fmax(seen[i], 0), 1);
    }
    const auto f = [](double t) { return t > 216.0 / 24389 ? std::cbrt(t) : 841.0 / 108 * t + 4.0 / 29; };
    const double x = f((0.4124 * seen[0] + 0.3576 * seen[1] + 0.1805 * seen[2]) / 0.95047),
                 y = f(0.2126 * seen[0] + 0.7152 * seen[1] + 0.0722 * seen[2]),
                 z = f((0.0193 * seen[0] + 0.1192 * seen[1] + 0.9505 * seen[2]) / 1.08883);
    return {116 * y - 16, 500 * (x - y), 200 * (y - z)};
}

inline double ciede2000(const Rgb& p, const Rgb& q) {
    constexpr double kPi = 3.14159265358979323846, kDegree = kPi / 180;
    const double seven = std::pow(25.0, 7), mean = (std::hypot(p[1], p[2]) + std::hypot(q[1], q[2])) / 2,
                 g = 0.5 * (1 - std::sqrt(std::pow(mean, 7) / (std::pow(mean, 7) + seven)));
    const double a1 = p[1] * (1 + g), a2 = q[1] * (1 + g), c1 = std::hypot(a1, p[2]),
                 c2 = std::hypot(a2, q[2]);
    const auto hue = [&](double b, double a) {
        const double h = std::atan2(b, a) / kDegree;
        return h < 0 ? h + 360 : h;
    };
    const double h1 = hue(p[2], a1), h2 = hue(q[2], a2), turn = std::remainder(h2 - h1, 360);
    const bool grey = c1 * c2 == 0;
    const double dl = q[0] - p[0], dc = c2 - c1,
                 dh = grey ? 0 : 2 * std::sqrt(c1 * c2) * std::sin(turn / 2 * kDegree);
    const double l = (p[0] + q[0]) / 2, c = (c1 + c2) / 2,
                 h = grey                       ? h1 + h2
                     : std::abs(h1 - h2) <= 180 ? (h1 + h2) / 2
                     : h1 + h2 < 360            ? (h1 + h2 + 360) / 2
                                                : (h1 + h2 - 360) / 2;
    const double t = 1 - 0.17 * std::cos((h - 30) * kDegree) + 0.24 * std::cos(2 * h * kDegree) +
                     0.32 * std::cos((3 * h + 6) * kDegree) - 0.2 * std::cos((4 * h - 63) * kDegree);
    const double sl = 1 + 0.015 * (l - 50) * (l - 50) / std::sqrt(20 + (l - 50) * (l - 50)),
                 sc = 1 + 0.045 * c, sh = 1 + 0.015 * c * t;
    const double rt = -std::sin(60 * kDegree * std::exp(-std::pow((h - 275) / 25, 2))) * 2 *
                      std::sqrt(std::pow(c, 7) / (std::pow(c, 7) + seven));
    return std::sqrt(std::pow(dl / sl, 2) + std::pow(dc / sc, 2) + std::pow(dh / sh, 2) +
                     rt * dc / sc * dh / sh);
}

} // namespace hobble::test
