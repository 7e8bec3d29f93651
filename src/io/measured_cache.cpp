#include "io/measured_cache.h"

#include "io/bytes.h"
#include "io/content_hash.h"
#include "io/file_write.h"

#include <algorithm>
#include <fstream>

namespace hobble {

namespace {

constexpr char kMagic[8] = {'h', 'o', 'b', 'b', 'l', 'e', 'M', '6'}; // a new number when measuring changes

static_assert(sizeof(Sample) == 8);

// One walk over everything a pose holds, for packing and unpacking alike.
template <class Zone, class F> void eachOptional(Zone& z, F&& f) {
    for (auto* x : {&z.volume, &z.volumeCm3, &z.pinch, &z.roughness, &z.leak, &z.lag, &z.contact, &z.poke,
                    &z.gap, &z.flip, &z.softness, &z.drift, &z.pop, &z.side, &z.bend, &z.bare, &z.through})
        f(*x);
}

template <class Pose, class F> void eachSamples(Pose& p, F&& f) {
    for (auto* x : {&p.stretch, &p.squash, &p.roughness, &p.leak, &p.lag, &p.inside, &p.poke, &p.gap, &p.bare,
                    &p.through, &p.popped})
        f(*x);
}

void pack(ByteWriter& p, const Pose& pose) {
    for (std::size_t j = 0; j < pose.turn.size(); ++j) {
        for (double x : pose.turn[j].coeffs())
            p.number(x);
        if (!pose.shift.empty())
            for (double x : pose.shift[j])
                p.number(x);
    }
    for (const TargetWeight& t : pose.targets) {
        p.number(t.part);
        p.number(t.target);
        p.number(t.weight);
    }
}

std::string keyOf(const Character& c, Skinning method, const Motion& motion, const Floors& floors) {
    ByteWriter p;
    p.bytes = std::string(kMagic, sizeof kMagic) + c.hash + nameOf(method);
    for (float f : {floors.stretch, floors.squash, floors.roughness, floors.leak, floors.pop, floors.lag})
        p.number(f);
    for (const JointTurn& t : motion.turns) {
        p.number(t.joint);
        for (double x : {t.axis.x(), t.axis.y(), t.axis.z(), t.share})
            p.number(x);
    }
    p.number(static_cast<int>(motion.span));
    for (const JointShift& m : motion.shifts) {
        p.number(m.joint);
        for (double x : m.perUnit)
            p.number(x);
    }
    for (const TargetShare& t : motion.targets) {
        p.number(t.part);
        p.number(t.target);
        p.number(t.perUnit);
    }
    if (motion.keys)
        for (double d : motion.steps) // what is measured are the poses at the steps
            pack(p, poseAt(c.skeleton, motion, d));
    p.list(motion.steps);
    return cacheKey(p.bytes); // of 128 bits: no two motions of a lifetime meet
}

std::size_t sizeOf(const MeasuredMotion& m) {
    std::size_t out = sizeof m + m.turnOf.size();
    for (const MeasuredPose& p : m.poses) {
        out += sizeof p + p.zones.size() * (sizeof(ZoneMeasures) + 7 * sizeof(std::optional<double>)) +
               p.flipped.size() * 4 + (p.softness.size() + p.drift.size()) * 8;
        eachSamples(p, [&](const Samples& s) { out += s.size() * sizeof(Sample); });
    }
    return out;
}

} // namespace

std::string packMeasured(const MeasuredMotion& m, const std::string& key) {
    ByteWriter p;
    p.list(m.turnOf);
    p.number(static_cast<std::uint64_t>(m.poses.size()));
    for (const MeasuredPose& pose : m.poses) {
        p.number(pose.at);
        p.number(static_cast<std::uint64_t>(pose.zones.size()));
        for (const ZoneMeasures& z : pose.zones) {
            for (double x : {z.stretch, z.squash, z.area, z.shear})
                p.number(x);
            eachOptional(z, [&](const std::optional<double>& x) { p.maybe(x); });
            p.number(static_cast<std::uint64_t>(z.girth.size()));
            for (const auto& g : z.girth)
                p.maybe(g);
        }
        eachSamples(pose, [&](const Samples& s) { p.list(s); });
        p.list(pose.flipped);
        p.list(pose.softness);
        p.list(pose.drift);
    }
    return std::string(kMagic, sizeof kMagic) + key + cacheKey(p.bytes) + p.bytes;
}

std::shared_ptr<const MeasuredMotion> unpackMeasured(const std::string& bytes, const std::string& key) {
    const std::string head = std::string(kMagic, sizeof kMagic) + key;
    constexpr std::size_t digits = 32;
    if (!bytes.starts_with(head) || bytes.size() < head.size() + digits)
        return nullptr;
    const std::string_view body = std::string_view(bytes).substr(head.size() + digits);
    if (std::string_view(bytes).substr(head.size(), digits) != cacheKey(body))
        return nullptr;
    auto m = std::make_shared<MeasuredMotion>();
    ByteReader u(body);
    u.list(m->turnOf);
    m->poses.resize(u.count(64));
    for (MeasuredPose& pose : m->poses) {
        pose.at = u.number<double>();
        pose.zones.resize(u.count(64));
        for (ZoneMeasures& z : pose.zones) {
            for (double* x : {&z.stretch, &z.squash, &z.area, &z.shear})
                *x = u.number<double>();
            eachOptional(z, [&](std::optional<double>& x) { u.maybe(x); });
            z.girth.resize(u.count(9));
            for (auto& g : z.girth)
                u.maybe(g);
        }
        eachSamples(pose, [&](Samples& s) { u.list(s); });
        u.list(pose.flipped);
        u.list(pose.softness);
        u.list(pose.drift);
    }
    return u.done() ? m : nullptr;
}

MeasuredCache::MeasuredCache(std::string folder, std::size_t memoryBytes, std::size_t diskBytes)
    : folder_(std::move(folder)), memoryBytes_(memoryBytes), diskBytes_(diskBytes) {
    if (folder_.empty())
        return;
    std::error_code ec;
    std::filesystem::create_directories(folder_, ec);
    sweep();
}

std::string MeasuredCache::pathOf(const std::string& key) const { return folder_ + "/" + key + ".measured"; }

std::size_t MeasuredCache::bytesInMemory() const {
    const std::lock_guard lock(mutex_);
    return bytes_;
}

std::shared_ptr<const MeasuredMotion> MeasuredCache::find(const Character& c, Skinning method,
                                                          const Motion& motion, const Floors& floors) {
    const std::string key = keyOf(c, method, motion, floors);
    {
        const std::lock_guard lock(mutex_);
        if (const auto it = byKey_.find(key); it != byKey_.end()) {
            kept_.splice(kept_.begin(), kept_, it->second);
            return it->second->measured;
        }
    }
    if (folder_.empty())
        return nullptr;
    std::ifstream in(pathOf(key), std::ios::binary);
    if (!in)
        return nullptr;
    const std::string bytes{std::istreambuf_iterator<char>(in), {}};
    auto measured = unpackMeasured(bytes, key);
    if (!measured)
        return nullptr;
    std::error_code ec; // used now: the last to go
    std::filesystem::last_write_time(pathOf(key), std::filesystem::file_time_type::clock::now(), ec);
    remember(key, measured);
    return measured;
}

void MeasuredCache::keep(const Character& c, Skinning method, const Motion& motion, const Floors& floors,
                         std::shared_ptr<const MeasuredMotion> measured) {
    const std::string key = keyOf(c, method, motion, floors);
    if (!folder_.empty()) {
        const std::string bytes = packMeasured(*measured, key);
        if (writeFile(pathOf(key), bytes)) {
            const std::lock_guard lock(mutex_);
            written_ += bytes.size();
            if (written_ > diskBytes_ / 8) {
                written_ = 0;
                sweep();
            }
        }
    }
    remember(key, std::move(measured));
}

void MeasuredCache::remember(const std::string& key, std::shared_ptr<const MeasuredMotion> measured) {
    const std::size_t size = sizeOf(*measured);
    const std::lock_guard lock(mutex_);
    if (byKey_.count(key) || size > memoryBytes_)
        return;
    kept_.push_front({key, std::move(measured), size});
    byKey_[key] = kept_.begin();
    bytes_ += size;
    while (bytes_ > memoryBytes_) {
        bytes_ -= kept_.back().bytes;
        byKey_.erase(kept_.back().key);
        kept_.pop_back();
    }
}

void MeasuredCache::sweep() const {
    namespace fs = std::filesystem;
    struct File {
        fs::file_time_type time;
        std::uintmax_t size;
        fs::path path;
    };
    std::vector<File> files;
    std::uintmax_t total = 0;
    std::error_code ec;
    for (const auto& entry : fs::directory_iterator(folder_, ec)) {
        if (entry.path().extension() != ".measured")
            continue;
        std::error_code gone;
        const File f{entry.last_write_time(gone), entry.file_size(gone), entry.path()};
        if (gone)
            continue;
        total += f.size;
        files.push_back(f);
    }
    std::sort(files.begin(), files.end(), [](const File& a, const File& b) { return a.time < b.time; });
    for (const File& f : files) {
        if (total <= diskBytes_)
            break;
        total -= f.size;
        fs::remove(f.path, ec);
    }
}

} // namespace hobble
