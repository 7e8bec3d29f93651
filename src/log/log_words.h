#pragma once
// The log's own sentences, in the language at hand.
#include <QCoreApplication>

namespace hobble {

/// `n`: how many it tells of, for a language's plurals and its %n.
inline QString tr(const char* words, const char* meant = nullptr, int n = -1) {
    return QCoreApplication::translate("hobble", words, meant, n);
}

} // namespace hobble
