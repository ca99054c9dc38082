#include "emulator/emulated_board.hpp"
#include <algorithm>
#include <cmath>
#include <numbers>
#include "emulator/pin_bus.hpp"
#include "plant/on_times.hpp"

namespace hinge::emulator {

Result<std::unique_ptr<EmulatedBoard>> EmulatedBoard::start(const std::filesystem::path& elf, const board::Family& family, Wiring wiring,
                                                            std::vector<plant::PumpFigures> plants) {
    auto chip = Chip::load(elf, nameOf(family.mcu), static_cast<std::uint32_t>(family.clock));
    if (!chip) return tl::unexpected(chip.error());
    return with(std::move(*chip), std::move(wiring), std::move(plants));
}

std::unique_ptr<EmulatedBoard> EmulatedBoard::with(std::unique_ptr<Chip> chip, Wiring wiring, std::vector<plant::PumpFigures> plants) {
    std::unique_ptr<EmulatedBoard> board{new EmulatedBoard};
    board->chip_ = std::move(chip);
    board->wiring_ = std::move(wiring);
    if (board->wiring_.clock) board->chip_->attachClock(*board->wiring_.clock);
    for (auto& figures : plants) board->plants_.emplace_back(std::move(figures));
    const auto outputs = board->wiring_.outputs.size();
    board->wiring_.kinds.resize(outputs);
    board->wiring_.directions.resize(outputs);
    board->wiring_.lows.resize(outputs);
    board->wiring_.back_lows.resize(outputs);
    board->wiring_.enables.resize(outputs);
    board->wiring_.inverted.resize(outputs, false);
    board->on_since_.assign(outputs, 0);
    board->on_cycles_.assign(outputs, 0);
    board->rose_.assign(outputs, 0);
    board->level_.assign(outputs, false);
    board->duty_.assign(outputs, 0.0);
    board->shares_.assign(outputs, 0.0);
    board->latched_.assign(outputs, false);
    board->places_before_.assign(outputs, 0.0);
    board->rises_.assign(outputs, 0);
    board->last_width_.assign(outputs, 0);
    board->quiet_.assign(outputs, 1000);
    board->woken_.assign(outputs, false);
    for (const auto& output : board->wiring_.kinds)
        board->places_.push_back(output.kind == routine::OutputKind::Stepper ? output.start : 0.0);
    board->places_.resize(outputs, 0.0);
    board->fired_.assign(outputs, -1.0);
    board->half_waves_.assign(outputs, 0.0);
    for (const auto& output : board->wiring_.kinds)
        if (output.half_waves > 0.0) board->mains_.frequency = output.half_waves;
    board->contact_.assign(board->wiring_.inputs.size(), false);
    board->rates_.assign(board->wiring_.inputs.size(), 0.0);
    board->phases_.assign(board->wiring_.inputs.size(), 0.0);
    board->in_.assign(outputs, {false, false});
    board->switches_.assign(outputs, {});
    board->changed_at_.assign(outputs, 0);
    board->backwards_.assign(outputs, false);
    board->fell_.assign(outputs, 0);
    board->loose_.assign(outputs, 0);
    board->for_good_.assign(outputs, false);
    for (const auto& chip : board->wiring_.registers) {
        board->registers_.emplace_back(*chip.map, board->chip_->clock());
        const auto& answers = chip.map->bus == driver::RegisterBus::Spi && chip.in ? *chip.in : chip.select;
        board->chip_->pins().drive(answers.port, answers.bit, true);
    }
    for (const auto& expander : board->wiring_.expanders) {
        board->expanders_.emplace_back(*expander.map, board->chip_->clock(), expander.board);
        board->frame_at_.push_back(0.0);
        board->pulled_.push_back(false);
        for (const auto* line : {&expander.clock, &expander.data})
            if (*line) board->chip_->pins().drive((*line)->port, (*line)->bit, true);
    }
    if (const auto& radio = board->wiring_.radio) {
        board->radio_.emplace(radio->baud, board->chip_->clock());
        board->chip_->pins().drive(radio->in.port, radio->in.bit, true);
    }
    board->chip_->pins().on_edge = [self = board.get()](char port, int bit, bool level, std::uint64_t cycle) {
        self->changed(port, bit, level, cycle);
    };
    for (std::size_t i = 0; i < board->wiring_.inputs.size(); ++i) {
        const auto& input = board->wiring_.inputs[i];
        if (const auto [chip, line] = board->hangsOn(i); chip != nullptr && !input.analogue) chip->setLine(line, !input.active_high);
        if (!input.pin) continue;
        if (!input.analogue) board->chip_->pins().drive(input.pin->port, input.pin->bit, !input.active_high);
        else board->setReading(static_cast<int>(i), 0);
    }
    return board;
}

// A pin of the chip went high or low.
void EmulatedBoard::changed(char port, int bit, bool pin_level, std::uint64_t cycle) {
    const auto is = [&](const board::Pin& pin) { return pin.port == port && pin.bit == bit; };
    if (!registers_.empty()) registerLine({.port = port, .bit = bit}, pin_level, cycle);
    if (!expanders_.empty()) expanderLine({.port = port, .bit = bit}, pin_level, cycle);
    if (radio_ && is(wiring_.radio->out)) radio_->edge(cycle, pin_level);
    for (std::size_t l = 0; l < wiring_.lines.size(); ++l)
        if (is(wiring_.lines[l].pin)) noteLine({static_cast<double>(cycle) / chip_->clock(), l, pin_level});
    for (std::size_t o = 0; o < wiring_.outputs.size(); ++o) {
        if (wiring_.lows[o]) {
            endChanged(o, {.port = port, .bit = bit}, pin_level, cycle);
        } else if (wiring_.kinds[o].two_inputs && wiring_.directions[o]) {
            const bool first = is(wiring_.outputs[o]);
            if (!first && !is(*wiring_.directions[o])) continue;
            // A timer's edges come a moment after those that the program writes.
            changed_at_[o] = std::max(changed_at_[o], cycle);
            in_[o][first ? 0 : 1] = pin_level;
            // One alone drives, and says which way; both or none do not.
            if (in_[o][0] != in_[o][1]) backwards_[o] = in_[o][1];
            switched(o, in_[o][0] != in_[o][1], changed_at_[o]);
        } else if (is(wiring_.outputs[o])) {
            switched(o, pin_level != wiring_.inverted[o], cycle);
        }
    }
}

// A switch of a bridge opened or closed, whose switches have an input each: upper and lower one of the first end, then of the other.
void EmulatedBoard::endChanged(std::size_t o, const board::Pin& pin, bool level, std::uint64_t cycle) {
    const std::optional<board::Pin> lines[] = {wiring_.outputs[o], wiring_.lows[o], wiring_.directions[o], wiring_.back_lows[o]};
    const auto found = std::find_if(std::begin(lines), std::end(lines),
                                    [&](const auto& line) { return line && line->port == pin.port && line->bit == pin.bit; });
    if (found == std::end(lines)) return;
    auto& closed = switches_[o];
    const auto which = static_cast<std::size_t>(found - lines);
    if (closed[which] == level) return;
    closed[which] = level;
    if (closed[which / 2 * 2] && closed[which / 2 * 2 + 1]) ++shortings_;
    changed_at_[o] = std::max(changed_at_[o], cycle);
    const bool whole = wiring_.back_lows[o].has_value();
    const bool forwards = closed[0] && (!whole || closed[3]), back = whole && closed[2] && closed[1];
    if (forwards != back) backwards_[o] = back;
    switched(o, forwards != back, changed_at_[o]);
}

RegisterChip* EmulatedBoard::registersOf(std::size_t output) {
    for (std::size_t k = 0; k < registers_.size(); ++k)
        if (wiring_.registers[k].output == output) return &registers_[k];
    return nullptr;
}

// What a pulse is worth, of the plan's micro-steps: by the driver's register, where it has some; none while it sleeps.
double EmulatedBoard::stepOf(std::size_t output) {
    for (std::size_t k = 0; k < registers_.size(); ++k)
        if (wiring_.registers[k].output == output)
            return registers_[k].awake() ? wiring_.registers[k].microsteps / registers_[k].microsteps() : 0.0;
    return 1.0;
}

// A line of a driver's registers went high or low.
void EmulatedBoard::registerLine(const board::Pin& pin, bool level, std::uint64_t cycle) {
    const auto is = [&](const std::optional<board::Pin>& other) { return other && other->port == pin.port && other->bit == pin.bit; };
    auto& pins = chip_->pins();
    for (std::size_t k = 0; k < registers_.size(); ++k) {
        const auto& at = wiring_.registers[k];
        auto& chip = registers_[k];
        if (chip.bus() == driver::RegisterBus::SingleWire) {
            if (is(at.select) && pins.isOutput(pin.port, pin.bit)) chip.heard(cycle, level);
            continue;
        }
        if (!at.clock || !at.out || !at.in || (!is(at.select) && !is(at.clock))) continue;
        if (is(at.select)) chip.select(!level);
        else chip.clocked(level, pins.level(at.out->port, at.out->bit));
        if (chip.held()) pins.drive(at.in->port, at.in->bit, *chip.held());
        else if (chip.answers()) pins.drive(at.in->port, at.in->bit, chip.out());
        else if (is(at.select)) pins.drive(at.in->port, at.in->bit, true);
    }
}

// A line to the expanders went high or low: each hears it, then any of them keeps the data line down that they share.
void EmulatedBoard::expanderLine(const board::Pin& pin, bool level, std::uint64_t cycle) {
    const auto is = [&](const std::optional<board::Pin>& other) { return other && other->port == pin.port && other->bit == pin.bit; };
    auto& pins = chip_->pins();
    const std::optional<board::Pin>* data = nullptr;
    for (std::size_t k = 0; k < expanders_.size(); ++k) {
        const auto& at = wiring_.expanders[k];
        if (is(at.serial)) expanders_[k].heard(cycle, level);
        if (!at.clock || !at.data || (!is(at.clock) && !is(at.data))) continue;
        pulled_[k] = expanders_[k].heard(pins.level(at.clock->port, at.clock->bit), pins.level(at.data->port, at.data->bit));
        data = &at.data;
    }
    if (data != nullptr) pins.drive((*data)->port, (*data)->bit, std::find(pulled_.begin(), pulled_.end(), true) == pulled_.end());
}

// What the expanders' outputs do in this millisecond, and beyond.
void EmulatedBoard::frames(std::uint64_t from) {
    for (std::size_t k = 0; k < expanders_.size(); ++k) {
        auto& chip = expanders_[k];
        if (chip.bus() == driver::RegisterBus::Serial) chip.listen(from);
        const double period = chip.period();
        // On for good, or no longer; a pulse ends by itself.
        for (const auto& [output, of_its_own] : wiring_.expanders[k].outputs) {
            const bool on = chip.hasLevels() ? chip.level(of_its_own) : period > 0.0 && chip.width(of_its_own) >= period;
            if (on != for_good_[output]) outside_.push_back({from, nullptr, on, static_cast<int>(output)});
            for_good_[output] = on;
        }
        if (period <= 0.0) continue;
        for (frame_at_[k] = std::max(frame_at_[k], static_cast<double>(from)); frame_at_[k] < static_cast<double>(target_);
             frame_at_[k] += period)
            for (const auto& [output, of_its_own] : wiring_.expanders[k].outputs)
                if (const double width = chip.width(of_its_own); width > 0.0 && width < period) {
                    outside_.push_back({static_cast<std::uint64_t>(frame_at_[k]), nullptr, true, static_cast<int>(output)});
                    outside_.push_back({static_cast<std::uint64_t>(frame_at_[k] + width), nullptr, false, static_cast<int>(output)});
                }
    }
}

// An output's load is driven, or not.
void EmulatedBoard::switched(std::size_t o, bool level, std::uint64_t cycle) {
    if (level_[o] == level) return;
    const double time = static_cast<double>(cycle) / chip_->clock();
    level_[o] = level;
    if (level) {
        on_since_[o] = rose_[o] = cycle;
        ++rises_[o];
        if (fired_[o] < 0.0) fired_[o] = std::clamp(2.0 * mains_.frequency * (time - crossed_at_), 0.0, 1.0);
        if (wiring_.kinds[o].kind == routine::OutputKind::Stepper || wiring_.kinds[o].step_rate > 0.0) {
            const auto& direction = wiring_.directions[o];
            const double step = registers_.empty() ? 1.0 : stepOf(o);
            places_[o] += !direction || chip_->pins().level(direction->port, direction->bit) ? step : -step;
        }
    } else {
        on_cycles_[o] += cycle - on_since_[o];
        noteWidth(o, cycle - rose_[o]);
        // Two inputs that go up or down together do it one after the other: what lies between is no pulse.
        const bool between = wiring_.kinds[o].two_inputs && !wiring_.lows[o] && cycle - rose_[o] < chip_->clock() / 100'000 &&
                             (fell_[o] == 0 || rose_[o] - fell_[o] > chip_->clock() / 200) && !edges_.empty() &&
                             edges_.back().output == static_cast<int>(o);
        fell_[o] = cycle;
        if (between) {
            edges_.pop_back();
            --rises_[o];
            return;
        }
    }
    edges_.push_back({time, static_cast<int>(o), -1, level ? 1 : 0});
    if (level && wiring_.kinds[o].latch > 0) noteLatch(o, time);
}

void EmulatedBoard::setInput(int index, bool active) {
    if (index < 0 || static_cast<std::size_t>(index) >= wiring_.inputs.size()) return;
    const auto i = static_cast<std::size_t>(index);
    const auto& input = wiring_.inputs[i];
    const bool high = active == input.active_high;
    const auto [expander, line] = hangsOn(i);
    if (contact_[i] == active || (!input.pin && expander == nullptr)) return;
    contact_[i] = active;
    if (expander != nullptr) expander->setLine(line, high);
    else chip_->pins().drive(input.pin->port, input.pin->bit, high);
    edges_.push_back({static_cast<double>(chip_->cycle()) / chip_->clock(), -1, index, high ? 1 : 0});
}

std::pair<ExpanderChip*, int> EmulatedBoard::hangsOn(std::size_t input) {
    for (std::size_t k = 0; k < expanders_.size(); ++k)
        for (const auto& [index, line] : wiring_.expanders[k].inputs)
            if (index == input) return {&expanders_[k], line};
    return {nullptr, -1};
}

void EmulatedBoard::cutPower() {
    for (std::size_t o = 0; o < level_.size(); ++o) {
        if (level_[o]) edges_.push_back({static_cast<double>(chip_->cycle()) / chip_->clock(), static_cast<int>(o), -1, 0});
        level_[o] = false;
        in_[o] = {false, false};
        switches_[o] = {};
        on_cycles_[o] = 0;
        woken_[o] = false;
    }
    for (auto& chip : registers_) chip.restart();
    for (auto& chip : expanders_) chip.restart();
    chip_->cutPower();
    for (std::size_t i = 0; i < wiring_.inputs.size(); ++i)
        if (const auto& input = wiring_.inputs[i]; input.pin && !input.analogue)
            chip_->pins().drive(input.pin->port, input.pin->bit, contact_[i] == input.active_high);
}

void EmulatedBoard::driveLater(const board::Pin& pin, double after, bool high) {
    auto at = std::find_if(driven_.begin(), driven_.end(), [&](const auto& each) { return each.port == pin.port && each.bit == pin.bit; });
    if (at == driven_.end()) at = driven_.insert(driven_.end(), pin);
    outside_.push_back({chip_->cycle() + static_cast<std::uint64_t>(after * chip_->clock()), &*at, high});
}

void EmulatedBoard::setRate(int index, double rate) {
    if (index >= 0 && static_cast<std::size_t>(index) < rates_.size()) rates_[static_cast<std::size_t>(index)] = rate;
}

// Pulses of the tachs, evenly in the millisecond: active for a tenth of one.
void EmulatedBoard::pulses(std::uint64_t from, std::vector<Outside>& all) {
    for (std::size_t i = 0; i < rates_.size(); ++i) {
        if (rates_[i] <= 0.0 || !wiring_.inputs[i].pin) continue;
        phases_[i] += rates_[i] / 1000.0;
        const int pulses = static_cast<int>(phases_[i]);
        phases_[i] -= pulses;
        const auto& input = wiring_.inputs[i];
        const std::uint64_t apart = chip_->clock() / 1000 / static_cast<std::uint64_t>(pulses + 1);
        for (int p = 0; p < pulses; ++p) {
            const std::uint64_t ends = from + apart * static_cast<std::uint64_t>(p + 1);
            all.push_back({ends - apart / 10, &*input.pin, input.active_high});
            all.push_back({ends, &*input.pin, !input.active_high});
        }
    }
}

// The crossing to come, as soon as its pulse begins in this millisecond: what lies beyond is kept for those to come.
void EmulatedBoard::crossings(std::vector<Outside>& all) {
    const double clock = chip_->clock();
    while (!mains_.there && crossing_at_ * clock < static_cast<double>(target_)) crossing_at_ += 0.5 / mains_.frequency;
    const auto jitter = [&] {
        noise_ = noise_ * 1664525U + 1013904223U;
        return mains_.jitter * (2.0 * static_cast<double>(noise_ >> 8) / 16777216.0 - 1.0);
    };
    while (mains_.there && (crossing_at_ - mains_.early - mains_.jitter) * clock < static_cast<double>(target_)) {
        const auto at = [&](double time) { return static_cast<std::uint64_t>(std::max(0.0, time * clock)); };
        const double begins = crossing_at_ - mains_.early + jitter(), ends = crossing_at_ + mains_.early + jitter();
        if (wiring_.crossing)
            for (const auto& [time, level] : {std::pair{begins, true}, {ends, false}}) {
                all.push_back({at(time), &*wiring_.crossing, level});
                for (int b = 1; b <= mains_.bounces; ++b) {
                    all.push_back({at(time + (b - 0.5) * 20e-6), &*wiring_.crossing, !level});
                    all.push_back({at(time + b * 20e-6), &*wiring_.crossing, level});
                }
            }
        all.push_back({at(crossing_at_), nullptr, false});
        crossing_at_ += 0.5 / mains_.frequency;
    }
}

// A half-wave is over: what is a resistance has had its share of it; a gate that is on fires the next at once.
void EmulatedBoard::crossed() {
    crossed_at_ = static_cast<double>(chip_->cycle()) / chip_->clock();
    for (std::size_t o = 0; o < fired_.size(); ++o) {
        const double angle = std::numbers::pi * fired_[o];
        half_waves_[o] = fired_[o] < 0.0 ? 0.0 : 1.0 - fired_[o] + std::sin(2.0 * angle) / (2.0 * std::numbers::pi);
        fired_[o] = level_[o] ? 0.0 : -1.0;
    }
}

void EmulatedBoard::setReading(int index, int reading) {
    if (index < 0 || static_cast<std::size_t>(index) >= wiring_.inputs.size()) return;
    if (const auto [chip, line] = hangsOn(static_cast<std::size_t>(index)); chip != nullptr)
        chip->setVolts(line, reading / 1023.0 * wiring_.logic);
    if (const int channel = wiring_.inputs[static_cast<std::size_t>(index)].channel; channel >= 0) chip_->setAnalogue(channel, reading);
}

// What latches goes on with a pulse forwards, and off with one backwards.
void EmulatedBoard::noteLatch(std::size_t o, double time) {
    const bool on = way(o) > 0.0;
    if (on == latched_[o]) return;
    latched_[o] = on;
    latchings_.push_back({time, static_cast<int>(o), -1, on ? 1 : 0});
}

std::vector<plant::Edge> EmulatedBoard::switchings() const {
    if (latchings_.empty()) return edges_;
    std::vector<plant::Edge> all;
    for (const auto& edge : edges_)
        if (edge.output < 0 || wiring_.kinds[static_cast<std::size_t>(edge.output)].latch == 0) all.push_back(edge);
    all.insert(all.end(), latchings_.begin(), latchings_.end());
    std::stable_sort(all.begin(), all.end(), [](const plant::Edge& a, const plant::Edge& b) { return a.time < b.time; });
    return all;
}

void EmulatedBoard::noteLine(const LineEdge& edge) {
    line_edges_.push_back(edge);
    if (most_edges_ > 0 && line_edges_.size() > most_edges_)
        line_edges_.erase(line_edges_.begin(), line_edges_.begin() + static_cast<std::ptrdiff_t>(most_edges_ / 2));
}

// A servo moves while its pulse changes by more than a microsecond from frame to frame.
void EmulatedBoard::noteWidth(std::size_t o, std::uint64_t width) {
    const std::uint64_t slack = chip_->clock() / 500'000;
    const std::uint64_t before = last_width_[o];
    if (before > 0 && (width > before ? width - before : before - width) > slack) quiet_[o] = 0;
    last_width_[o] = width;
    if (wiring_.kinds[o].kind == routine::OutputKind::Servo) places_[o] = static_cast<double>(width) * 2e6 / chip_->clock();
}

// Share of its full drive that a mover's pin shows: moving, holding, or nothing since power-up.
double EmulatedBoard::placedDrive(std::size_t o) {
    const auto& output = wiring_.kinds[o];
    if (rises_[o] > 0) woken_[o] = true;
    const bool steps = output.kind == routine::OutputKind::Stepper;
    if (steps && rises_[o] > 0) quiet_[o] = 0;
    const bool moves = quiet_[o] < (steps ? 20U : 40U);
    // Let go: its driver sleeps, or no pulse has come for some frames.
    if (steps && wiring_.enables[o] && chip_->pins().level(wiring_.enables[o]->port, wiring_.enables[o]->bit)) woken_[o] = false;
    if (!steps && static_cast<double>(target_ - rose_[o]) > plant::pulses_gone * chip_->clock()) woken_[o] = false;
    ++quiet_[o];
    rises_[o] = 0;
    return moves ? 1.0 : woken_[o] ? output.hold / 1000.0 : 0.0;
}

// −1 where its line says that it is turned round.
double EmulatedBoard::way(std::size_t o) const {
    if (wiring_.kinds[o].two_inputs) return backwards_[o] ? -1.0 : 1.0;
    if ((!wiring_.kinds[o].turns && wiring_.kinds[o].latch == 0) || !wiring_.directions[o]) return 1.0;
    const auto& pin = *wiring_.directions[o];
    return chip_->pins().level(pin.port, pin.bit) ? -1.0 : 1.0;
}

// Share of its full speed that a servo's pulses say, from -1 to 1: as the last one did, and none when they fail to come.
double EmulatedBoard::pulsedSpeed(std::size_t o) const {
    if (last_width_[o] == 0 || static_cast<double>(target_ - rose_[o]) > plant::pulses_gone * chip_->clock()) return 0.0;
    const double off = static_cast<double>(last_width_[o]) * 2e6 / chip_->clock() - wiring_.kinds[o].pulse_still;
    return std::abs(off) <= 2e6 * plant::pulse_jitter ? 0.0 : std::clamp(off / wiring_.kinds[o].top, -1.0, 1.0);
}

// The same of a stepper that goes on, by the steps of the last 32 ms or so.
double EmulatedBoard::steppedSpeed(std::size_t o) {
    const double steps = places_[o] - places_before_[o], now = steps * 1000.0 / wiring_.kinds[o].step_rate;
    places_before_[o] = places_[o];
    const double share = std::clamp(shares_[o] + (now - shares_[o]) / 32.0, -1.0, 1.0);
    return std::abs(share) < 1e-6 ? 0.0 : share;
}

// One millisecond of chip, then the plants with what their pins did in it.
void EmulatedBoard::slice() {
    const std::uint64_t from = target_;
    target_ += chip_->clock() / 1000;
    pulses(from, outside_);
    frames(from);
    for (std::size_t k = 0; k < registers_.size(); ++k)
        if (registers_[k].bus() == driver::RegisterBus::SingleWire)
            for (const auto& level : registers_[k].answer(from))
                outside_.push_back({level.cycle, &wiring_.registers[k].select, level.high});
    if (std::any_of(wiring_.kinds.begin(), wiring_.kinds.end(), [](const auto& output) { return output.half_waves > 0.0; })) {
        crossings(outside_);
        if (!mains_.there) std::fill(half_waves_.begin(), half_waves_.end(), 0.0);
    }
    std::stable_sort(outside_.begin(), outside_.end(), [](const Outside& a, const Outside& b) { return a.cycle < b.cycle; });
    auto next = outside_.begin();
    for (; next != outside_.end() && next->cycle < target_; ++next) {
        chip_->runTo(next->cycle);
        // What is on for good meanwhile is not ended by its last pulse.
        const bool stays = next->output >= 0 && !next->level && for_good_[static_cast<std::size_t>(next->output)];
        if (next->output >= 0 && !stays) switched(static_cast<std::size_t>(next->output), next->level, next->cycle);
        else if (next->pin != nullptr) chip_->pins().drive(next->pin->port, next->pin->bit, next->level);
        else if (next->output < 0) crossed();
    }
    outside_.erase(outside_.begin(), next);
    chip_->runTo(target_);
    for (std::size_t o = 0; o < level_.size(); ++o) {
        // A pin that becomes an output while it is low has no edge, and is on where low is.
        if (wiring_.inverted[o] && !level_[o] && rises_[o] == 0 && on_cycles_[o] == 0) {
            const auto& pin = wiring_.outputs[o];
            if (chip_->pins().isOutput(pin.port, pin.bit) && !chip_->pins().level(pin.port, pin.bit)) {
                level_[o] = true;
                on_since_[o] = rose_[o] = from;
                edges_.push_back({static_cast<double>(from) / chip_->clock(), static_cast<int>(o), -1, 1});
            }
        }
        std::uint64_t on = on_cycles_[o];
        if (level_[o]) {
            on += target_ > on_since_[o] ? target_ - on_since_[o] : 0;
            on_since_[o] = target_;
        }
        on_cycles_[o] = 0;
        duty_[o] = std::min(1.0, static_cast<double>(on) / static_cast<double>(target_ - from));
        if (wiring_.kinds[o].kind != routine::OutputKind::Switched) duty_[o] = placedDrive(o);
        if (!registers_.empty() && stepOf(o) == 0.0) duty_[o] = 0.0;
        if (wiring_.kinds[o].half_waves > 0.0) duty_[o] = half_waves_[o];
        const bool steps_on = wiring_.kinds[o].step_rate > 0.0;
        if (!steps_on) shares_[o] = way(o) * duty_[o];
        if (wiring_.kinds[o].pulse_still > 0) shares_[o] = pulsedSpeed(o), duty_[o] = std::abs(shares_[o]);
        if (steps_on) shares_[o] = steppedSpeed(o), duty_[o] = std::abs(shares_[o]);
        const auto& closed = switches_[o];
        const bool open = wiring_.lows[o] ? std::none_of(closed.begin(), closed.end(), [](bool each) { return each; })
                                          : wiring_.kinds[o].two_inputs && !in_[o][0] && !in_[o][1];
        loose_[o] = open && duty_[o] == 0.0 ? 1 : 0;
        if (o < plants_.size()) plants_[o].step(1e-3, duty_[o]);
    }
    if (!bench_.empty())
        for (const auto& reading : bench_.step(1e-3, shares_, places_, loose_))
            reading.tach ? setRate(reading.input, reading.value) : setReading(reading.input, static_cast<int>(reading.value));
    if (const auto* pump = plant::pouring(plants_))
        for (std::size_t i = 0; i < wiring_.inputs.size(); ++i)
            if (wiring_.inputs[i].empties && pump->floatOpen()) setInput(static_cast<int>(i), true);
    if (most_edges_ > 0 && edges_.size() > 2 * most_edges_)
        edges_.erase(edges_.begin(), edges_.end() - static_cast<std::ptrdiff_t>(most_edges_));
}

void EmulatedBoard::advance(double seconds) {
    owed_ += seconds * 1000.0;
    while (owed_ >= 1.0 - 1e-9) {
        owed_ -= 1.0;
        slice();
    }
}

plant::Observation EmulatedBoard::observe() const {
    plant::Observation seen;
    seen.time = static_cast<double>(chip_->cycle()) / chip_->clock();
    seen.duty = duty_;
    plant::observe(plants_, bench_, seen);
    return seen;
}

}  // namespace hinge::emulator
