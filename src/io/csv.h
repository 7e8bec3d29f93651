#pragma once
// Tables as text (RFC 4180). What a spreadsheet would take for a formula gets an apostrophe before it, which
// is taken off again on the way in: a joint may be called "=HYPERLINK(…)".
#include "core/result.h"

#include <string>
#include <vector>

namespace hobble {

/// One cell, quoted where needed, and defused; numbers stay as they are.
std::string csvCell(std::string text);

/// Cells by row, lines without anything left out; a mark of UTF-8 before them is passed over. An error where
/// the text ends within quotes.
Result<std::vector<std::vector<std::string>>> csvRows(const std::string& text);

} // namespace hobble
