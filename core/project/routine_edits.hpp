#pragma once
#include "project/project.hpp"

namespace hinge::project {

/// Structural edits of the routine: a new project each time; ids are made from names and stay unique.
[[nodiscard]] Project addInput(Project project, InputKind kind, const std::string& name);
/// A cue that nothing starts yet.
[[nodiscard]] Project addCue(Project project, const std::string& name);
/// Also takes it out of what starts after it.
[[nodiscard]] Project removeCue(Project project, std::string_view cue);
/// A move at the end of a cue; unknown cue: unchanged. A wait gets a second, a run of what is no pump ten.
[[nodiscard]] Project addMove(Project project, std::string_view cue, routine::Action action, const std::string& channel,
                              const std::string& input = {});
/// A move of it by a tenth of what Need asks, from where it stands.
[[nodiscard]] Project addMoveFromHere(Project project, std::string_view cue, const std::string& channel);
[[nodiscard]] Project removeMove(Project project, std::string_view cue, std::string_view move);
/// @param by  −1 earlier, 1 later; past an end: unchanged
[[nodiscard]] Project shiftMove(Project project, std::string_view cue, std::string_view move, int by);
[[nodiscard]] Project addGuard(Project project, std::string_view cue, const std::string& input);
[[nodiscard]] Project removeGuard(Project project, std::string_view cue, std::string_view guard);
[[nodiscard]] Project addFollower(Project project, const std::string& channel, const std::string& input);
[[nodiscard]] Project addInterlock(Project project, const std::string& channel, const std::string& input);
[[nodiscard]] Project addLoop(Project project, const std::string& channel, const std::string& input);
[[nodiscard]] Project addTerm(Project project, std::string_view interlock, const std::string& channel, routine::TermState state);
[[nodiscard]] Project removeTerm(Project project, std::string_view interlock, std::string_view term);
/// Also takes it out of cues, followers, loops and interlocks; an interlock that nothing is left of goes too.
[[nodiscard]] Project removeInput(Project project, std::string_view id);
/// A follower, loop or interlock of that id.
[[nodiscard]] Project removeRule(Project project, std::string_view id);

/// A piece of behaviour that makers need often, ready to insert and adapt.
struct Pattern {
    const char* id;
    const char* name;
    const char* what;     ///< in a sentence
    bool moves;           ///< for what is sent to places; else for what is switched
    bool stepper;         ///< only for what counts its steps
    bool bridge = false;  ///< only for what a bridge drives both ways
    bool shows = false;   ///< only for what has a driver that shows its current
};
[[nodiscard]] const std::vector<Pattern>& patterns();
/// The project with the pattern's cues, followers and the inputs that it needs, for one channel.
/// @error Unknown  no such pattern or channel
[[nodiscard]] Result<Project> insertPattern(Project project, std::string_view pattern, const std::string& channel);

}  // namespace hinge::project
