#pragma once
// The parts pages are made of, so that they look and behave alike: columns, hairlines, words that can be
// pressed, words that wrap, and what stands where a character cannot be drawn.
#include <QLabel>
#include <QPushButton>
#include <QSplitter>

#include <functional>

class QLayout;
class QScrollArea;
class QTableWidget;

namespace hobble {

/// Side by side, parted by a hairline that can be dragged; only the middle one grows with the window.
QSplitter* columns(std::initializer_list<QWidget*> widgets, int growing, const QList<int>& widths);

QFrame* hairline();

/// A line of text that wraps, found by `name`; plain, so that what a file says is never taken for markup.
QLabel* wrapped(const QString& name = {});

/// A line of words that goes somewhere: it wraps, is pressed, and has the keyboard.
class WordsLink : public QLabel {
public:
    explicit WordsLink(const QString& words);
    std::function<void()> chosen;

protected:
    void mousePressEvent(QMouseEvent* e) override;
    void keyPressEvent(QKeyEvent* e) override;
};

/// A word that can be pressed, in place of an icon; `into` takes it.
QPushButton* wordButton(QLayout* into, const QString& text, const QString& name, const QString& tip = {});
/// One that stays down.
QPushButton* wordToggle(QLayout* into, const QString& text, const QString& name, bool on = false,
                        const QString& tip = {});

/// Takes everything out. What it was may be the very thing that was pressed, so it goes when that is over; by
/// then it has no name any more. The keyboard, where it was in there, stays on the page.
void empty(QLayout* layout);

/// A table to be read, a line of which leads somewhere; `stretched` takes the room that is left. Columns from
/// `first` to `last` are numbers, their heads to the right.
QTableWidget* tableOfLines(const QString& name, const QString& said, const QStringList& heads, int stretched,
                           int first, int last);

/// What is said in place of a viewport where the display gives no OpenGL; `goesOn` is what works all the
/// same.
QLabel* noOpenGl(const QString& goesOn);

/// A column that scrolls where it is too high for its place, as with large text.
QScrollArea* scrolled(QWidget* inside);

} // namespace hobble
