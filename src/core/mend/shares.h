#pragma once
// The weights of a skin while they are changed. Every step of a trial reads them as they were and writes what
// it wants; what is locked, and that a vertex's shares are 1 together, is seen to here and nowhere else.
#include "core/measure/subject.h"

#include <vector>

namespace hobble {

struct Share {
    std::uint16_t joint = 0;
    double by = 0;
    bool operator==(const Share&) const = default;
};
/// Of one vertex: by joint, rising; each above 0, together 1. Empty where nothing moves it.
using ShareRow = std::vector<Share>;

double shareOf(const ShareRow& row, int joint);
/// The row that is `b` by so much (0 … 1), and `a` by the rest.
ShareRow mixed(const ShareRow& a, const ShareRow& b, double by);
/// One joint's share set to `by`; the others take the rest as they stand to each other. The same row where
/// there is no other that could take it.
ShareRow withShare(const ShareRow& row, int joint, double by);
/// Rows weighed and put together to 1; empty where none has anything.
ShareRow meanOf(const std::vector<std::pair<const ShareRow*, double>>& rows);
/// In order, without what is nothing, together 1; empty where nothing is above 0.
ShareRow tidied(ShareRow row);

class Shares {
public:
    /// `locked`: per joint, whether its share stays what it is everywhere; may be empty.
    explicit Shares(const Subject& subject, std::vector<char> locked = {});

    std::size_t size() const { return own_.size(); } // welded vertices
    ShareRow at(std::uint32_t vertex) const;
    /// What locked joints have stays; the wanted shares of the others take what is left, as they stand to
    /// each other. Where nothing else is wanted, or nothing is locked but all, the row stays.
    void want(std::uint32_t vertex, const ShareRow& row);
    bool locked(int joint) const {
        return static_cast<std::size_t>(joint) < locked_.size() && locked_[static_cast<std::size_t>(joint)];
    }
    /// Welded, ascending: those that were changed, though it may be back to what they were.
    std::vector<std::uint32_t> changed() const;
    /// The character's weights with these: of vertices that were not changed to the bit what they were.
    /// Influences heaviest first, at most `most` of them (0: all), in float.
    SkinWeights ofFile(std::size_t most = 0) const;

private:
    const Subject* subject_;
    std::vector<char> locked_;
    std::vector<std::int32_t> own_; // per welded vertex: its place in rows_; −1: as the subject has it
    std::vector<ShareRow> rows_;
};

} // namespace hobble
