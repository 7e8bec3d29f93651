#include "story/run_paper.h"

#include "core/exposure/fault_use.h"
#include "log/defect_use.h"
#include "log/finding_defect.h"

namespace hobble {

ReviewPaper runPaper(std::shared_ptr<const Subject> subject, const RunResult& run, int most,
                     const StoryProgress& progress, const Exposure* exposure) {
    const Character& c = *subject->character;
    ReviewPaper out;
    out.about = ReviewPaper::Run;
    out.title =
        QStringLiteral("%1: %2").arg(QString::fromStdString(c.name), QString::fromStdString(run.plan.name));
    std::array<int, 5> bySeverity{};
    for (const Fault& f : run.faults)
        ++bySeverity[static_cast<std::size_t>(std::clamp(f.severity, 0, 4))];
    out.summary << QStringLiteral("%1 motions, %2 poses, %3 skinning.")
                       .arg(run.plan.motions.size())
                       .arg(run.plan.stepCount())
                       .arg(QLatin1String(nameOf(run.method)))
                << QStringLiteral("%1 faults: %2 blocking, %3 serious, %4 notable, %5 minor.")
                       .arg(run.faults.size())
                       .arg(bySeverity[4])
                       .arg(bySeverity[3])
                       .arg(bySeverity[2])
                       .arg(bySeverity[1]);
    if (run.cancelled)
        out.summary << QStringLiteral("The run was stopped: motions after that are not in it.");
    BuildShelf shelf;
    Build build{0, QString::fromStdString(c.name), QString::fromStdString(c.hash),
                QString::fromStdString(c.source), 0};
    shelf.put(build.hash, subject);
    PictureWish wish;
    wish.limits = run.limits;
    int pictured = 0;
    const int all = static_cast<int>(run.faults.size());
    for (int f = 0; f < all; ++f) {
        const Fault& fault = run.faults[static_cast<std::size_t>(f)];
        if (progress && !progress(f, all))
            break;
        DefectStory story;
        story.defect.id = f + 1;
        story.defect.facts = factsOf(*subject, run.plan, run.findings, fault);
        story.defect.severity = fault.severity;
        story.defect.build = build;
        if (exposure)
            if (const FaultUse use = faultUse(*exposure, run, fault); use.past.known())
                story.defect.use = useOf(*exposure, use.past);
        if (pictured++ < most)
            story.pictures = picturesOf(story.defect, {build}, shelf, wish);
        else
            story.listedOnly = true;
        out.stories << std::move(story);
    }
    return out;
}

} // namespace hobble
