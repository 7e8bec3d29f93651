#include "io/clip_read.h"

#include "core/ascii.h"
#include "core/words/say.h"
#include "io/bvh_read.h"
#include "io/character_read.h"
#include "io/content_hash.h"

#include <nlohmann/json.hpp>

#include <algorithm>
#include <cmath>
#include <filesystem>

namespace hobble {

namespace {

bool isBvh(const std::string& path) {
    return lowered(std::filesystem::path(path).extension().string()) == ".bvh";
}

// A file with keys says no frame rate: the usual time between two keys does.
double rateOf(const std::vector<Clip>& clips) {
    std::vector<double> steps;
    for (const Clip& clip : clips)
        for (const ClipChannel& ch : clip.channels)
            for (std::size_t i = 1; i < ch.time.size() && steps.size() < 100000; ++i)
                if (ch.time[i] - ch.time[i - 1] > 1e-5f)
                    steps.push_back(static_cast<double>(ch.time[i] - ch.time[i - 1]));
    if (steps.empty())
        return 30;
    const auto low = steps.begin() + static_cast<std::ptrdiff_t>(steps.size() / 10);
    std::nth_element(steps.begin(), low, steps.end());
    const double rate = 1 / *low;
    for (const double usual : {24.0, 25.0, 30.0, 48.0, 50.0, 60.0, 100.0, 120.0})
        if (std::abs(rate - usual) < 0.02 * usual)
            return usual;
    return rate < 24 ? 24 : rate; // sparse keys are looked at in between too
}

} // namespace

std::size_t ClipFile::frameCount(const Clip& clip) const {
    return static_cast<std::size_t>(std::max(0.0, std::floor(clip.seconds * framesPerSecond + 1e-3))) + 1;
}

Result<ClipFile> readClips(const std::string& path, const Progress& progress) {
    ClipFile out;
    if (isBvh(path)) {
        auto capture = readBvh(path, progress);
        if (!capture)
            return Error{capture.error()};
        out.body.name = characterNameOf(path);
        out.body.skeleton = std::move(capture->skeleton);
        out.body.clips.push_back(std::move(capture->clip));
        out.notes = std::move(capture->notes);
        if (capture->secondsPerFrame > 0)
            out.framesPerSecond = 1 / capture->secondsPerFrame;
    } else {
        ReadSettings settings;
        settings.progress = progress;
        settings.meshNeeded = false;
        auto read = readCharacter(path, settings);
        if (!read)
            return Error{read.error()};
        out.body.name = read->name;
        out.body.skeleton = std::move(read->skeleton);
        out.body.clips = std::move(read->clips);
        for (Clip& clip : out.body.clips) // weights of shapes belong to that file's own mesh
            clip.channels.erase(std::remove_if(clip.channels.begin(), clip.channels.end(),
                                               [](const ClipChannel& ch) { return ch.joint < 0; }),
                                clip.channels.end());
        out.framesPerSecond = rateOf(out.body.clips);
    }
    out.body.source = path;
    if (out.body.clips.empty() || out.body.skeleton.size() == 0)
        return Error{say("Cannot take a clip from %s: there is no animation of joints in it.", path)};
    const double hours = out.body.clips.front().seconds / 3600;
    if (hours > 1) {
        out.notes.push_back(
            say("The clip is %.1f hours long; only every n-th frame of it is looked at.", hours));
    }
    return out;
}

std::string jointMapToJson(const std::map<std::string, std::string>& said) {
    return nlohmann::json{{"format", "hobble-joint-map"}, {"version", 1}, {"joints", said}}.dump(1) + "\n";
}

Result<std::map<std::string, std::string>> jointMapFromJson(const std::string& text) {
    const auto in = nlohmann::json::parse(text, nullptr, false);
    if (in.is_discarded() || !in.is_object() || in.value("format", "") != "hobble-joint-map")
        return Error{say("it is not a Hobble joint map")};
    try {
        if (in.at("version").get<int>() != 1)
            return Error{say("it is a joint map of another version; this Hobble reads version 1")};
        return in.at("joints").get<std::map<std::string, std::string>>();
    } catch (const nlohmann::json::exception& e) {
        return Error{say("something is missing or of the wrong type: %s", e.what())};
    }
}

std::string skeletonKey(const Skeleton& sk) {
    FormerHash hash; // maps that were kept go by it
    for (std::size_t j = 0; j < sk.name.size(); ++j)
        hash.add(sk.name[j] + "\n" + std::to_string(sk.parent[j]) + "\n");
    return hash.hex();
}

} // namespace hobble
