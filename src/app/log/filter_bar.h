#pragma once
// What of the log is shown: words, state, who, character, how bad; groups; and filters kept under a name, for
// oneself (in the settings) or for everybody (in the log).
#include "app/log/log_model.h"

#include <QWidget>

class QComboBox;
class QLineEdit;
class QPushButton;
class QTimer;

namespace hobble {

class FilterBar : public QWidget {
    Q_OBJECT
public:
    FilterBar(LogDesk* log, LogModel* model, QWidget* parent = nullptr);
    void focusSearch();
    void showOnly(const QString& person);         // their open ones
    void showCharacter(const QString& character); // its open ones
    void showAmong(const QSet<qint64>& defects);  // these alone, whatever state they are in
    void showAll();                               // so that a defect asked for is among them
    QJsonObject asJson() const;                   // what is shown, and how it is grouped
    void take(const QJsonObject& kept);

private:
    void fill(); // who and which characters there are
    void apply();
    void take(const DefectFilter& filter, DefectGrouping grouping);
    void fillSavedMenu();
    void askForName();
    void keep(const QString& name, bool forAll);
    LogDesk* log_;
    LogModel* model_;
    QLineEdit* search_;
    QComboBox *states_, *who_, *character_, *severity_, *group_;
    QPushButton* saved_;
    QTimer* typing_;
    QStringList people_, characters_; // as the boxes have them
    std::optional<QSet<qint64>> among_;
};

} // namespace hobble
