#include "io/character_read.h"

#include "core/ascii.h"
#include "core/character/body.h"
#include "core/words/say.h"
#include "io/content_hash.h"
#include "io/drivers_json.h"
#include "io/file_read.h"
#include "io/gltf_read.h"
#include "io/import_process.h"

#include <nlohmann/json.hpp>

#include <algorithm>
#include <cmath>
#include <filesystem>
#include <fstream>
#include <iterator>
#include <map>
#include <mutex>
#include <regex>

namespace hobble {

namespace {

constexpr const char* stoppedWord = "stopped";

std::string suffixOf(const std::string& path) {
    const std::string s = lowered(std::filesystem::path(path).extension().string());
    return s.empty() ? s : s.substr(1);
}

bool isFormat(const CharacterFormat& f, const std::string& suffix) {
    return std::find(f.suffixes.begin(), f.suffixes.end(), suffix) != f.suffixes.end();
}

std::string number(double x) { return say("%.3g", x); }

const char* axisName(const Vec3d& up) {
    int axis;
    up.cwiseAbs().maxCoeff(&axis);
    static const char* names[2][3] = {{"X", "Y", "Z"}, {"-X", "-Y", "-Z"}};
    return names[up[axis] < 0][axis];
}

// The turn that brings one of the axes upright.
Eigen::Matrix3d turnUp(const Vec3d& up) {
    int axis;
    up.cwiseAbs().maxCoeff(&axis);
    Vec3d from = Vec3d::Zero();
    from[axis] = up[axis] < 0 ? -1 : 1;
    if (from == Vec3d::UnitY())
        return Eigen::Matrix3d::Identity();
    if (from == -Vec3d::UnitY())
        return Eigen::AngleAxisd(M_PI, Vec3d::UnitX()).toRotationMatrix();
    return turnFromTo(from, Vec3d::UnitY()).toRotationMatrix().array().round().matrix();
}

double heightAlong(const Character& c, const Vec3d& up) {
    double low = 1e300, high = -1e300;
    for (const Vec3& p : c.neutral) {
        const double h = p.cast<double>().dot(up);
        low = std::min(low, h);
        high = std::max(high, h);
    }
    return high - low;
}

// Where the file does not say: metres if that makes a creature, else the unit that comes nearest to a man.
std::pair<double, const char*> likelyUnit(double height) {
    if (height >= 0.25 && height <= 6)
        return {1, "metres"};
    std::pair<double, const char*> best{1, "metres"};
    double nearest = 1e300;
    for (const auto& [metres, name] :
         {std::pair(1.0, "metres"), {0.01, "centimetres"}, {0.0254, "inches"}, {0.001, "millimetres"}}) {
        const double off = std::abs(std::log(height * metres / 1.7));
        if (off < nearest) {
            nearest = off;
            best = {metres, name};
        }
    }
    return best;
}

std::mutex g_placings;
std::map<std::string, Placing> g_placing; // by character

Character importCharacter(const std::string& path, ReadSettings settings) {
    const Progress& progress = settings.progress;
    const Placing said = placingOf(characterNameOf(path));
    if (settings.metresPerUnit <= 0)
        settings.metresPerUnit = said.metresPerUnit;
    if (settings.up < 0)
        settings.up = said.up;
    ImportedScene imported = importApart(path, progress.within(0, 0.7));
    std::vector<std::string> settled;
    Eigen::Matrix3d turned = imported.turned.value_or(Eigen::Matrix3d::Identity());
    double metres = imported.metresPerUnit.value_or(1);
    if (settings.up >= 0) {
        Vec3d up = Vec3d::Zero();
        up[settings.up] = 1;
        turned = turnUp(up);
        settled.push_back(say("The axis %s is taken as up, as asked.", axisName(up)));
    }
    if (settings.metresPerUnit > 0) {
        metres = settings.metresPerUnit;
        settled.push_back(say("A unit is taken as %s m, as asked.", number(metres)));
    }
    const bool askBody = settings.up < 0 && !imported.turned,
               askSize = settings.metresPerUnit <= 0 && !imported.metresPerUnit;
    if (askBody || askSize) {
        const Character asIs = characterOf(imported.scene, progress.within(0.7, 0.8));
        Vec3d up = turned.transpose() * Vec3d::UnitY();
        if (askBody) {
            const BodyFrame body = bodyFrame(asIs, guessRoles(asIs));
            up = body.up;
            turned = turnUp(up);
            settled.push_back(
                say("The file does not say which axis is up; %s is taken, %s.", axisName(up), body.basis));
        }
        if (askSize) {
            const double height = heightAlong(asIs, up.normalized());
            const auto [each, name] = likelyUnit(height);
            metres = each;
            settled.push_back(
                say("The file does not say its unit; at %s units high it is taken as %s (%s m).",
                    number(height), name, number(height * each)));
        }
    }
    if (imported.metresPerUnit && settings.metresPerUnit <= 0)
        settled.push_back(say("The file says that a unit is %s m.", number(metres)));
    if (imported.turned && settings.up < 0)
        settled.push_back(
            say("The file says that %s is up.", axisName(imported.turned->transpose() * Vec3d::UnitY())));
    settle(imported.scene, metres, turned);
    Character out = characterOf(std::move(imported.scene), progress.within(0.8, 1));
    out.notes.insert(out.notes.end(), settled.begin(), settled.end());
    if (!out.clips.empty() &&
        std::any_of(out.parts.begin(), out.parts.end(), [](const Part& p) { return !p.targets.empty(); }))
        out.notes.push_back(say("Shape targets keep their shapes but not their animation."));
    return out;
}

// "badger.drivers.json" beside badger.glb, or "drivers.json" for whatever lies there. It stands in place of
// the drivers the file itself may hold.
void readDriversBeside(Character& c) {
    const std::filesystem::path file(c.source);
    for (const auto& beside : {file.parent_path() / (file.stem().string() + ".drivers.json"),
                               file.parent_path() / "drivers.json"}) {
        std::error_code ec;
        if (!std::filesystem::is_regular_file(beside, ec))
            continue;
        const auto text = readFile(beside.string());
        if (!text) {
            c.notes.push_back(text.error());
            return;
        }
        const auto list = nlohmann::json::parse(*text, nullptr, false);
        const bool wrapped = list.is_object() && list.contains("drivers");
        if (list.is_discarded() || (!wrapped && !list.is_array())) {
            c.notes.push_back(
                say("%s is not a list of drivers; the build is tested without it.", beside.string()));
            return;
        }
        if (!c.drivers.empty())
            c.notes.push_back(
                say("%s stands in place of the drivers in the file itself.", beside.filename().string()));
        c.drivers = driversFromJson(wrapped ? list["drivers"] : list, c, c.notes);
        ContentHash hash; // other drivers make another build
        hash.add(c.hash);
        hash.add(*text);
        c.hash = hash.hex();
        FormerHash former;
        former.add(c.formerHash);
        former.add(*text);
        c.formerHash = former.hex();
        return;
    }
}

} // namespace

const std::vector<CharacterFormat>& characterFormats() {
    static const std::vector<CharacterFormat> all{
        {"glTF", {"glb", "gltf"}}, {"FBX", {"fbx"}},     {"COLLADA", {"dae"}}, {"X", {"x"}},
        {"B3D", {"b3d"}},          {"MD5", {"md5mesh"}}, {"SMD", {"smd"}}};
    return all;
}

std::string characterNameOf(const std::string& path) {
    const std::string stem = std::filesystem::path(path).stem().string();
    static const std::regex version("[-_. ]+(v|ver|version|b|build|rev|r)[-_. ]?[0-9]+$|[-_.][0-9]{2,4}$",
                                    std::regex::icase);
    const std::string name = std::regex_replace(stem, version, "");
    return name.empty() ? stem : name;
}

void keepPlacing(const std::string& character, const Placing& placing) {
    const std::lock_guard lock(g_placings);
    if (placing == Placing())
        g_placing.erase(character);
    else
        g_placing[character] = placing;
}

Placing placingOf(const std::string& character) {
    const std::lock_guard lock(g_placings);
    const auto it = g_placing.find(character);
    return it == g_placing.end() ? Placing() : it->second;
}

bool mayBePlaced(const std::string& path) { return !isFormat(characterFormats().front(), suffixOf(path)); }

bool wasStopped(const Result<Character>& result) { return result.error() == stoppedWord; }

Result<Character> readCharacter(const std::string& path, const ReadSettings& settings) {
    auto refuse = [&](const std::string& cause) { return Error{say("Cannot open %s: %s.", path, cause)}; };
    std::error_code ec;
    if (!std::filesystem::exists(path, ec))
        return refuse("there is no such file");
    if (std::filesystem::is_directory(path, ec))
        return refuse("it is a folder");
    if (!std::filesystem::is_regular_file(path, ec)) // a pipe may never end, or never begin
        return refuse("it is a pipe or a device, not a file");
    if (std::filesystem::file_size(path, ec) > kLargestFile && !ec)
        return refuse("it is larger than 4 GB");
    std::ifstream in(path, std::ios::binary);
    if (!in)
        return refuse("it may not be read");
    std::string bytes;
    const auto size = std::filesystem::file_size(path, ec);
    if (!ec)
        bytes.reserve(size);
    for (char chunk[1 << 16]; in.read(chunk, sizeof chunk) || in.gcount() > 0;) {
        bytes.append(chunk, static_cast<std::size_t>(in.gcount()));
        if (settings.progress.stopped())
            return Error{stoppedWord};
    }
    if (bytes.empty())
        return refuse("it is empty");

    const std::string suffix = suffixOf(path);
    const auto& formats = characterFormats();
    const auto format = std::find_if(formats.begin(), formats.end(),
                                     [&](const CharacterFormat& f) { return isFormat(f, suffix); });
    const bool gltf = bytes.compare(0, 4, "glTF") == 0 || format == formats.begin() ||
                      (format == formats.end() && bytes[0] == '{');
    if (!gltf && format == formats.end()) {
        std::string names;
        for (std::size_t i = 0; i < formats.size(); ++i)
            names += (i == 0 ? "" : i + 1 == formats.size() ? " and " : ", ") + formats[i].name;
        return refuse("Hobble opens " + names + " files, and it is none of these");
    }
    try {
        Character out;
        if (gltf) {
            out = readGltfBytes(path, bytes, settings.progress);
        } else {
            ContentHash hash;
            FormerHash former;
            hash.add(bytes);
            former.add(bytes);
            bytes = {};
            out = importCharacter(path, settings);
            out.hash = hash.hex();
            out.formerHash = former.hex();
        }
        if (out.parts.empty() && settings.meshNeeded)
            return refuse("it holds no mesh with triangles");
        out.source = path;
        out.name = characterNameOf(path);
        readDriversBeside(out);
        return out;
    } catch (const Refused& r) {
        return refuse(r.cause);
    } catch (const Stopped&) {
        return Error{stoppedWord};
    } catch (const std::bad_alloc&) {
        return refuse("it needs more memory than there is");
    }
}

} // namespace hobble
