#include "app/review/log_by_eye_dialog.h"

#include "app/theme.h"
#include "app/widgets/severity_chip.h"
#include "app/words.h"

#include <QComboBox>
#include <QFormLayout>
#include <QHBoxLayout>
#include <QLabel>
#include <QLineEdit>
#include <QPushButton>
#include <QVBoxLayout>

namespace hobble {

LogByEyeDialog::LogByEyeDialog(const QString& where, std::optional<Kind> likely, QWidget* parent)
    : QDialog(parent) {
    setObjectName(QStringLiteral("logByEye"));
    setWindowTitle(tr("Log what is marked"));
    auto* all = new QVBoxLayout(this);
    auto* head = new QLabel(where);
    head->setWordWrap(true);
    setType(head, 1.05, true);
    all->addWidget(head);
    auto* form = new QFormLayout;
    auto* note = new QLineEdit;
    note->setObjectName(QStringLiteral("eyeNote"));
    note->setPlaceholderText(tr("what is wrong with it"));
    setTextWidth(note, 330);
    form->addRow(tr("What you see"), note);
    auto* kind = new QComboBox;
    kind->setObjectName(QStringLiteral("eyeKind"));
    for (Kind k : kKinds)
        kind->addItem(inWords(nameOf(k)), int(k));
    kind->setCurrentIndex(kind->findData(int(likely.value_or(Kind::Stretch))));
    form->addRow(tr("Closest to"), kind);
    auto* severity = new QComboBox;
    severity->setObjectName(QStringLiteral("eyeSeverity"));
    for (int s = 1; s <= 4; ++s)
        severity->addItem(tr("%1, %2").arg(s).arg(severityWord(s)), s);
    severity->setCurrentIndex(1);
    form->addRow(tr("Severity"), severity);
    all->addLayout(form);
    auto* buttons = new QHBoxLayout;
    buttons->addStretch();
    auto* no = new QPushButton(tr("Cancel"));
    auto* yes = new QPushButton(tr("Log defect"));
    yes->setObjectName(QStringLiteral("eyeDo"));
    yes->setProperty("strong", true);
    yes->setDefault(true);
    yes->setEnabled(false);
    buttons->addWidget(no);
    buttons->addWidget(yes);
    all->addLayout(buttons);
    connect(no, &QPushButton::clicked, this, &QDialog::reject);
    connect(note, &QLineEdit::textChanged, yes,
            [yes](const QString& t) { yes->setEnabled(!t.trimmed().isEmpty()); });
    connect(yes, &QPushButton::clicked, this, [=, this] {
        emit chosen(static_cast<Kind>(kind->currentData().toInt()), severity->currentData().toInt(),
                    note->text().trimmed());
        accept();
    });
}

} // namespace hobble
