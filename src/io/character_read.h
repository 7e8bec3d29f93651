#pragma once
// A character out of any file Hobble opens: glTF by itself, other formats through the importer library. Fails
// with a message naming the file and the cause; never aborts.
#include "core/character/character.h"
#include "core/progress.h"
#include "core/result.h"

#include <vector>

namespace hobble {

struct ReadSettings {
    double metresPerUnit = 0; // 0: as the file says, or as the size of the character suggests
    int up = -1;              // axis that is up: 0, 1, 2; -1: as the file says, or as the body stands
    bool meshNeeded = true;   // false: a skeleton with clips will do
    Progress progress;
};

/// What a person has said of a character's files, where these do not say it, or say it wrongly: of formats
/// that have no unit and axes of their own.
struct Placing {
    double metresPerUnit = 0; // 0: as the file says
    int up = -1;              // axis: 0, 1, 2; −1: as the file says
    bool operator==(const Placing&) const = default;
};
/// Holds for every file of that character (characterNameOf) that this program reads from now on, unless the
/// settings of a reading say otherwise. From any thread.
void keepPlacing(const std::string& character, const Placing& placing);
Placing placingOf(const std::string& character);
/// Whether the format leaves something to be said: glTF does not.
bool mayBePlaced(const std::string& path);

/// What opened: for glTF unit and axes are fixed by the format; for others the notes tell how they were
/// settled. The error is "stopped" (wasStopped) when the progress asked for it.
Result<Character> readCharacter(const std::string& path, const ReadSettings& settings = {});

/// What the character is called by its file: the name without its suffix and without a version at its end
/// ("badger_v012.fbx" → "badger"), so that its builds are known as one character's.
std::string characterNameOf(const std::string& path);

bool wasStopped(const Result<Character>& result);

/// The formats that are tested: suffixes as in file names, without the dot.
struct CharacterFormat {
    std::string name;
    std::vector<std::string> suffixes;
};
const std::vector<CharacterFormat>& characterFormats();

} // namespace hobble
