#include "io/run_report.h"

#include "core/pose/coverage.h"
#include "core/words/cause_words.h"

#include "core/words/finding_words.h"

#include <algorithm>
#include <cstdio>

namespace hobble {

namespace {

std::string escaped(const std::string& text) {
    std::string out;
    for (char c : text)
        out += c == '<'   ? "&lt;"
               : c == '>' ? "&gt;"
               : c == '&' ? "&amp;"
               : c == '"' ? "&quot;"
                          : std::string(1, c);
    return out;
}

// The silhouette of trouble along the angle, filled where a limit is passed.
std::string stripSvg(const Subject& s, const RunResult& run, std::size_t m) {
    constexpr double width = 320, height = 26, scale = height / 3; // three times the limit fills the strip
    const double limit = run.plan.motions[m].limit();
    std::string line, fill;
    char at[64];
    for (const StepResult& step : run.motions[m].steps) {
        if (&step == &run.motions[m].steps.back())
            break; // back in neutral
        double trouble = 0;
        for (const JointStep& j : step.joints)
            trouble = std::max(trouble, worstTrouble(j.measures, run.limits, s.roles[j.joint].role));
        const double x = limit > 0 ? width * step.at / limit : 0;
        std::snprintf(at, sizeof at, "%.1f,%.1f ", x, height - scale * std::min(trouble, 3.0));
        line += at;
        std::snprintf(at, sizeof at, "%.1f,%.1f ", x, height - scale * std::clamp(trouble, 1.0, 3.0));
        fill += at;
    }
    std::snprintf(at, sizeof at, "%.1f", height - scale);
    const std::string level = at;
    return "<svg width='320' height='26'><polygon fill='#dbe4df' points='0,26 " + line +
           "320,26'/><polygon fill='#5f2a6e' "
           "points='0," +
           level + " " + fill + "320," + level + "'/><line x1='0' x2='320' y1='" + level + "' y2='" + level +
           "' stroke='#b9a98f' stroke-dasharray='2 3'/></svg>";
}

// What the plan moves, and what it does not, with the reason.
std::string coverageHtml(const Subject& s, const Plan& plan) {
    const Coverage coverage = coverageOf(*s.character, s.roles, plan);
    std::string out = "<p>" + escaped(wordsFor(coverage)) + ".</p>";
    if (coverage.untested.empty())
        return out;
    out += "<ul>";
    for (const UntestedJoint& u : coverage.untested) {
        char share[32];
        std::snprintf(share, sizeof share, " (%.1f %% of the skin): ", 100 * u.share);
        out += "<li>" + escaped(s.character->skeleton.name[static_cast<std::size_t>(u.joint)]) + share +
               escaped(wordsFor(u.why)) + "</li>";
    }
    return out + "</ul>";
}

} // namespace

std::string runToHtml(const Subject& s, const RunResult& run) {
    const Character& c = *s.character;
    std::string out =
        "<!doctype html><html lang='en'><meta charset='utf-8'><title>" + escaped(c.name) +
        "</title><style>body{font:15px/1.5 sans-serif;background:#f7f2e8;color:#1d2a33;max-width:60em;"
        "margin:2em auto;padding:0 1em}td,th{padding:.25em .8em .25em 0;text-align:left;vertical-align:"
        "top;border-bottom:1px solid #e3dac8}td.n{text-align:right;font-weight:bold}small{color:#68737a}"
        "</style>";
    int worst = 0;
    for (const Finding& f : run.findings)
        worst += f.severity >= 3;
    char line[256];
    std::snprintf(
        line, sizeof line, "%zu motions, %zu poses, %s skinning. %zu findings, %d of them serious or worse.",
        run.plan.motions.size(), run.plan.stepCount(), nameOf(run.method), run.findings.size(), worst);
    out += "<h1>" + escaped(c.name) + ": " + escaped(run.plan.name) + "</h1><p>" + line + "</p>" +
           coverageHtml(s, run.plan) +
           "<h2>Findings</h2><table>"
           "<tr><th>Severity<th>What<th>Likely cause</tr>";
    for (const Finding& f : run.findings)
        out += "<tr><td class='n'>" + std::to_string(f.severity) + "<td>" +
               escaped(sentence(s, run.plan, f)) + "<td>" +
               (!f.headline() ? std::string("<small>none found</small>")
                              : escaped(factsOf(f.headline()->kind).word) + "<br><small>" +
                                    escaped(sentenceOf(c, *f.headline())) + "</small>") +
               "</tr>";
    out += "</table><h2>Motions</h2><p><small>Each strip runs from neutral to the motion's limit; it is dark "
           "where a "
           "measure passes its limit (dotted).</small></p><table>";
    for (std::size_t m = 0; m < run.motions.size(); ++m) {
        const Motion& motion = run.plan.motions[m];
        out += "<tr><td>" + escaped(motion.name) + "<td>" +
               (motion.side == Side::Middle ? "" : nameOf(motion.side)) + "<td>" + stripSvg(s, run, m) +
               "<td>" + escaped(wordsFor(motion, motion.limit())) + "</tr>";
    }
    return out + "</table></html>\n";
}

} // namespace hobble
