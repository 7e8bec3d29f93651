#include "app/log/send_dialog.h"

#include "io/file_write.h"
#include "log/date_words.h"
#include "log/defect_csv.h"
#include "log/defect_json.h"
#include "log/file_name.h"
#include "story/outbox.h"
#include "story/packet.h"
#include "story/run_paper.h"

#include <QCheckBox>
#include <QComboBox>
#include <QDir>
#include <QFileDialog>
#include <QFormLayout>
#include <QHBoxLayout>
#include <QLabel>
#include <QLineEdit>
#include <QMap>
#include <QPushButton>
#include <QSettings>
#include <QStandardPaths>
#include <QVBoxLayout>

namespace hobble {

namespace {

enum What { Packets, MeetingPdf, RunPdf, WholeJson, Table };

struct Wish {
    What what = Packets;
    QString place, folder, outbox;
    bool zip = false, message = false;
    QString author;
    QVector<Person> people;
    QMap<QString, QVector<qint64>> byPerson;
    QVector<qint64> ids;
    QVector<Load> loads;
    Limits limits;
    QString title;
    std::shared_ptr<const Subject> subject; // of the run on paper
    std::shared_ptr<const RunResult> run;
};

// Everything on the job's thread, with a connection of its own; returns what is to be told.
Result<QString> make(const Wish& w, JobControl& control) {
    if (!QDir().mkpath(w.folder))
        return Error{QStringLiteral("Cannot make the folder %1.").arg(w.folder).toStdString()};
    const StoryProgress progress = [&](int done, int all) {
        control.tell(static_cast<std::size_t>(done), static_cast<std::size_t>(std::max(all, 1)), 0);
        return !control.cancelled;
    };
    if (w.what == RunPdf) {
        const ReviewPaper paper = runPaper(w.subject, *w.run, 20, progress);
        if (control.cancelled)
            return Error{SendDialog::tr("Stopped; nothing was written.").toStdString()};
        const QString path = w.folder + QLatin1Char('/') + safeFileName(paper.title) + QStringLiteral(".pdf");
        const auto written = writeReviewPdf(paper, path);
        return written ? Result<QString>(SendDialog::tr("The pages are in %1.").arg(path))
                       : Error{written.error()};
    }
    auto log = ProductionLog::open(w.place);
    if (!log)
        return Error{log.error()};
    BuildShelf shelf;
    PictureWish pictures;
    pictures.limits = w.limits;
    pictures.cancel = &control.cancelled;
    if (w.what == WholeJson) {
        const QString path = w.folder + QStringLiteral("/hobble-log.json");
        const auto written =
            writeLogJson(**log, path, [&](qint64, qint64) { return !control.cancelled.load(); });
        return written ? Result<QString>(SendDialog::tr("The whole log is in %1.").arg(path))
                       : Error{written.error()};
    }
    if (w.what == Table) {
        QVector<Defect> defects;
        QVector<QString> comments;
        for (qint64 id : w.ids) {
            const auto d = (*log)->defect(id);
            const auto history = (*log)->history(id);
            if (!d || !history)
                return Error{!d ? d.error() : history.error()};
            defects << *d;
            comments << commentsIn(*history);
            if (!progress(static_cast<int>(defects.size()), static_cast<int>(w.ids.size())))
                return Error{SendDialog::tr("Stopped; nothing was written.").toStdString()};
        }
        const QString path = w.folder + QStringLiteral("/defects.csv");
        const auto written = writeFile(path.toStdString(), defectsToCsv(defects, comments).toStdString());
        return written ? Result<QString>((defects.size() == 1 ? SendDialog::tr("One defect is in %1.")
                                                              : SendDialog::tr("%n defects are in %1.",
                                                                               nullptr, int(defects.size())))
                                             .arg(path))
                       : Error{written.error()};
    }
    if (w.what == MeetingPdf) {
        auto stories = storiesOf(**log, w.ids, shelf, pictures, progress);
        if (!stories)
            return Error{stories.error()};
        ReviewPaper paper{
            ReviewPaper::Meeting,
            w.title,
            {SendDialog::tr("%n defects, worst first. Log: %1", nullptr, int(w.ids.size())).arg(w.place)},
            w.loads,
            std::move(*stories)};
        std::stable_sort(
            paper.stories.begin(), paper.stories.end(),
            [](const DefectStory& a, const DefectStory& b) { return a.defect.severity > b.defect.severity; });
        const QString path = w.folder + QLatin1Char('/') + safeFileName(w.title) + QStringLiteral(".pdf");
        const auto written = writeReviewPdf(paper, path);
        return written ? Result<QString>(SendDialog::tr("The pages are in %1.").arg(path))
                       : Error{written.error()};
    }
    QStringList made;
    for (auto it = w.byPerson.begin(); it != w.byPerson.end(); ++it) {
        auto stories = storiesOf(**log, it.value(), shelf, pictures, progress);
        if (!stories)
            return Error{stories.error()};
        PacketWish wish{SendDialog::tr("For %1").arg(it.key()), w.folder, w.zip, progress};
        const auto packet = writePacket(*stories, shelf, wish);
        if (!packet)
            return Error{packet.error()};
        made << *packet;
        if (!w.message)
            continue;
        Message m;
        m.fromName = w.author;
        m.toName = it.key();
        for (const Person& p : w.people) {
            if (p.name == it.key())
                m.to = p.mail;
            if (p.name == w.author)
                m.from = p.mail;
        }
        m.at = QDateTime::currentDateTime();
        m.subject = stories->size() == 1 ? SendDialog::tr("One defect to fix")
                                         : SendDialog::tr("%n defects to fix", nullptr, int(stories->size()));
        QStringList lines{
            SendDialog::tr("%1,").arg(it.key()), QString(),
            SendDialog::tr("these wait for you; pictures, test motions and marked vertices are in %1:")
                .arg(*packet),
            QString()};
        for (const DefectStory& s : *stories)
            lines << SendDialog::tr("%1. (severity %2) %3")
                         .arg(s.defect.id)
                         .arg(s.defect.severity)
                         .arg(s.defect.facts.what);
        lines << QString() << w.author;
        m.text = lines.join(QLatin1Char('\n'));
        QFile page(w.zip ? *packet : *packet + QStringLiteral("/index.html"));
        constexpr qint64 mostAttached = 10 << 20; // what mail servers take
        if (page.open(QIODevice::ReadOnly) && page.size() < mostAttached)
            m.attachments << Attachment{
                w.zip ? QFileInfo(*packet).fileName() : safeFileName(wish.title) + QStringLiteral(".html"),
                w.zip ? QStringLiteral("application/zip") : QStringLiteral("text/html"), page.readAll()};
        if (const auto laid = layInOutbox(w.outbox, m); !laid)
            return Error{laid.error()};
    }
    return made.size() == 1
               ? SendDialog::tr("The packet is in %1.").arg(made.front())
               : SendDialog::tr("%n packets are in %1.", nullptr, int(made.size())).arg(w.folder);
}

} // namespace

SendDialog::SendDialog(BuildDesk* build, RunDesk* run, LogDesk* log, const QVector<qint64>& ids,
                       QWidget* parent)
    : QDialog(parent), build_(build), run_(run), log_(log), ids_(ids) {
    setObjectName(QStringLiteral("send"));
    setWindowTitle(tr("Send out"));
    resize(560, 300);
    auto* all = new QVBoxLayout(this);
    auto* form = new QFormLayout;
    form->setVerticalSpacing(8);
    what_ = new QComboBox;
    what_->setObjectName(QStringLiteral("sendWhat"));
    what_->addItem(tr("a packet for each rigger"), Packets);
    what_->addItem(tr("pages for a meeting (PDF)"), MeetingPdf);
    if (run->run())
        what_->addItem(tr("pages about the run of %1 (PDF)").arg(build->title()), RunPdf);
    what_->addItem(tr("a table for a spreadsheet (CSV)"), Table);
    what_->addItem(tr("the whole log (JSON)"), WholeJson);
    form->addRow(tr("What"), what_);
    const QString home = QStandardPaths::writableLocation(QStandardPaths::DocumentsLocation);
    const auto place = [&](const char* name, const char* setting, const QString& usual) {
        auto* row = new QHBoxLayout;
        auto* line = new QLineEdit(QSettings().value(QLatin1String(setting), usual).toString());
        line->setObjectName(QLatin1String(name));
        auto* choose = new QPushButton(tr("Choose…"));
        choose->setAutoDefault(false);
        connect(choose, &QPushButton::clicked, this, [this, line] {
            const QString folder = QFileDialog::getExistingDirectory(this, tr("Where to"), line->text());
            if (!folder.isEmpty())
                line->setText(folder);
        });
        row->addWidget(line, 1);
        row->addWidget(choose);
        form->addRow(QLatin1String(name) == QLatin1String("sendFolder") ? tr("Folder") : tr("Outbox"), row);
        return line;
    };
    folder_ = place("sendFolder", "sendFolder", home + QStringLiteral("/Hobble"));
    zip_ = new QCheckBox(tr("as one zip each"));
    zip_->setObjectName(QStringLiteral("sendZip"));
    form->addRow(QString(), zip_);
    message_ = new QCheckBox(tr("and a message to each, laid ready for the mail program"));
    message_->setObjectName(QStringLiteral("sendMessage"));
    form->addRow(QString(), message_);
    outbox_ = place("sendOutbox", "outbox", home + QStringLiteral("/Hobble/outbox"));
    all->addLayout(form);
    about_ = new QLabel;
    about_->setObjectName(QStringLiteral("sendAbout"));
    about_->setWordWrap(true);
    about_->setProperty("quiet", true);
    all->addWidget(about_);
    all->addStretch();
    auto* foot = new QHBoxLayout;
    auto* no = new QPushButton(tr("Not now"));
    no->setAutoDefault(false);
    auto* yes = new QPushButton(tr("Make it"));
    yes->setObjectName(QStringLiteral("sendDo"));
    yes->setProperty("strong", true);
    foot->addWidget(no);
    foot->addStretch();
    foot->addWidget(yes);
    all->addLayout(foot);
    connect(no, &QPushButton::clicked, this, &QDialog::reject);
    connect(yes, &QPushButton::clicked, this, &SendDialog::go);
    connect(what_, &QComboBox::currentIndexChanged, this, &SendDialog::refresh);
    connect(message_, &QCheckBox::toggled, this, &SendDialog::refresh);
    refresh();
}

void SendDialog::refresh() {
    const int what = what_->currentData().toInt();
    zip_->setEnabled(what == Packets);
    message_->setEnabled(what == Packets);
    outbox_->setEnabled(what == Packets && message_->isChecked());
    QSet<QString> people;
    int nobody = 0;
    for (qint64 id : ids_)
        if (const Defect* d = log_->list().find(id)) {
            if (d->assignee.isEmpty())
                ++nobody;
            else
                people.insert(d->assignee);
        }
    const QString those = ids_.size() == 1 ? tr("One defect") : tr("%n defects", nullptr, int(ids_.size()));
    about_->setText(what == WholeJson ? tr("Everything, with pictures and history; it can be taken in again.")
                    : what == RunPdf  ? tr("All its findings as a list, the worst with pictures.")
                    : what == Packets
                        ? tr("%1, for %2 people.").arg(those).arg(people.size()) +
                              (nobody ? tr(" %1 that nobody has go into no packet.").arg(nobody) : QString())
                        : tr("%1.").arg(those));
}

void SendDialog::go() {
    Wish w;
    w.what = static_cast<What>(what_->currentData().toInt());
    w.place = log_->place();
    w.folder = folder_->text().trimmed();
    w.outbox = outbox_->text().trimmed();
    w.zip = zip_->isChecked();
    w.message = message_->isChecked();
    w.author = log_->author();
    w.people = log_->people();
    w.ids = ids_;
    w.limits = run_->limits();
    w.subject = build_->subject();
    w.run = run_->run();
    w.loads = workload(log_->defects(), log_->people(), QDateTime::currentDateTime());
    w.title = tr("Review of %1").arg(dateWords(QDate::currentDate(), DateAs::LongOfYear));
    for (qint64 id : ids_)
        if (const Defect* d = log_->list().find(id); d && !d->assignee.isEmpty())
            w.byPerson[d->assignee] << id;
    if (w.folder.isEmpty() || (w.what == Packets && w.byPerson.isEmpty())) {
        about_->setText(w.folder.isEmpty()
                            ? tr("Say which folder it goes to.")
                            : tr("Nobody has any of these defects; give them to somebody first (A)."));
        return;
    }
    QSettings().setValue(QStringLiteral("sendFolder"), w.folder);
    QSettings().setValue(QStringLiteral("outbox"), w.outbox);
    log_->work(tr("Making what goes out"), [w](JobControl& control) { return make(w, control); });
    accept();
}

} // namespace hobble
