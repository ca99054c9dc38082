#pragma once
#include <string>
#include <vector>

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
/// Lines gone and new, with `around` lines of what is the same on either side; "…" stands for the rest.
[[nodiscard]] std::vector<LineChange> shortened(const std::vector<LineChange>& changes, std::size_t around = 2);

}  // namespace hinge::firmware
