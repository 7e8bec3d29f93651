#include "cli/mend_commands.h"

#include "cli/log_place.h"
#include "core/compare/comparison.h"
#include "core/mend/cure.h"
#include "core/run/measured_memory.h"
#include "core/words/say.h"
#include "io/character_read.h"
#include "io/compare_json.h"
#include "io/cure_json.h"
#include "io/file_read.h"
#include "io/file_write.h"
#include "io/gltf_edit.h"
#include "io/limits_json.h"
#include "io/measured_cache.h"
#include "io/mesh_write.h"
#include "io/trial_json.h"
#include "io/weights_json.h"
#include "log/finding_defect.h"
#include "story/proposal_of.h"

#include <CLI/CLI.hpp>

#include <algorithm>
#include <cstdio>
#include <span>

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

// The build with other weights, as a file of its own.
int putBuild(const MendChoice& o, const Character& build, const Character& mended) {
    if (o.out.empty())
        return Clean;
    const auto notes = writeMended(build, mended, o.out, static_cast<std::size_t>(o.influences), o.weightsAs);
    if (!notes)
        return fail(BadUse, notes.error());
    for (const std::string& note : *notes)
        std::fprintf(stderr, "note: %s\n", note.c_str());
    return Clean;
}

int doWeights(const MendChoice& o) {
    if (o.weightsJson.empty() && o.weightsCsv.empty() && o.out.empty())
        return fail(BadUse, "name where they go: --json OUT, --csv OUT, or --from IN and --out NEW");
    if (o.from.empty() != o.out.empty())
        return fail(BadUse, "weights that are put in come --from a file, and go --out into a new build");
    const auto character = readCharacter(o.file);
    if (!character)
        return fail(Unreadable, character.error());
    Character now = *character;
    if (!o.from.empty()) {
        const auto text = readFile(o.from);
        if (!text)
            return fail(BadUse, text.error());
        auto weights = weightsFromJson(*text, *character);
        if (!weights)
            return fail(BadUse, "Cannot use " + o.from + ": " + weights.error() + ".");
        now.weights = std::move(*weights);
    }
    if (const int status = putWeights(o, now); status != Clean)
        return status;
    return putBuild(o, *character, now);
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

// A build with its run, as mend and cure both need it.
struct Ready {
    std::shared_ptr<const Subject> subject;
    Plan plan;
    RunOptions options;
    std::unique_ptr<MeasuredStore> store; // where what was measured is
};

Result<Ready> readyFor(const MendChoice& o, std::shared_ptr<const Subject> subject) {
    Ready out;
    out.subject = std::move(subject);
    out.options.threads = o.threads;
    if (!o.limits.empty()) {
        auto limits = readLimits(o.limits);
        if (!limits)
            return Error{limits.error()};
        out.options.limits = std::move(*limits);
    }
    if (o.cache.empty())
        out.store = std::make_unique<MeasuredMemory>();
    else
        out.store = std::make_unique<MeasuredCache>(o.cache);
    out.options.store = out.store.get();
    Options common;
    common.plan = o.plan;
    common.quiet = o.quiet;
    common.singles = o.singles;
    auto plan = wantedPlan(*out.subject->character, out.subject->roles, common);
    if (!plan)
        return Error{plan.error()};
    out.plan = std::move(*plan);
    return out;
}

// A defect of the log that is open as long as this.
struct LoggedDefect {
    std::unique_ptr<ProductionLog> log;
    Defect defect;
};

Result<LoggedDefect> loggedDefect(const MendChoice& o, const Subject& s) {
    auto log = logThatIsThere(o.log);
    if (!log)
        return Error{log.error()};
    auto defect = (*log)->defect(o.defect);
    if (!defect)
        return Error{defect.error()};
    if (const std::string of = defect->build.character.toStdString(); of != s.character->name)
        return Error{"defect " + std::to_string(o.defect) + " is of " + of + ", not of " + s.character->name};
    return LoggedDefect{std::move(*log), std::move(*defect)};
}

// The fault of the run that is the defect's, by joint, kind and place.
Result<CureGoal> goalOfDefect(const Defect& defect, const Subject& s, const RunResult& run) {
    const std::string number = std::to_string(defect.id);
    const auto mark = markOf(defect.facts);
    if (!mark)
        return Error{"defect " + number + " was logged without a place"};
    std::vector<FindingMark> found;
    for (const Finding& f : run.findings)
        found.push_back(markOf(s, f));
    const int finding = matchFindings({*mark}, found).front();
    if (finding < 0)
        return Error{"nothing is found any more where defect " + number + " was logged"};
    for (const Fault& f : run.faults)
        if (std::find(f.signs.begin(), f.signs.end(), finding) != f.signs.end())
            return goalOf(run, f);
    return goalOf(run, finding);
}

// To the defect in the log, as it was tried.
Result<Done> propose(const MendChoice& o, const LoggedDefect& logged, const Cure& cure, const Trial& trial,
                     const Subject& s) {
    const auto build = buildIn(*logged.log, *s.character);
    if (!build)
        return Error{build.error()};
    const Proposal p = proposalOf(trial, {}, cure, s, build->number);
    const auto written = logged.log->change({proposalEvent(logged.defect, p)}, authorOf(o.author), build->id);
    if (!written)
        return Error{written.error()};
    if (!written->clashes.isEmpty())
        return Error{written->clashes.front().words().toStdString()};
    return Done{};
}

// What is asked to be cured; an error where the run has no such thing.
Result<CureGoal> wantedGoal(const MendChoice& o, const Defect* defect, const Subject& s,
                            const RunResult& run) {
    if (o.fault > 0) {
        if (static_cast<std::size_t>(o.fault) > run.faults.size())
            return Error{"the run has " +
                         counted(run.faults.size(), tableWord("one fault"), manyOf("%n faults"))};
        return goalOf(run, run.faults[static_cast<std::size_t>(o.fault) - 1]);
    }
    if (o.finding > 0) {
        if (static_cast<std::size_t>(o.finding) > run.findings.size())
            return Error{"the run has " +
                         counted(run.findings.size(), tableWord("one finding"), manyOf("%n findings"))};
        return goalOf(run, o.finding - 1);
    }
    if (defect)
        return goalOfDefect(*defect, s, run);
    const int joint = s.character->skeleton.find(o.joint);
    if (joint < 0)
        return Error{"there is no joint " + o.joint};
    for (const Fault& f : run.faults)
        if (std::find(f.joints.begin(), f.joints.end(), joint) != f.joints.end())
            return goalOf(run, f);
    return Error{"nothing is found at " + o.joint};
}

void tell(const Cure& c, std::size_t number, const Subject& s, const RunResult& run) {
    std::printf("%zu  %s\n", number, sentence(c, s).c_str());
    for (const Step& step : c.steps)
        std::printf("     %s\n", sentence(step).c_str());
    constexpr std::size_t most = 5;
    for (const MeasureChange& m : std::span(c.worse).first(std::min(most, c.worse.size())))
        std::printf("     worse: %s at %s in %s, %.2f → %.2f\n", factsOf(m.kind).word,
                    s.character->skeleton.name[static_cast<std::size_t>(m.joint[1])].c_str(),
                    run.plan.motions[static_cast<std::size_t>(m.motion[0])].id.c_str(), m.peak[0], m.peak[1]);
    if (c.worse.size() > most)
        std::printf("     and %zu more\n", c.worse.size() - most);
}

int putTrial(const MendChoice& o, const Trial& trial, const Subject& subject) {
    if (!o.trialOut.empty())
        if (const auto written = put(o.trialOut, trialToJson(trial, subject.surface)); !written)
            return fail(BadUse, written.error());
    return Clean;
}

int doCure(const MendChoice& o) {
    if ((o.fault > 0) + (o.finding > 0) + (o.defect > 0) + !o.joint.empty() + o.all != 1)
        return fail(BadUse,
                    "say what is to be cured: --fault N, --finding N, --defect N, --joint NAME or --all");
    if ((o.defect > 0) != !o.log.empty())
        return fail(BadUse, "a defect is one of a log: --defect N --log LOG");
    if (o.propose && o.defect == 0)
        return fail(BadUse, "what is proposed is proposed for a defect: --defect N --log LOG");
    const auto subject = subjectIn(o.file);
    if (!subject)
        return fail(Unreadable, subject.error());
    std::optional<LoggedDefect> logged; // asked for before the long work
    if (o.defect > 0) {
        auto found = loggedDefect(o, **subject);
        if (!found)
            return fail(BadUse, found.error());
        logged = std::move(*found);
    }
    auto ready = readyFor(o, *subject);
    if (!ready)
        return fail(BadUse, ready.error());
    const auto run = std::make_shared<const RunResult>(runPlan(**subject, ready->plan, ready->options));
    CureOptions how;
    how.limits = ready->options.limits;
    how.threads = o.threads;
    const bool says = !o.quiet && o.json != "-" && o.trialOut != "-";
    if (o.all) {
        const CuredAll all = cureAll(*subject, ready->plan, run, *ready->store, how);
        for (std::size_t i = 0; says && i < all.taken.size(); ++i)
            tell(all.taken[i].second, i + 1, **subject, *run);
        if (says)
            std::printf("%zu findings, then %zu\n", run->findings.size(), all.run->findings.size());
        if (!o.json.empty())
            if (const auto written = put(o.json, curedAllToJson(all, **subject)); !written)
                return fail(BadUse, written.error());
        if (const int status = putTrial(o, all.trial, **subject); status != Clean)
            return status;
        return all.taken.empty() ? Findings : Clean;
    }
    const auto goal = wantedGoal(o, logged ? &logged->defect : nullptr, **subject, *run);
    if (!goal)
        return fail(BadUse, goal.error());
    const Cures found = CureSearch(*subject, ready->plan, run, *ready->store).search(*goal, how);
    for (std::size_t i = 0; says && i < found.cures.size(); ++i)
        tell(found.cures[i], i + 1, **subject, *run);
    if (says && found.cures.empty())
        std::printf("Nothing helps: %s.\n", found.nothing.c_str());
    if (!o.json.empty())
        if (const auto written = put(o.json, curesToJson(found, *goal, **subject, *run)); !written)
            return fail(BadUse, written.error());
    const std::size_t take = o.take > 0 ? static_cast<std::size_t>(o.take) : 1;
    if (o.take > 0 && take > found.cures.size())
        return fail(BadUse, "there are " + std::to_string(found.cures.size()) + " cures to take");
    if (take <= found.cures.size()) {
        Trial trial;
        trial.name = found.cures[take - 1].name;
        trial.build = (*subject)->character->hash;
        trial.steps = found.cures[take - 1].steps;
        trial.aim.defect = o.defect;
        if (o.propose)
            if (const auto written = propose(o, *logged, found.cures[take - 1], trial, **subject); !written)
                return fail(BadUse, written.error());
        if (const int status = putTrial(o, trial, **subject); status != Clean)
            return status;
    }
    return found.cures.empty() || found.cures.front().harms() ? Findings : Clean;
}

int doMend(const MendChoice& o) {
    const auto subject = subjectIn(o.file);
    if (!subject)
        return fail(Unreadable, subject.error());
    const auto trial = trialFor(o, **subject);
    if (!trial)
        return fail(BadUse, trial.error());
    auto ready = readyFor(o, *subject);
    if (!ready)
        return fail(BadUse, ready.error());
    const RunOptions& options = ready->options;
    const Plan* plan = &ready->plan;
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
    if (const int status = putBuild(o, *(*subject)->character, *mended); status != Clean)
        return status;
    if (!o.shapes.empty()) {
        const auto written = writeNewShapes(*(*subject)->character, *mended, o.shapes);
        if (!written)
            return fail(BadUse, written.error());
        if (tell)
            std::printf("%zu shapes in %s\n", written->size(), o.shapes.c_str());
    }
    const auto before = std::make_shared<const RunResult>(runPlan(**subject, *plan, options));
    const bool moves = std::any_of(tried.effects().begin(), tried.effects().end(),
                                   [](const StepEffect& e) { return e.skeleton; });
    const auto after = mendedSubject(**subject, mended, moves);
    const auto now = std::make_shared<const RunResult>(
        runPlan(*after, turnedAlike(*plan, *(*subject)->character, *mended), options));
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

// The skin of the parts named, or of all that is bound.
Result<MendPlace> skinOf(const std::vector<std::string>& parts, const Subject& subject) {
    MendPlace out;
    out.what = MendPlace::What::Marked;
    const Character& c = *subject.character;
    for (const std::string& name : parts)
        if (std::none_of(c.parts.begin(), c.parts.end(), [&](const Part& p) { return p.name == name; }))
            return Error{"there is no part " + name};
    for (std::uint32_t v = 0; v < subject.surface.vertexCount(); ++v) {
        const int part = c.partOfVertex(subject.surface.representative(v));
        if (part < 0 || !c.parts[static_cast<std::size_t>(part)].skinned)
            continue;
        const std::string& name = c.parts[static_cast<std::size_t>(part)].name;
        if (parts.empty() || std::find(parts.begin(), parts.end(), name) != parts.end())
            out.vertices.push_back(v);
    }
    if (out.vertices.empty())
        return Error{"none of that has weights in the file: only what is skinned can be bound anew"};
    return out;
}

int doBind(const MendChoice& o) {
    if (o.out.empty() && o.weightsJson.empty() && o.weightsCsv.empty() && o.trialOut.empty())
        return fail(BadUse,
                    "name where it goes: --out NEW, --weights-json OUT, --weights-csv OUT or --trial OUT");
    if (o.asBelow && !o.joint.empty())
        return fail(BadUse, "a garment takes all that the skin below it has: --joint goes with --by");
    const auto subject = subjectIn(o.file);
    if (!subject)
        return fail(Unreadable, subject.error());
    auto place = skinOf(o.parts, **subject);
    if (!place)
        return fail(BadUse, place.error());
    Step step;
    step.kind = o.asBelow ? StepKind::CarryOver : StepKind::Bind;
    step.place = std::move(*place);
    step.joint = o.joint;
    step.part = o.below;
    step.bindBy = o.bindBy;
    step.amount = o.reach;
    Trial trial;
    trial.name = o.asBelow ? "as the skin below" : "bound anew";
    trial.build = (*subject)->character->hash;
    trial.steps = {step};
    TriedSteps tried(*subject);
    tried.take(trial);
    const StepEffect& e = tried.effects().front();
    if (!e.applies)
        return fail(BadUse, "Cannot bind it so: " + e.why + ".");
    const bool tell = !o.quiet && o.weightsJson != "-" && o.weightsCsv != "-" && o.trialOut != "-";
    if (tell)
        std::printf("%s: %zu vertices, by up to %d %%\n", sentence(step).c_str(), e.changed.size(),
                    static_cast<int>(100 * e.most + 0.5));
    const auto bound = tried.character(static_cast<std::size_t>(o.influences));
    if (const int status = putWeights(o, *bound); status != Clean)
        return status;
    if (const int status = putTrial(o, trial, **subject); status != Clean)
        return status;
    return putBuild(o, *(*subject)->character, *bound);
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
    const std::map<std::string, WeightsAs> as{
        {"float", WeightsAs::Float}, {"unorm8", WeightsAs::Unorm8}, {"unorm16", WeightsAs::Unorm16}};
    mend->add_option("--out", o->out, "write the mended build, all else in the file as it was");
    mend->add_option("--weights-as", o->weightsAs, "float, unorm8 or unorm16, in the new build")
        ->transform(CLI::CheckedTransformer(as));
    mend->add_option("--influences", o->influences, "at most so many to a vertex that was changed; 0: all")
        ->check(CLI::Range(0, 255));
    mend->add_option("--shapes", o->shapes,
                     "a folder for the corrective shapes, each as an .obj of its part");
    mend->add_option("--json", o->json, "write the comparison as JSON (- for standard output)");
    mend->add_option("--csv", o->csv, "write every measure as CSV (- for standard output)");
    mend->add_option("--fail-if-worse", o->failIfWorse,
                     "exit with 1 when something got worse and is that severe now")
        ->check(CLI::Range(1, 4));
    mend->add_option("--threads", o->threads, "0 uses all cores")->check(CLI::Range(0, 1024));
    mend->add_flag("--quiet", o->quiet, "print nothing but errors");
    mend->callback([&chosen, o] { chosen = [o] { return doMend(*o); }; });
    CLI::App* cure = app.add_subcommand("cure", "cures for a fault, tried and proved");
    cure->add_option("FILE", o->file, "the build")->required();
    cure->add_option("--fault", o->fault, "of the run's list, from 1")->check(CLI::PositiveNumber);
    cure->add_option("--finding", o->finding, "of the run's findings, from 1")->check(CLI::PositiveNumber);
    cure->add_option("--joint", o->joint, "the most urgent fault at a joint");
    cure->add_option("--defect", o->defect, "the fault that a defect of --log was logged for")
        ->check(CLI::PositiveNumber);
    cure->add_option("--log", o->log, "a production log");
    cure->add_flag("--propose", o->propose, "the cure that is taken becomes the defect's proposal");
    cure->add_option("--author", o->author, "who proposes it; else the user");
    cure->add_flag("--all", o->all, "all that can be cured, one after the other");
    cure->add_option("--take", o->take, "which of the cures goes into the trial; without it the first")
        ->check(CLI::PositiveNumber);
    cure->add_option("--trial", o->trialOut, "write the steps as a trial (- for standard output)");
    cure->add_option("--json", o->json, "write the cures as JSON (- for standard output)");
    cure->add_option("--plan", o->plan, "a plan file; without it the full plan");
    cure->add_flag("--singles", o->singles, "only single joints, without poses and shapes");
    cure->add_option("--limits", o->limits, "a limits file; without it the standard limits");
    cure->add_option("--cache", o->cache, "a folder that keeps measurements");
    cure->add_option("--threads", o->threads, "0 uses all cores")->check(CLI::Range(0, 1024));
    cure->add_flag("--quiet", o->quiet, "print nothing but errors");
    cure->callback([&chosen, o] { chosen = [o] { return doCure(*o); }; });
    CLI::App* anew = app.add_subcommand("bind", "skin bound from scratch, or as the skin below it");
    anew->add_option("FILE", o->file, "a character")->required();
    anew->add_option("--part", o->parts, "only this part; may be given again");
    const std::map<std::string, BindBy> by{{"heat", BindBy::Heat}, {"distance", BindBy::Distance}};
    anew->add_option("--by", o->bindBy, "heat, or distance to the bones")
        ->transform(CLI::CheckedTransformer(by));
    anew->add_option("--joint", o->joint, "only by this joint and those beside it");
    anew->add_flag("--as-below", o->asBelow, "a garment takes what the skin below it has");
    anew->add_option("--below", o->below, "the part it is taken from; without it, any other");
    anew->add_option(
            "--reach", o->reach,
            "by heat: how soon a share fades (1); by distance: the power (4); as below: from how far, metres")
        ->check(CLI::PositiveNumber);
    anew->add_option("--out", o->out, "write the build, all else in the file as it was");
    anew->add_option("--weights-json", o->weightsJson, "write the weights as JSON (- for standard output)");
    anew->add_option("--weights-csv", o->weightsCsv, "write the weights as CSV (- for standard output)");
    anew->add_option("--weights-as", o->weightsAs, "float, unorm8 or unorm16, in the new build")
        ->transform(CLI::CheckedTransformer(as));
    anew->add_option("--influences", o->influences, "at most so many to a vertex that was changed; 0: all")
        ->check(CLI::Range(0, 255));
    anew->add_option("--trial", o->trialOut, "write the step as a trial (- for standard output)");
    anew->add_flag("--quiet", o->quiet, "print nothing but errors");
    anew->callback([&chosen, o] { chosen = [o] { return doBind(*o); }; });
    CLI::App* weights = app.add_subcommand("weights", "the weights alone, as JSON or CSV");
    weights->add_option("FILE", o->file, "a character")->required();
    weights->add_option("--json", o->weightsJson, "where they go (- for standard output)");
    weights->add_option("--csv", o->weightsCsv, "where they go (- for standard output)");
    weights->add_option("--from", o->from, "weights as JSON that are put in");
    weights->add_option("--out", o->out, "the build with these, all else in the file as it was");
    weights->add_option("--influences", o->influences, "at most so many to a vertex that was changed; 0: all")
        ->check(CLI::Range(0, 255));
    weights->add_option("--weights-as", o->weightsAs, "float, unorm8 or unorm16, in the new build")
        ->transform(CLI::CheckedTransformer(as));
    weights->callback([&chosen, o] { chosen = [o] { return doWeights(*o); }; });
}

} // namespace hobble::cli
