// What is painted over the picture: the skeleton, and the value under the pointer.
#include "app/theme.h"
#include "app/view/viewport.h"

#include <QPainter>

#include <cmath>

namespace hobble {

void Viewport::paintSkeleton(QPainter& p) {
    const PosedFrame* f = &seen();
    const auto& s = view_->subject();
    const Skeleton& sk = s->character->skeleton;
    const int chosen = view_->joint();
    auto shown = [&](int j) { return s->roles[j].movesSkin || s->roles[j].role == Role::End; };
    auto at = [&](int j) { return project(f->jointPosition[j].cast<double>()); };
    for (int pass = 0; pass < 2; ++pass) // the limb looked at on top
        for (int j = 0; j < sk.size(); ++j) {
            const int parent = sk.parent[j];
            const bool near = chosen >= 0 && (j == chosen || parent == chosen);
            if (parent < 0 || !shown(j) || near != (pass == 1))
                continue;
            p.setPen(QPen(near ? QColor(0x0f7a5e) : QColor(20, 60, 52, 90), near ? 2.4 : 1.2));
            p.drawLine(at(parent), at(j));
        }
    for (int j = 0; j < sk.size(); ++j) {
        const bool near = chosen >= 0 && (j == chosen || sk.parent[j] == chosen || sk.parent[chosen] == j);
        if (!shown(j) || !near)
            continue;
        p.setPen(QPen(QColor(0x0f7a5e), 2));
        p.setBrush(QColor(0xfcfaf4));
        const double r = j == chosen ? 4.5 : 3.2;
        p.drawEllipse(at(j), r, r);
    }
}

// The measure at the pointer with the limit on its side of unchanged, then what holds the skin there.
QString Viewport::wordsAt(const SkinHit& hit) const {
    const auto& f = view_->frame();
    const Character& c = *f->subject->character;
    const std::uint32_t v = hit.vertex;
    const auto part = static_cast<std::size_t>(c.partOfVertex(v));
    QString first = QString::fromStdString(c.parts[part].name);
    if (colouring_ == Colouring::Influences) {
        const std::uint32_t n = c.weights.first[v + 1] - c.weights.first[v];
        first = n == 1 ? tr("held by one joint") : tr("held by %n joints", nullptr, int(n));
    } else if (measuring_) {
        first = tr("%1: being measured").arg(nameOf(colouring_));
    } else if (colouring_ != Colouring::Weight && v < values_.size()) {
        const ColourScale colours = scale();
        const double value = static_cast<double>(values_[v]);
        const ColourStop* limit = nullptr; // the minor one, on this side of unchanged
        for (const ColourStop& stop : colours.stops)
            if (stop.severity == 1 && (!limit || (value > 1) == (stop.value > 1)))
                limit = &stop;
        const QString what = colouring_ != Colouring::Strain ? nameOf(colouring_)
                             : value > 1                     ? tr("stretch")
                                                             : tr("squash");
        first = tr("%1 %2").arg(what, colours.words(value));
        if (limit)
            first += tr(", limit %1").arg(colours.words(limit->value));
    }
    QStringList influences;
    for (std::uint32_t i = c.weights.first[v]; i < std::min(c.weights.first[v + 1], c.weights.first[v] + 4);
         ++i)
        influences << tr("%1 %2 %")
                          .arg(QString::fromStdString(c.skeleton.name[c.weights.joint[i]]))
                          .arg(100 * double(c.weights.weight[i]), 0, 'f', 0);
    if (influences.isEmpty())
        influences << tr("nothing moves this vertex");
    return first + QLatin1Char('\n') + influences.join(QStringLiteral(", "));
}

void Viewport::paintWords(QPainter& p) {
    if (!hover_ || pointerTaken())
        return;
    paintWordsAt(p, hoverAt_, wordsAt(*hover_));
}

void Viewport::paintWordsAt(QPainter& p, const QPointF& place, const QString& words) const {
    const Theme& t = Theme::current();
    p.setFont(typeface(0.92));
    QRectF box = p.fontMetrics()
                     .boundingRect(QRect(0, 0, px(320), px(200)), 0, words)
                     .toRectF()
                     .adjusted(-9, -6, 9, 6);
    box.moveTopLeft(place + QPointF(16, 14));
    if (box.right() > width() - 6)
        box.moveRight(place.x() - 12);
    if (box.bottom() > height() - 6)
        box.moveBottom(place.y() - 10);
    p.setPen(QPen(t.hairline, 1));
    p.setBrush(t.panel);
    p.drawRoundedRect(box, 3, 3);
    p.setPen(t.ink);
    p.drawText(box.adjusted(9, 6, -9, -6), words);
}

} // namespace hobble
