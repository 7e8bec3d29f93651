#include "core/compare/comparison.h"
#include "core/words/finding_words.h"
#include "core/words/say.h"

#include <algorithm>
#include <cmath>

namespace hobble {

namespace {

std::string listed(const std::vector<std::string>& names, std::size_t most) {
    std::string out;
    for (std::size_t i = 0; i < std::min(names.size(), most); ++i)
        out += (i ? ", " : "") + names[i];
    if (names.size() > most)
        out += say(" and %zu more", names.size() - most);
    return out;
}

// Those with a verdict, the most changed first.
std::vector<std::string> jointsWith(const Comparison& c, Change verdict, bool mixed) {
    std::vector<const JointChange*> joints;
    for (const JointChange& j : c.differences.joints)
        if (j.mixed == mixed && (mixed || j.verdict == verdict))
            joints.push_back(&j);
    std::stable_sort(joints.begin(), joints.end(), [](const JointChange* a, const JointChange* b) {
        return std::abs(a->change) > std::abs(b->change);
    });
    std::vector<std::string> out;
    for (const JointChange* j : joints)
        out.push_back(jointWords(*c.sides[1].subject, j->joint[1]));
    return out;
}

} // namespace

std::string sentence(const Comparison& c) {
    const Differences& d = c.differences;
    if (d.joints.empty())
        return say("Nothing was measured on both sides.");
    const auto better = jointsWith(c, Change::Better, false), worse = jointsWith(c, Change::Worse, false),
               both = jointsWith(c, Change::Same, true);
    const int same = d.count(Change::Same);
    if (better.empty() && worse.empty() && both.empty())
        return same == 1 ? say("The same at the one joint that was measured.")
                         : say("The same at all %d joints.", same);
    std::string out;
    const auto add = [&](const std::string& part) { out += (out.empty() ? "" : ", ") + part; };
    const auto at = [](std::size_t n, const char* one, const char* many) {
        return n == 1 ? say(one) : say(many, n);
    };
    if (!better.empty())
        add(at(better.size(), "Better at 1 joint", "Better at %zu joints") + " (" +
            listed(better, worse.empty() && both.empty() ? 3 : 2) + ")");
    if (!worse.empty())
        add((out.empty() ? at(worse.size(), "Worse at 1 joint", "Worse at %zu joints")
                         : at(worse.size(), "worse at 1", "worse at %zu")) +
            " (" + listed(worse, 3) + ")");
    if (!both.empty())
        add((out.empty() ? at(both.size(), "Better and worse at 1 joint", "Better and worse at %zu joints")
                         : at(both.size(), "better and worse at 1", "better and worse at %zu")) +
            " (" + listed(both, 2) + ")");
    if (same > 0)
        add(say("the same at %d", same));
    return out + ".";
}

std::vector<std::string> notesOn(const Comparison& c) {
    std::vector<std::string> out;
    const JointPairing& j = c.onBefore.joints;
    const Character &before = *c.sides[0].subject->character, &now = *c.sides[1].subject->character;
    if (c.versus == Versus::Itself && c.sides[0].run->method == c.sides[1].run->method)
        out.push_back(say("Both sides are the same file."));
    for (std::size_t side : {std::size_t(0), std::size_t(1)}) {
        const Subject& s = *c.sides[side].subject;
        if (const std::size_t n = rootsOfBodies(*s.character, s.roles).size(); n > 1)
            out.push_back(say("%s holds %zu characters; they are compared as one body.",
                              side == 0 ? say("The other file").c_str() : say("This file").c_str(), n));
    }
    if (c.mirrored() && !c.sides[1].subject->mirror.found)
        out.push_back(
            say("No plane was found that this body is mirrored at: its left cannot be laid over its right."));
    if (c.versus == Versus::Character) {
        if (j.strangers())
            out.push_back(say(
                "These two share %d of the %d joints that move skin: they are no builds of one character.",
                j.movingPaired, std::min(j.moving, j.otherMoving)));
        else
            out.push_back(say(
                "Another character: %d of %d joints stand for each other, by role. Places are those of the "
                "limb, not of the skin.",
                j.movingPaired, j.moving));
    } else if (c.versus == Versus::Build) {
        if (std::abs(j.scale - 1) > 0.002)
            out.push_back(say("One is %.4g times as large as the other: they were written in other units.",
                              j.scale > 1 ? j.scale : 1 / j.scale));
        if (j.movingPaired < j.moving)
            out.push_back(
                j.moving - j.movingPaired == 1
                    ? say("One joint that moves skin is not in the other build.")
                    : say("%d joints that move skin are not in the other build.", j.moving - j.movingPaired));
        if (c.onBefore.place.size() > 0 && c.onBefore.found < 0.5)
            out.push_back(
                say("Only %.0f %% of the skin is found on the other build.", 100 * c.onBefore.found));
    }
    std::vector<std::string> names;
    for (int part : c.neutral.partsWithout)
        names.push_back(now.parts[static_cast<std::size_t>(part)].name);
    if (!names.empty())
        out.push_back(say("Only in %s: %s.", "this one", listed(names, 3).c_str()));
    names.clear();
    if (c.onNow.by == PairedBy::SamePlace)
        for (std::size_t part = 0; part < c.onNow.partOf.size(); ++part)
            if (c.onNow.partOf[part] < 0)
                names.push_back(before.parts[part].name);
    if (!names.empty())
        out.push_back(say("Only in %s: %s.", "the other", listed(names, 3).c_str()));
    if (const std::size_t n = c.differences.onlyNow.size() + c.differences.onlyBefore.size();
        n > 0 && !c.mirrored())
        out.push_back(n == 1 ? say("One motion was run on one side alone.")
                             : say("%zu motions were run on one side alone.", n));
    return out;
}

std::string skinSentence(const Comparison& c) {
    if (c.versus == Versus::Character || c.mirrored() || c.onBefore.place.empty())
        return say("Skin is not compared: these are other bodies.");
    const NeutralDifference& n = c.neutral;
    std::string out;
    const auto add = [&](const std::string& part) { out += (out.empty() ? "" : "; ") + part; };
    if (n.moved > 0)
        add(say("%s lie elsewhere in neutral, by up to %.1f mm",
                counted(n.moved, tableWord("one vertex"), manyOf("%n vertices")).c_str(), 1000 * n.farthest));
    if (n.reweighted > 0)
        add(say("weights differ at %s",
                counted(n.reweighted, tableWord("one vertex"), manyOf("%n vertices")).c_str()));
    if (n.without > 0)
        add(say("%s have no counterpart",
                counted(n.without, tableWord("one vertex"), manyOf("%n vertices")).c_str()));
    if (out.empty())
        out = c.onBefore.sameMesh ? say("The same mesh with the same weights")
                                  : say("The same skin, in another mesh, with the same weights");
    else if (c.onBefore.sameMesh)
        add(say("the mesh is the same"));
    else if (c.versus != Versus::Variant) // parts that are off are no other mesh
        add(say("the mesh was made anew"));
    return out + ".";
}

} // namespace hobble
