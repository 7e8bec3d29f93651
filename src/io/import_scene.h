#pragma once
// Any format the importer library reads with a skeleton → FileScene. Throws Refused and Stopped
// (io/file_scene.h).
#include "io/file_scene.h"

#include <optional>

namespace hobble {

struct ImportedScene {
    FileScene scene;                       // in the file's own unit and axes
    std::optional<double> metresPerUnit;   // as the file says
    std::optional<Eigen::Matrix3d> turned; // the file's axes → Y up, Z forward, as the file says
};

ImportedScene importScene(const std::string& path, const Progress& progress);

/// Scales every length, and turns the whole.
void settle(FileScene& scene, double metresPerUnit, const Eigen::Matrix3d& turned);

} // namespace hobble
