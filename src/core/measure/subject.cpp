#include "core/measure/prepare.h"
#include "core/measure/skin_ray.h"

#include <tbb/parallel_for.h>

#include <mutex>

namespace hobble {

void prepareRoles(Subject& s, const std::map<std::string, RoleCorrection>& corrections) {
    const Character& c = *s.character;
    s.roles = guessRoles(c, corrections);
    s.body = bodyFrame(c, s.roles);
    std::vector<std::pair<int, int>> pairs;
    for (int j = 0; j < c.skeleton.size(); ++j)
        if (s.roles[j].side == Side::Left && s.roles[j].mirror >= 0)
            pairs.push_back({j, s.roles[j].mirror});
    s.mirror = findMirrorPlane(c, pairs);
}

void prepareZones(Subject& s, const std::vector<char>& joints, const Progress& progress) {
    std::vector<std::size_t> wanted;
    for (std::size_t j = 0; j < joints.size(); ++j)
        if (joints[j])
            wanted.push_back(j);
    std::mutex telling;
    double done = 0;
    tbb::parallel_for(std::size_t(0), wanted.size(), [&](std::size_t i) {
        if (progress.stopped())
            return;
        s.zones.set(wanted[i], jointZone(s, static_cast<int>(wanted[i])));
        const std::lock_guard lock(telling);
        progress.at(++done / static_cast<double>(wanted.size()));
    });
}

void flagRigidParts(Subject& s) {
    std::vector<char> on(s.surface.triangles.size(), 0);
    for (const RigidPart& r : s.rigid)
        for (std::uint32_t t : r.triangles)
            on[t] = 1;
    s.onRigidPart = std::move(on);
}

void prepareCovering(Subject& s, const Progress& progress) {
    s.cover = std::make_shared<const CoverSetup>(prepareCover(s, 0.06 * s.body.height, progress));
}

void prepareContacts(Subject& s, const Progress& progress) {
    s.contact = std::make_shared<const ContactSetup>(
        prepareContact(s.surface, *s.character, s.neutral, s.shellOpen, s.body.height, progress.cancel));
}

void prepareOpenings(Subject& s) {
    s.openings = std::make_shared<const std::vector<FaceOpening>>(faceOpenings(s));
}

Subject prepareSubject(std::shared_ptr<const Character> character, const Progress& progress,
                       const std::map<std::string, RoleCorrection>& corrections) {
    Subject s;
    s.character = std::move(character);
    s.cover = std::make_shared<const CoverSetup>();
    s.contact = std::make_shared<const ContactSetup>();
    s.openings = std::make_shared<const std::vector<FaceOpening>>();
    const Character& c = *s.character;
    double share = 0;
    // Shares of the time, measured on a million vertices.
    const auto step = [&](double takes, auto&& work) {
        if (progress.stopped())
            return;
        work(progress.within(share, share + takes));
        progress.at(share += takes);
    };
    step(0.01, [&](const Progress&) {
        s.lanes = weightLanes(c.weights);
        prepareRoles(s, corrections);
    });
    step(0.40, [&](const Progress& p) { s.surface = buildSurface(c, 0, p); });
    step(0.03, [&](const Progress&) {
        s.neutral = weldedPositions(s.surface, c.neutral);
        s.rest = restTriangles(s.surface, s.neutral);
        s.rings = restRings(s.surface, s.neutral);
        s.held = skinHeld(c.skeleton, s.surface, s.neutral);
        s.extent = c.extent();
        s.shellOpen = openShares(s.surface, s.neutral);
    });
    step(0.05, [&](const Progress&) {
        s.tree = std::make_shared<const TriangleTree>(skinTree(s.surface, s.neutral));
        Boxes boxes;
        refit(*s.tree, s.surface.triangles, s.neutral, boxes);
        s.neutralBoxes = std::make_shared<const Boxes>(std::move(boxes));
    });
    const std::vector<char> all(c.skeleton.name.size(), 1);
    s.zones.assign(all.size());
    step(0.25, [&](const Progress& p) { prepareZones(s, all, p); });
    step(0.01, [&](const Progress&) {
        s.rigid = rigidParts(s);
        flagRigidParts(s);
    });
    step(0.02, [&](const Progress&) { s.islands = weightIslands(c, s.surface, s.neutral, all); });
    step(0.16, [&](const Progress& p) { prepareCovering(s, p); });
    step(0.01, [&](const Progress&) { prepareOpenings(s); });
    step(0.06, [&](const Progress& p) {
        prepareContacts(s, p);
        s.contactCarriers = nodeCarriers(c, s.surface, *s.contact);
    });
    return s;
}

} // namespace hobble
