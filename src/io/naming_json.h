#pragma once
// A naming profile: what a person has said of joints, kept for the next character whose names go the same
// way. JSON, docs/schema/naming.schema.json.
#include "core/character/roles.h"
#include "core/result.h"

#include <set>

namespace hobble {

struct NamingProfile {
    std::string name;                                  // the character it was made on
    std::set<std::string> known;                       // all its joint names: the convention
    std::map<std::string, RoleCorrection> corrections; // by joint name

    bool operator==(const NamingProfile&) const = default;
};

/// Namespaces ("badger:", "rig|") are no part of a convention.
std::string withoutNamespace(const std::string& jointName);

/// 0 … 1: how well the character's names go with the profile: the share of its joints that the profile knows,
/// and nothing where no correction would find its joint.
double fit(const NamingProfile& profile, const Skeleton& skeleton);
inline constexpr double kGoodFit = 0.5;

/// The profile's corrections under the character's own joint names.
std::map<std::string, RoleCorrection> correctionsFor(const NamingProfile& profile, const Skeleton& skeleton);

std::string namingToJson(const NamingProfile& profile);
Result<NamingProfile> namingFromJson(const std::string& text);
Result<NamingProfile> readNaming(const std::string& path);

} // namespace hobble
