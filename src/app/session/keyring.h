#pragma once
// The desktop's keyring, where passwords of servers are kept: the Secret Service or KWallet, whichever runs.
// Nothing is kept anywhere else.
#include <QObject>

#include <functional>

namespace hobble {

class Keyring : public QObject {
    Q_OBJECT
public:
    using QObject::QObject;

    /// The password kept under a key; empty where there is none, or no keyring. Calls back later, on this
    /// thread.
    void find(const QString& key, std::function<void(const QString& password)> then);
    /// Calls back with what went wrong; empty when it is kept.
    void keep(const QString& key, const QString& password, std::function<void(const QString& error)> then);
};

} // namespace hobble
