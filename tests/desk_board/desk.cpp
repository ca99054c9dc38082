#include "desk.hpp"
#include <cmath>
#include <cstdio>
#include <cstdlib>
#include <functional>
#include <map>
#include <string>
#include <vector>

namespace desk {

Wire link{"sent"}, air{"aired"};

namespace {

struct Pin {
    bool output = false, opened = false, driven = false, level = false, outside = false;
    bool told = false, told_level = false;
    void (*call)() = nullptr;
    bool rising = false, falling = false;
    int channel = -1;
};
struct Channel {
    double frequency = 0.0;
    int bits = 0;
    std::uint32_t share = 0, next_share = 0;
    std::uint64_t period = 0;  // ns
    bool high = false;
};

std::map<int, Pin> pins;
std::map<int, int> readings;
std::map<int, Channel> channels;
// What is to happen, in time and then in the order in which it was arranged.
std::multimap<std::uint64_t, std::function<void()>> agenda;
std::uint64_t time_now = 0, last = 0, fed = 0, bites_after = 0;
std::FILE* heard = nullptr;
bool held = false, in_call = false;
std::vector<void (*)()> waiting;
std::deque<std::pair<std::uint64_t, std::string>> script;

// A chip with registers of 32 bits, frames of 40 in mode 3.
struct Chip {
    int select = -1, clock = -1, out = -1, in = -1, bits = 0;
    std::map<int, std::uint32_t> registers;
    std::uint64_t frame = 0;
    std::uint32_t answer = 0;
    bool selected = false;
} chip;
void chipHears(int number, bool high) {
    if (number == chip.select) {
        if (!high) chip.frame = 0, chip.bits = 0;
        else if (chip.bits == 40) {
            const int address = static_cast<int>(chip.frame >> 32 & 0x7F);
            const bool writes = (chip.frame >> 39 & 1) != 0;
            if (writes) chip.registers[address] = static_cast<std::uint32_t>(chip.frame);
            chip.answer = writes ? static_cast<std::uint32_t>(chip.frame) : chip.registers[address];
        }
        chip.selected = !high;
        if (high) pins[chip.in].outside = true;
    } else if (number == chip.clock && chip.selected) {
        if (high) chip.frame = chip.frame << 1 | (pins[chip.out].level ? 1 : 0), ++chip.bits;
        else pins[chip.in].outside = chip.bits >= 8 && chip.bits < 40 && (chip.answer >> (39 - chip.bits) & 1) != 0;
    }
}

void tell(int number, Pin& pin) {
    const auto channel = channels.find(pin.channel);
    const bool level = channel != channels.end() ? channel->second.high : pin.level;
    if (!pin.output || (pin.told && pin.told_level == level)) return;
    pin.told = true;
    pin.told_level = level;
    std::fprintf(heard, "pin %llu %d %d\n", static_cast<unsigned long long>(time_now), number, level ? 1 : 0);
}
void interrupt(void (*call)()) {
    if (held || in_call) return waiting.push_back(call);
    in_call = true;
    call();
    in_call = false;
    while (!waiting.empty() && !held) {
        auto next = waiting.front();
        waiting.erase(waiting.begin());
        interrupt(next);
    }
}
void outside(const std::string& line) {
    char what[8], hex[64];
    int where = 0, value = 0;
    if (std::sscanf(line.c_str(), "%7s %d %d", what, &where, &value) == 3 && std::string{what} == "pin") {
        Pin& pin = pins[where];
        const bool level = value != 0, edge = level != pin.outside;
        pin.outside = level;
        if (edge && pin.call != nullptr && (level ? pin.rising : pin.falling)) interrupt(pin.call);
    } else if (int out = 0, in = 0, address = 0; std::string{what} == "chip") {
        unsigned held = 0;
        (void)std::sscanf(line.c_str(), "%*s %d %d %d %d %d %u", &where, &value, &out, &in, &address, &held);
        chip = {where, value, out, in, 0, {{address, held}}, 0, 0, false};
        pins[in].outside = true;
    } else if (std::string{what} == "adc") {
        readings[where] = value;
    } else if (std::sscanf(line.c_str(), "say %63s", hex) == 1 || std::sscanf(line.c_str(), "air %63s", hex) == 1) {
        auto& wire = line.compare(0, 3, "air") == 0 ? air : link;
        for (const char* at = hex; at[0] != 0 && at[1] != 0; at += 2)
            wire.incoming.push_back(static_cast<std::uint8_t>(std::strtol(std::string(at, 2).c_str(), nullptr, 16)));
    }
}
void change(int number) {
    for (auto& [pin_number, pin] : pins)
        if (pin.channel == number) tell(pin_number, pin);
}
void turn(int number) {
    Channel& channel = channels[number];
    channel.share = channel.next_share;
    channel.high = channel.share > 0;
    change(number);
    const double full = std::exp2(channel.bits);
    if (channel.share > 0 && channel.share < full)
        agenda.emplace(time_now + static_cast<std::uint64_t>(std::llround(channel.period * (channel.share / full))), [number] {
            channels[number].high = false;
            change(number);
        });
    agenda.emplace(time_now + channel.period, [number] { turn(number); });
}
void end() {
    std::fclose(heard);
    std::fflush(stdout);
    std::_Exit(0);
}

}  // namespace

std::uint64_t now() {
    return time_now;
}
void spend(std::uint64_t ns) {
    const std::uint64_t until = time_now + ns;
    for (;;) {
        const std::uint64_t from_script = script.empty() ? UINT64_MAX : script.front().first,
                            from_agenda = agenda.empty() ? UINT64_MAX : agenda.begin()->first;
        if (from_script > until && from_agenda > until) break;
        if (from_script <= from_agenda) {
            time_now = std::max(time_now, from_script);
            const auto line = script.front().second;
            script.pop_front();
            outside(line);
        } else {
            time_now = std::max(time_now, from_agenda);
            const auto act = agenda.begin()->second;
            agenda.erase(agenda.begin());
            act();
        }
    }
    time_now = until;
    if (time_now >= last) end();
}

void open(int number, bool output, bool pull_up) {
    Pin& pin = pins[number];
    (void)pull_up;  // what is outside says the level of every input
    pin.output = output;
    pin.opened = true;
    pin.channel = -1;
    tell(number, pin);
}
bool isOpen(int number) {
    return pins[number].opened;
}
void put(int number, bool high) {
    Pin& pin = pins[number];
    const bool edge = pin.level != high;
    pin.level = high;
    if (edge) chipHears(number, high);
    tell(number, pin);
}
bool get(int number) {
    return pins[number].outside;
}
int reading(int number) {
    return readings[number];
}
void Wire::send(std::uint8_t byte) const {
    std::fprintf(heard, "%s %llu %d\n", word, static_cast<unsigned long long>(time_now), byte);
}

void every(std::uint64_t ns, void (*call)()) {
    agenda.emplace(time_now + ns, [ns, call] {
        every(ns, call);
        interrupt(call);
    });
}
void once(std::uint64_t ns, void (*call)()) {
    agenda.emplace(ns, [call] { interrupt(call); });
}
void onEdge(int number, bool rising, bool falling, void (*call)()) {
    pins[number].call = call;
    pins[number].rising = rising;
    pins[number].falling = falling;
}
void hold(bool interrupts_off) {
    held = interrupts_off;
    if (held || in_call || waiting.empty()) return;
    auto next = waiting.front();
    waiting.erase(waiting.begin());
    interrupt(next);
}

void pwmSet(int number, double frequency, int bits) {
    Channel& channel = channels[number];
    const bool fresh = channel.period == 0;
    channel.frequency = frequency;
    channel.bits = bits;
    channel.period = static_cast<std::uint64_t>(std::llround(1e9 / frequency));
    if (fresh) turn(number);
}
void pwmAttach(int number, int pin_number) {
    Pin& pin = pins[pin_number];
    pin.channel = number;
    pin.output = true;
    tell(pin_number, pin);
}
void pwmShare(int number, std::uint32_t counts) {
    channels[number].next_share = counts;
}

void feed() {
    fed = time_now;
}
void watch(std::uint64_t ns) {
    feed();
    every(1'000'000, [] {
        if (time_now - fed < bites_after) return;
        std::fprintf(heard, "watchdog %llu\n", static_cast<unsigned long long>(time_now));
        end();
    });
    bites_after = ns;
}

/// The script and where what is heard goes.
void begin(int argc, char** argv) {
    if (argc < 3) std::exit(2);
    last = std::strtoull(argv[1], nullptr, 10) * 1000;
    heard = std::fopen(argv[2], "w");
    char line[256];
    while (std::fgets(line, sizeof line, stdin) != nullptr) {
        char* rest = nullptr;
        const auto us = std::strtoull(line, &rest, 10);
        std::string what = rest + 1;
        while (!what.empty() && what.back() == '\n') what.pop_back();
        script.emplace_back(us * 1000, what);
    }
    spend(0);
}

}  // namespace desk
