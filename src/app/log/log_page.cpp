#include "app/log/log_page.h"

#include "app/checked/checked_line.h"
#include "app/log/defect_delegates.h"
#include "app/log/kept_bar.h"
#include "app/log/roster_dialog.h"
#include "app/log/send_dialog.h"
#include "app/log/show_view.h"
#include "app/log/trend_view.h"
#include "app/log/workload_view.h"
#include "app/theme.h"
#include "app/widgets/flow_layout.h"
#include "app/widgets/parts.h"
#include "app/widgets/severity_chip.h"

#include <QFileDialog>
#include <QHBoxLayout>
#include <QHeaderView>
#include <QInputDialog>
#include <QJsonObject>
#include <QLabel>
#include <QPainter>
#include <QPushButton>
#include <QSplitter>
#include <QStackedWidget>
#include <QStyledItemDelegate>
#include <QTreeView>
#include <QVBoxLayout>

namespace hobble {

LogPage::LogPage(BuildDesk* build, RunDesk* run, LogDesk* log, CompareDesk* compare, QWidget* parent)
    : Page(parent), build_(build), run_(run), log_(log), compare_(compare) {
    setAccessibleName(tr("Log"));
    model_ = new LogModel(log, this);
    panel_ = new DefectPanel(run, log, compare);
    panel_->setMinimumWidth(330);
    auto* all = new QHBoxLayout(this);
    all->setContentsMargins(0, 0, 0, 0);
    all->addWidget(columns({buildList(), panel_}, 0, {816, 464}));

    triage_ = new Triage(log, verbs_);
    connect(model_, &QAbstractItemModel::modelAboutToBeReset, this, [this] { settling_ = true; });
    connect(model_, &LogModel::arranged, this, &LogPage::keepSelection);
    connect(table_->selectionModel(), &QItemSelectionModel::selectionChanged, this, [this] {
        if (!settling_)
            refresh();
    });
    connect(table_->selectionModel(), &QItemSelectionModel::currentChanged, this, [this] {
        if (!settling_)
            refresh();
    });
    connect(triage_, &Triage::failed, this, &Page::failed);
    connect(panel_, &DefectPanel::mendWanted, this, &Page::mendDefectWanted);
    connect(panel_, &DefectPanel::compareWanted, this, &Page::compareWanted);
    connect(panel_, &DefectPanel::showInReview, this, &LogPage::showInReview);
    connect(panel_, &DefectPanel::rosterWanted, this, &LogPage::editRoster);
    connect(panel_, &DefectPanel::assignWanted, triage_, &Triage::assign);
    connect(panel_, &DefectPanel::stateWanted, triage_, &Triage::askState);
    connect(panel_, &DefectPanel::dueWanted, triage_, &Triage::askDue);
    connect(panel_, &DefectPanel::defectWanted, this, &LogPage::choose);
    connect(table_, &QTreeView::doubleClicked, this, [this](const QModelIndex& at) {
        if (!model_->isGroup(at))
            emit showInReview(chosen());
    });
    connect(workload_, &WorkloadView::personChosen, this, [this](const QString& name) {
        showWorkload(false);
        filters_->showOnly(name);
        table_->setFocus();
    });
    connect(trend_, &TrendView::defectsWanted, this, [this](const QSet<qint64>& ids) {
        showTrend(false);
        filters_->showAmong(ids);
        table_->setFocus();
    });
    connect(trend_, &TrendView::failed, this, &Page::failed);
    connect(show_, &ShowView::characterChosen, this, [this](const QString& character) {
        showWholeShow(false);
        filters_->showCharacter(character);
    });
    connect(log_, &LogDesk::logChanged, this, &LogPage::refresh);
    keepSelection();
}

QWidget* LogPage::buildList() {
    auto* left = new QWidget;
    auto* side = new QVBoxLayout(left);
    side->setContentsMargins(12, 8, 8, 0);
    side->addWidget(new KeptBar(log_));
    auto* checked = new CheckedLine(compare_);
    connect(checked, &CheckedLine::wanted, this, [this] { emit compareWanted(0, 0); });
    side->addWidget(checked);
    filters_ = new FilterBar(log_, model_);
    side->addWidget(filters_);
    table_ = new QTreeView;
    table_->setObjectName(QStringLiteral("logTable"));
    table_->setAccessibleName(tr("Defects"));
    table_->setModel(model_);
    table_->setUniformRowHeights(true);
    table_->setSortingEnabled(true);
    table_->sortByColumn(LogModel::Severity, Qt::DescendingOrder);
    table_->setSelectionBehavior(QAbstractItemView::SelectRows);
    table_->setSelectionMode(QAbstractItemView::ExtendedSelection);
    table_->setEditTriggers(QAbstractItemView::NoEditTriggers);
    table_->setIndentation(16);
    table_->setTextElideMode(Qt::ElideRight);
    table_->setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
    table_->setItemDelegate(new DefectRowDelegate(table_));
    table_->setItemDelegateForColumn(LogModel::Severity, new SeverityDelegate(table_));
    QHeaderView* header = table_->header();
    header->setHighlightSections(false);
    header->setStretchLastSection(false);
    header->setDefaultAlignment(Qt::AlignLeft | Qt::AlignVCenter);
    header->setMinimumSectionSize(36);
    header->setSectionResizeMode(QHeaderView::Interactive);
    header->setSectionResizeMode(LogModel::What, QHeaderView::Stretch);
    for (const auto& [column, width] : {std::pair(LogModel::Number, 58),
                                        {LogModel::Severity, 86},
                                        {LogModel::Use, 88},
                                        {LogModel::Who, 126},
                                        {LogModel::State, 136}})
        table_->setColumnWidth(column, width);
    const auto tellUse = [this] { // while nobody has counted, it would be an empty column
        const auto& all = log_->defects();
        table_->setColumnHidden(LogModel::Use,
                                std::none_of(all.begin(), all.end(), [](const Defect& d) { return d.use; }));
    };
    connect(log_, &LogDesk::logChanged, table_, tellUse);
    tellUse();

    workload_ = new WorkloadView(log_);
    left_ = new QStackedWidget;
    left_->addWidget(table_);
    left_->addWidget(workload_);
    left_->addWidget(trend_ = new TrendView(log_));
    left_->addWidget(show_ = new ShowView(log_));
    side->addWidget(left_, 1);
    emptyHint_ = new QLabel;
    emptyHint_->setObjectName(QStringLiteral("logHint"));
    emptyHint_->setProperty("quiet", true);
    emptyHint_->setWordWrap(true);
    side->addWidget(emptyHint_);
    side->addWidget(buildVerbs());
    return left;
}

QWidget* LogPage::buildVerbs() {
    verbs_ = new QWidget;
    auto* flow = new FlowLayout(6);
    flow->setContentsMargins(0, 0, 0, 4);
    verbs_->setLayout(flow);
    count_ = new QLabel;
    count_->setObjectName(QStringLiteral("logCount"));
    count_->setProperty("quiet", true);
    flow->addWidget(count_);
    const auto verb = [&](const char* name, const QString& words, const QString& tip, auto does) {
        auto* b = wordButton(flow, words, QLatin1String(name), tip);
        b->setProperty("verb", true);
        connect(b, &QPushButton::clicked, this, does);
        return b;
    };
    verb("verbAssign", tr("Give"), tr("To whom?"), [this] { triage_->assign(); });
    verb("verbState", tr("State"), tr("Move it on"), [this] { triage_->askState(); });
    verb("verbDue", tr("Due"), tr("By which build?"), [this] { triage_->askDue(); });
    verb("verbOut", tr("No fault"), tr("Intended, not its fault, or accepted; with a reason"),
         [this] { triage_->askWayOut(); });
    verb("verbMerge", tr("Merge"), tr("The same as another"), [this] { triage_->merge(); });
    verb("verbSplit", tr("Split"), tr("Take something out of it"), [this] { triage_->split(); });
    verb("verbSend", tr("Send out…"), tr("Packets, pages, tables"), [this] { send(); });
    workloadButton_ = verb("workloadButton", tr("Workload"), tr("Who has how much"),
                           [this] { showWorkload(workloadButton_->isChecked()); });
    workloadButton_->setCheckable(true);
    trendButton_ = verb("trendButton", tr("Trend"), tr("How it goes over weeks and builds"),
                        [this] { showTrend(trendButton_->isChecked()); });
    trendButton_->setCheckable(true);
    showButton_ = verb("showButton", tr("The show"), tr("Every character, with its build and what is open"),
                       [this] { showWholeShow(showButton_->isChecked()); });
    showButton_->setCheckable(true);
    verb("editRoster", tr("Roster…"), tr("Who defects can be given to"), [this] { editRoster(); });
    return verbs_;
}

QString LogPage::count() const {
    const int open = log_->openDefects();
    return open ? tr("%1 open").arg(open) : QString();
}

QWidget* LogPage::firstFocus() { return table_; }

QString LogPage::asksWhy() const {
    const Defect* defect = log_->find(chosen());
    if (!defect)
        return {};
    const bool seen = std::any_of(kKinds.begin(), kKinds.end(), [&](Kind kind) {
        return defect->facts.kind == QLatin1String(factsOf(kind).word);
    });
    return seen ? defect->facts.kind : QStringLiteral("check ") + defect->facts.kind; // of Intake's
}

void LogPage::addActions(ActionBook& book) {
    addAction(book, "defect-on", tr("Next defect"), Qt::Key_Period, [this] { step(1); });
    addAction(book, "defect-back", tr("Previous defect"), Qt::Key_Comma, [this] { step(-1); });
    addAction(book, "assign", tr("Give the chosen defects to somebody"), Qt::Key_A,
              [this] { triage_->assign(); });
    for (int s = 1; s <= 4; ++s) {
        const QByteArray id = "severity-" + QByteArray::number(s);
        addAction(book, id.constData(), tr("Set severity %1").arg(s), QKeySequence(Qt::Key_0 + s),
                  [this, s] { triage_->setSeverity(s); });
    }
    addAction(book, "defect-state", tr("Move the chosen defects on"), Qt::Key_S,
              [this] { triage_->askState(); });
    addAction(book, "defect-out", tr("Say why it is no fault to fix"), Qt::Key_N,
              [this] { triage_->askWayOut(); });
    addAction(book, "defect-due", tr("Say by which build it is due"), Qt::Key_D,
              [this] { triage_->askDue(); });
    addAction(book, "defect-merge", tr("Merge defects that are the same"), Qt::Key_G,
              [this] { triage_->merge(); });
    addAction(book, "defect-split", tr("Take something out of a defect"), Qt::Key_P,
              [this] { triage_->split(); });
    addAction(book, "defect-comment", tr("Comment on the defect"), Qt::Key_C,
              [this] { panel_->focusComment(); });
    addAction(book, "defect-comment-all", tr("Comment on all chosen defects"), Qt::SHIFT | Qt::Key_C,
              [this] { triage_->askComment(); });
    addAction(book, "defect-find", tr("Find in the log"), Qt::Key_Slash, [this] { filters_->focusSearch(); });
    addAction(book, "workload", tr("Show who has how much"), Qt::Key_W, [this] { showWorkload(true); });
    addFromAnywhere(book, "whole-show", tr("Show how the whole show stands"),
                    [this] { showWholeShow(true); });
    addFromAnywhere(book, "trend", tr("Show how it goes over weeks and builds"), [this] { showTrend(true); });
    addAction(book, "defect-list", tr("Show the defects"), Qt::Key_L, [this] { showWorkload(false); });
    addFromAnywhere(book, "send", tr("Send out packets, pages or tables"), [this] { send(); });
    addFromAnywhere(book, "roster", tr("Edit the roster"), [this] { editRoster(); });
    addFromAnywhere(book, "log-open", tr("Open another log"), [this] { openAnother(); });
    addFromAnywhere(book, "log-backup", tr("Back up the log"), [this] { backUp(); });
    addFromAnywhere(book, "log-restore", tr("Restore the log from a backup"), [this] { restore(); });
    addFromAnywhere(book, "log-take-in", tr("Take a table or a log into this one"), [this] { takeIn(); });
    addAction(book, "show-defect", tr("Show the defect in Review"), Qt::Key_R,
              [this] { emit showInReview(chosen()); });
}

QString LogPage::keyLine(const ActionBook& book) const {
    return book.line({{{"defect-back", "defect-on"}, tr("defect")},
                      {{"assign"}, tr("give")},
                      {{"defect-state"}, tr("state")},
                      {{"severity-1", "severity-4"}, tr("severity")},
                      {{"show-defect"}, tr("show in Review")},
                      {{"undo"}, tr("undo")},
                      {{"keys"}, tr("all keys")}});
}

QVector<qint64> LogPage::chosenAll() const {
    QVector<qint64> out;
    for (const QModelIndex& row : table_->selectionModel()->selectedRows()) {
        if (!model_->isGroup(row)) {
            out << row.data(LogModel::IdRole).toLongLong();
            continue;
        }
        for (int r = 0; r < model_->rowCount(row); ++r) // a group is all that is in it
            out << model_->index(r, 0, row).data(LogModel::IdRole).toLongLong();
    }
    std::sort(out.begin(), out.end());
    out.erase(std::unique(out.begin(), out.end()), out.end());
    return out;
}

void LogPage::refresh() {
    emit countChanged();
    selected_ = chosenAll();
    const QModelIndex at = table_->currentIndex();
    if (at.isValid() && !model_->isGroup(at))
        current_ = at.data(LogModel::IdRole).toLongLong();
    else if (!selected_.isEmpty() && !selected_.contains(current_))
        current_ = selected_.front();
    triage_->setChosen(selected_, current_);
    panel_->show(current_);
    const int shown = model_->shown();
    const auto all = log_->defects().size();
    count_->setText(selected_.size() > 1 ? tr("%1 chosen of %2").arg(selected_.size()).arg(shown)
                                         : tr("%1 shown of %2").arg(shown).arg(all));
    const QString wire = log_->wireWords();
    count_->setToolTip(wire.isEmpty() ? log_->place() : tr("%1, %2").arg(log_->place(), wire));
    const bool writable = log_->takesChanges() && !selected_.isEmpty();
    for (auto* b : verbs_->findChildren<QPushButton*>())
        if (b->objectName().startsWith(QLatin1String("verb")))
            b->setEnabled(b->objectName() == QLatin1String("verbSend") ? all > 0 : writable);
    emptyHint_->setText(
        all == 0 ? tr("Nothing is logged yet. On the Review page, press “Log defect” on a fault, or L.")
                 : tr("Nothing fits what is asked for above. “Filters” has all that is open."));
    emptyHint_->setVisible(shown == 0 && left_->currentIndex() == 0);
}

// The rows are others: what was looked at and chosen is found again among them, and groups stay open.
void LogPage::keepSelection() {
    settling_ = true;
    const int groups = model_->grouping() == DefectGrouping::None ? 0 : model_->rowCount();
    for (int g = 0; g < groups; ++g)
        table_->setFirstColumnSpanned(g, {}, true);
    table_->setRootIsDecorated(groups > 0);
    if (groups)
        table_->expandAll();
    QItemSelection selection;
    for (qint64 id : std::as_const(selected_).mid(0, 500))
        if (const QModelIndex at = model_->indexOf(id); at.isValid())
            selection.select(at, at.siblingAtColumn(LogModel::ColumnCount - 1));
    QModelIndex at = model_->indexOf(current_);
    if (!at.isValid() && model_->shown()) // it went elsewhere: the first of what is there
        at = groups ? model_->index(0, 0, model_->index(0, 0)) : model_->index(0, 0);
    table_->selectionModel()->setCurrentIndex(at, QItemSelectionModel::NoUpdate);
    if (selection.isEmpty() && at.isValid())
        selection.select(at, at.siblingAtColumn(LogModel::ColumnCount - 1));
    table_->selectionModel()->select(selection, QItemSelectionModel::ClearAndSelect);
    if (at.isValid())
        table_->scrollTo(at);
    settling_ = false;
    if (!at.isValid())
        current_ = 0;
    refresh();
}

void LogPage::choose(qint64 id) {
    showWorkload(false);
    if (!model_->indexOf(id).isValid())
        filters_->showAll();
    const QModelIndex at = model_->indexOf(id);
    if (!at.isValid())
        return;
    table_->selectionModel()->setCurrentIndex(at, QItemSelectionModel::ClearAndSelect |
                                                      QItemSelectionModel::Rows);
    table_->scrollTo(at);
}

void LogPage::step(int by) {
    if (const qint64 next = model_->beside(current_, by))
        choose(next);
}

void LogPage::showLeft(Left left) {
    workloadButton_->setChecked(left == Workload);
    trendButton_->setChecked(left == Trend);
    showButton_->setChecked(left == WholeShow);
    left_->setCurrentIndex(left);
    filters_->setEnabled(left == Defects);
    refresh();
}

void LogPage::showTrend(bool on) { showLeft(on ? Trend : Defects); }
void LogPage::showWorkload(bool on) { showLeft(on ? Workload : Defects); }
void LogPage::showWholeShow(bool on) { showLeft(on ? WholeShow : Defects); }

void LogPage::restyle() { trend_->restyle(); }

void LogPage::editRoster() {
    auto* dialog = new RosterDialog(log_, this);
    dialog->setAttribute(Qt::WA_DeleteOnClose);
    dialog->open();
}

void LogPage::send() {
    QVector<qint64> ids = selected_;
    if (ids.size() < 2) { // nothing in particular is chosen: all that is shown
        ids.clear();
        for (const DefectGroup& g :
             log_->list().arranged(model_->filter(), DefectGrouping::None, DefectOrder::Severity, true))
            for (int row : g.rows)
                ids << log_->defects()[row].id;
    }
    auto* dialog = new SendDialog(build_, run_, log_, ids, this);
    dialog->setAttribute(Qt::WA_DeleteOnClose);
    dialog->open();
}

void LogPage::openAnother() {
    auto* ask = new QInputDialog(this);
    ask->setObjectName(QStringLiteral("logPlace"));
    ask->setAttribute(Qt::WA_DeleteOnClose);
    ask->setWindowTitle(tr("Open another log"));
    ask->setLabelText(
        tr("A file, or postgresql://person@server/database. A password is asked for where the server wants\n"
           "one, and can be kept in the desktop's keyring; never here."));
    ask->setTextValue(log_->place());
    ask->resize(520, 120);
    connect(ask, &QInputDialog::textValueSelected, this, [this](const QString& place) {
        if (!place.trimmed().isEmpty())
            log_->open(place.trimmed());
    });
    ask->open();
}

void LogPage::backUp() {
    const QString path =
        QFileDialog::getSaveFileName(this, tr("Back up the whole log"), {}, tr("Hobble log (*.sqlite)"));
    if (!path.isEmpty())
        log_->backUp(path);
}

void LogPage::restore() {
    const QString path =
        QFileDialog::getOpenFileName(this, tr("Restore the log from a backup"), {}, tr("Hobble log (*)"));
    if (!path.isEmpty())
        log_->restore(path);
}

void LogPage::takeIn() {
    const QString path =
        QFileDialog::getOpenFileName(this, tr("Take into the log"), {}, tr("Table or log (*.csv *.json)"));
    if (!path.isEmpty())
        log_->takeIn(path);
}

namespace {
const QString kFilter = QStringLiteral("filter"), kShown = QStringLiteral("shown"),
              kDefect = QStringLiteral("defect");
}

QJsonObject LogPage::layoutToKeep() const {
    QJsonObject o = Page::layoutToKeep();
    o.insert(kFilter, filters_->asJson());
    return o;
}

void LogPage::layOutAs(const QJsonObject& kept) {
    Page::layOutAs(kept);
    if (kept.contains(kFilter))
        filters_->take(kept.value(kFilter).toObject());
}

QJsonObject LogPage::placeToKeep() const {
    return {{kShown, left_->currentIndex()}, {kDefect, panel_->defect()}};
}

void LogPage::goBackTo(const QJsonObject& place) {
    if (const int left = place.value(kShown).toInt(); left > Defects && left <= WholeShow)
        showLeft(static_cast<Left>(left));
    if (const qint64 defect = place.value(kDefect).toInteger(); model_->indexOf(defect).isValid())
        choose(defect);
}

} // namespace hobble
