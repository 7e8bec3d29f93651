// Variants of the build, and which of them is worn.
#include "app/session/build_desk.h"

#include "core/pose/coverage.h"
#include "io/file_write.h"
#include "io/variant_json.h"
#include "log/file_name.h"

#include <QDir>
#include <QFile>

namespace hobble {

namespace {

QString variantsFile(const std::string& character) {
    return BuildDesk::variantsFolder() + QLatin1Char('/') + safeFileName(QString::fromStdString(character)) +
           QStringLiteral(".json");
}

} // namespace

void BuildDesk::loadVariants() {
    variants_.clear();
    const QString file = variantsFile(build_->character->name);
    if (!QFile::exists(file))
        return;
    if (auto kept = readVariants(file.toStdString()))
        variants_ = std::move(*kept);
    else
        fail(kept.error());
}

int BuildDesk::variant() const {
    for (std::size_t v = 0; v < variants_.size(); ++v)
        if (variants_[v].name == worn_.name)
            return static_cast<int>(v);
    return -1;
}

QString BuildDesk::wornName() const { return QString::fromStdString(worn_.name); }

bool BuildDesk::setVariantList(const std::vector<Variant>& variants) {
    variants_ = variants;
    QDir().mkpath(variantsFolder());
    if (auto written =
            writeFile(variantsFile(build_->character->name).toStdString(), variantsToJson(variants));
        !written)
        fail(written.error());
    emit variantsChanged(QPrivateSignal());
    // What is worn may have become another, or be gone. Until it has been changed, what was put on is worn.
    if (!worn_.name.empty())
        wear(variant());
    return true;
}

void BuildDesk::setVariants(const std::vector<Variant>& variants) {
    if (!build_ || variants == variants_)
        return;
    const auto before = variants_;
    setVariantList(variants);
    undoable(
        tr("change variants"), [=, this] { return setVariantList(variants); },
        [=, this] { return setVariantList(before); });
}

void BuildDesk::wear(int variant) {
    if (!build_ || variant >= static_cast<int>(variants_.size()))
        return;
    const Variant wanted = variant >= 0 ? variants_[static_cast<std::size_t>(variant)] : Variant{};
    if (!(wanted == worn_) || !dressing_.expired()) // what is being put on may be another
        dress(wanted);
}

void BuildDesk::dress(const Variant& wanted) {
    jobs().cancel();
    const auto token = std::make_shared<char>();
    dressing_ = token;
    jobs().start(
        tr("Dressing %1").arg(title()),
        [this, wanted, token, build = build_,
         corrections = corrections_](JobControl& control) -> std::function<void()> {
            std::shared_ptr<const Subject> subject = build;
            if (!wanted.changesNothing())
                subject = std::make_shared<const Subject>(
                    prepareSubject(std::make_shared<const Character>(varied(*build->character, wanted)),
                                   progressOf(control), corrections));
            if (control.cancelled)
                return [this] {
                    if (!worn_.name.empty())
                        tell(tr("Stopped: the character wears “%1” as it was before.").arg(wornName()));
                };
            const auto neutral = neutralFrame(subject);
            auto held = skinHeldBy(*subject->character);
            return [this, wanted, build, subject, neutral, held = std::move(held)] {
                if (build != build_)
                    return;
                subject_ = subject;
                neutral_ = neutral;
                skinHeld_ = held;
                worn_ = wanted;
                tellAll(Change::Worn);
            };
        });
}

} // namespace hobble
