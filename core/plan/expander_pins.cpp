#include "plan/expander_pins.hpp"
#include <fmt/format.h>
#include <algorithm>
#include <cmath>
#include "board/pwm_pool.hpp"
#include "driver/gate_network.hpp"
#include "firmware/target.hpp"
#include "kinds/expander.hpp"
#include "plan/input_wiring.hpp"
#include "plan/pin_plan.hpp"
#include "quantity/series.hpp"
#include "quantity/text.hpp"

namespace hinge::plan {
namespace {

constexpr double usual_rate = 200.0;  // Hz: what such a chip begins with (from memory)

/// Judges one channel or input on such a board.
class ExpanderJudge {
public:
    ExpanderJudge(const project::Project& project, Plan& plan)
        : project_{project}, plan_{plan}, logic_{board::family(project.board.form).logic} {}
    void channel(const project::Channel& channel, ChannelPlan& planned);
    void input(const project::Input& input, const ExpanderPlan& at);

private:
    void add(const Finding& finding, Stage stage, const std::string& channel, std::vector<Remedy> remedies = {}) {
        plan_.findings.push_back({finding.id, finding.severity, stage, channel, finding.text, std::move(remedies)});
    }
    void onLine(const ExpanderPlan& at, const std::string& pin, const std::string& name, const std::string& path,
                const std::string& channel);
    void ownSupply(const project::Channel& channel);
    void keeps(const project::Channel& channel);
    void rated(const project::Channel& channel, ChannelPlan& planned);
    void clashes(const project::Channel& channel, const ExpanderPlan& at, double wanted, const std::string& whose);

    const project::Project& project_;
    Plan& plan_;
    double logic_;
};

// On a line of a board of more lines: one of those that it has, and of no other channel or input.
void ExpanderJudge::onLine(const ExpanderPlan& at, const std::string& pin, const std::string& name, const std::string& path,
                           const std::string& channel) {
    const std::string path_of_board = path.substr(0, path.rfind('/') + 1) + (channel.empty() ? "" : "drive/") + "expander_board";
    const auto box = kinds::expanderName(*at.map, at.board);
    const auto lines = linesOn(project_, plan_, at);
    const int outputs = static_cast<int>(at.map->figure("outputs"));
    std::vector<Remedy> remedies;
    for (int output = 0; output < outputs && remedies.empty(); ++output)
        if (std::none_of(lines.begin(), lines.end(), [&](const ExpanderLine& line) { return line.output == output; }))
            remedies.push_back({fmt::format("Put it at X{}", output), {{path, fmt::format("X{}", output)}}, "its plug goes there"});
    if (const double most = std::max(1.0, at.map->figure("addresses")); at.board > most)
        add({"pin-cannot", Severity::Stop,
             most > 1.0 ? fmt::format("{} lies on the {}, and a bus has addresses for {:.0f} of them.", name, box, most)
                        : fmt::format("{} lies on the {}, and on one line a second would hear what the first is told.", name, box)},
            Stage::Pins, channel, {{"The first one", {{path_of_board, "1"}}, "costs nothing"}});
    if (pin.empty())
        return add({"pins-open", Severity::Note, fmt::format("{} has no line of its {} yet.", name, box)}, Stage::Pins, channel,
                   std::move(remedies));
    if (at.output < 0)
        return add({"pin-cannot", Severity::Stop,
                    fmt::format("{} hangs on the {}, and {} is none of its lines: they are X0 to X{}.", name, box, pin, outputs - 1)},
                   Stage::Pins, channel, std::move(remedies));
    const auto first = std::find_if(lines.begin(), lines.end(), [&](const ExpanderLine& line) { return line.output == at.output; });
    if (first != lines.end() && first->path != path)
        add({"pin-taken", Severity::Stop, fmt::format("{} and {} are both on {} of the {}.", first->name, name, pin, box)}, Stage::Pins,
            channel, std::move(remedies));
}

// An input there: contacts on lines, readings at a converter.
void ExpanderJudge::input(const project::Input& input, const ExpanderPlan& at) {
    const auto box = kinds::expanderName(*at.map, at.board);
    const std::string path = "inputs/" + input.id + "/";
    onLine(at, input.pin, input.name, path + "pin", "");
    const Remedy off{"A pin of the board itself", {{path + "expander", ""}, {path + "pin", ""}}, "a pin"};
    const auto wants = project::isAnalogue(input.kind) ? driver::ExpanderGives::Readings : driver::ExpanderGives::Levels;
    if (!readsIt(*at.map, input)) {
        std::vector<Remedy> remedies{off};
        for (const auto& map : driver::registerMaps())
            if (input.kind != project::InputKind::Tach && driver::gives(map) == wants)
                remedies.insert(remedies.begin(),
                                {"On a " + kinds::expanderName(map, 1), {{path + "expander", map.id}}, "another board of more lines"});
        add({"pin-cannot", Severity::Stop,
             fmt::format("{} {}, and the {} {}.", input.name,
                         input.kind == project::InputKind::Tach ? "gives pulses that are counted as they come"
                         : project::isAnalogue(input.kind)      ? "is read as a level"
                                                                : "is on or off",
                         box,
                         driver::gives(*at.map) == driver::ExpanderGives::Readings ? "takes readings in turn"
                         : driver::gives(*at.map) == driver::ExpanderGives::Levels ? "knows on and off, asked every few milliseconds"
                                                                                   : "reads nothing")},
            Stage::Pins, "", std::move(remedies));
    }
    const auto circuit = circuitOf(project_, input);
    if (circuit.most && si(*circuit.most) > logic_ + 1e-9)
        add({"level-mismatch", Severity::Stop,
             fmt::format("{} brings up to {} to {} of the {}, which bears {}. Feed it lower, or put a divider between.", input.name,
                         display(*circuit.most, 3), input.pin, box, display(Kind::Voltage, logic_, 3))},
            Stage::Pins, "");
    plan_.pins.push_back({input.pin, input.id, "reads " + input.name, Verdict::Holds, false});
}

void ExpanderJudge::channel(const project::Channel& channel, ChannelPlan& planned) {
    const auto& at = *planned.expander;
    onLine(at, channel.pin, channel.name, "channels/" + channel.id + "/pin", channel.id);
    ownSupply(channel);
    keeps(channel);
    rated(channel, planned);
    if (at.output >= 0) plan_.pins.push_back({channel.pin, channel.id, whatItDoes(planned.signal) + channel.name, Verdict::Holds, true});
}

// Its servos have one supply between them.
void ExpanderJudge::ownSupply(const project::Channel& channel) {
    if (!channel.drive.expander.empty()) return;
    for (const auto& other : project_.channels) {
        if (&other == &channel) break;
        if (other.drive.part != channel.drive.part || other.rail == channel.rail ||
            other.drive.expander_board != channel.drive.expander_board)
            continue;
        add({"expander-rails", Severity::Stop,
             fmt::format("{} and {} hang on one servo expander, which has one supply for all its servos, and are fed from two rails.",
                         other.name, channel.name)},
            Stage::Feed, channel.id,
            {{"Feed it as " + other.name, {{"channels/" + channel.id + "/rail", other.rail}}, "one rail carries both"}});
        break;
    }
}

// Nothing but its commands takes an output back: not the board's reset, and not its hanging. Said once, for all that lie there.
void ExpanderJudge::keeps(const project::Channel& channel) {
    const bool restarts = board::family(project_.board.form).target != firmware::Target::Linux;  // the sketch feeds no watchdog there
    if (project_.board.watchdog && restarts) return;
    std::vector<std::string> names;
    for (const auto& other : project_.channels)
        if (const auto* planned = findChannel(plan_, other.id); planned != nullptr && planned->expander && !other.drive.expander.empty()) {
            if (names.empty() && &other != &channel) return;
            names.push_back(other.name);
        }
    if (names.empty()) return;
    const bool one = names.size() == 1;
    add({"expander-keeps", Severity::Warn,
         fmt::format("If the board hangs, {} {}: an expander keeps its outputs until it is told otherwise. {}.", joined(names, ", "),
                     one ? "stays as it is" : "stay as they are",
                     restarts ? "The watchdog restarts the board, which then lets them all go"
                              : "Let the system start the program anew: it then lets them all go")},
        Stage::Pins, channel.id,
        restarts ? std::vector<Remedy>{{"Let the watchdog restart it", {{"board/watchdog", "yes"}}, "costs nothing"}}
                 : std::vector<Remedy>{});
}

// It asks for another rate than the one that all of the board's outputs have.
void ExpanderJudge::clashes(const project::Channel& channel, const ExpanderPlan& at, double wanted, const std::string& whose) {
    std::vector<Remedy> remedies{{fmt::format("Use {}", display(Kind::Frequency, wanted)),
                                  {{"channels/" + channel.id + "/signal/frequency", exactText(Kind::Frequency, wanted)}},
                                  "costs nothing"}};
    if (at.board < kinds::most_alike)
        remedies.insert(remedies.begin(), {"A second such board for it",
                                           {{"channels/" + channel.id + "/drive/expander_board", std::to_string(at.board + 1)}},
                                           "another board, its address bridge closed"});
    add({"timer-clash", Severity::Stop,
         fmt::format("The {} already runs at {} for {}; {} asks {} of it. All its outputs share one frequency.",
                     kinds::expanderName(*at.map, at.board), display(at.rate->actual), whose, channel.name,
                     display(channel.signal.frequency))},
        Stage::Pins, channel.id, std::move(remedies));
}

// One rate for all outputs of a board: a servo's where one hangs on it, else what the first channel asks.
void ExpanderJudge::rated(const project::Channel& channel, ChannelPlan& planned) {
    auto& at = *planned.expander;
    if (driver::gives(*at.map) != driver::ExpanderGives::Pulses) return;
    const auto asks = rateAskedOf(project_, plan_, at);
    const double wanted = asks ? asks->rate : usual_rate;
    auto worked = driver::expanderRate(*at.map, of<Frequency>(wanted));
    if (!worked) {
        add({"frequency-out-of-reach", Severity::Stop,
             fmt::format("The {} cannot give {}: {}.", kinds::expanderName(*at.map, at.board), display(Kind::Frequency, wanted),
                         worked.error().accepted)},
            Stage::Pulse, channel.id, {{"Use 1 kHz", {{"channels/" + channel.id + "/signal/frequency", "1 kHz"}}, "costs nothing"}});
        return;
    }
    at.rate = worked->result;
    if (!worked->steps.empty())
        plan_.workings.push_back(
            {"rate of the " + kinds::expanderName(*at.map, at.board), Stage::Pulse, channel.id, worked->steps, worked->verdict});
    if (planned.signal != SignalKind::Pwm) return;
    const double asked = si(channel.signal.frequency), runs = si(at.rate->actual);
    if (!driver::isNearRate(asked, runs)) clashes(channel, at, wanted, asks->whose);
    timing::PwmTimerResult pwm;
    pwm.prescaler = of<Ratio>(at.rate->prescale + 1.0);
    pwm.steps = at.rate->counts;
    pwm.top = of<Count>(si(pwm.steps) - 1.0);
    pwm.actual_frequency = at.rate->actual;
    pwm.frequency_error = of<Fraction>(runs / asked - 1.0);
    pwm.resolution_bits = of<Ratio>(std::log2(si(pwm.steps)));
    planned.pwm = pwm;
}

}  // namespace

void judgeExpanded(const project::Project& project, const project::Parts& parts, Plan& plan, const project::Channel& channel,
                   ChannelPlan& planned) {
    ExpanderJudge(project, plan).channel(channel, planned);
    if (const double bears = planned.expander->map->figure("pin_current"); bears > 0.0)
        if (judgeGate(channel, parts, bears, board::family(project.board.form).logic, plan) && planned.expander->output >= 0)
            plan.pins.back().verdict = Verdict::Breaks;
    if (planned.pwm) judgeRhythm(channel, parts, plan, planned);
}
void judgeExpanded(const project::Project& project, Plan& plan, const project::Input& input, const ExpanderPlan& at) {
    ExpanderJudge(project, plan).input(input, at);
}

std::optional<AskedRate> rateAskedOf(const project::Project& project, const Plan& plan, const ExpanderPlan& board) {
    std::optional<AskedRate> first;
    for (const auto& planned : plan.channels) {
        if (!planned.expander || !planned.expander->sharesBoard(board)) continue;
        if (kinds::isServoPulse(planned.signal)) return AskedRate{board::servo_rate, "its servos"};
        const auto* channel = project::findChannel(project, planned.id);
        if (!first && planned.signal == SignalKind::Pwm && channel != nullptr)
            first = AskedRate{si(channel->signal.frequency), channel->name};
    }
    return first;
}

bool readsIt(const driver::RegisterMap& map, const project::Input& input) {
    return input.kind != project::InputKind::Tach &&
           driver::gives(map) == (project::isAnalogue(input.kind) ? driver::ExpanderGives::Readings : driver::ExpanderGives::Levels);
}

const char* whatItDoes(SignalKind signal) {
    return kinds::isSteps(signal)             ? "steps "
           : signal == SignalKind::ServoPulse ? "places "
           : signal == SignalKind::SpeedPulse ? "turns "
                                              : "drives ";
}

// What is seen or heard of its pulses.
void judgeRhythm(const project::Channel& channel, const project::Parts& parts, Plan& plan, const ChannelPlan& planned) {
    const auto add = [&](const Finding& finding, Stage stage, const std::string& of, std::vector<Remedy> remedies) {
        plan.findings.push_back({finding.id, finding.severity, stage, of, finding.text, std::move(remedies)});
    };
    const bool fan = planned.signal == SignalKind::FanPwm;
    const double f = si(planned.pwm->actual_frequency);
    // A lamp makes no sound at its rhythm; slow enough, it is seen.
    const auto* part = match::partOf(planned.context, parts, channel.actuator);
    const bool shines = part != nullptr && kinds::actuatorKind(*part).shines;
    if (shines && f < 100.0)
        add({"flickers", Severity::Warn,
             fmt::format("{} shines at a rhythm of {}: below 100 Hz that is seen, and strobes what moves in its light.", channel.name,
                         display(Kind::Frequency, f))},
            Stage::Pulse, channel.id,
            {{"Take 1 kHz", {{"channels/" + channel.id + "/signal/frequency", "1 kHz"}}, "a lamp makes no sound at it"}});
    if (!fan && !shines && si(channel.signal.duty) < 1.0 && isHeard(of<Frequency>(f)))
        add({"audible-pwm", Severity::Warn,
             fmt::format("{} can be heard while {} runs at {}.", display(Kind::Frequency, f), channel.name, display(channel.signal.duty))},
            Stage::Pulse, channel.id, {{"Run it at full power", {{"channels/" + channel.id + "/signal/duty", "1"}}, "it runs faster"}});
}

bool judgeGate(const project::Channel& channel, const project::Parts& parts, double pin_current, double logic, Plan& plan) {
    const auto* part = project::findDriver(parts, channel.drive.part);
    if (part == nullptr || !kinds::driverKind(*part).has("gate_resistor")) return false;
    driver::GateNetwork in;
    in.drive_voltage = of<Voltage>(logic);
    in.gate_resistor = channel.drive.gate_resistor;
    in.pulldown = channel.drive.pulldown;
    in.pulldown_side = channel.drive.pulldown_side;
    in.pin_current_max = of<Current>(pin_current);
    const auto worked = driver::gateNetwork(in);
    bool breaks = false;
    if (!worked) return breaks;
    plan.workings.push_back({"gate resistor and pull-down", Stage::Match, channel.id, worked->steps, worked->verdict});
    for (const auto& finding : worked->findings) {
        std::vector<Remedy> remedies;
        if (finding.id == "pin-overcurrent") {
            const double value = preferred(si(worked->result.smallest_gate_resistor), Series::E12, Round::Up);
            remedies.push_back({fmt::format("Use {}", displayPlain(Kind::Resistance, value)),
                                {{"channels/" + channel.id + "/drive/gate_resistor", exactText(Kind::Resistance, value)}},
                                "another resistor"});
        }
        if (finding.id == "gate-divided")
            remedies.push_back({"Pull down at the pin", {{"channels/" + channel.id + "/drive/pulldown_side", "pin"}}, "one wire moves"});
        plan.findings.push_back({finding.id, finding.severity, Stage::Match, channel.id, finding.text, std::move(remedies)});
        breaks = breaks || finding.severity == Severity::Stop;
    }
    return breaks;
}

}  // namespace hinge::plan
