// hobble-make-demo FOLDER: writes the demo cast, its builds and its clips.
#include "badger.h"
#include "clips.h"
#include "goat.h"
#include "io/bvh_write.h"
#include "io/gltf_write.h"
#include "newt.h"

#include <cstdio>

using namespace hobble;

namespace {

bool told(const Result<Done>& written, const std::string& path) {
    std::printf("%s\n", written ? path.c_str() : written.error().c_str());
    return written.ok();
}

} // namespace

int main(int argc, char** argv) {
    if (argc != 2) {
        std::fprintf(stderr, "usage: hobble-make-demo FOLDER\n");
        return 2;
    }
    const std::string folder = std::string(argv[1]) + "/";
    constexpr double fps = 30;
    struct Member {
        Character (*make)();
        Clip (*clip)(const Character&);
    };
    for (const Member& m : {Member{demo::badgerPostmaster, demo::bipedClip}, Member{demo::packGoat, demo::quadrupedClip},
                            Member{demo::lighthouseNewt, demo::faceClip}}) {
        Character c = m.make();
        c.clips.push_back(m.clip(c));
        if (!told(writeGlb(c, folder + c.name + ".glb"), folder + c.name + ".glb") ||
            !told(writeBvh(c, c.clips[0], fps, folder + c.name + ".bvh"), folder + c.name + ".bvh"))
            return 1;
        if (m.make == demo::badgerPostmaster) {
            const Character other = demo::longLimbed(c);
            if (!told(writeBvh(other, demo::bipedClip(other), fps, folder + "long-limbed.bvh"), folder + "long-limbed.bvh"))
                return 1;
        }
    }
    return 0;
}
