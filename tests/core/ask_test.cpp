#include "core/every_demand.hpp"

namespace hinge::match {
namespace {

using namespace demands;

TEST(Ask, aLeverByHand) {
    const auto a = ask(lever());
    // Hand-worked: m·g·r = 0.09·9.80665·0.11; J·4θ/t² with J = m·r²; friction 4 mN·m.
    const double gravity = 0.09 * 9.80665 * 0.11, accel = 0.09 * 0.11 * 0.11 * 4 * (75 * constants::pi / 180) / 0.81;
    EXPECT_NEAR(si(*a.torque), gravity + accel + 0.004, 1e-12);
    EXPECT_NEAR(si(*a.speed), 2 * (75 * constants::pi / 180) / 0.9, 1e-12) << "triangular profile: twice the mean";
    EXPECT_TRUE(a.missing.empty());
    // At the end of the stroke only cos 75° of the weight is left.
    EXPECT_NEAR(a.over_stroke.back().y, gravity * std::cos(75 * constants::pi / 180) + accel + 0.004, 1e-12);
}

TEST(Ask, aScaleOnTheHandleReplacesTheSums) {
    auto d = std::get<TurnDemand>(lever());
    d.mass.reset();
    d.arm.reset();
    d.friction.reset();
    d.pull = of<Force>(3.0);
    d.pull_arm = of<Length>(0.2);
    EXPECT_NEAR(si(*ask(d).torque), 0.6, 1e-12) << "3 N at 20 cm";
}

TEST(Ask, aDiscByHand) {
    const auto a = ask(disc());
    EXPECT_NEAR(si(*a.torque), 0.8 * 0.09 / 8.0 * 2.0 + 0.05, 1e-12) << "J = m·D²/8; 2 rad/s in 1 s";
    EXPECT_NEAR(si(*a.speed), 2.0, 1e-12);
}

TEST(Ask, aHornByHand) {
    const auto a = ask(horn());
    EXPECT_NEAR(si(*a.torque), 0.06, 1e-12) << "4 N at 15 mm, square to it";
    EXPECT_NEAR(2 * 0.015 * std::sin(si(*a.angle) / 2), 0.02, 1e-12) << "stroke = 2·r·sin(θ/2)";
    auto d = std::get<PressDemand>(horn());
    d.stroke = of<Length>(0.031);
    EXPECT_EQ(ask(d).findings.front().id, "stroke-over-horn") << "a 15 mm horn reaches 30 mm";
}

TEST(Ask, aBeltByHand) {
    const auto a = ask(belt());
    const double force = 0.42 * 9.80665 * 0.3 + 0.42 * 4 * 0.62 / 36;
    EXPECT_NEAR(si(*a.force), force, 1e-12);
    EXPECT_NEAR(si(*a.torque), force * 0.04 / (2 * constants::pi), 1e-12) << "20 teeth of 2 mm";
}

TEST(Ask, everyWayOfMovingIsAnswered) {
    for (const auto way : {MoveWay::Belt, MoveWay::Screw, MoveWay::Rack, MoveWay::Rope, MoveWay::Wheels}) {
        auto d = std::get<MoveDemand>(belt());
        d.way = way;
        d.diameter = of<Length>(0.04);
        d.lead = of<Length>(0.008);
        const auto a = ask(d);
        EXPECT_TRUE(a.torque && a.speed) << nameOf(way);
        // Work in equals work out over the efficiency: T·ω = F·v/η for one driven wheel.
        const double share = way == MoveWay::Wheels ? 2.0 : 1.0, eta = way == MoveWay::Screw ? 0.3 : 1.0;
        EXPECT_NEAR(si(*a.torque) * si(*a.speed) * share * eta, si(*a.force) * 2 * 0.62 / 6, 1e-9) << nameOf(way);
    }
}

TEST(Ask, whatIsMissingIsNamedAndNothingGuessed) {
    for (const auto& kind : Names<ChannelKind>::all) {
        const auto a = ask(freshDemand(kind.value));
        EXPECT_FALSE(a.missing.empty()) << kind.id;
        EXPECT_FALSE(decisive(a)) << kind.id;
        // Each names a fact that the maker can fill in.
        const auto project = addChannel(newProject(), kind.value, "thing");
        for (const auto& field : a.missing) EXPECT_TRUE(fact(project, "channels/thing/demand/" + field)) << field;
    }
}

TEST(Ask, theSpreadIsTheRootOfSquares) {
    // Torque of a lever held still is m·g·r: 3 % and 4 % make 5 %.
    auto d = std::get<TurnDemand>(lever());
    d.friction = of<Torque>(0.0);
    d.time = of<Duration>(1e6);
    const auto a = ask(d, {{"mass", of<Fraction>(0.03)}, {"arm", of<Fraction>(0.04)}});
    ASSERT_TRUE(a.spread);
    EXPECT_NEAR(*a.spread, 0.05, 1e-6) << "3-4-5; the arm's square in the inertia does not matter when it is slow";
}

// ---- judging and ranking ------------------------------------------------------------------------------

}  // namespace
}  // namespace hinge::match
