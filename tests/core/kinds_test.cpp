// The kinds: each says something to every question, and a new one is one file that walks through all ten stages.
#include <set>
#include "kinds/actuator_kind.hpp"
#include "kinds/demand_kind.hpp"
#include "match/ability.hpp"
#include "plan/calibration.hpp"
#include "plan/firmware_model.hpp"
#include "plan/machines.hpp"
#include "plan/wiring.hpp"
#include "proof/bring_up.hpp"
#include "proof/fault_finder.hpp"
#include "proof/inspection.hpp"
#include "report/packet.hpp"
#include "simulation/simulate.hpp"
#include "support/alone.hpp"

namespace hinge::kinds {
namespace toy_magnet {
extern const ActuatorKind kind;
}
namespace toy_switch {
extern const DriverKind kind;
}
namespace {

using driver::DriverClass;

TEST(Kinds, sayOneThingToEveryQuestion) {
    int said = 0;
    const auto hear = [&](const auto& kind, const std::string& whose) {
        kind.eachFacet([&](const char* name, const auto& facet) {
            ++said;
            EXPECT_TRUE(facet.said()) << whose << ": " << name << " is neither answered nor refused with a reason";
            if (facet.without() != nullptr) {
                EXPECT_GT(std::string{facet.without()}.size(), 10U) << whose << ": " << name;
            }
        });
    };
    for (const auto* kind : driverKinds()) hear(*kind, kind->label);
    for (const auto* kind : actuatorKinds()) hear(*kind, kind->label);
    for (const auto* kind : demandKinds()) hear(*kind, labelOf(kind->of));
    EXPECT_EQ(said, 16 * 10 + 8 * 29 + 7 * 7);
}

TEST(Kinds, standInTheRegistryOnce) {
    ASSERT_EQ(driverKinds().size(), Names<DriverClass>::all.size());
    for (std::size_t i = 0; i < driverKinds().size(); ++i) {
        EXPECT_EQ(static_cast<std::size_t>(driverKinds()[i]->of), i);
        EXPECT_STREQ(driverKinds()[i]->label, labelOf(driverKinds()[i]->of));
        EXPECT_NE(driverKinds()[i]->drives != 0U, driverKinds()[i]->of == DriverClass::IoExpander)
            << driverKinds()[i]->label << " drives nothing";
    }
    ASSERT_EQ(actuatorKinds().size() + 1, std::variant_size_v<actuator::Part>) << "behind them only actuator::Other";
    std::set<std::string> files;
    for (std::size_t i = 0; i < actuatorKinds().size(); ++i) {
        const auto blank = actuatorKinds()[i]->blank();
        EXPECT_EQ(blank.index(), i) << actuatorKinds()[i]->label;
        EXPECT_EQ(&actuatorKind(blank), actuatorKinds()[i]);
        EXPECT_TRUE(files.insert(actuatorKinds()[i]->file).second);
    }
}

TEST(Kinds, ofDemandsStandInTheirOrder) {
    ASSERT_EQ(demandKinds().size(), std::variant_size_v<project::Demand>);
    for (const auto& name : Names<project::ChannelKind>::all) {
        const auto demand = project::freshDemand(name.value);
        EXPECT_EQ(demandKind(demand).of, name.value) << name.id;
    }
}

// What drives what, by hand. Common practice, no published source.
TEST(Kinds, driveWhatTheyAreMadeFor) {
    using M = Method;
    const std::map<DriverClass, std::set<M>> table{
        {DriverClass::Mosfet, {M::OneWay, M::Light}},
        {DriverClass::Npn, {M::OneWay, M::Light}},
        {DriverClass::Darlington, {M::OneWay, M::Light}},
        {DriverClass::HighSide, {M::OneWay, M::Light, M::FanPulse}},
        {DriverClass::HBridge, {M::OneWay, M::Light, M::BothWays}},
        {DriverClass::HalfBridge, {M::OneWay, M::Light}},
        {DriverClass::Chopper, {M::Steps}},
        {DriverClass::SerialChopper, {M::Steps}},
        {DriverClass::Pin, {M::ServoPulse, M::FanPulse, M::Light}},
        {DriverClass::ServoExpander, {M::ServoPulse}},
        {DriverClass::RelayBoard, {M::OneWay, M::Light, M::Alternating}},
        {DriverClass::Contactor, {M::Alternating}},
        {DriverClass::SsrZeroCrossing, {M::Alternating}},
        {DriverClass::SsrRandom, {M::Alternating}},
        {DriverClass::PhaseControl, {M::Alternating}},
    };
    for (const auto& [driver_class, methods] : table)
        for (std::size_t m = 0; m < methodCount; ++m) {
            driver::DriverPart driver;
            driver.driver_class = driver_class;
            EXPECT_EQ(canDrive(driver, static_cast<M>(m)), methods.contains(static_cast<M>(m)))
                << labelOf(driver_class) << " by method " << m;
        }
}

// Whatever feeds a load, the list brings it there and back.
TEST(Kinds, everyDriversWiresReachItsLoad) {
    for (const auto* kind : driverKinds()) {
        if (kind->own_outputs) continue;  // one board for many: its rail comes in once, see ExpanderPlan
        project::Channel channel;
        driver::DriverPart driver;
        driver.driver_class = kind->of;
        std::vector<Wire> wires;
        kind->wires(Wiring{channel,
                           nullptr,
                           driver,
                           nullptr,
                           false,
                           kind->alternating,
                           "board D9",
                           "it ",
                           "movers",
                           "board 5 V",
                           {{"line", "board D9"}},
                           "",
                           false,
                           std::nullopt,
                           wires});
        const auto any = [&](const std::string& end) {
            return std::any_of(wires.begin(), wires.end(), [&](const Wire& wire) { return wire.from == end || wire.to == end; });
        };
        EXPECT_TRUE(any("movers") || any("mains live, after fuse and switch")) << kind->label;
        EXPECT_TRUE(any("board D9")) << kind->label;
        for (const auto& wire : wires) EXPECT_FALSE(wire.from.empty() || wire.to.empty()) << kind->label;
    }
}

// The torque for each ampere at the load is the same in Match and on the bench, whatever gears lie between: stall torque of the pair's
// curve, by the motor's own equation, over what flows then.
TEST(Kinds, gearsCostTheSameInMatchAndOnTheBench) {
    const auto parts = test::shippedParts();
    for (const char* ratio : {"1", "2", "5"}) {
        const auto project = test::alone(project::ChannelKind::Turn, "small_12v_g100", "mosfet_logic_30v",
                                         {{"channels/it/drive/gear_ratio", ratio},
                                          {"channels/it/demand/way", "disc"},
                                          {"channels/it/demand/both_ways", "no"},
                                          {"channels/it/demand/mass", "0.2 kg"},
                                          {"channels/it/demand/diameter", "0.1 m"},
                                          {"channels/it/demand/friction", "0.01 N m"},
                                          {"channels/it/demand/speed", "2 rad/s"},
                                          {"channels/it/demand/time", "1 s"}});
        const auto plan = plan::evaluate(project, parts);
        const match::Context& context = plan.channels.front().context;
        const auto& part = *match::partOf(context, parts, "small_12v_g100");
        const auto& motor = std::get<actuator::Motor>(part);
        const auto& driver = *project::findDriver(parts, "mosfet_logic_30v");
        const auto curve = match::abilityCurve(context, part, driver, context.rails.front());
        ASSERT_EQ(curve.size(), 2U) << ratio;
        const auto machines = plan::machinesOf(project, parts, plan);
        ASSERT_EQ(machines.couplings.size(), 1U) << ratio;
        const auto& bench = std::get<plant::Rotor>(machines.couplings.front().machine).figures();
        const double volts = match::judge(context, part, driver, context.rails.front()).volts,
                     ohms = si(motor.nominal_voltage) / si(*motor.stall_current), rest = si(*motor.no_load_current);
        EXPECT_NEAR(curve.back().x / (volts / ohms - rest), bench.torque, 1e-9 * bench.torque) << "1:" << ratio;
    }
}

// Chosen means driven, also where the part does not suit its job at all: no sketch puts a load on a bare pin.
TEST(Kinds, aLoadOnABarePinIsRefused) {
    const auto parts = test::shippedParts();
    for (const auto& [part, kind] : {std::pair{"pad_12v_12w", project::ChannelKind::Turn},
                                     {"pad_12v_12w", project::ChannelKind::Heat},
                                     {"centrifugal_12v_small", project::ChannelKind::Pump},
                                     {"latching_6v", project::ChannelKind::Turn},
                                     {"mid_6v", project::ChannelKind::Turn}}) {
        const auto project = test::alone(kind, part, "straight_from_pin");
        const auto plan = plan::evaluate(project, parts);
        EXPECT_FALSE(plan.channels.front().not_driven.empty()) << part;
        EXPECT_NE(test::finding(plan, "not-driven"), nullptr) << part;
        EXPECT_FALSE(plan::isDriven(plan.channels.front())) << part;
    }
}

// A kind that is not known outside its own file, through the ten stages. Ohm by hand: 12 V less 0.2 V over 59 Ω is 0.2 A.
class Toys : public testing::Test {
protected:
    void SetUp() override {
        parts_ = test::shippedParts();
        // Its catalogue file is read and written by its own columns.
        const auto read = catalogue::read(
            "magnets", "id,name,nominal_voltage [V],resistance [ohm],force [N]\nholder,door magnet,12,59,40\n", "magnets.csv");
        ASSERT_TRUE(read) << sentence(read.error());
        ASSERT_TRUE(read->problems.empty()) << read->problems.front().why;
        ASSERT_EQ(read->parts.actuators.size(), 1U);
        parts_.actuators.push_back(read->parts.actuators.front());
        EXPECT_EQ(catalogue::kindOfPart(parts_, "holder"), "magnets");
        const auto again = catalogue::write("magnets", parts_, {"holder"});
        ASSERT_TRUE(again);
        EXPECT_EQ(catalogue::read("magnets", *again, "again")->parts.actuators.front(), read->parts.actuators.front());
        driver::DriverPart toy;
        toy.id = "toy";
        toy.name = "toy switch 2 A";
        toy.driver_class = toy_switch::kind.of;
        toy.voltage_max = of<Voltage>(24.0);
        toy.current_max = of<Current>(2.0);
        parts_.drivers.push_back(toy);
        project_ = test::alone(
            project::ChannelKind::Switch, "holder", "toy",
            {{"channels/it/demand/load", "inductive"}, {"channels/it/demand/power", "2 W"}, {"channels/it/drive/flyback_diode", "yes"}});
        for (auto& rail : project_.rails) rail.wire_length = of<Length>(0.0);
        plan_ = plan::evaluate(project_, parts_);
    }
    [[nodiscard]] const plan::ChannelPlan& it() const { return plan_.channels.front(); }

    Trial trial_{toy_switch::kind, toy_magnet::kind};
    project::Parts parts_;
    project::Project project_;
    plan::Plan plan_;
};

TEST_F(Toys, goThroughNeedAndMatch) {
    ASSERT_TRUE(it().chosen);
    EXPECT_NEAR(it().chosen->numbers.winding, 0.2, 1e-3);
    EXPECT_NEAR(si(*it().chosen->heat), 0.04, 1e-3) << "0.2 V by 0.2 A";
    const auto workings = plan::allWorkings(plan_);
    EXPECT_TRUE(std::any_of(workings.begin(), workings.end(), [](const auto& w) { return w.title == "current of the magnet"; }));
    const match::Context& context = it().context;
    const auto rows = match::candidates(context, parts_);
    EXPECT_TRUE(std::any_of(rows.begin(), rows.end(), [](const auto& row) { return row.actuator == "holder"; })) << "Match offers it";
    const auto drivers = match::driversFor(context, parts_, *match::partOf(context, parts_, "holder"));
    EXPECT_TRUE(std::any_of(drivers.begin(), drivers.end(), [](const auto& row) { return row.driver == "toy"; }));
    EXPECT_TRUE(std::any_of(drivers.begin(), drivers.end(), [](const auto& row) { return row.driver == "mosfet_logic_30v"; }))
        << "and every class that drives one way";
    EXPECT_EQ(match::figuresOf(*match::partOf(context, parts_, "holder")).front().value, "holding magnet");
}

TEST_F(Toys, goThroughFeedAndPins) {
    for (const auto& rail : plan_.rails)
        if (rail.id == "movers") {
            ASSERT_TRUE(rail.running);
            EXPECT_NEAR(si(*rail.running), 0.2, 1e-3);
        }
    EXPECT_TRUE(std::any_of(plan_.pins.begin(), plan_.pins.end(), [](const auto& pin) { return pin.pin == "D9" && pin.user == "it"; }));
    const auto wires = plan::wiring(project_, parts_, plan_);
    EXPECT_TRUE(
        std::any_of(wires.begin(), wires.end(), [](const auto& wire) { return wire.from == "board D9" && wire.to == "it toy IN"; }));
    EXPECT_TRUE(std::any_of(wires.begin(), wires.end(), [](const auto& wire) { return wire.note.starts_with("flyback diode"); }))
        << "it kicks when it is let go";
}

TEST_F(Toys, goThroughPulseRoutineAndCode) {
    EXPECT_EQ(it().signal, SignalKind::Switched) << "on or off, whatever is asked";
    EXPECT_TRUE(it().not_driven.empty()) << it().not_driven;
    ASSERT_TRUE(plan_.program) << (plan_.program_error ? sentence(*plan_.program_error) : "");
    EXPECT_EQ(plan_.program->outputs.size(), 1U);
    const auto sketch = plan::sketchOf(project_, plan_);
    ASSERT_TRUE(sketch) << sentence(sketch.error());
    EXPECT_NE(sketch->text.find("D9"), std::string::npos);
}

TEST_F(Toys, goThroughTuneProveAndLog) {
    EXPECT_TRUE(plan::calibrationsFor(project_, parts_, plan_, "it").empty());
    EXPECT_TRUE(plan::machinesOf(project_, parts_, plan_).couplings.empty());
    const auto steps = proof::bringUp(project_, parts_, plan_);
    const auto step = std::find_if(steps.begin(), steps.end(), [](const auto& each) { return each.id == "it.toy"; });
    ASSERT_NE(step, steps.end()) << "what its file says of it alone";
    EXPECT_NEAR(*step->expected, 12.0, 1e-9);
    const auto expected = proof::expectedOf(*match::partOf(it().context, parts_, "holder"));
    ASSERT_EQ(expected.size(), 1U);
    EXPECT_NEAR(expected.front().value, 59.0, 1e-9);
    const auto list = plan::partsList(project_, parts_, plan_);
    for (const char* name : {"door magnet", "toy switch 2 A"})
        EXPECT_TRUE(std::any_of(list.begin(), list.end(), [&](const auto& line) { return line.name == name; })) << name;
}

}  // namespace
}  // namespace hinge::kinds
