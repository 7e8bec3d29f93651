#pragma once
// A defect in pictures, made without a window: its pose seen from where the marked skin shows best and from a
// quarter turn beside that, in its own colours and in those of its measure. What Intake found is seen as it
// is in neutral, and then with the marked skin tinted in the pose that shows it.
#include "core/judge/limits.h"
#include "story/build_shelf.h"

#include <QImage>

#include <atomic>

namespace hobble {

struct DefectPicture {
    int build = 0;         // number
    QString view;          // "front", "outer side", …
    bool measured = false; // in the colours of its measure; of what Intake found, marked
    QImage image;
    QString pose = {}; // in words, where it is not the one the defect was seen in
};

struct DefectPictures {
    QVector<DefectPicture> pictures; // per build: its views as they are, then measured
    QString scale;                   // what the colours say, in words
    QStringList missing;             // builds that could not be pictured, and why
};

struct PictureWish {
    int width = 320, height = 240;
    Limits limits = Limits::standard();
    const std::atomic<bool>* cancel = nullptr;
    int views = 2; // 1: only from where the skin shows best
};

/// `defect` with pose and marks. `builds`: before and after, or one; each is posed alike.
DefectPictures picturesOf(const Defect& defect, const QVector<Build>& builds, BuildShelf& shelf,
                          const PictureWish& wish = {});

} // namespace hobble
