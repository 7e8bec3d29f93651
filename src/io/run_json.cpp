#include "io/run_json.h"

#include "core/character/hand.h"
#include "core/exposure/fault_meetings.h"
#include "core/exposure/fault_use.h"
#include "core/intake/check.h"
#include "core/plain_number.h"
#include "core/pose/coverage.h"
#include "core/words/cause_words.h"
#include "core/words/exposure_words.h"
#include "core/words/finding_words.h"
#include "io/csv.h"
#include "io/exposure_json.h"

#include <nlohmann/json.hpp>

#include <algorithm>
#include <cmath>
#include <cstdio>
#include <set>

namespace hobble {

namespace {

using nlohmann::json;

json orNull(const std::optional<double>& v) { return v ? json(*v) : json(nullptr); }

json jointJson(const Subject& s, int j) {
    return {{"joint", s.character->skeleton.name[j]},
            {"side", nameOf(s.roles[j].side)},
            {"role", nameOf(s.roles[j].role)}};
}

json coverageJson(const Subject& s, const Plan& plan) {
    const Coverage coverage = coverageOf(*s.character, s.roles, plan);
    json out{{"share", coverage.share}, {"untested", json::array()}};
    for (const UntestedJoint& u : coverage.untested) {
        json row = jointJson(s, u.joint);
        row["share"] = u.share;
        row["why"] = wordsFor(u.why);
        out["untested"].push_back(std::move(row));
    }
    return out;
}

json causesJson(const Character& character, const std::vector<Cause>& causes) {
    json out = json::array();
    for (const Cause& c : causes)
        out.push_back(
            {{"cause", factsOf(c.kind).word},
             {"weight", c.weight},
             {"joint",
              c.joint < 0 ? json(nullptr) : json(character.skeleton.name[static_cast<std::size_t>(c.joint)])},
             {"gone", orNull(c.gone)},
             {"evidence", sentenceOf(character, c)}});
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
    row["causes"] = causesJson(c, f.causes);
    if (!vertices)
        return row;
    row["vertices"] = json::object();
    for (const PartMarks& marks : f.marks)
        row["vertices"][c.parts[marks.part].name] = marks.vertices;
    return row;
}

// The sign that tells it, with what is the fault's own: where it is mended, causes, all signs and joints.
json faultJson(const Subject& s, const RunResult& run, const Fault& fault, bool vertices) {
    const Character& c = *s.character;
    const Finding& lead = run.findings[static_cast<std::size_t>(fault.signs.front())];
    json row = findingJson(s, run, lead, vertices);
    row.update(jointJson(s, fault.joint));
    row["seenAt"] = c.skeleton.name[static_cast<std::size_t>(lead.joint)];
    row["severity"] = fault.severity;
    row["urgency"] = fault.urgency;
    row["sentence"] = sentence(s, run.plan, run.findings, fault);
    row["causes"] = causesJson(c, fault.causes);
    row["signs"] = fault.signs;
    row["joints"] = json::array();
    for (int j : fault.joints)
        row["joints"].push_back(c.skeleton.name[static_cast<std::size_t>(j)]);
    std::set<int> motions;
    for (int i : fault.signs)
        motions.insert(run.findings[static_cast<std::size_t>(i)].motions.begin(),
                       run.findings[static_cast<std::size_t>(i)].motions.end());
    row["motions"] = json::array();
    for (int m : motions)
        row["motions"].push_back(run.plan.motions[static_cast<std::size_t>(m)].id);
    row.erase("leads");
    row.erase("fault");
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
        joint["digit"] = s.roles[j].role == Role::Finger || s.roles[j].role == Role::Thumb
                             ? json(digitName(std::max(s.roles[j].digit, 0)))
                             : json(nullptr);
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
    out["coverage"] = coverageJson(s, fullPlan(c, s.roles));
    const Surface& f = s.surface;
    out["surface"] = {{"weldedVertices", f.vertexCount()},
                      {"shells", f.shellCount},
                      {"borderEdges", f.borderEdges},
                      {"nonManifoldEdges", f.nonManifoldEdges},
                      {"degenerateTriangles", f.degenerate},
                      {"doubledTriangles", f.doubled},
                      {"seamsWithUnlikeWeights", f.crackingWelds},
                      {"trianglesFacingInwards", f.facingIn}};
    return out.dump(1, ' ', false, json::error_handler_t::replace) + "\n";
}

std::string runToJson(const Subject& s, const RunResult& run, const Exposure* exposure,
                      const std::vector<Meeting>* meetings) {
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
        {"findings", json::array()},
        {"faults", json::array()}};
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
                for (Kind k : {Kind::Roughness, Kind::Leak, Kind::Lag, Kind::Contact, Kind::PokeThrough,
                               Kind::Gap, Kind::Flip, Kind::SoftRigidPart, Kind::UnboundPart, Kind::Pop,
                               Kind::OneSided, Kind::WrongBend, Kind::NotClosed, Kind::ThroughLid})
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
    out["coverage"] = coverageJson(s, run.plan);
    for (const Finding& f : run.findings) {
        out["findings"].push_back(findingJson(s, run, f, true));
        if (exposure)
            out["findings"].back()["exposure"] = usePastJson(*exposure, usePast(*exposure, run.plan, f));
    }
    for (const Fault& f : run.faults) {
        out["faults"].push_back(faultJson(s, run, f, true));
        if (exposure) {
            const FaultUse use = faultUse(*exposure, run, f);
            json& row = out["faults"].back()["exposure"];
            row = usePastJson(*exposure, use.past);
            if (!row.is_null())
                row["finding"] = use.finding;
        }
    }
    if (meetings) {
        out["meetings"] = json::array();
        for (const Meeting& m : *meetings)
            out["meetings"].push_back({{"file", m.file},
                                       {"clip", m.clip},
                                       {"first", m.first},
                                       {"last", m.last},
                                       {"at", m.at},
                                       {"faults", m.faults},
                                       {"sentence", wordsFor(m, s, run)}});
    }
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
    auto number = [](const std::optional<double>& v) { return v ? plainNumber(*v, 6) : std::string(); };
    for (std::size_t m = 0; m < run.motions.size(); ++m)
        for (std::size_t i = 0; i < run.motions[m].steps.size(); ++i)
            for (const JointStep& j : run.motions[m].steps[i].joints) {
                const ZoneMeasures& z = j.measures;
                const JointRole& r = s.roles[j.joint];
                out += csvCell(s.character->skeleton.name[j.joint]) + "," + nameOf(r.side) + "," +
                       nameOf(r.role) + "," + csvCell(run.plan.motions[m].id) + "," + std::to_string(i) +
                       "," + number(run.motions[m].steps[i].at) + "," + number(z.stretch) + "," +
                       number(z.squash) + "," + number(z.area) + "," + number(z.shear) + "," +
                       number(z.volume) + "," + number(z.volumeCm3) + "," + number(z.pinch) + "," +
                       number(worstTrouble(z, run.limits, r.role)) + "\n";
            }
    return out;
}

} // namespace hobble
