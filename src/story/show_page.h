#pragma once
// A whole show on one page, to hang on a wall, to send, to read on a phone or to print: HTML with everything
// in it and nothing from elsewhere. Every text of files is escaped.
#include "log/show_state.h"

#include <QByteArray>

namespace hobble {

/// `title`: of the show; `now` is told as when it was made.
QByteArray showPage(const ShowState& show, const QString& title, const QDateTime& now);

} // namespace hobble
