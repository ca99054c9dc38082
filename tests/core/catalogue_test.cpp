#include "catalogue/catalogue.hpp"
#include <fstream>
#include <set>
#include "support/demo.hpp"

namespace hinge::catalogue {
namespace {

Result<Loaded> readPumps(const std::string& csv, const std::string& file) {
    return read("pumps", csv, file);
}
const actuator::Pump& pumpOf(const Loaded& loaded) {
    return std::get<actuator::Pump>(loaded.parts.actuators.front());
}

const std::string header = "id,name,class,nominal_voltage [V],curve [L/min:m],running_current [mA],stall_current [A]\n";

TEST(Catalogue, readsUnitsFromTheHeader) {
    const auto loaded = readPumps(header + "p,Pump,centrifugal,12,0:1.2 1.6:0,240,0.7\n", "f");
    ASSERT_TRUE(loaded) << sentence(loaded.error());
    ASSERT_EQ(loaded->parts.actuators.size(), 1U);
    const auto& pump = pumpOf(*loaded);
    EXPECT_DOUBLE_EQ(si(*pump.running_current), 0.24);
    EXPECT_NEAR(pump.curve.points.back().x, 1.6e-3 / 60, 1e-12);
}

TEST(Catalogue, anEmptyCellIsUnknownAndNotZero) {
    const auto loaded = readPumps(header + "p,Pump,centrifugal,12,0:1.2 1.6:0,,\n", "f");
    ASSERT_TRUE(loaded);
    EXPECT_FALSE(pumpOf(*loaded).running_current);
}

TEST(Catalogue, aCellMayBringItsOwnUnit) {
    const auto loaded = readPumps(header + "p,Pump,centrifugal,12000mV,0:1.2 1.6:0,0.24A,700mA\n", "f");
    ASSERT_TRUE(loaded && loaded->problems.empty());
    EXPECT_DOUBLE_EQ(si(pumpOf(*loaded).nominal_voltage), 12.0);
}

struct Row {
    const char* name;
    const char* row;
    const char* column;
};
const Row rows[] = {
    {"TooFewCells", "p,Pump,centrifugal,12\n", ""},
    {"UnknownClass", "p,Pump,magic,12,0:1 1:0,240,0.7\n", "class"},
    {"WrongUnit", "p,Pump,centrifugal,12 A,0:1 1:0,240,0.7\n", "nominal_voltage"},
    {"Negative", "p,Pump,centrifugal,-12,0:1 1:0,240,0.7\n", "nominal_voltage"},
    {"RisingCurve", "p,Pump,centrifugal,12,0:1 1:2,240,0.7\n", "curve"},
    {"NoId", ",Pump,centrifugal,12,0:1 1:0,240,0.7\n", "id"},
    {"Rubbish", "p,Pump,centrifugal,twelve,0:1 1:0,240,0.7\n", "nominal_voltage"},
};
class BadRows : public testing::TestWithParam<Row> {};
TEST_P(BadRows, areLeftOutWithTheirReasonAndTheOthersKept) {
    const auto loaded = readPumps(header + "good,Good,centrifugal,12,0:1 1:0,240,0.7\n" + GetParam().row, "f");
    ASSERT_TRUE(loaded) << sentence(loaded.error());
    EXPECT_EQ(loaded->parts.actuators.size(), 1U);
    ASSERT_EQ(loaded->problems.size(), 1U);
    EXPECT_EQ(loaded->problems.front().row, 3);
    EXPECT_EQ(loaded->problems.front().column, GetParam().column) << loaded->problems.front().why;
}
INSTANTIATE_TEST_SUITE_P(Table, BadRows, testing::ValuesIn(rows), [](const auto& row) { return std::string{row.param.name}; });

TEST(Catalogue, aDuplicateKeepsTheFirst) {
    const auto loaded = readPumps(header + "p,First,centrifugal,12,0:1 1:0,240,0.7\np,Second,centrifugal,12,0:1 1:0,240,0.7\n", "f");
    ASSERT_TRUE(loaded);
    ASSERT_EQ(loaded->parts.actuators.size(), 1U);
    EXPECT_EQ(pumpOf(*loaded).name, "First");
    EXPECT_EQ(loaded->problems.size(), 1U);
}

TEST(Catalogue, aMissingColumnRefusesTheFile) {
    const auto loaded = readPumps("id,name\np,Pump\n", "pumps.csv");
    ASSERT_FALSE(loaded);
    EXPECT_EQ(loaded.error().field, "pumps.csv");
    EXPECT_FALSE(readPumps("", "f"));
    EXPECT_FALSE(readPumps("\"unclosed", "f"));
    EXPECT_FALSE(load("/nonexistent"));
}

TEST(Catalogue, quotesAndLineBreaksInNamesAreText) {
    const auto loaded = readPumps(header + "p,\"Pump, \"\"small\"\"\nsecond line\",centrifugal,12,0:1 1:0,240,0.7\n", "f");
    ASSERT_TRUE(loaded) << sentence(loaded.error());
    EXPECT_EQ(pumpOf(*loaded).name, "Pump, \"small\"\nsecond line");
}

TEST(Catalogue, theShippedOneHasEveryKindAndAboutTwoHundredAndFiftyParts) {
    const auto parts = test::shippedParts();
    EXPECT_GE(parts.actuators.size() + parts.drivers.size(), 240U);
    std::set<std::size_t> alternatives;
    std::set<driver::DriverClass> drivers;
    for (const auto& part : parts.actuators) alternatives.insert(part.index());
    for (const auto& driver : parts.drivers) drivers.insert(driver.driver_class);
    EXPECT_EQ(alternatives.size() + 1, std::variant_size_v<actuator::Part>) << "all but actuator::Other";
    EXPECT_EQ(drivers.size(), Names<driver::DriverClass>::all.size());
}

TEST(Catalogue, theShippedMotorsObeyTheEnergyBalance) {
    // Stall torque over stall current is the back-EMF constant: V − I0·R over the free speed.
    for (const auto& part : test::shippedParts().actuators) {
        const auto* motor = std::get_if<actuator::Motor>(&part);
        if (motor == nullptr) continue;
        const double resistance = si(motor->nominal_voltage) / si(*motor->stall_current);
        const double ke = (si(motor->nominal_voltage) - si(*motor->no_load_current) * resistance) / si(*motor->no_load_speed);
        const double kt = si(*motor->stall_torque) / (si(*motor->stall_current) - si(*motor->no_load_current));
        EXPECT_NEAR(kt / ke, 1.0, 0.1) << motor->name << ": Kt = Ke in SI; gearboxes add a little friction to the no-load current";
    }
}

struct Impossible {
    const char* name;
    const char* kind;
    const char* csv;
    const char* column;
};
const Impossible impossible_rows[] = {
    {"StallBelowFree", "motors", "id,name,nominal_voltage [V],no_load_current [A],stall_current [A]\nm,M,12,1,0.5\n", "stall_current"},
    {"NoGear", "motors", "id,name,nominal_voltage [V],gear_ratio\nm,M,12,0\n", "gear_ratio"},
    {"EfficiencyOverOne", "motors", "id,name,nominal_voltage [V],gear_efficiency\nm,M,12,1.2\n", "gear_efficiency"},
    {"NegativeMass", "motors", "id,name,nominal_voltage [V],mass [g]\nm,M,12,-5\n", "mass"},
    {"ZeroVolts", "lamps", "id,name,class,nominal_voltage [V]\nl,L,led-string,0\n", "nominal_voltage"},
    {"ServoUpsideDown", "servos", "id,name,class,voltage_low [V],voltage_high [V]\ns,S,positional,6,4.8\n", "voltage_high"},
    {"RisingFan", "fans", "id,name,wires,nominal_voltage [V],curve [m3/h:Pa]\nf,F,4-wire,12,0:10 20:30\n", "curve"},
    {"ThreeSteps", "steppers", "id,name,steps_per_turn\ns,S,3\n", "steps_per_turn"},
};
class ImpossibleRows : public testing::TestWithParam<Impossible> {};
TEST_P(ImpossibleRows, areRefusedInPlace) {
    const auto loaded = read(GetParam().kind, GetParam().csv, "f");
    ASSERT_TRUE(loaded) << sentence(loaded.error());
    EXPECT_TRUE(loaded->parts.actuators.empty());
    ASSERT_EQ(loaded->problems.size(), 1U);
    EXPECT_EQ(loaded->problems.front().column, GetParam().column);
}
INSTANTIATE_TEST_SUITE_P(Table, ImpossibleRows, testing::ValuesIn(impossible_rows),
                         [](const auto& row) { return std::string{row.param.name}; });

TEST(Catalogue, aPartOfTheMakersOwnTakesTheShippedOnesPlace) {
    Loaded all;
    all.parts = test::shippedParts();
    const auto before = all.parts.actuators.size();
    auto mine =
        read("servos", "id,name,class,voltage_low [V],voltage_high [V],standing,drawer\nservo_micro,Mine,positional,4.8,6,tested,yes\n",
             "mine.csv");
    ASSERT_TRUE(mine);
    merge(all, std::move(*mine));
    EXPECT_EQ(all.parts.actuators.size(), before);
    const auto* part = project::findActuator(all.parts, "servo_micro");
    ASSERT_NE(part, nullptr);
    EXPECT_EQ(actuator::head(*part).name, "Mine");
    EXPECT_TRUE(actuator::head(*part).drawer);
    EXPECT_EQ(actuator::head(*part).standing, actuator::Standing::Tested);
}

TEST(Catalogue, aPartIsAddedFromWhatADataSheetSays) {
    const auto loaded =
        fromLine("motors", "name: Window motor; nominal voltage: 12 V; Stall current = 2.4 A\nno-load speed: 60 rpm; colour: red");
    ASSERT_TRUE(loaded) << sentence(loaded.error());
    ASSERT_EQ(loaded->parts.actuators.size(), 1U);
    const auto& motor = std::get<actuator::Motor>(loaded->parts.actuators.front());
    EXPECT_EQ(motor.id, "window_motor");
    EXPECT_DOUBLE_EQ(si(*motor.stall_current), 2.4);
    EXPECT_NEAR(si(*motor.no_load_speed), 6.283185307179586, 1e-12);
    EXPECT_FALSE(motor.stall_torque) << "not said, so unknown";
    ASSERT_EQ(loaded->problems.size(), 1U);
    EXPECT_EQ(loaded->problems.front().column, "colour");
    EXPECT_FALSE(fromLine("motors", "nominal voltage: 12 V")) << "it needs a name";
    EXPECT_FALSE(fromLine("spoons", "name: x"));
    EXPECT_FALSE(fromLine("motors", "name: x")) << "every motor needs its voltage";
}

TEST(Catalogue, whatIsWrittenReadsBackTheSame) {
    const auto parts = test::shippedParts();
    for (const auto& kind : kinds()) {
        std::vector<std::string> ids;
        for (const auto& part : parts.actuators) ids.push_back(actuator::head(part).id);
        for (const auto& driver : parts.drivers) ids.push_back(driver.id);
        const auto csv = write(kind.name, parts, ids);
        ASSERT_TRUE(csv);
        const auto back = read(kind.name, *csv, "f");
        ASSERT_TRUE(back) << sentence(back.error());
        EXPECT_TRUE(back->problems.empty()) << kind.name << ": " << (back->problems.empty() ? "" : back->problems.front().why);
        for (const auto& part : back->parts.actuators)
            EXPECT_EQ(part, *project::findActuator(parts, actuator::head(part).id)) << actuator::head(part).id;
        for (const auto& driver : back->parts.drivers) EXPECT_EQ(driver, *project::findDriver(parts, driver.id)) << driver.id;
        EXPECT_GT(back->parts.actuators.size() + back->parts.drivers.size(), 10U) << kind.name;
    }
}

TEST(Catalogue, thousandsOfRowsOfRubbishAreNamedRowByRow) {
    std::string csv = header;
    for (int i = 0; i < 5000; ++i)
        csv += i % 2 == 0 ? "p" + std::to_string(i) + ",Pump,centrifugal,12,0:1 1:0,240,0.7\n" : "%$,,\"x\",€,::,-1\n";
    const auto loaded = readPumps(csv, "f");
    ASSERT_TRUE(loaded);
    EXPECT_EQ(loaded->parts.actuators.size(), 2500U);
    EXPECT_EQ(loaded->problems.size(), 2500U);
}

}  // namespace
}  // namespace hinge::catalogue
