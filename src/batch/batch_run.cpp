#include "batch/batch_run.h"

#include "core/words/say.h"
#include "io/content_hash.h"
#include "io/file_read.h"
#include "io/file_write.h"
#include "log/run_entry.h"

#include <nlohmann/json.hpp>

#include <QCoreApplication>
#include <QDir>
#include <QElapsedTimer>
#include <QEventLoop>
#include <QFile>
#include <QProcess>
#include <QSysInfo>
#include <QTimer>

#include <algorithm>
#include <csignal>
#include <filesystem>
#include <memory>
#include <sys/resource.h>
#include <thread>

namespace hobble {

namespace {

namespace fs = std::filesystem;

QString q(const std::string& s) { return QString::fromStdString(s); }

// A file and what lies beside it that reading it reads as well.
std::vector<std::string> filesOf(const std::string& file) {
    std::vector<std::string> out{file};
    const fs::path path(file), folder = path.parent_path();
    std::error_code error;
    if (path.extension() == ".gltf" && fs::is_regular_file(path, error))
        if (const auto text = readFile(file)) {
            const auto j = nlohmann::json::parse(*text, nullptr, false);
            if (j.is_object() && j.contains("buffers") && j["buffers"].is_array())
                for (const auto& buffer : j["buffers"])
                    if (buffer.is_object() && buffer.contains("uri") && buffer["uri"].is_string())
                        if (const auto uri = buffer["uri"].get<std::string>(); !uri.starts_with("data:"))
                            out.push_back((folder / uri).string());
        }
    out.push_back((folder / (path.stem().string() + ".drivers.json")).string());
    out.push_back((folder / "drivers.json").string());
    return out;
}

QString inFolder(const QDir& folder, const char* kind, const std::string& key) {
    return folder.filePath(QStringLiteral("%1/%2.json").arg(QLatin1String(kind), q(key)));
}

// Of the batch's own content, tested before by whoever it was.
std::optional<BatchRow> keptIn(const QDir& folder, const char* kind, const std::string& key,
                               const BatchCharacter& character) {
    const auto text = readFile(inFolder(folder, kind, key).toStdString());
    if (!text)
        return std::nullopt;
    auto row = rowFromJson(*text);
    if (!row || row->key != key)
        return std::nullopt;
    row->character = character;
    if (const auto seconds = readFile(inFolder(folder, "seconds", key).toStdString()))
        row->seconds = QByteArray::fromStdString(*seconds).toDouble();
    return std::move(*row);
}

std::string whyNot(const BatchCharacter& character) {
    std::error_code error;
    if (!fs::exists(character.file, error))
        return "no such file";
    return fs::is_regular_file(character.file, error) ? "it may not be read"
                                                      : "it is no file that can be read";
}

constexpr const char* kSubfolders[] = {"results", "untested", "entries", "seconds",
                                       "reports", "measured", "work"};

// The file of them and which one.
std::pair<std::string, std::string> variantsOf(const BatchCharacter& c, const BatchOptions& o) {
    return c.variants.empty() ? std::pair(o.variants, o.variant) : std::pair(c.variants, c.variant);
}

// One character under way.
struct Job {
    std::size_t row = 0;
    QProcess process;
    QElapsedTimer since;
    bool checks = false, tooLong = false;
    QString json, report;
    std::vector<std::size_t> twins; // rows of the same content, which wait for it
};

class Batch {
public:
    Batch(const std::vector<BatchCharacter>& characters, const BatchOptions& options)
        : options_(options), folder_(options.folder), rows_(characters.size()) {
        for (std::size_t i = 0; i < rows_.size(); ++i)
            rows_[i].character = characters[i];
        const int cores = static_cast<int>(std::max(1u, std::thread::hardware_concurrency()));
        jobs_ = options.jobs > 0 ? options.jobs : cores;
        threads_ = options.threads > 0 ? options.threads : std::max(1, cores / jobs_);
    }

    Result<std::vector<BatchRow>> go() {
        for (const char* sub : kSubfolders)
            if (!folder_.mkpath(QLatin1String(sub)))
                return Error{say("Cannot write into %s: the folder is missing, protected or full.",
                                 options_.folder.toStdString())};
        total_.start();
        QTimer asks; // whether somebody stopped it
        QObject::connect(&asks, &QTimer::timeout, [this] {
            if (cancelled())
                stop();
        });
        asks.start(100);
        fill();
        if (!running_.empty())
            loop_.exec();
        if (cancelled())
            stop();
        return std::move(rows_);
    }

private:
    const BatchOptions& options_;
    const QDir folder_;
    std::vector<BatchRow> rows_;
    std::vector<std::unique_ptr<Job>> running_, ended_;
    std::size_t next_ = 0;
    int jobs_ = 1, threads_ = 1, done_ = 0, measured_ = 0;
    QElapsedTimer total_;
    QEventLoop loop_;

    bool cancelled() const { return options_.cancel && options_.cancel->load(std::memory_order_relaxed); }

    void fill() {
        while (!cancelled() && next_ < rows_.size() && running_.size() < static_cast<std::size_t>(jobs_))
            begin(next_++);
        if (running_.empty())
            loop_.quit();
    }

    void begin(std::size_t index) {
        BatchRow& row = rows_[index];
        row.key = batchKey(row.character, options_);
        if (row.key.empty()) {
            row.state = BatchRow::State::Unreadable;
            row.why = whyNot(row.character);
            return finished(row);
        }
        if (!options_.afresh && !options_.check) // what a log says of a build may be another thing by now
            if (auto kept = keptIn(folder_, "results", row.key, row.character)) {
                row = std::move(*kept);
                row.known = true;
                return finished(row);
            }
        for (const auto& job : running_)
            if (rows_[job->row].key == row.key) {
                job->twins.push_back(index);
                return;
            }
        while (ended_.size() > 1) // all but the one that may be telling
            ended_.erase(ended_.begin());
        auto job = std::make_unique<Job>();
        job->row = index;
        // of this process alone: another may be testing the very same
        job->json = folder_.filePath(QStringLiteral("work/%1.%2.%3.json")
                                         .arg(q(row.key), QSysInfo::machineHostName())
                                         .arg(QCoreApplication::applicationPid()));
        job->report = options_.reports ? q("reports/" + row.key + ".html") : QString();
        running_.push_back(std::move(job));
        start(*running_.back(), runArguments(row, *running_.back()));
    }

    QStringList runArguments(const BatchRow& row, const Job& job) const {
        const BatchCharacter& c = row.character;
        QStringList out{QStringLiteral("run"),
                        q(c.file),
                        QStringLiteral("--quiet"),
                        QStringLiteral("--json"),
                        job.json,
                        QStringLiteral("--cache"),
                        folder_.filePath(QStringLiteral("measured")),
                        QStringLiteral("--threads"),
                        QString::number(threads_),
                        QStringLiteral("--method"),
                        q(options_.method)};
        if (!job.report.isEmpty())
            out << QStringLiteral("--html") << folder_.filePath(job.report);
        common(out, c);
        for (const auto& [name, value] :
             {std::pair("--naming", c.naming), std::pair("--variants", variantsOf(c, options_).first),
              std::pair("--variant", variantsOf(c, options_).second),
              std::pair("--log", options_.entries ? "" : options_.log), std::pair("--log-key", row.key)})
            if (!value.empty())
                out << QLatin1String(name) << q(value);
        if (options_.entries)
            out << QStringLiteral("--log-entry") << inFolder(folder_, "entries", row.key);
        return out;
    }
    QStringList checkArguments(const BatchRow& row, const Job& job) const {
        QStringList out{QStringLiteral("check"),
                        q(row.character.file),
                        QStringLiteral("--quiet"),
                        QStringLiteral("--json"),
                        job.json,
                        QStringLiteral("--cache"),
                        folder_.filePath(QStringLiteral("measured")),
                        QStringLiteral("--log"),
                        q(options_.log),
                        QStringLiteral("--fail-at"),
                        QStringLiteral("0")};
        common(out, row.character);
        return out;
    }
    void common(QStringList& out, const BatchCharacter& c) const {
        const std::string &plan = c.plan.empty() ? options_.plan : c.plan,
                          &limits = c.limits.empty() ? options_.limits : c.limits;
        if (!plan.empty())
            out << QStringLiteral("--plan") << q(plan);
        else if (options_.singles)
            out << QStringLiteral("--singles");
        if (!limits.empty())
            out << QStringLiteral("--limits") << q(limits);
    }

    void start(Job& job, const QStringList& arguments) {
        Job* const of = &job;
        job.process.disconnect();
        job.process.setChildProcessModifier([bytes = rlim_t(options_.megabytesEach) << 20] {
            const rlimit memory{bytes, bytes}, core{0, 0};
            setrlimit(RLIMIT_AS, &memory);
            setrlimit(RLIMIT_CORE, &core);
        });
        job.process.setStandardOutputFile(QProcess::nullDevice());
        QObject::connect(
            &job.process, &QProcess::finished, &job.process,
            [this, of](int code, QProcess::ExitStatus status) { ended(*of, code, status); },
            Qt::QueuedConnection);
        QObject::connect(
            &job.process, &QProcess::errorOccurred, &job.process,
            [this, of](QProcess::ProcessError error) {
                if (error == QProcess::FailedToStart)
                    give(*of, BatchRow::State::Crashed, "it could not be started");
            },
            Qt::QueuedConnection);
        if (!job.since.isValid())
            job.since.start();
        QTimer::singleShot(options_.secondsEach * 1000, &job.process, [of] {
            of->tooLong = true;
            of->process.kill();
        });
        job.process.start(options_.program, arguments);
    }

    // "hobble-cli: Cannot open …" without who says so.
    static std::string said(QProcess& process) {
        const QStringList lines =
            QString::fromUtf8(process.readAllStandardError()).split(QLatin1Char('\n'), Qt::SkipEmptyParts);
        QString last = lines.isEmpty() ? QString() : lines.back().trimmed();
        if (const qsizetype colon = last.indexOf(QLatin1String(": "));
            colon >= 0 && last.startsWith(QLatin1String("hobble")))
            last.remove(0, colon + 2);
        return last.toStdString();
    }

    // Of one that ended with an error: only the log was left to be told, or asked.
    bool wasMeasured(const Job& job) const {
        if (options_.log.empty())
            return false;
        if (job.checks)
            return true;
        const auto text = readFile(job.json.toStdString());
        BatchRow row;
        return text && takeRun(row, *text) &&
               (job.report.isEmpty() || QFile::exists(folder_.filePath(job.report)));
    }

    void ended(Job& job, int code, QProcess::ExitStatus status) {
        const std::string words = said(job.process);
        if (cancelled())
            return give(job, BatchRow::State::Stopped, "the batch was stopped");
        if (job.tooLong)
            return give(job, BatchRow::State::TooLong,
                        "it took longer than " + std::to_string(options_.secondsEach) + " s");
        if (words.find("out of memory") != std::string::npos)
            return give(job, BatchRow::State::OutOfMemory,
                        "it wanted more memory than " + std::to_string(options_.megabytesEach) + " MB");
        if (status == QProcess::CrashExit)
            return give(job, BatchRow::State::Crashed, "it crashed");
        if (code > 1) // 0 and 1 tell of findings
            return give(job, wasMeasured(job) ? BatchRow::State::NotEntered : BatchRow::State::Unreadable,
                        words.empty() ? "it ended with status " + std::to_string(code) : words);
        BatchRow& row = rows_[job.row];
        const auto text = readFile(job.json.toStdString());
        const auto taken = !text        ? Result<Done>(Error{say("nothing was written")})
                           : job.checks ? takeCheck(row, *text)
                                        : takeRun(row, *text);
        QFile::remove(job.json);
        if (!taken)
            return give(job, BatchRow::State::Crashed, taken.error());
        if (options_.check && !options_.log.empty() && !job.checks) {
            job.checks = true;
            return start(job, checkArguments(row, job));
        }
        row.report = job.report.toStdString();
        give(job, BatchRow::State::Tested, {});
    }

    void give(Job& job, BatchRow::State state, const std::string& why) {
        BatchRow& row = rows_[job.row];
        row.state = state;
        row.why = why;
        row.seconds = static_cast<double>(job.since.elapsed()) / 1000;
        ++measured_;
        QFile::remove(job.json);
        keep(row);
        const auto at = std::find_if(running_.begin(), running_.end(),
                                     [&](const std::unique_ptr<Job>& other) { return other.get() == &job; });
        ended_.push_back(std::move(*at)); // its process is in the middle of telling
        running_.erase(at);
        finished(row);
        for (std::size_t twin : job.twins) {
            BatchRow same = row;
            same.character = rows_[twin].character;
            same.known = state == BatchRow::State::Tested;
            rows_[twin] = std::move(same);
            finished(rows_[twin]);
        }
        fill();
    }

    // What was not tested is tried again the next time; why it was not is kept for whoever puts the rows
    // together. Seconds are kept apart: they are no result, and no two times the same.
    void keep(BatchRow& row) {
        if (row.state == BatchRow::State::Stopped)
            return;
        const bool tested = row.state == BatchRow::State::Tested;
        BatchRow whole = row; // the same from wherever it was asked for
        std::error_code error;
        whole.character.file = fs::absolute(row.character.file, error).lexically_normal().string();
        for (const auto& [kind, text] :
             {std::pair("seconds", QByteArray::number(row.seconds).toStdString() + "\n"),
              std::pair(tested ? "results" : "untested", rowToJson(whole))})
            if (const auto kept = writeFile(inFolder(folder_, kind, row.key).toStdString(), text); !kept)
                row.why = kept.error();
        if (tested)
            QFile::remove(inFolder(folder_, "untested", row.key));
    }

    void finished(const BatchRow& row) {
        ++done_;
        if (!options_.progress)
            return;
        const auto left = static_cast<double>(rows_.size()) - done_;
        options_.progress(
            {done_, static_cast<int>(rows_.size()),
             measured_ > 0 ? static_cast<double>(total_.elapsed()) / 1000 / measured_ * left : -1, &row});
    }

    void stop() {
        for (const auto& job : running_)
            job->process.kill();
        for (std::size_t i = next_; i < rows_.size(); ++i) {
            rows_[i].state = BatchRow::State::Stopped;
            rows_[i].why = "the batch was stopped";
        }
        next_ = rows_.size();
        if (running_.empty())
            loop_.quit();
    }
};

} // namespace

namespace {

// As its length and its bytes; what no character is read from, being too large, by when it was written.
bool addFile(ContentHash& hash, const std::string& file) {
    std::error_code error;
    if (!fs::is_regular_file(file, error)) // a pipe may never end
        return false;
    const std::uintmax_t size = fs::file_size(file, error);
    std::ifstream in(file, std::ios::binary);
    if (!in || error)
        return false;
    hash.add(std::to_string(size) + ":");
    if (size > kLargestFile) {
        hash.add(std::to_string(fs::last_write_time(file, error).time_since_epoch().count()));
        return true;
    }
    std::string chunk(1 << 20, '\0');
    while (in.read(chunk.data(), static_cast<std::streamsize>(chunk.size())) || in.gcount() > 0)
        hash.add({chunk.data(), static_cast<std::size_t>(in.gcount())});
    return true;
}

} // namespace

std::string batchKey(const BatchCharacter& c, const BatchOptions& o) {
    ContentHash hash;
    const auto add = [&](const std::string& part) {
        hash.add(std::to_string(part.size()) + ":");
        hash.add(part);
    };
    bool first = true;
    for (const std::string& file : filesOf(c.file)) {
        if (!addFile(hash, file)) {
            if (first)
                return {};
            add({});
        }
        first = false;
    }
    for (const std::string& file : {c.plan.empty() ? o.plan : c.plan, c.limits.empty() ? o.limits : c.limits,
                                    c.naming, variantsOf(c, o).first}) {
        const auto bytes = file.empty() ? Result<std::string>(std::string()) : readFile(file);
        add(bytes ? *bytes : "missing " + file);
    }
    for (const std::string& word :
         {variantsOf(c, o).second, o.method, std::string(o.singles ? "singles" : ""),
          std::string(o.check ? "check " + o.log : ""), std::string(o.reports ? "reports" : ""),
          std::string(HOBBLE_VERSION)})
        add(word);
    return hash.hex();
}

std::vector<BatchRow> keptRows(const std::vector<BatchCharacter>& characters, const BatchOptions& options) {
    const QDir folder(options.folder);
    std::vector<BatchRow> out;
    for (const BatchCharacter& c : characters) {
        BatchRow row;
        row.character = c;
        row.key = batchKey(c, options);
        if (row.key.empty()) {
            row.state = BatchRow::State::Unreadable;
            row.why = whyNot(c);
        } else if (auto tested = keptIn(folder, "results", row.key, c)) {
            row = std::move(*tested);
        } else if (auto untested = keptIn(folder, "untested", row.key, c)) {
            row = std::move(*untested);
        } else {
            row.why = "nobody told of it: its task was ended, or never ran";
        }
        out.push_back(std::move(row));
    }
    return out;
}

Result<Done> enterKept(ProductionLog& log, const std::vector<BatchRow>& rows, const BatchOptions& options) {
    const QDir folder(options.folder);
    for (const BatchRow& row : rows) {
        if (row.state != BatchRow::State::Tested)
            continue;
        const std::string file = inFolder(folder, "entries", row.key).toStdString();
        const auto text = readFile(file);
        if (!text)
            continue; // tested by a batch that kept none
        const auto entry = runEntryFromJson(QByteArray::fromStdString(*text));
        if (!entry)
            return Error{say("%s: %s", file, entry.error())};
        if (auto entered = enterRun(log, *entry); !entered)
            return entered;
    }
    return Done{};
}

Result<std::vector<BatchRow>> runBatch(const std::vector<BatchCharacter>& characters,
                                       const BatchOptions& options) {
    return Batch(characters, options).go();
}

} // namespace hobble
