// What the words of names mean.
#include "core/character/role_labels.h"

#include <algorithm>
#include <map>
#include <set>

namespace hobble {

namespace {

struct Speaks {
    Role role;
    float by;
};

// What one word speaks for. A word that means several joints speaks for each of them, and the tree decides.
const std::map<std::string, std::vector<Speaks>>& meanings() {
    using R = Role;
    const std::vector<Speaks> hand{{R::Wrist, 4}}, foot{{R::Ankle, 4}, {R::Wrist, 2}, {R::Toe, 1}},
        finger{{R::Finger, 4}, {R::Palm, .5f}}, trunk{{R::Spine, 4}, {R::Pelvis, 1.5f}}, toe{{R::Toe, 4}},
        clavicle{{R::Collarbone, 4}}, twist{{R::Twist, 4.5f}}, helper{{R::Helper, 4.5f}},
        leg{{R::Hip, 3},      {R::Knee, 3},  {R::Ankle, 2.5f}, {R::Fetlock, 1.5f},   {R::Toe, 1},
            {R::Shoulder, 2}, {R::Elbow, 2}, {R::Wrist, 1.5f}, {R::Collarbone, .5f}, {R::Scapula, 1}},
        arm{{R::Shoulder, 3}, {R::Elbow, 3}, {R::Wrist, 2}, {R::Collarbone, 1}}, root{{R::Root, 3.5f}},
        lid{{R::Lid, 4}}, lip{{R::Lip, 4}}, control{{R::Control, 4.5f}}, end{{R::End, 3.5f}},
        dangle{{R::Dangle, 4}}, prop{{R::Prop, 4}}, flesh{{R::Spine, 3}, {R::Helper, 2.5f}};
    static const std::map<std::string, std::vector<Speaks>> all{
        {"root", root},
        {"cog", {{R::Root, 2.5f}, {R::Pelvis, 1.5f}}},
        {"reference", root},
        {"armature", root},
        {"origin", root},
        {"world", root},
        {"master", root},
        {"global", root},
        {"pelvis", {{R::Pelvis, 4.5f}}},
        {"hips", {{R::Pelvis, 4}, {R::Hip, 2}}},
        {"hip", {{R::Hip, 3.5f}, {R::Pelvis, 3}}},
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
        {"rump", {{R::Helper, 3.5f}, {R::Pelvis, 2.5f}}},
        {"butt", {{R::Helper, 4}}},
        {"buttock", {{R::Helper, 4}}},
        {"buttocks", {{R::Helper, 4}}},
        {"glute", {{R::Helper, 4}}},
        {"gluteus", {{R::Helper, 4}}},
        {"breast", {{R::Helper, 4}}},
        {"breasts", {{R::Helper, 4}}},
        {"boob", {{R::Helper, 4}}},
        {"bust", {{R::Helper, 4}}},
        {"pec", {{R::Helper, 3.5f}}},
        {"pectoral", {{R::Helper, 3}, {R::Fin, 1}}},
        {"lat", {{R::Helper, 3}}},
        {"trapezius", {{R::Helper, 3.5f}}},
        {"deltoid", {{R::Helper, 3.5f}}},
        {"jiggle", helper},
        {"cheek", {{R::Helper, 3}, {R::Lip, 1}}},
        {"nose", {{R::Helper, 2}, {R::Trunk, 2}}},
        {"nostril", {{R::Helper, 3}}},
        {"snout", {{R::Jaw, 1.5f}, {R::Helper, 2}, {R::Trunk, 1.5f}}},
        {"thorax", trunk},
        {"lumbar", trunk},
        {"thoracic", trunk},
        {"vertebra", trunk},
        {"body", {{R::Spine, 3}, {R::Pelvis, 2}, {R::Root, 1.5f}}},
        {"trunk", {{R::Spine, 3}, {R::Trunk, 3}}},
        {"proboscis", {{R::Trunk, 4.5f}}},
        {"sacrum", {{R::Pelvis, 3.5f}}},
        {"neck", {{R::Neck, 4.5f}}},
        {"cervical", {{R::Neck, 4}}},
        {"head", {{R::Head, 4.5f}}},
        {"skull", {{R::Head, 4}}},
        {"cranium", {{R::Head, 4}}},
        {"jaw", {{R::Jaw, 4.5f}}},
        {"mandible", {{R::Jaw, 4.5f}}},
        {"chin", {{R::Jaw, 3.5f}}},
        {"beak", {{R::Jaw, 3}}},
        {"muzzle", {{R::Jaw, 2}}},
        {"eye", {{R::Eye, 4}, {R::Lid, .5f}}},
        {"eyeball", {{R::Eye, 4}}},
        {"lid", lid},
        {"lids", lid},
        {"blink", lid},
        {"brow", {{R::Brow, 4}}},
        {"brows", {{R::Brow, 4}}},
        {"lip", lip},
        {"lips", lip},
        {"mouth", {{R::Lip, 3.5f}, {R::Jaw, 2}}},
        {"tongue", {{R::Tongue, 4.5f}}},
        {"ear", {{R::Ear, 4.5f}}},
        {"ears", {{R::Ear, 4.5f}}},
        {"clavicle", clavicle},
        {"clav", clavicle},
        {"scapula", {{R::Scapula, 4.2f}, {R::Collarbone, 2.5f}}},
        {"scap", {{R::Scapula, 4.2f}, {R::Collarbone, 2.5f}}},
        {"blade", {{R::Scapula, 2}}},
        {"shoulder", {{R::Shoulder, 3.5f}, {R::Collarbone, 3}}},
        {"arm", arm},
        {"humerus", {{R::Shoulder, 4}}},
        {"humeral", {{R::Shoulder, 4}}},
        {"bicep", {{R::Shoulder, 3}}},
        {"biceps", {{R::Shoulder, 3}}},
        {"forearm", {{R::Elbow, 4.5f}}},
        {"elbow", {{R::Elbow, 4.5f}}},
        {"radius", {{R::Elbow, 4}}},
        {"ulna", {{R::Elbow, 4}}},
        {"hand", hand},
        {"wrist", {{R::Wrist, 4.5f}}},
        {"carpus", hand},
        {"carpal", hand},
        {"manus", {{R::Wrist, 3}, {R::Toe, 2}}},
        {"palm", {{R::Palm, 4.5f}}},
        {"metacarpal", {{R::Palm, 4}, {R::Fetlock, 2}}},
        {"cup", {{R::Palm, 3}}},
        {"metacarpus", {{R::Palm, 3}, {R::Fetlock, 3.5f}}},
        {"thumb", {{R::Thumb, 4.5f}}},
        {"index", finger},
        {"middle", {{R::Finger, 2.5f}}},
        {"mid", {{R::Finger, 2}}},
        {"ring", finger},
        {"pinky", finger},
        {"pinkie", finger},
        {"little", finger},
        {"finger", finger},
        {"fingers", finger},
        {"digit", {{R::Finger, 3}, {R::Toe, 2}}},
        {"pointer", finger},
        {"phalanx", {{R::Finger, 2}, {R::Toe, 2}, {R::Thumb, 1}}},
        {"thigh", {{R::Hip, 4.5f}}},
        {"femur", {{R::Hip, 4.5f}}},
        {"shin", {{R::Knee, 4.5f}}},
        {"calf", {{R::Knee, 4.5f}}},
        {"knee", {{R::Knee, 4.5f}}},
        {"tibia", {{R::Knee, 4.5f}}},
        {"crus", {{R::Knee, 4}}},
        {"stifle", {{R::Knee, 4.5f}}},
        {"leg", leg},
        {"foot", foot},
        {"feet", foot},
        {"ankle", {{R::Ankle, 4.5f}, {R::Wrist, 1}}},
        {"tarsus", {{R::Ankle, 4}}},
        {"hock", {{R::Ankle, 4}}},
        {"paw", foot},
        {"pes", {{R::Ankle, 2}, {R::Toe, 2.5f}}},
        {"fetlock", {{R::Fetlock, 4.5f}}},
        {"pastern", {{R::Fetlock, 4.5f}}},
        {"cannon", {{R::Fetlock, 3}, {R::Ankle, 2}}},
        {"metatarsal", {{R::Fetlock, 4}}},
        {"metatarsus", {{R::Fetlock, 4}}},
        {"toe", toe},
        {"toes", toe},
        {"ball", toe},
        {"hoof", toe},
        {"claw", toe},
        {"toebase", toe},
        {"tail", {{R::Tail, 4.5f}, {R::Dangle, 2.5f}}}, // of hair, where it hangs from a head
        {"caudal", {{R::Tail, 4}}},
        {"wing", {{R::Wing, 4.5f}}},
        {"feather", {{R::Feather, 4.5f}}},
        {"feathers", {{R::Feather, 4.5f}}},
        {"plume", {{R::Feather, 4}}},
        {"primary", {{R::Feather, 2.5f}}},
        {"primaries", {{R::Feather, 4}}},
        {"secondaries", {{R::Feather, 4}}},
        {"alula", {{R::Feather, 3}, {R::Wing, 1.5f}}},
        {"fin", {{R::Fin, 4.5f}}},
        {"fins", {{R::Fin, 4.5f}}},
        {"flipper", {{R::Fin, 4.5f}}},
        {"fluke", {{R::Fin, 4.5f}}},
        {"dorsal", {{R::Fin, 1.5f}, {R::Spine, 1}}},
        {"horn", {{R::Horn, 4.5f}}},
        {"horns", {{R::Horn, 4.5f}}},
        {"antler", {{R::Horn, 4.5f}}},
        {"tusk", {{R::Horn, 4.5f}}},
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
        {"tip", {{R::End, 2}}},
        {"top", {{R::End, 1}}},
        {"upper", {{R::Shoulder, .8f}, {R::Hip, .8f}}},
        {"up", {{R::Shoulder, .8f}, {R::Hip, .8f}}},
        {"lower", {{R::Elbow, .8f}, {R::Knee, .8f}}},
        {"low", {{R::Elbow, .8f}, {R::Knee, .8f}}},
        {"lo", {{R::Elbow, .8f}, {R::Knee, .8f}}}};
    return all;
}

} // namespace

bool knownWord(const std::string& word) {
    static const std::set<std::string> others{"l",     "r",    "left", "right", "lf",  "rt",
                                              "front", "fore", "rear", "hind",  "lft", "rgt"};
    return meanings().count(word) || others.count(word);
}

LabelScores wordsFor(const std::vector<std::string>& words) {
    LabelScores out{};
    bool fore = false, hind = false;
    for (const std::string& w : words) {
        fore |= w == "front" || w == "fore";
        hind |= w == "rear" || w == "hind";
        if (const auto it = meanings().find(w); it != meanings().end())
            for (const Speaks& s : it->second)
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
