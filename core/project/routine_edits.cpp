#include "project/routine_edits.hpp"
#include <algorithm>
#include <array>

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
    if (kind == InputKind::Word) {
        // A word that a passer-by would not try: made from the name, no secret, and easily changed.
        std::uint32_t hash = 2166136261u;
        for (const char c : name + project.brief.name) hash = (hash ^ static_cast<std::uint8_t>(c)) * 16777619u;
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

Project removeMove(Project project, std::string_view cue, std::string_view move) {
    auto* from = entryOf(project.routine.cues, cue);
    if (from == nullptr) return project;
    std::erase_if(from->moves, [&](const routine::Move& each) { return each.id == move; });
    if (!from->moves.empty()) from->moves.front().together = false;
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

const std::vector<Pattern>& patterns() {
    static const std::vector<Pattern> list{
        {"press-and-return", "press and return", "A press sends it to its end; after a pause it comes back.", true, false},
        {"open-by-itself", "opens, waits, closes by itself",
         "A press opens it; after ten seconds it closes, unless something is in the way.", true, false},
        {"sweep", "swings like a pendulum", "From the press on it swings between both ends, quick in the middle, until stop.", true, false},
        {"creep", "creeps along", "A press sends it to its end within an hour.", true, false},
        {"balance", "holds itself upright", "While it is on, its steps follow a tilt that is read as a level.", true, true},
        {"home", "finds its start at power-up", "At power-up it goes back until the end switch says so.", true, true},
        {"toggle", "on and off with one button", "One press on, the next one off.", false, false},
        {"timed", "a dose at times of day", "At its hours it runs once.", false, false},
        {"every", "every so often", "Every twenty minutes it runs for ten seconds.", false, false},
        {"while-sensed", "runs while something is sensed", "On while the sensor says so, and half a minute after.", false, false},
        {"portion", "one portion past a sensor",
         "A press starts it, slowly off the tab and fast to the next, which stops it; if that does not come, it stops by itself.", false,
         false},
        {"knob", "follows a knob", "Off in the knob's first part, then from its least useful share up to full.", false, false},
        {"thermostat", "keeps a level between two bounds",
         "On while the level is low, off when it is high; between the two it stays as it is.", false, false},
        {"hold-to-open", "held for two seconds, on for five", "Only a long press counts, and it ends by itself.", false, false},
        {"unlock", "unlocks by a word, locks by itself",
         "A word over the link unlocks it for five seconds. Decide in its safe state whether it is locked without power.", false, false},
        {"number", "follows a number over the link", "Its share is the number that was sent; silent for two seconds, it is off.", false,
         false},
        {"flame", "fades up, flickers, fades away", "Like a flame that is lit and dies down.", false, false},
        {"hold-speed", "holds a speed", "While it is on, its share is what keeps the tach's pulses at a count.", false, false},
        {"shared", "one collector for two machines",
         "On while either of two is sensed, and half a minute after the last; a start inside that time keeps it running.", false, false},
        {"mode", "only in one mode", "A press starts it only while a selector stands at its position.", false, false},
        {"every-third", "at every third press", "A count of three starts it and begins again.", false, false},
        {"season", "on some days of a season", "At its hour, on weekdays from April to October.", false, false},
        {"lost-link", "safe when the link is lost",
         "A press turns it on until let go; two seconds of silence after the link has spoken turn everything off.", false, false},
        {"as-before", "after a power cut as before", "One press on, the next one off, remembered through a power cut.", false, false},
        {"blink", "on and off a few times", "Five times half a second on, half a second off.", false, false},
    };
    return list;
}

Result<Project> insertPattern(Project project, std::string_view pattern, const std::string& channel) {
    const auto* mover = findChannel(project, channel);
    if (mover == nullptr) return fail(ErrorCode::Unknown, "channel", channel, "a channel of this gadget");
    const auto known = std::find_if(patterns().begin(), patterns().end(), [&](const Pattern& each) { return each.id == pattern; });
    if (known == patterns().end()) return fail(ErrorCode::Unknown, "pattern", std::string{pattern}, "a pattern of the list");
    using routine::Action;
    const std::size_t cues_before = project.routine.cues.size(), followers_before = project.routine.followers.size();
    const std::string name = mover->name;
    const bool along = channelKind(*mover) == ChannelKind::Move;
    // An input of a kind that is there already is used again; what has none gets one.
    const auto inputOf = [&](InputKind kind, const std::string& fresh) {
        for (const auto& input : project.inputs)
            if (input.kind == kind) return input.id;
        project = addInput(std::move(project), kind, fresh);
        return project.inputs.back().id;
    };
    const auto cueFor = [&](const std::string& title) -> std::string {
        project = addCue(std::move(project), name + " " + title);
        return project.routine.cues.back().id;
    };
    const auto cue = [&]() -> routine::Cue& { return project.routine.cues.back(); };
    const auto move = [&](Action action, const std::string& of_channel, std::optional<double> time = std::nullopt,
                          const std::string& input = {}) -> routine::Move& {
        const std::string id = cue().id;
        project = addMove(std::move(project), id, action, of_channel, input);
        auto& made = cue().moves.back();
        if (time) made.time = of<Duration>(*time);
        return made;
    };
    const auto back = [&](double after) {
        if (after > 0.0) move(Action::Wait, "", after);
        auto& made = move(Action::Go, channel);
        if (along) made.place = of<Length>(0.0);
        else made.angle = of<Angle>(0.0);
    };
    if (pattern == "press-and-return") {
        const auto button = inputOf(InputKind::Button, "start");
        cueFor("and back");
        cue().input = button;
        move(Action::Go, channel);
        back(1.0);
    } else if (pattern == "open-by-itself") {
        const auto button = inputOf(InputKind::Button, "start"), clear = inputOf(InputKind::Sensor, "in the way");
        cueFor("opens");
        cue().input = button;
        move(Action::Go, channel);
        move(Action::Wait, "", 10.0);
        move(Action::Until, "", 60.0, clear).released = true;
        back(0.0);
    } else if (pattern == "sweep") {
        const auto button = inputOf(InputKind::Button, "start");
        cueFor("swings");
        cue().input = button;
        move(Action::Sweep, channel).times = of<Count>(0.0);
    } else if (pattern == "creep") {
        const auto button = inputOf(InputKind::Button, "start");
        cueFor("creeps");
        cue().input = button;
        move(Action::Go, channel, 3600.0);
    } else if (pattern == "balance") {
        const auto tilt = inputOf(InputKind::Level, "tilt");
        const auto button = inputOf(InputKind::Button, "start");
        for (auto& each : project.routine.cues) std::erase_if(each.moves, [&](const routine::Move& m) { return m.channel == channel; });
        cueFor("stands up");
        cue().input = button;
        move(Action::On, channel);
        routine::Loop loop{freshId(channel + "_upright", idsOf(project.routine.loops)),
                           channel,
                           tilt,
                           of<Count>(512.0),
                           of<Ratio>(8.0),
                           of<Ratio>(0.2),
                           of<Ratio>(20.0),
                           of<Duration>(0.004),
                           of<Count>(4000.0)};
        project.routine.loops.push_back(std::move(loop));
    } else if (pattern == "unlock") {
        project = addInput(std::move(project), InputKind::Word, name + " opens");
        const auto word = project.inputs.back().id;
        cueFor("unlocks");
        cue().input = word;
        move(Action::Run, channel, 5.0);
    } else if (pattern == "number") {
        const auto number = inputOf(InputKind::Number, "number");
        for (auto& input : project.inputs)
            if (input.id == number) input.timeout = of<Duration>(2.0);
        project = addFollower(std::move(project), channel, number);
    } else if (pattern == "flame") {
        const auto button = inputOf(InputKind::Button, "start");
        cueFor("burns");
        cue().input = button;
        move(Action::Fade, channel, 2.0).level = of<Fraction>(0.8);
        move(Action::Flicker, channel, 10.0);
        move(Action::Fade, channel, 0.1).level = of<Fraction>(0.6);
        move(Action::Fade, channel, 3.0).level = of<Fraction>(0.0);
    } else if (pattern == "hold-speed") {
        const auto tach = inputOf(InputKind::Tach, "tach");
        const auto button = inputOf(InputKind::Button, "start");
        cueFor("turns");
        cue().input = button;
        move(Action::Run, channel, 10.0);
        routine::Loop loop{freshId(channel + "_speed", idsOf(project.routine.loops)),
                           channel,
                           tach,
                           of<Count>(10.0),
                           of<Ratio>(20.0),
                           of<Ratio>(5.0),
                           of<Ratio>(0.0),
                           of<Duration>(0.05),
                           of<Count>(1000.0)};
        project.routine.loops.push_back(std::move(loop));
    } else if (pattern == "shared") {
        const std::array names{"first machine", "second machine"};
        for (const auto* machine : names) {
            project = addInput(std::move(project), InputKind::Sensor, machine);
            const auto id = project.inputs.back().id;
            project = addFollower(std::move(project), channel, id);
        }
        for (auto& each : project.channels)
            if (each.id == channel && si(each.off_delay) == 0.0) each.off_delay = of<Duration>(30.0);
    } else if (pattern == "mode") {
        const auto position = inputOf(InputKind::Position, "by hand"), button = inputOf(InputKind::Button, "start");
        cueFor("by hand");
        cue().input = button;
        cue().guards.push_back({freshId("only_" + position, idsOf(cue().guards)), position, true, true});
        move(Action::Run, channel, 5.0);
    } else if (pattern == "every-third") {
        const auto button = inputOf(InputKind::Button, "start");
        cueFor("is counted");
        cue().input = button;
        const std::string counted = cue().id;
        project = addInput(std::move(project), InputKind::Counter, name + " third");
        project.inputs.back().counts = counted;
        project.inputs.back().limit = of<Count>(3.0);
        const auto counter = project.inputs.back().id;
        cueFor("the third time");
        cue().input = counter;
        move(Action::Clear, "", std::nullopt, counter);
        move(Action::Run, channel, 1.0);
    } else if (pattern == "season") {
        project = addInput(std::move(project), InputKind::Days, "summer weekdays");
        auto& days = project.inputs.back();
        days.weekdays = "mon,tue,wed,thu,fri";
        days.from_date = "04-01";
        days.to_date = "10-31";
        const auto id = days.id;
        cueFor("in summer");
        cue().times = "06:40";
        cue().guards.push_back({freshId("only_" + id, idsOf(cue().guards)), id, false, true});
        move(Action::Run, channel, 5.0);
    } else if (pattern == "lost-link") {
        const auto button = inputOf(InputKind::Button, "start");
        cueFor("on while held");
        cue().input = button;
        move(Action::On, channel);
        cueFor("let go");
        cue().input = button;
        cue().on_release = true;
        move(Action::Off, channel);
        project.routine.link_silence = of<Duration>(2.0);
    } else if (pattern == "as-before") {
        const auto button = inputOf(InputKind::Button, "start");
        cueFor("on and off");
        cue().input = button;
        move(Action::Toggle, channel);
        for (auto& each : project.channels)
            if (each.id == channel) each.remembers = true;
    } else if (pattern == "home") {
        const auto end = inputOf(InputKind::EndSwitch, "at the start");
        cueFor("finds its start");
        cue().at_power_up = true;
        move(Action::Home, channel, 20.0, end);
    } else if (pattern == "toggle") {
        const auto button = inputOf(InputKind::Button, "start");
        cueFor("on and off");
        cue().input = button;
        move(Action::Toggle, channel);
    } else if (pattern == "timed") {
        cueFor("at its hours");
        cue().times = "06:40,18:30";
        move(Action::Run, channel);
    } else if (pattern == "every") {
        cueFor("every so often");
        cue().every = of<Duration>(1200.0);
        move(Action::Run, channel, 10.0);
    } else if (pattern == "while-sensed") {
        const auto sensor = inputOf(InputKind::Sensor, "machine runs");
        project = addFollower(std::move(project), channel, sensor);
        for (auto& each : project.channels)
            if (each.id == channel && si(each.off_delay) == 0.0) each.off_delay = of<Duration>(30.0);
    } else if (pattern == "portion") {
        const auto button = inputOf(InputKind::Button, "start"), tab = inputOf(InputKind::Sensor, "tab");
        cueFor("one portion");
        cue().input = button;
        move(Action::On, channel).level = of<Fraction>(0.6);
        move(Action::Until, "", 2.0, tab).released = true;    // slowly off the tab that it stands on
        move(Action::On, channel).level = of<Fraction>(1.0);  // some portions jam when they come slowly
        move(Action::Until, "", 10.0, tab);                   // fast to the next
        move(Action::Off, channel);
    } else if (pattern == "knob") {
        const auto knob = inputOf(InputKind::Knob, "knob");
        project = addFollower(std::move(project), channel, knob);
    } else if (pattern == "thermostat") {
        const auto level = inputOf(InputKind::Level, "warm enough");
        project = addFollower(std::move(project), channel, level);
        project.routine.followers.back().released = true;
    } else if (pattern == "hold-to-open") {
        const auto button = inputOf(InputKind::Button, "start");
        cueFor("when held");
        cue().input = button;
        cue().held = of<Duration>(2.0);
        move(Action::Run, channel, 5.0);
    } else if (pattern == "blink") {
        const auto button = inputOf(InputKind::Button, "start");
        cueFor("blinks");
        cue().input = button;
        move(Action::Run, channel, 0.5);
        move(Action::Wait, "", 0.5);
        move(Action::Again, "").times = of<Count>(5.0);
    }
    // What must never be on with an input is guarded against it from the start.
    for (const auto& rule : project.routine.interlocks) {
        if (rule.channel != channel || rule.input.empty() || !rule.terms.empty()) continue;
        for (std::size_t c = cues_before; c < project.routine.cues.size(); ++c) {
            auto& made = project.routine.cues[c];
            if (std::any_of(made.moves.begin(), made.moves.end(), [&](const routine::Move& m) { return m.channel == channel; }))
                made.guards.push_back({freshId("unless_" + rule.input, idsOf(made.guards)), rule.input, true});
        }
        for (std::size_t f = followers_before; f < project.routine.followers.size(); ++f)
            if (project.routine.followers[f].unless.empty()) project.routine.followers[f].unless = rule.input;
    }
    return project;
}

}  // namespace hinge::project
