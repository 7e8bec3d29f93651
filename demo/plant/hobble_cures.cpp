// hobble-cures RECIPES… [--quiet]: do the cures that are proposed cure? Every fault of the recipes that the
// run finds is planted alone, its cures are searched, and the first of them, and the best of the first three,
// is run whole: the search takes no part in the judging. docs/detection.md has the table.
//   cured    no finding of the fault's that the clean character does not have as severely
//   harm     findings of severity 2 and more that neither the faulty nor the clean character has
//   distance of the weights from the clean ones, before and after: mean over the vertices the fault touched
#include "compared_side.h"
#include "core/measure/reweight.h"
#include "core/mend/cure.h"
#include "core/run/measured_memory.h"
#include "plant/plant.h"

#include <algorithm>
#include <chrono>
#include <cstdio>
#include <cstring>

using namespace hobble;
using namespace hobble::demo;

namespace {

struct Count {
    int asked = 0, first = 0, oneOfThree = 0, harm = 0, proposed = 0;
    double before = 0, after = 0, seconds = 0, slowest = 0;
};

int severityAt(const RunResult& run, Kind kind, int joint) {
    int most = 0;
    for (const Finding& f : run.findings)
        if (f.kind == kind && f.joint == joint)
            most = std::max(most, f.severity);
    return most;
}

// Of kinds and joints that the clean character has less severely, and that are told at the fault's place.
std::vector<std::pair<Kind, int>> signsOf(const Truth& truth, const ComparedSide& clean,
                                          const ComparedSide& faulty) {
    std::vector<std::pair<Kind, int>> out;
    for (const Finding& f : faulty.run->findings) {
        const std::string& at = faulty.subject->character->skeleton.name[static_cast<std::size_t>(f.joint)];
        const bool there = at == truth.joint || std::count(truth.joints.begin(), truth.joints.end(), at) > 0;
        if (there && f.severity > severityAt(*clean.run, f.kind, f.joint) &&
            std::find(out.begin(), out.end(), std::pair(f.kind, f.joint)) == out.end())
            out.push_back({f.kind, f.joint});
    }
    return out;
}

double distance(const SkinWeights& a, const SkinWeights& b, const std::vector<std::uint32_t>& where) {
    double sum = 0;
    for (std::uint32_t v : where) {
        std::map<std::uint16_t, double> by;
        for (std::uint32_t i = a.first[v]; i < a.first[v + 1]; ++i)
            by[a.joint[i]] += static_cast<double>(a.weight[i]);
        for (std::uint32_t i = b.first[v]; i < b.first[v + 1]; ++i)
            by[b.joint[i]] -= static_cast<double>(b.weight[i]);
        for (const auto& [joint, change] : by)
            sum += std::abs(change) / 2;
    }
    return where.empty() ? 0 : sum / static_cast<double>(where.size());
}

class Score {
public:
    explicit Score(bool quiet) : quiet_(quiet) {}

    void ask(const Recipe& r, const ComparedSide& clean) {
        Character c = *clean.subject->character;
        const auto told = plant(c, r);
        if (!told || told->size() != 1 || (*told)[0].detector != "run")
            return;
        const Truth& truth = (*told)[0];
        c.neutral = neutralPositions(c);
        ComparedSide faulty;
        faulty.subject =
            std::make_shared<const Subject>(prepareSubject(std::make_shared<const Character>(std::move(c))));
        const Plan plan = defaultPlan(*faulty.subject->character, faulty.subject->roles);
        MeasuredMemory known;
        RunOptions options;
        options.store = &known;
        faulty.run = std::make_shared<const RunResult>(runPlan(*faulty.subject, plan, options));
        const auto signs = signsOf(truth, clean, faulty);
        const hobble::Fault* fault = faultWith(*faulty.run, signs);
        if (!fault)
            return; // not found: the detection score's matter
        Count& count = count_[truth.fault];
        ++count.asked;
        const auto start = std::chrono::steady_clock::now();
        const CureGoal goal = goalOf(*faulty.run, *fault);
        const Cures cures = CureSearch(faulty.subject, plan, faulty.run, known).search(goal);
        const double seconds =
            std::chrono::duration<double>(std::chrono::steady_clock::now() - start).count();
        count.seconds += seconds;
        count.slowest = std::max(count.slowest, seconds);
        count.proposed += !cures.cures.empty();
        bool cured = false;
        for (std::size_t i = 0; i < std::min<std::size_t>(3, cures.cures.size()) && !cured; ++i) {
            TriedSteps tried(faulty.subject);
            Trial trial;
            trial.steps = cures.cures[i].steps;
            tried.take(trial);
            ComparedSide mended;
            mended.subject = std::make_shared<const Subject>(prepareSubject(tried.character()));
            mended.run = std::make_shared<const RunResult>(
                runPlan(*mended.subject, defaultPlan(*mended.subject->character, mended.subject->roles)));
            cured = std::none_of(signs.begin(), signs.end(), [&](const auto& s) {
                return severityAt(*mended.run, s.first, s.second) > severityAt(*clean.run, s.first, s.second);
            });
            count.first += cured && i == 0;
            count.oneOfThree += cured;
            if (i == 0) {
                for (const Finding& f : mended.run->findings)
                    count.harm += f.severity >= 2 && severityAt(*faulty.run, f.kind, f.joint) == 0 &&
                                  severityAt(*clean.run, f.kind, f.joint) == 0;
                const SkinWeights &good = clean.subject->character->weights,
                                  &bad = faulty.subject->character->weights,
                                  &now = mended.subject->character->weights;
                if (good.vertexCount() == bad.vertexCount()) {
                    const auto touched = changedVertices(good, bad);
                    count.before += distance(good, bad, touched);
                    count.after += distance(good, now, touched);
                }
                if (!cured && !quiet_)
                    std::printf("  %s, %s: %s; %s\n", r.name.c_str(), truth.fault.c_str(),
                                cures.cures[0].name, sentence(cures.cures[0], *faulty.subject).c_str());
            }
        }
        if (cures.cures.empty() && !quiet_)
            std::printf("  %s, %s: nothing (%s; first cause %s)\n", r.name.c_str(), truth.fault.c_str(),
                        cures.nothing.c_str(),
                        goal.causes.empty() ? "none" : factsOf(goal.causes[0].kind).word);
        std::fflush(stdout);
    }

    void print() const {
        std::printf(
            "| fault | asked | proposed | first cures | one of three | harm | distance before | after | "
            "seconds, mean | slowest |\n|---|---|---|---|---|---|---|---|---|---|\n");
        Count all;
        for (const auto& [fault, c] : count_) {
            row(fault, c);
            all.asked += c.asked;
            all.first += c.first;
            all.oneOfThree += c.oneOfThree;
            all.harm += c.harm;
            all.proposed += c.proposed;
            all.before += c.before;
            all.after += c.after;
            all.seconds += c.seconds;
            all.slowest = std::max(all.slowest, c.slowest);
        }
        row("all", all);
    }

private:
    bool quiet_;
    std::map<std::string, Count> count_;

    static const hobble::Fault* faultWith(const RunResult& run,
                                          const std::vector<std::pair<Kind, int>>& signs) {
        for (const hobble::Fault& f : run.faults)
            for (int i : f.signs) {
                const Finding& g = run.findings[static_cast<std::size_t>(i)];
                if (std::find(signs.begin(), signs.end(), std::pair(g.kind, g.joint)) != signs.end())
                    return &f;
            }
        return nullptr;
    }

    static void row(const std::string& fault, const Count& c) {
        const double n = std::max(1, c.asked), p = std::max(1, c.proposed);
        std::printf("| %s | %d | %d | %.2f | %.2f | %.2f | %.3f | %.3f | %.1f | %.1f |\n", fault.c_str(),
                    c.asked, c.proposed, c.first / n, c.oneOfThree / n, c.harm / n, c.before / p, c.after / p,
                    c.seconds / n, c.slowest);
    }
};

} // namespace

int main(int argc, char** argv) {
    CleanSides cleans;
    bool quiet = false;
    for (int i = 1; i < argc; ++i)
        quiet |= !std::strcmp(argv[i], "--quiet");
    Score score(quiet);
    for (int i = 1; i < argc; ++i) {
        if (argv[i][0] == '-')
            continue;
        const auto recipes = readRecipes(argv[i]);
        if (!recipes) {
            std::fprintf(stderr, "%s\n", recipes.error().c_str());
            return 1;
        }
        for (const Recipe& r : *recipes) {
            const auto clean = cleans.of(r.character);
            if (!clean) {
                std::fprintf(stderr, "%s\n", clean.error().c_str());
                return 1;
            }
            for (const demo::Fault& f : r.faults) { // each alone
                Recipe one = r;
                one.faults = {f};
                score.ask(one, *clean);
            }
        }
    }
    score.print();
}
