// Any bytes as a BVH file.
#include "fuzz/fuzz.h"
#include "io/bvh_read.h"

using namespace hobble;

extern "C" int LLVMFuzzerTestOneInput(const std::uint8_t* data, std::size_t size) {
    const auto m = bvhFromText(std::string(reinterpret_cast<const char*>(data), size));
    if (!m) {
        must(!m.error().empty());
        return 0;
    }
    must(m->skeleton.size() > 0 && m->skeleton.parent.size() == m->skeleton.name.size());
    for (int j = 0; j < m->skeleton.size(); ++j)
        must(m->skeleton.parent[j] < j);
    for (const ClipChannel& c : m->clip.channels)
        must(c.time.size() == m->frames &&
             c.value.size() == m->frames * (c.path == ClipChannel::Path::Rotation ? 4 : 3));
    return 0;
}
