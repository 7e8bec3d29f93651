// hobble-verdicts RECIPES…: are defects rightly called cured, or still there? Every fault of the recipes is
// planted, and what the run finds of it is logged. Then it is asked for again: on the clean character, on the
// faulty one with its mesh in another order, where one of two sides was mended; and what the clean character
// shows itself, on the faulty one. What is right follows from what was planted. docs/compare.md has the
// table.
#include "builds.h"
#include "compared_side.h"
#include "core/compare/check_again.h"
#include "plant/plant.h"

#include <algorithm>
#include <cstdio>

using namespace hobble;
using namespace hobble::demo;

namespace {

const std::string& nameOf(const ComparedSide& side, int joint) {
    return side.subject->character->skeleton.name[static_cast<std::size_t>(joint)];
}

// On the same mesh: a finding of that kind, told at or beside that joint, marks a quarter of its skin.
bool shownOn(const ComparedSide& side, const Finding& f) {
    const auto area = [&](const std::vector<std::uint32_t>& triangles) {
        double sum = 0;
        for (std::uint32_t t : triangles)
            sum += side.subject->surface.area[t];
        return sum;
    };
    return std::any_of(side.run->findings.begin(), side.run->findings.end(), [&](const Finding& g) {
        std::vector<std::uint32_t> common;
        std::set_intersection(f.triangles.begin(), f.triangles.end(), g.triangles.begin(), g.triangles.end(),
                              std::back_inserter(common));
        return g.kind == f.kind && area(common) > 0.25 * area(f.triangles) &&
               side.subject->character->skeleton.boneDistance(f.joint, g.joint) <= 2;
    });
}

struct Count {
    int asked = 0, right = 0, falselyCured = 0;
};

class Verdicts {
public:
    // `shown`: the delivered build shows it, whatever else it does.
    void ask(const char* pair, const ComparedSide& then, const Finding& f, const ComparedSide& now,
             const Differences& since, bool shown, std::initializer_list<Verdict> right,
             const std::string& of) {
        const CheckedAgain told =
            checkAgain(seenOf(*then.subject, *then.run, f, now.run->plan), {*now.subject, *now.run, &since});
        Count& c = count_[pair];
        ++c.asked;
        const bool falselyCured = shown && told.verdict == Verdict::Cured;
        const bool isRight =
            !falselyCured && std::find(right.begin(), right.end(), told.verdict) != right.end();
        c.right += isRight;
        c.falselyCured += falselyCured;
        if (!isRight)
            std::printf("  %s, %s: %s of %s in %s: %s (trouble then %.2f, now %.2f, limit %.2f)%s\n", pair,
                        of.c_str(), hobble::nameOf(f.kind), nameOf(then, f.joint).c_str(),
                        then.run->plan.motions[static_cast<std::size_t>(f.motion)].id.c_str(),
                        hobble::nameOf(told.verdict), told.before, told.now.value_or(-1), told.limit,
                        falselyCured ? " FALSELY CURED" : "");
    }
    void print() const {
        Count all;
        for (const auto& [pair, c] : count_) {
            std::printf("%-36s %5d asked, right %.3f, falsely cured %d\n", pair.c_str(), c.asked,
                        static_cast<double>(c.right) / std::max(1, c.asked), c.falselyCured);
            all.asked += c.asked;
            all.right += c.right;
            all.falselyCured += c.falselyCured;
        }
        std::printf("%-36s %5d asked, right %.3f, falsely cured %d\n", "all", all.asked,
                    static_cast<double>(all.right) / std::max(1, all.asked), all.falselyCured);
    }

private:
    std::map<std::string, Count> count_;
};

Differences compared(const ComparedSide& before, const ComparedSide& now) {
    return compareRuns({before, now}, pairJoints(*now.subject, *before.subject));
}

// What the run finds of the fault: told at its joints, of its kinds, and worse than without it.
std::vector<const Finding*> signsOf(const Truth& truth, const ComparedSide& faulty,
                                    const Differences& since) {
    std::vector<const Finding*> out;
    for (const Finding& f : faulty.run->findings) {
        const std::string& at = nameOf(faulty, f.joint);
        const bool there = at == truth.joint || std::count(truth.joints.begin(), truth.joints.end(), at) > 0;
        const bool worse = std::any_of(since.measures.begin(), since.measures.end(), [&](const auto& m) {
            return m.joint[1] == f.joint && m.kind == f.kind && m.verdict == Change::Worse &&
                   m.motion[1] == f.motion;
        });
        if (there && worse && std::count(truth.kinds.begin(), truth.kinds.end(), hobble::nameOf(f.kind)))
            out.push_back(&f);
    }
    return out;
}

} // namespace

int main(int argc, char** argv) {
    CleanSides cleans;
    Verdicts verdicts;
    int planted = 0;
    for (int i = 1; i < argc; ++i) {
        const auto recipes = readRecipes(argv[i]);
        if (!recipes) {
            std::fprintf(stderr, "%s\n", recipes.error().c_str());
            return 1;
        }
        for (const Recipe& r : *recipes) {
            const auto ready = cleans.of(r.character);
            if (!ready) {
                std::fprintf(stderr, "%s\n", ready.error().c_str());
                return 1;
            }
            const ComparedSide& clean = *ready;
            const auto faultyWith = [&](const Recipe& recipe, std::vector<Truth>& truth) {
                Character c = *clean.subject->character;
                auto told = plant(c, recipe);
                if (!told)
                    return ComparedSide{};
                truth = std::move(*told);
                c.neutral = neutralPositions(c);
                return comparedSide(std::move(c));
            };
            std::vector<Truth> truth;
            const ComparedSide faulty = faultyWith(r, truth);
            if (!faulty.subject || truth.size() != 1 || truth[0].detector != "run")
                continue;
            const Differences since = compared(clean, faulty), back = compared(faulty, clean);
            const auto signs = signsOf(truth[0], faulty, since);
            if (signs.empty())
                continue; // not found: the detection score's matter
            ++planted;
            const ComparedSide reordered = comparedSide(shuffled(*faulty.subject->character, 7));
            const Differences nothing = compared(faulty, reordered);
            for (const Finding* f : signs) {
                const bool clear = !shownOn(clean, *f);
                if (clear)
                    verdicts.ask("faulty logged, clean delivered", faulty, *f, clean, back, false,
                                 {Verdict::Cured, Verdict::Better}, r.name);
                else
                    verdicts.ask("better, and there before", faulty, *f, clean, back, true,
                                 {Verdict::Better, Verdict::Same, Verdict::CannotTell}, r.name);
                verdicts.ask("faulty logged, in another order", faulty, *f, reordered, nothing, true,
                             {Verdict::Same}, r.name);
            }
            int few = 0;
            for (const Finding& f : clean.run->findings)
                if (shownOn(faulty, f) && ++few <= 12)
                    verdicts.ask("clean logged, faulty delivered", clean, f, faulty, since, true,
                                 {Verdict::Same, Verdict::Worse, Verdict::Better}, r.name);
            if (truth[0].side == Side::Middle || r.faults[0].bothSides)
                continue;
            Recipe twice = r;
            twice.faults[0].joint = truth[0].joint; // the very one, and its mirror
            twice.faults[0].bothSides = true;
            std::vector<Truth> bothTruth;
            const ComparedSide both = faultyWith(twice, bothTruth);
            if (!both.subject || bothTruth.empty())
                continue;
            const Differences mended = compared(both, faulty), toBoth = compared(clean, both);
            for (const Finding& f : both.run->findings) {
                const bool sign =
                    std::count(truth[0].kinds.begin(), truth[0].kinds.end(), hobble::nameOf(f.kind)) > 0 &&
                    std::any_of(toBoth.measures.begin(), toBoth.measures.end(), [&](const auto& m) {
                        return m.joint[1] == f.joint && m.kind == f.kind && m.motion[1] == f.motion &&
                               m.verdict == Change::Worse;
                    });
                if (!sign)
                    continue;
                const Side side = both.subject->roles[static_cast<std::size_t>(f.joint)].side;
                const bool still = shownOn(faulty, f);
                if (side == truth[0].side && still)
                    verdicts.ask("one side mended, asked on the other", both, f, faulty, mended, true,
                                 {Verdict::Same, Verdict::Better, Verdict::Worse}, r.name);
                else if (side != Side::Middle && side != truth[0].side && !still)
                    verdicts.ask("one side mended, asked there", both, f, faulty, mended, false,
                                 {Verdict::Cured, Verdict::Better}, r.name);
            }
        }
    }
    std::printf("%d planted faults\n", planted);
    verdicts.print();
}
