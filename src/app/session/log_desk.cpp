// Opening the production log, following what others change in it, and what is kept while it is away.
#include "app/session/log_desk.h"

#include "log/defect_csv.h"
#include "log/defect_json.h"
#include "log/log_password.h"

#include <QFile>
#include <QFileInfo>
#include <QSettings>
#include <QStandardPaths>

#include <algorithm>
#include <utility>

namespace hobble {

namespace {

Result<QString> readInto(const QString& path, const QString& place, const QString& author) {
    auto log = ProductionLog::open(place);
    if (!log)
        return Error{log.error()};
    if (path.endsWith(QLatin1String(".json"), Qt::CaseInsensitive)) {
        const auto added = readLogJson(path, **log);
        if (!added)
            return Error{added.error()};
        return LogDesk::tr("%1 defects came in, %2 were known already.")
            .arg(added->defects)
            .arg(added->known);
    }
    const auto taken = takeCsv(path, **log, author);
    if (!taken)
        return Error{taken.error()};
    QString words =
        LogDesk::tr("%1 changes and %2 new defects came in.").arg(taken->changes).arg(taken->fresh);
    if (!taken->problems.isEmpty())
        words += LogDesk::tr(" Not taken: %1").arg(taken->problems.mid(0, 3).join(QLatin1Char(' ')));
    return words;
}

} // namespace

QString LogDesk::author() const {
    const QString fallback = qEnvironmentVariable("USER", QStringLiteral("lead"));
    return QSettings().value(QStringLiteral("author"), fallback).toString();
}

bool LogDesk::authorKnown() const { return QSettings().contains(QStringLiteral("author")); }

void LogDesk::setAuthor(const QString& name) {
    if (name.simplified().isEmpty())
        return;
    QSettings().setValue(QStringLiteral("author"), name.simplified());
    emit logChanged(QPrivateSignal());
}

QString LogDesk::keptPath() {
    return QStandardPaths::writableLocation(QStandardPaths::AppDataLocation) +
           QStringLiteral("/kept-edits.json");
}

LogDesk::LogDesk(Shared& shared) : Desk(shared) { watch(); }

void LogDesk::watch() {
    connect(&link_, &LogLink::opened, this, &LogDesk::logOpened);
    connect(&link_, &LogLink::passwordWanted, this, &LogDesk::askForPassword);
    connect(&link_, &LogLink::changedByOthers, this, &LogDesk::refreshLater);
    connect(&link_, &LogLink::late, this, [this] {
        refreshLater();
        emit stateChanged(QPrivateSignal());
    });
    connect(&link_, &LogLink::lost, this, [this] {
        reading_ = false;
        emit stateChanged(QPrivateSignal());
    });
    connect(&link_, &LogLink::cameBack, this, [this] {
        refreshLater();
        emit stateChanged(QPrivateSignal());
        tell(keptEdits().isEmpty()
                 ? tr("The log answers again.")
                 : tr("The log answers again. %n changes were kept; look at them on the Log page.", nullptr,
                      int(keptEdits().size())));
    });
}

void LogDesk::open(const QString& place) {
    forgetUndo();
    passwordTried_ = Tried::Nothing;
    passwordToKeep_.clear();
    if (const auto error = link_.open(place))
        return logOpened(*error);
    emit stateChanged(QPrivateSignal());
}

// The keyring is asked before the person is.
void LogDesk::askForPassword() {
    const QString place = link_.place();
    usePassword(place, {}); // what was not taken is tried no more
    emit stateChanged(QPrivateSignal());
    const auto address = LogAddress::parse(place);
    if (!address || passwordTried_ != Tried::Nothing)
        return void(emit passwordWanted(passwordTried_ == Tried::Typed, QPrivateSignal()));
    passwordTried_ = Tried::Keyring;
    keyring_.find(passwordKey(*address), [this, place](const QString& password) {
        if (place != link_.place())
            return; // another log was opened meanwhile
        if (password.isEmpty())
            return void(emit passwordWanted(false, QPrivateSignal()));
        usePassword(place, password);
        (void)link_.open(place);
        emit stateChanged(QPrivateSignal());
    });
}

void LogDesk::givePassword(const QString& password, bool keep) {
    passwordTried_ = Tried::Typed;
    passwordToKeep_ = keep ? password : QString();
    usePassword(link_.place(), password);
    (void)link_.open(link_.place());
    emit stateChanged(QPrivateSignal());
}

void LogDesk::withoutPassword() {
    passwordToKeep_.clear();
    fail(tr("The log %1 is not open: its server wants a password.").arg(link_.place()));
}

QString LogDesk::wireWords() const {
    const auto address = LogAddress::parse(link_.place());
    if (!link_.canRead() || !address || !address->postgres)
        return {};
    const ProductionLog::Wire wire = link_.wire();
    return !wire.encryption.isEmpty() ? tr("encrypted (%1)").arg(wire.encryption)
           : wire.leavesTheMachine    ? tr("not encrypted")
                                      : tr("on this machine");
}

void LogDesk::logOpened(const QString& error) {
    if (!error.isEmpty()) {
        fail(error);
        return void(emit stateChanged(QPrivateSignal()));
    }
    if (!link_.canRead())
        return;
    if (const QString password = std::exchange(passwordToKeep_, {}); !password.isEmpty())
        if (const auto address = LogAddress::parse(link_.place()))
            keyring_.keep(passwordKey(*address), password, [this](const QString& why) {
                if (why.isEmpty())
                    tell(tr("The password is kept in the keyring."));
                else
                    fail(tr("The keyring does not keep the password: %1. It is used until Hobble is closed.")
                             .arg(why));
            });
    if (link_.wire().leavesTheMachine && link_.wire().encryption.isEmpty())
        tell(tr("The connection to %1 is not encrypted: what goes over it can be read on the way.")
                 .arg(link_.place()));
    list_.setDefects({});
    newestEvent_ = 0;
    marks_.clear();
    people_.clear();
    merged_.clear();
    reference_.reset();
    kept_ = std::make_unique<KeptEdits>(keptPath(), link_.place());
    if (link_.state() == LogState::ReadOnly)
        fail(tr("The log %1 is read-only: it can be looked at, and nothing will be written.")
                 .arg(link_.place()));
    emit opened(QPrivateSignal());
    refresh();
    emit stateChanged(QPrivateSignal());
}

Result<Build> LogDesk::enterBuild(const QString& character, const QString& hash, const QString& formerHash,
                                  const QString& path) {
    build_ = {};
    character_ = character;
    marks_.clear();
    if (!link_.canRead())
        return build_;
    auto build = link_.ask([=](ProductionLog& log) { return log.build(character, hash, path, formerHash); });
    if (build)
        build_ = *build;
    readMarks();
    return build;
}

struct LogDesk::News {
    bool whole = false; // not only what changed
    DefectList list;    // the whole, made where nobody waits
    QVector<Defect> defects;
    QVector<std::pair<qint64, QString>> comments;
    QVector<Person> people;
    QVector<std::pair<qint64, QByteArray>> merged;
    QHash<qint64, QByteArray> marks;
    std::optional<Reference> reference;
    QVector<TeamFilter> filters;
    qint64 newest = 0;
};

Result<LogDesk::News> LogDesk::newsOf(const ProductionLog& log, qint64 after, const QString& character) {
    News out;
    out.whole = after == 0;
    const auto newest = log.newestEvent();
    if (!newest)
        return Error{newest.error()};
    out.newest = *newest;
    auto defects = log.defects({.changedAfter = after});
    auto comments = log.comments(after);
    auto people = log.people();
    auto merged = log.mergedFindings();
    auto reference = log.reference();
    auto filters = log.teamFilters();
    if (!defects || !comments || !people || !merged || !reference || !filters)
        return Error{!defects    ? defects.error()
                     : !comments ? comments.error()
                     : !people   ? people.error()
                     : !merged   ? merged.error()
                     : !filters  ? filters.error()
                                 : reference.error()};
    out.reference = std::move(*reference);
    out.filters = std::move(*filters);
    if (out.whole) {
        out.list.setDefects(std::move(*defects));
        out.list.addComments(*comments);
    } else {
        out.defects = std::move(*defects);
        out.comments = std::move(*comments);
    }
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

void LogDesk::takeNews(News news) {
    ++taken_;
    reading_ = false;
    if (news.whole) {
        list_ = std::move(news.list);
    } else {
        list_.update(news.defects);
        list_.addComments(news.comments);
    }
    for (auto m = news.marks.begin(); m != news.marks.end(); ++m)
        marks_[m.key()] = m.value();
    newestEvent_ = std::max(newestEvent_, news.newest);
    people_ = std::move(news.people);
    merged_ = std::move(news.merged);
    reference_ = std::move(news.reference);
    teamFilters_ = std::move(news.filters);
    readAt_ = QDateTime::currentDateTime();
    emit logChanged(QPrivateSignal());
}

// What nobody in this window has asked for is not waited for. Whatever was taken since it was asked for is
// newer.
void LogDesk::refreshLater() {
    if (!link_.canRead())
        return;
    if (newestEvent_ == 0)
        return refresh();
    if (reading_) { // and may have read already what has changed again
        readAgain_ = true;
        return;
    }
    reading_ = true;
    readAgain_ = false;
    link_.tell([after = newestEvent_,
                character = character_](ProductionLog& log) { return newsOf(log, after, character); },
               [this, taken = taken_](Result<News> news) {
                   reading_ = false;
                   if (!news)
                       return fail(news.error());
                   if (taken_ == taken)
                       takeNews(std::move(*news));
                   if (readAgain_)
                       refreshLater();
               });
}

void LogDesk::refresh() {
    if (!link_.canRead())
        return;
    constexpr qint64 many = 3000; // defects that take longer to read than the window should wait
    if (newestEvent_ == 0) {
        const auto newest = link_.ask([](ProductionLog& log) { return log.newestEvent(); });
        if (!newest)
            return fail(newest.error());
        if (*newest > many) {
            if (!std::exchange(reading_, true))
                link_.tell([character = character_](ProductionLog& log) { return newsOf(log, 0, character); },
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
    auto news = link_.ask([after = newestEvent_, character = character_](ProductionLog& log) {
        return newsOf(log, after, character);
    });
    if (!news)
        return fail(news.error());
    const bool whole = news->whole;
    takeNews(std::move(*news));
    if (whole)
        readMarks();
}

// Where the defects of this character were seen, to find them again.
void LogDesk::readMarks() {
    if (!link_.canRead() || character_.isEmpty())
        return;
    const auto marked = link_.ask([character = character_](ProductionLog& log) {
        return log.defects({.character = character, .marks = true});
    });
    if (!marked)
        return fail(marked.error());
    marks_.clear();
    for (const Defect& d : *marked)
        marks_[d.id] = d.facts.marks;
}

int LogDesk::openDefects() const {
    return static_cast<int>(
        std::count_if(defects().begin(), defects().end(), [](const Defect& d) { return isOpen(d.state); }));
}

Result<Defect> LogDesk::whole(qint64 id) {
    return link_.ask([id](ProductionLog& log) { return log.defect(id); });
}

Result<QVector<DefectEvent>> LogDesk::historyOf(qint64 id) {
    return link_.ask([id](ProductionLog& log) { return log.history(id); });
}

void LogDesk::askMentions(const QString& person, std::function<void(QSet<qint64>)> then) {
    link_.tell([person](ProductionLog& log) { return log.mentionsOf(person); },
               [this, then = std::move(then)](const Result<QVector<qint64>>& found) {
                   if (!found)
                       return fail(found.error());
                   then(QSet<qint64>(found->begin(), found->end()));
               });
}

void LogDesk::writeKeptEdits() {
    if (!kept_ || kept_->edits().isEmpty())
        return;
    int written = 0;
    QStringList clashes;
    for (int i = 0; i < kept_->edits().size();) {
        const auto done =
            link_.ask([edit = kept_->edits()[i]](ProductionLog& log) { return writeKept(log, edit); });
        if (!done) { // a move that is no longer allowed, or the log is gone again: it stays kept
            fail(done.error());
            if (notAnswered())
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
    refresh();
    emit stateChanged(QPrivateSignal());
    if (!clashes.isEmpty())
        fail(tr("%1 Still kept: %2. Change it again or drop it.").arg(clashes.front()).arg(clashes.size()));
    else if (written)
        tell(written == 1 ? tr("What was kept is written.")
                          : tr("All %n that were kept are written.", nullptr, int(written)));
}

void LogDesk::dropKeptEdit(int index) {
    if (!kept_)
        return;
    if (auto done = index < 0 ? kept_->clear() : kept_->remove(index); !done)
        fail(done.error());
    emit stateChanged(QPrivateSignal());
}

void LogDesk::work(const QString& title, std::function<Result<QString>(JobControl&)> does) {
    jobs().start(title, [this, does = std::move(does)](JobControl& control) -> std::function<void()> {
        const auto done = does(control);
        return [this, done] {
            if (!done)
                return fail(done.error());
            refresh();
            tell(*done);
        };
    });
}

void LogDesk::takeIn(const QString& path) {
    if (!canLog())
        return;
    // with a connection of its own, so that the page goes on meanwhile
    work(tr("Taking in %1").arg(QFileInfo(path).fileName()),
         [path, place = link_.place(), by = author()](JobControl&) { return readInto(path, place, by); });
}

void LogDesk::backUp(const QString& path) {
    work(tr("Backing up the log"), [path, place = link_.place()](JobControl&) -> Result<QString> {
        auto log = ProductionLog::open(place);
        if (!log)
            return Error{log.error()};
        if (const auto made = (*log)->backUp(path); !made)
            return Error{made.error()};
        return tr("The whole log is in %1.").arg(path);
    });
}

void LogDesk::restore(const QString& backup) {
    const auto address = LogAddress::parse(link_.place());
    if (!address || address->postgres)
        return fail(tr("A server's log is restored with “hobble-cli log move”, into an empty database."));
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
        return fail(
            tr("Cannot restore: %1 cannot be written beside the log. Nothing was changed.").arg(part));
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
        return fail(tr("Cannot restore: the folder of %1 is protected.").arg(path));
    open(path);
    if (link_.canRead())
        tell(tr("Restored from %1. What was there before is kept in %2.").arg(backup, aside));
}

} // namespace hobble
