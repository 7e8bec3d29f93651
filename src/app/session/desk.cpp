#include "app/session/desk.h"

#include <QStandardPaths>

namespace hobble {

QString settingsFile(const QString& name) {
    return QStandardPaths::writableLocation(QStandardPaths::AppConfigLocation) + QLatin1Char('/') + name;
}

} // namespace hobble
