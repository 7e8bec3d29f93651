#include "batch/batch_outputs.h"

#include "batch/row_json.h"
#include "io/csv.h"
#include "log/log_words.h"
#include "story/page_style.h"

#include <QCoreApplication>
#include <QXmlStreamWriter>

#include <algorithm>
#include <array>
#include <map>

namespace hobble {

namespace {

QString shown(const std::string& words) { return QString::fromStdString(words); }

bool tested(const BatchRow& row) { return row.state == BatchRow::State::Tested; }
int limitOf(const BatchRow& row, int failAt) {
    return row.character.failAt > 0 ? row.character.failAt : failAt;
}

std::array<int, 5> bySeverity(const BatchRow& row) {
    std::array<int, 5> out{};
    for (const BatchFault& f : row.faults)
        ++out[static_cast<std::size_t>(std::clamp(f.severity, 0, 4))];
    return out;
}

std::string shownName(const BatchRow& row) {
    return !row.character.name.empty() ? row.character.name
           : !row.name.empty()         ? row.name
                                       : row.character.file;
}

std::string number(double value, int digits) { return QString::number(value, 'f', digits).toStdString(); }

} // namespace

std::vector<const BatchRow*> worstFirst(const std::vector<BatchRow>& rows, int failAt) {
    std::vector<const BatchRow*> out;
    for (const BatchRow& row : rows)
        out.push_back(&row);
    const auto rank = [&](const BatchRow* r) {
        const auto n = bySeverity(*r);
        return std::tuple(tested(*r), !r->failsAt(limitOf(*r, failAt)),
                          -std::max(r->worst(), r->worstNotCured), -n[4], -n[3], -n[2], -n[1]);
    };
    std::stable_sort(out.begin(), out.end(),
                     [&](const BatchRow* a, const BatchRow* b) { return rank(a) < rank(b); });
    return out;
}

QString batchSentence(const std::vector<BatchRow>& rows, int failAt) {
    int known = 0, fails = 0, not_ = 0;
    for (const BatchRow& row : rows) {
        known += tested(row) && row.known;
        not_ += !tested(row);
        fails += tested(row) && row.failsAt(limitOf(row, failAt));
    }
    const int all = static_cast<int>(rows.size());
    QString out = all == 1 ? tr("1 character") : tr("%n characters", nullptr, int(all));
    out += tr(": %1 tested").arg(all - not_);
    if (known > 0)
        out += tr(" (%1 known from before)").arg(known);
    if (failAt > 0)
        out += tr(", %1 with something of severity %2 or worse").arg(fails).arg(failAt);
    if (not_ > 0)
        out += tr(", %1 could not be tested").arg(not_);
    return out + QLatin1Char('.');
}

QString batchPage(const std::vector<BatchRow>& rows, int failAt) {
    QString out =
        QStringLiteral(
            "<!doctype html><html lang=\"en\"><head><meta charset=\"utf-8\"><meta name=\"viewport\" "
            "content=\"width=device-width\"><title>%1</title><style>%2"
            "table{border-collapse:collapse;width:100%}tr{border-top:1px solid #d9cfbc}"
            ".n{text-align:right;font-variant-numeric:tabular-nums}td.w{min-width:16em}td:first-child{min-"
            "width:16em}"
            "tr.x td:first-child{border-left:4px solid #9c2f22;padding-left:.6em}"
            "tr td:first-child{padding-left:.6em}.m{color:#56626a}"
            "@media(max-width:48em){td.h,th.h{display:none}}</style></head><body><h1>%1</h1>"
            "<p class=\"q\">%3</p><table><thead><tr><th>%4</th>")
            .arg(tr("A batch of characters"), QLatin1String(kPageStyle), escaped(batchSentence(rows, failAt)),
                 tr("character"));
    for (const QString& head : {tr("blocking"), tr("serious"), tr("notable"), tr("minor")})
        out += QStringLiteral("<th class=\"n\">%1</th>").arg(head);
    out += QStringLiteral("<th class=\"n h\">%1</th><th class=\"n h\">%2</th><th "
                          "class=\"n h\">%3</th><th>%4</th></tr></thead><tbody>")
               .arg(tr("not cured"), tr("skin moved"), tr("seconds"), tr("the worst"));
    for (const BatchRow* row : worstFirst(rows, failAt)) {
        const bool stands = tested(*row) && !row->failsAt(limitOf(*row, failAt));
        const QString name = escaped(shownName(*row));
        out += QStringLiteral("<tr%1><td>%2<br><small>%3</small></td>")
                   .arg(stands ? QString() : QStringLiteral(" class=\"x\""),
                        row->report.empty()
                            ? name
                            : QStringLiteral("<a href=\"%1\">%2</a>").arg(escaped(row->report), name),
                        escaped(row->character.file));
        if (!tested(*row)) {
            out += QStringLiteral("<td colspan=\"8\"><b>%1</b> %2</td></tr>")
                       .arg(tr("Not tested:"), escaped(row->why));
            continue;
        }
        const auto n = bySeverity(*row);
        for (std::size_t s = 4; s >= 1; --s)
            out += QStringLiteral("<td class=\"n%1\">%2</td>")
                       .arg(n[s] ? QString() : QStringLiteral(" m"))
                       .arg(n[s]);
        out += QStringLiteral("<td class=\"n h\">%1</td><td class=\"n h\">%2 %</td><td class=\"n "
                              "h\">%3</td><td class=\"w\">%4</td></tr>")
                   .arg(row->checked ? tr("%1 of %2").arg(row->notCured).arg(row->checked) : QString(),
                        QString::number(std::floor(100 * row->coverage), 'f', 0),
                        QString::number(row->seconds, 'f', 1),
                        row->faults.empty() ? tr("nothing passes its limit")
                                            : escaped(row->faults.front().sentence));
    }
    return out + QStringLiteral("</tbody></table></body></html>\n");
}

std::string batchToJson(const std::vector<BatchRow>& rows, int failAt) {
    nlohmann::json all = nlohmann::json::array();
    for (const BatchRow* row : worstFirst(rows, failAt)) {
        nlohmann::json j = toJson(*row);
        j["seconds"] = row->seconds;
        j["measuredBefore"] = row->known;
        j["name"] = shownName(*row);
        j["fails"] = !tested(*row) || row->failsAt(limitOf(*row, failAt));
        all.push_back(std::move(j));
    }
    return nlohmann::json{{"format", "hobble-batch-result"},
                          {"version", 1},
                          {"failAt", failAt},
                          {"sentence", batchSentence(rows, failAt).toStdString()},
                          {"characters", all}}
               .dump(1, ' ', false, nlohmann::json::error_handler_t::replace) +
           "\n";
}

std::string batchToCsv(const std::vector<BatchRow>& rows) {
    std::string out =
        "file,name,build,state,worst,blocking,serious,notable,minor,not cured,coverage,seconds,report,why\n";
    for (const BatchRow& row : rows) {
        const auto n = bySeverity(row);
        const bool is = tested(row);
        const auto count = [&](int value) { return is ? std::to_string(value) : std::string(); };
        const std::string cells[] = {row.character.file,
                                     shownName(row),
                                     row.hash,
                                     nameOf(row.state),
                                     count(row.worst()),
                                     count(n[4]),
                                     count(n[3]),
                                     count(n[2]),
                                     count(n[1]),
                                     row.checked ? std::to_string(row.notCured) : std::string(),
                                     is ? number(row.coverage, 3) : std::string(),
                                     number(row.seconds, 2),
                                     row.report,
                                     row.why};
        for (const std::string& cell : cells)
            out += (&cell == cells ? "" : ",") + csvCell(cell);
        out += "\n";
    }
    return out;
}

QByteArray batchToJunit(const std::vector<BatchRow>& rows, int failAt) {
    QByteArray out;
    QXmlStreamWriter xml(&out);
    xml.setAutoFormatting(true);
    xml.writeStartDocument();
    xml.writeStartElement(QStringLiteral("testsuites"));
    const auto attribute = [&](const char* name, const QString& value) {
        // what XML 1.0 has no character for
        QString clean;
        for (const QChar c : value)
            clean += c < QChar(0x20) && c != QChar(u'\n') && c != QChar(u'\t') ? QChar(u'\ufffd') : c;
        xml.writeAttribute(QLatin1String(name), clean);
    };
    for (const BatchRow& row : rows) {
        const int limit = limitOf(row, failAt) > 0 ? limitOf(row, failAt) : 3;
        std::map<std::string, std::vector<const BatchFault*>> at;
        if (tested(row))
            for (const std::string& joint : row.joints)
                at[joint];
        for (const BatchFault& f : row.faults)
            if (f.severity >= limit)
                at[f.joint].push_back(&f);
            else
                at[f.joint];
        const auto failed =
            std::count_if(at.begin(), at.end(), [](const auto& x) { return !x.second.empty(); });
        const bool notCured = row.worstNotCured >= limit;
        xml.writeStartElement(QStringLiteral("testsuite"));
        attribute("name", shown(shownName(row)));
        attribute("tests",
                  QString::number(tested(row) ? static_cast<qsizetype>(at.size()) + (row.checked > 0) : 1));
        attribute("failures", QString::number(tested(row) ? failed + notCured : 0));
        attribute("errors", QString::number(!tested(row)));
        attribute("skipped", QStringLiteral("0"));
        attribute("time", QString::number(row.seconds, 'f', 3));
        const auto begin = [&](const QString& name, double seconds) {
            xml.writeStartElement(QStringLiteral("testcase"));
            attribute("classname", shown(shownName(row)));
            attribute("name", name);
            attribute("time", QString::number(seconds, 'f', 3));
        };
        if (!tested(row)) {
            begin(tr("opened and tested"), row.seconds);
            xml.writeStartElement(QStringLiteral("error"));
            attribute("type", QLatin1String(nameOf(row.state)));
            attribute("message", shown(row.why));
            xml.writeEndElement();
            xml.writeEndElement();
        } else {
            for (const auto& [joint, faults] : at) {
                begin(shown(joint), 0);
                if (!faults.empty()) {
                    xml.writeStartElement(QStringLiteral("failure"));
                    attribute("type", shown(faults.front()->kind));
                    attribute("message", shown(faults.front()->sentence));
                    QString text;
                    for (const BatchFault* f : faults)
                        text += QStringLiteral("%1  %2\n").arg(f->severity).arg(shown(f->sentence));
                    if (!row.report.empty())
                        text += shown(row.report) + QLatin1Char('\n');
                    xml.writeCharacters(text);
                    xml.writeEndElement();
                }
                xml.writeEndElement();
            }
            if (row.checked > 0) {
                begin(tr("defects of the log"), 0);
                if (notCured) {
                    xml.writeEmptyElement(QStringLiteral("failure"));
                    attribute("type", QStringLiteral("not cured"));
                    attribute("message",
                              tr("%1 of %2 open defects are not cured").arg(row.notCured).arg(row.checked));
                }
                xml.writeEndElement();
            }
        }
        xml.writeEndElement();
    }
    xml.writeEndElement();
    xml.writeEndDocument();
    return out;
}

} // namespace hobble
