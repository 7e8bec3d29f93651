#include "app/log/defect_panel.h"

#include "app/theme.h"
#include "app/widgets/severity_chip.h"

#include <QComboBox>
#include <QFormLayout>
#include <QHBoxLayout>
#include <QLabel>
#include <QLineEdit>
#include <QPushButton>
#include <QScrollArea>
#include <QSignalBlocker>
#include <QVBoxLayout>

namespace hobble {

DefectPanel::DefectPanel(Session* session, QWidget* parent) : QWidget(parent), session_(session) {
    auto* outer = new QVBoxLayout(this);
    outer->setContentsMargins(16, 8, 12, 8);
    auto* none = new QLabel(tr("Choose a defect to see its story."));
    none->setProperty("quiet", true);
    empty_ = none;
    outer->addWidget(none);
    auto* scroll = new QScrollArea;
    scroll->setWidgetResizable(true);
    scroll->setFrameShape(QFrame::NoFrame);
    scroll->setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
    body_ = scroll;
    outer->addWidget(scroll, 1);
    auto* inside = new QWidget;
    scroll->setWidget(inside);
    auto* all = new QVBoxLayout(inside);
    all->setContentsMargins(0, 0, 4, 0);
    all->setSpacing(8);

    title_ = new QLabel;
    title_->setObjectName(QStringLiteral("defectTitle"));
    title_->setWordWrap(true);
    setType(title_, 1.1, true);
    all->addWidget(title_);
    picture_ = new QLabel;
    picture_->setAlignment(Qt::AlignCenter);
    picture_->setMinimumHeight(60);
    picture_->setAccessibleName(tr("Picture of the defect when it was logged"));
    all->addWidget(picture_);
    facts_ = new QLabel;
    facts_->setWordWrap(true);
    facts_->setProperty("quiet", true);
    all->addWidget(facts_);
    cause_ = new QLabel;
    cause_->setWordWrap(true);
    all->addWidget(cause_);
    back_ = new QPushButton(tr("Show in Review"));
    back_->setProperty("strong", true);
    back_->setObjectName(QStringLiteral("showInReview"));
    all->addWidget(back_, 0, Qt::AlignLeft);

    auto* form = new QFormLayout;
    form->setHorizontalSpacing(16);
    form->setVerticalSpacing(8);
    auto* who = new QHBoxLayout;
    assignee_ = new QComboBox;
    assignee_->setObjectName(QStringLiteral("assignee"));
    assignee_->setAccessibleName(tr("Assigned to"));
    auto* roster = new QPushButton(tr("Edit roster…"));
    roster->setObjectName(QStringLiteral("editRoster"));
    who->addWidget(assignee_, 1);
    who->addWidget(roster);
    severity_ = new QComboBox;
    severity_->setObjectName(QStringLiteral("severity"));
    for (int s = 1; s <= 4; ++s)
        severity_->addItem(tr("%1  %2").arg(s).arg(severityWord(s)), s);
    status_ = new QComboBox;
    status_->setObjectName(QStringLiteral("status"));
    for (const QString& s : defectStatuses())
        status_->addItem(s);
    due_ = new QLineEdit;
    due_->setObjectName(QStringLiteral("due"));
    due_->setPlaceholderText(tr("for example build 4"));
    form->addRow(tr("Assigned to"), who);
    form->addRow(tr("Severity"), severity_);
    form->addRow(tr("State"), status_);
    form->addRow(tr("Due"), due_);
    all->addLayout(form);

    comment_ = new QLineEdit;
    comment_->setObjectName(QStringLiteral("comment"));
    comment_->setPlaceholderText(tr("Write a comment and press Enter"));
    comment_->setAccessibleName(tr("New comment"));
    all->addWidget(comment_);
    auto* story = new QLabel(tr("History"));
    story->setProperty("heading", true);
    all->addWidget(story);
    history_ = new QVBoxLayout;
    history_->setSpacing(3);
    all->addLayout(history_);
    all->addStretch();

    connect(back_, &QPushButton::clicked, this, [this] { emit showInReview(id_); });
    connect(roster, &QPushButton::clicked, this, &DefectPanel::rosterWanted);
    connect(assignee_, &QComboBox::activated, this, [this] {
        session_->changeDefect(id_, QStringLiteral("assignee"), assignee_->currentData().toString());
    });
    connect(severity_, &QComboBox::activated, this, [this] {
        session_->changeDefect(id_, QStringLiteral("severity"), severity_->currentData().toString());
    });
    connect(status_, &QComboBox::activated, this,
            [this] { session_->changeDefect(id_, QStringLiteral("status"), status_->currentText()); });
    connect(due_, &QLineEdit::editingFinished, this,
            [this] { session_->changeDefect(id_, QStringLiteral("due"), due_->text().trimmed()); });
    connect(comment_, &QLineEdit::returnPressed, this, [this] {
        const QString text = comment_->text();
        comment_->clear();
        session_->comment(id_, text);
    });
    connect(session, &Session::logChanged, this, &DefectPanel::refresh);
    refresh();
}

void DefectPanel::show(qint64 id) {
    id_ = id;
    comment_->clear();
    refresh();
}

void DefectPanel::focusComment() { comment_->setFocus(); }

void DefectPanel::openAssignees() {
    assignee_->setFocus();
    assignee_->showPopup();
}

void DefectPanel::fillAssignees(const QString& current) {
    const QSignalBlocker quiet(assignee_);
    assignee_->clear();
    assignee_->addItem(tr("nobody yet"), QString());
    for (const Person& p : session_->people())
        if (p.active || p.name == current)
            assignee_->addItem(p.active ? p.name : tr("%1 (no longer on the roster)").arg(p.name), p.name);
    if (!current.isEmpty() && assignee_->findData(current) < 0)
        assignee_->addItem(current, current);
    assignee_->setCurrentIndex(std::max(0, assignee_->findData(current)));
}

void DefectPanel::refresh() {
    const QVector<Defect> all = session_->defects();
    const auto it = std::find_if(all.begin(), all.end(), [this](const Defect& x) { return x.id == id_; });
    const bool any = it != all.end() && session_->log();
    body_->setVisible(any);
    empty_->setVisible(!any);
    if (!any) {
        pictureOf_ = 0;
        return;
    }
    const Defect& d = *it;
    title_->setText(tr("%1. %2").arg(d.id).arg(d.facts.what));
    const QString logged = d.loggedAt.toLocalTime().toString(QStringLiteral("d MMM yyyy, HH:mm"));
    if (d.facts.motionName.isEmpty()) { // found by Intake, before any pose
        QStringList words{tr("%1, build %2").arg(d.build.character).arg(d.build.number),
                          tr("Intake: %1").arg(d.facts.kind)};
        if (!d.facts.joint.isEmpty())
            words << tr("Joint %1").arg(d.facts.joint);
        if (!d.facts.part.isEmpty())
            words << tr("Part %1").arg(d.facts.part);
        words << tr("Logged %1").arg(logged);
        facts_->setText(words.join(QStringLiteral(". ")) + QLatin1Char('.'));
    } else {
        facts_->setText(tr("%1, build %2. %3 %4 against a limit of %5. Joint %6, part %7. Logged %8.")
                            .arg(d.build.character)
                            .arg(d.build.number)
                            .arg(d.facts.kind)
                            .arg(d.facts.value, 0, 'f', 2)
                            .arg(d.facts.limit, 0, 'f', 2)
                            .arg(d.facts.joint, d.facts.part, logged));
    }
    cause_->setText(d.facts.cause);
    cause_->setVisible(!d.facts.cause.isEmpty());
    fillAssignees(d.assignee);
    const QSignalBlocker a(severity_), b(status_), c(due_);
    severity_->setCurrentIndex(severity_->findData(d.severity));
    status_->setCurrentText(d.status);
    if (!due_->hasFocus())
        due_->setText(d.due);
    const bool writable = !session_->log()->readOnly();
    for (QWidget* w : std::initializer_list<QWidget*>{assignee_, severity_, status_, due_, comment_})
        w->setEnabled(writable);

    if (pictureOf_ != id_) {
        pictureOf_ = id_;
        const auto whole = session_->log()->defect(id_);
        QPixmap pixmap;
        if (whole && pixmap.loadFromData(whole->facts.picture, "PNG")) {
            const qreal ratio = devicePixelRatioF();
            pixmap = pixmap.scaled(QSize(380, 260) * ratio, Qt::KeepAspectRatio, Qt::SmoothTransformation);
            pixmap.setDevicePixelRatio(ratio);
            picture_->setPixmap(pixmap);
        } else {
            picture_->setPixmap({});
            picture_->setText(tr("logged without a picture"));
        }
    }
    while (QLayoutItem* item = history_->takeAt(0)) {
        delete item->widget();
        delete item;
    }
    const auto events = session_->log()->history(id_);
    if (!events)
        return;
    for (auto e = events->rbegin(); e != events->rend(); ++e) {
        const QString when = e->at.toLocalTime().toString(QStringLiteral("d MMM HH:mm"));
        const QString what = e->field == QLatin1String("comment") ? tr("“%1”").arg(e->value)
                             : e->value.isEmpty()                 ? tr("%1: nobody").arg(e->field)
                                                                  : tr("%1: %2").arg(e->field, e->value);
        auto* line = new QLabel(tr("%1  %2  %3").arg(when, e->author, what));
        line->setWordWrap(true);
        setType(line, 0.92);
        line->setTextFormat(Qt::PlainText);
        line->setProperty("quiet", e->field != QLatin1String("comment"));
        history_->addWidget(line);
    }
}

} // namespace hobble
