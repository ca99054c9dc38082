#pragma once
#include <string>
#include <vector>
#include "firmware/sketch.hpp"

namespace hinge::firmware {

enum class LineFate { Same, Gone, New };
struct LineChange {
    LineFate fate = LineFate::Same;
    std::string text;
    friend bool operator==(const LineChange&, const LineChange&) = default;
};
/// Two texts line by line: as few lines gone and new as can be, what is gone standing before what is new.
/// Both without the line that names the plan, which changes with everything.
/// @source hunt-mcilroy-1976
[[nodiscard]] std::vector<LineChange> difference(const std::string& before, const std::string& after);

/// What has changed in one file of an emitted folder, shortened; one that has gone or come is all gone or all new.
struct FileChange {
    std::string name;
    std::vector<LineChange> lines;
    [[nodiscard]] int count(LineFate fate) const;
};
/// The files that differ between two sketches: the sketch itself first, then those beside it in their order.
[[nodiscard]] std::vector<FileChange> differences(const Sketch& before, const Sketch& after);
/// Lines gone and new, with `around` lines of what is the same on either side; "…" stands for the rest.
[[nodiscard]] std::vector<LineChange> shortened(const std::vector<LineChange>& changes, std::size_t around = 2);

}  // namespace hinge::firmware
