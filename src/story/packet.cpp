#include "story/packet.h"

#include "core/pose/test_clip.h"
#include "core/words/say.h"
#include "io/bvh_write.h"
#include "io/file_write.h"
#include "io/gltf_write.h"
#include "log/defect_csv.h"
#include "log/defect_json.h"
#include "log/file_name.h"
#include "log/finding_defect.h"
#include "story/defect_pose.h"
#include "story/zip_folder.h"

#include <QDir>
#include <QJsonArray>
#include <QJsonDocument>

#include <map>

namespace hobble {

namespace {

Result<Done> writeBytes(const QString& path, const QByteArray& bytes) {
    return writeFile(path.toStdString(), bytes.toStdString());
}

// The motions of one build's defects as a clip, with a mark where each was seen.
Result<Done> writeClips(const QString& stem, const Subject& s, const QVector<const DefectStory*>& stories) {
    Plan plan;
    for (const DefectStory* story : stories) {
        const DefectFacts facts = inTellingPose(story->defect.facts, s);
        if (foundByIntake(facts) && facts.motionName.isEmpty())
            continue; // no pose shows it
        const DefectMotion dm = motionOf(facts, s);
        Motion m = dm.motion;
        m.on = true;
        if (m.id == "defect")
            m.id = "defect-" + std::to_string(story->defect.id);
        if (const auto same = std::find_if(plan.motions.begin(), plan.motions.end(),
                                           [&](const Motion& other) { return other.id == m.id; });
            same == plan.motions.end())
            plan.motions.push_back(m);
    }
    Character c = *s.character;
    c.clips = {testClip(c, plan)};
    if (auto written = writeGlb(c, (stem + QStringLiteral(".glb")).toStdString()); !written)
        return written;
    return writeBvh(c, c.clips.front(), 24, (stem + QStringLiteral(".bvh")).toStdString());
}

} // namespace

Result<QVector<DefectStory>> storiesOf(const ProductionLog& log, const QVector<qint64>& ids,
                                       BuildShelf& shelf, const PictureWish& wish,
                                       const StoryProgress& progress) {
    QVector<DefectStory> out;
    std::map<QString, QVector<KeptRun>> runs; // by character
    std::map<QString, Build> newest;
    for (int i = 0; i < ids.size(); ++i) {
        if (progress && !progress(i, static_cast<int>(ids.size())))
            return Error{say("Stopped; nothing was written.")};
        auto defect = log.defect(ids[i]);
        if (!defect)
            return Error{defect.error()};
        auto history = log.history(ids[i]);
        if (!history)
            return Error{history.error()};
        const QString character = defect->build.character;
        if (!runs.contains(character)) {
            auto kept = log.newestRuns(character);
            auto builds = log.builds(character);
            if (!kept || !builds)
                return Error{!kept ? kept.error() : builds.error()};
            runs[character] = std::move(*kept);
            if (!builds->isEmpty())
                newest[character] = builds->back().build;
        }
        DefectStory story;
        story.defect = std::move(*defect);
        story.history = std::move(*history);
        story.numbers = numbersOf(story.defect.facts, runs[character], wish.limits);
        QVector<Build> builds{story.defect.build};
        if (newest.contains(character) && newest[character].number > story.defect.build.number)
            builds << newest[character];
        story.pictures = picturesOf(story.defect, builds, shelf, wish);
        out << std::move(story);
    }
    return out;
}

Result<QString> writePacket(const QVector<DefectStory>& stories, BuildShelf& shelf, const PacketWish& wish) {
    const QString name = safeFileName(wish.title);
    QString place = wish.folder + QLatin1Char('/') + name;
    for (int n = 2; QFile::exists(place) || QFile::exists(place + QStringLiteral(".zip")); ++n)
        place = QStringLiteral("%1/%2-%3").arg(wish.folder, name).arg(n);
    // Made beside its place, so that a packet is there as a whole or not at all.
    const QString part = wish.folder + QStringLiteral("/.part-") + QFileInfo(place).fileName() +
                         QLatin1Char('/') + QFileInfo(place).fileName();
    const QDir outer(QFileInfo(part).path());
    const auto giveUp = [&](const std::string& why) {
        QDir(outer).removeRecursively();
        return Error{why};
    };
    for (const char* sub : {"", "/clips", "/marks"})
        if (!QDir().mkpath(part + QLatin1String(sub)))
            return giveUp(
                QStringLiteral("Cannot make a packet in %1: the folder is missing, protected or full.")
                    .arg(wish.folder)
                    .toStdString());
    QVector<Defect> defects;
    QVector<QString> comments;
    QJsonArray all;
    std::map<QString, std::pair<Build, QVector<const DefectStory*>>> byBuild;
    for (const DefectStory& s : stories) {
        defects << s.defect;
        comments << commentsIn(s.history);
        all.append(defectToJson(s.defect, &s.history));
        byBuild[s.defect.build.hash].first = s.defect.build;
        byBuild[s.defect.build.hash].second << &s;
        const QJsonObject marks{
            {QStringLiteral("defect"), s.defect.id},
            {QStringLiteral("character"), s.defect.build.character},
            {QStringLiteral("build"), s.defect.build.number},
            {QStringLiteral("joint"), s.defect.facts.joint},
            {QStringLiteral("what"), s.defect.facts.what},
            {QStringLiteral("parts"),
             QJsonDocument::fromJson(s.defect.facts.marks).object().value(QStringLiteral("parts"))}};
        if (auto done = writeBytes(QStringLiteral("%1/marks/defect-%2.json").arg(part).arg(s.defect.id),
                                   QJsonDocument(marks).toJson());
            !done)
            return giveUp(done.error());
    }
    QStringList notes;
    int done = 0;
    for (const auto& [hash, of] : byBuild) {
        if (wish.progress && !wish.progress(done++, static_cast<int>(byBuild.size())))
            return giveUp("Stopped; nothing was written.");
        const auto subject = shelf.take(of.first);
        if (!subject) { // the page says so; the rest is worth having
            notes << QString::fromStdString(subject.error());
            continue;
        }
        const QString stem = QStringLiteral("%1/clips/%2-build-%3")
                                 .arg(part, safeFileName(of.first.character))
                                 .arg(of.first.number);
        if (auto written = writeClips(stem, **subject, of.second); !written)
            return giveUp(written.error());
    }
    const QJsonObject json{{QStringLiteral("format"), QStringLiteral("hobble-defects")},
                           {QStringLiteral("version"), 1},
                           {QStringLiteral("defects"), all}};
    for (const auto& [file, bytes] :
         {std::pair(QStringLiteral("index.html"), packetPage(wish.title, stories, notes)),
          {QStringLiteral("defects.csv"), defectsToCsv(defects, comments)},
          {QStringLiteral("defects.json"), QJsonDocument(json).toJson()}})
        if (auto written = writeBytes(part + QLatin1Char('/') + file, bytes); !written)
            return giveUp(written.error());
    if (wish.zip) {
        place += QStringLiteral(".zip");
        if (auto zipped = zipFolder(part, place); !zipped)
            return giveUp(zipped.error());
    } else if (!QDir().rename(part, place)) {
        return giveUp(QStringLiteral("Cannot put the packet to %1.").arg(place).toStdString());
    }
    QDir(outer).removeRecursively();
    return place;
}

} // namespace hobble
