#include "kinds/drivers/bridge.hpp"
#include "driver/current_sense.hpp"

namespace hinge::kinds::bridge {

double drop(const driver::DriverPart& part, double amps) {
    return part.saturation_voltage ? si(*part.saturation_voltage) : transistor::channelDrop(part, amps);
}

double path(const driver::DriverPart& part) {
    if (part.on_resistance) return si(*part.on_resistance);
    // What a bipolar bridge keeps, as a resistance at what it carries for long.
    return part.saturation_voltage && part.current_max ? si(*part.saturation_voltage) / si(*part.current_max) : 0.1;
}

bool judge(const Driven& d, Numbers& n) {
    if (!d.driver.saturation_voltage && !d.driver.on_resistance) {
        n.incomplete = true;
        return false;
    }
    n.heat = n.winding * drop(d.driver, n.winding) * si(d.c.signal.duty) * d.share;
    return true;
}

void show(const Driven& d, const Showing& show) {
    if (!d.driver.saturation_voltage && !d.driver.on_resistance) return;
    driver::HBridgeLoss in;
    in.current = of<Current>(show.out.numbers.winding);
    if (d.driver.saturation_voltage) in.drop = d.driver.saturation_voltage;
    else in.on_resistance = of<Resistance>(si(*d.driver.on_resistance) * transistor::hot);
    in.supply = of<Voltage>(d.rail);
    in.duty = of<Fraction>(si(d.c.signal.duty) * d.share);
    show.add("heat of the bridge", project::Stage::Match, driver::hBridgeLoss(in));
}

std::string highInput(int end) {
    return end == 0 ? "HIGH" : "HIGH " + std::to_string(end);
}
std::string lowInput(int end) {
    return end == 0 ? "LOW" : "LOW " + std::to_string(end);
}

void switchWires(const Wiring& w, const std::string& box, int end, const std::string& upper, const std::string& lower) {
    const auto line = [&](const std::string& pin, const std::string& input, const char* note) {
        if (pin.empty()) return;  // that it has none yet is said in Pins
        w.wire("board " + pin, w.it + box + " " + input, note);
        w.pullDown("board " + pin, of<Resistance>(10e3));
    };
    line(upper, highInput(end), "high closes the upper switch; never while the lower one of its end is closed");
    line(lower, lowInput(end), "high closes the lower switch; its pull-down keeps it open while the board starts");
}

std::vector<LoneCheck> unloaded(const Alone& a, const std::string& box, const std::string& where) {
    if (!a.volts || a.signal != SignalKind::Pwm) return {};
    const bool apart = switchedEnds(a.driver) > 0;
    LoneCheck check{"bridge", box + ", nothing on it",
                    std::string{"Motor unplugged"} + (apart ? ", the supply limited to a tenth of an ampere" : "") +
                        ". Load its test sketch, say run, and measure " + where + ".",
                    "hand on the plug", "voltmeter on DC; it shows the mean of the pulses and draws next to nothing"};
    check.expected = *a.volts * a.share;
    check.least = 0.9 * check.expected, check.most = 1.05 * check.expected;
    check.reason = "the rail's volts by the share that it is on; without current nothing is dropped";
    check.abort =
        apart ? "The supply goes into its limit: both switches of an end are closed. Pull the plug, and look at all their inputs' wires."
              : "The bridge gets warm with nothing on it: it is shorted, or both halves conduct. Pull the plug.";
    return {check};
}

void protection(const Fitting& f) {
    f.list.push_back({"bulk capacitor", "100 µF or more, 1.5 times the rail's volts", "across " + f.rail.name + " at the bridge",
                      "a braking motor pushes current back"});
}

}  // namespace hinge::kinds::bridge
