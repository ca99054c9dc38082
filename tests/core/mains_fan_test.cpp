// A fan with an induction motor on the mains.
#include <cmath>
#include "plan/behaviour.hpp"
#include "plan/firmware_model.hpp"
#include "support/alone.hpp"

namespace hinge {
namespace {

project::Project fanOnPhaseControl() {
    return test::alone(project::ChannelKind::Blow, "fan_120_230v", "phase_4a",
                       {{"channels/it/demand/feeding", "mains"},
                        {"channels/it/demand/way", "filter"},
                        {"channels/it/demand/area", "0.01 m2"},
                        {"channels/it/demand/face_velocity", "1 m/s"},
                        {"channels/it/demand/pressure", "10 Pa"},
                        {"board/crossing_pin", "D2"}});
}

// On the mains, and only there; as fast as its volts let it: by hand 81.6 % of its speed at half of them would be 2700 of 3000 rpm, here
// σ = 350/3000 and x² + v²·(1 − σ)/σ·x = v²/σ.
TEST(MainsFan, isJudgedByItsSpeedAtItsVolts) {
    const auto parts = test::shippedParts();
    const auto fan = fanOnPhaseControl();
    const auto at = [&](const char* duty) {
        return plan::evaluate(test::edited(fan, {{"channels/it/signal/duty", duty}, {"channels/it/signal/share_of", "volts"}}), parts);
    };
    const auto whole = at("1");
    ASSERT_TRUE(whole.channels.front().chosen);
    EXPECT_NEAR(whole.channels.front().chosen->numbers.speed, 1.0, 3e-3) << "but for the 1.2 V of its switch";
    const double slip = 350.0 / 3000.0, v = 0.5, b = v * v * (1.0 - slip) / slip;
    EXPECT_NEAR(at("0.5").channels.front().chosen->numbers.speed, (-b + std::sqrt(b * b + 4.0 * v * v / slip)) / 2.0, 3e-3);
    EXPECT_EQ(at("0.5").channels.front().signal, plan::SignalKind::PartWaves);
    EXPECT_EQ(at("0.5").channels.front().not_driven, "");
    // A relay switches it, and does not slow it; a fan for a rail is none for the mains, nor the other way round.
    const auto relay = [&](const char* duty) {
        return plan::evaluate(test::edited(fan, {{"channels/it/drive/part", "ssr_zero_2a"}, {"channels/it/signal/duty", duty}}), parts);
    };
    EXPECT_EQ(relay("1").channels.front().not_driven, "");
    EXPECT_NE(relay("0.5").channels.front().not_driven, "") << "whole cycles would make it hum and shake";
    for (const auto& edit : {project::FactEdit{"channels/it/actuator", "fan_80_pwm_70"}, {"channels/it/demand/feeding", "rail"}}) {
        const auto other = test::edited(fan, {edit});
        const auto plan = plan::evaluate(other, parts);
        EXPECT_NE(test::finding(plan, "misfit"), nullptr) << edit.path;
        EXPECT_FALSE(plan::sketchOf(other, plan)) << edit.path;
    }
}

// The machine that stands in for it is the one that Match judges: the same speed at the same share, and none where its volts do not start
// it.
TEST(MainsFan, itsMachineTurnsAsMatchSays) {
    const auto parts = test::shippedParts();
    const auto speedAt = [&](const std::vector<project::FactEdit>& edits, double power) {
        const auto project = test::edited(fanOnPhaseControl(), edits);
        const auto plan = plan::evaluate(project, parts);
        const auto& planned = plan.channels.front();
        const auto* part = project::findActuator(parts, "fan_120_230v");
        std::vector<std::string> assumed;
        const auto made = kinds::actuatorKind(*part).machine(
            {project.channels.front(), *part, nullptr, planned.context, planned.chosen.get(), {}, {}, nullptr, nullptr, {}, assumed});
        EXPECT_TRUE(made);
        auto fan = std::get<plant::FanPlant>(made->machine);
        for (int k = 0; k < 100; ++k) fan.step(0.1, power);
        return std::pair{fan.speed() / si(*std::get<actuator::Fan>(*part).rated_speed), planned.chosen->numbers.speed};
    };
    for (const char* mains : {"230 V", "210 V"})
        for (const auto& [duty, share_of, power] :
             {std::tuple{"1", "power", 1.0}, {"0.36", "power", 0.36}, {"0.6", "volts", 0.36}, {"0.4", "volts", 0.16}}) {
            const auto [turns, judged] = speedAt(
                {{"channels/it/demand/mains_voltage", mains}, {"channels/it/signal/duty", duty}, {"channels/it/signal/share_of", share_of}},
                power);
            EXPECT_NEAR(turns, judged, 1e-6) << mains << ' ' << duty << ' ' << share_of;
        }
    EXPECT_EQ(speedAt({}, 0.05).first, 0.0) << "22 % of its volts, and it starts from 30";
    EXPECT_GT(speedAt({{"channels/it/calibration/start_duty", "0.04"}}, 0.05).first, 0.0) << "measured: from 4 % of the power";
}

}  // namespace
}  // namespace hinge
