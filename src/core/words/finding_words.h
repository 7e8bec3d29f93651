#pragma once
// A finding in words: one plain sentence with its numbers; and a joint as a person says it.
#include "core/judge/findings.h"

namespace hobble {

struct Subject;
struct Plan;

/// "left elbow", "spine 2", "right finger 1 base"; its name when its role is unknown.
std::string jointWords(const Subject& subject, int joint);

/// "Left elbow pinches to 28 % of its girth, from 62°, worst at 150°."
std::string sentence(const Subject& subject, const Plan& plan, const Finding& finding);

} // namespace hobble
