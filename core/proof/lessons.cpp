#include "proof/lessons.hpp"
#include <fmt/format.h>
#include <algorithm>

namespace hinge::proof {

std::vector<Lesson> lessonsOf(const project::Project& project) {
    auto entries = project.journal.entries;
    std::stable_sort(entries.begin(), entries.end(), [](const journal::Entry& a, const journal::Entry& b) { return a.date > b.date; });
    std::vector<Lesson> list;
    for (const auto& entry : entries) {
        const std::string& text = !entry.lesson.empty()                      ? entry.lesson
                                  : entry.kind == journal::EntryKind::Lesson ? entry.text
                                                                             : entry.lesson;
        if (text.empty()) continue;
        const auto* channel = project::findChannel(project, entry.channel);
        Lesson lesson{project.brief.name, channel != nullptr ? std::optional(project::channelKind(*channel)) : std::nullopt, text,
                      named<project::Stage>(entry.stage).value_or(project::Stage::Need)};
        if (std::find(list.begin(), list.end(), lesson) == list.end()) list.push_back(std::move(lesson));
    }
    return list;
}

plan::Plan withLessons(plan::Plan plan, const project::Project& project, const std::vector<Lesson>& lessons, std::size_t most) {
    std::size_t told = 0;
    for (const auto& lesson : lessons) {
        if (told == most) break;
        if (lesson.gadget == project.brief.name) continue;
        std::string channel;
        if (lesson.kind) {
            const auto at = std::find_if(project.channels.begin(), project.channels.end(),
                                         [&](const project::Channel& each) { return project::channelKind(each) == *lesson.kind; });
            if (at == project.channels.end()) continue;
            channel = at->id;
        }
        plan.findings.push_back(
            {"lesson", Severity::Note, lesson.stage, channel, fmt::format("Learnt on {}: {}", lesson.gadget, lesson.text), {}});
        ++told;
    }
    return plan;
}

}  // namespace hinge::proof
