#pragma once
// Defects and whole logs as JSON (docs/schema/defects.schema.json, log.schema.json), and in again.
#include "log/log_copy.h"

#include <QJsonObject>

namespace hobble {

/// One defect for scripts: what, where, how bad, who; with its history where that is given.
QJsonObject defectToJson(const Defect& defect, const QVector<DefectEvent>* history = nullptr);

/// The whole log with everything in it, written as it is read.
Result<Done> writeLogJson(const ProductionLog& log, const QString& path, const CopyProgress& progress = {});

/// A log written by writeLogJson into an empty log under its old numbers; into one with something in it, what
/// is new is added under new numbers. Nothing is written when the file is torn or was changed.
Result<Added> readLogJson(const QString& path, ProductionLog& to);

} // namespace hobble
