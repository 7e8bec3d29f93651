// hobble-import FILE SECONDS MEGABYTES: reads a file for another process and tells it on open file 3
// (io/import_process.h). Not meant to be called by hand.
#include "io/import_process.h"

#include <cstdio>
#include <cstdlib>

int main(int argc, char** argv) {
    if (argc != 4) {
        std::fprintf(stderr, "hobble-import is started by Hobble\n");
        return 2;
    }
    return hobble::serveImport(argv[1], 3, std::atoi(argv[2]),
                               static_cast<std::uint64_t>(std::strtoull(argv[3], nullptr, 10)));
}
