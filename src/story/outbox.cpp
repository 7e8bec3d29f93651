#include "story/outbox.h"

#include "io/file_write.h"
#include "log/file_name.h"
#include "log/log_words.h"

#include <QDir>
#include <QFile>
#include <QLocale>
#include <QRandomGenerator>
#include <QUuid>

namespace hobble {

namespace {

// A line of a header holds one line: what would begin another is a space.
QString oneLine(QString words) {
    for (QChar& c : words)
        if (c.unicode() < 32 || c == QChar::LineSeparator || c == QChar::ParagraphSeparator)
            c = QLatin1Char(' ');
    return words.simplified();
}

// RFC 2047, in pieces of whole characters that fit a line.
QByteArray encoded(const QString& words) {
    const QString line = oneLine(words);
    if (std::all_of(line.begin(), line.end(), [](QChar c) { return c.unicode() < 127; }))
        return line.toLatin1();
    QByteArrayList pieces;
    QString piece;
    const auto close = [&] {
        if (!piece.isEmpty())
            pieces << "=?UTF-8?B?" + piece.toUtf8().toBase64() + "?=";
        piece.clear();
    };
    for (qsizetype i = 0; i < line.size(); ++i) {
        piece += line[i];
        if (piece.toUtf8().size() >= 36 && !line[i].isHighSurrogate())
            close();
    }
    close();
    return pieces.join("\r\n ");
}

QByteArray mailbox(const QString& name, const QString& address) {
    QString plain = oneLine(address).remove(QLatin1Char('<')).remove(QLatin1Char('>'));
    const QByteArray at = '<' + (plain.isEmpty() ? QByteArray("unknown@localhost") : plain.toUtf8()) + '>';
    if (name.isEmpty())
        return at;
    QByteArray said = encoded(name);
    if (!said.startsWith("=?"))
        said = '"' + said.replace('\\', "\\\\").replace('"', "\\\"") + '"';
    return said + ' ' + at;
}

QByteArray base64Lines(const QByteArray& bytes) {
    const QByteArray all = bytes.toBase64();
    QByteArray out;
    for (qsizetype i = 0; i < all.size(); i += 76)
        out += all.mid(i, 76) + "\r\n";
    return out;
}

} // namespace

QByteArray messageBytes(const Message& m) {
    const QByteArray border = "part-" + QUuid::createUuid().toByteArray(QUuid::Id128);
    QByteArray out =
        "From: " + mailbox(m.fromName, m.from) + "\r\nTo: " + mailbox(m.toName, m.to) +
        "\r\nSubject: " + encoded(m.subject) + "\r\nDate: " +
        QLocale::c().toString(m.at.toUTC(), QStringLiteral("ddd, dd MMM yyyy HH:mm:ss")).toLatin1() +
        " +0000\r\nMessage-ID: <" + QUuid::createUuid().toByteArray(QUuid::Id128) +
        "@hobble.invalid>\r\nMIME-Version: 1.0\r\nContent-Type: multipart/mixed; boundary=\"" + border +
        "\"\r\n\r\n--" + border +
        "\r\nContent-Type: text/plain; charset=utf-8\r\nContent-Transfer-Encoding: base64\r\n\r\n" +
        base64Lines(m.text.toUtf8());
    for (const Attachment& a : m.attachments)
        out += "--" + border + "\r\nContent-Type: " + oneLine(a.type).toLatin1() +
               "\r\nContent-Transfer-Encoding: base64\r\nContent-Disposition: attachment; filename*=UTF-8''" +
               oneLine(a.name).toUtf8().toPercentEncoding() + "\r\n\r\n" + base64Lines(a.bytes);
    return out + "--" + border + "--\r\n";
}

Result<QString> layInOutbox(const QString& folder, const Message& m) {
    if (!QDir().mkpath(folder))
        return Error{tr("Cannot make the outbox %1.").arg(folder).toStdString()};
    const QString stem = QStringLiteral("%1/%2-%3")
                             .arg(folder, m.at.toString(QStringLiteral("yyyyMMdd-HHmmss")),
                                  safeFileName(m.toName.isEmpty() ? m.to : m.toName));
    QString path = stem + QStringLiteral(".eml");
    for (int n = 2; QFile::exists(path); ++n)
        path = QStringLiteral("%1-%2.eml").arg(stem).arg(n);
    const auto written = writeFile(path.toStdString(), messageBytes(m).toStdString());
    return written ? Result<QString>(path) : Error{written.error()};
}

} // namespace hobble
