// Evened out with the neighbours, pass by pass, each near one counting by the inverse of its distance
// (Laplacian of the weights, Taubin 1995's umbrella with lengths). All of a pass read what stood before it,
// so that the order of vertices means nothing. What lies outside the place stays and holds the border.
#include "core/mend/step.h"
#include "core/words/say.h"

namespace hobble {

Result<Done> soften(const Step& step, const StepContext& c, Shares& shares) {
    if (step.count < 1 || step.count > 1000)
        return Error{say("it is softened once to a thousand times")};
    const Surface& surface = c.subject.surface;
    std::vector<ShareRow> around;
    for (int pass = 0; pass < step.count; ++pass) {
        std::vector<ShareRow> wanted(c.where.size());
        for (std::size_t i = 0; i < c.where.size(); ++i) {
            const std::uint32_t v = c.where[i].vertex;
            const auto near = surface.neighbours.count(v);
            around.clear();
            for (const std::uint32_t* n = surface.neighbours.begin(v); n != surface.neighbours.end(v); ++n)
                around.push_back(shares.at(*n));
            std::vector<std::pair<const ShareRow*, double>> weighed;
            for (std::size_t k = 0; k < near; ++k) {
                const float length =
                    (c.subject.neutral[surface.neighbours.begin(v)[k]] - c.subject.neutral[v]).norm();
                weighed.push_back({&around[k], 1 / std::max<double>(length, 1e-9)});
            }
            const ShareRow row = shares.at(v), mean = meanOf(weighed);
            if (mean.empty())
                continue;
            wanted[i] = c.joint < 0
                            ? mixed(row, mean, c.where[i].by)
                            : withShare(row, c.joint,
                                        shareOf(row, c.joint) +
                                            c.where[i].by * (shareOf(mean, c.joint) - shareOf(row, c.joint)));
        }
        for (std::size_t i = 0; i < c.where.size(); ++i)
            shares.want(c.where[i].vertex, wanted[i]);
    }
    return Done{};
}

} // namespace hobble
