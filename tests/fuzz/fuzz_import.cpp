// Any bytes as a file of a format the importer library reads: the first byte says which. Read, or refused
// with a sentence. What the library itself does wrong costs a process in the program (io/import_process.h);
// here it is found where the library was built for the fuzzer, too (scripts/fuzz).
#include "fuzz/fuzz.h"
#include "io/import_scene.h"

#include <cstdio>
#include <string>

#include <unistd.h>

using namespace hobble;

extern "C" int LLVMFuzzerTestOneInput(const std::uint8_t* data, std::size_t size) {
    if (size == 0)
        return 0;
    static constexpr const char* kFormats[] = {"fbx", "dae", "x", "b3d", "md5mesh", "smd"};
    const std::string path =
        "/dev/shm/hobble-fuzz-" + std::to_string(::getpid()) + "." + kFormats[data[0] % std::size(kFormats)];
    std::FILE* file = std::fopen(path.c_str(), "wb");
    must(file);
    must(std::fwrite(data + 1, 1, size - 1, file) == size - 1);
    std::fclose(file);
    try {
        const Character c = characterOf(importScene(path, {}).scene);
        must(c.neutral.size() == c.weights.vertexCount());
        for (const Vec3& p : c.neutral)
            must(p.allFinite());
    } catch (const Refused& r) {
        must(!r.cause.empty());
    }
    std::remove(path.c_str());
    return 0;
}
