#include "core/character/role_tree.h"

#include <algorithm>
#include <limits>

namespace hobble {

namespace {

constexpr int kContexts = kLabels + 1; // what a joint hangs from, as far as it counts; 0 at a root
using Contexts = std::array<float, kContexts>;

int contextBelow(Label own, int context) {
    static const auto through = [] {
        std::array<bool, kLabels> t{};
        for (Label l = 0; l < kLabels; ++l)
            t[static_cast<std::size_t>(l)] = seenThrough(l);
        return t;
    }();
    return through[static_cast<std::size_t>(own)] ? context : own + 1;
}

const std::array<std::array<float, kLabels>, kContexts>& followTable() {
    static const auto table = [] {
        std::array<std::array<float, kLabels>, kContexts> t{};
        for (int c = 0; c < kContexts; ++c)
            for (int l = 0; l < kLabels; ++l)
                t[static_cast<std::size_t>(c)][static_cast<std::size_t>(l)] = follows(c - 1, l);
        return t;
    }();
    return table;
}

} // namespace

std::vector<Labelled> labelTree(const Skeleton& sk, const std::vector<LabelScores>& evidence) {
    const auto n = evidence.size();
    const auto& table = followTable();
    // Upwards: the best of all at and below a joint, by what it hangs from; and the sum of that over
    // children.
    std::vector<Contexts> best(n), below(n, Contexts{});
    const auto own = [&](std::size_t j, int context, Label l) {
        return evidence[j][static_cast<std::size_t>(l)] +
               table[static_cast<std::size_t>(context)][static_cast<std::size_t>(l)];
    };
    for (std::size_t j = n; j-- > 0;) {
        for (int c = 0; c < kContexts; ++c) {
            float most = -std::numeric_limits<float>::infinity();
            for (Label l = 0; l < kLabels; ++l)
                most = std::max(most, own(j, c, l) + below[j][static_cast<std::size_t>(contextBelow(l, c))]);
            best[j][static_cast<std::size_t>(c)] = most;
        }
        if (const int p = sk.parent[j]; p >= 0)
            for (int c = 0; c < kContexts; ++c)
                below[static_cast<std::size_t>(p)][static_cast<std::size_t>(c)] +=
                    best[j][static_cast<std::size_t>(c)];
    }
    // Downwards: the best of all else, by what the joint hangs from; with the best label of every joint.
    std::vector<Contexts> above(n);
    std::vector<Labelled> out(n);
    std::vector<int> context(n, 0);
    constexpr float never = -1e30f;
    for (std::size_t j = 0; j < n; ++j) {
        Contexts& here = above[j];
        const int p = sk.parent[j];
        if (p < 0) {
            here.fill(never);
            here[0] = 0;
        } else {
            here.fill(never);
            const auto q = static_cast<std::size_t>(p);
            for (int c = 0; c < kContexts; ++c) {
                if (above[q][static_cast<std::size_t>(c)] <= never)
                    continue;
                for (Label l = 0; l < kLabels; ++l) {
                    const auto to = static_cast<std::size_t>(contextBelow(l, c));
                    here[to] = std::max(here[to], above[q][static_cast<std::size_t>(c)] + own(q, c, l) +
                                                      below[q][to] - best[j][to]);
                }
            }
        }
        // The labelling itself follows one path; the margin compares the best of all labellings.
        const int at = p < 0 ? 0
                             : contextBelow(out[static_cast<std::size_t>(p)].label,
                                            context[static_cast<std::size_t>(p)]);
        context[j] = at;
        float most = never;
        for (Label l = 0; l < kLabels; ++l)
            if (const float s = own(j, at, l) + below[j][static_cast<std::size_t>(contextBelow(l, at))];
                s > most) {
                most = s;
                out[j].label = l;
            }
        float first = never, second = never;
        for (Label l = 0; l < kLabels; ++l) {
            float s = never;
            for (int c = 0; c < kContexts; ++c)
                if (here[static_cast<std::size_t>(c)] > never)
                    s = std::max(s, here[static_cast<std::size_t>(c)] + own(j, c, l) +
                                        below[j][static_cast<std::size_t>(contextBelow(l, c))]);
            (l == out[j].label ? first : second) = std::max(l == out[j].label ? first : second, s);
        }
        out[j].margin = std::max(0.f, first - second);
    }
    return out;
}

} // namespace hobble
