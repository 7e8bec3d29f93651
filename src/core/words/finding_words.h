#pragma once
// A finding in words: one plain sentence with its numbers; a joint as a person says it; and what a plan
// leaves out.
#include "core/judge/faults.h"
#include "core/pose/coverage.h"

namespace hobble {

struct Subject;
struct Plan;

/// "left elbow", "spine 2", "right index base"; its name when its role is unknown.
std::string jointWords(const Subject& subject, int joint);

/// "Left elbow pinches to 28 % of its girth, from 62°, worst at 150°."
std::string sentence(const Subject& subject, const Plan& plan, const Finding& finding);

/// The same of a fault, by the sign that tells it: "Left hip and its other side, seen at the left knee:
/// stretches to 2.21 times …".
std::string sentence(const Subject& subject, const Plan& plan, const std::vector<Finding>& findings,
                     const Fault& fault);

/// "The plan moves 97 % of the skin; not tested: 3 joints". A share is never rounded up to what it is not.
std::string wordsFor(const Coverage& coverage);
/// "its motions are off"
std::string wordsFor(WhyUntested why);

} // namespace hobble
