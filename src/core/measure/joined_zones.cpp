#include "core/measure/joined_zones.h"

#include <algorithm>
#include <numeric>

namespace hobble {

namespace {

constexpr double kTurnsMuch = 15; // degrees, from where on the flesh at a neighbour's ends is not rigid

// Degrees each turn of the motion goes at its most.
std::vector<double> mostTurned(const Motion& motion) {
    std::vector<double> out;
    for (const JointTurn& t : motion.turns) {
        double most = std::abs(t.share) * motion.limit();
        if (motion.keys)
            for (const MotionKey& key : *motion.keys)
                most = std::max(most, degrees(Quat::Identity().angularDistance(
                                          key.pose.turn[static_cast<std::size_t>(t.joint)])));
        out.push_back(most);
    }
    return out;
}

bool shareSkin(const JointZone& a, const JointZone& b) {
    auto i = a.shellTriangles.begin(), j = b.shellTriangles.begin(); // both ascending
    while (i != a.shellTriangles.end() && j != b.shellTriangles.end()) {
        if (*i == *j)
            return true;
        *i < *j ? ++i : ++j;
    }
    return false;
}

} // namespace

JoinedZones joinZones(const Subject& s, const Motion& motion) {
    JoinedZones out;
    if (motion.span == Span::Degrees || motion.turns.size() < 2)
        return out;
    const std::vector<double> most = mostTurned(motion);
    const std::size_t n = motion.turns.size();
    const auto zone = [&](std::size_t k) -> const JointZone& {
        return s.zones[static_cast<std::size_t>(motion.turns[k].joint)];
    };
    std::vector<std::size_t> root(n);
    std::iota(root.begin(), root.end(), std::size_t(0));
    const auto find = [&](std::size_t k) {
        while (root[k] != k)
            k = root[k];
        return k;
    };
    for (std::size_t a = 0; a < n; ++a)
        for (std::size_t b = a + 1; b < n;
             ++b) // one that turns much spoils the cut of every zone it reaches into
            if (std::max(most[a], most[b]) > kTurnsMuch && zone(a).volume && zone(b).volume &&
                zone(a).shell == zone(b).shell && find(a) != find(b) && shareSkin(zone(a), zone(b)))
                root[find(b)] = find(a);
    for (std::size_t k = 0; k < n; ++k) {
        if (find(k) != k)
            continue;
        JoinedZones::Piece piece;
        piece.turn = k;
        std::vector<std::uint32_t> triangles;
        bool skin = true;
        for (std::size_t i = 0; i < n; ++i) {
            if (find(i) != k)
                continue;
            skin = skin && zone(i).shell >= 0 &&
                   s.shellOpen[static_cast<std::size_t>(zone(i).shell)] <= kMostOpenShell;
            piece.turns.push_back(i);
            if (most[i] > most[piece.turn])
                piece.turn = i;
            triangles.insert(triangles.end(), zone(i).shellTriangles.begin(), zone(i).shellTriangles.end());
        }
        if (piece.turns.size() < 2)
            continue;
        std::sort(triangles.begin(), triangles.end());
        triangles.erase(std::unique(triangles.begin(), triangles.end()), triangles.end());
        if (auto closed = closeVolume(s.surface, std::move(triangles), s.neutral,
                                      skin ? kMostOpenRimOfSkin : kMostOpenRim))
            piece.volume = std::move(*closed);
        out.pieces.push_back(std::move(piece));
    }
    return out;
}

void measureJoined(const Surface& surface, const JoinedZones& joined, const std::vector<Vec3>& posed,
                   std::vector<ZoneMeasures>& zones) {
    for (const JoinedZones::Piece& piece : joined.pieces) {
        for (std::size_t k : piece.turns)
            zones[k].volume = zones[k].volumeCm3 = std::nullopt;
        if (!piece.volume || piece.volume->neutral <= 0)
            continue;
        const double v = volumeOf(surface, *piece.volume, posed);
        zones[piece.turn].volume = v / piece.volume->neutral;
        zones[piece.turn].volumeCm3 = v * 1e6;
    }
}

} // namespace hobble
