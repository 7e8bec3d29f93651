#include "log/defect_json.h"

#include "log/defect_use.h"
#include "log/log_rows.h"
#include "log/log_words.h"

#include <QDir>
#include <QFile>
#include <QJsonArray>
#include <QJsonDocument>
#include <QSaveFile>
#include <QTemporaryDir>

namespace hobble {

QJsonObject defectToJson(const Defect& d, const QVector<DefectEvent>* history) {
    QJsonObject o{{QStringLiteral("number"), d.id},
                  {QStringLiteral("character"), d.build.character},
                  {QStringLiteral("build"), d.build.number},
                  {QStringLiteral("what"), d.facts.what},
                  {QStringLiteral("kind"), d.facts.kind},
                  {QStringLiteral("joint"), d.facts.joint},
                  {QStringLiteral("side"), d.facts.side},
                  {QStringLiteral("part"), d.facts.part},
                  {QStringLiteral("limb"), d.facts.limb},
                  {QStringLiteral("motion"), d.facts.motion},
                  {QStringLiteral("at"), d.facts.at},
                  {QStringLiteral("onset"), d.facts.onset},
                  {QStringLiteral("degrees"), d.facts.degrees},
                  {QStringLiteral("value"), d.facts.value},
                  {QStringLiteral("limit"), d.facts.limit},
                  {QStringLiteral("cause"), d.facts.cause},
                  {QStringLiteral("state"), nameOf(d.state)},
                  {QStringLiteral("severity"), d.severity},
                  {QStringLiteral("who"), d.assignee},
                  {QStringLiteral("due"), d.due},
                  {QStringLiteral("version"), d.version},
                  {QStringLiteral("logged"), d.loggedAt.toString(Qt::ISODateWithMs)},
                  {QStringLiteral("changed"), d.changedAt.toString(Qt::ISODateWithMs)}};
    if (d.duplicateOf && d.state == DefectState::Duplicate)
        o.insert(QStringLiteral("duplicateOf"), d.duplicateOf);
    if (d.use)
        o.insert(QStringLiteral("use"), useToJson(*d.use));
    if (!d.facts.marks.isEmpty())
        o.insert(QStringLiteral("marks"), QJsonDocument::fromJson(d.facts.marks).object());
    if (!d.facts.pose.isEmpty())
        o.insert(QStringLiteral("pose"), QJsonDocument::fromJson(d.facts.pose).object());
    if (history) {
        QJsonArray events;
        for (const DefectEvent& e : *history) {
            QJsonObject one{{QStringLiteral("at"), e.at.toString(Qt::ISODateWithMs)},
                            {QStringLiteral("author"), e.author},
                            {QStringLiteral("field"), e.field},
                            {QStringLiteral("value"), e.value}};
            if (!e.reason.isEmpty())
                one.insert(QStringLiteral("reason"), e.reason);
            if (e.build)
                one.insert(QStringLiteral("build"), e.build);
            events.append(one);
        }
        o.insert(QStringLiteral("history"), events);
    }
    return o;
}

Result<Done> writeLogJson(const ProductionLog& log, const QString& path, const CopyProgress& progress) {
    QSaveFile file(path);
    const auto fail = [&] {
        return Error{tr("Cannot write %1: %2.").arg(path, file.errorString()).toStdString()};
    };
    if (!file.open(QIODevice::WriteOnly))
        return fail();
    const ReadingAtOneMoment now(log);
    QCryptographicHash hash(QCryptographicHash::Sha256);
    file.write("{\"format\": \"hobble-log\", \"version\": " + QByteArray::number(newestLogVersion()) +
               ", \"tables\": {\n");
    qint64 done = 0;
    bool firstTable = true;
    for (const LogTable& t : logTables()) {
        hash.addData(t.name.toUtf8());
        file.write((firstTable ? "\"" : ",\n\"") + t.name.toUtf8() + "\": [");
        firstTable = false;
        bool firstRow = true;
        auto read = eachRow(log, t, [&](const QVariantList& row) {
            addToChecksum(hash, t, row);
            QJsonObject o;
            for (int c = 0; c < t.columns.size(); ++c) {
                const QVariant& v = row[c];
                const ColumnKind kind = kindOfColumn(t.columns[c]);
                if (v.isNull())
                    o.insert(t.columns[c], QJsonValue());
                else if (kind == ColumnKind::Bytes)
                    o.insert(t.columns[c], QString::fromLatin1(v.toByteArray().toBase64()));
                else if (kind == ColumnKind::Curves)
                    o.insert(t.columns[c], QString::fromUtf8(qUncompress(v.toByteArray())));
                else
                    o.insert(t.columns[c], QJsonValue::fromVariant(v));
            }
            file.write((firstRow ? "\n" : ",\n") + QJsonDocument(o).toJson(QJsonDocument::Compact));
            firstRow = false;
            return !progress || progress(++done, 0);
        });
        if (!read)
            return read;
        file.write("]");
    }
    file.write("},\n\"checksum\": \"" + hash.result().toHex() + "\"}\n");
    return file.commit() ? Result<Done>(Done{}) : fail();
}

Result<Added> readLogJson(const QString& path, ProductionLog& to) {
    const auto fail = [&](const QString& why) {
        return Error{
            tr("Cannot take the log from %1: %2. Nothing was written.").arg(path, why).toStdString()};
    };
    QFile file(path);
    if (!file.open(QIODevice::ReadOnly))
        return fail(file.errorString());
    QJsonParseError wrong;
    const QJsonObject whole = QJsonDocument::fromJson(file.readAll(), &wrong).object();
    if (wrong.error != QJsonParseError::NoError)
        return fail(wrong.errorString());
    if (whole.value(QStringLiteral("format")).toString() != QLatin1String("hobble-log"))
        return fail(QStringLiteral("it is no log of Hobble"));
    constexpr int oldest = 5; // since when all columns of its tables are as they are
    const int version = whole.value(QStringLiteral("version")).toInt();
    if (version < oldest || version > newestLogVersion())
        return fail(QStringLiteral("it is of version %1, and this Hobble reads %2 to %3")
                        .arg(version)
                        .arg(oldest)
                        .arg(newestLogVersion()));
    const QJsonObject tables = whole.value(QStringLiteral("tables")).toObject();
    // First into a log of its own, where it can be looked at.
    QTemporaryDir folder;
    auto aside = ProductionLog::open(folder.filePath(QStringLiteral("aside.sqlite")));
    if (!aside)
        return Error{aside.error()};
    const auto filled = (*aside)->inTransaction(QStringLiteral("read"), [&]() -> Result<Done> {
        for (const LogTable& t : logTables()) {
            RowWriter writer(**aside, t);
            for (const QJsonValue& v : tables.value(t.name).toArray()) {
                const QJsonObject o = v.toObject();
                QVariantList row;
                for (const QString& column : t.columns) {
                    const QJsonValue cell = o.value(column);
                    const ColumnKind kind = kindOfColumn(column);
                    if (cell.isNull() || cell.isUndefined())
                        row << QVariant();
                    else if (kind == ColumnKind::Bytes)
                        row << QByteArray::fromBase64(cell.toString().toLatin1());
                    else if (kind == ColumnKind::Curves)
                        row << qCompress(cell.toString().toUtf8());
                    else if (kind == ColumnKind::Whole)
                        row << cell.toInteger();
                    else
                        row << cell.toVariant();
                }
                if (auto added = writer.add(row); !added)
                    return added;
            }
            if (auto finished = writer.finish(); !finished)
                return finished;
        }
        return settleNumbers(**aside);
    });
    if (!filled)
        return fail(QString::fromStdString(filled.error()));
    const auto checksum = checksumOf(**aside, version);
    if (!checksum)
        return Error{checksum.error()};
    if (*checksum != whole.value(QStringLiteral("checksum")).toString())
        return fail(QStringLiteral("its checksum does not fit what it holds; it was changed or cut short"));
    if (!to.isEmpty())
        return mergeLog(**aside, to);
    if (auto copied = copyLog(**aside, to); !copied)
        return Error{copied.error()};
    Added out;
    const auto check = checkLog(to);
    if (!check)
        return Error{check.error()};
    out.people = static_cast<int>(check->people);
    out.builds = static_cast<int>(check->builds);
    out.runs = static_cast<int>(check->runs);
    out.defects = static_cast<int>(check->defects);
    return out;
}

} // namespace hobble
