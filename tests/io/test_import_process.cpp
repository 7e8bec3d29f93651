// Other formats are read by a process of its own: the same scene as in this one; a reader that crashes,
// hangs, eats memory or says nonsense costs a sentence; a stop waits for nothing.
#include "io/character_read.h"
#include "io/file_read.h"
#include "io/file_write.h"
#include "io/import_process.h"
#include "io/scene_bytes.h"
#include "support/suite.h"

#include <QDirIterator>
#include <QTemporaryDir>
#include <QTest>

#include <atomic>
#include <filesystem>
#include <random>
#include <thread>

using namespace hobble;

class TestImportProcess : public QObject {
    Q_OBJECT
    QTemporaryDir folder_;

    std::string at(const char* name) const { return (folder_.path() + "/" + name).toStdString(); }
    // A reader that does what it should not.
    std::string standIn(const char* name, const std::string& does) const {
        const std::string path = at(name);
        if (!writeFile(path, "#!/bin/sh\n" + does + "\n"))
            qFatal("cannot write %s", path.c_str());
        std::filesystem::permissions(path, std::filesystem::perms::owner_all);
        return path;
    }
    static std::string refusalOf(const std::string& path, const ImportLimits& limits,
                                 const Progress& progress = {}) {
        try {
            importApart(path, progress, limits);
        } catch (const Refused& r) {
            return r.cause;
        } catch (const Stopped&) {
            return "stopped";
        }
        return "read";
    }
    // So many triangles as a studio model's text.
    std::string bigFile(int triangles) const {
        std::string text =
            "version 1\nnodes\n0 \"root\" -1\nend\nskeleton\ntime 0\n0 0 0 0 0 0 0\nend\ntriangles\n";
        for (int t = 0; t < triangles; ++t) {
            text += "skin\n";
            for (int k = 0; k < 3; ++k)
                text += "0 " + std::to_string(t % 100) + "." + std::to_string(k) + " " +
                        std::to_string(t / 100) + ".0 " + std::to_string(k * k) + ".5 0 0 1 0 0 1 0 1\n";
        }
        const std::string path = at("big.smd");
        if (!writeFile(path, text + "end\n"))
            qFatal("cannot write %s", path.c_str());
        return path;
    }

private slots:
    // Every model of the library's own tests that it reads with a skeleton or without, and those it refuses.
    void theSameAsInThisProcess() {
        int read = 0, refused = 0;
        QDirIterator files(QStringLiteral("/usr/share/assimp/models"),
                           {"*.fbx", "*.dae", "*.x", "*.b3d", "*.md5mesh", "*.smd"}, QDir::Files,
                           QDirIterator::Subdirectories);
        while (files.hasNext()) {
            const std::string path = files.next().toStdString();
            if (std::filesystem::file_size(path) > 3000000)
                continue;
            std::string here, apart;
            try {
                here = packScene(importScene(path, {}));
                ++read;
            } catch (const Refused& r) {
                here = "refused: " + r.cause;
                ++refused;
            }
            try {
                apart = packScene(importApart(path, {}));
            } catch (const Refused& r) {
                apart = "refused: " + r.cause;
            }
            QVERIFY2(apart == here, path.c_str());
        }
        if (read == 0)
            QSKIP("the importer library's test models are not installed");
        QVERIFY2(read > 40 && refused > 0, qPrintable(QString("%1 and %2").arg(read).arg(refused)));
    }

    void progressIsTold() {
        std::vector<double> shares;
        importApart(bigFile(20000), {nullptr, [&](double share) { shares.push_back(share); }});
        QVERIFY(!shares.empty());
        QVERIFY(shares.front() >= 0 && shares.back() <= 1);
    }

    // Cut anywhere and with any byte another, it is refused or read, and never believed.
    void bytesAreNotBelieved() {
        const std::string bytes = packScene(importScene(bigFile(40), {}));
        QCOMPARE(packScene(unpackScene(bytes)), bytes);
        const auto survives = [](const std::string& changed) {
            try {
                (void)characterOf(unpackScene(changed).scene);
            } catch (const Refused&) {
            }
        };
        for (std::size_t size = 0; size < bytes.size(); size += 7) {
            bool refused = false;
            try {
                unpackScene(std::string_view(bytes).substr(0, size));
            } catch (const Refused&) {
                refused = true;
            }
            QVERIFY2(refused, qPrintable(QString::number(size)));
        }
        std::mt19937 random(3);
        for (int i = 0; i < 4000; ++i) {
            std::string changed = bytes;
            for (int k = 0; k < 1 + i % 3; ++k)
                changed[random() % changed.size()] = static_cast<char>(random());
            survives(changed);
        }
    }

    void aCrashCostsASentence() {
        const std::string file = bigFile(1);
        const std::string crashed = refusalOf(file, {standIn("crash", "kill -SEGV $$"), 60, 1000});
        QVERIFY2(crashed.find("crashed on it") != std::string::npos, crashed.c_str());
        const std::string gaveUp = refusalOf(file, {standIn("gaveup", "exit 7"), 60, 1000});
        QVERIFY2(gaveUp.find("gave up on it (7)") != std::string::npos, gaveUp.c_str());
        // half a message, and gone
        const std::string half =
            refusalOf(file, {standIn("half", "printf 's\\377\\377\\0' >&3; kill -ABRT $$"), 60, 1000});
        QVERIFY2(half.find("crashed on it") != std::string::npos, half.c_str());
        const std::string nonsense =
            refusalOf(file, {standIn("nonsense", "printf 'x\\1\\0\\0\\0\\0\\0\\0\\0y' >&3; exec sleep 1000"),
                             60, 1000});
        QVERIFY2(nonsense.find("says what it should not") != std::string::npos, nonsense.c_str());
        const std::string empty = refusalOf(
            file, {standIn("empty", "printf 's\\0\\0\\0\\0\\0\\0\\0\\0' >&3; exec sleep 1000"), 60, 1000});
        QVERIFY2(empty.find("does not fit together") != std::string::npos, empty.c_str());
        const std::string missing = refusalOf(file, {at("not there"), 60, 1000});
        QVERIFY2(missing.find("cannot be started") != std::string::npos, missing.c_str());
    }

    // What the fuzzer found the importer library to crash on, or to take gigabytes for (scripts/fuzz import):
    // read, or a sentence, within the limits it has.
    void whatTheFuzzerFound() {
        int crashed = 0;
        QDirIterator files(QStringLiteral(HOBBLE_DEMO_DIR "/../../tests/io/fuzzed"), QDir::Files);
        int count = 0;
        while (files.hasNext()) {
            const std::string path = files.next().toStdString();
            const std::string cause = refusalOf(path, {{}, 60, 1000});
            QVERIFY2(!cause.empty(), path.c_str());
            crashed += cause.find("crashed on it") != std::string::npos;
            ++count;
        }
        QCOMPARE(count, 3);
        qInfo("%d of %d crash the importer's process", crashed, count);
    }

    void aHangIsEnded() {
        const std::string asleep = refusalOf(bigFile(1), {standIn("asleep", "exec sleep 1000"), 1, 1000});
        QVERIFY2(asleep.find("still being read after 1 s") != std::string::npos, asleep.c_str());
    }

    void aStopWaitsForNothing() {
        std::atomic<bool> stop{false};
        const std::string program = standIn(
            "waits", "printf 'p\\10\\0\\0\\0\\0\\0\\0\\0\\0\\0\\0\\0\\0\\0\\0\\0' >&3; exec sleep 1000");
        // asked for once it is under way
        QCOMPARE(refusalOf(bigFile(1), {program, 600, 1000}, {&stop, [&](double) { stop = true; }}),
                 std::string("stopped"));
    }

    void memoryIsLimited() {
        const std::string full = refusalOf(bigFile(120000), {{}, 600, 150});
        QVERIFY2(full.find("more memory than there is") != std::string::npos, full.c_str());
        QCOMPARE(refusalOf(bigFile(200), {{}, 600, 1000}), std::string("read"));
    }

    // As a user sees it: named, with the cause, and the next file opens.
    void theErrorNamesTheFile() {
        const std::string broken = at("broken.fbx");
        QVERIFY(writeFile(broken, std::string(4000, '\xfe')));
        const auto read = readCharacter(broken);
        QVERIFY(!read);
        QVERIFY2(read.error().starts_with("Cannot open " + broken + ": "), read.error().c_str());
        QVERIFY(readCharacter(HOBBLE_DEMO_DIR "/pack-goat.glb"));
    }
};

HOBBLE_TEST(TestImportProcess)
#include "test_import_process.moc"
