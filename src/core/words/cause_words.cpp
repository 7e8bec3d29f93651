#include "core/words/cause_words.h"

#include "core/character/character.h"
#include "core/words/say.h"

#include <algorithm>

namespace hobble {

namespace {

struct Words {
    const Character& c;

    const char* joint(int j) const { return c.skeleton.name[static_cast<std::size_t>(j)].c_str(); }
    const char* part(int p) const { return p < 0 ? "" : c.parts[static_cast<std::size_t>(p)].name.c_str(); }
    static double percent(double share) { return 100 * share; }

    std::string operator()(const fact::BeyondPlan& f) const { return f.how; }
    std::string operator()(const fact::NothingMovesIt& f) const {
        return say("No joint moves '%s'; what it sits on goes without it.", part(f.part));
    }
    std::string operator()(const fact::DoesNotFollow& f) const {
        return f.hangsFrom < 0
                   ? say("%s does not follow %s, from which its skin goes on: it hangs from nothing.",
                         joint(f.joint), joint(f.continues))
                   : say("%s does not follow %s, from which its skin goes on: it hangs from %s.",
                         joint(f.joint), joint(f.continues), joint(f.hangsFrom));
    }
    std::string operator()(const fact::HeldByTwo& f) const {
        return say("'%s' should be one joint's: %.0f %% is %s's, %.0f %% %s's.", part(f.part),
                   percent(f.mostShare), joint(f.most), percent(f.secondShare), joint(f.second));
    }
    std::string operator()(const fact::BendsOff& f) const {
        return say("The axis %s would turn about, as its fellows do, lies %.0f° off the way its flesh bends.",
                   joint(f.joint), f.degrees);
    }
    std::string operator()(const fact::LiesOffMirror& f) const {
        return say("%s lies %.2f limb radii from where its mirror %s has it.", joint(f.joint), f.radii,
                   joint(f.mirror));
    }
    std::string operator()(const fact::LiesOffMiddle& f) const {
        return say("The joint lies %.2f radii from the middle of its limb.", f.radii);
    }
    std::string operator()(const fact::DriverKicks& f) const {
        return say("'%s' goes from %.2f to %.2f within %.2f° of %s.", f.driver.c_str(), f.from, f.to,
                   f.within, joint(f.source));
    }
    std::string operator()(const fact::SomethingFadesIn&) const {
        return say("Skinning alone never jumps: something that fades in does.");
    }
    std::string operator()(const fact::DriversDiffer& f) const {
        switch (f.output) {
        case Driver::Output::Turn:
            return say("'%s' and its mirror '%s' differ by up to %.0f° for the same turn.", f.driver.c_str(),
                       f.mirror.c_str(), f.by);
        case Driver::Output::Shift:
            return say("'%s' and its mirror '%s' differ by up to %.0f mm for the same turn.",
                       f.driver.c_str(), f.mirror.c_str(), 1000 * f.by);
        case Driver::Output::Target:
            break;
        }
        return say("'%s' and its mirror '%s' differ by up to %.0f %% for the same turn.", f.driver.c_str(),
                   f.mirror.c_str(), percent(f.by));
    }
    std::string operator()(const fact::FollowsNothing& f) const {
        return f.otherSide < 0 ? say("%s holds skin here and follows nothing.", joint(f.joint))
                               : say("%s holds skin here and follows nothing, though %s follows %s.",
                                     joint(f.joint), joint(f.otherSide), joint(f.source));
    }
    std::string operator()(const fact::GoesWithoutDrivers& f) const {
        return f.shapes
                   ? say("Without the shapes of %s, %.0f %% of it goes.", joint(f.joint), percent(f.share))
                   : say("Without the joints that follow the turn of %s, %.0f %% of it goes.", joint(f.joint),
                         percent(f.share));
    }
    std::string operator()(const fact::Island& f) const {
        std::string where;
        if (f.home >= 0)
            where = say(", %s from %s",
                        counted(static_cast<std::size_t>(f.bones), tableWord("one bone"), manyOf("%n bones"))
                            .c_str(),
                        joint(f.home)) +
                    (f.acrossBody ? say(", across the body") : std::string());
        return say("%.0f %% of the weight of %s here comes from %s%s.", percent(f.share),
                   counted(f.vertices, tableWord("one vertex"), manyOf("%n vertices")).c_str(),
                   joint(f.joint), where.c_str()) +
               (f.gone ? say(" Without it %.0f %% of this goes.", percent(std::clamp(*f.gone, 0.0, 1.0)))
                       : std::string());
    }
    std::string operator()(const fact::BleedsIn& f) const {
        return say("%.0f %% of the weight of %s's skin comes from %s, the finger beside it.",
                   percent(f.share), joint(f.home), joint(f.joint));
    }
    std::string operator()(const fact::LoneVertex& f) const {
        return say(
            "A single vertex here has %.0f %% of its weight from %s; of those around it none has more than "
            "%.0f %%.",
            percent(f.share), joint(f.joint), percent(f.around));
    }
    std::string operator()(const fact::HeldAlong& f) const {
        return say("%.0f %% of the weight of %s here is held by %s, though they lie along %s.",
                   percent(f.share),
                   counted(f.vertices, tableWord("one vertex"), manyOf("%n vertices")).c_str(),
                   joint(f.joint), joint(f.home));
    }
    std::string operator()(const fact::LagsBehindMirror& f) const {
        return say("This skin follows %s by %.0f %% less than its mirror follows %s; %s holds it.",
                   joint(f.joint), percent(f.share), mirror(f.mirror).c_str(), joint(f.holder));
    }
    std::string operator()(const fact::LagsBehindLimb& f) const {
        return f.holder < 0
                   ? say("Some of this skin follows %s by %.0f %% less than the skin around the limb does.",
                         joint(f.joint), percent(f.share))
                   : say("Some of this skin follows %s by %.0f %% less than the skin around the limb does; "
                         "%s holds it.",
                         joint(f.joint), percent(f.share), joint(f.holder));
    }
    std::string operator()(const fact::RollTakenByOne& f) const {
        return f.twistJointThere
                   ? say("The whole roll of %.0f° is taken by one joint; twist joints are there, but none of "
                         "them "
                         "turns with it.",
                         f.degrees)
                   : say("The whole roll of %.0f° is taken by one joint; no twist joint shares it.",
                         f.degrees);
    }
    std::string operator()(const fact::FewEdges& f) const {
        return say(
            "The weight passes over within %.1f edges, each %.1f times as long as the limb's others; three "
            "loops are the least that bends.",
            f.rings, f.longer);
    }
    std::string operator()(const fact::EdgesAskew& f) const {
        return f.otherSide ? say("Edge loops run %.0f° askew of the bend, %.0f° on the other side.",
                                 f.degrees, *f.otherSide)
                           : say("Edge loops run %.0f° askew of the bend.", f.degrees);
    }
    std::string operator()(const fact::BoundHard& f) const {
        return say("Every vertex goes with %s or %s alone; nothing passes from one to the other.",
                   joint(f.joint), joint(f.parent));
    }
    std::string operator()(const fact::PassesInOneEdge& f) const {
        return f.otherSide
                   ? say("%.0f %% of the weight passes over along one edge, %.0f %% on the other side.",
                         percent(f.share), percent(*f.otherSide))
                   : say("%.0f %% of the weight passes over along one edge.", percent(f.share));
    }
    std::string operator()(const fact::PassesOverLength& f) const {
        return f.otherSide ? say("The weight takes %.1f limb radii to pass over, %.1f on the other side.",
                                 f.radii, *f.otherSide)
                           : say("The weight takes %.1f limb radii to pass over.", f.radii);
    }
    std::string operator()(const fact::PassesUnlikeMirror& f) const {
        return f.harder ? say("The weight of %s passes over in less space than that of %s: %.0f %% apart "
                              "where they differ.",
                              joint(f.joint), mirror(f.mirror).c_str(), percent(f.share))
                        : say("The weight of %s passes over in more space than that of %s: %.0f %% apart "
                              "where they differ.",
                              joint(f.joint), mirror(f.mirror).c_str(), percent(f.share));
    }
    std::string operator()(const fact::GarmentUnlikeSkin& f) const {
        return say("The weights of the garment and of the skin below it differ by %.0f %% here.",
                   percent(f.share));
    }
    std::string operator()(const fact::TurnsBesideEye& f) const {
        return say("%s turns about a line %.2f eye radii beside the middle of the eye.", joint(f.joint),
                   f.radii);
    }
    std::string operator()(const fact::RimHeldBack& f) const {
        return say("The rim of the lid lacks %.0f %% of %s; %s holds it.", percent(f.share), joint(f.joint),
                   joint(f.holder));
    }
    std::string operator()(const fact::ShapeGoes& f) const {
        if (f.fallsShort)
            return say("The shape leaves %.0f %% of '%s' bare at its end.", percent(f.share), part(f.part));
        return f.onTheWay
                   ? say("The shape goes straight where it should go round: on its way '%s' comes through.",
                         part(f.part))
                   : say("The shape goes too far: '%s' comes through.", part(f.part));
    }
    std::string operator()(const fact::OtherMethod& f) const {
        return f.method == Skinning::Linear
                   ? say("With linear skinning %.0f %% of it goes.", percent(f.share))
                   : say("With dual quaternion skinning %.0f %% of it goes.", percent(f.share));
    }

private:
    std::string mirror(int j) const { return j >= 0 ? std::string(joint(j)) : say("the other side"); }
};

} // namespace

std::string sentenceOf(const Character& character, const Cause& cause) {
    return std::visit(Words{character}, cause.fact);
}

} // namespace hobble
