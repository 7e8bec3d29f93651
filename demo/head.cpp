#include "head.h"

#include <algorithm>
#include <cmath>

namespace hobble::demo {

namespace {

double angleOf(int k) { return kPi / 4 + 2 * kPi * k / kHeadRing; } // vertex 0 is a corner of the back's grid

std::vector<Vec3d> placed(const HeadPlan& plan, std::vector<Vec3d> points) {
    for (Vec3d& p : points)
        p = plan.place * p;
    return points;
}

// The lips' edge: an arch over the upper and one under the lower lip, meeting in the corners.
std::vector<Vec3d> mouthOutline(const HeadPlan& plan, double size) {
    std::vector<Vec3d> out;
    for (int k = 0; k < kHeadRing; ++k) {
        const double a = angleOf(k), side = std::cos(a), front = std::abs(std::sin(a));
        const Vec3d& middle = std::sin(a) >= 0 ? plan.upper : plan.lower;
        const double squared = std::copysign(std::pow(std::abs(side), 2 * plan.pout), side);
        const double reach = std::pow(front, 2 * plan.pout);
        Vec3d p = plan.corner + reach * (middle - plan.corner);
        p.x() = plan.corner.x() * squared;
        const Vec3d heart(0, plan.corner.y(), plan.corner.z());
        out.push_back(heart + size * (p - heart));
    }
    return out;
}

void addMouth(QuadMesh& mesh, const HeadPlan& plan, const Ring& lastRing) {
    const Ring lips = mesh.add(placed(plan, mouthOutline(plan, 1)), true);
    mesh.stitch(lastRing, lips, HeadLabel);
    const std::vector<Vec3d> edge = mouthOutline(plan, 1);
    Ring last = lips;
    for (double t : {0.12, 0.4, 0.7, 1.0}) {
        std::vector<Vec3d> ring;
        for (int k = 0; k < kHeadRing; ++k) {
            const double a = angleOf(k);
            const Vec3d end =
                plan.throat + Vec3d(plan.throatWidth * std::cos(a), plan.throatHeight * std::sin(a), 0);
            Vec3d p = edge[k] + t * (end - edge[k]);
            // Just inside, the lips roll away from each other instead of cutting into each other.
            if (t < 0.5)
                p.y() += (std::sin(a) >= 0 ? 1 : -1) * 0.25 * t * std::abs(plan.upper.z() - plan.corner.z()) *
                         std::abs(std::sin(a)) * 0.3;
            ring.push_back(p);
        }
        const Ring next = mesh.add(placed(plan, ring), true);
        mesh.stitch(last, next, MouthLabel);
        last = next;
    }
    mesh.close(last, kHeadRing / 4, kHeadRing / 4, MouthLabel, true);
}

Vec3d onEye(const HeadPlan& plan, double yaw, double pitch, double radius) {
    const Eigen::Matrix3d f = eyeFrame(plan);
    const double y = radians(yaw), p = radians(pitch);
    const Vec3d d(std::sin(y) * std::cos(p), std::sin(p), std::cos(y) * std::cos(p));
    return plan.place * plan.eye.centre + radius * (f * d);
}

// Rings from the socket's border to the lids' edge, in behind it, and a pocket behind the ball.
void addLids(QuadMesh& mesh, const HeadPlan& plan, const std::vector<int>& patch) {
    const Ring border = mesh.open(patch);
    const int n = static_cast<int>(border.size());
    const Eigen::Matrix3d f = eyeFrame(plan);
    const Vec3d eye = plan.place * plan.eye.centre;
    const double r = plan.eye.radius;
    double turn = 0;
    std::array<double, 2> sum{0, 0};
    for (int i = 0; i < n; ++i) {
        const Vec3d d = f.transpose() * (mesh.at[border[i]] - eye);
        const double a = std::atan2(d.y(), d.x()) - 2 * kPi * i / n;
        sum[0] += std::cos(a);
        sum[1] += std::sin(a);
    }
    turn = std::atan2(sum[1], sum[0]);
    const EyePlan& e = plan.eye;
    struct Turn {
        double yaw, up, down, radius;
    };
    const Turn rings[] = {{e.yaw + 26, e.up + 34, e.down + 34, 1.16},
                          {e.yaw + 14, e.up + 20, e.down + 20, 1.14},
                          {e.yaw + 5, e.up + 8, e.down + 8, 1.12},
                          {e.yaw, e.up, e.down, 1.07},
                          {e.yaw + 2, e.up + 3, e.down + 3, 1.015},
                          {e.yaw + 26, e.up + 26, e.down + 26, 1.01},
                          {110, 80, 80, 1.03}};
    Ring last = border;
    for (int k = 0; k < 7; ++k) {
        std::vector<Vec3d> points;
        for (int i = 0; i < n; ++i) {
            const double a = turn + 2 * kPi * i / n, up = std::sin(a);
            points.push_back(onEye(plan, rings[k].yaw * std::cos(a),
                                   (up > 0 ? rings[k].up : rings[k].down) * up, r * rings[k].radius));
        }
        const Ring ring = mesh.add(points, true);
        mesh.stitch(last, ring, LidLabel);
        last = ring;
    }
    mesh.close(last, 3, n / 2 - 3, LidLabel, true);
    // The border itself is drawn around the ball, so that the lids start from a round socket.
    for (int i = 0; i < n; ++i) {
        const double a = turn + 2 * kPi * i / n;
        mesh.at[border[i]] = onEye(plan, (e.yaw + 44) * std::cos(a),
                                   (std::sin(a) > 0 ? e.up + 52 : e.down + 52) * std::sin(a), 1.3 * r);
    }
}

std::vector<int> nearestPatch(const QuadMesh& mesh, const Rows& rows, const Vec3d& at, int high, int wide) {
    int bestRow = 0, bestColumn = 0;
    double least = INFINITY;
    for (int r = 0; r + high <= static_cast<int>(rows.size()); ++r)
        for (int c = 0; c < static_cast<int>(rows[r].size()); ++c) {
            Vec3d sum = Vec3d::Zero();
            bool there = true;
            const auto patch = patchOf(rows, r, high, c, wide);
            for (int q : patch) {
                there = there && mesh.label[q] >= 0;
                for (int v : mesh.quads[q]) {
                    there = there && mesh.at[v].x() > 1e-6;
                    sum += mesh.at[v] / (4.0 * double(patch.size()));
                }
            }
            if (there && (sum - at).norm() < least) {
                least = (sum - at).norm();
                bestRow = r;
                bestColumn = c;
            }
        }
    return patchOf(rows, bestRow, high, bestColumn, wide);
}

} // namespace

Eigen::Matrix3d eyeFrame(const HeadPlan& plan) {
    const Vec3d gaze = (plan.place.linear() * plan.eye.gaze).normalized();
    Vec3d up = plan.place.linear() * Vec3d::UnitY();
    up = (up - up.dot(gaze) * gaze).normalized();
    Eigen::Matrix3d f;
    f << up.cross(gaze), up, gaze;
    return f;
}

HeadCage addHead(QuadMesh& mesh, const HeadPlan& plan, const std::vector<Solid>& flesh) {
    HeadCage out;
    const Eigen::Matrix3d turn = plan.place.linear();
    std::vector<Ring> rings;
    for (const Station& s : plan.rings) {
        Station world = s;
        world.centre = plan.place * s.centre;
        rings.push_back(mesh.add(
            ringPoints(world, turn * Vec3d::UnitX(), turn * Vec3d::UnitY(), kHeadRing, angleOf(0), &flesh)));
        if (rings.size() > 1)
            out.rows.push_back(mesh.stitch(rings[rings.size() - 2], rings.back(), HeadLabel));
    }
    Ring back(rings.front().rbegin(), rings.front().rend());
    std::rotate(back.begin(), back.end() - 1, back.end()); // starts at the same corner, the other way round
    mesh.close(back, kHeadRing / 4, kHeadRing / 4, HeadLabel);
    addMouth(mesh, plan, rings.back());
    out.neck = mesh.open(patchOf(out.rows, plan.neckRow, plan.neckRows, 12, 6));
    if (plan.lids)
        addLids(mesh, plan,
                nearestPatch(mesh, out.rows, plan.place * (plan.eye.centre + plan.eye.radius * plan.eye.gaze),
                             3, 3));
    if (!plan.ear.empty()) {
        std::vector<Station> ear = plan.ear;
        for (Station& s : ear)
            s.centre = plan.place * s.centre;
        const Ring border = mesh.open(nearestPatch(mesh, out.rows, ear.front().centre, 2, 2));
        const Drawn drawn = drawOut(mesh, border, ear, turn * plan.earUp, EarLabel, nullptr);
        mesh.close(drawn.rings.back(), 2, 2, EarLabel, true);
    }
    return out;
}

Mesh eyeballs(const HeadPlan& plan, double pupil, double iris, const std::array<Vec3, 3>& colours,
              std::vector<Vec3>& painted) {
    constexpr int around = 24, rows = 14;
    Mesh mesh;
    const Eigen::Matrix3d f = eyeFrame(plan);
    const Vec3d eye = plan.place * plan.eye.centre;
    for (int side = 0; side < 2; ++side) {
        const auto first = static_cast<std::uint32_t>(mesh.position.size());
        auto add = [&](double polar, double a) {
            Vec3d p = eye + plan.eye.radius * (f * Vec3d(std::sin(polar) * std::cos(a),
                                                         std::sin(polar) * std::sin(a), std::cos(polar)));
            if (side)
                p.x() = -p.x();
            mesh.position.push_back(p.cast<float>());
            const double d = degrees(polar);
            painted.push_back(d < pupil ? colours[2] : d < iris ? colours[1] : colours[0]);
        };
        // Rings close in on the edges of pupil and iris, so that these are sharp.
        std::vector<double> polar{pupil * 0.5,        pupil - 0.5, pupil + 0.5,
                                  (pupil + iris) / 2, iris - 0.5,  iris + 0.5};
        while (static_cast<int>(polar.size()) < rows)
            polar.push_back(iris + (175 - iris) * (static_cast<double>(polar.size()) - 5) / (rows - 6));
        add(0, 0);
        for (double d : polar)
            for (int i = 0; i < around; ++i)
                add(radians(d), 2 * kPi * i / around);
        add(kPi, 0);
        auto triangle = [&](std::uint32_t a, std::uint32_t b, std::uint32_t c) {
            if (side)
                std::swap(b, c);
            mesh.triangles.push_back({first + a, first + b, first + c});
        };
        const auto ring = [&](int r, int i) {
            return static_cast<std::uint32_t>(1 + r * around + i % around);
        };
        const auto end = static_cast<std::uint32_t>(1 + rows * around);
        for (int i = 0; i < around; ++i) {
            triangle(0, ring(0, i), ring(0, i + 1));
            for (int r = 0; r + 1 < rows; ++r) {
                triangle(ring(r, i), ring(r + 1, i), ring(r + 1, i + 1));
                triangle(ring(r, i), ring(r + 1, i + 1), ring(r, i + 1));
            }
            triangle(end, ring(rows - 1, i + 1), ring(rows - 1, i));
        }
    }
    return mesh;
}

} // namespace hobble::demo
