#include "proof/fault_finder.hpp"
#include <fmt/format.h>
#include <algorithm>
#include <cmath>
#include <set>
#include "match/judge.hpp"
#include "plan/feed.hpp"
#include "plan/firmware_model.hpp"
#include "proof/fault_causes.hpp"
#include "proof/fault_signs.hpp"
#include "proof/fault_tests.hpp"
#include "quantity/csv.hpp"
#include "quantity/text.hpp"

namespace hinge::proof {
namespace {

using Fields = std::vector<std::string>;

template <class Take>
std::optional<Error> eachLine(std::string_view text, std::size_t columns, const char* name, Take take) {
    int number = 0;
    while (!text.empty()) {
        const auto end = std::min(text.find('\n'), text.size());
        const auto line = text.substr(0, end);
        text.remove_prefix(std::min(end + 1, text.size()));
        if (++number == 1 || line.empty()) continue;
        const auto fields = csvFields(line);
        const auto refuse = [&](const std::string& accepted) {
            return Error{ErrorCode::BadFormat, fmt::format("{} line {}", name, number), std::string{line.substr(0, 40)}, accepted};
        };
        if (fields.size() != columns) return refuse(fmt::format("{} fields", columns));
        if (const std::string accepted = take(fields); !accepted.empty()) return refuse(accepted);
    }
    return std::nullopt;
}

// What a channel is, by the words of the causes' `suits`.
std::set<std::string> traits(const project::Project& project, const project::Parts& parts, const plan::Plan& plan, const std::string& id) {
    std::set<std::string> is{"all"};
    const auto* channel = project::findChannel(project, id);
    const auto* planned = plan::findChannel(plan, id);
    if (channel == nullptr || planned == nullptr) return is;
    const auto* part = match::partOf(planned->context, parts, channel->actuator);
    const auto* driver = project::findDriver(parts, channel->drive.part);
    const bool mains = plan::onMains(*channel);
    if (plan::isDriven(*planned)) is.insert("driven"), is.insert(planned->inverted ? "inverted" : "straight");
    if (!mains) is.insert("rail");
    // Nothing is measured or touched by hand beside the mains.
    if (!mains && plan::isDriven(*planned)) is.insert("low_volts");
    if (!mains && driver != nullptr && !kinds::driverKind(*driver).from_pin) is.insert("reached");
    if (planned->signal == plan::SignalKind::PartWaves) is.insert("fires");
    if (planned->both_ways && !plan::isPulsed(*planned) && routine::turnsRound(project.routine, id)) is.insert("turned");
    if (driver != nullptr && !kinds::driverKind(*driver).from_pin) {
        is.insert("driver");
        for (const auto trait : kinds::driverKind(*driver).faults)
            if (trait != "mosfet" || !mains) is.insert(std::string{trait});
    }
    if (part != nullptr && !mains) {
        const bool chopped = planned->signal == plan::SignalKind::Pwm;
        for (const auto trait : kinds::actuatorKind(*part).faults)
            if (trait != "whines" || (chopped && plan::isHeard(channel->signal.frequency))) is.insert(std::string{trait});
        if (kinds::isLed(*part)) is.insert("led");
        else if (is.contains("switch")) is.insert("direct");  // straight on its rail a bare LED dies
        if (chopped || planned->signal == plan::SignalKind::FanPwm) is.insert("dimmed");
    }
    // A fan's PWM line carries no power: what hangs on it leaves the fan's own pull-up, which says full.
    if (planned->inverted) is.erase("driver"), is.erase("switch");
    for (const auto& cue : project.routine.cues) {
        if (std::none_of(cue.moves.begin(), cue.moves.end(), [&](const routine::Move& move) { return move.channel == id; })) continue;
        if (!cue.input.empty()) is.insert("started");
        if (!cue.guards.empty()) is.insert("guarded");
        if (!cue.times.empty() && project.board.clock != project::BusClock::None) is.insert("bus");
    }
    if (planned->expander && planned->expander->map->bus == driver::RegisterBus::TwoWire) is.insert("bus");
    if (is.count("serial") != 0 || is.count("bus") != 0) is.insert("wired_bus");
    for (const auto& interlock : project.routine.interlocks)
        if (interlock.channel == id && !interlock.input.empty()) is.insert("guarded");
    for (const auto& loop : project.routine.loops)
        if (loop.channel == id)
            if (const auto* input = project::findInput(project, loop.input); input != nullptr && input->kind == project::InputKind::Tach)
                is.insert("held");
    return is;
}

bool fits(const std::string& test, const std::set<std::string>& is) {
    static const std::map<std::string, std::string> needs{{"enable", "sleeper"},
                                                          {"winding", "wound"},
                                                          {"wires", "rail"},
                                                          {"diode", "mosfet"},
                                                          {"by_hand", "mover"},
                                                          {"slowly", "stepper"},
                                                          {"reading", "held"},
                                                          {"forbids", "guarded"},
                                                          {"input_seen", "started"},
                                                          {"touch", "reached"},
                                                          {"driver_out", "reached"},
                                                          {"rail_volts", "rail"},
                                                          {"rail_loaded", "rail"},
                                                          {"current", "rail"},
                                                          {"direct", "direct"},
                                                          {"wire", "driven"},
                                                          {"pin", "driven"},
                                                          {"driver_in", "low_volts"},
                                                          {"cue", "driven"},
                                                          {"alone", "rail"},
                                                          {"resets", "driven"},
                                                          {"rest", "rail"},
                                                          {"half", "dimmed"},
                                                          {"untouched", "started"},
                                                          {"mains_said", "fires"},
                                                          {"full_on", "fires"},
                                                          {"other_way", "turned"},
                                                          {"way_line", "turned"},
                                                          {"marks", "coupled"},
                                                          {"marks_slowly", "stepper"},
                                                          {"listen", "mover"},
                                                          {"pitch", "whines"},
                                                          {"bus_lines", "bus"},
                                                          {"bus_wires", "wired_bus"},
                                                          {"bus_power", "bus"},
                                                          {"select", "serial"},
                                                          {"known_register", "serial"},
                                                          {"write_back", "serial"},
                                                          {"fault_flag", "serial"},
                                                          {"one_step", "serial"}};
    const auto at = needs.find(test);
    return at == needs.end() || is.count(at->second) != 0;
}

double entropy(const std::vector<double>& p) {
    double bits = 0.0;
    for (const double each : p)
        if (each > 0.0) bits -= each * std::log2(each);
    return bits;
}

}  // namespace

const FaultTest& symptoms() {
    static const FaultTest test{"symptom",
                                "What is wrong with it?",
                                "",
                                0.0,
                                0.0,
                                "",
                                {{"nothing", "nothing moves, nothing is heard"},
                                 {"hums", "it hums or twitches, and does not move"},
                                 {"spins", "the motor is heard, and the thing does not move"},
                                 {"weak", "it moves, too slowly or without strength"},
                                 {"runs_on", "it runs when it should not"},
                                 {"too_fast", "it runs away, far too fast"},
                                 {"wrong_way", "it goes the wrong way"},
                                 {"one_way", "it goes one way only"},
                                 {"resets", "the board starts anew when it runs"},
                                 {"hot", "something gets hot"},
                                 {"stops", "it runs, then stops by itself"},
                                 {"on_off", "it knows only on and off"},
                                 {"random", "it moves when nobody asked"},
                                 {"drifts", "it does not come back to its place"},
                                 {"noise", "it works, and is loud"},
                                 {"storm", "a count runs wild, the link stutters"},
                                 {"bus", "a part on a bus does not answer"}},
                                ""};
    return test;
}

Result<FaultSigns> FaultSigns::parse(std::string_view causes, std::string_view signs) {
    FaultSigns made;
    if (auto error = eachLine(causes, 5, "causes", [&](const Fields& f) -> std::string {
            const auto prior = parseNumber(f[2]);
            if (!prior || *prior <= 0.0) return "a prior above 0";
            made.causes_.push_back({{f[0], f[3], f[4], *prior}, f[1]});
            return {};
        }))
        return tl::unexpected(*error);
    if (auto error = eachLine(signs, 4, "signs", [&](const Fields& f) -> std::string {
            const auto likelihood = parseNumber(f[3]);
            if (!likelihood || *likelihood <= 0.0 || *likelihood >= 1.0) return "a likelihood between 0 and 1";
            if (std::none_of(made.causes_.begin(), made.causes_.end(), [&](const Entry& each) { return each.cause.id == f[0]; }))
                return "a cause of the list";
            const FaultTest* test = f[1] == "symptom" ? &symptoms() : nullptr;
            for (const auto& each : faultTests())
                if (each.id == f[1]) test = &each;
            if (test == nullptr) return "a test that there is";
            if (std::none_of(test->outcomes.begin(), test->outcomes.end(), [&](const FaultTest::Outcome& each) { return each.id == f[2]; }))
                return "an outcome of that test";
            made.signs_[f[0]][f[1]][f[2]] = *likelihood;
            return {};
        }))
        return tl::unexpected(*error);
    return made;
}

const FaultSigns& FaultSigns::shipped() {
    static const FaultSigns signs = parse(fault_causes, fault_signs).value_or(FaultSigns{});
    return signs;
}

double FaultSigns::likelihood(const std::string& cause, const FaultTest& test, const std::string& outcome) const {
    // What a healthy gadget shows, nine times of ten and more; a symptom that a cause is not known for is rare.
    const auto others = static_cast<double>(test.outcomes.size()) - 1.0;
    const auto at_cause = signs_.find(cause);
    if (at_cause != signs_.end()) {
        const auto at = at_cause->second.find(test.id);
        if (at != at_cause->second.end()) {
            if (const auto one = at->second.find(outcome); one != at->second.end()) return one->second;
            double told = 0.0;
            for (const auto& [id, likelihood] : at->second) told += likelihood;
            const double left = std::max(0.01, 1.0 - told);
            return left / std::max(1.0, others + 1.0 - static_cast<double>(at->second.size()));
        }
    }
    if (test.healthy.empty()) return 0.01;
    return outcome == test.healthy ? 0.93 : 0.07 / std::max(1.0, others);
}

FaultFinder::FaultFinder(const project::Project& project, const project::Parts& parts, const plan::Plan& plan, std::string channel,
                         const FaultSigns& signs)
    : signs_{&signs} {
    const auto is = traits(project, parts, plan, channel);
    for (const auto& entry : signs.causes())
        if (is.count(entry.suits) != 0) causes_.push_back(entry.cause);
    for (const auto& test : faultTests())
        if (fits(test.id, is)) tests_.push_back(test);
}

const FaultTest* FaultFinder::findTest(std::string_view id) const {
    if (id == symptoms().id) return &symptoms();
    for (const auto& test : tests_)
        if (test.id == id) return &test;
    return nullptr;
}

std::vector<double> FaultFinder::posterior(const std::vector<Seen>& seen) const {
    std::vector<double> p;
    double sum = 0.0;
    for (const auto& cause : causes_) {
        double weight = cause.prior;
        for (const auto& each : seen)
            if (const auto* test = findTest(each.test)) weight *= signs_->likelihood(cause.id, *test, each.outcome);
        p.push_back(weight);
        sum += weight;
    }
    for (auto& each : p) each = sum > 0.0 ? each / sum : 1.0 / static_cast<double>(p.size());
    return p;
}

std::vector<RankedCause> FaultFinder::ranked(const std::vector<Seen>& seen) const {
    const auto p = posterior(seen);
    std::vector<RankedCause> list;
    for (std::size_t c = 0; c < causes_.size(); ++c) {
        RankedCause ranked{causes_[c], p[c], {}};
        // How much each thing seen speaks for it: its likelihood here against the mean over all causes.
        std::vector<std::pair<double, std::string>> reasons;
        for (const auto& each : seen) {
            const auto* test = findTest(each.test);
            if (test == nullptr) continue;
            double mean = 0.0;
            for (const auto& other : causes_)
                mean += signs_->likelihood(other.id, *test, each.outcome) / static_cast<double>(causes_.size());
            const double ratio = signs_->likelihood(causes_[c].id, *test, each.outcome) / mean;
            std::string outcome = each.outcome;
            for (const auto& known : test->outcomes)
                if (known.id == each.outcome) outcome = known.words;
            if (ratio > 1.3 || ratio < 0.7)
                reasons.emplace_back(
                    std::abs(std::log(ratio)),
                    fmt::format("{}: {} {}", outcome, ratio > 1.0 ? "speaks for it," : "speaks against it,",
                                ratio > 1.0 ? fmt::format("{:.1f} times", ratio) : fmt::format("{:.1f} times", 1.0 / ratio)));
        }
        std::sort(reasons.rbegin(), reasons.rend());
        for (auto& [size, words] : reasons) ranked.because.push_back(std::move(words));
        list.push_back(std::move(ranked));
    }
    std::stable_sort(list.begin(), list.end(), [](const RankedCause& a, const RankedCause& b) { return a.probability > b.probability; });
    return list;
}

std::vector<NextTest> FaultFinder::next(const std::vector<Seen>& seen) const {
    const auto p = posterior(seen);
    const double now = entropy(p);
    std::vector<NextTest> list;
    for (const auto& test : tests_) {
        if (std::any_of(seen.begin(), seen.end(), [&](const Seen& each) { return each.test == test.id; })) continue;
        double left = 0.0;
        for (const auto& outcome : test.outcomes) {
            std::vector<double> after;
            double chance = 0.0;
            for (std::size_t c = 0; c < causes_.size(); ++c) {
                after.push_back(p[c] * signs_->likelihood(causes_[c].id, test, outcome.id));
                chance += after.back();
            }
            if (chance <= 0.0) continue;
            for (auto& each : after) each /= chance;
            left += chance * entropy(after);
        }
        const double bits = std::max(0.0, now - left);
        // A quarter of an hour stands for the worst risk.
        list.push_back({test, bits, bits / (test.effort + 2.0 + 15.0 * test.risk)});
    }
    std::stable_sort(list.begin(), list.end(), [](const NextTest& a, const NextTest& b) { return a.worth > b.worth; });
    return list;
}

double FaultFinder::open(const std::vector<Seen>& seen) const {
    return entropy(posterior(seen));
}

bool FaultFinder::settled(const std::vector<Seen>& seen) const {
    const auto p = posterior(seen);
    if (!p.empty() && *std::max_element(p.begin(), p.end()) > 0.85) return true;
    for (const auto& each : next(seen))
        if (each.bits >= 0.1) return false;
    return true;
}

std::string partGone(const project::Channel& channel, const std::string& cause) {
    if (cause == "driver_dead" || cause == "driver_shorted") return channel.drive.part;
    if (cause == "winding_open" || cause == "winding_shorted") return channel.actuator;
    return {};
}

}  // namespace hinge::proof
