#include "app/action_book.h"

#include <QMainWindow>
#include <QSettings>

namespace hobble {

namespace {
QString settingOf(const QAction* a) { return QStringLiteral("keys/") + a->objectName(); }
} // namespace

QAction* ActionBook::add(const QString& id, const QString& text, const QKeySequence& key,
                         std::function<void()> does, QWidget* where) {
    auto* a = new QAction(text, this);
    a->setObjectName(id);
    a->setShortcut(QSettings().contains(settingOf(a))
                       ? QKeySequence(QSettings().value(settingOf(a)).toString(), QKeySequence::PortableText)
                       : key);
    a->setShortcutContext(qobject_cast<QMainWindow*>(where) ? Qt::WindowShortcut
                                                            : Qt::WidgetWithChildrenShortcut);
    connect(a, &QAction::triggered, where, std::move(does));
    where->addAction(a);
    entries_ << Entry{a, where, key};
    actions_ << a;
    return a;
}

QAction* ActionBook::find(const QString& id) const {
    for (QAction* a : actions_)
        if (a->objectName() == id)
            return a;
    return nullptr;
}

QString ActionBook::line(const QList<KeyWords>& entries) const {
    QStringList out;
    for (const KeyWords& e : entries) {
        QStringList parts;
        for (const QString& id : e.ids)
            if (const QAction* a = find(id))
                parts << a->shortcut().toString(QKeySequence::NativeText);
        out << (parts << e.words).join(QLatin1Char(' '));
    }
    return out.join(QStringLiteral("    "));
}

const ActionBook::Entry* ActionBook::entryOf(const QAction* action) const {
    for (const Entry& e : entries_)
        if (e.action == action)
            return &e;
    return nullptr;
}

QWidget* ActionBook::placeOf(const QAction* action) const {
    const Entry* e = entryOf(action);
    return e ? e->where : nullptr;
}

QKeySequence ActionBook::usualKey(const QAction* action) const {
    const Entry* e = entryOf(action);
    return e ? e->usual : QKeySequence();
}

QAction* ActionBook::holderOf(const QKeySequence& key, const QAction* besides) const {
    const QWidget* here = placeOf(besides);
    for (const Entry& e : entries_) {
        const bool meet = e.where == here || qobject_cast<QMainWindow*>(e.where) ||
                          qobject_cast<const QMainWindow*>(here); // the window's own are heard on every page
        if (e.action != besides && meet && !key.isEmpty() && e.action->shortcut() == key)
            return e.action;
    }
    return nullptr;
}

void ActionBook::setKey(QAction* action, const QKeySequence& key) {
    action->setShortcut(key);
    if (key == usualKey(action))
        QSettings().remove(settingOf(action));
    else
        QSettings().setValue(settingOf(action), key.toString(QKeySequence::PortableText));
    emit keysChanged();
}

void ActionBook::useUsualKeys() {
    for (const Entry& e : entries_) {
        e.action->setShortcut(e.usual);
        QSettings().remove(settingOf(e.action));
    }
    emit keysChanged();
}

} // namespace hobble
