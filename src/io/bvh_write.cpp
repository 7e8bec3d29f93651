#include "io/bvh_write.h"

#include "core/plain_number.h"
#include "core/pose/clip_pose.h"
#include "core/words/say.h"
#include "io/file_write.h"

#include <algorithm>
#include <cmath>
#include <cstdio>

namespace hobble {

namespace {

class BvhText {
public:
    BvhText(const Character& c, const Clip& clip) : c_(c), clip_(clip), children_(c.skeleton.children()) {}

    std::string make(double fps) {
        // The format knows one tree a file: the first root's.
        out_ = "HIERARCHY\n";
        joint(0, 0);
        const int frames = static_cast<int>(std::floor(clip_.seconds * fps + 1e-6)) + 1;
        out_ += "MOTION\nFrames: " + std::to_string(frames) + "\nFrame Time: " + finer(1 / fps) + "\n";
        for (int f = 0; f < frames; ++f)
            frame(f / fps);
        return std::move(out_);
    }

private:
    const Character& c_;
    const Clip& clip_;
    std::vector<std::vector<int>> children_;
    std::vector<int> order_;
    std::string out_;

    static std::string number(double x) { return fixedNumber(std::abs(x) < 5e-7 ? 0.0 : x, 6); }
    static std::string finer(double x) { // what is added up over thousands of frames
        return fixedNumber(x, 10);
    }
    static std::string numbers(const Vec3d& v) {
        return number(v.x()) + " " + number(v.y()) + " " + number(v.z());
    }

    Vec3d place(int j) const { return c_.skeleton.neutralWorld[j].translation(); }

    void joint(int j, int depth) {
        const std::string pad(static_cast<std::size_t>(depth), '\t');
        std::string name = c_.skeleton.name[j];
        std::replace(name.begin(), name.end(), ' ', '_'); // names end at the first space
        const int p = c_.skeleton.parent[j];
        out_ += pad + (depth ? "JOINT " : "ROOT ") + name + "\n" + pad + "{\n";
        out_ += pad + "\tOFFSET " + numbers(p < 0 ? place(j) : Vec3d(place(j) - place(p))) + "\n";
        out_ += pad + (depth ? "\tCHANNELS 3 Zrotation Xrotation Yrotation\n"
                             : "\tCHANNELS 6 Xposition Yposition Zposition Zrotation Xrotation Yrotation\n");
        order_.push_back(j);
        for (int k : children_[j])
            joint(k, depth + 1);
        if (children_[j].empty())
            out_ += pad + "\tEnd Site\n" + pad + "\t{\n" + pad + "\t\tOFFSET 0.000000 0.010000 0.000000\n" +
                    pad + "\t}\n";
        out_ += pad + "}\n";
    }

    void frame(double seconds) {
        const auto world = worldTransforms(c_.skeleton, poseAt(c_, clip_, seconds));
        auto turned = [&](int j) { // away from neutral, in the world
            return rotationOf(world[j]) * rotationOf(c_.skeleton.neutralWorld[j]).inverse();
        };
        std::string line;
        for (int j : order_) {
            const int p = c_.skeleton.parent[j];
            if (p < 0)
                line += numbers(world[j].translation()) + " ";
            const Quat local = p < 0 ? turned(j) : turned(p).inverse() * turned(j);
            const Eigen::Matrix3d r = local.toRotationMatrix(); // Rz · Rx · Ry
            const double x = std::asin(std::clamp(r(2, 1), -1.0, 1.0));
            const double z = std::atan2(-r(0, 1), r(1, 1)), y = std::atan2(-r(2, 0), r(2, 2));
            line += numbers(Vec3d(degrees(z), degrees(x), degrees(y))) + " ";
        }
        line.back() = '\n';
        out_ += line;
    }
};

} // namespace

Result<Done> writeBvh(const Character& c, const Clip& clip, double fps, const std::string& path) {
    if (c.skeleton.size() == 0)
        return Error{say("Cannot write %s: the character has no joints.", path)};
    return writeFile(path, BvhText(c, clip).make(fps));
}

} // namespace hobble
