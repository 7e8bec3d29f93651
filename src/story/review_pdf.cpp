#include "story/review_pdf.h"

#include "log/defect_use.h"

#include "story/pdf_file.h"

#include "core/words/say.h"
#include "log/date_words.h"
#include "log/defect_list.h"
#include "log/proposal.h"
#include "story/curve_svg.h"

#include <QCoreApplication>
#include <QFontDatabase>
#include <QPainter>
#include <QPdfWriter>
#include <QSvgRenderer>

namespace hobble {

namespace {

QString tr(const char* words) { return QCoreApplication::translate("hobble", words); }

constexpr double kDot = 100;   // dots an inch that are counted in
constexpr double kMargin = 62; // of the page
const QColor kInk(0x1d2a33), kQuiet(0x56626a), kHair(0xd9cfbc), kBlocking(0x9c2f22);

// Lays words and pictures down the page, and turns it when it is full.
class Paper {
public:
    Paper(QPdfWriter& writer, const QString& foot) : writer_(writer), p_(&writer), foot_(foot) {
        const double scale = writer.resolution() / kDot;
        p_.scale(scale, scale);
        width_ = writer.width() / scale - 2 * kMargin;
        bottom_ = writer.height() / scale - kMargin - 20;
        y_ = kMargin;
        footLine();
    }

    double width() const { return width_; }
    void space(double by) { y_ += by; }
    void keepTogether(double height) {
        if (y_ + height > bottom_)
            turn();
    }

    void words(const QString& text, double size, bool bold, const QColor& colour, double indent = 0) {
        QFont font(family());
        font.setPixelSize(static_cast<int>(size));
        font.setBold(bold);
        p_.setFont(font);
        p_.setPen(colour);
        const QRectF room(kMargin + indent, y_, width_ - indent, 1e5);
        const QRectF box = p_.boundingRect(room, Qt::TextWordWrap, text);
        if (y_ + box.height() > bottom_ && box.height() < bottom_ - kMargin)
            turn();
        p_.setFont(font); // the foot of a page has its own
        p_.setPen(colour);
        p_.drawText(QRectF(kMargin + indent, y_, width_ - indent, box.height() + 2), Qt::TextWordWrap, text);
        y_ += box.height() + 2;
    }

    void line() {
        p_.setPen(QPen(kHair, 1));
        p_.drawLine(QPointF(kMargin, y_), QPointF(kMargin + width_, y_));
        y_ += 8;
    }

    /// Side by side, four to a line, with a line of words below each.
    void pictures(const QVector<std::pair<QImage, QString>>& all) {
        constexpr int across = 4;
        const double gap = 8, w = (width_ - (across - 1) * gap) / across;
        for (int i = 0; i < all.size(); i += across) {
            const double h = w * all[i].first.height() / std::max(1, all[i].first.width());
            keepTogether(h + 18);
            QFont small(family());
            small.setPixelSize(11);
            for (int k = i; k < std::min<int>(i + across, static_cast<int>(all.size())); ++k) {
                const double x = kMargin + (k - i) * (w + gap);
                p_.drawImage(QRectF(x, y_, w, h), all[k].first);
                p_.setFont(small);
                p_.setPen(kQuiet);
                p_.drawText(QRectF(x, y_ + h + 1, w, 16), Qt::AlignLeft, all[k].second);
            }
            y_ += h + 20;
        }
    }

    void drawing(const QByteArray& svg, double width, double height) {
        keepTogether(height);
        QSvgRenderer(svg).render(&p_, QRectF(kMargin, y_, width, height));
        y_ += height + 6;
    }

    /// Cells at shares of the width; the first row is the head.
    void table(const QVector<QStringList>& rows, const QVector<double>& shares) {
        for (int r = 0; r < rows.size(); ++r) {
            keepTogether(20);
            QFont font(family());
            font.setPixelSize(13);
            font.setBold(r == 0);
            p_.setFont(font);
            p_.setPen(r == 0 ? kQuiet : kInk);
            double x = kMargin;
            for (int c = 0; c < rows[r].size(); ++c) {
                const double w = width_ * shares[c];
                p_.drawText(QRectF(x, y_, w - 8, 18), Qt::AlignVCenter | Qt::TextSingleLine,
                            p_.fontMetrics().elidedText(rows[r][c], Qt::ElideRight, static_cast<int>(w - 8)));
                x += w;
            }
            y_ += 19;
        }
        y_ += 6;
    }

    int pages() const { return page_; }

private:
    static QString family() {
        static const QString shipped = [] {
            for (const char* file : {"latin-400", "latin-700", "latin-ext-400", "latin-ext-700"})
                QFontDatabase::addApplicationFont(
                    QStringLiteral(":/fonts/atkinson-hyperlegible-next-%1-normal.woff")
                        .arg(QLatin1String(file)));
            const QString wanted = QStringLiteral("Atkinson Hyperlegible Next");
            return QFontDatabase::families().contains(wanted) ? wanted : QString();
        }();
        return shipped;
    }

    void footLine() {
        QFont small(family());
        small.setPixelSize(11);
        p_.setFont(small);
        p_.setPen(kQuiet);
        const QRectF at(kMargin, bottom_ + 12, width_, 18);
        p_.drawText(at, Qt::AlignLeft,
                    p_.fontMetrics().elidedText(foot_, Qt::ElideRight, static_cast<int>(width_ * 0.8)));
        p_.drawText(at, Qt::AlignRight, QString::number(page_));
    }

    void turn() {
        writer_.newPage();
        ++page_;
        y_ = kMargin;
        footLine();
    }

    QPdfWriter& writer_;
    QPainter p_;
    QString foot_;
    double width_ = 0, bottom_ = 0, y_ = 0;
    int page_ = 1;
};

QVector<QStringList> workloadRows(const QVector<Load>& loads) {
    QVector<QStringList> rows{
        {tr("Who"), tr("to do"), tr("4"), tr("3"), tr("2"), tr("1"), tr("to be checked"), tr("oldest")}};
    const auto count = [](int n) { return n ? QString::number(n) : QString(); };
    for (const Load& l : loads)
        rows << QStringList{l.person.isEmpty() ? tr("nobody yet")
                            : l.onRoster       ? l.person
                                               : tr("%1 (has left)").arg(l.person),
                            count(l.waiting),
                            count(l.bySeverity[4]),
                            count(l.bySeverity[3]),
                            count(l.bySeverity[2]),
                            count(l.bySeverity[1]),
                            count(l.toBeChecked),
                            l.waiting || l.toBeChecked ? tr("%1 days").arg(l.oldestDays) : QString()};
    return rows;
}

} // namespace

Result<Done> writeReviewPdf(const ReviewPaper& paper, const QString& path) {
    return writePdf(path, {paper.title, {}, false, 200}, [&](QPdfWriter& writer) {
        Paper out(writer, paper.title);
        out.words(paper.title, 28, true, kInk);
        out.space(4);
        for (const QString& s : paper.summary)
            out.words(s, 15, false, kQuiet);
        out.space(14);
        if (!paper.loads.isEmpty()) {
            out.words(tr("Who has what"), 17, true, kInk);
            out.table(workloadRows(paper.loads), {0.34, 0.09, 0.07, 0.07, 0.07, 0.07, 0.15, 0.14});
            out.space(8);
        }
        if (!paper.stories.isEmpty()) {
            const bool run = paper.about == ReviewPaper::Run;
            out.words(run ? tr("Findings") : tr("Defects"), 17, true, kInk);
            QVector<QStringList> rows{
                run ? QStringList{tr("No."), tr("Bad"), tr("What")}
                    : QStringList{tr("No."), tr("Bad"), tr("What"), tr("Who"), tr("State")}};
            for (const DefectStory& s : paper.stories)
                if (run)
                    rows << QStringList{QString::number(s.defect.id), QString::number(s.defect.severity),
                                        s.defect.facts.what};
                else
                    rows << QStringList{
                        QString::number(s.defect.id), QString::number(s.defect.severity), s.defect.facts.what,
                        s.defect.assignee.isEmpty() ? tr("nobody yet") : s.defect.assignee,
                        QString::fromStdString(translated(nameOf(s.defect.state).toUtf8().constData()))};
            out.table(rows, run ? QVector<double>{0.06, 0.06, 0.88}
                                : QVector<double>{0.06, 0.06, 0.53, 0.17, 0.18});
        }
        for (const DefectStory& s : paper.stories) {
            if (s.listedOnly)
                continue;
            const Defect& d = s.defect;
            out.keepTogether(s.numbers.empty() ? 200 : 330);
            out.space(8);
            out.line();
            out.words(tr("%1. %2").arg(d.id).arg(d.facts.what), 17, true, d.severity == 4 ? kBlocking : kInk);
            QStringList facts{tr("severity %1").arg(d.severity)};
            if (paper.about == ReviewPaper::Meeting)
                facts << tr("%1, build %2").arg(d.build.character).arg(d.build.number);
            facts << whenWords(d.facts);
            if (paper.about == ReviewPaper::Meeting)
                facts << QString::fromStdString(translated(nameOf(d.state).toUtf8().constData()))
                      << (d.assignee.isEmpty() ? tr("nobody has it yet") : d.assignee);
            if (!d.due.isEmpty())
                facts << tr("due in %1").arg(d.due);
            out.words(facts.join(QStringLiteral(" · ")), 13, false, kQuiet);
            if (!d.facts.cause.isEmpty())
                out.words(d.facts.cause, 14, false, kInk);
            if (d.use)
                out.words(tr("In the show %1.").arg(useWords(*d.use)), 14, false, kInk);
            out.space(6);
            QVector<std::pair<QImage, QString>> pictures;
            for (const DefectPicture& p : s.pictures.pictures)
                pictures.push_back({p.image, !p.pose.isEmpty()
                                                 ? tr("build %1, in %2").arg(p.build).arg(p.pose)
                                             : !p.build   ? (p.measured ? tr("measured") : p.view)
                                             : p.measured ? tr("build %1, measured").arg(p.build)
                                                          : tr("build %1, %2").arg(p.build).arg(p.view)});
            if (pictures.isEmpty() && !d.facts.picture.isEmpty())
                pictures.push_back({QImage::fromData(d.facts.picture), tr("when it was logged")});
            out.pictures(pictures);
            if (!s.pictures.scale.isEmpty())
                out.words(s.pictures.scale, 12, false, kQuiet);
            if (const QByteArray svg = curveSvg(d.facts, s.numbers, 560, 170); !svg.isEmpty())
                out.drawing(svg, 560, 170);
            for (const DefectEvent& e : s.history)
                if (e.field == QLatin1String("comment") || e.field == QLatin1String("proposal") ||
                    !e.reason.isEmpty())
                    out.words(tr("%1, %2: %3")
                                  .arg(e.author, dateWords(e.at, DateAs::Day),
                                       e.field == QLatin1String("comment") ? tr("“%1”").arg(e.value)
                                       : e.reason.isEmpty()                ? valueWords(e)
                                                            : tr("%1, %2").arg(e.value, e.reason)),
                              13, false, kInk);
        }
    });
}

} // namespace hobble
