#pragma once
// Pictures that a character is painted with, as readers meet them.
#include "core/words/say.h"

#include <set>
#include <string>
#include <string_view>
#include <vector>

namespace hobble {

/// Whether it begins as a PNG (ISO/IEC 15948, section 5.2) or a JPEG (ISO/IEC 10918-1, annex B) does.
inline bool isPicture(std::string_view bytes) {
    return bytes.starts_with("\x89PNG\r\n\x1a\n") || bytes.starts_with("\xff\xd8\xff");
}

/// One note for all that is missing: "The pictures skin.png and 3 more of its colours are not there, ...".
inline void noteMissing(const std::set<std::string>& missing, std::vector<std::string>& notes) {
    if (missing.empty())
        return;
    notes.push_back(
        missing.size() == 1
            ? say("Of its colours, %s is not there, or no PNG or JPEG; shown without.", *missing.begin())
            : say("Of its colours, %s and %zu more are not there, or no PNG or JPEG; shown without.",
                  *missing.begin(), missing.size() - 1));
}

} // namespace hobble
