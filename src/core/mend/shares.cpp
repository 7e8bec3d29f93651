#include "core/mend/shares.h"

#include <algorithm>
#include <numeric>

namespace hobble {

double shareOf(const ShareRow& row, int joint) {
    for (const Share& s : row)
        if (s.joint == joint)
            return s.by;
    return 0;
}

ShareRow tidied(ShareRow row) {
    std::erase_if(row, [](const Share& s) { return !(s.by > 0); });
    std::sort(row.begin(), row.end(), [](const Share& a, const Share& b) { return a.joint < b.joint; });
    double sum = 0;
    for (const Share& s : row)
        sum += s.by;
    for (Share& s : row)
        s.by /= sum;
    return row;
}

ShareRow meanOf(const std::vector<std::pair<const ShareRow*, double>>& rows) {
    ShareRow out;
    for (const auto& [row, weight] : rows)
        for (const Share& s : *row) {
            const auto at = std::lower_bound(out.begin(), out.end(), s.joint,
                                             [](const Share& a, std::uint16_t j) { return a.joint < j; });
            if (at != out.end() && at->joint == s.joint)
                at->by += weight * s.by;
            else
                out.insert(at, {s.joint, weight * s.by});
        }
    return tidied(std::move(out));
}

ShareRow mixed(const ShareRow& a, const ShareRow& b, double by) {
    if (by <= 0)
        return a;
    if (by >= 1)
        return b;
    return meanOf({{&a, 1 - by}, {&b, by}});
}

ShareRow withShare(const ShareRow& row, int joint, double by) {
    by = std::clamp(by, 0.0, 1.0);
    const double was = shareOf(row, joint), others = 1 - was;
    if (others < 1e-12)
        return row; // nobody to give it to
    ShareRow out;
    for (const Share& s : row)
        if (s.joint != joint)
            out.push_back({s.joint, s.by * (1 - by) / others});
    out.push_back({static_cast<std::uint16_t>(joint), by});
    return tidied(std::move(out));
}

Shares::Shares(const Subject& subject, std::vector<char> locked)
    : subject_(&subject), locked_(std::move(locked)), own_(subject.surface.vertexCount(), -1) {}

ShareRow Shares::at(std::uint32_t vertex) const {
    if (own_[vertex] >= 0)
        return rows_[static_cast<std::size_t>(own_[vertex])];
    const SkinWeights& w = subject_->surface.weights;
    ShareRow out;
    for (std::uint32_t i = w.first[vertex]; i < w.first[vertex + 1]; ++i)
        out.push_back({w.joint[i], w.weight[i]});
    return tidied(std::move(out));
}

void Shares::want(std::uint32_t vertex, const ShareRow& wanted) {
    const ShareRow before = at(vertex);
    if (before.empty() || wanted.empty())
        return; // a part that follows nothing has no weights to change
    ShareRow kept, free;
    double held = 0, asked = 0;
    for (const Share& s : before)
        if (locked(s.joint)) {
            kept.push_back(s);
            held += s.by;
        }
    for (const Share& s : wanted)
        if (!locked(s.joint)) {
            free.push_back(s);
            asked += s.by;
        }
    if (asked < 1e-12) { // all that is wanted is locked
        free.clear();
        for (const Share& s : before)
            if (!locked(s.joint))
                free.push_back(s);
        asked = 1 - held;
    }
    for (Share& s : free)
        s.by *= (1 - held) / std::max(asked, 1e-12);
    // what is locked stays as it is, to the last bit
    ShareRow row = std::move(free);
    row.insert(row.end(), kept.begin(), kept.end());
    std::erase_if(row, [](const Share& s) { return !(s.by > 1e-9); });
    std::sort(row.begin(), row.end(), [](const Share& a, const Share& b) { return a.joint < b.joint; });
    if (row == before)
        return;
    if (own_[vertex] < 0) {
        own_[vertex] = static_cast<std::int32_t>(rows_.size());
        rows_.emplace_back();
    }
    rows_[static_cast<std::size_t>(own_[vertex])] = std::move(row);
}

std::vector<std::uint32_t> Shares::changed() const {
    std::vector<std::uint32_t> out;
    for (std::uint32_t v = 0; v < own_.size(); ++v)
        if (own_[v] >= 0)
            out.push_back(v);
    return out;
}

SkinWeights Shares::ofFile(std::size_t most) const {
    const SkinWeights& was = subject_->character->weights;
    const std::size_t count = was.vertexCount();
    std::vector<std::uint32_t> first{0};
    std::vector<std::uint16_t> joint;
    std::vector<float> weight;
    first.reserve(count + 1);
    joint.reserve(was.joint.size());
    weight.reserve(was.weight.size());
    for (std::uint32_t v = 0; v < count; ++v) {
        const std::int32_t own = own_[subject_->surface.weldOf[v]];
        if (own < 0) {
            for (std::uint32_t i = was.first[v]; i < was.first[v + 1]; ++i) {
                joint.push_back(was.joint[i]);
                weight.push_back(was.weight[i]);
            }
        } else if (was.first[v] < was.first[v + 1]) {
            ShareRow row = rows_[static_cast<std::size_t>(own)];
            std::stable_sort(row.begin(), row.end(),
                             [](const Share& a, const Share& b) { return a.by > b.by; });
            if (most > 0 && row.size() > most)
                row.resize(most);
            double sum = 0;
            for (const Share& s : row)
                sum += s.by;
            for (const Share& s : row) {
                joint.push_back(s.joint);
                weight.push_back(static_cast<float>(s.by / sum));
            }
        }
        first.push_back(static_cast<std::uint32_t>(joint.size()));
    }
    return {std::move(first), std::move(joint), std::move(weight), was.fileSum};
}

} // namespace hobble
