#include "story/trend_paper.h"

#include "story/pdf_file.h"

#include <QCoreApplication>
#include <QPainter>
#include <QPdfWriter>

#include <algorithm>

namespace hobble {

namespace {

QString words(const char* text) { return QCoreApplication::translate("hobble", text); }

constexpr qsizetype kMostBars = 26, kMostRows = 12;

// By severity, 1 … 4: one hue that deepens, and the colour of what blocks.
const QColor kInks[] = {QColor(0xd9e4df), QColor(0x9a67a6), QColor(0x562263), QColor(0xb0281f)};
QString severityName(int severity) {
    switch (severity) {
    case 1:
        return words("minor");
    case 2:
        return words("notable");
    case 3:
        return words("serious");
    default:
        return words("blocking");
    }
}

class Sheet {
public:
    Sheet(QPdfWriter& writer, QPainter& painter)
        : p_(painter), width_(writer.width()), foot_(writer.height()),
          font_(QStringLiteral("Atkinson Hyperlegible Next")) {}

    void line(const QString& text, double points, bool bold, double after) {
        type(points, bold);
        QRectF took;
        p_.drawText(QRectF(0, y_, width_, std::max(0.0, foot_ - y_)), Qt::TextWordWrap, text, &took);
        y_ += took.height() + after;
    }

    void bars(const Trend& trend, double height) {
        const qsizetype from = std::max<qsizetype>(0, trend.points.size() - kMostBars),
                        count = trend.points.size() - from;
        int highest = 1;
        for (qsizetype i = from; i < trend.points.size(); ++i)
            highest = std::max(highest, trend.points[i].openAll());
        type(9, false);
        const double text = p_.fontMetrics().height(),
                     left = p_.fontMetrics().horizontalAdvance(QString::number(highest)) + 12,
                     bottom = y_ + height - text - 4, top = y_ + text + 10,
                     step = (width_ - left) / static_cast<double>(std::max<qsizetype>(count, 6));
        double x = left; // what the inks mean
        for (int s = 4; s >= 1; --s) {
            p_.fillRect(QRectF(x, y_ + 2, text - 4, text - 4), kInks[s - 1]);
            p_.drawText(QPointF(x + text + 2, y_ + p_.fontMetrics().ascent()), severityName(s));
            x += text + 22 + p_.fontMetrics().horizontalAdvance(severityName(s));
        }
        for (int n : {0, highest / 2, highest}) {
            const double at = bottom - (bottom - top) * n / highest;
            p_.setPen(QPen(QColor(0xb9c2be), 1));
            p_.drawLine(QPointF(left, at), QPointF(width_, at));
            p_.setPen(Qt::black);
            p_.drawText(QRectF(0, at - text / 2, left - 8, text), Qt::AlignRight | Qt::AlignVCenter,
                        QString::number(n));
        }
        const qsizetype every = std::max<qsizetype>(
            1, static_cast<qsizetype>(p_.fontMetrics().horizontalAdvance(QStringLiteral("00 MMM  ")) / step) +
                   1);
        for (qsizetype i = 0; i < count; ++i) {
            const TrendPoint& point = trend.points[from + i];
            const double at = left + static_cast<double>(i) * step;
            double base = bottom;
            for (int s = 4; s >= 1; --s) { // the worst at the foot, so that it is compared along one line
                const double high = (bottom - top) * point.open[static_cast<std::size_t>(s)] / highest;
                p_.fillRect(QRectF(at + 0.15 * step, base - high, 0.7 * step, high), kInks[s - 1]);
                base -= high;
            }
            if ((count - 1 - i) % every == 0)
                p_.drawText(QRectF(at - step, bottom + 4, 3 * step, text), Qt::AlignHCenter, point.label);
        }
        y_ += height + 14;
    }

    void table(const Trend& trend, const QStringList& heads) {
        type(10, true);
        const double row = p_.fontMetrics().height() + 6,
                     column = width_ / (static_cast<double>(heads.size()) + 0.6); // the last is wider
        const auto put = [&](const QStringList& cells, bool bold) {
            type(10, bold);
            for (qsizetype c = 0; c < cells.size(); ++c)
                p_.drawText(QRectF(static_cast<double>(c) * column, y_,
                                   (c + 1 == cells.size() ? 1.6 : 1.0) * column - 14, row),
                            (c ? Qt::AlignRight : Qt::AlignLeft) | Qt::AlignVCenter, cells[c]);
            y_ += row;
        };
        put(heads, true);
        for (qsizetype i = trend.points.size(); i-- > 0 && trend.points.size() - i <= kMostRows;) {
            if (y_ + row > foot_)
                break;
            const TrendPoint& point = trend.points[i];
            QStringList cells{point.label};
            for (int s = 4; s >= 1; --s)
                cells << QString::number(point.open[static_cast<std::size_t>(s)]);
            for (const auto* ids :
                 {&point.found, &point.cured, &point.cameBack, &point.oneSided, &point.settled})
                cells << QString::number(ids->size());
            cells << (point.daysToCure < 0
                          ? QString()
                          : QLocale().toString(point.daysToCure, 'f', point.daysToCure < 10 ? 1 : 0));
            put(cells, false);
        }
    }

private:
    QPainter& p_;
    double width_, foot_, y_ = 0;
    QFont font_;

    void type(double points, bool bold) {
        font_.setPointSizeF(points);
        font_.setBold(bold);
        p_.setFont(font_);
    }
};

} // namespace

Result<Done> writeTrendPdf(const TrendPaper& paper, const QString& path) {
    return writePdf(path, {paper.title, {16, 14, 16, 14}, true}, [&](QPdfWriter& writer) {
        QPainter p(&writer);
        Sheet sheet(writer, p);
        sheet.line(paper.title, 18, true, 4);
        sheet.line(paper.summary, 12, false, 24);
        if (paper.trend.points.isEmpty())
            return;
        sheet.bars(paper.trend, 0.44 * writer.height());
        sheet.table(paper.trend, {paper.query.over == TrendQuery::Weeks ? words("week of") : words("build"),
                                  severityName(4), severityName(3), severityName(2), severityName(1),
                                  words("found"), words("cured"), words("came back"), words("one side"),
                                  words("settled"), words("days to cure")});
    });
}

} // namespace hobble
