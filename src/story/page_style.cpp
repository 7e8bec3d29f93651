#include "story/page_style.h"

#include <QBuffer>

namespace hobble {

QString escaped(const QString& words) { return words.toHtmlEscaped(); }
QString escaped(const std::string& words) { return QString::fromStdString(words).toHtmlEscaped(); }

QString figureTag(const QImage& image, const QString& words) {
    QByteArray bytes;
    QBuffer buffer(&bytes);
    image.save(&buffer, "JPEG", 82);
    return QStringLiteral(
               "<figure><img alt=\"%1\" width=\"%2\" height=\"%3\" src=\"data:image/jpeg;base64,%4\">"
               "<figcaption>%1</figcaption></figure>")
        .arg(escaped(words))
        .arg(image.width())
        .arg(image.height())
        .arg(QString::fromLatin1(bytes.toBase64()));
}

} // namespace hobble
