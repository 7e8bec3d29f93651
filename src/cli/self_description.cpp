#include "cli/self_description.h"

#include "core/ascii.h"
#include "io/file_write.h"

#include <algorithm>
#include <functional>

namespace hobble::cli {

namespace {

// Letters that mean something to the formatter.
std::string roff(const std::string& words) {
    std::string out;
    for (char c : words) {
        if (out.empty() && (c == '.' || c == '\''))
            out += "\\&";
        if (c == '\\')
            out += "\\e";
        else if (c == '-')
            out += "\\-";
        else
            out += c == '\n' ? ' ' : c;
    }
    return out;
}

std::string nameOf(const CLI::App& root, const CLI::App& command) {
    std::string out = command.get_name();
    for (const CLI::App* above = command.get_parent(); above; above = above->get_parent())
        out = (above == &root ? std::string("hobble-cli") : above->get_name()) + " " + out;
    return &command == &root ? "hobble-cli" : out;
}

std::string dashed(std::string name) {
    std::replace(name.begin(), name.end(), ' ', '-');
    return name;
}

std::vector<const CLI::App*> commandsOf(const CLI::App& app) {
    std::vector<const CLI::App*> out;
    for (const CLI::App* sub : app.get_subcommands(std::function<bool(const CLI::App*)>{}))
        if (!sub->get_group().empty()) // hidden ones have none
            out.push_back(sub);
    return out;
}

void eachCommand(const CLI::App& app, const std::function<void(const CLI::App&)>& does) {
    does(app);
    for (const CLI::App* sub : commandsOf(app))
        eachCommand(*sub, does);
}

std::string upper(std::string text) {
    std::transform(text.begin(), text.end(), text.begin(), toAsciiUpper);
    return text;
}

} // namespace

std::string manualPage(const CLI::App& root, const CLI::App& command) {
    const std::string name = nameOf(root, command), what = command.get_description();
    std::string out = ".TH " + upper(dashed(name)) +
                      " 1 \"\" \"Hobble " HOBBLE_VERSION "\" \"Hobble\"\n.SH NAME\n" + roff(dashed(name)) +
                      " \\- " + roff(what) + "\n.SH SYNOPSIS\n.B " + roff(name) + "\n";
    const auto commands = commandsOf(command);
    if (!commands.empty())
        out += ".I COMMAND\n";
    std::string options, positionals;
    for (const CLI::Option* o : command.get_options()) {
        if (o->get_group().empty())
            continue;
        const bool named = o->nonpositional();
        std::string takes = o->get_type_size() == 0 ? std::string() : o->get_type_name();
        std::string& to = named ? options : positionals;
        to += ".TP\n.BI " + roff(named ? o->get_name(false, true) : o->get_name(true)) +
              (takes.empty() ? "" : " \" " + roff(takes) + "\"") + "\n" + roff(o->get_description()) + "\n";
        if (!named)
            out += ".I " + roff(o->get_name(true)) + "\n";
    }
    if (!options.empty())
        out += ".RI [ options ]\n";
    if (!commands.empty()) {
        out += ".SH COMMANDS\n";
        for (const CLI::App* sub : commands)
            out += ".TP\n.B " + roff(sub->get_name()) + "\n" + roff(sub->get_description()) + "\n";
    }
    if (!positionals.empty())
        out += ".SH ARGUMENTS\n" + positionals;
    if (!options.empty())
        out += ".SH OPTIONS\n" + options;
    out += ".SH EXIT STATUS\n0: done. 1: something is at least as severe as was asked for. 2: bad use. 3: "
           "something "
           "cannot be read.\n.SH SEE ALSO\n.BR hobble (1)";
    for (const CLI::App* sub : commands)
        out += ",\n.BR " + roff(dashed(nameOf(root, *sub))) + " (1)";
    if (&command != &root)
        out += ",\n.BR " + roff(dashed(nameOf(root, *command.get_parent()))) + " (1)";
    return out + "\n";
}

std::string bashCompletion(const CLI::App& root) {
    std::string out =
        "# Completion of hobble-cli for bash.\n_hobble_cli() {\n    local word=${COMP_WORDS[COMP_CWORD]} "
        "before=${COMP_WORDS[COMP_CWORD-1]} command= words= i\n"
        "    for ((i = 1; i < COMP_CWORD; i++)); do\n        case \"$command ${COMP_WORDS[i]}\" in\n";
    std::string known, words, values;
    eachCommand(root, [&](const CLI::App& command) {
        std::string name =
            &command == &root ? "" : nameOf(root, command).substr(std::string("hobble-cli").size());
        if (!name.empty())
            known += (known.empty() ? "" : "|") + ("\"" + name + "\"");
        std::string offers;
        for (const CLI::App* sub : commandsOf(command))
            offers += sub->get_name() + " ";
        for (const CLI::Option* o : command.get_options()) {
            if (o->get_group().empty() || !o->nonpositional())
                continue;
            std::string name_ = o->get_name(false, true);
            std::replace(name_.begin(), name_.end(), ',', ' ');
            offers += name_ + " ";
            // one of a few words: {a,b} behind the type
            const std::string type = o->get_type_name();
            const auto from = type.find('{'), to = type.find('}');
            if (from != std::string::npos && to != std::string::npos) {
                std::string few = type.substr(from + 1, to - from - 1);
                std::replace(few.begin(), few.end(), ',', ' ');
                values +=
                    "        \"" + name + " --" + o->get_lnames().front() + "\") words=\"" + few + "\" ;;\n";
            }
        }
        words += "        \"" + name + "\") words=\"" + offers + "\" ;;\n";
    });
    return out + "        " + known +
           ") command=\"$command ${COMP_WORDS[i]}\" ;;\n        esac\n    done\n    case "
           "\"$command $before\" in\n" +
           values + "        *) case \"$command\" in\n" + words +
           "        esac ;;\n    esac\n    COMPREPLY=($(compgen -W \"$words\" -- \"$word\"))\n    if [[ "
           "$word != -* ]]; "
           "then\n        COMPREPLY+=($(compgen -f -- \"$word\"))\n    fi\n}\ncomplete -o filenames -F "
           "_hobble_cli "
           "hobble-cli\n";
}

bool writeDescriptions(const CLI::App& root, const std::string& folder) {
    bool good = true;
    eachCommand(root, [&](const CLI::App& command) {
        const std::string name = dashed(nameOf(root, command));
        good = good && writeFile(folder + "/" + name + ".1", manualPage(root, command)).ok();
    });
    return good && writeFile(folder + "/hobble-cli.bash", bashCompletion(root)).ok();
}

} // namespace hobble::cli
