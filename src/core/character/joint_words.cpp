#include "core/character/joint_words.h"
#include "core/ascii.h"

#include <algorithm>
#include <map>
#include <set>
#include <string_view>

namespace hobble {

namespace {

using Words = std::vector<std::string>;

// What a word means, in the words the rules know, with spaces between. Tables, not maps that are written out:
// a map made of three hundred pairs of strings takes a compiler minutes.
struct Meant {
    std::string_view written, means;
};

void push(Words& out, std::string_view means) {
    for (std::size_t at = 0; at < means.size();) {
        const std::size_t end = std::min(means.find(' ', at), means.size());
        out.emplace_back(means.substr(at, end - at));
        at = end + 1;
    }
}

using Dictionary = std::map<std::string_view, std::string_view>;
template <std::size_t N> Dictionary dictionary(const Meant (&table)[N]) {
    Dictionary out;
    for (const Meant& m : table)
        out.emplace(m.written, m.means);
    return out;
}

// Riggers name joints in their own language.
constexpr Meant kForeign[] = {{"haar", "hair"},
                              {"haare", "hair"},
                              {"umhang", "cape"},
                              {"zopf", "braid"},
                              {"rüssel", "proboscis"},
                              {"ruessel", "proboscis"},
                              {"stosszahn", "tusk"},
                              {"stoßzahn", "tusk"},
                              {"geweih", "antler"},
                              {"flosse", "fin"},
                              {"feder", "feather"},
                              {"schwert", "sword"},
                              {"schild", "shield"},
                              {"gesäß", "buttock"},
                              {"gesaess", "buttock"},
                              {"cheveux", "hair"},
                              {"tresse", "braid"},
                              {"jupe", "skirt"},
                              {"trompe", "proboscis"},
                              {"corne", "horn"},
                              {"défense", "tusk"},
                              {"nageoire", "fin"},
                              {"épée", "sword"},
                              {"epee", "sword"},
                              {"bouclier", "shield"},
                              {"fesse", "buttock"},
                              {"robe", "robe"},
                              {"pelo", "hair"},
                              {"cabello", "hair"},
                              {"trenza", "braid"},
                              {"capa", "cape"},
                              {"falda", "skirt"},
                              {"trompa", "proboscis"},
                              {"cuerno", "horn"},
                              {"colmillo", "tusk"},
                              {"aleta", "fin"},
                              {"pluma", "feather"},
                              {"espada", "sword"},
                              {"escudo", "shield"},
                              {"barriga", "belly"},
                              {"nalga", "buttock"},
                              {"schulterblatt", "scapula"},
                              {"vorder", "front"},
                              {"hinter", "hind"},
                              {"ober", "upper"},
                              {"unter", "lower"},
                              {"mittelhand", "palm"},
                              {"lippe", "lip"},
                              {"braue", "brow"},
                              {"drehung", "twist"},
                              {"fessel", "fetlock"},
                              {"vorne", "front"},
                              {"hinten", "hind"},
                              {"majeur", "middle finger"},
                              {"annulaire", "ring"},
                              {"auriculaire", "pinky"},
                              {"omoplate", "scapula"},
                              {"avant", "front"},
                              {"arriere", "hind"},
                              {"arrière", "hind"},
                              {"haut", "upper"},
                              {"bas", "lower"},
                              {"paume", "palm"},
                              {"levre", "lip"},
                              {"lèvre", "lip"},
                              {"torsion", "twist"},
                              {"paturon", "fetlock"},
                              {"sabot", "hoof"},
                              {"indice", "index"},
                              {"índice", "index"},
                              {"medio", "middle finger"},
                              {"anular", "ring"},
                              {"menique", "pinky"},
                              {"meñique", "pinky"},
                              {"escapula", "scapula"},
                              {"escápula", "scapula"},
                              {"superior", "upper"},
                              {"inferior", "lower"},
                              {"espinilla", "shin"},
                              {"labio", "lip"},
                              {"palma", "palm"},
                              {"giro", "twist"},
                              {"delantera", "front"},
                              {"delantero", "front"},
                              {"trasera", "hind"},
                              {"trasero", "hind"},
                              {"cuartilla", "fetlock"},
                              {"anulare", "ring"},
                              {"mignolo", "pinky"},
                              {"anteriore", "front"},
                              {"posteriore", "hind"},
                              {"superiore", "upper"},
                              {"inferiore", "lower"},
                              {"scapola", "scapula"},
                              {"labbro", "lip"},
                              {"tibia", "shin"},
                              {"dianteira", "front"},
                              {"dianteiro", "front"},
                              {"traseira", "hind"},
                              {"traseiro", "hind"},
                              {"mindinho", "pinky"},
                              {"aile", "wing"},
                              {"ala", "wing"},
                              {"anca", "hip"},
                              {"antebraco", "forearm"},
                              {"antebrazo", "forearm"},
                              {"antebraço", "forearm"},
                              {"asa", "wing"},
                              {"auge", "eye"},
                              {"augenbraue", "brow"},
                              {"augenlid", "lid"},
                              {"avambraccio", "forearm"},
                              {"avantbras", "forearm"},
                              {"bacino", "pelvis"},
                              {"bassin", "pelvis"},
                              {"bauch", "belly"},
                              {"becken", "pelvis"},
                              {"bein", "leg"},
                              {"braccio", "arm"},
                              {"braco", "arm"},
                              {"bras", "arm"},
                              {"brazo", "arm"},
                              {"braço", "arm"},
                              {"brust", "chest"},
                              {"brustkorb", "chest"},
                              {"cabeca", "head"},
                              {"cabeza", "head"},
                              {"cabeça", "head"},
                              {"cadera", "hip"},
                              {"cauda", "tail"},
                              {"caviglia", "ankle"},
                              {"ceja", "brow"},
                              {"cheville", "ankle"},
                              {"clavicola", "clavicle"},
                              {"clavicula", "clavicle"},
                              {"clavicule", "clavicle"},
                              {"clavícula", "clavicle"},
                              {"coda", "tail"},
                              {"codo", "elbow"},
                              {"cola", "tail"},
                              {"collo", "neck"},
                              {"colonna", "spine"},
                              {"colonne", "spine"},
                              {"columna", "spine"},
                              {"coluna", "spine"},
                              {"coscia", "thigh"},
                              {"costas", "back"},
                              {"cotovelo", "elbow"},
                              {"cou", "neck"},
                              {"coude", "elbow"},
                              {"coxa", "thigh"},
                              {"cuello", "neck"},
                              {"cuisse", "thigh"},
                              {"daumen", "thumb"},
                              {"dedo", "finger"},
                              {"derecha", "right"},
                              {"derecho", "right"},
                              {"destra", "right"},
                              {"destro", "right"},
                              {"direita", "right"},
                              {"direito", "right"},
                              {"dito", "finger"},
                              {"doigt", "finger"},
                              {"dos", "back"},
                              {"droit", "right"},
                              {"droite", "right"},
                              {"dx", "right"},
                              {"ellbogen", "elbow"},
                              {"ellenbogen", "elbow"},
                              {"epaule", "shoulder"},
                              {"espalda", "back"},
                              {"esquerda", "left"},
                              {"esquerdo", "left"},
                              {"fluegel", "wing"},
                              {"flügel", "wing"},
                              {"fuss", "foot"},
                              {"fuß", "foot"},
                              {"gamba", "leg"},
                              {"garra", "paw"},
                              {"gauche", "left"},
                              {"genou", "knee"},
                              {"ginocchio", "knee"},
                              {"gomito", "elbow"},
                              {"hals", "neck"},
                              {"hanche", "hip"},
                              {"handgelenk", "wrist"},
                              {"hombro", "shoulder"},
                              {"huefte", "hip"},
                              {"hüfte", "hip"},
                              {"izq", "left"},
                              {"izquierda", "left"},
                              {"izquierdo", "left"},
                              {"jambe", "leg"},
                              {"joelho", "knee"},
                              {"kiefer", "jaw"},
                              {"kleinfinger", "pinky"},
                              {"knie", "knee"},
                              {"knoechel", "ankle"},
                              {"knöchel", "ankle"},
                              {"kopf", "head"},
                              {"langue", "tongue"},
                              {"lengua", "tongue"},
                              {"lid", "lid"},
                              {"lingua", "tongue"},
                              {"linke", "left"},
                              {"linker", "left"},
                              {"linkes", "left"},
                              {"links", "left"},
                              {"machoire", "jaw"},
                              {"main", "hand"},
                              {"mandibula", "jaw"},
                              {"mandíbula", "jaw"},
                              {"mano", "hand"},
                              {"mao", "hand"},
                              {"mascella", "jaw"},
                              {"mittelfinger", "middle"},
                              {"mollet", "shin"},
                              {"muneca", "wrist"},
                              {"muslo", "thigh"},
                              {"muñeca", "wrist"},
                              {"mâchoire", "jaw"},
                              {"mão", "hand"},
                              {"nacken", "neck"},
                              {"oberarm", "upper arm"},
                              {"oberschenkel", "thigh"},
                              {"occhio", "eye"},
                              {"oeil", "eye"},
                              {"ohr", "ear"},
                              {"ojo", "eye"},
                              {"olho", "eye"},
                              {"ombro", "shoulder"},
                              {"orecchio", "ear"},
                              {"oreille", "ear"},
                              {"oreja", "ear"},
                              {"orelha", "ear"},
                              {"orteil", "toe"},
                              {"orteils", "toe"},
                              {"pancia", "belly"},
                              {"parpado", "lid"},
                              {"patte", "paw"},
                              {"paupiere", "lid"},
                              {"paupière", "lid"},
                              {"pecho", "chest"},
                              {"peito", "chest"},
                              {"perna", "leg"},
                              {"pescoco", "neck"},
                              {"pescoço", "neck"},
                              {"petto", "chest"},
                              {"pfote", "paw"},
                              {"pie", "foot"},
                              {"pied", "foot"},
                              {"piede", "foot"},
                              {"pierna", "leg"},
                              {"poignet", "wrist"},
                              {"poitrine", "chest"},
                              {"polegar", "thumb"},
                              {"pollice", "thumb"},
                              {"polso", "wrist"},
                              {"pouce", "thumb"},
                              {"pulgar", "thumb"},
                              {"pulso", "wrist"},
                              {"párpado", "lid"},
                              {"pé", "foot"},
                              {"quadril", "hip"},
                              {"queue", "tail"},
                              {"racine", "root"},
                              {"radice", "root"},
                              {"raiz", "root"},
                              {"raíz", "root"},
                              {"rechte", "right"},
                              {"rechter", "right"},
                              {"rechtes", "right"},
                              {"rechts", "right"},
                              {"ringfinger", "ring"},
                              {"rodilla", "knee"},
                              {"ruecken", "back"},
                              {"rücken", "back"},
                              {"rückgrat", "spine"},
                              {"schenkel", "thigh"},
                              {"schiena", "back"},
                              {"schluesselbein", "clavicle"},
                              {"schlüsselbein", "clavicle"},
                              {"schulter", "shoulder"},
                              {"schwanz", "tail"},
                              {"sinistra", "left"},
                              {"sinistro", "left"},
                              {"sourcil", "brow"},
                              {"spalla", "shoulder"},
                              {"sx", "left"},
                              {"tatze", "paw"},
                              {"testa", "head"},
                              {"tete", "head"},
                              {"tobillo", "ankle"},
                              {"tornozelo", "ankle"},
                              {"torse", "chest"},
                              {"tête", "head"},
                              {"unterarm", "forearm"},
                              {"unterkiefer", "jaw"},
                              {"unterschenkel", "shin"},
                              {"ventre", "belly"},
                              {"vientre", "belly"},
                              {"wirbelsaeule", "spine"},
                              {"wirbelsäule", "spine"},
                              {"wurzel", "root"},
                              {"zeh", "toe"},
                              {"zehe", "toe"},
                              {"zehen", "toe"},
                              {"zeigefinger", "index"},
                              {"zunge", "tongue"},
                              {"épaule", "shoulder"},
                              {"œil", "eye"},
                              {"бедро", "thigh"},
                              {"глаз", "eye"},
                              {"голень", "shin"},
                              {"голова", "head"},
                              {"грудь", "chest"},
                              {"запястье", "wrist"},
                              {"кисть", "hand"},
                              {"ключица", "clavicle"},
                              {"колено", "knee"},
                              {"крыло", "wing"},
                              {"левая", "left"},
                              {"левое", "left"},
                              {"левый", "left"},
                              {"локоть", "elbow"},
                              {"нога", "leg"},
                              {"палец", "finger"},
                              {"плечо", "shoulder"},
                              {"позвоночник", "spine"},
                              {"правая", "right"},
                              {"правое", "right"},
                              {"правый", "right"},
                              {"предплечье", "forearm"},
                              {"рука", "arm"},
                              {"спина", "back"},
                              {"стопа", "foot"},
                              {"таз", "pelvis"},
                              {"ухо", "ear"},
                              {"хвост", "tail"},
                              {"челюсть", "jaw"},
                              {"шея", "neck"},
                              {"язык", "tongue"}};

const Dictionary& foreignWords() {
    static const Dictionary words = dictionary(kForeign);
    return words;
}

// Longest first.
constexpr Meant kIdeographs[] = {
    {"人差し指", "index"}, {"センター", "root"}, {"上半身", "spine"},   {"下半身", "pelvis"},
    {"つま先", "toe"},     {"人差指", "index"},  {"无名指", "ring"},    {"手首", "wrist"},
    {"足首", "ankle"},     {"親指", "thumb"},    {"拇指", "thumb"},     {"人指", "index"},
    {"食指", "index"},     {"中指", "middle"},   {"薬指", "ring"},      {"小指", "pinky"},
    {"手指", "finger"},    {"ひじ", "elbow"},    {"上腕", "upper arm"}, {"上臂", "upper arm"},
    {"前腕", "forearm"},   {"前臂", "forearm"},  {"手捩", "twist"},     {"腕捩", "twist"},
    {"大腿", "thigh"},     {"小腿", "shin"},     {"ひざ", "knee"},      {"尻尾", "tail"},
    {"鎖骨", "clavicle"},  {"锁骨", "clavicle"}, {"骨盆", "pelvis"},    {"脊椎", "spine"},
    {"脊柱", "spine"},     {"左", "left"},       {"右", "right"},       {"指", "finger"},
    {"肩", "shoulder"},    {"肘", "elbow"},      {"腕", "arm"},         {"臂", "arm"},
    {"捩", "twist"},       {"膝", "knee"},       {"足", "leg"},         {"腿", "leg"},
    {"脚", "foot"},        {"手", "hand"},       {"首", "neck"},        {"颈", "neck"},
    {"頭", "head"},        {"头", "head"},       {"目", "eye"},         {"眼", "eye"},
    {"耳", "ear"},         {"顎", "jaw"},        {"尾", "tail"},        {"翼", "wing"},
    {"羽", "wing"},        {"腰", "hip"},        {"胸", "chest"},       {"腹", "belly"},
    {"背", "back"},        {"先", "end"}};

constexpr Meant kCompounds[] = {{"upperarm", "upper arm"},
                                {"uparm", "upper arm"},
                                {"lowerarm", "lower arm"},
                                {"lowarm", "lower arm"},
                                {"forearm", "forearm"},
                                {"upperleg", "upper leg"},
                                {"upleg", "upper leg"},
                                {"lowerleg", "lower leg"},
                                {"lowleg", "lower leg"},
                                {"foreleg", "fore leg"},
                                {"frontleg", "front leg"},
                                {"hindleg", "hind leg"},
                                {"backleg", "hind leg"},
                                {"rearleg", "hind leg"},
                                {"upperback", "upper back"},
                                {"lowerback", "lower back"},
                                {"upperchest", "upper chest"},
                                {"lowerspine", "lower spine"},
                                {"upperspine", "upper spine"},
                                {"toebase", "toe"},
                                {"eyelid", "lid"},
                                {"eyebrow", "brow"},
                                {"collarbone", "clavicle"},
                                {"collar", "clavicle"},
                                {"forefoot", "fore foot"},
                                {"hindfoot", "hind foot"},
                                {"forepaw", "fore paw"},
                                {"hindpaw", "hind paw"},
                                {"jawbone", "jaw"},
                                {"tailbone", "tail"},
                                {"armtwist", "arm twist"},
                                {"handend", "hand end"},
                                {"headend", "head end"},
                                {"headtop", "head top"},
                                {"toeend", "toe end"},
                                {"lowerjaw", "jaw"},
                                {"backbone", "spine"},
                                {"shoulderblade", "clavicle"},
                                {"thighbone", "thigh"},
                                {"shinbone", "shin"},
                                {"upperlip", "lip"},
                                {"lowerlip", "lip"}};

// Scripts that put no spaces between words: the longest known word at each place, the rest left out.
bool pushIdeographs(Words& out, const std::string& word) {
    bool any = false;
    for (std::size_t at = 0; at < word.size();) {
        std::size_t taken = 0;
        for (const auto& [written, means] : kIdeographs)
            if (word.compare(at, written.size(), written) == 0) {
                push(out, means);
                taken = written.size();
                any = true;
                break;
            }
        if (taken == 0) // past one character
            for (taken = 1;
                 at + taken < word.size() && (static_cast<unsigned char>(word[at + taken]) & 0xC0) == 0x80;)
                ++taken;
        at += taken;
    }
    return any;
}

// Compound spellings are taken apart into the words the rules know: "upperarm" → upper arm, "lshin" → l shin.
void pushWord(Words& out, const std::string& word, bool translate) {
    static const Dictionary compounds = dictionary(kCompounds);
    if (auto it = compounds.find(word); it != compounds.end()) {
        push(out, it->second);
        return;
    }
    static const std::set<std::string> stems{
        "arm",      "forearm",  "hand",   "leg",    "foot",  "toe",      "thigh",    "shin",
        "calf",     "knee",     "elbow",  "wrist",  "ankle", "shoulder", "hip",      "clavicle",
        "collar",   "thumb",    "index",  "finger", "eye",   "ear",      "upperarm", "lowerarm",
        "upperleg", "lowerleg", "upleg",  "lowleg", "wing",  "paw",      "hock",     "lid",
        "brow",     "eyelid",   "middle", "ring",   "pinky", "ulna"};
    if (word == "rear" || word == "lear") { // r + ear it is not
        out.push_back("rear");
        return;
    }
    // "leftarm", "larm", "armleft": a side run together with a stem
    for (const std::string& side :
         {std::string("left"), std::string("right"), std::string("l"), std::string("r")}) {
        if (word.size() > side.size() && word.compare(0, side.size(), side) == 0 &&
            stems.count(word.substr(side.size()))) {
            out.push_back(side);
            pushWord(out, word.substr(side.size()), translate);
            return;
        }
        if (side.size() > 1 && word.size() > side.size() &&
            word.compare(word.size() - side.size(), side.size(), side) == 0 &&
            stems.count(word.substr(0, word.size() - side.size()))) {
            pushWord(out, word.substr(0, word.size() - side.size()), translate);
            out.push_back(side);
            return;
        }
    }
    if (const auto it = foreignWords().find(word); translate && it != foreignWords().end()) {
        push(out, it->second);
        return;
    }
    if (!word.empty() && static_cast<unsigned char>(word[0]) >= 0xE0 && pushIdeographs(out, word))
        return;
    out.push_back(word);
}

// Split where case, letters and digits change and at separators, in lower case.
Words splitName(const std::string& jointName) {
    std::string name = jointName;
    if (auto at = name.find_last_of(":|"); at != std::string::npos && at + 1 < name.size())
        name = name.substr(at + 1);
    Words out;
    std::string word;
    const auto flush = [&] {
        if (!word.empty())
            out.push_back(word);
        word.clear();
    };
    for (std::size_t i = 0; i < name.size(); ++i) {
        const char c = name[i];
        if (static_cast<unsigned char>(c) < 128 && !asciiLetterOrDigit(c)) {
            flush();
            continue;
        }
        if (!word.empty()) {
            const char before = name[i - 1];
            const bool caseChange = asciiUpper(c) && asciiLower(before);
            const bool acronymEnd =
                asciiUpper(c) && asciiUpper(before) && i + 1 < name.size() && asciiLower(name[i + 1]);
            const bool digitChange = asciiDigit(c) != asciiDigit(before);
            if (caseChange || acronymEnd || digitChange)
                flush();
        }
        word += toAsciiLower(c);
    }
    flush();
    return out;
}

} // namespace

std::vector<std::string> wordsOf(const std::string& jointName, bool translate) {
    Words out;
    for (const std::string& word : splitName(jointName))
        pushWord(out, word, translate);
    return out;
}

std::vector<std::string> foreignWordsOf(const std::string& jointName) {
    // spelt as in English, whatever they mean elsewhere
    static const std::set<std::string> english{"lid",    "ringfinger", "tibia", "index",
                                               "pelvis", "arm",        "hand"};
    Words out;
    for (const std::string& word : splitName(jointName)) {
        Words known;
        const bool ideographs =
            !word.empty() && static_cast<unsigned char>(word[0]) >= 0xE0 && pushIdeographs(known, word);
        if (ideographs || (foreignWords().count(word) && !english.count(word)))
            out.push_back(word);
    }
    return out;
}

} // namespace hobble
