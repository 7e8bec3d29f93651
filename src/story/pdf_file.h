#pragma once
// A PDF (ISO 32000) of A4 sheets, written whole or not at all.
#include "core/result.h"

#include <QMarginsF>
#include <QString>

#include <functional>

class QPdfWriter;

namespace hobble {

struct PdfSheet {
    QString title;
    QMarginsF margins; // mm
    bool across = false;
    int dotsPerInch = 144;
};

/// What `draw` draws; an error where the file cannot be written. Needs a QGuiApplication, for the type.
Result<Done> writePdf(const QString& path, const PdfSheet& sheet,
                      const std::function<void(QPdfWriter&)>& draw);

} // namespace hobble
