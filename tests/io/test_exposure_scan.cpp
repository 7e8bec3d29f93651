// Folders of clips: every file once, whatever links there are; one broken file costs only itself; what was
// counted is known again by content; threads change nothing; a stop keeps what was done.
#include "core/exposure/fault_use.h"
#include "core/pose/clip_pose.h"
#include "core/pose/retarget.h"
#include "io/character_read.h"
#include "io/clip_folder.h"
#include "io/clip_read.h"
#include "io/exposure_json.h"
#include "io/exposure_scan.h"
#include "io/file_read.h"
#include "io/file_write.h"
#include "support/suite.h"

#include <QTemporaryDir>
#include <QTest>
#include <nlohmann/json.hpp>

#include <filesystem>

using namespace hobble;
namespace fs = std::filesystem;

class TestExposureScan : public QObject {
    Q_OBJECT

    Character badger_;
    std::vector<JointRole> roles_;
    Plan plan_;

    static std::string demo(const char* name) { return std::string(HOBBLE_DEMO_DIR "/") + name; }

    struct Folder {
        QTemporaryDir dir;
        fs::path path() const { return dir.path().toStdString(); }
        std::string at(const char* name) const { return (path() / name).string(); }
        void put(const std::string& from, const char* name) const {
            fs::create_directories((path() / name).parent_path());
            fs::copy_file(from, path() / name);
        }
    };

    Scan scan(const Folder& show, const std::string& cache = {}, int threads = 0) const {
        ScanSettings settings;
        settings.places = {show.path().string()};
        settings.cacheFolder = cache;
        settings.threads = threads;
        return scanClips(badger_, roles_, plan_, settings);
    }
    std::string words(const Scan& s) const { return exposureToJson(badger_, plan_, s.exposure); }

private slots:
    void initTestCase() {
        auto c = readCharacter(demo("badger-postmaster.glb"));
        QVERIFY2(c, c ? "" : c.error().c_str());
        badger_ = std::move(*c);
        roles_ = guessRoles(badger_);
        plan_ = fullPlan(badger_, roles_);
    }

    void everyFileOnce() {
        Folder show;
        show.put(demo("long-limbed.bvh"), "walks/run.BVH");
        show.put(demo("pack-goat.bvh"), "deep/er/goat.bvh");
        QVERIFY(writeFile(show.at("notes.txt"), "nothing"));
        fs::create_directory_symlink(show.path(), show.path() / "deep/again"); // a loop
        fs::create_directory_symlink(show.path() / "walks", show.path() / "latest");
        fs::create_symlink("nowhere.bvh", show.path() / "gone.bvh");
        std::vector<std::string> notes;
        const auto files = clipFilesIn({show.path().string(), show.at("deep"), show.at("missing")}, notes);
        QCOMPARE(files.size(), std::size_t(2));
        QCOMPARE(notes.size(), std::size_t(1));
        QVERIFY(notes[0].find("missing is not there") != std::string::npos);
        QCOMPARE(clipFilesIn({show.at("notes.txt")}, notes).size(), std::size_t(1)); // as it was named
    }

    // Faults meet in the frames in which each is gone past by itself: asked of every frame by hand.
    void faultsMeet() {
        Folder show;
        show.put(demo("long-limbed.bvh"), "run.bvh");
        show.put(demo("pack-goat.bvh"), "goat.bvh"); // moves hardly any of it
        const Scan counted = scan(show);
        RunResult run;
        run.plan = plan_;
        for (const char* id :
             {"left-shoulder-raise", "left-shoulder-roll-out", "left-knee-flex", "left-hip-front"}) {
            Finding f;
            f.motion = plan_.find(id);
            QVERIFY2(f.motion >= 0, id);
            const auto far = furthest(counted.exposure, f.motion);
            QVERIFY2(far && *far > 4, id);
            f.onset = std::round(*far / 2);
            run.findings.push_back(f);
        }
        run.faults.resize(3);
        run.faults[0].signs = {0};
        run.faults[1].signs = {1};
        run.faults[2].signs = {2, 3}; // either shows it
        ScanSettings settings;
        settings.places = {show.path().string()};
        const auto met = findMeetings(badger_, roles_, plan_, run, counted.exposure, settings, 1000);
        QVERIFY(!met.empty());

        const auto file = readClips(show.at("run.bvh"));
        QVERIFY(file);
        const Clip& clip = file->body.clips.front();
        RetargetSettings carry;
        carry.moveHips = false;
        const Retargeter carrier(file->body, clip, badger_, roles_, jointRanges(badger_, roles_, plan_),
                                 carry);
        const MotionExtents extents(badger_, roles_, plan_);
        std::vector<double> seconds;
        for (std::size_t f = 0; f < file->frameCount(clip); ++f)
            seconds.push_back(file->secondsAt(f));
        std::vector<std::size_t> faults; // gone past in each frame
        for (const Pose& pose : carrier.poses(seconds)) {
            std::vector<float> extent;
            extents.of(pose, extent);
            const auto past = [&](std::size_t i) {
                return std::round(extent[static_cast<std::size_t>(run.findings[i].motion)]) >=
                       run.findings[i].onset;
            };
            faults.push_back(std::size_t(past(0)) + past(1) + (past(2) || past(3)));
        }
        std::vector<char> told(faults.size(), 0);
        for (const Meeting& m : met) {
            QCOMPARE(m.file, show.at("run.bvh"));
            QVERIFY(m.first <= m.at && m.at <= m.last);
            QCOMPARE(faults[m.at], m.faults.size());
            for (std::uint32_t f = m.first; f <= m.last; ++f) {
                QVERIFY(faults[f] >= 2 && faults[f] <= m.faults.size());
                told[f] = 1;
            }
        }
        for (std::size_t f = 0; f < faults.size(); ++f)
            QCOMPARE(told[f] != 0, faults[f] >= 2);
        for (std::size_t i = 1; i < met.size(); ++i) // the worst first
            QVERIFY(met[i - 1].faults.size() >= met[i].faults.size());
        settings.threads = 1;
        QVERIFY(findMeetings(badger_, roles_, plan_, run, counted.exposure, settings, 1000) == met);
        QVERIFY(findMeetings(badger_, roles_, plan_, run, counted.exposure, settings, 2).size() <= 2);
        run.faults.resize(1); // alone it meets nobody
        QVERIFY(findMeetings(badger_, roles_, plan_, run, counted.exposure, settings, 1000).empty());
    }

    // A clip of another body, posed frame by frame by hand.
    void countsAreThoseOfTheFrames() {
        Folder show;
        show.put(demo("long-limbed.bvh"), "run.bvh");
        const Scan s = scan(show);
        QCOMPARE(s.exposure.clips.size(), std::size_t(1));
        const ClipUse& use = s.exposure.clips[0];
        const auto file = readClips(show.at("run.bvh"));
        QVERIFY(file);
        const Clip& clip = file->body.clips[0];
        const auto ranges = jointRanges(badger_, roles_, plan_);
        RetargetSettings settings;
        settings.moveHips = false;
        const Retargeter carrier(file->body, clip, badger_, roles_, ranges, settings);
        const std::size_t frames = file->frameCount(clip);
        QCOMPARE(std::size_t(use.frames), frames);
        QVERIFY(!use.asItIs);
        int reached = 0;
        for (const char* id : {"left-elbow-flex", "right-knee-flex", "left-shoulder-front"}) {
            const int m = plan_.find(id);
            QVERIFY2(m >= 0, id);
            const JointTurn& turn = plan_.motions[std::size_t(m)].turns[0];
            const auto j = std::size_t(turn.joint);
            for (double onset : {5.0, 20.0, 41.0, 60.0}) {
                std::size_t past = 0;
                for (std::size_t f = 0; f < frames; ++f) {
                    const Pose pose = carrier.poses({file->secondsAt(f)})[0];
                    const Vec3d bone = ranges[j].frame * Vec3d::UnitZ();
                    const Vec3d square = (bone - bone.dot(turn.axis) * turn.axis).normalized();
                    const Vec3d now = pose.turn[j] * square, about = square.cross(now);
                    past += degrees(std::atan2(about.norm(), square.dot(now))) *
                                about.normalized().dot(turn.axis) >=
                            onset - 0.5;
                }
                QCOMPARE(usePast(s.exposure, m, onset).frames, past);
                reached += past > 0;
            }
        }
        QVERIFY(reached > 3);
    }

    void threadsAndOrderChangeNothing() {
        Folder show;
        for (const char* name : {"long-limbed.bvh", "badger-postmaster.bvh", "pack-goat.bvh",
                                 "lighthouse-newt.bvh", "badger-postmaster.glb"})
            show.put(demo(name), name);
        const std::string one = words(scan(show, {}, 1));
        QCOMPARE(words(scan(show, {}, 4)), one);
        const auto j = nlohmann::json::parse(one);
        QVERIFY(j["clips"].size() >= 5);
        QCOMPARE(j["unread"].size(), std::size_t(0));
    }

    void oneBrokenFileCostsOnlyItself() {
        Folder show;
        show.put(demo("long-limbed.bvh"), "good.bvh");
        QVERIFY(writeFile(show.at("broken.bvh"), "HIERARCHY\nROOT hips\n{\nOFFSET 0 0 zero\n"));
        QVERIFY(writeFile(show.at("empty.glb"), ""));
        QVERIFY(writeFile(show.at("folder.fbx"), std::string(3000, '\xff')));
        const Scan s = scan(show);
        QCOMPARE(s.exposure.clips.size(), std::size_t(1));
        QCOMPARE(s.exposure.troubles.size(), std::size_t(3));
        QVERIFY2(s.exposure.troubles[0].words.find("line 4") != std::string::npos,
                 s.exposure.troubles[0].words.c_str());
    }

    // A horse for a biped: what nothing can be carried to is not known, and not "never".
    void whatNoClipMovesIsNotKnown() {
        Folder show;
        show.put(demo("pack-goat.bvh"), "goat.bvh");
        const Scan s = scan(show);
        QCOMPARE(s.exposure.clips.size(), std::size_t(1));
        QVERIFY(!s.exposure.clips[0].notes.empty());
        const int finger = plan_.find("left-index-curl") >= 0 ? plan_.find("left-index-curl") : [&] {
            for (std::size_t m = 0; m < plan_.motions.size(); ++m)
                if (plan_.motions[m].role == Role::Finger && plan_.motions[m].span == Span::Degrees)
                    return int(m);
            return -1;
        }();
        QVERIFY(finger >= 0);
        QVERIFY(!usePast(s.exposure, finger, 10).known());
        QVERIFY(!furthest(s.exposure, finger));
    }

    void countedOnceKnownByContent() {
        Folder show, cache;
        show.put(demo("long-limbed.bvh"), "a.bvh");
        show.put(demo("badger-postmaster.bvh"), "b.bvh");
        const Scan first = scan(show, cache.path().string());
        QCOMPARE(first.counted, std::size_t(2));
        const Scan again = scan(show, cache.path().string());
        QCOMPARE(again.counted, std::size_t(0));
        QCOMPARE(words(again), words(first));
        // moved, and written anew with the same bytes
        fs::rename(show.at("a.bvh"), show.at("c.bvh"));
        QVERIFY(writeFile(show.at("b.bvh"), *readFile(show.at("b.bvh"))));
        const Scan moved = scan(show, cache.path().string());
        QCOMPARE(moved.counted, std::size_t(0));
        QCOMPARE(moved.exposure.clips[1].file, show.at("c.bvh"));
        QCOMPARE(moved.exposure.clips[1].motions, first.exposure.clips[0].motions);
        // changed by one number: counted again, and only it
        std::string text = *readFile(show.at("c.bvh"));
        const std::size_t digit = text.find_last_of("123456789");
        text[digit] = text[digit] == '1' ? '2' : '1';
        QVERIFY(writeFile(show.at("c.bvh"), text));
        QCOMPARE(scan(show, cache.path().string()).counted, std::size_t(1));
        // what is kept is damaged: counted again, the same
        for (const auto& kept : fs::directory_iterator(cache.path())) {
            std::string bytes = *readFile(kept.path().string());
            bytes[bytes.size() / 2] ^= 1;
            QVERIFY(writeFile(kept.path().string(), bytes));
        }
        const Scan mended = scan(show, cache.path().string());
        QCOMPARE(mended.counted, std::size_t(2));
    }

    void aJointMapIsKeptTo() {
        Folder show, cache;
        show.put(demo("long-limbed.bvh"), "a.bvh");
        const auto file = readClips(show.at("a.bvh"));
        QVERIFY(file);
        std::map<std::string, std::string> said;
        ScanSettings settings;
        settings.places = {show.path().string()};
        settings.cacheFolder = cache.path().string();
        settings.jointMap = [&](const std::string& skeleton) {
            return skeleton == skeletonKey(file->body.skeleton) ? said : decltype(said)();
        };
        const Scan before = scanClips(badger_, roles_, plan_, settings);
        QCOMPARE(before.counted, std::size_t(1));
        QCOMPARE(scanClips(badger_, roles_, plan_, settings).counted, std::size_t(0));
        const int elbow = plan_.find("left-elbow-flex");
        QVERIFY(usePast(before.exposure, elbow, 10).known());
        said[badger_.skeleton.name[std::size_t(plan_.motions[std::size_t(elbow)].turns[0].joint)]] = "";
        const Scan after = scanClips(badger_, roles_, plan_, settings);
        QCOMPARE(after.counted, std::size_t(1));
        QVERIFY(!usePast(after.exposure, elbow, 10).known());
    }

    void aStopKeepsWhatWasDone() {
        Folder show, cache;
        for (int i = 0; i < 6; ++i)
            show.put(demo("long-limbed.bvh"), ("clip" + std::to_string(i) + ".bvh").c_str());
        for (int i = 0; i < 6; ++i) { // of different content
            const std::string path = show.at(("clip" + std::to_string(i) + ".bvh").c_str());
            QVERIFY(writeFile(path, *readFile(path) + std::string(std::size_t(i), '\n')));
        }
        std::atomic<bool> stop{false};
        ScanSettings settings;
        settings.places = {show.path().string()};
        settings.cacheFolder = cache.path().string();
        settings.threads = 1;
        const Scan stopped =
            scanClips(badger_, roles_, plan_, settings, {&stop, [&](double share) { stop = share > 0.4; }});
        QVERIFY(stopped.stopped);
        QCOMPARE(stopped.exposure.clips.size(), std::size_t(3));
        stop = false;
        const Scan rest = scanClips(badger_, roles_, plan_, settings);
        QCOMPARE(rest.counted, std::size_t(3));
        QCOMPARE(rest.exposure.clips.size(), std::size_t(6));
    }

    void asData() {
        Folder show;
        show.put(demo("badger-postmaster.bvh"), "own.bvh");
        const Scan s = scan(show);
        const auto j = nlohmann::json::parse(words(s));
        QCOMPARE(j["format"].get<std::string>(), std::string("hobble-exposure"));
        bool pastPlan = false; // the demo's clip drives a knee past its range on purpose
        for (const auto& m : j["motions"]) {
            if (!m["pastPlan"].is_null() && m["pastPlan"]["frames"] > 0) {
                pastPlan = pastPlan || m["id"].get<std::string>().find("knee-flex") != std::string::npos;
                QVERIFY(m["furthest"].get<double>() > m["limit"].get<double>());
                QVERIFY(m["pastPlan"]["first"]["frame"].get<int>() >= 0);
            }
        }
        QVERIFY(pastPlan);
        const std::string csv = exposureToCsv(plan_, s.exposure);
        QVERIFY(csv.find("left-elbow-flex,degrees,") != std::string::npos);
    }
};

HOBBLE_TEST(TestExposureScan)
#include "test_exposure_scan.moc"
