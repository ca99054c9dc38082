// A lamp of three colours: one channel, three outputs, each as if it had been planned by hand.
#include "plan/colours.hpp"
#include <gtest/gtest.h>
#include "plan/apart.hpp"
#include "plan/deck.hpp"
#include "plan/firmware_model.hpp"
#include "plan/wiring.hpp"
#include "proof/bring_up.hpp"
#include "support/rgb.hpp"

namespace hinge::colours_of_lamps {
namespace {

// By hand from the standard's two formulas. @source iec-61966-2-1
TEST(ColourShares, areTheLightOfANumber) {
    for (const auto& [number, light] : {std::pair{"00", 0.0},
                                        {"0a", 0.0030353},
                                        {"0b", 0.0033465},
                                        {"40", 0.0512695},
                                        {"80", 0.2158605},
                                        {"bc", 0.5028865},
                                        {"ff", 1.0}}) {
        const auto shares = plan::sharesOf(std::string{"#"} + number + "00" + number);
        ASSERT_TRUE(shares) << number;
        EXPECT_NEAR(shares->red, light, 1e-6) << number;
        EXPECT_EQ(shares->green, 0.0);
        EXPECT_EQ(shares->blue, shares->red);
    }
    for (int number = 0; number < 256; ++number) {
        const auto colour = fmt::format("#{:02x}{:02x}{:02x}", number, 255 - number, (7 * number) % 256);
        EXPECT_EQ(plan::colourOf(*plan::sharesOf(colour)), colour);
    }
    for (const char* bad : {"", "red", "#fff", "ff8000", "#ff800", "#ff80000", "#gg0000", "#ff 000", "#-10000"})
        EXPECT_FALSE(plan::sharesOf(bad)) << bad;
}

// The same gadget with three strings of one colour, written down channel by channel: sketch, wires, rails and deck must be the same.
struct ByHand {
    project::Parts parts;
    project::Project project;
};
ByHand byHand(const project::Project& glowing) {
    ByHand made{test::shippedParts(), glowing};
    auto one = std::get<actuator::Lamp>(*project::findActuator(made.parts, glowing.channels.front().actuator));
    one.id = "of_one_colour", one.common = actuator::CommonPole::None;
    made.parts.actuators.emplace_back(one);
    auto& channels = made.project.channels;
    const auto whole = channels.front();
    channels.clear();
    for (const auto& [id, name, pin] :
         {std::tuple{"it", "it red", whole.pin}, {"it_green", "it green", whole.green_pin}, {"it_blue", "it blue", whole.blue_pin}}) {
        auto channel = whole;
        channel.id = id, channel.name = name, channel.pin = pin, channel.actuator = "of_one_colour";
        channel.green_pin.clear(), channel.blue_pin.clear();
        std::get<project::SwitchDemand>(channel.demand).power = of<Power>(4.0);
        channels.push_back(channel);
    }
    std::vector<routine::Move> moves;
    const double orange[] = {1.0, 0.21586050011389926, 0.0}, blue[] = {0.0, 0.0, 1.0};
    for (const auto& move : glowing.routine.cues.front().moves) {
        if (move.channel.empty()) moves.push_back(move);
        else
            for (std::size_t k = 0; k < 3; ++k) {
                auto each = move;
                each.channel = channels[k].id;
                if (k > 0) each.id += k == 1 ? "_green" : "_blue";
                each.together = k > 0;
                each.colour.clear();
                if (move.action == routine::Action::On) each.level = of<Fraction>(orange[k]);
                if (move.action == routine::Action::Fade) each.level = of<Fraction>(blue[k]);
                moves.push_back(each);
            }
    }
    made.project.routine.cues.front().moves = moves;
    return made;
}

TEST(ThreeColours, areAsThreeLampsPlannedByHand) {
    const auto parts = test::shippedParts();
    const auto project = test::glowing();
    const auto plan = plan::evaluate(project, parts);
    for (const auto& finding : plan.findings) EXPECT_NE(finding.severity, Severity::Stop) << finding.text;
    const auto hand = byHand(project);
    const auto planned = plan::evaluate(hand.project, hand.parts);
    ASSERT_TRUE(plan.program && planned.program) << (plan.program_error ? sentence(*plan.program_error) : "");
    EXPECT_EQ(plan.program->outputs, planned.program->outputs);
    const auto sketch = plan::sketchOf(project, plan), by_hand = plan::sketchOf(hand.project, planned);
    ASSERT_TRUE(sketch) << sentence(sketch.error());
    ASSERT_TRUE(by_hand);
    EXPECT_EQ(sketch->text, by_hand->text);
    ASSERT_EQ(plan.rails.size(), planned.rails.size());
    for (std::size_t r = 0; r < plan.rails.size(); ++r) {
        EXPECT_EQ(plan.rails[r].running, planned.rails[r].running) << plan.rails[r].name;
        EXPECT_EQ(plan.rails[r].most, planned.rails[r].most) << plan.rails[r].name;
        EXPECT_EQ(plan.rails[r].lowest, planned.rails[r].lowest) << plan.rails[r].name;
    }
    // By hand: three colours of 4.8 W at 12 V draw 1.2 A.
    const auto rail = std::find_if(plan.rails.begin(), plan.rails.end(), [](const auto& each) { return each.id == "movers"; });
    ASSERT_TRUE(rail != plan.rails.end() && rail->running);
    EXPECT_NEAR(si(*rail->running), 1.2, 0.02);
    const auto wires = plan::wiring(project, parts, plan), others = plan::wiring(hand.project, hand.parts, planned);
    ASSERT_EQ(wires.size(), others.size());
    for (std::size_t w = 0; w < wires.size(); ++w)
        EXPECT_EQ(wires[w].from + "|" + wires[w].to + "|" + wires[w].note, others[w].from + "|" + others[w].to + "|" + others[w].note);
    EXPECT_EQ(*plan::spiceDeck(project, parts, plan), *plan::spiceDeck(hand.project, hand.parts, planned));
    const auto steps = proof::bringUp(project, parts, plan), its = proof::bringUp(hand.project, hand.parts, planned);
    ASSERT_EQ(steps.size(), its.size());
    for (std::size_t s = 0; s < steps.size(); ++s) {
        EXPECT_EQ(steps[s].id, its[s].id);
        EXPECT_EQ(steps[s].expected, its[s].expected) << steps[s].id;
        EXPECT_TRUE(steps[s].channel.empty() || steps[s].channel == "it") << steps[s].channel;
    }
}

// What the maker sees is one channel: one row, its lamp bought once, its pins under their own names.
TEST(ThreeColours, areOneChannelToTheMaker) {
    const auto parts = test::shippedParts();
    const auto project = test::glowing();
    const auto plan = plan::evaluate(project, parts);
    ASSERT_EQ(plan.channels.size(), 1U);
    EXPECT_EQ(plan.channels.front().name, "it");
    ASSERT_NE(plan.apart, nullptr);
    EXPECT_EQ(plan.apart->plan.channels.size(), 3U);
    EXPECT_EQ(plan::channelOf(plan, "it_blue"), "it");
    for (const auto& finding : plan.findings) EXPECT_TRUE(finding.channel.empty() || finding.channel == "it") << finding.channel;
    for (const auto& working : plan::allWorkings(plan)) EXPECT_TRUE(working.channel.empty() || working.channel == "it") << working.channel;
    for (const auto& use : plan.pins) EXPECT_TRUE(use.user != "it_green" && use.user != "it_blue");
    const auto figure = [&](project::Stage stage) { return plan.channels.front().cells[static_cast<std::size_t>(stage)].figure; };
    EXPECT_EQ(figure(project::Stage::Pins), "D9 D10 D11");
    const auto price = [&](const char* id) { return si(*project::findDriver(parts, id)->price); };
    EXPECT_EQ(figure(project::Stage::Log), fmt::format("€ {:.2f}", 5.9 + 3.0 * price("mosfet_logic_30v")));
    const auto sample = test::finding(plan, "sample-first");
    ASSERT_TRUE(sample);
    EXPECT_EQ(sample->severity, Severity::Note) << "one lamp, not three: " << sample->text;
    // Other parts are compared by the whole lamp's 12 W: 6 W of one colour are too weak, three times 4.8 W are not.
    EXPECT_EQ(si(*plan.channels.front().context->ask.power), 12.0);
    const auto verdict = [&](const char* part) {
        const auto& context = *plan.channels.front().context;
        return match::judge(context, *project::findActuator(parts, part), *project::findDriver(parts, "mosfet_logic_30v"),
                            context.rails.front())
            .share;
    };
    EXPECT_GT(verdict("led_string_12v_6w"), 1.5);
    EXPECT_NEAR(verdict("led_rgb_string_12v_1m"), 12.0 / 14.4, 0.01);
    int lamps = 0, switches = 0;
    for (const auto& line : plan::partsList(project, parts, plan))
        lamps += line.id == "led_rgb_string_12v_1m" ? line.count : 0, switches += line.id == "mosfet_logic_30v" ? line.count : 0;
    EXPECT_EQ(lamps, 1);
    EXPECT_EQ(switches, 3);
    // Lines without a pin, and the button that gives them one.
    const auto open = test::edited(project, {{"channels/it/pin", ""}, {"channels/it/green_pin", ""}, {"channels/it/blue_pin", ""}});
    const auto without = plan::evaluate(open, parts);
    std::set<std::string> missing;
    for (const auto& each : without.missing) missing.insert(each.path);
    for (const char* path : {"channels/it/pin", "channels/it/green_pin", "channels/it/blue_pin"})
        EXPECT_TRUE(missing.contains(path)) << path;
    const auto offer = test::finding(without, "pins-open");
    ASSERT_TRUE(offer);
    ASSERT_FALSE(offer->remedies.empty());
    const auto fitted = *project::with(open, offer->remedies.front().edits);
    const auto& channel = fitted.channels.front();
    EXPECT_FALSE(channel.pin.empty() || channel.green_pin.empty() || channel.blue_pin.empty());
    const std::set<std::string> pins{channel.pin, channel.green_pin, channel.blue_pin};
    EXPECT_EQ(pins.size(), 3U);
    EXPECT_TRUE(plan::sketchOf(fitted, plan::evaluate(fitted, parts)));
    // Two colours on one pin.
    const auto twice = plan::evaluate(test::edited(project, {{"channels/it/blue_pin", "D10"}}), parts);
    const auto taken = test::finding(twice, "pin-taken");
    ASSERT_TRUE(taken);
    for (const auto& remedy : taken->remedies)
        for (const auto& edit : remedy.edits) EXPECT_TRUE(project::fact(project, edit.path)) << edit.path;
}

// Equal with memory and without, whatever was planned before.
TEST(ThreeColours, areThePlanWithMemoryToo) {
    const auto parts = test::shippedParts();
    const auto project = test::glowing(), plain = test::alone(project::ChannelKind::Switch, "led_string_12v_6w", "mosfet_logic_30v");
    const auto first = plan::evaluate(project, parts), other = plan::evaluate(plain, parts);
    const auto said = [](const plan::Plan& plan) {
        std::string text;
        for (const auto& finding : plan.findings) text += finding.id + finding.channel + finding.text + "\n";
        for (const auto& channel : plan.channels)
            for (const auto& cell : channel.cells) text += cell.figure + cell.small + cell.why + "\n";
        return text;
    };
    EXPECT_EQ(said(plan::evaluate(project, parts, {}, &first)), said(first));
    EXPECT_EQ(said(plan::evaluate(project, parts, {}, &other)), said(first));
    EXPECT_EQ(said(plan::evaluate(plain, parts, {}, &first)), said(other));
    auto changed = test::edited(project, {{"channels/it/signal/duty", "50 %"}});
    EXPECT_EQ(said(plan::evaluate(changed, parts, {}, &first)), said(plan::evaluate(changed, parts)));
}

// By hand, for a bare LED on the pins of a 5 V board: green and blue keep 3.2 V, red 2 V; 20 mA leave 1.8 V / 20 mA = 90 Ω, so 100 Ω of
// the E12 row, and 3 V / 20 mA = 150 Ω.
TEST(ThreeColours, ofABareLedHaveAResistorEach) {
    const auto parts = test::shippedParts();
    const auto project =
        test::glowing({{"channels/it/demand/power", "0.1 W"}, {"channels/it/demand/load", "resistive"}, {"channels/it/rail", "logic"}},
                      "led_rgb_5mm_common_minus", "straight_from_pin");
    const auto plan = plan::evaluate(project, parts);
    EXPECT_FALSE(test::finding(plan, "common-pole"));
    std::map<std::string, double> ohms;
    for (const auto& channel : plan.apart->plan.channels)
        if (channel.chosen && channel.chosen->led_resistor) ohms[channel.id] = si(*channel.chosen->led_resistor);
    EXPECT_EQ(ohms["it"], 150.0);
    EXPECT_EQ(ohms["it_green"], 100.0);
    EXPECT_EQ(ohms["it_blue"], 100.0);
    auto wrong = project;
    wrong.channels.front().actuator = "led_rgb_5mm_common_plus";
    EXPECT_TRUE(test::finding(plan::evaluate(wrong, parts), "common-pole"));
}

// What is said of a colour's own move is said of the maker's.
TEST(ThreeColours, areToldByTheMakersPaths) {
    const auto apart = plan::coloursApart(test::glowing(), test::shippedParts());
    ASSERT_TRUE(apart);
    EXPECT_EQ(apart->pathOf("channels/it_green/pin"), "channels/it/green_pin");
    EXPECT_EQ(apart->pathOf("channels/it_blue/signal/duty"), "channels/it/signal/duty");
    EXPECT_EQ(apart->pathOf("channels/it/pin"), "channels/it/pin");
    EXPECT_EQ(apart->pathOf("routine/cues/run_it/moves/turns_green/level"), "routine/cues/run_it/moves/turns/level");
    EXPECT_EQ(apart->pathOf("routine/cues/run_it/moves/turns/level"), "routine/cues/run_it/moves/turns/level");
    EXPECT_EQ(apart->pathOf("rails/movers/fuse"), "rails/movers/fuse");
    // By the whole plan: a green that has no PWM.
    const auto plan = plan::evaluate(test::glowing({{"channels/it/green_pin", "D7"}}), test::shippedParts());
    ASSERT_TRUE(plan.program_error);
    EXPECT_EQ(plan.program_error->field.find("_green"), std::string::npos) << plan.program_error->field;
}

// A colour that is none, and a colour for what has none: refused where it stands.
TEST(ThreeColours, whatIsNoColourIsSaid) {
    const auto parts = test::shippedParts();
    const auto bad = plan::evaluate(test::glowing({{"routine/cues/run_it/moves/turns/colour", "#ff80"}}), parts);
    ASSERT_TRUE(bad.program_error);
    EXPECT_EQ(bad.program_error->field, "routine/cues/run_it/moves/turns/colour");
    auto plain = test::running(test::alone(project::ChannelKind::Switch, "led_string_12v_6w", "mosfet_logic_30v"));
    plain.routine.cues.front().moves.front().colour = "#ff8000";
    const auto of_none = plan::evaluate(plain, parts);
    ASSERT_TRUE(of_none.program_error);
    EXPECT_NE(sentence(*of_none.program_error).find("of anything else none"), std::string::npos) << sentence(*of_none.program_error);
}

// An interlock knows the lamp: on while any of its colours is, off when all are, and all of them give way.
TEST(ThreeColours, areOneToTheInterlocks) {
    auto project = test::glowing();
    project = project::addInput(project, project::InputKind::Button, "door");
    project = project::addInterlock(project, "it", "door");
    project = project::addInterlock(project, "it", "");
    routine::Term on{"t", "it", routine::TermState::On, {}, {}}, off{"u", "it", routine::TermState::Off, {}, {}};
    project.routine.interlocks.back().terms = {on, off};
    const auto apart = plan::coloursApart(project, test::shippedParts());
    ASSERT_TRUE(apart);
    std::map<std::string, int> gives_way;
    for (const auto& each : apart->project.routine.interlocks) ++gives_way[each.channel];
    EXPECT_EQ(gives_way["it"], 1 + 3) << "one by its input, one for each colour that may be on";
    EXPECT_EQ(gives_way["it_green"], 4);
    EXPECT_EQ(gives_way["it_blue"], 4);
    std::set<std::string> ids;
    for (const auto& each : apart->project.routine.interlocks) {
        EXPECT_TRUE(ids.insert(each.id).second) << each.id;
        if (!each.terms.empty()) EXPECT_EQ(each.terms.size(), 1U + 3U) << "one that is on, all three that are off";
    }
}

}  // namespace
}  // namespace hinge::colours_of_lamps
