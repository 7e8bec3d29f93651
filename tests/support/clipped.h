#pragma once
// What of a window cannot be read or reached as it stands: words wider than their place, things outside what
// holds them.
#include "support/window_test.h"

#include <QAbstractScrollArea>
#include <QComboBox>
#include <QLabel>
#include <QPushButton>
#include <QScrollBar>
#include <QSplitter>

namespace hobble::test {

// What scrolls may stand outside its parent; nothing else may.
inline bool scrolls(const QWidget* w) {
    for (const QWidget* p = w->parentWidget(); p; p = p->parentWidget())
        if (const auto* area = qobject_cast<const QAbstractScrollArea*>(p->parentWidget());
            area && area->viewport() == p)
            return true;
    return false;
}
inline QStringList clipped(const QWidget& window) {
    QStringList out;
    const auto tell = [&](const QWidget* w, const QString& what) {
        const auto* label = qobject_cast<const QLabel*>(w);
        const auto* button = qobject_cast<const QPushButton*>(w);
        out << QStringLiteral("%1 “%2” (%3): %4")
                   .arg(QLatin1String(w->metaObject()->className()),
                        label    ? label->text().left(40)
                        : button ? button->text()
                                 : QString(),
                        w->objectName(), what);
    };
    if (window.width() > 1280 || window.height() > 800)
        out << QStringLiteral("the window: %1 × %2").arg(window.width()).arg(window.height());
    for (const QWidget* w : window.findChildren<QWidget*>()) {
        if (!w->isVisible() || w->window() != &window || w->size().isEmpty())
            continue;
        const QWidget* parent = w->parentWidget();
        if (!scrolls(w) && !parent->rect().contains(w->geometry()) &&
            !qobject_cast<const QSplitter*>(parent) && !w->inherits("QSplitterHandle"))
            tell(w, QStringLiteral("outside its parent, %1 … %2 of %3 high in %4")
                        .arg(w->y())
                        .arg(w->geometry().bottom())
                        .arg(parent->height())
                        .arg(QLatin1String(parent->metaObject()->className())));
        if (scrolls(w) && w->geometry().right() > parent->width()) {
            const QWidget* widest = w;
            for (const QWidget* in : w->findChildren<QWidget*>())
                if (in->isVisibleTo(w) && !in->property("text").toString().isEmpty() &&
                    (widest == w || in->minimumSizeHint().width() > widest->minimumSizeHint().width()))
                    widest = in;
            tell(w, QStringLiteral("wider than what scrolls, %1 of %2; the widest in it is %3 “%4”, %5")
                        .arg(w->width())
                        .arg(parent->width())
                        .arg(QLatin1String(widest->metaObject()->className()),
                             widest->property("text").toString())
                        .arg(widest->minimumSizeHint().width()));
        }
        if (const auto* l = qobject_cast<const QLabel*>(w); l && !l->text().isEmpty()) {
            if (!l->wordWrap() && l->sizeHint().width() > l->width() + 1)
                tell(w, QStringLiteral("%1 px of %2").arg(l->width()).arg(l->sizeHint().width()));
            if (l->heightForWidth(l->width()) > l->height() + 1)
                tell(w,
                     QStringLiteral("%1 px high of %2").arg(l->height()).arg(l->heightForWidth(l->width())));
        }
        if (const auto* b = qobject_cast<const QPushButton*>(w);
            b && b->fontMetrics().horizontalAdvance(b->text()) > b->width())
            tell(w, QStringLiteral("words wider than the button"));
        if (const auto* box = qobject_cast<const QComboBox*>(w);
            box && box->fontMetrics().horizontalAdvance(box->currentText()) > box->width() - 24)
            tell(w, QStringLiteral("%1 does not fit").arg(box->currentText()));
        if (const auto* bar = qobject_cast<const QScrollBar*>(w);
            bar && bar->orientation() == Qt::Horizontal && bar->maximum() > 0)
            tell(w, QStringLiteral("scrolls sideways"));
    }
    return out;
}
/// After layouts have come to rest, for what is clipped then stays so. Says what is.
inline bool isWhole(const QWidget& window, const QString& where) {
    comeToRest();
    QStringList bad;
    (void)QTest::qWaitFor([&] { return (bad = clipped(window)).isEmpty(); }, 600);
    for (const QString& words : bad)
        qWarning("%s: %s", qPrintable(where), qPrintable(words));
    return bad.isEmpty();
}

} // namespace hobble::test
