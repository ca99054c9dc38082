// Ready patterns of behaviour, each with the inputs that it needs.
#include <algorithm>
#include <array>
#include "project/routine_edits.hpp"

namespace hinge::project {
namespace {

using routine::Action;

/// Puts a pattern into a project, for one channel.
class PatternMaker {
public:
    PatternMaker(Project project, const Channel& channel)
        : project_{std::move(project)}, channel_{channel.id}, name_{channel.name}, along_{channelKind(channel) == ChannelKind::Move} {}

    Project make(void (PatternMaker::*insert)()) {
        const std::size_t cues = project_.routine.cues.size(), followers = project_.routine.followers.size();
        (this->*insert)();
        guardNew(cues, followers);
        return std::move(project_);
    }

    void pressAndReturn() {
        const auto button = inputOf(InputKind::Button, "start");
        cueFor("and back");
        cue().input = button;
        move(Action::Go, channel_);
        back(1.0);
    }
    void openByItself() {
        const auto button = inputOf(InputKind::Button, "start"), clear = inputOf(InputKind::Sensor, "in the way");
        cueFor("opens");
        cue().input = button;
        move(Action::Go, channel_);
        move(Action::Wait, "", 10.0);
        move(Action::Until, "", 60.0, clear).released = true;
        back(0.0);
    }
    void sweep() {
        const auto button = inputOf(InputKind::Button, "start");
        cueFor("swings");
        cue().input = button;
        move(Action::Sweep, channel_).times = of<Count>(0.0);
    }
    void creep() {
        const auto button = inputOf(InputKind::Button, "start");
        cueFor("creeps");
        cue().input = button;
        move(Action::Go, channel_, 3600.0);
    }
    void balance() {
        const auto tilt = inputOf(InputKind::Level, "tilt");
        const auto button = inputOf(InputKind::Button, "start");
        for (auto& each : project_.routine.cues) std::erase_if(each.moves, [&](const routine::Move& m) { return m.channel == channel_; });
        cueFor("stands up");
        cue().input = button;
        move(Action::On, channel_);
        routine::Loop loop{freshId(channel_ + "_upright", idsOf(project_.routine.loops)),
                           channel_,
                           tilt,
                           of<Count>(512.0),
                           of<Ratio>(8.0),
                           of<Ratio>(0.2),
                           of<Ratio>(20.0),
                           of<Duration>(0.004),
                           of<Count>(4000.0)};
        project_.routine.loops.push_back(std::move(loop));
    }
    void unlock() {
        project_ = addInput(std::move(project_), InputKind::Word, name_ + " opens");
        const auto word = project_.inputs.back().id;
        cueFor("unlocks");
        cue().input = word;
        move(Action::Run, channel_, 5.0);
    }
    void number() {
        const auto number = inputOf(InputKind::Number, "number");
        for (auto& input : project_.inputs)
            if (input.id == number) input.timeout = of<Duration>(2.0);
        project_ = addFollower(std::move(project_), channel_, number);
    }
    void flame() {
        const auto button = inputOf(InputKind::Button, "start");
        cueFor("burns");
        cue().input = button;
        move(Action::Fade, channel_, 2.0).level = of<Fraction>(0.8);
        move(Action::Flicker, channel_, 10.0);
        move(Action::Fade, channel_, 0.1).level = of<Fraction>(0.6);
        move(Action::Fade, channel_, 3.0).level = of<Fraction>(0.0);
    }
    void holdSpeed() {
        const auto tach = inputOf(InputKind::Tach, "tach");
        const auto button = inputOf(InputKind::Button, "start");
        cueFor("turns");
        cue().input = button;
        move(Action::Run, channel_, 10.0);
        routine::Loop loop{freshId(channel_ + "_speed", idsOf(project_.routine.loops)),
                           channel_,
                           tach,
                           of<Count>(10.0),
                           of<Ratio>(20.0),
                           of<Ratio>(5.0),
                           of<Ratio>(0.0),
                           of<Duration>(0.05),
                           of<Count>(1000.0)};
        project_.routine.loops.push_back(std::move(loop));
    }
    // Only its own tach can say that it stands still.
    void watched() {
        const auto button = inputOf(InputKind::Button, "start");
        project_ = addInput(std::move(project_), InputKind::Tach, name_ + " stands still");
        project_.inputs.back().belongs_to = channel_;
        project_.inputs.back().active_high = false;
        const auto still = project_.inputs.back().id;
        cueFor("runs");
        cue().input = button;
        move(Action::Run, channel_, 60.0);
        project_ = addInterlock(std::move(project_), channel_, still);  // guards the cue too
    }
    // Its bridge shows its current: too much of it is a jam.
    void strained() {
        const auto button = inputOf(InputKind::Button, "start");
        project_ = addInput(std::move(project_), InputKind::Level, name_ + " strains");
        auto& level = project_.inputs.back();
        level.measures = Measures::Current, level.belongs_to = channel_, level.active_high = true;
        level.debounce = of<Duration>(0.1), level.run_up = of<Duration>(0.5);
        const auto strains = level.id;
        cueFor("runs");
        cue().input = button;
        move(Action::Run, channel_, 60.0);
        project_ = addInterlock(std::move(project_), channel_, strains);  // guards the cue too
    }
    void shared() {
        const std::array names{"first machine", "second machine"};
        for (const auto* machine : names) {
            project_ = addInput(std::move(project_), InputKind::Sensor, machine);
            const auto id = project_.inputs.back().id;
            project_ = addFollower(std::move(project_), channel_, id);
        }
        for (auto& each : project_.channels)
            if (each.id == channel_ && si(each.off_delay) == 0.0) each.off_delay = of<Duration>(30.0);
    }
    void mode() {
        const auto position = inputOf(InputKind::Position, "by hand"), button = inputOf(InputKind::Button, "start");
        cueFor("by hand");
        cue().input = button;
        cue().guards.push_back({freshId("only_" + position, idsOf(cue().guards)), position, true, true});
        move(Action::Run, channel_, 5.0);
    }
    void everyThird() {
        const auto button = inputOf(InputKind::Button, "start");
        cueFor("is counted");
        cue().input = button;
        const std::string counted = cue().id;
        project_ = addInput(std::move(project_), InputKind::Counter, name_ + " third");
        project_.inputs.back().counts = counted;
        project_.inputs.back().limit = of<Count>(3.0);
        const auto counter = project_.inputs.back().id;
        cueFor("the third time");
        cue().input = counter;
        move(Action::Clear, "", std::nullopt, counter);
        move(Action::Run, channel_, 1.0);
    }
    void season() {
        project_ = addInput(std::move(project_), InputKind::Days, "summer weekdays");
        auto& days = project_.inputs.back();
        days.weekdays = "mon,tue,wed,thu,fri";
        days.from_date = "04-01";
        days.to_date = "10-31";
        const auto id = days.id;
        cueFor("in summer");
        cue().times = "06:40";
        cue().guards.push_back({freshId("only_" + id, idsOf(cue().guards)), id, false, true});
        move(Action::Run, channel_, 5.0);
    }
    void lostLink() {
        const auto button = inputOf(InputKind::Button, "start");
        cueFor("on while held");
        cue().input = button;
        move(Action::On, channel_);
        cueFor("let go");
        cue().input = button;
        cue().on_release = true;
        move(Action::Off, channel_);
        project_.routine.link_silence = of<Duration>(2.0);
    }
    void asBefore() {
        const auto button = inputOf(InputKind::Button, "start");
        cueFor("on and off");
        cue().input = button;
        move(Action::Toggle, channel_);
        for (auto& each : project_.channels)
            if (each.id == channel_) each.remembers = true;
    }
    void home() {
        const auto end = inputOf(InputKind::EndSwitch, "at the start");
        cueFor("finds its start");
        cue().at_power_up = true;
        move(Action::Home, channel_, 20.0, end);
    }
    void toggle() {
        const auto button = inputOf(InputKind::Button, "start");
        cueFor("on and off");
        cue().input = button;
        move(Action::Toggle, channel_);
    }
    void timed() {
        cueFor("at its hours");
        cue().times = "06:40,18:30";
        move(Action::Run, channel_);
    }
    void every() {
        cueFor("every so often");
        cue().every = of<Duration>(1200.0);
        move(Action::Run, channel_, 10.0);
    }
    void whileSensed() {
        const auto sensor = inputOf(InputKind::Sensor, "machine runs");
        project_ = addFollower(std::move(project_), channel_, sensor);
        for (auto& each : project_.channels)
            if (each.id == channel_ && si(each.off_delay) == 0.0) each.off_delay = of<Duration>(30.0);
    }
    void portion() {
        const auto button = inputOf(InputKind::Button, "start"), tab = inputOf(InputKind::Sensor, "tab");
        cueFor("one portion");
        cue().input = button;
        move(Action::On, channel_).level = of<Fraction>(0.6);
        move(Action::Until, "", 2.0, tab).released = true;     // slowly off the tab that it stands on
        move(Action::On, channel_).level = of<Fraction>(1.0);  // some portions jam when they come slowly
        move(Action::Until, "", 10.0, tab);                    // fast to the next
        move(Action::Off, channel_);
    }
    void knob() {
        const auto knob = inputOf(InputKind::Knob, "knob");
        project_ = addFollower(std::move(project_), channel_, knob);
    }
    void thermostat() {
        const auto level = inputOf(InputKind::Level, "warm enough");
        project_ = addFollower(std::move(project_), channel_, level);
        project_.routine.followers.back().released = true;
    }
    void holdToOpen() {
        const auto button = inputOf(InputKind::Button, "start");
        cueFor("when held");
        cue().input = button;
        cue().held = of<Duration>(2.0);
        move(Action::Run, channel_, 5.0);
    }
    void blink() {
        const auto button = inputOf(InputKind::Button, "start");
        cueFor("blinks");
        cue().input = button;
        move(Action::Run, channel_, 0.5);
        move(Action::Wait, "", 0.5);
        move(Action::Again, "").times = of<Count>(5.0);
    }
    // Both ways between two end switches. At an end its own switch keeps it from being pushed further.
    void toAndFro() {
        const auto fresh = [&](InputKind kind, const std::string& named) {
            project_ = addInput(std::move(project_), kind, named);
            return project_.inputs.back().id;
        };
        const auto open = fresh(InputKind::Button, "open"), shut = fresh(InputKind::Button, "shut");
        const auto at_open = fresh(InputKind::EndSwitch, "open end"), at_shut = fresh(InputKind::EndSwitch, "shut end");
        for (const bool backwards : {false, true}) {
            const auto end = backwards ? at_shut : at_open;
            cueFor(backwards ? "shuts" : "opens");
            cue().input = backwards ? shut : open;
            cue().guards.push_back({freshId("unless_" + end, idsOf(cue().guards)), end, false});
            move(Action::On, channel_).backwards = backwards;
            move(Action::Until, "", 10.0, end);
            move(Action::Off, channel_);
        }
    }

private:
    // An input of a kind that is there already is used again; what has none gets one.
    std::string inputOf(InputKind kind, const std::string& fresh) {
        for (const auto& input : project_.inputs)
            if (input.kind == kind) return input.id;
        project_ = addInput(std::move(project_), kind, fresh);
        return project_.inputs.back().id;
    }
    void cueFor(const std::string& title) { project_ = addCue(std::move(project_), name_ + " " + title); }
    routine::Cue& cue() { return project_.routine.cues.back(); }
    routine::Move& move(Action action, const std::string& of_channel, std::optional<double> time = std::nullopt,
                        const std::string& input = {}) {
        const std::string id = cue().id;
        project_ = addMove(std::move(project_), id, action, of_channel, input);
        auto& made = cue().moves.back();
        if (time) made.time = of<Duration>(*time);
        return made;
    }
    void back(double after) {
        if (after > 0.0) move(Action::Wait, "", after);
        auto& made = move(Action::Go, channel_);
        if (along_) made.place = of<Length>(0.0);
        else made.angle = of<Angle>(0.0);
    }
    // What must never be on with an input is guarded against it from the start.
    void guardNew(std::size_t cues_before, std::size_t followers_before) {
        for (const auto& rule : project_.routine.interlocks) {
            if (rule.channel != channel_ || rule.input.empty() || !rule.terms.empty()) continue;
            for (std::size_t c = cues_before; c < project_.routine.cues.size(); ++c) {
                auto& made = project_.routine.cues[c];
                if (std::any_of(made.moves.begin(), made.moves.end(), [&](const routine::Move& m) { return m.channel == channel_; }))
                    made.guards.push_back({freshId("unless_" + rule.input, idsOf(made.guards)), rule.input, true});
            }
            for (std::size_t f = followers_before; f < project_.routine.followers.size(); ++f)
                if (project_.routine.followers[f].unless.empty()) project_.routine.followers[f].unless = rule.input;
        }
    }

    Project project_;
    const std::string channel_, name_;
    const bool along_;
};

struct Known {
    Pattern pattern;
    void (PatternMaker::*insert)();
};
const std::vector<Known>& known() {
    static const std::vector<Known> list{
        {{"press-and-return", "press and return", "A press sends it to its end; after a pause it comes back.", true, false},
         &PatternMaker::pressAndReturn},
        {{"open-by-itself", "opens, waits, closes by itself",
          "A press opens it; after ten seconds it closes, unless something is in the way.", true, false},
         &PatternMaker::openByItself},
        {{"sweep", "swings like a pendulum", "From the press on it swings between both ends, quick in the middle, until stop.", true,
          false},
         &PatternMaker::sweep},
        {{"creep", "creeps along", "A press sends it to its end within an hour.", true, false}, &PatternMaker::creep},
        {{"balance", "holds itself upright", "While it is on, its steps follow a tilt that is read as a level.", true, true},
         &PatternMaker::balance},
        {{"home", "finds its start at power-up", "At power-up it goes back until the end switch says so.", true, true},
         &PatternMaker::home},
        {{"to-and-fro", "opens and shuts between two end switches",
          "A press drives it until its end switch says so, another press back again; what takes longer than ten seconds stops by itself.",
          false, false, true},
         &PatternMaker::toAndFro},
        {{"toggle", "on and off with one button", "One press on, the next one off.", false, false}, &PatternMaker::toggle},
        {{"timed", "a dose at times of day", "At its hours it runs once.", false, false}, &PatternMaker::timed},
        {{"every", "every so often", "Every twenty minutes it runs for ten seconds.", false, false}, &PatternMaker::every},
        {{"while-sensed", "runs while something is sensed", "On while the sensor says so, and half a minute after.", false, false},
         &PatternMaker::whileSensed},
        {{"portion", "one portion past a sensor",
          "A press starts it, slowly off the tab and fast to the next, which stops it; if that does not come, it stops by itself.", false,
          false},
         &PatternMaker::portion},
        {{"knob", "follows a knob", "Off in the knob's first part, then from its least useful share up to full.", false, false},
         &PatternMaker::knob},
        {{"thermostat", "keeps a level between two bounds",
          "On while the level is low, off when it is high; between the two it stays as it is.", false, false},
         &PatternMaker::thermostat},
        {{"hold-to-open", "held for two seconds, on for five", "Only a long press counts, and it ends by itself.", false, false},
         &PatternMaker::holdToOpen},
        {{"unlock", "unlocks by a word, locks by itself",
          "A word over the link unlocks it for five seconds. Decide in its safe state whether it is locked without power.", false, false},
         &PatternMaker::unlock},
        {{"number", "follows a number over the link", "Its share is the number that was sent; silent for two seconds, it is off.", false,
          false},
         &PatternMaker::number},
        {{"flame", "fades up, flickers, fades away", "Like a flame that is lit and dies down.", false, false}, &PatternMaker::flame},
        {{"hold-speed", "holds a speed", "While it is on, its share is what keeps the tach's pulses at a count.", false, false},
         &PatternMaker::holdSpeed},
        {{"watched", "off when it stands still", "A press runs it for a minute; its tach puts it off, and says so, when it is jammed.",
          false, false},
         &PatternMaker::watched},
        {{"strained", "off when it draws too much",
          "A press runs it for a minute; the current that its bridge shows puts it off, and says so, when it is held fast.", false, false,
          false, true},
         &PatternMaker::strained},
        {{"shared", "one collector for two machines",
          "On while either of two is sensed, and half a minute after the last; a start inside that time keeps it running.", false, false},
         &PatternMaker::shared},
        {{"mode", "only in one mode", "A press starts it only while a selector stands at its position.", false, false},
         &PatternMaker::mode},
        {{"every-third", "at every third press", "A count of three starts it and begins again.", false, false}, &PatternMaker::everyThird},
        {{"season", "on some days of a season", "At its hour, on weekdays from April to October.", false, false}, &PatternMaker::season},
        {{"lost-link", "safe when the link is lost",
          "A press turns it on until let go; two seconds of silence after the link has spoken turn everything off.", false, false},
         &PatternMaker::lostLink},
        {{"as-before", "after a power cut as before", "One press on, the next one off, remembered through a power cut.", false, false},
         &PatternMaker::asBefore},
        {{"blink", "on and off a few times", "Five times half a second on, half a second off.", false, false}, &PatternMaker::blink},
    };
    return list;
}

}  // namespace

const std::vector<Pattern>& patterns() {
    static const std::vector<Pattern> list = [] {
        std::vector<Pattern> all;
        for (const auto& each : known()) all.push_back(each.pattern);
        return all;
    }();
    return list;
}

Result<Project> insertPattern(Project project, std::string_view pattern, const std::string& channel) {
    const auto* mover = findChannel(project, channel);
    if (mover == nullptr) return fail(ErrorCode::Unknown, "channel", channel, "a channel of this gadget");
    const auto found = std::find_if(known().begin(), known().end(), [&](const Known& each) { return each.pattern.id == pattern; });
    if (found == known().end()) return fail(ErrorCode::Unknown, "pattern", std::string{pattern}, "a pattern of the list");
    const Channel copy = *mover;
    return PatternMaker(std::move(project), copy).make(found->insert);
}

}  // namespace hinge::project
