#include "app/theme.h"

#include <QApplication>
#include <QFontDatabase>
#include <QStyleFactory>
#include <QWidget>

#include <algorithm>
#include <cmath>

// A resource of a static library has to be asked for by name, outside any namespace.
static void initResources() { Q_INIT_RESOURCE(app); }

namespace hobble {

namespace {

Theme g_theme;

Theme paperTheme() {
    Theme t;
    t.paper = QColor(0xf7f2e8);
    t.panel = QColor(0xfcf9f2);
    t.ink = QColor(0x1b2a35);
    t.muted = QColor(0x626c71);
    t.hairline = QColor(0xdfd6c5);
    t.accent = QColor(0x15795f);
    t.accentSoft = QColor(0xe3efe9);
    t.blocking = QColor(0xb0281f);
    t.useStroke = QColor(0x0d6a63);
    t.stripBody = QColor(0xd9e4df);
    t.stripMild = QColor(0x9a67a6);
    t.stripGrave = QColor(0x562263);
    t.limitLine = QColor(0xb3a894);
    t.better = QColor(0x5a9fa0);
    t.worse = QColor(0xc8703c);
    t.viewport = QColor(0x8a8d88);
    t.viewportInk = QColor(0xf7f5ef);
    return t;
}

Theme nightTheme() {
    Theme t;
    t.night = true;
    t.paper = QColor(0x20262b);
    t.panel = QColor(0x282f35);
    t.ink = QColor(0xe9e4d8);
    t.muted = QColor(0xa3aaab);
    t.hairline = QColor(0x3d464c);
    t.accent = QColor(0x58c3a2);
    t.accentSoft = QColor(0x2b403b);
    t.blocking = QColor(0xf0786c);
    t.useStroke = QColor(0x7fd6c6);
    t.stripBody = QColor(0x37484a);
    t.stripMild = QColor(0xa678b3);
    t.stripGrave = QColor(0xcfa3dc);
    t.limitLine = QColor(0x77746a);
    t.better = QColor(0x4f9a9c);
    t.worse = QColor(0xd58350);
    t.viewport = QColor(0x6e716d);
    t.viewportInk = QColor(0xf7f5ef);
    return t;
}

// What setType and setTextSize asked for, at the text size of now.
void follow(QWidget* w) {
    if (const QVariant scale = w->property("typeScale"); scale.isValid())
        w->setFont(typeface(scale.toDouble(), w->property("typeBold").toBool()));
    const QSize size = w->property("textSize").toSize();
    if (size.width() > 0)
        w->setFixedWidth(px(size.width()));
    if (size.height() > 0)
        w->setFixedHeight(px(size.height()));
    if (const QSize least = w->property("textLeast").toSize(); least.width() > 0)
        w->setMinimumWidth(std::min(px(least.width()), least.height()));
}

} // namespace

const Theme& Theme::current() { return g_theme; }

void Theme::apply(bool night, double textScale) {
    g_theme = night ? nightTheme() : paperTheme();
    g_theme.textScale = std::clamp(textScale, 1.0, 2.0);
    const Theme& t = g_theme;
    static const bool loaded = [] {
        initResources();
        for (const char* file : {"latin-400", "latin-700", "latin-ext-400", "latin-ext-700"})
            QFontDatabase::addApplicationFont(
                QStringLiteral(":/fonts/atkinson-hyperlegible-next-%1-normal.woff").arg(QLatin1String(file)));
        return true;
    }();
    Q_UNUSED(loaded);
    QApplication::setStyle(QStyleFactory::create(QStringLiteral("Fusion")));
    QApplication::setFont(typeface());
    QPalette p;
    p.setColor(QPalette::Window, t.paper);
    p.setColor(QPalette::Base, t.panel);
    p.setColor(QPalette::AlternateBase, t.paper);
    p.setColor(QPalette::Button, t.paper);
    for (QPalette::ColorRole r :
         {QPalette::WindowText, QPalette::Text, QPalette::ButtonText, QPalette::ToolTipText})
        p.setColor(r, t.ink);
    p.setColor(QPalette::PlaceholderText, t.muted);
    p.setColor(QPalette::ToolTipBase, t.panel);
    p.setColor(QPalette::Highlight, t.accent);
    p.setColor(QPalette::HighlightedText, t.night ? t.paper : QColor(Qt::white));
    p.setColor(QPalette::Link, t.accent);
    for (QPalette::ColorRole r : {QPalette::WindowText, QPalette::Text, QPalette::ButtonText})
        p.setColor(QPalette::Disabled, r, t.muted);
    QApplication::setPalette(p);

    QString sheet = QStringLiteral(R"(
        QWidget { color: @ink; }
        QLabel[quiet="true"], QCheckBox[quiet="true"] { color: @muted; }
        QLabel[link="true"] { color: @accent; }
        QLabel[heading="true"] { font-weight: 700; }
        QPushButton { border: none; background: transparent; color: @accent; padding: 4px 6px; text-align: left; }
        QPushButton::menu-indicator { image: none; width: 0; }
        QPushButton:hover { background: @soft; }
        QPushButton:focus { outline: none; border: 1px solid @accent; padding: 3px 5px; }
        QPushButton:disabled { color: @muted; }
        QPushButton[strong="true"] { font-weight: 700; }
        QPushButton:checkable { color: @muted; border-bottom: 2px solid transparent; }
        QPushButton:checked { color: @ink; border-bottom: 2px solid @accent; }
        QPushButton[page="true"] { color: @ink; padding: 8px 2px; border-bottom: 3px solid transparent; }
        QPushButton[page="true"]:checked { color: @accent; border-bottom: 3px solid @accent; }
        QPushButton[page="true"]:focus { border: none; border-bottom: 3px solid @line; background: @soft; }
        QPushButton[page="true"]:checked:focus { border-bottom: 3px solid @accent; }
        QLineEdit, QPlainTextEdit, QTextEdit, QComboBox, QListWidget { background: @panel; border: 1px solid @line;
            border-radius: 3px; padding: 4px 8px; selection-background-color: @accent; }
        QLineEdit:focus, QPlainTextEdit:focus, QComboBox:focus, QListWidget:focus, QTableView:focus {
            border: 1px solid @accent; }
        QComboBox::drop-down { border: none; width: 20px; }
        QComboBox::down-arrow { image: url(:/icons/down.svg); width: 10px; height: 10px; }
        QComboBox QAbstractItemView { background: @panel; border: 1px solid @line; selection-background-color: @soft;
            selection-color: @ink; }
        QTableView { background: @paper; border: 1px solid transparent; gridline-color: @line;
            selection-background-color: @soft; selection-color: @ink; }
        QHeaderView::section { background: @paper; color: @muted; border: none; border-bottom: 1px solid @line;
            padding: 6px 8px; }
        QToolTip { background: @panel; color: @ink; border: 1px solid @line; }
        QMenu { background: @panel; border: 1px solid @line; }
        QMenu::item { padding: 5px 16px; }
        QMenu::item:disabled { color: @muted; }
        QMenu::item:selected { background: @soft; }
        QScrollArea, QScrollArea > QWidget > QWidget { background: transparent; border: none; }
        QScrollBar:vertical { background: transparent; width: 9px; }
        QScrollBar::handle:vertical { background: @line; border-radius: 4px; min-height: 30px; }
        QScrollBar::add-line, QScrollBar::sub-line { height: 0; width: 0; }
        QScrollBar:horizontal { background: transparent; height: 9px; }
        QScrollBar::handle:horizontal { background: @line; border-radius: 4px; min-width: 30px; }
        QFrame[card="true"] { background: @panel; border: 1px solid @line; border-radius: 3px; }
        QFrame[card="true"][chosen="true"] { border: 1px solid @accent; }
        QFrame[hair="true"] { background: @line; border: none; max-height: 1px; min-height: 1px; }
        QDialog { background: @paper; }
    )");
    sheet.replace(QStringLiteral("@ink"), t.ink.name())
        .replace(QStringLiteral("@muted"), t.muted.name())
        .replace(QStringLiteral("@accent"), t.accent.name())
        .replace(QStringLiteral("@soft"), t.accentSoft.name())
        .replace(QStringLiteral("@line"), t.hairline.name())
        .replace(QStringLiteral("@panel"), t.panel.name())
        .replace(QStringLiteral("@paper"), t.paper.name());
    qApp->setStyleSheet(sheet);
    for (QWidget* w : QApplication::allWidgets())
        follow(w);
}

QFont typeface(double scale, bool bold) {
    QFont f(QStringLiteral("Atkinson Hyperlegible Next"));
    f.setPointSizeF(10.5 * scale * g_theme.textScale);
    f.setWeight(bold ? QFont::Bold : QFont::Normal);
    return f;
}

void setType(QWidget* w, double scale, bool bold) {
    w->setProperty("typeScale", scale);
    w->setProperty("typeBold", bold);
    follow(w);
}

void setTextWidth(QWidget* w, int pixels) { setTextSize(w, pixels, -1); }

void setTextSize(QWidget* w, int width, int height) {
    w->setProperty("textSize", QSize(width, height));
    follow(w);
}

void setTextLeast(QWidget* w, int width, int most) {
    w->setProperty("textLeast", QSize(width, most));
    follow(w);
}

int px(double pixels) { return static_cast<int>(std::lround(pixels * g_theme.textScale)); }

} // namespace hobble
