// Opening a build, what its joints are, and builds that are delivered.
#include "app/session/build_desk.h"

#include "core/measure/chains_by_place.h"
#include "core/pose/coverage.h"
#include "io/character_read.h"
#include "io/file_write.h"
#include "io/intake_limits_json.h"
#include "log/file_name.h"

#include <QDir>
#include <QFileInfo>
#include <QSettings>
#include <QTimer>

namespace hobble {

namespace {

const QString kPlacings = QStringLiteral("placings"); // a map: character → unit and axis

// Every profile that can be read; one that cannot is nobody's loss.
std::vector<NamingProfile> keptProfiles() {
    std::vector<NamingProfile> out;
    const QDir folder(BuildDesk::namingFolder());
    for (const QString& file : folder.entryList({QStringLiteral("*.json")}, QDir::Files, QDir::Time))
        if (auto profile = readNaming(folder.filePath(file).toStdString()))
            out.push_back(std::move(*profile));
    return out;
}

} // namespace

BuildDesk::BuildDesk(Shared& shared, LogDesk& log) : Desk(shared), log_(log) {
    if (QFile::exists(limitsPath())) {
        if (auto kept = readIntakeLimits(limitsPath().toStdString()))
            limits_ = *kept;
        else // the window is not there yet to be told
            QTimer::singleShot(0, this, [this, message = kept.error()] { fail(message); });
    }
    const QVariantMap placings = QSettings().value(kPlacings).toMap();
    for (auto it = placings.begin(); it != placings.end(); ++it)
        if (const QVariantList said = it->toList(); said.size() == 2)
            keepPlacing(it.key().toStdString(), {said[0].toDouble(), said[1].toInt()});
    connect(&watch_, &FolderWatch::arrived, this, &BuildDesk::delivered);
    connect(&jobs(), &JobQueue::idle, this, &BuildDesk::takeDelivered);
    connect(&watch_, &FolderWatch::lost, this, [this](const QString& folder) {
        QSettings().remove(QStringLiteral("watchedFolder"));
        fail(tr("The watched folder %1 is gone. Watch it again once it is back.").arg(folder));
        emit intakeChanged(QPrivateSignal());
    });
    if (const QString folder = QSettings().value(QStringLiteral("watchedFolder")).toString();
        !folder.isEmpty())
        watch_.setFolder(folder);
    connect(&log, &LogDesk::opened, this, [this] {
        enterInLog();
        emit intakeChanged(QPrivateSignal());
    });
}

QString BuildDesk::namingFolder() { return settingsFile(QStringLiteral("naming")); }
QString BuildDesk::limitsPath() { return settingsFile(QStringLiteral("intake-limits.json")); }
QString BuildDesk::variantsFolder() { return settingsFile(QStringLiteral("variants")); }

QString BuildDesk::title() const {
    if (!build_)
        return {};
    QString title = QString::fromStdString(build_->character->name);
    title.replace(QLatin1Char('-'), QLatin1Char(' ')).replace(QLatin1Char('_'), QLatin1Char(' '));
    if (!title.isEmpty())
        title[0] = title[0].toUpper();
    return title;
}

void BuildDesk::open(const QString& path) {
    jobs().cancel();
    jobs().start(tr("Opening %1").arg(QFileInfo(path).fileName()),
                 [this, path, limits = limits_](JobControl& control) -> std::function<void()> {
                     const Progress progress = progressOf(control);
                     ReadSettings settings;
                     settings.progress = progress.within(0, 0.45);
                     auto read = readCharacter(path.toStdString(), settings);
                     if (wasStopped(read))
                         return [this] { tell(tr("Opening was stopped.")); };
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
                     const Prepared prepared =
                         prepare(character, {}, limits, corrections, progress.within(0.45, 1));
                     if (progress.stopped())
                         return [this] { tell(tr("Opening was stopped.")); };
                     return [this, path, prepared, corrections] { opened(path, prepared, corrections); };
                 });
}

bool BuildDesk::mayBePlaced() const { return build_ && hobble::mayBePlaced(build_->character->source); }

Placing BuildDesk::placing() const { return build_ ? placingOf(build_->character->name) : Placing(); }

void BuildDesk::setPlacing(const Placing& placing) {
    if (!mayBePlaced() || placing == this->placing())
        return;
    keepPlacing(build_->character->name, placing);
    QVariantMap all = QSettings().value(kPlacings).toMap();
    const QString name = QString::fromStdString(build_->character->name);
    if (placing == Placing())
        all.remove(name);
    else
        all[name] = QVariantList{placing.metresPerUnit, placing.up};
    QSettings().setValue(kPlacings, all);
    open(QString::fromStdString(build_->character->source));
}

void BuildDesk::opened(const QString& path, const Prepared& prepared,
                       const std::map<std::string, RoleCorrection>& corrections) {
    corrections_ = corrections;
    remember(path);
    worn_ = {};
    takePrepared(prepared);
    loadVariants();
    offerNaming(prepared.chains);
    enterInLog();
    tellAll(Change::Opened);
}

std::shared_ptr<const PosedFrame> BuildDesk::neutralFrame(std::shared_ptr<const Subject> subject) {
    PoseRequest still;
    still.pose = Pose::neutral(subject->character->skeleton);
    still.subject = std::move(subject);
    return std::make_shared<const PosedFrame>(computeFrame(still));
}

BuildDesk::Prepared BuildDesk::prepare(std::shared_ptr<const Character> character, const Variant& worn,
                                       const IntakeLimits& limits,
                                       const std::map<std::string, RoleCorrection>& corrections,
                                       const Progress& progress) {
    Prepared out;
    const double share = worn.changesNothing() ? 0.75 : 0.4;
    out.build =
        std::make_shared<const Subject>(prepareSubject(character, progress.within(0, share), corrections));
    if (progress.stopped())
        return out;
    out.checks = inspect(*out.build, limits, progress.within(share, share + 0.2));
    if (progress.stopped())
        return out;
    out.chains = rolesOfChains(*out.build);
    out.buildNeutral = neutralFrame(out.build);
    out.worn = out.build;
    out.wornNeutral = out.buildNeutral;
    out.skinHeld = skinHeldBy(*out.worn->character);
    if (worn.changesNothing())
        return out;
    out.worn = std::make_shared<const Subject>(
        prepareSubject(std::make_shared<const Character>(varied(*character, worn)),
                       progress.within(share + 0.2, 0.95), corrections));
    if (progress.stopped())
        return out;
    out.wornNeutral = neutralFrame(out.worn);
    out.skinHeld = skinHeldBy(*out.worn->character);
    return out;
}

void BuildDesk::takePrepared(const Prepared& prepared) {
    build_ = prepared.build;
    subject_ = prepared.worn;
    neutral_ = prepared.wornNeutral;
    skinHeld_ = prepared.skinHeld;
    checks_ = prepared.checks;
    check_ = -1;
    view_.setSubject(build_, prepared.buildNeutral);
}

void BuildDesk::tellAll(Change change) {
    emit subjectReplaced(change, QPrivateSignal());
    emit characterChanged(QPrivateSignal());
    emit variantsChanged(QPrivateSignal());
    if (change != Change::Worn)
        emit intakeChanged(QPrivateSignal());
    emit characterSettled(change, QPrivateSignal());
}

void BuildDesk::correctRole(int joint, Role role, Side side) {
    if (!build_ || joint < 0 || joint >= build_->character->skeleton.size())
        return;
    const JointRole& now = build_->roles[static_cast<std::size_t>(joint)];
    const std::string& name = build_->character->skeleton.name[static_cast<std::size_t>(joint)];
    if (now.role == role && now.side == side && now.confidence >= 1)
        return;
    auto wanted = corrections_;
    wanted[name] = {role, side};
    const auto before = corrections_;
    setCorrections(wanted);
    undoable(
        tr("correct what %1 is").arg(QString::fromStdString(name)),
        [=, this] { return setCorrections(wanted); }, [=, this] { return setCorrections(before); });
}

void BuildDesk::useOfferedNaming() {
    if (!build_ || !offered_)
        return;
    auto wanted = corrections_;
    for (const auto& [name, c] : correctionsFor(*offered_, build_->character->skeleton))
        wanted.insert({name, c});
    const auto before = corrections_;
    offered_.reset();
    setCorrections(wanted);
    undoable(
        tr("take over what joints are"), [=, this] { return setCorrections(wanted); },
        [=, this] { return setCorrections(before); });
}

// Roles decide over limbs, axes and pairs: everything that follows from them is made anew. What is worn stays
// worn.
bool BuildDesk::setCorrections(const std::map<std::string, RoleCorrection>& corrections) {
    corrections_ = corrections;
    const auto character = build();
    NamingProfile profile;
    profile.name = character->name;
    for (const std::string& n : character->skeleton.name)
        profile.known.insert(withoutNamespace(n));
    for (const auto& [name, c] : corrections)
        profile.corrections[withoutNamespace(name)] = c;
    QDir().mkpath(namingFolder());
    const QString file = namingFolder() + QLatin1Char('/') +
                         safeFileName(QString::fromStdString(profile.name)) + QStringLiteral(".json");
    if (auto written = writeFile(file.toStdString(), namingToJson(profile)); !written)
        fail(written.error());
    jobs().cancel();
    jobs().start(tr("Reading the joints anew"),
                 [this, character, worn = worn_, limits = limits_,
                  corrections](JobControl& control) -> std::function<void()> {
                     const Prepared prepared =
                         prepare(character, worn, limits, corrections, progressOf(control));
                     if (control.cancelled)
                         return [this] {
                             tell(tr("Stopped: what was said of the joints holds from when the character is "
                                     "opened again."));
                         };
                     return [this, character, prepared] {
                         if (character != build())
                             return;
                         takePrepared(prepared);
                         keepInspection();
                         tellAll(Change::Roles);
                     };
                 });
    return true;
}

void BuildDesk::offerNaming(const std::map<std::string, RoleCorrection>& chains) {
    offered_.reset();
    offersChains_ = false;
    if (!chains.empty()) {
        offersChains_ = true;
        offered_ = NamingProfile{build_->character->name, {}, {}};
        for (const std::string& name : build_->character->skeleton.name)
            offered_->known.insert(withoutNamespace(name));
        for (const auto& [name, c] : chains)
            offered_->corrections[withoutNamespace(name)] = c;
        return;
    }
    double best = kGoodFit;
    for (NamingProfile& p : keptProfiles()) {
        if (p.name == build_->character->name)
            continue;
        const double fits = fit(p, build_->character->skeleton);
        bool changes = false;
        for (const auto& [name, c] : correctionsFor(p, build_->character->skeleton)) {
            const JointRole& now =
                build_->roles[static_cast<std::size_t>(build_->character->skeleton.find(name))];
            changes |= now.role != c.role || now.side != c.side;
        }
        if (changes && fits >= best) {
            best = fits;
            offered_ = std::move(p);
        }
    }
}

QStringList BuildDesk::recent() const { return QSettings().value(QStringLiteral("recent")).toStringList(); }

void BuildDesk::remember(const QString& path) {
    QStringList list = recent();
    const QString whole = QFileInfo(path).absoluteFilePath();
    list.removeAll(whole);
    list.prepend(whole);
    QSettings().setValue(QStringLiteral("recent"), QStringList(list.mid(0, 12)));
}

bool BuildDesk::watchFolder(const QString& folder) {
    if (!watch_.setFolder(folder)) {
        fail(tr("Cannot watch %1: there is no such folder.").arg(folder));
        return false;
    }
    if (folder.isEmpty())
        QSettings().remove(QStringLiteral("watchedFolder"));
    else
        QSettings().setValue(QStringLiteral("watchedFolder"), watch_.folder());
    emit intakeChanged(QPrivateSignal());
    return true;
}

// Nothing that is under way is given up for a delivery, not even the opening of the one before it.
void BuildDesk::delivered(const QString& path) {
    delivered_.removeAll(path);
    delivered_ << path;
    if (!jobs().busy())
        takeDelivered();
}

// A new build of the character that is open takes its place; another character does not push it away.
void BuildDesk::takeDelivered() {
    while (!delivered_.isEmpty() && !jobs().busy()) {
        const QString path = delivered_.takeFirst();
        const QString file = QFileInfo(path).fileName();
        if (!build_ || characterNameOf(path.toStdString()) == build_->character->name) {
            tell(tr("A new build arrived: %1.").arg(file));
            open(path);
            continue;
        }
        remember(path);
        tell(tr("%1 arrived in the watched folder. It is among the recent characters.").arg(file));
        emit intakeChanged(QPrivateSignal());
    }
}

} // namespace hobble
