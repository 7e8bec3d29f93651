#include "core/judge/causes/cause.h"

#include "core/words/say.h"

namespace hobble {

namespace {

constexpr std::array<CauseFacts, kCauseKinds> kCauses{{
    {CauseKind::PosePastPlan, tableWord("pose out of the planned range"), MendedBy::Animator},
    {CauseKind::LimbDoesNotFollow, tableWord("limb that does not follow"), MendedBy::Rigger},
    {CauseKind::PartNotBound, tableWord("part not bound"), MendedBy::Rigger},
    {CauseKind::PartBoundSoftly, tableWord("part bound softly"), MendedBy::Rigger},
    {CauseKind::PivotOrAxis, tableWord("pivot or axis wrong"), MendedBy::Rigger},
    {CauseKind::DriverOrCorrective, tableWord("driver or corrective wrong"), MendedBy::Rigger},
    {CauseKind::StrayInfluence, tableWord("stray influence"), MendedBy::Rigger},
    {CauseKind::PatchLeftBehind, tableWord("patch left behind"), MendedBy::Rigger},
    {CauseKind::NeighbourFinger, tableWord("neighbour finger bleeds in"), MendedBy::Rigger},
    {CauseKind::HeldByParent, tableWord("held by the parent"), MendedBy::Rigger},
    {CauseKind::TwistNotShared, tableWord("twist not shared out"), MendedBy::Rigger},
    {CauseKind::TooFewLoops, tableWord("too few edge loops"), MendedBy::Modeller},
    {CauseKind::LoopsAskew, tableWord("edge loops askew of the bend"), MendedBy::Modeller},
    {CauseKind::NoBlend, tableWord("bound without a blend"), MendedBy::Rigger},
    {CauseKind::BlendTooHard, tableWord("blend too hard"), MendedBy::Rigger},
    {CauseKind::BlendTooWide, tableWord("blend too wide"), MendedBy::Rigger},
    {CauseKind::GarmentDiffers, tableWord("weights differ between garment and body"), MendedBy::Rigger},
    {CauseKind::MethodCollapse, tableWord("bend collapse of the method"), MendedBy::Rigger},
    {CauseKind::LidHeldBack, tableWord("lid held back"), MendedBy::Rigger},
    {CauseKind::ShapeWrong, tableWord("shape wrong"), MendedBy::Rigger},
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
