#include "app/words.h"

#include "core/words/say.h"

#include <QCoreApplication>

namespace hobble {

namespace {

// What the log calls the fields of its events.
[[maybe_unused]] const char* const kFields[] = {
    QT_TRANSLATE_NOOP("core", "state"),     QT_TRANSLATE_NOOP("core", "assignee"),
    QT_TRANSLATE_NOOP("core", "severity"),  QT_TRANSLATE_NOOP("core", "due"),
    QT_TRANSLATE_NOOP("core", "what"),      QT_TRANSLATE_NOOP("core", "duplicate of"),
    QT_TRANSLATE_NOOP("core", "split from")};

} // namespace

QString wordsFor(Limb limb) {
    static const char* words[kLimbs] = {
        QT_TRANSLATE_NOOP("Words", "Arms"),  QT_TRANSLATE_NOOP("Words", "Legs"),
        QT_TRANSLATE_NOOP("Words", "Trunk"), QT_TRANSLATE_NOOP("Words", "Head"),
        QT_TRANSLATE_NOOP("Words", "Hands"), QT_TRANSLATE_NOOP("Words", "Feet"),
        QT_TRANSLATE_NOOP("Words", "Tail"),  QT_TRANSLATE_NOOP("Words", "Other"),
        QT_TRANSLATE_NOOP("Words", "Poses"), QT_TRANSLATE_NOOP("Words", "Clips"),
        QT_TRANSLATE_NOOP("Words", "Shapes")};
    return QCoreApplication::translate("Words", words[static_cast<int>(limb)]);
}

QString inWords(const char* word) { return QString::fromStdString(translated(word)); }
QString inWords(const QString& word) { return inWords(word.toUtf8().constData()); }

} // namespace hobble
