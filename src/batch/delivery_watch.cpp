#include "batch/delivery_watch.h"

#include "batch/batch_outputs.h"
#include "core/words/say.h"
#include "io/file_read.h"
#include "io/file_write.h"
#include "story/outbox.h"

#include <nlohmann/json.hpp>

#include <QCoreApplication>
#include <QDateTime>
#include <QDir>
#include <QEventLoop>
#include <QFile>
#include <QFileInfo>
#include <QTimer>

namespace hobble {

namespace {

using nlohmann::json;

QString words(const char* text) { return QCoreApplication::translate("hobble", text); }

class Watch {
public:
    explicit Watch(const WatchOptions& options) : o_(options), folder_(options.batch.folder) {}

    Result<std::vector<BatchRow>> go() {
        if (!folder_.mkpath(QStringLiteral(".")))
            return Error{say("Cannot write into %s: the folder is missing, protected or full.",
                             o_.batch.folder.toStdString())};
        readTold();
        watch_.setSettling(o_.settlingMs);
        if (!watch_.setFolder(o_.watched, true))
            return Error{say("Cannot watch %s: there is no such folder.", o_.watched.toStdString())};
        QObject::connect(&watch_, &FolderWatch::arrived, [this](const QString& path) {
            waiting_.removeAll(path);
            waiting_ << path;
            next();
        });
        QObject::connect(&watch_, &FolderWatch::lost, [this](const QString& gone) {
            o_.tell(words("%1 is gone; waiting for it").arg(gone));
        });
        QTimer asks; // whether it is to end, and whether a folder that was gone is back
        QObject::connect(&asks, &QTimer::timeout, [this] {
            if (o_.cancel && o_.cancel->load(std::memory_order_relaxed))
                return loop_.quit();
            if (watch_.folder().isEmpty() && watch_.setFolder(o_.watched, true))
                o_.tell(words("%1 is there again").arg(o_.watched));
            if (o_.once && !busy_ && waiting_.isEmpty() && failed_.empty() && allSettled())
                loop_.quit();
        });
        asks.start(100);
        loop_.exec();
        if (!failed_.empty())
            return Error{failed_};
        return std::move(tested_);
    }

private:
    const WatchOptions& o_;
    const QDir folder_;
    FolderWatch watch_;
    QEventLoop loop_;
    QStringList waiting_, seen_;
    std::map<std::string, std::string> told_; // by path: the key of what was told
    std::vector<BatchRow> tested_;
    std::map<std::string, BatchRow> rows_; // the newest of each path, for the page
    std::string failed_;
    bool busy_ = false;

    std::string toldPath() const { return folder_.filePath(QStringLiteral("told.json")).toStdString(); }

    void readTold() {
        const auto text = readFile(toldPath());
        if (!text)
            return;
        const json in = json::parse(*text, nullptr, false);
        if (in.is_object() && in.contains("told") && in["told"].is_object())
            for (const auto& [path, key] : in["told"].items())
                if (key.is_string())
                    told_[path] = key.get<std::string>();
    }

    // Each file of the folder was looked at since it came to rest.
    bool allSettled() const {
        QDir dir(o_.watched);
        for (const QFileInfo& f : FolderWatch::charactersIn(dir.absolutePath()))
            if (f.size() > 0 && !seen_.contains(f.absoluteFilePath()))
                return false;
        return true;
    }

    void next() {
        if (busy_)
            return;
        busy_ = true;
        while (!waiting_.isEmpty() && failed_.empty() &&
               !(o_.cancel && o_.cancel->load(std::memory_order_relaxed)))
            test(waiting_.takeFirst()); // within it others may arrive
        busy_ = false;
        if (!failed_.empty())
            loop_.quit();
    }

    void test(const QString& path) {
        if (!seen_.contains(path))
            seen_ << path;
        BatchCharacter character;
        character.file = path.toStdString();
        const std::string key = batchKey(character, o_.batch);
        if (key.empty())
            return; // it is gone again
        if (const auto known = told_.find(character.file); known != told_.end() && known->second == key)
            return;
        BatchOptions options = o_.batch;
        options.cancel = o_.cancel;
        const auto rows = runBatch({character}, options);
        if (!rows) {
            failed_ = rows.error();
            return;
        }
        const BatchRow& row = rows->front();
        if (row.state == BatchRow::State::Stopped)
            return; // and is tested when it goes on
        if (batchKey(character, o_.batch) != key) {
            waiting_ << path; // another was laid over it meanwhile
            return;
        }
        const QString sentence = deliverySentence(row, o_.batch.failAt);
        o_.tell(sentence);
        send(row, sentence);
        tested_.push_back(row);
        rows_[character.file] = row;
        keepPage();
        told_[character.file] = key; // last: what was not told is told again
        if (const auto written =
                writeFile(toldPath(), json{{"format", "hobble-told"}, {"told", told_}}.dump(1));
            !written)
            failed_ = written.error();
    }

    void keepPage() {
        std::vector<BatchRow> all;
        for (const auto& [path, row] : rows_)
            all.push_back(row);
        const std::string page = folder_.filePath(QStringLiteral("index.html")).toStdString();
        if (const auto written = writeFile(page, batchPage(all, o_.batch.failAt).toStdString()); !written)
            failed_ = written.error();
    }

    void send(const BatchRow& row, const QString& sentence) {
        if (o_.outbox.isEmpty())
            return;
        Message m;
        m.fromName = QStringLiteral("Hobble");
        m.from = o_.from;
        m.to = o_.to;
        m.toName = o_.to.section(QLatin1Char('@'), 0, 0);
        m.subject = sentence;
        m.at = QDateTime::currentDateTime();
        QStringList lines{sentence, QString()};
        for (const BatchFault& f : row.faults)
            lines << QStringLiteral("%1  %2").arg(f.severity).arg(QString::fromStdString(f.sentence));
        m.text = lines.join(QLatin1Char('\n')) + QLatin1Char('\n');
        if (!row.report.empty()) {
            QFile report(folder_.filePath(QString::fromStdString(row.report)));
            if (report.open(QIODevice::ReadOnly))
                m.attachments.push_back(
                    {QStringLiteral("report.html"), QStringLiteral("text/html"), report.readAll()});
        }
        if (const auto laid = layInOutbox(o_.outbox, m); !laid)
            o_.tell(QString::fromStdString(laid.error())); // the test is done all the same
    }
};

} // namespace

QString deliverySentence(const BatchRow& row, int failAt) {
    const QString file = QFileInfo(QString::fromStdString(row.character.file)).fileName();
    if (row.state != BatchRow::State::Tested)
        return words("%1: not tested, %2").arg(file, QString::fromStdString(row.why));
    QStringList said{row.faults.empty() ? words("no fault")
                     : row.faults.size() == 1
                         ? words("one fault, of severity %1").arg(row.worst())
                         : words("%1 faults, worst %2").arg(row.faults.size()).arg(row.worst())};
    if (row.checked > 0)
        said << words("%1 of %2 open defects not cured").arg(row.notCured).arg(row.checked);
    if (failAt > 0)
        said << (row.failsAt(failAt) ? words("does not pass") : words("passes"));
    return words("%1: %2").arg(file, said.join(QStringLiteral("; ")));
}

Result<std::vector<BatchRow>> watchDeliveries(const WatchOptions& options) { return Watch(options).go(); }

} // namespace hobble
