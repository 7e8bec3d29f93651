#include "cli/batch_command.h"

#include "batch/batch_outputs.h"
#include "batch/batch_run.h"
#include "batch/delivery_watch.h"
#include "batch/schedule.h"
#include "io/file_write.h"
#include "log/run_entry.h"

#include <CLI/CLI.hpp>

#include <QCoreApplication>
#include <QDateTime>

#include <csignal>
#include <cstdio>
#include <filesystem>
#include <unistd.h>

namespace hobble::cli {

namespace {

std::atomic<bool> interrupted{false};

void tellRow(const BatchProgress& p, bool terminal) {
    if (terminal)
        std::fprintf(stderr, "\r\033[K");
    const BatchRow& row = *p.row;
    if (row.state == BatchRow::State::Tested)
        std::fprintf(stderr, "%d/%d  %s: %zu faults, worst %d%s\n", p.done, p.of, row.character.file.c_str(),
                     row.faults.size(), row.worst(), row.known ? ", known from before" : "");
    else
        std::fprintf(stderr, "%d/%d  %s: not tested, %s\n", p.done, p.of, row.character.file.c_str(),
                     row.why.c_str());
    if (terminal && p.done < p.of && p.secondsLeft >= 0)
        std::fprintf(stderr, "about %.0f s left ", p.secondsLeft);
    std::fflush(stderr);
}

bool isFile(const std::string& log) { return !log.empty() && log.find("://") == std::string::npos; }

BatchOptions optionsOf(const BatchChoice& o) {
    BatchOptions options;
    options.program = QCoreApplication::applicationFilePath();
    options.folder = QString::fromStdString(o.out);
    options.plan = o.plan;
    options.limits = o.limits;
    options.variants = o.variants;
    options.variant = o.variant;
    options.log = isFile(o.log) ? std::filesystem::absolute(o.log).string() : o.log;
    options.method = o.method;
    options.singles = o.singles;
    options.check = o.check;
    options.reports = !o.noReports;
    options.afresh = o.afresh;
    options.failAt = o.failAt;
    options.jobs = o.jobs;
    options.threads = o.threads;
    options.secondsEach = o.seconds;
    options.megabytesEach = o.megabytes;
    options.cancel = &interrupted;
    for (int signal : {SIGINT, SIGTERM})
        std::signal(signal, [](int) { interrupted = true; });
    return options;
}

int writeOutputs(const std::vector<BatchRow>& rows, const BatchChoice& o) {
    const std::filesystem::path folder(o.out);
    for (const auto& [name, bytes] :
         {std::pair("index.html", batchPage(rows, o.failAt).toStdString()),
          std::pair("batch.json", batchToJson(rows, o.failAt)), std::pair("batch.csv", batchToCsv(rows)),
          std::pair("junit.xml", batchToJunit(rows, o.failAt).toStdString())})
        if (const auto written = writeFile((folder / name).string(), bytes); !written)
            return fail(BadUse, written.error());
    return Clean;
}

// Says how it went; the status of a batch.
int tellOf(const std::vector<BatchRow>& rows, const BatchChoice& o) {
    if (!o.quiet)
        std::printf("%s\n%s\n", batchSentence(rows, o.failAt).toUtf8().constData(),
                    (std::filesystem::path(o.out) / "index.html").c_str());
    bool fails = false;
    for (const BatchRow& row : rows) {
        if (row.state != BatchRow::State::Tested)
            return Unreadable;
        fails |= row.failsAt(row.character.failAt > 0 ? row.character.failAt : o.failAt);
    }
    return fails ? Findings : Clean;
}

// What tasks have kept, put together. A log that is a file is written by this one alone.
int doMerge(const std::vector<BatchCharacter>& list, const BatchChoice& o) {
    const BatchOptions options = optionsOf(o);
    const auto rows = keptRows(list, options);
    if (const int failed = writeOutputs(rows, o))
        return failed;
    if (isFile(o.log)) {
        const auto log = ProductionLog::open(QString::fromStdString(o.log), kUnattendedPatienceMs);
        if (!log)
            return fail(BadUse, log.error());
        if (const auto entered = enterKept(**log, rows, options); !entered)
            return fail(BadUse, entered.error());
    }
    return tellOf(rows, o);
}

// A share of it, for whoever merges: tells by what it keeps, not by its status.
int doTask(const std::vector<BatchCharacter>& list, const BatchChoice& o) {
    int task = 0, tasks = 0;
    if (std::sscanf(o.part.c_str(), "%d/%d", &task, &tasks) != 2 || task < 1 || tasks < task)
        return fail(BadUse, "--part is one of so many, as 3/8");
    BatchOptions options = optionsOf(o);
    options.entries = isFile(o.log);
    const auto rows = runBatch(taskOf(list, task, tasks), options);
    return rows ? static_cast<int>(Clean) : fail(BadUse, rows.error());
}

int doSchedule(const std::vector<BatchCharacter>& list, const BatchChoice& o) {
    ScheduleOptions options;
    options.batch = optionsOf(o);
    options.scheduler = o.scheduler == "slurm" ? Scheduler::Slurm : Scheduler::Script;
    options.tasks = o.tasks;
    options.threads = std::max(1, o.threads);
    options.toScheduler = o.toScheduler;
    const auto scheduled = schedule(list, options);
    if (!scheduled)
        return fail(BadUse, scheduled.error());
    if (scheduled->tasks == 0) { // all is known
        if (!o.quiet)
            std::fprintf(stderr, "all %d characters are known from before; nothing is tested\n",
                         scheduled->known);
        return doMerge(list, o);
    }
    if (!o.quiet)
        std::fprintf(stderr, "%d characters, %d known from before, the rest in %d tasks\n",
                     scheduled->characters, scheduled->known, scheduled->tasks);
    if (options.scheduler == Scheduler::Script) {
        std::printf("%s/commands.txt\nsh %s\n", qUtf8Printable(scheduled->folder),
                    qUtf8Printable(scheduled->merge));
        return Clean;
    }
    if (!o.wait) {
        std::printf("job %s, merged by job %s\n%s\n", qUtf8Printable(scheduled->taskJob),
                    qUtf8Printable(scheduled->mergeJob),
                    (std::filesystem::absolute(o.out) / "index.html").c_str());
        return Clean;
    }
    ScheduleProgress told{-1, 0, {}};
    const auto ended = waitFor(*scheduled, list, options, [&](const ScheduleProgress& p) {
        if (o.quiet || (p.done == told.done && p.waitsFor == told.waitsFor))
            return;
        std::fprintf(stderr, "%d/%d%s%s\n", p.done, p.of,
                     p.waitsFor.isEmpty() ? "" : "  waits: ", qUtf8Printable(p.waitsFor));
        told = p;
    });
    if (!ended)
        return fail(BadUse, ended.error());
    std::error_code error;
    if (!std::filesystem::exists(std::filesystem::path(o.out) / "index.html", error))
        return fail(BadUse,
                    "the merge has written nothing; see " + scheduled->folder.toStdString() + "/merge.txt");
    return tellOf(keptRows(list, options.batch), o);
}

int doBatch(const BatchChoice& o) {
    if (o.check && o.log.empty())
        return fail(BadUse, "--check checks the open defects of a log: name it with --log");
    const auto list = batchOf(o.sources);
    if (!list)
        return fail(BadUse, list.error());
    if (!o.part.empty())
        return doTask(*list, o);
    if (o.merge)
        return doMerge(*list, o);
    if (!o.scheduler.empty())
        return doSchedule(*list, o);
    BatchOptions options = optionsOf(o);
    if (!o.quiet)
        options.progress = [terminal = isatty(2) != 0](const BatchProgress& p) { tellRow(p, terminal); };
    const auto rows = runBatch(*list, options);
    if (!rows)
        return fail(BadUse, rows.error());
    if (const int failed = writeOutputs(*rows, o))
        return failed;
    return tellOf(*rows, o);
}

int doWatch(const WatchChoice& o) {
    if (o.check && o.log.empty())
        return fail(BadUse, "--check checks the open defects of a log: name it with --log");
    if (!o.outbox.empty() && o.to.empty())
        return fail(BadUse, "--outbox lays messages to somebody: name them with --to");
    WatchOptions options;
    options.batch = optionsOf(o);
    options.watched = QString::fromStdString(o.folder);
    options.outbox = QString::fromStdString(o.outbox);
    options.from = QString::fromStdString(o.from);
    options.to = QString::fromStdString(o.to);
    options.settlingMs = o.settle;
    options.once = o.once;
    options.cancel = &interrupted;
    options.tell = [](const QString& line) {
        std::printf(
            "%s  %s\n",
            qUtf8Printable(QDateTime::currentDateTime().toString(QStringLiteral("yyyy-MM-dd HH:mm:ss"))),
            qUtf8Printable(line));
        std::fflush(stdout);
    };
    const auto tested = watchDeliveries(options);
    if (!tested)
        return fail(BadUse, tested.error());
    if (!o.once)
        return Clean; // it was told to end
    bool fails = false;
    for (const BatchRow& row : *tested) {
        if (row.state != BatchRow::State::Tested)
            return Unreadable;
        fails |= row.failsAt(o.failAt);
    }
    return fails ? Findings : Clean;
}

void addCommonOptions(CLI::App* batch, const std::shared_ptr<BatchChoice>& o) {
    batch->add_option("--log", o->log, "enter the runs in this production log");
    batch->add_flag("--check", o->check, "check the log's open defects too");
    batch->add_option("--plan", o->plan, "a plan file; without it the full plan of each");
    batch->add_flag("--singles", o->singles, "only single joints, without poses and shapes");
    batch->add_option("--limits", o->limits, "a limits file; without it the standard limits");
    batch->add_option("--variants", o->variants, "a file of variants, for characters whose list names none");
    batch->add_option("--variant", o->variant, "which of them to test");
    batch->add_option("--method", o->method, "linear or dual-quaternion")
        ->check(CLI::IsMember({"linear", "dual-quaternion"}));
    batch
        ->add_option("--fail-at", o->failAt,
                     "exit with 1 when a fault, or a defect not cured, is that severe")
        ->check(CLI::Range(1, 4));
    batch->add_option("--seconds", o->seconds, "a character that takes longer is given up")
        ->check(CLI::Range(1, 1000000));
    batch->add_option("--megabytes", o->megabytes, "a character that wants more memory is given up")
        ->check(CLI::Range(64, 10000000));
    batch->add_flag("--no-reports", o->noReports, "no page for each character");
}

} // namespace

void addBatchCommand(CLI::App& app, std::shared_ptr<BatchChoice> o, std::function<int()>& chosen) {
    CLI::App* batch = app.add_subcommand("batch", "many characters, each by a process of its own");
    batch->add_option("SOURCE", o->sources, "characters, folders of them, and lists (.csv, .json)")
        ->required();
    batch->add_option("--out", o->out, "the folder of results; a batch that was stopped goes on there")
        ->required();
    addCommonOptions(batch, o);
    batch->add_option("--jobs", o->jobs, "so many at once; 0: one for each core")->check(CLI::Range(0, 1024));
    batch->add_option("--threads", o->threads, "of each; 0: the cores shared out")
        ->check(CLI::Range(0, 1024));
    batch->add_flag("--afresh", o->afresh, "test again what is known from before");
    batch->add_flag("--quiet", o->quiet, "print nothing but errors");
    batch
        ->add_option("--scheduler", o->scheduler,
                     "slurm: as an array job and a merge that waits for it; script: as a list of commands")
        ->check(CLI::IsMember({"slurm", "script"}));
    batch->add_option("--tasks", o->tasks, "in so many tasks at most; 0: one for each character, up to 1000")
        ->check(CLI::Range(0, 100000));
    batch
        ->add_option("--to-scheduler", o->toScheduler,
                     "a word for sbatch, as --to-scheduler=--partition=night")
        ->take_all();
    batch->add_flag("--wait", o->wait, "with --scheduler slurm: until it is merged, and end with its status");
    batch->add_option("--part", o->part, "test only one share, as 3/8, and merge nothing");
    batch->add_flag("--merge", o->merge, "put together what was tested in shares; tests nothing");
    batch->callback([&chosen, o] { chosen = [o] { return doBatch(*o); }; });
}

void addWatchCommand(CLI::App& app, std::shared_ptr<WatchChoice> o, std::function<int()>& chosen) {
    CLI::App* watch =
        app.add_subcommand("watch", "wait for deliveries in a folder and test each; until it is ended");
    watch->add_option("FOLDER", o->folder, "where builds are delivered")->required();
    watch->add_option("--out", o->out, "the folder of results, and of what was told already")->required();
    addCommonOptions(watch, o);
    watch->add_option("--outbox", o->outbox, "lay a message for each delivery into this folder");
    watch->add_option("--to", o->to, "whom the messages are to");
    watch->add_option("--from", o->from, "whom they are from");
    watch->add_option("--settle", o->settle, "milliseconds a file has to lie unchanged to be whole")
        ->check(CLI::Range(100, 3600000));
    watch->add_flag("--once", o->once, "test what lies there, and end with the status of a batch");
    watch->callback([&chosen, o] { chosen = [o] { return doWatch(*o); }; });
}

} // namespace hobble::cli
