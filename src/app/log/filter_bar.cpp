#include "app/log/filter_bar.h"

#include "app/theme.h"
#include "app/widgets/flow_layout.h"
#include "app/words.h"

#include <QCheckBox>
#include <QComboBox>
#include <QDialog>
#include <QDialogButtonBox>
#include <QHBoxLayout>
#include <QJsonDocument>
#include <QLineEdit>
#include <QMenu>
#include <QPushButton>
#include <QSettings>
#include <QSignalBlocker>
#include <QTimer>
#include <QVBoxLayout>

namespace hobble {

namespace {
enum { AnyOpen, EveryState, WaysOut, FirstState }; // data of the state list; then a state each
const QString kAnybody = QStringLiteral("*");
const QString kKept = QStringLiteral("logFilters");

QComboBox* list(const char* name, const QString& accessible) {
    auto* box = new QComboBox;
    box->setObjectName(QLatin1String(name));
    box->setAccessibleName(accessible);
    box->setSizeAdjustPolicy(QComboBox::AdjustToContents);
    return box;
}
} // namespace

FilterBar::FilterBar(LogDesk* log, LogModel* model, QWidget* parent)
    : QWidget(parent), log_(log), model_(model) {
    auto* all = new QVBoxLayout(this);
    all->setContentsMargins(0, 0, 0, 0);
    all->setSpacing(8);
    auto* head = new QHBoxLayout;
    search_ = new QLineEdit;
    search_->setObjectName(QStringLiteral("logSearch"));
    search_->setAccessibleName(tr("Find in the log"));
    search_->setPlaceholderText(tr("Find in the log: words, also of comments, a name, a number"));
    search_->setClearButtonEnabled(true);
    saved_ = new QPushButton(tr("Filters"));
    saved_->setObjectName(QStringLiteral("savedFilters"));
    saved_->setMenu(new QMenu(saved_));
    head->addWidget(search_, 1);
    head->addWidget(saved_);
    all->addLayout(head);

    auto* lists = new FlowLayout(8);
    lists->setContentsMargins(0, 0, 0, 0);
    states_ = list("filterState", tr("Show states"));
    states_->addItem(tr("all that is open"), AnyOpen);
    states_->addItem(tr("every state"), EveryState);
    states_->addItem(tr("all ways out"), WaysOut);
    for (DefectState s : kDefectStates)
        if (s != DefectState::Withdrawn)
            states_->addItem(inWords(nameOf(s)), FirstState + static_cast<int>(s));
    who_ = list("filterWho", tr("Show whose"));
    character_ = list("filterCharacter", tr("Show which character"));
    severity_ = list("filterSeverity", tr("Show how bad"));
    severity_->addItem(tr("however bad"), 0);
    for (int s = 2; s <= 4; ++s)
        severity_->addItem(tr("at least %1").arg(s), s);
    group_ = list("groupBy", tr("Group by"));
    for (const auto& [words, grouping] : {std::pair(tr("no groups"), DefectGrouping::None),
                                          {tr("by rigger"), DefectGrouping::Rigger},
                                          {tr("by limb"), DefectGrouping::Limb},
                                          {tr("by state"), DefectGrouping::State},
                                          {tr("by kind"), DefectGrouping::Kind},
                                          {tr("by build"), DefectGrouping::Build},
                                          {tr("by character"), DefectGrouping::Character}})
        group_->addItem(words, static_cast<int>(grouping));
    for (QComboBox* box : {states_, who_, character_, severity_, group_})
        lists->addWidget(box);
    all->addLayout(lists);

    typing_ = new QTimer(this); // a large log is arranged once the hand rests for a moment
    typing_->setSingleShot(true);
    connect(typing_, &QTimer::timeout, this, &FilterBar::apply);
    connect(search_, &QLineEdit::textChanged, this,
            [this] { typing_->start(log_->defects().size() > 2000 ? 120 : 0); });
    for (QComboBox* box : {states_, who_, character_, severity_})
        connect(box, &QComboBox::activated, this, &FilterBar::apply);
    connect(group_, &QComboBox::activated, this, [this] {
        model_->setGrouping(static_cast<DefectGrouping>(group_->currentData().toInt()));
        QSettings().setValue(QStringLiteral("logGrouping"), group_->currentData());
    });
    connect(saved_->menu(), &QMenu::aboutToShow, this, &FilterBar::fillSavedMenu);
    connect(log_, &LogDesk::logChanged, this, &FilterBar::fill);
    fill();
    const int kept = QSettings().value(QStringLiteral("logGrouping")).toInt();
    group_->setCurrentIndex(std::max(0, group_->findData(kept)));
    model_->setGrouping(static_cast<DefectGrouping>(group_->currentData().toInt()));
}

void FilterBar::focusSearch() {
    search_->setFocus();
    search_->selectAll();
}

// After every change of the log, which may hold fifty thousand defects: boxes are filled anew only where
// names came or went.
void FilterBar::fill() {
    QSet<QString> people, characters;
    for (const Person& p : log_->people())
        people.insert(p.name);
    QSet<qint64> builds;
    QString last; // neighbours mostly are the same person's
    for (const Defect& d : log_->defects()) {
        if (!builds.contains(d.build.id)) {
            builds.insert(d.build.id);
            characters.insert(d.build.character);
        }
        if (d.assignee != last) {
            last = d.assignee;
            if (!last.isEmpty()) // once given, they may never have been on the roster
                people.insert(last);
        }
    }
    const auto refill = [](QComboBox* box, QStringList& had, const QSet<QString>& names,
                           const QList<std::pair<QString, QVariant>>& first, const auto& words) {
        QStringList now(names.begin(), names.end());
        now.sort(Qt::CaseInsensitive);
        if (box->count() > 0 && now == had)
            return;
        had = now;
        const QVariant chosen = box->currentData();
        const QSignalBlocker quiet(box);
        box->clear();
        for (const auto& [text, value] : first)
            box->addItem(text, value);
        for (const QString& name : std::as_const(now))
            box->addItem(words(name), name);
        box->setCurrentIndex(std::max(0, box->findData(chosen.isValid() ? chosen : first.front().second)));
    };
    refill(who_, people_, people, {{tr("everybody's"), kAnybody}, {tr("nobody's yet"), QString()}},
           [](const QString& name) { return name; });
    refill(character_, characters_, characters, {{tr("every character"), QString()}},
           [](QString name) { return name.replace(QLatin1Char('-'), QLatin1Char(' ')); });
}

void FilterBar::apply() {
    typing_->stop();
    DefectFilter f;
    f.words = search_->text();
    const int state = states_->currentData().toInt();
    if (state == AnyOpen)
        f.states = openStates();
    else if (state == WaysOut)
        std::copy_if(kDefectStates.begin(), kDefectStates.end(), std::back_inserter(f.states), isWayOut);
    else if (state >= FirstState)
        f.states = {static_cast<DefectState>(state - FirstState)};
    if (const QString who = who_->currentData().toString(); who != kAnybody)
        f.who = who;
    f.character = character_->currentData().toString();
    f.leastSeverity = severity_->currentData().toInt();
    f.among = among_;
    model_->setFilter(f);
}

void FilterBar::take(const DefectFilter& f, DefectGrouping grouping) {
    const QSignalBlocker quiet(search_);
    search_->setText(f.words);
    int state = f.states == openStates() ? AnyOpen : EveryState;
    if (f.states.size() == 1)
        state = FirstState + static_cast<int>(f.states.front());
    else if (f.states.contains(DefectState::Intended) && !f.states.contains(DefectState::Logged))
        state = WaysOut;
    states_->setCurrentIndex(std::max(0, states_->findData(state)));
    who_->setCurrentIndex(std::max(0, who_->findData(f.who ? *f.who : kAnybody)));
    character_->setCurrentIndex(std::max(0, character_->findData(f.character)));
    severity_->setCurrentIndex(std::max(0, severity_->findData(f.leastSeverity)));
    group_->setCurrentIndex(std::max(0, group_->findData(static_cast<int>(grouping))));
    among_ = f.among;
    model_->setGrouping(grouping);
    apply();
}

void FilterBar::showOnly(const QString& person) {
    DefectFilter f;
    f.states = openStates();
    f.who = person;
    take(f, model_->grouping());
}

void FilterBar::showCharacter(const QString& character) {
    DefectFilter f;
    f.states = openStates();
    f.character = character;
    take(f, model_->grouping());
}

void FilterBar::showAmong(const QSet<qint64>& defects) {
    DefectFilter f;
    f.among = defects;
    take(f, model_->grouping());
}

void FilterBar::showAll() { take({}, model_->grouping()); }

QJsonObject FilterBar::asJson() const {
    QJsonObject o = model_->filter().toJson();
    o.insert(QStringLiteral("grouping"), static_cast<int>(model_->grouping()));
    return o;
}

void FilterBar::take(const QJsonObject& kept) {
    take(DefectFilter::fromJson(kept),
         static_cast<DefectGrouping>(kept.value(QStringLiteral("grouping")).toInt()));
}

void FilterBar::fillSavedMenu() {
    QMenu* menu = saved_->menu();
    menu->clear();
    const auto ready = [&](const QString& words, DefectFilter f) {
        menu->addAction(words, this, [this, f] { take(f, model_->grouping()); });
    };
    DefectFilter open;
    open.states = openStates();
    ready(tr("All that is open"), open);
    DefectFilter mine = open;
    mine.who = log_->author();
    ready(tr("Mine"), mine);
    menu->addAction(tr("Where I am mentioned"), this, [this] {
        log_->askMentions(log_->author().section(QLatin1Char(' '), 0, 0), [this](const QSet<qint64>& ids) {
            DefectFilter f;
            f.among = ids;
            take(f, model_->grouping());
        });
    });
    DefectFilter nobody = open;
    nobody.who = QString();
    ready(tr("Nobody has it yet"), nobody);
    DefectFilter check;
    check.states = {DefectState::ToBeChecked};
    ready(tr("To be checked"), check);
    const QVariantMap own = QSettings().value(kKept).toMap();
    const QVector<TeamFilter>& teams = log_->teamFilters();
    const auto kept = [&](const QString& name, const QByteArray& filter) {
        const QJsonObject o = QJsonDocument::fromJson(filter).object();
        return menu->addAction(name, this, [this, o] { take(o); });
    };
    const auto heading = [menu](const QString& words) { // the style's own sections are lines without words
        menu->addSeparator();
        menu->addAction(words)->setEnabled(false);
    };
    if (!teams.isEmpty()) {
        heading(tr("For everybody"));
        for (const TeamFilter& f : teams)
            kept(f.name, f.filter)->setToolTip(tr("kept by %1").arg(f.author));
    }
    if (!own.isEmpty()) {
        heading(tr("My own"));
        for (auto it = own.begin(); it != own.end(); ++it)
            kept(it.key(), it.value().toByteArray());
    }
    menu->setToolTipsVisible(true);
    menu->addSeparator();
    menu->addAction(tr("Keep this filter…"), this, &FilterBar::askForName);
    if (own.isEmpty() && teams.isEmpty())
        return;
    QMenu* drop = menu->addMenu(tr("Drop a filter"));
    for (const TeamFilter& f : teams)
        drop->addAction(tr("%1, for everybody").arg(f.name), this,
                        [this, name = f.name] { log_->keepTeamFilter(name, {}); })
            ->setEnabled(log_->state() == LogState::Ready);
    for (const QString& name : own.keys())
        drop->addAction(name, this, [name] {
            QVariantMap rest = QSettings().value(kKept).toMap();
            rest.remove(name);
            QSettings().setValue(kKept, rest);
        });
}

void FilterBar::askForName() {
    auto* ask = new QDialog(this);
    ask->setObjectName(QStringLiteral("keepFilter"));
    ask->setAttribute(Qt::WA_DeleteOnClose);
    ask->setWindowTitle(tr("Keep this filter"));
    auto* column = new QVBoxLayout(ask);
    auto* name = new QLineEdit;
    name->setObjectName(QStringLiteral("filterName"));
    name->setAccessibleName(tr("Its name"));
    name->setPlaceholderText(tr("Its name"));
    name->setMinimumWidth(280);
    auto* forAll = new QCheckBox(tr("for everybody who works with this log"));
    forAll->setObjectName(QStringLiteral("filterForAll"));
    const bool mayWrite = log_->state() == LogState::Ready;
    forAll->setChecked(mayWrite);
    forAll->setEnabled(mayWrite);
    if (!mayWrite)
        forAll->setToolTip(tr("the log takes no changes now"));
    auto* buttons = new QDialogButtonBox;
    QPushButton* keeps = buttons->addButton(tr("Keep"), QDialogButtonBox::AcceptRole);
    buttons->addButton(tr("Cancel"), QDialogButtonBox::RejectRole);
    keeps->setEnabled(false);
    column->addWidget(name);
    column->addWidget(forAll);
    column->addWidget(buttons);
    connect(name, &QLineEdit::textChanged, keeps,
            [keeps](const QString& text) { keeps->setEnabled(!text.simplified().isEmpty()); });
    connect(buttons, &QDialogButtonBox::accepted, ask, &QDialog::accept);
    connect(buttons, &QDialogButtonBox::rejected, ask, &QDialog::reject);
    connect(ask, &QDialog::accepted, this,
            [this, name, forAll] { keep(name->text().simplified(), forAll->isChecked()); });
    ask->open();
}

void FilterBar::keep(const QString& name, bool forAll) {
    const QByteArray filter = QJsonDocument(asJson()).toJson(QJsonDocument::Compact);
    if (forAll)
        return log_->keepTeamFilter(name, filter);
    QVariantMap own = QSettings().value(kKept).toMap();
    own.insert(name, filter);
    QSettings().setValue(kKept, own);
}

} // namespace hobble
