#include "log/log_password.h"

#include <QHash>
#include <QMutex>
#include <QStringList>

#include <libpq-fe.h>

#include <memory>
#include <vector>

namespace hobble {

namespace {

QMutex& guard() {
    static QMutex mutex;
    return mutex;
}

QHash<QString, QString>& given() {
    static QHash<QString, QString> passwords;
    return passwords;
}

} // namespace

QString passwordKey(const LogAddress& address) {
    LogAddress plain = address;
    plain.options.clear();
    return plain.words();
}

void usePassword(const QString& place, const QString& password) {
    const auto address = LogAddress::parse(place);
    if (!address || !address->postgres)
        return;
    const QMutexLocker lock(&guard());
    if (password.isEmpty())
        given().remove(passwordKey(*address));
    else
        given().insert(passwordKey(*address), password);
}

QString passwordFor(const LogAddress& address) {
    const QMutexLocker lock(&guard());
    return given().value(passwordKey(address));
}

bool wantsPassword(const LogAddress& address) {
    if (!address.postgres)
        return false;
    std::vector<std::pair<QByteArray, QByteArray>> said{{"connect_timeout", "3"}};
    const auto say = [&](const char* key, const QString& value) {
        if (!value.isEmpty())
            said.emplace_back(key, value.toUtf8());
    };
    say("host", address.host);
    say("port", address.port ? QString::number(address.port) : QString());
    say("user", address.user);
    say("dbname", address.database);
    say("password", passwordFor(address));
    for (const QString& option : address.options.split(QLatin1Char(';'), Qt::SkipEmptyParts))
        say(option.section(QLatin1Char('='), 0, 0).toUtf8().constData(), option.section(QLatin1Char('='), 1));
    std::vector<const char*> keys, values;
    for (const auto& [key, value] : said) {
        keys.push_back(key.constData());
        values.push_back(value.constData());
    }
    keys.push_back(nullptr);
    values.push_back(nullptr);
    const std::unique_ptr<PGconn, decltype(&PQfinish)> connection(
        PQconnectdbParams(keys.data(), values.data(), 0), &PQfinish);
    return connection && PQstatus(connection.get()) == CONNECTION_BAD &&
           (PQconnectionNeedsPassword(connection.get()) || PQconnectionUsedPassword(connection.get()));
}

} // namespace hobble
