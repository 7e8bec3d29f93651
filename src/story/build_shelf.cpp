#include "story/build_shelf.h"

#include "io/character_read.h"
#include "log/log_words.h"

namespace hobble {

Result<std::shared_ptr<const Subject>> BuildShelf::take(const Build& build) {
    for (auto it = kept_.begin(); it != kept_.end(); ++it)
        if (it->first == build.hash) {
            kept_.splice(kept_.begin(), kept_, it);
            return kept_.front().second;
        }
    const QString name = QStringLiteral("Build %1 of %2").arg(build.number).arg(build.character);
    auto character = readCharacter(build.path.toStdString());
    if (!character)
        return Error{tr("%1 cannot be pictured: %2")
                         .arg(name, QString::fromStdString(character.error()))
                         .toStdString()};
    const QString hash = QString::fromStdString(character->hash);
    if (hash != build.hash && QString::fromStdString(character->formerHash) != build.hash)
        return Error{
            tr("%1 cannot be pictured: %2 holds another build by now.").arg(name, build.path).toStdString()};
    auto subject = std::make_shared<const Subject>(
        prepareSubject(std::make_shared<const Character>(std::move(*character))));
    put(build.hash, subject);
    return std::shared_ptr<const Subject>(subject);
}

void BuildShelf::put(const QString& hash, std::shared_ptr<const Subject> subject) {
    kept_.emplace_front(hash, std::move(subject));
    if (kept_.size() > most_)
        kept_.pop_back();
}

} // namespace hobble
