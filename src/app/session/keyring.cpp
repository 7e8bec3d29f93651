#include "app/session/keyring.h"

#include <qt6keychain/keychain.h>

namespace hobble {

// A job belongs to nobody and goes by itself when the keyring has answered: the answer comes to it even where
// who asked has gone meanwhile.
namespace {
const QString kService = QStringLiteral("Hobble");
}

void Keyring::find(const QString& key, std::function<void(const QString&)> then) {
    auto* job = new QKeychain::ReadPasswordJob(kService);
    job->setKey(key);
    connect(job, &QKeychain::Job::finished, this, [job, then = std::move(then)] {
        then(job->error() == QKeychain::NoError ? job->textData() : QString());
    });
    job->start();
}

void Keyring::keep(const QString& key, const QString& password, std::function<void(const QString&)> then) {
    auto* job = new QKeychain::WritePasswordJob(kService);
    job->setKey(key);
    job->setTextData(password);
    connect(job, &QKeychain::Job::finished, this, [job, then = std::move(then)] {
        then(job->error() == QKeychain::NoError ? QString() : job->errorString());
    });
    job->start();
}

} // namespace hobble
