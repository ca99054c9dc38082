#include "control/practice.hpp"
#include <fmt/format.h>
#include <algorithm>
#include <functional>
#include <map>
#include "control/exercise_list.hpp"
#include "quantity/text.hpp"

namespace hinge::control {
namespace {

std::string_view trimmed(std::string_view text) {
    while (!text.empty() && (text.front() == ' ' || text.front() == '\t')) text.remove_prefix(1);
    while (!text.empty() && (text.back() == ' ' || text.back() == '\t' || text.back() == '\r')) text.remove_suffix(1);
    return text;
}

using Numbers = std::map<std::string, double, std::less<>>;

std::optional<plant::Machine> machineOf(std::string_view kind, Numbers& numbers) {
    // A figure that is given replaces the plant's own; what is used is struck off.
    const auto take = [&numbers](const char* name, double& figure) {
        if (const auto at = numbers.find(name); at != numbers.end()) figure = at->second, numbers.erase(at);
    };
    if (kind == "rotor") {
        plant::RotorFigures f;
        take("supply", f.supply), take("resistance", f.resistance), take("back", f.back), take("torque", f.torque),
            take("inertia", f.inertia), take("friction", f.friction), take("stiction", f.stiction), take("play", f.play);
        return plant::Rotor{f};
    }
    if (kind == "fan") {
        plant::FanFigures f;
        take("full_speed", f.full_speed), take("start_share", f.start_share), take("keep_share", f.keep_share), take("spin_up", f.spin_up);
        return plant::FanPlant{f};
    }
    if (kind == "tank") {
        plant::TankFigures f;
        take("area", f.area), take("top", f.top), take("full_flow", f.full_flow), take("outlet", f.outlet), take("level", f.level);
        return plant::TankPlant{f};
    }
    if (kind == "box") {
        plant::BoxFigures f;
        take("capacity", f.capacity), take("conductance", f.conductance), take("power", f.power), take("ambient", f.ambient),
            take("largest_difference", f.largest_difference), take("sensor_lag", f.sensor_lag);
        return plant::BoxPlant{f};
    }
    if (kind == "balancer") {
        plant::BalancerFigures f;
        take("height", f.height), take("distance_per_step", f.distance_per_step), take("start_lean", f.start_lean),
            take("falls_at", f.falls_at);
        return plant::Balancer{f};
    }
    return std::nullopt;
}

// Reads line by line; an exercise ends where the next begins.
class ExerciseReader {
public:
    std::optional<Error> line(std::string_view line);
    std::optional<Error> close();
    std::vector<Exercise> take() && { return std::move(list_); }

private:
    static Error bad(int line, std::string_view value, const char* accepted) {
        return {ErrorCode::BadFormat, fmt::format("line {}", line), std::string{value.substr(0, 40)}, accepted};
    }
    std::vector<Exercise> list_;
    std::string kind_;
    Numbers numbers_;
    int line_number_ = 0, began_ = 0;
};

std::optional<Error> ExerciseReader::close() {
    if (list_.empty()) return std::nullopt;
    auto& e = list_.back();
    const auto machine = machineOf(kind_, numbers_);
    if (!machine) return bad(began_, kind_, "a machine: rotor, fan, tank, box, balancer");
    auto& s = e.setup;
    s.machine.machine = *machine;
    s.rolls = kind_ == "balancer";
    double tach = 0.0, by_angle = 0.0;
    const std::map<std::string, double*, std::less<>> fields{{"tach", &tach},
                                                             {"by_angle", &by_angle},
                                                             {"per_unit", &s.machine.sense.per_unit},
                                                             {"zero", &s.machine.sense.zero},
                                                             {"noise", &s.machine.sense.noise},
                                                             {"delay", &s.machine.sense.delay},
                                                             {"p", &s.pid.gains.proportional},
                                                             {"i", &s.pid.gains.integral},
                                                             {"d", &s.pid.gains.derivative},
                                                             {"period", &s.pid.period},
                                                             {"smoothing", &s.pid.smoothing},
                                                             {"least", &s.pid.least},
                                                             {"most", &s.pid.most},
                                                             {"lean_rate", &s.pid.lean_rate},
                                                             {"lean_way", &s.pid.lean_way},
                                                             {"before", &s.before},
                                                             {"wanted", &s.wanted},
                                                             {"step_at", &s.step_at},
                                                             {"length", &s.length},
                                                             {"push_at", &s.push_at},
                                                             {"push", &s.push},
                                                             {"tick", &s.tick},
                                                             {"settle_within", &e.target.settle_within},
                                                             {"band", &e.target.band}};
    for (const auto& [name, value] : numbers_) {
        const auto at = fields.find(name);
        if (at == fields.end()) return bad(began_, name, "a figure of the machine, its sensor, the loop or the target");
        *at->second = value;
    }
    s.machine.sense.tach = tach != 0.0;
    s.machine.sense.by_angle = by_angle != 0.0;
    numbers_.clear();
    kind_.clear();
    return std::nullopt;
}

std::optional<Error> ExerciseReader::line(std::string_view line) {
    ++line_number_;
    if (line.empty() || line.front() == '#') return std::nullopt;
    if (line.front() == '[' && line.back() == ']') {
        if (auto error = close()) return error;
        list_.emplace_back();
        list_.back().id = line.substr(1, line.size() - 2);
        began_ = line_number_;
        return std::nullopt;
    }
    const auto equals = line.find('=');
    if (equals == std::string_view::npos || list_.empty()) return bad(line_number_, line, "[id] or key = value");
    const std::string key{trimmed(line.substr(0, equals))}, value{trimmed(line.substr(equals + 1))};
    auto& e = list_.back();
    if (key == "title") e.title = value;
    else if (key == "task") e.task = value;
    else if (key == "why") e.why = value;
    else if (key == "hint") e.hints.push_back(value);
    else if (key == "machine") kind_ = value;
    else if (const auto number = parseNumber(value)) numbers_[key] = *number;
    else return bad(line_number_, value, "a number");
    return std::nullopt;
}

}  // namespace

Result<std::vector<Exercise>> parseExercises(std::string_view text) {
    ExerciseReader reader;
    while (!text.empty()) {
        const auto end = std::min(text.find('\n'), text.size());
        const auto line = trimmed(text.substr(0, end));
        text.remove_prefix(std::min(end + 1, text.size()));
        if (auto error = reader.line(line)) return tl::unexpected(std::move(*error));
    }
    if (auto error = reader.close()) return tl::unexpected(std::move(*error));
    return std::move(reader).take();
}

const std::vector<Exercise>& exercises() {
    static const std::vector<Exercise> list = parseExercises(exercise_list).value_or(std::vector<Exercise>{});
    return list;
}

Score scoreOf(const Exercise& exercise, const LoopRun& run, const ParallelGains& gains, int hints) {
    Score score;
    const auto share = [](double value, double limit) { return std::clamp(1.0 - value / limit, 0.0, 1.0); };
    double points = 0.0;
    if (exercise.setup.rolls) {
        score.standing = readStanding(run);
        const double allowed = 60.0 * exercise.target.band / 0.05;
        score.met = score.standing.stands && score.standing.furthest <= allowed;
        points = !score.standing.stands ? 0.0
                 : score.met            ? 60.0 + 25.0 * share(score.standing.furthest, allowed) +
                                   15.0 * share(score.standing.hum, 0.2 * exercise.setup.pid.most)
                             : 40.0;
        score.words = !score.standing.stands
                          ? Words{"It falls.",
                                  gains.proportional == 0.0
                                      ? "P first: the wheels have to run under it."
                                      : "More P and more I: the wheels have to catch up with the fall. If it shakes before it falls, less."}
                      : !score.met
                          ? Words{fmt::format("It stands, but leans by {:.0f} counts when shoved.", score.standing.furthest),
                                  "More P; and D if it shakes."}
                          : Words{fmt::format("It stands, and leans no further than {:.0f} counts.", score.standing.furthest), "Keep it."};
    } else {
        score.response = readResponse(run.rows, exercise.target, exercise.setup.pid.least, exercise.setup.pid.most);
        if (!score.response) return score;
        const auto& r = *score.response;
        score.met = meets(r, exercise.target);
        score.words = sayResponse(r, gains, exercise.target);
        if (score.met)
            points = 60.0 + 20.0 * share(*r.settled, exercise.target.settle_within) + 10.0 * share(r.overshoot, exercise.target.band) +
                     10.0 * share(r.hum, 0.1);
        else if (!r.runs_away && r.moved)
            points = r.settled ? 50.0 * std::min(1.0, exercise.target.settle_within / std::max(1e-9, *r.settled)) : 15.0;
    }
    score.points = std::max(0, static_cast<int>(std::lround(points)) - 5 * hints);
    return score;
}

}  // namespace hinge::control
