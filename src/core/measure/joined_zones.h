#pragma once
// Volume where several joints turn at once. Each joint's zone ends in flesh that is rigid when only that
// joint turns; in a whole pose its ends may lie where a neighbour bends, and a piece cut there says nothing.
// Zones that share skin are therefore measured as one piece, told at the joint that turns most.
#include "core/measure/subject.h"
#include "core/pose/motion.h"

namespace hobble {

struct JoinedZones {
    struct Piece {
        std::size_t turn = 0;               // of the motion: where it is told
        std::vector<std::size_t> turns;     // all it covers, that one among them
        std::optional<ClosedVolume> volume; // none where the piece cannot be closed
    };
    std::vector<Piece> pieces; // only those that cover more than one zone
};

/// Nothing is joined in a motion of one joint, or of a chain (its joints turn little, and together).
JoinedZones joinZones(const Subject& subject, const Motion& motion);

/// Puts the pieces' volumes in place of the single zones' in the measures of a pose, one per turn.
void measureJoined(const Surface& surface, const JoinedZones& joined, const std::vector<Vec3>& posed,
                   std::vector<ZoneMeasures>& zones);

} // namespace hobble
