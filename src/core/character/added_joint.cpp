#include "core/character/added_joint.h"
#include "core/ascii.h"

#include <algorithm>

namespace hobble {

int addJoint(Character& c, const std::string& name, int parent, const Transform& world) {
    Skeleton& sk = c.skeleton;
    const int joint = sk.size();
    const auto p = static_cast<std::size_t>(parent);
    sk.name.push_back(name);
    sk.parent.push_back(parent);
    sk.neutralLocal.push_back(parent < 0 ? world : Transform(sk.neutralWorld[p].inverse() * world));
    sk.neutralWorld.push_back(world);
    if (!sk.restWorld.empty())
        sk.restWorld.push_back(parent < 0 ? world : Transform(sk.restWorld[p] * sk.neutralLocal.back()));
    if (!sk.humanoidBone.empty())
        sk.humanoidBone.emplace_back();
    for (Skin& skin : c.skins) {
        // Every joint of a skin places it alike in neutral: its parent does, or any other that is bound.
        std::size_t like = skin.bound.size();
        if (parent >= 0 && p < skin.bound.size() && skin.bound[p])
            like = p;
        else
            like = static_cast<std::size_t>(std::find(skin.bound.begin(), skin.bound.end(), char(1)) -
                                            skin.bound.begin());
        const bool bound = like < skin.bound.size();
        skin.inverseBind.push_back(
            bound ? Transform(world.inverse() * sk.neutralWorld[like] * skin.inverseBind[like])
                  : Transform::Identity());
        skin.bound.push_back(bound);
    }
    return joint;
}

std::string nameBeside(const Skeleton& sk, const std::string& name, const std::string& word) {
    // Words are put together as the name itself does it.
    const char between = name.find('_') != std::string::npos   ? '_'
                         : name.find('-') != std::string::npos ? '-'
                         : name.find(' ') != std::string::npos ? ' '
                                                               : '_';
    std::string joined = word;
    std::replace(joined.begin(), joined.end(), ' ', between);
    // What says the side at its end: ".R", "_l", " Left".
    std::size_t end = name.size();
    for (const char* side : {"left", "right", "l", "r"}) {
        const std::size_t n = std::char_traits<char>::length(side);
        if (name.size() < n + 2)
            continue;
        const std::string tail = name.substr(name.size() - n);
        const char before = name[name.size() - n - 1];
        if (std::equal(tail.begin(), tail.end(), side, [](char a, char b) { return toAsciiLower(a) == b; }) &&
            (before == '.' || before == '_' || before == '-' || before == ' ')) {
            end = name.size() - n - 1;
            break;
        }
    }
    const std::string head = name.substr(0, end) + between + joined, tail = name.substr(end);
    std::string out = head + tail;
    for (int n = 2; sk.find(out) >= 0; ++n)
        out = head + between + std::to_string(n) + tail;
    return out;
}

} // namespace hobble
