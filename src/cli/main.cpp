// hobble-cli: the same job without a screen. The contract is docs/cli.md.
#include "cli/batch_command.h"
#include "cli/compare_commands.h"
#include "cli/log_commands.h"
#include "cli/mend_commands.h"
#include "cli/options.h"
#include "cli/self_description.h"
#include "cli/show_command.h"
#include "core/exposure/fault_use.h"
#include "core/run/run.h"
#include "core/words/cause_words.h"
#include "core/words/exposure_words.h"
#include "core/words/finding_words.h"
#include "io/character_read.h"
#include "io/file_write.h"
#include "io/intake_limits_json.h"
#include "io/limits_json.h"
#include "io/measured_cache.h"
#include "io/mesh_write.h"
#include "io/naming_json.h"
#include "io/plan_json.h"
#include "io/pose_json.h"
#include "io/run_json.h"
#include "io/variant_json.h"
#include "log/finding_defect.h"
#include "story/run_page.h"
#include "story/run_paper.h"

#include <CLI/CLI.hpp>
#include <QGuiApplication>

#include <clocale>
#include <cstdio>
#include <functional>
#include <iostream>
#include <new>
#include <unistd.h>

using namespace hobble;
using namespace hobble::cli;

namespace {

std::string column(const std::string& text, std::size_t width) {
    return text.size() < width ? text + std::string(width - text.size(), ' ') : text + " ";
}

// How much of the skin a plan moves, and what it does not.
std::string coverageLines(const Subject& s, const Plan& plan) {
    const Coverage coverage = coverageOf(*s.character, s.roles, plan);
    std::string out = wordsFor(coverage);
    for (const UntestedJoint& u : coverage.untested) {
        char share[64];
        std::snprintf(share, sizeof share, "  not tested, %4.1f %% of the skin: ", 100 * u.share);
        out += "\n" + std::string(share) + s.character->skeleton.name[static_cast<std::size_t>(u.joint)] +
               ", " + wordsFor(u.why);
    }
    return out;
}

int inspect(const Subject& s, const Options& o) {
    IntakeLimits limits;
    if (!o.limits.empty()) {
        auto given = readIntakeLimits(o.limits);
        if (!given)
            return fail(BadUse, given.error());
        limits = std::move(*given);
    }
    if (o.asJson) {
        std::cout << inspectToJson(s, limits);
        return Clean;
    }
    const Character& c = *s.character;
    std::printf("%s: %zu parts, %zu vertices, %zu triangles, %d joints\n", c.name.c_str(), c.parts.size(),
                c.vertexCount(), c.triangles.size(), c.skeleton.size());
    for (const Part& p : c.parts)
        std::printf("  part %s %7u vertices %7u triangles  %s\n", column(p.name, 24).c_str(), p.vertexCount,
                    p.triangleCount,
                    p.skinned        ? "skinned"
                    : p.carrier >= 0 ? "rigid"
                                     : "bound to nothing");
    for (int j = 0; j < c.skeleton.size(); ++j)
        std::printf("  joint %s %s %s\n", column(c.skeleton.name[j], 28).c_str(),
                    column(nameOf(s.roles[j].side), 7).c_str(), nameOf(s.roles[j].role));
    for (const std::string& note : c.notes)
        std::printf("  note: %s\n", note.c_str());
    std::printf("%s\n", coverageLines(s, fullPlan(c, s.roles)).c_str());
    const CheckFindings findings = inspect(s, limits);
    int worst = 0;
    for (const CheckFinding& f : findings) {
        std::printf("%d  %s %s\n", f.severity, f.sentence.c_str(), f.advice.c_str());
        worst = std::max(worst, f.severity);
    }
    std::printf("score %d of 100, %zu findings of %zu checks\n", intakeScore(findings), findings.size(),
                intakeChecks().size());
    return o.failAt > 0 && worst >= o.failAt ? Findings : Clean;
}

// What the rules make of the names, to be corrected by hand and given back with --naming.
int naming(const Subject& s, const Options& o) {
    NamingProfile profile;
    profile.name = s.character->name;
    for (int j = 0; j < s.character->skeleton.size(); ++j) {
        const std::string own = withoutNamespace(s.character->skeleton.name[j]);
        profile.known.insert(own);
        profile.corrections[own] = {s.roles[j].role, s.roles[j].side};
    }
    if (auto written = writeFile(o.out, namingToJson(profile)); !written)
        return fail(BadUse, written.error());
    return Clean;
}

// NAME=X,Y,Z; the name may hold anything, so the last '=' parts it.
Result<Pose> poseFrom(const Skeleton& skeleton, const std::vector<std::string>& sets) {
    Pose pose = Pose::neutral(skeleton);
    for (const std::string& set : sets) {
        const auto at = set.rfind('=');
        double x = 0, y = 0, z = 0;
        int used = 0;
        if (at == std::string::npos ||
            std::sscanf(set.c_str() + at + 1, "%lf,%lf,%lf%n", &x, &y, &z, &used) != 3 ||
            at + 1 + static_cast<std::size_t>(used) != set.size() || !Vec3d(x, y, z).allFinite())
            return Error{"--set takes JOINT=X,Y,Z in degrees, not '" + set + "'"};
        const int joint = skeleton.find(set.substr(0, at));
        if (joint < 0)
            return Error{"there is no joint '" + set.substr(0, at) + "' in this character"};
        pose.turn[joint] = turnXyz(x, y, z);
    }
    return pose;
}

int pose(const Subject& s, const Options& o) {
    auto wanted = poseFrom(s.character->skeleton, o.sets);
    if (!wanted)
        return fail(BadUse, wanted.error());
    if (!o.poseFile.empty()) {
        const auto shelved = readPose(o.poseFile);
        if (!shelved)
            return fail(BadUse, shelved.error());
        std::vector<std::string> missing;
        Pose pose = poseFor(*shelved, *s.character, s.roles, &missing);
        for (const std::string& name : missing)
            std::fprintf(stderr, "note: this character has nothing for %s\n", name.c_str());
        for (std::size_t j = 0; j < pose.turn.size(); ++j)
            pose.turn[j] = pose.turn[j] * wanted->turn[j];
        *wanted = std::move(pose);
    }
    std::vector<Vec3> positions;
    deform(*s.character, *wanted, o.method == "linear" ? Skinning::Linear : Skinning::DualQuaternion,
           positions);
    if (auto written = writePosed(*s.character, positions, o.out); !written)
        return fail(BadUse, written.error());
    return Clean;
}

Result<Done> enterInLog(const Subject& s, const RunResult& result, const Options& o) {
    const RunEntry entry = entryOf(s, result, QString::fromStdString(o.logKey));
    if (!o.logEntry.empty())
        if (auto written = writeFile(o.logEntry, toJson(entry).toStdString()); !written)
            return written;
    if (o.log.empty())
        return Done{};
    auto log = ProductionLog::open(QString::fromStdString(o.log), kUnattendedPatienceMs);
    if (!log)
        return Error{log.error()};
    return enterRun(**log, entry);
}

int run(const Subject& s, const Options& o) {
    const auto wanted = wantedPlan(*s.character, s.roles, o);
    if (!wanted)
        return fail(BadUse, wanted.error());
    for (const std::string& path : {o.json, o.csv, o.html, o.pdf})
        if (const auto possible = canPut(path); !possible)
            return fail(BadUse, possible.error());
    std::optional<Exposure> show;
    if (!o.clips.empty()) {
        auto found = exposureOf(*s.character, s.roles, *wanted, o);
        if (!found)
            return fail(Unreadable, found.error());
        show = std::move(*found);
    }
    RunOptions options;
    options.method = o.method == "linear" ? Skinning::Linear : Skinning::DualQuaternion;
    options.threads = o.threads;
    if (!o.limits.empty()) {
        auto given = readLimits(o.limits);
        if (!given)
            return fail(BadUse, given.error());
        options.limits = std::move(*given);
    }
    std::unique_ptr<MeasuredCache> cache;
    if (!o.cache.empty())
        cache = std::make_unique<MeasuredCache>(o.cache);
    options.store = cache.get();
    const bool tell = !o.quiet && isatty(2);
    if (tell)
        options.progress = [](const RunProgress& p) {
            if (p.done % 16 == 0 || p.done == p.total)
                std::fprintf(stderr, "\r%zu of %zu poses, %.0f s left ", p.done, p.total, p.secondsLeft);
        };
    const RunResult result = runPlan(s, *wanted, options);
    if (tell)
        std::fprintf(stderr, "\n");

    std::optional<std::vector<Meeting>> meetings;
    if (show && o.meetings) {
        auto found = meetingsOf(s, result, *wanted, *show, o);
        if (!found)
            return fail(Unreadable, found.error());
        meetings = std::move(*found);
    }
    if (!o.json.empty())
        if (auto written =
                put(o.json, runToJson(s, result, show ? &*show : nullptr, meetings ? &*meetings : nullptr));
            !written)
            return fail(BadUse, written.error());
    if (!o.csv.empty())
        if (auto written = put(o.csv, runToCsv(s, result)); !written)
            return fail(BadUse, written.error());
    if (!o.html.empty()) {
        RunPageWish wish;
        wish.exposure = show ? &*show : nullptr;
        if (auto written = writeFile(o.html, runPage(s, result, wish).toStdString()); !written)
            return fail(BadUse, written.error());
    }
    if (!o.pdf.empty()) {
        const auto shared =
            std::shared_ptr<const Subject>(&s, [](const Subject*) {}); // it outlives the paper
        if (auto written = writeReviewPdf(runPaper(shared, result, 20, {}, show ? &*show : nullptr),
                                          QString::fromStdString(o.pdf));
            !written)
            return fail(BadUse, written.error());
    }
    if (auto entered = enterInLog(s, result, o); !entered)
        return fail(BadUse, entered.error());
    int worst = 0;
    for (const Fault& f : result.faults)
        worst = std::max(worst, f.severity);
    if (!o.quiet && o.json != "-" && o.csv != "-") {
        for (const Fault& f : result.faults) {
            std::printf("%d  %s\n", f.severity, sentence(s, result.plan, result.findings, f).c_str());
            if (const Cause* c = f.headline())
                std::printf("   %s: %s\n", factsOf(c->kind).word, sentenceOf(*s.character, *c).c_str());
            if (show)
                std::printf("   in the show: %s\n", wordsFor(*show, faultUse(*show, result, f).past).c_str());
        }
        for (std::size_t i = 0; meetings && i < meetings->size() && i < 10; ++i)
            std::printf("%s\n", wordsFor((*meetings)[i], s, result).c_str());
        if (meetings && meetings->empty())
            std::printf("in no frame of the clips two faults meet\n");
        std::printf("%zu motions, %zu poses, %.2f s: %zu faults with %zu signs, worst %d\n",
                    result.plan.motions.size(), result.plan.stepCount(), result.seconds, result.faults.size(),
                    result.findings.size(), worst);
        std::printf("%s\n", coverageLines(s, result.plan).c_str());
    }
    const bool covered = coverageOf(*s.character, s.roles, result.plan).share >= o.leastCoverage;
    if (o.failAt > 0 && !covered && !o.quiet)
        std::fprintf(stderr, "hobble-cli: less of the skin is tested than --least-coverage %g asks for\n",
                     o.leastCoverage);
    return o.failAt > 0 && (worst >= o.failAt || !covered) ? Findings : Clean;
}

} // namespace

int main(int argc, char** argv) {
    // said in words, wherever it happens, so that who has set a limit knows which one was met
    std::set_new_handler([] {
        constexpr char words[] = "hobble-cli: out of memory\n";
        [[maybe_unused]] const auto told = ::write(2, words, sizeof words - 1);
        ::_exit(Unreadable);
    });
    // type for printed pages, without a screen
    qputenv("QT_QPA_PLATFORM", "offscreen");
    QGuiApplication qt(argc, argv);
    std::setlocale(LC_NUMERIC,
                   "C"); // the line above takes the system's; what is read and written here has points
    CLI::App app{"Hobble: range-of-motion tests of skinned characters"};
    app.set_version_flag("--version", "hobble-cli " HOBBLE_VERSION);
    app.require_subcommand(1);
    Options o;
    auto method = [&](CLI::App* sub) {
        sub->add_option("--method", o.method, "linear or dual-quaternion")
            ->check(CLI::IsMember({"linear", "dual-quaternion"}));
    };
    auto command = [&](const char* name, const char* what) {
        CLI::App* sub = app.add_subcommand(name, what);
        sub->add_option("FILE", o.file, "a character: glTF, FBX, COLLADA, X, B3D, MD5 or SMD")->required();
        sub->add_option("--naming", o.naming, "a naming profile: what the joints are");
        sub->add_option("--unit", o.unit, "of a file that does not say, or says it wrongly")
            ->check(CLI::IsMember({"m", "cm", "mm", "inch"}));
        sub->add_option("--up", o.up, "the axis that is up in such a file")
            ->check(CLI::IsMember({"x", "y", "z"}));
        return sub;
    };
    CLI::App* doInspect =
        command("inspect", "parts, joints with role and side, and what is unfit to be tested");
    doInspect->add_flag("--json", o.asJson, "as JSON on standard output");
    doInspect->add_option("--limits", o.limits, "a file of Intake limits; without it the standard ones");
    doInspect->add_option("--fail-at", o.failAt, "exit with 1 when a check is at least this severe")
        ->check(CLI::Range(1, 4));
    CLI::App* doNaming = command("naming", "write what each joint is taken for, to be corrected");
    doNaming->add_option("--out", o.out, "naming.json")->required();
    CLI::App* doIntakeLimits = app.add_subcommand("intake-limits", "write the standard limits of Intake");
    doIntakeLimits->add_option("--out", o.out, "intake-limits.json")->required();
    const auto planFile = [&](CLI::App* sub) {
        sub->add_option("--plan", o.plan, "a plan file; without it the full plan");
        sub->add_flag("--singles", o.singles, "only single joints, without poses and shapes");
    };
    CLI::App* doPlan = command("plan", "write the full plan for this character, and tell what it costs");
    planFile(doPlan);
    doPlan->add_option("--out", o.out, "plan.json");
    CLI::App* doClip =
        command("take-clip", "carry frames of a clip to this character and put them in a plan");
    planFile(doClip);
    doClip->add_option("--from", o.clipFile, "BVH, or a file with clips")->required();
    doClip->add_option("--clip", o.clip, "which of them; without it the first");
    doClip->add_option("--frames", o.frames, "N or N-M; without it all");
    doClip->add_option("--every", o.every, "every n-th frame")->check(CLI::Range(1, 1000000));
    doClip->add_option("--stress", o.stress, "only the so many frames that stress joints most")
        ->check(CLI::Range(1, 1000));
    doClip->add_option("--beyond", o.beyond, "frames past the planned ranges")
        ->check(CLI::IsMember({"keep", "leave-out", "apart"}));
    doClip->add_option("--joint-map", o.jointMap,
                       "which joint of the clip stands for which of the character");
    doClip
        ->add_option("--rest", o.rest,
                     "the frame in which the clip's body stands at rest; without it the file's own")
        ->check(CLI::Range(0, 100000000));
    doClip->add_flag("--keep-feet", o.keepFeet, "feet that stand do not slide");
    doClip->add_option("--out", o.out, "plan.json")->required();
    CLI::App* doTestClip = command("test-clip", "write the plan as a clip with named frames");
    planFile(doTestClip);
    doTestClip->add_option("--out", o.out, ".glb or .bvh")->required();
    CLI::App* doCompare = command("plan-changes", "what a plan has that another has not");
    planFile(doCompare);
    doCompare->add_option("--since", o.against, "the plan of before")->required();
    CLI::App* doLimits = app.add_subcommand("limits", "write the standard limits, to be edited");
    doLimits->add_option("--out", o.out, "limits.json")->required();
    CLI::App* doRun = command("run", "run a plan: measure every step, judge, and find");
    planFile(doRun);
    doRun->add_option("--variants", o.variants, "a file of variants of the character");
    doRun->add_option("--variant", o.variant, "which of them to test");
    doRun->add_flag("--no-drivers", o.noDrivers, "nothing follows by itself, for comparison");
    doRun->add_option("--limits", o.limits, "a limits file; without it the standard limits");
    doRun->add_option("--cache", o.cache,
                      "a folder that keeps measurements, so that nothing is measured twice");
    method(doRun);
    doRun->add_option("--json", o.json, "write the run as JSON (- for standard output)");
    doRun->add_option("--csv", o.csv, "write the measurements as CSV (- for standard output)");
    doRun->add_option("--html", o.html, "write a report for people");
    doRun->add_option("--pdf", o.pdf, "write it on paper: the worst findings with pictures");
    doRun->add_option("--log", o.log, "enter the run in this production log");
    doRun->add_option("--log-entry", o.logEntry,
                      "write what a log keeps of the run, to be entered later with log enter");
    doRun->add_option("--log-key", o.logKey,
                      "under this key the run is entered once, however often it is made");
    doRun->add_option("--fail-at", o.failAt, "exit with 1 when a finding is at least this severe")
        ->check(CLI::Range(1, 4));
    doRun
        ->add_option("--least-coverage", o.leastCoverage,
                     "with --fail-at: exit with 1 when the plan moves less than this share of the skin")
        ->check(CLI::Range(0.0, 1.0));
    doRun->add_option("--threads", o.threads, "0 uses all cores")->check(CLI::Range(0, 1024));
    doRun->add_flag("--quiet", o.quiet, "print nothing but errors");
    CLI::App* doExposure =
        command("exposure", "how far the show's own clips take this character along its plan");
    planFile(doExposure);
    doExposure
        ->add_option("--clips", o.clips,
                     "folders and files: BVH, or any file with clips; also of other bodies")
        ->required();
    doExposure->add_option("--json", o.json, "write it as JSON (- for standard output)");
    doExposure->add_option("--csv", o.csv, "write a row for each motion (- for standard output)");
    doRun->add_option("--clips", o.clips,
                      "the show's clips: says of every fault how often they go past its onset");
    doRun->add_flag("--meetings", o.meetings, "with --clips: frames of them in which several faults meet");
    for (CLI::App* sub : {doExposure, doRun})
        sub->add_option("--joint-map", o.jointMap,
                        "which joint of the clips stands for which of the character");
    doExposure->add_option("--cache", o.cache, "a folder that keeps counts, so that no clip is posed twice");
    doExposure->add_option("--threads", o.threads, "0 uses all cores")->check(CLI::Range(0, 1024));
    doExposure->add_flag("--quiet", o.quiet, "print nothing but errors");
    CLI::App* doPose = command("pose", "write the posed character as plain geometry");
    doPose->add_option("--set", o.sets, "JOINT=X,Y,Z: neutral · Rx · Ry · Rz, degrees")->take_all();
    method(doPose);
    doPose->add_option("--pose", o.poseFile, "a pose of the shelf; --set turns on from it");
    doPose->add_option("--out", o.out, ".ply, .obj or .glb")->required();
    std::function<int()> other; // a command of another file
    addLogCommands(app, std::make_shared<LogOptions>(), other);
    addCompareCommands(app, std::make_shared<CompareChoice>(), other);
    addMendCommands(app, std::make_shared<MendChoice>(), other);
    addBatchCommand(app, std::make_shared<BatchChoice>(), other);
    addWatchCommand(app, std::make_shared<WatchChoice>(), other);
    addShowCommand(app, std::make_shared<ShowChoice>(), other);
    std::string describeIn; // for the package: manual pages and completion, made of the commands themselves
    CLI::App* describe = app.add_subcommand("describe")->group("");
    describe->add_option("FOLDER", describeIn)->required();
    try {
        app.parse(argc, argv);
    } catch (const CLI::ParseError& e) {
        return app.exit(e) == 0 ? Clean : BadUse;
    }

    if (describe->parsed())
        return writeDescriptions(app, describeIn) ? Clean : fail(BadUse, "cannot write in " + describeIn);
    if (other)
        return other();
    if (doLimits->parsed()) {
        auto written = writeFile(o.out, limitsToJson(Limits::standard()));
        return written ? Clean : fail(BadUse, written.error());
    }
    if (doIntakeLimits->parsed()) {
        auto written = writeFile(o.out, intakeLimitsToJson({}));
        return written ? Clean : fail(BadUse, written.error());
    }
    ReadSettings settings;
    const std::pair<const char*, double> units[] = {{"m", 1}, {"cm", 0.01}, {"mm", 0.001}, {"inch", 0.0254}};
    for (const auto& [name, metres] : units)
        if (o.unit == name)
            settings.metresPerUnit = metres;
    if (!o.up.empty())
        settings.up = o.up[0] - 'x';
    auto character = readCharacter(o.file, settings);
    if (!character)
        return fail(Unreadable, character.error());
    if (!o.quiet && !doInspect->parsed())
        for (const std::string& note : character->notes)
            std::fprintf(stderr, "note: %s\n", note.c_str());
    std::map<std::string, RoleCorrection> corrections;
    if (!o.naming.empty()) {
        const auto profile = readNaming(o.naming);
        if (!profile)
            return fail(BadUse, profile.error());
        corrections = correctionsFor(*profile, character->skeleton);
    }
    Variant variant;
    if (!o.variants.empty()) {
        const auto given = readVariants(o.variants);
        if (!given)
            return fail(BadUse, given.error());
        const auto asked =
            std::find_if(given->begin(), given->end(), [&](const Variant& v) { return v.name == o.variant; });
        if (asked == given->end())
            return fail(BadUse, "there is no variant '" + o.variant + "' in " + o.variants);
        variant = *asked;
    }
    variant.drivers = variant.drivers && !o.noDrivers;
    if (!variant.changesNothing()) {
        // the plan is the build's, whatever the variant
        const std::vector<JointRole> roles = guessRoles(*character, corrections);
        auto given = wantedPlan(*character, roles, o);
        if (!given)
            return fail(BadUse, given.error());
        o.given = std::move(*given);
        *character = varied(*character, variant);
    }
    const Subject subject =
        prepareSubject(std::make_shared<const Character>(std::move(*character)), {}, corrections);
    if (doNaming->parsed())
        return naming(subject, o);
    if (doInspect->parsed())
        return inspect(subject, o);
    if (doPlan->parsed())
        return writePlan(subject, o);
    if (doClip->parsed())
        return takeClip(subject, o);
    if (doTestClip->parsed())
        return writeTestClip(subject, o);
    if (doCompare->parsed())
        return comparePlans(subject, o);
    if (doPose->parsed())
        return pose(subject, o);
    if (doExposure->parsed())
        return exposure(subject, o);
    return run(subject, o);
}
