#include "batch/schedule.h"

#include "core/words/say.h"
#include "io/content_hash.h"
#include "io/file_write.h"

#include <nlohmann/json.hpp>

#include <QDir>
#include <QFile>
#include <QFileInfo>
#include <QThread>

#include <algorithm>
#include <filesystem>

namespace hobble {

namespace {

namespace fs = std::filesystem;

constexpr int kMostTasks = 1000; // the size of an array that a scheduler takes unless it was told otherwise

std::string whole(const std::string& path) { return path.empty() ? path : fs::absolute(path).string(); }

// A log's address on a server is no path.
std::string wholePlace(const std::string& log) {
    return log.find("://") == std::string::npos ? whole(log) : log;
}

std::string listOf(const std::vector<BatchCharacter>& characters) {
    nlohmann::json list = nlohmann::json::array();
    for (const BatchCharacter& c : characters) {
        nlohmann::json row{{"file", whole(c.file)}};
        for (const auto& [key, value] :
             {std::pair("name", c.name), std::pair("plan", whole(c.plan)),
              std::pair("naming", whole(c.naming)), std::pair("limits", whole(c.limits)),
              std::pair("variants", whole(c.variants)), std::pair("variant", c.variant)})
            if (!value.empty())
                row[key] = value;
        if (c.failAt > 0)
            row["fail-at"] = c.failAt;
        list.push_back(row);
    }
    return nlohmann::json{{"format", "hobble-batch"}, {"characters", list}}.dump(1) + "\n";
}

// For a POSIX shell.
std::string quoted(const std::string& word) {
    std::string out = "'";
    for (char c : word)
        out += c == '\'' ? std::string("'\\''") : std::string(1, c);
    return out + "'";
}

std::string commandFor(const std::string& list, const BatchOptions& o) {
    std::string out = quoted(o.program.toStdString()) + " batch " + quoted(list) + " --out " +
                      quoted(whole(o.folder.toStdString())) + " --method " + quoted(o.method) +
                      " --seconds " + std::to_string(o.secondsEach) + " --megabytes " +
                      std::to_string(o.megabytesEach);
    for (const auto& [name, value] :
         {std::pair(" --plan ", whole(o.plan)), std::pair(" --limits ", whole(o.limits)),
          std::pair(" --variants ", whole(o.variants)), std::pair(" --variant ", o.variant),
          std::pair(" --log ", wholePlace(o.log))})
        if (!value.empty())
            out += name + quoted(value);
    for (const auto& [name, on] : {std::pair(" --singles", o.singles), std::pair(" --check", o.check),
                                   std::pair(" --no-reports", !o.reports), std::pair(" --afresh", o.afresh)})
        if (on)
            out += name;
    if (o.failAt > 0)
        out += " --fail-at " + std::to_string(o.failAt);
    return out;
}

// "#SBATCH" lines are comments to whatever else runs the script.
std::string head(const std::string& what, const std::vector<std::string>& asked) {
    std::string out = "#!/bin/sh\n# " + what + "\n";
    for (const std::string& line : asked)
        out += "#SBATCH " + line + "\n";
    return out;
}

// What a program of the scheduler says; an error in its own words.
Result<QString> ask(const QString& program, const QStringList& arguments) {
    QProcess process;
    process.start(program, arguments);
    if (!process.waitForStarted())
        return Error{
            say("there is no %s here; --scheduler script writes the commands for whatever else runs jobs",
                program.toStdString())};
    if (!process.waitForFinished(60000)) {
        process.kill();
        process.waitForFinished();
        return Error{say("%s does not answer", program.toStdString())};
    }
    if (process.exitStatus() != QProcess::NormalExit || process.exitCode() != 0) {
        const QString said = QString::fromUtf8(process.readAllStandardError()).simplified();
        return Error{say("the scheduler refuses: %s",
                         (said.isEmpty() ? program + QStringLiteral(" failed") : said).toStdString())};
    }
    return QString::fromUtf8(process.readAllStandardOutput()).trimmed();
}

Result<QString> submit(const QString& script, const QStringList& options) {
    auto said = ask(QStringLiteral("sbatch"),
                    QStringList{QStringLiteral("--parsable")} + options + QStringList{script});
    if (!said)
        return said;
    return said->section(QLatin1Char(';'), 0, 0); // "JOB;CLUSTER" where there are several
}

bool isKept(const QDir& folder, const std::string& key) {
    return !key.empty() && QFileInfo::exists(folder.filePath(
                               QStringLiteral("results/%1.json").arg(QString::fromStdString(key))));
}

} // namespace

TaskCost costOfTask(const std::vector<BatchCharacter>& characters, const BatchOptions& o) {
    TaskCost out;
    double most = 0;
    for (const BatchCharacter& c : characters) {
        std::error_code error;
        const auto bytes = fs::file_size(c.file, error);
        const double megabytes = error ? 0 : static_cast<double>(bytes) / 1e6;
        // A character of 3.5 MB takes 13 s of one core and 80 MB: asked for is ten times that and more, for
        // what is refused for a too small wish is worse than what is wished too large.
        most = std::max(most, 1024 + 100 * megabytes);
        out.seconds += static_cast<int>(std::min<double>(o.secondsEach, 120 + 60 * megabytes));
    }
    out.seconds += 60; // starting up
    out.megabytes = static_cast<int>(std::min<double>(o.megabytesEach + 512, most));
    return out;
}

std::vector<BatchCharacter> taskOf(const std::vector<BatchCharacter>& characters, int task, int tasks) {
    std::vector<BatchCharacter> out;
    for (std::size_t i = static_cast<std::size_t>(task - 1); i < characters.size();
         i += static_cast<std::size_t>(tasks))
        out.push_back(characters[i]);
    return out;
}

Result<Scheduled> schedule(const std::vector<BatchCharacter>& characters, const ScheduleOptions& options) {
    const BatchOptions& o = options.batch;
    QDir folder(QFileInfo(o.folder).absoluteFilePath());
    std::vector<BatchCharacter> left;
    for (const BatchCharacter& c : characters)
        if (o.afresh || o.check || !isKept(folder, batchKey(c, o)))
            left.push_back(c);
    Scheduled out;
    out.characters = static_cast<int>(characters.size());
    out.known = out.characters - static_cast<int>(left.size());
    out.tasks = std::min({static_cast<int>(left.size()), options.tasks > 0 ? options.tasks : kMostTasks});

    const std::string all = listOf(characters), some = listOf(left), command = commandFor("", o);
    ContentHash hash; // another batch in the same folder has scripts of its own
    for (const std::string& part : {all, some, command, std::to_string(out.tasks)})
        hash.add(part);
    out.folder = folder.filePath(QStringLiteral("schedule/") + QString::fromStdString(hash.hex()).left(12));
    if (!QDir().mkpath(out.folder))
        return Error{
            say("Cannot write into %s: the folder is missing, protected or full.", o.folder.toStdString())};
    const QDir scripts(out.folder);
    const auto path = [&](const char* name) { return scripts.filePath(QLatin1String(name)); };
    out.task = out.tasks > 0 ? path("task.sh") : QString();
    out.merge = path("merge.sh");
    TaskCost cost;
    for (int t = 1; t <= out.tasks; ++t) {
        const TaskCost one = costOfTask(taskOf(left, t, out.tasks), o);
        cost.seconds = std::max(cost.seconds, one.seconds);
        cost.megabytes = std::max(cost.megabytes, one.megabytes);
    }
    const std::string tasks = std::to_string(out.tasks), output = "--output=" + out.folder.toStdString();
    const auto minutes = [](int seconds) { return "--time=" + std::to_string((seconds + 59) / 60); };
    std::vector<std::pair<QString, std::string>> files{
        {path("all.json"), all},
        {out.merge, head("Puts together what the tasks have kept; tests nothing.",
                         {"--job-name=hobble-merge", minutes(900), output + "/merge.txt"}) +
                        "exec " + commandFor(path("all.json").toStdString(), o) + " --merge --quiet\n"}};
    if (out.tasks > 0) {
        files.push_back({path("left.json"), some});
        files.push_back(
            {out.task, head("Tests one share of the batch: task.sh N, from 1 to " + tasks + ".",
                            {"--job-name=hobble", "--array=1-" + tasks, "--requeue", "--open-mode=append",
                             "--cpus-per-task=" + std::to_string(options.threads),
                             "--mem=" + std::to_string(cost.megabytes) + "M", minutes(cost.seconds),
                             output + "/task.%a.txt"}) +
                           "exec " + commandFor(path("left.json").toStdString(), o) +
                           " --jobs 1 --threads \"${SLURM_CPUS_PER_TASK:-" + std::to_string(options.threads) +
                           "}\" --part \"${1:-$SLURM_ARRAY_TASK_ID}/" + tasks + "\" --quiet\n"});
        std::string commands; // for whatever else runs jobs
        for (int t = 1; t <= out.tasks; ++t)
            commands += "sh " + quoted(out.task.toStdString()) + " " + std::to_string(t) + "\n";
        files.push_back({path("commands.txt"), commands});
    }
    // What is asked for anew is not known, whatever is kept of before: a task that is killed must not pass
    // for it.
    for (const BatchCharacter& c : left)
        if (const QString key = QString::fromStdString(batchKey(c, o)); !key.isEmpty())
            for (const char* kind : {"results", "untested"})
                QFile::remove(folder.filePath(QStringLiteral("%1/%2.json").arg(QLatin1String(kind), key)));
    for (const auto& [file, text] : files)
        if (const auto written = writeFile(file.toStdString(), text); !written)
            return Error{written.error()};
    if (options.scheduler == Scheduler::Script || out.tasks == 0)
        return out;

    QStringList given;
    for (const std::string& word : options.toScheduler)
        given << QString::fromStdString(word);
    auto job = submit(out.task, given);
    if (!job)
        return Error{job.error()};
    out.taskJob = *job;
    auto merge = submit(out.merge, given + QStringList{QStringLiteral("--dependency=afterany:") + *job});
    if (!merge) { // tasks whose results nobody would put together
        (void)ask(QStringLiteral("scancel"), {out.taskJob});
        return Error{merge.error()};
    }
    out.mergeJob = *merge;
    return out;
}

Result<Done> waitFor(const Scheduled& scheduled, const std::vector<BatchCharacter>& characters,
                     const ScheduleOptions& options,
                     const std::function<void(const ScheduleProgress&)>& progress) {
    const QDir folder(QFileInfo(options.batch.folder).absoluteFilePath());
    std::vector<std::string> keys;
    for (const BatchCharacter& c : characters)
        keys.push_back(batchKey(c, options.batch));
    const auto kept = [&] {
        return static_cast<int>(std::count_if(keys.begin(), keys.end(),
                                              [&](const std::string& key) { return isKept(folder, key); }));
    };
    const QString jobs = scheduled.taskJob + QLatin1Char(',') + scheduled.mergeJob;
    for (int silent = 0;;) {
        const auto said = ask(QStringLiteral("squeue"),
                              {QStringLiteral("--noheader"),
                               QStringLiteral("--states=PENDING,RUNNING,COMPLETING,"
                                              "CONFIGURING,SUSPENDED,REQUEUED"),
                               QStringLiteral("--jobs=") + jobs, QStringLiteral("--format=%i|%F|%T|%r")});
        ScheduleProgress at;
        at.of = scheduled.characters - scheduled.known;
        at.done = std::clamp(kept() - scheduled.known, 0, at.of);
        if (said) {
            silent = 0;
            bool merging = false, running = false;
            for (const QString& line : said->split(QLatin1Char('\n'), Qt::SkipEmptyParts)) {
                const QStringList words = line.split(QLatin1Char('|'));
                if (words.size() < 4)
                    continue;
                const bool isMerge = words[1] == scheduled.mergeJob;
                merging = merging || isMerge;
                running = running || words[2] != QLatin1String("PENDING");
                if (!isMerge)
                    at.waitsFor = words[3];
            }
            if (!merging)
                return Done{};
            if (running || at.waitsFor == QLatin1String("None"))
                at.waitsFor.clear();
        } else if (said.error().find("Invalid job id") != std::string::npos) {
            return Done{}; // ended, and forgotten
        } else if (++silent == 30) {
            return Error{say("%s; the jobs %s may be going on", said.error(), jobs.toStdString())};
        }
        if (progress)
            progress(at);
        for (int tenth = 0; tenth < 10; ++tenth) {
            if (options.batch.cancel && options.batch.cancel->load(std::memory_order_relaxed))
                return Error{say("not waited for any longer; the jobs %s go on", jobs.toStdString())};
            QThread::msleep(100);
        }
    }
}

} // namespace hobble
