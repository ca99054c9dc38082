// What the supply says is true of everything that draws: limits, ripple, alternatives, fuses, wires, cells.
#include <cmath>
#include <set>
#include "plan/feed.hpp"
#include "plan/firmware_model.hpp"
#include "plan/supply.hpp"
#include "plan/wiring.hpp"
#include "plant/supply_network.hpp"
#include "power/battery_discharge.hpp"
#include "power/fuse.hpp"
#include "power/wire.hpp"
#include "simulation/supply_day.hpp"
#include "support/alone.hpp"

namespace hinge::plan {
namespace {

using plant::LoadShape;
using plant::SupplyNetwork;

// By hand: 0.68 A at 5 V is 7.35 Ω; 0.5 A through it are 3.68 V.
TEST(SourceAtItsLimit, loadsDrawByTheirVolts) {
    const auto net = SupplyNetwork::make({{.set = 5.0, .limit = 0.5}});
    ASSERT_TRUE(net);
    const std::vector<LoadShape> burst{{0, 0.68, 0.0, 1.0, true}};
    auto state = net->settled({});
    std::vector<plant::Lowest> lowest;
    ASSERT_TRUE(net->advance(state, burst, 0.2, &lowest));
    EXPECT_NEAR(lowest[0].volts, 0.5 * 5.0 / 0.68, 0.01) << "not 0 V";
    ASSERT_TRUE(net->advance(state, {}, 0.1, nullptr));
    EXPECT_NEAR(net->at(state, {}).volts[0], 5.0, 1e-6) << "and it comes back";
}

// By hand, with a capacitor beside it: from 5 V towards 3.68 V with the time constant C·R of the burst's own resistance.
TEST(SourceAtItsLimit, theCapacitorFollowsTheLoadsOwnResistance) {
    const auto net = SupplyNetwork::make({{.set = 5.0, .limit = 0.5, .bulk = 470e-6, .esr = 1e-3}});
    ASSERT_TRUE(net);
    const std::vector<LoadShape> burst{{0, 0.68, 0.0, 1.0, true}};
    auto state = net->settled({});
    ASSERT_TRUE(net->advance(state, burst, 0.003, nullptr));
    const double ohms = 5.0 / 0.68, end = 0.5 * ohms;
    EXPECT_NEAR(state.caps[0], end + (5.0 - end) * std::exp(-0.003 / (ohms * 470e-6)), 0.01);
}

// A fading start: while 1.2 A are asked the rail is low, once 0.4 A are left it stands again.
TEST(SourceAtItsLimit, recoversAsTheStartFades) {
    const auto net = SupplyNetwork::make({{.set = 5.0, .limit = 0.5}});
    ASSERT_TRUE(net);
    auto state = net->settled({});
    std::vector<plant::Lowest> lowest;
    ASSERT_TRUE(net->advance(state, std::vector<LoadShape>{{0, 0.4, 0.8, 0.05, true}}, 0.5, &lowest));
    EXPECT_NEAR(lowest[0].volts, 0.5 * 5.0 / 1.2, 0.06) << "by hand at the first instant, held for a twentieth of what is drawn";
    EXPECT_NEAR(net->at(state, std::vector<LoadShape>{{0, 0.4, 0.0, 1.0, true}}).volts[0], 5.0, 1e-3);
}

// Behind a regulator in drop-out and a converter with its capacitor it must still come to an end, whatever the adapter gives.
TEST(SourceAtItsLimit, anOverloadedAdapterEndsInACollapsedRailAndNotInAnError) {
    const auto parts = test::shippedParts();
    for (const char* amps : {"0.02 A", "0.05 A", "0.1 A", "0.3 A", "0.7 A", "1 A", "2 A"}) {
        const auto project = test::edited(test::exampleProject("paper-moon-stage"), {{"sources/adapter/current", amps}});
        const auto plan = evaluate(project, parts);
        EXPECT_TRUE(plan.headline.worst_by_routine) << amps;
        const auto tree = supplyTree(under(project, supplyOptions(project).front()), parts, plan);
        ASSERT_TRUE(tree);
        std::vector<simulation::Event> script;
        for (const auto& cue : plan.program->cues) script.push_back({.time = 0.5 + static_cast<double>(script.size()), .cue = cue.id});
        const auto day = simulation::supplyDay(*plan.program, *tree, script, 30.0);
        ASSERT_TRUE(day) << amps << ": " << sentence(day.error());
        EXPECT_FALSE(day->collapsed) << amps;
        if (std::string(amps) != "2 A") EXPECT_LT(day->lowest[0].volts, 11.0) << amps;
        EXPECT_NE(test::finding(plan, "source-over"), nullptr) << amps;
    }
}

// A servo on a USB port: what cures it is the smallest capacitor that does, tried on the whole study.
TEST(SourceAtItsLimit, theCureIsTheSmallestCapacitorThatHolds) {
    const auto parts = test::shippedParts();
    const auto project =
        test::edited(test::exampleProject("paper-moon-stage"), {{"rails/servo/limit", "0.3 A"}, {"rails/servo/bulk", "100 uF"}});
    const auto plan = evaluate(project, parts);
    const auto* found = test::finding(plan, "rail-sag");
    ASSERT_NE(found, nullptr);
    for (const auto& remedy : found->remedies) {
        const auto cured = evaluate(test::edited(project, remedy.edits), parts);
        const auto* left = test::finding(cured, "rail-sag");
        EXPECT_TRUE(left == nullptr || left->text != found->text) << remedy.label;
        EXPECT_LE(cured.headline.breaks, plan.headline.breaks) << remedy.label << " leaves a new stop";
    }
}

// A mover that nobody has calibrated, or a part that nobody has chosen, makes the whole not known; never small.
TEST(WorstCurrent, isNotKnownWhereAChannelIsNot) {
    const auto parts = test::shippedParts();
    const auto stage = test::exampleProject("paper-moon-stage");
    const auto whole = evaluate(stage, parts);
    ASSERT_TRUE(whole.headline.worst_current);
    auto bare = project::addChannel(stage, project::ChannelKind::Turn, "Banner");
    bare.channels.back().rail = "servo";
    const auto unknown = evaluate(bare, parts);
    EXPECT_FALSE(unknown.headline.worst_current) << "a channel without a part";
    for (const auto& rail : unknown.rails) {
        const bool its = rail.id == "servo";
        EXPECT_EQ(rail.running.has_value(), !its) << rail.id;
    }
    const auto loose = test::edited(stage, {{"channels/moon/calibration/pulse_min", ""}, {"channels/moon/calibration/pulse_max", ""}});
    EXPECT_FALSE(evaluate(loose, parts).headline.worst_by_routine) << "a servo whose ends nobody knows yet";
}

// A fan that follows a knob is on while the pump starts: by hand the sum of both.
TEST(WorstCurrent, countsWhatFollowsAnInput) {
    const auto parts = test::shippedParts();
    auto project = test::demoProject();
    const auto before = evaluate(project, parts);
    project = project::addChannel(project, project::ChannelKind::Switch, "Lamp");
    auto& lamp = project.channels.back();
    lamp.rail = "movers", lamp.pin = "D9", lamp.actuator = "led_string_12v_6w";
    project = test::edited(project, {{"channels/lamp/demand/load", "resistive"},

                                     {"channels/lamp/demand/power", "6 W"},
                                     {"channels/lamp/drive/part", "mosfet_logic_30v"}});
    project.inputs.push_back({"dark", "dark", project::InputKind::Button, "D4"});
    routine::Follower follower;
    follower.id = "by_night", follower.channel = "lamp", follower.input = "dark";
    project.routine.followers.push_back(follower);
    const auto plan = evaluate(project, parts);
    ASSERT_TRUE(plan.headline.worst_current) << (plan.program_error ? sentence(*plan.program_error) : "");
    EXPECT_GE(si(*plan.headline.worst_current), si(*before.headline.worst_current) + 0.5 * 0.99) << "6 W at 12 V are 0.5 A";
}

// Published promises, from memory: IEC 60127-2 sheet 3 and ISO 8820-3.
TEST(Fuses, areJudgedByWhatTheyPromise) {
    const auto slow = power::fuseLimits(of<Current>(0.4));
    EXPECT_DOUBLE_EQ(si(slow.carries), 0.6) << "IEC 60127-2 sheet 3 (from memory): 1.5 In for an hour at least";
    EXPECT_DOUBLE_EQ(si(slow.blows), 0.84) << "2.1 In: two minutes at most";
    const auto blade = power::fuseLimits(of<Current>(20.0));
    EXPECT_TRUE(blade.blade);
    EXPECT_DOUBLE_EQ(si(blade.blows), 27.0) << "ISO 8820-3 (from memory): 1.35 In, ten minutes at most";
    ASSERT_TRUE(power::fuseFor(of<Current>(12.0)));
    EXPECT_DOUBLE_EQ(si(*power::fuseFor(of<Current>(12.0))), 20.0) << "16 A and more: the next blade";
    EXPECT_FALSE(power::fuseFor(of<Current>(25.0)));
    // A 0.4 A fuse before a pump that draws 0.695 A jammed never blows: said, not passed over.
    const auto plan = evaluate(test::demoProject(), test::shippedParts());
    const auto* large = test::finding(plan, "fuse-unsure");
    ASSERT_NE(large, nullptr);
    EXPECT_NE(large->text.find("840 mA"), std::string::npos) << large->text;
}

// IEC 60204-1 table 6, method B1 (from memory).
TEST(Ampacity, ofWires) {
    EXPECT_DOUBLE_EQ(si(*power::ampacity(of<Area>(0.75e-6))), 8.6);
    EXPECT_DOUBLE_EQ(si(*power::ampacity(of<Area>(1.5e-6))), 13.5);
    EXPECT_DOUBLE_EQ(si(*power::ampacity(of<Area>(2.0e-6))), 13.5) << "no more than the size below it";
    EXPECT_FALSE(power::ampacity(of<Area>(25e-6)));
    EXPECT_LT(si(*power::ampacity(of<Area>(0.25e-6))), 5.0);
    // A thin wire behind a large fuse, and one that is too thin for what runs.
    const auto parts = test::shippedParts();
    const auto stage = test::exampleProject("paper-moon-stage");
    const auto large = test::edited(stage, {{"rails/movers/fuse", "10 A"}, {"rails/movers/wire_area", "0.25 mm2"}});
    const auto plan = evaluate(large, parts);
    const auto* found = test::finding(plan, "wire-unprotected");
    ASSERT_NE(found, nullptr);
    ASSERT_FALSE(found->remedies.empty());
    const auto cured = evaluate(test::edited(large, found->remedies.front().edits), parts);
    EXPECT_EQ(test::finding(cured, "wire-unprotected"), nullptr);
    EXPECT_LE(cured.headline.breaks, plan.headline.breaks);
    EXPECT_EQ(test::finding(evaluate(stage, parts), "wire-unprotected"), nullptr);
}

// Every other source and charge state is judged as if it were the one that is drawn.
TEST(Alternatives, areJudgedAsIfTheyWereTheMainSource) {
    const auto parts = test::shippedParts();
    auto project = test::exampleProject("paper-moon-stage");
    power::Source port;
    port.id = "port", port.name = "spare port", port.kind = power::SourceKind::UsbPort, port.instead_of = "adapter";
    project.sources.push_back(port);
    const auto plan = evaluate(project, parts);
    int said = 0;
    for (const auto& finding : plan.findings)
        if (finding.text.starts_with("On the spare port")) ++said;
    EXPECT_GE(said, 3) << "5 V and half an ampere for a 12 V stage";
    // As the main source it breaks by the same rules.
    auto alone = project;
    alone.sources.erase(alone.sources.begin());
    alone.sources.front().instead_of.clear();
    for (auto& rail : alone.rails)
        if (rail.from == "adapter") rail.from = "port";
    const auto main = evaluate(alone, parts);
    for (const auto& finding : main.findings) {
        if (finding.severity != Severity::Stop) continue;
        bool there = false;
        for (const auto& other : plan.findings) there = there || (other.id == finding.id && other.severity == Severity::Stop);
        EXPECT_TRUE(there) << finding.id << ": " << finding.text;
    }
}

TEST(Alternatives, aFullPackIsHeldAgainstWhatTheBoardTakes) {
    const auto parts = test::shippedParts();
    // Four full lithium cells are 16.8 V: the stage's pump and fan are for 12 V.
    const auto project = test::edited(test::exampleProject("paper-moon-stage"), {{"sources/adapter/kind", "battery"},
                                                                                 {"sources/adapter/series", "4"},
                                                                                 {"sources/adapter/capacity", "2.5 Ah"},
                                                                                 {"sources/adapter/cell_resistance", "0.04 ohm"},
                                                                                 {"sources/adapter/protection_board", "yes"}});
    const auto plan = evaluate(project, parts);
    bool full = false;
    for (const auto& finding : plan.findings) full = full || finding.text.starts_with("With full cells");
    EXPECT_TRUE(full);
    for (const auto& channel : plan.channels) {
        const auto& feed = channel.cells[static_cast<std::size_t>(project::Stage::Feed)];
        EXPECT_NE(feed.verdict, Verdict::Unknown) << channel.name << ": nothing is missing, cells promise no amps";
    }
}

// Cells under a cue without an end: by hand, charge over what is drawn all day.
TEST(BatteryHours, countAnEndlessCueAllDay) {
    const auto parts = test::shippedParts();
    auto project = test::edited(test::demoProject(), {{"sources/adapter/kind", "battery"},
                                                      {"sources/adapter/series", "3"},
                                                      {"sources/adapter/capacity", "2 Ah"},
                                                      {"sources/adapter/cell_resistance", "0.02 ohm"},
                                                      {"sources/adapter/usable_fraction", "100 %"},
                                                      {"sources/adapter/protection_board", "yes"},
                                                      {"routine/cues/storm/at_power_up", "yes"}});
    project = project::addMove(project, "storm", routine::Action::Again, "");
    project.routine.cues.front().moves.back().times = of<Count>(0.0);
    const auto plan = evaluate(project, parts);
    ASSERT_TRUE(plan.program) << (plan.program_error ? sentence(*plan.program_error) : "");
    ASSERT_TRUE(plan.battery);
    const double running = si(*plan.channels.front().chosen->running);
    EXPECT_NEAR(si(plan.battery->runtime), 2.0 * 3600.0 / (0.045 + running), 0.1 * 2.0 * 3600.0 / (0.045 + running));
    // Work that is said beyond the routine counts too.
    const auto seldom = test::edited(test::demoProject(), {{"sources/adapter/kind", "battery"},
                                                           {"sources/adapter/series", "3"},
                                                           {"sources/adapter/capacity", "2 Ah"},
                                                           {"sources/adapter/cell_resistance", "0.02 ohm"},
                                                           {"sources/adapter/protection_board", "yes"}});
    const auto little = evaluate(seldom, parts);
    const auto more = evaluate(test::edited(seldom, {{"channels/rain/work/on_for", "30 s"}, {"channels/rain/work/every", "60 s"}}), parts);
    ASSERT_TRUE(little.battery && more.battery);
    EXPECT_LT(si(more.battery->runtime), 0.5 * si(little.battery->runtime));
}

// What has to look for its start draws for its moves all the same: the plan reckons with a start that was found.
TEST(WorstCurrent, countsTheMovesOfWhatLooksForItsStart) {
    const auto parts = test::shippedParts();
    auto project = test::exampleProject("paper-moon-stage");
    project.routine = {};
    project = *project::insertPattern(project, "home", "curtain");
    project = project::addCue(project, "open");
    project = project::addMove(project, project.routine.cues.back().id, routine::Action::Go, "curtain");
    for (auto& input : project.inputs)
        if (input.pin.empty() && project::hasPin(input.kind)) input.pin = "D12";
    const auto plan = plan::evaluate(project, parts);
    ASSERT_TRUE(plan.program);
    const auto followed = plan::cueProfiles(*plan.program);
    const auto& profiles = followed->profiles;
    std::size_t curtain = 0;
    while (plan.program->outputs[curtain].id != "curtain") ++curtain;
    bool moves = false;
    for (const auto& profile : profiles)
        if (profile.cue == 1)
            for (const auto& change : profile.changes) moves = moves || change.phases[curtain] == plan::Phase::Moving;
    EXPECT_TRUE(moves) << "the cue that opens it";
}

// The draw that ends it is the one under which the volts are lowest: by hand n·OCV − I·R.
TEST(BatteryDischarge, countsTheLoadThatTrips) {
    power::BatteryDischarge in;
    in.chemistry = power::Chemistry::LiIon;
    in.series = of<Count>(1.0);
    in.capacity = of<Charge>(3600.0);
    in.cell_resistance = of<Resistance>(0.2);
    in.cutoff = of<Voltage>(4.5);  // above a full cell: the first draw trips it
    in.profile = "2A@1s,0.1A@100s";
    const auto worked = power::batteryDischarge(in);
    ASSERT_TRUE(worked) << sentence(worked.error());
    EXPECT_NEAR(si(worked->result.lowest), 4.2 - 2.0 * 0.2, 1e-9);
}

// All sources stand in the headline, the nearest to its end first.
TEST(Headline, namesEverySource) {
    auto project = test::exampleProject("paper-moon-stage");
    power::Source port;
    port.id = "port", port.name = "board's port", port.kind = power::SourceKind::UsbPort, port.usb = power::UsbPromise::Unconfigured;
    project.sources.push_back(port);
    for (auto& rail : project.rails)
        if (rail.id == "logic") rail.from = "port", rail.conversion = power::Conversion::Direct, rail.voltage.reset();
    const auto plan = evaluate(project, test::shippedParts());
    ASSERT_EQ(plan.headline.sources.size(), 2U);
    EXPECT_EQ(plan.headline.sources.front().name, "board's port") << "116 mA of 100 mA";
    EXPECT_NE(test::finding(plan, "usb-budget"), nullptr);
    ASSERT_FALSE(test::finding(plan, "usb-budget")->remedies.empty());
}

// What a remedy offers must cure, and leave no stop that was not there.
void tryRemedies(const project::Project& project, const project::Parts& parts, const std::string& name) {
    SCOPED_TRACE(name);
    auto plan = evaluate(project, parts);
    dropUnsound(project, parts, plan);
    std::set<std::string> stops;
    for (const auto& finding : plan.findings)
        if (finding.severity == Severity::Stop) stops.insert(finding.id + "/" + finding.channel);
    for (const auto& finding : plan.findings)
        for (const auto& remedy : finding.remedies) {
            const auto changed = project::with(project, remedy.edits);
            ASSERT_TRUE(changed) << finding.id << ": " << remedy.label << ": " << sentence(changed.error());
            const auto cured = evaluate(*changed, parts);
            for (const auto& left : cured.findings) {
                EXPECT_FALSE(left.id == finding.id && left.channel == finding.channel && left.text == finding.text)
                    << finding.id << " is not cured by '" << remedy.label << "': " << finding.text;
                EXPECT_FALSE(left.severity == Severity::Stop && stops.count(left.id + "/" + left.channel) == 0)
                    << finding.id << ", '" << remedy.label << "' leaves a new stop: " << left.id << ": " << left.text;
            }
        }
}

TEST(Remedies, cureAndLeaveNoNewStop) {
    const auto parts = test::shippedParts();
    const auto stage = test::exampleProject("paper-moon-stage");
    for (const char* name :
         {"paper-moon-stage", "proofing-box", "tightrope-rider", "cloud-chamber-door", "greenhouse-kettle", "snail-hour"})
        tryRemedies(test::exampleProject(name), parts, name);
    for (const char* name : {"box-weak-converter", "rider-bare-cells", "stage-servo-on-logic"})
        tryRemedies(store::load(std::string(HINGE_SOURCE_DIR "/tests/projects/") + name)->project, parts, name);
    const std::vector<std::vector<project::FactEdit>> faults{
        {{"sources/adapter/current", "1 A"}},
        {{"sources/adapter/voltage", "9 V"}},
        {{"sources/adapter/voltage", "15 V"}},
        {{"sources/adapter/kind", "usb-port"}},
        {{"rails/servo/limit", "0.3 A"}},
        {{"rails/movers/wire_area", "0.14 mm2"}},
        {{"rails/movers/fuse", "0.5 A"}},
        {{"rails/movers/fuse", ""}},
        {{"rails/movers/fuse", "10 A"}},
        {{"rails/logic/voltage", "3.3 V"}},
        {{"channels/rain/drive/part", "mosfet_ordinary_55v"}},
        {{"channels/rain/demand/lift", "1.5 m"}},
        {{"channels/moon/rail", "logic"}},
    };
    for (std::size_t k = 0; k < faults.size(); ++k)
        tryRemedies(test::edited(stage, faults[k]), parts, faults[k].front().path + " = " + faults[k].front().value);
}

// A display and a radio on the logic rail, by hand: they are there all the time, so each figure of the rail is more by just so much;
// through a regulator the source gives the same amps, through a converter V2/(V1·η) of them.
TEST(WhatElseHangsOnIt, drawsAllTheTime) {
    const auto parts = test::shippedParts();
    const auto stage = test::exampleProject("paper-moon-stage");
    const auto& logic = *project::findRail(stage, stage.board.rail);
    const std::string path = "rails/" + logic.id + "/";
    const auto with = test::edited(stage, {{path + "also", "display, radio"}, {path + "also_draws", "120 mA"}});
    const auto before = plan::evaluate(stage, parts), after = plan::evaluate(with, parts);
    const auto railOf = [&](const Plan& plan) {
        return *std::find_if(plan.rails.begin(), plan.rails.end(), [&](const auto& each) { return each.id == logic.id; });
    };
    ASSERT_TRUE(railOf(before).rest && railOf(after).rest && railOf(before).running && railOf(after).running);
    EXPECT_NEAR(si(*railOf(after).rest) - si(*railOf(before).rest), 0.120, 1e-9);
    EXPECT_NEAR(si(*railOf(after).running) - si(*railOf(before).running), 0.120, 1e-9);
    const auto one = supplyTree(stage, parts, before), other = supplyTree(with, parts, after);
    ASSERT_TRUE(one && other);
    double sum = 0.0;
    for (const auto& load : other->standing) sum += load.steady;
    for (const auto& load : one->standing) sum -= load.steady;
    EXPECT_NEAR(sum, 0.120, 1e-12) << "once, not twice";
    // They are wired and listed by their names.
    const auto wires = plan::wiring(with, parts, after);
    for (const char* name : {"display", "radio"}) {
        EXPECT_TRUE(std::any_of(wires.begin(), wires.end(),
                                [&](const auto& w) { return w.from == logic.name && w.to == std::string{name} + " +"; }));
        EXPECT_TRUE(
            std::any_of(wires.begin(), wires.end(), [&](const auto& w) { return w.from == std::string{name} + " −" && w.to == "ground"; }));
        const auto list = plan::partsList(with, parts, after);
        EXPECT_TRUE(std::any_of(list.begin(), list.end(), [&](const auto& line) { return line.name == name; })) << name;
    }
    // Named without amps nobody knows what the rail gives.
    const auto named = plan::evaluate(test::edited(stage, {{path + "also", "display"}}), parts);
    EXPECT_FALSE(supplyTree(test::edited(stage, {{path + "also", "display"}}), parts, named));
    EXPECT_TRUE(
        std::any_of(named.missing.begin(), named.missing.end(), [&](const auto& each) { return each.path == path + "also_draws"; }));
    // More than the rail's own source gives is said.
    const auto much = plan::evaluate(test::edited(stage, {{path + "also", "heater"}, {path + "also_draws", "30 A"}}), parts);
    EXPECT_NE(much.verdict, Verdict::Holds);
    EXPECT_TRUE(std::any_of(much.findings.begin(), much.findings.end(), [](const auto& finding) {
        return finding.severity == Severity::Stop && finding.stage == project::Stage::Feed;
    }));
}

}  // namespace
}  // namespace hinge::plan
