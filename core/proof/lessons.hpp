#pragma once
// What was learnt on one gadget comes up in the next.
#include "plan/plan.hpp"

namespace hinge::proof {

struct Lesson {
    std::string gadget;                        ///< where it was learnt
    std::optional<project::ChannelKind> kind;  ///< of the channel it was about; absent: the whole gadget
    std::string text;
    project::Stage stage = project::Stage::Need;  ///< where it should come up
    friend bool operator==(const Lesson&, const Lesson&) = default;
};
/// The lessons in a project's journal, newest first, each once.
[[nodiscard]] std::vector<Lesson> lessonsOf(const project::Project& project);
/// The plan with those of other gadgets as notes: at the stage that they belong to, on the first channel of their kind; what is about no
/// channel of this one stays away.
/// @param most  of them
[[nodiscard]] plan::Plan withLessons(plan::Plan plan, const project::Project& project, const std::vector<Lesson>& lessons,
                                     std::size_t most = 8);

}  // namespace hinge::proof
