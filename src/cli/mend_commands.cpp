#include "cli/mend_commands.h"

#include "core/compare/comparison.h"
#include "core/measure/reweight.h"
#include "io/character_read.h"
#include "io/compare_json.h"
#include "io/file_write.h"
#include "io/limits_json.h"
#include "io/measured_cache.h"
#include "io/trial_json.h"
#include "io/weights_json.h"

#include <CLI/CLI.hpp>

#include <cstdio>

namespace hobble::cli {

namespace {

Result<std::shared_ptr<const Subject>> subjectIn(const std::string& path) {
    auto character = readCharacter(path);
    if (!character)
        return Error{character.error()};
    return std::make_shared<const Subject>(
        prepareSubject(std::make_shared<const Character>(std::move(*character))));
}

int putWeights(const MendChoice& o, const Character& character) {
    for (const auto& [path, text] :
         {std::pair(o.weightsJson, &weightsToJson), std::pair(o.weightsCsv, &weightsToCsv)})
        if (!path.empty())
            if (const auto written = put(path, text(character)); !written)
                return fail(BadUse, written.error());
    return Clean;
}

int doWeights(const MendChoice& o) {
    if (o.weightsJson.empty() && o.weightsCsv.empty())
        return fail(BadUse, "name where they go: --json OUT or --csv OUT");
    const auto character = readCharacter(o.file);
    return character ? putWeights(o, *character) : fail(Unreadable, character.error());
}

// The trial on this build; one that was made on another is carried over from there.
Result<Trial> trialFor(const MendChoice& o, const Subject& subject) {
    const Subject* of = &subject;
    std::shared_ptr<const Subject> there;
    if (!o.madeOn.empty()) {
        auto read = subjectIn(o.madeOn);
        if (!read)
            return Error{read.error()};
        there = *read;
        of = there.get();
    }
    auto trial = readTrial(o.trial, of->surface);
    if (!trial)
        return Error{trial.error()};
    const std::string &hash = of->character->hash, &former = of->character->formerHash;
    if (!trial->build.empty() && trial->build != hash && trial->build != former)
        return Error{"the trial was made on another build; name its file with --made-on, and its places are "
                     "found again on this one"};
    if (there) {
        const Pairing back = pairSkin(subject, *there);
        if (back.joints.strangers())
            return Error{"the build the trial was made on is of another character"};
        for (Step& step : trial->steps)
            step = carriedOver(step, *there, subject, back);
    }
    return trial;
}

int doMend(const MendChoice& o) {
    const auto subject = subjectIn(o.file);
    if (!subject)
        return fail(Unreadable, subject.error());
    const auto trial = trialFor(o, **subject);
    if (!trial)
        return fail(BadUse, trial.error());
    RunOptions options;
    options.threads = o.threads;
    if (!o.limits.empty()) {
        auto limits = readLimits(o.limits);
        if (!limits)
            return fail(BadUse, limits.error());
        options.limits = std::move(*limits);
    }
    std::unique_ptr<MeasuredCache> cache;
    if (!o.cache.empty())
        cache = std::make_unique<MeasuredCache>(o.cache);
    options.store = cache.get();
    Options common;
    common.plan = o.plan;
    common.quiet = o.quiet;
    common.singles = o.singles;
    const auto plan = wantedPlan(*(*subject)->character, (*subject)->roles, common);
    if (!plan)
        return fail(BadUse, plan.error());
    TriedSteps tried(*subject);
    tried.take(*trial);
    const auto mended = tried.character(static_cast<std::size_t>(o.influences));
    const bool tell =
        !o.quiet && o.weightsJson != "-" && o.weightsCsv != "-" && o.json != "-" && o.csv != "-";
    bool all = true;
    for (std::size_t i = 0; i < trial->steps.size(); ++i) {
        const StepEffect& e = tried.effects()[i];
        all &= e.applies;
        if (!e.applies)
            std::fprintf(stderr, "note: step %zu, “%s”, does nothing: %s\n", i + 1,
                         sentence(trial->steps[i]).c_str(), e.why.c_str());
        else if (tell)
            std::printf("%2zu  %s: %s\n", i + 1, sentence(trial->steps[i]).c_str(),
                        !trial->steps[i].on ? "switched off"
                                            : (std::to_string(e.changed.size()) + " vertices, by up to " +
                                               std::to_string(static_cast<int>(100 * e.most + 0.5)) + " %")
                                                  .c_str());
    }
    if (const int status = putWeights(o, *mended); status != Clean)
        return status;
    const auto before = std::make_shared<const RunResult>(runPlan(**subject, *plan, options));
    const auto after = std::make_shared<const Subject>(reweighted(**subject, mended));
    const auto now = std::make_shared<const RunResult>(runPlan(*after, *plan, options));
    ComparisonOptions how;
    how.limits = options.limits;
    how.versus = Versus::Variant;
    const Comparison c = compare({ComparedSide{*subject, before}, ComparedSide{after, now}}, how);
    for (const auto& [path, text] :
         {std::pair(o.json, &comparisonToJson), std::pair(o.csv, &comparisonToCsv)})
        if (!path.empty())
            if (const auto written = put(path, text(c)); !written)
                return fail(BadUse, written.error());
    int worst = 0;
    for (const MeasureChange& m : c.differences.measures)
        if (m.verdict == Change::Worse) {
            const Role role = after->roles[static_cast<std::size_t>(m.joint[1])].role;
            worst = std::max(worst, severityOf(m.kind, m.peak[1], options.limits.of(m.kind, role)));
        }
    if (tell)
        std::printf("%s\n", sentence(c).c_str());
    if (!all)
        return Findings;
    return o.failIfWorse > 0 && worst >= o.failIfWorse ? Findings : Clean;
}

} // namespace

void addMendCommands(CLI::App& app, std::shared_ptr<MendChoice> o, std::function<int()>& chosen) {
    CLI::App* mend =
        app.add_subcommand("mend", "a trial worked out on a build, and measured before and after");
    mend->add_option("FILE", o->file, "the build")->required();
    mend->add_option("--trial", o->trial, "the steps, as JSON")->required();
    mend->add_option("--made-on", o->madeOn, "the build the trial was made on, where it is another");
    mend->add_option("--plan", o->plan, "a plan file; without it the full plan");
    mend->add_flag("--singles", o->singles, "only single joints, without poses and shapes");
    mend->add_option("--limits", o->limits, "a limits file; without it the standard limits");
    mend->add_option("--cache", o->cache, "a folder that keeps measurements");
    mend->add_option("--weights-json", o->weightsJson, "write the weights as JSON (- for standard output)");
    mend->add_option("--weights-csv", o->weightsCsv, "write the weights as CSV (- for standard output)");
    mend->add_option("--influences", o->influences, "at most so many to a vertex that was changed; 0: all")
        ->check(CLI::Range(0, 255));
    mend->add_option("--json", o->json, "write the comparison as JSON (- for standard output)");
    mend->add_option("--csv", o->csv, "write every measure as CSV (- for standard output)");
    mend->add_option("--fail-if-worse", o->failIfWorse,
                     "exit with 1 when something got worse and is that severe now")
        ->check(CLI::Range(1, 4));
    mend->add_option("--threads", o->threads, "0 uses all cores")->check(CLI::Range(0, 1024));
    mend->add_flag("--quiet", o->quiet, "print nothing but errors");
    mend->callback([&chosen, o] { chosen = [o] { return doMend(*o); }; });
    CLI::App* weights = app.add_subcommand("weights", "the weights alone, as JSON or CSV");
    weights->add_option("FILE", o->file, "a character")->required();
    weights->add_option("--json", o->weightsJson, "where they go (- for standard output)");
    weights->add_option("--csv", o->weightsCsv, "where they go (- for standard output)");
    weights->callback([&chosen, o] { chosen = [o] { return doWeights(*o); }; });
}

} // namespace hobble::cli
