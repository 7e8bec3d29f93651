#include "core/run/measured_memory.h"

#include "core/run/result_for.h"

namespace hobble {

bool MeasuredMemory::Kept::is(Skinning how, const Motion& which, const Floors& from) const {
    return method == how && floors == from && motion.steps == which.steps && sameMotion(motion, which);
}

std::shared_ptr<const MeasuredMotion> MeasuredMemory::find(const Character& character, Skinning method,
                                                           const Motion& motion, const Floors& floors) {
    const std::lock_guard lock(guard_);
    const auto of = kept_.find(character.hash);
    if (of == kept_.end())
        return nullptr;
    const auto [first, last] = of->second.equal_range(motion.id);
    for (auto k = first; k != last; ++k)
        if (k->second.is(method, motion, floors))
            return k->second.measured;
    return nullptr;
}

void MeasuredMemory::keep(const Character& character, Skinning method, const Motion& motion,
                          const Floors& floors, std::shared_ptr<const MeasuredMotion> measured) {
    const std::lock_guard lock(guard_);
    auto& of = kept_[character.hash];
    const auto [first, last] = of.equal_range(motion.id);
    for (auto k = first; k != last; ++k)
        if (k->second.is(method, motion, floors)) {
            k->second.measured = std::move(measured);
            return;
        }
    of.emplace(motion.id, Kept{method, motion, floors, std::move(measured)});
}

void MeasuredMemory::forget(const std::string& hash) {
    const std::lock_guard lock(guard_);
    kept_.erase(hash);
}

} // namespace hobble
