// What the session does with a build that comes in: opening, inspecting, roles, builds, deliveries.
#include "app/session/log_command.h"
#include "app/session/session.h"
#include "io/character_read.h"
#include "io/file_write.h"
#include "io/intake_limits_json.h"
#include "log/file_name.h"
#include "log/finding_defect.h"

#include <QDir>
#include <QFileInfo>
#include <QSettings>
#include <QStandardPaths>

namespace hobble {

namespace {

QString settingsFolder() { return QStandardPaths::writableLocation(QStandardPaths::AppConfigLocation); }

// Every profile that can be read; one that cannot is nobody's loss.
std::vector<NamingProfile> keptProfiles() {
    std::vector<NamingProfile> out;
    const QDir folder(Session::namingFolder());
    for (const QString& file : folder.entryList({QStringLiteral("*.json")}, QDir::Files, QDir::Time))
        if (auto profile = readNaming(folder.filePath(file).toStdString()))
            out.push_back(std::move(*profile));
    return out;
}

Progress progressOf(JobControl& control) {
    return {&control.cancelled, [&control](double share) {
                control.tell(static_cast<std::size_t>(1000 * std::min(share, 1.0)), 1000, 0);
            }};
}

} // namespace

QString Session::namingFolder() { return settingsFolder() + QStringLiteral("/naming"); }
QString Session::intakeLimitsPath() { return settingsFolder() + QStringLiteral("/intake-limits.json"); }

void Session::openFile(const QString& path) {
    jobs_.cancel();
    jobs_.start(tr("Opening %1").arg(QFileInfo(path).fileName()),
                [this, path, limits = intakeLimits_](JobControl& control) -> std::function<void()> {
                    const Progress progress = progressOf(control);
                    ReadSettings settings;
                    settings.progress = progress.within(0, 0.45);
                    auto read = readCharacter(path.toStdString(), settings);
                    if (wasStopped(read))
                        return [this] { emit told(tr("Opening was stopped.")); };
                    if (!read)
                        return [this, message = read.error()] { fail(message); };
                    auto character = std::make_shared<const Character>(std::move(*read));
                    // what was said of this character's joints holds for its next build too
                    std::map<std::string, RoleCorrection> corrections;
                    for (const NamingProfile& p : keptProfiles())
                        if (p.name == character->name && fit(p, character->skeleton) >= kGoodFit) {
                            corrections = correctionsFor(p, character->skeleton);
                            break;
                        }
                    Prepared prepared = prepare(character, limits, corrections, progress.within(0.45, 1));
                    if (progress.stopped())
                        return [this] { emit told(tr("Opening was stopped.")); };
                    return [this, path, prepared = std::move(prepared), corrections] {
                        corrections_ = corrections;
                        remember(path);
                        takePrepared(prepared);
                        offerNaming();
                        enterBuild();
                        loadPlan();
                        loadVariants();
                        emit characterChanged();
                        emit planChanged();
                        emit intakeChanged();
                        emit runChanged();
                        if (!plan_.motions.empty()) {
                            setPose(0, 0);
                            startRun();
                            return;
                        }
                        setFreePose(Pose::neutral(subject_->character->skeleton), -1, 0);
                        emit failed(subject_->character->notes.empty()
                                        ? tr("There is no joint to test in this character.")
                                        : QString::fromStdString(subject_->character->notes.front()));
                    };
                });
}

Session::Prepared Session::prepare(std::shared_ptr<const Character> character, const IntakeLimits& limits,
                                   const std::map<std::string, RoleCorrection>& corrections,
                                   const Progress& progress) const {
    Prepared out;
    out.subject = std::make_shared<const Subject>(
        prepareSubject(std::move(character), progress.within(0, 0.75), corrections));
    if (progress.stopped())
        return out;
    out.checks = inspect(*out.subject, limits, progress.within(0.75, 0.95));
    if (progress.stopped())
        return out;
    PoseRequest still;
    still.subject = out.subject;
    still.pose = Pose::neutral(out.subject->character->skeleton);
    out.neutral = std::make_shared<const PosedFrame>(computeFrame(still));
    return out;
}

// Everything that was known of the character before is of the past.
void Session::takePrepared(Prepared prepared) {
    subject_ = std::move(prepared.subject);
    checks_ = std::move(prepared.checks);
    neutralFrame_ = std::move(prepared.neutral);
    check_ = -1;
    built_ = subject_->character;
    variant_ = -1;
    variantResults_.clear();
    plan_ = standardPlan();
    ranPlan_.reset();
    run_.reset();
    matchDefects();
    frame_.reset();
    detail_.reset();
    arriving_.clear();
    finding_ = -1;
    motion_ = -1;
    freeJoint_ = -1;
    degrees_ = 0;
}

void Session::selectCheck(int check) {
    if (check >= static_cast<int>(checks_.size()))
        return;
    check_ = std::max(check, -1);
    emit checkChanged();
}

void Session::setIntakeLimits(const IntakeLimits& limits) {
    if (limits == intakeLimits_)
        return;
    const auto keep = [this](const IntakeLimits& l) {
        intakeLimits_ = l;
        QDir().mkpath(settingsFolder());
        if (auto written = writeFile(intakeLimitsPath().toStdString(), intakeLimitsToJson(l)); !written)
            fail(written.error());
        inspectAgain();
        return true;
    };
    const IntakeLimits before = intakeLimits_;
    keep(limits);
    undo_.push(new LogCommand(
        tr("change Intake's limits"), [=] { return keep(limits); }, [=] { return keep(before); }));
}

void Session::inspectAgain() {
    if (!subject_)
        return;
    jobs_.start(
        tr("Inspecting %1").arg(characterTitle()),
        [this, subject = subject_, limits = intakeLimits_](JobControl& control) -> std::function<void()> {
            auto found = inspect(*subject, limits, progressOf(control));
            if (control.cancelled)
                return [this] { emit told(tr("Stopped: the checks shown are by the limits of before.")); };
            return [this, subject, found = std::move(found)] {
                if (subject != subject_)
                    return;
                checks_ = found;
                check_ = -1;
                keepInspection();
                emit intakeChanged();
                emit checkChanged();
            };
        });
}

qint64 Session::defectOfCheck(int check) const {
    if (check < 0 || check >= static_cast<int>(checks_.size()))
        return 0;
    const CheckFinding& f = checks_[static_cast<std::size_t>(check)];
    for (const Defect& d : defects())
        if (d.build.character == QString::fromStdString(subject_->character->name) &&
            d.state != DefectState::Withdrawn && tellsOf(d.facts, *subject_, f))
            return d.id;
    return 0;
}

void Session::logCheck(int check, const QByteArray& camera, const QByteArray& picture) {
    if (!canLog())
        return;
    if (check < 0 || check >= static_cast<int>(checks_.size()))
        return;
    if (const qint64 known = defectOfCheck(check))
        return void(emit defectLogged(known));
    const CheckFinding& f = checks_[static_cast<std::size_t>(check)];
    DefectFacts facts = factsOf(*subject_, f);
    facts.buildId = build_.id;
    facts.camera = camera;
    facts.picture = picture;
    if (const qint64 id = enterDefect(facts, f.severity))
        pushLogged(id);
}

void Session::correctRole(int joint, Role role, Side side) {
    if (!subject_ || joint < 0 || joint >= subject_->character->skeleton.size())
        return;
    const JointRole& now = subject_->roles[static_cast<std::size_t>(joint)];
    const std::string& name = subject_->character->skeleton.name[static_cast<std::size_t>(joint)];
    if (now.role == role && now.side == side && now.confidence >= 1)
        return;
    auto wanted = corrections_;
    wanted[name] = {role, side};
    const auto before = corrections_;
    setCorrections(wanted);
    undo_.push(new LogCommand(
        tr("correct what %1 is").arg(QString::fromStdString(name)),
        [=, this] { return setCorrections(wanted); }, [=, this] { return setCorrections(before); }));
}

void Session::useOfferedNaming() {
    if (!subject_ || !offered_)
        return;
    auto wanted = corrections_;
    for (const auto& [name, c] : correctionsFor(*offered_, subject_->character->skeleton))
        wanted.insert({name, c});
    const auto before = corrections_;
    offered_.reset();
    setCorrections(wanted);
    undo_.push(new LogCommand(
        tr("take over what joints are"), [=, this] { return setCorrections(wanted); },
        [=, this] { return setCorrections(before); }));
}

// Roles decide over limbs, axes and pairs: everything that follows from them is made anew.
bool Session::setCorrections(const std::map<std::string, RoleCorrection>& corrections) {
    corrections_ = corrections;
    NamingProfile profile;
    profile.name = subject_->character->name;
    for (const std::string& n : subject_->character->skeleton.name)
        profile.known.insert(withoutNamespace(n));
    for (const auto& [name, c] : corrections)
        profile.corrections[withoutNamespace(name)] = c;
    QDir().mkpath(namingFolder());
    const QString file = namingFolder() + QLatin1Char('/') +
                         safeFileName(QString::fromStdString(profile.name)) + QStringLiteral(".json");
    if (auto written = writeFile(file.toStdString(), namingToJson(profile)); !written)
        fail(written.error());
    jobs_.cancel();
    jobs_.start(tr("Reading the joints anew"),
                [this, character = subject_->character, limits = intakeLimits_,
                 corrections](JobControl& control) -> std::function<void()> {
                    Prepared prepared = prepare(character, limits, corrections, progressOf(control));
                    if (control.cancelled)
                        return [this] {
                            emit told(
                                tr("Stopped: what was said of the joints holds from when the character is "
                                   "opened again."));
                        };
                    return [this, character, prepared = std::move(prepared)] {
                        if (character != subject_->character)
                            return;
                        takePrepared(prepared);
                        keepInspection();
                        loadPlan();
                        emit characterChanged();
                        emit planChanged();
                        emit intakeChanged();
                        emit runChanged();
                        if (plan_.motions.empty())
                            return;
                        setPose(0, 0);
                        startRun();
                    };
                });
    return true;
}

void Session::offerNaming() {
    offered_.reset();
    double best = kGoodFit;
    for (NamingProfile& p : keptProfiles()) {
        if (p.name == subject_->character->name)
            continue;
        const double fits = fit(p, subject_->character->skeleton);
        bool changes = false;
        for (const auto& [name, c] : correctionsFor(p, subject_->character->skeleton)) {
            const int j = subject_->character->skeleton.find(name);
            changes |= subject_->roles[static_cast<std::size_t>(j)].role != c.role ||
                       subject_->roles[static_cast<std::size_t>(j)].side != c.side;
        }
        if (changes && fits >= best) {
            best = fits;
            offered_ = std::move(p);
        }
    }
}

void Session::keepInspection() {
    if (link_.state() != LogState::Ready || !subject_ || !build_.id)
        return refreshBuilds();
    if (auto kept =
            link_.ask([id = build_.id, score = intakeScore(), failing = static_cast<int>(checks_.size()),
                       json = inspectionToJson(*subject_, checks_)](ProductionLog& log) {
                return log.addInspection(id, score, failing, json);
            });
        !kept)
        fail(kept.error());
    refreshBuilds();
}

void Session::refreshBuilds() {
    builds_.clear();
    if (!link_.canRead() || !subject_)
        return;
    auto known = link_.ask([name = QString::fromStdString(subject_->character->name)](ProductionLog& log) {
        return log.builds(name);
    });
    if (!known)
        return fail(known.error());
    builds_ = std::move(*known);
}

void Session::noteBuild(qint64 id, const QString& note) {
    const auto write = [this, id](const QString& text) {
        if (auto noted = link_.ask(
                [id, text, by = author()](ProductionLog& log) { return log.noteBuild(id, text, by); });
            !noted) {
            fail(noted.error());
            return false;
        }
        refreshBuilds();
        emit intakeChanged();
        return true;
    };
    QString before;
    for (const BuildState& b : builds_)
        if (b.build.id == id)
            before = b.note;
    if (note == before || !write(note))
        return;
    undo_.push(new LogCommand(
        tr("note on a build"), [=] { return write(note); }, [=] { return write(before); }));
}

void Session::findBuildAt(qint64 id, const QString& path) {
    const auto known =
        std::find_if(builds_.begin(), builds_.end(), [&](const BuildState& b) { return b.build.id == id; });
    if (known == builds_.end())
        return;
    jobs_.start(
        tr("Looking at %1").arg(QFileInfo(path).fileName()),
        [this, path, build = known->build](JobControl& control) -> std::function<void()> {
            ReadSettings settings;
            settings.progress = progressOf(control);
            const auto read = readCharacter(path.toStdString(), settings);
            if (wasStopped(read))
                return {};
            if (!read)
                return [this, message = read.error()] { fail(message); };
            if (QString::fromStdString(read->hash) != build.hash)
                return [this, path, build] {
                    fail(tr("%1 is not build %2 of %3: its content is another. Open it to enter it as a "
                            "build of its own.")
                             .arg(QFileInfo(path).fileName())
                             .arg(build.number)
                             .arg(build.character)
                             .toStdString());
                };
            return [this, path, build] {
                if (auto moved =
                        link_.ask([build, at = QFileInfo(path).absoluteFilePath()](ProductionLog& log) {
                            return log.build(build.character, build.hash, at);
                        });
                    !moved)
                    return fail(moved.error());
                refreshBuilds();
                emit intakeChanged();
                emit told(tr("Build %1 is found again.").arg(build.number));
            };
        });
}

QStringList Session::recent() const { return QSettings().value(QStringLiteral("recent")).toStringList(); }

void Session::remember(const QString& path) {
    QStringList list = recent();
    const QString whole = QFileInfo(path).absoluteFilePath();
    list.removeAll(whole);
    list.prepend(whole);
    QSettings().setValue(QStringLiteral("recent"), QStringList(list.mid(0, 12)));
}

bool Session::watchFolder(const QString& folder) {
    if (!watch_.setFolder(folder)) {
        fail(tr("Cannot watch %1: there is no such folder.").arg(folder).toStdString());
        return false;
    }
    if (folder.isEmpty())
        QSettings().remove(QStringLiteral("watchedFolder"));
    else
        QSettings().setValue(QStringLiteral("watchedFolder"), watch_.folder());
    emit intakeChanged();
    return true;
}

// A new build of the character that is open takes its place; another character does not push it away.
void Session::delivered(const QString& path) {
    const QString name = QString::fromStdString(characterNameOf(path.toStdString()));
    if (!subject_ || name == QString::fromStdString(subject_->character->name)) {
        emit told(tr("A new build arrived: %1.").arg(QFileInfo(path).fileName()));
        openFile(path);
        return;
    }
    remember(path);
    emit told(tr("%1 arrived in the watched folder. It is among the recent characters.")
                  .arg(QFileInfo(path).fileName()));
    emit intakeChanged();
}

} // namespace hobble
