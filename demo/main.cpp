// hobble-make-demo FOLDER: writes the demo cast.
#include "badger.h"
#include "io/gltf_write.h"

#include <cstdio>

int main(int argc, char** argv) {
    if (argc != 2) {
        std::fprintf(stderr, "usage: hobble-make-demo FOLDER\n");
        return 2;
    }
    const std::string path = std::string(argv[1]) + "/badger-postmaster.glb";
    const auto written = hobble::writeGlb(hobble::demo::badgerPostmaster(), path);
    if (!written) {
        std::fprintf(stderr, "%s\n", written.error().c_str());
        return 1;
    }
    std::printf("%s\n", path.c_str());
    return 0;
}
