#include "cli/show_command.h"

#include "cli/log_place.h"
#include "log/show_state.h"
#include "story/show_page.h"

#include <CLI/CLI.hpp>
#include <QFileInfo>

#include <cstdio>

namespace hobble::cli {

namespace {

int show(const ShowChoice& o) {
    for (const std::string& path : {o.html, o.json})
        if (const auto possible = canPut(path); !possible)
            return fail(BadUse, possible.error());
    const auto log = logThatIsThere(o.log);
    if (!log)
        return fail(BadUse, log.error());
    const QDateTime now = QDateTime::currentDateTime();
    const auto state = showState(**log, now, o.weeks, !o.html.empty());
    if (!state)
        return fail(BadUse, state.error());
    if (!o.html.empty()) {
        const QString title =
            o.title.empty() ? QFileInfo((*log)->place()).completeBaseName() : QString::fromStdString(o.title);
        if (auto written = put(o.html, showPage(*state, title, now).toStdString()); !written)
            return fail(BadUse, written.error());
    }
    if (!o.json.empty())
        if (auto written = put(o.json, showToJson(*state)); !written)
            return fail(BadUse, written.error());
    if (o.quiet || o.html == "-" || o.json == "-")
        return Clean;
    std::printf("%s\n", qUtf8Printable(showSentence(*state)));
    for (const CharacterState& c : state->characters)
        std::printf("%-28s build %-4d %-16s %3d open, %d blocking%s\n", qUtf8Printable(c.character),
                    c.build.number, c.signedOff ? "signed off" : "not signed off", c.openAll(), c.open[4],
                    c.run ? "" : ", this build was not run");
    return Clean;
}

} // namespace

void addShowCommand(CLI::App& app, std::shared_ptr<ShowChoice> o, std::function<int()>& chosen) {
    CLI::App* sub =
        app.add_subcommand("show", "how the whole show stands: every character of a log, as one page");
    sub->add_option("--log", o->log, "the production log")->required();
    sub->add_option("--html", o->html, "write the page (- for standard output)");
    sub->add_option("--json", o->json, "write it as JSON (- for standard output)");
    sub->add_option("--title", o->title, "of the page: the show's name");
    sub->add_option("--weeks", o->weeks, "how many weeks are told")->check(CLI::Range(1, 520));
    sub->add_flag("--quiet", o->quiet, "print nothing but errors");
    sub->callback([o, &chosen] { chosen = [o] { return show(*o); }; });
}

} // namespace hobble::cli
