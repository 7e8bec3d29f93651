#include "log/log_address.h"
#include "core/words/say.h"
#include "log/log_words.h"

#include <QRegularExpression>
#include <QStringList>
#include <QUrl>
#include <QUrlQuery>

namespace hobble {

Result<LogAddress> LogAddress::parse(const QString& text) {
    LogAddress out;
    const QString trimmed = text.trimmed();
    if (trimmed.isEmpty())
        return Error{say("A log needs a place: a file, or postgresql://host/database.")};
    out.postgres = trimmed.startsWith(QLatin1String("postgresql://")) ||
                   trimmed.startsWith(QLatin1String("postgres://"));
    if (!out.postgres) {
        out.path = text;
        return out;
    }
    const QUrl url(trimmed, QUrl::StrictMode);
    if (!url.isValid())
        return Error{tr("“%1” is no address of a log: %2.")
                         .arg(QUrl(trimmed).toString(QUrl::RemovePassword), url.errorString())
                         .toStdString()};
    const QUrlQuery query(url);
    if (!url.password().isEmpty() || query.hasQueryItem(QStringLiteral("password")))
        return Error{
            say("An address must not carry a password, for it would be kept and shown. Leave it out here: "
                "the window "
                "asks for it, and libpq's own file (~/.pgpass) or a service file serves every program.")};
    out.host = url.host();
    out.port = url.port(0);
    out.user = url.userName();
    out.database = url.path().mid(1);
    QStringList options;
    static const QRegularExpression plain(QStringLiteral("^[\\w./@:+-]*$"));
    for (const auto& [key, value] : query.queryItems(QUrl::FullyDecoded)) {
        static const QStringList known{QStringLiteral("service"),     QStringLiteral("sslmode"),
                                       QStringLiteral("sslrootcert"), QStringLiteral("sslcert"),
                                       QStringLiteral("sslkey"),      QStringLiteral("passfile"),
                                       QStringLiteral("host")};
        if (!known.contains(key) || !plain.match(value).hasMatch())
            return Error{tr("An address of a log may not say “%1=%2”; it may say %3.")
                             .arg(key, value, known.join(QStringLiteral(", ")))
                             .toStdString()};
        if (key == QLatin1String("host")) // a folder of sockets has slashes
            out.host = value;
        else
            options << key + QLatin1Char('=') + value;
    }
    out.options = options.join(QLatin1Char(';'));
    return out;
}

QString LogAddress::words() const {
    if (!postgres)
        return path;
    QUrl url;
    url.setScheme(QStringLiteral("postgresql"));
    url.setUserName(user);
    QStringList query = options.split(QLatin1Char(';'), Qt::SkipEmptyParts);
    if (host.startsWith(QLatin1Char('/')))
        query.prepend(QStringLiteral("host=") + host);
    else
        url.setHost(host);
    if (port)
        url.setPort(port);
    url.setPath(QLatin1Char('/') + database);
    url.setQuery(query.join(QLatin1Char('&')));
    return url.toString();
}

} // namespace hobble
