#include "log/defect_use.h"

#include "core/words/exposure_words.h"

#include <QJsonDocument>

namespace hobble {

DefectUse useOf(const Exposure& e, const UsePast& past) {
    DefectUse out;
    out.frames = static_cast<qint64>(past.frames);
    out.ofFrames = static_cast<qint64>(past.ofFrames);
    out.clips = static_cast<qint64>(past.clips);
    out.ofClips = static_cast<qint64>(past.ofClips);
    if (past.firstClip >= 0) {
        out.firstClip = QString::fromStdString(e.clips[static_cast<std::size_t>(past.firstClip)].clip);
        out.firstFrame = past.firstFrame;
    }
    return out;
}

QJsonObject useToJson(const DefectUse& use) {
    QJsonObject out{{QStringLiteral("frames"), use.frames},
                    {QStringLiteral("ofFrames"), use.ofFrames},
                    {QStringLiteral("clips"), use.clips},
                    {QStringLiteral("ofClips"), use.ofClips}};
    if (use.frames > 0)
        out[QStringLiteral("first")] =
            QJsonObject{{QStringLiteral("clip"), use.firstClip}, {QStringLiteral("frame"), use.firstFrame}};
    return out;
}

DefectChange useEvent(const Defect& defect, const DefectUse& use) {
    return {defect.id,
            QStringLiteral("use"),
            QString::fromUtf8(QJsonDocument(useToJson(use)).toJson(QJsonDocument::Compact)),
            defect.version,
            {},
            false};
}

std::optional<DefectUse> useFrom(const QString& value) {
    const QJsonObject in = QJsonDocument::fromJson(value.toUtf8()).object();
    if (!in.contains(QStringLiteral("frames")) || !in.contains(QStringLiteral("ofFrames")))
        return std::nullopt;
    const auto number = [&](const char* name) {
        return static_cast<qint64>(in.value(QLatin1String(name)).toDouble());
    };
    DefectUse out;
    out.frames = number("frames");
    out.ofFrames = number("ofFrames");
    out.clips = number("clips");
    out.ofClips = number("ofClips");
    const QJsonObject first = in.value(QStringLiteral("first")).toObject();
    out.firstClip = first.value(QStringLiteral("clip")).toString();
    out.firstFrame = static_cast<qint64>(first.value(QStringLiteral("frame")).toDouble());
    return out;
}

QString useWords(const DefectUse& use) {
    const auto number = [](qint64 n) { return QString::fromStdString(grouped(static_cast<std::size_t>(n))); };
    const QString clips =
        use.ofClips == 1 ? QStringLiteral("one clip") : QStringLiteral("%1 clips").arg(number(use.ofClips));
    if (use.frames == 0)
        return QStringLiteral("never in %1 frames of %2").arg(number(use.ofFrames), clips);
    return QStringLiteral("in %1 of %2 frames, %3 of %4, first in %5 frame %6")
        .arg(number(use.frames), number(use.ofFrames), number(use.clips), clips, use.firstClip)
        .arg(use.firstFrame);
}

} // namespace hobble
