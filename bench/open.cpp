// hobble-open FILE [STOP-AT]: how long a character takes to open, step by step, how often progress is told,
// and how soon a stop is obeyed. Makes a character of a million vertices of the demo badger when FILE is
// "million".
#include "core/intake/check.h"
#include "io/character_read.h"
#include "io/gltf_write.h"
#include "subjects.h"

#include <chrono>
#include <cstdio>
#include <cstdlib>
#include <filesystem>
#include <thread>

using namespace hobble;
using Clock = std::chrono::steady_clock;

namespace {

double since(Clock::time_point t) { return std::chrono::duration<double>(Clock::now() - t).count(); }

// Everything the window does before the run; the time from the stop to its end, or −1.
double open(const std::string& path, double stopAfter, bool tell) {
    std::atomic<bool> cancel{false};
    Clock::time_point pressed;
    std::thread presser;
    if (stopAfter > 0)
        presser = std::thread([&] {
            std::this_thread::sleep_for(std::chrono::duration<double>(stopAfter));
            pressed = Clock::now();
            cancel = true;
        });
    std::size_t told = 0;
    double longest = 0;
    Clock::time_point last = Clock::now();
    const Clock::time_point start = last;
    const Progress progress{&cancel, [&](double) {
                                longest = std::max(longest, since(last));
                                last = Clock::now();
                                ++told;
                            }};
    ReadSettings settings;
    settings.progress = progress;
    auto c = readCharacter(path, settings);
    const double read = since(start);
    double prepared = 0, inspected = 0;
    if (c) {
        const Subject s = prepareSubject(std::make_shared<const Character>(std::move(*c)), progress);
        prepared = since(start) - read;
        if (!progress.stopped())
            inspect(s, {}, progress);
        inspected = since(start) - read - prepared;
        if (tell)
            std::printf(
                "%zu vertices, %zu triangles: read %.1f s, prepared %.1f s, inspected %.1f s; progress told "
                "%zu times, at most %.1f s apart\n",
                s.character->vertexCount(), s.character->triangles.size(), read, prepared, inspected, told,
                longest);
    } else if (!wasStopped(c)) {
        std::printf("%s\n", c.error().c_str());
    }
    const double end = since(start);
    if (presser.joinable())
        presser.join();
    return cancel && end > stopAfter ? end - stopAfter : -1;
}

} // namespace

int main(int argc, char** argv) {
    if (argc < 2)
        return 2;
    std::string path = argv[1];
    if (path == "million") {
        path = (std::filesystem::temp_directory_path() / "hobble-million.glb").string();
        if (auto written = writeGlb(*bench::badgerOf(2000000).character, path); !written) {
            std::printf("%s\n", written.error().c_str());
            return 1;
        }
    }
    open(path, 0, true);
    for (double at : {0.3, 1.0, 3.0, 6.0, 9.0, 12.0})
        if (const double took = open(path, at, false); took >= 0)
            std::printf("stopped after %.1f s: obeyed in %.2f s\n", at, took);
}
