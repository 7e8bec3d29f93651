#pragma once
// How often the show's own animation goes past the place a defect begins at: what decides how urgent it is.
// Kept as the value of an event "use", so that it goes wherever the defect's history goes.
#include "core/exposure/exposure.h"
#include "log/production_log.h"

#include <QJsonObject>

namespace hobble {

DefectUse useOf(const Exposure& exposure, const UsePast& past);

/// docs/schema/defects.schema.json, "use".
QJsonObject useToJson(const DefectUse& use);
DefectChange useEvent(const Defect& defect, const DefectUse& use);
/// Nothing for a value that says no use.
std::optional<DefectUse> useFrom(const QString& value);

/// "in 41 of 52,310 frames, 3 of 40 clips, first in run_03 frame 118"; "never in 52,310 frames of 40 clips"
QString useWords(const DefectUse& use);

} // namespace hobble
