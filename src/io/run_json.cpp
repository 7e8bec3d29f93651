#include "io/run_json.h"

#include "core/intake/check.h"
#include "core/words/cause_words.h"

#include <nlohmann/json.hpp>

#include <algorithm>
#include <cmath>
#include <cstdio>

namespace hobble {

namespace {

using nlohmann::json;

json orNull(const std::optional<double>& v) { return v ? json(*v) : json(nullptr); }

json jointJson(const Subject& s, int j) {
    return {{"joint", s.character->skeleton.name[j]},
            {"side", nameOf(s.roles[j].side)},
            {"role", nameOf(s.roles[j].role)}};
}

json causesJson(const Character& character, const Finding& f) {
    json out = json::array();
    for (const Cause& c : f.causes)
        out.push_back(
            {{"cause", factsOf(c.kind).word}, {"weight", c.weight}, {"evidence", sentenceOf(character, c)}});
    return out;
}

json findingJson(const Subject& s, const RunResult& run, const Finding& f, bool vertices) {
    const Character& c = *s.character;
    json row = jointJson(s, f.joint);
    row["kind"] = nameOf(f.kind);
    row["severity"] = f.severity;
    row["region"] = f.region;
    row["part"] = f.marks.empty() ? json(nullptr) : json(c.parts[f.marks.front().part].name);
    row["motion"] = run.plan.motions[f.motion].id;
    row["motions"] = json::array();
    for (int m : f.motions)
        row["motions"].push_back(run.plan.motions[m].id);
    row["onsetDegrees"] = f.onset;
    row["peakDegrees"] = f.peak;
    row["peakValue"] = f.peakValue;
    row["limit"] = f.limit;
    row["unchanged"] = unchangedOf(f.kind);
    row["fault"] = f.fault;
    row["leads"] = f.leads;
    row["place"] = {f.place.x(), f.place.y(), f.place.z()};
    row["sentence"] = sentence(s, run.plan, f);
    row["causes"] = causesJson(c, f);
    if (!vertices)
        return row;
    row["vertices"] = json::object();
    for (const PartMarks& marks : f.marks)
        row["vertices"][c.parts[marks.part].name] = marks.vertices;
    return row;
}

} // namespace

std::string inspectToJson(const Subject& s, const IntakeLimits& limits) {
    const Character& c = *s.character;
    json out{{"format", "hobble-inspect"},
             {"version", 1},
             {"file", c.source},
             {"name", c.name},
             {"hash", c.hash},
             {"vertices", c.vertexCount()},
             {"triangles", c.triangles.size()},
             {"notes", c.notes},
             {"parts", json::array()},
             {"joints", json::array()},
             {"clips", json::array()}};
    std::vector<std::size_t> carried(c.skeleton.name.size(), 0);
    for (std::uint16_t j : c.weights.joint)
        ++carried[j];
    std::size_t most = 0;
    for (const Part& p : c.parts) {
        std::size_t influences = 0;
        for (std::uint32_t v = p.firstVertex; v < p.firstVertex + p.vertexCount; ++v)
            influences = std::max<std::size_t>(influences, c.weights.first[v + 1] - c.weights.first[v]);
        most = std::max(most, influences);
        json targets = json::array();
        for (const ShapeTarget& t : p.targets)
            targets.push_back(t.name);
        out["parts"].push_back(
            {{"name", p.name},
             {"vertices", p.vertexCount},
             {"triangles", p.triangleCount},
             {"skinned", p.skinned},
             {"carrier", p.carrier >= 0 ? json(c.skeleton.name[p.carrier]) : json(nullptr)},
             {"influences", influences},
             {"shapeTargets", targets}});
    }
    out["influences"] = most;
    for (int j = 0; j < c.skeleton.size(); ++j) {
        json joint = jointJson(s, j);
        const int p = c.skeleton.parent[j], m = s.roles[j].mirror;
        const Vec3d at = c.skeleton.neutralWorld[j].translation();
        joint["parent"] = p >= 0 ? json(c.skeleton.name[p]) : json(nullptr);
        joint["mirror"] = m >= 0 ? json(c.skeleton.name[m]) : json(nullptr);
        joint["position"] = {at.x(), at.y(), at.z()};
        joint["influencedVertices"] = carried[j];
        joint["confidence"] = std::round(100.0 * s.roles[j].confidence) / 100;
        joint["basis"] = s.roles[j].basis;
        out["joints"].push_back(joint);
    }
    for (const Clip& clip : c.clips)
        out["clips"].push_back({{"name", clip.name}, {"seconds", clip.seconds}});
    if (s.mirror.found)
        out["mirrorPlane"] = {{"normal", {s.mirror.normal.x(), s.mirror.normal.y(), s.mirror.normal.z()}},
                              {"offset", s.mirror.offset},
                              {"matched", s.mirror.matched},
                              {"basis", s.mirror.basis}};
    out["checks"] = json::array();
    const CheckFindings findings = inspect(s, limits);
    out["score"] = intakeScore(findings);
    for (const CheckFinding& f : findings) {
        json row{{"check", f.check},
                 {"severity", f.severity},
                 {"joint", f.joint >= 0 ? json(c.skeleton.name[f.joint]) : json(nullptr)},
                 {"partner", f.partner >= 0 ? json(c.skeleton.name[f.partner]) : json(nullptr)},
                 {"part", f.part >= 0 ? json(c.parts[f.part].name) : json(nullptr)},
                 {"value", f.value},
                 {"sentence", f.sentence},
                 {"advice", f.advice},
                 {"vertices", json::object()}};
        for (const auto& [part, vertices] : f.vertices)
            row["vertices"][c.parts[part].name] = vertices;
        out["checks"].push_back(std::move(row));
    }
    const Surface& f = s.surface;
    out["surface"] = {{"weldedVertices", f.vertexCount()},
                      {"shells", f.shellCount},
                      {"borderEdges", f.borderEdges},
                      {"nonManifoldEdges", f.nonManifoldEdges},
                      {"degenerateTriangles", f.degenerate},
                      {"doubledTriangles", f.doubled},
                      {"seamsWithUnlikeWeights", f.crackingWelds}};
    return out.dump(1, ' ', false, json::error_handler_t::replace) + "\n";
}

std::string runToJson(const Subject& s, const RunResult& run) {
    const Character& c = *s.character;
    json out{
        {"format", "hobble-run"},
        {"version", 1},
        {"character", {{"name", c.name}, {"file", c.source}, {"hash", c.hash}, {"height", s.body.height}}},
        {"method", nameOf(run.method)},
        {"plan", run.plan.name},
        {"cancelled", run.cancelled},
        {"limits", json::object()},
        {"motions", json::array()},
        {"joints", json::array()},
        {"measurements", json::array()},
        {"findings", json::array()}};
    for (Kind k : kKinds)
        out["limits"][nameOf(k)] = run.limits.of(k, Role::Unknown);
    std::vector<char> tested(c.skeleton.name.size(), 0);
    for (std::size_t m = 0; m < run.motions.size(); ++m) {
        const Motion& motion = run.plan.motions[m];
        out["motions"].push_back({{"id", motion.id},
                                  {"name", motion.name},
                                  {"limb", nameOf(motion.limb)},
                                  {"side", nameOf(motion.side)},
                                  {"limitDegrees", motion.limit()}});
        for (std::size_t i = 0; i < run.motions[m].steps.size(); ++i)
            for (const JointStep& j : run.motions[m].steps[i].joints) {
                const ZoneMeasures& z = j.measures;
                tested[j.joint] = 1;
                json row = jointJson(s, j.joint);
                row["motion"] = motion.id;
                row["step"] = i;
                row["degrees"] = run.motions[m].steps[i].at;
                row["stretch"] = z.stretch;
                row["squash"] = z.squash;
                row["area"] = z.area;
                row["shear"] = z.shear;
                row["volume"] = orNull(z.volume);
                row["volumeCm3"] = orNull(z.volumeCm3);
                row["pinch"] = orNull(z.pinch);
                row["girth"] = json::array();
                for (const auto& g : z.girth)
                    row["girth"].push_back(orNull(g));
                for (Kind k :
                     {Kind::Roughness, Kind::Leak, Kind::Contact, Kind::PokeThrough, Kind::Gap, Kind::Flip,
                      Kind::SoftRigidPart, Kind::UnboundPart, Kind::Pop, Kind::OneSided, Kind::WrongBend})
                    row[nameOf(k)] = orNull(valueOf(k, z));
                row["trouble"] = worstTrouble(z, run.limits, s.roles[j.joint].role);
                out["measurements"].push_back(std::move(row));
            }
    }
    for (int j = 0; j < c.skeleton.size(); ++j) {
        if (!tested[j])
            continue;
        const JointZone& zone = s.zones[j];
        json row = jointJson(s, j);
        row["limbRadius"] = zone.limbRadius;
        row["zoneArea"] = zone.area;
        row["zoneTriangles"] = zone.triangles.size();
        row["volumeUndefined"] = zone.volume ? json(nullptr) : json(zone.volumeUndefined);
        row["girthUndefined"] = zone.girth ? json(nullptr) : json(zone.girthUndefined);
        out["joints"].push_back(row);
    }
    for (const Finding& f : run.findings)
        out["findings"].push_back(findingJson(s, run, f, true));
    return out.dump(1, ' ', false, json::error_handler_t::replace) + "\n";
}

std::string findingsToJson(const Subject& s, const RunResult& run) {
    json out = json::array();
    for (const Finding& f : run.findings)
        out.push_back(findingJson(s, run, f, false));
    return out.dump(-1, ' ', false, json::error_handler_t::replace);
}

std::string runToCsv(const Subject& s, const RunResult& run) {
    std::string out =
        "joint,side,role,motion,step,degrees,stretch,squash,area,shear,volume,volume_cm3,pinch,trouble\n";
    auto quoted = [](const std::string& text) { // RFC 4180
        if (text.find_first_of(",\"\n\r") == std::string::npos)
            return text;
        std::string q = "\"";
        for (char x : text)
            q += x == '"' ? std::string("\"\"") : std::string(1, x);
        return q + "\"";
    };
    auto number = [](const std::optional<double>& v) {
        char buffer[32] = "";
        if (v)
            std::snprintf(buffer, sizeof buffer, "%.6g", *v);
        return std::string(buffer);
    };
    for (std::size_t m = 0; m < run.motions.size(); ++m)
        for (std::size_t i = 0; i < run.motions[m].steps.size(); ++i)
            for (const JointStep& j : run.motions[m].steps[i].joints) {
                const ZoneMeasures& z = j.measures;
                const JointRole& r = s.roles[j.joint];
                out += quoted(s.character->skeleton.name[j.joint]) + "," + nameOf(r.side) + "," +
                       nameOf(r.role) + "," + quoted(run.plan.motions[m].id) + "," + std::to_string(i) + "," +
                       number(run.motions[m].steps[i].at) + "," + number(z.stretch) + "," + number(z.squash) +
                       "," + number(z.area) + "," + number(z.shear) + "," + number(z.volume) + "," +
                       number(z.volumeCm3) + "," + number(z.pinch) + "," +
                       number(worstTrouble(z, run.limits, r.role)) + "\n";
            }
    return out;
}

std::string jointWords(const Subject& s, int j) {
    const JointRole& r = s.roles[j];
    if (r.role == Role::Unknown)
        return s.character->skeleton.name[j];
    std::string out = nameOf(r.role);
    static const char* segments[] = {"base", "middle", "tip"};
    if (r.role == Role::Finger)
        out += " " + std::to_string(r.digit) + " " + segments[std::min(r.segment, 2)];
    else if (r.role == Role::Thumb)
        out += std::string(" ") + segments[std::min(r.segment, 2)];
    else if (std::count_if(s.roles.begin(), s.roles.end(), [&](const JointRole& o) {
                 return o.role == r.role && o.side == r.side && o.fore == r.fore;
             }) > 1)
        out += " " + std::to_string(r.segment + 1); // one of a chain
    return r.side == Side::Middle ? out : std::string(nameOf(r.side)) + " " + out;
}

std::string sentence(const Subject& s, const Plan& plan, const Finding& f) {
    std::string joint = jointWords(s, f.joint);
    joint[0] = static_cast<char>(std::toupper(static_cast<unsigned char>(joint[0])));
    char buffer[240];
    const std::string part =
        f.marks.empty() ? std::string("a part") : s.character->parts[f.marks.front().part].name;
    switch (f.kind) {
    case Kind::Stretch:
        std::snprintf(buffer, sizeof buffer, " stretches to %.2f times at the %s", f.peakValue,
                      f.region.c_str());
        break;
    case Kind::Squash:
        std::snprintf(buffer, sizeof buffer, " is squashed to %.2f at the %s", f.peakValue, f.region.c_str());
        break;
    case Kind::VolumeLoss:
        std::snprintf(buffer, sizeof buffer, " loses %.0f %% of its volume", 100 * (1 - f.peakValue));
        break;
    case Kind::Bulge:
        std::snprintf(buffer, sizeof buffer, " swells by %.0f %% of its volume", 100 * (f.peakValue - 1));
        break;
    case Kind::Pinch:
        std::snprintf(buffer, sizeof buffer, " pinches to %.0f %% of its girth", 100 * f.peakValue);
        break;
    case Kind::Contact:
        std::snprintf(buffer, sizeof buffer, ": skin sinks %.0f mm into skin",
                      1000 * f.peakValue * s.zones[f.joint].limbRadius);
        break;
    case Kind::PokeThrough:
        std::snprintf(buffer, sizeof buffer, ": %s pokes through by %.1f mm", part.c_str(),
                      1000 * f.peakValue * s.body.height);
        break;
    case Kind::Gap:
        std::snprintf(buffer, sizeof buffer, ": what covers %s stands off by %.0f mm", part.c_str(),
                      1000 * f.peakValue * s.body.height);
        break;
    case Kind::Roughness:
        std::snprintf(buffer, sizeof buffer, " is rough at the %s: bumps of %.1f edges", f.region.c_str(),
                      f.peakValue);
        break;
    case Kind::Spike:
        std::snprintf(buffer, sizeof buffer, " draws out a spike of %.1f edges", f.peakValue);
        break;
    case Kind::Leak:
        std::snprintf(buffer, sizeof buffer, " moves skin that it should not, by %.0f mm",
                      1000 * f.peakValue * s.body.height);
        break;
    case Kind::SoftRigidPart:
        std::snprintf(buffer, sizeof buffer, ": %s bends by %.0f %% though it is rigid", part.c_str(),
                      100 * f.peakValue);
        break;
    case Kind::UnboundPart:
        std::snprintf(buffer, sizeof buffer, ": %s stays behind by %.0f mm", part.c_str(),
                      1000 * f.peakValue * s.body.height);
        break;
    case Kind::Flip:
        std::snprintf(buffer, sizeof buffer, " turns %.0f %% of its skin inside out", 100 * f.peakValue);
        break;
    case Kind::Pop:
        std::snprintf(buffer, sizeof buffer, " kicks by %.0f mm at once", 1000 * f.peakValue * s.body.height);
        break;
    case Kind::OneSided:
        std::snprintf(buffer, sizeof buffer, " does %.1f limits worse than its other side", f.peakValue);
        break;
    case Kind::WrongBend:
        std::snprintf(buffer, sizeof buffer, " bends %.0f° off its own axis", f.peakValue);
        break;
    }
    std::string out = joint + buffer;
    if (const auto at = out.find("at the all round"); at != std::string::npos)
        out.replace(at, 16, "all round");
    const Motion& motion = plan.motions[static_cast<std::size_t>(f.motion)];
    return out + " in " + motion.name + ", from " + wordsFor(motion, f.onset) + ", worst at " +
           wordsFor(motion, f.peak) + ".";
}

} // namespace hobble
