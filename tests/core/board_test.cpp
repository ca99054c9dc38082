// Pins as a solved assignment, against trying everything.
#include <rapidcheck.h>
#include <algorithm>
#include <deque>
#include <limits>
#include <map>
#include <nlohmann/json.hpp>
#include <regex>
#include <set>
#include "board/assign.hpp"
#include "board/form_file.hpp"
#include "board/pwm_pool.hpp"
#include "plan/firmware_model.hpp"
#include "plan/pin_plan.hpp"
#include "plan/wiring.hpp"
#include "support/alone.hpp"
#include "support/folder.hpp"

namespace hinge::board {
namespace {

constexpr double clock_pwm = 976.5625;

// A board with few pins, so that everything can be tried: some of its own, as its file has them.
Family with(BoardForm form, std::initializer_list<const char*> names) {
    static std::deque<std::vector<Pin>> kept;
    auto& pins = kept.emplace_back();
    for (const auto* name : names) pins.push_back(pinNamed(board::family(form), name).value());
    Family family = board::family(form);
    family.pins = pins;
    return family;
}
Family small() {
    return with(BoardForm::Uno16, {"D0", "D2", "D3", "D5", "D9", "D10", "A0"});
}
// Slices whose outputs stand at several pins each.
Family slices() {
    return with(BoardForm::Rp2040, {"GP0", "GP1", "GP2", "GP16", "GP18", "GP26"});
}
// A pool of two timers, an input-only pin and a strap.
Family pool() {
    Family family = with(BoardForm::Esp32, {"IO2", "IO4", "IO16", "IO32", "IO34"});
    family.pool = 2;
    return family;
}
const Family& anyFamily() {
    static const std::array<Family, 3> list{small(), slices(), pool()};
    return list[static_cast<std::size_t>(*rc::gen::inRange(0, 3))];
}

// Every assignment tried: whether one works, and the cheapest.
double cheapest(const Family& family, const PinRules& rules, const std::vector<PinWish>& wishes, std::size_t at, std::set<int>& taken,
                std::map<int, double> timers) {
    if (at == wishes.size()) return 0.0;
    double best = std::numeric_limits<double>::infinity();
    for (std::size_t p = 0; p < family.pins.size(); ++p) {
        const auto cost = pinCost(family, rules, wishes[at], family.pins[p]);
        if (!cost || taken.contains(static_cast<int>(p))) continue;
        auto next = timers;
        if (wishes[at].pwm && family.pins[p].pwm_timer == pooled_timer) {
            // A pool: as many frequencies as it has timers.
            bool shares = false;
            int used = 0;
            for (const auto& [timer, frequency] : next)
                if (timer >= pooled_timer) ++used, shares = shares || std::abs(*wishes[at].pwm / frequency - 1.0) <= rules.tolerance;
            if (!shares && used == family.pool) continue;
            if (!shares) next.emplace(pooled_timer + used, *wishes[at].pwm);
        } else if (wishes[at].pwm) {
            const int timer = family.pins[p].pwm_timer;
            if (next.contains(-1000 - timer * 8 - family.pins[p].pwm_output)) continue;  // that output is taken
            next.emplace(-1000 - timer * 8 - family.pins[p].pwm_output, 0.0);
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
bool solvable(const Family& family, const PinRules& rules, const std::vector<PinWish>& wishes) {
    return cheapest(family, rules, wishes) < std::numeric_limits<double>::infinity();
}

std::vector<PinWish> someWishes() {
    std::vector<PinWish> wishes;
    const int count = *rc::gen::inRange(1, 7);
    for (int i = 0; i < count; ++i) {
        PinWish wish;
        wish.id = "w" + std::to_string(i);
        wish.name = wish.id;
        switch (*rc::gen::inRange(0, 7)) {
            case 0: wish.pwm = clock_pwm; break;
            case 6: wish.output = false; break;
            case 1: wish.pwm = 25e3; break;
            case 2: wish.interrupt = true; break;
            case 3: wish.analog = true; break;
            case 4: wish.fixed = *rc::gen::elementOf(std::vector<std::string>{"D2", "D5", "A0", "GP2", "GP26", "IO4"}); break;
            default: break;
        }
        wishes.push_back(wish);
    }
    return wishes;
}

TEST(Pins, theSolverEqualsTryingEverything) {
    rc::check("solved when it can be, at the least cost", [&] {
        const auto& family = anyFamily();
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
    int clashes = 0;
    rc::check("without any one of them the rest can be met", [&] {
        const auto& family = anyFamily();
        PinRules rules;
        rules.beat = *rc::gen::arbitrary<bool>();
        const auto wishes = someWishes();
        const auto solved = assignPins(family, rules, wishes);
        const auto* clash = std::get_if<PinClash>(&solved);
        if (clash == nullptr) return;
        ++clashes;
        RC_ASSERT(!clash->ids.empty() && !clashText(*clash, wishes).empty());
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

// Forty lines that all want pulses on a board with a dozen outputs: the clash is named, and each of its wishes matters.
TEST(Pins, fortyPulsesClashAndAFewAreNamed) {
    const auto& family = board::family(BoardForm::Mega16);
    PinRules rules;
    rules.beat = true;
    std::vector<PinWish> wishes;
    for (int i = 0; i < 46; ++i) {
        PinWish wish;
        wish.id = wish.name = "line " + std::to_string(i);
        if (i < 40) wish.pwm = i % 4 == 0 ? 25e3 : clock_pwm;
        wishes.push_back(wish);
    }
    const auto solved = assignPins(family, rules, wishes);
    const auto* clash = std::get_if<PinClash>(&solved);
    ASSERT_NE(clash, nullptr);
    EXPECT_FALSE(fitsOn(family, rules, wishes));
    std::vector<PinWish> named;
    for (const auto& wish : wishes)
        if (std::find(clash->ids.begin(), clash->ids.end(), wish.id) != clash->ids.end()) named.push_back(wish);
    EXPECT_FALSE(fitsOn(family, rules, named));
    for (std::size_t leave = 0; leave < named.size(); ++leave) {
        auto fewer = named;
        fewer.erase(fewer.begin() + static_cast<std::ptrdiff_t>(leave));
        EXPECT_TRUE(fitsOn(family, rules, fewer)) << named[leave].id;
    }
}

// ATmega328P data sheet (from memory): OC0B is D5, OC1A D9, OC1B D10; timer 0 keeps the clock.
TEST(Pins, aFansPwmGoesToTimerOneAndTheClocksPwmToTimerZero) {
    PinRules rules;
    rules.beat = true;
    const auto solved =
        assignPins(family(BoardForm::Uno16), rules, {{"fan", "fan", 25e3, false, false}, {"pump", "pump", clock_pwm, false, false}});
    const auto* choices = std::get_if<std::vector<PinChoice>>(&solved);
    ASSERT_NE(choices, nullptr);
    EXPECT_EQ((*choices)[0].pin, "D9");
    EXPECT_EQ(pinNamed(family(BoardForm::Uno16), (*choices)[1].pin)->pwm_timer, 0);
}

TEST(Pins, threeFansAtThreeFrequenciesClashByTheirTimers) {
    PinRules rules;
    rules.beat = true;
    const auto solved =
        assignPins(family(BoardForm::Uno16), rules,
                   {{"a", "fan A", 25e3, false, false}, {"b", "fan B", 22e3, false, false}, {"lamp", "lamp", std::nullopt, false, false}});
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
    for (const auto& finding : after.findings)
        EXPECT_FALSE(finding.stage == project::Stage::Pins && finding.severity == Severity::Stop) << finding.text;
    EXPECT_EQ(test::finding(after, "pins-open"), nullptr);
    EXPECT_TRUE(plan::sketchOf(*given, after));
}

// The sketch API's own tables, as Debian packages them: which port, bit and timer output each number is.
struct Variant {
    BoardForm form;
    const char* folder;
};
class Variants : public testing::TestWithParam<Variant> {};
std::vector<std::string> tableOf(const std::string& text, const std::string& name) {
    std::vector<std::string> entries;
    const auto at = text.find(name + "[] =");
    if (at == std::string::npos) return entries;
    auto body = text.substr(text.find('{', at) + 1);
    body = body.substr(0, body.find("};"));
    body = std::regex_replace(body, std::regex(R"(#if[^\n]*ATmega8[^#]*#else|#endif)"), "");
    body = std::regex_replace(body, std::regex(R"(/\*[^*]*\*/|//[^\n]*)"), "");
    const std::regex entry(R"([A-Za-z_0-9]+(\s*\(\s*\w+\s*\))?)");
    for (std::sregex_iterator it(body.begin(), body.end(), entry), end; it != end; ++it)
        entries.push_back(std::regex_replace(it->str(), std::regex(R"(\s)"), ""));
    return entries;
}
TEST_P(Variants, pinsStandAsInTheSketchApi) {
    const auto text =
        files::readWhole(std::string{"/usr/share/arduino/hardware/arduino/avr/variants/"} + GetParam().folder + "/pins_arduino.h");
    if (!text) GTEST_SKIP() << "arduino-core-avr is not installed";
    const auto ports = tableOf(*text, "digital_pin_to_port_PGM"), bits = tableOf(*text, "digital_pin_to_bit_mask_PGM"),
               timers = tableOf(*text, "digital_pin_to_timer_PGM"), channels = tableOf(*text, "analog_pin_to_channel_PGM");
    const auto& family = board::family(GetParam().form);
    ASSERT_GE(ports.size(), family.pins.size());
    int compared = 0;
    for (const auto& pin : family.pins) {
        const auto n = static_cast<std::size_t>(pin.number);
        ASSERT_LT(n, ports.size()) << pin.name;
        EXPECT_TRUE(ports[n] == std::string("P") + pin.port || ports[n] == std::to_string(pin.port - 'A' + 1))
            << pin.name << ' ' << ports[n];
        EXPECT_EQ(bits[n], "_BV(" + std::to_string(pin.bit) + ")") << pin.name;
        const std::string timer = pin.pwm_timer < 0 ? "NOT_ON_TIMER" : "TIMER" + std::to_string(pin.pwm_timer) + pin.pwm_output;
        EXPECT_EQ(timers[n], timer) << pin.name;
        // Only where the channels are out of order is there a table of them: A0 to A5, then the digital pins in the order of the print.
        if (pin.analog && !channels.empty()) {
            static const std::vector<std::string> order{"A0", "A1", "A2", "A3", "A4", "A5", "D4", "D6", "D8", "D9", "D10", "D12"};
            const auto at = std::find(order.begin(), order.end(), pin.name) - order.begin();
            ASSERT_LT(static_cast<std::size_t>(at), channels.size()) << pin.name;
            EXPECT_EQ(channels[static_cast<std::size_t>(at)], std::to_string(pin.analog_channel)) << pin.name;
        }
        ++compared;
    }
    EXPECT_EQ(compared, static_cast<int>(family.pins.size()));
}
INSTANTIATE_TEST_SUITE_P(Core, Variants,
                         testing::Values(Variant{BoardForm::Uno16, "standard"}, Variant{BoardForm::Mega16, "mega"},
                                         Variant{BoardForm::Native16, "leonardo"}),
                         [](const auto& row) { return std::string{row.param.folder}; });

// A board is one file: what is missing in it, or misspelt, is said by name, and nothing is taken from it.
TEST(FormFiles, areRefusedByNameWhereTheyAreWrong) {
    const auto text = files::readWhole(HINGE_SOURCE_DIR "/parts/boards/atmega32u4-16mhz.json");
    ASSERT_TRUE(text);
    const auto right = nlohmann::json::parse(*text);
    {
        Forms forms;
        ASSERT_TRUE(addForm(forms, right));
        EXPECT_EQ(forms.list.front().pins.size(), right.at("pins").size());
    }
    const auto refused = [&](const char* patch) {
        static std::deque<nlohmann::json> kept;  // what is read points into its document
        kept.push_back(right);
        kept.back().merge_patch(nlohmann::json::parse(patch));
        Forms forms;
        const auto added = addForm(forms, kept.back());
        EXPECT_FALSE(added) << patch;
        EXPECT_TRUE(forms.list.empty()) << patch;
        return added ? std::string{} : added.error().field;
    };
    EXPECT_EQ(refused(R"({"clock_Hz": null})"), "atmega32u4-16mhz/clock_Hz");
    EXPECT_EQ(refused(R"({"clock_Hz": 0})"), "atmega32u4-16mhz/clock_Hz");
    EXPECT_EQ(refused(R"({"clock_Hz": "16 MHz"})"), "atmega32u4-16mhz/clock_Hz");
    EXPECT_EQ(refused(R"({"ground_pins": 2.5})"), "atmega32u4-16mhz/ground_pins");
    EXPECT_EQ(refused(R"({"beat_timr": 3})"), "atmega32u4-16mhz/beat_timr");
    EXPECT_EQ(refused(R"({"target": "abacus"})"), "atmega32u4-16mhz/target");
    EXPECT_EQ(refused(R"({"pins": null})"), "atmega32u4-16mhz/pins");
    EXPECT_EQ(refused(R"({"pins": [{"name": "D5", "number": 5, "timer": 3}]})"), "atmega32u4-16mhz/D5/timer");
    EXPECT_EQ(refused(R"({"pins": [{"name": "D5"}]})"), "atmega32u4-16mhz/D5/number");
    EXPECT_EQ(refused(R"({"pins": [{"name": "D5", "number": 5, "pulls": true}]})"), "atmega32u4-16mhz/D5/pulls");
    EXPECT_EQ(refused(R"({"programmer": {"chip": "m32u4"}})"), "atmega32u4-16mhz/programmer");
    EXPECT_EQ(refused(R"({"id": "atmega32u5"})"), "atmega32u5/id");
    EXPECT_EQ(refused(R"({"by_hand": []})"), "atmega32u4-16mhz/by_hand");
    EXPECT_EQ(refused(R"({"by_hand": ["first", 2]})"), "atmega32u4-16mhz/by_hand");
    EXPECT_EQ(refused(R"({"id": 3})"), "board/id");
    EXPECT_EQ(refused(R"({"pins": ["D5"]})"), "atmega32u4-16mhz/pins");
    EXPECT_EQ(refused(R"({"bus": {"data": 2, "clock": "D3"}})"), "atmega32u4-16mhz/bus");
}
// Every form of the list has a file that names where its figures are from, and pins that name one another once.
TEST(FormFiles, areAllThere) {
    for (const auto& name : Names<BoardForm>::all) {
        const auto& form = family(name.value);
        EXPECT_EQ(form.name, name.label);
        std::set<std::string_view> names;
        std::set<int> numbers;
        for (const auto& pin : form.pins) {
            EXPECT_TRUE(names.insert(pin.name).second) << name.id << ' ' << pin.name;
            EXPECT_TRUE(numbers.insert(pin.number).second) << name.id << ' ' << pin.name;
        }
        for (const auto& [line, pin] : form.bus) EXPECT_TRUE(names.contains(pin)) << name.id << ' ' << line;
        EXPECT_LT(form.on_left, static_cast<int>(form.pins.size())) << name.id;
        const auto file = files::readWhole(std::string{HINGE_SOURCE_DIR "/parts/boards/"} + name.id + ".json");
        ASSERT_TRUE(file) << name.id;
        EXPECT_FALSE(nlohmann::json::parse(*file).at("sources").empty()) << name.id;
    }
}

// RP2040 data sheet, 4.5.2 (from memory): GPIO n is slice (n >> 1) mod 8, output A for even, B for odd.
TEST(Families, theSlicesFollowTheDataSheet) {
    for (const auto& pin : family(BoardForm::Rp2040).pins) {
        EXPECT_EQ(pin.pwm_timer, (pin.number / 2) % 8) << pin.name;
        EXPECT_EQ(pin.pwm_output, pin.number % 2 == 0 ? 'A' : 'B') << pin.name;
    }
}
TEST(Families, namesAreUniqueAndTheConsoleIsKnown) {
    for (const auto& form : Names<BoardForm>::all) {
        const auto& family = board::family(form.value);
        EXPECT_EQ(family.form, form.value);
        EXPECT_EQ(family.name, form.label);
        std::set<std::string_view> names;
        for (const auto& pin : family.pins) EXPECT_TRUE(names.insert(pin.name).second) << form.label << ' ' << pin.name;
        EXPECT_LE(family.on_left, static_cast<int>(family.pins.size()));
        for (const auto& pin : family.pins) EXPECT_FALSE(pin.input_only && pin.pwm_timer >= 0) << pin.name;
    }
}

// The whole stage on every board: what fits has no clash there, what does not names one that is minimal.
TEST(Boards, theStageGoesOrSaysWhy) {
    const auto project = store::load(HINGE_SOURCE_DIR "/demos/paper-moon-stage")->project;
    const auto parts = test::shippedParts();
    const auto plan = plan::evaluate(project, parts);
    int fit = 0;
    for (const auto& form : Names<BoardForm>::all) {
        const auto choice = plan::onBoard(project, plan, form.value);
        if (!choice.fits) {
            EXPECT_FALSE(choice.why.empty()) << form.label;
            continue;
        }
        ++fit;
        if (form.value == project.board.form) EXPECT_TRUE(choice.moves.empty()) << "nothing moves on the board it has";
        const auto moved = project::with(project, plan::editsFor(choice));
        ASSERT_TRUE(moved) << form.label;
        const auto after = plan::evaluate(*moved, parts);
        for (const auto& finding : after.findings)
            EXPECT_FALSE(finding.stage == project::Stage::Pins && finding.severity == Severity::Stop) << form.label << ": " << finding.text;
        std::set<std::string> used;
        for (const auto& wish : plan::pinWishes(*moved, after, board::family(moved->board.form)))
            EXPECT_TRUE(used.insert(wish.fixed).second) << form.label << ' ' << wish.fixed;
    }
    EXPECT_GE(fit, 4);
    EXPECT_FALSE(plan::onBoard(project, plan, BoardForm::Tiny8).fits) << "six pins for fourteen lines";
}

TEST(Boards, aChangeIsOneFindingAndOneRemedy) {
    auto project = store::load(HINGE_SOURCE_DIR "/demos/paper-moon-stage")->project;
    project.board.form = BoardForm::Rp2040;
    const auto parts = test::shippedParts();
    const auto plan = plan::evaluate(project, parts);
    const auto* changed = test::finding(plan, "board-changed");
    ASSERT_NE(changed, nullptr);
    EXPECT_NE(changed->text.find("from D"), std::string::npos) << changed->text;
    ASSERT_EQ(changed->remedies.size(), 1U);
    const auto after = project::with(project, changed->remedies.front().edits);
    ASSERT_TRUE(after);
    const auto again = plan::evaluate(*after, parts);
    EXPECT_EQ(test::finding(again, "board-changed"), nullptr);
    for (const auto& finding : again.findings)
        EXPECT_FALSE(finding.stage == project::Stage::Pins && finding.severity == Severity::Stop) << finding.text;
    EXPECT_EQ(test::finding(again, "level-mismatch"), nullptr) << "a transistor stands between the 4-wire fan's 5 V and the pin";
    EXPECT_TRUE(plan::findChannel(again, "mist")->inverted);
}

TEST(PwmPool, twoOutputsToATimer) {
    PwmPool pool(3);
    EXPECT_EQ(pool.take(1e3, 10), 0);
    EXPECT_EQ(pool.take(1e3, 10), 1);
    EXPECT_EQ(pool.take(50.0, 16), 2);
    EXPECT_EQ(pool.take(1e3, 10), 4);
    EXPECT_EQ(pool.take(25e3, 8), std::nullopt);
    EXPECT_EQ(pool.take(50.0, 16), 3) << "beside the other of its frequency there is room";
}
// Nine frequencies pinned by hand are one too many: a stop in the plan, and not only when the sketch is asked for.
}  // namespace
}  // namespace hinge::board
