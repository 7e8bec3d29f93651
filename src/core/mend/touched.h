#pragma once
// Which motions a change of weights can be seen in, so that only those are measured again. Our own: skin goes
// with a joint's turn by the sum of its shares on the joint and all that hangs from it; where that sum is
// what it was for every joint that moves, so is the pose.
#include "core/measure/subject.h"
#include "core/run/run.h"

#include <set>

namespace hobble {

/// Per motion of the plan. `after` is `before` with other weights, or with joints moved.
std::vector<char> touchedMotions(const Subject& before, const Subject& after, const Plan& plan);

/// A store for runs on `after`: what no change touches is taken as it was measured on `before`. All is
/// measured again where rigid pieces are others, for measures name them by number, and where roles or the
/// body's height are.
class TouchedStore : public MeasuredStore {
public:
    /// `known` has what was measured on `before`, and outlives this. `into`, where there is one, gets all
    /// that holds for `after`.
    TouchedStore(std::shared_ptr<const Subject> before, const Subject& after, const Plan& plan,
                 MeasuredStore& known, MeasuredStore* into = nullptr);
    std::shared_ptr<const MeasuredMotion> find(const Character& character, Skinning method,
                                               const Motion& motion, const Floors& floors) override;
    void keep(const Character& character, Skinning method, const Motion& motion, const Floors& floors,
              std::shared_ptr<const MeasuredMotion> measured) override;
    std::size_t touched() const { return touched_.size(); } // motions

private:
    std::shared_ptr<const Subject> before_;
    MeasuredStore &known_, *into_;
    bool all_ = false;
    std::set<std::string> touched_; // ids of motions
};

} // namespace hobble
