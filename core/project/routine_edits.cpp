#include "project/routine_edits.hpp"
#include <algorithm>
#include <array>
#include "quantity/fnv.hpp"

namespace hinge::project {
namespace {

template <class List>
auto* entryOf(List& list, std::string_view id) {
    const auto found = std::find_if(list.begin(), list.end(), [&](const auto& entry) { return entry.id == id; });
    return found != list.end() ? &*found : nullptr;
}

}  // namespace

Project addInput(Project project, InputKind kind, const std::string& name) {
    Input input;
    input.id = freshId(name, idsOf(project.inputs));
    input.name = name;
    input.kind = kind;
    if (isAnalogue(kind)) input.debounce = of<Duration>(0.050);
    // Ten pulses a second are 300 rpm of a fan that gives two a turn: less than any that turns.
    if (kind == InputKind::Tach) input.upper = of<Fraction>(20.0 / 1024.0), input.lower = of<Fraction>(10.0 / 1024.0);
    if (kind == InputKind::Word) {
        // A word that a passer-by would not try: made from the name, no secret, and easily changed.
        auto hash = fnv32(name + project.brief.name);
        static constexpr std::array syllables{"ka", "lo", "mi", "nu", "pe", "ra", "so", "ti",
                                              "vu", "we", "xa", "yo", "zi", "bo", "du", "fe"};
        for (int i = 0; i < 5; ++i, hash >>= 4) input.word += syllables[hash & 15];
        input.word += std::to_string(hash % 90 + 10);
    }
    if (kind == InputKind::Counter && !project.routine.cues.empty()) input.counts = project.routine.cues.front().id;
    project.inputs.push_back(std::move(input));
    return project;
}

Project addCue(Project project, const std::string& name) {
    routine::Cue cue;
    cue.id = freshId(name, idsOf(project.routine.cues));
    cue.name = name;
    project.routine.cues.push_back(std::move(cue));
    return project;
}

Project removeCue(Project project, std::string_view cue) {
    std::erase_if(project.routine.cues, [&](const routine::Cue& each) { return each.id == cue; });
    for (auto& each : project.routine.cues)
        if (each.after == cue) each.after.clear();
    return project;
}

Project addMove(Project project, std::string_view cue, routine::Action action, const std::string& channel, const std::string& input) {
    auto* into = entryOf(project.routine.cues, cue);
    if (into == nullptr) return project;
    routine::Move move;
    move.id = freshId(std::string{nameOf(action)} + (channel.empty() ? "" : "_" + channel), idsOf(into->moves));
    move.action = action;
    move.channel = channel;
    move.input = input;
    const auto* moved = findChannel(project, channel);
    if (action == routine::Action::Wait) move.time = of<Duration>(1.0);
    if (action == routine::Action::Until) move.time = of<Duration>(10.0);
    if (action == routine::Action::Home) move.time = of<Duration>(20.0);
    if (action == routine::Action::Fade) move.time = of<Duration>(2.0), move.level = of<Fraction>(1.0);
    if (action == routine::Action::Flicker) move.time = of<Duration>(5.0);
    if (action == routine::Action::Run && moved != nullptr && channelKind(*moved) != ChannelKind::Pump) move.time = of<Duration>(10.0);
    into->moves.push_back(std::move(move));
    return project;
}

Project addMoveFromHere(Project project, std::string_view cue, const std::string& channel) {
    project = addMove(std::move(project), cue, routine::Action::Go, channel);
    auto* into = entryOf(project.routine.cues, cue);
    const auto* moved = findChannel(project, channel);
    if (into == nullptr || moved == nullptr) return project;
    auto& move = into->moves.back();
    move.from_here = true;
    // Of what is not known, something to change.
    const auto* turns = std::get_if<TurnDemand>(&moved->demand);
    if (const auto* along = std::get_if<MoveDemand>(&moved->demand)) move.place = along->travel ? *along->travel / 10.0 : of<Length>(0.01);
    else move.angle = turns != nullptr && turns->angle ? *turns->angle / 10.0 : of<Angle>(0.1);
    return project;
}

Project removeMove(Project project, std::string_view cue, std::string_view move) {
    auto* from = entryOf(project.routine.cues, cue);
    if (from == nullptr) return project;
    std::erase_if(from->moves, [&](const routine::Move& each) { return each.id == move; });
    if (!from->moves.empty()) from->moves.front().together = from->moves.front().in_line = false;
    return project;
}

Project shiftMove(Project project, std::string_view cue, std::string_view move, int by) {
    auto* in = entryOf(project.routine.cues, cue);
    if (in == nullptr) return project;
    for (std::size_t i = 0; i < in->moves.size(); ++i) {
        if (in->moves[i].id != move) continue;
        const auto to = static_cast<std::ptrdiff_t>(i) + by;
        if (to >= 0 && to < static_cast<std::ptrdiff_t>(in->moves.size())) std::swap(in->moves[i], in->moves[static_cast<std::size_t>(to)]);
        break;
    }
    return project;
}

Project addGuard(Project project, std::string_view cue, const std::string& input) {
    if (auto* into = entryOf(project.routine.cues, cue))
        into->guards.push_back({freshId("unless_" + input, idsOf(into->guards)), input, true});
    return project;
}

Project removeGuard(Project project, std::string_view cue, std::string_view guard) {
    if (auto* from = entryOf(project.routine.cues, cue))
        std::erase_if(from->guards, [&](const routine::Guard& each) { return each.id == guard; });
    return project;
}

Project addFollower(Project project, const std::string& channel, const std::string& input) {
    routine::Follower follower;
    follower.id = freshId(channel + "_follows", idsOf(project.routine.followers));
    follower.channel = channel;
    follower.input = input;
    const auto* from = findInput(project, input);
    follower.proportional = from != nullptr && (from->kind == InputKind::Knob || from->kind == InputKind::Number);
    if (follower.proportional) follower.start = of<Fraction>(0.25);
    project.routine.followers.push_back(std::move(follower));
    return project;
}

Project addInterlock(Project project, const std::string& channel, const std::string& input) {
    project.routine.interlocks.push_back({freshId("never_" + channel + "_" + input, idsOf(project.routine.interlocks)), channel, input});
    return project;
}

Project addLoop(Project project, const std::string& channel, const std::string& input) {
    routine::Loop loop;
    loop.id = freshId(channel + "_holds", idsOf(project.routine.loops));
    loop.channel = channel;
    loop.input = input;
    loop.wanted = of<Count>(100.0);
    loop.proportional = of<Ratio>(2.0);
    loop.integral = of<Ratio>(0.1);
    project.routine.loops.push_back(std::move(loop));
    return project;
}

Project addTerm(Project project, std::string_view interlock, const std::string& channel, routine::TermState state) {
    if (auto* into = entryOf(project.routine.interlocks, interlock))
        into->terms.push_back({freshId(channel + "_" + nameOf(state), idsOf(into->terms)), channel, state, std::nullopt, std::nullopt});
    return project;
}

Project removeTerm(Project project, std::string_view interlock, std::string_view term) {
    if (auto* from = entryOf(project.routine.interlocks, interlock))
        std::erase_if(from->terms, [&](const routine::Term& each) { return each.id == term; });
    return project;
}

Project removeInput(Project project, std::string_view id) {
    std::erase_if(project.inputs, [&](const Input& each) { return each.id == id; });
    for (auto& cue : project.routine.cues) {
        if (cue.input == id) cue.input.clear(), cue.held.reset(), cue.on_release = false;
        std::erase_if(cue.guards, [&](const routine::Guard& each) { return each.input == id; });
        std::erase_if(cue.moves, [&](const routine::Move& each) { return each.input == id; });
    }
    std::erase_if(project.routine.followers, [&](const routine::Follower& each) { return each.input == id; });
    for (auto& follower : project.routine.followers)
        if (follower.unless == id) follower.unless.clear();
    std::erase_if(project.routine.loops, [&](const routine::Loop& each) { return each.input == id; });
    for (auto& interlock : project.routine.interlocks)
        if (interlock.input == id) interlock.input.clear();
    std::erase_if(project.routine.interlocks, [](const routine::Interlock& each) { return each.input.empty() && each.terms.empty(); });
    return project;
}

Project removeRule(Project project, std::string_view id) {
    std::erase_if(project.routine.loops, [&](const routine::Loop& each) { return each.id == id; });
    std::erase_if(project.routine.followers, [&](const routine::Follower& each) { return each.id == id; });
    std::erase_if(project.routine.interlocks, [&](const routine::Interlock& each) { return each.id == id; });
    return project;
}

}  // namespace hinge::project
