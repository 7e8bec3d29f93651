// What goes out of the log: pictures, numbers, packets, pages, messages. On the demo's own log and builds.
#include "core/intake/check.h"
#include "core/pose/clip_pose.h"
#include "io/character_read.h"
#include "log/defect_csv.h"
#include "log/file_name.h"
#include "log/finding_defect.h"
#include "story/curve_svg.h"
#include "story/defect_pose.h"
#include "story/outbox.h"
#include "story/packet.h"
#include "story/review_pdf.h"
#include "support/suite.h"

#include <QDir>
#include <QDirIterator>
#include <QJsonArray>
#include <QJsonDocument>
#include <QJsonObject>
#include <QProcess>
#include <QRegularExpression>
#include <QTemporaryDir>
#include <QTest>
#include <QXmlStreamReader>

#include <assimp/Importer.hpp>
#include <assimp/scene.h>

#include <zip.h>

#include <map>

using namespace hobble;

class TestPacket : public QObject {
    Q_OBJECT

    QTemporaryDir folder_;
    std::unique_ptr<ProductionLog> log_;
    BuildShelf shelf_;
    QVector<DefectStory> stories_;

    static QByteArray bytesOf(const QString& path) {
        QFile f(path);
        return f.open(QIODevice::ReadOnly) ? f.readAll() : QByteArray();
    }

    // How much of a picture is not the same in another.
    static double difference(const QImage& a, const QImage& b) {
        int other = 0;
        for (int y = 0; y < a.height(); ++y)
            for (int x = 0; x < a.width(); ++x)
                other += std::abs(qRed(a.pixel(x, y)) - qRed(b.pixel(x, y))) +
                             std::abs(qGreen(a.pixel(x, y)) - qGreen(b.pixel(x, y))) +
                             std::abs(qBlue(a.pixel(x, y)) - qBlue(b.pixel(x, y))) >
                         24;
        return double(other) / (a.width() * a.height());
    }

    // Where every node of a clip stands at a frame, as its channels say.
    static void placeNodes(const aiNode& node, const aiAnimation& clip, unsigned frame,
                           const aiMatrix4x4& above, std::map<std::string, aiVector3D>& out) {
        aiMatrix4x4 local = node.mTransformation;
        for (unsigned c = 0; c < clip.mNumChannels; ++c)
            if (const aiNodeAnim& h = *clip.mChannels[c]; h.mNodeName == node.mName) {
                const auto at = [&](unsigned keys) { return std::min(frame, keys - 1); };
                local = aiMatrix4x4(aiVector3D(1, 1, 1), h.mRotationKeys[at(h.mNumRotationKeys)].mValue,
                                    h.mPositionKeys[at(h.mNumPositionKeys)].mValue);
            }
        const aiMatrix4x4 world = above * local;
        out[node.mName.C_Str()] = aiVector3D(world.a4, world.b4, world.c4);
        for (unsigned k = 0; k < node.mNumChildren; ++k)
            placeNodes(*node.mChildren[k], clip, frame, world, out);
    }

private slots:
    void initTestCase() {
        QVERIFY(QDir::setCurrent(QStringLiteral(HOBBLE_DEMO_DIR "/../.."))); // its paths are the project's
        const QString path = folder_.filePath(QStringLiteral("log.sqlite"));
        QVERIFY(QFile::copy(QStringLiteral("demo/data/demo-log.sqlite"), path));
        QFile::setPermissions(path, QFile::ReadOwner | QFile::WriteOwner);
        auto log = ProductionLog::open(path);
        QVERIFY2(log, log.error().c_str());
        log_ = std::move(*log);
        QVector<qint64> ids;
        const auto all = log_->defects();
        for (const Defect& d : *all)
            if (d.facts.joint == QLatin1String("forearm.L") || d.facts.kind == QLatin1String("pop"))
                ids << d.id;
        QVERIFY(ids.size() >= 2);
        auto stories = storiesOf(*log_, ids, shelf_);
        QVERIFY2(stories, stories.error().c_str());
        stories_ = std::move(*stories);
    }

    void picturesBeforeAndAfter() {
        const DefectStory& s = stories_.front();
        QCOMPARE(s.defect.build.number, 1);
        QCOMPARE(s.pictures.missing, QStringList());
        QCOMPARE(s.pictures.pictures.size(), 8); // two builds, two views, with and without the measure
        const auto& p = s.pictures.pictures;
        QCOMPARE(p[0].build, 1);
        QCOMPARE(p[4].build, 3);
        QVERIFY(p[0].view != p[1].view);
        QVERIFY(!p[0].measured && p[2].measured);
        for (const DefectPicture& one : p)
            QVERIFY(!one.image.isNull());
        QVERIFY(difference(p[0].image, p[1].image) > 0.1); // another view
        // the worst of it is cured by now: what was coloured as blocking is not any more
        const auto blocking = [](const QImage& image) {
            int n = 0;
            for (int y = 0; y < image.height(); ++y)
                for (int x = 0; x < image.width(); ++x) {
                    const QRgb c = image.pixel(x, y);
                    n += qRed(c) > 70 && qRed(c) < 150 && qRed(c) > 2 * qBlue(c);
                }
            return n;
        };
        QVERIFY2(blocking(p[2].image) > 100, qPrintable(QString::number(blocking(p[2].image))));
        QVERIFY2(3 * blocking(p[6].image) < blocking(p[2].image),
                 qPrintable(QString::number(blocking(p[6].image))));
        QCOMPARE(s.numbers.front().severity, 4);
        QVERIFY(s.numbers.back().severity < 4);
        QVERIFY(s.pictures.scale.contains(s.defect.facts.kind));
        // the same again is the same
        const auto again = picturesOf(s.defect, {s.defect.build}, shelf_);
        QCOMPARE(again.pictures[0].image, p[0].image);
        QCOMPARE(again.pictures[2].image, p[2].image);
    }

    // A fault of weights is nothing to be seen in neutral: it is pictured where it shows, and its clip goes
    // there.
    void whatIntakeFoundIsPosed() {
        auto read = readCharacter("demo/data/builds/1/badger-postmaster.glb");
        QVERIFY2(read, read ? "" : read.error().c_str());
        const Subject s = prepareSubject(std::make_shared<const Character>(std::move(*read)));
        const CheckFindings found = inspect(s);
        const auto far = std::find_if(found.begin(), found.end(), [](const CheckFinding& f) {
            return f.check == "influence from far away";
        });
        QVERIFY(far != found.end());
        const QString path = folder_.filePath(QStringLiteral("intake.sqlite"));
        auto log = ProductionLog::open(path);
        const auto build = (*log)->build(QStringLiteral("badger"), QString::fromStdString(s.character->hash),
                                         QStringLiteral("demo/data/builds/1/badger-postmaster.glb"));
        DefectFacts facts = factsOf(s, *far);
        facts.buildId = build->id;
        const qint64 id = *(*log)->addDefect(facts, 3, QStringLiteral("Petra"));
        // and one that no pose shows
        DefectFacts scale = facts;
        scale.kind = QStringLiteral("transforms not applied");
        scale.joint = QLatin1String("");
        scale.marks = "{}";
        const qint64 other = *(*log)->addDefect(scale, 2, QStringLiteral("Petra"));
        const auto stories = storiesOf(**log, {id, other}, shelf_);
        QVERIFY2(stories, stories.error().c_str());
        const auto& p = (*stories)[0].pictures.pictures;
        QCOMPARE(p.size(), 4); // two views as it is in neutral, two marked in the pose that shows it
        QVERIFY(p[0].pose.isEmpty() && p[1].pose.isEmpty());
        QVERIFY2(!p[2].pose.isEmpty() && p[2].pose == p[3].pose && p[2].measured, qPrintable(p[2].pose));
        const auto orange = [](const QImage& image) {
            int n = 0;
            for (int y = 0; y < image.height(); ++y)
                for (int x = 0; x < image.width(); ++x) {
                    const QRgb c = image.pixel(x, y);
                    n += 2 * qRed(c) > 3 * qGreen(c) && 2 * qGreen(c) > 3 * qBlue(c);
                }
            return n;
        };
        QVERIFY2(orange(p[2].image) > 30 || orange(p[3].image) > 30,
                 qPrintable(QString::number(orange(p[2].image))));
        QVERIFY((*stories)[0].pictures.scale.contains(p[2].pose));
        for (const DefectPicture& one : (*stories)[1].pictures.pictures)
            QVERIFY(one.pose.isEmpty());
        const auto place =
            writePacket(*stories, shelf_, {QStringLiteral("From Intake"), folder_.path(), false, {}});
        QVERIFY2(place, place ? "" : place.error().c_str());
        QFile page(*place + QStringLiteral("/index.html"));
        QVERIFY(page.open(QIODevice::ReadOnly));
        const QString html = QString::fromUtf8(page.readAll());
        QVERIFY(html.contains(p[2].pose) && html.contains(QStringLiteral("no pose of the plan shows it")));
        auto clip = readCharacter((*place + QStringLiteral("/clips/badger-build-1.glb")).toStdString());
        QVERIFY2(clip, clip ? "" : clip.error().c_str());
        QCOMPARE(clip->clips.size(), std::size_t(1));
    }

    // The measure is the finding's own: what the log kept when it was found is what the run of that build
    // says of it.
    void numbersOverBuilds() {
        for (const DefectStory& s : stories_) {
            QVERIFY(!s.numbers.empty());
            const auto own = std::find_if(s.numbers.begin(), s.numbers.end(), [&](const BuildNumber& n) {
                return n.build.id == s.defect.build.id;
            });
            QVERIFY(own != s.numbers.end());
            QVERIFY2(std::abs(own->here - s.defect.facts.value) <= 2e-3 * std::abs(s.defect.facts.value),
                     qPrintable(QStringLiteral("%1 %2").arg(own->here).arg(s.defect.facts.value)));
            QVERIFY(own->severity >= 1);
            for (std::size_t i = 1; i < own->curve.size(); ++i)
                QVERIFY(own->curve[i].first >= own->curve[i - 1].first);
        }
        QCOMPARE(stories_.front().numbers.size(), std::size_t(3));
        // one that has no run says nothing
        DefectFacts other = stories_.front().defect.facts;
        other.motion = QStringLiteral("no such");
        QVERIFY(numbersOf(other, *log_->newestRuns(QStringLiteral("badger-postmaster"))).empty());
    }

    void units() {
        DefectFacts f;
        QCOMPARE(numberWords(f, 0.384), QStringLiteral("0.38"));
        f.unit = QStringLiteral("1720|0| mm");
        QCOMPARE(numberWords(f, 0.01), QStringLiteral("17 mm"));
        f.unit = QStringLiteral("torn|");
        QCOMPARE(numberWords(f, 0.5), QStringLiteral("0.50"));
    }

    void curvesAreDrawnSoundly() {
        const DefectStory& s = stories_.front();
        const QByteArray svg = curveSvg(s.defect.facts, s.numbers, 400, 150);
        QXmlStreamReader xml(svg);
        int lines = 0;
        while (!xml.atEnd())
            lines +=
                xml.readNext() == QXmlStreamReader::StartElement && xml.name() == QLatin1String("polyline");
        QVERIFY2(!xml.hasError(), qPrintable(xml.errorString()));
        QCOMPARE(lines, 3);
        QVERIFY(curveSvg(s.defect.facts, {}, 400, 150).isEmpty());
        // many builds that end at one height: the words are put one below the other, and it comes to an end
        std::vector<BuildNumber> many(40, s.numbers.front());
        for (int i = 0; i < 40; ++i)
            many[std::size_t(i)].build.number = i;
        QVERIFY(!curveSvg(s.defect.facts, many, 400, 150).isEmpty());
    }

    void aPacketIsWhole() {
        const auto made = writePacket(stories_, shelf_,
                                      {QStringLiteral("For Ines / \"Marram\""), folder_.path(), false, {}});
        QVERIFY2(made, made.error().c_str());
        QCOMPARE(QFileInfo(*made).fileName(), safeFileName(QStringLiteral("For Ines / \"Marram\"")));
        QByteArray page = bytesOf(*made + QStringLiteral("/index.html"));
        page.replace("xmlns=\"http:"
                     "//www.w3.org/2000/svg\"",
                     ""); // a name, not an address
        QVERIFY(page.contains("For Ines / &quot;Marram&quot;"));
        QCOMPARE(page.count("<section"), stories_.size());
        // nothing from elsewhere: every address is data, a place on the page, or a file that is there
        QRegularExpression address(QStringLiteral("(?:src|href)=\"([^\"]*)\""));
        auto it = address.globalMatch(QString::fromUtf8(page));
        int files = 0;
        while (it.hasNext()) {
            const QString to = it.next().captured(1);
            if (to.startsWith(QLatin1String("data:image/png;base64,")) || to.startsWith(QLatin1Char('#')))
                continue;
            QVERIFY2(QFile::exists(*made + QLatin1Char('/') + to), qPrintable(to));
            ++files;
        }
        QCOMPARE(files, 3 * stories_.size());
        QVERIFY(!page.contains("<script") && !page.contains("http:") && !page.contains("https:") &&
                !page.contains("@import"));
        // what is in it can be read again
        const QJsonObject json =
            QJsonDocument::fromJson(bytesOf(*made + QStringLiteral("/defects.json"))).object();
        QCOMPARE(json.value(QStringLiteral("defects")).toArray().size(), stories_.size());
        QVector<Defect> defects;
        for (const DefectStory& s : stories_)
            defects << s.defect;
        const auto changes = changesFromCsv(bytesOf(*made + QStringLiteral("/defects.csv")), defects, {});
        QVERIFY(changes && changes->changes.isEmpty() && changes->problems.isEmpty());
        const QJsonObject marks =
            QJsonDocument::fromJson(
                bytesOf(*made + QStringLiteral("/marks/defect-%1.json").arg(stories_.front().defect.id)))
                .object();
        QVERIFY(!marks.value(QStringLiteral("parts")).toObject().isEmpty());
        // the clip holds the defect's pose, at its mark
        const auto clip =
            readCharacter((*made + QStringLiteral("/clips/badger-postmaster-build-1.glb")).toStdString());
        QVERIFY2(clip, clip.error().c_str());
        QCOMPARE(clip->clips.size(), std::size_t(1));
        QVERIFY(
            bytesOf(*made + QStringLiteral("/clips/badger-postmaster-build-1.bvh")).startsWith("HIERARCHY"));
        // a second one stands beside the first
        const auto second = writePacket(stories_, shelf_,
                                        {QStringLiteral("For Ines / \"Marram\""), folder_.path(), false, {}});
        QVERIFY(second && *second == *made + QStringLiteral("-2"));
        // and nothing unfinished lies about
        QCOMPARE(QDir(folder_.path()).entryList({QStringLiteral(".part*")}, QDir::AllEntries | QDir::Hidden),
                 QStringList());
    }

    // Somebody else's readers take the clips too, and find every joint of either where the other has it.
    void clipsForAnyProgram() {
        const auto made = writePacket(stories_, shelf_, {QStringLiteral("clips"), folder_.path(), false, {}});
        QVERIFY2(made, made.error().c_str());
        const std::string clip = (*made + QStringLiteral("/clips/badger-postmaster-build-1")).toStdString();
        const auto own = readCharacter(clip + ".glb");
        QVERIFY2(own, own.error().c_str());
        Assimp::Importer glbReader, bvhReader;
        const aiScene* glb = glbReader.ReadFile(clip + ".glb", 0);
        QVERIFY2(glb, glbReader.GetErrorString());
        const aiScene* bvh = bvhReader.ReadFile(clip + ".bvh", 0);
        QVERIFY2(bvh, bvhReader.GetErrorString());
        QCOMPARE(glb->mNumAnimations, 1U);
        QCOMPARE(bvh->mNumAnimations, 1U);
        unsigned bones = 0;
        for (unsigned m = 0; m < glb->mNumMeshes; ++m)
            bones = std::max(bones, glb->mMeshes[m]->mNumBones);
        QVERIFY(bones > 0);
        const aiAnimation &inGlb = *glb->mAnimations[0], &inBvh = *bvh->mAnimations[0];
        const double seconds = inBvh.mDuration / inBvh.mTicksPerSecond;
        QVERIFY(std::abs(inGlb.mDuration / inGlb.mTicksPerSecond - seconds) < 0.02);
        const unsigned frames = inBvh.mChannels[0]->mNumRotationKeys;
        QVERIFY(frames > 10);
        const std::map<std::string, aiVector3D> there = [&] {
            std::map<std::string, aiVector3D> out;
            placeNodes(*bvh->mRootNode, inBvh, 0, aiMatrix4x4(), out);
            return out;
        }();
        QVERIFY(there.size() > 20);
        int compared = 0;
        double farthest = 0;
        for (unsigned f = 0; f < frames; f += 7) {
            std::map<std::string, aiVector3D> places;
            placeNodes(*bvh->mRootNode, inBvh, f, aiMatrix4x4(), places);
            const auto world = worldTransforms(
                own->skeleton, poseAt(*own, own->clips[0], double(f) / inBvh.mTicksPerSecond));
            for (int j = 0; j < own->skeleton.size(); ++j)
                if (const auto it = places.find(own->skeleton.name[std::size_t(j)]); it != places.end()) {
                    const aiVector3D& p = it->second;
                    farthest = std::max(
                        farthest, (Vec3d(world[std::size_t(j)].translation()) - Vec3d(p.x, p.y, p.z)).norm());
                    ++compared;
                }
        }
        qInfo("%d joints at frames compared, %.3f mm apart at most", compared, 1000 * farthest);
        QVERIFY(compared > 20 * int(frames) / 7);
        QVERIFY2(farthest < 0.001, qPrintable(QString::number(farthest)));
    }

    void zipped() {
        const auto made = writePacket(stories_, shelf_, {QStringLiteral("zipped"), folder_.path(), true, {}});
        QVERIFY2(made, made.error().c_str());
        QVERIFY(made->endsWith(QLatin1String("zipped.zip")));
        int code = 0;
        zip_t* zip = zip_open(QFile::encodeName(*made).constData(), ZIP_RDONLY | ZIP_CHECKCONS, &code);
        QVERIFY(zip);
        QVERIFY(zip_name_locate(zip, "zipped/index.html", 0) >= 0);
        QVERIFY(zip_name_locate(zip, "zipped/defects.csv", 0) >= 0);
        zip_discard(zip);
    }

    void stoppedLeavesNothing() {
        QTemporaryDir place;
        const auto made = writePacket(
            stories_, shelf_, {QStringLiteral("x"), place.path(), false, [](int, int) { return false; }});
        QVERIFY(!made);
        QVERIFY(
            QDir(place.path()).entryList(QDir::AllEntries | QDir::Hidden | QDir::NoDotAndDotDot).isEmpty());
        QFile::setPermissions(place.path(), QFile::ReadOwner);
        const auto into =
            writePacket(stories_, shelf_, {QStringLiteral("x"), QStringLiteral("/proc/nowhere"), false, {}});
        QVERIFY2(!into && into.error().find("/proc/nowhere") != std::string::npos, into.error().c_str());
    }

    void everyTextIsData() {
        QVector<DefectStory> nasty{stories_.front()};
        const QString evil = QStringLiteral("<script>alert(1)</script>\"'&<img src=x onerror=y>");
        Defect& d = nasty[0].defect;
        for (QString* s : {&d.facts.what, &d.facts.cause, &d.facts.joint, &d.facts.part, &d.facts.kind,
                           &d.facts.motionName, &d.facts.at, &d.assignee, &d.due, &d.build.character})
            *s = evil;
        nasty[0].history.push_back(
            {9, QDateTime::currentDateTime(), evil, QStringLiteral("comment"), evil, evil, 1});
        nasty[0].pictures.missing << evil;
        const QByteArray page = packetPage(evil, nasty, {evil});
        QVERIFY(!page.contains("<script"));
        QVERIFY(!page.contains("<img src=x"));
        QVERIFY(page.contains("&lt;script&gt;"));
        QXmlStreamReader svg(curveSvg(d.facts, nasty[0].numbers, 400, 150));
        while (!svg.atEnd())
            svg.readNext();
        QVERIFY(!svg.hasError());
    }

    // A build that has gone, or is another by now: said, and the rest goes on.
    void buildsThatAreGone() {
        Defect d = stories_.front().defect;
        Build gone = d.build, other = d.build;
        gone.path = QStringLiteral("/nowhere/b.glb");
        gone.hash = QStringLiteral("not this");
        other.hash = QStringLiteral("another");
        const auto made = picturesOf(d, {gone, d.build, other}, shelf_);
        QCOMPARE(made.missing.size(), 2);
        QVERIFY(made.missing[0].contains(QStringLiteral("/nowhere/b.glb")));
        QVERIFY(made.missing[1].contains(QStringLiteral("another build by now")));
        QCOMPARE(made.pictures.size(), 4);
    }

    // Marks and poses of nonsense end in a picture or in none, never badly.
    void nonsenseInTheLog() {
        Defect d = stories_.front().defect;
        for (const char* marks :
             {"", "[]", "{\"parts\": {\"body\": [99999999, -3, \"x\"]}}", "{\"parts\": 7, \"place\": [1]}"})
            for (const char* pose : {"", "{\"turns\": {\"forearm.L\": [0, 0, 0, 0], \"nobody\": [1]}}",
                                     "{\"targets\": [{\"part\": \"body\"}], \"turns\": []}"}) {
                d.facts.marks = marks;
                d.facts.pose = pose;
                d.facts.motion = QStringLiteral("gone");
                (void)picturesOf(d, {d.build}, shelf_, {64, 48, Limits::standard(), nullptr});
            }
        d.facts.joint = QStringLiteral("nobody");
        QVERIFY(!picturesOf(d, {d.build}, shelf_, {64, 48, Limits::standard(), nullptr}).pictures.isEmpty());
    }

    void messagesForAMailProgram() {
        Message m;
        m.fromName = QStringLiteral("Petra \"the lead\" Sandwort");
        m.from = QStringLiteral("petra@saltmarsh.example");
        m.toName = QStringLiteral("Ines 袖 Märram");
        m.to = QStringLiteral("ines@saltmarsh.example");
        m.subject = QStringLiteral("Defects\r\nBcc: everybody@example.com");
        m.text = QStringLiteral("Ines,\n„größer“\n.\n");
        m.at = QDateTime(QDate(2026, 11, 25), QTime(9, 5), Qt::UTC);
        m.attachments << Attachment{QStringLiteral("Märks 袖.json"), QStringLiteral("application/json"),
                                    QByteArray(5000, 'x')};
        const auto laid = layInOutbox(folder_.filePath(QStringLiteral("outbox")), m);
        QVERIFY2(laid, laid.error().c_str());
        const auto second = layInOutbox(folder_.filePath(QStringLiteral("outbox")), m);
        QVERIFY(second && *second != *laid);
        // read by a mail library that is not ours
        QProcess python;
        python.start(
            QStringLiteral("python3"),
            {QStringLiteral("-c"),
             QStringLiteral(
                 "import sys,email,email.policy,json\n"
                 "m=email.message_from_binary_file(open(sys.argv[1],'rb'),policy=email.policy.default)\n"
                 "a=list(m.iter_attachments())[0]\n"
                 "print(json.dumps([str(m['to']),str(m['from']),str(m['subject']),str(m['date']),"
                 "m.get_body().get_content(),a.get_filename(),len(a.get_content()),m['bcc'],"
                 "[str(d) for d in m.defects]]))"),
             *laid});
        QVERIFY(python.waitForFinished());
        const QJsonArray read = QJsonDocument::fromJson(python.readAllStandardOutput()).array();
        QVERIFY2(read.size() == 9, python.readAllStandardError().constData());
        QCOMPARE(read[0].toString(), QStringLiteral("Ines 袖 Märram <ines@saltmarsh.example>"));
        QVERIFY(read[1].toString().contains(QStringLiteral("petra@saltmarsh.example")));
        QCOMPARE(read[2].toString(), QStringLiteral("Defects Bcc: everybody@example.com"));
        QCOMPARE(read[3].toString(), QStringLiteral("Wed, 25 Nov 2026 09:05:00 +0000"));
        QCOMPARE(read[4].toString().trimmed(), m.text.trimmed());
        QCOMPARE(read[5].toString(), QStringLiteral("Märks 袖.json"));
        QVERIFY(read[7].isNull());
        QCOMPARE(read[8].toArray().size(), 0);
    }

    void pagesOnPaper() {
        const QString path = folder_.filePath(QStringLiteral("review.pdf"));
        ReviewPaper paper{
            ReviewPaper::Meeting, QStringLiteral("Review"), {QStringLiteral("line")}, {}, stories_};
        const auto written = writeReviewPdf(paper, path);
        QVERIFY2(written, written.error().c_str());
        QVERIFY(bytesOf(path).startsWith("%PDF-1."));
        QProcess text;
        text.start(QStringLiteral("pdftotext"), {QStringLiteral("-layout"), path, QStringLiteral("-")});
        QVERIFY(text.waitForFinished());
        const QString words = QString::fromUtf8(text.readAllStandardOutput());
        for (const DefectStory& s : stories_)
            QVERIFY2(words.contains(QStringLiteral("%1. ").arg(s.defect.id) + s.defect.facts.what.left(24)),
                     qPrintable(words));
        QVERIFY(!writeReviewPdf(paper, QStringLiteral("/nowhere/review.pdf")));
    }
};

HOBBLE_TEST(TestPacket)
#include "test_packet.moc"
