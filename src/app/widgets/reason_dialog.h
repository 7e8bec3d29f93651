#pragma once
// Why a defect takes a way out: which, and the reason in a line, without which nothing happens.
#include "log/defect_state.h"

#include <QDialog>

class QComboBox;
class QLineEdit;

namespace hobble {

class ReasonDialog : public QDialog {
    Q_OBJECT
public:
    ReasonDialog(const QString& title, const QString& about, const QVector<DefectState>& ways,
                 QWidget* parent = nullptr);

signals:
    void settled(hobble::DefectState state, const QString& reason);

private:
    QComboBox* way_;
    QLineEdit* reason_;
};

} // namespace hobble
