#include "app/session/pose_desk.h"

#include "core/pose/compound_poses.h"
#include "io/file_read.h"
#include "io/file_write.h"
#include "io/pose_json.h"
#include "log/file_name.h"

#include <QDir>
#include <QFileInfo>

#include <cmath>

namespace hobble {

namespace {

constexpr std::size_t kMostFrames = 1200; // of a clip that are looked at

} // namespace

PoseDesk::PoseDesk(Shared& shared, BuildDesk& build, PlanDesk& plan)
    : Desk(shared), build_(build), plan_(plan) {
    connect(&view_, &PoseView::frameReady, this, [this] {
        const Subject& s = *view_.subject();
        balance_ = balanceOf(*s.character, s.roles, s.body, view_.frame()->position);
        emit balanceChanged(QPrivateSignal());
    });
    connect(&view_, &PoseView::jointChanged, this, [this] { emit jointChanged(QPrivateSignal()); });
    connect(&build, &BuildDesk::subjectReplaced, this, &PoseDesk::takeSubject);
    connect(&build, &BuildDesk::characterSettled, this, [this] {
        emit rangesChanged(QPrivateSignal());
        emit jointChanged(QPrivateSignal());
        emit poseChanged(QPrivateSignal());
        emit clipChanged(QPrivateSignal());
    });
    connect(&plan, &PlanDesk::planReplaced, this, [this] {
        takeRanges();
        emit rangesChanged(QPrivateSignal());
    });
    readShelf();
}

void PoseDesk::takeSubject(BuildDesk::Change change) {
    const Subject& s = *build_.subject();
    const Skeleton& sk = s.character->skeleton;
    const int joint = view_.joint();
    view_.setSubject(build_.subject(), build_.neutral());
    if (change == BuildDesk::Change::Worn) { // the same pose in other clothes
        view_.setJoint(joint);
        return show();
    }
    pose_ = Pose::neutral(sk);
    name_.clear();
    ends_.clear();
    loose_.clear();
    int hips = -1;
    for (int j = 0; j < sk.size(); ++j) {
        const JointRole& r = s.roles[static_cast<std::size_t>(j)];
        if (!r.movesSkin)
            continue;
        if (r.role == Role::Wrist || r.role == Role::Ankle || r.role == Role::Head)
            ends_.push_back(j);
        if (r.role == Role::Pelvis && r.side == Side::Middle && hips < 0)
            hips = j;
    }
    if (hips >= 0)
        ends_.push_back(hips);
    clip_.reset();
    takeRanges();
    show();
}

void PoseDesk::takeRanges() {
    const auto& s = build_.subject();
    if (!s)
        return;
    ranges_ = jointRanges(*s->character, s->roles, plan_.plan());
    if (clip_)
        clip_->stress = frameStress(ranges_, clip_->poses);
}

void PoseDesk::show() { view_.show({pose_, nullptr, -1, 0, {}}); }

void PoseDesk::preview(const Pose& pose) {
    pose_ = pose;
    show();
    emit poseChanged(QPrivateSignal());
}

void PoseDesk::showPose(const Pose& pose, const QString& name) {
    name_ = name;
    preview(pose);
}

void PoseDesk::setPose(const Pose& pose, const QString& what) {
    const Pose before = pose_;
    const QString name = name_;
    showPose(pose, {});
    undoable(
        what,
        [=, this] {
            showPose(pose, {});
            return true;
        },
        [=, this] {
            showPose(before, name);
            return true;
        });
}

void PoseDesk::neutral() {
    if (build_.subject())
        setPose(Pose::neutral(build_.subject()->character->skeleton), tr("back to neutral"));
}

void PoseDesk::mirror() {
    if (const auto s = build_.subject())
        setPose(mirrored(*s->character, s->roles, pose_), tr("mirror the pose"));
}

void PoseDesk::copyFrom(Side side) {
    if (const auto s = build_.subject())
        setPose(copiedFrom(*s->character, s->roles, pose_, side), tr("copy from the other side"));
}

void PoseDesk::selectJoint(int joint) { view_.setJoint(joint); }

void PoseDesk::setLimitsKept(bool on) { limitsKept_ = on; }

Pose PoseDesk::turned(const Pose& from, int joint, int axis, double degrees) const {
    Pose out = from;
    const auto j = static_cast<std::size_t>(joint);
    const JointRange& range = ranges_[j];
    Vec3d angles = anglesIn(range, out.turn[j]);
    angles[axis] = degrees;
    out.turn[j] = turnOf(range, angles);
    if (limitsKept_)
        out.turn[j] = within(range, out.turn[j]);
    return out;
}

bool PoseDesk::pinned(int joint) const {
    return std::find(loose_.begin(), loose_.end(), joint) == loose_.end();
}

void PoseDesk::setPinned(int joint, bool on) {
    std::erase(loose_, joint);
    if (!on)
        loose_.push_back(joint);
    emit jointChanged(QPrivateSignal());
}

Reach PoseDesk::dragged(const Pose& from, int joint, const Vec3d& place) const {
    const Subject& s = *build_.subject();
    const Character& c = *s.character;
    const auto world = worldTransforms(c.skeleton, from);
    const auto at = [&](int j) { return Vec3d(world[static_cast<std::size_t>(j)].translation()); };
    const JointRole& role = s.roles[static_cast<std::size_t>(joint)];
    ReachSettings settings;
    settings.within = 5e-4;
    settings.height = s.body.height;
    std::vector<JointRange> ranges = ranges_;
    if (!limitsKept_)
        for (JointRange& r : ranges) { // axes and hinges stay, their ends do not
            r.least.fill(-179);
            r.most.fill(179);
        }
    Pose start = from;
    std::vector<Pin> pins;
    settings.willing.assign(c.skeleton.name.size(), 0);
    const auto free = [&](int end, bool lean) {
        const auto some = willingFor(c, s.roles, end, lean);
        for (std::size_t j = 0; j < some.size(); ++j)
            settings.willing[j] = std::max(settings.willing[j], some[j]);
    };
    if (role.role == Role::Pelvis) { // the hips go there, and the pinned limbs are kept where they were
        start.shift.resize(start.turn.size(), Vec3d::Zero());
        const int above = c.skeleton.parent[static_cast<std::size_t>(joint)];
        const Quat frame =
            (above < 0 ? Quat::Identity() : rotationOf(world[static_cast<std::size_t>(above)])) *
            rotationOf(c.skeleton.neutralLocal[static_cast<std::size_t>(joint)]);
        start.shift[static_cast<std::size_t>(joint)] += frame.inverse() * (place - at(joint));
        for (int end : ends_)
            if (end != joint && pinned(end) && s.roles[static_cast<std::size_t>(end)].role != Role::Head) {
                pins.push_back({end, at(end), true});
                free(end, false);
            }
    } else {
        pins.push_back({joint, place, true});
        free(joint, false);
        const bool trunk = role.role == Role::Head;
        for (int end : ends_) // what would move along is kept, where it is pinned
            if (trunk && end != joint && pinned(end) &&
                s.roles[static_cast<std::size_t>(end)].role == Role::Wrist) {
                pins.push_back({end, at(end), true});
                free(end, false);
            }
    }
    Reach out = reach(c, s.roles, ranges, start, pins, settings);
    if (out.reached || role.role == Role::Pelvis || role.role == Role::Head)
        return out;
    // out of the limb's reach: the spine leans along, the pinned hands stay
    std::vector<Pin> more = pins;
    free(joint, true);
    for (int end : ends_)
        if (end != joint && pinned(end) && role.role == Role::Wrist &&
            s.roles[static_cast<std::size_t>(end)].role == Role::Wrist) {
            more.push_back({end, at(end), true});
            free(end, false);
        }
    Reach leaning = reach(c, s.roles, ranges, out.pose, more, settings);
    return leaning.farthest < 0.9 * out.farthest ? leaning : out;
}

void PoseDesk::putInPlan(const Pose& pose, const QString& name, const QString& source) {
    const auto s = build_.subject();
    if (!s)
        return;
    const std::string id = "pose-" + safeFileName(name).toLower().toStdString();
    Motion m = poseMotion(s->character->skeleton, id, name.toStdString(), Side::Middle, pose);
    if (m.turns.empty() && m.targets.empty()) {
        fail(tr("The character stands in neutral: there is no pose to put in the plan."));
        return;
    }
    if (m.turns.empty())
        m.turns.push_back({0, Vec3d::UnitX(), 0});
    m.source = source.toStdString();
    m.role = s->roles[static_cast<std::size_t>(m.turns.front().joint)].role;
    plan_.put({m}, tr("put %1 in the plan").arg(name));
}

QString PoseDesk::shelfFolder() { return settingsFile(QStringLiteral("poses")); }

void PoseDesk::readShelf() {
    shelf_.clear();
    const QDir folder(shelfFolder());
    for (const QString& file : folder.entryList({QStringLiteral("*.json")}, QDir::Files, QDir::Name)) {
        auto pose = readPose(folder.filePath(file).toStdString());
        if (pose)
            shelf_.push_back({std::move(*pose), folder.filePath(file)});
    }
    emit shelfChanged(QPrivateSignal());
}

bool PoseDesk::keepOnShelf(const QString& name, const QByteArray& picture) {
    const auto s = build_.subject();
    if (!s || name.trimmed().isEmpty())
        return false;
    RolePose pose = rolePoseOf(*s->character, s->roles, pose_, name.trimmed().toStdString());
    pose.picture = picture.toBase64().toStdString();
    QDir().mkpath(shelfFolder());
    const QString file = shelfFolder() + QLatin1Char('/') + safeFileName(name) + QStringLiteral(".json");
    if (auto written = writeFile(file.toStdString(), poseToJson(pose)); !written) {
        fail(QString::fromStdString(written.error()));
        return false;
    }
    readShelf();
    return true;
}

void PoseDesk::takeOffShelf(int index) {
    if (index < 0 || index >= static_cast<int>(shelf_.size()))
        return;
    const ShelfPose gone = shelf_[static_cast<std::size_t>(index)];
    const auto forth = [=, this] {
        QFile::remove(gone.file);
        readShelf();
        return true;
    };
    forth();
    undoable(tr("take %1 off the shelf").arg(QString::fromStdString(gone.pose.name)), forth, [=, this] {
        const bool written = writeFile(gone.file.toStdString(), poseToJson(gone.pose)).ok();
        readShelf();
        return written;
    });
}

void PoseDesk::showShelfPose(int index) {
    const auto s = build_.subject();
    if (!s || index < 0 || index >= static_cast<int>(shelf_.size()))
        return;
    const RolePose& kept = shelf_[static_cast<std::size_t>(index)].pose;
    std::vector<std::string> missing;
    showPose(poseFor(kept, *s->character, s->roles, &missing), QString::fromStdString(kept.name));
    if (!missing.empty())
        tell(tr("This character has nothing for %1 of the pose's joints, %2 among them.")
                 .arg(missing.size())
                 .arg(QString::fromStdString(missing.front())));
}

QString PoseDesk::jointMapsOf() const {
    return settingsFile(QStringLiteral("joint-maps/")) +
           safeFileName(QString::fromStdString(build_.build()->name)) + QLatin1Char('-');
}

QString PoseDesk::mapFile(const QString& maps, const std::string& skeleton) {
    return maps + QString::fromStdString(skeleton) + QStringLiteral(".json");
}

std::map<std::string, std::string> PoseDesk::keptJointMap(const QString& maps, const std::string& skeleton) {
    const QString map = mapFile(maps, skeleton);
    if (QFile::exists(map))
        if (const auto text = readFile(map.toStdString()))
            if (auto said = jointMapFromJson(*text))
                return std::move(*said);
    return {};
}

void PoseDesk::openClip(const QString& path) { readClip(path, {}, {}); }

void PoseDesk::openClipAt(const QString& path, const std::string& clip, std::size_t frame,
                          std::function<void(const Pose&)> then) {
    if (build_.subject() && clip_ && clip_->path == path && clip_->chosen().name == clip)
        return carryClip(path, clip_->file, clip_->clip, clip_->settings, {frame, std::move(then)});
    readClip(path, clip, {frame, std::move(then)});
}

// The first of its clips where none is named.
void PoseDesk::readClip(const QString& path, const std::string& clip, const FrameWish& wish) {
    if (!build_.subject())
        return;
    jobs().start(tr("Reading %1").arg(QFileInfo(path).fileName()),
                 [this, path, clip, wish](JobControl& control) -> std::function<void()> {
                     auto file = readClips(path.toStdString(), progressOf(control));
                     if (control.cancelled)
                         return [this] { tell(tr("Reading the clip was stopped.")); };
                     if (!file)
                         return [this, message = file.error()] { fail(QString::fromStdString(message)); };
                     auto kept = std::make_shared<const ClipFile>(std::move(*file));
                     return [this, path, clip, wish, kept] {
                         RetargetSettings settings;
                         settings.said = keptJointMap(jointMapsOf(), skeletonKey(kept->body.skeleton));
                         int which = 0;
                         for (std::size_t c = 0; c < kept->body.clips.size(); ++c)
                             if (kept->body.clips[c].name == clip)
                                 which = static_cast<int>(c);
                         carryClip(path, kept, which, settings, wish);
                     };
                 });
}

void PoseDesk::chooseClip(int clip, const RetargetSettings& settings) {
    if (!clip_ || clip < 0 || clip >= static_cast<int>(clip_->file->body.clips.size()))
        return;
    if (settings.said !=
        clip_->settings.said) { // what was said of these joints is kept for the next clip of theirs
        const QString map = mapFile(clip_->file->body.skeleton);
        QDir().mkpath(QFileInfo(map).absolutePath());
        if (auto written = writeFile(map.toStdString(), jointMapToJson(settings.said)); !written)
            fail(QString::fromStdString(written.error()));
    }
    carryClip(clip_->path, clip_->file, clip, settings, {});
}

void PoseDesk::carryClip(const QString& path, std::shared_ptr<const ClipFile> file, int clip,
                         const RetargetSettings& settings, const FrameWish& wish) {
    jobs().start(tr("Carrying the clip over"),
                 [this, path, file, clip, settings, wish, subject = build_.subject(),
                  ranges = ranges_](JobControl& control) -> std::function<void()> {
                     ClipOnDesk desk;
                     desk.file = file;
                     desk.path = path;
                     desk.clip = clip;
                     desk.settings = settings;
                     const Clip& chosen = file->body.clips[static_cast<std::size_t>(clip)];
                     const Retargeter retargeter(file->body, chosen, *subject->character, subject->roles,
                                                 ranges, settings);
                     const std::size_t count = file->frameCount(chosen),
                                       every = (count + kMostFrames - 1) / kMostFrames;
                     std::vector<double> seconds;
                     for (std::size_t f = 0; f < count; f += every) {
                         desk.frames.push_back(f);
                         seconds.push_back(file->secondsAt(f));
                     }
                     desk.poses = retargeter.poses(seconds, progressOf(control));
                     if (control.cancelled)
                         return [this] { tell(tr("Carrying the clip over was stopped.")); };
                     if (!desk.poses.empty())
                         desk.place = std::min(wish.frame / every, desk.poses.size() - 1);
                     std::optional<Pose> asked;
                     if (wish.then && wish.frame < count)
                         asked = retargeter.poses({file->secondsAt(wish.frame)}).front();
                     desk.stress = frameStress(ranges, desk.poses);
                     desk.notes = file->notes;
                     desk.notes.insert(desk.notes.end(), retargeter.notes().begin(),
                                       retargeter.notes().end());
                     if (every > 1)
                         desk.notes.push_back("Of its " + std::to_string(count) + " frames every " +
                                              std::to_string(every) + "th is looked at.");
                     desk.map = retargeter.map();
                     desk.sourceJoints = file->body.skeleton.name;
                     desk.asItIs = retargeter.asItIs();
                     return [this, subject, wish, asked, desk = std::move(desk)] {
                         if (subject->character != build_.subject()->character)
                             return;
                         clip_ = desk;
                         emit clipChanged(QPrivateSignal());
                         showClipFrame(clip_->place);
                         if (asked)
                             wish.then(*asked);
                     };
                 });
}

void PoseDesk::showClipFrame(std::size_t place) {
    if (!clip_ || place >= clip_->poses.size())
        return;
    showPose(clip_->poses[place],
             tr("%1, frame %2").arg(QString::fromStdString(clip_->chosen().name)).arg(clip_->frames[place]));
}

void PoseDesk::putClipInPlan(std::size_t first, std::size_t last, std::size_t every, std::size_t most,
                             BeyondPlan beyond) {
    if (!clip_ || clip_->poses.empty())
        return;
    last = std::min(last, clip_->poses.size() - 1);
    ChosenFrames chosen;
    chosen.clip = clip_->chosen().name.empty() ? QFileInfo(clip_->path).completeBaseName().toStdString()
                                               : clip_->chosen().name;
    std::vector<std::size_t> places;
    for (std::size_t i = first; i <= last; i += std::max<std::size_t>(every, 1))
        places.push_back(i);
    if (most > 0) {
        std::vector<Pose> poses;
        for (std::size_t i : places)
            poses.push_back(clip_->poses[i]);
        std::vector<std::size_t> kept;
        for (std::size_t i : mostStressful(ranges_, poses, most, beyond == BeyondPlan::LeaveOut ? 5 : 1e9))
            kept.push_back(places[i]);
        places = std::move(kept);
    }
    for (std::size_t i : places) {
        chosen.frames.push_back(clip_->frames[i]);
        chosen.poses.push_back(clip_->poses[i]);
    }
    const auto motions = clipMotions(*build_.subject()->character, ranges_, chosen, beyond);
    if (motions.empty())
        return fail(tr("No frame of the clip is within the planned ranges; keep them or judge them apart."));
    plan_.put(motions, tr("put frames of a clip in the plan"));
    std::size_t taken = 0;
    for (const Motion& m : motions)
        taken += m.frames.size();
    tell((taken == 1 ? tr("One frame of “%1” is in the plan.")
                     : tr("%n frames of “%1” are in the plan.", nullptr, int(taken)))
             .arg(QString::fromStdString(chosen.clip)));
}

} // namespace hobble
