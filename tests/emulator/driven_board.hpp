#pragma once
// A board that runs the sketch of one channel.
#include <gtest/gtest.h>
#include <cmath>
#include <set>
#include "emulator/gadget.hpp"
#include "emulator/pin_bus.hpp"
#include "link/protocol.hpp"
#include "simulation/interpreted_board.hpp"
#include "support/alone.hpp"
#include "support/both_boards.hpp"
#include "support/demo.hpp"
#include "support/matrix.hpp"
#include "support/two_inputs.hpp"

namespace hinge {
namespace driven {

using project::ChannelKind;

inline project::Project withPump(project::Project project, const std::string& name, const std::string& pin) {
    project = project::addChannel(project, ChannelKind::Pump, name);
    auto& channel = project.channels.back();
    channel.actuator = "centrifugal_12v_small";
    channel.drive.part = "mosfet_logic_30v";
    channel.rail = "movers";
    channel.pin = pin;
    return test::edited(project, {{"channels/" + channel.id + "/demand/volume", "50 mL"},
                                  {"channels/" + channel.id + "/demand/lift", "0.3 m"},
                                  {"channels/" + channel.id + "/demand/tube_length", "1 m"},
                                  {"channels/" + channel.id + "/demand/tube_diameter", "6 mm"}});
}
inline std::unique_ptr<emulator::EmulatedBoard> boardOf(const project::Project& project, const plan::Plan& plan,
                                                        const project::Parts& parts) {
    auto board = emulator::startGadget(project, parts, plan, emulator::usualCache());
    EXPECT_TRUE(board) << (board ? "" : sentence(board.error()));
    return board ? std::move(*board) : nullptr;
}

class DrivenBoard : public testing::Test {
protected:
    void SetUp() override {
        if (!emulator::compilerFound()) GTEST_SKIP() << "avr-gcc or arduino-core-avr is not installed";
    }
    /// The interpreter and the emulated board of one gadget; nullptr where the plan has no figures, or the board does not start.
    struct Both {
        std::unique_ptr<simulation::InterpretedBoard> interpreter;
        std::unique_ptr<emulator::EmulatedBoard> board;
        std::vector<plant::StandIn*> boards{interpreter.get(), board.get()};
    };
    std::unique_ptr<Both> bothOf(const project::Project& project, const plan::Plan& plan) const {
        const auto plants = plan::plantsOf(project, parts_, plan);
        auto board = boardOf(project, plan, parts_);
        if (!plants || board == nullptr) return nullptr;
        return std::unique_ptr<Both>(
            new Both{std::make_unique<simulation::InterpretedBoard>(*plan.program, *plants, "it", "test"), std::move(board)});
    }
    const project::Parts parts_ = test::shippedParts();
};

/// A motor that one cue drives, brakes, lets go and turns round.
class CuedBoard : public DrivenBoard {
protected:
    /// The project's cue started at 0.1 s; nullptr where its board does not start.
    std::unique_ptr<emulator::EmulatedBoard> played(const project::Project& project, double seconds) const {
        const auto plan = plan::evaluate(project, parts_);
        EXPECT_EQ(plan.channels.front().not_driven, "");
        auto board = boardOf(project, plan, parts_);
        if (board) pressed(*board), board->advance(seconds - 0.2);
        return board;
    }
    static void pressed(plant::StandIn& board) {
        board.advance(0.1);
        board.setInput(0, true);
        board.advance(0.1);
        board.setInput(0, false);
    }
    /// What the cue does: 0.4 s of drive, 0.2 of brake, 0.4 of drive, off, 0.2 of wait, 0.4 s of drive the other way, brake.
    static std::vector<routine::Move> eachInTurn() {
        using routine::Action;
        using test::moved;
        return {moved("f", Action::On),         moved("w1", Action::Wait, 0.4), moved("b1", Action::Brake),
                moved("w2", Action::Wait, 0.2), moved("f2", Action::On),        moved("w3", Action::Wait, 0.4),
                moved("o", Action::Off),        moved("w4", Action::Wait, 0.2), moved("r", Action::On, 0.0, true),
                moved("w5", Action::Wait, 0.4), moved("b2", Action::Brake)};
    }
    /// The machine at the emulated pins turns as the interpreter's does: forwards, braked, forwards, let go, backwards.
    /// @param project  its cue does eachInTurn()
    void expectItsMachine(const project::Project& project, double within) const {
        const auto both = bothOf(project, plan::evaluate(project, parts_));
        ASSERT_TRUE(both);
        plant::RotorFigures figures;
        figures.supply = 12.0, figures.resistance = 4.0, figures.back = figures.torque = 0.02, figures.inertia = 2e-5,
        figures.friction = 1e-4;
        std::vector<std::vector<double>> speeds(2);
        for (std::size_t b = 0; b < 2; ++b) {
            auto* one = both->boards[b];
            one->fit(plant::Bench({{{0}, plant::Rotor{figures}, {}}}));
            pressed(*one);
            for (int k = 0; k < 240; ++k) one->advance(0.01), speeds[b].push_back(one->observe().machines.front().value);
        }
        for (std::size_t k = 0; k < speeds[0].size(); ++k) EXPECT_NEAR(speeds[0][k], speeds[1][k], within) << "after " << k * 10 << " ms";
        // By hand: braked for 0.2 s it keeps less than a half, coasting for as long it loses 1e-4 / 2e-5 rad/s².
        const auto at = [&](double time) { return speeds[1][static_cast<std::size_t>(std::lround((time - 0.2) / 0.01))]; };
        EXPECT_LT(at(0.71), 0.45 * at(0.51));
        EXPECT_NEAR(at(1.3), at(1.15) - 5.0 * 0.15, 0.5);
        EXPECT_LT(at(2.2), -100.0);
    }
};

}  // namespace driven
}  // namespace hinge
