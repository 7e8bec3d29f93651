#pragma once
// A head drawn as rings about the way it looks, from the back of the skull to the lips, and on into the
// mouth; with lids around each eye, ears, and a border below for the neck.
#include "quad_mesh.h"

namespace hobble::demo {

enum Label {
    TorsoLabel,
    NeckLabel,
    HeadLabel,
    MouthLabel,
    LidLabel,
    EarLabel,
    TailLabel,
    ArmLabel,
    LegLabel,
    FootLabel,
    HandLabel,
    FingerLabel /* and one more for each finger */
};

struct EyePlan {
    Vec3d centre; // the left one's ball
    double radius = 0;
    Vec3d gaze = Vec3d::UnitZ();
    double yaw = 48, up = 30, down = 26; // degrees from the gaze to the lids' corners, upper and lower edge
};

/// All in the head's own frame: z out of the mouth, y up, x to the left; `place` puts it into the world.
struct HeadPlan {
    Transform place = Transform::Identity();
    std::vector<Station> rings; // from the back to just behind the lips
    Vec3d corner;               // left corner of the mouth
    Vec3d upper, lower;         // middle of the lips' edges, at the front
    double pout = 0.5;          // how square the mouth's outline is: 0.5 an ellipse, less is squarer
    Vec3d throat;               // where the mouth's bag ends
    double throatWidth = 0.02, throatHeight = 0.01;
    EyePlan eye;
    bool lids = true;
    int neckRow = 0, neckRows = 4; // which of the rings the neck joins
    std::vector<Station> ear;      // of the left one; none when empty. Held at these radii.
    Vec3d earUp = Vec3d::UnitZ();
};

struct HeadCage {
    Ring neck; // border to be bridged, 20 vertices
    Rows rows; // between the rings
};

constexpr int kHeadRing = 24;

/// Only what lies at x ≥ 0 has lids and ears: the cage is mirrored later.
HeadCage addHead(QuadMesh& mesh, const HeadPlan& plan, const std::vector<Solid>& flesh);

/// The ball of an eye with its iris towards the gaze, both sides. Colours: white, iris, pupil.
Mesh eyeballs(const HeadPlan& plan, double pupil, double iris, const std::array<Vec3, 3>& colours,
              std::vector<Vec3>& painted);

/// Frame of an eye: columns side (outwards), up, gaze; of the left one, in the world.
Eigen::Matrix3d eyeFrame(const HeadPlan& plan);

} // namespace hobble::demo
