#include "app/plan/versions_pane.h"

#include "app/session/plan_desk.h"
#include "app/theme.h"
#include "app/widgets/flow_layout.h"
#include "core/pose/test_clip.h"
#include "io/bvh_write.h"
#include "io/file_write.h"
#include "io/gltf_write.h"
#include "io/plan_json.h"

#include <QFileDialog>
#include <QFileInfo>
#include <QHBoxLayout>
#include <QLabel>
#include <QLineEdit>
#include <QListWidget>
#include <QLocale>
#include <QPushButton>
#include <QScrollArea>
#include <QVBoxLayout>

namespace hobble {

namespace {

QString listed(const std::vector<PlanChange>& changes, const QString& none) {
    if (changes.empty())
        return none;
    QStringList lines;
    for (std::size_t i = 0; i < changes.size() && i < 12; ++i)
        lines << QStringLiteral("• ") + QString::fromStdString(changes[i].words);
    if (changes.size() > 12)
        lines << QObject::tr("and %1 more").arg(changes.size() - 12);
    return lines.join(QLatin1Char('\n'));
}

} // namespace

VersionsPane::VersionsPane(Session* session, QWidget* parent) : QWidget(parent), session_(session) {
    auto* column = new QVBoxLayout(this);
    column->setContentsMargins(0, 0, 0, 0);
    column->setSpacing(6);
    const auto heading = [&](const QString& text) {
        auto* h = new QLabel(text);
        setType(h, 1.0, true);
        column->addWidget(h);
    };
    const auto words = [&](const char* name) {
        auto* label = new QLabel;
        label->setObjectName(QLatin1String(name));
        label->setWordWrap(true);
        label->setTextFormat(Qt::PlainText);
        label->setAlignment(Qt::AlignTop);
        return label;
    };
    heading(tr("Since the last run"));
    since_ = words("sinceRun");
    column->addWidget(since_);
    heading(tr("Versions in the log"));
    versions_ = new QListWidget;
    versions_->setObjectName(QStringLiteral("planVersions"));
    versions_->setAccessibleName(tr("Versions of the plan"));
    versions_->setFrameShape(QFrame::NoFrame);
    versions_->setWordWrap(true);
    versions_->setMinimumHeight(90);
    versions_->setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
    column->addWidget(versions_, 1);
    connect(versions_, &QListWidget::currentRowChanged, this, &VersionsPane::refreshChanges);
    differs_ = words("versionDiffers");
    auto* scroll = new QScrollArea;
    scroll->setWidgetResizable(true);
    scroll->setFrameShape(QFrame::NoFrame);
    scroll->setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
    scroll->setWidget(differs_);
    scroll->setMinimumHeight(80);
    column->addWidget(scroll, 1);
    auto* row = new FlowLayout(4);
    row->setContentsMargins(0, 0, 0, 0);
    const auto button = [&](const QString& text, const char* name, auto&& does) {
        auto* b = new QPushButton(text);
        b->setObjectName(QLatin1String(name));
        connect(b, &QPushButton::clicked, this, does);
        row->addWidget(b);
        return b;
    };
    take_ = button(tr("Take this version"), "takeVersion", [this] {
        if (const auto* item = versions_->currentItem())
            session_->takePlanVersion(item->data(Qt::UserRole).toLongLong());
    });
    button(tr("The standard plan"), "standardPlan", [this] { session_->desk()->takeStandardPlan(); });
    const auto place = [&] {
        auto* line = new QWidget;
        line->setLayout(row);
        column->addWidget(line);
        row = new FlowLayout(4);
        row->setContentsMargins(0, 0, 0, 0);
    };
    place();
    note_ = new QLineEdit;
    note_->setObjectName(QStringLiteral("planNote"));
    note_->setPlaceholderText(tr("why this version"));
    note_->setAccessibleName(tr("A word on this version"));
    column->addWidget(note_);
    button(tr("Keep as a version"), "keepVersion", [this] {
        session_->keepPlan(note_->text().isNull() ? QStringLiteral("") : note_->text());
        note_->clear();
    });
    place();
    heading(tr("In and out"));
    button(tr("Open a plan"), "openPlan", [this] {
        const QString path = QFileDialog::getOpenFileName(this, tr("Open a plan"), {}, tr("Plans (*.json)"));
        if (!path.isEmpty())
            openPlan(path);
    });
    button(tr("Save it"), "savePlan", [this] {
        const QString path = QFileDialog::getSaveFileName(this, tr("Save the plan"),
                                                          QStringLiteral("plan.json"), tr("Plans (*.json)"));
        if (!path.isEmpty())
            savePlan(path);
    });
    button(tr("As a test clip"), "planToClip", [this] {
        const QString name =
            session_->buildCharacter() ? QString::fromStdString(session_->buildCharacter()->name) : QString();
        const QString path = QFileDialog::getSaveFileName(this, tr("Write the plan as a test clip"),
                                                          name + QStringLiteral("-test.glb"),
                                                          tr("glTF with the character (*.glb);;BVH (*.bvh)"));
        if (!path.isEmpty())
            writeTestClip(path);
    });
    place();
    delete row;
    connect(session, &Session::planChanged, this, &VersionsPane::refresh);
    connect(session, &Session::logChanged, this, &VersionsPane::refresh); // another lead's version
    connect(session, &Session::characterChanged, this, &VersionsPane::refresh);
    refresh();
}

void VersionsPane::refresh() {
    since_->setText(!session_->ranPlan()
                        ? tr("The plan has not been run yet.")
                        : listed(session_->changesSinceRun(), tr("Nothing: the run shown is of this plan.")));
    const QVariant chosen =
        versions_->currentItem() ? versions_->currentItem()->data(Qt::UserRole) : QVariant();
    versions_->clear();
    for (const PlanVersion& v : session_->planVersions()) {
        auto* item = new QListWidgetItem(
            tr("Version %1, %2, %3%4%5")
                .arg(v.version)
                .arg(v.author,
                     QLocale(QLocale::English).toString(v.at.toLocalTime(), QStringLiteral("d MMM HH:mm")),
                     v.settled ? QString() : tr(", still being changed"),
                     v.note.isEmpty() ? QString() : QStringLiteral(": ") + v.note),
            versions_);
        item->setData(Qt::UserRole, v.id);
        if (item->data(Qt::UserRole) == chosen)
            versions_->setCurrentItem(item);
    }
    if (versions_->count() == 0)
        differs_->setText(
            session_->hasLog()
                ? tr("None yet: the standard plan is used. Every change of it is kept in the log.")
                : tr("There is no log open to keep versions in."));
    else if (!versions_->currentItem())
        differs_->setText(tr("Choose one to see how the plan differs from it."));
    refreshChanges();
}

void VersionsPane::refreshChanges() {
    const auto* item = versions_->currentItem();
    take_->setEnabled(item);
    if (!item || !session_->buildCharacter())
        return;
    for (const PlanVersion& v : session_->planVersions())
        if (v.id == item->data(Qt::UserRole).toLongLong()) {
            std::vector<std::string> left;
            const auto plan = planFromJson(v.plan.toStdString(), *session_->buildCharacter(), &left);
            differs_->setText(plan ? tr("Against it, the plan now:\n%1")
                                         .arg(listed(planChanges(*plan, session_->plan()), tr("is the same")))
                                   : QString::fromStdString(plan.error()));
        }
}

void VersionsPane::openPlan(const QString& path) {
    if (!session_->buildCharacter())
        return;
    std::vector<std::string> left;
    const auto plan = readPlan(path.toStdString(), *session_->buildCharacter(), &left);
    if (!plan)
        return void(emit session_->failed(QString::fromStdString(plan.error())));
    session_->changePlan(*plan, tr("open a plan"));
    if (!left.empty())
        emit session_->failed(tr("%1 motions of the plan are left out. %2")
                                  .arg(left.size())
                                  .arg(QString::fromStdString(left.front())));
}

void VersionsPane::savePlan(const QString& path) {
    if (!session_->buildCharacter())
        return;
    const auto written =
        writeFile(path.toStdString(), planToJson(session_->plan(), *session_->buildCharacter()));
    if (!written)
        return void(emit session_->failed(QString::fromStdString(written.error())));
    emit session_->told(tr("The plan is in %1.").arg(QFileInfo(path).fileName()));
}

void VersionsPane::writeTestClip(const QString& path) {
    const auto built = session_->buildCharacter();
    if (!built)
        return;
    session_->jobs().start(
        tr("Writing the test clip"),
        [this, built, plan = session_->plan(), path](JobControl&) -> std::function<void()> {
            Character out = *built;
            out.clips = {testClip(out, plan)};
            const std::size_t frames = out.clips[0].marks.size();
            const auto written = path.endsWith(QLatin1String(".bvh"), Qt::CaseInsensitive)
                                     ? writeBvh(out, out.clips[0], 24, path.toStdString())
                                     : writeGlb(out, path.toStdString());
            return [this, written, frames, path] {
                if (!written)
                    emit session_->failed(QString::fromStdString(written.error()));
                else
                    emit session_->told(tr("%1: %2 named frames, neutral between the motions.")
                                            .arg(QFileInfo(path).fileName())
                                            .arg(frames));
            };
        });
}

} // namespace hobble
