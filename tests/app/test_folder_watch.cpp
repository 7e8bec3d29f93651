// A folder that is watched: each delivery is told once, when it has settled; what lay there before, and what
// is no character, is not.
#include "app/session/folder_watch.h"

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
        QSignalSpy spy(&watch, &FolderWatch::arrived);
        QVERIFY(watch.setFolder(folder.path()));
        QCOMPARE(watch.folder(), dir.absolutePath());
        write(dir.filePath("notes.txt"), "no character");
        // written in pieces, each within the time it takes to settle
        for (int i = 0; i < 6; ++i) {
            write(dir.filePath("Bär 1.fbx"), QByteArray(100, 'x'), QIODevice::Append);
            QTest::qWait(250);
            QVERIFY2(spy.isEmpty(), "it is still being written");
        }
        QTRY_COMPARE_WITH_TIMEOUT(told(spy), QStringList{QStringLiteral("Bär 1.fbx")}, 5000);
        QTest::qWait(1200);
        QCOMPARE(spy.size(), 1);
        // replaced: it comes again; and so does what lay here before, once it changes
        write(dir.filePath("Bär 1.fbx"), "another build");
        write(dir.filePath("old.glb"), "and now it is new");
        QTRY_COMPARE_WITH_TIMEOUT(spy.size(), 3, 5000);
    }

    void emptyFilesAreWaitedFor() {
        QTemporaryDir folder;
        FolderWatch watch;
        watch.setSettling(200);
        QSignalSpy spy(&watch, &FolderWatch::arrived);
        QVERIFY(watch.setFolder(folder.path()));
        const QString path = QDir(folder.path()).filePath("late.glb");
        write(path, "");
        QTest::qWait(1200);
        QVERIFY(spy.isEmpty());
        write(path, "here it is");
        QTRY_COMPARE_WITH_TIMEOUT(spy.size(), 1, 5000);
    }

    void foldersComeAndGo() {
        FolderWatch watch;
        QVERIFY(!watch.setFolder(QStringLiteral("/nowhere/at all")));
        QVERIFY(watch.folder().isEmpty());
        QTemporaryDir folder;
        QVERIFY(watch.setFolder(folder.path()));
        QSignalSpy lost(&watch, &FolderWatch::lost);
        QVERIFY(folder.remove());
        QTRY_COMPARE_WITH_TIMEOUT(lost.size(), 1, 5000);
        QVERIFY(watch.folder().isEmpty());
        QVERIFY(watch.setFolder({})); // none at all is no error
    }
};

QTEST_GUILESS_MAIN(TestFolderWatch)
#include "test_folder_watch.moc"
