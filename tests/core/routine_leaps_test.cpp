#include "core/routine_parts.hpp"

namespace hinge::routine {
namespace {

using namespace parts;

// So many ticks, passing over those in which nothing comes.
void leap(const Machine& machine, State& state, const Happening& happening, std::int32_t left, const std::vector<std::uint8_t>& pins,
          const std::vector<std::int32_t>& values = {}) {
    while (left > 0) {
        const auto ticks = std::min(left, quietTicks(machine.program(), state, pins, true, values));
        skip(machine.program(), state, ticks);
        left -= ticks;
        if (left > 0) machine.tick(state, happening), --left;
    }
}

TEST(ProofOfNewMoves, agreesWithEverySequence) {
    Move until{"u", Action::Until, "", of<Duration>(0.003)};
    until.input = "other";
    Move again{"a", Action::Again, ""};
    again.times = of<Count>(2.0);
    std::vector<std::vector<Move>> kinds{{{"t", Action::Toggle, "pump"}},
                                         {{"on", Action::On, "pump"}, until, {"off", Action::Off, "pump"}},
                                         {run(0.002), {"w", Action::Wait, "", of<Duration>(0.001)}, again},
                                         {until, run(0.002)}};
    for (std::size_t k = 0; k < kinds.size(); ++k)
        for (const bool guarded : {false, true}) {
            Routine routine;
            routine.cues.push_back(cueOf(kinds[k]));
            if (guarded) routine.cues.front().guards.push_back({"g", "other", true});
            routine.interlocks.push_back({"never", "pump", "other"});
            const auto program = compile(routine, {switched("pump")}, {input("button"), input("other")});
            ASSERT_TRUE(program);
            bool reached = false;
            for (std::uint32_t sequence = 0; sequence < 1u << 16 && !reached; ++sequence) {
                State state = powerUp(*program);
                const Machine machine{*program};
                for (int t = 0; t < 8 && !reached; ++t) {
                    const std::vector<std::uint8_t> pins{static_cast<std::uint8_t>(sequence >> (2 * t) & 1u),
                                                         static_cast<std::uint8_t>(sequence >> (2 * t + 1) & 1u)};
                    Happening happening;
                    happening.pin_active = pins;
                    happening.debounced = true;
                    machine.tick(state, happening, false);
                    reached = isOn(*program, state, 0) && state.input(1).active != 0;
                }
            }
            EXPECT_EQ(prove(*program).front().status == ProofStatus::Violated, reached) << "routine " << k << (guarded ? ", guarded" : "");
        }
}

// Leaping over quiet ticks with every way of starting and waiting in one program.
TEST(Leaps, areTheSameAsTicksForAllThatIsNew) {
    Move until{"u", Action::Until, "", of<Duration>(0.4)};
    until.input = "other";
    Move again{"a", Action::Again, ""};
    again.times = of<Count>(3.0);
    auto held = cueOf({run(0.3), {"w", Action::Wait, "", of<Duration>(0.2)}, again});
    held.held = of<Duration>(0.25);
    Cue every{"every", "every", "", "", {}, {until, {"t", Action::Toggle, "pump"}}};
    every.every = of<Duration>(0.9);
    Cue after{"after", "after", "", "", {}, {run(0.1)}};
    after.after = "every";
    Cue first{"first", "first", "", "", {}, {run(0.2)}};
    first.at_power_up = true;
    Routine routine{{held, every, after, first}, {}};
    auto knob = input("knob");
    knob.analogue = true, knob.active_high = true;
    knob.debounce = of<Duration>(0.02);
    routine.followers.push_back({"f", "fan", "knob", false, true, of<Fraction>(0.1), of<Fraction>(0.25)});
    routine.followers.push_back({"g", "fan", "other"});
    auto fan = switched("fan", 0.3);
    fan.ramp = of<Duration>(0.15);
    const auto program = compile(routine, {switched("pump", 0.05), fan}, {input("button"), input("other"), knob});
    ASSERT_TRUE(program) << sentence(program.error());
    std::mt19937 random(3);
    State slow = powerUp(*program), fast = slow;
    const Machine machine{*program};
    std::vector<std::uint8_t> pins(3, 0);
    std::vector<std::int32_t> values(3, 0);
    for (int round = 0; round < 400; ++round) {
        if (random() % 2 == 0) pins[random() % 2] ^= 1;
        if (random() % 3 == 0) values[2] = static_cast<std::int32_t>(random() % 1024);
        Happening happening;
        happening.pin_active = pins;
        happening.values = values;
        happening.stop = random() % 25 == 0;
        machine.tick(slow, happening);
        machine.tick(fast, happening);
        happening.stop = false;
        std::int32_t left = static_cast<std::int32_t>(random() % 700);
        for (int i = 0; i < left; ++i) machine.tick(slow, happening);
        leap(machine, fast, happening, left, pins, values);
        ASSERT_TRUE(slow == fast) << "round " << round;
    }
}

// Where nothing waits for anything, nothing is looked at for a day: whoever leaps asks no oftener.
TEST(Looks, areNotAskedForWhereNothingWaits) {
    const auto program = compile(Routine{{cueOf({run(0.2)})}, {}}, {switched("pump", 0.05)}, {input("button"), input("other")});
    ASSERT_TRUE(program) << sentence(program.error());
    State state = powerUp(*program);
    const Machine machine{*program};
    const std::vector<std::uint8_t> pins(2, 0);
    Happening happening;
    happening.pin_active = pins;
    happening.start_cues = {0};
    for (int t = 0; t < 1000; ++t) {
        machine.tick(state, happening);
        happening.start_cues.clear();
    }
    EXPECT_EQ(quietTicks(*program, state, pins), ticks_per_day);
}

// A start that waits for its time is looked at when that may have come, and a guard when what is believed has changed. Looked at in every
// tick, everything would be just the same: under random inputs, clocks put on and back, numbers changed, stops and starts over the link.
TEST(Looks, onlyWhenSomethingMayComeAreTheSameAsAlways) {
    auto held = cueOf({run(0.2)});
    held.held = of<Duration>(0.15);
    Cue every{"every", "every", "", "", {{"o", "other", true, true}}, {run(0.05)}};
    every.every = of<Duration>(0.7);
    Cue often{"often", "often", "", "", {}, {{"t", Action::Toggle, "fan"}, {"w", Action::Wait, "", of<Duration>(0.003)}}};
    often.every = of<Duration>(0.11);
    Cue timed{"timed", "timed", "", "00:00:02,00:00:03,12:00,23:59:59", {{"o", "other", false, true}}, {run(0.3)}};
    timed.late = of<Duration>(1.5);
    const auto program = compile(Routine{{held, every, often, timed}, {}}, {switched("pump", 0.05), switched("fan", 0.3)},
                                 {input("button"), input("other")});
    ASSERT_TRUE(program) << sentence(program.error());
    std::mt19937 random(17);
    State seldom = powerUp(*program), always = seldom;
    const Machine machine{*program};
    std::vector<std::uint8_t> pins(2, 0);
    int ran[4] = {};
    const std::int32_t times[] = {1'500, 2'500, 43'199'000, 86'398'000, 0};
    for (int t = 0; t < 200'000; ++t) {
        if (random() % 200 == 0) pins[random() % 2] ^= 1;
        Happening happening;
        happening.pin_active = pins;
        happening.stop = random() % 3000 == 0;
        if (random() % 2000 == 0) happening.start_cues = {static_cast<int>(random() % 4)};
        const auto clock = random() % 1500 == 0 ? times[random() % 5] + static_cast<std::int32_t>(random() % 1000) : -1;
        const auto number = random() % 400 == 0 ? static_cast<std::size_t>(random() % program->parameters.size()) : ~std::size_t{0};
        const auto value = static_cast<std::int32_t>(random() % 400);
        for (auto* state : {&seldom, &always}) {
            if (clock >= 0) setClock(*state, clock);
            if (number != ~std::size_t{0}) setNumber(*state, number, value);
        }
        always->look = always->changed = 1;
        for (std::size_t o = 0; o < always.outputs(); ++o) always.output(o).idle = 0;
        machine.tick(seldom, happening);
        machine.tick(always, happening);
        for (std::size_t c = 0; c < 4; ++c) ran[c] += seldom.cue(c).place >= 0;
        // When it will be looked at next may differ, and nothing else.
        State same = always;
        same->look_at = seldom->look_at;
        for (std::size_t k = 0; k < same.sizes().times; ++k)
            if (static_cast<std::int32_t>(same.hush(k) - same->ticks) <= 0) same.hush(k) = seldom.hush(k);
        ASSERT_TRUE(same == seldom) << t;
    }
    for (const int ticks : ran) EXPECT_GT(ticks, 0);
}

// The same with fades, flicker, numbers, counters, days, a lost link, safe states and terms of interlocks, clocks set at odd times.
TEST(Leaps, areTheSameAsTicksForFadesNumbersDaysAndLinks) {
    const auto source = [](InputNumbers made, InputSource from) {
        made.source = from;
        return made;
    };
    auto number = source(input("number"), InputSource::Number), counter = source(input("counter"), InputSource::Counter),
         days = source(input("days"), InputSource::Days);
    number.timeout = of<Duration>(0.6), number.active_high = true;
    counter.counts = "glow";
    counter.limit = of<Count>(3.0);
    days.weekdays = "mon,wed,fri";
    Move fade{"f", Action::Fade, "lamp", of<Duration>(0.35)}, out{"o", Action::Fade, "lamp", of<Duration>(0.2)},
        flicker{"x", Action::Flicker, "lamp", of<Duration>(0.17)}, clear{"c", Action::Clear, ""}, half{"h", Action::On, "pump"};
    fade.level = of<Fraction>(0.7);
    out.level = of<Fraction>(0.0);
    half.level = of<Fraction>(0.5);
    clear.input = "counter";
    Cue glow{"glow", "glow", "button", "", {}, {fade, flicker, out}},
        third{"third", "third", "counter", "", {}, {clear, half, {"w", Action::Wait, "", of<Duration>(0.3)}, {"e", Action::Off, "pump"}}},
        timed{"timed", "timed", "", "00:00:30,12:00", {{"d", "days", true, true}}, {run(0.4)}};
    timed.late = of<Duration>(20.0);
    Routine routine{{glow, third, timed}, {{"both", "pump", "", {{"t", "lamp", TermState::On, std::nullopt, std::nullopt}}}}};
    routine.followers.push_back({"n", "fan", "number", false, true, of<Fraction>(0.1), of<Fraction>(0.25)});
    routine.link_silence = of<Duration>(1.5);
    auto fan = switched("fan", 0.3);
    fan.rest = Rest::On;
    const auto program = compile(routine, {switched("pump"), switched("lamp"), fan}, {input("button"), number, counter, days});
    ASSERT_TRUE(program) << sentence(program.error());
    std::mt19937 random(11);
    State slow = powerUp(*program), fast = slow;
    const Machine machine{*program};
    std::vector<std::uint8_t> pins(4, 0);
    int glowed = 0, pumped = 0;
    for (int round = 0; round < 600; ++round) {
        if (random() % 2 == 0) pins[0] ^= 1;
        Happening happening;
        happening.pin_active = pins;
        if (random() % 6 == 0) happening.numbers.push_back({1, static_cast<std::int32_t>(random() % 1024)});
        happening.link = random() % 5 == 0;
        const auto clock = random() % 8 == 0 ? static_cast<std::int32_t>(random() % 2 == 0 ? 29'000 + random() % 40'000
                                                                                           : ticks_per_day - 1000 + random() % 1000)
                                             : -1;
        for (auto* state : {&slow, &fast}) {
            if (clock >= 0) setClock(*state, clock), setDate(*state, 2026, 3, 1 + static_cast<int>(round % 28));
            machine.tick(*state, happening);
        }
        happening.numbers.clear();
        happening.link = false;
        std::int32_t left = static_cast<std::int32_t>(random() % 900);
        for (int i = 0; i < left; ++i)
            machine.tick(slow, happening), glowed += slow.output(1).level > 0, pumped += slow.output(0).level > 0;
        leap(machine, fast, happening, left, pins);
        ASSERT_TRUE(slow == fast) << "round " << round;
    }
    EXPECT_GT(glowed, 1000) << "it all happened";
    EXPECT_GT(pumped, 1000);
}

// ---- Bad input ----------------------------------------------------------------------------------

TEST(Calendar, agreesWithTheCLibrary) {
    timing::Date date{2000, 1, 1};
    for (std::time_t noon = 946'728'000; noon < 4'102'444'800; noon += 86'400) {
        std::tm utc{};
        gmtime_r(&noon, &utc);
        ASSERT_EQ(date.year, utc.tm_year + 1900);
        ASSERT_EQ(date.month, utc.tm_mon + 1);
        ASSERT_EQ(date.day, utc.tm_mday);
        ASSERT_EQ(timing::weekdayOf(date), (utc.tm_wday + 6) % 7);
        date = timing::dayAfter(date);
    }
}

}  // namespace
}  // namespace hinge::routine
