// Any bytes as a .glb or .gltf: opened, prepared and inspected, or refused with a sentence.
#include "core/intake/check.h"
#include "fuzz/fuzz.h"
#include "io/gltf_read.h"

using namespace hobble;

extern "C" int LLVMFuzzerTestOneInput(const std::uint8_t* data, std::size_t size) {
    try {
        auto c = std::make_shared<const Character>(
            readGltfBytes("/nowhere/fuzzed.glb", std::string(reinterpret_cast<const char*>(data), size)));
        must(c->neutral.size() == c->weights.vertexCount());
        for (const Vec3& p : c->neutral)
            must(p.allFinite());
        if (c->vertexCount() < 3000 && c->skeleton.size() < 200) {
            const Subject s = prepareSubject(c);
            for (const CheckFinding& f : inspect(s))
                must(!f.sentence.empty());
        }
    } catch (const Refused& r) {
        must(!r.cause.empty());
    }
    return 0;
}
