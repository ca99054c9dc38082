#include "plan/deck.hpp"
#include <fmt/format.h>
#include <algorithm>
#include <set>
#include "plan/apart.hpp"
#include "plan/driven.hpp"
#include "plan/feed.hpp"
#include "plan/firmware_model.hpp"
#include "plan/input_wiring.hpp"
#include "plan/supply.hpp"
#include "plan/wiring.hpp"
#include "quantity/text.hpp"

namespace hinge::plan {
namespace {

// Letters, digits and underlines; ngspice knows no capitals.
std::string plainWord(const std::string& name) {
    std::string word;
    for (std::size_t i = 0; i < name.size(); ++i) {
        const char c = name[i];
        if ((c >= 'a' && c <= 'z') || (c >= '0' && c <= '9')) word += c;
        else if (c >= 'A' && c <= 'Z') word += static_cast<char>(c - 'A' + 'a');
        else if (c == '+') word += "plus";
        else if (name.compare(i, 3, "−") == 0) word += "minus";
        else if (!word.empty() && word.back() != '_') word += '_';
    }
    while (word.ends_with('_')) word.pop_back();
    return word.empty() ? "n" : word;
}

// What stands in a comment ends its line nowhere but there: ngspice runs commands, of the system too.
std::string inOneLine(std::string words) {
    for (char& c : words)
        if (static_cast<unsigned char>(c) < 32 || c == 127) c = ' ';
    return words;
}

std::string number(double value) {
    return fmt::format("{:.6g}", value);
}

}  // namespace

const std::string& PlainWords::of(const std::string& name) {
    auto [at, fresh] = words_.try_emplace(name);
    if (!fresh) return at->second;
    const std::string word = plainWord(name);
    std::string free = word;
    for (int times = 2; !taken_.insert(free).second; ++times) free = fmt::format("{}_{}", word, times);
    return at->second = std::move(free);
}

WireDeck::WireDeck(const std::vector<Wire>& wires) {
    for (const char* ground : {"ground", "board GND", "every source's minus"}) nodes_.set(ground, "0");
    for (const auto& wire : wires)
        if (!wire.mains) add(wire);
}

void WireDeck::add(const Wire& wire) {
    const std::string a = node(wire.from), b = node(wire.to);
    if (a == b) return;
    if (wire.diode) line(fmt::format("Dw{} {} {} d", ++count_, a, b));
    else line(fmt::format("Rw{} {} {} {}", ++count_, a, b, number(wire.through ? std::max(1e-3, si(*wire.through)) : 1e-3)));
}

namespace {

// When each channel is switched on and off again [s], and how long all of it is followed.
constexpr double on_at = 0.02, off_at = 0.22, length = 0.3;

class DeckWriter {
public:
    DeckWriter(const project::Project& project, const project::Parts& parts, const Plan& plan, const SupplyTree& tree)
        : project_(project), parts_(parts), plan_(plan), tree_(tree), deck_(gadgetWires(project, parts, plan)) {}
    std::string write();

private:
    void heading(const std::string& title) { deck_.line("\n* --- " + inOneLine(title)); }
    void remark(const std::string& words) { deck_.line("* " + inOneLine(words)); }
    void supply();
    void section(std::size_t s);
    [[nodiscard]] std::string sectionNode(std::size_t s);
    void board();
    void channel(const project::Channel& channel);
    void pins(const project::Channel& channel, const ChannelPlan& planned);
    void ends(const project::Channel& channel, const ChannelPlan& planned, const std::string& pin, const std::string& on);
    void load(const project::Channel& channel, const ChannelPlan& planned, const actuator::Part& part);
    /// @param winding  Ω; 0: not known, and the figures' own stands for it, wire and switch included
    void motor(const plant::PumpFigures& f, double winding, const std::string& plus, const std::string& minus);
    void inputs();
    void measure(const std::string& name, const std::string& what, const std::string& of);
    [[nodiscard]] double logic() const { return board::family(project_.board.form).logic; }
    const project::Project& project_;
    const project::Parts& parts_;
    const Plan& plan_;
    const SupplyTree& tree_;
    WireDeck deck_;
    PlainWords channels_, inputs_, sections_;  ///< what stands for each, by its id, behind an element's letter and in what is asked
    std::string tag_;                          ///< of the channel that is written
    std::string measured_;                     ///< .meas lines
};

void DeckWriter::measure(const std::string& name, const std::string& what, const std::string& of) {
    measured_ += fmt::format(".meas tran {} {} {} from={} to={}\n", name, what, of, number(on_at), number(off_at));
}

std::string DeckWriter::sectionNode(std::size_t s) {
    return deck_.node(tree_.network->sections()[s].feed < 0 ? tree_.names[s] + " +" : tree_.names[s]);
}

// One source or rail: a plain source behind its resistance, a wire, or a converter that holds its volts and takes from its feed.
void DeckWriter::section(std::size_t s) {
    const auto& it = tree_.network->sections()[s];
    const std::string out = sectionNode(s), at = fmt::format("s{}", s),
                      feed = it.feed < 0 ? "" : sectionNode(static_cast<std::size_t>(it.feed));
    remark(tree_.names[s]);
    std::string inner = at + "__a";
    if (it.feed < 0) deck_.line(fmt::format("V{0} {0}__a 0 {1}", at, number(it.set)));
    else if (it.regulated) {
        deck_.line(fmt::format("B{0} {0}__b 0 V=max(0,min({1},V({2})-({3})))", at, number(it.set), feed, number(it.dropout)));
        deck_.line(fmt::format("V{0} {0}__b {0}__a 0", at));
        deck_.line(fmt::format("F{0} {1} 0 V{0} {2}", at, feed, number(it.taken)));
    } else {
        deck_.line(fmt::format("V{0} {1} {0}__a 0", at, feed));
    }
    if (it.drop > 0.0) deck_.line(fmt::format("D{0} {0}__a {0}__d d", at)), inner = at + "__d";
    deck_.line(fmt::format("R{} {} {} {}", at, inner, out, number(std::max(1e-3, it.resistance))));
    if (it.bulk > 0.0) {
        deck_.line(fmt::format("C{0} {0}__c 0 {1}", at, number(it.bulk)));
        deck_.line(fmt::format("Re{0} {1} {0}__c {2}", at, out, number(std::max(1e-3, it.esr))));
    }
    measure("least_v_" + sections_.of(tree_.names[s]), "MIN", fmt::format("v({})", out));
    if (it.feed < 0) measure("most_a_" + sections_.of(tree_.names[s]), "MAX", fmt::format("par('-i(V{})')", at));
}

void DeckWriter::supply() {
    heading("sources and rails; no source is limited but by its resistance");
    for (std::size_t s = 0; s < tree_.ids.size(); ++s) section(s);
    for (std::size_t k = 0; k < tree_.standing.size(); ++k) {
        const auto& standing = tree_.standing[k];
        const auto s = static_cast<std::size_t>(standing.section);
        deck_.line(fmt::format("Ib{} {} 0 {}", k, deck_.node(tree_.names[s]), number(standing.steady)));
    }
}

void DeckWriter::board() {
    heading("board: its own volts, from its rail");
    const std::string pin = logicSupply(project_);
    const int rail = tree_.indexOf(project_.board.rail);
    // A board of 3.3 V has a regulator of its own.
    if (logic() > 4.0 && rail >= 0)
        deck_.line(fmt::format("Rboard {} {} 1m", deck_.node(tree_.names[static_cast<std::size_t>(rail)]), deck_.node(pin)));
    else deck_.line(fmt::format("Vboard {} 0 {}", deck_.node(pin), number(logic())));
    deck_.line(fmt::format("Vin_use {} 0 0", deck_.node("in use")));
}

// An upper switch by its share, the lower one in what is left but for a dead time before and after; the other end's lower one all the
// while.
void DeckWriter::ends(const project::Channel& channel, const ChannelPlan& planned, const std::string& pin, const std::string& on) {
    if (!planned.pwm || !planned.dead_time || channel.low_pin.empty()) return;
    const double period = 1.0 / si(planned.pwm->actual_frequency), dead = si(planned.dead_time->actual),
                 share = si(planned.closedFor(channel.signal.duty)), edge = std::min(20e-9, dead / 10.0);
    deck_.line(fmt::format("Vu_{0} {0}__u 0 PULSE(0 1 {1} {2} {2} {3} {4})", tag_, number(dead), number(edge), number(share * period),
                           number(period)));
    deck_.line(fmt::format("Vn_{0} {0}__n 0 PULSE(0 1 0 {1} {1} {2} {3})", tag_, number(edge), number(share * period + 2.0 * dead),
                           number(period)));
    const std::string high = number(logic());
    const auto source = [&](const char* name, const std::string& at, const std::string& level) {
        deck_.line(fmt::format("B{0}_{1} {1}__{0} 0 V={2}*{3}", name, tag_, high, level));
        deck_.line(fmt::format("R{0}_{1} {1}__{0} {2} 25", name, tag_, at));
    };
    source("high1", pin, fmt::format("{}*V({}__u)", on, tag_));
    source("low1", deck_.node("board " + channel.low_pin), fmt::format("{}*(1-V({}__n))", on, tag_));
    if (planned.switched_ends < 2) return;
    source("high2", deck_.node("board " + channel.direction_pin), "0");
    source("low2", deck_.node("board " + channel.back_low_pin), on);
}

// The pins as sources of 25 Ω, which is about what a pin of these chips has (common practice, no published source).
void DeckWriter::pins(const project::Channel& channel, const ChannelPlan& planned) {
    const std::string pin = deck_.node(pinEnd(channel, planned)), high = number(logic());
    if (si(channel.signal.soft_start) > 0.0 && (planned.signal == SignalKind::Pwm || planned.signal == SignalKind::StepRate))
        remark(
            fmt::format("its soft start over {} is not in this deck: here it starts all at once", displayPlain(channel.signal.soft_start)));
    const double lasts = planned.latch && si(*planned.latch) > 0.0 ? si(*planned.latch) : off_at - on_at;
    deck_.line(fmt::format("Von_{0} {0}__on 0 PULSE(0 1 {1} 1u 1u {2} 1)", tag_, number(on_at), number(lasts)));
    double period = 0.0, share = 1.0;
    if (planned.pwm) period = 1.0 / si(planned.pwm->actual_frequency), share = si(channel.signal.duty);
    if (planned.motion.pulse_to) period = 0.02, share = si(*planned.motion.pulse_to) / period;
    if (planned.motion.pulse_still) period = 0.02, share = si(*planned.motion.pulse_still) / period;
    if (kinds::isSteps(planned.signal)) {
        const auto rate = planned.motion.peak_rate ? planned.motion.peak_rate : planned.motion.step_rate;
        if (rate && si(*rate) > 0.0) period = 1.0 / si(*rate), share = 0.5;
    }
    std::string level = fmt::format("V({}__on)", tag_);
    const std::string on = level;
    if (period > 0.0 && share < 1.0) {
        deck_.line(fmt::format("Vp_{0} {0}__p 0 PULSE(0 1 0 {1} {1} {2} {3})", tag_, number(std::min(1e-6, period / 200.0)),
                               number(share * period), number(period)));
        level += fmt::format("*V({}__p)", tag_);
    }
    if (planned.switched_ends > 0) {
        ends(channel, planned, pin, on);
        return;
    }
    // Of two inputs the first stays high, and the second is high in the pauses.
    const std::string second = fmt::format("{}-{}", on, level);
    if (planned.two_inputs) level = on;
    deck_.line(fmt::format("Bpin_{0} {0}__pin 0 V={1}*{2}", tag_, high, planned.inverted ? "(1-" + level + ")" : level));
    deck_.line(fmt::format("Rpin_{0} {0}__pin {1} 25", tag_, pin));
    if (planned.two_inputs && !channel.direction_pin.empty())
        deck_.line(fmt::format("Bway_{} {} 0 V={}*({})", tag_, deck_.node("board " + channel.direction_pin), high, second));
    else if (!channel.direction_pin.empty()) deck_.line(fmt::format("Vway_{} {} 0 0", tag_, deck_.node("board " + channel.direction_pin)));
    if (!channel.enable_pin.empty())  // low is awake
        deck_.line(fmt::format("Ben_{0} {1} 0 V={2}*(1-V({0}__on))", tag_, deck_.node("board " + channel.enable_pin), high));
}

// A motor by its winding and its back-EMF, whose volts stand for its speed: they rise with the current that is not needed to keep it up.
void DeckWriter::motor(const plant::PumpFigures& f, double winding, const std::string& plus, const std::string& minus) {
    const double ohms = std::max(0.01, winding > 0.0 ? winding : f.resistance), henries = f.inductance > 0.0 ? f.inductance : 1e-4 * ohms;
    remark(fmt::format("a motor of {} Ω that runs with {} A and {} V of back-EMF", significant(ohms, 3), significant(f.running, 3),
                       significant(f.nominal_back, 3)));
    deck_.line(fmt::format("Rm_{0} {1} {0}__m1 {2}", tag_, plus, number(ohms)));
    deck_.line(fmt::format("Lm_{0} {0}__m1 {0}__m2 {1}", tag_, number(henries)));
    deck_.line(fmt::format("Vm_{0} {0}__m2 {0}__m3 0", tag_));
    deck_.line(fmt::format("Bm_{0} {0}__m3 {1} V=V({0}__speed)", tag_, minus));
    deck_.line(fmt::format("Fm_{0} 0 {0}__speed Vm_{0} 1", tag_));
    deck_.line(fmt::format("Rs_{0} {0}__speed 0 {1}", tag_, number(std::max(0.1, f.nominal_back) / std::max(1e-6, f.running))));
    deck_.line(fmt::format("Cs_{0} {0}__speed 0 {1}", tag_, number(std::max(1e-6, f.spin_up / ohms))));
}

void DeckWriter::load(const project::Channel& channel, const ChannelPlan& planned, const actuator::Part& part) {
    const std::string it = channel.name + " ";
    const bool across = deck_.has(it + "wire 1");
    const std::string plus = across ? it + "wire 1" : it + "+", minus = across ? it + "wire 2" : it + "−";
    const auto output = std::find_if(tree_.outputs.begin(), tree_.outputs.end(), [&](const auto& o) { return o.channel == channel.id; });
    const double running = output != tree_.outputs.end() && output->running > 0.0 ? output->running : 0.0;
    if (running <= 0.0) return remark("what it draws is not known: no load");
    const std::string rail =
        output->section >= 0 ? deck_.node(tree_.names[static_cast<std::size_t>(output->section)]) : deck_.node("in use");
    if (!deck_.has(plus)) {
        // Its driver takes what it holds its load with.
        remark(fmt::format("its driver holds {} A by itself: taken from the rail while it is on", significant(running, 3)));
        deck_.line(fmt::format("Bl_{0} {1} 0 I={2}*V({0}__on)", tag_, rail, number(running)));
        return;
    }
    const auto& kind = kinds::actuatorKind(part);
    const auto figures = plantOf(parts_, plan_, channel, false);
    const double volts = match::supplyOf(planned.context, planned.context->rails.front());
    const bool line = planned.signal == SignalKind::FanPwm || planned.signal == SignalKind::ServoPulse;
    if ((kind.load || kind.is("mover")) && figures && !line && figures->nominal_back > 0.0)
        motor(*figures, kind.winding(part).value_or(0.0), deck_.node(plus), deck_.node(minus));
    else if (volts > 0.0) {
        const double resistor = planned.chosen && planned.chosen->led_resistor ? si(*planned.chosen->led_resistor) : 0.0;
        const double ohms = std::max(0.01, volts / running - resistor);
        remark(fmt::format("{} Ω, by what it draws when it runs", significant(ohms, 3)));
        deck_.line(fmt::format("Rl_{0} {1} {0}__l {2}", tag_, deck_.node(plus), number(ohms)));
        const auto winding = kind.winding(part);
        deck_.line(fmt::format("Ll_{0} {0}__l {1} {2}", tag_, deck_.node(minus), winding && *winding > 0.0 ? number(5e-3 * ohms) : "1n"));
    }
    measure("mean_v_" + tag_, "AVG", fmt::format("par('v({})-v({})')", deck_.node(plus), deck_.node(minus)));
    if (line && deck_.has(it + "PWM wire")) {
        remark("the fan pulls its PWM wire up to 5 V by itself (4-wire fan specification, from memory)");
        deck_.line(fmt::format("Vup_{0} {0}__up 0 5", tag_));
        deck_.line(fmt::format("Rup_{0} {0}__up {1} 1.2k", tag_, deck_.node(it + "PWM wire")));
        measure("mean_v_" + tag_ + "_pwm_wire", "AVG", fmt::format("v({})", deck_.node(it + "PWM wire")));
    }
}

void DeckWriter::channel(const project::Channel& channel) {
    tag_ = channels_.of(channel.id);
    heading(channel.name);
    const auto& planned = *findChannel(plan_, channel.id);
    const auto* part = match::partOf(planned.context, parts_, channel.actuator);
    const auto* driver = project::findDriver(parts_, channel.drive.part);
    if (part == nullptr || driver == nullptr || channel.pin.empty() || !isDriven(planned))
        return remark("it is not driven yet: nothing of it is in this deck");
    if (onMains(channel)) {
        remark("it is on the mains, which is not in this deck: its pin only");
        return pins(channel, planned);
    }
    std::vector<std::string> lines;
    const auto& deck = kinds::driverKind(*driver).deck;
    if (deck) {
        deck({*driver, channel.name + " ", tag_, logic(), [this](const std::string& end) { return deck_.node(end); },
              [this](const std::string& end) { return deck_.has(end); }, lines});
        remark(driver->name);
        for (const auto& each : lines) deck_.line(each);
    } else {
        remark(std::string{"of its driver there is no model: "} + deck.without());
    }
    load(channel, planned, *part);
    pins(channel, planned);
}

// Their contacts are open; what gives volts gives none. 35 kΩ: the middle of what the board's own pull-ups have (ATmega328P data sheet:
// 20 to 50 kΩ, from memory).
void DeckWriter::inputs() {
    if (project_.inputs.empty()) return;
    heading("inputs: each contact is open, 0.1 instead of 1g closes it; what gives volts gives none");
    for (const auto& input : project_.inputs) {
        if (!project::hasPin(input.kind) || input.pin.empty()) continue;
        const std::string it = inputs_.of(input.id), pin = deck_.node(pinEnd(input));
        for (const auto& each : insideInput(project_, input)) deck_.add(each);
        if (deck_.has(input.name + " contact"))
            deck_.line(
                fmt::format("Rc_{} {} {} 1g", it, deck_.node(input.name + " contact"), deck_.node(input.name + " contact, other side")));
        if (project::pullsUp(input) && !pulledUpOutside(project_, input))
            deck_.line(fmt::format("Rp_{} {} {} 35k", it, pin, deck_.node(logicSupply(project_))));
        measure("pin_v_" + it, "AVG", fmt::format("v({})", pin));
    }
}

std::string DeckWriter::write() {
    supply();
    board();
    for (const auto& each : project_.channels) channel(each);
    inputs();
    return fmt::format(
               "* {}: its wiring as an ngspice deck. Run it with: ngspice -b THIS.cir\n"
               "* Each channel is switched on at {} s, by its pin as the sketch drives it, and off at {} s.\n"
               "* The models are of the parts' classes, by the figures of the plan: they say whether it is wired as it is meant,\n"
               "* not what a sample on the bench will do.\n"
               ".options rshunt=1e9 method=gear\n.model d d is=1e-12 rs=0.05\n\n* --- wires, as they are listed\n",
               inOneLine(project_.brief.name), number(on_at), number(off_at)) +
           deck_.body() + fmt::format("\n* --- what is asked\n.tran 20u {} 0 20u\n", number(length)) + measured_ + ".end\n";
}

}  // namespace

Result<std::string> spiceDeck(const project::Project& project, const project::Parts& parts, const Plan& plan) {
    if (plan.apart) return spiceDeck(plan.apart->project(), parts, plan.apart->plan);
    const auto tree = drawnTree(project, parts, plan);
    if (!tree || !tree->network)
        return fail(ErrorCode::Missing, "supply", "", "volts of each source, and a current of each channel that is driven");
    const auto fed = under(project, supplyOptions(project).front());
    return DeckWriter(fed, parts, plan, *tree).write();
}

}  // namespace hinge::plan
