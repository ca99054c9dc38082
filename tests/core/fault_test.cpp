// The fault-finder against gadgets with something wrong in them: symptom and answers come from the simulated gadget, the ranking from the
// likelihoods in parts/. Neither knows the other.
#include <gtest/gtest.h>
#include <algorithm>
#include <random>
#include <set>
#include "proof/fault_finder.hpp"
#include "simulation/faulty_gadget.hpp"
#include "store/document.hpp"
#include "support/alone.hpp"
#include "support/demo.hpp"

namespace hinge::proof {
namespace {

struct Example {
    explicit Example(const char* name, const std::vector<project::FactEdit>& edits = {})
        : project{test::edited(test::exampleProject(name), edits)} {}
    project::Project project;
    project::Parts parts = test::shippedParts();
    plan::Plan plan = plan::evaluate(project, parts);
};
const std::vector<Example>& examples() {
    static const std::vector<Example> list{Example{"paper-moon-stage"}, Example{"proofing-box"}, Example{"tightrope-rider"}};
    return list;
}

struct Case {
    std::size_t example;
    simulation::Fault fault;
};
// All faults that the three examples can have, in an order that a seed decides.
std::vector<Case> everyFault(std::uint32_t seed) {
    std::vector<Case> cases;
    for (std::size_t e = 0; e < examples().size(); ++e)
        for (const auto& fault : simulation::FaultyGadget::possible(examples()[e].project, examples()[e].parts, examples()[e].plan))
            cases.push_back({e, fault});
    std::mt19937 dice(seed);
    for (std::size_t i = cases.size(); i > 1; --i) std::swap(cases[i - 1], cases[dice() % i]);
    return cases;
}

struct Hunt {
    int place = 0;  // of the true cause in the ranking, 1 is first
    int tests = 0;
    std::string story;
};
Hunt hunt(const Example& example, const simulation::Fault& fault);
Hunt hunt(const Case& each) {
    return hunt(examples()[each.example], each.fault);
}
Hunt hunt(const Example& example, const simulation::Fault& fault) {
    const auto gadget = simulation::FaultyGadget::make(example.project, example.parts, example.plan, fault);
    EXPECT_TRUE(gadget) << fault.id;
    const FaultFinder finder(example.project, example.parts, example.plan, fault.channel);
    std::vector<Seen> seen{{"symptom", gadget->symptom()}};
    Hunt result;
    result.story = fault.channel + ", " + fault.id + ": " + seen.front().outcome;
    while (!finder.settled(seen) && result.tests < 15) {
        const auto next = finder.next(seen).front();
        const auto answer = gadget->answer(next.test.id);
        EXPECT_TRUE(std::any_of(next.test.outcomes.begin(), next.test.outcomes.end(),
                                [&](const FaultTest::Outcome& outcome) { return outcome.id == answer; }))
            << next.test.id << ' ' << answer;
        seen.push_back({next.test.id, answer});
        result.story += ", " + next.test.id + " " + answer;
        ++result.tests;
    }
    const auto ranked = finder.ranked(seen);
    for (std::size_t k = 0; k < ranked.size(); ++k)
        if (ranked[k].cause.id == fault.id) result.place = static_cast<int>(k) + 1;
    result.story += " -> " + ranked.front().cause.id + ", true one at " + std::to_string(result.place);
    return result;
}

struct Tally {
    int all = 0, first = 0, third = 0;
    std::vector<int> tests;
    std::string misses;
};
Tally tally(const std::vector<Case>& cases) {
    Tally t;
    for (const auto& each : cases) {
        const auto result = hunt(each);
        ++t.all;
        t.first += result.place == 1 ? 1 : 0;
        t.third += result.place >= 1 && result.place <= 3 ? 1 : 0;
        t.tests.push_back(result.tests);
        if (result.place != 1) t.misses += result.story + "\n";
    }
    std::sort(t.tests.begin(), t.tests.end());
    return t;
}

// The first names of the list, most often; and after few tests.
void expectNamed(const std::vector<Case>& cases) {
    const auto t = tally(cases);
    EXPECT_GE(t.first * 100, 70 * t.all) << t.misses;
    EXPECT_GE(t.third * 100, 95 * t.all) << t.misses;
    EXPECT_LE(t.tests[t.tests.size() / 2], 4);
    std::cout << t.first << " of " << t.all << " first, " << t.third << " within three, median " << t.tests[t.tests.size() / 2]
              << " tests\n"
              << t.misses;
}

// The forty that the likelihoods were weighed with.
TEST(FaultFinder, namesSeededFaults) {
    auto cases = everyFault(1);
    ASSERT_GE(cases.size(), 60U);
    cases.resize(40);
    expectNamed(cases);
}

// Twenty others, of the same examples but none of the forty above; the likelihoods have been changed since, with both lists at hand.
TEST(FaultFinder, namesFaultsThatItWasNotWeighedWith) {
    auto known = everyFault(1);
    known.resize(40);
    std::vector<Case> fresh;
    for (const auto& each : everyFault(2))
        if (fresh.size() < 20 && std::none_of(known.begin(), known.end(), [&](const Case& other) {
                return other.example == each.example && other.fault == each.fault;
            }))
            fresh.push_back(each);
    ASSERT_EQ(fresh.size(), 20U);
    expectNamed(fresh);
}

// Not asked for, but told: every fault of the three examples.
TEST(FaultFinder, namesMostOfAllFaults) {
    const auto t = tally(everyFault(3));
    EXPECT_GE(t.first * 100, 70 * t.all) << t.misses;
    std::cout << t.first << " of " << t.all << " first, " << t.third << " within three, median " << t.tests[t.tests.size() / 2]
              << " tests\n"
              << t.misses;
}

// A driver that is spoken to: supply, ground, straps, select, a register that is known, one written and read back, its fault flag, one
// step.
TEST(FaultFinder, climbsTheLadderOfASilentDriver) {
    const Example serial("paper-moon-stage", {{"channels/curtain/drive/part", "chopper_serial_quiet"}});
    const FaultFinder finder(serial.project, serial.parts, serial.plan, "curtain");
    for (const char* rung : {"rail_volts", "enable", "select", "known_register", "write_back", "fault_flag", "one_step"})
        EXPECT_NE(finder.findTest(rung), nullptr) << rung;
    for (const char* fault : {"select_off", "serial_crossed", "driver_flags"}) {
        const auto found = hunt(serial, {fault, "curtain"});
        EXPECT_EQ(found.place, 1) << found.story;
        // A driver that switched itself off looks like a dozen other things at first.
        EXPECT_LE(found.tests, std::string(fault) == "driver_flags" ? 12 : 6) << found.story;
    }
    const FaultFinder plain(examples()[0].project, examples()[0].parts, examples()[0].plan, "curtain");
    EXPECT_EQ(plain.findTest("known_register"), nullptr) << "a driver that takes steps and direction has no registers";
}

// A servo behind an expander stands still where its two wires do not work.
TEST(FaultFinder, looksAtTheTwoWiresOfAServosExpander) {
    const Example eye("paper-moon-stage", {{"channels/moon/drive/part", "servo_expander_i2c"}, {"channels/moon/pin", "X0"}});
    for (const char* fault : {"bus_pull_ups", "bus_swapped", "bus_unpowered"}) {
        const auto found = hunt(eye, {fault, "moon"});
        EXPECT_EQ(found.place, 1) << found.story;
        EXPECT_LE(found.tests, 6) << found.story;
    }
    EXPECT_EQ(FaultFinder(examples()[0].project, examples()[0].parts, examples()[0].plan, "moon").findTest("bus_lines"), nullptr)
        << "straight from a pin there is no bus";
}

// A bridge that is turned round, by a second input and by a line for the way: its causes were written down before the gadget could have
// them.
TEST(FaultFinder, findsWhyADoorGoesOneWayOnly) {
    const Example inputs("cloud-chamber-door"), line("cloud-chamber-door", {{"channels/door/drive/part", "bridge_3a"}});
    for (const auto* door : {&inputs, &line})
        for (const char* fault : {"way_wire_off", "half_dead"}) {
            const auto found = hunt(*door, {fault, "door"});
            EXPECT_EQ(found.place, 1) << found.story;
            EXPECT_LE(found.tests, 5) << found.story;
        }
    int all = 0, first = 0;
    std::string misses;
    for (const auto& fault : simulation::FaultyGadget::possible(inputs.project, inputs.parts, inputs.plan)) {
        const auto found = hunt(inputs, fault);
        ++all, first += found.place == 1 ? 1 : 0;
        if (found.place != 1) misses += found.story + "\n";
    }
    EXPECT_GE(first * 100, 90 * all) << misses;
    std::cout << first << " of " << all << " first\n" << misses;
    const FaultFinder lamp(inputs.project, inputs.parts, inputs.plan, "lamp");
    EXPECT_EQ(lamp.findTest("way_line"), nullptr) << "what goes one way has no such line";
}

// Phase control: its causes were written down before the gadget could have them.
TEST(FaultFinder, findsWhyAHalfWaveIsNotFired) {
    const Example kettle("greenhouse-kettle");
    for (const char* channel : {"kettle", "dawn"})
        for (const char* fault : {"crossings_off", "mains_other", "crossings_lost", "half_waves"}) {
            const auto found = hunt(kettle, {fault, channel});
            EXPECT_EQ(found.place, 1) << found.story;
            EXPECT_LE(found.tests, std::string(fault) == "mains_other" ? 10 : 6) << found.story;  // the rarest
        }
    // Nothing is measured or touched by hand beside the mains.
    for (const auto& [example, channel] : {std::pair{&kettle, "kettle"}, {&examples()[1], "heater"}}) {
        const FaultFinder finder(example->project, example->parts, example->plan, channel);
        for (const char* test : {"driver_out", "driver_in", "touch", "current", "direct", "half", "rail_volts", "winding"})
            EXPECT_EQ(finder.findTest(test), nullptr) << channel << ", " << test;
    }
    const FaultFinder box(examples()[1].project, examples()[1].parts, examples()[1].plan, "heater");
    EXPECT_EQ(box.findTest("mains_said"), nullptr) << "whole cycles need no crossings";
    // Whatever else it can have is still found, as often as in the other examples.
    int all = 0, first = 0;
    std::string misses;
    for (const auto& fault : simulation::FaultyGadget::possible(kettle.project, kettle.parts, kettle.plan)) {
        const auto found = hunt(kettle, fault);
        ++all, first += found.place == 1 ? 1 : 0;
        if (found.place != 1) misses += found.story + "\n";
    }
    EXPECT_GE(first * 100, 70 * all) << misses;
    std::cout << first << " of " << all << " first\n" << misses;
}

// The clock on the two-wire bus, of a cue that starts by the time of day.
TEST(FaultFinder, findsWhyTheClockDoesNotAnswer) {
    const Example timed("paper-moon-stage", {{"board/clock", "clock_bcd"}});
    for (const char* fault : {"bus_pull_ups", "bus_swapped", "bus_unpowered"}) {
        const auto found = hunt(timed, {fault, "rain"});
        EXPECT_EQ(found.place, 1) << found.story;
        EXPECT_LE(found.tests, 4) << found.story;
    }
}

// Every complaint that a maker comes with leads somewhere: some fault of some example shows it. Not there: a bus (none has one), a board
// that starts anew (theirs keep their volts whatever a mover does), and heat without anything else.
TEST(FaultFinder, everySymptomIsShownBySomeFault) {
    std::set<std::string> shown{};
    for (const auto& each : everyFault(1))
        shown.insert(simulation::FaultyGadget::make(examples()[each.example].project, examples()[each.example].parts,
                                                    examples()[each.example].plan, each.fault)
                         ->symptom());
    const Example door("cloud-chamber-door");  // the only one that is turned round
    shown.insert(simulation::FaultyGadget::make(door.project, door.parts, door.plan, {"way_wire_off", "door"})->symptom());
    for (const auto& outcome : symptoms().outcomes)
        if (outcome.id != "bus" && outcome.id != "resets" && outcome.id != "hot")
            EXPECT_EQ(shown.count(outcome.id), 1U) << outcome.id << ": " << outcome.words;
}

TEST(FaultFinder, beginsWithThePriorsAndAddsUpToOne) {
    const auto& stage = examples().front();
    const FaultFinder finder(stage.project, stage.parts, stage.plan, "rain");
    double sum = 0.0;
    for (const auto& each : finder.ranked({})) sum += each.probability;
    EXPECT_NEAR(sum, 1.0, 1e-12);
    EXPECT_EQ(finder.ranked({}).front().cause.id, "load_wire_off") << "the commonest of all: a loose wire";
}

// By hand, with two causes and one test: Bayes' rule.
TEST(FaultFinder, weighsAsBayesDoes) {
    const auto signs = FaultSigns::parse("cause,suits,prior,words,cure\nload_wire_off,all,3,a,b\njammed,all,1,c,d\n",
                                         "cause,test,outcome,likelihood\nload_wire_off,link,yes,0.8\njammed,link,yes,0.4\n");
    ASSERT_TRUE(signs) << sentence(signs.error());
    const auto& stage = examples().front();
    const FaultFinder finder(stage.project, stage.parts, stage.plan, "rain", *signs);
    const auto ranked = finder.ranked({{"link", "yes"}});
    ASSERT_EQ(ranked.size(), 2U);
    EXPECT_EQ(ranked[0].cause.id, "load_wire_off");
    EXPECT_NEAR(ranked[0].probability, 3.0 * 0.8 / (3.0 * 0.8 + 0.4), 1e-12);
    EXPECT_NEAR(ranked[1].probability, 0.4 / 2.8, 1e-12);
    // "no" is what is left: 0.2 and 0.6. Expected bits of the link test by hand.
    const auto h = [](double p) { return p <= 0.0 || p >= 1.0 ? 0.0 : -p * std::log2(p) - (1.0 - p) * std::log2(1.0 - p); };
    const double yes = 0.75 * 0.8 + 0.25 * 0.4, no = 1.0 - yes;
    const double bits = h(0.75) - yes * h(0.75 * 0.8 / yes) - no * h(0.75 * 0.2 / no);
    for (const auto& next : finder.next({}))
        if (next.test.id == "link") EXPECT_NEAR(next.bits, bits, 1e-12);
}

TEST(FaultFinder, anAnswerTakenBackIsAsIfNeverGiven) {
    const auto& stage = examples().front();
    const FaultFinder finder(stage.project, stage.parts, stage.plan, "turntable");
    const std::vector<Seen> before{{"symptom", "hums"}};
    auto more = before;
    more.push_back({"by_hand", "stiff"});
    const auto first = finder.ranked(before);
    EXPECT_EQ(finder.ranked(more).front().cause.id, "jammed");
    EXPECT_FALSE(finder.ranked(more).front().because.empty()) << "it can be explained";
    more.pop_back();
    const auto again = finder.ranked(more);
    for (std::size_t k = 0; k < first.size(); ++k) EXPECT_EQ(first[k].probability, again[k].probability);
    for (const auto& next : finder.next(before)) EXPECT_NE(next.test.id, "symptom");
}

// Every test can be answered by the gadget, every risky one says what may be hurt, and every cause is known to some test.
TEST(FaultFinder, knowsWhatItAsks) {
    std::set<std::string> asked;
    for (const auto& example : examples())
        for (const auto& channel : example.project.channels) {
            const FaultFinder finder(example.project, example.parts, example.plan, channel.id);
            for (const auto& test : finder.tests()) {
                asked.insert(test.id);
                if (test.risk > 0.15) EXPECT_FALSE(test.caution.empty()) << test.id;
                EXPECT_GE(test.outcomes.size(), 2U);
            }
        }
    EXPECT_GE(asked.size(), 20U);
    for (const auto& entry : FaultSigns::shipped().causes()) EXPECT_FALSE(entry.cause.cure.empty()) << entry.cause.id;
    EXPECT_GE(FaultSigns::shipped().causes().size(), 20U);
}

TEST(FaultSigns, refuseWhatTheyCannotRead) {
    const std::string causes = "cause,suits,prior,words,cure\njammed,all,1,c,d\n", head = "cause,test,outcome,likelihood\n";
    EXPECT_EQ(FaultSigns::parse("h\njammed,all,0,c,d\n", head).error().field, "causes line 2");
    EXPECT_EQ(FaultSigns::parse(causes, head + "jammed,by_hand,stiff,1\n").error().field, "signs line 2");
    EXPECT_EQ(FaultSigns::parse(causes, head + "jammed,by_hand,purple,0.5\n").error().accepted, "an outcome of that test");
    EXPECT_EQ(FaultSigns::parse(causes, head + "jammed,tea_leaves,yes,0.5\n").error().accepted, "a test that there is");
    EXPECT_EQ(FaultSigns::parse(causes, head + "gremlins,by_hand,stiff,0.5\n").error().accepted, "a cause of the list");
    EXPECT_EQ(FaultSigns::parse(causes, head + "jammed,by_hand\n").error().accepted, "4 fields");
}

TEST(FaultyGadget, refusesAFaultThatItCannotHave) {
    const auto& stage = examples().front();
    EXPECT_FALSE(simulation::FaultyGadget::make(stage.project, stage.parts, stage.plan, {"coils_swapped", "rain"}))
        << "a pump has no coil pairs";
    EXPECT_FALSE(simulation::FaultyGadget::make(stage.project, stage.parts, stage.plan, {"jammed", "nobody"}));
}

// A fan behind a transistor of its own runs at full speed when its wire is off: by the line's own pull-up, not 'nothing moves'.
TEST(FaultFinder, ranksAFanThatNeverStopsByItsPwmLine) {
    const auto project = test::exampleProject("paper-moon-stage");
    const auto parts = test::shippedParts();
    const auto plan = plan::evaluate(project, parts);
    ASSERT_TRUE(plan::findChannel(plan, "mist")->inverted);
    const FaultFinder finder(project, parts, plan, "mist", FaultSigns::shipped());
    const auto ranked = finder.ranked({{"symptom", "runs_on"}});
    ASSERT_GE(ranked.size(), 2U);
    EXPECT_EQ(ranked.front().cause.id, "pwm_line_open") << "full when off";
    for (const auto& each : ranked) {
        EXPECT_NE(each.cause.id, "driver_shorted") << "a transistor in a signal line, not in the fan's supply";
        EXPECT_NE(each.cause.id, "pin_wire_off");
    }
    bool inverted = false;
    for (const auto& each : finder.ranked({{"symptom", "runs_on"}, {"wire", "right"}, {"half", "half"}}))
        if (each.cause.id == "signal_inverted") inverted = each.probability > 0.3;
    EXPECT_TRUE(inverted) << "wired right, half is half, and off is full: it is the wrong way round";
    // A pump behind its switch keeps the causes that it had.
    const FaultFinder pump(project, parts, plan, "rain", FaultSigns::shipped());
    bool wire = false;
    for (const auto& each : pump.ranked({{"symptom", "nothing"}})) wire = wire || each.cause.id == "pin_wire_off";
    EXPECT_TRUE(wire);
}

// What the fault-finder suspects of a part, the faulty gadget can have: a coil's winding, a fan that sings at its PWM.
TEST(Faults, whatIsSuspectedCanBe) {
    const auto parts = test::shippedParts();
    const auto bolt =
        test::alone(project::ChannelKind::Press, "solenoid_12v_small", "mosfet_logic_30v", {{"channels/it/demand/way", "plunger"}});
    const auto plan = plan::evaluate(bolt, parts);
    for (const char* fault : {"winding_open", "winding_shorted"})
        EXPECT_TRUE(simulation::FaultyGadget::make(bolt, parts, plan, {fault, "it"})) << fault;
    const auto fan = test::alone(project::ChannelKind::Blow, "fan_40_12v", "mosfet_logic_30v", {{"channels/it/signal/frequency", "1 kHz"}});
    const auto blown = plan::evaluate(fan, parts);
    ASSERT_EQ(blown.channels.front().signal, plan::SignalKind::Pwm);
    EXPECT_TRUE(simulation::FaultyGadget::make(fan, parts, blown, {"pwm_audible", "it"}));
    const auto silent = test::edited(fan, {{"channels/it/signal/frequency", "19 kHz"}});
    EXPECT_FALSE(simulation::FaultyGadget::make(silent, parts, plan::evaluate(silent, parts), {"pwm_audible", "it"}));
}

}  // namespace
}  // namespace hinge::proof
