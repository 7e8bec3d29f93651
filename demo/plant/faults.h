#pragma once
// How each fault is made; used by plant.cpp only.
#include "plant.h"
#include "skinning.h"

#include <random>

namespace hobble::demo {

struct Unsuited {
    std::string why;
};

/// The character being spoilt, with its weights opened up for editing.
class Patient {
public:
    Patient(Character& character, std::uint32_t seed);

    Character& c;
    std::vector<JointRole> roles;
    std::vector<Weights> weights; // per vertex; written back by close()
    std::mt19937 random;

    /// As an exporter would: of the vertices touched, the four heaviest influences, their sum unchanged.
    void keepFour(const Truth& truth);
    void close(); // weights as edited, not rounded or cut
    double chance() { return std::uniform_real_distribution<double>(0, 1)(random); }
    int pick(const std::vector<int>& from);

    const std::string& name(int joint) const { return c.skeleton.name[joint]; }
    int joint(const std::string& name) const;
    int part(const std::string& name) const;
    int partOf(std::uint32_t vertex) const { return c.partOfVertex(vertex); }
    bool skinned(int part) const; // moved by more than one joint: body or garment
    int body() const;             // the part with most skin
    std::vector<int> garments() const;
    std::vector<int> rigidParts() const;
    /// Joints that the plan moves and that carry enough skin of their own on the body.
    std::vector<int> movers(std::initializer_list<Role> only = {}) const;
    double share(std::uint32_t vertex, int joint) const { return shareOf(weights[vertex], joint); }
    double shareBelow(std::uint32_t vertex, const std::vector<char>& in) const;
    Vec3d place(int joint) const { return c.skeleton.neutralWorld[joint].translation(); }
    double radius(int joint) const; // median distance of its skin to its bone, metres
    int above(int joint) const;     // the next joint above that lies elsewhere
    Vec3d boneEnd(int joint) const;
    double bodyHeight() const;
    /// Vertices of the body within a distance over its surface of a vertex, with how far (0 … 1) each lies
    /// out.
    std::vector<std::pair<std::uint32_t, double>> patch(std::uint32_t middle, double reach) const;
    /// A vertex of the body that this joint holds nearly alone, well within its flesh.
    std::uint32_t vertexHeldBy(int joint);
    /// Moves the share of everything the joint and those below hold to `to` (0 … 1); helpers that turn half
    /// count half.
    void setFollowing(std::uint32_t vertex, int joint, double to);
    double following(std::uint32_t vertex, int joint) const;

    Truth truth(const Fault& fault, int joint) const;
    void touch(Truth& truth, std::uint32_t vertex) const;
};

/// Puts vertices into a new order: `order` names the old vertex for each new one; those left out go, those
/// named twice are doubled. A part's vertices stay together. Triangles (to the first of doubled ones), shape
/// targets and `weights` follow.
void reorder(Character& character, std::vector<Weights>& weights, const std::vector<std::uint32_t>& order);

/// Locals and bind matrices after joints were moved.
void rebind(Character& character);

Truth plantStray(Patient&, const Fault&);
Truth plantFlyingVertex(Patient&, const Fault&);
Truth plantBlend(Patient&, const Fault&);
Truth plantHeldByParent(Patient&, const Fault&);
Truth plantDriver(Patient&, const Fault&);
Truth plantLeftBehind(Patient&, const Fault&);
Truth plantNeighbourFinger(Patient&, const Fault&);
Truth plantSums(Patient&, const Fault&);
Truth plantNegligible(Patient&, const Fault&);
Truth plantManyInfluences(Patient&, const Fault&);
Truth plantEndJoint(Patient&, const Fault&);
Truth plantNoWeight(Patient&, const Fault&);
Truth plantSoftPart(Patient&, const Fault&);
Truth plantUnboundPart(Patient&, const Fault&);
Truth plantGarment(Patient&, const Fault&);
Truth plantFewLoops(Patient&, const Fault&);
Truth plantLoopsAskew(Patient&, const Fault&);
Truth plantSeam(Patient&, const Fault&);
Truth plantPivot(Patient&, const Fault&);
Truth plantBendAxis(Patient&, const Fault&);
Truth plantRootScale(Patient&, const Fault&);
Truth plantSwappedNames(Patient&, const Fault&);
Truth plantUnpaired(Patient&, const Fault&);
Truth plantStraightLimb(Patient&, const Fault&);
Truth plantLooseVertices(Patient&, const Fault&);
Truth plantHole(Patient&, const Fault&);
Truth plantFlatTriangles(Patient&, const Fault&);
Truth plantMirroredAxes(Patient&, const Fault&);
Truth plantLidHeldBack(Patient&, const Fault&);
Truth plantLidPivot(Patient&, const Fault&);
Truth plantShortBlink(Patient&, const Fault&);
Truth plantThroughTeeth(Patient&, const Fault&);

} // namespace hobble::demo
