#pragma once
// How well roles are guessed over the zoo.
#include "zoo/zoo.h"

#include <map>

namespace hobble::zoo {

struct Score {
    int asked = 0, roles = 0, sides = 0; // joints that move skin; those whose role, and side, is right
    int limbs = 0, limbsRight = 0;       // shoulder to wrist, hip to ankle
    int sure = 0, sureRight = 0;         // of those said to be known with 0.9 or more
    double role() const { return asked ? static_cast<double>(roles) / asked : 1; }
    double side() const { return asked ? static_cast<double>(sides) / asked : 1; }
    double limb() const { return limbs ? static_cast<double>(limbsRight) / limbs : 1; }
    double whenSure() const { return sure ? static_cast<double>(sureRight) / sure : 1; }
    void add(const Score& other);
};

/// With `tell`, every mistake is printed.
Score scoreOf(const Body& body, const Convention& convention, bool tell = false);

struct ZooScore {
    Score tuned, untuned; // conventions of even and of odd number
    std::map<std::string, Score> byBody, byConvention, byChange;
};
/// All bodies but one, as they are drawn, under all conventions.
ZooScore scoreAll(const std::string& without = {}, bool tell = false);
/// All bodies under each of the changes, and every `step`th convention from `first` on.
ZooScore scoreChanges(bool tell = false, std::size_t first = 0, std::size_t step = 1);

} // namespace hobble::zoo
