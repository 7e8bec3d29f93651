#include "app/session/exposure_desk.h"

#include "core/words/exposure_words.h"
#include "log/defect_use.h"

#include <QFileInfo>
#include <QSettings>
#include <QStandardPaths>

#include <algorithm>

namespace hobble {

namespace {

const QString kPlaces = QStringLiteral("showClips"), // maps: log → places; log → on or off
    kLighter = QStringLiteral("lighterWhereNoClipGoes");

std::string cacheFolder() {
    return (QStandardPaths::writableLocation(QStandardPaths::CacheLocation) + QStringLiteral("/exposure"))
        .toStdString();
}

} // namespace

ExposureDesk::ExposureDesk(Shared& shared, BuildDesk& build, PlanDesk& plan, PoseDesk& pose, RunDesk& run,
                           LogDesk& log)
    : Desk(shared), build_(build), plan_(plan), pose_(pose), run_(run), log_(log) {
    connect(&log, &LogDesk::opened, this, &ExposureDesk::readPlaces);
    connect(&build, &BuildDesk::characterSettled, this, [this](BuildDesk::Change change) {
        if (change == BuildDesk::Change::Worn)
            return; // the same joints
        scans_.cancel();
        take(nullptr, {}, false);
        count();
    });
    connect(&log, &LogDesk::logChanged, this, [this] { emit untoldChanged(QPrivateSignal()); });
    connect(&plan, &PlanDesk::planSettled, this, [this] { count(); });
    connect(&scans_, &JobQueue::progressed, this, [this](const QString&, int percent) {
        percent_ = percent;
        emit countingChanged(QPrivateSignal());
    });
    connect(&scans_, &JobQueue::idle, this, [this] { emit countingChanged(QPrivateSignal()); });
    connect(&run, &RunDesk::runChanged, this, [this] {
        if (run_.run() != metIn_)
            forgetMeetings();
    });
    connect(&meets_, &JobQueue::progressed, this, [this](const QString&, int percent) {
        metPercent_ = percent;
        emit meetingsChanged(QPrivateSignal());
    });
    connect(&meets_, &JobQueue::idle, this, [this] { emit meetingsChanged(QPrivateSignal()); });
    run.setSeverityProposal(
        [this](int finding, int severity) { return proposedSeverity(finding, severity); });
    readPlaces();
}

ExposureDesk::~ExposureDesk() {
    scans_.stop();
    meets_.stop();
}

void ExposureDesk::readPlaces() {
    const QString log = log_.place();
    if (log == readFor_ && !places_.isEmpty())
        return;
    readFor_ = log;
    places_ = QSettings().value(kPlaces).toMap().value(log).toStringList();
    lighter_ = QSettings().value(kLighter).toMap().value(log).toBool();
    emit placesChanged(QPrivateSignal());
    take(nullptr, {}, false);
    count();
}

bool ExposureDesk::keepPlaces(const QStringList& places) {
    places_ = places;
    QVariantMap all = QSettings().value(kPlaces).toMap();
    if (places.isEmpty())
        all.remove(readFor_);
    else
        all[readFor_] = places;
    QSettings().setValue(kPlaces, all);
    emit placesChanged(QPrivateSignal());
    scans_.cancel();
    count();
    return true;
}

void ExposureDesk::setPlaces(const QStringList& places) {
    QStringList each = places;
    each.removeDuplicates();
    if (each == places_)
        return;
    const QStringList before = places_;
    keepPlaces(each);
    undoable(
        tr("change where the show's clips are"), [=, this] { return keepPlaces(each); },
        [=, this] { return keepPlaces(before); });
}

void ExposureDesk::count() {
    const auto subject = build_.buildSubject();
    if (!subject || places_.isEmpty()) {
        ++asked_;
        return take(nullptr, {}, false);
    }
    const QString maps = pose_.jointMapsOf();
    percent_ = 0;
    scans_.cancel(); // what it has done is kept
    scans_.start(tr("Counting the show's clips"),
                 [this, subject, plan = plan_.plan(), places = places_, maps,
                  asked = ++asked_](JobControl& control) -> std::function<void()> {
                     ScanSettings settings;
                     for (const QString& place : places)
                         settings.places.push_back(place.toStdString());
                     settings.cacheFolder = cacheFolder();
                     settings.jointMap = [&](const std::string& skeleton) {
                         return PoseDesk::keptJointMap(maps, skeleton);
                     };
                     Scan scan =
                         scanClips(*subject->character, subject->roles, plan, settings, progressOf(control));
                     QStringList notes;
                     for (const std::string& note : scan.notes)
                         notes << QString::fromStdString(note);
                     for (const ClipTrouble& t : scan.exposure.troubles)
                         notes << QString::fromStdString(t.words);
                     auto exposure = std::make_shared<const Exposure>(std::move(scan.exposure));
                     return [this, asked, exposure, notes, stopped = scan.stopped] {
                         if (asked == asked_) // else it was of another build, plan or place
                             take(exposure, notes, stopped);
                     };
                 });
}

void ExposureDesk::take(std::shared_ptr<const Exposure> exposure, const QStringList& notes, bool stopped) {
    if (!exposure && !exposure_)
        return;
    exposure_ = std::move(exposure);
    notes_ = notes;
    stopped_ = stopped;
    forgetMeetings();
    emit exposureChanged(QPrivateSignal());
}

void ExposureDesk::forgetMeetings() {
    meets_.cancel();
    metIn_ = nullptr;
    metOf_ = nullptr;
    meetings_.reset();
    emit meetingsChanged(QPrivateSignal());
}

void ExposureDesk::findMeetings() {
    const auto subject = build_.buildSubject();
    const auto run = run_.run();
    if (!subject || !run || !exposure_ || meets_.busy())
        return;
    const QString maps = pose_.jointMapsOf();
    metIn_ = run;
    metOf_ = subject;
    metPercent_ = 0;
    meets_.start(tr("Looking where faults meet"),
                 [this, subject, run, exposure = exposure_, plan = plan_.plan(),
                  maps](JobControl& control) -> std::function<void()> {
                     ScanSettings settings;
                     settings.jointMap = [&](const std::string& skeleton) {
                         return PoseDesk::keptJointMap(maps, skeleton);
                     };
                     auto found = hobble::findMeetings(*subject->character, subject->roles, plan, *run,
                                                       *exposure, settings, 40, progressOf(control));
                     if (control.cancelled)
                         return [] {}; // half of it would pass for the whole
                     return [this, run, exposure, found = std::move(found)] {
                         if (run != metIn_ || exposure != exposure_)
                             return; // something else came meanwhile
                         meetings_ = found;
                         emit meetingsChanged(QPrivateSignal());
                     };
                 });
    emit meetingsChanged(QPrivateSignal());
}

QString ExposureDesk::wordsOf(const Meeting& meeting) const {
    return QString::fromStdString(wordsFor(meeting, *metOf_, *metIn_));
}

void ExposureDesk::lookAt(const Meeting& meeting) {
    for (std::size_t c = 0; c < exposure_->clips.size(); ++c)
        if (exposure_->clips[c].file == meeting.file && exposure_->clips[c].clip == meeting.clip)
            return lookAt(static_cast<int>(c), meeting.at,
                          metIn_->faults[static_cast<std::size_t>(meeting.faults.front())].joint);
}

bool ExposureDesk::keepLighter(bool on) {
    lighter_ = on;
    QVariantMap all = QSettings().value(kLighter).toMap();
    all[readFor_] = on;
    QSettings().setValue(kLighter, all);
    emit exposureChanged(QPrivateSignal());
    return true;
}

void ExposureDesk::setProposesLighter(bool on) {
    if (on == lighter_)
        return;
    keepLighter(on);
    undoable(
        on ? tr("log lighter what no clip reaches") : tr("log as heavy what no clip reaches"),
        [=, this] { return keepLighter(on); }, [=, this] { return keepLighter(!on); });
}

// Only what clips tell of and never reach; what is not known stays as it is.
int ExposureDesk::proposedSeverity(int finding, int severity) const {
    const auto use = lighter_ ? ofFault(finding) : std::nullopt;
    return use && use->past.known() && use->past.frames == 0 ? std::max(1, severity - 1) : severity;
}

UsePast ExposureDesk::past(const Finding& finding) const {
    return exposure_ ? usePast(*exposure_, plan_.plan(), finding) : UsePast();
}

std::optional<FaultUse> ExposureDesk::ofFault(int finding) const {
    const Fault* fault = run_.faultOf(finding);
    if (!exposure_ || !fault)
        return std::nullopt;
    return faultUse(*exposure_, *run_.run(), *fault);
}

QString ExposureDesk::wordsOf(const FaultUse& use, int finding) const {
    QString out = QString::fromStdString(wordsFor(*exposure_, use.past));
    if (const Finding* told = run_.findingAt(finding))
        if (const int lighter = proposedSeverity(finding, told->severity); lighter != told->severity)
            out += tr("; logged as %1").arg(lighter);
    const Finding* f = run_.findingAt(use.finding);
    if (f && use.finding != finding && use.past.frames > 0) {
        const Motion& m = run_.run()->plan.motions[static_cast<std::size_t>(f->motion)];
        out += tr(" (%1 from %2)")
                   .arg(QString::fromStdString(wordsFor(m)), QString::fromStdString(wordsFor(m, f->onset)));
    }
    return out;
}

std::vector<ExposureDesk::Wider> ExposureDesk::pastPlan() const {
    std::vector<Wider> out;
    if (!exposure_)
        return out;
    const Plan& plan = plan_.plan();
    for (std::size_t m = 0; m < plan.motions.size(); ++m) {
        const UsePast past = usePastPlan(*exposure_, plan.motions[m]);
        if (past.frames > 0)
            out.push_back(
                {static_cast<int>(m), *furthest(*exposure_, exposure_->motionOf(plan.motions[m].id)), past});
    }
    std::stable_sort(out.begin(), out.end(),
                     [](const Wider& a, const Wider& b) { return a.past.frames > b.past.frames; });
    return out;
}

std::vector<int> ExposureDesk::notMoved() const {
    std::vector<int> out;
    if (!exposure_)
        return out;
    const Plan& plan = plan_.plan();
    for (std::size_t m = 0; m < plan.motions.size(); ++m)
        if (plan.motions[m].span != Span::Frames &&
            !furthest(*exposure_, exposure_->motionOf(plan.motions[m].id)))
            out.push_back(static_cast<int>(m));
    return out;
}

void ExposureDesk::widen(int motion, double to) {
    if (const Motion* m = plan_.motion(motion))
        plan_.setRange(m->id, to, false);
}

void ExposureDesk::lookAt(int clip, std::uint32_t frame, int joint) {
    if (!exposure_ || clip < 0 || clip >= static_cast<int>(exposure_->clips.size()))
        return;
    const ClipUse& use = exposure_->clips[static_cast<std::size_t>(clip)];
    const QString name = tr("%1, frame %2").arg(QString::fromStdString(use.clip)).arg(frame);
    pose_.openClipAt(QString::fromStdString(use.file), use.clip, frame,
                     [this, joint, name](const Pose& pose) {
                         run_.setFreePose(pose, joint, 0, name);
                         emit frameWanted(QPrivateSignal());
                     });
}

// What is known of a defect of this character, by the motion and the place it was logged at.
std::optional<UsePast> ExposureDesk::pastOf(const Defect& d) const {
    if (!exposure_ || d.build.character != log_.character() || !isOpen(d.state))
        return std::nullopt;
    const UsePast past =
        usePast(*exposure_, exposure_->motionOf(presentId(d.facts.motion.toStdString())), d.facts.onset);
    return past.known() ? std::optional(past) : std::nullopt;
}

int ExposureDesk::untold() const {
    int out = 0;
    for (const Defect& d : log_.defects())
        if (const auto past = pastOf(d); past && d.use != useOf(*exposure_, *past))
            ++out;
    return out;
}

void ExposureDesk::tellLog() {
    QVector<LogDesk::Checked> events;
    for (const Defect& d : log_.defects())
        if (const auto past = pastOf(d)) {
            const DefectUse use = useOf(*exposure_, *past);
            if (d.use != use)
                events.push_back({useEvent(d, use), std::nullopt, {}});
        }
    if (!events.isEmpty() && log_.judge(events))
        tell(events.size() == 1 ? tr("One defect of the log says how often the show goes there.")
                                : tr("%n defects of the log say how often the show goes there.", nullptr,
                                     int(events.size())));
}

} // namespace hobble
