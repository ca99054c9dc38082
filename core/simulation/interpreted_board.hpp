#pragma once
#include "firmware/runtime/spark_drive_latch.h"
#include "firmware/runtime/spark_drive_rate.h"
#include "link/protocol.hpp"
#include "plant/pump_plant.hpp"
#include "plant/stand_in.hpp"
#include "routine/machine.hpp"
#include "simulation/simulate.hpp"

namespace hinge::simulation {

/// The compiled routine, interpreted, behind the same link and with the same plants as the board.
class InterpretedBoard final : public plant::StandIn {
public:
    InterpretedBoard(routine::Program program, std::vector<plant::PumpFigures> plants, std::string gadget, std::string plan_mark);
    [[nodiscard]] std::string what() const override { return "interpreter of the routine"; }
    void advance(double seconds) override;
    void write(std::string_view bytes) override;
    [[nodiscard]] std::string read() override;
    void setInput(int index, bool active) override;
    void setReading(int index, int reading) override;
    void setRate(int index, double rate) override;
    void fit(plant::Bench bench) override { bench_ = std::move(bench); }
    void disturb(int output, double how_much) override { bench_.disturb(output, how_much); }
    /// Power goes and comes back.
    void cutPower() override;
    /// The driver of an output whose settings are registers does not answer, from the start on.
    void silence(std::size_t output) {
        silent_.push_back(output);
        state_.output(output).unready = 1;
    }
    [[nodiscard]] plant::Observation observe() const override;
    /// On and off of each output, one edge a change; the PWM inside is not drawn.
    [[nodiscard]] const std::vector<plant::Edge>& edges() const override { return edges_; }
    [[nodiscard]] const routine::State& state() const { return state_; }

private:
    void tickOnce();
    void lookAtOutputs();
    double driveNow(std::size_t output);
    struct Link;

    routine::Machine machine_;
    [[nodiscard]] const routine::Program& program() const { return machine_.program(); }
    routine::State state_;
    std::vector<plant::PumpPlant> plants_;
    std::vector<std::uint8_t> pins_;
    std::vector<std::int32_t> readings_;
    Inputs rates_;
    plant::Bench bench_;
    std::vector<spark::LatchPulse> latches_;
    std::vector<spark::StepRate> turning_;  ///< of steppers that go on
    std::vector<double> shares_, places_;
    std::vector<std::uint8_t> loose_;
    std::vector<std::size_t> silent_;
    std::vector<std::uint8_t> was_on_;  ///< as the last tick left them
    bool pulses_ = false;               ///< whether any input has ever pulsed
    spark::Talk talk_{-1, 0, 0, 0, 0, 0};
    std::vector<std::uint8_t> told_;
    std::vector<std::int32_t> saved_;                   ///< numbers kept through a power cut
    std::string hello_, number_names_, names_, words_;  ///< as the link tells them, each with a nought behind it
    std::vector<spark::Permit> permits_;
    std::uint32_t ticks_ = 0;
    double owed_ = 0.0;
    std::string incoming_, outgoing_;
    std::vector<plant::Edge> edges_;
};

}  // namespace hinge::simulation
