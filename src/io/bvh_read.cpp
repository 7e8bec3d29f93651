#include "io/bvh_read.h"

#include "core/words/say.h"
#include "io/file_read.h"
#include "io/file_scene.h"

#include <charconv>
#include <cmath>
#include <string_view>

namespace hobble {

namespace {

// More values than this (1 GB) are not kept: an hour of a hundred channels at 120 frames a second is a sixth.
constexpr std::size_t kMostValues = std::size_t(1) << 28;

class Words {
public:
    explicit Words(std::string_view text) : text_(text) {}

    std::string_view next() {
        skipBlanks();
        const std::size_t from = at_;
        while (at_ < text_.size() && !blank(text_[at_]))
            ++at_;
        return text_.substr(from, at_ - from);
    }
    std::string_view peek() {
        const auto [at, line] = std::pair(at_, line_);
        const std::string_view word = next();
        at_ = at;
        line_ = line;
        return word;
    }
    /// What is left of the line: a joint's name may have blanks in it.
    std::string_view restOfLine() {
        while (at_ < text_.size() && (text_[at_] == ' ' || text_[at_] == '\t'))
            ++at_;
        const std::size_t from = at_;
        while (at_ < text_.size() && text_[at_] != '\n' && text_[at_] != '\r' && text_[at_] != '{')
            ++at_;
        std::size_t to = at_;
        while (to > from && blank(text_[to - 1]))
            --to;
        return text_.substr(from, to - from);
    }
    double number(const char* what) {
        const std::string_view word = next();
        double x = 0;
        const auto [end, error] = std::from_chars(word.data(), word.data() + word.size(), x);
        if (word.empty() || error != std::errc() || end != word.data() + word.size() || !std::isfinite(x))
            throw Refused{say("%s: '%s' should be %s", where(), std::string(word.substr(0, 40)), what)};
        return x;
    }
    void expect(std::string_view word) {
        const std::string_view got = next();
        if (got != word)
            throw Refused{say("%s: '%s' is expected, not '%s'", where(), std::string(word),
                              std::string(got.substr(0, 40)))};
    }
    bool done() { return peek().empty(); }
    double share() const {
        return text_.empty() ? 1 : static_cast<double>(at_) / static_cast<double>(text_.size());
    }
    std::string where() const { return "line " + std::to_string(line_); }

private:
    static bool blank(char c) { return c == ' ' || c == '\t' || c == '\n' || c == '\r'; }
    void skipBlanks() {
        while (at_ < text_.size() && blank(text_[at_]))
            line_ += text_[at_++] == '\n';
    }
    std::string_view text_;
    std::size_t at_ = 0, line_ = 1;
};

struct Channel {
    int joint;
    bool rotation;
    int axis;
};

class Reader {
public:
    Reader(std::string_view text, const Progress& progress) : words_(text), progress_(progress) {}

    MotionCapture read() {
        words_.expect("HIERARCHY");
        while (words_.peek() == "ROOT") {
            words_.next();
            joint(-1);
        }
        if (out_.skeleton.size() == 0)
            throw Refused{say("%s: there is no ROOT", words_.where())};
        finishSkeleton();
        if (words_.done()) {
            out_.notes.push_back(say("The file has a skeleton but no motion."));
            return std::move(out_);
        }
        motion();
        return std::move(out_);
    }

private:
    Words words_;
    const Progress& progress_;
    MotionCapture out_;
    std::vector<Channel> channels_;

    int add(std::string name, int parent) {
        Skeleton& sk = out_.skeleton;
        if (sk.size() >= 65535)
            throw Refused{say("%s: there are more than 65,535 joints", words_.where())};
        if (name.empty())
            name = "joint " + std::to_string(sk.size());
        for (int k = 2; sk.find(name) >= 0; ++k)
            name = name.substr(0, name.rfind(" (")) + " (" + std::to_string(k) + ")";
        sk.name.push_back(std::move(name));
        sk.parent.push_back(parent);
        sk.neutralLocal.push_back(Transform::Identity());
        return sk.size() - 1;
    }

    void offset(int j) {
        words_.expect("OFFSET");
        Vec3d at;
        for (int k = 0; k < 3; ++k)
            at[k] = words_.number("a length");
        out_.skeleton.neutralLocal[j].translation() = at;
    }

    // Without recursion: a hostile file may nest as deep as it likes.
    void joint(int root) {
        std::vector<int> open; // joints whose braces are not closed
        int parent = root;
        bool end = false;
        while (true) {
            const std::string name(words_.restOfLine());
            const int j = add(end ? out_.skeleton.name[parent] + " end" : name, parent);
            words_.expect("{");
            offset(j);
            open.push_back(j);
            if (!end && words_.peek() == "CHANNELS")
                channels(j);
            while (words_.peek() == "}") {
                words_.next();
                open.pop_back();
                if (open.empty())
                    return;
            }
            const std::string_view word = words_.next();
            end = word == "End";
            if (word != "JOINT" && !end)
                throw Refused{say("%s: JOINT, End Site or '}' is expected, not '%s'", words_.where(),
                                  std::string(word.substr(0, 40)))};
            parent = open.back();
        }
    }

    void channels(int j) {
        words_.next();
        const double count = words_.number("the number of channels");
        if (count < 0 || count > 6 || count != std::floor(count))
            throw Refused{say("%s: a joint has 0 to 6 channels", words_.where())};
        for (int k = 0; k < static_cast<int>(count); ++k) {
            const std::string_view word = words_.next();
            const int axis = word.empty()     ? -1
                             : word[0] == 'X' ? 0
                             : word[0] == 'Y' ? 1
                             : word[0] == 'Z' ? 2
                                              : -1;
            const std::string_view rest = word.empty() ? word : word.substr(1);
            if (axis < 0 || (rest != "rotation" && rest != "position"))
                throw Refused{say("%s: '%s' is no channel", words_.where(), std::string(word.substr(0, 40)))};
            channels_.push_back({j, rest == "rotation", axis});
        }
    }

    void finishSkeleton() {
        Skeleton& sk = out_.skeleton;
        for (int j = 0; j < sk.size(); ++j)
            sk.neutralWorld.push_back(sk.parent[j] < 0 ? sk.neutralLocal[j]
                                                       : sk.neutralWorld[sk.parent[j]] * sk.neutralLocal[j]);
        sk.restWorld = sk.neutralWorld;
    }

    void motion() {
        words_.expect("MOTION");
        words_.expect("Frames:");
        const double claimed = words_.number("the number of frames");
        words_.expect("Frame");
        words_.expect("Time:");
        out_.secondsPerFrame = words_.number("the seconds of a frame");
        if (out_.secondsPerFrame <= 0) {
            out_.secondsPerFrame = 1.0 / 30;
            out_.notes.push_back(say("The frame time is not positive; 30 frames a second are assumed."));
        }
        const int joints = out_.skeleton.size();
        std::vector<int> rotation(joints, -1), position(joints, -1); // clip channel of each joint
        for (const Channel& c : channels_) {
            int& index = c.rotation ? rotation[c.joint] : position[c.joint];
            if (index >= 0)
                continue;
            index = static_cast<int>(out_.clip.channels.size());
            ClipChannel channel;
            channel.joint = c.joint;
            channel.path = c.rotation ? ClipChannel::Path::Rotation : ClipChannel::Path::Translation;
            out_.clip.channels.push_back(channel);
        }
        const std::size_t most = kMostValues / std::max<std::size_t>(1, channels_.size());
        std::vector<Quat> turn(joints);
        std::vector<Vec3d> at(joints);
        while (!words_.done()) {
            if (out_.frames == most) {
                out_.notes.push_back(say("Only the first %s frames are read.", std::to_string(most)));
                break;
            }
            for (int j = 0; j < joints; ++j) {
                turn[j] = Quat::Identity();
                at[j] = out_.skeleton.neutralLocal[j].translation();
            }
            bool whole = true;
            for (const Channel& c : channels_) {
                if (words_.done()) {
                    whole = false;
                    break;
                }
                const double x = words_.number("a number of the motion");
                if (c.rotation)
                    turn[c.joint] =
                        turn[c.joint] * Quat(Eigen::AngleAxisd(radians(x), Vec3d(Vec3d::Unit(c.axis))));
                else
                    at[c.joint][c.axis] = x;
            }
            if (!whole) {
                out_.notes.push_back(say("The last frame is cut short and left out."));
                break;
            }
            if (channels_.empty()) // words without a channel to hold them
                throw Refused{say("%s: there is motion but no channel", words_.where())};
            const auto time = static_cast<float>(static_cast<double>(out_.frames) * out_.secondsPerFrame);
            for (ClipChannel& channel : out_.clip.channels) {
                channel.time.push_back(time);
                if (channel.path == ClipChannel::Path::Rotation)
                    for (int k = 0; k < 4; ++k)
                        channel.value.push_back(
                            static_cast<float>(turn[channel.joint].normalized().coeffs()[k]));
                else
                    for (int k = 0; k < 3; ++k)
                        channel.value.push_back(static_cast<float>(at[channel.joint][k]));
            }
            ++out_.frames;
            if (out_.frames % 256 == 0) {
                progress_.at(words_.share());
                stopIfAsked(progress_);
            }
        }
        if (static_cast<double>(out_.frames) != claimed)
            out_.notes.push_back(
                say("The file promises %s frames and holds %s.",
                    std::to_string(static_cast<long long>(claimed < 1e15 && claimed > -1e15 ? claimed : 0)),
                    std::to_string(out_.frames)));
        out_.clip.seconds = out_.frames ? static_cast<double>(out_.frames - 1) * out_.secondsPerFrame : 0;
    }
};

} // namespace

Result<MotionCapture> bvhFromText(const std::string& text, const Progress& progress) {
    try {
        return Reader(text, progress).read();
    } catch (const Refused& r) {
        return Error{r.cause};
    } catch (const Stopped&) {
        return Error{say("stopped")};
    } catch (const std::bad_alloc&) {
        return Error{say("it needs more memory than there is")};
    }
}

Result<MotionCapture> readBvh(const std::string& path, const Progress& progress) {
    const auto text = readFile(path);
    if (!text)
        return Error{text.error()};
    auto out = bvhFromText(*text, progress);
    if (!out)
        return Error{say("Cannot open %s: %s.", path, out.error())};
    const auto slash = path.find_last_of('/'), dot = path.find_last_of('.');
    const std::size_t from = slash == std::string::npos ? 0 : slash + 1;
    out->clip.name =
        path.substr(from, dot == std::string::npos || dot < from ? std::string::npos : dot - from);
    return out;
}

} // namespace hobble
