#pragma once
// A run as one HTML page for people, pictures and all, that needs nothing but itself.
#include "core/measure/subject.h"
#include "core/run/run.h"

namespace hobble {

std::string runToHtml(const Subject& subject, const RunResult& run);

} // namespace hobble
