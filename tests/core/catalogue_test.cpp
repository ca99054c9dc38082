#include "catalogue/catalogue.hpp"
#include "support/demo.hpp"
#include <fstream>

namespace hinge::catalogue {
namespace {

const std::string header = "id,name,class,nominal_voltage [V],curve [L/min:m],running_current [mA],stall_current [A]\n";

TEST(Catalogue, readsUnitsFromTheHeader) {
    const auto loaded = readPumps(header + "p,Pump,centrifugal,12,0:1.2 1.6:0,240,0.7\n", "f");
    ASSERT_TRUE(loaded) << sentence(loaded.error());
    ASSERT_EQ(loaded->parts.pumps.size(), 1U);
    const auto& pump = loaded->parts.pumps.front();
    EXPECT_DOUBLE_EQ(si(*pump.running_current), 0.24);
    EXPECT_NEAR(pump.curve.points.back().x, 1.6e-3 / 60, 1e-12);
}

TEST(Catalogue, anEmptyCellIsUnknownAndNotZero) {
    const auto loaded = readPumps(header + "p,Pump,centrifugal,12,0:1.2 1.6:0,,\n", "f");
    ASSERT_TRUE(loaded);
    EXPECT_FALSE(loaded->parts.pumps.front().running_current);
}

TEST(Catalogue, aCellMayBringItsOwnUnit) {
    const auto loaded = readPumps(header + "p,Pump,centrifugal,12000mV,0:1.2 1.6:0,0.24A,700mA\n", "f");
    ASSERT_TRUE(loaded && loaded->problems.empty());
    EXPECT_DOUBLE_EQ(si(loaded->parts.pumps.front().nominal_voltage), 12.0);
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
    EXPECT_EQ(loaded->parts.pumps.size(), 1U);
    ASSERT_EQ(loaded->problems.size(), 1U);
    EXPECT_EQ(loaded->problems.front().row, 3);
    EXPECT_EQ(loaded->problems.front().column, GetParam().column) << loaded->problems.front().why;
}
INSTANTIATE_TEST_SUITE_P(Table, BadRows, testing::ValuesIn(rows), [](const auto& row) { return std::string{row.param.name}; });

TEST(Catalogue, aDuplicateKeepsTheFirst) {
    const auto loaded = readPumps(header + "p,First,centrifugal,12,0:1 1:0,240,0.7\np,Second,centrifugal,12,0:1 1:0,240,0.7\n", "f");
    ASSERT_TRUE(loaded);
    ASSERT_EQ(loaded->parts.pumps.size(), 1U);
    EXPECT_EQ(loaded->parts.pumps.front().name, "First");
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
    EXPECT_EQ(loaded->parts.pumps.front().name, "Pump, \"small\"\nsecond line");
}

TEST(Catalogue, theShippedOneIsWholeAndNamesNoMaker) {
    const auto parts = test::shippedParts();
    EXPECT_GE(parts.pumps.size(), 6U);
    EXPECT_GE(parts.switches.size(), 4U);
}

}  // namespace
}  // namespace hinge::catalogue
