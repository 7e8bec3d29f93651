#pragma once
// Defects on paper, for a review meeting or with the report of a run: A4 pages (ISO 32000), a summary first,
// then each defect with its pictures, its curve and what was said.
#include "story/packet.h"

#include "log/workload.h"

namespace hobble {

struct ReviewPaper {
    enum About { Meeting, Run }; // of a run, nobody has anything yet
    About about = Meeting;
    QString title;       // "Saltmarsh Post, review of 25 November"
    QStringList summary; // lines under the title
    QVector<Load> loads; // may be empty
    QVector<DefectStory> stories;
};

/// Needs a QGuiApplication, for the type; any platform will do.
Result<Done> writeReviewPdf(const ReviewPaper& paper, const QString& path);

} // namespace hobble
