#include "simulation/faulty_gadget.hpp"
#include <algorithm>
#include <array>
#include <cmath>
#include "match/judge.hpp"
#include "plan/apart.hpp"
#include "plan/feed.hpp"
#include "plan/firmware_model.hpp"
#include "simulation/interpreted_board.hpp"

namespace hinge::simulation {
namespace {

constexpr double open_circuit = 1e9;
constexpr std::array known{"supply_dead",         "fuse_blown",     "ground_loose",   "load_wire_off",  "pin_wire_off",     "wrong_pin",
                           "pulldown_wrong_side", "driver_asleep",  "driver_dead",    "driver_shorted", "diode_reversed",   "winding_open",
                           "winding_shorted",     "jammed",         "slips",          "coils_swapped",  "current_low",      "rail_sags",
                           "sketch_other",        "board_dead",     "start_wire_off", "guard_stuck",    "tach_off",         "polarity",
                           "driver_overheats",    "fuse_small",     "share_lost",     "input_floats",   "pulses_disturbed", "lost_steps",
                           "slips_little",        "rubs",           "pwm_audible",    "tach_noisy",     "bus_pull_ups",     "bus_swapped",
                           "bus_unpowered",       "select_off",     "serial_crossed", "driver_flags",   "led_reversed",     "crossings_off",
                           "mains_other",         "crossings_lost", "half_waves",     "way_wire_off",   "half_dead"};

// What a channel is made of, as far as faults go.
struct Nature {
    bool driven = false, rail = false, driver = false, mosfet = false, contact = false, sleeper = false, wound = false, mover = false,
         coupled = false, stepper = false, reversible = false, started = false, guarded = false, held = false;
    bool servo = false, dimmed = false, whines = false, bus = false, serial = false, inverted = false, led = false, fires = false,
         turned = false;
};
Nature natureOf(const project::Project& project, const project::Parts& parts, const plan::Plan& plan, const project::Channel& channel) {
    Nature n;
    const auto& planned = *plan::findChannel(plan, channel.id);
    const auto* part = match::partOf(planned.context, parts, channel.actuator);
    const auto* driver = project::findDriver(parts, channel.drive.part);
    n.driven = plan::isDriven(planned);
    n.rail = !plan::onMains(channel);
    n.inverted = planned.inverted;
    n.fires = planned.signal == plan::SignalKind::PartWaves;
    n.bus = planned.expander && planned.expander->map->bus == driver::RegisterBus::TwoWire;
    n.turned = planned.both_ways && !plan::isPulsed(planned) && routine::turnsRound(project.routine, channel.id);
    if (driver != nullptr && !kinds::driverKind(*driver).from_pin) {
        const auto is = [&](std::string_view trait) { return kinds::driverKind(*driver).is(trait); };
        n.driver = true;
        n.mosfet = is("mosfet") && n.rail;
        n.contact = is("contact");
        n.sleeper = is("sleeper");
        n.serial = is("serial");
    }
    if (part != nullptr && n.rail) {
        const auto is = [&](std::string_view trait) { return kinds::actuatorKind(*part).is(trait); };
        n.stepper = is("stepper");
        n.wound = is("wound");
        n.mover = is("mover");
        n.coupled = is("coupled");
        n.reversible = is("reversible");
        n.servo = is("servo");
        n.led = kinds::isLed(*part);
        const bool chopped = planned.signal == plan::SignalKind::Pwm;
        n.dimmed = chopped || planned.signal == plan::SignalKind::FanPwm;
        n.whines = is("whines") && chopped && plan::isHeard(channel.signal.frequency);
    }
    for (const auto& cue : project.routine.cues) {
        if (std::none_of(cue.moves.begin(), cue.moves.end(), [&](const routine::Move& move) { return move.channel == channel.id; }))
            continue;
        n.started = n.started || !cue.input.empty();
        n.bus = n.bus || (!cue.times.empty() && project.board.clock != project::BusClock::None);
        n.guarded = n.guarded || !cue.guards.empty();
    }
    for (const auto& interlock : project.routine.interlocks)
        n.guarded = n.guarded || (interlock.channel == channel.id && !interlock.input.empty());
    for (const auto& loop : project.routine.loops)
        if (loop.channel == channel.id)
            if (const auto* input = project::findInput(project, loop.input)) n.held = n.held || input->kind == project::InputKind::Tach;
    return n;
}

bool canHave(const Nature& n, std::string_view fault) {
    // The chain below is that of a load behind its switch; a line of its own beside the power fails otherwise.
    if (n.inverted && (fault == "pin_wire_off" || fault == "wrong_pin" || fault.starts_with("driver_"))) return false;
    if (fault == "supply_dead") return true;
    if (fault == "fuse_blown" || fault == "load_wire_off" || fault == "rail_sags") return n.rail;
    if (fault == "ground_loose" || fault == "pin_wire_off" || fault == "wrong_pin" || fault == "sketch_other" || fault == "board_dead")
        return n.driven;
    if (fault == "pulldown_wrong_side" || fault == "diode_reversed") return n.mosfet;
    if (fault == "driver_asleep") return n.sleeper;
    if (fault == "driver_dead") return n.driver;
    if (fault == "driver_shorted") return n.driver && !n.sleeper;
    if (fault == "winding_open" || fault == "winding_shorted") return n.wound;
    if (fault == "led_reversed") return n.led;
    if (fault == "crossings_off" || fault == "mains_other" || fault == "crossings_lost" || fault == "half_waves") return n.fires;
    if (fault == "way_wire_off" || fault == "half_dead") return n.turned;
    if (fault == "jammed") return n.mover;
    if (fault == "slips") return n.coupled;
    if (fault == "coils_swapped" || fault == "current_low") return n.stepper;
    if (fault == "start_wire_off") return n.started;
    if (fault == "guard_stuck") return n.guarded;
    if (fault == "tach_off") return n.held;
    if (fault == "driver_overheats") return n.driver && !n.contact && n.rail;
    if (fault == "fuse_small") return n.rail;
    if (fault == "share_lost") return n.dimmed;
    if (fault == "input_floats") return n.started;
    if (fault == "pulses_disturbed") return n.servo;
    if (fault == "lost_steps") return n.stepper;
    if (fault == "slips_little") return n.coupled;
    if (fault == "rubs") return n.mover;
    if (fault == "pwm_audible") return n.whines;
    if (fault == "tach_noisy") return n.held;
    if (fault == "bus_pull_ups" || fault == "bus_swapped" || fault == "bus_unpowered") return n.bus;
    if (fault == "select_off" || fault == "serial_crossed" || fault == "driver_flags") return n.serial;
    return fault == "polarity" && n.reversible;
}

}  // namespace

std::vector<Fault> FaultyGadget::possible(const project::Project& project, const project::Parts& parts, const plan::Plan& plan) {
    if (plan.apart) return possible(plan.apart->project(), parts, plan.apart->plan);
    std::vector<Fault> list;
    for (const auto& channel : project.channels) {
        const auto nature = natureOf(project, parts, plan, channel);
        for (const char* fault : known)
            if (canHave(nature, fault)) list.push_back({fault, channel.id});
    }
    return list;
}

bool FaultyGadget::apply(Chain& c, const std::string& fault) {
    if (fault == "supply_dead") c.supply_on = false;
    else if (fault == "fuse_blown") c.fuse = false;
    else if (fault == "ground_loose") c.ground = false;
    else if (fault == "load_wire_off") c.load_wire = false;
    else if (fault == "pin_wire_off") c.pin_wire = false;
    else if (fault == "wrong_pin") c.pin_right = false;
    else if (fault == "pulldown_wrong_side") c.gate_share = 0.55;  // a pull-down of about the series resistor's size
    else if (fault == "driver_asleep") c.awake = false;
    else if (fault == "driver_dead") c.driver_open = true;
    else if (fault == "driver_shorted") c.driver_short = true;
    else if (fault == "diode_reversed") c.diode_reversed = true;
    else if (fault == "winding_open" || fault == "led_reversed") c.winding = open_circuit;
    else if (fault == "winding_shorted") c.winding *= 0.15;
    else if (fault == "jammed") c.jammed = true;
    else if (fault == "slips") c.slips = true;
    else if (fault == "coils_swapped") c.coils = false;
    else if (fault == "current_low") c.weak_current = true;
    else if (fault == "rail_sags")
        c.source = std::max(c.source, 0.35 * c.supply / std::max(1e-3, c.planned));  // a third is lost at the planned current
    else if (fault == "sketch_other") c.plan_same = false;
    else if (fault == "board_dead") c.board_fed = false;
    else if (fault == "tach_off") c.tach = false;
    else if (fault == "polarity") c.reversed = true;
    else if (fault == "driver_overheats")
        c.trip = 125.0, c.rise = 1.5 * c.trip / std::max(1e-4, c.planned * c.planned * c.on_resistance);  // no air and no copper round it
    else if (fault == "fuse_small") c.fuse_holds = 0.6 * c.planned;
    else if (fault == "share_lost") c.pwm = false;
    else if (fault == "pulses_disturbed") c.coupled_noise = 2.0;
    else if (fault == "lost_steps") c.pull_out = 0.5;
    else if (fault == "slips_little") c.slip = 0.02;
    else if (fault == "rubs") c.scrapes = true;
    else if (fault == "pwm_audible") return c.whine > 0.0;
    else if (fault == "tach_noisy") c.tach_wild = true;
    else if (fault == "bus_pull_ups") c.pull_ups = false;
    else if (fault == "bus_swapped") c.bus_right = false;
    else if (fault == "bus_unpowered") c.bus_fed = false;
    else if (fault == "select_off") c.select = false;
    else if (fault == "serial_crossed") c.serial_right = false;
    else if (fault == "driver_flags") c.flagged = true;
    else if (fault == "crossings_off") c.crossings = false;
    else if (fault == "mains_other") c.mains_right = false;
    else if (fault == "crossings_lost") c.crossings_steady = false;
    else if (fault == "half_waves") c.both_halves = false;
    else if (fault == "way_wire_off") c.way_line = false;
    else if (fault == "half_dead") c.other_half = false;
    else return fault == "start_wire_off" || fault == "guard_stuck" || fault == "input_floats";
    return true;
}

// The routine itself, with its input silent or its guard stuck: does the channel come on when it is started?
void FaultyGadget::runRoutine(const project::Project& project, const plan::Plan& plan, const Fault& fault) {
    if (!plan.program) return;
    const auto& program = *plan.program;
    InterpretedBoard board(program, {}, project.brief.name, "practice");
    const auto index = [&](const std::string& id) {
        for (std::size_t i = 0; i < program.inputs.size(); ++i)
            if (program.inputs[i].id == id) return static_cast<int>(i);
        return -1;
    };
    int output = -1;
    for (std::size_t o = 0; o < program.outputs.size(); ++o)
        if (program.outputs[o].id == fault.channel) output = static_cast<int>(o);
    std::string start, guard;
    double longest = 2.0;
    for (const auto& cue : project.routine.cues) {
        if (std::none_of(cue.moves.begin(), cue.moves.end(), [&](const routine::Move& move) { return move.channel == fault.channel; }))
            continue;
        if (start.empty()) start = cue.input;
        for (const auto& each : cue.guards)
            if (guard.empty() && !each.only) guard = each.input;
        for (const auto& move : cue.moves)
            if (move.time && move.action == routine::Action::Wait) longest += si(*move.time);
    }
    for (const auto& interlock : project.routine.interlocks)
        if (guard.empty() && interlock.channel == fault.channel) guard = interlock.input;
    if (fault.id == "guard_stuck" && index(guard) >= 0) board.setInput(index(guard), true);
    board.advance(0.5);
    if (fault.id == "input_floats" && index(start) >= 0) {
        // It picks up hum and bursts: a level that holds longer than any debouncing now and then. Nobody presses anything.
        std::uint32_t dice = 12345;
        for (int i = 0; i < 400; ++i) {
            dice = dice * 1664525u + 1013904223u;
            board.setInput(index(start), (dice >> 24) % 2 != 0);
            board.advance(0.02 + 0.2 * ((dice >> 16 & 255u) / 255.0));
            untouched_ = untouched_ || board.state().input(static_cast<std::size_t>(index(start))).active != 0;
        }
        board.setInput(index(start), false);
        board.advance(0.5);
    }
    const bool silent = fault.id == "start_wire_off";
    if (index(start) >= 0 && !silent) board.setInput(index(start), true);
    bool on = output >= 0 && program.followers.empty() == false &&
              std::any_of(program.followers.begin(), program.followers.end(),
                          [&](const routine::ProgramFollower& follower) { return follower.output == output; }) &&
              fault.id != "guard_stuck";
    const auto seen = [&] { return output >= 0 && routine::isOn(program, board.state(), static_cast<std::size_t>(output)); };
    // What a cue waits for comes: the others do what they should.
    const auto comes = [&] {
        for (std::size_t c = 0; c < program.cues.size(); ++c) {
            const auto place = board.state().cue(c).place;
            if (place < 0 || static_cast<std::size_t>(place) >= program.cues[c].instructions.size()) continue;
            const auto& step = program.cues[c].instructions[static_cast<std::size_t>(place)];
            if (step.operation == routine::Operation::Until || step.operation == routine::Operation::Home)
                board.setInput(step.input, step.wanted);
        }
    };
    for (double t = 0.0; t < std::min(30.0, longest) && !on; t += 0.05) {
        comes();
        board.advance(0.05);
        on = seen();
    }
    input_shows_ = index(start) < 0 || board.state().input(static_cast<std::size_t>(index(start))).active != 0;
    forbidden_ = index(guard) >= 0 && board.state().input(static_cast<std::size_t>(index(guard))).active != 0;
    cue_runs_ = on;
}

Result<FaultyGadget> FaultyGadget::make(const project::Project& project, const project::Parts& parts, const plan::Plan& plan,
                                        const Fault& fault) {
    if (plan.apart) return make(plan.apart->project(), parts, plan.apart->plan, fault);
    const auto* channel = project::findChannel(project, fault.channel);
    if (channel == nullptr) return fail(ErrorCode::Unknown, "channel", fault.channel, "a channel of the project");
    const auto nature = natureOf(project, parts, plan, *channel);
    if (!canHave(nature, fault.id)) return fail(ErrorCode::Unknown, "fault", fault.id, "a fault that this channel can have");
    FaultyGadget gadget;
    auto& c = gadget.chain_;
    const auto& planned = *plan::findChannel(plan, channel->id);
    const auto* part = match::partOf(planned.context, parts, channel->actuator);
    const auto* driver = project::findDriver(parts, channel->drive.part);
    const double volts = planned.context->rails.empty() ? match::unknown : match::supplyOf(planned.context, planned.context->rails.front());
    if (volts > 0.0) c.supply = volts;
    if (!planned.context->rails.empty()) c.source = std::max(0.02, si(planned.context->rails.front().wire));
    if (planned.chosen && planned.chosen->running) c.running = c.planned = std::max(0.01, si(*planned.chosen->running));
    c.logic = board::family(project.board.form).logic;
    c.floor = 0.76 * c.logic;
    if (driver != nullptr && driver->on_resistance) c.on_resistance = std::max(0.005, si(*driver->on_resistance));
    c.turns = nature.mover;
    c.stepper = nature.stepper;
    c.two_inputs = planned.two_inputs;
    c.on_bus = planned.expander && planned.expander->map->bus == driver::RegisterBus::TwoWire;
    c.looped = nature.held;
    if (nature.whines) c.whine = si(channel->signal.frequency);
    const auto stalled = planned.chosen ? planned.chosen->stalled : std::nullopt;
    c.winding = c.planned_winding = stalled && si(*stalled) > 0.0 ? c.supply / si(*stalled) : c.supply / c.planned;
    // What is chopped to a current shows its winding by no stall.
    if (part != nullptr && nature.stepper)
        if (const auto ohms = kinds::windingOf(*part); ohms && *ohms > 0.0) c.winding = c.planned_winding = *ohms;
    for (const auto& other : plan.channels)
        if (other.id != channel->id && other.chosen && other.chosen->running) gadget.others_ += si(*other.chosen->running);
    // Where the board hangs on the same source, what pulls that down pulls the board down.
    const auto* rail = project::findRail(project, channel->rail);
    const auto* own = project::findRail(project, project.board.rail);
    c.same_rail = rail != nullptr && own != nullptr && rail->id == own->id;
    c.logic_from_supply = rail != nullptr && own != nullptr &&
                          (rail->from == own->from || own->from == rail->id || rail->from == own->id || rail->id == own->id);
    gadget.noisy_ = fault.id == "pwm_audible";
    if (!apply(c, fault.id)) return fail(ErrorCode::Unknown, "fault", fault.id, "a fault that is known");
    gadget.runRoutine(project, plan, fault);
    return gadget;
}

FaultyGadget::State FaultyGadget::solve(bool told, bool alone, double slowness) const {
    const auto& c = chain_;
    State s;
    const double feed = c.supply_on ? c.supply : 0.0;
    s.logic = c.supply_on && c.board_fed ? c.logic : 0.0;
    s.alive = s.logic > c.floor;
    s.cue = told && s.alive && c.plan_same && cue_runs_;
    s.pin = s.cue && c.crossings && c.mains_right ? c.logic : 0.0;
    // The gate against the driver's own ground: without it nothing flows into the gate.
    s.gate = c.pin_wire && c.pin_right && c.ground ? s.pin * c.gate_share : 0.0;
    const double share = s.gate / c.logic;
    const double conducts = c.on_bus && (!c.pull_ups || !c.bus_right || !c.bus_fed) ? 0.0
                            : !c.select || !c.serial_right || c.flagged             ? 0.0
                            : c.driver_short                                        ? 1.0
                            : c.driver_open || !c.awake                             ? 0.0
                            : share >= c.enough                                     ? 1.0
                            : share > c.threshold                                   ? (share - c.threshold) / (c.enough - c.threshold)
                                                                                    : 0.0;
    double rail = c.fuse ? feed : 0.0;
    // The rest of the gadget draws through the same source.
    const double besides = alone || !told ? 0.0 : 0.3 * others_;
    if (c.diode_reversed && conducts > 0.0) {
        // The rail over a diode and the switch.
        s.current = std::max(0.0, rail - 0.8) / (c.source + c.on_resistance + 0.05);
        s.rail = rail - s.current * c.source;
        s.heat = s.current * s.current * c.on_resistance;
    } else {
        const bool loop_closed = c.load_wire && c.winding < open_circuit / 2.0 && c.ground;
        const double stall = rail / (c.winding + c.source + c.on_resistance), factor = c.winding / c.planned_winding;
        double wanted = c.running;
        if (c.stepper) {
            wanted = c.planned * (c.weak_current ? 0.3 : 1.0);
            if (factor < 0.5) wanted = c.planned * 2.5;
        } else if (factor < 0.5 || c.jammed) {
            wanted = c.turns || factor < 0.5 ? stall : c.running;
        } else if (c.slips) {
            wanted = 0.4 * c.running;
        }
        // A servo holds and hums against what holds it; what is wound can be stalled.
        s.current = loop_closed && rail > 0.05 * c.supply ? conducts * std::min(wanted, std::max(stall, wanted * 0.5)) : 0.0;
        if (conducts > 0.0 && conducts < 1.0) s.current *= 0.6;
        s.rail =
            std::max(0.0, rail - (s.current + besides * (c.source > 0.1 * c.supply / std::max(0.01, c.planned) ? 1.0 : 0.1)) * c.source);
        const double drop = conducts > 0.0 && conducts < 1.0 ? 0.5 * s.rail : s.current * c.on_resistance;
        s.across = conducts > 0.0 && c.ground ? std::max(0.0, s.rail - drop) : 0.0;
        s.heat = s.current * drop;
    }
    if (c.diode_reversed && conducts > 0.0) s.across = s.rail - s.current * c.on_resistance;
    // Across the part's own terminals: with a wire to it off there is nothing, whatever the driver gives.
    if (!c.load_wire) s.across = 0.0;
    // Half of the power: the rms of every other half-wave.
    if (!c.both_halves) s.across *= std::sqrt(0.5), s.current *= std::sqrt(0.5);
    // On the same rail the board loses what the part loses; on the same source only what its wires drop.
    const double shared = c.same_rail ? s.rail : std::max(0.0, feed - s.current * c.source);
    if (c.logic_from_supply && c.board_fed)
        s.logic = std::min(s.logic, std::max(0.0, shared - (c.supply > c.logic + c.dropout ? c.dropout : 0.0)));
    s.resets = told && s.cue && s.logic < c.floor;
    // Does it turn? It needs its volts, its current, its freedom, and both coils.
    const double strength = c.supply > 0.0 ? s.across / c.supply : 0.0;
    const bool pushed = s.current > 0.5 * (c.slips ? 0.4 : 1.0) * c.running * (c.weak_current ? 0.3 : 1.0) && !c.diode_reversed;
    if (pushed && !c.jammed && c.coils && c.winding > 0.5 * c.planned_winding) s.speed = std::min(1.0, strength);
    if (c.stepper && c.weak_current && slowness < 5.0) s.speed = 0.0;  // it has strength only when it is slow
    if (c.looped && !c.tach && s.speed > 0.0) s.speed = 2.0;           // the loop gives all it has
    s.sound = s.current > 0.15 * c.running && c.turns;
    s.trips = s.current * s.current * c.on_resistance * c.rise > c.trip;
    s.opens = s.current > c.fuse_holds;
    return s;
}

std::string FaultyGadget::symptom() const {
    const auto off = solve(false), on = solve(true);
    if (off.across > 0.3 * chain_.supply && off.current > 0.0) return "runs_on";
    if (!chain_.pull_ups || !chain_.bus_right || !chain_.bus_fed || !chain_.select || !chain_.serial_right) return "bus";
    if (untouched_) return "random";
    if (on.resets) return "resets";
    if (chain_.tach_wild) return "storm";
    // The others' current on its signal wire against half of a pulse's height.
    if (on.speed > 0.0 && chain_.coupled_noise * others_ > 0.1 * chain_.logic) return "random";
    if (on.speed > 0.0 && (on.trips || on.opens || !chain_.crossings_steady)) return "stops";
    if (on.speed > 0.0 && !chain_.pwm) return "on_off";
    if (on.speed > 0.0 && (chain_.pull_out < 1.0 || chain_.slip > 0.0)) return "drifts";
    if (on.speed > 0.0 && (chain_.scrapes || (noisy_ && chain_.whine > 0.0))) return "noise";
    if (on.speed > 1.3) return "too_fast";
    if (on.speed > 0.0 && (!chain_.way_line || !chain_.other_half)) return "one_way";
    if (on.speed > 0.0 && chain_.reversed) return "wrong_way";
    if (on.speed > 0.0 && chain_.slips) return "spins";
    if (on.speed > 0.0 && on.heat > 0.25 * chain_.supply * chain_.planned) return on.speed < 0.75 ? "weak" : "hot";
    if (on.speed > 0.0) return on.speed < 0.75 ? "weak" : "hot";
    return on.sound && chain_.turns ? "hums" : "nothing";
}

std::string FaultyGadget::answer(const std::string& test) const {
    const auto& c = chain_;
    const auto off = solve(false), on = solve(true);
    const auto volts = [](double value, double planned) { return value < 0.2 * planned ? "dead" : value < 0.9 * planned ? "low" : "ok"; };
    if (test == "link") return on.alive ? "yes" : "no";
    if (test == "plan_mark") return !on.alive ? "none" : c.plan_same ? "same" : "other";
    if (test == "cue") return on.cue ? "yes" : "no";
    if (test == "input_seen") return on.alive && input_shows_ ? "yes" : "no";
    if (test == "forbids") return on.alive && forbidden_ ? "yes" : "no";
    if (test == "resets") return on.resets ? "sometimes" : "never";
    if (test == "logic_volts") return volts(on.logic, c.logic);
    if (test == "rail_volts") return volts(off.rail, c.supply);
    if (test == "rail_loaded") return on.opens || on.rail < 0.9 * c.supply ? "sags" : "ok";
    if (test == "pin") return on.pin > 0.5 * c.logic ? "high" : "low";
    if (test == "driver_in") return on.gate > 0.85 * c.logic ? "full" : on.gate > 0.2 * c.logic ? "part" : "none";
    if (test == "driver_out")
        return off.across > 0.3 * c.supply   ? "always"
               : on.across > 0.85 * c.supply ? "full"
               : on.across > 0.15 * c.supply ? "part"
                                             : "none";
    if (test == "current")
        return on.current < 0.05 * c.planned  ? "none"
               : on.current < 0.6 * c.planned ? "low"
               : on.current > 1.8 * c.planned ? "stalled"
                                              : "planned";
    if (test == "winding")
        return c.winding > 100.0 * c.planned_winding || !c.coils ? "open" : c.winding < 0.5 * c.planned_winding ? "short" : "planned";
    if (test == "wires") return c.load_wire && c.ground && c.pin_wire ? "whole" : "broken";
    if (test == "wire") return !c.pin_wire ? "off" : !c.pin_right ? "elsewhere" : "right";
    if (test == "diode") return c.diode_reversed ? "reversed" : "right";
    if (test == "enable") return c.awake ? "awake" : "asleep";
    if (test == "by_hand")
        return c.jammed                                            ? "stiff"
               : c.slips || c.slip > 0.0                           ? "loose"
               : c.winding < 0.5 * c.planned_winding && !c.stepper ? "stiff"
                                                                   : "free";  // a shorted winding brakes
    if (test == "touch") return on.trips || (on.heat > 0.1 * c.supply * c.planned && on.current > 0.0) ? "hot" : "cool";
    if (test == "slowly") return solve(true, false, 10.0).speed > 0.0 ? "moves" : "same";
    if (test == "alone") {
        const auto lone = solve(true, true);
        const bool other = untouched_ || lone.trips || lone.opens || !c.pwm || c.pull_out < 1.0 || c.slip > 0.0 || c.scrapes || noisy_ ||
                           c.tach_wild || !c.crossings_steady || !c.way_line || !c.other_half;
        return lone.speed >= 0.75 && lone.speed < 1.3 && !lone.resets && !c.reversed && !c.slips && !other ? "works" : "same";
    }
    if (test == "reading") return c.tach_wild ? "wild" : c.tach && on.speed > 0.0 ? "follows" : "stuck";
    if (test == "rest") return on.trips || on.opens ? "again" : "no";
    if (test == "mains_said" && on.alive)
        return !c.crossings ? "none" : !c.mains_right ? "other" : !c.crossings_steady ? "lost" : "in_step";
    if (test == "full_on" && on.speed > 0.0) return c.both_halves ? "full" : "half";
    // Sent the other way with its line at the pull-down: a direction that is low goes as before, a second input that is low, with the first
    // low for all of the time too, lets it coast.
    if (test == "other_way" && on.speed > 0.0)
        return !c.other_half || (!c.way_line && c.two_inputs) ? "stands" : !c.way_line ? "same" : "turns";
    if (test == "way_line" && on.cue) return c.way_line ? "high" : "low";
    if (test == "half") return c.pwm ? "half" : "full";
    if (test == "untouched") return untouched_ ? "changes" : "steady";
    if (test == "marks") return c.pull_out < 1.0 || c.slip > 0.0 || c.slips ? "off" : "same";
    if (test == "marks_slowly") return c.pull_out < 0.1 || c.slip > 0.0 || c.slips ? "off" : "same";
    if (test == "listen") return c.scrapes || c.jammed ? "scrapes" : "quiet";
    if (test == "pitch") return noisy_ && c.whine > 0.0 ? "gone" : "same";
    if (test == "bus_lines") return c.pull_ups && on.alive ? "high" : "low";
    if (test == "bus_wires") return c.bus_right && c.serial_right ? "right" : "swapped";
    if (test == "bus_power") return c.bus_fed && on.alive ? "ok" : "dead";
    // A line without a driver reads as what pulls it: ones; crossed lines answer themselves.
    if (test == "known_register") return c.select && c.serial_right && on.alive ? "right" : c.select ? "zeros" : "ones";
    if (test == "write_back") return c.select && c.serial_right && on.alive ? "same" : "other";
    if (test == "select") return c.select && on.alive ? "falls" : "still";
    if (test == "fault_flag") return c.flagged ? "set" : "clear";
    if (test == "one_step")
        return on.current > 0.1 * c.planned && !c.jammed && c.coils && c.winding > 0.5 * c.planned_winding && c.winding < open_circuit / 2.0
                   ? "yes"
                   : "no";
    if (test == "direct") {
        const double rail = c.fuse && c.supply_on ? c.supply : 0.0;
        const bool circuit = rail > 0.0 && c.winding < open_circuit / 2.0;  // its own wires are put on the rail: the harness is out of it
        return !circuit ? "nothing" : c.jammed || c.winding < 0.5 * c.planned_winding ? "hums" : "runs";
    }
    return {};
}

}  // namespace hinge::simulation
