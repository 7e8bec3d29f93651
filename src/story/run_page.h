#pragma once
// A run on one page for people: HTML with everything in it and nothing from elsewhere. Each fault with
// pictures at its peak from where it shows, as it is and in the colours of its measure; its curve against the
// limits, with the other side; its cause and its signs. Every text of files is escaped.
#include "core/run/run.h"
#include "story/packet.h"

#include <QByteArray>

namespace hobble {

struct Exposure;

struct RunPageWish {
    int mostPictured = 40;              // faults with pictures; all are told
    int width = 300, height = 225;      // of a picture, pixels
    const Exposure* exposure = nullptr; // says of each fault whether the show goes there
    StoryProgress progress;
};

QByteArray runPage(const Subject& subject, const RunResult& run, const RunPageWish& wish = {});

} // namespace hobble
