#pragma once
// Lag: skin well beyond a joint, on the limb that the joint turns, that does not take the joint's whole turn.
// It stays behind although nothing stretches: a toe held stiff by the foot, a knee by the thigh. Told as the
// share of the turn that is missing, where that leaves the skin visibly behind. Our own: no measure of the
// shape shows it.
#include "core/measure/measured.h"

namespace hobble {

struct Subject;
struct Motion;

/// Per welded vertex beyond the motion's joint, the share of its turn that is missing, beyond `least`. Empty
/// for rolls, whole poses and chains, whose turn is meant to pass over a long way. Ascending.
Samples missingTurn(const Subject& subject, const Motion& motion, float least);

/// Of those, what the pose at `degrees` leaves behind by more than `visible` metres.
Samples leftBehind(const Subject& subject, const Motion& motion, const Samples& missing, double degrees,
                   double visible);

} // namespace hobble
