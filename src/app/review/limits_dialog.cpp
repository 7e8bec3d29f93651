#include "app/review/limits_dialog.h"

#include "app/theme.h"
#include "app/words.h"
#include "io/file_write.h"
#include "io/limits_json.h"

#include <QComboBox>
#include <QFileDialog>
#include <QHBoxLayout>
#include <QHeaderView>
#include <QLabel>
#include <QPushButton>
#include <QTableWidget>
#include <QVBoxLayout>

#include <algorithm>
#include <set>

namespace hobble {

namespace {

std::vector<FindingMark> marksOf(RunDesk& desk) {
    std::vector<FindingMark> out;
    if (desk.run())
        for (const Finding& f : desk.run()->findings)
            out.push_back(markOf(*desk.view().subject(), f));
    return out;
}

constexpr int kNowColumn = 5;

} // namespace

LimitsDialog::LimitsDialog(RunDesk* run, QWidget* parent)
    : QDialog(parent), run_(run), before_(marksOf(*run)) {
    setWindowTitle(tr("Limits"));
    setObjectName(QStringLiteral("limits"));
    resize(720, 700);
    auto* all = new QVBoxLayout(this);
    auto* head = new QHBoxLayout;
    head->addWidget(new QLabel(tr("What is too much for")));
    role_ = new QComboBox;
    role_->setObjectName(QStringLiteral("limitsRole"));
    role_->setAccessibleName(tr("What is too much for"));
    role_->addItem(tr("all joints"), -1);
    std::set<int> roles; // of the character, and those the limits tell apart
    for (const auto& [key, steps] : run->limits().byRole)
        roles.insert(static_cast<int>(key.first));
    if (run->view().subject())
        for (const JointRole& r : run->view().subject()->roles)
            if (r.movesSkin && r.role != Role::Unknown)
                roles.insert(static_cast<int>(r.role));
    for (int r : roles)
        role_->addItem(inWords(nameOf(static_cast<Role>(r))), r);
    head->addWidget(role_);
    head->addStretch();
    all->addLayout(head);
    table_ = new QTableWidget(static_cast<int>(kKinds.size()), 6);
    table_->setObjectName(QStringLiteral("limitsTable"));
    table_->setHorizontalHeaderLabels(
        {tr("Finding"), tr("1 minor"), tr("2 notable"), tr("3 serious"), tr("4 blocking"), tr("Now")});
    table_->verticalHeader()->hide();
    table_->horizontalHeader()->setSectionResizeMode(QHeaderView::Stretch);
    table_->setTabKeyNavigation(false);
    all->addWidget(table_, 1);
    message_ = new QLabel;
    message_->setObjectName(QStringLiteral("limitsMessage"));
    message_->setWordWrap(true);
    all->addWidget(message_);
    auto* foot = new QHBoxLayout;
    const auto button = [&](const QString& text, const char* name, auto does) {
        auto* b = new QPushButton(text);
        b->setObjectName(QLatin1String(name));
        b->setAutoDefault(false);
        connect(b, &QPushButton::clicked, this, does);
        foot->addWidget(b);
        return b;
    };
    button(tr("Standard again"), "limitsStandard", [this] { run_->setLimits(Limits::standard()); });
    button(tr("Open…"), "limitsOpen", [this] { open(); });
    button(tr("Save as…"), "limitsSave", [this] { save(); });
    foot->addStretch();
    button(tr("Done"), "limitsDone", [this] { accept(); })->setProperty("strong", true);
    all->addLayout(foot);
    connect(role_, &QComboBox::currentIndexChanged, this, [this] { refresh(); });
    connect(table_, &QTableWidget::itemChanged, this, [this](QTableWidgetItem* item) { edited(item); });
    connect(run_, &RunDesk::limitsChanged, this, [this] { refresh(); });
    connect(run_, &RunDesk::runChanged, this, [this] {
        refresh();
        tell();
    });
    refresh();
    tell();
}

std::optional<Role> LimitsDialog::role() const {
    const int r = role_->currentData().toInt();
    return r < 0 ? std::nullopt : std::optional(static_cast<Role>(r));
}

void LimitsDialog::refresh() {
    const QSignalBlocker quiet(table_);
    const Limits& limits = run_->limits();
    for (int row = 0; row < table_->rowCount(); ++row) {
        const Kind kind = kKinds[static_cast<std::size_t>(row)];
        auto* name = new QTableWidgetItem(inWords(nameOf(kind)));
        name->setFlags(Qt::ItemIsEnabled);
        name->setToolTip(tr("%1 %2 these is a finding; unchanged is %L3")
                             .arg(inWords(measureOf(kind)), faultIsAbove(kind) ? tr("above") : tr("below"))
                             .arg(unchangedOf(kind)));
        table_->setItem(row, 0, name);
        const bool own = role() && limits.byRole.count({*role(), kind});
        const LimitSteps& steps = role() ? limits.of(kind, *role()) : limits.general.at(kind);
        for (int k = 0; k < 4; ++k) {
            auto* item = new QTableWidgetItem(QLocale().toString(steps[static_cast<std::size_t>(k)], 'g', 6));
            item->setTextAlignment(Qt::AlignCenter);
            if (role() && !own) // as for all joints
                item->setForeground(Theme::current().muted);
            table_->setItem(row, k + 1, item);
        }
        int now = 0;
        if (run_->run())
            for (const Finding& f : run_->run()->findings)
                now += f.kind == kind && (!role() || f.role == *role());
        auto* count = new QTableWidgetItem(now ? QString::number(now) : QString());
        count->setFlags(Qt::ItemIsEnabled);
        count->setTextAlignment(Qt::AlignCenter);
        table_->setItem(row, kNowColumn, count);
    }
}

void LimitsDialog::edited(QTableWidgetItem* item) {
    const int step = item->column() - 1;
    if (step < 0 || step > 3)
        return;
    const Kind kind = kKinds[static_cast<std::size_t>(item->row())];
    Limits limits = run_->limits();
    LimitSteps steps = role() ? limits.of(kind, *role()) : limits.general.at(kind);
    bool number = false;
    steps[static_cast<std::size_t>(step)] =
        item->text().trimmed().replace(QLatin1Char(','), QLatin1Char('.')).toDouble(&number);
    const std::string wrong = number ? whyNotLimits(kind, steps) : "that is not a number";
    if (!wrong.empty()) {
        complain(tr("%1: %2.").arg(inWords(nameOf(kind)), QString::fromStdString(wrong)));
        // after the editor has closed
        QMetaObject::invokeMethod(
            this, [this] { refresh(); }, Qt::QueuedConnection);
        return;
    }
    if (role())
        limits.byRole[{*role(), kind}] = steps;
    else
        limits.general[kind] = steps;
    QMetaObject::invokeMethod(
        this, [this, limits] { run_->setLimits(limits); }, Qt::QueuedConnection);
}

void LimitsDialog::tell() {
    const auto now = marksOf(*run_);
    const auto match = matchFindings(now, before_);
    const auto fresh = std::count(match.begin(), match.end(), -1);
    const auto gone =
        static_cast<std::ptrdiff_t>(before_.size()) - (static_cast<std::ptrdiff_t>(now.size()) - fresh);
    message_->setStyleSheet({});
    if (!run_->run())
        message_->setText(tr("Nothing has been run yet."));
    else if (!fresh && !gone)
        message_->setText(tr("%n findings, as before.", nullptr, int(now.size())));
    else
        message_->setText(
            tr("%n findings: %1 gone and %2 new since this was opened.", nullptr, int(now.size()))
                .arg(gone)
                .arg(fresh));
}

void LimitsDialog::complain(const QString& message) {
    message_->setStyleSheet(QStringLiteral("color: %1").arg(Theme::current().blocking.name()));
    message_->setText(message);
}

void LimitsDialog::open() {
    const QString path = QFileDialog::getOpenFileName(this, tr("Open limits"), {}, tr("Limits (*.json)"));
    if (path.isEmpty())
        return;
    if (auto read = readLimits(path.toStdString()))
        run_->setLimits(*read);
    else
        complain(QString::fromStdString(read.error()));
}

void LimitsDialog::save() {
    const QString path = QFileDialog::getSaveFileName(this, tr("Save limits"), QStringLiteral("limits.json"),
                                                      tr("Limits (*.json)"));
    if (path.isEmpty())
        return;
    if (auto written = writeFile(path.toStdString(), limitsToJson(run_->limits())); !written)
        complain(QString::fromStdString(written.error()));
}

} // namespace hobble
