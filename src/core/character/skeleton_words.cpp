#include "core/character/skeleton_words.h"

#include "core/ascii.h"
#include "core/character/joint_words.h"
#include "core/character/role_labels.h"

#include <algorithm>
#include <map>
#include <set>

namespace hobble {

namespace {

using Words = std::vector<std::string>;

bool separator(char c) { return static_cast<unsigned char>(c) < 128 && !asciiLetterOrDigit(c); }

bool saysNothing(const std::string& text) {
    const Words words = wordsOf(text);
    return std::none_of(words.begin(), words.end(), [](const std::string& w) {
        const bool handle = w == "ctrl" || w == "control" || w == "end" || w == "target" || w == "driver";
        return knownWord(w) && !handle;
    });
}

// How much of each name's front (or, of names turned about, end) nearly all share, cut back to where a word
// ends. Words that name a part of the body are no prefix, though all have them: a tail alone is all tail.
std::size_t shared(const std::vector<std::string>& names, bool front) {
    if (names.size() < 4)
        return 0;
    const auto at = [&](const std::string& n, std::size_t i) { return front ? n[i] : n[n.size() - 1 - i]; };
    const std::string& model = names[names.size() / 2];
    std::size_t best = 0;
    for (std::size_t length = 1; length < model.size(); ++length) {
        std::size_t sharing = 0, ends = 0;
        for (const std::string& n : names) {
            bool same = n.size() > length;
            for (std::size_t i = 0; same && i < length; ++i)
                same = at(n, i) == at(model, i);
            if (!same)
                continue;
            ++sharing;
            // a word ends here
            const char inner = at(n, length), last = at(model, length - 1);
            ends += separator(last) || separator(inner) ||
                    (front ? asciiUpper(inner) && !asciiUpper(last) : asciiUpper(last));
        }
        if (sharing * 10 < names.size() * 8)
            break;
        if (ends * 10 >= sharing * 9)
            best = length;
    }
    const std::string text = front ? model.substr(0, best) : model.substr(model.size() - best);
    return saysNothing(text) ? best : 0;
}

// Damerau–Levenshtein distance of one: a letter more, less, other, or two exchanged.
bool oneOff(const std::string& a, const std::string& b) {
    if (a.size() > b.size())
        return oneOff(b, a);
    if (b.size() - a.size() > 1)
        return false;
    std::size_t i = 0;
    while (i < a.size() && a[i] == b[i])
        ++i;
    if (a.size() < b.size())
        return a.compare(i, std::string::npos, b, i + 1) == 0;
    if (a.compare(std::min(i + 1, a.size()), std::string::npos, b, std::min(i + 1, b.size())) == 0)
        return true;
    return i + 1 < a.size() && a[i] == b[i + 1] && a[i + 1] == b[i] &&
           a.compare(i + 2, std::string::npos, b, i + 2) == 0;
}

std::string consonants(const std::string& word) {
    std::string out;
    for (char c : word)
        if (out.empty() || std::string("aeiou").find(c) == std::string::npos)
            out += c;
    return out;
}

// Whole words that misspelt, shortened or run-together ones are taken for.
const Words& bodyWords() {
    static const Words words{
        "pelvis",  "spine",    "chest",      "neck",       "head",     "jaw",      "eye",        "lid",
        "brow",    "lip",      "tongue",     "ear",        "clavicle", "scapula",  "shoulder",   "upper",
        "lower",   "arm",      "forearm",    "elbow",      "hand",     "wrist",    "palm",       "thumb",
        "index",   "middle",   "ring",       "pinky",      "little",   "finger",   "thigh",      "shin",
        "calf",    "knee",     "leg",        "foot",       "ankle",    "toe",      "ball",       "hoof",
        "fetlock", "pastern",  "tail",       "wing",       "twist",    "front",    "rear",       "fore",
        "hind",    "back",     "hip",        "hips",       "left",     "right",    "root",       "torso",
        "waist",   "belly",    "control",    "humerus",    "radius",   "ulna",     "femur",      "tibia",
        "carpus",  "tarsus",   "metacarpal", "metatarsal", "mandible", "cervical", "thorax",     "cape",
        "cloak",   "hair",     "braid",      "beard",      "skirt",    "sword",    "shield",     "weapon",
        "rope",    "strap",    "belt",       "trunk",      "horn",     "antler",   "tusk",       "feather",
        "flipper", "buttock",  "breast",     "cheek",      "eyelid",   "eyebrow",  "metacarpus", "metatarsus",
        "collar",  "clavicula"};
    return words;
}

// A word made of known ones, in as few as possible; empty when it is not.
Words cut(const std::string& word) {
    constexpr std::size_t never = 1000;
    std::vector<std::size_t> pieces(word.size() + 1, never), from(word.size() + 1, 0);
    pieces[0] = 0;
    for (std::size_t end = 1; end <= word.size(); ++end)
        for (std::size_t begin = 0; begin < end; ++begin) {
            if (pieces[begin] == never)
                continue;
            const std::string piece = word.substr(begin, end - begin);
            const bool letter = (piece == "l" || piece == "r") && (begin == 0 || end == word.size());
            const bool known = piece.size() >= 3 &&
                               std::find(bodyWords().begin(), bodyWords().end(), piece) != bodyWords().end();
            if ((letter || known) && pieces[begin] + 1 < pieces[end]) {
                pieces[end] = pieces[begin] + 1;
                from[end] = begin;
            }
        }
    Words out;
    if (pieces[word.size()] == never || pieces[word.size()] < 2)
        return out;
    for (std::size_t end = word.size(); end > 0; end = from[end])
        out.insert(out.begin(), word.substr(from[end], end - from[end]));
    return out;
}

const Words* shortFor(const std::string& word) {
    static const std::map<std::string, Words> known{
        {"idx", {"index"}},     {"pky", {"pinky"}},      {"pnk", {"pinky"}},     {"hd", {"head"}},
        {"ft", {"foot"}},       {"fr", {"front"}},       {"rr", {"rear"}},       {"bk", {"hind"}},
        {"frnt", {"front"}},    {"lo", {"lower"}},       {"lwr", {"lower"}},     {"upr", {"upper"}},
        {"fing", {"finger"}},   {"thb", {"thumb"}},      {"thm", {"thumb"}},     {"tl", {"tail"}},
        {"shld", {"shoulder"}}, {"shldr", {"shoulder"}}, {"foarm", {"forearm"}}, {"farm", {"forearm"}}};
    const auto it = known.find(word);
    return it == known.end() ? nullptr : &it->second;
}

Words understood(const std::string& word) {
    if (word.size() < 2 || knownWord(word) || asciiDigit(word[0]))
        return {word};
    if (const Words* known = shortFor(word))
        return *known;
    if (Words pieces = cut(word); !pieces.empty())
        return pieces;
    if (word.size() >= 3)
        for (const std::string& w : bodyWords())
            if ((w.size() >= 4 && consonants(w) == word) ||
                (word.size() >= 4 && w.size() > word.size() && w.compare(0, word.size(), word) == 0))
                return {w};
    for (const std::string& w :
         bodyWords()) // letters in another order are a slip of the hand, and no other word
        if (w.size() >= 4 && w.size() == word.size() && w[0] == word[0] &&
            std::is_permutation(w.begin(), w.end(), word.begin()))
            return {w};
    const std::string* meant = nullptr;
    if (word.size() >= 3)
        for (const std::string& w : bodyWords())
            if (w.size() >= 4 && w[0] == word[0] && oneOff(word, w)) {
                if (meant)
                    return {word}; // as near to another: nobody can tell
                meant = &w;
            }
    return {meant ? *meant : word};
}

} // namespace

std::vector<std::vector<std::string>> skeletonWords(const Skeleton& sk) {
    std::vector<std::string> names;
    for (std::string name : sk.name) {
        if (const auto at = name.find_last_of(":|"); at != std::string::npos && at + 1 < name.size())
            name = name.substr(at + 1);
        names.push_back(name);
    }
    for (bool front : {true, false})
        if (const std::size_t take = shared(names, front); take > 0) {
            const std::string model = names[names.size() / 2];
            const std::string text = front ? model.substr(0, take) : model.substr(model.size() - take);
            for (std::string& n : names)
                if (n.size() > take && n.compare(front ? 0 : n.size() - take, take, text) == 0)
                    n = front ? n.substr(take) : n.substr(0, n.size() - take);
        }
    // A language is a property of the whole skeleton: a word or two of it are chance.
    std::set<std::string> foreign;
    for (const std::string& n : names)
        for (const std::string& w : foreignWordsOf(n))
            foreign.insert(w);
    const bool translate = foreign.size() >= 3 || sk.size() < 6;
    std::vector<Words> out;
    for (const std::string& n : names) {
        Words words;
        for (const std::string& w : wordsOf(n, translate))
            for (std::string& x : understood(w))
                words.push_back(std::move(x));
        out.push_back(std::move(words));
    }
    return out;
}

std::vector<char> endsByName(const Skeleton& sk) {
    std::vector<char> out;
    for (const Words& words : skeletonWords(sk))
        out.push_back(wordsFor(words)[static_cast<std::size_t>(Role::End)] >= 3);
    return out;
}

} // namespace hobble
