#include "simulation/interpreted_board.hpp"
#include <fmt/format.h>
#include <algorithm>
#include <cmath>

namespace hinge::simulation {

// The gadget as its link knows it: what the runtime's commands ask for.
struct InterpretedBoard::Link : routine::Reach {
    InterpretedBoard& board;

    struct Out {
        std::string& bytes;
        void write(std::uint8_t byte) const { bytes += static_cast<char>(byte); }
    };
    [[nodiscard]] Out out() const { return {board.outgoing_}; }
    [[nodiscard]] spark::Talk& talk() const { return board.talk_; }
    [[nodiscard]] bool far() const { return false; }  // its link is the one at hand
    [[nodiscard]] bool grants(std::uint8_t) const { return true; }
    [[nodiscard]] std::uint8_t& told(std::uint8_t c) const { return board.told_[c]; }
    [[nodiscard]] const routine::Parameter& parameter(std::int16_t n) const {
        return board.program().parameters[static_cast<std::size_t>(n)];
    }
    [[nodiscard]] std::int16_t numbers() const { return static_cast<std::int16_t>(board.program().parameters.size()); }
    [[nodiscard]] std::int32_t least(std::int16_t n) const { return parameter(n).least; }
    [[nodiscard]] std::int32_t most(std::int16_t n) const { return parameter(n).most; }
    [[nodiscard]] const char* unit(std::int16_t n) const { return parameter(n).unit.c_str(); }
    [[nodiscard]] const char* hello() const { return board.hello_.c_str(); }
    [[nodiscard]] const char* numberNames() const { return board.number_names_.data(); }
    [[nodiscard]] const char* names() const { return board.names_.data(); }
    [[nodiscard]] const char* words() const { return board.words_.data(); }
    [[nodiscard]] std::int16_t permits() const { return static_cast<std::int16_t>(board.permits_.size()); }
    [[nodiscard]] const spark::Permit* permit(std::int16_t k) const { return board.permits_.data() + k; }
    [[nodiscard]] char* line() const { return board.incoming_.data(); }
    [[nodiscard]] std::size_t lineRoom() const { return board.incoming_.size(); }
    [[nodiscard]] std::uint8_t frameValues() const {
        return static_cast<std::uint8_t>(routine::frameValues(board.program(), link::most_values));
    }
    void save() const {
        board.saved_.clear();
        for (std::int16_t p = 0; p < numbers(); ++p) board.saved_.push_back(number(p));
        board.outgoing_ += ": saved\r\n";
    }
    void defaults() const {
        for (std::int16_t p = 0; p < numbers(); ++p) routine::setNumber(state, static_cast<std::size_t>(p), parameter(p).value);
        board.saved_.clear();
    }
    void clockSet() const {}
    void sayMore() const {}
};

InterpretedBoard::InterpretedBoard(routine::Program program, std::vector<plant::PumpFigures> plants, std::string gadget,
                                   std::string plan_mark)
    : machine_{std::move(program)},
      state_{routine::powerUp(machine_.program())},
      pins_(machine_.program().inputs.size(), 0),
      readings_(machine_.program().inputs.size(), 0),
      rates_(machine_.program()),
      told_(machine_.program().cues.size(), 0),
      hello_{fmt::format("hello hinge-spark {} {} {}", link::version, plan_mark, link::spoken(gadget))},
      permits_{routine::permitsOf(machine_.program())},
      incoming_(routine::lineRoom(machine_.program()), '\0') {
    for (auto& figures : plants) plants_.emplace_back(std::move(figures));
    const auto add = [](std::string& list, const std::string& text) { list.append(text).push_back('\0'); };
    for (const auto& p : this->program().parameters) add(number_names_, p.name);
    for (const auto& each : this->program().inputs) {
        add(names_, link::spoken(each.name));
        if (each.source == routine::InputSource::Word) add(words_, each.word);
    }
    for (const auto& each : this->program().outputs) add(names_, link::spoken(each.name));
    for (const auto& each : this->program().cues) add(names_, link::spoken(each.name));
    lookAtOutputs();
}

void InterpretedBoard::setInput(int index, bool active) {
    if (index < 0 || static_cast<std::size_t>(index) >= pins_.size()) return;
    auto& pin = pins_[static_cast<std::size_t>(index)];
    if ((pin != 0) == active) return;
    pin = active ? 1 : 0;
    const bool high = active == program().inputs[static_cast<std::size_t>(index)].active_high;
    edges_.push_back({ticks_ / 1000.0, -1, index, high ? 1 : 0});
}

void InterpretedBoard::setReading(int index, int reading) {
    if (index >= 0 && static_cast<std::size_t>(index) < readings_.size()) readings_[static_cast<std::size_t>(index)] = reading;
}

void InterpretedBoard::setRate(int index, double rate) {
    if (index < 0 || static_cast<std::size_t>(index) >= readings_.size()) return;
    rates_.rates[static_cast<std::size_t>(index)] = rate;
    pulses_ = pulses_ || rate > 0.0;
}

void InterpretedBoard::cutPower() {
    state_ = routine::powerBack(program(), state_);
    latches_.clear(), turning_.clear();  // the sketch has forgotten them
    for (const auto output : silent_) state_.output(output).unready = 1;
    for (std::size_t p = 0; p < saved_.size(); ++p) routine::setNumber(state_, p, saved_[p]);
    lookAtOutputs();
}

// What is on before the next tick: a change is an edge.
void InterpretedBoard::lookAtOutputs() {
    was_on_.resize(state_.outputs());
    for (std::size_t o = 0; o < was_on_.size(); ++o) was_on_[o] = routine::isOn(program(), state_, o) ? 1 : 0;
}

// Share of its full drive; what latches has it in its pulses only.
double InterpretedBoard::driveNow(std::size_t o) {
    const auto& output = program().outputs[o];
    if (output.latch == 0) return routine::driveOf(program(), state_, o);
    latches_.resize(state_.outputs());
    return latches_[o].next(state_.output(o).level > 0, output.latch, output.latch_turn) != 0 ? 1.0 : 0.0;
}

void InterpretedBoard::tickOnce() {
    routine::Happening happening;
    happening.values = readings_;
    happening.pin_active = pins_;
    if (pulses_) rates_.turn();
    happening.pulses = rates_.pulses;
    machine_.tick(state_, happening);
    ++ticks_;
    Link link{{machine_.tables(), state_}, *this};
    while (spark::sayState(link)) {
    }
    for (std::size_t o = 0; o < state_.outputs(); ++o) {
        const std::uint8_t on = routine::isOn(program(), state_, o) ? 1 : 0;
        if (was_on_[o] != on) edges_.push_back({ticks_ / 1000.0, static_cast<int>(o), -1, on});
        was_on_[o] = on;
        if (o < plants_.size()) plants_[o].step(1e-3, driveNow(o));
    }
    if (!bench_.empty()) {
        shares_.resize(state_.outputs());
        places_.resize(state_.outputs());
        loose_.resize(state_.outputs());
        for (std::size_t o = 0; o < state_.outputs(); ++o) {
            shares_[o] = routine::signedDriveOf(program(), state_, o);
            loose_[o] = routine::coasts(program(), state_, o) ? 1 : 0;
            const auto& output = program().outputs[o];
            const auto kind = output.kind;
            if (output.step_rate > 0.0) {
                turning_.resize(state_.outputs());
                const auto level = state_.output(o).back != 0 ? -state_.output(o).level : state_.output(o).level;
                places_[o] += turning_[o].next(level,
                                               state_.output(o).resting != 0
                                                   ? 0
                                                   : machine_.program().parameters[static_cast<std::size_t>(output.ramp_parameter)].value,
                                               routine::rateUnit(output)) /
                              256.0;
                continue;
            }
            places_[o] = kind == routine::OutputKind::Stepper || state_.output(o).awake != 0 ? state_.output(o).level
                                                                                             : 0.0;  // a servo without a pulse hangs loose
        }
        for (const auto& reading : bench_.step(1e-3, shares_, places_, loose_))
            reading.tach ? setRate(reading.input, reading.value) : setReading(reading.input, static_cast<int>(reading.value));
    }
    if (talk_.streams == 0 || ticks_ % 5 != 0) return;
    auto out = link.out();
    spark::sendFrame(link, out);
}

void InterpretedBoard::advance(double seconds) {
    owed_ += seconds * 1000.0;
    while (owed_ >= 1.0) {
        owed_ -= 1.0;
        tickOnce();
    }
}

void InterpretedBoard::write(std::string_view bytes) {
    Link link{{machine_.tables(), state_}, *this};
    for (const char c : bytes) {
        if (!spark::hear(link, c)) continue;
        while (talk_.list_at >= 0) spark::sayListed(link);
    }
}

std::string InterpretedBoard::read() {
    return std::exchange(outgoing_, {});
}

plant::Observation InterpretedBoard::observe() const {
    plant::Observation seen;
    seen.time = ticks_ / 1000.0;
    for (std::size_t o = 0; o < state_.outputs(); ++o) seen.duty.push_back(routine::driveOf(program(), state_, o));
    plant::observe(plants_, bench_, seen);
    return seen;
}

}  // namespace hinge::simulation
