#pragma once
// Why a finding is accepted or dismissed: one line, which the log keeps.
#include <QDialog>

class QLineEdit;

namespace hobble {

class SettleDialog : public QDialog {
    Q_OBJECT
public:
    /// `status`: "accepted" or "dismissed".
    SettleDialog(const QString& finding, const QString& status, QWidget* parent = nullptr);

signals:
    void settled(const QString& reason);

private:
    QLineEdit* reason_;
};

} // namespace hobble
