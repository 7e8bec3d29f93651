// Skin that jumps: skinning alone never does, something that fades in does.
#include "core/judge/causes/case.h"

#include <cmath>

namespace hobble {

void askKick(const Case& c, Causes& found) {
    constexpr double suddenDegrees = 2, suddenChange = 0.05; // between two keys: so much within so little
    constexpr double unseen = 0.6;                           // no driver shows it
    if (c.finding.kind != Kind::Pop)
        return;
    for (const Driver& d : c.subject.character->drivers) {
        if (!c.watches(d))
            continue;
        for (std::size_t k = 1; k < d.keys.size(); ++k) {
            const double within = d.keys[k].degrees - d.keys[k - 1].degrees;
            if (within < suddenDegrees && std::abs(d.keys[k].out - d.keys[k - 1].out) > suddenChange) {
                found.push_back(
                    {CauseKind::DriverOrCorrective, 1,
                     fact::DriverKicks{d.name, d.keys[k - 1].out, d.keys[k].out, within, d.source}});
                return;
            }
        }
    }
    found.push_back({CauseKind::DriverOrCorrective, unseen, fact::SomethingFadesIn{}});
}

} // namespace hobble
