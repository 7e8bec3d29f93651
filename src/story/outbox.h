#pragma once
// A stand-in for a mail server: messages as files that any mail program opens (RFC 5322, RFC 2045 to 2047),
// laid into a folder.
#include "core/result.h"

#include <QByteArray>
#include <QDateTime>
#include <QString>
#include <QVector>

namespace hobble {

struct Attachment {
    QString name, type; // "marks.json", "application/json"
    QByteArray bytes;
};

struct Message {
    QString fromName, from, toName, to, subject, text;
    QDateTime at;
    QVector<Attachment> attachments;
};

QByteArray messageBytes(const Message& message);

/// Returns the file's path; a name that is taken gets a number.
Result<QString> layInOutbox(const QString& folder, const Message& message);

} // namespace hobble
