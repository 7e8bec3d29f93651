#include "io/csv.h"
#include "core/words/say.h"

#include <charconv>
#include <string_view>

namespace hobble {

namespace {

bool looksLikeAFormula(std::string_view cell) {
    return !cell.empty() && std::string_view("=+-@\t\r").find(cell[0]) != std::string_view::npos;
}

bool isNumber(std::string_view cell) {
    if (cell.starts_with('+'))
        cell.remove_prefix(1);
    double value;
    const auto [end, error] = std::from_chars(cell.data(), cell.data() + cell.size(), value);
    return error == std::errc() && end == cell.data() + cell.size();
}

} // namespace

std::string csvCell(std::string text) {
    if ((looksLikeAFormula(text) && !isNumber(text)) || text.starts_with('\''))
        text.insert(0, 1, '\'');
    if (text.find_first_of(",\"\n\r") == std::string::npos)
        return text;
    std::string out = "\"";
    for (char c : text)
        out += c == '"' ? std::string("\"\"") : std::string(1, c);
    return out + "\"";
}

Result<std::vector<std::vector<std::string>>> csvRows(const std::string& text) {
    std::vector<std::vector<std::string>> rows;
    std::vector<std::string> row;
    std::string cell;
    bool quoted = false, any = false;
    const auto end = [&] {
        if (any || !cell.empty()) {
            row.push_back(std::move(cell));
            rows.push_back(std::move(row));
        }
        row.clear();
        cell.clear();
        any = false;
    };
    for (std::size_t i = text.starts_with("\xEF\xBB\xBF") ? 3 : 0; i < text.size(); ++i) {
        const char c = text[i];
        if (quoted) {
            if (c == '"' && i + 1 < text.size() && text[i + 1] == '"') {
                cell += c;
                ++i;
            } else if (c == '"') {
                quoted = false;
            } else {
                cell += c;
            }
        } else if (c == '"' && cell.empty()) {
            quoted = any = true;
        } else if (c == ',') {
            row.push_back(std::move(cell));
            cell.clear();
            any = true;
        } else if (c == '\n' || c == '\r') {
            end();
        } else {
            cell += c;
        }
    }
    if (quoted)
        return Error{say("The table ends within quotes: it was cut short. Nothing was taken from it.")};
    end();
    for (auto& cells : rows)
        for (std::string& s : cells)
            if (s.size() > 1 && s[0] == '\'' &&
                (looksLikeAFormula(std::string_view(s).substr(1)) || s[1] == '\''))
                s.erase(0, 1);
    return rows;
}

} // namespace hobble
