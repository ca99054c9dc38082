// The wiring as the deck that the maker gets: it runs as it is, whatever the gadget and its names.
#include <map>
#include <regex>
#include <set>
#include "plan/deck.hpp"
#include "plan/input_wiring.hpp"
#include "support/expanders.hpp"
#include "support/matrix.hpp"
#include "support/oracles.hpp"

namespace hinge {
namespace {

// Each input's pin at rest, by Ohm's law from what the list says it is wired to, and with its contact closed.
struct AtRest {
    project::InputKind kind;
    std::vector<project::FactEdit> edits;
    double volts;
    double slack;
};
TEST(MakersDeck, anInputsPinHasWhatItsResistorsGive) {
    if (test::run("ngspice --version > /dev/null 2>&1").status != 0) GTEST_SKIP() << "ngspice is not installed: ./check installs it";
    using project::InputKind;
    const auto parts = test::shippedParts();
    const std::string x = "inputs/x/";
    const std::vector<AtRest> table{
        {InputKind::Button, {}, 5.0, 0.01},
        {InputKind::Knob, {}, 2.5, 0.01},  // its wiper in the middle
        // The next of E12 over 10 kΩ·(12/4.5 − 1) is 18 kΩ.
        {InputKind::Level, {{x + "rail", "movers"}}, 12.0 * 10.0 / 28.0, 0.02},
        {InputKind::Level, {{x + "rail", "movers"}, {"channels/it/name", "Light divider"}}, 12.0 * 10.0 / 28.0, 0.02},
        {InputKind::Level, {{x + "measures", "temperature"}}, 2.5, 0.01},  // 10 kΩ against 10 kΩ at 25 °C
        {InputKind::Level, {{x + "wired", "current-transformer"}}, 2.5, 0.02},
        // This pin has no pull-up of its own: what lies beside it does that, and leads past the contact, not through it.
        {InputKind::Button, {{"board/form", "esp32"}, {x + "pin", "34"}}, 3.3, 0.01}};
    for (const auto& row : table) {
        const auto project = test::withInput(row.kind, row.edits);
        auto deck = plan::spiceDeck(project, parts, plan::evaluate(project, parts));
        ASSERT_TRUE(deck) << sentence(deck.error());
        const auto said = test::ngspice(*deck);
        ASSERT_TRUE(said.contains("pin_v_x")) << labelOf(row.kind) << "\n" << *deck;
        EXPECT_NEAR(said.at("pin_v_x"), row.volts, row.slack) << labelOf(row.kind) << "\n" << *deck;
        static const std::regex contact(R"((Rc_x \S+ \S+) 1g)");
        const auto closed = std::regex_replace(*deck, contact, "$1 0.1");
        EXPECT_EQ(closed != *deck, row.kind == InputKind::Button) << labelOf(row.kind);
        if (closed != *deck) EXPECT_NEAR(test::ngspice(closed).at("pin_v_x"), 0.0, 0.01) << labelOf(row.kind) << ", closed";
    }
}

// Each example's deck runs as it is, and every load has the volts of its rail, less what its driver keeps: by hand a volt at most.
TEST(MakersDeck, ofEveryExampleRunsAsItIs) {
    if (test::run("ngspice --version > /dev/null 2>&1").status != 0) GTEST_SKIP() << "ngspice is not installed: ./check installs it";
    const std::map<std::string, std::map<std::string, double>> rails{
        {"paper-moon-stage", {{"rain", 12.0}, {"moon", 6.0}, {"mist", 12.0}, {"turntable", 12.0}, {"lamps", 12.0}}},
        {"proofing-box", {{"stir", 12.0}, {"flap", 6.0}}},
        {"tightrope-rider", {}},
        {"cloud-chamber-door", {{"door", 12.0}, {"lamp", 5.0}}},
        {"greenhouse-kettle", {}},
        {"snail-hour", {{"finger", 5.0}, {"lamp", 5.0}}}};
    const auto parts = test::shippedParts();
    for (const auto& [name, loads] : rails) {
        SCOPED_TRACE(name);
        const auto project = test::exampleProject(name);
        const auto plan = plan::evaluate(project, parts);
        const auto deck = plan::spiceDeck(project, parts, plan);
        ASSERT_TRUE(deck) << sentence(deck.error());
        const auto said = test::ngspice(*deck);
        static const std::regex asked(R"(\.meas tran (\S+))");
        for (std::sregex_iterator at(deck->begin(), deck->end(), asked), end; at != end; ++at)
            EXPECT_TRUE(said.contains((*at)[1])) << (*at)[1] << " is answered";
        for (const auto& [load, volts] : loads) {
            ASSERT_TRUE(said.contains("mean_v_" + load)) << load;
            EXPECT_LE(said.at("mean_v_" + load), volts + 0.01) << load;
            EXPECT_GE(said.at("mean_v_" + load), volts - 1.0) << load;
        }
    }
}

// Whatever the plan calls driven has a deck that ngspice takes, on every class of driver.
TEST(MakersDeck, ofEveryPairingThatIsDrivenRuns) {
    if (test::run("ngspice --version > /dev/null 2>&1").status != 0) GTEST_SKIP() << "ngspice is not installed: ./check installs it";
    const auto parts = test::shippedParts();
    std::set<driver::DriverClass> classes;
    for (const auto& row : test::matrix(parts, {"atmega328p-16mhz"})) {
        const auto plan = plan::evaluate(row.project, parts);
        if (!plan.channels.front().not_driven.empty()) continue;
        const auto deck = plan::spiceDeck(row.project, parts, plan);
        if (!deck) continue;  // a current that is not known yet
        const auto said = test::ngspice(*deck);
        EXPECT_TRUE(said.contains("most_a_adapter")) << row.what << "\n" << *deck;
        classes.insert(row.driver);
    }
    EXPECT_GE(classes.size(), 10U);
}

// Behind boards of more lines the wires are as they are at a pin: a lamp at half its power has half its rail's volts in the mean, one
// behind a relay all of them, and an open contact stands at the logic supply.
TEST(MakersDeck, ofLoadsBehindExpanders) {
    if (test::run("ngspice --version > /dev/null 2>&1").status != 0) GTEST_SKIP() << "ngspice is not installed: ./check installs it";
    const auto parts = test::shippedParts();
    const auto project = test::edited(test::lampsOnExpanders(), {{"channels/it/signal/duty", "50 %"}});
    const auto plan = plan::evaluate(project, parts);
    const auto deck = plan::spiceDeck(project, parts, plan);
    ASSERT_TRUE(deck) << sentence(deck.error());
    const auto said = test::ngspice(*deck);
    ASSERT_TRUE(said.contains("mean_v_it") && said.contains("mean_v_other") && said.contains("pin_v_start")) << *deck;
    EXPECT_NEAR(said.at("mean_v_it"), 6.0, 0.4);
    EXPECT_NEAR(said.at("mean_v_other"), 12.0, 0.5);
    EXPECT_NEAR(said.at("pin_v_start"), 5.0, 0.1);
}

// Bad input: names that mean something to ngspice stay words, two that come to one word are two nodes.
TEST(MakersDeck, namesAreWordsOfTheirOwn) {
    plan::WireDeck deck({{"a +", "b", ""},
                         {"A +", "c", ""},
                         kinds::through(".end", "* note", of<Resistance>(1e3)),
                         {"живое", "−", ""},
                         {"live", "mains", "", true}});
    EXPECT_EQ(deck.node("a +"), "a_plus");
    EXPECT_EQ(deck.node("A +"), "a_plus_2");
    EXPECT_NE(deck.node("живое"), deck.node("−"));
    EXPECT_FALSE(deck.has("live")) << "nothing of the mains is in it";
    EXPECT_EQ(deck.node("a + 2"), "a_plus_2_2") << "not that of another";
    EXPECT_EQ(deck.node("GND"), "gnd_2") << "ngspice means ground by that word";
    EXPECT_EQ(deck.node("0"), "0_2");
    for (const char c : deck.body()) EXPECT_TRUE(c == '\n' || (c >= ' ' && c < 127));
    EXPECT_EQ(deck.body().find(".end"), std::string::npos);
}

// ngspice runs what stands between .control and .endc, commands of the system too: a name is never more than a comment or a word.
TEST(MakersDeck, noNameBecomesACommand) {
    if (test::run("ngspice --version > /dev/null 2>&1").status != 0) GTEST_SKIP() << "ngspice is not installed: ./check installs it";
    test::TemporaryFolder folder;
    const auto mark = folder.path() / "was_run";
    const std::string evil = "moon\n.control\nshell touch " + mark.string() + "\n.endc\r\n+ ";
    auto project = test::exampleProject("paper-moon-stage");
    project.brief.name = evil;
    for (auto& source : project.sources) source.name = evil + source.name;
    for (auto& rail : project.rails) rail.name = evil + rail.name;
    for (auto& input : project.inputs) input.name = evil + input.name;
    for (auto& channel : project.channels) channel.name = evil + channel.name;
    auto parts = test::shippedParts();
    for (auto& driver : parts.drivers) driver.name = evil + driver.name;
    const auto deck = plan::spiceDeck(project, parts, plan::evaluate(project, parts));
    ASSERT_TRUE(deck) << sentence(deck.error());
    const auto said = test::ngspice(*deck);
    EXPECT_TRUE(said.contains("mean_v_rain")) << "and it still runs";
    EXPECT_FALSE(std::filesystem::exists(mark));
    EXPECT_EQ(deck->find("\n.control"), std::string::npos);
    // Words of the list's own in a name take no wire away, and ids that come to one word stay two channels.
    project = test::exampleProject("paper-moon-stage");
    project.channels.front().name = "Gate to board, yard";
    const auto plan = plan::evaluate(project, parts);
    EXPECT_NEAR(test::ngspice(*plan::spiceDeck(project, parts, plan)).at("mean_v_rain"), 12.0, 1.0);
    project = project::duplicateChannel(test::exampleProject("paper-moon-stage"), "rain");
    project.channels.back().id = "ra_in", project.channels.front().id = "ra-in";
    const auto twice = plan::spiceDeck(project, parts, plan::evaluate(project, parts));
    ASSERT_TRUE(twice) << sentence(twice.error());
    EXPECT_FALSE(test::ngspice(*twice).empty());
    // Ids of a foreign project, without one letter of ours.
    for (auto& channel : project.channels) channel.id = channel.id == "ra_in" ? "дождь" : channel.id == "ra-in" ? "" : channel.id;
    const auto foreign = plan::spiceDeck(project, parts, plan::evaluate(project, parts));
    ASSERT_TRUE(foreign) << sentence(foreign.error());
    EXPECT_FALSE(test::ngspice(*foreign).empty());
}

// A source whose volts nobody knows: said, not guessed.
TEST(MakersDeck, isRefusedWhereTheSupplyIsNotKnown) {
    auto project = test::exampleProject("paper-moon-stage");
    for (auto& source : project.sources) source.voltage.reset();
    const auto parts = test::shippedParts();
    const auto deck = plan::spiceDeck(project, parts, plan::evaluate(project, parts));
    ASSERT_FALSE(deck);
    EXPECT_EQ(deck.error().code, ErrorCode::Missing);
}

}  // namespace
}  // namespace hinge
