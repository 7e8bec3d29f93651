#pragma once
// Keeps what was measured, in memory and in a folder: one file per motion of a build, named by the hash of
// everything it depends on. A cache: files may be deleted at any time, a damaged one counts as missing, and a
// disk that is full only means measuring again.
#include "core/run/run.h"

#include <list>
#include <mutex>
#include <unordered_map>

namespace hobble {

class MeasuredCache : public MeasuredStore {
public:
    /// An empty folder name keeps in memory only. The oldest goes first when there is more than so many
    /// bytes.
    explicit MeasuredCache(std::string folder, std::size_t memoryBytes = std::size_t(512) << 20,
                           std::size_t diskBytes = std::size_t(2) << 30);

    std::shared_ptr<const MeasuredMotion> find(const Character& character, Skinning method,
                                               const Motion& motion, const Floors& floors) override;
    void keep(const Character& character, Skinning method, const Motion& motion, const Floors& floors,
              std::shared_ptr<const MeasuredMotion> measured) override;

    std::size_t bytesInMemory() const;

private:
    struct Kept {
        std::string key;
        std::shared_ptr<const MeasuredMotion> measured;
        std::size_t bytes = 0;
    };
    const std::string folder_;
    const std::size_t memoryBytes_, diskBytes_;
    mutable std::mutex mutex_;
    std::list<Kept> kept_; // most lately used first
    std::unordered_map<std::string, std::list<Kept>::iterator> byKey_;
    std::size_t bytes_ = 0, written_ = 0;

    void remember(const std::string& key, std::shared_ptr<const MeasuredMotion> measured);
    void sweep() const; // the folder, down to what is allowed
    std::string pathOf(const std::string& key) const;
};

/// The bytes of a measured motion, and back; null when they are damaged or of another version.
std::string packMeasured(const MeasuredMotion& measured, const std::string& key);
std::shared_ptr<const MeasuredMotion> unpackMeasured(const std::string& bytes, const std::string& key);

} // namespace hobble
