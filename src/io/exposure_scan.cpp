#include "io/exposure_scan.h"

#include "core/pose/retarget.h"
#include "io/bytes.h"
#include "io/clip_folder.h"
#include "io/clip_read.h"
#include "io/content_hash.h"
#include "io/file_read.h"
#include "io/file_write.h"

#include <tbb/parallel_for.h>
#include <tbb/task_arena.h>

#include <algorithm>
#include <atomic>
#include <chrono>
#include <filesystem>
#include <mutex>
#include <unordered_map>

namespace hobble {

namespace {

namespace fs = std::filesystem;

constexpr char kMagic[8] = {'h', 'o', 'b', 'b', 'l', 'e', 'U', '1'}; // a new number when counting changes
constexpr std::size_t kFramesAtOnce = 256;
constexpr auto kSaveEvery = std::chrono::seconds(20);

struct FileMark { // by which a file is known without reading it
    std::uint64_t size = 0;
    std::int64_t changed = 0; // of the file system's clock
    bool operator==(const FileMark&) const = default;
};

struct FileUse {
    std::string path, content; // content: cacheKey of its bytes
    FileMark mark;
    std::string skeleton, said; // skeletonKey of its clips, and the joint map they were carried by
    std::vector<ClipUse> clips;
    std::string trouble;
};

std::string wordsOf(const std::map<std::string, std::string>& said) {
    std::string out;
    for (const auto& [mine, theirs] : said)
        out += mine + "=" + theirs + "\n";
    return out;
}

FileMark markOf(const std::string& path) {
    std::error_code error;
    FileMark out;
    out.size = fs::file_size(path, error);
    out.changed = fs::last_write_time(path, error).time_since_epoch().count();
    return out;
}

std::string pack(const FileUse& use) {
    ByteWriter p;
    p.word(use.path);
    p.word(use.content);
    p.number(use.mark);
    for (const std::string& word : {use.skeleton, use.said, use.trouble})
        p.word(word);
    p.number(static_cast<std::uint64_t>(use.clips.size()));
    for (const ClipUse& clip : use.clips) {
        p.word(clip.clip);
        p.number(clip.framesPerSecond);
        p.number(clip.frames);
        p.number(static_cast<char>(clip.asItIs));
        p.number(static_cast<std::uint64_t>(clip.notes.size()));
        for (const std::string& note : clip.notes)
            p.word(note);
        for (const MotionUse& m : clip.motions) {
            p.number(static_cast<char>(m.told));
            p.list(m.frames);
            p.list(m.first);
        }
    }
    return std::move(p.bytes);
}

FileUse unpack(ByteReader& u, std::size_t motions) {
    FileUse use;
    use.path = u.word();
    use.content = u.word();
    use.mark = u.number<FileMark>();
    for (std::string* word : {&use.skeleton, &use.said, &use.trouble})
        *word = u.word();
    use.clips.resize(u.count(32));
    for (ClipUse& clip : use.clips) {
        clip.file = use.path;
        clip.clip = u.word();
        clip.framesPerSecond = u.number<double>();
        clip.frames = u.number<std::uint32_t>();
        clip.asItIs = u.number<char>() != 0;
        clip.notes.resize(u.count(8));
        for (std::string& note : clip.notes)
            note = u.word();
        clip.motions.resize(motions);
        for (MotionUse& m : clip.motions) {
            m.told = u.number<char>() != 0;
            u.list(m.frames);
            u.list(m.first);
            u.good = u.good && m.frames.size() == m.first.size();
        }
    }
    return use;
}

// One file per character and plan: all that was counted for them, by content.
class Kept {
public:
    Kept(const std::string& folder, const std::string& key, std::size_t motions)
        : key_(std::string(kMagic, sizeof kMagic) + key) {
        if (folder.empty())
            return;
        std::error_code error;
        fs::create_directories(folder, error);
        path_ = folder + "/" + key + ".use";
        const auto bytes = readFile(path_);
        if (!bytes || !bytes->starts_with(key_))
            return;
        const std::string_view body = std::string_view(*bytes).substr(key_.size());
        if (body.size() < 32 || body.substr(0, 32) != cacheKey(body.substr(32)))
            return;
        ByteReader u(body.substr(32));
        while (u.good && !u.done())
            if (FileUse use = unpack(u, motions); u.good)
                add(std::move(use));
        unsaved_ = false;
    }

    // Null when it was never counted.
    std::shared_ptr<const FileUse> unchanged(const std::string& path, const FileMark& mark) const {
        const std::lock_guard lock(guard_);
        const auto it = byPath_.find(path);
        return it != byPath_.end() && it->second->mark == mark ? it->second : nullptr;
    }
    std::shared_ptr<const FileUse> ofContent(const std::string& content) const {
        const std::lock_guard lock(guard_);
        const auto it = byContent_.find(content);
        return it != byContent_.end() ? it->second : nullptr;
    }
    std::shared_ptr<const FileUse> add(FileUse use) {
        auto kept = std::make_shared<const FileUse>(std::move(use));
        const std::lock_guard lock(guard_);
        byPath_[kept->path] = kept;
        byContent_[kept->content] = kept;
        unsaved_ = true;
        return kept;
    }
    void saveNowAndThen() {
        {
            const std::lock_guard lock(guard_);
            const auto now = std::chrono::steady_clock::now();
            if (now - saved_ < kSaveEvery)
                return;
            saved_ = now;
        }
        save();
    }
    void save() {
        if (path_.empty())
            return;
        ByteWriter p;
        {
            const std::lock_guard lock(guard_);
            if (!std::exchange(unsaved_, false))
                return;
            for (const auto& [path, use] : byPath_)
                p.bytes += pack(*use);
        }
        const std::lock_guard lock(writing_);
        (void)writeFile(path_, key_ + cacheKey(p.bytes) + p.bytes); // a full disk only means counting again
    }

private:
    std::string key_, path_;
    mutable std::mutex guard_;
    std::mutex writing_;
    std::map<std::string, std::shared_ptr<const FileUse>> byPath_;
    std::unordered_map<std::string, std::shared_ptr<const FileUse>> byContent_;
    bool unsaved_ = false;
    std::chrono::steady_clock::time_point saved_ = std::chrono::steady_clock::now();
};

// Which joints of the target a clip tells of.
std::vector<char> turnedBy(const Clip& clip, const Retargeter& carrier, std::size_t joints) {
    std::vector<char> has(carrier.source().skeleton.name.size(), 0), out(joints, 0);
    for (const ClipChannel& ch : clip.channels)
        if (ch.joint >= 0 && ch.path == ClipChannel::Path::Rotation && !ch.time.empty())
            has[static_cast<std::size_t>(ch.joint)] = 1;
    for (std::size_t j = 0; j < joints; ++j) {
        const int from = carrier.asItIs() ? static_cast<int>(j) : carrier.map()[j].joint;
        out[j] = from >= 0 && has[static_cast<std::size_t>(from)];
    }
    return out;
}

bool hasTargets(const Clip& clip) {
    return std::any_of(clip.channels.begin(), clip.channels.end(), [](const ClipChannel& ch) {
        return ch.path == ClipChannel::Path::Weights && !ch.time.empty();
    });
}

class Scanner {
public:
    Scanner(const Character& character, const std::vector<JointRole>& roles, const Plan& plan,
            const ScanSettings& settings, const Progress& progress)
        : c_(character), roles_(roles), ranges_(jointRanges(character, roles, plan)),
          extents_(character, roles, plan), settings_(settings), progress_(progress),
          kept_(settings.cacheFolder, key(), extents_.motionCount()) {
        for (const Motion& m : plan.motions)
            out_.exposure.motionIds.push_back(m.id);
    }

    Scan scan() {
        const std::vector<std::string> files = clipFilesIn(settings_.places, out_.notes);
        std::vector<FileMark> marks;
        for (const std::string& file : files)
            marks.push_back(markOf(file));
        std::vector<std::shared_ptr<const FileUse>> uses(files.size());
        eachFile(marks, [&](std::size_t i) { uses[i] = use(files[i], marks[i]); });
        kept_.save();
        out_.files = files.size();
        out_.counted = counted_;
        out_.stopped = progress_.stopped();
        for (std::size_t i = 0; i < files.size(); ++i) {
            if (!uses[i])
                continue;
            if (!uses[i]->trouble.empty())
                out_.exposure.troubles.push_back({files[i], uses[i]->trouble});
            for (ClipUse clip : uses[i]->clips) {
                clip.file = files[i];
                out_.exposure.clips.push_back(std::move(clip));
            }
        }
        return std::move(out_);
    }

    std::vector<Meeting> meetings(const Exposure& exposure, const Plan& plan, const RunResult& run,
                                  std::size_t most) {
        const MeetingFinder finder(extents_, plan, run);
        std::map<std::string, std::vector<const ClipUse*>> asked; // clips of a file that go far enough
        for (const ClipUse& clip : exposure.clips)
            if (finder.mayMeet(clip))
                asked[clip.file].push_back(&clip);
        const std::vector<std::pair<std::string, std::vector<const ClipUse*>>> files(asked.begin(),
                                                                                     asked.end());
        std::vector<FileMark> marks;
        for (const auto& [file, clips] : files)
            marks.push_back(markOf(file));
        std::vector<std::vector<Meeting>> found(files.size());
        eachFile(marks, [&](std::size_t i) {
            found[i] = worstMeetings(meetingsIn(files[i].first, files[i].second, finder), most);
        });
        std::vector<Meeting> all;
        for (std::vector<Meeting>& some : found)
            all.insert(all.end(), std::make_move_iterator(some.begin()), std::make_move_iterator(some.end()));
        return worstMeetings(std::move(all), most);
    }

private:
    const Character& c_;
    const std::vector<JointRole>& roles_;
    const std::vector<JointRange> ranges_;
    const MotionExtents extents_;
    const ScanSettings& settings_;
    const Progress& progress_;
    Kept kept_;
    std::atomic<std::size_t> counted_{0};
    Scan out_;

    // Of all that counts depend on besides the clips and their joint maps.
    std::string key() const {
        ByteWriter p;
        p.bytes = std::string(kMagic, sizeof kMagic) + extents_.key();
        for (std::size_t j = 0; j < c_.skeleton.name.size(); ++j) {
            p.word(c_.skeleton.name[j]);
            p.number(c_.skeleton.parent[j]);
            for (const Vec3d& column : {Vec3d(c_.skeleton.neutralLocal[j].translation()),
                                        Vec3d(c_.skeleton.neutralLocal[j].linear().col(0)),
                                        Vec3d(c_.skeleton.neutralLocal[j].linear().col(1))})
                for (double x : column)
                    p.number(x);
            const JointRole& r = roles_[j];
            p.number(static_cast<int>(r.role));
            p.number(static_cast<int>(r.side));
            p.number(static_cast<char>(r.fore));
            p.number(r.digit);
            p.number(r.segment);
        }
        return cacheKey(p.bytes);
    }

    std::map<std::string, std::string> saidFor(const std::string& skeleton) const {
        return settings_.jointMap ? settings_.jointMap(skeleton) : std::map<std::string, std::string>();
    }
    RetargetSettings carryOf(const std::string& skeleton) const {
        RetargetSettings out;
        out.said = saidFor(skeleton);
        out.moveHips = false;
        return out;
    }
    bool holds(const FileUse& use) const { return use.said == wordsOf(saidFor(use.skeleton)); }

    std::shared_ptr<const FileUse> use(const std::string& path, const FileMark& mark) {
        if (auto known = kept_.unchanged(path, mark); known && holds(*known))
            return known;
        FileUse use;
        use.path = path;
        use.mark = mark;
        try {
            const auto bytes = readFile(path);
            if (!bytes) { // and is tried again next time
                use.trouble = bytes.error();
                return std::make_shared<const FileUse>(std::move(use));
            }
            use.content = cacheKey(*bytes);
            if (const auto known = kept_.ofContent(use.content); known && holds(*known)) {
                use.skeleton = known->skeleton;
                use.said = known->said;
                use.clips = known->clips;
                use.trouble = known->trouble;
                return kept_.add(std::move(use));
            }
            ++counted_;
            if (!count(use))
                return nullptr;
        } catch (const std::bad_alloc&) {
            use.clips.clear();
            use.trouble = "Cannot read " + path + ": it needs more memory than there is.";
            return std::make_shared<const FileUse>(std::move(use));
        }
        const auto out = kept_.add(std::move(use));
        kept_.saveNowAndThen();
        return out;
    }

    // In parallel, until it is stopped; told by the bytes that are done.
    template <class Work> void eachFile(const std::vector<FileMark>& marks, const Work& work) const {
        std::uint64_t bytes = 0, done = 0;
        for (const FileMark& mark : marks)
            bytes += mark.size;
        std::mutex telling;
        tbb::task_arena arena(settings_.threads > 0 ? settings_.threads : tbb::task_arena::automatic);
        arena.execute([&] {
            tbb::parallel_for(std::size_t{0}, marks.size(), [&](std::size_t i) {
                if (progress_.stopped())
                    return;
                work(i);
                const std::lock_guard lock(telling);
                done += marks[i].size;
                progress_.at(bytes > 0 ? static_cast<double>(done) / static_cast<double>(bytes) : 1);
            });
        });
    }

    // A few frames at a time, so that memory does not grow with a clip. False when it was stopped.
    template <class Each>
    bool eachPose(const ClipFile& read, const Clip& clip, const Retargeter& carrier, const Each& each) const {
        const Progress quiet{progress_.cancel, {}};
        const std::size_t frames = read.frameCount(clip);
        std::vector<double> seconds;
        for (std::size_t f = 0; f < frames;) {
            seconds.clear();
            for (; f < frames && seconds.size() < kFramesAtOnce; ++f)
                seconds.push_back(read.secondsAt(f));
            for (const Pose& pose : carrier.poses(seconds, quiet))
                each(pose);
            if (progress_.stopped())
                return false;
        }
        return true;
    }

    std::vector<Meeting> meetingsIn(const std::string& path, const std::vector<const ClipUse*>& uses,
                                    MeetingFinder finder) const {
        std::vector<Meeting> out;
        const auto read = readClips(path, Progress{progress_.cancel, {}});
        if (!read) // it could be read when it was counted
            return out;
        const RetargetSettings carry = carryOf(skeletonKey(read->body.skeleton));
        for (const Clip& clip : read->body.clips) {
            const auto use = std::find_if(uses.begin(), uses.end(),
                                          [&](const ClipUse* u) { return u->clip == clip.name; });
            if (use == uses.end())
                continue;
            finder.begin(**use);
            const Retargeter carrier(read->body, clip, c_, roles_, ranges_, carry);
            if (!eachPose(*read, clip, carrier, [&](const Pose& pose) { finder.add(pose); }))
                return out;
            for (Meeting& meeting : finder.finish())
                out.push_back(std::move(meeting));
        }
        return out;
    }

    // False when it was stopped.
    bool count(FileUse& use) const {
        const Progress quiet{progress_.cancel, {}};
        const auto read = readClips(use.path, quiet);
        if (progress_.stopped())
            return false;
        if (!read) {
            use.trouble = read.error();
            return true;
        }
        use.skeleton = skeletonKey(read->body.skeleton);
        const RetargetSettings carry = carryOf(use.skeleton);
        use.said = wordsOf(carry.said);
        for (const Clip& clip : read->body.clips) {
            const Retargeter carrier(read->body, clip, c_, roles_, ranges_, carry);
            ClipUseCounter counter(extents_);
            if (!eachPose(*read, clip, carrier, [&](const Pose& pose) { counter.add(pose); }))
                return false;
            ClipUse counted =
                counter.finish(turnedBy(clip, carrier, c_.skeleton.name.size()), hasTargets(clip));
            counted.file = use.path;
            counted.clip = clip.name;
            counted.framesPerSecond = read->framesPerSecond;
            counted.asItIs = carrier.asItIs();
            counted.notes = carrier.notes();
            use.clips.push_back(std::move(counted));
        }
        return true;
    }
};

} // namespace

Scan scanClips(const Character& character, const std::vector<JointRole>& roles, const Plan& plan,
               const ScanSettings& settings, const Progress& progress) {
    return Scanner(character, roles, plan, settings, progress).scan();
}

std::vector<Meeting> findMeetings(const Character& character, const std::vector<JointRole>& roles,
                                  const Plan& plan, const RunResult& run, const Exposure& exposure,
                                  const ScanSettings& settings, std::size_t most, const Progress& progress) {
    ScanSettings reading = settings;
    reading.cacheFolder.clear();
    return Scanner(character, roles, plan, reading, progress).meetings(exposure, plan, run, most);
}

} // namespace hobble
