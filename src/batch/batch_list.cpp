#include "batch/batch_list.h"

#include "core/ascii.h"
#include "core/words/say.h"
#include "io/character_read.h"
#include "io/csv.h"
#include "io/file_read.h"

#include <nlohmann/json.hpp>

#include <algorithm>
#include <charconv>
#include <filesystem>

namespace hobble {

namespace {

namespace fs = std::filesystem;
using nlohmann::json;

constexpr const char* kColumns = "file, name, plan, naming, limits, variants, variant, fail-at";

// Sets a column; an error for one that is not known, or does not hold what it should.
Result<Done> set(BatchCharacter& c, const std::string& column, const std::string& value,
                 const fs::path& from) {
    const auto path = [&] { return value.empty() ? value : (from / value).lexically_normal().string(); };
    if (column == "file")
        c.file = path();
    else if (column == "name")
        c.name = value;
    else if (column == "plan")
        c.plan = path();
    else if (column == "naming")
        c.naming = path();
    else if (column == "limits")
        c.limits = path();
    else if (column == "variants")
        c.variants = path();
    else if (column == "variant")
        c.variant = value;
    else if (column == "fail-at") {
        const auto [end, error] = std::from_chars(value.data(), value.data() + value.size(), c.failAt);
        if (!value.empty() &&
            (error != std::errc() || end != value.data() + value.size() || c.failAt < 1 || c.failAt > 4))
            return Error{say("fail-at is 1 to 4, not '%s'", value)};
    } else {
        return Error{say("there is no column '%s' (%s)", column, kColumns)};
    }
    return Done{};
}

Result<std::vector<BatchCharacter>> fromCsv(const std::string& path, const std::string& text) {
    const auto read = csvRows(text);
    if (!read)
        return Error{say("%s: %s", path, read.error())};
    if (read->empty())
        return Error{say("%s: the list is empty.", path)};
    std::vector<BatchCharacter> out;
    const fs::path from = fs::path(path).parent_path();
    const auto& head = read->front();
    for (std::size_t r = 1; r < read->size(); ++r) {
        const auto& row = (*read)[r];
        const std::string at = path + ", row " + std::to_string(r) + " below the head: ";
        if (row.size() > head.size())
            return Error{say("%sit has more columns than the head.", at)};
        BatchCharacter c;
        for (std::size_t k = 0; k < row.size(); ++k)
            if (const auto done = set(c, lowered(head[k]), row[k], from); !done)
                return Error{say("%s%s.", at, done.error())};
        if (c.file.empty())
            return Error{say("%sno file is named.", at)};
        out.push_back(std::move(c));
    }
    return out;
}

Result<std::vector<BatchCharacter>> fromJson(const std::string& path, const std::string& text) {
    const json j = json::parse(text, nullptr, false);
    if (!j.is_object() || j.value("format", json()) != "hobble-batch" || !j.contains("characters") ||
        !j["characters"].is_array())
        return Error{say("%s: it is no list of characters (format \"hobble-batch\", characters).", path)};
    std::vector<BatchCharacter> out;
    const fs::path from = fs::path(path).parent_path();
    for (const json& entry : j["characters"]) {
        const std::string at = path + ", character " + std::to_string(out.size() + 1) + ": ";
        if (!entry.is_object())
            return Error{say("%sit is no object.", at)};
        BatchCharacter c;
        for (const auto& [key, value] : entry.items()) {
            if (!value.is_string() && !value.is_number_integer())
                return Error{say("%s%s is neither words nor a number.", at, key)};
            const std::string words = value.is_string() ? value.get<std::string>() : value.dump();
            if (const auto done = set(c, key, words, from); !done)
                return Error{say("%s%s.", at, done.error())};
        }
        if (c.file.empty())
            return Error{say("%sno file is named.", at)};
        out.push_back(std::move(c));
    }
    return out;
}

std::vector<BatchCharacter> fromFolder(const std::string& folder) {
    std::vector<std::string> files;
    std::error_code error;
    fs::recursive_directory_iterator at(folder, fs::directory_options::skip_permission_denied, error), end;
    for (; !error && at != end; at.increment(error)) {
        const std::string suffix = lowered(at->path().extension().string());
        const auto known = [&](const CharacterFormat& f) {
            return std::any_of(f.suffixes.begin(), f.suffixes.end(),
                               [&](const std::string& s) { return suffix == "." + s; });
        };
        if (at->is_regular_file() && std::any_of(characterFormats().begin(), characterFormats().end(), known))
            files.push_back(at->path().string());
    }
    std::sort(files.begin(), files.end());
    std::vector<BatchCharacter> out;
    for (std::string& file : files) {
        out.emplace_back();
        out.back().file = std::move(file);
    }
    return out;
}

} // namespace

Result<std::vector<BatchCharacter>> batchOf(const std::vector<std::string>& sources) {
    std::vector<BatchCharacter> out;
    for (const std::string& source : sources) {
        std::vector<BatchCharacter> more;
        const std::string suffix = lowered(fs::path(source).extension().string());
        std::error_code error;
        if (fs::is_directory(source, error)) {
            more = fromFolder(source);
        } else if (suffix == ".csv" || suffix == ".json") {
            const auto text = readFile(source);
            if (!text)
                return Error{text.error()};
            auto listed = suffix == ".csv" ? fromCsv(source, *text) : fromJson(source, *text);
            if (!listed)
                return Error{listed.error()};
            more = std::move(*listed);
        } else {
            more.emplace_back();
            more.back().file = source;
        }
        for (BatchCharacter& c : more)
            if (std::find(out.begin(), out.end(), c) == out.end())
                out.push_back(std::move(c));
    }
    if (out.empty())
        return Error{say("There is nothing to be tested: no character in what was named.")};
    return out;
}

} // namespace hobble
