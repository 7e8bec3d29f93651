#include "zoo/zoo.h"

#include <cmath>

namespace hobble::zoo {

namespace {

class Maker {
public:
    explicit Maker(const char* name) { body.name = name; }
    Body body;

    int add(int parent, const Vec3d& at, Role role, double radius = 0.03, Side side = Side::Middle,
            int segment = 0, bool fore = false, int digit = -1) {
        body.bones.push_back({parent, at, role, side, fore, segment, digit, radius});
        return static_cast<int>(body.bones.size()) - 1;
    }

    /// Joints of one role from a place on, `step` apart.
    int chain(int parent, Vec3d at, const Vec3d& step, int count, Role role, double radius = 0.03,
              Side side = Side::Middle, bool fore = false, int digit = -1, int from = 0) {
        for (int i = 0; i < count; ++i, at += step)
            parent = add(parent, at, role, radius, side, from + i, fore, digit);
        return parent;
    }

    template <class F> void bothSides(const F& make) {
        make(Side::Left, 1.0);
        make(Side::Right, -1.0);
    }

    // Fingers point along `along`, spread along `across` (towards the thumb).
    void hand(int wrist, const Vec3d& at, const Vec3d& along, const Vec3d& across, Side side, double size,
              int count = 5, bool palms = false) {
        for (int d = 0; d < count; ++d) {
            const bool thumb = d == 0 && count > 1;
            const double off = (1.5 - d) * 0.22;
            const Vec3d way = thumb ? Vec3d((along + 1.1 * across).normalized()) : along;
            Vec3d from = at + size * (thumb ? 0.25 * along + 0.35 * across : 0.9 * along + off * across);
            int parent = wrist;
            if (palms && !thumb) {
                parent = add(parent, at + size * (0.2 * along + 0.6 * off * across), Role::Palm, 0.15 * size,
                             side, 0, false, d);
            }
            chain(parent, from, 0.35 * size * way, 3, thumb ? Role::Thumb : Role::Finger, 0.1 * size, side,
                  false,
                  count == 1 ? 2 : d); // a mitten's one finger is all of them
        }
    }

    struct Torso {
        int pelvis, chest, neck, head;
    };

    // Upright, about 1.7 m; `spines` joints between pelvis and neck.
    Torso torso(int spines, bool face) {
        const int root = add(-1, {0, 0, 0}, Role::Root, 0);
        Torso t{};
        t.pelvis = add(root, {0, 0.95, 0}, Role::Pelvis, 0.13);
        t.chest = chain(t.pelvis, {0, 1.05, -0.01}, {0, 0.36 / spines, 0}, spines, Role::Spine, 0.12);
        t.neck = add(t.chest, {0, 1.48, -0.02}, Role::Neck, 0.06);
        t.head = add(t.neck, {0, 1.56, 0}, Role::Head, 0.09);
        if (face) {
            add(t.head, {0, 1.57, 0.05}, Role::Jaw, 0.04);
            bothSides([&](Side side, double x) {
                add(t.head, {0.035 * x, 1.64, 0.09}, Role::Eye, 0.013, side);
            });
        }
        return t;
    }

    void arm(int chest, Side side, double x, bool twists, int fingers, bool palms, double droop) {
        const Vec3d along = Vec3d(x, -droop, 0).normalized();
        const int collar = add(chest, {0.03 * x, 1.42, 0}, Role::Collarbone, 0.05, side);
        const Vec3d a(0.17 * x, 1.42, -0.01), b = a + 0.28 * along, c = b + 0.26 * along + Vec3d(0, 0, 0.02);
        const int shoulder = add(collar, a, Role::Shoulder, 0.05, side);
        const int elbow = add(shoulder, b, Role::Elbow, 0.04, side);
        if (twists) {
            add(shoulder, 0.5 * (a + b), Role::Twist, 0.045, side);
            add(elbow, 0.5 * (b + c), Role::Twist, 0.035, side);
        }
        const int wrist = add(elbow, c, Role::Wrist, 0.035, side);
        hand(wrist, c, along, Vec3d(0, 0, 1), side, 0.09, fingers, palms);
    }

    void leg(int pelvis, Side side, double x, bool twist) {
        const int hip = add(pelvis, {0.1 * x, 0.92, 0}, Role::Hip, 0.08, side);
        const int knee = add(hip, {0.11 * x, 0.5, 0.01}, Role::Knee, 0.055, side);
        if (twist)
            add(hip, {0.105 * x, 0.71, 0}, Role::Twist, 0.07, side);
        const int ankle = add(knee, {0.11 * x, 0.08, -0.02}, Role::Ankle, 0.04, side);
        add(ankle, {0.12 * x, 0.02, 0.1}, Role::Toe, 0.035, side);
    }

    // Four legs; `hoofed` stand on one toe with a fetlock. Height at the withers is about a metre times
    // `size`.
    Torso fourLegs(double size, bool hoofed, int necks, int tails) {
        const int root = add(-1, {0, 0, 0}, Role::Root, 0);
        Torso t{};
        t.pelvis = add(root, size * Vec3d(0, 1.0, -0.6), Role::Pelvis, 0.14 * size);
        t.chest = chain(t.pelvis, size * Vec3d(0, 1.02, -0.4), size * Vec3d(0, 0.0, 0.3), 3, Role::Spine,
                        0.16 * size);
        t.neck = chain(t.chest, size * Vec3d(0, 1.12, 0.5), size * Vec3d(0, 0.16, 0.12), necks, Role::Neck,
                       0.08 * size);
        t.head =
            add(t.neck, size * Vec3d(0, 1.12 + 0.16 * necks, 0.5 + 0.12 * necks), Role::Head, 0.08 * size);
        add(t.head, size * Vec3d(0, 1.06 + 0.16 * necks, 0.6 + 0.12 * necks), Role::Jaw, 0.04 * size);
        bothSides([&](Side side, double x) {
            const Vec3d ear = size * Vec3d(0.06 * x, 1.22 + 0.16 * necks, 0.46 + 0.12 * necks);
            chain(t.head, ear, size * Vec3d(0.02 * x, 0.08, 0), 2, Role::Ear, 0.02 * size, side);
            add(t.head, size * Vec3d(0.05 * x, 1.16 + 0.16 * necks, 0.6 + 0.12 * necks), Role::Eye,
                0.015 * size, side);
            const double w = 0.16 * x;
            const int scapula =
                add(t.chest, size * Vec3d(0.1 * x, 1.1, 0.32), Role::Scapula, 0.08 * size, side, 0, true);
            const int shoulder =
                add(scapula, size * Vec3d(w, 0.85, 0.48), Role::Shoulder, 0.08 * size, side, 0, true);
            const int elbow =
                add(shoulder, size * Vec3d(w, 0.62, 0.36), Role::Elbow, 0.06 * size, side, 0, true);
            const int wrist = add(elbow, size * Vec3d(w, 0.3, 0.4), Role::Wrist, 0.045 * size, side, 0, true);
            const int hip = add(t.pelvis, size * Vec3d(w, 0.92, -0.62), Role::Hip, 0.1 * size, side);
            const int knee = add(hip, size * Vec3d(w, 0.62, -0.48), Role::Knee, 0.07 * size, side);
            const int hock = add(knee, size * Vec3d(w, 0.36, -0.75), Role::Ankle, 0.045 * size, side);
            if (hoofed) {
                const int fetlock =
                    add(wrist, size * Vec3d(w, 0.12, 0.41), Role::Fetlock, 0.035 * size, side, 0, true);
                add(fetlock, size * Vec3d(w, 0.04, 0.45), Role::Toe, 0.035 * size, side, 0, true);
                const int hind = add(hock, size * Vec3d(w, 0.13, -0.72), Role::Fetlock, 0.035 * size, side);
                add(hind, size * Vec3d(w, 0.04, -0.68), Role::Toe, 0.035 * size, side);
            } else {
                add(wrist, size * Vec3d(w, 0.05, 0.45), Role::Toe, 0.04 * size, side, 0, true);
                add(hock, size * Vec3d(w, 0.05, -0.68), Role::Toe, 0.04 * size, side);
            }
        });
        chain(t.pelvis, size * Vec3d(0, 1.0, -0.78), size * Vec3d(0, -0.06, -0.14), tails, Role::Tail,
              0.04 * size);
        return t;
    }

    void wing(int chest, const Vec3d& at, Side side, double x, double size, int count) {
        chain(chest, at, size * Vec3d(0.35 * x, 0.05, -0.03), count, Role::Wing, 0.04 * size, side);
    }
};

Body person(const char* name, int spines, bool twists, int fingers, bool palms, double droop, bool face) {
    Maker m(name);
    const auto t = m.torso(spines, face);
    m.bothSides([&](Side side, double x) { m.arm(t.chest, side, x, twists, fingers, palms, droop); });
    m.bothSides([&](Side side, double x) { m.leg(t.pelvis, side, x, twists); });
    return m.body;
}

Body bird() {
    Maker m("bird");
    const int root = m.add(-1, {0, 0, 0}, Role::Root, 0);
    const int pelvis = m.add(root, {0, 0.4, -0.1}, Role::Pelvis, 0.08);
    const int chest = m.chain(pelvis, {0, 0.44, 0}, {0, 0.03, 0.08}, 2, Role::Spine, 0.09);
    const int neck = m.chain(chest, {0, 0.52, 0.15}, {0, 0.06, 0.03}, 2, Role::Neck, 0.04);
    const int head = m.add(neck, {0, 0.66, 0.2}, Role::Head, 0.05);
    m.add(head, {0, 0.64, 0.25}, Role::Jaw, 0.02);
    m.bothSides([&](Side side, double x) {
        const int tip = m.chain(chest, {0.08 * x, 0.5, 0.08}, 0.6 * Vec3d(0.35 * x, 0.05, -0.03), 3,
                                Role::Wing, 0.024, side);
        for (int f = 0; f < 3; ++f)
            m.add(tip, {(0.55 + 0.06 * f) * x, 0.55, 0.02 - 0.05 * f}, Role::Feather, 0.01, side, 0, false,
                  f);
        const int hip = m.add(pelvis, {0.05 * x, 0.36, -0.08}, Role::Hip, 0.04, side);
        const int knee = m.add(hip, {0.06 * x, 0.25, 0.0}, Role::Knee, 0.025, side);
        const int ankle = m.add(knee, {0.06 * x, 0.1, -0.07}, Role::Ankle, 0.015, side);
        for (int d = 0; d < 3; ++d)
            m.chain(ankle, {(0.06 + 0.02 * (d - 1)) * x, 0.015, -0.03}, {0.01 * (d - 1) * x, 0, 0.03}, 2,
                    Role::Toe, 0.01, side, false, d);
    });
    m.chain(pelvis, {0, 0.4, -0.18}, {0, 0.01, -0.08}, 2, Role::Tail, 0.03);
    return m.body;
}

Body fish() {
    Maker m("fish");
    const int root = m.add(-1, {0, 0.3, 0}, Role::Root, 0);
    const int spine = m.chain(root, {0, 0.3, 0.1}, {0, 0, 0.12}, 2, Role::Spine, 0.1);
    const int head = m.add(spine, {0, 0.3, 0.38}, Role::Head, 0.09);
    m.add(head, {0, 0.26, 0.42}, Role::Jaw, 0.04);
    const int tail = m.chain(root, {0, 0.3, -0.05}, {0, 0, -0.14}, 4, Role::Tail, 0.07);
    m.add(tail, {0, 0.3, -0.6}, Role::Fin, 0.05);
    m.add(spine, {0, 0.42, 0.1}, Role::Fin, 0.03);
    m.bothSides([&](Side side, double x) {
        m.chain(spine, {0.1 * x, 0.26, 0.2}, {0.06 * x, -0.02, -0.03}, 2, Role::Fin, 0.03, side);
    });
    return m.body;
}

Body snake() {
    Maker m("snake");
    const int root = m.add(-1, {0, 0.05, -1}, Role::Root, 0);
    const int spine = m.chain(root, {0, 0.05, -0.9}, {0, 0, 0.2}, 8, Role::Spine, 0.05);
    const int neck = m.add(spine, {0, 0.07, 0.7}, Role::Neck, 0.045);
    const int head = m.add(neck, {0, 0.1, 0.82}, Role::Head, 0.05);
    m.add(head, {0, 0.08, 0.86}, Role::Jaw, 0.02);
    m.chain(head, {0, 0.09, 0.9}, {0, 0, 0.04}, 2, Role::Tongue, 0.008);
    return m.body;
}

Body elephant() {
    Maker m("elephant");
    const auto t = m.fourLegs(2.4, false, 1, 3);
    m.chain(t.head, 2.4 * Vec3d(0, 1.2, 0.72), 2.4 * Vec3d(0, -0.14, 0.04), 6, Role::Trunk, 0.12);
    m.bothSides([&](Side side, double x) {
        m.add(t.head, 2.4 * Vec3d(0.06 * x, 1.16, 0.7), Role::Horn, 0.04, side, 0, false, 1);
    });
    return m.body;
}

Body stag() {
    Maker m("stag");
    const auto t = m.fourLegs(1.3, true, 2, 1);
    m.bothSides([&](Side side, double x) {
        m.chain(t.head, 1.3 * Vec3d(0.05 * x, 1.6, 0.7), 1.3 * Vec3d(0.05 * x, 0.12, -0.03), 3, Role::Horn,
                0.02, side);
    });
    return m.body;
}

// A person dressed: a cape, hair, a skirt in strips, what is carried, and helpers of belly and rump.
Body dressedPerson() {
    Maker m("dressed person");
    const auto t = m.torso(3, false);
    m.bothSides([&](Side side, double x) { m.arm(t.chest, side, x, false, 5, false, 0.3); });
    m.bothSides([&](Side side, double x) { m.leg(t.pelvis, side, x, false); });
    m.chain(t.chest, {0, 1.4, -0.16}, {0, -0.25, -0.03}, 4, Role::Dangle, 0.08);
    m.chain(t.head, {0, 1.66, -0.1}, {0, -0.1, -0.02}, 3, Role::Dangle, 0.03, Side::Middle, false, 1);
    m.bothSides([&](Side side, double x) {
        m.chain(t.pelvis, {0.15 * x, 0.9, 0.1}, {0.03 * x, -0.2, 0.02}, 2, Role::Dangle, 0.06, side, false,
                2);
        m.add(t.pelvis, {0.08 * x, 0.9, -0.14}, Role::Helper, 0.07, side, 0, false, 1);
    });
    m.add(t.pelvis, {0, 1.08, 0.14}, Role::Helper, 0.08);
    for (std::size_t j = 0; j < m.body.bones.size(); ++j)
        if (m.body.bones[j].role == Role::Wrist) {
            const bool left = m.body.bones[j].side == Side::Left;
            m.add(static_cast<int>(j), m.body.bones[j].at + Vec3d(0, 0, 0.1), Role::Prop, 0.04,
                  m.body.bones[j].side, 0, false, left ? 1 : 0);
        }
    return m.body;
}

Body dragon() {
    Maker m("dragon");
    const auto t = m.fourLegs(1.6, false, 3, 6);
    m.bothSides([&](Side side, double x) { m.wing(t.chest, {0.2 * x, 1.9, 0.2}, side, x, 1.6, 3); });
    return m.body;
}

Body centaur() {
    Maker m("centaur");
    const auto t = m.fourLegs(1.0, true, 1, 3);
    // what stands on the fore hand is a person's trunk: the neck of the horse is its waist
    m.body.bones[static_cast<std::size_t>(t.neck)].role = Role::Spine;
    m.body.bones[static_cast<std::size_t>(t.neck)].segment = 3;
    m.bothSides([&](Side side, double x) {
        const Vec3d a(0.17 * x, 1.2, 0.55), b(0.45 * x, 1.15, 0.55), c(0.7 * x, 1.12, 0.58);
        const int collar = m.add(t.neck, {0.04 * x, 1.2, 0.55}, Role::Collarbone, 0.05, side);
        const int shoulder = m.add(collar, a, Role::Shoulder, 0.05, side);
        const int elbow = m.add(shoulder, b, Role::Elbow, 0.04, side);
        const int wrist = m.add(elbow, c, Role::Wrist, 0.035, side);
        m.hand(wrist, c, Vec3d(x, 0, 0), Vec3d(0, 0, 1), side, 0.09);
    });
    return m.body;
}

Body handAlone() {
    Maker m("hand alone");
    const int wrist = m.add(-1, {0, 1, 0}, Role::Wrist, 0.04, Side::Left);
    m.hand(wrist, {0, 1, 0}, {1, 0, 0}, {0, 0, 1}, Side::Left, 0.1);
    return m.body;
}

Body headAlone() {
    Maker m("head alone");
    const int neck = m.add(-1, {0, 1.45, 0}, Role::Neck, 0.06);
    const int head = m.add(neck, {0, 1.55, 0}, Role::Head, 0.1);
    m.add(head, {0, 1.57, 0.05}, Role::Jaw, 0.04);
    m.chain(head, {0, 1.58, 0.05}, {0, 0, 0.03}, 2, Role::Tongue, 0.01);
    m.bothSides([&](Side side, double x) {
        m.add(head, {0.035 * x, 1.65, 0.09}, Role::Eye, 0.013, side);
        m.add(head, {0.035 * x, 1.665, 0.1}, Role::Lid, 0.01, side);
        m.add(head, {0.035 * x, 1.69, 0.1}, Role::Brow, 0.01, side);
        m.add(head, {0.09 * x, 1.65, 0}, Role::Ear, 0.02, side);
        m.add(head, {0.02 * x, 1.59, 0.1}, Role::Lip, 0.008, side);
    });
    return m.body;
}

// Three pairs of legs from one trunk.
Body insect() {
    Maker m("insect");
    const int root = m.add(-1, {0, 0, 0}, Role::Root, 0);
    const int thorax = m.chain(root, {0, 0.3, 0}, {0, 0, 0.15}, 2, Role::Spine, 0.09);
    const int head = m.add(thorax, {0, 0.32, 0.28}, Role::Head, 0.08);
    m.chain(root, {0, 0.3, -0.12}, {0, 0, -0.16}, 3, Role::Tail, 0.1);
    m.bothSides([&](Side side, double x) {
        m.add(head, {0.04 * x, 0.28, 0.36}, Role::Jaw, 0.02, side);
        m.chain(head, {0.05 * x, 0.38, 0.34}, {0.03 * x, 0.06, 0.08}, 3, Role::Dangle, 0.012, side, false, 3);
        for (int pair = 0; pair < 3; ++pair) {
            const double z = 0.15 - 0.12 * pair, out = z - 0.03 + (pair == 0 ? 0.12 : pair == 2 ? -0.12 : 0);
            const int hip = m.add(thorax, {0.09 * x, 0.27, z}, Role::Hip, 0.03, side);
            const int knee = m.add(hip, {0.26 * x, 0.36, 0.5 * (z + out)}, Role::Knee, 0.022, side);
            const int ankle = m.add(knee, {0.4 * x, 0.08, out}, Role::Ankle, 0.016, side);
            const int toe = m.add(ankle, {0.46 * x, 0.01, out + 0.02}, Role::Toe, 0.012, side);
            for (int leg : {hip, knee, ankle, toe})
                m.body.bones[static_cast<std::size_t>(leg)].oneOfManyLegs = true;
        }
    });
    return m.body;
}

// Turns what hangs from a bone about it.
void turn(Body& body, int bone, const Vec3d& axis, double byDegrees) {
    const Vec3d pivot = body.bones[static_cast<std::size_t>(bone)].at;
    const Eigen::AngleAxisd by(radians(byDegrees), axis.normalized());
    std::vector<char> in(body.bones.size(), 0);
    in[static_cast<std::size_t>(bone)] = 1;
    for (std::size_t j = static_cast<std::size_t>(bone) + 1; j < in.size(); ++j)
        if (const int p = body.bones[j].parent; p >= 0 && in[static_cast<std::size_t>(p)]) {
            in[j] = 1;
            body.bones[j].at = pivot + by * (body.bones[j].at - pivot);
        }
}

} // namespace

bool isRightly(const Bone& b, Role role, bool fore) {
    if (b.oneOfManyLegs && fore)
        return b.role == (role == Role::Shoulder ? Role::Hip
                          : role == Role::Elbow  ? Role::Knee
                          : role == Role::Wrist  ? Role::Ankle
                                                 : role);
    return role == b.role && fore == b.fore;
}

const std::vector<std::string>& bindPoses() {
    static const std::vector<std::string> all{"as drawn", "relaxed hands", "hanging arms",   "sitting",
                                              "lying",    "z up",          "upright from -z"};
    return all;
}

Body inBindPose(Body body, const std::string& pose) {
    const auto each = [&](Role role, const auto& how) {
        for (std::size_t j = 0; j < body.bones.size(); ++j)
            if (body.bones[j].role == role && !body.bones[j].fore)
                how(static_cast<int>(j), body.bones[j].side == Side::Left ? 1.0 : -1.0);
    };
    if (pose == "relaxed hands") // the palm of a raised arm looks down: fingers bend about the way it faces
        each(Role::Finger, [&](int j, double x) { turn(body, j, body.forward, -14 * x); });
    if (pose == "hanging arms")
        each(Role::Shoulder, [&](int j, double x) { turn(body, j, body.forward, -65 * x); });
    if (pose == "sitting" && body.name.find("person") != std::string::npos) {
        each(Role::Hip, [&](int j, double) { turn(body, j, Vec3d::UnitX(), -85); });
        each(Role::Knee, [&](int j, double) { turn(body, j, Vec3d::UnitX(), 80); });
    }
    Eigen::Quaterniond whole = Eigen::Quaterniond::Identity();
    if (pose == "lying") // on its back
        whole = Eigen::AngleAxisd(radians(-90), Vec3d::UnitX());
    if (pose == "z up")
        whole = Eigen::AngleAxisd(radians(90), Vec3d::UnitX());
    if (pose == "upright from -z")
        whole = Eigen::AngleAxisd(radians(180), Vec3d::UnitY());
    for (Bone& b : body.bones)
        b.at = whole * b.at;
    body.up = whole * body.up;
    body.forward = whole * body.forward;
    body.left = whole * body.left;
    return body;
}

std::vector<Body> bodies() {
    std::vector<Body> out;
    out.push_back(person("person", 3, false, 5, false, 0.0, true));
    out.push_back(person("person with twists", 3, true, 5, true, 0.7, false));
    out.push_back(person("sparing person", 1, false, 1, false, 0.5, false));
    out.push_back(person("long-backed person", 5, false, 4, false, 1.2, true));
    Maker dog("dog"), horse("horse"), mouse("mouse");
    dog.fourLegs(0.6, false, 1, 4);
    horse.fourLegs(1.5, true, 3, 3);
    mouse.fourLegs(0.08, false, 1, 6);
    out.push_back(dog.body);
    out.push_back(horse.body);
    out.push_back(mouse.body);
    out.push_back(bird());
    out.push_back(fish());
    out.push_back(snake());
    out.push_back(elephant());
    out.push_back(stag());
    out.push_back(dressedPerson());
    out.push_back(dragon());
    out.push_back(centaur());
    out.push_back(handAlone());
    out.push_back(headAlone());
    out.push_back(insect());
    return out;
}

} // namespace hobble::zoo
