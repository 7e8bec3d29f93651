#pragma once
// A trial as a recipe for whoever mends the character in their own program: one HTML page with everything in
// it. What it is for in numbers and pictures, before and after; each step in words with its place; and what
// else changed.
#include "core/mend/effect.h"
#include "core/mend/trial.h"

#include <QByteArray>
#include <QString>

namespace hobble {

struct RecipeStory {
    QString title, notes, build; // "Right elbow stretches …"; where it starts; "Badger postmaster, build 3"
    Trial trial;
    std::vector<StepEffect> effects; // one for each step
    std::vector<double> shares;      // of the trouble, per step; may be empty
    ComparedSide before, after;      // the build, and what the steps make of it
    MendEffect effect;
    Limits limits = Limits::standard();
    int width = 320, height = 240; // of a picture, pixels
};

QByteArray recipePage(const RecipeStory& story);

} // namespace hobble
