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

}  // namespace driven
}  // namespace hinge
