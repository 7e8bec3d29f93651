#include "picture/measure_scale.h"

#include "core/judge/measure_unit.h"
#include "core/measure/subject.h"
#include "core/words/measure_words.h"
#include "core/words/say.h"

#include <algorithm>

namespace hobble {

const std::vector<QColor>& lessRamp() {
    static const std::vector<QColor> colours{0x43176d, 0x7d5aa6, 0x9b80bb, 0xb9a7d0};
    return colours;
}

QColor unchangedColour() { return 0xede8df; }

const std::vector<QColor>& moreRamp() {
    static const std::vector<QColor> colours{0xf0c48e, 0xe29c4f, 0xc46d1c, 0x8f4205};
    return colours;
}

const std::vector<QColor>& depthRamp() {
    static const std::vector<QColor> colours{0xdcb6ca, 0xc485a9, 0x9c4a7f, 0x560f49};
    return colours;
}

const std::vector<QColor>& weightRamp() {
    static const std::vector<QColor> colours{0xede8df, 0x6fb3ab, 0x0c565a};
    return colours;
}

// Limits of a kind that only grows, from unchanged on.
void riseInSteps(ColourScale& scale, Kind kind, const LimitSteps& limits) {
    scale.stops = {{unchangedOf(kind), unchangedColour()}};
    for (std::size_t i = 0; i < 4; ++i)
        scale.stops.push_back({limits[i], depthRamp()[i], static_cast<int>(i) + 1});
}

// Squash on one side of unchanged, stretch on the other; either may be missing.
void divergeInSteps(ColourScale& scale, const LimitSteps* less, const LimitSteps* more) {
    if (less)
        for (std::size_t i = 4; i-- > 0;)
            scale.stops.push_back({(*less)[i], lessRamp()[3 - i], static_cast<int>(i) + 1});
    scale.stops.push_back({1, unchangedColour()});
    if (more)
        for (std::size_t i = 0; i < 4; ++i)
            scale.stops.push_back({(*more)[i], moreRamp()[i], static_cast<int>(i) + 1});
}

QString ColourScale::words(double value) const {
    return QString::fromStdString(wordsFor(MeasureUnit{unit, decimals, suffix.toStdString()}, value));
}

Vec3 ColourScale::at(double value) const {
    const auto rgb = [](const QColor& c) { return Vec3(c.redF(), c.greenF(), c.blueF()); };
    if (!(value > stops.front().value))
        return rgb(stops.front().colour);
    for (std::size_t i = 1; i < stops.size(); ++i)
        if (value <= stops[i].value) {
            const auto t = static_cast<float>((value - stops[i - 1].value) /
                                              std::max(stops[i].value - stops[i - 1].value, 1e-12));
            return rgb(stops[i - 1].colour) + t * (rgb(stops[i].colour) - rgb(stops[i - 1].colour));
        }
    return rgb(stops.back().colour);
}

ColourScale scaleOf(Kind kind, const Subject& s, const Limits& limits, int joint) {
    ColourScale out;
    const Role role = joint >= 0 ? s.roles[static_cast<std::size_t>(joint)].role : Role::Unknown;
    const MeasureUnit unit = unitOf(kind, s, joint);
    out.unit = unit.factor;
    out.decimals = unit.decimals;
    out.suffix = QString::fromStdString(unit.suffix);
    const auto of = [&](Kind k) { return &limits.of(k, role); };
    const auto word = [](Kind k) { return QString::fromStdString(translated(factsOf(k).scale)); };
    switch (factsOf(kind).colouredAs) {
    case ColouredAs::StretchAndSquash:
        divergeInSteps(out, of(Kind::Squash), of(Kind::Stretch));
        out.below = word(Kind::Squash);
        out.above = word(Kind::Stretch);
        break;
    case ColouredAs::LossAndGain:
        divergeInSteps(out, of(Kind::VolumeLoss), of(Kind::Bulge));
        out.below = word(Kind::VolumeLoss);
        out.above = word(Kind::Bulge);
        break;
    case ColouredAs::GirthLeft:
        divergeInSteps(out, of(kind), nullptr);
        out.below = word(kind);
        break;
    case ColouredAs::Growing:
        riseInSteps(out, kind, *of(kind));
        out.above = word(kind);
        break;
    }
    return out;
}

} // namespace hobble
