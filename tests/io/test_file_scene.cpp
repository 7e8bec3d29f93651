// From what a file holds to a character: joints that only the tree implies, clips of skeletons that hang
// below a node that is no joint, scenes that are none.
#include "core/pose/clip_pose.h"
#include "io/file_scene.h"
#include "support/suite.h"

#include <QTest>

using namespace hobble;

class TestFileScene : public QObject {
    Q_OBJECT

    // A placing node, lying on its back and shifted; below it hip → knee → ankle, of which the knee holds
    // nothing.
    static FileScene scene() {
        FileScene s;
        const auto node = [&](const char* name, int parent, const Vec3d& at) {
            SceneNode n;
            n.name = name;
            n.parent = parent;
            n.local.translation() = at;
            s.nodes.push_back(n);
        };
        node("armature", -1, {0.3, 0, 0.1});
        s.nodes[0].local.rotate(Eigen::AngleAxisd(radians(-90), Vec3d::UnitX()));
        node("hip", 0, {0, 0, 1});
        node("knee", 1, {0, 0, -0.5});
        node("ankle", 2, {0, 0, -0.5});
        node("skin", -1, {0, 0, 0});
        const auto world = worldTransforms(s);
        s.skins.push_back({{1, 3}, {world[1].inverse(), world[3].inverse()}, true, 4});
        ScenePart part;
        part.name = "skin";
        part.node = 4;
        part.skin = 0;
        SceneBlock block;
        for (int j : {1, 3, 3})
            block.position.push_back(world[static_cast<std::size_t>(j)].translation().cast<float>() +
                                     Vec3(0.1f * static_cast<float>(block.position.size()), 0, 0));
        block.colour.assign(3, Vec3::Ones());
        block.weighted = true;
        block.influence = {{0, 1.f}, {1, 1.f}, {1, 0.25f}, {0, 0.75f}};
        block.firstInfluence = {0, 1, 2, 4};
        part.blocks.push_back(block);
        part.triangles.push_back({0, {{0, 1, 2}}});
        s.parts.push_back(part);
        return s;
    }

private slots:
    void jointsBetweenOthersAreKept() {
        const Character c = characterOf(scene());
        QCOMPARE(c.skeleton.name, (std::vector<std::string>{"hip", "knee", "ankle"}));
        QCOMPARE(c.skeleton.parent, (std::vector<int>{-1, 0, 1}));
        QCOMPARE(c.weights.first, (std::vector<std::uint32_t>{0, 1, 2, 4}));
        QCOMPARE(c.skeleton.name[c.weights.joint[2]], std::string("hip")); // the heaviest first
        QVERIFY(c.notes.empty());
    }

    void leavesThatTheFileImplies() {
        FileScene s = scene();
        SceneNode toe;
        toe.name = "toe";
        toe.parent = 3;
        s.nodes.push_back(toe);
        s.isJoint.assign(s.nodes.size(), 0);
        s.isJoint.back() = 1;
        QCOMPARE(characterOf(s).skeleton.size(), 4);
    }

    // A clip that holds the root as the file's node stands changes nothing; one that turns it about the
    // node's own axis turns it about that axis as the armature has laid it.
    void clipsOfARootBelowANode() {
        FileScene s = scene();
        SceneClip clip;
        clip.name = "hold";
        ClipChannel turn, at;
        turn.path = ClipChannel::Path::Rotation;
        turn.time = {0, 1};
        const Quat quarter(Eigen::AngleAxisd(radians(90), Vec3d::UnitZ()));
        turn.value = {0, 0, 0, 1};
        for (int k = 0; k < 4; ++k)
            turn.value.push_back(static_cast<float>(quarter.coeffs()[k]));
        at.path = ClipChannel::Path::Translation;
        at.time = {0};
        at.value = {0, 0, 1};
        clip.channels = {{1, turn}, {1, at}};
        s.clips.push_back(clip);
        const Character c = characterOf(s);
        const auto neutral = worldTransforms(c.skeleton, Pose::neutral(c.skeleton));
        const auto held = worldTransforms(c.skeleton, poseAt(c, c.clips[0], 0));
        for (int j = 0; j < 3; ++j)
            QVERIFY(held[j].isApprox(neutral[j], 1e-6));
        const auto turned = worldTransforms(c.skeleton, poseAt(c, c.clips[0], 1));
        const Quat expected = rotationOf(neutral[0]) * quarter;
        QVERIFY(rotationOf(turned[0]).angularDistance(expected) < 1e-6);
        QVERIFY((turned[0].translation() - neutral[0].translation()).norm() < 1e-6);
    }

    void whatIsNoCharacter() {
        const auto refused = [](FileScene s) {
            try {
                characterOf(std::move(s));
            } catch (const Refused& r) {
                return r.cause;
            }
            return std::string();
        };
        FileScene circle = scene();
        circle.nodes[0].parent = 3;
        QVERIFY(refused(circle).find("its own ancestor") != std::string::npos);
        FileScene empty = scene();
        empty.parts.clear();
        QVERIFY(refused(empty).find("no mesh") != std::string::npos);
        FileScene flat = scene();
        flat.skins[0].inverseBind[0].linear().setZero();
        QVERIFY(refused(flat).find("cannot be inverted") != std::string::npos);
        FileScene lost = scene();
        lost.skins[0].joints[1] = 99;
        QVERIFY(refused(lost).find("does not exist") != std::string::npos);
    }

    void canBeStopped() {
        std::atomic<bool> cancel{true};
        QVERIFY_EXCEPTION_THROWN(characterOf(scene(), {&cancel, {}}), Stopped);
    }
};

HOBBLE_TEST(TestFileScene)
#include "test_file_scene.moc"
