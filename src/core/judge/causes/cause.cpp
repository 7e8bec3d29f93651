#include "core/judge/causes/cause.h"

namespace hobble {

namespace {

constexpr std::array<CauseFacts, kCauseKinds> kCauses{{
    {CauseKind::PosePastPlan, "pose out of the planned range", MendedBy::Animator},
    {CauseKind::LimbDoesNotFollow, "limb that does not follow", MendedBy::Rigger},
    {CauseKind::PartNotBound, "part not bound", MendedBy::Rigger},
    {CauseKind::PartBoundSoftly, "part bound softly", MendedBy::Rigger},
    {CauseKind::PivotOrAxis, "pivot or axis wrong", MendedBy::Rigger},
    {CauseKind::DriverOrCorrective, "driver or corrective wrong", MendedBy::Rigger},
    {CauseKind::StrayInfluence, "stray influence", MendedBy::Rigger},
    {CauseKind::PatchLeftBehind, "patch left behind", MendedBy::Rigger},
    {CauseKind::NeighbourFinger, "neighbour finger bleeds in", MendedBy::Rigger},
    {CauseKind::HeldByParent, "held by the parent", MendedBy::Rigger},
    {CauseKind::TwistNotShared, "twist not shared out", MendedBy::Rigger},
    {CauseKind::TooFewLoops, "too few edge loops", MendedBy::Modeller},
    {CauseKind::LoopsAskew, "edge loops askew of the bend", MendedBy::Modeller},
    {CauseKind::NoBlend, "bound without a blend", MendedBy::Rigger},
    {CauseKind::BlendTooHard, "blend too hard", MendedBy::Rigger},
    {CauseKind::BlendTooWide, "blend too wide", MendedBy::Rigger},
    {CauseKind::GarmentDiffers, "weights differ between garment and body", MendedBy::Rigger},
    {CauseKind::MethodCollapse, "bend collapse of the method", MendedBy::Rigger},
    {CauseKind::LidHeldBack, "lid held back", MendedBy::Rigger},
    {CauseKind::ShapeWrong, "shape wrong", MendedBy::Rigger},
}};

} // namespace

const CauseFacts& factsOf(CauseKind kind) { return kCauses[static_cast<std::size_t>(kind)]; }

std::optional<CauseKind> causeCalled(const std::string& word) {
    for (const CauseFacts& c : kCauses)
        if (word == c.word)
            return c.kind;
    return std::nullopt;
}

} // namespace hobble
