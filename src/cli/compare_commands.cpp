#include "cli/compare_commands.h"

#include "cli/log_place.h"
#include "core/compare/comparison.h"
#include "core/words/finding_words.h"
#include "io/character_read.h"
#include "io/compare_json.h"
#include "io/file_write.h"
#include "io/limits_json.h"
#include "io/measured_cache.h"
#include "io/naming_json.h"
#include "log/finding_defect.h"
#include "log/sign_off.h"
#include "story/check_page.h"
#include "story/compare_page.h"
#include "story/defect_checks.h"
#include "story/sign_off_paper.h"

#include <CLI/CLI.hpp>

#include <QJsonArray>
#include <QJsonDocument>
#include <QJsonObject>

#include <cstdio>
#include <iostream>
#include <unistd.h>

namespace hobble::cli {

namespace {

QString said(const std::string& s) { return QString::fromStdString(s); }

// A file read, prepared and run; or why not, and with which status.
struct Side {
    ComparedSide side;
    int status = Clean;
    std::string error;
};

Side sideOf(const std::string& path, const CompareChoice& o, const std::string& method) {
    Side out;
    const auto given_up = [&](int status, const std::string& why) {
        out.status = status;
        out.error = why;
        return out;
    };
    auto character = readCharacter(path);
    if (!character)
        return given_up(Unreadable, character.error());
    std::map<std::string, RoleCorrection> corrections;
    if (!o.common.naming.empty()) {
        const auto profile = readNaming(o.common.naming);
        if (!profile)
            return given_up(BadUse, profile.error());
        corrections = correctionsFor(*profile, character->skeleton);
    }
    out.side.subject = std::make_shared<const Subject>(
        prepareSubject(std::make_shared<const Character>(std::move(*character)), {}, corrections));
    Options common = o.common;
    common.singles = o.singles;
    common.quiet = o.quiet;
    const auto plan = wantedPlan(*out.side.subject->character, out.side.subject->roles, common);
    if (!plan)
        return given_up(BadUse, plan.error());
    RunOptions options;
    options.method = method == "dual-quaternion" ? Skinning::DualQuaternion : Skinning::Linear;
    options.threads = o.common.threads;
    if (!o.common.limits.empty()) {
        auto limits = readLimits(o.common.limits);
        if (!limits)
            return given_up(BadUse, limits.error());
        options.limits = std::move(*limits);
    }
    std::unique_ptr<MeasuredCache> cache;
    if (!o.common.cache.empty())
        cache = std::make_unique<MeasuredCache>(o.common.cache);
    options.store = cache.get();
    const bool tell = !o.quiet && isatty(2);
    if (tell)
        options.progress = [&](const RunProgress& p) {
            if (p.done % 16 == 0 || p.done == p.total)
                std::fprintf(stderr, "\r%s: %zu of %zu poses, %.0f s left ", path.c_str(), p.done, p.total,
                             p.secondsLeft);
        };
    out.side.run = std::make_shared<const RunResult>(runPlan(*out.side.subject, *plan, options));
    if (tell)
        std::fprintf(stderr, "\n");
    return out;
}

int doCompare(const CompareChoice& o) {
    if (o.now.empty() && !o.leftRight && o.againstMethod.empty())
        return fail(BadUse, "name two files; or one with --left-right or --against-method");
    ComparisonOptions options;
    Side before = sideOf(o.before, o, o.common.method), now = before;
    if (before.status != Clean)
        return fail(before.status, before.error);
    if (o.leftRight) {
        options.versus = Versus::LeftAndRight;
    } else if (!o.againstMethod.empty()) {
        options.versus = Versus::Method;
        RunOptions otherwise;
        otherwise.limits = before.side.run->limits;
        otherwise.method = o.againstMethod == "dual-quaternion" ? Skinning::DualQuaternion : Skinning::Linear;
        now.side.run = std::make_shared<const RunResult>(
            runPlan(*before.side.subject, before.side.run->plan, otherwise));
    } else {
        now = sideOf(o.now, o, o.common.method);
        if (now.status != Clean)
            return fail(now.status, now.error);
    }
    options.limits = now.side.run->limits;
    const Comparison c = compare({before.side, now.side}, options);
    for (const auto& [path, text] :
         {std::pair(o.json, &comparisonToJson), std::pair(o.csv, &comparisonToCsv)})
        if (!path.empty())
            if (const auto written = put(path, text(c)); !written)
                return fail(BadUse, written.error());
    if (!o.html.empty())
        if (const auto written = put(o.html, comparePage(c).toStdString()); !written)
            return fail(BadUse, written.error());
    for (const std::string& note : notesOn(c))
        std::fprintf(stderr, "note: %s\n", note.c_str());
    int worst = 0; // severity now, of what got worse
    for (const MeasureChange& m : c.differences.measures)
        if (m.verdict == Change::Worse) {
            const Role role = c.sides[1].subject->roles[static_cast<std::size_t>(m.joint[1])].role;
            worst = std::max(worst, severityOf(m.kind, m.peak[1], options.limits.of(m.kind, role)));
        }
    if (!o.quiet && o.json != "-" && o.csv != "-" && o.html != "-") {
        for (const JointChange& j : c.differences.joints) {
            if (j.verdict == Change::Same || j.measures.empty())
                continue;
            const MeasureChange& m = c.differences.measures[j.measures.front()];
            std::printf(
                "%-6s  %-24s %s %.3g, was %.3g, in %s%s\n", j.verdict == Change::Better ? "better" : "worse",
                jointWords(*c.sides[1].subject, j.joint[1]).c_str(), measureOf(m.kind), m.peak[1], m.peak[0],
                wordsFor(c.sides[1].run->plan.motions[static_cast<std::size_t>(m.motion[1])]).c_str(),
                j.mixed ? "; something else the other way" : "");
        }
        std::printf("%s\n%s\n", sentence(c).c_str(), skinSentence(c).c_str());
    }
    return o.failIfWorse > 0 && worst >= o.failIfWorse ? Findings : Clean;
}

int doCheck(const CompareChoice& o) {
    auto log = logThatIsThere(o.log);
    if (!log)
        return fail(Unreadable, log.error());
    const Side now = sideOf(o.before, o, o.common.method);
    if (now.status != Clean)
        return fail(now.status, now.error);
    const auto build = buildIn(**log, *now.side.subject->character);
    if (!build)
        return fail(BadUse, build.error());
    CheckInput in;
    in.subject = now.side.subject;
    in.run = now.side.run;
    in.checks = inspect(*in.subject);
    BuildShelf shelf;
    in.shelf = &shelf;
    const auto checked = checkLogged(**log, *build, std::move(in), authorOf(o.author), o.closeCured ? 2 : 0);
    if (!checked)
        return fail(Unreadable, checked.error());
    const DefectChecks& checks = *checked;
    if (!o.json.empty())
        if (const auto written = put(
                o.json,
                QJsonDocument(checksToJson(checks, *now.side.subject, build->number)).toJson().toStdString());
            !written)
            return fail(BadUse, written.error());
    if (!o.junit.empty())
        if (const auto written = put(o.junit, checksToJunit(checks, *now.side.subject).toStdString());
            !written)
            return fail(BadUse, written.error());
    if (!o.html.empty()) {
        CheckPageWish wish;
        wish.limits = now.side.run->limits;
        if (const auto written =
                put(o.html, checkPage(checks, *build, now.side.subject, shelf, wish).toStdString());
            !written)
            return fail(BadUse, written.error());
    }
    bool failed = false;
    for (const DefectCheck& c : checks.checks) {
        failed |= c.defect.severity >= o.failAt && c.told.verdict != Verdict::Cured;
        if (!o.quiet && o.json != "-" && o.junit != "-" && o.html != "-")
            std::printf("%4lld  %d  %s\n         %s\n", static_cast<long long>(c.defect.id),
                        c.defect.severity, qPrintable(c.defect.facts.what), qPrintable(c.sentence));
    }
    if (!o.quiet && o.json != "-" && o.junit != "-" && o.html != "-")
        std::printf("%s\n", qPrintable(checks.sentence()));
    return o.failAt > 0 && failed ? Findings : Clean;
}

int doSignOff(const CompareChoice& o) {
    auto log = logThatIsThere(o.log);
    if (!log)
        return fail(Unreadable, log.error());
    if (o.require) { // only asked: the content decides, nothing is run
        auto character = readCharacter(o.before);
        if (!character)
            return fail(Unreadable, character.error());
        const auto builds = (*log)->builds(said(character->name));
        if (!builds)
            return fail(Unreadable, builds.error());
        for (const BuildState& b : *builds)
            if (b.build.hash == said(character->hash))
                if (const auto standing = standingSignOff(**log, b.build.id);
                    standing && *standing && (o.use.empty() || (*standing)->state.use == said(o.use))) {
                    if (!o.quiet)
                        std::printf("build %d was signed off %s by %s\n", b.build.number,
                                    qPrintable((*standing)->state.use), qPrintable((*standing)->author));
                    return Clean;
                }
        return fail(Findings, o.before + " is not signed off" + (o.use.empty() ? "" : " " + o.use));
    }
    if (o.takeBack) {
        auto character = readCharacter(o.before);
        if (!character)
            return fail(Unreadable, character.error());
        const auto all = signOffs(**log, said(character->name));
        if (!all)
            return fail(Unreadable, all.error());
        for (const SignOff& s : *all)
            if (s.stands() && s.build.hash == said(character->hash) &&
                (o.use.empty() || s.state.use == said(o.use))) {
                const auto back = takeBackSignOff(**log, s.event, said(o.reason), authorOf(o.author));
                return back ? static_cast<int>(Clean) : fail(BadUse, back.error());
            }
        return fail(BadUse, o.before + " is not signed off");
    }
    const Side now = sideOf(o.before, o, o.common.method);
    if (now.status != Clean)
        return fail(now.status, now.error);
    const auto build = buildIn(**log, *now.side.subject->character);
    if (!build)
        return fail(BadUse, build.error());
    const auto state =
        stateToSign(**log, *now.side.subject, *now.side.run, build->character, said(o.use), o.failAt);
    if (!state)
        return fail(Unreadable, state.error());
    if (!state->inTheWay.isEmpty()) {
        for (const InTheWay& w : state->inTheWay)
            std::fprintf(stderr, "%d  %s\n", w.severity,
                         qPrintable(w.defect ? QStringLiteral("%1. %2").arg(w.defect).arg(w.what)
                                             : QStringLiteral("not logged: %1").arg(w.what)));
        return fail(Findings, std::to_string(state->inTheWay.size()) + " at or over severity " +
                                  std::to_string(o.failAt) + " stand in the way");
    }
    const auto done = signOff(**log, *build, state->state, authorOf(o.author));
    if (!done)
        return fail(Findings, done.error());
    if (!o.pdf.empty())
        if (const auto written = writeSignOffPdf(**log, *done, *now.side.subject, *now.side.run, said(o.pdf));
            !written)
            return fail(BadUse, written.error());
    if (!o.quiet)
        std::printf("build %d of %s is signed off %s by %s\n", build->number, qPrintable(build->character),
                    qPrintable(done->state.use), qPrintable(done->author));
    return Clean;
}

} // namespace

void addCompareCommands(CLI::App& app, std::shared_ptr<CompareChoice> o, std::function<int()>& chosen) {
    const auto command = [&](const char* name, const char* what, int (*does)(const CompareChoice&)) {
        CLI::App* sub = app.add_subcommand(name, what);
        sub->add_option("--plan", o->common.plan, "a plan file; without it the full plan of each");
        sub->add_flag("--singles", o->singles, "only single joints, without poses and shapes");
        sub->add_option("--limits", o->common.limits, "a limits file; without it the standard limits");
        sub->add_option("--naming", o->common.naming, "a naming profile: what the joints are");
        sub->add_option("--cache", o->common.cache, "a folder that keeps measurements");
        sub->add_option("--method", o->common.method, "linear or dual-quaternion")
            ->check(CLI::IsMember({"linear", "dual-quaternion"}));
        sub->add_option("--threads", o->common.threads, "0 uses all cores")->check(CLI::Range(0, 1024));
        sub->add_flag("--quiet", o->quiet, "print nothing but errors");
        sub->callback([&chosen, does, o] { chosen = [does, o] { return does(*o); }; });
        return sub;
    };
    const auto log = [&](CLI::App* sub) {
        sub->add_option("--log", o->log, "a file, or postgresql://person@server/database")
            ->required()
            ->envname("HOBBLE_LOG");
        sub->add_option("--author", o->author, "who says so; else the user");
    };
    CLI::App* compare =
        command("compare", "two builds, or one otherwise: better, worse, the same", doCompare);
    compare->add_option("BEFORE", o->before, "a character")->required();
    compare->add_option("NOW", o->now, "another build of it, or another character");
    compare->add_flag("--left-right", o->leftRight, "the left of one body against its right");
    compare->add_option("--against-method", o->againstMethod, "the same build, skinned otherwise")
        ->check(CLI::IsMember({"linear", "dual-quaternion"}));
    compare->add_option("--json", o->json, "write all of it as JSON (- for standard output)");
    compare->add_option("--csv", o->csv, "write every measure as CSV (- for standard output)");
    compare->add_option("--html", o->html, "write a page for people");
    compare
        ->add_option("--fail-if-worse", o->failIfWorse,
                     "exit with 1 when something got worse and is that severe now")
        ->check(CLI::Range(1, 4));
    CLI::App* check = command("check", "the open defects of a log on a new build: cured or not", doCheck);
    check->add_option("FILE", o->before, "the new build")->required();
    log(check);
    check->add_flag("--close-cured", o->closeCured, "close what is cured, of severity 1 and 2");
    check->add_option("--json", o->json, "write the verdicts as JSON (- for standard output)");
    check->add_option("--junit", o->junit, "write them as JUnit XML");
    check->add_option("--html", o->html, "write them for people: then and now in pairs of pictures");
    check->add_option("--fail-at", o->failAt, "exit with 1 when a defect that severe is not cured; 0: never")
        ->check(CLI::Range(0, 4));
    CLI::App* sign = command("sign-off", "sign a build off for a use, or ask whether it is", doSignOff);
    sign->add_option("FILE", o->before, "the build")->required();
    log(sign);
    sign->add_option("--for", o->use, "what for, in your words: “to animation”");
    sign->add_option("--limit", o->failAt, "severity from which on what is open stands in the way")
        ->check(CLI::Range(1, 4));
    sign->add_option("--pdf", o->pdf, "print it on one page");
    sign->add_flag("--require-sign-off", o->require, "only ask: exit with 1 when it is not signed off");
    sign->add_flag("--take-back", o->takeBack, "it is not signed off any more; with --reason");
    sign->add_option("--reason", o->reason, "why it is taken back");
}

} // namespace hobble::cli
