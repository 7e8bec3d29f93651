#pragma once
// Which joint of the clip stands for which of the character: as it was matched, and to be corrected. What is
// corrected is kept for every clip on the same skeleton.

#include "app/session/pose_desk.h"

#include <QDialog>

#include <map>

class QTableWidget;

namespace hobble {

class JointMapDialog : public QDialog {
    Q_OBJECT
public:
    JointMapDialog(const Subject& subject, const ClipOnDesk& clip, QWidget* parent);
    /// Only what was corrected: character's joint → clip's joint, or nothing.
    std::map<std::string, std::string> said() const;

private:
    struct Row {
        std::string joint, matched; // as the rules match it
    };
    QTableWidget* table_ = nullptr;
    std::vector<Row> rows_;
};

} // namespace hobble
