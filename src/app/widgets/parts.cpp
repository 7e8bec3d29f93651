#include "app/widgets/parts.h"

#include "app/widgets/page.h"

#include <QApplication>
#include <QCoreApplication>
#include <QHeaderView>
#include <QKeyEvent>
#include <QLayout>
#include <QMouseEvent>
#include <QScrollArea>
#include <QTableWidget>

namespace hobble {

QSplitter* columns(std::initializer_list<QWidget*> widgets, int growing, const QList<int>& widths) {
    auto* out = new QSplitter(Qt::Horizontal);
    out->setChildrenCollapsible(false);
    out->setHandleWidth(1);
    for (QWidget* w : widgets) {
        out->addWidget(w);
        out->setStretchFactor(out->count() - 1, out->count() - 1 == growing ? 1 : 0);
    }
    out->setSizes(widths);
    return out;
}

QFrame* hairline() {
    auto* h = new QFrame;
    h->setProperty("hair", true);
    return h;
}

QLabel* wrapped(const QString& name) {
    auto* label = new QLabel;
    label->setObjectName(name);
    label->setWordWrap(true);
    label->setTextFormat(Qt::PlainText);
    return label;
}

WordsLink::WordsLink(const QString& words) : QLabel(words) {
    setWordWrap(true);
    setTextFormat(Qt::PlainText);
    setCursor(Qt::PointingHandCursor);
    setFocusPolicy(Qt::TabFocus);
}

void WordsLink::mousePressEvent(QMouseEvent* e) {
    e->accept(); // what it stands on may go somewhere else
    chosen();
}

void WordsLink::keyPressEvent(QKeyEvent* e) {
    if (e->key() == Qt::Key_Return || e->key() == Qt::Key_Enter)
        chosen();
    else
        QLabel::keyPressEvent(e);
}

QPushButton* wordButton(QLayout* into, const QString& text, const QString& name, const QString& tip) {
    auto* b = new QPushButton(text);
    b->setObjectName(name);
    b->setToolTip(tip);
    into->addWidget(b);
    return b;
}

QPushButton* wordToggle(QLayout* into, const QString& text, const QString& name, bool on,
                        const QString& tip) {
    auto* b = wordButton(into, text, name, tip);
    b->setCheckable(true);
    b->setChecked(on);
    return b;
}

void empty(QLayout* layout) {
    while (QLayoutItem* item = layout->takeAt(0)) {
        if (QWidget* w = item->widget()) {
            if (const QWidget* focus = QApplication::focusWidget();
                focus && (focus == w || w->isAncestorOf(focus)))
                for (QWidget* above = w; above; above = above->parentWidget())
                    if (auto* page = qobject_cast<Page*>(above)) {
                        page->firstFocus()->setFocus();
                        break;
                    }
            w->hide();
            w->setObjectName({});
            for (QWidget* within : w->findChildren<QWidget*>())
                within->setObjectName({});
            w->deleteLater();
        }
        delete item;
    }
}

QTableWidget* tableOfLines(const QString& name, const QString& said, const QStringList& heads, int stretched,
                           int first, int last) {
    auto* t = new QTableWidget;
    t->setObjectName(name);
    t->setAccessibleName(said);
    t->setColumnCount(static_cast<int>(heads.size()));
    t->setHorizontalHeaderLabels(heads);
    t->setEditTriggers(QAbstractItemView::NoEditTriggers);
    t->setSelectionBehavior(QAbstractItemView::SelectRows);
    t->setSelectionMode(QAbstractItemView::SingleSelection);
    t->setShowGrid(false);
    t->setTabKeyNavigation(false);
    t->setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
    t->verticalHeader()->hide();
    t->horizontalHeader()->setHighlightSections(false);
    t->horizontalHeader()->setDefaultAlignment(Qt::AlignLeft | Qt::AlignVCenter);
    t->horizontalHeader()->setSectionResizeMode(QHeaderView::ResizeToContents);
    t->horizontalHeader()->setSectionResizeMode(stretched, QHeaderView::Stretch);
    for (int column = first; column <= last; ++column)
        t->horizontalHeaderItem(column)->setTextAlignment(Qt::AlignRight | Qt::AlignVCenter);
    return t;
}

QLabel* noOpenGl(const QString& goesOn) {
    auto* sorry = new QLabel(
        QCoreApplication::translate(
            "Parts",
            "This display gives no OpenGL 3.3, so the character cannot be shown. %1 For the picture, start "
            "Hobble on a display with OpenGL (Mesa's software renderer is enough).")
            .arg(goesOn));
    sorry->setObjectName(QStringLiteral("noOpenGl"));
    sorry->setWordWrap(true);
    sorry->setAlignment(Qt::AlignCenter);
    sorry->setMargin(32);
    return sorry;
}

QScrollArea* scrolled(QWidget* inside) {
    auto* scroll = new QScrollArea;
    scroll->setWidgetResizable(true);
    scroll->setFrameShape(QFrame::NoFrame);
    scroll->setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
    scroll->setFocusPolicy(Qt::NoFocus);
    scroll->setWidget(inside);
    return scroll;
}

} // namespace hobble
