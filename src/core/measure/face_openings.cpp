#include "core/measure/face_openings.h"

#include "core/character/joint_words.h"
#include "core/measure/region.h"
#include "core/measure/subject.h"

#include <algorithm>
#include <cmath>
#include <map>

namespace hobble {

namespace {

constexpr int kRays = 900;           // over the whole sphere: a lid's slit of a fiftieth of the eye is seen
constexpr float kFar = 2.2f;         // radii: what lies farther out covers nothing
constexpr float kNear = 0.6f;        // radii: what lies deeper is the socket behind
constexpr double kOffSphere = 0.2;   // of the radius: an eye with its cornea is that far from a ball
constexpr double kTurnsAway = -0.17; // cos 100°: what of the piece can be seen from in front
constexpr std::size_t kFewest = 8;   // directions bare in neutral, for closing to mean something

// A piece of the surface in one, and what is known of it.
struct Shell {
    std::vector<std::uint32_t> vertices;
    int carrier = -1; // that holds all of it; −1 where none does
    int part = -1;
};

Vec3 spread(int i) { // evenly over the sphere (a spiral by the golden angle)
    const double y = 1 - 2 * (i + 0.5) / kRays, r = std::sqrt(1 - y * y),
                 turn = i * kPi * (3 - std::sqrt(5.0));
    return Vec3(static_cast<float>(r * std::cos(turn)), static_cast<float>(y),
                static_cast<float>(r * std::sin(turn)));
}

// The ball through points, by squares; radius 0 where there is none.
std::pair<Vec3d, double> ballThrough(const std::vector<Vec3>& at, const std::vector<std::uint32_t>& which) {
    Vec3d mean = Vec3d::Zero();
    for (std::uint32_t v : which)
        mean += at[v].cast<double>();
    mean /= static_cast<double>(which.size());
    Eigen::Matrix4d m = Eigen::Matrix4d::Zero();
    Eigen::Vector4d b = Eigen::Vector4d::Zero();
    for (std::uint32_t v : which) { // |p|² = 2 p·c + (r² − |c|²)
        const Vec3d p = at[v].cast<double>() - mean;
        const Eigen::Vector4d row(2 * p.x(), 2 * p.y(), 2 * p.z(), 1);
        m += row * row.transpose();
        b += p.squaredNorm() * row;
    }
    const Eigen::Vector4d x = m.ldlt().solve(b);
    if (!x.allFinite())
        return {mean, 0};
    const Vec3d centre = x.head<3>();
    const double square = x[3] + centre.squaredNorm();
    return {mean + centre, square > 0 ? std::sqrt(square) : 0};
}

double offBall(const std::vector<Vec3>& at, const std::vector<std::uint32_t>& which, const Vec3d& centre,
               double radius) {
    double sum = 0;
    for (std::uint32_t v : which) {
        const double off = (at[v].cast<double>() - centre).norm() - radius;
        sum += off * off;
    }
    return std::sqrt(sum / static_cast<double>(which.size())) / radius;
}

bool called(const std::string& name, std::initializer_list<const char*> any) {
    const auto words = wordsOf(name);
    return std::any_of(words.begin(), words.end(), [&](const std::string& w) {
        return std::any_of(any.begin(), any.end(), [&](const char* a) { return w == a; });
    });
}

bool lower(const std::string& name) { return called(name, {"lower", "low", "bottom", "under", "down"}); }

// The last skin along a ray, between two distances; none: infinitely far.
struct LastSkin {
    float distance = INFINITY;
    bool leaves =
        false; // the ray leaves flesh there; else it goes into some: the lining of a socket or a mouth
    bool covers(float out) const { return std::isfinite(distance) && distance >= out; }
    bool within(float out) const { return distance < out && leaves; }
};

LastSkin lastAlong(const TriangleTree& tree, const Boxes& boxes, const std::vector<Triangle>& triangles,
                   const std::vector<Vec3>& at, const Vec3& from, const Vec3& direction, float least,
                   float most) {
    LastSkin last;
    for (int i = 0; i < 8; ++i) { // layers of a lid, and of what lies on it
        const RayHit hit = castRay(tree, boxes, triangles, at, from, direction, least, most);
        if (hit.triangle == ~0u)
            break;
        last = {hit.distance, hit.fromBehind};
        least = std::nextafter(hit.distance, INFINITY) + 1e-7f;
    }
    return last;
}

// Whether a triangle goes through any of a tree's.
bool crosses(const TriangleTree& tree, const Boxes& boxes, const std::vector<Triangle>& triangles,
             const std::vector<Vec3>& at, const Triangle& f) {
    NodeBox own;
    for (std::uint32_t v : f)
        own.extend(at[v]);
    std::vector<std::uint32_t> stack;
    if (!tree.nodes.empty())
        stack.push_back(0);
    while (!stack.empty()) {
        const std::uint32_t n = stack.back();
        stack.pop_back();
        if (!boxes[n].meets(own))
            continue;
        const TriangleTree::Node& node = tree.nodes[n];
        if (node.count == 0) {
            stack.push_back(node.first);
            stack.push_back(node.first + 1);
            continue;
        }
        for (std::uint32_t i = node.first; i < node.first + node.count; ++i)
            if (trianglesCross(triangles[tree.triangle[i]], f, at))
                return true;
    }
    return false;
}

class Finder {
public:
    explicit Finder(const Subject& s) : s_(s), neutral_(s.neutral) {}

    std::vector<FaceOpening> find() {
        const Character& c = *s_.character;
        for (std::size_t j = 0; j < c.skeleton.name.size(); ++j) {
            lids_ |= s_.roles[j].role == Role::Lid && s_.roles[j].movesSkin;
            eyes_ |= s_.roles[j].role == Role::Eye && s_.roles[j].movesSkin;
        }
        for (const Part& p : c.parts)
            named_ |= isEye(p.name) || isTeeth(p.name);
        if (!lids_ && !eyes_ && !named_)
            return {};
        gatherShells();
        addEyes();
        addTeeth();
        return std::move(out_);
    }

private:
    const Subject& s_;
    const std::vector<Vec3>& neutral_;
    std::vector<Shell> shells_;
    std::vector<FaceOpening> out_;
    bool lids_ = false, eyes_ = false, named_ = false;

    static bool isEye(const std::string& name) {
        return called(name, {"eye", "eyes", "eyeball", "eyeballs"}) &&
               !called(name, {"lid", "lids", "brow", "brows", "lash", "lashes", "eyelash", "eyelashes"});
    }
    static bool isTeeth(const std::string& name) { return called(name, {"teeth", "tooth"}); }
    Vec3d place(int j) const {
        return s_.character->skeleton.neutralWorld[static_cast<std::size_t>(j)].translation();
    }
    Role roleOf(int j) const { return s_.roles[static_cast<std::size_t>(j)].role; }

    void gatherShells() {
        const Surface& f = s_.surface;
        shells_.resize(f.shellCount);
        std::vector<char> one(f.shellCount, 1);
        for (std::uint32_t v = 0; v < f.vertexCount(); ++v) {
            const std::uint32_t k = f.shellOf[v];
            const int carrier = whollyCarriedBy(f.weights, v);
            if (shells_[k].vertices.empty()) {
                shells_[k].carrier = carrier;
                shells_[k].part = s_.character->partOfVertex(f.representative(v));
            }
            one[k] = one[k] && carrier >= 0 && carrier == shells_[k].carrier;
            shells_[k].vertices.push_back(v);
        }
        for (std::uint32_t k = 0; k < f.shellCount; ++k)
            if (!one[k])
                shells_[k].carrier = -1;
    }

    void addEyes() {
        struct Ball {
            std::vector<std::uint32_t> shells;
            Vec3d middle;
            double radius;
            int carrier;
        };
        std::vector<Ball> balls;
        for (std::uint32_t k = 0; k < shells_.size(); ++k) {
            const Shell& shell = shells_[k];
            if (shell.carrier < 0 || shell.vertices.size() < 12)
                continue;
            const bool known = roleOf(shell.carrier) == Role::Eye ||
                               isEye(s_.character->parts[static_cast<std::size_t>(shell.part)].name);
            if (!known && !lids_)
                continue;
            const auto [middle, radius] = ballThrough(neutral_, shell.vertices);
            if (!(radius > 0) || radius > 0.6 * s_.extent ||
                offBall(neutral_, shell.vertices, middle, radius) > kOffSphere)
                continue;
            if (!known && std::none_of(s_.roles.begin(), s_.roles.end(),
                                       [&, at = middle, r = radius](const JointRole& o) {
                                           const auto j = static_cast<int>(&o - s_.roles.data());
                                           return o.role == Role::Lid && o.movesSkin &&
                                                  (place(j) - at).norm() < 1.3 * r;
                                       }))
                continue;
            // White, iris and cornea lie in each other.
            const auto same = std::find_if(balls.begin(), balls.end(), [&, at = middle](const Ball& b) {
                return b.carrier == shell.carrier && (b.middle - at).norm() < 0.5 * b.radius;
            });
            if (same == balls.end()) {
                balls.push_back({{k}, middle, radius, shell.carrier});
                continue;
            }
            same->shells.push_back(k);
            if (radius > same->radius) {
                same->middle = middle;
                same->radius = radius;
            }
        }
        for (const Ball& b : balls)
            add(Closes::Eyes, b.shells, b.middle, b.radius, b.carrier);
    }

    void addTeeth() {
        std::map<std::pair<int, int>, std::vector<std::uint32_t>> rows; // by part and joint
        for (std::uint32_t k = 0; k < shells_.size(); ++k) {
            const Shell& shell = shells_[k];
            if (shell.carrier < 0 || shell.vertices.size() < 4)
                continue;
            if (isTeeth(s_.character->parts[static_cast<std::size_t>(shell.part)].name) ||
                isTeeth(s_.character->skeleton.name[static_cast<std::size_t>(shell.carrier)]))
                rows[{shell.part, shell.carrier}].push_back(k);
        }
        for (const auto& [row, shells] : rows) {
            Vec3d middle = Vec3d::Zero();
            double count = 0, radius = 0;
            for (std::uint32_t k : shells)
                for (std::uint32_t v : shells_[k].vertices) {
                    middle += neutral_[v].cast<double>();
                    ++count;
                }
            middle /= count;
            for (std::uint32_t k : shells)
                for (std::uint32_t v : shells_[k].vertices)
                    radius += (neutral_[v].cast<double>() - middle).norm() / count;
            if (radius > 0)
                add(Closes::Mouth, shells, middle, radius, row.second);
        }
    }

    // What closes it: a lid about it, the upper before the lower; a lip before the teeth.
    int toldAt(const FaceOpening& o) const {
        const Role wanted = o.closedBy == Closes::Eyes ? Role::Lid : Role::Lip;
        const Vec3d at = o.middle.cast<double>();
        const bool low = o.closedBy == Closes::Mouth && roleOf(o.carrier) == Role::Jaw;
        int best = o.carrier;
        double least = 3 * o.radius;
        for (int j = 0; j < s_.character->skeleton.size(); ++j) {
            const JointRole& r = s_.roles[static_cast<std::size_t>(j)];
            if (r.role != wanted || !r.movesSkin ||
                (o.side != Side::Middle && r.side != Side::Middle && r.side != o.side))
                continue;
            const bool other = lower(s_.character->skeleton.name[static_cast<std::size_t>(j)]) != low;
            const double away = (place(j) - at).norm() + (other ? 1e-3 + 0.5 * o.radius : 0);
            if (away < least) {
                least = away;
                best = j;
            }
        }
        return best;
    }

    void add(Closes what, const std::vector<std::uint32_t>& shells, const Vec3d& middle, double radius,
             int carrier) {
        const Surface& f = s_.surface;
        FaceOpening o;
        o.closedBy = what;
        o.carrier = carrier;
        o.middle = middle.cast<float>();
        o.radius = radius;
        const double left = s_.mirror.found ? s_.mirror.distance(middle) : 0;
        o.side = std::abs(left) < 0.3 * radius ? Side::Middle : left > 0 ? Side::Left : Side::Right;
        std::vector<char> within(f.shellCount, 0);
        for (std::uint32_t k : shells) {
            within[k] = 1;
            o.vertices.insert(o.vertices.end(), shells_[k].vertices.begin(), shells_[k].vertices.end());
        }
        std::sort(o.vertices.begin(), o.vertices.end());
        // Skin about it: of the shell with most of it, and of what lids hold. Lashes, glasses and caps are
        // none.
        const float reach = (what == Closes::Eyes ? kFar : 2 * kFar) * static_cast<float>(radius);
        // by whether it gives: what goes rigidly with one joint may be worn
        std::map<std::pair<bool, std::uint32_t>, double> nearArea;
        std::vector<std::uint32_t> near;
        for (std::uint32_t t = 0; t < f.triangles.size(); ++t) {
            const std::uint32_t shell = f.shellOf[f.triangles[t][0]];
            if (within[shell]) {
                o.inner.push_back(t);
                continue;
            }
            const auto& [a, b, c] = f.triangles[t];
            if (std::min({(neutral_[a] - o.middle).norm(), (neutral_[b] - o.middle).norm(),
                          (neutral_[c] - o.middle).norm()}) > 1.5f * reach)
                continue;
            near.push_back(t);
            nearArea[{shells_[shell].carrier < 0, shell}] += static_cast<double>(f.area[t]);
        }
        if (nearArea.empty() || o.inner.empty())
            return;
        const std::uint32_t face =
            std::max_element(nearArea.begin(), nearArea.end(), [](const auto& x, const auto& y) {
                return std::pair(x.first.first, x.second) < std::pair(y.first.first, y.second);
            })->first.second;
        std::map<std::uint32_t, bool> lids;
        const auto isLid = [&](std::uint32_t shell) {
            const auto [it, fresh] = lids.try_emplace(shell, false);
            if (fresh && shells_[shell].vertices.size() >= 40)
                for (std::uint32_t v : shells_[shell].vertices)
                    for (std::uint32_t i = f.weights.first[v]; i < f.weights.first[v + 1]; ++i)
                        it->second |= roleOf(f.weights.joint[i]) == Role::Lid && f.weights.weight[i] > 0.5f;
            return it->second &&
                   !called(s_.character->parts[static_cast<std::size_t>(shells_[shell].part)].name,
                           {"lash", "lashes", "eyelash", "eyelashes"});
        };
        std::vector<std::uint32_t> skin;
        for (std::uint32_t t : near)
            if (const std::uint32_t shell = f.shellOf[f.triangles[t][0]]; shell == face || isLid(shell)) {
                skin.push_back(t);
                o.around.insert(o.around.end(), f.triangles[t].begin(), f.triangles[t].end());
            }
        std::sort(o.around.begin(), o.around.end());
        o.around.erase(std::unique(o.around.begin(), o.around.end()), o.around.end());
        o.skin = buildTree(f.triangles, skin, neutral_);
        o.joint = toldAt(o);
        look(o, face);
        if (!o.directions.empty())
            out_.push_back(std::move(o));
    }

    // The directions that lead out of the body, and what is met along them in neutral.
    void look(FaceOpening& o, std::uint32_t face) const {
        const Surface& f = s_.surface;
        Boxes skinBoxes, innerBoxes;
        refit(o.skin, f.triangles, neutral_, skinBoxes);
        const TriangleTree inner = buildTree(f.triangles, o.inner, neutral_);
        refit(inner, f.triangles, neutral_, innerBoxes);
        for (std::uint32_t t : o.inner)
            if (crosses(o.skin, skinBoxes, f.triangles, neutral_, f.triangles[t]))
                o.crossing.push_back(t);
        std::vector<char> ofFace(f.triangles.size(), 0);
        for (std::uint32_t t = 0; t < f.triangles.size(); ++t)
            ofFace[t] = f.shellOf[f.triangles[t][0]] == face;
        struct Ray {
            Vec3 direction;
            float out;
            std::uint32_t at;
            LastSkin skin;
        };
        std::vector<Ray> rays;
        Vec3 gaze = Vec3::Zero(), all = Vec3::Zero();
        const auto r = static_cast<float>(o.radius);
        for (int i = 0; i < kRays; ++i) {
            const Vec3 d = spread(i);
            const float out =
                lastAlong(inner, innerBoxes, f.triangles, neutral_, o.middle, d, 0.f, 3 * r).distance;
            if (!std::isfinite(out))
                continue;
            const LastSkin skin =
                lastAlong(o.skin, skinBoxes, f.triangles, neutral_, o.middle, d, kNear * out, kFar * out);
            const bool bare = !skin.covers(out);
            if (bare) { // does it lead into the head?
                const RayHit far = castRay(*s_.tree, *s_.neutralBoxes, f.triangles, neutral_, o.middle, d,
                                           kFar * out, INFINITY, ~0u, &ofFace);
                if (far.triangle != ~0u && far.fromBehind)
                    continue;
                gaze += d;
            }
            all += d;
            const Vec3 place = o.middle + out * d;
            const auto nearest =
                std::min_element(o.vertices.begin(), o.vertices.end(), [&](std::uint32_t a, std::uint32_t b) {
                    return (neutral_[a] - place).squaredNorm() < (neutral_[b] - place).squaredNorm();
                });
            rays.push_back({d, out, *nearest, skin});
        }
        if (gaze.norm() < 1e-6f)
            gaze = all;
        if (gaze.norm() < 1e-6f)
            return;
        gaze.normalize();
        for (const Ray& x : rays) {
            if (x.direction.dot(gaze) < static_cast<float>(kTurnsAway))
                continue;
            if (!x.skin.covers(x.out))
                o.bareNeutral.push_back(static_cast<std::uint32_t>(o.directions.size()));
            o.directions.push_back(x.direction);
            o.out.push_back(x.out);
            o.outAt.push_back(x.at);
            o.through.push_back(x.skin.within(x.out) ? x.out - x.skin.distance : 0.f);
        }
    }
};

} // namespace

int whollyCarriedBy(const SkinWeights& w, std::uint32_t v) {
    constexpr float wholly = 0.9f;
    for (std::uint32_t i = w.first[v]; i < w.first[v + 1]; ++i)
        if (w.weight[i] >= wholly)
            return w.joint[i];
    return -1;
}

std::vector<FaceOpening> faceOpenings(const Subject& s) { return Finder(s).find(); }

OpeningMeasure measureOpening(const Subject& s, const FaceOpening& o, const std::vector<Vec3>& posed,
                              OpeningScratch& scratch) {
    refit(o.skin, s.surface.triangles, posed, scratch.boxes);
    std::vector<std::pair<Vec3d, Vec3d>> pairs;
    const std::size_t step = std::max<std::size_t>(1, o.vertices.size() / 48);
    for (std::size_t i = 0; i < o.vertices.size(); i += step)
        pairs.emplace_back(s.neutral[o.vertices[i]].cast<double>(), posed[o.vertices[i]].cast<double>());
    const Transform carried = bestSimilarity(pairs);
    OpeningMeasure out;
    if (!carried.matrix().allFinite())
        return out;
    const auto scale = static_cast<float>(std::cbrt(std::abs(carried.linear().determinant())));
    if (!(scale > 0))
        return out;
    const Eigen::Matrix3f turn = (carried.linear() / static_cast<double>(scale)).cast<float>();
    const Vec3 middle = (carried * o.middle.cast<double>()).cast<float>();
    std::size_t bare = 0;
    std::vector<float> depths;
    std::map<std::uint32_t, float> outside;
    for (std::size_t i = 0; i < o.directions.size(); ++i) {
        const float ball = scale * o.out[i];
        const LastSkin skin = lastAlong(o.skin, scratch.boxes, s.surface.triangles, posed, middle,
                                        turn * o.directions[i], kNear * ball, kFar * ball);
        if (!skin.covers(ball)) {
            ++bare;
            out.left.push_back(o.outAt[i]);
        }
        if (skin.within(ball))
            if (const float deep = ball - skin.distance - scale * o.through[i]; deep > 0) {
                const float share = deep / static_cast<float>(scale * o.radius);
                depths.push_back(share);
                float& at = outside[o.outAt[i]];
                at = std::max(at, share);
            }
    }
    // What only stands before skin has not come through it: a tooth before the lip of an open mouth.
    const bool crossed = std::any_of(outside.begin(), outside.end(), [&](const auto& x) {
        for (auto n = s.surface.neighbours.begin(x.first); n != s.surface.neighbours.end(x.first); ++n)
            for (auto t = s.surface.trianglesAt.begin(*n); t != s.surface.trianglesAt.end(*n); ++t)
                if (!std::binary_search(o.crossing.begin(), o.crossing.end(), *t) &&
                    crosses(o.skin, scratch.boxes, s.surface.triangles, posed, s.surface.triangles[*t]))
                    return true;
        return false;
    });
    if (!crossed) {
        outside.clear();
        depths.clear();
    }
    if (o.bareNeutral.size() >= kFewest)
        out.bare = static_cast<double>(bare) / static_cast<double>(o.bareNeutral.size());
    std::sort(depths.rbegin(), depths.rend());
    const std::size_t few = std::max<std::size_t>(2, o.directions.size() / 300);
    out.through = depths.size() > few ? static_cast<double>(depths[few]) : 0;
    std::sort(out.left.begin(), out.left.end());
    out.left.erase(std::unique(out.left.begin(), out.left.end()), out.left.end());
    out.outside.assign(outside.begin(), outside.end());
    return out;
}

bool closes(const Closing& closing, const FaceOpening& o) {
    return closing.what == o.closedBy &&
           (closing.side == Side::Middle || o.side == Side::Middle || closing.side == o.side);
}

bool moves(const MotionRegion& region, const FaceOpening& o) {
    const auto moved = [&](std::uint32_t v) { return region.numberOf[v] != MotionRegion::kNone; };
    if (std::any_of(o.around.begin(), o.around.end(), moved) || moved(o.vertices.front()))
        return true;
    constexpr float apart = 0.01f;
    return std::any_of(region.follow.begin(), region.follow.end(), [&](const std::vector<float>& follow) {
        return std::any_of(o.around.begin(), o.around.end(), [&](std::uint32_t v) {
            return std::abs(follow[v] - follow[o.vertices.front()]) > apart;
        });
    });
}

} // namespace hobble
