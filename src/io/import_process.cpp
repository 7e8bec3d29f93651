#include "io/import_process.h"

#include "core/words/say.h"
#include "io/scene_bytes.h"

#include <algorithm>
#include <cerrno>
#include <chrono>
#include <csignal>
#include <cstring>
#include <dlfcn.h>
#include <fcntl.h>
#include <filesystem>
#include <poll.h>
#include <spawn.h>
#include <sys/prctl.h>
#include <sys/resource.h>
#include <sys/wait.h>
#include <unistd.h>

extern char** environ;

namespace hobble {

namespace {

// A message: what it is, how long it is, and that many bytes.
enum class Says : char { Progress = 'p', Scene = 's', Refusal = 'r' };
// The address sanitizer takes all addresses there are for itself.
#if defined(__SANITIZE_ADDRESS__)
constexpr bool kSanitized = true;
#elif defined(__has_feature)
#if __has_feature(address_sanitizer)
constexpr bool kSanitized = true;
#else
constexpr bool kSanitized = false;
#endif
#else
constexpr bool kSanitized = false;
#endif

constexpr int kTold = 3; // the open file it is told on
constexpr std::size_t kHead = 1 + sizeof(std::uint64_t);

bool writeAll(int to, const char* bytes, std::size_t size) {
    while (size > 0) {
        const ssize_t n = ::write(to, bytes, size);
        if (n < 0 && errno == EINTR)
            continue;
        if (n <= 0)
            return false;
        bytes += n;
        size -= static_cast<std::size_t>(n);
    }
    return true;
}

bool tell(int to, Says what, std::string_view bytes) {
    char head[kHead];
    head[0] = static_cast<char>(what);
    const std::uint64_t size = bytes.size();
    std::memcpy(head + 1, &size, sizeof size);
    return writeAll(to, head, sizeof head) && writeAll(to, bytes.data(), bytes.size());
}

// Ends the process, whatever becomes of the one that asked.
class Child {
public:
    Child(const std::string& program, const std::vector<std::string>& words) {
        int ends[2];
        if (::pipe2(ends, O_CLOEXEC) != 0)
            throw Refused{say("the importer cannot be started: %s", std::string(std::strerror(errno)))};
        from_ = ends[0];
        posix_spawn_file_actions_t files;
        posix_spawn_file_actions_init(&files);
        posix_spawn_file_actions_adddup2(&files, ends[1], kTold);
        posix_spawn_file_actions_addopen(&files, 0, "/dev/null", O_RDONLY, 0);
        posix_spawn_file_actions_addopen(&files, 1, "/dev/null", O_WRONLY, 0); // the library may talk
        std::vector<char*> argv{const_cast<char*>(program.c_str())};
        for (const std::string& w : words)
            argv.push_back(const_cast<char*>(w.c_str()));
        argv.push_back(nullptr);
        const int failed = ::posix_spawn(&id_, program.c_str(), &files, nullptr, argv.data(), environ);
        posix_spawn_file_actions_destroy(&files);
        ::close(ends[1]);
        if (failed) {
            id_ = -1;
            ::close(from_);
            throw Refused{say("the importer cannot be started: %s", std::string(std::strerror(failed)))};
        }
    }
    Child(const Child&) = delete;
    Child& operator=(const Child&) = delete;
    ~Child() {
        if (id_ > 0) {
            ::kill(id_, SIGKILL);
            (void)ended();
        }
        ::close(from_);
    }
    int from() const { return from_; }
    /// Waits for its end; how it ended, as waitpid tells it.
    int ended() {
        int status = 0;
        while (::waitpid(id_, &status, 0) < 0 && errno == EINTR) {
        }
        id_ = -1;
        return status;
    }

private:
    pid_t id_ = -1;
    int from_ = -1;
};

std::string whyItEnded(int status, const ImportLimits& limits) {
    if (WIFSIGNALED(status)) {
        const int signal = WTERMSIG(status);
        if (signal == SIGXCPU || signal == SIGKILL)
            return say("it was still being read after %s s, or took all memory",
                       std::to_string(limits.seconds));
        return say("the importer library crashed on it (%s)", std::string(::strsignal(signal)));
    }
    return say("the importer library gave up on it (%s)", std::to_string(WEXITSTATUS(status)));
}

// Beside the program; or beside the library this is in, where the program is somebody else's (Python).
std::string importerBeside() {
    namespace fs = std::filesystem;
    std::error_code error;
    std::vector<fs::path> places;
    const fs::path here = fs::read_symlink("/proc/self/exe", error).parent_path();
    if (!error)
        places = {here / "hobble-import", here / "../libexec/hobble/hobble-import"};
    Dl_info within{};
    if (::dladdr(reinterpret_cast<const void*>(&importerBeside), &within) && within.dli_fname) {
        const fs::path library = fs::absolute(within.dli_fname, error).parent_path();
        places.push_back(
            library / "../../../../libexec/hobble/hobble-import"); // PREFIX/lib/python3/dist-packages/hobble
        places.push_back(library / "../../bin/hobble-import");     // where it was built
    }
    for (const fs::path& place : places)
        if (::access(place.c_str(), X_OK) == 0)
            return place.string();
    return {};
}

std::uint64_t threeQuartersOfMemory() {
    return static_cast<std::uint64_t>(::sysconf(_SC_PHYS_PAGES)) *
           static_cast<std::uint64_t>(::sysconf(_SC_PAGE_SIZE)) / (1 << 20) * 3 / 4;
}

} // namespace

ImportedScene importApart(const std::string& path, const Progress& progress, const ImportLimits& limits) {
    const std::string program = limits.program.empty() ? importerBeside() : limits.program;
    if (program.empty())
        return importScene(path, progress);
    const std::uint64_t megabytes = limits.megabytes ? limits.megabytes : threeQuartersOfMemory();
    Child child(program, {path, std::to_string(limits.seconds), std::to_string(megabytes)});
    // It limits its own computing; one that sleeps is ended from here.
    const auto until =
        std::chrono::steady_clock::now() + std::chrono::seconds(limits.seconds + limits.seconds / 2);
    std::string got;
    for (;;) {
        stopIfAsked(progress);
        if (std::chrono::steady_clock::now() > until)
            throw Refused{say("it was still being read after %s s", std::to_string(limits.seconds))};
        pollfd waits{child.from(), POLLIN, 0};
        if (::poll(&waits, 1, 50) <= 0)
            continue;
        char chunk[1 << 16];
        const ssize_t n = ::read(child.from(), chunk, sizeof chunk);
        if (n < 0 && (errno == EINTR || errno == EAGAIN))
            continue;
        if (n <= 0)
            throw Refused{whyItEnded(child.ended(), limits)};
        got.append(chunk, static_cast<std::size_t>(n));
        while (got.size() >= kHead) {
            std::uint64_t size = 0;
            std::memcpy(&size, got.data() + 1, sizeof size);
            if (got.size() - kHead < size)
                break;
            const std::string_view said = std::string_view(got).substr(kHead, size);
            switch (static_cast<Says>(got[0])) {
            case Says::Progress: {
                double share = 0;
                if (said.size() == sizeof share)
                    std::memcpy(&share, said.data(), sizeof share);
                progress.at(std::clamp(share, 0.0, 1.0));
                break;
            }
            case Says::Refusal:
                throw Refused{std::string(said)};
            case Says::Scene:
                return unpackScene(said);
            default:
                throw Refused{say("the importer says what it should not")};
            }
            got.erase(0, kHead + size);
        }
    }
}

int serveImport(const std::string& path, int to, int seconds, std::uint64_t megabytes) {
    ::prctl(PR_SET_PDEATHSIG, SIGKILL); // who asked is gone
    const rlimit memory{megabytes << 20, megabytes << 20};
    const rlimit computing{static_cast<rlim_t>(seconds), static_cast<rlim_t>(seconds) + 5};
    const rlimit none{0, 0};
    if (megabytes > 0 && !kSanitized)
        ::setrlimit(RLIMIT_AS, &memory);
    if (seconds > 0)
        ::setrlimit(RLIMIT_CPU, &computing);
    ::setrlimit(RLIMIT_CORE, &none);
    std::signal(SIGPIPE, SIG_IGN);
    auto last = std::chrono::steady_clock::now() - std::chrono::seconds(1);
    Progress progress;
    progress.tell = [&](double share) {
        const auto now = std::chrono::steady_clock::now();
        if (now - last < std::chrono::milliseconds(50))
            return;
        last = now;
        tell(to, Says::Progress, std::string_view(reinterpret_cast<const char*>(&share), sizeof share));
    };
    try {
        return tell(to, Says::Scene, packScene(importScene(path, progress))) ? 0 : 1;
    } catch (const Refused& r) {
        return tell(to, Says::Refusal, r.cause) ? 0 : 1;
    } catch (const std::bad_alloc&) {
        return tell(to, Says::Refusal, say("it needs more memory than there is")) ? 0 : 1;
    }
}

} // namespace hobble
