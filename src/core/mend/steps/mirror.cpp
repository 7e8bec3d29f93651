// The skin takes what its other side has, joints for their mirrors (core/compare/pairing.h). What has no
// other side stays.
#include "core/mend/step.h"

#include "core/compare/pairing.h"
#include "core/words/say.h"

namespace hobble {

Result<Done> mirror(const Step&, const StepContext& c, Shares& shares) {
    const Subject& s = c.subject;
    if (!s.mirror.found)
        return Error{say("this character has no plane it is mirrored at")};
    const Pairing across = pairMirrored(s);
    const Shares before = shares;
    for (const Amount& a : c.where) {
        const SkinPlace& place = across.place[a.vertex];
        if (!place.there())
            continue;
        const Triangle& corners = s.surface.triangles[place.triangle];
        std::array<ShareRow, 3> rows;
        std::vector<std::pair<const ShareRow*, double>> weighed;
        for (std::size_t k = 0; k < 3; ++k) {
            for (const Share& x : before.at(corners[k]))
                if (const int own = x.joint < across.joints.other.size() ? across.joints.other[x.joint] : -1;
                    own >= 0) // what the trial added has no other side
                    rows[k].push_back({static_cast<std::uint16_t>(own), x.by});
            if (!rows[k].empty())
                rows[k] = tidied(std::move(rows[k]));
            weighed.push_back({&rows[k], place.share[k]});
        }
        if (const ShareRow row = meanOf(weighed); !row.empty())
            shares.want(a.vertex, mixed(before.at(a.vertex), row, a.by));
    }
    return Done{};
}

} // namespace hobble
