#include "cli/log_commands.h"

#include "io/file_read.h"
#include "io/file_write.h"
#include "log/date_words.h"
#include "log/defect_csv.h"
#include "log/defect_json.h"
#include "log/defect_list.h"
#include "log/log_copy.h"
#include "log/proposal.h"
#include "log/run_entry.h"
#include "log/team_roles.h"
#include "story/packet.h"
#include "story/review_pdf.h"

#include <QDir>
#include <QFileInfo>
#include <QJsonArray>
#include <QJsonDocument>

#include <CLI/CLI.hpp>

#include <cstdio>
#include <unistd.h>

namespace hobble::cli {

namespace {

QString q(const std::string& s) { return QString::fromStdString(s); }

void print(const QJsonObject& o) {
    const QByteArray bytes = QJsonDocument(o).toJson();
    std::fwrite(bytes.constData(), 1, static_cast<std::size_t>(bytes.size()), stdout);
}

QJsonObject envelope(const QJsonArray& defects) {
    return {{QStringLiteral("format"), QStringLiteral("hobble-defects")},
            {QStringLiteral("version"), 1},
            {QStringLiteral("defects"), defects}};
}

// Opens the log that is asked for; one that is only to be read is not made where there is none.
Result<std::unique_ptr<ProductionLog>> open(const LogOptions& o, bool toRead = true) {
    const auto address = LogAddress::parse(q(o.place));
    if (!address)
        return Error{address.error()};
    if (toRead && !address->postgres && !QFileInfo::exists(address->path))
        return Error{"there is no log at " + o.place};
    return ProductionLog::open(q(o.place));
}

QString author(const LogOptions& o) {
    return o.author.empty() ? qEnvironmentVariable("USER", QStringLiteral("script")) : q(o.author);
}

Result<DefectFilter> filterOf(const LogOptions& o) {
    DefectFilter f;
    if (!o.all && o.state.empty())
        f.states = openStates();
    if (!o.state.empty()) {
        const auto state = stateCalled(q(o.state));
        if (!state)
            return Error{"there is no state '" + o.state + "'"};
        f.states = {*state};
    }
    if (!o.who.empty())
        f.who = o.who == "nobody" ? QString() : q(o.who);
    f.character = q(o.character);
    f.leastSeverity = o.leastSeverity;
    f.words = q(o.words);
    return f;
}

// The defects asked for, by number or by what they are, worst first.
Result<QVector<Defect>> chosenDefects(const ProductionLog& log, const LogOptions& o) {
    auto all = log.defects();
    if (!all)
        return Error{all.error()};
    const auto filter = filterOf(o);
    if (!filter)
        return Error{filter.error()};
    DefectList list;
    list.setDefects(std::move(*all));
    QVector<Defect> out;
    if (!o.numbers.empty()) {
        for (long long n : o.numbers) {
            const Defect* d = list.find(n);
            if (!d)
                return Error{"there is no defect " + std::to_string(n)};
            out << *d;
        }
        return out;
    }
    for (const DefectGroup& g : list.arranged(*filter, DefectGrouping::None, DefectOrder::Severity, true))
        for (int row : g.rows)
            out << list.defects()[row];
    return out;
}

int doList(const LogOptions& o) {
    const auto log = open(o);
    if (!log)
        return fail(Unreadable, log.error());
    const auto defects = chosenDefects(**log, o);
    if (!defects)
        return fail(BadUse, defects.error());
    if (o.asJson) {
        QJsonArray all;
        for (const Defect& d : *defects)
            all.append(defectToJson(d));
        print(envelope(all));
        return Clean;
    }
    for (const Defect& d : *defects)
        std::printf("%5lld  %d  %-24s  %-16s  %s\n", static_cast<long long>(d.id), d.severity,
                    qPrintable(nameOf(d.state)),
                    qPrintable(d.assignee.isEmpty() ? QStringLiteral("nobody") : d.assignee),
                    qPrintable(d.facts.what));
    std::printf("%lld defects\n", static_cast<long long>(defects->size()));
    return Clean;
}

int doShow(const LogOptions& o) {
    const auto log = open(o);
    if (!log)
        return fail(Unreadable, log.error());
    QJsonArray all;
    for (long long n : o.numbers) {
        const auto d = (*log)->defect(n);
        const auto history = (*log)->history(n);
        if (!d || !history)
            return fail(BadUse, !d ? d.error() : history.error());
        if (o.asJson) {
            all.append(defectToJson(*d, &*history));
            continue;
        }
        std::printf("%lld. %s\nseverity %d, %s, %s%s\n%s\n", n, qPrintable(d->facts.what), d->severity,
                    qPrintable(nameOf(d->state)),
                    d->assignee.isEmpty() ? "nobody has it" : qPrintable(d->assignee),
                    d->due.isEmpty() ? "" : qPrintable(QStringLiteral(", due in ") + d->due),
                    qPrintable(d->facts.cause));
        for (const DefectEvent& e : *history)
            std::printf("  %s  %s  %s: %s%s\n", qPrintable(e.at.toString(Qt::ISODate)), qPrintable(e.author),
                        qPrintable(e.field), qPrintable(valueWords(e)),
                        e.reason.isEmpty() ? "" : qPrintable(QStringLiteral(" (%1)").arg(e.reason)));
    }
    if (o.asJson)
        print(envelope(all));
    return Clean;
}

int doAssign(const LogOptions& o) {
    const auto log = open(o);
    if (!log)
        return fail(Unreadable, log.error());
    const auto defects = chosenDefects(**log, o);
    if (!defects)
        return fail(BadUse, defects.error());
    if (!o.to.empty() && o.to != "nobody") {
        const auto people = (*log)->people();
        if (!people)
            return fail(Unreadable, people.error());
        if (std::none_of(people->begin(), people->end(),
                         [&](const Person& p) { return p.active && p.name == q(o.to); }))
            return fail(BadUse, "there is no '" + o.to + "' on the roster");
    }
    QVector<DefectChange> changes;
    for (const Defect& d : *defects) {
        const auto wish = [&](const char* field, const std::string& value, const QString& reason = {}) {
            if (!value.empty())
                changes.push_back({d.id, QLatin1String(field),
                                   value == "none" || value == "nobody" ? QString() : q(value), d.version,
                                   reason, false});
        };
        wish("assignee", o.to);
        wish("severity", o.severity);
        wish("due", o.due);
        wish("state", o.state, q(o.reason));
        wish("comment", o.comment);
    }
    if (changes.isEmpty())
        return fail(BadUse, "say what is to change: --to, --severity, --due, --state or --comment");
    const auto written = (*log)->change(changes, author(o));
    if (!written)
        return fail(BadUse, written.error());
    for (const Clash& c : written->clashes)
        std::fprintf(stderr, "hobble-cli: %s\n", qPrintable(c.words()));
    if (o.asJson) {
        QJsonArray all;
        for (const Defect& d : *defects)
            if (const auto now = (*log)->defects({.id = d.id}); now && !now->isEmpty())
                all.append(defectToJson(now->front()));
        print(envelope(all));
    }
    return written->clashes.isEmpty() ? Clean : Findings;
}

bool tell(int done, int all) {
    if (isatty(2))
        std::fprintf(stderr, "\r%d of %d ", done, all);
    return true;
}

int doExport(const LogOptions& o) {
    const auto log = open(o);
    if (!log)
        return fail(Unreadable, log.error());
    const auto defects = chosenDefects(**log, o);
    if (!defects)
        return fail(BadUse, defects.error());
    const auto ended = [](const Result<Done>& r) {
        return r ? static_cast<int>(Clean) : fail(BadUse, r.error());
    };
    if (o.what == "log")
        return ended(writeLogJson(**log, q(o.out)));
    QVector<qint64> ids;
    for (const Defect& d : *defects)
        ids << d.id;
    if (o.what == "json" || o.what == "csv") {
        QJsonArray all;
        QVector<QString> comments;
        for (qint64 id : ids) {
            const auto whole = (*log)->defect(id);
            const auto history = (*log)->history(id);
            if (!whole || !history)
                return fail(Unreadable, !whole ? whole.error() : history.error());
            all.append(defectToJson(*whole, &*history));
            comments << commentsIn(*history);
        }
        const QByteArray bytes =
            o.what == "json" ? QJsonDocument(envelope(all)).toJson() : defectsToCsv(*defects, comments);
        if (o.out == "-") {
            std::fwrite(bytes.constData(), 1, static_cast<std::size_t>(bytes.size()), stdout);
            return Clean;
        }
        return ended(writeFile(o.out, bytes.toStdString()));
    }
    BuildShelf shelf;
    auto stories = storiesOf(**log, ids, shelf, {}, tell);
    if (!stories)
        return fail(Unreadable, stories.error());
    if (o.what == "pdf") {
        const auto people = (*log)->people();
        const auto every = (*log)->defects();
        ReviewPaper paper{
            ReviewPaper::Meeting,
            QStringLiteral("Review of %1").arg(dateWords(QDate::currentDate(), DateAs::LongOfYear)),
            {QStringLiteral("%1 defects, worst first.").arg(stories->size())},
            people && every ? workload(*every, *people, QDateTime::currentDateTime()) : QVector<Load>(),
            std::move(*stories)};
        return ended(writeReviewPdf(paper, q(o.out)));
    }
    // a packet for each who has something
    QMap<QString, QVector<DefectStory>> by;
    for (DefectStory& s : *stories)
        if (!s.defect.assignee.isEmpty())
            by[s.defect.assignee] << std::move(s);
    if (!QDir().mkpath(q(o.out)))
        return fail(BadUse, "cannot make the folder " + o.out);
    for (auto it = by.begin(); it != by.end(); ++it) {
        const auto made =
            writePacket(it.value(), shelf, {QStringLiteral("For %1").arg(it.key()), q(o.out), o.zip, {}});
        if (!made)
            return fail(BadUse, made.error());
        std::printf("%s\n", qPrintable(*made));
    }
    return Clean;
}

int doImport(const LogOptions& o) {
    const auto log = open(o, false);
    if (!log)
        return fail(Unreadable, log.error());
    int status = Clean;
    for (const std::string& file : o.files) {
        if (QFileInfo(q(file)).suffix().toLower() == QLatin1String("csv")) {
            const auto taken = takeCsv(q(file), **log, author(o));
            if (!taken)
                return fail(BadUse, taken.error());
            for (const QString& p : taken->problems)
                std::fprintf(stderr, "hobble-cli: %s\n", qPrintable(p));
            if (!taken->problems.isEmpty())
                status = Findings;
            if (o.asJson)
                print({{QStringLiteral("changes"), taken->changes},
                       {QStringLiteral("defects"), taken->fresh},
                       {QStringLiteral("problems"), QJsonArray::fromStringList(taken->problems)}});
            else
                std::printf("%d changes, %d new defects, %lld rows not taken\n", taken->changes, taken->fresh,
                            static_cast<long long>(taken->problems.size()));
            continue;
        }
        const auto added = readLogJson(q(file), **log);
        if (!added)
            return fail(BadUse, added.error());
        if (o.asJson)
            print({{QStringLiteral("people"), added->people},
                   {QStringLiteral("builds"), added->builds},
                   {QStringLiteral("runs"), added->runs},
                   {QStringLiteral("defects"), added->defects},
                   {QStringLiteral("known"), added->known}});
        else
            std::printf("%d defects, %d builds, %d runs, %d people came in; %d defects were known\n",
                        added->defects, added->builds, added->runs, added->people, added->known);
    }
    return status;
}

int doEnter(const LogOptions& o) {
    const auto log = open(o, false);
    if (!log)
        return fail(Unreadable, log.error());
    int status = Clean;
    for (const std::string& file : o.files) { // what can be entered is, whatever the others are
        const auto text = readFile(file);
        const auto entry = !text ? Result<RunEntry>(Error{text.error()})
                                 : runEntryFromJson(QByteArray::fromStdString(*text));
        const auto entered = entry ? enterRun(**log, *entry) : Result<Done>(Error{entry.error()});
        if (!entered)
            status = fail(Unreadable, file + ": " + entered.error());
    }
    return status;
}

int doMove(const LogOptions& o) {
    const auto from = open(o);
    if (!from)
        return fail(Unreadable, from.error());
    const auto to = ProductionLog::open(q(o.to));
    if (!to)
        return fail(BadUse, to.error());
    const auto copied = copyLog(**from, **to, [](qint64 done, qint64 total) {
        return done % 1000 != 0 || tell(static_cast<int>(done), static_cast<int>(total));
    });
    if (!copied)
        return fail(BadUse, copied.error());
    const auto here = checksumOf(**from), there = checksumOf(**to);
    if (!here || !there)
        return fail(Unreadable, !here ? here.error() : there.error());
    if (*here != *there)
        return fail(BadUse, "the two logs differ: somebody wrote to one of them meanwhile");
    if (o.asJson)
        print({{QStringLiteral("from"), (*from)->place()},
               {QStringLiteral("to"), (*to)->place()},
               {QStringLiteral("checksum"), *here}});
    else
        std::printf(
            "%s\nThe log is in both places now, the same to the byte; take the new one from here on.\n",
            qPrintable(*here));
    return Clean;
}

int doCheck(const LogOptions& o) {
    const auto log = open(o);
    if (!log)
        return fail(Unreadable, log.error());
    const auto check = checkLog(**log);
    if (!check)
        return fail(Unreadable, check.error());
    if (o.asJson) {
        print({{QStringLiteral("problems"), QJsonArray::fromStringList(check->problems)},
               {QStringLiteral("checksum"), check->checksum},
               {QStringLiteral("defects"), check->defects},
               {QStringLiteral("events"), check->events},
               {QStringLiteral("builds"), check->builds},
               {QStringLiteral("runs"), check->runs},
               {QStringLiteral("people"), check->people}});
    } else {
        for (const QString& p : check->problems)
            std::printf("%s\n", qPrintable(p));
        std::printf(
            "%lld defects, %lld events, %lld builds, %lld runs, %lld people; %lld problems; checksum %s\n",
            static_cast<long long>(check->defects), static_cast<long long>(check->events),
            static_cast<long long>(check->builds), static_cast<long long>(check->runs),
            static_cast<long long>(check->people), static_cast<long long>(check->problems.size()),
            qPrintable(check->checksum));
    }
    return check->problems.isEmpty() ? Clean : Findings;
}

// The whole log in one file, and then the old runs of it thinned.
int doArchive(const LogOptions& o) {
    const auto log = open(o);
    if (!log)
        return fail(Unreadable, log.error());
    if (const auto made = (*log)->backUp(q(o.out)); !made)
        return fail(BadUse, made.error());
    const auto thinned = (*log)->thinRuns(o.newest);
    if (!thinned)
        return fail(BadUse, thinned.error());
    std::printf("%d runs thinned; all of it as it was is in %s\n", *thinned, o.out.c_str());
    return Clean;
}

int doBackUp(const LogOptions& o) {
    const auto log = open(o);
    if (!log)
        return fail(Unreadable, log.error());
    const auto made = (*log)->backUp(q(o.out));
    return made ? static_cast<int>(Clean) : fail(BadUse, made.error());
}

int doRoles(const LogOptions& o) {
    const auto log = open(o);
    if (!log)
        return fail(Unreadable, log.error());
    const auto made = makeTeamRoles(**log);
    if (!made)
        return fail(BadUse, made.error());
    std::puts("hobble_reader looks, hobble_rigger logs and moves on what is to be fixed but closes and signs "
              "nothing, "
              "hobble_lead does everything.\nThe server's keeper gives people theirs: GRANT hobble_rigger TO "
              "petra;");
    return Clean;
}

} // namespace

void addLogCommands(CLI::App& app, std::shared_ptr<LogOptions> o, std::function<int()>& chosen) {
    CLI::App* log = app.add_subcommand("log", "the team's defects: look, give, take out and in, move, check");
    log->require_subcommand(1);
    const auto command = [&](const char* name, const char* what, int (*does)(const LogOptions&)) {
        CLI::App* sub = log->add_subcommand(name, what);
        sub->add_option("--log", o->place, "a file, or postgresql://person@server/database")
            ->required()
            ->envname("HOBBLE_LOG");
        sub->callback([&chosen, does, o] { chosen = [does, o] { return does(*o); }; });
        return sub;
    };
    const auto json = [&](CLI::App* sub) {
        sub->add_flag("--json", o->asJson, "as JSON on standard output");
    };
    const auto which = [&](CLI::App* sub) {
        sub->add_option("--who", o->who, "whose; “nobody” for what nobody has");
        sub->add_option("--character", o->character, "of one character");
        sub->add_option("--at-least", o->leastSeverity, "of that severity or worse")->check(CLI::Range(1, 4));
        sub->add_option("--words", o->words, "with these words in it");
        sub->add_flag("--all", o->all, "closed ones and ways out too");
    };
    const auto numbers = [&](CLI::App* sub) { return sub->add_option("NUMBER", o->numbers, "of defects"); };

    CLI::App* list = command("list", "the defects that are open, worst first", doList);
    which(list);
    list->add_option("--state", o->state, "only in that state");
    json(list);
    CLI::App* show = command("show", "one or more with all that happened to them", doShow);
    numbers(show)->required();
    json(show);
    CLI::App* assign = command("assign", "give defects to somebody, or change how they stand", doAssign);
    numbers(assign)->required();
    assign->add_option("--to", o->to, "a person of the roster, or “nobody”");
    assign->add_option("--severity", o->severity, "1 to 4")->check(CLI::Range(1, 4));
    assign->add_option("--due", o->due, "by which build; “none” takes it away");
    assign->add_option("--state", o->state, "the state it moves on to");
    assign->add_option("--reason", o->reason, "why, where a move needs it");
    assign->add_option("--comment", o->comment, "something to say");
    assign->add_option("--author", o->author, "who says so; else the user");
    json(assign);
    CLI::App* out = command("export", "defects as JSON, CSV, packets or PDF; or the whole log", doExport);
    numbers(out);
    which(out);
    out->add_option("--state", o->state, "only in that state");
    out->add_option("--what", o->what,
                    "json and csv: the defects; log: everything, to be imported; packet; pdf")
        ->check(CLI::IsMember({"json", "csv", "log", "packet", "pdf"}));
    out->add_flag("--zip", o->zip, "each packet as one zip");
    out->add_option("--out", o->out, "a file (- for standard output); of packets, a folder")->required();
    CLI::App* in = command("import", "a table or a whole log into this one", doImport);
    in->add_option("FILE", o->files, ".csv or .json")->required();
    in->add_option("--author", o->author, "who changes what the table changes; else the user");
    json(in);
    CLI::App* enter = command("enter", "runs that were kept as entries (run --log-entry)", doEnter);
    enter->add_option("FILE", o->files, "entries")->required();
    CLI::App* move = command("move", "the whole log to another place, file or server, checksummed", doMove);
    move->add_option("--to", o->to, "an empty place")->required();
    json(move);
    json(command("check", "whether all is well with a log", doCheck));
    CLI::App* archive =
        command("archive", "all of it in one new file, and old runs in the log thinned", doArchive);
    archive->add_option("--out", o->out, "archive.sqlite")->required();
    archive->add_option("--newest", o->newest, "builds of each character whose runs stay whole (20)")
        ->check(CLI::Range(1, 1000000));
    command("roles", "of a server's log: what readers, riggers and leads may do", doRoles);
    command("backup", "all of it in one new file", doBackUp)
        ->add_option("--out", o->out, "backup.sqlite")
        ->required();
}

} // namespace hobble::cli
