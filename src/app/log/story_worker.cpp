#include "app/log/story_worker.h"

#include "log/finding_defect.h"

namespace hobble {

StoryWorker::StoryWorker(LogLink* link, QObject* parent)
    : QObject(parent), link_(link), worker_(new QObject) {
    worker_->moveToThread(&thread_);
    connect(&thread_, &QThread::finished, worker_, &QObject::deleteLater);
    thread_.setObjectName(QStringLiteral("story"));
    thread_.start();
}

StoryWorker::~StoryWorker() {
    if (stale_)
        *stale_ = true;
    thread_.quit();
    thread_.wait();
}

void StoryWorker::ask(const Defect& defect, const Limits& limits) {
    if (stale_)
        *stale_ = true; // something newer is wanted
    stale_ = std::make_shared<std::atomic<bool>>(false);
    if (const Ready* known = ready_.object(defect.id); known && known->limits == limits) {
        // a change of who has it changes no picture
        auto story = std::make_shared<DefectStory>(*known->story);
        QMetaObject::invokeMethod(
            this, [this, id = defect.id, story] { emit told(id, story); }, Qt::QueuedConnection);
        return;
    }
    struct Read {
        Defect defect;
        QVector<KeptRun> runs;
        QVector<Build> builds;
    };
    link_->tell(
        [id = defect.id](ProductionLog& log) -> Result<Read> {
            auto whole = log.defect(id);
            if (!whole)
                return Error{whole.error()};
            auto runs = log.newestRuns(whole->build.character);
            auto builds = log.builds(whole->build.character);
            if (!runs || !builds)
                return Error{!runs ? runs.error() : builds.error()};
            Read out{std::move(*whole), std::move(*runs), {}};
            out.builds << out.defect.build;
            if (!builds->isEmpty() && builds->back().build.number > out.defect.build.number)
                out.builds << builds->back().build;
            return out;
        },
        [this, limits, stale = stale_](const Result<Read>& read) {
            if (!read || *stale)
                return; // who asks for it is told by the list that the log is gone
            QMetaObject::invokeMethod(worker_, [this, read = *read, limits, stale] {
                if (*stale)
                    return;
                auto story = std::make_shared<DefectStory>();
                story->defect = read.defect;
                story->numbers = numbersOf(read.defect.facts, read.runs, limits);
                PictureWish wish;
                wish.limits = limits;
                wish.cancel = stale.get();
                if (!read.defect.facts.motionName.isEmpty() || foundByIntake(read.defect.facts))
                    story->pictures = picturesOf(read.defect, read.builds, shelf_, wish);
                if (*stale)
                    return;
                QMetaObject::invokeMethod(this, [this, story, limits] {
                    ready_.insert(story->defect.id, new Ready{story->defect.version, limits, story});
                    emit told(story->defect.id, story);
                });
            });
        });
}

} // namespace hobble
