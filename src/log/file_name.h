#pragma once
#include <QString>

namespace hobble {

/// A name of anything as the name of a file: letters, digits, - and _ stay, everything else becomes _. Never
/// empty, never more than 80 characters.
inline QString safeFileName(const QString& name) {
    QString out;
    for (const QChar c : name.trimmed())
        out += c.isLetterOrNumber() || c == QLatin1Char('-') || c == QLatin1Char('_') ? c : QLatin1Char('_');
    return out.isEmpty() ? QStringLiteral("_") : out.left(80);
}

} // namespace hobble
