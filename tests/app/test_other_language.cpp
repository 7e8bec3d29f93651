// In another language: every vowel of what is translated has an accent and everything is a third longer, so
// that what nobody can translate is seen by its plain vowels, and what is told by words shown breaks.
#include "app/action_book.h"
#include "app/language.h"
#include "app/session/plan_desk.h"
#include "core/words/say.h"
#include "support/window_test.h"

#include <QAbstractItemView>
#include <QComboBox>
#include <QFile>
#include <QProcess>
#include <QRegularExpression>
#include <QTranslator>

#include <set>

using namespace hobble;
using namespace hobble::test;

namespace {

// Places to fill, tags and entities stay; of the rest every vowel gets its accent.
QString inOtherWords(const QString& words) {
    static const QRegularExpression kept(QStringLiteral(
        "%(?:L?[0-9]+|n|%|[-+ #0]*[0-9*]*(?:\\.[0-9*]+)?(?:ll|l|z)?[diuoxXeEfgGsc])|<[^>]*>|&[a-z]+;"));
    static const QString plain = QStringLiteral("aeiouAEIOU"), accented = QStringLiteral("áéíöúÁÉÍÖÚ");
    QString out;
    qsizetype at = 0;
    const auto accent = [&](QString part) {
        for (QChar& c : part)
            if (const auto i = plain.indexOf(c); i >= 0)
                c = accented[i];
        return part;
    };
    auto places = kept.globalMatch(words);
    while (places.hasNext()) {
        const auto m = places.next();
        out += accent(words.mid(at, m.capturedStart() - at)) + m.captured();
        at = m.capturedEnd();
    }
    out += accent(words.mid(at));
    // a third longer, by words that may stand on a line of their own
    for (qsizetype more = words.size() / 3; more > 0; more -= 4)
        out += QStringLiteral(" ñ") + QString(std::min<qsizetype>(more, 4) - 1, QLatin1Char('z'));
    return out;
}

class OtherLanguage : public QTranslator {
public:
    QString translate(const char*, const char* source, const char*, int) const override {
        return inOtherWords(QString::fromUtf8(source));
    }
    bool isEmpty() const override { return false; }
};

} // namespace

class TestOtherLanguage : public QObject {
    Q_OBJECT

    std::unique_ptr<QTranslator> language_;
    std::unique_ptr<TestWindow> w_;
    QStringList written_;    // what stands in the log as it was written
    std::set<QString> data_; // words that are nobody's to translate: names of joints, parts, people, files

    void addData(const QString& words) {
        static const QRegularExpression between(QStringLiteral("[^A-Za-z]+"));
        for (const QString& w : words.split(between, Qt::SkipEmptyParts))
            data_.insert(w.toLower());
    }
    QString plainWords(QString text) const {
        text.remove(QRegularExpression(QStringLiteral("<[^>]*>")));
        for (const QString& w : written_)
            text.remove(w);
        static const QRegularExpression word(QStringLiteral("[\\p{L}]+"));
        static const QRegularExpression english(QStringLiteral("^[A-Za-z]*[aeiouAEIOU][A-Za-z]*$"));
        QStringList out;
        for (auto m = word.globalMatch(text); m.hasNext();) {
            const QString w = m.next().captured();
            if (w.size() > 2 && english.match(w).hasMatch() && !data_.count(w.toLower()))
                out << w;
        }
        return out.join(QLatin1Char(' '));
    }
    // What a person reads, or is read to.
    QStringList shown() const {
        QStringList out;
        for (const QWidget* w : w_->window->findChildren<QWidget*>()) {
            if (!w->isVisible())
                continue;
            out << w->toolTip() << w->accessibleName() << w->accessibleDescription();
            for (const char* property :
                 {"text", "title", "placeholderText", "suffix", "prefix", "windowTitle"})
                if (!qobject_cast<const QLineEdit*>(w) ||
                    qstrcmp(property, "text") != 0) // what somebody typed
                    out << w->property(property).toString();
            if (const auto* box = qobject_cast<const QComboBox*>(w))
                for (int i = 0; i < box->count(); ++i)
                    out << box->itemText(i);
            if (const auto* view = qobject_cast<const QAbstractItemView*>(w); view && view->model())
                for (int r = 0; r < std::min(view->model()->rowCount(view->rootIndex()), 40); ++r)
                    for (int c = 0; c < view->model()->columnCount(view->rootIndex()); ++c)
                        out << view->model()->index(r, c, view->rootIndex()).data().toString();
        }
        for (const QAction* a : w_->window->findChild<ActionBook*>()->actions())
            out << a->text() << a->toolTip();
        return out;
    }
    void allIsTranslated(const QString& where) {
        comeToRest();
        std::set<QString> bad;
        for (const QString& text : shown())
            if (const QString plain = plainWords(text); !plain.isEmpty())
                bad.insert(QStringLiteral("%1  ← “%2”")
                               .arg(plain, text.left(90).replace(QLatin1Char('\n'), QLatin1Char(' '))));
        QStringList list(bad.begin(), bad.end());
        QVERIFY2(list.isEmpty(), qPrintable(where + QStringLiteral(":\n") + list.join(QLatin1Char('\n'))));
    }

private slots:
    void initTestCase() {
        QVERIFY(QDir::setCurrent(QStringLiteral(HOBBLE_DEMO_DIR "/../.."))); // where the log's builds lie
        language_ = std::make_unique<OtherLanguage>();
        QCoreApplication::installTranslator(language_.get());
        setTranslator(
            [](const char* pattern) { return inOtherWords(QString::fromUtf8(pattern)).toStdString(); });
        w_ = std::make_unique<TestWindow>(QStringLiteral("other"), true);
        const QString log = w_->folder.filePath(QStringLiteral("log.sqlite"));
        QVERIFY(QFile::copy(QStringLiteral(HOBBLE_DEMO_DIR "/demo-log.sqlite"), log));
        QFile::setPermissions(log, QFile::ReadOwner | QFile::WriteOwner);
        w_->session->log().open(log);
        QVERIFY(w_->openAndRun(QStringLiteral(HOBBLE_DEMO_DIR "/builds/3/badger-postmaster.glb")));
        const Character& c = *w_->session->build().subject()->character;
        for (const std::string& name : c.skeleton.name)
            addData(QString::fromStdString(name));
        for (const Part& p : c.parts) {
            addData(QString::fromStdString(p.name));
            for (const ShapeTarget& t : p.targets)
                addData(QString::fromStdString(t.name));
        }
        for (const Driver& d : c.drivers)
            addData(QString::fromStdString(d.name));
        for (const Clip& clip : c.clips)
            addData(QString::fromStdString(clip.name));
        for (const Person& p : w_->session->log().people())
            addData(p.name);
        // what people wrote, names of files and keys
        for (const Defect& d : w_->session->log().defects()) {
            written_ << d.facts.what << d.facts.what.chopped(1)
                     << d.facts.what.section(QStringLiteral(", in "), 0, 0)
                     << d.facts.what.section(QStringLiteral(" in "), 0, 0);
            if (!d.due.isEmpty())
                written_ << d.due;
            if (const auto whole = w_->session->log().whole(d.id); whole && !whole->facts.cause.isEmpty())
                written_ << whole->facts.cause;
        }
        written_.removeAll(QString());
        std::sort(written_.begin(), written_.end(),
                  [](const QString& a, const QString& b) { return a.size() > b.size(); });
        written_ << QStringLiteral("full plan"); // a plan's name
        for (int i = 1; i <= 12; ++i)            // dates, as the system has them
            addData(QLocale().monthName(i) + QLatin1Char(' ') + QLocale().monthName(i, QLocale::ShortFormat));
        for (int i = 1; i <= 7; ++i)
            addData(QLocale().dayName(i) + QLatin1Char(' ') + QLocale().dayName(i, QLocale::ShortFormat));
        addData(QStringLiteral(
            "Hobble badger postmaster glb sqlite json csv lead demo log Ctrl Shift Alt Esc Space Return "
            "Enter Del Home End Left Right Up Down PgUp PgDown Page Ins Backspace Tab"));
    }

    void cleanupTestCase() {
        w_.reset();
        setTranslator(nullptr);
        QCoreApplication::removeTranslator(language_.get());
    }

    // By the tools a translator has: every sentence into a file, one of them translated, and taken by the
    // program.
    void aLanguageIsMadeAndTaken() {
        const QString script = QStringLiteral(HOBBLE_DEMO_DIR "/../../scripts/translations"),
                      ts = w_->folder.filePath(QStringLiteral("hobble_eo.ts"));
        const auto run = [&](const QStringList& files) {
            QProcess make;
            make.setProcessChannelMode(QProcess::MergedChannels);
            make.start(script, files);
            const bool done = make.waitForFinished(180000) && make.exitCode() == 0;
            if (!done)
                qWarning("%s", make.readAll().constData());
            return done;
        };
        QVERIFY(run({ts}));
        QFile file(ts);
        QVERIFY(file.open(QIODevice::ReadWrite));
        QByteArray text = file.readAll();
        QVERIFY(text.count("<message") > 2000);
        const auto put = [&](const QByteArray& source, const QByteArray& own) {
            const QByteArray there = "<source>" + source + "</source>";
            const qsizetype at = text.indexOf("type=\"unfinished\"></translation>", text.indexOf(there));
            QVERIFY2(text.contains(there) && at > 0, source.constData());
            text.replace(at, qstrlen("type=\"unfinished\"></translation>"), ">" + own + "</translation>");
        };
        put("volume loss", "volumenperdo"); // a word of a table of the core
        put(" loses %.0f %% of its volume", " perdas %.0f %% de sia volumeno"); // a pattern of it
        put("Run the plan", "Ruli la planon");                                  // the window's
        text.replace("<translation  >", "<translation>").replace("<translation >", "<translation>");
        file.resize(0);
        file.write(text);
        file.close();
        QVERIFY(run({ts, w_->folder.filePath(QStringLiteral("hobble_eo.qm"))}));
        QFile again(ts); // what is translated stays when it is made anew
        QVERIFY(again.open(QIODevice::ReadOnly));
        QVERIFY(again.readAll().contains("volumenperdo"));
        QCoreApplication::removeTranslator(language_.get());
        QVERIFY(!installLanguage(*qApp, QLocale(QStringLiteral("sv")),
                                 w_->folder.path())); // nobody made that one
        QCOMPARE(translated("volume loss"), std::string("volume loss"));
        QVERIFY(installLanguage(*qApp, QLocale(QStringLiteral("eo")), w_->folder.path()));
        QCOMPARE(translated("volume loss"), std::string("volumenperdo"));
        QCOMPARE(say(" loses %.0f %% of its volume", 12.0), std::string(" perdas 12 % de sia volumeno"));
        QCOMPARE(QCoreApplication::translate("hobble::MainWindow", "Run the plan"),
                 QStringLiteral("Ruli la planon"));
        for (QTranslator* t : qApp->findChildren<QTranslator*>())
            delete t;
        QCoreApplication::installTranslator(language_.get());
        setTranslator(
            [](const char* pattern) { return inOtherWords(QString::fromUtf8(pattern)).toStdString(); });
    }

    void everyPage_data() {
        QTest::addColumn<QString>("page");
        for (const char* id : {"intake", "plan", "review", "mend", "compare", "log"})
            QTest::newRow(id) << QString::fromLatin1(id);
    }
    void everyPage() {
        QFETCH(QString, page);
        QAction* go = w_->window->findChild<ActionBook*>()->find(page);
        QVERIFY(go);
        go->trigger();
        if (page == QLatin1String("review"))
            w_->session->run().showFinding(0);
        if (page == QLatin1String("mend")) {
            w_->session->mend().beginFor(w_->session->run().run()->faults.front().signs.front());
            QVERIFY(QTest::qWaitFor(
                [&] { return !w_->session->jobs().busy() && !w_->session->mend().measuring(); }, 180000));
            w_->session->mend().apply(MendVerb::Softer, {});
            QVERIFY(QTest::qWaitFor(
                [&] { return w_->session->mend().result() && !w_->session->mend().measuring(); }, 60000));
        }
        allIsTranslated(page);
    }
};

HOBBLE_TEST(TestOtherLanguage)
#include "test_other_language.moc"
