#include "core/words/motion_words.h"

#include "core/words/say.h"

#include <array>

namespace hobble {

namespace {

// What a part does. The longest comes first: "bend up" before "up".
constexpr std::array kWays{tableWord("%s bend other side"),
                           tableWord("%s bend one side"),
                           tableWord("%s straighten"),
                           tableWord("%s bend front"),
                           tableWord("%s bend back"),
                           tableWord("%s bend down"),
                           tableWord("%s roll out"),
                           tableWord("%s roll in"),
                           tableWord("%s bend in"),
                           tableWord("%s bend up"),
                           tableWord("%s spread"),
                           tableWord("%s front"),
                           tableWord("%s raise"),
                           tableWord("%s lower"),
                           tableWord("%s sweep"),
                           tableWord("%s twist"),
                           tableWord("%s down"),
                           tableWord("%s back"),
                           tableWord("%s tilt"),
                           tableWord("%s turn"),
                           tableWord("%s open"),
                           tableWord("%s flex"),
                           tableWord("%s curl"),
                           tableWord("%s fold"),
                           tableWord("%s side"),
                           tableWord("%s roll"),
                           tableWord("%s out"),
                           tableWord("%s nod"),
                           tableWord("%s cup"),
                           tableWord("%s up"),
                           tableWord("%s in")};

// The parts that do it, and the whole poses: found by the tools that gather what is to be translated.
[[maybe_unused]] constexpr std::array kParts{
    tableWord("head"),        tableWord("neck"),     tableWord("spine"),      tableWord("tail"),
    tableWord("trunk"),       tableWord("fin"),      tableWord("eye"),        tableWord("ear"),
    tableWord("ear tip"),     tableWord("jaw"),      tableWord("upper lid"),  tableWord("lower lid"),
    tableWord("tongue"),      tableWord("shoulder"), tableWord("collarbone"), tableWord("scapula"),
    tableWord("elbow"),       tableWord("wrist"),    tableWord("palm"),       tableWord("hip"),
    tableWord("knee"),        tableWord("hock"),     tableWord("ankle"),      tableWord("fetlock"),
    tableWord("toes"),        tableWord("toe"),      tableWord("fingers"),    tableWord("finger"),
    tableWord("thumb"),       tableWord("index"),    tableWord("ring"),       tableWord("little"),
    tableWord("base"),        tableWord("middle"),   tableWord("tip"),        tableWord("wing root"),
    tableWord("wing middle"), tableWord("wing tip"), tableWord("feather")};
[[maybe_unused]] constexpr std::array kPoses{tableWord("sit"),
                                             tableWord("deep crouch"),
                                             tableWord("lunge"),
                                             tableWord("leg high with knee bent"),
                                             tableWord("leg back"),
                                             tableWord("arms overhead"),
                                             tableWord("arms crossed"),
                                             tableWord("reach across"),
                                             tableWord("body twist"),
                                             tableWord("side bend"),
                                             tableWord("jaw open with head up"),
                                             tableWord("fist"),
                                             tableWord("splay"),
                                             tableWord("on all fours"),
                                             tableWord("tail curl"),
                                             tableWord("squint with smile"),
                                             tableWord("blink"),
                                             tableWord("sit down"),
                                             tableWord("bow"),
                                             tableWord("lie"),
                                             tableWord("gather"),
                                             tableWord("wings folded"),
                                             tableWord("wings spread"),
                                             tableWord("full plan")};

std::string partName(const std::string& part) {
    const std::string own = translated(part.c_str());
    const auto space = part.rfind(' ');
    if (own != part || space == std::string::npos)
        return own;
    return partName(part.substr(0, space)) + " " + translated(part.c_str() + space + 1); // "index base"
}

} // namespace

std::string motionName(const std::string& name) {
    if (const std::string own = translated(name.c_str()); own != name)
        return own;
    for (const char* way : kWays) { // "%s up"
        const std::string ending = way + 2;
        if (name.size() > ending.size() && name.ends_with(ending))
            return say(way, partName(name.substr(0, name.size() - ending.size())));
    }
    return name;
}

} // namespace hobble
