#pragma once
// What was measured, kept while the program runs: for trials on a build, which ask again and again.
#include "core/run/run.h"

#include <mutex>
#include <unordered_map>

namespace hobble {

class MeasuredMemory : public MeasuredStore {
public:
    std::shared_ptr<const MeasuredMotion> find(const Character& character, Skinning method,
                                               const Motion& motion, const Floors& floors) override;
    void keep(const Character& character, Skinning method, const Motion& motion, const Floors& floors,
              std::shared_ptr<const MeasuredMotion> measured) override;
    /// Forgets what was measured of a character.
    void forget(const std::string& hash);

private:
    struct Kept {
        Skinning method;
        Motion motion;
        Floors floors;
        std::shared_ptr<const MeasuredMotion> measured;
        bool is(Skinning how, const Motion& which, const Floors& from) const;
    };
    std::mutex guard_;
    std::unordered_map<std::string, std::unordered_multimap<std::string, Kept>> kept_; // by hash, by motion
};

} // namespace hobble
