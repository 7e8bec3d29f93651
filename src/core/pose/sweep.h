#pragma once
// Playback of a motion there and back by the clock: out to its limit, resting on the worst place where that
// is wanted, and back to neutral.
namespace hobble {

struct SweepPlace {
    double at = 0;      // in the motion's unit
    bool back = false;  // on the way back
    bool rests = false; // just come to the worst place
    bool home = false;  // back in neutral
};

/// `passed` seconds after `from`; `seconds` is what the way out takes. `worst`: where to rest on the way out;
/// −1 nowhere.
SweepPlace sweptOn(const SweepPlace& from, double limit, double passed, double seconds, double worst);

} // namespace hobble
