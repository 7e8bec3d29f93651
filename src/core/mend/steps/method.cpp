// Which skin goes by dual quaternions and which by linear blending, mixed where a place fades out (Kavan,
// Collins, Žára and O'Sullivan 2008, "Geometric Skinning with Approximate Dual Quaternion Blending").
#include "core/mend/step.h"
#include "core/words/say.h"

namespace hobble {

Result<Done> skinBy(const Step& step, const BuildContext& c, Character& character) {
    if (step.amount < 0 || step.amount > 1)
        return Error{say("a share is from 0 to 1")};
    if (c.where.empty())
        return Error{say("there is no skin at this place")};
    std::vector<DualShare> shares = character.extras.dualShare;
    shares.resize(character.vertexCount());
    for (const Amount& a : c.where)
        for (auto m = c.subject.surface.members.begin(a.vertex); m != c.subject.surface.members.end(a.vertex);
             ++m)
            for (float* share : {&shares[*m].ofLinear, &shares[*m].ofDual})
                *share += static_cast<float>(a.by) * (static_cast<float>(step.amount) - *share);
    character.extras.dualShare = std::move(shares);
    return Done{};
}

} // namespace hobble
