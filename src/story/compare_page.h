#pragma once
// A comparison on one page for people: HTML with everything in it and nothing from elsewhere. One sentence,
// then each motion that changed as a strip with both silhouettes, and each joint with what changed at it.
#include "core/compare/comparison.h"

#include <QByteArray>

namespace hobble {

QByteArray comparePage(const Comparison& comparison);

} // namespace hobble
