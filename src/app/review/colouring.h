#pragma once
// What the skin is coloured by, and the scale of colours that goes with it: its stops are the limits of the
// joint looked at, so that a colour says how bad it is, and a changed limit changes the picture.
#include "app/session/pose_worker.h"
#include "core/judge/limits.h"

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
    Flip,
    Pop,
    SoftRigidPart,
    UnboundPart,
    OneSided,
    WrongBend,
    Weight,
    Influences,
    Own
};
inline constexpr int kColourings = 19;

QString nameOf(Colouring colouring);
/// The measure that has to be taken over the whole skin for it; nothing where the posed frame knows enough.
std::optional<Kind> kindOf(Colouring colouring);

struct ColourStop {
    double value;
    QColor colour;
    int severity = 0; // of the limit it stands for; 0 for none
};

struct ColourScale {
    std::vector<ColourStop> stops; // values rising
    QString below, above;          // words at its ends
    /// In the unit people think in.
    QString words(double value) const;
    double unit = 1; // factor from a value to what is said
    QString suffix;  // " mm", " %"
    int decimals = 2;

    Vec3 at(double value) const; // 0 … 1 each
};

/// `joint`: the one looked at, or -1.
ColourScale scaleOf(Colouring colouring, const Subject& subject, const Limits& limits, int joint);

/// One value per file vertex, to be looked up in the scale; empty where the character's own colours are
/// shown, or the measure is not there yet.
std::vector<float> skinValuesFor(Colouring colouring, const PosedFrame& frame, const PosedDetail* detail,
                                 int weightJoint);

} // namespace hobble
