#pragma once
// A demand of every kind.
#include <rapidcheck.h>
#include <algorithm>
#include <set>
#include "kinds/system_curve.hpp"
#include "match/rank.hpp"
#include "quantity/constants.hpp"
#include "support/demo.hpp"

namespace hinge::match {
namespace demands {

using namespace project;

// A bench: two rails, a 5 V board, 25 °C.
inline Context bench(Demand demand, double volts = 12.0) {
    Context context;
    context.demand = std::move(demand);
    context.ask = ask(context.demand);
    context.gate_resistor = of<Resistance>(330.0);
    context.rails = {{"movers", "movers", of<Voltage>(volts), of<Resistance>(0.05)}};
    context.logic_supply = of<Voltage>(5.0);
    if (const auto* load = std::get_if<SwitchDemand>(&context.demand); load != nullptr && load->power)
        context.own = ownLoad(*load, context.rails.front().volts);
    return context;
}

inline Demand lever(double mass = 0.09, double arm = 0.11, double time = 0.9) {
    TurnDemand d;
    d.mass = of<Mass>(mass);
    d.arm = of<Length>(arm);
    d.angle = of<Angle>(75.0 * constants::pi / 180.0);
    d.time = of<Duration>(time);
    d.friction = of<Torque>(0.004);
    return d;
}
inline Demand disc() {
    TurnDemand d;
    d.way = TurnWay::Disc;
    d.mass = of<Mass>(0.8);
    d.diameter = of<Length>(0.3);
    d.friction = of<Torque>(0.05);
    d.speed = of<RotationSpeed>(2.0);
    d.time = of<Duration>(1.0);
    return d;
}
inline Demand belt(double mass = 0.42) {
    MoveDemand d;
    d.mass = of<Mass>(mass);
    d.friction_coefficient = of<Ratio>(0.3);
    d.travel = of<Length>(0.62);
    d.time = of<Duration>(6.0);
    d.pulley_teeth = of<Count>(20.0);
    d.belt_pitch = of<Length>(0.002);
    return d;
}
inline Demand rain() {
    return test::demoProject().channels.front().demand;
}
inline Demand hood() {
    BlowDemand d;
    d.way = BlowWay::Hood;
    d.area = of<Area>(0.006);
    d.face_velocity = of<Speed>(1.2);
    d.pressure = of<Pressure>(8.0);
    return d;
}
inline Demand lamps(driver::ContactLoad load = driver::ContactLoad::Resistive) {
    SwitchDemand d;
    d.load = load;
    d.power = of<Power>(6.0);
    return d;
}
inline Demand mains() {
    SwitchDemand d;
    d.load = driver::ContactLoad::Lamp;
    d.feeding = Feeding::Mains;
    d.power = of<Power>(40.0);
    return d;
}
inline Demand box() {
    HeatDemand d;
    d.mass = of<Mass>(1.0);
    d.specific_heat = of<SpecificHeat>(2700.0);
    d.temperature_rise = of<TemperatureDifference>(8.0);
    d.warm_up_time = of<Duration>(1800.0);
    d.loss_conductance = of<ThermalConductance>(0.9);
    return d;
}
inline Demand plunger() {
    PressDemand d;
    d.way = PressWay::Plunger;
    d.force = of<Force>(0.8);
    d.stroke = of<Length>(0.005);
    return d;
}
inline Demand horn() {
    PressDemand d;
    d.force = of<Force>(4.0);
    d.stroke = of<Length>(0.02);
    d.horn = of<Length>(0.015);
    d.time = of<Duration>(0.5);
    return d;
}
inline Demand led() {
    SwitchDemand d;
    d.load = driver::ContactLoad::Resistive;
    d.power = of<Power>(0.02);
    return d;
}
inline std::vector<std::pair<const char*, Demand>> everyKind() {
    return {{"lever", lever()}, {"disc", disc()}, {"belt", belt()},       {"rain", rain()}, {"hood", hood()}, {"lamps", lamps()},
            {"mains", mains()}, {"box", box()},   {"plunger", plunger()}, {"horn", horn()}, {"led", led()}};
}

// ---- what a load asks ------------------------------------------------------------------------------

}  // namespace demands
}  // namespace hinge::match
