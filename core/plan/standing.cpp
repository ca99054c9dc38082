#include "plan/standing.hpp"
#include "board/family.hpp"

namespace hinge::plan {

std::vector<std::string> standingNames(const power::Rail& rail) {
    std::vector<std::string> names;
    std::string_view left = rail.also;
    while (!left.empty()) {
        const auto comma = std::min(left.find(','), left.size());
        auto name = left.substr(0, comma);
        while (!name.empty() && name.front() == ' ') name.remove_prefix(1);
        while (!name.empty() && name.back() == ' ') name.remove_suffix(1);
        if (!name.empty()) names.emplace_back(name);
        left.remove_prefix(std::min(comma + 1, left.size()));
    }
    return names;
}

bool standsUnknown(const power::Rail& rail) {
    return !rail.also_draws && !standingNames(rail).empty();
}

double standingCurrent(const project::Project& project, const power::Rail& rail) {
    return (rail.id == project.board.rail ? board::family(project.board.form).own_current : 0.0) +
           (rail.also_draws ? si(*rail.also_draws) : 0.0);
}

}  // namespace hinge::plan
