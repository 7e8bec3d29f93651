#pragma once
// The language of the window: every sentence, those of the core among them, goes through Qt's translations.
// No language is shipped; docs/translating.md says how one is made.
#include <QLocale>

class QCoreApplication;

namespace hobble {

/// Takes hobble_<language>.qm, where there is one, from share/hobble/translations beside the program (or the
/// folder `translations` there), and what Qt has for its own buttons. Whether Hobble's own was found.
bool installLanguage(QCoreApplication& app, const QLocale& locale, const QString& folder = {});

} // namespace hobble
