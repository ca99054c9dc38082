#include "match/pump_match.hpp"
#include "support/demo.hpp"
#include <algorithm>
#include <rapidcheck.h>

namespace hinge::match {
namespace {

PumpContext contextOf() {
    PumpContext context;
    context.demand = test::demoProject().channels.front().demand;
    context.signal = test::demoProject().channels.front().signal;
    context.gate_resistor = of<Resistance>(330.0);
    context.pulldown = of<Resistance>(10e3);
    context.supply = of<Voltage>(12.0);
    context.logic = of<Voltage>(5.0);
    context.logic_supply = of<Voltage>(5.0);
    context.pin_current = of<Current>(0.02);
    context.ambient = Temperature::celsius(25.0);
    return context;
}

TEST(Match, judgesEveryPairOnce) {
    const auto parts = test::shippedParts();
    const auto ranked = rank(contextOf(), parts);
    EXPECT_EQ(ranked.size(), parts.pumps.size() * parts.switches.size());
    for (const auto& pump : parts.pumps)
        for (const auto& part : parts.switches)
            EXPECT_EQ(std::count_if(ranked.begin(), ranked.end(), [&](const Pairing& p) { return p.pump == pump.id && p.part == part.id; }), 1);
}

TEST(Match, theOrderIsThatOfTheVerdictsAndEveryLoserSaysWhy) {
    const auto place = [](Verdict v) { return v == Verdict::Holds ? 0 : v == Verdict::Tight ? 1 : v == Verdict::Unknown ? 2 : 3; };
    const auto ranked = rank(contextOf(), test::shippedParts());
    for (std::size_t i = 0; i < ranked.size(); ++i) {
        EXPECT_FALSE(ranked[i].reason.empty());
        if (i > 0) EXPECT_GE(place(ranked[i].verdict), place(ranked[i - 1].verdict));
    }
    EXPECT_EQ(ranked.front().verdict, Verdict::Holds);
    EXPECT_EQ(ranked.back().verdict, Verdict::Breaks);
}

TEST(Match, agreesWithJudgingOnePairAlone) {
    const auto parts = test::shippedParts();
    const auto context = contextOf();
    for (const auto& ranked : rank(context, parts)) {
        const auto alone = judge(context, *project::findPump(parts, ranked.pump), *project::findSwitch(parts, ranked.part));
        EXPECT_EQ(alone.verdict, ranked.verdict);
        EXPECT_EQ(alone.flow.has_value(), ranked.flow.has_value());
    }
}

TEST(Match, theOrdinaryMosfetLosesByItsGate) {
    for (const auto& p : rank(contextOf(), test::shippedParts())) {
        if (p.part != "mosfet_ordinary_55v") continue;
        EXPECT_TRUE(std::any_of(p.findings.begin(), p.findings.end(), [](const Finding& f) { return f.id == "gate-not-enhanced"; }) || p.verdict == Verdict::Unknown || p.verdict == Verdict::Breaks);
    }
}

TEST(Match, moreLiftNeverGivesMoreFlow) {
    const auto parts = test::shippedParts();
    rc::check("flow falls with the lift", [&] {
        auto low = contextOf(), high = contextOf();
        const double lift = *rc::gen::inRange(0, 100) / 100.0;
        low.demand.lift = of<Length>(lift);
        high.demand.lift = of<Length>(lift + *rc::gen::inRange(1, 50) / 100.0);
        const auto& pump = parts.pumps[static_cast<std::size_t>(*rc::gen::inRange(0, 4))];
        const auto a = judge(low, pump, parts.switches.front()), b = judge(high, pump, parts.switches.front());
        if (a.flow && b.flow) RC_ASSERT(si(*b.flow) <= si(*a.flow) * (1 + 1e-9));
    });
}

TEST(Match, aCheaperOtherwiseEqualPumpIsNeverBelow) {
    auto parts = test::shippedParts();
    auto twin = parts.pumps.front();
    twin.id = "twin";
    twin.price = of<Ratio>(si(*twin.price) - 0.5);
    parts.pumps.push_back(twin);
    const auto ranked = rank(contextOf(), parts);
    const auto at = [&](const std::string& id) { return std::find_if(ranked.begin(), ranked.end(), [&](const Pairing& p) { return p.pump == id && p.part == "mosfet_logic_30v"; }) - ranked.begin(); };
    EXPECT_LT(at("twin"), at(parts.pumps.front().id));
}

TEST(Match, theCupOverrulesTheModels) {
    auto context = contextOf();
    context.calibration.cup_volume = of<Volume>(100e-6);
    context.calibration.cup_time = of<Duration>(5.0);
    const auto parts = test::shippedParts();
    const auto pairing = judge(context, parts.pumps.front(), parts.switches.front());
    ASSERT_TRUE(pairing.run_time);
    EXPECT_TRUE(pairing.run_time_measured);
    EXPECT_NEAR(si(*pairing.run_time), si(*context.demand.volume) / 20e-6, 1e-9) << "100 mL in 5 s is 20 mL/s";
}

TEST(Match, theRingSlidesAlongTheCurve) {
    const auto context = contextOf();
    const auto curve = curveAt(test::shippedParts().pumps.front(), 1.0);
    rc::check("the lift under a flow gives that flow back", [&] {
        auto demand = context.demand;
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

}  // namespace
}  // namespace hinge::match
