#pragma once
// What the skin is coloured by, and the scale of colours that goes with it: its stops are the limits of the
// joint looked at, so that a colour says how bad it is, and a changed limit changes the picture.
#include "core/judge/limits.h"
#include "core/run/posed.h"
#include "picture/measure_scale.h"

#include <QColor>
#include <QString>

#include <vector>

namespace hobble {

enum class Colouring {
    Strain,
    Area,
    Shear,
    Volume,
    Pinch,
    Contact,
    PokeThrough,
    Gap,
    Roughness,
    Leak,
    Lag,
    Flip,
    Pop,
    SoftRigidPart,
    UnboundPart,
    OneSided,
    WrongBend,
    NotClosed,
    ThroughLid,
    Weight,
    Influences,
    Own
};
inline constexpr int kColourings = 22;

QString nameOf(Colouring colouring);
/// The measure that has to be taken over the whole skin for it; nothing where the posed frame knows enough.
std::optional<Kind> kindOf(Colouring colouring);

/// `joint`: the one looked at, or -1.
ColourScale scaleOf(Colouring colouring, const Subject& subject, const Limits& limits, int joint);

/// One value per file vertex, to be looked up in the scale; empty where the character's own colours are
/// shown, or the measure is not there yet.
std::vector<float> skinValuesFor(Colouring colouring, const PosedFrame& frame, const PosedDetail* detail,
                                 int weightJoint);

} // namespace hobble
