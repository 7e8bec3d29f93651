#pragma once
// The manual: pages for a browser, made of docs/manual, that lie beside the program. F1 opens the page one
// stands on, Shift+F1 what is said of the fault or check that is chosen.
#include <QString>

namespace hobble {

/// Where its pages are; empty where there are none.
QString manualFolder(const QString& programFolder);

/// How a place in a page is called: "through lid or lip" → "through-lid-or-lip".
QString manualAnchor(const QString& words);

/// Hands a page to the desktop's browser; false where there is none, or no manual.
bool openManual(const QString& page, const QString& anchor = {});

} // namespace hobble
