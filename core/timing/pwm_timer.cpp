#include "timing/pwm_timer.hpp"
#include <fmt/format.h>
#include <cmath>
#include <set>

namespace hinge::timing {
namespace {

constexpr std::array usual{1, 8, 64, 256, 1024};
constexpr std::array asynchronous{1, 8, 32, 64, 128, 256, 1024};
constexpr std::array powers{1, 2, 4, 8, 16, 32, 64, 128, 256, 512, 1024, 2048, 4096, 8192, 16384};

constexpr std::array timers328{AvrTimer{0, 8, false, true, usual}, AvrTimer{1, 16, false, true, usual},
                               AvrTimer{2, 8, false, true, asynchronous}};
constexpr std::array timers2560{AvrTimer{0, 8, false, true, usual},        AvrTimer{1, 16, false, true, usual},
                                AvrTimer{2, 8, false, true, asynchronous}, AvrTimer{3, 16, false, true, usual},
                                AvrTimer{4, 16, false, true, usual},       AvrTimer{5, 16, false, true, usual}};
constexpr std::array timers32u4{AvrTimer{0, 8, false, true, usual}, AvrTimer{1, 16, false, true, usual},
                                AvrTimer{3, 16, false, true, usual}, AvrTimer{4, 10, true, true, powers}};
constexpr std::array timersTiny{AvrTimer{0, 8, false, true, usual}, AvrTimer{1, 8, true, false, powers}};

struct Candidate {
    double error = 0.0;
    double top = 0.0;
    bool fast = true;
    double prescaler = 1.0;
    int timer = 0;
    double actual = 0.0;
    int bits = 0;
    bool own_top = false;
};

bool better(const Candidate& a, const Candidate& b) {
    if (std::abs(a.error) != std::abs(b.error)) return std::abs(a.error) < std::abs(b.error);
    if (a.top != b.top) return a.top > b.top;
    if (a.fast != b.fast) return a.fast;
    if (a.prescaler != b.prescaler) return a.prescaler < b.prescaler;
    return a.timer < b.timer;
}

struct Search {
    double clock;
    double wanted;
    std::optional<Candidate> best;
    double highest = 0.0;
    double lowest = INFINITY;

    // period in clock ticks is scale·prescaler·(top + add); both whole tops around the exact one are tried
    void tryTops(Candidate candidate, double scale, double add, double least, double most) {
        highest = std::max(highest, clock / (scale * candidate.prescaler * (least + add)));
        lowest = std::min(lowest, clock / (scale * candidate.prescaler * (most + add)));
        const double exact = clock / (wanted * scale * candidate.prescaler) - add;
        for (const double top : {std::floor(exact), std::ceil(exact)}) {
            if (top < least || top > most) continue;
            candidate.top = top;
            candidate.actual = clock / (scale * candidate.prescaler * (top + add));
            candidate.error = candidate.actual / wanted - 1.0;
            if (!best || better(candidate, *best)) best = candidate;
        }
    }
};

}  // namespace

std::span<const AvrTimer> avrTimers(Mcu mcu) {
    switch (mcu) {
        case Mcu::Atmega328p: return timers328;
        case Mcu::Atmega2560: return timers2560;
        case Mcu::Atmega32u4: return timers32u4;
        case Mcu::Attiny85: return timersTiny;
        default: return {};
    }
}

double usualClock(Mcu mcu) {
    switch (mcu) {
        case Mcu::Attiny85: return 8e6;
        case Mcu::Rp2040: return 125e6;
        case Mcu::Esp32: return 80e6;
        default: return 16e6;
    }
}

namespace {

// What was found to look among: no timer of that number, or none with that mode, is told apart from a frequency out of reach.
struct Found {
    bool timer = false, mode = false;
};
bool wants(const PwmTimer& in, PwmMode mode) {
    return !in.mode || *in.mode == mode;
}
int timerOr(const PwmTimer& in, int other) {
    return in.timer ? static_cast<int>(si(*in.timer)) : other;
}

Found searchAvr(const PwmTimer& in, Search& search) {
    Found found;
    for (const auto& timer : avrTimers(in.mcu)) {
        if (in.timer && si(*in.timer) != timer.number) continue;
        found.timer = true;
        const double most = std::pow(2.0, timer.bits) - 1.0;
        for (const int prescaler : timer.prescalers) {
            Candidate candidate;
            candidate.timer = timer.number;
            candidate.prescaler = prescaler;
            candidate.bits = timer.bits;
            candidate.own_top = timer.own_top;
            if (wants(in, PwmMode::Fast)) {
                found.mode = true;
                search.tryTops(candidate, 1.0, 1.0, 3.0, most);
            }
            candidate.fast = false;
            if (wants(in, PwmMode::PhaseCorrect) && timer.phase_correct) {
                found.mode = true;
                search.tryTops(candidate, 2.0, 0.0, 3.0, most);
            }
        }
    }
    return found;
}

Found searchRp2040(const PwmTimer& in, Search& search) {
    Candidate candidate;
    candidate.timer = timerOr(in, 0);
    for (int sixteenths = 16; sixteenths < 256 * 16; ++sixteenths) {
        candidate.prescaler = sixteenths / 16.0;
        candidate.fast = true;
        if (wants(in, PwmMode::Fast)) search.tryTops(candidate, 1.0, 1.0, 3.0, 65535.0);
        candidate.fast = false;
        if (wants(in, PwmMode::PhaseCorrect)) search.tryTops(candidate, 2.0, 1.0, 3.0, 65535.0);
    }
    return {candidate.timer < 8, true};
}

Found searchEsp32(const PwmTimer& in, double clock, Search& search) {
    Candidate candidate;
    candidate.timer = timerOr(in, 0);
    const Found found{candidate.timer < 4, wants(in, PwmMode::Fast)};
    for (int bits = 2; bits <= 20 && found.mode; ++bits) {
        const double period = std::pow(2.0, bits);
        search.highest = std::max(search.highest, clock / period);
        search.lowest = std::min(search.lowest, clock / (1023.99609375 * period));
        const double exact = clock / (search.wanted * period) * 256.0;
        for (const double parts : {std::floor(exact), std::ceil(exact)}) {
            if (parts < 256.0 || parts > 1024.0 * 256.0 - 1.0) continue;
            candidate.prescaler = parts / 256.0;
            candidate.top = period - 1.0;
            candidate.actual = clock / (candidate.prescaler * period);
            candidate.error = candidate.actual / search.wanted - 1.0;
            if (!search.best || better(candidate, *search.best)) search.best = candidate;
        }
    }
    return found;
}

Worked<PwmTimerResult> worked(const PwmTimer& in, double clock, const Candidate& best) {
    Worked<PwmTimerResult> out;
    auto& r = out.result;
    r.timer = of<Count>(best.timer);
    r.mode = best.fast ? PwmMode::Fast : PwmMode::PhaseCorrect;
    r.prescaler = of<Ratio>(best.prescaler);
    r.top = of<Count>(best.top);
    r.actual_frequency = of<Frequency>(best.actual);
    r.frequency_error = of<Fraction>(best.error);
    r.resolution_bits = of<Ratio>(std::log2(best.top + 1.0));
    r.steps = of<Count>(best.fast ? best.top + 1.0 : best.top);
    const std::string source = in.mcu == Mcu::Rp2040 ? "rp2040-datasheet" : in.mcu == Mcu::Esp32 ? "esp32-trm" : "atmega328p-datasheet";
    addStep(out.steps, "f", "real frequency",
            best.fast               ? "{clk}/({N}·({TOP} + 1))"
            : in.mcu == Mcu::Rp2040 ? "{clk}/(2·{N}·({TOP} + 1))"
                                    : "{clk}/(2·{N}·{TOP})",
            {{"clk", clock}, {"N", best.prescaler}, {"TOP", best.top}}, r.actual_frequency, source);
    addStep(out.steps, "e", "off by", "{f}/{fw} − 1", {{"f", best.actual}, {"fw", si(in.frequency)}}, r.frequency_error, "definition");
    addStep(out.steps, "b", "resolution, bits", "log2({TOP} + 1)", {{"TOP", best.top}}, r.resolution_bits, "definition");
    if (best.bits == 8 && best.top != 255.0 && !best.own_top)
        out.findings.push_back(
            {"output-a-lost", Severity::Warn,
             fmt::format("On 8-bit timer {} a TOP of {:.0f} takes the compare register of output A: only output B is left.", best.timer,
                         best.top)});
    out.verdict = verdictOf(out.findings);
    return out;
}

}  // namespace

Result<Worked<PwmTimerResult>> pwmTimer(const PwmTimer& in) {
    const double clock = in.clock ? si(*in.clock) : usualClock(in.mcu), wanted = si(in.frequency);
    Search search{clock, wanted, {}};
    const Found found = in.mcu == Mcu::Rp2040  ? searchRp2040(in, search)
                        : in.mcu == Mcu::Esp32 ? searchEsp32(in, clock, search)
                                               : searchAvr(in, search);
    if (!found.timer)
        return fail(ErrorCode::OutOfRange, "timer", in.timer ? exactNumber(si(*in.timer)) : "", "a PWM timer of this controller");
    if (!found.mode) return fail(ErrorCode::OutOfRange, "mode", in.mode ? nameOf(*in.mode) : "", "a mode that this timer has");
    if (!search.best || wanted > search.highest * (1 + 1e-9) || wanted < search.lowest * (1 - 1e-9))
        return fail(
            ErrorCode::OutOfRange, "frequency", displayPlain(in.frequency),
            fmt::format("{} to {} on this timer", display(Kind::Frequency, search.lowest), display(Kind::Frequency, search.highest)));
    return worked(in, clock, *search.best);
}

FormPtr pwmTimerForm() {
    using I = PwmTimer;
    using R = PwmTimerResult;
    auto form = std::make_shared<FormOf<I, R>>("pwm-timer", "pulse", "prescaler and TOP for a PWM frequency", "data sheets of the families",
                                               &pwmTimer);
    form->rule("fast f = clk/(N·(TOP + 1)); phase-correct f = clk/(2·N·TOP); smallest error, then larger TOP")
        .in("mcu", &I::mcu, nullptr, "controller family")
        .in("clock", &I::clock, nullptr, "of the timer")
        .otherwise("its usual one")
        .in("timer", &I::timer, nullptr, "timer or slice number")
        .zeroOk()
        .otherwise("best")
        .in("frequency", &I::frequency, nullptr, "wanted")
        .in("mode", &I::mode, nullptr, "fast or phase-correct")
        .otherwise("best")
        .out("timer", &R::timer, "chosen")
        .out("mode", &R::mode, "chosen")
        .out("prescaler", &R::prescaler, "clock divider")
        .out("top", &R::top, "counter's last value")
        .out("actual_frequency", &R::actual_frequency, "that comes out")
        .out("frequency_error", &R::frequency_error, "actual/wanted − 1")
        .out("resolution_bits", &R::resolution_bits, "log2(TOP + 1)")
        .out("steps", &R::steps, "of duty")
        .resolve([](I& in) {
            if (!in.clock) in.clock = of<Frequency>(usualClock(in.mcu));
        });
    return form;
}

}  // namespace hinge::timing
