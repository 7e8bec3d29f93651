#pragma once
// Every action of the window with its keys. A key can be changed; what was changed is kept for the next
// start.
#include <QAction>
#include <QKeySequence>
#include <QList>
#include <QObject>

#include <functional>

namespace hobble {

class ActionBook : public QObject {
    Q_OBJECT
public:
    explicit ActionBook(QObject* parent) : QObject(parent) {}

    /// `id` names it in the settings and never changes. An action belongs to a page, or to the window when
    /// `where` is the window itself; it works while the keyboard is there.
    QAction* add(const QString& id, const QString& text, const QKeySequence& key, std::function<void()> does,
                 QWidget* where);

    const QList<QAction*>& actions() const { return actions_; }
    QWidget* placeOf(const QAction* action) const;
    QKeySequence usualKey(const QAction* action) const;

    /// The action that would answer to a key in the same place; null when it is free.
    QAction* holderOf(const QKeySequence& key, const QAction* besides) const;
    void setKey(QAction* action, const QKeySequence& key);
    void useUsualKeys();

    QAction* find(const QString& id) const; // null when there is none
    /// "G give    1 4 severity": actions with their keys as they are set now.
    struct KeyWords {
        QStringList ids;
        QString words;
    };
    QString line(const QList<KeyWords>& entries) const;

signals:
    void keysChanged();

private:
    struct Entry {
        QAction* action;
        QWidget* where;
        QKeySequence usual;
    };
    const Entry* entryOf(const QAction* action) const;
    QList<Entry> entries_;
    QList<QAction*> actions_;
};

} // namespace hobble
