// hobble-make-demo FOLDER STORY.json: writes the demo cast, the builds of the story and the clips.
#include "badger.h"
#include "builds.h"
#include "clips.h"
#include "goat.h"
#include "io/bvh_write.h"
#include "io/gltf_write.h"
#include "newt.h"

#include <cstdio>
#include <filesystem>

using namespace hobble;

namespace {

bool told(const Result<Done>& written, const std::string& path) {
    std::printf("%s\n", written ? path.c_str() : written.error().c_str());
    return written.ok();
}

} // namespace

int main(int argc, char** argv) {
    if (argc != 3) {
        std::fprintf(stderr, "usage: hobble-make-demo FOLDER STORY.json\n");
        return 2;
    }
    const std::string folder = std::string(argv[1]) + "/";
    const auto story = demo::readRecipes(argv[2]);
    if (!story) {
        std::fprintf(stderr, "%s\n", story.error().c_str());
        return 1;
    }
    constexpr double fps = 30;
    struct Member {
        Character (*make)();
        Clip (*clip)(const Character&);
    };
    for (const Member& m :
         {Member{demo::badgerPostmaster, demo::bipedClip}, Member{demo::packGoat, demo::quadrupedClip},
          Member{demo::lighthouseNewt, demo::faceClip}}) {
        Character c = m.make();
        c.clips.push_back(m.clip(c));
        if (!told(writeGlb(c, folder + c.name + ".glb"), folder + c.name + ".glb") ||
            !told(writeBvh(c, c.clips[0], fps, folder + c.name + ".bvh"), folder + c.name + ".bvh"))
            return 1;
        if (m.make == demo::badgerPostmaster) {
            for (const demo::Recipe& r : *story) {
                const auto build = demo::storyBuild(c, r);
                if (!build) {
                    std::fprintf(stderr, "%s\n", build.error().c_str());
                    return 1;
                }
                const std::string path = folder + "builds/" + r.name.substr(r.name.find('-') + 1) + "/";
                std::filesystem::create_directories(path);
                if (!told(writeGlb(*build, path + c.name + ".glb"), path + c.name + ".glb"))
                    return 1;
            }
            const Character other = demo::longLimbed(c);
            if (!told(writeBvh(other, demo::bipedClip(other), fps, folder + "long-limbed.bvh"),
                      folder + "long-limbed.bvh"))
                return 1;
        }
    }
    return 0;
}
