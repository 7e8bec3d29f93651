#pragma once
// What a check on a new build told, on one page for people: HTML with everything in it and nothing from
// elsewhere. Each defect with its verdict, and a pair of pictures: as it was on the build it was seen on, and
// as it is now, alike in pose, camera and colours. What can only be seen by eye is seen there.
#include "story/defect_checks.h"
#include "story/packet.h"

namespace hobble {

struct CheckPageWish {
    int mostPictured = 40;         // defects with pictures; all are told
    int width = 300, height = 225; // of a picture, pixels
    Limits limits = Limits::standard();
    StoryProgress progress;
};

/// `shelf` reads the builds that defects were seen on; one that cannot be read is named where its picture
/// would be.
QByteArray checkPage(const DefectChecks& checks, const Build& now, std::shared_ptr<const Subject> subject,
                     BuildShelf& shelf, const CheckPageWish& wish = {});

} // namespace hobble
