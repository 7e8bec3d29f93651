#include "app/plan/joint_map_dialog.h"

#include "app/theme.h"

#include <QComboBox>
#include <QDialogButtonBox>
#include <QHeaderView>
#include <QLabel>
#include <QPushButton>
#include <QTableWidget>
#include <QVBoxLayout>

namespace hobble {

JointMapDialog::JointMapDialog(const Subject& s, const ClipOnDesk& clip, QWidget* parent) : QDialog(parent) {
    setObjectName(QStringLiteral("jointMap"));
    setWindowTitle(tr("Which joint is which"));
    resize(px(520), px(560));
    auto* column = new QVBoxLayout(this);
    auto* words =
        new QLabel(tr("On the left the character's joints, on the right what moves them in the clip. A joint "
                      "that nothing moves goes along with the one above it."));
    words->setWordWrap(true);
    column->addWidget(words);
    table_ = new QTableWidget;
    table_->setObjectName(QStringLiteral("jointMapTable"));
    table_->setAccessibleName(tr("Joints of the character and of the clip"));
    table_->setColumnCount(2);
    table_->setHorizontalHeaderLabels({tr("the character's"), tr("the clip's")});
    table_->verticalHeader()->hide();
    table_->setShowGrid(false);
    table_->horizontalHeader()->setSectionResizeMode(QHeaderView::Stretch);
    table_->setEditTriggers(QAbstractItemView::NoEditTriggers);
    column->addWidget(table_, 1);

    const Skeleton& source = clip.file->body.skeleton;
    const auto roles = guessRoles(clip.file->body);
    const PlacedBody from = placedBody(clip.file->body, roles), to = placedBody(*s.character, s.roles);
    const JointMap matched = matchJoints(from.joints, to.joints, from.hips, to.hips);
    QStringList names{tr("nothing")};
    for (const std::string& name : source.name)
        names << QString::fromStdString(name);
    for (std::size_t j = 0; j < matched.size(); ++j) {
        const Role role = s.roles[j].role;
        if (!s.roles[j].movesSkin || role == Role::Twist || role == Role::Helper || role == Role::Control ||
            role == Role::End)
            continue;
        const int row = table_->rowCount();
        table_->insertRow(row);
        const std::string& joint = s.character->skeleton.name[j];
        table_->setItem(row, 0, new QTableWidgetItem(QString::fromStdString(joint)));
        auto* choice = new QComboBox;
        choice->setObjectName(QStringLiteral("mapOf_%1").arg(QString::fromStdString(joint)));
        choice->setAccessibleName(tr("What moves %1").arg(QString::fromStdString(joint)));
        choice->addItems(names);
        choice->setCurrentIndex(clip.map[j].joint + 1);
        table_->setCellWidget(row, 1, choice);
        table_->setRowHeight(row, choice->sizeHint().height() + 2);
        rows_.push_back(
            {joint, matched[j].joint < 0 ? "" : source.name[static_cast<std::size_t>(matched[j].joint)]});
    }
    auto* buttons = new QDialogButtonBox(QDialogButtonBox::Ok | QDialogButtonBox::Cancel);
    buttons->button(QDialogButtonBox::Ok)->setText(tr("Carry over so"));
    connect(buttons, &QDialogButtonBox::accepted, this, &QDialog::accept);
    connect(buttons, &QDialogButtonBox::rejected, this, &QDialog::reject);
    column->addWidget(buttons);
}

std::map<std::string, std::string> JointMapDialog::said() const {
    std::map<std::string, std::string> out;
    for (std::size_t i = 0; i < rows_.size(); ++i) {
        const auto* choice = qobject_cast<QComboBox*>(table_->cellWidget(static_cast<int>(i), 1));
        const std::string chosen = choice->currentIndex() <= 0 ? "" : choice->currentText().toStdString();
        if (chosen != rows_[i].matched)
            out[rows_[i].joint] = chosen;
    }
    return out;
}

} // namespace hobble
