#pragma once
// The log's own sentences, in the language at hand.
#include <QCoreApplication>

namespace hobble {

inline QString tr(const char* words) { return QCoreApplication::translate("hobble", words); }

} // namespace hobble
