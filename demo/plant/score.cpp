#include "score.h"

#include <nlohmann/json.hpp>

#include <algorithm>
#include <cmath>
#include <cstdio>

namespace hobble::demo {

namespace {

using nlohmann::json;

bool isIn(const std::vector<std::string>& list, const std::string& word) {
    return std::find(list.begin(), list.end(), word) != list.end();
}

std::string text(const json& j, const char* key) {
    return j.contains(key) && j[key].is_string() ? j[key].get<std::string>() : std::string();
}

bool rightJoint(const Truth& t, const json& f) {
    return text(f, "joint") == t.joint || isIn(t.joints, text(f, "joint"));
}

// A tenth of the smaller of the two patches in common is the same place.
bool samePlace(const Truth& t, const json& f) {
    std::size_t common = 0, marked = 0, touched = 0;
    for (const auto& [part, list] : t.vertices)
        touched += list.size();
    for (const auto& [part, list] : f.at("vertices").items()) {
        marked += list.size();
        const auto it = t.vertices.find(part);
        if (it == t.vertices.end())
            continue;
        for (const auto& v : list)
            common += std::binary_search(it->second.begin(), it->second.end(), v.get<std::uint32_t>());
    }
    return common > 0 && static_cast<double>(common) >= 0.1 * static_cast<double>(std::min(marked, touched));
}

bool matches(const Truth& t, const json& f) {
    const bool kind = isIn(t.kinds, text(f, "kind"));
    return samePlace(t, f) || (kind && rightJoint(t, f)) ||
           (kind && !t.part.empty() && text(f, "part") == t.part);
}

double trouble(const json& f) {
    const double limit = f.at("limit").get<double>(), value = f.at("peakValue").get<double>();
    const double allowed = std::abs(limit - f.value("unchanged", 1.0));
    return allowed > 0 ? std::abs(value - f.value("unchanged", 1.0)) / allowed : 1;
}

// The clean build has it too, and hardly less of it.
bool alsoIn(const json& clean, const json& f, double height) {
    for (const json& o : clean.at("findings")) {
        if (text(o, "joint") != text(f, "joint") || text(o, "kind") != text(f, "kind"))
            continue;
        double away = 0;
        for (int i = 0; i < 3; ++i)
            away += std::pow(o["place"][i].get<double>() - f["place"][i].get<double>(), 2);
        if (std::sqrt(away) < 0.08 * height && trouble(f) < 1.2 * trouble(o) + 0.1)
            return true;
    }
    return false;
}

std::string named(const json& f) {
    return text(f, "sentence") + " [" + text(f, "joint") + ", " + text(f, "kind") + "]";
}
std::string named(const Truth& t) { return t.fault + " at " + (t.joint.empty() ? t.part : t.joint); }

} // namespace

void Score::add(const Score& o) {
    planted += o.planted;
    found += o.found;
    reported += o.reported;
    rightlyReported += o.rightlyReported;
    jointRight += o.jointRight;
    kindRight += o.kindRight;
    causeRight += o.causeRight;
    causeAsked += o.causeAsked;
    places.insert(places.end(), o.places.begin(), o.places.end());
    misses.insert(misses.end(), o.misses.begin(), o.misses.end());
    falseAlarms.insert(falseAlarms.end(), o.falseAlarms.begin(), o.falseAlarms.end());
    wrong.insert(wrong.end(), o.wrong.begin(), o.wrong.end());
}

double Score::amongFirst(int count) const {
    if (places.empty())
        return 1;
    return static_cast<double>(
               std::count_if(places.begin(), places.end(), [&](int p) { return p <= count; })) /
           static_cast<double>(places.size());
}

int Score::middlePlace() const {
    if (places.empty())
        return 0;
    std::vector<int> sorted = places;
    std::nth_element(sorted.begin(), sorted.begin() + static_cast<std::ptrdiff_t>(sorted.size() / 2),
                     sorted.end());
    return sorted[sorted.size() / 2];
}

Score scoreRun(const json& run, const json* clean, const std::vector<Truth>& truth) {
    Score s;
    const double height = run["character"].value("height", 1.0);
    const json &findings = run.at("findings"), &faults = run.at("faults");
    std::vector<char> fresh;
    for (const json& f : findings)
        fresh.push_back(!clean || !alsoIn(*clean, f, height));
    // A fault is new when a sign of it is; only new signs say what it is.
    std::vector<std::vector<const json*>> signs;
    for (const json& fault : faults) {
        signs.emplace_back();
        for (const json& i : fault.at("signs"))
            if (fresh[i.get<std::size_t>()])
                signs.back().push_back(&findings[i.get<std::size_t>()]);
    }
    std::vector<char> used(faults.size(), 0);
    for (const Truth& t : truth) {
        // In the order a lead reads them: the first that is told by a sign of it, or else the first that has
        // one.
        const json *best = nullptr, *sign = nullptr;
        int place = 0;
        bool told = false;
        for (std::size_t k = 0; k < faults.size(); ++k)
            for (const json* f : signs[k]) {
                if (!matches(t, *f) && !(rightJoint(t, faults[k]) && isIn(t.kinds, text(*f, "kind"))))
                    continue;
                used[k] = 1;
                const bool tells = f == signs[k].front();
                if (best && (told || !tells))
                    break;
                best = &faults[k];
                sign = f;
                place = static_cast<int>(k) + 1;
                told = tells;
                break;
            }
        if (t.detector != "run")
            continue;
        ++s.planted;
        if (best)
            s.places.push_back(place);
        if (!best) {
            s.misses.push_back(named(t));
            continue;
        }
        ++s.found;
        const bool joint = rightJoint(t, *best),
                   kind = isIn(t.kinds, text(*best, "kind")) || isIn(t.kinds, text(*sign, "kind"));
        const json& causes = best->at("causes");
        const std::string first = causes.empty() ? "none" : text(causes[0], "cause");
        s.jointRight += joint;
        s.kindRight += kind;
        ++s.causeAsked;
        s.causeRight += first == t.cause;
        const std::string as = named(*best) + " '" + first + "'";
        if (!joint)
            s.wrong.push_back("joint: " + named(t) + " was told as " + as);
        if (!kind)
            s.wrong.push_back("kind: " + named(t) + " was told as " + as);
        if (first != t.cause)
            s.wrong.push_back("cause: " + named(t) + " was put down to '" + first + "' in " + as);
    }
    for (std::size_t k = 0; k < faults.size(); ++k)
        if (!signs[k].empty()) {
            ++s.reported;
            s.rightlyReported += used[k];
            if (!used[k])
                s.falseAlarms.push_back(named(faults[k]) + " by " + named(*signs[k].front()));
        }
    return s;
}

Score scoreInspect(const json& inspect, const json* clean, const std::vector<Truth>& truth) {
    Score s;
    auto failing = [](const json& j) {
        std::vector<const json*> out;
        if (j.contains("checks"))
            for (const json& check : j["checks"])
                if (check.value("severity", 0) > 0)
                    out.push_back(&check);
        return out;
    };
    std::vector<const json*> fresh = failing(inspect);
    if (clean)
        std::erase_if(fresh, [&](const json* f) {
            for (const json* o : failing(*clean))
                if (text(*o, "check") == text(*f, "check") && text(*o, "joint") == text(*f, "joint") &&
                    text(*o, "part") == text(*f, "part"))
                    return true;
            return false;
        });
    std::vector<char> used(fresh.size(), 0);
    for (const Truth& t : truth) {
        bool found = false, joint = false;
        for (std::size_t i = 0; i < fresh.size(); ++i) {
            const std::string at = text(*fresh[i], "joint"), beside = text(*fresh[i], "partner");
            const bool known = isIn(t.kinds, text(*fresh[i], "check"));
            // A check may rightly notice what a run sees better: it is no false alarm.
            used[i] |=
                known || (t.detector == "run" &&
                          (at == t.joint || isIn(t.joints, at) || (!beside.empty() && beside == t.joint) ||
                           text(*fresh[i], "part") == t.part || samePlace(t, *fresh[i])));
            found |= known;
            joint |= known && (t.joint.empty() || at.empty() || rightJoint(t, *fresh[i]));
        }
        if (t.detector != "inspect")
            continue;
        ++s.planted;
        s.found += found;
        s.jointRight += joint;
        s.kindRight += found;
        if (!found)
            s.misses.push_back(named(t));
        else if (!joint)
            s.wrong.push_back("joint: " + named(t));
    }
    for (std::size_t i = 0; i < fresh.size(); ++i) {
        ++s.reported;
        s.rightlyReported += used[i];
        if (!used[i])
            s.falseAlarms.push_back(text(*fresh[i], "sentence"));
    }
    return s;
}

std::string scoreText(const Score& s) {
    char line[300];
    std::snprintf(
        line, sizeof line,
        "recall %.3f (%d of %d)  precision %.3f (%d of %d)  joint %.3f  kind %.3f  first cause %.3f  among "
        "the first five %.3f  place %d\n",
        s.recall(), s.found, s.planted, s.precision(), s.rightlyReported, s.reported, s.joint(), s.kind(),
        s.cause(), s.amongFirst(5), s.middlePlace());
    std::string out = line;
    for (const std::string& m : s.misses)
        out += "missed: " + m + "\n";
    for (const std::string& f : s.falseAlarms)
        out += "false alarm: " + f + "\n";
    for (const std::string& w : s.wrong)
        out += "wrong " + w + "\n";
    return out;
}

} // namespace hobble::demo
