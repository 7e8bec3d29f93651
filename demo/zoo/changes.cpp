// What riggers and exporters do to a skeleton besides naming it.
#include "zoo/zoo.h"

#include <algorithm>
#include <cmath>
#include <functional>

namespace hobble::zoo {

namespace {

using Emit = std::function<int(const Bone&)>; // adds a bone whose parent is of the new body; its number there

// Copies a body bone by bone, parents first. `copy` is given each bone with its new parent, and adds what it
// wants; what it returns is what the bone's children hang from.
Body rebuilt(const Body& from, const std::function<int(int, Bone, const Emit&)>& copy) {
    Body out = from;
    out.bones.clear();
    std::vector<int> now;
    const Emit emit = [&](const Bone& b) {
        out.bones.push_back(b);
        return static_cast<int>(out.bones.size()) - 1;
    };
    for (std::size_t j = 0; j < from.bones.size(); ++j) {
        Bone b = from.bones[j];
        if (b.parent >= 0)
            b.parent = now[static_cast<std::size_t>(b.parent)];
        now.push_back(copy(static_cast<int>(j), b, emit));
    }
    return out;
}

bool isIn(Role role, std::initializer_list<Role> some) {
    return std::find(some.begin(), some.end(), role) != some.end();
}

std::vector<std::vector<int>> childrenOf(const Body& body) {
    std::vector<std::vector<int>> out(body.bones.size());
    for (std::size_t j = 0; j < body.bones.size(); ++j)
        if (const int p = body.bones[j].parent; p >= 0)
            out[static_cast<std::size_t>(p)].push_back(static_cast<int>(j));
    return out;
}

// The bone a limb's segment leads to; -1 where it ends.
int nextOf(const Body& body, const std::vector<std::vector<int>>& children, int bone) {
    for (int k : children[static_cast<std::size_t>(bone)])
        if (body.bones[static_cast<std::size_t>(k)].role != Role::Twist)
            return k;
    return -1;
}

// Without those of the roles; what hangs from them hangs from what they hang from.
Body without(const Body& body, std::initializer_list<Role> roles) {
    return rebuilt(
        body, [&](int, const Bone& b, const Emit& emit) { return isIn(b.role, roles) ? b.parent : emit(b); });
}

// An empty joint above each, in the same place, as those who want clean channels make them.
Body grouped(const Body& body) {
    static const char* words[] = {"grp", "offset", "zero"};
    return rebuilt(body, [&](int j, Bone b, const Emit& emit) {
        if (b.parent < 0)
            return emit(b);
        Bone empty = b;
        empty.radius = 0;
        empty.also = words[j % 3];
        b.parent = emit(empty);
        return emit(b);
    });
}

// A joint without skin at the tip of every chain.
Body ended(const Body& body) {
    static const char* words[] = {"end", "tip", "nub"};
    const auto children = childrenOf(body);
    return rebuilt(body, [&](int j, const Bone& b, const Emit& emit) {
        const int at = emit(b);
        if (children[static_cast<std::size_t>(j)].empty() && b.parent >= 0) {
            Bone end = b;
            const int above = body.bones[static_cast<std::size_t>(j)].parent;
            end.at += 0.6 * (b.at - body.bones[static_cast<std::size_t>(above)].at);
            end.parent = at;
            end.radius = 0;
            end.also = words[j % 3];
            emit(end);
        }
        return at;
    });
}

// Half way along upper arms, forearms, thighs and shins: beside what follows, or between.
Body twisted(const Body& body, bool between) {
    const auto children = childrenOf(body);
    return rebuilt(body, [&](int j, const Bone& b, const Emit& emit) {
        const int at = emit(b), next = nextOf(body, children, j);
        if (next < 0 || !isIn(b.role, {Role::Shoulder, Role::Elbow, Role::Hip, Role::Knee}))
            return at;
        Bone twist = b;
        twist.parent = at;
        twist.at = 0.5 * (b.at + body.bones[static_cast<std::size_t>(next)].at);
        twist.role = Role::Twist;
        twist.fore = false;
        const int added = emit(twist);
        return between ? added : at;
    });
}

Body longBacked(const Body& body) {
    const auto children = childrenOf(body);
    std::vector<int> met(body.bones.size(), 0);
    return rebuilt(body, [&](int j, Bone b, const Emit& emit) {
        const int next = nextOf(body, children, j);
        if (b.role != Role::Spine)
            return emit(b);
        b.segment *= 2;
        const int at = emit(b);
        if (next < 0 || body.bones[static_cast<std::size_t>(next)].role != Role::Spine)
            return at;
        Bone more = b;
        more.parent = at;
        more.at = 0.5 * (b.at + body.bones[static_cast<std::size_t>(next)].at);
        ++more.segment;
        return emit(more);
    });
}

// A knee of two joints, each taking half the bend.
Body doubleKneed(const Body& body) {
    const auto children = childrenOf(body);
    return rebuilt(body, [&](int j, const Bone& b, const Emit& emit) {
        const int at = emit(b), next = nextOf(body, children, j);
        if (b.role != Role::Knee || next < 0)
            return at;
        Bone second = b;
        second.parent = at;
        second.at += 0.12 * (body.bones[static_cast<std::size_t>(next)].at - b.at);
        second.segment = 1;
        return emit(second);
    });
}

Body palmed(const Body& body) {
    return rebuilt(body, [&](int j, Bone b, const Emit& emit) {
        const int above = body.bones[static_cast<std::size_t>(j)].parent;
        if (b.role != Role::Finger || above < 0 ||
            body.bones[static_cast<std::size_t>(above)].role != Role::Wrist)
            return emit(b);
        const Vec3d wrist = body.bones[static_cast<std::size_t>(above)].at;
        Bone palm = b;
        palm.role = Role::Palm;
        palm.radius = 1.5 * b.radius;
        palm.at = wrist + 0.35 * (b.at - wrist);
        b.parent = emit(palm);
        return emit(b);
    });
}

// Controls carry the limbs; the joints with the skin hang from them, one each.
Body besideControls(const Body& body) {
    static const char* words[] = {"drv", "ctl", "fk"};
    return rebuilt(body, [&](int j, Bone b, const Emit& emit) {
        if (b.parent < 0)
            return emit(b);
        Bone control = b;
        control.radius = 0;
        control.also = words[j % 3];
        control.carries = b.radius > 0;
        b.parent = emit(control);
        b.follows = true;
        emit(b);
        return b.parent;
    });
}

// What animators pull limbs by, below the root and without skin: where the hand and the foot are, and before
// the elbow and the knee.
Body withTargets(const Body& body) {
    Body out = body;
    for (const Bone& b : body.bones) {
        const bool end = isIn(b.role, {Role::Wrist, Role::Ankle}),
                   middle = isIn(b.role, {Role::Elbow, Role::Knee});
        if (!end && !middle)
            continue;
        Bone target = b;
        target.parent = 0;
        target.radius = 0;
        target.also = end ? "ik" : "pole";
        if (middle)
            target.at += (b.role == Role::Knee ? 0.5 : -0.5) * body.forward;
        out.bones.push_back(target);
    }
    return out;
}

// Muscles beside the bones of limbs: they hold skin and follow.
Body muscled(const Body& body) {
    const auto children = childrenOf(body);
    return rebuilt(body, [&](int j, const Bone& b, const Emit& emit) {
        const int at = emit(b), next = nextOf(body, children, j);
        const char* word = b.role == Role::Shoulder ? "bicep" : b.role == Role::Knee ? "calf" : nullptr;
        if (next < 0 || !word)
            return at;
        Bone muscle = b;
        muscle.parent = at;
        muscle.role = Role::Helper;
        muscle.fore = false;
        muscle.at = b.at + 0.4 * (body.bones[static_cast<std::size_t>(next)].at - b.at) +
                    (b.role == Role::Knee ? -0.8 : 0.8) * b.radius * body.forward;
        muscle.called = word;
        emit(muscle);
        return at;
    });
}

// Feet with five toes of two joints.
Body fiveToed(const Body& body) {
    return rebuilt(body, [&](int j, const Bone& b, const Emit& emit) {
        const int above = body.bones[static_cast<std::size_t>(j)].parent;
        if (b.role != Role::Toe || b.fore || b.digit >= 0 || b.oneOfManyLegs || above < 0 ||
            body.bones[static_cast<std::size_t>(above)].role != Role::Ankle)
            return emit(b);
        int first = -1;
        for (int d = 0; d < 5; ++d) {
            Bone toe = b;
            toe.digit = d;
            toe.radius = 0.35 * b.radius;
            toe.at = b.at + (d - 2) * 0.5 * b.radius * (b.side == Side::Right ? -1.0 : 1.0) * body.left;
            toe.parent = emit(toe);
            toe.at += 0.8 * b.radius * body.forward;
            toe.segment = 1;
            const int tip = emit(toe);
            first = d == 2 ? tip : first;
        }
        return first;
    });
}

// "world", "master", "main" above all: of no skin.
Body underControls(const Body& body) {
    return rebuilt(body, [&](int, Bone b, const Emit& emit) {
        if (b.parent >= 0)
            return emit(b);
        static const char* words[] = {"world", "master", "cog"};
        for (const char* word : words) {
            Bone control;
            control.parent = b.parent;
            control.at = b.at;
            control.role = Role::Root;
            control.radius = 0;
            control.also = word;
            b.parent = emit(control);
        }
        return emit(b);
    });
}

enum class Axes { AlongBone, MirroredAlongBone, Any };

// Axes as a maker's tools leave them.
Body turned(Body body, Axes how) {
    const auto children = childrenOf(body);
    unsigned seed = 7;
    const auto chance = [&] { // 0 … 1
        seed = seed * 1664525u + 1013904223u;
        return static_cast<double>(seed >> 8) / (1 << 24);
    };
    for (std::size_t j = 0; j < body.bones.size(); ++j) {
        Bone& b = body.bones[j];
        if (how == Axes::Any) {
            b.axes = Eigen::Quaterniond(chance() - 0.5, chance() - 0.5, chance() - 0.5, chance() - 0.5)
                         .normalized();
            continue;
        }
        const int next = nextOf(body, children, static_cast<int>(j));
        Vec3d x = next >= 0       ? Vec3d(body.bones[static_cast<std::size_t>(next)].at - b.at)
                  : b.parent >= 0 ? Vec3d(b.at - body.bones[static_cast<std::size_t>(b.parent)].at)
                                  : body.up;
        if (x.norm() < 1e-9)
            x = body.up;
        if (how == Axes::MirroredAlongBone && b.side == Side::Right)
            x = -x;
        x.normalize();
        Vec3d y = body.forward - body.forward.dot(x) * x;
        if (y.norm() < 0.1)
            y = x.unitOrthogonal();
        y.normalize();
        Eigen::Matrix3d axes;
        axes << x, y, x.cross(y);
        b.axes = Eigen::Quaterniond(axes);
    }
    return body;
}

Body scaled(Body body, double by) {
    for (Bone& b : body.bones) {
        b.at *= by;
        b.radius *= by;
    }
    return body;
}

} // namespace

const std::vector<std::string>& changes() {
    static const std::vector<std::string> all{
        "as drawn",       "axes along bones", "axes mirrored", "any axes",
        "empty groups",   "end markers",      "twists beside", "twists between",
        "longer back",    "double knees",     "palms",         "without collarbones and toes",
        "under controls", "beside controls",  "with targets",  "with muscles",
        "five toes",      "in centimetres",   "in kilometres", "all at once"};
    return all;
}

Body changed(const Body& body, const std::string& change) {
    if (change == "axes along bones")
        return turned(body, Axes::AlongBone);
    if (change == "axes mirrored")
        return turned(body, Axes::MirroredAlongBone);
    if (change == "any axes")
        return turned(body, Axes::Any);
    if (change == "empty groups")
        return grouped(body);
    if (change == "end markers")
        return ended(body);
    if (change == "twists beside" || change == "twists between")
        return twisted(without(body, {Role::Twist}), change == "twists between");
    if (change == "longer back")
        return longBacked(body);
    if (change == "double knees")
        return doubleKneed(body);
    if (change == "palms")
        return palmed(without(body, {Role::Palm}));
    if (change == "without collarbones and toes")
        return without(body, {Role::Collarbone, Role::Scapula, Role::Toe});
    if (change == "under controls")
        return underControls(body);
    if (change == "beside controls")
        return besideControls(body);
    if (change == "with targets")
        return withTargets(body);
    if (change == "with muscles")
        return muscled(body);
    if (change == "five toes")
        return fiveToed(body);
    if (change == "in centimetres")
        return scaled(body, 100);
    if (change == "in kilometres")
        return scaled(body, 0.001);
    if (change == "all at once")
        return turned(scaled(ended(grouped(twisted(longBacked(without(body, {Role::Twist})), false))), 100),
                      Axes::MirroredAlongBone);
    return body;
}

} // namespace hobble::zoo
