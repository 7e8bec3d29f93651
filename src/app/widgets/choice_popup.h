#pragma once
// A short list that opens where the hands are: type to find, Enter takes, and what needs a reason asks for it
// in the same place.
#include <QFrame>
#include <QVector>

class QLabel;
class QLineEdit;
class QListWidget;

namespace hobble {

struct Choice {
    QString value, words, note; // note: said quietly behind the words
    QString asks;               // what the reason line asks for; empty: no reason is needed
};

class ChoicePopup : public QFrame {
    Q_OBJECT
public:
    /// `free`: what was typed and is in no choice can be taken as well.
    ChoicePopup(const QString& title, const QVector<Choice>& choices, bool free, QWidget* parent);
    void openBelow(QWidget* anchor);

signals:
    void chosen(const QString& value, const QString& reason);

protected:
    bool eventFilter(QObject* watched, QEvent* event) override;

private:
    void fill();
    void take();
    QVector<Choice> choices_;
    bool free_;
    QLineEdit *find_, *reason_;
    QListWidget* list_;
    QString value_; // whose reason is asked for
};

} // namespace hobble
