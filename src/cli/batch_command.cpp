#include "cli/batch_command.h"

#include "batch/batch_outputs.h"
#include "batch/batch_run.h"
#include "batch/delivery_watch.h"
#include "io/file_write.h"

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

BatchOptions optionsOf(const BatchChoice& o) {
    BatchOptions options;
    options.program = QCoreApplication::applicationFilePath();
    options.folder = QString::fromStdString(o.out);
    options.plan = o.plan;
    options.limits = o.limits;
    options.log = o.log;
    options.method = o.method;
    options.singles = o.singles;
    options.check = o.check;
    options.reports = !o.noReports;
    options.afresh = o.afresh;
    options.failAt = o.failAt;
    options.jobs = o.jobs;
    options.secondsEach = o.seconds;
    options.megabytesEach = o.megabytes;
    options.cancel = &interrupted;
    for (int signal : {SIGINT, SIGTERM})
        std::signal(signal, [](int) { interrupted = true; });
    return options;
}

int doBatch(const BatchChoice& o) {
    if (o.check && o.log.empty())
        return fail(BadUse, "--check checks the open defects of a log: name it with --log");
    const auto list = batchOf(o.sources);
    if (!list)
        return fail(BadUse, list.error());
    BatchOptions options = optionsOf(o);
    if (!o.quiet)
        options.progress = [terminal = isatty(2) != 0](const BatchProgress& p) { tellRow(p, terminal); };
    const auto rows = runBatch(*list, options);
    if (!rows)
        return fail(BadUse, rows.error());
    const std::filesystem::path folder(o.out);
    for (const auto& [name, bytes] :
         {std::pair("index.html", batchPage(*rows, o.failAt).toStdString()),
          std::pair("batch.json", batchToJson(*rows, o.failAt)), std::pair("batch.csv", batchToCsv(*rows)),
          std::pair("junit.xml", batchToJunit(*rows, o.failAt).toStdString())})
        if (const auto written = writeFile((folder / name).string(), bytes); !written)
            return fail(BadUse, written.error());
    if (!o.quiet)
        std::printf("%s\n%s\n", batchSentence(*rows, o.failAt).toUtf8().constData(),
                    (folder / "index.html").c_str());
    bool fails = false;
    for (const BatchRow& row : *rows) {
        if (row.state != BatchRow::State::Tested)
            return Unreadable;
        fails |= row.failsAt(row.character.failAt > 0 ? row.character.failAt : o.failAt);
    }
    return fails ? Findings : Clean;
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
    batch->add_flag("--afresh", o->afresh, "test again what is known from before");
    batch->add_flag("--quiet", o->quiet, "print nothing but errors");
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
