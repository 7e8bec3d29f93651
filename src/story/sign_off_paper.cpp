#include "story/sign_off_paper.h"

#include "core/words/finding_words.h"
#include "io/limits_json.h"
#include "log/date_words.h"
#include "log/finding_defect.h"
#include "story/defect_pictures.h"
#include "story/pdf_file.h"

#include <QCoreApplication>
#include <QPainter>
#include <QPdfWriter>

#include <algorithm>

namespace hobble {

namespace {

QString words(const char* text) { return QCoreApplication::translate("hobble", text); }

} // namespace

Result<ToSign> stateToSign(const ProductionLog& log, const Subject& s, const RunResult& run,
                           const QString& character, const QString& use, int limit) {
    const auto defects = log.defects({.character = character, .marks = true});
    if (!defects)
        return Error{defects.error()};
    const auto merged = log.mergedFindings();
    if (!merged)
        return Error{merged.error()};
    auto accepted = acceptedDefects(log, character, limit);
    if (!accepted)
        return Error{accepted.error()};
    ToSign out;
    out.state.hash = QString::fromStdString(s.character->hash);
    out.state.use = use;
    out.state.plan = QString::fromStdString(run.plan.name);
    out.state.limits = QByteArray::fromStdString(limitsToJson(run.limits));
    out.state.faults = static_cast<int>(run.faults.size());
    out.state.poses = static_cast<int>(run.plan.stepCount());
    out.state.limit = limit;
    out.state.accepted = std::move(*accepted);
    out.inTheWay = defectsInTheWay(*defects, character, limit);

    // Which faults the log knows of: any of a fault's signs speaks for it.
    std::vector<FindingMark> now, then;
    QVector<qint64> of;
    for (const Finding& f : run.findings)
        now.push_back(markOf(s, f));
    const auto know = [&](qint64 id, const std::optional<FindingMark>& mark) {
        if (mark) {
            then.push_back(*mark);
            of << id;
        }
    };
    for (const Defect& d : *defects)
        know(d.id, markOf(d.facts));
    for (const auto& [id, json] : *merged)
        know(id, mergedFromJson(json));
    const auto stateOf = [&](qint64 id) {
        const auto at =
            std::find_if(defects->begin(), defects->end(), [&](const Defect& d) { return d.id == id; });
        return at == defects->end() ? DefectState::Withdrawn : at->state;
    };
    for (const Fault& fault : run.faults) {
        if (fault.severity < limit)
            continue;
        bool settled = false, open = false;
        for (int sign : fault.signs)
            for (std::size_t k = 0; k < then.size(); ++k)
                if (apartness(now[static_cast<std::size_t>(sign)], then[k]) <= 1) {
                    const DefectState state = stateOf(of[static_cast<qsizetype>(k)]);
                    settled |= isWayOut(state);
                    open |= isOpen(state);
                }
        if (!settled && !open) // an open one is in the list already
            out.inTheWay.push_back(
                {0, fault.severity, QString::fromStdString(sentence(s, run.plan, run.findings, fault))});
    }
    std::stable_sort(out.inTheWay.begin(), out.inTheWay.end(),
                     [](const InTheWay& a, const InTheWay& b) { return a.severity > b.severity; });
    return out;
}

Result<Done> writeSignOffPdf(const ProductionLog& log, const SignOff& o, const Subject& s,
                             const RunResult& run, const QString& path) {
    const QString title = words("Signed off: %1").arg(o.build.character);
    return writePdf(path, {title, {18, 18, 18, 18}}, [&](QPdfWriter& writer) {
        QPainter p(&writer);
        QFont font(QStringLiteral("Atkinson Hyperlegible Next"));
        const double width = writer.width(), foot = writer.height();
        double y = 0;
        const auto line = [&](const QString& text, double points, bool bold = false, double after = 4) {
            font.setPointSizeF(points);
            font.setBold(bold);
            p.setFont(font);
            const QRectF room(0, y, width, std::max(0.0, foot - y));
            QRectF took;
            p.drawText(room, Qt::TextWordWrap, text, &took);
            y += took.height() + after;
        };
        line(words("%1, build %2").arg(o.build.character).arg(o.build.number), 20, true, 2);
        line(words("signed off %1 by %2 on %3")
                 .arg(o.state.use, o.author, dateWords(o.at, DateAs::LongMoment)),
             13, false, 14);
        if (!o.stands())
            line(words("Taken back by %1: %2").arg(o.takenBackBy, o.reason), 12, true, 10);
        line(words("Content (SHA-256): %1").arg(o.state.hash), 9);
        line(words("Plan: %1, %2 poses; %3 faults were found, none at or over severity %4 is open.")
                 .arg(o.state.plan)
                 .arg(o.state.poses)
                 .arg(o.state.faults)
                 .arg(o.state.limit),
             11, false, 14);
        if (o.state.accepted.isEmpty()) {
            line(words("Nothing had to be accepted."), 11);
        } else {
            line(words("Accepted, with its reason"), 13, true, 6);
            auto worst = o.state.accepted;
            std::stable_sort(worst.begin(), worst.end(),
                             [](const auto& a, const auto& b) { return a.severity > b.severity; });
            // the worst two are pictured; what does not fit is counted
            BuildShelf shelf(1);
            shelf.put(o.build.hash, std::shared_ptr<const Subject>(&s, [](const Subject*) {}));
            int told = 0;
            for (const auto& x : worst) {
                const double room = told < 2 ? 300 : 60;
                if (y + room > foot - 40)
                    break;
                line(QStringLiteral("%1. %2").arg(x.defect).arg(x.what), 11, true, 2);
                line(words("severity %1: %2").arg(x.severity).arg(x.reason), 11, false, 4);
                if (told < 2)
                    if (const auto d = log.defect(x.defect)) {
                        const DefectPictures pictures =
                            picturesOf(*d, {o.build}, shelf, {480, 360, run.limits, nullptr});
                        double left = 0;
                        for (int i : {0, 2})
                            if (i < pictures.pictures.size()) {
                                const double w = 0.42 * width, h = w * 3 / 4;
                                p.drawImage(QRectF(left, y, w, h), pictures.pictures[i].image);
                                left += w + 12;
                            }
                        if (left > 0)
                            y += 0.42 * width * 3 / 4 + 10;
                    }
                ++told;
            }
            if (told < worst.size())
                line(words("and %1 more, in the log").arg(worst.size() - told), 11);
        }
    });
}

} // namespace hobble
