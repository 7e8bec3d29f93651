#pragma once
// What a rigger needs to see their defects in their own program: one page with pictures and numbers, the test
// motions as glTF and BVH, the marked vertices, and all of it as CSV and JSON; in a folder, or in one zip.
#include "story/defect_numbers.h"
#include "story/defect_pictures.h"

#include <functional>

namespace hobble {

/// One defect with all that is told of it.
struct DefectStory {
    Defect defect; // everything of it
    QVector<DefectEvent> history;
    std::vector<BuildNumber> numbers;
    DefectPictures pictures;
    bool listedOnly = false; // in print: only a line of the list
};

/// Done and all; false stops the work, and nothing is left behind.
using StoryProgress = std::function<bool(int done, int all)>;

/// Reads and pictures them. `after`: pictured beside the build a defect was logged in, where there is a newer
/// one.
Result<QVector<DefectStory>> storiesOf(const ProductionLog& log, const QVector<qint64>& ids,
                                       BuildShelf& shelf, const PictureWish& wish = {},
                                       const StoryProgress& progress = {});

struct PacketWish {
    QString title;  // "For Ines Marram"
    QString folder; // it is made in here, under its own name
    bool zip = false;
    StoryProgress progress;
};

/// Returns the path of the folder or the zip. One that is there already stays; the new one gets a number.
Result<QString> writePacket(const QVector<DefectStory>& stories, BuildShelf& shelf, const PacketWish& wish);

/// The page alone: HTML with everything in it and nothing from elsewhere; every text of files and people
/// escaped.
QByteArray packetPage(const QString& title, const QVector<DefectStory>& stories,
                      const QStringList& notes = {});

} // namespace hobble
