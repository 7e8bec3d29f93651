#include "core/measure/zone.h"

#include "core/measure/follow.h"
#include "core/measure/subject.h"

#include <algorithm>
#include <cmath>
#include <map>
#include <queue>

namespace hobble {

namespace {

Vec3d jointPlace(const Character& c, int j) { return c.skeleton.neutralWorld[j].translation(); }

// Welded vertices within `reach` of the sources along edges, ascending (Dijkstra 1959).
std::vector<std::uint32_t> grow(const Surface& s, const std::vector<Vec3>& p,
                                const std::vector<std::uint32_t>& sources, double reach) {
    std::vector<float> distance(s.vertexCount(), INFINITY);
    using Item = std::pair<float, std::uint32_t>;
    std::priority_queue<Item, std::vector<Item>, std::greater<>> queue;
    const auto spread = [&](float d, std::uint32_t v) {
        for (auto n = s.neighbours.begin(v); n != s.neighbours.end(v); ++n) {
            if (distance[*n] <= d)
                continue;
            const float next = d + (p[*n] - p[v]).norm();
            if (next <= reach && next < distance[*n]) {
                distance[*n] = next;
                queue.push({next, *n});
            }
        }
    };
    for (std::uint32_t v : sources)
        distance[v] = 0;
    for (std::uint32_t v : sources) // most lie among others, and never enter the queue
        spread(0, v);
    while (!queue.empty()) {
        const auto [d, v] = queue.top();
        queue.pop();
        if (d == distance[v]) // otherwise it was reached by a shorter way since
            spread(d, v);
    }
    std::vector<std::uint32_t> out;
    for (std::uint32_t v = 0; v < distance.size(); ++v)
        if (distance[v] < INFINITY)
            out.push_back(v);
    return out;
}

// Ascending, those with all corners among the vertices.
std::vector<std::uint32_t> trianglesWithin(const Surface& s, const std::vector<std::uint32_t>& vertices) {
    std::vector<char> in(s.vertexCount(), 0), within(s.triangles.size(), 0);
    for (std::uint32_t v : vertices)
        in[v] = 1;
    for (std::uint32_t v : vertices)
        for (auto t = s.trianglesAt.begin(v); t != s.trianglesAt.end(v); ++t)
            if (const Triangle& f = s.triangles[*t]; f[0] == v)
                within[*t] = in[f[1]] && in[f[2]];
    std::vector<std::uint32_t> out;
    for (std::uint32_t t = 0; t < within.size(); ++t)
        if (within[t])
            out.push_back(t);
    return out;
}

// Of a shell's pieces of blend the largest that comes near the joint counts, and others that do. Near is
// judged by the piece the joint itself sits in: a stray influence makes a piece of its own on another limb.
void dropIslands(const Character& c, const Surface& s, const std::vector<Vec3>& neutral, int joint,
                 std::vector<std::uint32_t>& blend) {
    std::vector<int> piece(s.vertexCount(), -1);
    for (std::uint32_t v : blend)
        piece[v] = -2;
    struct Piece {
        std::vector<std::uint32_t> vertices;
        double nearest = INFINITY, area = 0;
    };
    std::vector<Piece> pieces;
    const Vec3d here = jointPlace(c, joint);
    std::vector<std::uint32_t> stack;
    for (std::uint32_t start : blend) {
        if (piece[start] != -2)
            continue;
        Piece p;
        piece[start] = static_cast<int>(pieces.size());
        stack.push_back(start);
        while (!stack.empty()) {
            const std::uint32_t v = stack.back();
            stack.pop_back();
            p.vertices.push_back(v);
            p.nearest = std::min(p.nearest, (neutral[v].cast<double>() - here).norm());
            for (auto n = s.neighbours.begin(v); n != s.neighbours.end(v); ++n)
                if (piece[*n] == -2) {
                    piece[*n] = static_cast<int>(pieces.size());
                    stack.push_back(*n);
                }
        }
        pieces.push_back(std::move(p));
    }
    if (pieces.size() < 2)
        return;
    for (Piece& p : pieces)
        for (std::uint32_t v : p.vertices)
            for (auto t = s.trianglesAt.begin(v); t != s.trianglesAt.end(v); ++t)
                p.area += s.area[*t] / 3;
    // The main piece: large and near. Its own reach says how far is near.
    const auto main = std::max_element(pieces.begin(), pieces.end(), [](const Piece& a, const Piece& b) {
        return a.area / (a.nearest * a.nearest + 1e-12) < b.area / (b.nearest * b.nearest + 1e-12);
    });
    double reach = 0;
    for (std::uint32_t v : main->vertices)
        reach = std::max(reach, (neutral[v].cast<double>() - here).norm());
    blend.clear();
    for (const Piece& p : pieces)
        if (p.nearest <= std::max(1.3 * reach, 2 * main->nearest) &&
            (&p == &*main || p.area > 0.02 * main->area || p.nearest < reach))
            blend.insert(blend.end(), p.vertices.begin(), p.vertices.end());
    std::sort(blend.begin(), blend.end());
}

// Whether a cut goes around the joint's own limb: mostly through skin that the joint, what hangs below it or
// what it hangs from holds. Another limb that lies in the plane is none of its own.
bool isOfLimb(const Subject& subject, const std::vector<EdgePoint>& loop, int joint) {
    const Skeleton& sk = subject.character->skeleton;
    std::vector<char> own = sk.subtree(joint);
    const auto isEmptyGroup = [&](int j) { return subject.roles[static_cast<std::size_t>(j)].oneWith >= 0; };
    for (int up = sk.parent[joint], k = 0; up >= 0 && k < 3; up = sk.parent[up]) {
        own[up] = 1;
        k += !isEmptyGroup(up);
    }
    const auto above = [&](int j) {
        int up = sk.parent[j];
        while (up >= 0 && isEmptyGroup(up))
            up = sk.parent[up];
        return up;
    };
    if (const int p = above(joint); p >= 0) // twist joints and helpers beside it
        for (int k = 0; k < sk.size(); ++k)
            own[k] |= (subject.roles[k].role == Role::Twist || subject.roles[k].role == Role::Helper) &&
                      above(k) == p;
    double sum = 0;
    for (const EdgePoint& e : loop)
        sum += subject.surface.weightOn(e.a, own);
    return sum >= 0.5 * static_cast<double>(loop.size());
}

double limbRadius(const Subject& subject, const JointZone& zone) {
    const Surface& s = subject.surface;
    const std::vector<Vec3>& neutral = subject.neutral;
    const Vec3d here = jointPlace(*subject.character, zone.joint);
    std::vector<char> shells(s.shellCount, 0);
    for (std::uint32_t v : zone.blendVertices)
        shells[s.shellOf[v]] = 1;
    const Eigen::AlignedBox3f everywhere(Vec3::Constant(-INFINITY), Vec3::Constant(INFINITY));
    const auto near =
        trianglesAtPlane(*subject.tree, *subject.neutralBoxes, here, zone.axis, everywhere,
                         [&](std::uint32_t t) { return shells[s.shellOf[s.triangles[t][0]]] != 0; });
    std::vector<double> away;
    for (std::uint32_t v : zone.blendVertices) {
        const Vec3d d = neutral[v].cast<double>() - here;
        away.push_back((d - d.dot(zone.axis) * zone.axis).norm());
    }
    std::nth_element(away.begin(), away.begin() + away.size() / 2, away.end());
    const double median = away[away.size() / 2];
    // A cut that runs off into the trunk is no limb: the median distance of the blend then says more.
    if (auto loop = sectionAround(s, near, neutral, here, zone.axis)) {
        const double radius = std::sqrt(sectionArea(*loop, neutral) / kPi);
        if (radius < 2 * median && isOfLimb(subject, *loop, zone.joint))
            return radius;
    }
    return median;
}

// Girth and volume belong to the shell around the joint: the tightest that winds about it (the body, not the
// coat), or failing that the largest that closes.
void chooseShell(const Subject& subject, JointZone& zone) {
    const Character& c = *subject.character;
    const Surface& s = subject.surface;
    const std::vector<Vec3>& neutral = subject.neutral;
    std::map<std::uint32_t, std::vector<std::uint32_t>> byShell;
    std::vector<std::uint32_t>* own = nullptr; // those that follow each other are of one shell
    std::uint32_t ownShell = 0;
    for (std::uint32_t t : zone.triangles) {
        const std::uint32_t shell = s.shellOf[s.triangles[t][0]];
        if (!own || shell != ownShell)
            own = &byShell[ownShell = shell];
        own->push_back(t);
    }
    double best = 0, largestArea = 0;
    bool bestEncloses = false;
    std::string reason;
    for (auto& [shell, triangles] : byShell) {
        double area = 0;
        for (std::uint32_t t : triangles)
            area += s.area[t];
        const bool skin = subject.shellOpen[shell] <= kMostOpenShell;
        auto closed = closeVolume(s, triangles, neutral, skin ? kMostOpenRimOfSkin : kMostOpenRim);
        if (!closed || closed->neutral <= 0) {
            if (!zone.volume && area > largestArea) {
                largestArea = area;
                reason = closed ? "the skin folds about itself here and encloses nothing" : closed.error();
                zone.shell = shell;
            }
            continue;
        }
        const double size = closed->neutral;
        const bool encloses = windingNumber(s, *closed, neutral, jointPlace(c, zone.joint)) > 0.5;
        const bool better = !zone.volume || (encloses && !bestEncloses) ||
                            (encloses == bestEncloses && (encloses ? size < best : size > best));
        if (better) {
            best = size;
            bestEncloses = encloses;
            zone.shell = shell;
            zone.volume = std::move(*closed);
        }
    }
    if (!zone.volume)
        zone.volumeUndefined = reason.empty() ? "no skin around the joint" : reason;
    if (zone.shell >= 0)
        zone.shellTriangles = byShell[static_cast<std::uint32_t>(zone.shell)];
}

void cutSections(const Subject& subject, const LimbDirections& limb, JointZone& zone) {
    const Surface& s = subject.surface;
    const std::vector<Vec3>& neutral = subject.neutral;
    const Vec3d here = jointPlace(*subject.character, zone.joint);
    std::vector<double> along;
    for (std::uint32_t v : zone.blendVertices)
        if (s.shellOf[v] == zone.shell)
            along.push_back(zone.axis.dot(neutral[v].cast<double>() - here));
    if (along.empty()) {
        zone.girthUndefined = "no skin blends around the joint";
        return;
    }
    std::sort(along.begin(), along.end());
    const double lo = along[along.size() / 50], hi = along[along.size() - 1 - along.size() / 50];
    const double far = std::max({std::abs(lo), std::abs(hi), 1e-12});
    std::vector<char> own(s.triangles.size(), 0);
    Eigen::AlignedBox3f box;
    for (std::uint32_t t : zone.shellTriangles) {
        own[t] = 1;
        for (std::uint32_t v : s.triangles[t])
            box.extend(neutral[v]);
    }
    LimbSections sections;
    int closed = 0;
    for (int k = 0; k < kGirthStations; ++k) {
        const double offset = lo + (hi - lo) * k / (kGirthStations - 1);
        const Vec3d bone = offset < 0 ? limb.fromParent : limb.toTip;
        const Vec3d normal = (zone.axis + (bone - zone.axis) * (std::abs(offset) / far)).normalized();
        Section station;
        station.offset = offset;
        const Vec3d at = here + offset * bone;
        const auto near = trianglesAtPlane(*subject.tree, *subject.neutralBoxes, at, normal, box,
                                           [&](std::uint32_t t) { return own[t] != 0; });
        if (auto loop = sectionAround(s, near, neutral, at, normal)) {
            station.points = std::move(*loop);
            station.neutralArea = sectionArea(station.points, neutral);
            ++closed;
        }
        sections.stations.push_back(std::move(station));
    }
    if (closed)
        zone.girth = std::move(sections);
    else
        zone.girthUndefined = "no cut across the limb closes here";
}

} // namespace

bool straddles(const SkinWeights& weights, const std::pair<std::uint32_t, std::uint32_t>& edge,
               const std::vector<float>& shares) {
    const float a = followingAt(weights, edge.first, shares), b = followingAt(weights, edge.second, shares);
    return !inBlend(a) && !inBlend(b) && (a < 0.5f) != (b < 0.5f);
}

JointZone jointZone(const Subject& subject, int joint) {
    const Character& c = *subject.character;
    const Surface& s = subject.surface;
    const std::vector<Vec3>& neutral = subject.neutral;
    JointZone zone;
    zone.joint = joint;
    const std::vector<float> shares = followShares(c, joint);
    for (std::uint32_t v = 0; v < s.vertexCount(); ++v)
        if (inBlend(followingAt(s.weights, v, shares)))
            zone.blendVertices.push_back(v);
    bool hard = false;
    for (const auto& edge : subject.held.hardEdges)
        if (straddles(s.weights, edge, shares)) {
            hard = true;
            zone.blendVertices.push_back(edge.first);
            zone.blendVertices.push_back(edge.second);
        }
    if (hard) {
        std::sort(zone.blendVertices.begin(), zone.blendVertices.end());
        zone.blendVertices.erase(std::unique(zone.blendVertices.begin(), zone.blendVertices.end()),
                                 zone.blendVertices.end());
    }
    dropIslands(c, s, neutral, joint, zone.blendVertices);
    if (zone.blendVertices.empty()) {
        zone.volumeUndefined = zone.girthUndefined = "no skin blends across this joint";
        return zone;
    }
    const LimbDirections limb = limbDirections(c.skeleton, subject.held, subject.extent, joint);
    zone.axis = limb.axis;
    zone.limbRadius = limbRadius(subject, zone);
    zone.vertices = grow(s, neutral, zone.blendVertices, zone.limbRadius);
    zone.triangles = trianglesWithin(s, zone.vertices);
    for (std::uint32_t t : zone.triangles)
        zone.area += s.area[t];
    chooseShell(subject, zone);
    if (zone.shell >= 0)
        cutSections(subject, limb, zone);
    return zone;
}

ZoneMeasures measureZone(const Surface& s, const std::vector<RestTriangle>& rest, const JointZone& zone,
                         const std::vector<Vec3>& posed) {
    std::vector<Strain> strain;
    strain.reserve(zone.triangles.size());
    for (std::uint32_t t : zone.triangles) {
        const auto& [a, b, c] = s.triangles[t];
        strain.push_back(strainOf(rest[t], posed[a], posed[b], posed[c]));
    }
    return measureZone(s, zone, posed, strain);
}

ZoneMeasures measureZone(const Surface& s, const JointZone& zone, const std::vector<Vec3>& posed,
                         const std::vector<Strain>& strain) {
    ZoneMeasures m;
    if (zone.empty())
        return m;
    std::vector<std::pair<float, float>> stretch, squash, shear;
    stretch.reserve(zone.triangles.size());
    squash.reserve(zone.triangles.size());
    shear.reserve(zone.triangles.size());
    double posedArea = 0, neutralArea = 0;
    for (std::size_t i = 0; i < zone.triangles.size(); ++i) {
        const Strain& x = strain[i];
        const float area = s.area[zone.triangles[i]];
        if (area <= 0)
            continue;
        stretch.emplace_back(x.stretch, area);
        squash.emplace_back(x.squash, area);
        shear.emplace_back(x.stretch / std::max(x.squash, 1e-6f), area);
        posedArea += double(x.stretch) * x.squash * area;
        neutralArea += area;
    }
    if (neutralArea > 0) {
        m.stretch = weightedQuantile(std::move(stretch), 0.99);
        m.squash = weightedQuantile(std::move(squash), 0.01);
        m.shear = weightedQuantile(std::move(shear), 0.99);
        m.area = posedArea / neutralArea;
    }
    if (zone.volume) {
        const double v = volumeOf(s, *zone.volume, posed);
        m.volume = v / zone.volume->neutral;
        m.volumeCm3 = v * 1e6;
    }
    if (zone.girth)
        for (const Section& station : zone.girth->stations) {
            if (station.points.empty()) {
                m.girth.push_back(std::nullopt);
                continue;
            }
            m.girth.push_back(sectionArea(station.points, posed) / station.neutralArea);
            m.pinch = m.pinch ? std::min(*m.pinch, *m.girth.back()) : *m.girth.back();
        }
    return m;
}

} // namespace hobble
