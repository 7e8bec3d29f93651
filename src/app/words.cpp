#include "app/words.h"

#include <QCoreApplication>

namespace hobble {

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

} // namespace hobble
