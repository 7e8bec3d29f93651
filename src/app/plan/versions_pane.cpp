#include "app/plan/versions_pane.h"

#include "app/theme.h"
#include "app/widgets/flow_layout.h"
#include "io/plan_json.h"
#include "log/date_words.h"

#include <QFileDialog>
#include <QFileInfo>
#include <QHBoxLayout>
#include <QLabel>
#include <QLineEdit>
#include <QListWidget>
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

VersionsPane::VersionsPane(BuildDesk* build, PlanDesk* plan, RunDesk* run, LogDesk* log, QWidget* parent)
    : QWidget(parent), build_(build), plan_(plan), run_(run), log_(log) {
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
            plan_->takeVersion(item->data(Qt::UserRole).toLongLong());
    });
    button(tr("The standard plan"), "standardPlan", [this] { plan_->takeStandardPlan(); });
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
        plan_->keepVersion(note_->text().isNull() ? QStringLiteral("") : note_->text());
        note_->clear();
    });
    place();
    heading(tr("In and out"));
    button(tr("Open a plan"), "openPlan", [this] {
        const QString path = QFileDialog::getOpenFileName(this, tr("Open a plan"), {}, tr("Plans (*.json)"));
        if (!path.isEmpty())
            plan_->openFile(path);
    });
    button(tr("Save it"), "savePlan", [this] {
        const QString path = QFileDialog::getSaveFileName(this, tr("Save the plan"),
                                                          QStringLiteral("plan.json"), tr("Plans (*.json)"));
        if (!path.isEmpty())
            plan_->saveFile(path);
    });
    button(tr("As a test clip"), "planToClip", [this] {
        const QString name = build_->build() ? QString::fromStdString(build_->build()->name) : QString();
        const QString path = QFileDialog::getSaveFileName(this, tr("Write the plan as a test clip"),
                                                          name + QStringLiteral("-test.glb"),
                                                          tr("glTF with the character (*.glb);;BVH (*.bvh)"));
        if (!path.isEmpty())
            plan_->saveTestClip(path);
    });
    place();
    delete row;
    connect(plan_, &PlanDesk::planChanged, this, &VersionsPane::refresh);
    connect(run_, &RunDesk::runChanged, this, &VersionsPane::refresh);
    connect(log_, &LogDesk::logChanged, this, &VersionsPane::refresh); // another lead's version
    connect(build_, &BuildDesk::characterChanged, this, &VersionsPane::refresh);
    refresh();
}

void VersionsPane::refresh() {
    since_->setText(!run_->ranPlan()
                        ? tr("The plan has not been run yet.")
                        : listed(run_->changesSinceRun(), tr("Nothing: the run shown is of this plan.")));
    const QVariant chosen =
        versions_->currentItem() ? versions_->currentItem()->data(Qt::UserRole) : QVariant();
    versions_->clear();
    for (const PlanVersion& v : plan_->versions()) {
        auto* item =
            new QListWidgetItem(tr("Version %1, %2, %3%4%5")
                                    .arg(v.version)
                                    .arg(v.author, dateWords(v.at, DateAs::Moment),
                                         v.settled ? QString() : tr(", still being changed"),
                                         v.note.isEmpty() ? QString() : QStringLiteral(": ") + v.note),
                                versions_);
        item->setData(Qt::UserRole, v.id);
        if (item->data(Qt::UserRole) == chosen)
            versions_->setCurrentItem(item);
    }
    if (versions_->count() == 0)
        differs_->setText(
            log_->there() ? tr("None yet: the standard plan is used. Every change of it is kept in the log.")
                          : tr("There is no log open to keep versions in."));
    else if (!versions_->currentItem())
        differs_->setText(tr("Choose one to see how the plan differs from it."));
    refreshChanges();
}

void VersionsPane::refreshChanges() {
    const auto* item = versions_->currentItem();
    take_->setEnabled(item);
    if (!item || !build_->build())
        return;
    for (const PlanVersion& v : plan_->versions())
        if (v.id == item->data(Qt::UserRole).toLongLong()) {
            std::vector<std::string> left;
            const auto plan = planFromJson(v.plan.toStdString(), *build_->build(), &left);
            differs_->setText(plan ? tr("Against it, the plan now:\n%1")
                                         .arg(listed(planChanges(*plan, plan_->plan()), tr("is the same")))
                                   : QString::fromStdString(plan.error()));
        }
}

} // namespace hobble
