// Opening the production log, following what others change in it, and what is kept while it is away.
#include "app/session/session.h"
#include "io/run_curves.h"
#include "log/defect_csv.h"
#include "log/defect_json.h"
#include "log/finding_defect.h"

#include <QFile>
#include <QFileInfo>
#include <QJsonDocument>
#include <QJsonObject>
#include <QSettings>
#include <QStandardPaths>

#include <algorithm>

namespace hobble {

namespace {

Result<QString> takeIn(const QString& path, const QString& place, const QString& author) {
    auto log = ProductionLog::open(place);
    if (!log)
        return Error{log.error()};
    if (path.endsWith(QLatin1String(".json"), Qt::CaseInsensitive)) {
        const auto added = readLogJson(path, **log);
        if (!added)
            return Error{added.error()};
        return Session::tr("%1 defects came in, %2 were known already.")
            .arg(added->defects)
            .arg(added->known);
    }
    const auto taken = takeCsv(path, **log, author);
    if (!taken)
        return Error{taken.error()};
    QString words =
        Session::tr("%1 changes and %2 new defects came in.").arg(taken->changes).arg(taken->fresh);
    if (!taken->problems.isEmpty())
        words += Session::tr(" Not taken: %1").arg(taken->problems.mid(0, 3).join(QLatin1Char(' ')));
    return words;
}

} // namespace

QString Session::author() const {
    const QString fallback = qEnvironmentVariable("USER", QStringLiteral("lead"));
    return QSettings().value(QStringLiteral("author"), fallback).toString();
}

void Session::setAuthor(const QString& name) {
    QSettings().setValue(QStringLiteral("author"), name.simplified());
    emit logChanged();
}

QString Session::keptPath() {
    return QStandardPaths::writableLocation(QStandardPaths::AppDataLocation) +
           QStringLiteral("/kept-edits.json");
}

void Session::watchLog() {
    connect(&link_, &LogLink::opened, this, &Session::logOpened);
    connect(&link_, &LogLink::changedByOthers, this, &Session::refreshLog);
    connect(&link_, &LogLink::late, this, [this] {
        refreshLog();
        emit logStateChanged();
    });
    connect(&link_, &LogLink::lost, this, [this] {
        reading_ = false;
        emit logStateChanged();
    });
    connect(&link_, &LogLink::cameBack, this, [this] {
        refreshLog();
        emit logStateChanged();
        emit told(keptEdits().isEmpty()
                      ? tr("The log answers again.")
                      : tr("The log answers again. %1 changes were kept; look at them on the Log page.")
                            .arg(keptEdits().size()));
    });
}

void Session::openLog(const QString& place) {
    undo_.clear();
    if (const auto error = link_.open(place))
        return logOpened(*error);
    emit logStateChanged();
}

void Session::logOpened(const QString& error) {
    if (!error.isEmpty()) {
        fail(error.toStdString());
        return emit logStateChanged();
    }
    if (!link_.canRead())
        return;
    list_.setDefects({});
    newestEvent_ = 0;
    marks_.clear();
    people_.clear();
    merged_.clear();
    kept_ = std::make_unique<KeptEdits>(keptPath(), link_.place());
    if (link_.state() == LogState::ReadOnly)
        emit failed(tr("The log %1 is read-only: it can be looked at, and nothing will be written.")
                        .arg(link_.place()));
    enterBuild();
    refreshLog();
    emit intakeChanged();
    emit logStateChanged();
}

void Session::enterBuild() {
    build_ = {};
    builds_.clear();
    marks_.clear();
    if (!link_.canRead() || !subject_)
        return;
    const Character& c = *subject_->character;
    auto build = link_.ask([name = QString::fromStdString(c.name), hash = QString::fromStdString(c.hash),
                            path = QFileInfo(QString::fromStdString(c.source)).absoluteFilePath()](
                               ProductionLog& log) { return log.build(name, hash, path); });
    if (build)
        build_ = *build;
    else if (link_.state() != LogState::ReadOnly) // told once the character is there
        QMetaObject::invokeMethod(
            this, [this, message = build.error()] { fail(message); }, Qt::QueuedConnection);
    keepInspection();
    loadEarlier();
    readMarks();
}

void Session::loadEarlier() {
    earlier_.reset();
    if (!link_.canRead() || !subject_ || !build_.id)
        return;
    const auto kept = link_.ask([id = build_.id](ProductionLog& log) { return log.runBefore(id); });
    if (!kept)
        return fail(kept.error());
    if (!*kept)
        return;
    auto curves = curvesFromJson((*kept)->curves.toStdString(), subject_->character->skeleton);
    if (!curves)
        return fail(QStringLiteral("The run of build %1 in the log cannot be laid beside this one: %2.")
                        .arg((*kept)->build.number)
                        .arg(QString::fromStdString(curves.error()))
                        .toStdString());
    earlier_ = Earlier{(*kept)->build.number, std::move(*curves)};
}

struct Session::News {
    bool whole = false; // not only what changed
    DefectList list;    // the whole, made where nobody waits
    QVector<Defect> defects;
    QVector<Person> people;
    QVector<std::pair<qint64, QByteArray>> merged;
    QHash<qint64, QByteArray> marks;
    qint64 newest = 0;
};

Result<Session::News> Session::newsOf(const ProductionLog& log, qint64 after, const QString& character) {
    News out;
    out.whole = after == 0;
    const auto newest = log.newestEvent();
    if (!newest)
        return Error{newest.error()};
    out.newest = *newest;
    auto defects = log.defects({.changedAfter = after});
    auto people = log.people();
    auto merged = log.mergedFindings();
    if (!defects || !people || !merged)
        return Error{!defects ? defects.error() : !people ? people.error() : merged.error()};
    if (out.whole)
        out.list.setDefects(std::move(*defects));
    else
        out.defects = std::move(*defects);
    out.people = std::move(*people);
    out.merged = std::move(*merged);
    if (!character.isEmpty()) {
        const auto marked = log.defects({.character = character, .changedAfter = after, .marks = true});
        if (!marked)
            return Error{marked.error()};
        for (const Defect& d : *marked)
            out.marks[d.id] = d.facts.marks;
    }
    return out;
}

void Session::takeNews(News news) {
    reading_ = false;
    if (news.whole)
        list_ = std::move(news.list);
    else
        list_.update(news.defects);
    for (auto m = news.marks.begin(); m != news.marks.end(); ++m)
        marks_[m.key()] = m.value();
    newestEvent_ = std::max(newestEvent_, news.newest);
    people_ = std::move(news.people);
    merged_ = std::move(news.merged);
    logReadAt_ = QDateTime::currentDateTime();
    matchDefects();
    emit logChanged();
}

void Session::refreshLog() {
    if (!link_.canRead())
        return;
    if (built_) // other leads' versions of the plan
        refreshPlanVersions();
    constexpr qint64 many = 3000; // defects that take longer to read than the window should wait
    const QString character = subject_ ? QString::fromStdString(subject_->character->name) : QString();
    if (newestEvent_ == 0) {
        const auto newest = link_.ask([](ProductionLog& log) { return log.newestEvent(); });
        if (!newest)
            return fail(newest.error());
        if (*newest > many) {
            if (!std::exchange(reading_, true))
                link_.tell([character](ProductionLog& log) { return newsOf(log, 0, character); },
                           [this](const Result<News>& news) {
                               if (!news) {
                                   reading_ = false;
                                   return fail(news.error());
                               }
                               takeNews(*news);
                               readMarks();
                           });
            return;
        }
    }
    auto news = link_.ask(
        [after = newestEvent_, character](ProductionLog& log) { return newsOf(log, after, character); });
    if (!news)
        return fail(news.error());
    const bool whole = news->whole;
    takeNews(std::move(*news));
    if (whole)
        readMarks();
}

// Where the defects of this character were seen, to find them again.
void Session::readMarks() {
    if (!link_.canRead() || !subject_)
        return;
    const auto marked =
        link_.ask([name = QString::fromStdString(subject_->character->name)](ProductionLog& log) {
            return log.defects({.character = name, .marks = true});
        });
    if (!marked)
        return fail(marked.error());
    marks_.clear();
    for (const Defect& d : *marked)
        marks_[d.id] = d.facts.marks;
    matchDefects();
}

int Session::openDefects() const {
    return static_cast<int>(
        std::count_if(defects().begin(), defects().end(), [](const Defect& d) { return isOpen(d.state); }));
}

qint64 Session::defectOf(int finding) const {
    return finding >= 0 && finding < static_cast<int>(defectOf_.size())
               ? defectOf_[static_cast<std::size_t>(finding)]
               : 0;
}

void Session::matchDefects() {
    defectOf_.clear();
    if (!subject_ || !run_)
        return;
    std::vector<FindingMark> now, logged;
    for (const Finding& f : run_->findings)
        now.push_back(markOf(*subject_, f));
    std::vector<qint64> ids;
    const QString character = QString::fromStdString(subject_->character->name);
    const auto add = [&](const Defect* d, const std::optional<FindingMark>& mark) {
        if (!d || !mark || d->build.character != character || d->state == DefectState::Withdrawn)
            return;
        logged.push_back(*mark);
        ids.push_back(d->state == DefectState::Duplicate && d->duplicateOf ? d->duplicateOf : d->id);
    };
    for (auto m = marks_.begin(); m != marks_.end(); ++m)
        if (const Defect* d = defectCalled(m.key())) {
            DefectFacts facts = d->facts;
            facts.marks = m.value();
            add(d, markOf(facts));
        }
    for (const auto& [id, json] : merged_)
        add(defectCalled(id), mergedFromJson(json));
    for (int match : matchFindings(now, logged))
        defectOf_.push_back(match < 0 ? 0 : ids[static_cast<std::size_t>(match)]);
}

Result<Defect> Session::wholeDefect(qint64 id) {
    return link_.ask([id](ProductionLog& log) { return log.defect(id); });
}

Result<QVector<DefectEvent>> Session::historyOf(qint64 id) {
    return link_.ask([id](ProductionLog& log) { return log.history(id); });
}

void Session::askMentions(const QString& person, std::function<void(QSet<qint64>)> then) {
    link_.tell([person](ProductionLog& log) { return log.mentionsOf(person); },
               [this, then = std::move(then)](const Result<QVector<qint64>>& found) {
                   if (!found)
                       return fail(found.error());
                   then(QSet<qint64>(found->begin(), found->end()));
               });
}

void Session::writeKeptEdits() {
    if (!kept_ || kept_->edits().isEmpty())
        return;
    int written = 0;
    QStringList clashes;
    for (int i = 0; i < kept_->edits().size();) {
        const auto done =
            link_.ask([edit = kept_->edits()[i]](ProductionLog& log) { return writeKept(log, edit); });
        if (!done) { // a move that is no longer allowed, or the log is gone again: it stays kept
            fail(done.error());
            if (link_.state() == LogState::Lost)
                break;
            ++i;
            continue;
        }
        if (done->has_value()) {
            clashes << (*done)->words();
            ++i;
            continue;
        }
        ++written;
        kept_->remove(i);
    }
    refreshLog();
    emit logStateChanged();
    if (!clashes.isEmpty())
        emit failed(
            tr("%1 Still kept: %2. Change it again or drop it.").arg(clashes.front()).arg(clashes.size()));
    else if (written)
        emit told(written == 1 ? tr("What was kept is written.")
                               : tr("All %1 that were kept are written.").arg(written));
}

void Session::dropKeptEdit(int index) {
    if (!kept_)
        return;
    if (auto done = index < 0 ? kept_->clear() : kept_->remove(index); !done)
        fail(done.error());
    emit logStateChanged();
}

void Session::takeIntoLog(const QString& path) {
    if (!canLog())
        return;
    // with a connection of its own, so that the page goes on meanwhile
    jobs_.start(tr("Taking in %1").arg(QFileInfo(path).fileName()),
                [this, path, place = link_.place(), by = author()](JobControl&) -> std::function<void()> {
                    const auto done = takeIn(path, place, by);
                    return [this, done] {
                        if (!done)
                            return fail(done.error());
                        refreshLog();
                        emit told(*done);
                    };
                });
}

void Session::backUpLog(const QString& path) {
    jobs_.start(tr("Backing up the log"),
                [this, path, place = link_.place()](JobControl&) -> std::function<void()> {
                    auto log = ProductionLog::open(place);
                    const auto made = log ? (*log)->backUp(path) : Result<Done>(Error{log.error()});
                    return [this, path, made] {
                        if (!made)
                            return fail(made.error());
                        emit told(tr("The whole log is in %1.").arg(path));
                    };
                });
}

void Session::restoreLog(const QString& backup) {
    const auto address = LogAddress::parse(link_.place());
    if (!address || address->postgres)
        return fail("A server's log is restored with “hobble-cli log move”, into an empty database.");
    const QString path = address->path;
    {
        const auto whole = ProductionLog::open(backup); // is it one?
        if (!whole)
            return fail(whole.error());
    }
    const QString part = path + QStringLiteral(".part");
    QFile::remove(part);
    if (!QFile::copy(backup, part)) {
        QFile::remove(part);
        return fail(tr("Cannot restore: %1 cannot be written beside the log. Nothing was changed.")
                        .arg(part)
                        .toStdString());
    }
    QFile::setPermissions(part, QFile::permissions(part) | QFile::WriteOwner);
    link_.close(); // nothing of it stays open
    const QString aside =
        QStringLiteral("%1.before-restore-%2")
            .arg(path, QDateTime::currentDateTime().toString(QStringLiteral("yyyyMMdd-HHmmss")));
    for (const char* rest : {"-wal", "-shm"})
        if (QFile::exists(path + QLatin1String(rest)))
            QFile::rename(path + QLatin1String(rest), aside + QLatin1String(rest));
    if ((QFile::exists(path) && !QFile::rename(path, aside)) || !QFile::rename(part, path))
        return fail(tr("Cannot restore: the folder of %1 is protected.").arg(path).toStdString());
    openLog(path);
    if (link_.canRead())
        emit told(tr("Restored from %1. What was there before is kept in %2.").arg(backup, aside));
}

} // namespace hobble
