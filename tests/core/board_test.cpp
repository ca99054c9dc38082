// Pins as a solved assignment, against trying everything.
#include "board/assign.hpp"
#include "plan/firmware_model.hpp"
#include "plan/pins.hpp"
#include "support/demo.hpp"
#include <algorithm>
#include <limits>
#include <map>
#include <rapidcheck.h>
#include <set>

namespace hinge::board {
namespace {

constexpr double clock_pwm = 976.5625;

// A board with few pins, so that everything can be tried.
Family small() {
    static const std::vector<Pin> pins{
        {"D0", 'D', 0, -1, ' ', false, false, "serial in", 0}, {"D2", 'D', 2, -1, ' ', true, false, "", 2},  {"D3", 'D', 3, 2, 'B', true, false, "", 3},
        {"D5", 'D', 5, 0, 'B', false, false, "", 5},           {"D9", 'B', 1, 1, 'A', false, false, "", 9},  {"D10", 'B', 2, 1, 'B', false, false, "SPI select", 10},
        {"A0", 'C', 0, -1, ' ', false, true, "", 14}};
    Family family = board::family(BoardForm::Uno16);
    family.pins = pins;
    return family;
}

// Every assignment tried: whether one works, and the cheapest.
double cheapest(const Family& family, const PinRules& rules, const std::vector<PinWish>& wishes, std::size_t at, std::set<int>& taken, std::map<int, double> timers) {
    if (at == wishes.size()) return 0.0;
    double best = std::numeric_limits<double>::infinity();
    for (std::size_t p = 0; p < family.pins.size(); ++p) {
        const auto cost = pinCost(family, rules, wishes[at], family.pins[p]);
        if (!cost || taken.contains(static_cast<int>(p))) continue;
        auto next = timers;
        if (wishes[at].pwm) {
            const int timer = family.pins[p].pwm_timer;
            if (next.contains(timer) && std::abs(*wishes[at].pwm / next[timer] - 1.0) > rules.tolerance) continue;
            next.emplace(timer, *wishes[at].pwm);
        }
        taken.insert(static_cast<int>(p));
        best = std::min(best, *cost + cheapest(family, rules, wishes, at + 1, taken, next));
        taken.erase(static_cast<int>(p));
    }
    return best;
}
double cheapest(const Family& family, const PinRules& rules, const std::vector<PinWish>& wishes) {
    std::set<int> taken;
    return cheapest(family, rules, wishes, 0, taken, {});
}
bool solvable(const Family& family, const PinRules& rules, const std::vector<PinWish>& wishes) { return cheapest(family, rules, wishes) < std::numeric_limits<double>::infinity(); }

std::vector<PinWish> someWishes() {
    std::vector<PinWish> wishes;
    const int count = *rc::gen::inRange(1, 7);
    for (int i = 0; i < count; ++i) {
        PinWish wish;
        wish.id = "w" + std::to_string(i);
        wish.name = wish.id;
        switch (*rc::gen::inRange(0, 6)) {
            case 0: wish.pwm = clock_pwm; break;
            case 1: wish.pwm = 25e3; break;
            case 2: wish.interrupt = true; break;
            case 3: wish.analog = true; break;
            case 4: wish.fixed = *rc::gen::elementOf(std::vector<std::string>{"D2", "D5", "A0"}); break;
            default: break;
        }
        wishes.push_back(wish);
    }
    return wishes;
}

TEST(Pins, theSolverEqualsTryingEverything) {
    const auto family = small();
    rc::check("solved when it can be, at the least cost", [&] {
        PinRules rules;
        rules.beat = *rc::gen::arbitrary<bool>();
        const auto wishes = someWishes();
        const double least = cheapest(family, rules, wishes);
        const auto solved = assignPins(family, rules, wishes);
        const auto* choices = std::get_if<std::vector<PinChoice>>(&solved);
        RC_ASSERT((choices != nullptr) == (least < std::numeric_limits<double>::infinity()));
        if (choices == nullptr) return;
        double cost = 0.0;
        std::set<std::string> used;
        for (std::size_t w = 0; w < wishes.size(); ++w) {
            RC_ASSERT((*choices)[w].id == wishes[w].id);
            RC_ASSERT(used.insert((*choices)[w].pin).second);
            if (!wishes[w].fixed.empty()) RC_ASSERT((*choices)[w].pin == wishes[w].fixed);
            const auto pin = pinNamed(family, (*choices)[w].pin);
            RC_ASSERT(pin.has_value());
            const auto price = pinCost(family, rules, wishes[w], *pin);
            RC_ASSERT(price.has_value());
            cost += *price;
        }
        RC_ASSERT(std::abs(cost - least) < 1e-9);
    });
}

TEST(Pins, everyClashIsMinimal) {
    const auto family = small();
    int clashes = 0;
    rc::check("without any one of them the rest can be met", [&] {
        PinRules rules;
        rules.beat = *rc::gen::arbitrary<bool>();
        const auto wishes = someWishes();
        const auto solved = assignPins(family, rules, wishes);
        const auto* clash = std::get_if<PinClash>(&solved);
        if (clash == nullptr) return;
        ++clashes;
        RC_ASSERT(!clash->ids.empty() && !clash->why.empty());
        std::vector<PinWish> named;
        for (const auto& wish : wishes)
            if (std::find(clash->ids.begin(), clash->ids.end(), wish.id) != clash->ids.end()) named.push_back(wish);
        RC_ASSERT(!solvable(family, rules, named));
        for (std::size_t leave = 0; leave < named.size(); ++leave) {
            auto fewer = named;
            fewer.erase(fewer.begin() + static_cast<std::ptrdiff_t>(leave));
            RC_ASSERT(solvable(family, rules, fewer));
        }
    });
    EXPECT_GT(clashes, 5);
}

// ATmega328P data sheet (from memory): OC0B is D5, OC1A D9, OC1B D10; timer 0 keeps the clock.
TEST(Pins, aFansPwmGoesToTimerOneAndTheClocksPwmToTimerZero) {
    PinRules rules;
    rules.beat = true;
    const auto solved = assignPins(family(BoardForm::Uno16), rules, {{"fan", "fan", 25e3, false, false, ""}, {"pump", "pump", clock_pwm, false, false, ""}});
    const auto* choices = std::get_if<std::vector<PinChoice>>(&solved);
    ASSERT_NE(choices, nullptr);
    EXPECT_EQ((*choices)[0].pin, "D9");
    EXPECT_EQ(pinNamed(family(BoardForm::Uno16), (*choices)[1].pin)->pwm_timer, 0);
}

TEST(Pins, threeFansAtThreeFrequenciesClashByTheirTimers) {
    PinRules rules;
    rules.beat = true;
    const auto solved = assignPins(family(BoardForm::Uno16), rules, {{"a", "fan A", 25e3, false, false, ""}, {"b", "fan B", 22e3, false, false, ""}, {"lamp", "lamp", std::nullopt, false, false, ""}});
    const auto* clash = std::get_if<PinClash>(&solved);
    ASSERT_NE(clash, nullptr) << "one timer, two frequencies";
    EXPECT_EQ(clash->ids, (std::vector<std::string>{"a", "b"})) << "the lamp has nothing to do with it";
}

// The whole stage with no pin given: one press gives them all, and nothing clashes afterwards.
TEST(Pins, theStageIsSolvedOnOneBoard) {
    auto project = store::load(HINGE_SOURCE_DIR "/demos/paper-moon-stage")->project;
    for (auto& channel : project.channels) channel.pin = channel.direction_pin = channel.enable_pin = "";
    for (auto& input : project.inputs) input.pin = "";
    const auto parts = test::shippedParts();
    const auto plan = plan::evaluate(project, parts);
    const auto* open = test::finding(plan, "pins-open");
    ASSERT_NE(open, nullptr);
    ASSERT_EQ(open->remedies.size(), 1U);
    const auto given = project::with(project, open->remedies.front().edits);
    ASSERT_TRUE(given);
    const auto after = plan::evaluate(*given, parts);
    for (const auto& finding : after.findings) EXPECT_FALSE(finding.stage == project::Stage::Pins && finding.severity == Severity::Stop) << finding.text;
    EXPECT_EQ(test::finding(after, "pins-open"), nullptr);
    EXPECT_TRUE(plan::sketchOf(*given, after));
}

}  // namespace
}  // namespace hinge::board
