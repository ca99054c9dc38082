// The supply over time: what the cues can do together, against brute force, and the rules that judge it.
#include <fmt/format.h>
#include <random>
#include "plan/firmware_model.hpp"
#include "plan/supply.hpp"
#include "plan/tolerance.hpp"
#include "routine/compile.hpp"
#include "routine/machine.hpp"
#include "routine/quiet.hpp"
#include "simulation/supply_day.hpp"
#include "store/document.hpp"
#include "support/demo.hpp"

namespace hinge::plan {
namespace {

project::Project stage(const char* name = "paper-moon-stage") {
    auto document = store::load(std::string(HINGE_SOURCE_DIR "/demos/") + name);
    EXPECT_TRUE(document) << sentence(document.error());
    return document->project;
}

// A tick at a time and in leaps must come to the same state, whatever happens in between.
TEST(Quiet, leapingOverQuietTicksIsTheSameAsRunningThem) {
    const auto parts = test::shippedParts();
    for (const auto* name :
         {"paper-moon-stage", "proofing-box", "tightrope-rider", "cloud-chamber-door", "greenhouse-kettle", "snail-hour"}) {
        const auto plan = evaluate(stage(name), parts);
        if (!plan.program) continue;
        const auto& program = *plan.program;
        std::mt19937 random(7);
        auto slow = routine::powerUp(program), fast = slow;
        const routine::Machine machine{program};
        std::vector<std::uint8_t> pins(program.inputs.size(), 0);
        for (int round = 0; round < 120; ++round) {
            routine::Happening happening;
            if (random() % 3 == 0 && !pins.empty()) pins[random() % pins.size()] ^= 1;
            happening.pin_active = pins;
            if (random() % 4 == 0 && !program.cues.empty()) happening.start_cues = {static_cast<int>(random() % program.cues.size())};
            if (random() % 9 == 0) {
                const auto clock = static_cast<std::int32_t>(random() % routine::ticks_per_day);
                for (auto* state : {&slow, &fast}) routine::setClock(*state, clock);
            }
            machine.tick(slow, happening);
            machine.tick(fast, happening);
            happening.start_cues.clear();
            std::int32_t left = static_cast<std::int32_t>(random() % 4000);
            for (int i = 0; i < left; ++i) machine.tick(slow, happening);
            while (left > 0) {
                const auto leap = std::min(left, routine::quietTicks(program, fast, pins));
                routine::skip(program, fast, leap);
                left -= leap;
                if (left > 0) machine.tick(fast, happening), --left;
            }
            ASSERT_TRUE(slow == fast) << name << ", round " << round;
        }
    }
}

// Three outputs, two or three cues with waits and off-delays, made from a seed.
struct Made {
    routine::Program program;
    SupplyTree tree;
};
Made made(unsigned seed) {
    std::mt19937 random(seed);
    const auto pick = [&](int n) { return static_cast<int>(random() % static_cast<unsigned>(n)); };
    const int outputs = 3, cues = 2 + pick(2);
    routine::Routine routine;
    std::vector<routine::ChannelNumbers> channels;
    std::vector<routine::InputNumbers> inputs;
    for (int o = 0; o < outputs; ++o)
        channels.push_back({std::string(1, static_cast<char>('a' + o)), "o", std::nullopt, of<Duration>(1.0), of<Fraction>(1.0), Duration{},
                            of<Duration>(pick(3) * 0.004), 255});
    for (int c = 0; c < cues; ++c) {
        const std::string id = "c" + std::to_string(c);
        inputs.push_back({"i" + std::to_string(c), "input", false, of<Duration>(0.001)});
        routine::Cue cue{id, id, "i" + std::to_string(c), "", {}, {}};
        for (int m = 0; m < 3; ++m) {
            const std::string channel(1, static_cast<char>('a' + pick(outputs)));
            switch (pick(3)) {
                case 0:
                    cue.moves.push_back({"m" + std::to_string(m), routine::Action::Run, channel, of<Duration>(0.002 + pick(5) * 0.002)});
                    break;
                case 1: cue.moves.push_back({"m" + std::to_string(m), routine::Action::On, channel}); break;
                default: cue.moves.push_back({"m" + std::to_string(m), routine::Action::Wait, "", of<Duration>(0.002 + pick(4) * 0.002)});
            }
        }
        for (int o = 0; o < outputs; ++o)
            cue.moves.push_back({"z" + std::to_string(o), routine::Action::Off, std::string(1, static_cast<char>('a' + o))});
        routine.cues.push_back(cue);
    }
    auto program = routine::compile(routine, channels, inputs);
    EXPECT_TRUE(program) << sentence(program.error());
    Made out{*program, {}};
    out.tree.ids = out.tree.names = {"source"};
    out.tree.taken = {{1.0}};
    out.tree.network = *plant::SupplyNetwork::make({{.set = 12.0}});
    for (int o = 0; o < outputs; ++o) {
        OutputLoad load;
        load.section = 0;
        load.running = 0.1 * (1 + pick(9));
        load.starting = load.running * (1 + pick(4));
        load.decay = 1e-9;  // the extra counts in the first instant alone, so that a tick's sum is plain
        out.tree.outputs.push_back(load);
    }
    return out;
}

// Every way to start every cue (or not) within the length of the longest, tick by tick, each run alone and laid
// over the others; the sum at each tick by the outputs' own figures.
double bruteForce(const Made& m) {
    const int horizon = 60;
    const auto outputs = m.tree.outputs.size();
    // amps[cue][tick][output], from the interpreter alone.
    std::vector<std::vector<std::vector<double>>> amps;
    std::vector<int> ends;
    const std::vector<std::uint8_t> pins(m.program.inputs.size(), 0);
    for (std::size_t c = 0; c < m.program.cues.size(); ++c) {
        auto state = routine::powerUp(m.program);
        const routine::Machine machine{m.program};
        routine::Happening happening;
        happening.pin_active = pins;
        for (int i = 0; i < 10; ++i) machine.tick(state, happening);
        std::vector<std::vector<double>> rows;
        std::vector<bool> was(outputs, false);
        int end = 0;
        for (int t = 0; t < horizon; ++t) {
            happening.start_cues.clear();
            if (t == 0) happening.start_cues = {static_cast<int>(c)};
            machine.tick(state, happening);
            if (state.cue(c).place >= 0) end = t + 1;
            std::vector<double> row(outputs, 0.0);
            for (std::size_t o = 0; o < outputs; ++o) {
                const bool on = routine::isOn(m.program, state, o);
                if (on) row[o] = was[o] ? m.tree.outputs[o].running : m.tree.outputs[o].starting;
                was[o] = on;
            }
            rows.push_back(row);
        }
        amps.push_back(rows);
        ends.push_back(end);
    }
    // Each cue at any tick of its course or not at all, and its tail beside a new run of its own.
    double best = 0.0;
    // Only distinct rows are walked: the product of all would be too large.
    std::vector<std::vector<std::vector<double>>> distinct;
    for (std::size_t c = 0; c < amps.size(); ++c) {
        std::vector<std::vector<double>> mains, all;
        for (int t = 0; t < horizon; ++t)
            if (std::find(all.begin(), all.end(), amps[c][static_cast<std::size_t>(t)]) == all.end())
                all.push_back(amps[c][static_cast<std::size_t>(t)]);
        std::vector<std::vector<double>> tails;
        for (int t = ends[c]; t < horizon; ++t)
            if (std::find(tails.begin(), tails.end(), amps[c][static_cast<std::size_t>(t)]) == tails.end())
                tails.push_back(amps[c][static_cast<std::size_t>(t)]);
        std::vector<std::vector<double>> joined = all;
        for (const auto& a : all)
            for (const auto& b : tails) {
                auto both = a;
                for (std::size_t o = 0; o < outputs; ++o) both[o] = std::max(both[o], b[o]);
                if (std::find(joined.begin(), joined.end(), both) == joined.end()) joined.push_back(both);
            }
        distinct.push_back(joined);
    }
    const auto walk = [&](auto&& self, std::size_t c, const std::vector<double>& so_far) -> void {
        if (c == distinct.size()) {
            double sum = 0.0;
            for (const double a : so_far) sum += a;
            best = std::max(best, sum);
            return;
        }
        self(self, c + 1, so_far);
        for (const auto& row : distinct[c]) {
            auto joined = so_far;
            for (std::size_t o = 0; o < outputs; ++o) joined[o] = std::max(joined[o], row[o]);
            self(self, c + 1, joined);
        }
    };
    walk(walk, 0, std::vector<double>(outputs, 0.0));
    return best;
}

TEST(WorstCoincidence, equalsBruteForceOnSmallRoutines) {
    for (unsigned seed = 1; seed <= 60; ++seed) {
        const auto m = made(seed);
        const auto worst = worstCoincidence(m.program, cueProfiles(m.program)->profiles, m.tree, 0);
        EXPECT_TRUE(worst.complete);
        EXPECT_NEAR(worst.amps, bruteForce(m), 1e-5) << "seed " << seed;
    }
}

TEST(SupplyStudy, theStagesWorstIsNoMoreThanAllStartingAndNoLessThanTheScene) {
    const auto plan = evaluate(stage(), test::shippedParts());
    ASSERT_TRUE(plan.headline.worst_by_routine);
    double all = 0.0;
    for (const auto& source : plan.sources) all = si(*source.starting);
    EXPECT_LE(si(*plan.headline.worst_current), all * (1 + 1e-9));
    const auto project = stage();
    const auto tree = supplyTree(under(project, supplyOptions(project).front()), test::shippedParts(), plan);
    ASSERT_TRUE(tree);
    // Every cue started once, a second apart: one of the ways that the search must have covered.
    std::vector<simulation::Event> script;
    for (const auto& cue : plan.program->cues) {
        simulation::Event event;
        event.time = 1.0 + static_cast<double>(script.size());
        event.cue = cue.id;
        script.push_back(event);
    }
    const auto scene = simulation::supplyDay(*plan.program, *tree, script, 60.0);
    ASSERT_TRUE(scene);
    EXPECT_GT(scene->peak, 0.5) << "the scene does move things";
    EXPECT_GE(si(*plan.headline.worst_current), scene->peak * (1 - 1e-6));
}

TEST(UsbPromise, isThatOfTheSpecification) {
    EXPECT_DOUBLE_EQ(si(power::promise(power::UsbPromise::Unconfigured)), 0.1) << "USB 2.0, 7.2.1 (from memory): one unit load of 100 mA";
    EXPECT_DOUBLE_EQ(si(power::promise(power::UsbPromise::Usb2)), 0.5) << "five unit loads once configured";
}

TEST(SupplyStudy, theStageHoldsOnItsAdapter) {
    const auto plan = evaluate(stage(), test::shippedParts());
    for (const auto* id : {"brown-out", "out-of-guaranteed-range", "source-over", "rail-sag", "regulator-dropout"})
        EXPECT_EQ(test::finding(plan, id), nullptr) << id;
    // By hand: 5 V less its wire's share at the board's current; 45 mA through 14 mΩ is under a millivolt.
    EXPECT_NEAR(si(*plan.headline.lowest_logic), 5.0, 0.002);
}

// Every rule of the supply: one project that trips it, and its first remedy cures it.
struct Fault {
    const char* name;
    const char* id;
    std::vector<project::FactEdit> edits;
    bool curable;
};
class SupplyFault : public testing::TestWithParam<Fault> {};
TEST_P(SupplyFault, isFoundAndItsRemedyCuresIt) {
    const auto parts = test::shippedParts();
    EXPECT_EQ(test::finding(evaluate(stage(), parts), GetParam().id), nullptr) << "the demo itself is free of it";
    const auto faulty = test::edited(stage(), GetParam().edits);
    const auto plan = evaluate(faulty, parts);
    const auto* found = test::finding(plan, GetParam().id);
    ASSERT_NE(found, nullptr);
    if (!GetParam().curable) return;
    ASSERT_FALSE(found->remedies.empty()) << found->text;
    for (const auto& remedy : found->remedies) {
        const auto cured = evaluate(test::edited(faulty, remedy.edits), parts);
        const auto* left = test::finding(cured, GetParam().id);
        EXPECT_TRUE(left == nullptr || left->text != found->text) << remedy.label << ": " << found->text;
    }
}
INSTANTIATE_TEST_SUITE_P(
    Rules, SupplyFault,
    testing::Values(Fault{"SmallAdapter", "source-over", {{"sources/adapter/current", "1 A"}}, true},
                    Fault{"ServoOnTheBoardsRail", "rail-sag", {{"rails/servo/limit", "0.3 A"}, {"rails/servo/bulk", "100 uF"}}, true},
                    Fault{"WeakUsb", "usb-budget", {{"sources/adapter/kind", "usb-port"}}, false},
                    Fault{"LowCapacitor", "capacitor-voltage", {{"rails/servo/bulk_rating", "6.3 V"}}, true},
                    Fault{"LongThinWire", "rail-sag", {{"rails/servo/wire_length", "20 m"}, {"rails/servo/wire_area", "0.14 mm2"}}, true},
                    Fault{"BareLithium",
                          "cells-unprotected",
                          {{"sources/adapter/kind", "battery"},
                           {"sources/adapter/series", "3"},
                           {"sources/adapter/capacity", "2.5 Ah"},
                           {"sources/adapter/cell_resistance", "40 mohm"}},
                          true},
                    Fault{"HalfTheVolts", "brown-out", {{"rails/logic/limit", "20 mA"}}, false}),
    [](const auto& each) { return std::string(each.param.name); });

// One fault on purpose in each example, kept as a project of its own.
TEST(SupplyFaults, ofEachExampleIsFoundAndCured) {
    const auto parts = test::shippedParts();
    for (const auto& [name, id] : {std::pair{"stage-servo-on-logic", "brown-out"}, std::pair{"box-weak-converter", "rail-sag"},
                                   std::pair{"rider-bare-cells", "cells-unprotected"}}) {
        auto document = store::load(std::string(HINGE_SOURCE_DIR "/tests/projects/") + name);
        ASSERT_TRUE(document) << name << ": " << sentence(document.error());
        const auto* found = static_cast<const PlanFinding*>(nullptr);
        const auto plan = evaluate(document->project, parts);
        found = test::finding(plan, id);
        ASSERT_NE(found, nullptr) << name;
        ASSERT_FALSE(found->remedies.empty()) << name;
        for (const auto& remedy : found->remedies)
            EXPECT_EQ(test::finding(evaluate(test::edited(document->project, remedy.edits), parts), id), nullptr)
                << name << ": " << remedy.label;
    }
}

// Two thousand plans worked out in full, each fact drawn anew, against the tabled effects.
TEST(Tolerance, agreesWithPlansWorkedOutInFull) {
    const auto parts = test::shippedParts();
    auto project = stage();
    for (auto& channel : project.channels) channel.spreads.clear();
    auto& moon = *std::find_if(project.channels.begin(), project.channels.end(), [](const auto& c) { return c.id == "moon"; });
    moon.spreads = {{"mass", of<Fraction>(0.3)}, {"arm", of<Fraction>(0.15)}};
    // So heavy that it is just about what the servo may be asked for.
    for (int i = 0; i < 30; ++i) {
        const auto plan = evaluate(project, parts);
        const double share = findChannel(plan, "moon")->chosen->numbers.share;
        if (share > 0.99) break;
        moon.demand = *project::scaled(moon.demand, "mass", 1.06);
    }
    const auto plan = evaluate(project, parts);
    const auto quick = tolerance(project, parts, plan, 20'000, 3);
    ASSERT_TRUE(quick);
    EXPECT_GT(quick->overload, 0.2);
    EXPECT_LT(quick->overload, 0.8);
    std::mt19937 random(11);
    std::normal_distribution<double> normal(0.0, 0.5);
    const auto& planned = *findChannel(plan, "moon");
    const auto* part = match::partOf(planned.context, parts, moon.actuator);
    const auto* driver = project::findDriver(parts, moon.drive.part);
    int over = 0;
    const int plans = 2000;
    for (int k = 0; k < plans; ++k) {
        match::Context context = planned.context;
        for (const auto& spread : moon.spreads) {
            double x = 0.0;
            do x = normal(random);
            while (std::abs(x) > 1.5);
            context.demand = *project::scaled(context.demand, spread.id, 1.0 + x * si(spread.of_value));
        }
        context.ask = match::ask(context.demand);
        over += match::judge(context, *part, *driver, context.rails.front()).share > 1.0 ? 1 : 0;
    }
    EXPECT_NEAR(quick->overload, static_cast<double>(over) / plans, 0.045) << "four standard errors of 2000 draws";
    ASSERT_FALSE(quick->facts.empty());
    EXPECT_NE(quick->facts.front().label.find("mass"), std::string::npos) << quick->facts.front().label;
    // By hand: torque goes with m·(g·r + r²·4φ/t²) and friction; so a share of m counts once, of r once and a half or so.
    const auto& d = std::get<project::TurnDemand>(moon.demand);
    const double gravity = si(*d.mass) * 9.80665 * si(*d.arm),
                 inertia = si(*d.mass) * si(*d.arm) * si(*d.arm) * 4.0 * si(*d.angle) / (si(*d.time) * si(*d.time)),
                 all = gravity + inertia + (d.friction ? si(*d.friction) : 0.0);
    const double by_mass = 0.3 * (gravity + inertia) / all, by_arm = 0.15 * (gravity + 2.0 * inertia) / all;
    ASSERT_NE(quick->facts[1].label.find("centre of mass"), std::string::npos) << quick->facts[1].label;
    EXPECT_NEAR(quick->facts[0].weight / (quick->facts[0].weight + quick->facts[1].weight),
                by_mass * by_mass / (by_mass * by_mass + by_arm * by_arm), 0.05)
        << "not quite: light draws are decided by other margins";
}

// The rail's fall too: a few hundred studies of the supply worked out in full, each fact drawn anew.
TEST(Tolerance, theChanceOfALowRailAgreesWithFullStudies) {
    const auto parts = test::shippedParts();
    auto document = store::load(HINGE_SOURCE_DIR "/tests/projects/stage-servo-on-logic");
    ASSERT_TRUE(document);
    auto project = document->project;
    for (auto& channel : project.channels)
        if (channel.id != "moon") channel.spreads.clear();
    // A converter just so large that it may go either way.
    auto plan = evaluate(project, parts);
    for (double limit = 0.5; limit < 1.1 && si(*plan.headline.lowest_logic) < 3.78; limit += 0.005) {
        project = test::edited(project, {{"rails/logic/limit", fmt::format("{:.3f} A", limit)}});
        plan = evaluate(project, parts);
    }
    const auto quick = tolerance(project, parts, plan, 20'000, 3);
    ASSERT_TRUE(quick);
    const auto option = supplyOptions(project).front();
    const auto& moon = *project::findChannel(project, "moon");
    const auto& planned = *findChannel(plan, "moon");
    const auto* part = match::partOf(planned.context, parts, moon.actuator);
    const auto* driver = project::findDriver(parts, moon.drive.part);
    std::mt19937 random(5);
    std::normal_distribution<double> normal(0.0, 0.5);
    const auto draw = [&] {
        double x = 0.0;
        do x = normal(random);
        while (std::abs(x) > 1.5);
        return x;
    };
    int low = 0;
    const int plans = 400;
    for (int k = 0; k < plans; ++k) {
        auto drawn = project;
        auto changed = plan;
        auto demand = moon.demand;
        for (const auto& spread : moon.spreads) demand = *project::scaled(demand, spread.id, 1.0 + draw() * si(spread.of_value));
        match::Context context = planned.context;
        context.demand = demand;
        context.ask = match::ask(demand);
        const double factor = match::judge(context, *part, *driver, context.rails.front()).running / si(*planned.chosen->running);
        for (auto& channel : changed.channels)
            if (channel.id == "moon") {
                channel.chosen.change([&](match::Pairing& chosen) {
                    chosen.running = of<Current>(si(*chosen.running) * factor);
                    chosen.starting = of<Current>(si(*chosen.starting) * factor);
                });
            }
        for (auto& source : drawn.sources) source.voltage = of<Voltage>(si(*source.voltage) * (1.0 + 0.05 * draw()));
        for (auto& rail : drawn.rails)
            if (rail.bulk) rail.bulk = of<Capacitance>(si(*rail.bulk) * (1.0 + 0.2 * draw()));
        const auto study = studySupply(under(drawn, option), parts, changed, option);
        ASSERT_TRUE(study);
        for (const auto& rail : study->rails)
            if (rail.id == project.board.rail && rail.lowest < board::family(project.board.form).guaranteed_floor) ++low;
    }
    EXPECT_GT(low, plans / 20);
    EXPECT_LT(low, plans - plans / 20);
    EXPECT_NEAR(quick->too_low, static_cast<double>(low) / plans, 0.1) << "four standard errors of 400 draws";
}

TEST(Tolerance, theSameSeedGivesTheSameAnswerOnAnyNumberOfThreads) {
    const auto parts = test::shippedParts();
    const auto project = stage();
    const auto plan = evaluate(project, parts);
    const auto one = tolerance(project, parts, plan, 3000, 5, 1), four = tolerance(project, parts, plan, 3000, 5, 4);
    ASSERT_TRUE(one && four);
    EXPECT_EQ(one->overload, four->overload);
    EXPECT_EQ(one->too_low, four->too_low);
    for (std::size_t i = 0; i < one->facts.size(); ++i) EXPECT_NEAR(one->facts[i].weight, four->facts[i].weight, 1e-9);
}

TEST(SupplyOptions, cellsAreJudgedFullAndEmptyToo) {
    // Two lithium cells on the 5 V regulator: full they do, empty (6.0 V) they are under 5 V + 1.1 V.
    auto project = test::edited(stage(), {{"sources/adapter/kind", "battery"},
                                          {"sources/adapter/series", "2"},
                                          {"sources/adapter/capacity", "2.5 Ah"},
                                          {"sources/adapter/cell_resistance", "0.04 ohm"},
                                          {"sources/adapter/protection_board", "yes"}});
    const auto options = supplyOptions(project);
    ASSERT_EQ(options.size(), 3U);
    EXPECT_NEAR(si(*under(project, options[1]).sources.front().voltage), 8.4, 1e-12)
        << "common practice, no published source: 4.2 V a full cell";
    EXPECT_NEAR(si(*under(project, options[2]).sources.front().voltage), 6.0, 1e-12) << "3.0 V an empty one";
    const auto plan = evaluate(project, test::shippedParts());
    bool said = false;
    for (const auto& finding : plan.findings)
        said = said || (finding.id == "regulator-dropout" && finding.text.find("nearly empty") != std::string::npos);
    EXPECT_TRUE(said);
    ASSERT_TRUE(plan.battery);
    EXPECT_GT(si(plan.battery->runtime), 0.0);
}

TEST(SupplyOptions, anAlternativeTakesThePlaceOfWhatItReplaces) {
    auto project = stage();
    power::Source pack;
    pack.id = "pack", pack.name = "battery", pack.kind = power::SourceKind::Battery, pack.instead_of = "adapter",
    pack.protection_board = true;
    pack.series = of<Count>(3.0), pack.capacity = of<Charge>(2.5 * 3600), pack.cell_resistance = of<Resistance>(0.04);
    project.sources.push_back(pack);
    const auto options = supplyOptions(project);
    ASSERT_EQ(options.size(), 4U);
    const auto fed = under(project, options[1]);
    ASSERT_EQ(fed.sources.size(), 1U);
    EXPECT_EQ(fed.sources.front().id, "pack");
    for (const auto& rail : fed.rails) EXPECT_NE(rail.from, "adapter");
    EXPECT_NE(test::finding(evaluate(project, test::shippedParts()), "lithium-present"), nullptr);
}

TEST(SupplyStudy, aLoopOrAMissingFigureGivesNoStudyAndNoHang) {
    auto project = stage();
    project.rails[0].from = project.rails[0].id;
    const auto looped = evaluate(project, test::shippedParts());
    EXPECT_NE(test::finding(looped, "rail-loop"), nullptr);
    auto unknown = stage();
    unknown.sources.front().voltage.reset();
    EXPECT_FALSE(evaluate(unknown, test::shippedParts()).headline.worst_by_routine);
    auto bare = stage();
    bare.rails[0].wire_length = Length{};
    bare.rails[0].bulk = of<Capacitance>(1e-12);
    bare.rails[0].bulk_esr = Resistance{};
    EXPECT_TRUE(evaluate(bare, test::shippedParts()).headline.worst_by_routine) << "zero ohms and hardly a farad are still solved";
}

}  // namespace
}  // namespace hinge::plan
