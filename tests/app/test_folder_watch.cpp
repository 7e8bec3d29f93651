// A folder that is watched: each delivery is told once, when it has settled; what lay there before, and what
// is no character, is not.
#include "story/folder_watch.h"
#include "support/suite.h"

#include <QDir>
#include <QFile>
#include <QSignalSpy>
#include <QTemporaryDir>
#include <QTest>

using namespace hobble;

class TestFolderWatch : public QObject {
    Q_OBJECT

    static void write(const QString& path, const QByteArray& bytes, QIODevice::OpenMode more = {}) {
        QFile f(path);
        QVERIFY(f.open(QIODevice::WriteOnly | more));
        QCOMPARE(f.write(bytes), bytes.size());
    }
    static QStringList told(const QSignalSpy& spy) {
        QStringList out;
        for (const auto& call : spy)
            out << QFileInfo(call.front().toString()).fileName();
        return out;
    }

private slots:
    void onceEachWhenSettled() {
        QTemporaryDir folder;
        const QDir dir(folder.path());
        write(dir.filePath("old.glb"), "lay here already");
        FolderWatch watch;
        watch.setSettling(400);
        qint64 now = 0;
        watch.setClock([&] { return now; });
        QSignalSpy spy(&watch, &FolderWatch::arrived);
        QVERIFY(watch.setFolder(folder.path()));
        QCOMPARE(watch.folder(), dir.absolutePath());
        write(dir.filePath("notes.txt"), "no character");
        // written in pieces, each within the time it takes to settle
        for (int i = 0; i < 6; ++i) {
            write(dir.filePath("Bär 1.fbx"), QByteArray(100, 'x'), QIODevice::Append);
            watch.look();
            now += 250;
            watch.look();
            QVERIFY2(spy.isEmpty(), "it is still being written");
        }
        now += 400;
        watch.look();
        QCOMPARE(told(spy), QStringList{QStringLiteral("Bär 1.fbx")});
        for (int i = 0; i < 5; ++i) {
            now += 400;
            watch.look();
        }
        QCOMPARE(spy.size(), 1);
        // replaced: it comes again; and so does what lay here before, once it changes
        write(dir.filePath("Bär 1.fbx"), "another build");
        write(dir.filePath("old.glb"), "and now it is new");
        watch.look();
        QCOMPARE(spy.size(), 1);
        now += 400;
        watch.look();
        QCOMPARE(spy.size(), 3);
    }

    void emptyFilesAreWaitedFor() {
        QTemporaryDir folder;
        FolderWatch watch;
        watch.setSettling(200);
        qint64 now = 0;
        watch.setClock([&] { return now; });
        QSignalSpy spy(&watch, &FolderWatch::arrived);
        QVERIFY(watch.setFolder(folder.path()));
        const QString path = QDir(folder.path()).filePath("late.glb");
        write(path, "");
        for (int i = 0; i < 5; ++i) {
            watch.look();
            now += 400;
        }
        QVERIFY(spy.isEmpty());
        write(path, "here it is");
        watch.look();
        now += 200;
        watch.look();
        QCOMPARE(spy.size(), 1);
    }

    void foldersComeAndGo() {
        FolderWatch watch;
        QVERIFY(!watch.setFolder(QStringLiteral("/nowhere/at all")));
        QVERIFY(watch.folder().isEmpty());
        QTemporaryDir folder;
        QVERIFY(watch.setFolder(folder.path()));
        QSignalSpy lost(&watch, &FolderWatch::lost);
        QVERIFY(folder.remove());
        QTRY_COMPARE_WITH_TIMEOUT(lost.size(), 1, 60000);
        QVERIFY(watch.folder().isEmpty());
        QVERIFY(watch.setFolder({})); // none at all is no error
    }
};

HOBBLE_TEST(TestFolderWatch)
#include "test_folder_watch.moc"
