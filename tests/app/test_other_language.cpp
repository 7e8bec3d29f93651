// In another language: every vowel of what is translated has an accent and everything is a third longer, so
// that what nobody can translate is seen by its plain vowels, and what is told by words shown breaks.
#include "app/action_book.h"
#include "app/language.h"
#include "app/session/plan_desk.h"
#include "core/words/motion_words.h"
#include "core/words/say.h"
#include "io/import_process.h"
#include "log/date_words.h"
#include "support/clipped.h"
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

// A translator's work, by a machine: every sentence of a file of sentences in other words.
QByteArray translatedFile(const QByteArray& ts) {
    static const QRegularExpression message(
        QStringLiteral("<source>([^<]*)</source>(.*?)<translation type=\"unfinished\">(\\s*<numerusform>.*?)?"
                       "</translation>"),
        QRegularExpression::DotMatchesEverythingOption);
    static const QRegularExpression form(QStringLiteral("<numerusform></numerusform>"));
    const QString text = QString::fromUtf8(ts);
    QString out;
    qsizetype at = 0;
    for (auto m = message.globalMatch(text); m.hasNext();) {
        const auto one = m.next();
        QString source = one.captured(1);
        source.replace(QLatin1String("&lt;"), QLatin1String("<"))
            .replace(QLatin1String("&gt;"), QLatin1String(">"))
            .replace(QLatin1String("&quot;"), QLatin1String("\""))
            .replace(QLatin1String("&apos;"), QLatin1String("'"))
            .replace(QLatin1String("&amp;"), QLatin1String("&"));
        out += text.mid(at, one.capturedStart() - at) +
               QStringLiteral("<source>%1</source>%2<translation>").arg(one.captured(1), one.captured(2));
        const QString own = inOtherWords(source).toHtmlEscaped();
        out += one.captured(3).isEmpty()
                   ? own
                   : one.captured(3).replace(form, QStringLiteral("<numerusform>%1</numerusform>").arg(own));
        out += QStringLiteral("</translation>");
        at = one.capturedEnd();
    }
    return (out + text.mid(at)).toUtf8();
}

} // namespace

class TestOtherLanguage : public QObject {
    Q_OBJECT

    const QLocale kOther{QStringLiteral("eo")}; // Qt has no words of its own in it
    QTemporaryDir made_;
    std::unique_ptr<TestWindow> w_;
    QStringList written_;    // what stands in the log as it was written
    std::set<QString> data_; // words that are nobody's to translate: names of joints, parts, people, files

    bool sentences(const QStringList& files) {
        QProcess make;
        make.setProcessChannelMode(QProcess::MergedChannels);
        make.start(QStringLiteral(HOBBLE_DEMO_DIR "/../../scripts/translations"), files);
        const bool done = make.waitForFinished(180000) && make.exitCode() == 0;
        if (!done)
            qWarning("%s", make.readAll().constData());
        return done;
    }
    void leaveTheLanguage() {
        for (QTranslator* t : qApp->findChildren<QTranslator*>())
            delete t;
        qunsetenv(kSentencesOf);
        sayDatesIn(QLocale::English);
    }
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
        for (const QString& words : bad)
            qWarning("%s: %s", qPrintable(where), qPrintable(words));
        QVERIFY2(bad.empty(), "words above are not translated");
    }

private slots:
    void initTestCase() {
        QVERIFY(QDir::setCurrent(QStringLiteral(HOBBLE_DEMO_DIR "/../.."))); // where the log's builds lie
        // By the tools a translator has: every sentence into a file, each translated, and taken by the
        // program.
        QVERIFY(sentences({made_.filePath(QStringLiteral("hobble_eo.ts"))}));
        QFile ts(made_.filePath(QStringLiteral("hobble_eo.ts")));
        QVERIFY(ts.open(QIODevice::ReadWrite));
        const QByteArray text = ts.readAll();
        QVERIFY(text.count("<message") > 2500);
        const QByteArray other = translatedFile(text);
        QVERIFY(!other.contains("type=\"unfinished\"></translation>"));
        QVERIFY(ts.resize(0) && ts.seek(0) && ts.write(other) == other.size());
        ts.close();
        QVERIFY(sentences({ts.fileName(), made_.filePath(QStringLiteral("hobble_eo.qm"))}));
        QVERIFY(installLanguage(*qApp, kOther, made_.path()));
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
        addData(log); // where it lies
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
            addData(kOther.monthName(i) + QLatin1Char(' ') + kOther.monthName(i, QLocale::ShortFormat));
        for (int i = 1; i <= 7; ++i)
            addData(kOther.dayName(i) + QLatin1Char(' ') + kOther.dayName(i, QLocale::ShortFormat));
        addData(QStringLiteral(
            "Hobble badger postmaster glb sqlite json csv lead demo log Ctrl Shift Alt Esc Space Return "
            "Enter Del Home End Left Right Up Down PgUp PgDown Page Ins Backspace Tab"));
    }

    void cleanupTestCase() {
        w_.reset();
        leaveTheLanguage();
        setTranslator(nullptr);
    }

    // What is translated stays when the file is made anew, and what is not stays English.
    void whatIsTranslatedStays() {
        const QString ts = made_.filePath(QStringLiteral("hobble_ia.ts"));
        QVERIFY(sentences({ts}));
        QFile file(ts);
        QVERIFY(file.open(QIODevice::ReadWrite));
        QByteArray text = file.readAll();
        const auto put = [&](const QByteArray& source, const QByteArray& own) {
            const QByteArray there = "<source>" + source + "</source>",
                             none = " type=\"unfinished\"></translation>";
            const qsizetype at = text.indexOf(none, text.indexOf(there));
            QVERIFY2(text.contains(there) && at > 0, source.constData());
            text.replace(at, none.size(), ">" + own + "</translation>");
        };
        put("volume loss", "perdita de volumine");                            // a word of a table of the core
        put(" loses %.0f %% of its volume", " perde %.0f %% de su volumine"); // a pattern of it
        put("Run the plan", "Exequer le plano");                              // the window's
        put("There is no state “%1”.", "Il non ha un stato “%1”.");           // the log's
        put("it has more than 65,535 joints", "illo ha plus que 65.535 articulationes"); // a reader's
        QVERIFY(file.resize(0) && file.seek(0) && file.write(text) == text.size());
        file.close();
        QVERIFY(sentences({ts, made_.filePath(QStringLiteral("hobble_ia.qm"))}));
        QVERIFY(file.open(QIODevice::ReadOnly));
        QVERIFY(file.readAll().contains("perdita de volumine"));
        leaveTheLanguage();
        QVERIFY(!installLanguage(*qApp, QLocale(QStringLiteral("sv")), made_.path())); // nobody made that one
        QCOMPARE(translated("volume loss"), std::string("volume loss"));
        QVERIFY(installLanguage(*qApp, QLocale(QStringLiteral("ia")), made_.path()));
        QCOMPARE(translated("volume loss"), std::string("perdita de volumine"));
        QCOMPARE(say(" loses %.0f %% of its volume", 12.0), std::string(" perde 12 % de su volumine"));
        QCOMPARE(QCoreApplication::translate("hobble::MainWindow", "Run the plan"),
                 QStringLiteral("Exequer le plano"));
        QCOMPARE(QCoreApplication::translate("hobble", "There is no state “%1”."),
                 QStringLiteral("Il non ha un stato “%1”."));
        QCOMPARE(say("it has more than 65,535 joints"),
                 std::string("illo ha plus que 65.535 articulationes"));
        QCOMPARE(translated("knee flex"), std::string("knee flex"));
        leaveTheLanguage();
        QVERIFY(installLanguage(*qApp, kOther, made_.path()));
        QVERIFY(motionName("knee flex").find("knéé") != std::string::npos); // by its parts
        QVERIFY(motionName("Bone_12 bend front")
                    .starts_with("Bone_12 ")); // a joint's name is nobody's to translate
    }

    // A language may have more than one and many: Polish says 1, 2 to 4 and 5 in three ways, and 22 as 2.
    void moreThanOneAndMany() {
        const QString ts = made_.filePath(QStringLiteral("hobble_pl.ts"));
        QVERIFY(sentences({ts}));
        QFile file(ts);
        QVERIFY(file.open(QIODevice::ReadWrite));
        QByteArray text = file.readAll();
        const auto put = [&](const QByteArray& source, const QByteArrayList& forms) {
            const QByteArray there = "<source>" + source + "</source>", none = "<numerusform></numerusform>";
            QVERIFY2(text.contains(there), source.constData());
            // the same words may be the core's and a page's
            for (qsizetype at = text.indexOf(there); at > 0; at = text.indexOf(there, at))
                for (const QByteArray& f : forms) {
                    at = text.indexOf(none, at);
                    text.replace(at, none.size(), "<numerusform>" + f + "</numerusform>");
                }
        };
        put("%n vertices", {"%n wierzch", "%n wierzchy", "%n wierzchow"});     // of the core
        put("%n packets are in %1.", {"%n p, %1", "%n py, %1", "%n pow, %1"}); // of the window
        QVERIFY(file.resize(0) && file.seek(0) && file.write(text) == text.size());
        file.close();
        QVERIFY(sentences({ts, made_.filePath(QStringLiteral("hobble_pl.qm"))}));
        leaveTheLanguage();
        QVERIFY(installLanguage(*qApp, QLocale(QStringLiteral("pl")), made_.path()));
        QCOMPARE(sayMany(3, "%n vertices"), std::string("3 wierzchy"));
        QCOMPARE(sayMany(5, "%n vertices"), std::string("5 wierzchow"));
        QCOMPARE(sayMany(22, "%n vertices"), std::string("22 wierzchy"));
        QCOMPARE(QCoreApplication::translate("hobble::SendDialog", "%n packets are in %1.", nullptr, 12)
                     .arg(QStringLiteral("/out")),
                 QStringLiteral("12 pow, /out"));
        leaveTheLanguage();
        QVERIFY(installLanguage(*qApp, kOther, made_.path()));
    }

    // Why a file is not read is found out by a process of its own, and said in the window's language.
    void whatTheImporterRefuses() {
        const QString broken = w_->folder.filePath(QStringLiteral("xyz.fbx"));
        QFile file(broken);
        QVERIFY(file.open(QIODevice::WriteOnly) && file.write("no such thing") > 0);
        file.close();
        auto* message = w_->find<QLabel>(QStringLiteral("message"));
        w_->session->build().open(broken);
        QVERIFY(QTest::qWaitFor([&] { return message->text().contains(QStringLiteral("xyz")); }, 60000));
        QString said = message->text();
        QVERIFY(said.contains(QLatin1Char('\'')));
        said.remove(QRegularExpression(QStringLiteral("'[^']*'"))); // the library's own words
        said.remove(broken).remove(QStringLiteral("xyz.fbx"));
        QVERIFY2(plainWords(said).isEmpty(), qPrintable(said));
        QTest::mouseClick(message->parentWidget()->findChild<QPushButton*>(), Qt::LeftButton);
        QVERIFY(!message->isVisible());
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
        QVERIFY2(isWhole(*w_->window, page), "see above");
        // Read from the right, the pages stand the other way round and are as whole.
        QApplication::setLayoutDirection(Qt::RightToLeft);
        const bool whole = isWhole(*w_->window, page + QStringLiteral(", from the right"));
        const QWidget* viewport = w_->window->findChild<Viewport*>();
        if (const QByteArray to = qgetenv("HOBBLE_TESTS_LOOK"); !to.isEmpty())
            w_->window->grab().save(QString::fromLocal8Bit(to) +
                                    QStringLiteral("/from-the-right-%1.png").arg(page));
        QApplication::setLayoutDirection(Qt::LeftToRight);
        QVERIFY2(whole, "see above");
        QVERIFY(viewport);
    }
};

HOBBLE_TEST(TestOtherLanguage)
#include "test_other_language.moc"
