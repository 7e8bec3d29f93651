#pragma once
// What speaks for a cause, in numbers: islands of weight far from their joint, the shape of a blend, what a
// garment's weights differ by from the body's, where a pivot lies in its limb.
#include "core/judge/findings.h"

namespace hobble {

/// The shape of a joint's blend on the shell that encloses it.
struct BlendShape {
    double width =
        0; // limb radii, over which the weight passes over: 2√3 times the spread of B along the limb
    double perEdge = 0;   // mean change of C along the edges that cross C = ½
    double edge = 0;      // mean length of those edges / the mean edge length of the limb beside them
    double edgeRadii = 0; // the same, in limb radii
    double offCentre = 0; // the joint's distance from the middle of the limb's section, in its radii
    double offBlend = 0;  // its distance from the middle of the skin that blends there, in limb radii
    bool known = false;
};

/// Whether a blend is farther from a good width than its mirror is: of two that differ, the one somebody
/// changed.
bool lessNatural(const BlendShape& blend, const BlendShape& mirror);

BlendShape blendShape(const Subject& subject, int joint);

/// Mean difference (half the sum of differences, 0 … 1) between the weights of what covers the marked skin
/// and the skin, over the finding's place; -1 where nothing covers it or is covered.
double garmentDifference(const Subject& subject, const Finding& finding);

/// How much less the marked skin follows the joint than the skin around the limb at the same height does, 0
/// … 1.
double heldBack(const Subject& subject, const Finding& finding);

} // namespace hobble
