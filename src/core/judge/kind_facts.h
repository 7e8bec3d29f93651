#pragma once
// The one table of what a kind of finding is: what it is called, which measure it judges and in what, which
// way is worse, its limits, from where on it is kept, and how it is coloured. Whoever adds a kind adds a row.
#include <array>

namespace hobble {

enum class Kind {
    Stretch,
    Squash,
    VolumeLoss,
    Bulge,
    Pinch,
    Contact,
    PokeThrough,
    Gap,
    Roughness,
    Spike,
    Leak,
    Lag,
    SoftRigidPart,
    UnboundPart,
    Flip,
    Pop,
    OneSided,
    WrongBend,
    NotClosed,
    ThroughLid
};
inline constexpr std::array kKinds{
    Kind::Stretch, Kind::Squash,      Kind::VolumeLoss,    Kind::Bulge,       Kind::Pinch,
    Kind::Contact, Kind::PokeThrough, Kind::Gap,           Kind::Roughness,   Kind::Spike,
    Kind::Leak,    Kind::Lag,         Kind::SoftRigidPart, Kind::UnboundPart, Kind::Flip,
    Kind::Pop,     Kind::OneSided,    Kind::WrongBend,     Kind::NotClosed,   Kind::ThroughLid};

using LimitSteps = std::array<double, 4>; // minor, notable, serious, blocking

/// What a value is a share of, or counts.
enum class MeasuredIn {
    Ratio,      // posed / neutral: 1 is unchanged
    LimbRadius, // of the joint it is told at
    BodyHeight,
    Share,  // 0 … 1
    Number, // without a unit
    Degrees
};

/// How it is coloured: on either side of unchanged, together with its opposite; or growing from unchanged on.
enum class ColouredAs { StretchAndSquash, LossAndGain, GirthLeft, Growing };

struct KindFacts {
    Kind kind;
    const char* word;    // of the fault: "volume loss"
    const char* measure; // that it judges: "volume"
    const char* scale;   // word at the end of the colours' scale
    MeasuredIn in;
    bool worseAbove;   // otherwise a fault lies below its limit
    double unchanged;  // what the measure is when nothing happens
    LimitSteps limits; // as shipped, for joints of no particular role: docs/limits.md says why
    ColouredAs colouredAs;
    float keptFrom; // values nearer to unchanged than this, and than any limit, are not kept; 0: all that are
                    // measured
};

const KindFacts& factsOf(Kind kind);

} // namespace hobble
