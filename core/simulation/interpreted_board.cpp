#include "simulation/interpreted_board.hpp"
#include <fmt/format.h>
#include <algorithm>
#include <cmath>

namespace hinge::simulation {

InterpretedBoard::InterpretedBoard(routine::Program program, std::vector<plant::PumpFigures> plants, std::string gadget,
                                   std::string plan_mark)
    : machine_{std::move(program)},
      state_{routine::powerUp(machine_.program())},
      gadget_{std::move(gadget)},
      plan_mark_{std::move(plan_mark)},
      pins_(machine_.program().inputs.size(), 0),
      readings_(machine_.program().inputs.size(), 0),
      rates_(machine_.program()),
      told_(machine_.program().cues.size(), 0) {
    for (auto& figures : plants) plants_.emplace_back(std::move(figures));
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
    if (index >= 0 && static_cast<std::size_t>(index) < readings_.size()) rates_.rates[static_cast<std::size_t>(index)] = rate;
}

void InterpretedBoard::tickOnce() {
    routine::Happening happening;
    happening.values = readings_;
    happening.pin_active = pins_;
    happening.start_cues = std::move(start_);
    happening.stop = stop_;
    rates_.turn();
    happening.pulses = rates_.pulses;
    happening.words = std::exchange(words_, {});
    happening.numbers = std::exchange(numbers_, {});
    happening.hands = std::exchange(hands_, {});
    happening.link = std::exchange(link_, false);
    start_.clear();
    stop_ = false;
    was_on_.resize(state_.outputs());
    for (std::size_t o = 0; o < was_on_.size(); ++o) was_on_[o] = routine::isOn(program(), state_, o) ? 1 : 0;
    machine_.tick(state_, happening);
    ++ticks_;
    for (std::size_t c = 0; c < told_.size(); ++c) {
        const std::uint8_t now = state_.cue(c).place >= 0 ? 1 : state_.cue(c).faulted != 0 ? 2 : 0;
        if (told_[c] == now) continue;
        if (telling_ || told_[c] == 255)
            outgoing_ += fmt::format(": {} {}\r\n", program().cues[c].name, now == 1 ? "runs" : now == 2 ? "gave up" : "rests");
        told_[c] = now;
    }
    for (std::size_t o = 0; o < state_.outputs(); ++o) {
        const bool on = routine::isOn(program(), state_, o);
        if ((was_on_[o] != 0) != on) edges_.push_back({ticks_ / 1000.0, static_cast<int>(o), -1, on ? 1 : 0});
        if (o < plants_.size()) plants_[o].step(1e-3, routine::driveOf(program(), state_, o));
    }
    if (!bench_.empty()) {
        shares_.resize(state_.outputs());
        places_.resize(state_.outputs());
        for (std::size_t o = 0; o < state_.outputs(); ++o) {
            shares_[o] = routine::driveOf(program(), state_, o);
            const auto kind = program().outputs[o].kind;
            places_[o] = kind == routine::OutputKind::Stepper || state_.output(o).awake != 0 ? state_.output(o).level
                                                                                             : 0.0;  // a servo without a pulse hangs loose
        }
        for (const auto& reading : bench_.step(1e-3, shares_, places_))
            reading.tach ? setRate(reading.input, reading.value) : setReading(reading.input, static_cast<int>(reading.value));
    }
    if (streaming_ && ticks_ % 5 == 0) {
        link::Telemetry t;
        t.sequence = sequence_++;
        t.time_ms = ticks_;
        t.clock_set = state_->clock_set;
        t.stopped = state_->stopped != 0;
        for (std::size_t c = 0; c < state_.cues(); ++c) t.faulted = t.faulted || state_.cue(c).faulted != 0;
        t.clock_ms = static_cast<std::uint32_t>(state_->clock);
        for (std::size_t i = 0; i < state_.inputs() && i < 8; ++i) t.inputs |= static_cast<std::uint8_t>(state_.input(i).active << i);
        for (std::size_t c = 0; c < state_.cues() && c < 8; ++c)
            t.cues |= static_cast<std::uint8_t>((state_.cue(c).place >= 0 ? 1 : 0) << c);
        for (std::size_t o = 0; o < state_.outputs(); ++o)
            if (t.levels.size() < link::most_values)
                t.levels.push_back(static_cast<std::uint16_t>(std::clamp<std::int32_t>(state_.output(o).level, 0, 65'535)));
        for (std::size_t i = 0; i < program().inputs.size(); ++i)
            if (routine::isMeasured(program().inputs[i]) && t.levels.size() < link::most_values)
                t.levels.push_back(static_cast<std::uint16_t>(state_.input(i).value));
        outgoing_ += link::encode(t);
    }
}

void InterpretedBoard::advance(double seconds) {
    owed_ += seconds * 1000.0;
    while (owed_ >= 1.0) {
        owed_ -= 1.0;
        tickOnce();
    }
}

void InterpretedBoard::write(std::string_view bytes) {
    if (!bytes.empty()) link_ = true;
    for (const char c : bytes) {
        if (c == '\n') {
            answer(incoming_);
            incoming_.clear();
        } else if (c != '\r' && incoming_.size() <= link::longest_line) {
            incoming_ += c;
        }
    }
}

std::string InterpretedBoard::read() {
    return std::exchange(outgoing_, {});
}

void InterpretedBoard::answer(const std::string& line) {
    if (line.empty()) return;
    const auto command = link::parseCommand(line);
    const auto say = [this](const std::string& text) { outgoing_ += text + "\r\n"; };
    const auto allowed = [this](const std::vector<int>& words, const std::string& word) {
        return words.empty() ||
               std::any_of(words.begin(), words.end(), [&](int w) { return program().inputs[static_cast<std::size_t>(w)].word == word; });
    };
    if (!command) return say("error " + command.error().accepted);
    if (std::holds_alternative<link::SayHello>(*command)) {
        say(fmt::format("hello hinge-spark {} {} {}", link::version, plan_mark_, link::spoken(gadget_)));
    } else if (std::holds_alternative<link::AskList>(*command)) {
        for (std::size_t i = 0; i < program().parameters.size(); ++i) {
            const auto& p = program().parameters[i];
            say(fmt::format("param {} {} {} {} {}", p.name, state_.number(i), p.least, p.most, p.unit));
        }
        for (std::size_t i = 0; i < program().inputs.size(); ++i) say(fmt::format("input {} {}", i, program().inputs[i].name));
        for (std::size_t i = 0; i < program().outputs.size(); ++i) say(fmt::format("output {} {}", i, program().outputs[i].name));
        for (std::size_t i = 0; i < program().cues.size(); ++i) say(fmt::format("cue {} {}", i, program().cues[i].name));
        say("end");
    } else if (const auto* set = std::get_if<link::SetParameter>(&*command)) {
        for (std::size_t i = 0; i < program().parameters.size(); ++i) {
            const auto& p = program().parameters[i];
            if (p.name != set->name) continue;
            if (!allowed(routine::wordsOfParameter(program(), i), set->word))
                return say("error set NAME VALUE WORD: with the word that starts it");
            if (set->value < p.least || set->value > p.most) return say("error outside its range");
            routine::setNumber(state_, i, set->value);
            return say(fmt::format("ok {} {}", p.name, set->value));
        }
        say("error no such parameter");
    } else if (const auto* clock = std::get_if<link::SetClock>(&*command)) {
        routine::setClock(state_, clock->seconds * routine::ticks_per_second);
        if (clock->date) routine::setDate(state_, clock->date->year, clock->date->month, clock->date->day);
        say("ok clock");
    } else if (const auto* start = std::get_if<link::StartCue>(&*command)) {
        if (static_cast<std::size_t>(start->index) >= program().cues.size()) return say("error no such cue");
        if (!allowed(routine::wordsOfCue(program(), static_cast<std::size_t>(start->index)), start->word))
            return say("error start CUE WORD: with the word that starts it");
        start_.push_back(start->index);
        say("ok start");
    } else if (std::holds_alternative<link::Stop>(*command)) {
        stop_ = true;
        say("ok stop");
    } else if (const auto* stream = std::get_if<link::Stream>(&*command)) {
        streaming_ = stream->on;
        say("ok stream");
    } else if (const auto* said = std::get_if<link::SayWord>(&*command)) {
        for (std::size_t i = 0; i < program().inputs.size(); ++i) {
            if (program().inputs[i].source != routine::InputSource::Word || program().inputs[i].word != said->word) continue;
            words_.push_back(static_cast<int>(i));
            return say("ok say");
        }
        say("error no such word");
    } else if (const auto* number = std::get_if<link::SendNumber>(&*command)) {
        const auto i = static_cast<std::size_t>(number->input);
        if (i >= program().inputs.size() || program().inputs[i].source != routine::InputSource::Number) return say("error no such number");
        numbers_.push_back({number->input, number->reading});
        say("ok number");
    } else if (const auto* drive = std::get_if<link::Drive>(&*command)) {
        if (static_cast<std::size_t>(drive->output) >= program().outputs.size()) return say("error no such output");
        if (!allowed(routine::wordsOfOutput(program(), static_cast<std::size_t>(drive->output)), drive->word))
            return say("error drive OUTPUT VALUE MS WORD: with the word that starts it");
        hands_.push_back({drive->output, drive->value, drive->ms});
        say("ok drive");
    } else if (std::holds_alternative<link::AskState>(*command)) {
        told_.assign(told_.size(), 255);
        say("ok state");
    } else if (const auto* tell = std::get_if<link::TellStates>(&*command)) {
        telling_ = tell->on;
        say("ok tell");
    } else if (std::holds_alternative<link::Save>(*command)) {
        saved_.clear();
        for (std::size_t p = 0; p < program().parameters.size(); ++p) saved_.push_back(state_.number(p));
        say("ok save");
    } else if (std::holds_alternative<link::Defaults>(*command)) {
        for (std::size_t i = 0; i < program().parameters.size(); ++i) routine::setNumber(state_, i, program().parameters[i].value);
        saved_.clear();
        say("ok defaults");
    }
}

plant::Observation InterpretedBoard::observe() const {
    plant::Observation seen;
    seen.time = ticks_ / 1000.0;
    for (std::size_t o = 0; o < state_.outputs(); ++o) seen.duty.push_back(routine::driveOf(program(), state_, o));
    for (const auto& p : plants_) seen.supply_current += p.supplyCurrent();
    if (const auto* pump = plant::pouring(plants_)) {
        seen.poured = pump->poured();
        seen.tank = pump->tank();
    }
    seen.machines = bench_.seen();
    return seen;
}

}  // namespace hinge::simulation
