// What the words of names mean.
#include "core/character/role_labels.h"

#include <algorithm>
#include <map>
#include <string_view>

namespace hobble {

namespace {

struct Speaks {
    Role role = Role::Unknown;
    float by = 0;
};

// What one word speaks for. A word that means several joints speaks for each of them, and the tree decides.
class Speech {
public:
    constexpr Speech(std::initializer_list<Speaks> all) {
        for (const Speaks& s : all)
            of_[size_++] = s;
    }
    constexpr const Speaks* begin() const { return of_; }
    constexpr const Speaks* end() const { return of_ + size_; }

private:
    Speaks of_[10] = {};
    std::size_t size_ = 0;
};

struct Meaning {
    std::string_view word;
    Speech speech;
};

const Speech* meaningOf(std::string_view word) {
    static constexpr Speech hand{{Role::Wrist, 4}}, foot{{Role::Ankle, 4}, {Role::Wrist, 2}, {Role::Toe, 1}},
        finger{{Role::Finger, 4}, {Role::Palm, .5f}}, trunk{{Role::Spine, 4}, {Role::Pelvis, 1.5f}},
        toe{{Role::Toe, 4}}, clavicle{{Role::Collarbone, 4}}, twist{{Role::Twist, 4.5f}},
        helper{{Role::Helper, 4.5f}},
        leg{{Role::Hip, 3},          {Role::Knee, 3},     {Role::Ankle, 2.5f}, {Role::Fetlock, 1.5f},
            {Role::Toe, 1},          {Role::Shoulder, 2}, {Role::Elbow, 2},    {Role::Wrist, 1.5f},
            {Role::Collarbone, .5f}, {Role::Scapula, 1}},
        arm{{Role::Shoulder, 3}, {Role::Elbow, 3}, {Role::Wrist, 2}, {Role::Collarbone, 1}},
        root{{Role::Root, 3.5f}}, lid{{Role::Lid, 4}}, lip{{Role::Lip, 4}}, control{{Role::Control, 4.5f}},
        end{{Role::End, 3.5f}}, dangle{{Role::Dangle, 4}}, prop{{Role::Prop, 4}},
        flesh{{Role::Spine, 3}, {Role::Helper, 2.5f}};

    // A table, and no map that is written out: that takes a compiler minutes.
    static constexpr Meaning table[] = {
        {"root", root},
        {"cog", {{Role::Root, 2.5f}, {Role::Pelvis, 1.5f}}},
        {"reference", root},
        {"armature", root},
        {"origin", root},
        {"world", root},
        {"master", root},
        {"global", root},
        {"pelvis", {{Role::Pelvis, 4.5f}}},
        {"hips", {{Role::Pelvis, 4}, {Role::Hip, 2}}},
        {"hip", {{Role::Hip, 3.5f}, {Role::Pelvis, 3}}},
        {"spine", trunk},
        {"chest", trunk},
        {"torso", trunk},
        {"ribcage", trunk},
        {"ribs", trunk},
        {"abdomen", trunk},
        {"waist", trunk},
        {"back", trunk},
        {"belly", flesh},
        {"stomach", flesh},
        {"tummy", flesh},
        {"gut", flesh},
        {"rump", {{Role::Helper, 3.5f}, {Role::Pelvis, 2.5f}}},
        {"butt", {{Role::Helper, 4}}},
        {"buttock", {{Role::Helper, 4}}},
        {"buttocks", {{Role::Helper, 4}}},
        {"glute", {{Role::Helper, 4}}},
        {"gluteus", {{Role::Helper, 4}}},
        {"breast", {{Role::Helper, 4}}},
        {"breasts", {{Role::Helper, 4}}},
        {"boob", {{Role::Helper, 4}}},
        {"bust", {{Role::Helper, 4}}},
        {"pec", {{Role::Helper, 3.5f}}},
        {"pectoral", {{Role::Helper, 3}, {Role::Fin, 1}}},
        {"lat", {{Role::Helper, 3}}},
        {"trapezius", {{Role::Helper, 3.5f}}},
        {"deltoid", {{Role::Helper, 3.5f}}},
        {"jiggle", helper},
        {"cheek", {{Role::Helper, 3}, {Role::Lip, 1}}},
        {"nose", {{Role::Helper, 2}, {Role::Trunk, 2}}},
        {"nostril", {{Role::Helper, 3}}},
        {"snout", {{Role::Jaw, 1.5f}, {Role::Helper, 2}, {Role::Trunk, 1.5f}}},
        {"thorax", trunk},
        {"lumbar", trunk},
        {"thoracic", trunk},
        {"vertebra", trunk},
        {"body", {{Role::Spine, 3}, {Role::Pelvis, 2}, {Role::Root, 1.5f}}},
        {"trunk", {{Role::Spine, 3}, {Role::Trunk, 3}}},
        {"proboscis", {{Role::Trunk, 4.5f}}},
        {"sacrum", {{Role::Pelvis, 3.5f}}},
        {"neck", {{Role::Neck, 4.5f}}},
        {"cervical", {{Role::Neck, 4}}},
        {"head", {{Role::Head, 4.5f}}},
        {"skull", {{Role::Head, 4}}},
        {"cranium", {{Role::Head, 4}}},
        {"jaw", {{Role::Jaw, 4.5f}}},
        {"mandible", {{Role::Jaw, 4.5f}}},
        {"chin", {{Role::Jaw, 3.5f}}},
        {"beak", {{Role::Jaw, 3}}},
        {"muzzle", {{Role::Jaw, 2}}},
        {"eye", {{Role::Eye, 4}, {Role::Lid, .5f}}},
        {"eyeball", {{Role::Eye, 4}}},
        {"lid", lid},
        {"lids", lid},
        {"blink", lid},
        {"brow", {{Role::Brow, 4}}},
        {"brows", {{Role::Brow, 4}}},
        {"lip", lip},
        {"lips", lip},
        {"mouth", {{Role::Lip, 3.5f}, {Role::Jaw, 2}}},
        {"tongue", {{Role::Tongue, 4.5f}}},
        {"ear", {{Role::Ear, 4.5f}}},
        {"ears", {{Role::Ear, 4.5f}}},
        {"clavicle", clavicle},
        {"clav", clavicle},
        {"scapula", {{Role::Scapula, 4.2f}, {Role::Collarbone, 2.5f}}},
        {"scap", {{Role::Scapula, 4.2f}, {Role::Collarbone, 2.5f}}},
        {"blade", {{Role::Scapula, 2}}},
        {"shoulder", {{Role::Shoulder, 3.5f}, {Role::Collarbone, 3}}},
        {"arm", arm},
        {"humerus", {{Role::Shoulder, 4}}},
        {"humeral", {{Role::Shoulder, 4}}},
        {"bicep", {{Role::Shoulder, 3}}},
        {"biceps", {{Role::Shoulder, 3}}},
        {"forearm", {{Role::Elbow, 4.5f}}},
        {"elbow", {{Role::Elbow, 4.5f}}},
        {"radius", {{Role::Elbow, 4}}},
        {"ulna", {{Role::Elbow, 4}}},
        {"hand", hand},
        {"wrist", {{Role::Wrist, 4.5f}}},
        {"carpus", hand},
        {"carpal", hand},
        {"manus", {{Role::Wrist, 3}, {Role::Toe, 2}}},
        {"palm", {{Role::Palm, 4.5f}}},
        {"metacarpal", {{Role::Palm, 4}, {Role::Fetlock, 2}}},
        {"cup", {{Role::Palm, 3}}},
        {"metacarpus", {{Role::Palm, 3}, {Role::Fetlock, 3.5f}}},
        {"thumb", {{Role::Thumb, 4.5f}}},
        {"index", finger},
        {"middle", {{Role::Finger, 2.5f}}},
        {"mid", {{Role::Finger, 2}}},
        {"ring", finger},
        {"pinky", finger},
        {"pinkie", finger},
        {"little", finger},
        {"finger", finger},
        {"fingers", finger},
        {"digit", {{Role::Finger, 3}, {Role::Toe, 2}}},
        {"pointer", finger},
        {"phalanx", {{Role::Finger, 2}, {Role::Toe, 2}, {Role::Thumb, 1}}},
        {"thigh", {{Role::Hip, 4.5f}}},
        {"femur", {{Role::Hip, 4.5f}}},
        {"shin", {{Role::Knee, 4.5f}}},
        {"calf", {{Role::Knee, 4.5f}}},
        {"knee", {{Role::Knee, 4.5f}}},
        {"tibia", {{Role::Knee, 4.5f}}},
        {"crus", {{Role::Knee, 4}}},
        {"stifle", {{Role::Knee, 4.5f}}},
        {"leg", leg},
        {"foot", foot},
        {"feet", foot},
        {"ankle", {{Role::Ankle, 4.5f}, {Role::Wrist, 1}}},
        {"tarsus", {{Role::Ankle, 4}}},
        {"hock", {{Role::Ankle, 4}}},
        {"paw", foot},
        {"pes", {{Role::Ankle, 2}, {Role::Toe, 2.5f}}},
        {"fetlock", {{Role::Fetlock, 4.5f}}},
        {"pastern", {{Role::Fetlock, 4.5f}}},
        {"cannon", {{Role::Fetlock, 3}, {Role::Ankle, 2}}},
        {"metatarsal", {{Role::Fetlock, 4}}},
        {"metatarsus", {{Role::Fetlock, 4}}},
        {"toe", toe},
        {"toes", toe},
        {"ball", toe},
        {"hoof", toe},
        {"claw", toe},
        {"toebase", toe},
        {"tail", {{Role::Tail, 4.5f}, {Role::Dangle, 2.5f}}}, // of hair, where it hangs from a head
        {"caudal", {{Role::Tail, 4}}},
        {"wing", {{Role::Wing, 4.5f}}},
        {"feather", {{Role::Feather, 4.5f}}},
        {"feathers", {{Role::Feather, 4.5f}}},
        {"plume", {{Role::Feather, 4}}},
        {"primary", {{Role::Feather, 2.5f}}},
        {"primaries", {{Role::Feather, 4}}},
        {"secondaries", {{Role::Feather, 4}}},
        {"alula", {{Role::Feather, 3}, {Role::Wing, 1.5f}}},
        {"fin", {{Role::Fin, 4.5f}}},
        {"fins", {{Role::Fin, 4.5f}}},
        {"flipper", {{Role::Fin, 4.5f}}},
        {"fluke", {{Role::Fin, 4.5f}}},
        {"dorsal", {{Role::Fin, 1.5f}, {Role::Spine, 1}}},
        {"horn", {{Role::Horn, 4.5f}}},
        {"horns", {{Role::Horn, 4.5f}}},
        {"antler", {{Role::Horn, 4.5f}}},
        {"tusk", {{Role::Horn, 4.5f}}},
        {"twist", twist},
        {"roll", twist},
        {"tw", twist},
        {"helper", helper},
        {"corrective", helper},
        {"fix", helper},
        {"driver", helper},
        {"muscle", helper},
        {"bulge", helper},
        {"push", helper},
        {"volume", helper},
        {"ik", control},
        {"pole", control},
        {"ctrl", control},
        {"control", control},
        {"target", control},
        {"goal", control},
        {"effector", control},
        {"null", control},
        {"locator", control},
        {"end", end},
        {"nub", end},
        {"site", end},
        {"effend", end},
        {"antenna", dangle},
        {"apron", dangle},
        {"bang", dangle},
        {"bangs", dangle},
        {"beard", dangle},
        {"belt", dangle},
        {"braid", dangle},
        {"cape", dangle},
        {"chain", dangle},
        {"cloak", dangle},
        {"cloth", dangle},
        {"cloths", dangle},
        {"coat", dangle},
        {"cord", dangle},
        {"dangle", dangle},
        {"drape", dangle},
        {"dress", dangle},
        {"feeler", dangle},
        {"flap", dangle},
        {"fringe", dangle},
        {"gown", dangle},
        {"hair", dangle},
        {"hairs", dangle},
        {"hem", dangle},
        {"hood", dangle},
        {"kilt", dangle},
        {"lace", dangle},
        {"loincloth", dangle},
        {"mane", dangle},
        {"mantle", dangle},
        {"moustache", dangle},
        {"mustache", dangle},
        {"pigtail", dangle},
        {"pony", dangle},
        {"ponytail", dangle},
        {"ribbon", dangle},
        {"robe", dangle},
        {"rope", dangle},
        {"sash", dangle},
        {"scarf", dangle},
        {"shawl", dangle},
        {"skirt", dangle},
        {"sleeve", dangle},
        {"strap", dangle},
        {"tabard", dangle},
        {"tassel", dangle},
        {"tentacle", dangle},
        {"tie", dangle},
        {"veil", dangle},
        {"whisker", dangle},
        {"whiskers", dangle},
        {"armor", prop},
        {"armour", prop},
        {"arrow", prop},
        {"attach", prop},
        {"axe", prop},
        {"backpack", prop},
        {"bag", prop},
        {"bagpack", prop},
        {"basket", prop},
        {"book", prop},
        {"bottle", prop},
        {"bow", prop},
        {"bucket", prop},
        {"buckle", prop},
        {"cap", prop},
        {"club", prop},
        {"crown", prop},
        {"dagger", prop},
        {"glasses", prop},
        {"goggles", prop},
        {"gun", prop},
        {"hammer", prop},
        {"hat", prop},
        {"helmet", prop},
        {"holster", prop},
        {"item", prop},
        {"key", prop},
        {"knife", prop},
        {"lamp", prop},
        {"lance", prop},
        {"lantern", prop},
        {"mace", prop},
        {"mask", prop},
        {"pauldron", prop},
        {"pistol", prop},
        {"pouch", prop},
        {"prop", prop},
        {"quiver", prop},
        {"rifle", prop},
        {"rucksack", prop},
        {"saddle", prop},
        {"satchel", prop},
        {"scabbard", prop},
        {"sheath", prop},
        {"shield", prop},
        {"socket", prop},
        {"spear", prop},
        {"staff", prop},
        {"sword", prop},
        {"tool", prop},
        {"torch", prop},
        {"weapon", prop},
        {"wheel", prop},
        // place words: they name no part, but lean
        {"tip", {{Role::End, 2}}},
        {"top", {{Role::End, 1}}},
        {"upper", {{Role::Shoulder, .8f}, {Role::Hip, .8f}}},
        {"up", {{Role::Shoulder, .8f}, {Role::Hip, .8f}}},
        {"lower", {{Role::Elbow, .8f}, {Role::Knee, .8f}}},
        {"low", {{Role::Elbow, .8f}, {Role::Knee, .8f}}},
        {"lo", {{Role::Elbow, .8f}, {Role::Knee, .8f}}}};
    static const auto all = [] {
        std::map<std::string_view, const Speech*> out;
        for (const Meaning& m : table)
            out.emplace(m.word, &m.speech);
        return out;
    }();
    const auto it = all.find(word);
    return it == all.end() ? nullptr : it->second;
}

} // namespace

bool knownWord(const std::string& word) {
    constexpr std::string_view others[] = {"l",     "r",    "left", "right", "lf",  "rt",
                                           "front", "fore", "rear", "hind",  "lft", "rgt"};
    return meaningOf(word) || std::find(std::begin(others), std::end(others), word) != std::end(others);
}

LabelScores wordsFor(const std::vector<std::string>& words) {
    LabelScores out{};
    bool fore = false, hind = false;
    for (const std::string& w : words) {
        fore |= w == "front" || w == "fore";
        hind |= w == "rear" || w == "hind";
        if (const Speech* speech = meaningOf(w))
            for (const Speaks& s : *speech)
                out[static_cast<std::size_t>(labelOf(s.role, false))] += s.by;
    }
    // "elbow helper", "arm twist": of the elbow and the arm, and neither of them
    for (const Role r : {Role::Twist, Role::Helper, Role::Control})
        if (const float s = out[static_cast<std::size_t>(r)]; s >= 4)
            for (Label l = 0; l < kRoles; ++l)
                if (roleOf(l) != r)
                    out[static_cast<std::size_t>(l)] *= 0.3f;
    // "eyebrow", "eyelid": of the eye, and no eye
    for (const Role r : {Role::Brow, Role::Lid})
        if (out[static_cast<std::size_t>(r)] >= 3.5f)
            out[static_cast<std::size_t>(Role::Eye)] = 0;
    // "palm of the index": the word for the hand's bone counts, not whose
    if (out[static_cast<std::size_t>(Role::Palm)] >= 3)
        out[static_cast<std::size_t>(Role::Finger)] = 0;
    // "front" and "hind" speak of legs only where something else does
    for (Role r : foreRoles()) {
        const auto plain = static_cast<std::size_t>(labelOf(r, false)),
                   own = static_cast<std::size_t>(labelOf(r, true));
        if (out[plain] <= 0)
            continue;
        out[own] = out[plain] + (fore ? 2.f : 0.f);
        if (hind)
            out[own] -= 3;
        if (fore && r != Role::Shoulder && r != Role::Scapula)
            out[plain] -= 1;
    }
    if (hind)
        for (Role r : {Role::Hip, Role::Knee, Role::Ankle, Role::Fetlock, Role::Toe})
            if (float& s = out[static_cast<std::size_t>(labelOf(r, false))]; s > 0)
                s += 1;
    // a leg's words are a fore leg's as well: what is called thigh, knee, ankle there is another joint
    const auto also = [&](Role word, Role meant, float by) {
        const float s = out[static_cast<std::size_t>(labelOf(word, false))];
        if (s > 0) {
            float& to = out[static_cast<std::size_t>(labelOf(meant, true))];
            to = std::max(to, s * by + (fore ? 1.5f : 0.f) - (hind ? 3.f : 0.f));
        }
    };
    also(Role::Collarbone, Role::Scapula, 0.95f); // four legs have none: what is called so is the blade
    also(Role::Hip, Role::Shoulder, 0.6f);
    also(Role::Knee, Role::Elbow, 0.6f);
    also(Role::Ankle, Role::Wrist, 0.8f);
    return out;
}

} // namespace hobble
