#include "app/session/plan_desk.h"

#include "app/session/log_command.h"
#include "app/session/session.h"
#include "core/pose/compound_poses.h"
#include "io/file_read.h"
#include "io/file_write.h"
#include "io/pose_json.h"
#include "log/file_name.h"

#include <QDir>
#include <QFileInfo>
#include <QStandardPaths>

#include <cmath>

namespace hobble {

namespace {

QString settingsFile(const QString& folder) {
    return QStandardPaths::writableLocation(QStandardPaths::AppConfigLocation) + QLatin1Char('/') + folder;
}

constexpr std::size_t kMostFrames = 1200; // of a clip that are looked at

} // namespace

PlanDesk::PlanDesk(Session* session) : QObject(session), session_(session) {
    connect(&worker_, &PoseWorker::posed, this, [this](std::shared_ptr<const PosedFrame> frame) {
        if (frame->subject != session_->subject())
            return;
        frame_ = std::move(frame);
        const Subject& s = *frame_->subject;
        balance_ = balanceOf(*s.character, s.roles, s.body, frame_->position);
        emit frameReady();
    });
    connect(session, &Session::characterChanged, this, [this] {
        frame_.reset();
        const auto s = session_->subject();
        if (s && pose_.turn.size() != s->character->skeleton.name.size())
            pose_ = Pose::neutral(s->character->skeleton);
        requestFrame();
    });
    readShelf();
}

void PlanDesk::takeCharacter() {
    const Subject& s = *session_->subject();
    const Skeleton& sk = s.character->skeleton;
    pose_ = Pose::neutral(sk);
    name_.clear();
    joint_ = -1;
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
    takePlan();
    emit jointChanged();
    emit poseChanged();
    emit clipChanged();
}

void PlanDesk::takePlan() {
    const auto s = session_->subject();
    if (!s)
        return;
    ranges_ = jointRanges(*s->character, s->roles, session_->plan());
    if (clip_)
        clip_->stress = frameStress(ranges_, clip_->poses);
    emit rangesChanged();
}

void PlanDesk::requestFrame() {
    const auto s = session_->subject();
    if (!s || pose_.turn.size() != s->character->skeleton.name.size())
        return;
    PoseRequest r;
    r.subject = s;
    r.pose = pose_;
    r.method = session_->method();
    worker_.request(std::move(r));
}

void PlanDesk::preview(const Pose& pose) {
    pose_ = pose;
    requestFrame();
    emit poseChanged();
}

void PlanDesk::showPose(const Pose& pose, const QString& name) {
    name_ = name;
    preview(pose);
}

void PlanDesk::setPose(const Pose& pose, const QString& what) {
    const Pose before = pose_;
    const QString name = name_;
    showPose(pose, {});
    session_->undoStack().push(new LogCommand(
        what,
        [=, this] {
            showPose(pose, {});
            return true;
        },
        [=, this] {
            showPose(before, name);
            return true;
        }));
}

void PlanDesk::neutral() {
    if (session_->subject())
        setPose(Pose::neutral(session_->subject()->character->skeleton), tr("back to neutral"));
}

void PlanDesk::mirror() {
    if (const auto s = session_->subject())
        setPose(mirrored(*s->character, s->roles, pose_), tr("mirror the pose"));
}

void PlanDesk::copyFrom(Side side) {
    if (const auto s = session_->subject())
        setPose(copiedFrom(*s->character, s->roles, pose_, side), tr("copy from the other side"));
}

void PlanDesk::selectJoint(int joint) {
    if (joint == joint_)
        return;
    joint_ = joint;
    emit jointChanged();
}

void PlanDesk::setLimitsKept(bool on) { limitsKept_ = on; }

Pose PlanDesk::turned(const Pose& from, int joint, int axis, double degrees) const {
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

bool PlanDesk::pinned(int joint) const {
    return std::find(loose_.begin(), loose_.end(), joint) == loose_.end();
}

void PlanDesk::setPinned(int joint, bool on) {
    std::erase(loose_, joint);
    if (!on)
        loose_.push_back(joint);
    emit jointChanged();
}

Reach PlanDesk::dragged(const Pose& from, int joint, const Vec3d& place) const {
    const Subject& s = *session_->subject();
    const Character& c = *s.character;
    const auto world = worldTransforms(c.skeleton, from);
    const auto at = [&](int j) { return Vec3d(world[static_cast<std::size_t>(j)].translation()); };
    const JointRole& role = s.roles[static_cast<std::size_t>(joint)];
    ReachSettings settings;
    settings.within = 5e-4;
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

void PlanDesk::setRange(const std::string& id, double limit, bool bothSides) {
    Plan plan = session_->plan();
    const int at = plan.find(id);
    if (at < 0)
        return;
    const Motion asked = plan.motions[static_cast<std::size_t>(at)];
    if (asked.span != Span::Degrees || std::abs(asked.limit() - limit) < 0.5)
        return;
    limit = std::clamp(std::round(limit), 1.0, 180.0);
    for (Motion& m : plan.motions) {
        const bool fellow =
            bothSides && m.name == asked.name && m.side != Side::Middle && asked.side != Side::Middle;
        if (m.id != id && !fellow)
            continue;
        // the fellow may stand otherwise in neutral: it keeps its difference
        const double by = m.limit() - asked.limit();
        m.degrees = stepsTo(std::max(m.id == id ? limit : limit + by, 1.0));
        m.source = "set by hand";
    }
    session_->changePlan(plan, tr("change the range of %1").arg(QString::fromStdString(asked.name)));
}

void PlanDesk::setOn(const std::vector<std::string>& ids, bool on) {
    Plan plan = session_->plan();
    bool any = false;
    for (const std::string& id : ids)
        if (const int at = plan.find(id); at >= 0 && plan.motions[static_cast<std::size_t>(at)].on != on) {
            plan.motions[static_cast<std::size_t>(at)].on = on;
            any = true;
        }
    if (any)
        session_->changePlan(plan, on ? tr("test motions again") : tr("leave motions out"));
}

void PlanDesk::takeOut(const std::string& id) {
    Plan plan = session_->plan();
    const int at = plan.find(id);
    if (at < 0)
        return;
    const QString name = QString::fromStdString(wordsFor(plan.motions[static_cast<std::size_t>(at)]));
    if (plan.motions[static_cast<std::size_t>(at)].span == Span::Degrees)
        return setOn({id}, false);
    plan.motions.erase(plan.motions.begin() + at);
    session_->changePlan(plan, tr("take %1 out of the plan").arg(name));
}

void PlanDesk::putInPlan(const Pose& pose, const QString& name, const QString& source) {
    const auto s = session_->subject();
    if (!s)
        return;
    Plan plan = session_->plan();
    std::string id = "pose-" + safeFileName(name).toLower().toStdString();
    Motion m = poseMotion(s->character->skeleton, id, name.toStdString(), Side::Middle, pose);
    if (m.turns.empty() && m.targets.empty()) {
        emit session_->failed(tr("The character stands in neutral: there is no pose to put in the plan."));
        return;
    }
    if (m.turns.empty())
        m.turns.push_back({0, Vec3d::UnitX(), 0});
    m.source = source.toStdString();
    m.role = s->roles[static_cast<std::size_t>(m.turns.front().joint)].role;
    if (const int at = plan.find(id); at >= 0)
        plan.motions[static_cast<std::size_t>(at)] = std::move(m);
    else
        plan.motions.push_back(std::move(m));
    session_->changePlan(plan, tr("put %1 in the plan").arg(name));
}

void PlanDesk::takeStandardPlan() {
    session_->changePlan(session_->standardPlan(), tr("take the standard plan"));
}

QString PlanDesk::shelfFolder() { return settingsFile(QStringLiteral("poses")); }

void PlanDesk::readShelf() {
    shelf_.clear();
    const QDir folder(shelfFolder());
    for (const QString& file : folder.entryList({QStringLiteral("*.json")}, QDir::Files, QDir::Name)) {
        auto pose = readPose(folder.filePath(file).toStdString());
        if (pose)
            shelf_.push_back({std::move(*pose), folder.filePath(file)});
    }
    emit shelfChanged();
}

bool PlanDesk::keepOnShelf(const QString& name, const QByteArray& picture) {
    const auto s = session_->subject();
    if (!s || name.trimmed().isEmpty())
        return false;
    RolePose pose = rolePoseOf(*s->character, s->roles, pose_, name.trimmed().toStdString());
    pose.picture = picture.toBase64().toStdString();
    QDir().mkpath(shelfFolder());
    const QString file = shelfFolder() + QLatin1Char('/') + safeFileName(name) + QStringLiteral(".json");
    if (auto written = writeFile(file.toStdString(), poseToJson(pose)); !written) {
        emit session_->failed(QString::fromStdString(written.error()));
        return false;
    }
    readShelf();
    return true;
}

void PlanDesk::takeOffShelf(int index) {
    if (index < 0 || index >= static_cast<int>(shelf_.size()))
        return;
    const ShelfPose gone = shelf_[static_cast<std::size_t>(index)];
    const auto forth = [=, this] {
        QFile::remove(gone.file);
        readShelf();
        return true;
    };
    forth();
    session_->undoStack().push(new LogCommand(
        tr("take %1 off the shelf").arg(QString::fromStdString(gone.pose.name)), forth, [=, this] {
            const bool written = writeFile(gone.file.toStdString(), poseToJson(gone.pose)).ok();
            readShelf();
            return written;
        }));
}

void PlanDesk::showShelfPose(int index) {
    const auto s = session_->subject();
    if (!s || index < 0 || index >= static_cast<int>(shelf_.size()))
        return;
    const RolePose& kept = shelf_[static_cast<std::size_t>(index)].pose;
    std::vector<std::string> missing;
    showPose(poseFor(kept, *s->character, s->roles, &missing), QString::fromStdString(kept.name));
    if (!missing.empty())
        emit session_->told(tr("This character has nothing for %1 of the pose's joints, %2 among them.")
                                .arg(missing.size())
                                .arg(QString::fromStdString(missing.front())));
}

QString PlanDesk::mapFile(const Skeleton& source) const {
    return settingsFile(QStringLiteral("joint-maps/")) +
           safeFileName(QString::fromStdString(session_->buildCharacter()->name)) + QLatin1Char('-') +
           QString::fromStdString(skeletonKey(source)) + QStringLiteral(".json");
}

void PlanDesk::openClip(const QString& path) {
    if (!session_->subject())
        return;
    session_->jobs().start(
        tr("Reading %1").arg(QFileInfo(path).fileName()),
        [this, path](JobControl& control) -> std::function<void()> {
            auto file = readClips(path.toStdString(),
                                  {&control.cancelled, [&control](double share) {
                                       control.tell(static_cast<std::size_t>(1000 * share), 1000, 0);
                                   }});
            if (control.cancelled)
                return [this] { emit session_->told(tr("Reading the clip was stopped.")); };
            if (!file)
                return [this, message = file.error()] {
                    emit session_->failed(QString::fromStdString(message));
                };
            auto kept = std::make_shared<const ClipFile>(std::move(*file));
            return [this, path, kept] {
                RetargetSettings settings;
                const QString map = mapFile(kept->body.skeleton);
                if (QFile::exists(map))
                    if (const auto text = readFile(map.toStdString()))
                        if (auto said = jointMapFromJson(*text))
                            settings.said = std::move(*said);
                carryClip(path, kept, 0, settings);
            };
        });
}

void PlanDesk::chooseClip(int clip, const RetargetSettings& settings) {
    if (!clip_ || clip < 0 || clip >= static_cast<int>(clip_->file->body.clips.size()))
        return;
    if (settings.said !=
        clip_->settings.said) { // what was said of these joints is kept for the next clip of theirs
        const QString map = mapFile(clip_->file->body.skeleton);
        QDir().mkpath(QFileInfo(map).absolutePath());
        if (auto written = writeFile(map.toStdString(), jointMapToJson(settings.said)); !written)
            emit session_->failed(QString::fromStdString(written.error()));
    }
    carryClip(clip_->path, clip_->file, clip, settings);
}

void PlanDesk::carryClip(const QString& path, std::shared_ptr<const ClipFile> file, int clip,
                         const RetargetSettings& settings) {
    session_->jobs().start(
        tr("Carrying the clip over"),
        [this, path, file, clip, settings, subject = session_->subject(),
         ranges = ranges_](JobControl& control) -> std::function<void()> {
            ClipOnDesk desk;
            desk.file = file;
            desk.path = path;
            desk.clip = clip;
            desk.settings = settings;
            const Clip& chosen = file->body.clips[static_cast<std::size_t>(clip)];
            const Retargeter retargeter(file->body, chosen, *subject->character, subject->roles, ranges,
                                        settings);
            const std::size_t count = file->frameCount(chosen),
                              every = (count + kMostFrames - 1) / kMostFrames;
            std::vector<double> seconds;
            for (std::size_t f = 0; f < count; f += every) {
                desk.frames.push_back(f);
                seconds.push_back(file->secondsAt(f));
            }
            desk.poses =
                retargeter.poses(seconds, {&control.cancelled, [&control](double share) {
                                               control.tell(static_cast<std::size_t>(1000 * share), 1000, 0);
                                           }});
            if (control.cancelled)
                return [this] { emit session_->told(tr("Carrying the clip over was stopped.")); };
            desk.stress = frameStress(ranges, desk.poses);
            desk.notes = file->notes;
            desk.notes.insert(desk.notes.end(), retargeter.notes().begin(), retargeter.notes().end());
            if (every > 1)
                desk.notes.push_back("Of its " + std::to_string(count) + " frames every " +
                                     std::to_string(every) + "th is looked at.");
            desk.map = retargeter.map();
            desk.sourceJoints = file->body.skeleton.name;
            desk.asItIs = retargeter.asItIs();
            return [this, subject, desk = std::move(desk)] {
                if (subject->character != session_->subject()->character)
                    return;
                clip_ = desk;
                emit clipChanged();
                showClipFrame(0);
            };
        });
}

void PlanDesk::showClipFrame(std::size_t place) {
    if (!clip_ || place >= clip_->poses.size())
        return;
    showPose(clip_->poses[place],
             tr("%1, frame %2").arg(QString::fromStdString(clip_->chosen().name)).arg(clip_->frames[place]));
}

void PlanDesk::putClipInPlan(std::size_t first, std::size_t last, std::size_t every, std::size_t most,
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
    const auto motions = clipMotions(*session_->subject()->character, ranges_, chosen, beyond);
    if (motions.empty())
        return void(emit session_->failed(
            tr("No frame of the clip is within the planned ranges; keep them or judge them apart.")));
    Plan plan = session_->plan();
    for (const Motion& m : motions)
        if (const int known = plan.find(m.id); known >= 0)
            plan.motions[static_cast<std::size_t>(known)] = m;
        else
            plan.motions.push_back(m);
    session_->changePlan(plan, tr("put frames of a clip in the plan"));
    std::size_t taken = 0;
    for (const Motion& m : motions)
        taken += m.frames.size();
    emit session_->told(
        tr("%1 frames of “%2” are in the plan.").arg(taken).arg(QString::fromStdString(chosen.clip)));
}

} // namespace hobble
