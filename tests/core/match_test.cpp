// Need and Match: what a load asks, and every part judged, ranked and explained.
#include <rapidcheck.h>
#include <algorithm>
#include <set>
#include "core/every_demand.hpp"
#include "kinds/system_curve.hpp"
#include "match/rank.hpp"
#include "quantity/constants.hpp"
#include "support/demo.hpp"

namespace hinge::match {
namespace {

using namespace demands;

TEST(Match, everyKindOfJobFindsPartsThatHold) {
    const auto parts = test::shippedParts();
    for (const auto& [name, demand] : everyKind()) {
        const auto volts = std::string{name} == "lever" || std::string{name} == "horn" ? 6.0 : 12.0;
        const auto list = candidates(bench(demand, volts), parts);
        ASSERT_FALSE(list.empty()) << name;
        EXPECT_EQ(list.front().verdict, Verdict::Holds) << name << ": " << list.front().reason;
        for (const auto& p : list) EXPECT_FALSE(p.reason.empty()) << name << " " << p.actuator;
    }
}

TEST(Match, judgesEveryPairThatFitsOnce) {
    const auto parts = test::shippedParts();
    for (const auto& [name, demand] : everyKind()) {
        const auto context = bench(demand);
        std::set<std::pair<std::string, std::string>> seen;
        for (const auto& row : everyPair(context, parts))
            EXPECT_TRUE(seen.emplace(actuator::head(*row.part).id, row.driver->id).second) << name;
        std::size_t expected = 0;
        for (const auto& part : parts.actuators) {
            const auto look = glance(context, part, context.rails.front());
            if (look.suits)
                expected += static_cast<std::size_t>(
                    std::count_if(parts.drivers.begin(), parts.drivers.end(), [&](const auto& d) { return canDrive(d, look.method); }));
        }
        if (context.own)
            expected += static_cast<std::size_t>(std::count_if(parts.drivers.begin(), parts.drivers.end(), [&](const auto& d) {
                return canDrive(d, glance(context, *context.own, context.rails.front()).method);
            }));
        EXPECT_EQ(seen.size(), expected) << name;
    }
}

// The staged search against every pair one by one: 300 parts on 50 drivers, varied by chance.
TEST(Match, theStagedSearchEqualsBruteForce) {
    auto parts = test::shippedParts();
    rc::check("survivors and their order", [&] {
        project::Parts some;
        for (int i = 0; i < 300; ++i) {
            auto part = parts.actuators[static_cast<std::size_t>(*rc::gen::inRange(0, static_cast<int>(parts.actuators.size())))];
            actuator::head(part).id += "-" + std::to_string(i);
            actuator::head(part).price = of<Ratio>(*rc::gen::inRange(1, 40));
            const double factor = *rc::gen::inRange(2, 60) / 10.0;
            if (auto* m = std::get_if<actuator::Motor>(&part); m != nullptr) m->stall_torque = of<Torque>(si(*m->stall_torque) * factor);
            if (auto* s = std::get_if<actuator::Servo>(&part); s != nullptr && s->torque_low)
                s->torque_low = of<Torque>(si(*s->torque_low) * factor), s->torque_high = of<Torque>(si(*s->torque_high) * factor);
            some.actuators.push_back(std::move(part));
        }
        for (int i = 0; i < 50; ++i) {
            auto driver = parts.drivers[static_cast<std::size_t>(*rc::gen::inRange(0, static_cast<int>(parts.drivers.size())))];
            driver.id += "-" + std::to_string(i);
            if (driver.current_max) driver.current_max = of<Current>(si(*driver.current_max) * *rc::gen::inRange(1, 30) / 10.0);
            some.drivers.push_back(std::move(driver));
        }
        const auto kinds = everyKind();
        auto context = bench(kinds[static_cast<std::size_t>(*rc::gen::inRange(0, static_cast<int>(kinds.size())))].second,
                             *rc::gen::elementOf(std::vector<double>{5.0, 6.0, 12.0, 24.0}));
        context.rails.push_back({"other", "other", of<Voltage>(5.0), of<Resistance>(0.1)});
        auto brute = everyPair(context, some);
        std::erase_if(brute, [](const Row& row) { return row.verdict == Verdict::Breaks; });
        const auto staged = survivors(context, some);
        RC_ASSERT(staged.size() == brute.size());
        const auto same = [](const Row& x, const Row& y) {
            return x.part == y.part && x.driver == y.driver && x.rail == y.rail && x.verdict == y.verdict;
        };
        for (std::size_t i = 0; i < brute.size(); ++i) RC_ASSERT(same(staged[i], brute[i]));
        // Only the first forty, and each part once: the same rows, found without looking into the rest.
        const auto first = survivors(context, some, {40, false, nullptr});
        RC_ASSERT(first.size() == std::min<std::size_t>(40, brute.size()));
        for (std::size_t i = 0; i < first.size(); ++i) RC_ASSERT(same(first[i], brute[i]));
        std::vector<Row> once;
        for (const auto& row : brute)
            if (std::none_of(once.begin(), once.end(), [&](const Row& other) { return other.part == row.part; })) once.push_back(row);
        const auto parts_once = survivors(context, some, {25, true, nullptr});
        RC_ASSERT(parts_once.size() == std::min<std::size_t>(25, once.size()));
        for (std::size_t i = 0; i < parts_once.size(); ++i) RC_ASSERT(same(parts_once[i], once[i]));
    });
}

// What judge() says is what the contract's workings say of the same pair.
TEST(Match, theNumbersAreThoseOfTheWorkings) {
    const auto parts = test::shippedParts();
    int compared = 0;
    for (const auto& [name, demand] : everyKind()) {
        const auto context = bench(demand, std::string{name} == "lever" ? 6.0 : 12.0);
        for (const auto& row : everyPair(context, parts)) {
            const auto p = explain(context, *row.part, *row.driver, context.rails.front());
            for (const auto& w : p.workings) {
                const auto last = [&](const char* symbol) -> std::optional<double> {
                    for (const auto& step : w.steps)
                        if (step.symbol == symbol) return step.value;
                    return std::nullopt;
                };
                const auto near = [&, name = name](std::optional<double> shown, double judged, const char* what) {
                    if (!shown || std::isnan(judged)) return;
                    ++compared;
                    EXPECT_NEAR(*shown, judged, std::abs(judged) * 1e-6 + 1e-12)
                        << name << ": " << p.actuator << " on " << p.driver << ", " << what;
                };
                if (w.title == "speed and current of the motor") near(last("I"), p.numbers.winding, "current");
                if (w.title == "share of the servo's stall torque") near(last("x"), p.numbers.share / context.ask.margin, "share");
                if (w.title == "torque at that speed") near(last("x"), p.numbers.share / context.ask.margin, "share");
                if (w.title == "heat of the MOSFET") near(last("P"), p.numbers.heat, "heat");
                if (w.title == "base resistor and heat") near(last("Rs"), p.numbers.base_resistor, "base resistor");
                if (w.title == "the LED's resistor") near(last("Il"), p.numbers.winding, "current of the LED");
                if (w.title == "heat of the bridge") near(last("P"), p.numbers.heat, "heat");
                if (w.title == "where fan and duct meet") near(last("Q"), p.numbers.flow, "flow");
                if (w.title == "current while starting") near(last("Ip"), p.numbers.starting, "starting");
                // A working that breaks never stands beside a verdict that holds.
                if (w.verdict == Verdict::Breaks)
                    EXPECT_EQ(p.verdict, Verdict::Breaks) << name << ": " << p.actuator << " on " << p.driver << ", " << w.title;
            }
        }
    }
    EXPECT_GT(compared, 500);
}

TEST(Match, theOrderIsThatOfTheVerdictsAndEveryLoserSaysWhy) {
    const auto place = [](Verdict v) { return v == Verdict::Holds ? 0 : v == Verdict::Tight ? 1 : v == Verdict::Unknown ? 2 : 3; };
    const auto ranked = candidates(bench(rain()), test::shippedParts());
    for (std::size_t i = 1; i < ranked.size(); ++i) EXPECT_GE(place(ranked[i].verdict), place(ranked[i - 1].verdict));
    EXPECT_EQ(ranked.front().verdict, Verdict::Holds);
    EXPECT_EQ(ranked.back().verdict, Verdict::Breaks);
}

TEST(Match, theOrdinaryMosfetLosesByItsGate) {
    const auto parts = test::shippedParts();
    const auto context = bench(rain());
    const auto p =
        explain(context, *findActuator(parts, "centrifugal_12v_small"), *findDriver(parts, "mosfet_ordinary_55v"), context.rails.front());
    EXPECT_EQ(p.verdict, Verdict::Breaks);
    EXPECT_TRUE(std::any_of(p.findings.begin(), p.findings.end(), [](const Finding& f) { return f.id == "gate-not-enhanced"; }));
}

TEST(Match, moreLoadNeverGivesMoreSpeed) {
    const auto parts = test::shippedParts();
    rc::check("speed falls with the load", [&] {
        const double mass = *rc::gen::inRange(1, 400) / 1000.0, more = mass + *rc::gen::inRange(1, 400) / 1000.0;
        const auto light = bench(lever(mass), 6.0), heavy = bench(lever(more), 6.0);
        const auto& part = parts.actuators[static_cast<std::size_t>(*rc::gen::inRange(0, 90))];
        const auto look = glance(light, part, light.rails.front());
        for (const auto& driver : parts.drivers) {
            if (!look.suits || !canDrive(driver, look.method)) continue;
            const auto a = judge(light, part, driver, light.rails.front()), b = judge(heavy, part, driver, heavy.rails.front());
            if (std::holds_alternative<actuator::Stepper>(part)) continue;  // it keeps step or loses it
            if (!std::isnan(a.speed) && !std::isnan(b.speed)) RC_ASSERT(b.speed <= a.speed * (1 + 1e-9));
        }
    });
}

TEST(Match, aStrongerOtherwiseEqualPartIsNeverBelow) {
    const auto parts = test::shippedParts();
    rc::check("twin with more torque", [&] {
        project::Parts two;
        two.drivers = parts.drivers;
        auto weak = parts.actuators[static_cast<std::size_t>(*rc::gen::inRange(0, 90))];
        const auto context = bench(lever(*rc::gen::inRange(10, 300) / 1000.0), 6.0);
        if (!glance(context, weak, context.rails.front()).suits) return;
        auto strong = weak;
        const double factor = 1.0 + *rc::gen::inRange(1, 30) / 10.0;
        if (auto* m = std::get_if<actuator::Motor>(&strong)) m->stall_torque = of<Torque>(si(*m->stall_torque) * factor);
        if (auto* s = std::get_if<actuator::Servo>(&strong); s != nullptr && s->torque_low)
            s->torque_low = of<Torque>(si(*s->torque_low) * factor), s->torque_high = of<Torque>(si(*s->torque_high) * factor);
        if (auto* s = std::get_if<actuator::Stepper>(&strong))
            s->holding_torque = of<Torque>(si(*s->holding_torque) * factor),
            s->phase_inductance = s->phase_inductance ? std::optional(of<Inductance>(si(*s->phase_inductance) / factor)) : std::nullopt;
        if (std::holds_alternative<actuator::Stepper>(strong)) return;  // more torque an ampere is more back-EMF: not otherwise equal
        actuator::head(strong).id = "strong";
        actuator::head(weak).id = "aweak";  // would win a tie by its name
        two.actuators = {weak, strong};
        const auto list = candidates(context, two);
        const auto at = [&](const std::string& id) {
            return std::find_if(list.begin(), list.end(), [&](const Pairing& p) { return p.actuator == id; }) - list.begin();
        };
        RC_ASSERT(at("strong") < at("aweak"));
    });
}

TEST(Match, aCheaperOtherwiseEqualPartIsNeverBelow) {
    auto parts = test::shippedParts();
    auto twin = *findActuator(parts, "centrifugal_12v_small");
    actuator::head(twin).id = "twin";
    actuator::head(twin).price = of<Ratio>(si(*actuator::head(twin).price) - 0.5);
    parts.actuators.push_back(twin);
    const auto ranked = candidates(bench(rain()), parts);
    const auto at = [&](const std::string& id) {
        return std::find_if(ranked.begin(), ranked.end(), [&](const Pairing& p) { return p.actuator == id; }) - ranked.begin();
    };
    EXPECT_LT(at("twin"), at("centrifugal_12v_small"));
}

TEST(Match, aPartInTheDrawerIsPreferredAndASuspectOneIsNot) {
    auto parts = test::shippedParts();
    const auto context = bench(rain());
    const auto before = candidates(context, parts);
    const std::string winner = before[0].actuator, second = before[1].actuator;
    for (auto& part : parts.actuators)
        if (actuator::head(part).id == second) actuator::head(part).drawer = true;
    EXPECT_EQ(candidates(context, parts).front().actuator, second) << "it costs nothing";
    for (auto& part : parts.actuators)
        if (actuator::head(part).id == second) actuator::head(part).standing = actuator::Standing::Suspect;
    const auto after = candidates(context, parts);
    EXPECT_EQ(after.front().actuator, winner);
}

TEST(Match, unitsDoNotMatter) {
    // The same part written in other units is the same part.
    const auto a = catalogue::read("motors",
                                   "id,name,nominal_voltage [V],no_load_speed [rpm],no_load_current [A],stall_current [A],stall_torque "
                                   "[Nm],gear_ratio,gear_efficiency\nm,M,6,6000,0.1,2,0.02,50,0.7\n",
                                   "f");
    const auto b = catalogue::read("motors",
                                   "id,name,nominal_voltage [mV],no_load_speed [rad/s],no_load_current [mA],stall_current "
                                   "[mA],stall_torque [mNm],gear_ratio,gear_efficiency\nm,M,6000,628.318530717958648,100,2000,20,50,0.7\n",
                                   "f");
    ASSERT_TRUE(a && b && a->problems.empty() && b->problems.empty());
    const auto parts = test::shippedParts();
    const auto context = bench(lever(), 6.0);
    const auto& driver = *findDriver(parts, "bridge_1a_mini");
    const auto x = judge(context, a->parts.actuators.front(), driver, context.rails.front()),
               y = judge(context, b->parts.actuators.front(), driver, context.rails.front());
    EXPECT_NEAR(x.speed, y.speed, 1e-9 * x.speed);
    EXPECT_NEAR(x.share, y.share, 1e-9 * x.share);
}

TEST(Match, weightsChangeWhoWins) {
    const auto parts = test::shippedParts();
    auto context = bench(hood());
    context.weights.price = Matters::No;
    context.weights.quiet = Matters::Much;
    const auto quiet = candidates(context, parts);
    double least = 1e9;
    for (const auto& p : quiet)
        if (p.verdict == Verdict::Holds) least = std::min(least, p.numbers.noise);
    EXPECT_EQ(quiet.front().numbers.noise, least) << "the quietest that holds";
}

TEST(Match, aLoserSaysWhatWouldLetItWin) {
    const auto parts = test::shippedParts();
    auto context = bench(lever(0.16), 6.0);
    const auto* servo = findActuator(parts, "servo_micro");
    ASSERT_EQ(judge(context, *servo, *findDriver(parts, "straight_from_pin"), context.rails.front()).verdict(), Verdict::Breaks);
    const auto change = changeToWin(context, parts, *servo);
    EXPECT_NE(change.find("gearing"), std::string::npos) << change;
    // And it is true: with that gearing it does not break.
    context.gear_ratio = 2.0;
    EXPECT_NE(judge(context, *servo, *findDriver(parts, "straight_from_pin"), context.rails.front()).verdict(), Verdict::Breaks);
}

TEST(Match, whatIsMeantToStayPutNeedsAPartThatHolds) {
    const auto parts = test::shippedParts();
    auto d = std::get<TurnDemand>(lever());
    d.holds = true;
    for (const auto& p : candidates(bench(d, 12.0), parts))
        if (p.verdict == Verdict::Holds || p.verdict == Verdict::Tight) {
            const auto* part = findActuator(parts, p.actuator);
            const auto* motor = std::get_if<actuator::Motor>(part);
            const auto* stepper = std::get_if<actuator::Stepper>(part);
            EXPECT_TRUE((motor != nullptr && motor->worm) || (stepper != nullptr && stepper->detent_torque)) << p.actuator;
        }
}

TEST(Match, mainsIsSwitchedOnlyByWhatIsMadeForIt) {
    const auto parts = test::shippedParts();
    const auto context = bench(mains());
    int held = 0;
    for (const auto& row : everyPair(context, parts)) {
        if (!row.driver->mains) EXPECT_EQ(row.verdict, Verdict::Breaks) << row.driver->id;
        if (row.verdict == Verdict::Holds) ++held;
        const auto p = explain(context, *row.part, *row.driver, context.rails.front(), false);
        EXPECT_TRUE(std::any_of(p.findings.begin(), p.findings.end(), [](const Finding& f) { return f.id == "mains-present"; }))
            << "the caution stands at the choice";
    }
    EXPECT_GT(held, 3);
}

TEST(Match, protectionNamesTheDiodesNets) {
    const auto parts = test::shippedParts();
    const auto context = bench(rain());
    const auto list =
        protection(context, *findActuator(parts, "centrifugal_12v_small"), *findDriver(parts, "mosfet_logic_30v"), context.rails.front());
    const auto diode = std::find_if(list.begin(), list.end(), [](const Protection& p) { return p.what == "flyback diode"; });
    ASSERT_NE(diode, list.end());
    EXPECT_NE(diode->where.find("stripe to the + of movers"), std::string::npos) << diode->where;
    EXPECT_NE(diode->where.find("the drain"), std::string::npos);
}

TEST(Match, moreLiftNeverGivesMoreFlow) {
    const auto parts = test::shippedParts();
    rc::check("flow falls with the lift", [&] {
        auto low = bench(rain()), high = low;
        const double lift = *rc::gen::inRange(0, 100) / 100.0;
        std::get<PumpDemand>(low.demand).lift = of<Length>(lift);
        std::get<PumpDemand>(high.demand).lift = of<Length>(lift + *rc::gen::inRange(1, 50) / 100.0);
        const auto* pump =
            findActuator(parts, *rc::gen::elementOf(std::vector<std::string>{"centrifugal_12v_small", "centrifugal_12v_medium",
                                                                             "diaphragm_12v_small", "peristaltic_12v_small"}));
        const auto& driver = *findDriver(parts, "mosfet_logic_30v");
        const auto a = judge(low, *pump, driver, low.rails.front()), b = judge(high, *pump, driver, high.rails.front());
        if (!std::isnan(a.flow) && !std::isnan(b.flow)) RC_ASSERT(b.flow <= a.flow * (1 + 1e-9));
    });
}

TEST(Match, theCupOverrulesTheModels) {
    auto context = bench(rain());
    context.calibration.cup_volume = of<Volume>(100e-6);
    context.calibration.cup_time = of<Duration>(5.0);
    context.measured_part = "centrifugal_12v_small";
    const auto parts = test::shippedParts();
    const auto pairing =
        explain(context, *findActuator(parts, "centrifugal_12v_small"), *findDriver(parts, "mosfet_logic_30v"), context.rails.front());
    ASSERT_TRUE(pairing.run_time);
    EXPECT_TRUE(pairing.run_time_measured);
    EXPECT_NEAR(si(*pairing.run_time), si(*std::get<PumpDemand>(context.demand).volume) / 20e-6, 1e-9) << "100 mL in 5 s is 20 mL/s";
}

TEST(Match, theRingSlidesAlongTheCurve) {
    const auto parts = test::shippedParts();
    const auto curve = curveAt(std::get<actuator::Pump>(*findActuator(parts, "centrifugal_12v_small")), 1.0);
    rc::check("the lift under a flow gives that flow back", [&] {
        auto demand = std::get<PumpDemand>(rain());
        const double flow = curve.points.back().x * *rc::gen::inRange(5, 95) / 100.0;
        const auto lift = liftAt(demand, curve, flow);
        RC_ASSERT(lift.has_value());
        if (*lift <= 0.0) return;  // the tube alone asks more than the pump gives there
        demand.lift = of<Length>(*lift);
        const auto back = crossing(demand, curve);
        RC_ASSERT(back.has_value());
        RC_ASSERT(std::abs(*back - flow) < 1e-6 * curve.points.back().x);
    });
}

// A relay's coil of 3 V bears a third more (common practice, no published source): not the 5 V of another board.
TEST(Coils, ofARelayDoNotBearAnotherBoardsVolts) {
    const auto parts = test::shippedParts();
    const auto* relay = project::findDriver(parts, "relay_board_3v");
    ASSERT_EQ(si(*relay->coil_voltage), 3.0);
    Context context;
    project::SwitchDemand lamp;
    lamp.feeding = project::Feeding::Rail;
    lamp.power = of<Power>(6.0);
    context.demand = lamp;
    const auto over = [&](double volts) {
        context.logic_supply = of<Voltage>(volts);
        const auto n = judge(context, *project::findActuator(parts, "led_string_12v_6w"), *relay, {"r", "rail", of<Voltage>(12.0), {}});
        return std::any_of(n.hits.begin(), n.hits.begin() + n.hit_count, [](const Hit& hit) { return hit.rule == Rule::SwitchVoltage; });
    };
    EXPECT_FALSE(over(3.3));
    EXPECT_FALSE(over(3.9));
    EXPECT_TRUE(over(4.0));
    EXPECT_TRUE(over(5.0));
}

// A coil that its sheet promises at 85 % of its volts, warm (VDE 0580, IEC 60730-2-8, from memory), pulls at its own volts: no coil of the
// catalogue did.
TEST(Coils, pullAtTheirOwnVoltsWarm) {
    const auto parts = test::shippedParts();
    const auto* pulled = project::findDriver(parts, "mosfet_logic_30v");
    const auto* reversed = project::findDriver(parts, "bridge_3a");
    int coils = 0;
    for (const auto& part : parts.actuators) {
        const auto* coil = std::get_if<actuator::Coil>(&part);
        if (coil == nullptr) continue;
        SCOPED_TRACE(coil->id);
        Context context;
        project::PressDemand press;
        press.way = project::PressWay::Plunger;
        project::SwitchDemand valve;
        valve.load = driver::ContactLoad::Inductive;
        const bool pulls = coil->coil_class == actuator::CoilClass::Solenoid || coil->coil_class == actuator::CoilClass::LatchingSolenoid;
        const bool latches =
            coil->coil_class == actuator::CoilClass::LatchingSolenoid || coil->coil_class == actuator::CoilClass::LatchingValve;
        if (pulls) context.demand = press;
        else context.demand = valve;
        const auto at = [&](double volts) {
            const auto n = judge(context, part, latches ? *reversed : *pulled, {"r", "rail", of<Voltage>(volts), of<Resistance>(0.05)});
            for (int i = 0; i < n.hit_count; ++i)
                if (n.hits[static_cast<std::size_t>(i)].rule == Rule::CoilWontPull) return n.hits[static_cast<std::size_t>(i)].severity;
            return Severity::Note;
        };
        EXPECT_EQ(at(si(coil->coil_voltage)), Severity::Note);
        if (!latches) EXPECT_EQ(at(0.8 * si(coil->coil_voltage)), Severity::Stop);
        ++coils;
    }
    EXPECT_GE(coils, 15);
}

}  // namespace
}  // namespace hinge::match
