#include "zoo/zoo.h"

#include <algorithm>
#include <cctype>
#include <map>
#include <set>

namespace hobble::zoo {

namespace {

using Words = std::vector<std::string>;

enum Vocabulary { Plain, Joints, Latin, Ranks, German, French, Spanish, Short, Misspelt, Controls, None };
enum Letters { Camel, Snake, Upper, Dots, Run, Spaced };
enum Sides { LetterBefore, LetterAfter, WordBefore, WordAfter, Capitals, ShortAfter };
enum Numbers { FromOne, FromNought, Letter };

const char* finger(int digit) {
    static const char* names[] = {"thumb", "index", "middle", "ring", "little"};
    return names[std::clamp(digit, 0, 4)];
}

// What a role is called; several words are written as the convention joins words.
Words plain(const Bone& b) {
    switch (b.role) {
    case Role::Root:
        return {"root"};
    case Role::Pelvis:
        return {"pelvis"};
    case Role::Spine:
        return {"spine"};
    case Role::Neck:
        return {"neck"};
    case Role::Head:
        return {"head"};
    case Role::Jaw:
        return {"jaw"};
    case Role::Eye:
        return {"eye"};
    case Role::Lid:
        return {"eyelid"};
    case Role::Brow:
        return {"brow"};
    case Role::Lip:
        return {"lip"};
    case Role::Tongue:
        return {"tongue"};
    case Role::Ear:
        return {"ear"};
    case Role::Scapula:
        return {"scapula"};
    case Role::Collarbone:
        return {"clavicle"};
    case Role::Shoulder:
        return b.fore ? Words{"front", "upper", "leg"} : Words{"upper", "arm"};
    case Role::Elbow:
        return b.fore ? Words{"front", "lower", "leg"} : Words{"forearm"};
    case Role::Wrist:
        return b.fore ? Words{"front", "foot"} : Words{"hand"};
    case Role::Palm:
        return {"palm", finger(b.digit)};
    case Role::Thumb:
        return {"thumb"};
    case Role::Finger:
        return {finger(b.digit)};
    case Role::Hip:
        return {"thigh"};
    case Role::Knee:
        return {"shin"};
    case Role::Ankle:
        return {"foot"};
    case Role::Fetlock:
        return b.fore ? Words{"front", "pastern"} : Words{"rear", "pastern"};
    case Role::Toe:
        return b.fore ? Words{"front", "toe"} : Words{"toe"};
    case Role::Tail:
        return {"tail"};
    case Role::Wing:
        return {"wing"};
    case Role::Twist:
        return {"twist"};
    case Role::Trunk:
        return {"trunk"};
    case Role::Horn:
        return {b.digit == 1 ? "tusk" : "horn"};
    case Role::Fin:
        return {"fin"};
    case Role::Feather:
        return {"feather"};
    case Role::Dangle:
        return {b.digit == 1 ? "hair" : b.digit == 2 ? "skirt" : b.digit == 3 ? "antenna" : "cape"};
    case Role::Prop:
        return {b.digit == 1 ? "shield" : "sword"};
    case Role::Helper:
        return {b.digit == 1 ? "buttock" : "belly"};
    default:
        return {"bone"};
    }
}

Words joints(const Bone& b) {
    switch (b.role) {
    case Role::Pelvis:
        return {"hips"};
    case Role::Spine:
        return {b.segment > 1 ? "chest" : "spine"};
    case Role::Scapula:
        return {"shoulder"};
    case Role::Collarbone:
        return {"collar"};
    case Role::Shoulder:
        return b.fore ? Words{"fore", "shoulder"} : Words{"shoulder"};
    case Role::Elbow:
        return b.fore ? Words{"fore", "elbow"} : Words{"elbow"};
    case Role::Wrist:
        return b.fore ? Words{"fore", "wrist"} : Words{"wrist"};
    case Role::Fetlock:
        return b.fore ? Words{"fore", "fetlock"} : Words{"hind", "fetlock"};
    case Role::Hip:
        return {"hip"};
    case Role::Knee:
        return {"knee"};
    case Role::Ankle:
        return {"ankle"};
    case Role::Toe:
        return b.fore ? Words{"fore", "ball"} : Words{"ball"};
    default:
        return plain(b);
    }
}

Words latin(const Bone& b) {
    switch (b.role) {
    case Role::Spine:
        return {b.segment > 0 ? "thorax" : "lumbar"};
    case Role::Neck:
        return {"cervical"};
    case Role::Head:
        return {"cranium"};
    case Role::Jaw:
        return {"mandible"};
    case Role::Collarbone:
        return {"clavicula"};
    case Role::Shoulder:
        return {"humerus"};
    case Role::Elbow:
        return {"radius"};
    case Role::Wrist:
        return {"carpus"};
    case Role::Palm:
        return {"metacarpal", finger(b.digit)};
    case Role::Hip:
        return {"femur"};
    case Role::Knee:
        return {"tibia"};
    case Role::Ankle:
        return {"tarsus"};
    case Role::Fetlock:
        return {b.fore ? "metacarpus" : "metatarsus"};
    case Role::Toe:
        return {b.fore ? "manus" : "pes", "phalanx"};
    case Role::Tail:
        return {"caudal"};
    default:
        return plain(b);
    }
}

// "front leg 1 … 4": how far along the limb a joint is.
int rankOf(const Bone& b) {
    switch (b.role) {
    case Role::Collarbone:
    case Role::Scapula:
    case Role::Hip:
        return 0;
    case Role::Shoulder:
    case Role::Knee:
        return 1;
    case Role::Elbow:
    case Role::Ankle:
        return 2;
    case Role::Wrist:
        return 3;
    case Role::Fetlock:
        return b.fore ? 4 : 3;
    default:
        return b.fore ? 5 : 4;
    }
}

Words ranks(const Bone& b) {
    switch (b.role) {
    case Role::Collarbone:
    case Role::Scapula:
    case Role::Shoulder:
    case Role::Elbow:
    case Role::Wrist:
        return b.fore ? Words{"front", "leg"} : Words{"arm"};
    case Role::Hip:
    case Role::Knee:
    case Role::Ankle:
        return {"rear", "leg"};
    case Role::Fetlock:
    case Role::Toe:
        return {b.fore ? "front" : "rear", "leg"};
    case Role::Pelvis:
    case Role::Spine:
        return {"back"};
    default:
        return plain(b);
    }
}

Words translated(const Bone& b, const std::map<std::string, std::string>& words) {
    Words out;
    for (const std::string& w : plain(b)) {
        const auto it = words.find(w);
        out.push_back(it == words.end() ? w : it->second);
    }
    return out;
}

Words called(const Bone& b, int vocabulary) {
    static const std::map<std::string, std::string> german{{"root", "wurzel"},
                                                           {"pelvis", "becken"},
                                                           {"spine", "rückgrat"},
                                                           {"neck", "hals"},
                                                           {"head", "kopf"},
                                                           {"jaw", "kiefer"},
                                                           {"eye", "auge"},
                                                           {"eyelid", "lid"},
                                                           {"brow", "braue"},
                                                           {"lip", "lippe"},
                                                           {"tongue", "zunge"},
                                                           {"ear", "ohr"},
                                                           {"clavicle", "schlüsselbein"},
                                                           {"scapula", "schulterblatt"},
                                                           {"upper", "ober"},
                                                           {"lower", "unter"},
                                                           {"arm", "arm"},
                                                           {"forearm", "unterarm"},
                                                           {"hand", "hand"},
                                                           {"palm", "mittelhand"},
                                                           {"thumb", "daumen"},
                                                           {"index", "zeigefinger"},
                                                           {"middle", "mittelfinger"},
                                                           {"ring", "ringfinger"},
                                                           {"little", "kleinfinger"},
                                                           {"thigh", "oberschenkel"},
                                                           {"shin", "unterschenkel"},
                                                           {"foot", "fuss"},
                                                           {"toe", "zehe"},
                                                           {"tail", "schwanz"},
                                                           {"wing", "flügel"},
                                                           {"twist", "drehung"},
                                                           {"front", "vorder"},
                                                           {"rear", "hinter"},
                                                           {"leg", "bein"},
                                                           {"pastern", "fessel"}};
    static const std::map<std::string, std::string> french{
        {"root", "racine"},        {"pelvis", "bassin"},     {"spine", "colonne"}, {"neck", "cou"},
        {"head", "tete"},          {"jaw", "machoire"},      {"eye", "oeil"},      {"eyelid", "paupiere"},
        {"brow", "sourcil"},       {"lip", "levre"},         {"tongue", "langue"}, {"ear", "oreille"},
        {"clavicle", "clavicule"}, {"scapula", "omoplate"},  {"upper", "haut"},    {"lower", "bas"},
        {"arm", "bras"},           {"forearm", "avantbras"}, {"hand", "main"},     {"palm", "paume"},
        {"thumb", "pouce"},        {"index", "index"},       {"middle", "majeur"}, {"ring", "annulaire"},
        {"little", "auriculaire"}, {"thigh", "cuisse"},      {"shin", "tibia"},    {"foot", "pied"},
        {"toe", "orteil"},         {"tail", "queue"},        {"wing", "aile"},     {"twist", "torsion"},
        {"front", "avant"},        {"rear", "arriere"},      {"leg", "jambe"},     {"pastern", "paturon"}};
    static const std::map<std::string, std::string> spanish{
        {"root", "raiz"},          {"pelvis", "pelvis"},     {"spine", "columna"},  {"neck", "cuello"},
        {"head", "cabeza"},        {"jaw", "mandibula"},     {"eye", "ojo"},        {"eyelid", "parpado"},
        {"brow", "ceja"},          {"lip", "labio"},         {"tongue", "lengua"},  {"ear", "oreja"},
        {"clavicle", "clavicula"}, {"scapula", "escapula"},  {"upper", "superior"}, {"lower", "inferior"},
        {"arm", "brazo"},          {"forearm", "antebrazo"}, {"hand", "mano"},      {"palm", "palma"},
        {"thumb", "pulgar"},       {"index", "indice"},      {"middle", "medio"},   {"ring", "anular"},
        {"little", "menique"},     {"thigh", "muslo"},       {"shin", "espinilla"}, {"foot", "pie"},
        {"toe", "dedo"},           {"tail", "cola"},         {"wing", "ala"},       {"twist", "giro"},
        {"front", "delantera"},    {"rear", "trasera"},      {"leg", "pierna"},     {"pastern", "cuartilla"}};
    static const std::map<std::string, std::string> abbreviated{
        {"pelvis", "pelv"},  {"spine", "spn"}, {"neck", "nck"},   {"head", "hd"},       {"clavicle", "clav"},
        {"scapula", "scap"}, {"upper", "up"},  {"lower", "lo"},   {"forearm", "foarm"}, {"hand", "hnd"},
        {"thumb", "thm"},    {"index", "idx"}, {"middle", "mid"}, {"ring", "rng"},      {"little", "pky"},
        {"thigh", "thgh"},   {"shin", "shn"},  {"foot", "ft"},    {"tail", "tl"},       {"wing", "wng"},
        {"twist", "twst"},   {"front", "fr"},  {"rear", "rr"}};
    static const std::map<std::string, std::string> misspelt{
        {"pelvis", "plevis"}, {"clavicle", "clavical"}, {"scapula", "scapular"}, {"forearm", "forarm"},
        {"thumb", "tumb"},    {"index", "indx"},        {"thigh", "tigh"},       {"shin", "shinn"},
        {"spine", "spyne"},   {"neck", "nek"},          {"tongue", "tounge"},    {"head", "haed"},
        {"tail", "tial"},     {"twist", "twsit"},       {"foot", "foott"}};
    switch (vocabulary) {
    case Joints:
        return joints(b);
    case Latin:
        return latin(b);
    case Ranks:
        return ranks(b);
    case German:
        return translated(b, german);
    case French:
        return translated(b, french);
    case Spanish:
        return translated(b, spanish);
    case Short:
        return translated(b, abbreviated);
    case Misspelt:
        return translated(b, misspelt);
    case None:
        return {"bone"};
    default:
        return plain(b);
    }
}

std::string joined(const Words& words, int letters) {
    std::string out;
    for (std::string w : words) {
        if (letters == Camel && !w.empty())
            w[0] = static_cast<char>(std::toupper(static_cast<unsigned char>(w[0])));
        if (letters == Upper)
            for (char& x : w)
                x = static_cast<char>(std::toupper(static_cast<unsigned char>(x)));
        if (!out.empty() && (letters == Snake || letters == Upper))
            out += '_';
        if (!out.empty() && letters == Dots)
            out += '.';
        if (!out.empty() && letters == Spaced)
            out += ' ';
        out += w;
    }
    return out;
}

} // namespace

std::vector<Convention> conventions() {
    return {
        {"plain, letter after", Plain, Snake, LetterAfter, "", "", FromOne},
        {"plain, camel, word before", Plain, Camel, WordBefore, "", "", FromOne},
        {"plain, capitals", Plain, Upper, LetterBefore, "", "_JNT", FromNought},
        {"plain, run together", Plain, Run, LetterBefore, "", "", FromOne},
        {"plain, word after, prefix", Plain, Dots, WordAfter, "crew.", "", FromOne},
        {"joints, camel", Joints, Camel, WordBefore, "", "", FromNought},
        {"joints, snake, prefix", Joints, Snake, LetterBefore, "sk_", "", FromOne},
        {"joints, namespace", Joints, Snake, ShortAfter, "postman:", "_bind", FromOne},
        {"Latin", Latin, Snake, LetterAfter, "", "", FromOne},
        {"Latin, camel, suffix", Latin, Camel, Capitals, "", "Bone", FromNought},
        {"Latin, capitals", Latin, Upper, WordAfter, "", "", FromOne},
        {"ranks", Ranks, Snake, LetterAfter, "", "", FromOne},
        {"ranks, camel", Ranks, Camel, WordBefore, "", "", FromNought},
        {"ranks, letters", Ranks, Spaced, WordAfter, "", "", Letter},
        {"German", German, Snake, WordAfter, "", "", FromOne},
        {"German, camel", German, Camel, LetterAfter, "", "", FromNought},
        {"French", French, Snake, WordAfter, "", "", FromOne},
        {"French, prefix", French, Snake, LetterBefore, "perso_", "", FromOne},
        {"Spanish", Spanish, Snake, WordAfter, "", "", FromOne},
        {"Spanish, camel", Spanish, Camel, LetterAfter, "", "", FromNought},
        {"short", Short, Snake, LetterBefore, "", "", FromNought},
        {"short, camel", Short, Camel, Capitals, "", "", FromOne},
        {"short, prefix", Short, Upper, ShortAfter, "CH_", "", FromOne},
        {"misspelt", Misspelt, Snake, LetterAfter, "", "", FromOne},
        {"misspelt, camel", Misspelt, Camel, WordBefore, "", "", FromOne},
        {"controls", Plain, Snake, LetterBefore, "", "_ctrl", FromOne},
        {"controls, camel", Joints, Camel, WordAfter, "Control", "", FromOne},
        {"controls, suffix", Plain, Camel, LetterAfter, "", "CTL", FromNought},
        {"numbers only", None, Snake, LetterAfter, "", "", FromOne},
        {"numbers only, no sides", None, Snake, -1, "node_", "", FromNought},
    };
}

std::vector<std::string> namesOf(const Body& body, const Convention& v) {
    const auto number = [&](int n) {
        return v.numbers == Letter       ? std::string(1, static_cast<char>('a' + n % 26))
               : v.numbers == FromNought ? std::to_string(n)
                                         : std::to_string(n + 1);
    };
    // A name is numbered where more than one of its side would have it.
    std::vector<Words> words;
    std::map<std::pair<Words, Side>, int> count;
    for (const Bone& b : body.bones) {
        words.push_back(b.called.empty() || v.vocabulary == None ? called(b, v.vocabulary) : Words{b.called});
        if (!b.also.empty() && v.vocabulary != None)
            words.back().push_back(b.also);
        ++count[{words.back(), b.side}];
    }
    const bool french = v.vocabulary == French, german = v.vocabulary == German,
               spanish = v.vocabulary == Spanish;
    const auto side = [&](Side s) -> std::string {
        const bool left = s == Side::Left;
        if (v.sides == WordBefore || v.sides == WordAfter)
            return german    ? (left ? "links" : "rechts")
                   : french  ? (left ? "gauche" : "droite")
                   : spanish ? (left ? "izquierda" : "derecha")
                             : (left ? "left" : "right");
        if (v.sides == ShortAfter)
            return left ? "lf" : "rt";
        return v.sides == Capitals ? (left ? "L" : "R") : (left ? "l" : "r");
    };
    std::map<std::pair<Words, Side>, int> met;
    std::vector<std::string> out;
    std::set<std::string> taken;
    for (std::size_t i = 0; i < body.bones.size(); ++i) {
        const Bone& b = body.bones[i];
        Words w = words[i];
        const int nth = met[{w, b.side}]++;
        const bool sided = b.side != Side::Middle && v.sides >= 0 && v.vocabulary != None;
        const bool before = v.sides == WordBefore || v.sides == LetterBefore || v.sides == Capitals;
        if (v.vocabulary == Ranks && b.role >= Role::Collarbone && b.role <= Role::Toe &&
            b.role != Role::Palm && b.role != Role::Thumb && b.role != Role::Finger)
            w.push_back(number(rankOf(b)) + (b.role == Role::Toe && b.digit > 0
                                                 ? std::string(static_cast<std::size_t>(b.digit), 'x')
                                                 : ""));
        else if (count[{words[i], b.side}] > 1 || v.vocabulary == None)
            w.push_back(number(v.vocabulary == None ? static_cast<int>(i) : nth));
        if (v.vocabulary == None && v.sides >= 0 && b.side != Side::Middle)
            w.push_back(side(b.side));
        if (sided && before)
            w.insert(w.begin(), side(b.side));
        if (sided && !before)
            w.push_back(side(b.side));
        std::string name = v.before + joined(w, v.letters) + v.after;
        while (!taken.insert(name).second)
            name += "x";
        out.push_back(name);
    }
    return out;
}

int boneAbove(const Body& body, int bone) {
    const auto at = [&](int j) -> const Bone& { return body.bones[static_cast<std::size_t>(j)]; };
    int up = at(bone).parent;
    while (up >= 0 && at(up).radius <= 0 && !at(up).also.empty())
        up = at(up).parent;
    return up;
}

Vec3d fromAbove(const Body& body, int bone) {
    const Vec3d here = body.bones[static_cast<std::size_t>(bone)].at;
    for (int up = bone; up >= 0; up = body.bones[static_cast<std::size_t>(up)].parent)
        if (const Vec3d from = here - body.bones[static_cast<std::size_t>(up)].at; from.norm() > 1e-6)
            return from;
    return Vec3d::Zero();
}

Character characterOf(const Body& body, const Convention& convention) {
    Character c;
    c.name = body.name;
    Skeleton& sk = c.skeleton;
    sk.name = namesOf(body, convention);
    Skin skin;
    for (const Bone& b : body.bones) {
        sk.parent.push_back(b.parent);
        Transform world = Transform::Identity();
        world.translation() = b.at;
        world.linear() = b.axes.toRotationMatrix();
        sk.neutralWorld.push_back(world);
        sk.neutralLocal.push_back(
            b.parent < 0 ? world : sk.neutralWorld[static_cast<std::size_t>(b.parent)].inverse() * world);
        skin.inverseBind.push_back(world.inverse());
        skin.bound.push_back(1);
    }
    sk.restWorld = sk.neutralWorld;
    c.skins.push_back(skin);
    // A tube of rings along each bone, the first of them shared with the bone above.
    constexpr int sides = 8, rings = 5;
    Part part;
    part.name = "body";
    part.skin = 0;
    part.skinned = true;
    const auto children = sk.children();
    for (std::size_t j = 0; j < body.bones.size(); ++j) {
        const Bone& b = body.bones[j];
        if (b.radius <= 0)
            continue;
        Vec3d along = Vec3d::Zero();
        for (int k : children[j])
            if (body.bones[static_cast<std::size_t>(k)].role != Role::Twist)
                along = body.bones[static_cast<std::size_t>(k)].at - b.at;
        const Vec3d from = fromAbove(body, static_cast<int>(j));
        if (b.role == Role::Head) // whatever hangs from it
            along = 0.9 * from;
        if (along.norm() < 1e-6)
            along = 0.6 * from;
        if (along.norm() < 1e-6)
            along = {0, 2 * b.radius, 0};
        const Vec3d x = along.unitOrthogonal(), y = along.normalized().cross(x);
        const auto base = static_cast<std::uint32_t>(c.neutral.size());
        const int above = boneAbove(body, static_cast<int>(j));
        const bool blends = above >= 0 && body.bones[static_cast<std::size_t>(above)].radius > 0;
        for (int r = 0; r < rings; ++r)
            for (int k = 0; k < sides; ++k) {
                const double angle = 2 * kPi * k / sides, at = static_cast<double>(r) / (rings - 1);
                c.neutral.push_back(
                    (b.at + at * along + b.radius * (std::cos(angle) * x + std::sin(angle) * y))
                        .cast<float>());
                const float own = blends ? std::min(1.f, 0.5f + 0.25f * static_cast<float>(r)) : 1.f;
                c.weights.joint.push_back(static_cast<std::uint16_t>(j));
                c.weights.weight.push_back(own);
                if (own < 1) {
                    c.weights.joint.push_back(static_cast<std::uint16_t>(above));
                    c.weights.weight.push_back(1 - own);
                }
                c.weights.first.push_back(static_cast<std::uint32_t>(c.weights.joint.size()));
                c.weights.fileSum.push_back(1);
            }
        for (std::uint32_t r = 0; r + 1 < rings; ++r)
            for (std::uint32_t k = 0; k < sides; ++k) {
                const std::uint32_t a = base + r * sides + k, d = base + r * sides + (k + 1) % sides;
                c.triangles.push_back({a, d, a + sides});
                c.triangles.push_back({d, d + sides, a + sides});
            }
    }
    c.bindPosition = c.neutral;
    part.vertexCount = static_cast<std::uint32_t>(c.neutral.size());
    part.triangleCount = static_cast<std::uint32_t>(c.triangles.size());
    c.parts.push_back(part);
    return c;
}

} // namespace hobble::zoo
